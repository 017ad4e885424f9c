"""The log of past pours as the clock reads it: what was learned, the usual batch, and each fragrance's file."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from math import exp
from typing import Any

import numpy as np

from ..batter import CLAIM_LOAD, THRESHOLDS, Knowledge, Noise, extended, scent_column, trade_knowledge
from ..course import Course, lay_out
from ..forecast import TRADE_USUAL, Hands, HazardKnowledge, Told, Usual, claimed_hazards, learn_hazards, mould_pace
from ..heat import mould_heat
from ..pour import Event, PourState, replay
from ..recipe import Recipe
from ..rest import RestLog, RestOwn, learn_rest, rested, shown_pace
from ..sheet import Sheet, weigh
from ..shelf import USUAL_HUMIDITY, Fragrance, Shelf
from ..values import Minutes, Share, Value
from .hands import learn_hands
from .learn import Fit, fit
from .verdicts import Verdicts, learn_verdicts

CLOCK = 3  # one more whenever coefficients come to mean something else: what was learned is then learned anew
HEATED = 40  # latest pours whose mould is reckoned to learn from: each takes some 20 ms, once [chosen]
SPREAD = 1.2815515655  # normal quantile of the 80 % span


@dataclass(frozen=True)
class Past:
    """A pour as the store keeps it; `month` is the year and month it was begun in, as 2031-05, `sheet` what it was
    weighed by, where that was kept.
    """

    pour: str
    recipe: Recipe
    events: Sequence[Event]
    month: str = ""
    sheet: Sheet | None = None


@dataclass(frozen=True)
class Logged:
    """A finished pour, weighed and laid out."""

    past: Past
    sheet: Sheet
    state: PourState
    course: Course
    claimed_pace: float = 1.0
    humidity: Share = USUAL_HUMIDITY

    @property
    def pour(self) -> str:
        return self.past.pour

    @property
    def recipe(self) -> Recipe:
        return self.past.recipe

    @cached_property
    def heat(self) -> float:
        """Odds of overheating in its mould, by what its fragrance is claimed to do."""
        return mould_heat(self.recipe, self.sheet, self.claimed_pace).overheats

    @cached_property
    def rested(self) -> RestLog | None:
        """What its rest teaches."""
        rest = rested(self.state, self.recipe)
        return None if rest is None else RestLog(self.recipe, self.sheet, rest, shown_pace(self.state), self.humidity)

    @property
    def told_of_heat(self) -> bool:
        """The maker said whether it overheated."""
        return self.state.smooth or any(f.flag == "overheating" for f in self.state.flags)

    @property
    def scents(self) -> set[str]:
        """The fragrances that did go in."""
        return {s for lane in self.course.seen for s in lane.added}


@dataclass(frozen=True)
class Taught:
    """Everything past pours give a forecast, without the pours: small, and kept beside the log.

    `poured` counts finished pours by fragrance, `mishaps` how often each was seen and how it ended; `verdicts` what the
    maker said of how they came out, `rest` what their blocks taught of cutting, gel and cure. `left_out` ones could not
    be weighed any more. `fresh` when it is of the log as it stands, not of one a little older.
    """

    shelf: Shelf
    knowledge: Knowledge
    trade: Knowledge
    usual: Usual
    hazards: HazardKnowledge
    poured: Mapping[str, int]
    left_out: tuple[str, ...] = ()
    fresh: bool = True
    hands: Hands = Hands()  # noqa: RUF009 - a value nobody changes
    mishaps: Mapping[str, Mapping[str, int]] = field(default_factory=dict)
    verdicts: Verdicts = Verdicts()  # noqa: RUF009 - a value nobody changes
    rest: RestOwn = RestOwn()  # noqa: RUF009 - a value nobody changes

    def scent_pours(self, fragrances: Iterable[str]) -> dict[str, int]:
        """Finished pours with each of these fragrances."""
        return {f: self.poured.get(f, 0) for f in fragrances}

    def on(self, shelf: Shelf, noise: Noise) -> "Taught":
        """The same on a shelf that has changed since: what is new there is believed as claimed."""
        trade = trade_knowledge(shelf.fragrances.values(), noise)
        hazards = claimed_hazards(shelf, self.hazards)
        known = extended(self.knowledge, trade, shelf.fragrances.values())
        return replace(
            self,
            shelf=shelf,
            trade=trade,
            knowledge=known,
            hazards=hazards,
        )

    def packed(self) -> dict[str, Any]:
        """What `unpacked` reads: plain values for JSON. The shelf and what the trade believes are not in it."""
        k, h, v = self.knowledge, self.hazards, self.verdicts
        return {
            "clock": CLOCK,
            "names": k.names,
            "mean": k.mean.tolist(),
            "cov": k.cov.tolist(),
            "pours": k.pours,
            "noise": {"batch": k.noise.batch, "portion": k.noise.portion, "stages": k.noise.stages},
            "usual": self.usual.model_dump(),
            "hazards": {"names": h.names, "mean": h.mean.tolist(), "cov": h.cov.tolist(), "counts": dict(h.counts)},
            "poured": dict(self.poured),
            "left_out": self.left_out,
            "hands": [self.hands.mean, self.hands.sd],
            "mishaps": {flag: dict(ways) for flag, ways in self.mishaps.items()},
            "verdicts": [{i: list(x) for i, x in v.bands.items()}, v.sold, v.lost],
            "rest": self.rest.model_dump(),
        }


def unpacked(doc: Mapping[str, Any], shelf: Shelf, noise: Noise) -> Taught:
    """What was kept of an earlier `Taught`, on the shelf as it is now; KeyError or ValueError when it is of no use."""
    if doc["clock"] != CLOCK:
        raise ValueError("learned by another clock")
    n, h = doc["noise"], doc["hazards"]
    knowledge = Knowledge(
        tuple(doc["names"]),
        np.array(doc["mean"], dtype=float),
        np.array(doc["cov"], dtype=float),
        int(doc["pours"]),
        Noise(n["batch"], n["portion"], tuple(n["stages"])),
    )
    counts = {k: (int(seen), int(asked)) for k, (seen, asked) in h["counts"].items()}
    hazards = HazardKnowledge(tuple(h["names"]), np.array(h["mean"]), np.array(h["cov"]), counts)
    trade = trade_knowledge(shelf.fragrances.values(), noise)
    usual, left_out = Usual.model_validate(doc["usual"]), tuple(doc["left_out"])
    hands = Hands(*map(float, doc["hands"]))
    poured, seen = dict(doc["poured"]), dict(doc["mishaps"])
    bands, sold, lost = doc["verdicts"]
    verdicts = Verdicts({i: (float(shift), int(n)) for i, (shift, n) in bands.items()}, int(sold), int(lost))
    told = Taught(
        shelf,
        knowledge,
        trade,
        usual,
        hazards,
        poured,
        left_out,
        hands=hands,
        mishaps=seen,
        verdicts=verdicts,
        rest=RestOwn.model_validate(doc["rest"]),
    )
    return told.on(shelf, noise)


def courses_of(latest_first: Sequence[Logged]) -> dict[str, Course]:
    """Courses by pour, oldest first: what is believed is of the pace that the latest have."""
    return {p.pour: p.course for p in reversed(latest_first)}


@dataclass(frozen=True)
class Record(Taught):
    """What was taught, with the finished pours themselves, `logged` latest first, and their fit."""

    fitted: Fit = Fit(trade_knowledge(()), {}, 0.0)  # noqa: RUF009 - a value nobody changes
    logged: tuple[Logged, ...] = ()

    def pour(self, pour: str) -> Logged | None:
        return next((p for p in self.logged if p.pour == pour), None)

    @property
    def courses(self) -> dict[str, Course]:
        """Their courses by id, as they are learned from."""
        return courses_of(self.logged)

    @property
    def light(self) -> Taught:
        """Without the pours."""
        fields = (
            "shelf",
            "knowledge",
            "trade",
            "usual",
            "hazards",
            "poured",
            "left_out",
            "hands",
            "mishaps",
            "verdicts",
            "rest",
        )
        return Taught(**{f: getattr(self, f) for f in fields})


def read(shelf: Shelf, pours: Sequence[Past], noise: Noise = Noise(), before: Record | None = None) -> Record:  # noqa: B008
    """Learn from finished pours. `before`, the record until now, only saves time."""
    trade = trade_knowledge(shelf.fragrances.values(), noise)
    # Scales change what is read of a weight, not what was poured.
    same = before is not None and before.shelf == shelf.model_copy(update={"scales": before.shelf.scales})
    known = {p.pour: p for p in before.logged} if before is not None and same else {}
    logged, left_out = [], []
    for past in pours:
        old = known.get(past.pour)
        if old is not None and old.past == past:
            logged.append(old)
            continue
        sheet = past.sheet or weigh(past.recipe, shelf).sheet
        state = replay(past.events, past.recipe)
        if sheet is None:
            left_out.append(past.pour)
        elif state.ended is not None and state.taught:
            course = lay_out(past.recipe, sheet, trade, shelf, state, state.ended)
            logged.append(Logged(past, sheet, state, course, mould_pace(past.recipe, trade), shelf.humidity))
    usual = TRADE_USUAL
    if logged:
        factors = {k: float(np.mean([p.sheet.factors[k] for p in logged])) for k in TRADE_USUAL.factors}
        usual = Usual(
            pours=len(logged), factors=factors, celsius=float(np.mean([p.recipe.pour_celsius for p in logged]))
        )
    fitted = fit(trade, courses_of(logged), before.fitted if before is not None else None)
    answered = {p.pour for p in [p for p in logged if p.told_of_heat][:HEATED]}
    told = [Told(p.course, p.state, p.sheet, p.heat if p.pour in answered else None) for p in logged]
    flags = learn_hazards(shelf, told, fitted.knowledge)
    poured = dict(Counter(f for p in logged for f in p.scents))
    return Record(
        shelf,
        fitted.knowledge,
        trade,
        usual,
        flags,
        poured,
        tuple(left_out),
        hands=learn_hands(p.course for p in logged),
        mishaps=mishaps([p.state for p in logged]),
        verdicts=learn_verdicts((p.course, p.state) for p in logged),
        rest=learn_rest(p.rested for p in logged if p.rested is not None),
        fitted=fitted,
        logged=tuple(logged),
    )


def mishaps(states: Sequence[PourState]) -> dict[str, dict[str, int]]:
    """By mishap: pours that were `told` of, those in which it was `seen`, and how it ended in them."""
    told = sum(bool(s.smooth or s.flags) for s in states)
    out: dict[str, dict[str, int]] = {}
    for state in states:
        for flag in {f.flag for f in state.flags}:
            out.setdefault(flag, {"seen": 0})["seen"] += 1
        for ended in state.mended:
            ways = out.setdefault(ended.flag, {"seen": 1})
            ways[ended.how] = ways.get(ended.how, 0) + 1
    return {flag: {"told": told, **ways} for flag, ways in out.items()}


class Effect(Value):
    """How many times as fast the batter moves at 3 % of fats: median and 80 % span; `ln` ± `sd` per 1 %."""

    low: float
    mid: float
    high: float
    ln: float
    sd: float


class Reached(Value):
    """A stage and the minutes from scenting until it was seen; negative when the batter was there before."""

    stage: str
    minutes: Minutes


class Seen(Value):
    """One pour of a fragrance: minutes from scenting to the stage last seen, with the conditions."""

    pour: str
    recipe: str
    load: Share
    celsius: float
    portion: str
    stages: tuple[Reached, ...]
    watched: Minutes


class Count(Value):
    """Pours in which it was seen, of those in which it was asked."""

    seen: int
    asked: int


class ColourNote(Value):
    """The colour of a scented portion some days after a pour."""

    pour: str
    recipe: str
    portion: str
    days: float
    shade: str


class FragranceFile(Value):
    """Claimed against seen. `evidence` is the share of the claim's uncertainty that own pours took away.

    `kin` are other bottles of the same scent.
    """

    fragrance: Fragrance
    claimed: Effect
    learned: Effect
    evidence: Share
    pours: tuple[Seen, ...]
    riced: Count
    discoloured: Count
    colours: tuple[ColourNote, ...]
    kin: tuple[str, ...]
    warning: str


def _effect(knowledge: Knowledge, fragrance: str) -> Effect:
    column = scent_column(fragrance)
    ln, sd = knowledge.value(column), knowledge.sd(column)
    low, mid, high = (exp(CLAIM_LOAD * (ln + z * sd)) for z in (-SPREAD, 0.0, SPREAD))
    return Effect(low=low, mid=mid, high=high, ln=ln, sd=sd)


def _seen(logged: Logged, fragrance: str) -> list[Seen]:
    out = []
    for lane, known in zip(logged.course.lanes, logged.course.known, strict=True):
        if fragrance not in lane.added:
            continue
        minute, percent = lane.added[fragrance]
        stages = [
            Reached(stage=THRESHOLDS[s], minutes=w.by - minute) for s, w in sorted(known.items()) if w.by is not None
        ]
        looks = [t for w in known.values() for t in (w.after, w.by) if t is not None]
        out.append(
            Seen(
                pour=logged.pour,
                recipe=logged.recipe.name,
                load=percent / 100,
                celsius=lane.temperature(minute),
                portion=lane.name,
                stages=tuple(stages),
                watched=max(looks, default=minute) - minute,
            )
        )
    return out


def _count(record: Record, key: str) -> Count:
    seen, asked = record.hazards.counts.get(key, (0, 0))
    return Count(seen=seen, asked=asked)


def _colours(logged: Logged, fragrance: str) -> list[ColourNote]:
    scented = {lane.name for lane in logged.course.lanes if fragrance in lane.added}
    return [
        ColourNote(pour=logged.pour, recipe=logged.recipe.name, portion=c.portion or "all", days=c.days, shade=c.shade)
        for c in sorted(logged.state.colours, key=lambda c: c.days)
        if c.portion is None or c.portion in scented
    ]


def fragrance_file(record: Record, fragrance: Fragrance) -> FragranceFile:
    """A fragrance's file from the log; latest pours first, as the record holds them."""
    column = scent_column(fragrance.id)
    pours = [p for p in record.logged if fragrance.id in p.scents]
    recipes = {p.recipe.name for p in pours}
    alone = all(fragrance.id in lane.added for p in pours for lane in p.course.lanes)
    warning = ""
    if len(pours) > 1 and len(recipes) == 1 and alone:
        warning = (
            f"Only ever poured in {recipes.pop()}, in the whole batch: what the fragrance did and what the recipe did "
            "cannot be told apart. Leave one portion unscented next time."
        )
    return FragranceFile(
        fragrance=fragrance,
        claimed=_effect(record.trade, fragrance.id),
        learned=_effect(record.knowledge, fragrance.id),
        evidence=max(0.0, 1 - (record.knowledge.sd(column) / record.trade.sd(column)) ** 2),
        pours=tuple(s for p in pours for s in _seen(p, fragrance.id)),
        riced=_count(record, f"ricing:{fragrance.id}"),
        discoloured=_count(record, f"discolouring:{fragrance.id}"),
        colours=tuple(c for p in pours for c in _colours(p, fragrance.id)),
        kin=tuple(
            f.name for f in record.shelf.fragrances.values() if fragrance.id in (f.inherits, f.id) and f != fragrance
        ),
        warning=warning,
    )
