"""What to touch next, and when: everything a batch waits for from the pour until it is cured."""

from collections.abc import Iterator, Sequence
from math import exp
from typing import Literal

from ..pour import ASKED, Ask, PourState, mist_and_oven
from ..recipe import Recipe, Wrap
from ..sheet import Sheet
from ..shelf import USUAL_HUMIDITY
from ..text import G, Text, figure, joined, say
from ..values import Grams, Span, Value
from .cure import Curve, curve, kinds_of_bar, prior
from .facts import LAST_QUESTIONS, Rested, gel_wrap, in_single_moulds, rested, shown_pace
from .gel import Section, sections
from .learned import RestLearned, ageing_of, felt, weighed
from .rest_keys import LATE, OTHERS, Next, RestKey, Touch, keys_of
from .windows import BATCH_SD, Cause, Window, belief, expected, windows

COVER_WITHIN = 3.0  # hours in which it is of use to ask how it rests [C]
DAMP = 0.7  # relative humidity from which a block stays covered a second day, against ash and sweat [common practice]
MIST_AGAIN, MIST_WITHIN = 10 / 60, 0.5  # hours after the first mist at which a second one follows [common practice]
OVEN_HOURS = 1.0  # after which a warm oven is turned off [C: oven at 65 to 70 °C, then off, is common practice]
GEL_LOOK = 72.0  # hours after the cut in which a section still shows what gelled [C]
WEEK, WEEK_UNTIL = 7 * 24.0, 14 * 24.0  # hours from the pour: judged at a week
WEIGH_EVERY, WEIGH_WITHIN = 7.0, 48.0  # days; hours from then in which it is as good [C]
FADES = 12 * 7 * 24.0  # hours in which a batch is asked about that nobody said was cut [C]
SAY_CUTS, SAY_GEL = 0.1, 0.15  # of own shifts, ln-hours and ln-rate, that are worth a word [C]
LET_GO = 14 * 24.0  # hours after its window in which a touch nobody told of is still waited for [C]
CURED_ASK = 30 * 24.0  # hours after it was cured in which it is asked about
# Three questions at a time, never a form.
MOST_ASKED = 3  # questions at a time [chosen]
QUESTIONS: dict[str, tuple[Ask, ...]] = {
    "cut": ("definition", "colour", "rivers"),
    "week": ("colour", "scent", "ricing"),
    "cured": LAST_QUESTIONS,
}


class Question(Value):
    """What is asked at a moment, in words."""

    at: Literal["cut", "week", "cured"]
    ask: Ask
    message: Text
    portion: str = ""  # of which alone it is asked; empty: of all of it


class BarWeight(Value):
    """A bar on the scale, days since it was cut."""

    days: float
    grams: Grams


class BarKind(Value):
    """The bars of one of a batch's moulds: what it is, how many of what wet weight (None: not sized by moulds), what
    they will weigh, and what was weighed."""

    mould: int
    name: str
    count: int
    grams: Grams | None
    curve: Curve
    weighed: tuple[tuple[BarWeight, ...], ...]


class RestNow(Value):
    """A batch at rest. `hours` are since it was poured; `next` is everything still to come, the soonest first; `keys`
    tap the first of them, `others` what can be told at any time. `bars` are by mould, `got` what the cut gave
    (`counted` bars) against what was planned. `cover` is how it rests, `mist` why no alcohol may be misted now (empty:
    it may)."""

    hours: float
    cover: str
    cover_told: bool
    cut_at: float | None
    next: tuple[Next, ...]
    keys: tuple[RestKey, ...]
    others: tuple[RestKey, ...]
    windows: tuple[Window, ...]
    reasons: tuple[Cause, ...]
    bars: tuple[BarKind, ...]
    got: Text
    counted: int | None
    cured: Span
    questions: tuple[Question, ...]
    mist: str
    gel: str | None
    learned: Text


