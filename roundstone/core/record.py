"""The log of past pours as the clock reads it: what was learned, the usual batch, and each fragrance's file."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import exp

import numpy as np

from .batter import scent_column
from .clock import Knowledge, trade_knowledge
from .course import Course, lay_out
from .learn import learn
from .pour import Event, replay
from .prior import CLAIM_LOAD, THRESHOLDS
from .reasons import TRADE_USUAL, Usual
from .recipe import Recipe
from .sheet import Sheet
from .shelf import Fragrance, Shelf
from .values import Minutes, Share, Value
from .weigh import weigh

SPREAD = 1.2815515655  # normal quantile of the 80 % span


@dataclass(frozen=True)
class Logged:
    """A finished pour, weighed and laid out."""

    pour: str
    recipe: Recipe
    sheet: Sheet
    course: Course

    @property
    def scents(self) -> set[str]:
        """The fragrances that did go in."""
        return {s for lane in self.course.seen for s in lane.added}


@dataclass(frozen=True)
class Record:
    """Everything past pours give a forecast. `left_out` pours could not be weighed any more."""

    shelf: Shelf
    knowledge: Knowledge
    trade: Knowledge
    usual: Usual
    logged: tuple[Logged, ...]
    left_out: tuple[str, ...]

    def scent_pours(self, fragrances: Iterable[str]) -> dict[str, int]:
        """Finished pours with each of these fragrances."""
        return {f: sum(f in p.scents for p in self.logged) for f in fragrances}


def read(shelf: Shelf, pours: Sequence[tuple[str, Recipe, Sequence[Event]]]) -> Record:
    """Learn from finished pours (id, recipe version, events)."""
    trade = trade_knowledge(shelf.fragrances.values())
    logged, left_out = [], []
    for pour, recipe, events in pours:
        sheet = weigh(recipe, shelf).sheet
        state = replay(events, recipe.scent_in_fats)
        if sheet is None:
            left_out.append(pour)
        elif state.ended is not None:
            logged.append(Logged(pour, recipe, sheet, lay_out(recipe, sheet, trade, shelf, state, state.ended)))
    usual = TRADE_USUAL
    if logged:
        factors = {k: float(np.mean([p.sheet.factors[k] for p in logged])) for k in TRADE_USUAL.factors}
        usual = Usual(
            pours=len(logged), factors=factors, celsius=float(np.mean([p.recipe.pour_celsius for p in logged]))
        )
    knowledge = learn(trade, [p.course for p in logged])
    return Record(shelf, knowledge, trade, usual, tuple(logged), tuple(left_out))


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


class FragranceFile(Value):
    """Claimed against seen. `evidence` is the share of the claim's uncertainty that own pours took away."""

    fragrance: Fragrance
    claimed: Effect
    learned: Effect
    evidence: Share
    pours: tuple[Seen, ...]
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
        warning=warning,
    )
