"""The log of past pours as the clock reads it: what was learned, the usual batch, and each fragrance's file."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import exp

import numpy as np

from .batter import scent_column
from .clock import Knowledge, Noise, trade_knowledge
from .course import Course, lay_out
from .hazards import HazardKnowledge, Told, learn_hazards
from .learn import Fit, fit
from .pour import Event, PourState, replay
from .prior import CLAIM_LOAD, THRESHOLDS
from .reasons import TRADE_USUAL, Usual
from .recipe import Recipe
from .sheet import Sheet
from .shelf import Fragrance, Shelf
from .values import Minutes, Share, Value
from .weigh import weigh

SPREAD = 1.2815515655  # normal quantile of the 80 % span


@dataclass(frozen=True)
class Past:
    """A pour as the store keeps it; `month` is the year and month it was begun in, as 2031-05."""

    pour: str
    recipe: Recipe
    events: Sequence[Event]
    month: str = ""


@dataclass(frozen=True)
class Logged:
    """A finished pour, weighed and laid out."""

    past: Past
    sheet: Sheet
    state: PourState
    course: Course

    @property
    def pour(self) -> str:
        return self.past.pour

    @property
    def recipe(self) -> Recipe:
        return self.past.recipe

    @property
    def scents(self) -> set[str]:
        """The fragrances that did go in."""
        return {s for lane in self.course.seen for s in lane.added}


@dataclass(frozen=True)
class Record:
    """Everything past pours give a forecast. `left_out` pours could not be weighed any more; `logged`: latest first."""

    shelf: Shelf
    fitted: Fit
    trade: Knowledge
    usual: Usual
    logged: tuple[Logged, ...]
    left_out: tuple[str, ...]
    hazards: HazardKnowledge

    @property
    def knowledge(self) -> Knowledge:
        return self.fitted.knowledge

    def scent_pours(self, fragrances: Iterable[str]) -> dict[str, int]:
        """Finished pours with each of these fragrances."""
        return {f: sum(f in p.scents for p in self.logged) for f in fragrances}

    def pour(self, pour: str) -> Logged | None:
        return next((p for p in self.logged if p.pour == pour), None)


def read(shelf: Shelf, pours: Sequence[Past], noise: Noise = Noise(), before: Record | None = None) -> Record:  # noqa: B008
    """Learn from finished pours. `before`, the record until now, only saves time."""
    trade = trade_knowledge(shelf.fragrances.values(), noise)
    known = {p.pour: p for p in before.logged} if before is not None and before.shelf == shelf else {}
    logged, left_out = [], []
    for past in pours:
        old = known.get(past.pour)
        if old is not None and old.past == past:
            logged.append(old)
            continue
        sheet = weigh(past.recipe, shelf).sheet
        state = replay(past.events, past.recipe.scent_in_fats)
        if sheet is None:
            left_out.append(past.pour)
        elif state.ended is not None:
            logged.append(Logged(past, sheet, state, lay_out(past.recipe, sheet, trade, shelf, state, state.ended)))
    usual = TRADE_USUAL
    if logged:
        factors = {k: float(np.mean([p.sheet.factors[k] for p in logged])) for k in TRADE_USUAL.factors}
        usual = Usual(
            pours=len(logged), factors=factors, celsius=float(np.mean([p.recipe.pour_celsius for p in logged]))
        )
    fitted = fit(trade, {p.pour: p.course for p in logged}, before.fitted if before is not None else None)
    told = [Told(p.course, p.state, p.sheet) for p in logged]
    flags = learn_hazards(shelf, told, fitted.knowledge)
    return Record(shelf, fitted, trade, usual, tuple(logged), tuple(left_out), flags)


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