class _Rest:
    """What the sentences are made of."""

    def __init__(
        self, recipe: Recipe, sheet: Sheet, state: PourState, rest: Rested, own: RestLearned, humidity: float
    ) -> None:
        self.recipe, self.sheet, self.state, self.rest, self.own = recipe, sheet, state, rest, own
        self.humidity = humidity
        self.pace = shown_pace(state)
        full, ring = (float(rest.gel == "full"), float(rest.gel == "ring"))
        if rest.gel is None and gel_wrap(rest) in ("insulated", "oven"):
            full = 0.5  # it mostly does, and the section is reckoned where it is looked at
        self.mean, self.why = expected(sheet, self.pace, full, ring)
        self.ageing = ageing_of(recipe, rest)
        sd = (BATCH_SD**2 + own.cuts.sd**2) ** 0.5
        self.weights = belief(self.mean + own.cuts.shift, sd, felt(rest, self.ageing))
        self.cut = (rest.cut.minute - rest.ended) / 60 if rest.cut else None
        self.lactate = sheet.factors["lactate"]
        self.windows = windows(
            self.mean + own.cuts.shift, self.weights, self.ageing, self.lactate, self.cut, sheet.bar.salt
        )
        self.curves = []
        for of in range(kinds_of_bar(recipe)):
            loss, tau = prior(recipe, sheet, humidity, of)
            self.curves.append(curve(loss + own.cure.loss, tau + own.cure.tau, weighed(rest, of)))

    def window(self, what: str, tool: str = "") -> Window | None:
        return next((w for w in self.windows if w.what == what and w.tool == tool), None)

    def mist(self, hours: float) -> str | None:
        """Why no alcohol may be misted then."""
        return mist_and_oven(self.state, self.recipe, self.rest.ended + 60 * hours)

    @property
    def from_cut(self) -> float:
        """Hours at which it was, or will be, cut."""
        if self.cut is not None:
            return self.cut
        wire = self.window("cut", self.own.tool)
        return (wire.sure + wire.first) / 2 if wire else 24.0

    @property
    def cured(self) -> tuple[float, float]:
        """Hours since the pour between which its slowest bars are done losing water, in 8 of 10."""
        done = [c.done for c in self.curves]
        return self.from_cut + 24 * max(d.low for d in done), self.from_cut + 24 * max(d.high for d in done)

    def questions(self, at: Literal["cut", "week", "cured"]) -> list[Question]:
        """What is still asked at a moment: at the cut first of each portion that riced whether grains show in it."""
        names = [p.name for p in self.recipe.design.portions]
        answered = self.rest.answered(at, names)
        riced = [n for n in names if self.state.flagged("ricing", n)] if at == "cut" else []
        told = self.rest.told_of(at, "ricing")
        out = [
            Question(at=at, ask="ricing", message=say(n, ": ", ASKED["ricing"]) if len(names) > 1 else ASKED["ricing"],
                     portion=n if len(names) > 1 else "")
            for n in riced
            if not told & {None, n}
        ]  # fmt: skip
        out += [Question(at=at, ask=a, message=ASKED[a]) for a in QUESTIONS[at] if a not in answered]
        return out[: max(MOST_ASKED, len(riced))]

    @property
    def single(self) -> bool:
        return in_single_moulds(self.recipe)


def _of(window: Window, what: Touch, message: str, tool: str = "") -> Next:
    edges = {"first": window.first, "sure": window.sure, "late": window.late, "until": window.last}
    return Next(what=what, tool=tool, message=message, after=window.after, **edges)


def _span(what: Touch, message: str, first: float, until: float) -> Next:
    return Next(what=what, message=message, first=first, sure=first, late=until, until=until)


def _cured(of: _Rest) -> Next:
    """From the middle of the days in which it is likely done losing water."""
    return _span("judge-cured", "Cured: test and judge it", sum(of.cured) / 2, of.cured[1] + CURED_ASK)


def _next(of: _Rest, hours: float) -> list[Next]:  # noqa: PLR0912 - one thing after the other
    rest, out = of.rest, []
    if not rest.told and hours < COVER_WITHIN and rest.unmoulded is None and rest.cut is None:
        damp = ". The air is damp: leave it covered a second day" if of.humidity >= DAMP else ""
        out.append(_span("cover", f"Cover it, and say how it rests{damp}", 0.0, COVER_WITHIN))
    if len(rest.misted) == 1 and rest.unmoulded is None and of.mist(hours) is None:
        again = (rest.misted[0] - rest.ended) / 60 + MIST_AGAIN
        if hours < again + MIST_WITHIN:  # who mists once is asked for one more, and not for long
            out.append(_span("mist", "Mist again, if ash is likely", again, again + MIST_WITHIN))
    if rest.cover == "oven":
        since = (rest.covers[-1][0] - rest.ended) / 60
        out.append(_span("oven-off", "Turn the oven off", since + OVEN_HOURS, since + 2 * OVEN_HOURS))
    unmould, wire = of.window("unmould"), of.window("cut", of.own.tool)
    if rest.unmoulded is None and rest.cut is None and unmould is not None:
        out.append(_of(unmould, "unmould", "Unmould"))
    if rest.cut is None and wire is not None and not of.single:
        out.append(_of(wire, "cut", f"Cut with the {of.own.tool}", of.own.tool))
    at = of.cut if of.cut is not None else (rest.unmoulded.minute - rest.ended) / 60 if rest.unmoulded else None
    if at is not None:
        if rest.gel is None and hours - at < GEL_LOOK:
            out.append(_span("gel", "Look at the section for gel", at, at + GEL_LOOK))
        if of.questions("cut") and hours < WEEK:
            out.append(_span("judge-cut", "Judge it at the cut", at, at + GEL_LOOK))
        last = max((w[-1][0] for w in rest.weighings.values()), default=None)
        if last is None and (of.own.weighs or hours - at < GEL_LOOK):
            out.append(_span("weigh", "Mark a bar and weigh it", at, at + GEL_LOOK))
        elif last is not None and hours < of.cured[0]:
            # A week after the last one; who missed that weighs a week later.
            begun, week = (last - rest.ended) / 60, 24 * WEIGH_EVERY
            due = begun + week * max(1.0, -(-(hours - begun - WEIGH_WITHIN) // week))
            out.append(_span("weigh", "Weigh the marked bar", due, due + WEIGH_WITHIN))
        for what, work in (("bevel", "bevelled"), ("stamp", "stamped")):
            window = of.window(what)
            if work in of.own.habits and work not in rest.done and window is not None and hours < window.last:
                out.append(_of(window, what, what.capitalize()))  # type: ignore[arg-type] # of Touch
        if of.questions("week") and hours < of.cured[0]:
            out.append(_span("judge-week", "Judge it at a week", WEEK, WEEK_UNTIL))
        if of.questions("cured") and hours < of.cured[1] + CURED_ASK:
            out.append(_cured(of))
    elif hours < FADES:
        out.append(_span("judge-week", "Judge it at a week", WEEK, WEEK_UNTIL))
        out.append(_cured(of))
    if hours > of.cured[1] + CURED_ASK:
        return []
    out = [n for n in out if hours < n.until + LET_GO]
    # What is due comes first, in the order of work; then what is still to come, the soonest first.
    return sorted(out, key=lambda n: (n.first > hours, n.first if n.first > hours else 0.0))


def _bars(of: _Rest) -> Iterator[BarKind]:
    for n, told in enumerate(of.curves):
        made = of.sheet.bars[n] if n < len(of.sheet.bars) else None
        yield BarKind(
            mould=n,
            name=made.mould if made else "",
            count=made.count if made else 0,
            grams=made.grams if made else None,
            curve=told,
            weighed=tuple(tuple(BarWeight(days=d, grams=g) for d, g in bar) for bar in weighed(of.rest, n)),
        )


def _got(rest: Rested, sheet: Sheet) -> Text:
    """Bars and offcuts against what was planned; empty while nothing was counted."""
    planned = sum(b.count for b in sheet.bars)
    bars = "" if rest.bars is None else f"{rest.bars} of {planned} bars" if planned else f"{rest.bars} bars"
    off = say(G(round(rest.cut.offcuts, 1)), " offcuts on the shelf") if rest.cut and rest.cut.offcuts else ""
    return joined(", ", filter(None, (bars, off)))


def _learned(own: RestLearned) -> Text:
    """What the maker's own batches shift, in one line; empty while they say little."""
    out = []
    if own.cuts.cuts and abs(own.cuts.shift) >= SAY_CUTS:
        times = exp(own.cuts.shift)
        out.append(
            say(
                "your blocks take ",
                figure(times, ".2g"),
                " times as long to cut as usual (",
                own.cuts.cuts,
                " cut)" if own.cuts.cuts == 1 else " cuts)",
            )
        )
    if own.gel.blocks and abs(own.gel.shift) >= SAY_GEL:
        warm = "warmer" if own.gel.shift > 0 else "cooler"
        out.append(say("they run ", warm, " than reckoned (", own.gel.blocks, " looked at)"))
    if own.cure.bars:
        out.append(say("the curve is shaped by ", own.cure.bars, " bars of yours"))
    return say(joined("; ", out).capital(), ".") if out else Text.NONE


def rest_now(
    recipe: Recipe,
    sheet: Sheet,
    state: PourState,
    minute: float,
    own: RestLearned,
    humidity: float = USUAL_HUMIDITY,
) -> RestNow | None:
    """A batch at rest at a `minute` of its pour's clock; None while it is being poured. `humidity` is of the air."""
    rest = rested(state, recipe)
    if rest is None:
        return None
    of = _Rest(recipe, sheet, state, rest, own, humidity)
    hours = max(minute - rest.ended, 0.0) / 60
    coming = _next(of, hours)
    asked: list[Question] = []
    if of.cut is not None or rest.unmoulded is not None:
        at: Literal["cut", "week", "cured"] = "cured" if hours >= of.cured[0] else "week" if hours >= WEEK else "cut"
        asked = of.questions(at)
    keys = keys_of(coming[0] if coming else None, recipe.design.wrap)
    due = bool(keys) and coming[0].first <= hours
    return RestNow(
        hours=hours,
        cover=rest.cover,
        cover_told=rest.told,
        cut_at=of.cut,
        next=tuple(coming),
        keys=keys,
        others=(*(LATE if of.cut is None and not due else ()), *OTHERS),
        windows=tuple(w for w in of.windows if w.what != "cut" or not of.single),
        reasons=of.why,
        bars=tuple(_bars(of)),
        got=_got(rest, sheet),
        counted=rest.bars,
        cured=Span(low=of.cured[0], high=of.cured[1]),
        questions=tuple(asked),
        mist="" if rest.unmoulded else of.mist(hours) or "",
        gel=rest.gel,
        learned=_learned(own),
    )


def as_one(now: RestNow, others: Sequence[RestNow]) -> RestNow:
    """A batch in one mould with others: the block is unmoulded and cut when the slowest of them can be, and no later
    than the quickest wants it."""

    def shared(n: Next) -> Next:
        if n.what not in ("unmould", "cut"):
            return n
        alike = [(o, m) for o in others for m in o.next if m.what == n.what]
        late = min([n.late, *(m.late - o.hours + now.hours for o, m in alike)])
        until = min([n.until, *(m.until - o.hours + now.hours for o, m in alike)])
        first = max([n.first, *(m.first - o.hours + now.hours for o, m in alike)])
        sure = max([n.sure, *(m.sure - o.hours + now.hours for o, m in alike)])
        late, until = max(late, sure), max(until, sure)
        return n.model_copy(update={"first": first, "sure": sure, "late": late, "until": until})

    return now.model_copy(update={"next": tuple(shared(n) for n in now.next)}) if others else now


def rest_sections(
    recipe: Recipe, sheet: Sheet, state: PourState, own: RestLearned, ways: Sequence[Wrap]
) -> tuple[Section, ...]:
    """The block in each way to rest; before its pour too, where nothing was shown yet."""
    return sections(recipe, sheet, ways, shown_pace(state), own.gel.shift)
