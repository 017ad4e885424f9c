"""What a sentence of the bench is made of, and parts that several of them share."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from ..forecast.forecast import Projection
from ..forecast.odds import Outlook
from ..forecast.turns import FallBack
from ..recipe import INTO_MOULD
from ..said import figure
from ..schedule import marked_for_good, overdoses
from ..shelf import STAGES
from ..values import Id, Minutes, Name, Span, Value, listed
from .acts import moved
from .choose import faster_than_believed

FAR_FASTER, FASTER, SLOWER = (
    5.0,
    1.35,
    0.7,
)  # pace at which it is worth saying that the batter is unlike the forecast [C]
Do = Literal[
    "emulsion", "split", "scent", "pouring", "step", "ended", "done", "look",
    "hold", "wait", "burst", "loosen", "skip", "order", "switch", "fold", "spare", "gate", "resume",
]  # fmt: skip


class Advice(Value):
    """`do` names the act of the big key; what it needs stands beside it: a `portion` (and those it goes `into`), a
    `technique`, a `step` of the plan by its key, `minutes`; `again` is the span of 8 in 10 of these at a gate.

    `going_on` is the outlook of the plan as it stands and `go` the plan's own next act; `instead` is the outlook of
    what is advised, where that is a change. `warning` is said while the plan may still hold. `pace` is how many times
    as fast as forecast the leading portion moves; 1 while nothing was seen. `standing` names the change, so that it
    need not flicker."""

    headline: str
    detail: str
    do: Do
    go: Do
    portion: Name | None = None
    into: tuple[Name, ...] = ()
    technique: Id | None = None
    technique_name: str = ""
    step: str | None = None
    go_step: str | None = None
    minutes: Minutes | None = None
    again: Span | None = None
    going_on: Outlook | None = None
    instead: Outlook | None = None
    fall_back: FallBack | None = None
    pace: float
    caution: str = ""
    warning: str = ""
    standing: str = ""


def about(minutes: float) -> str:
    """Minutes as a maker says them."""
    if minutes < 0.75:
        return "under a minute"
    return f"about {minutes:.0f} min" if minutes < 120 else f"about {figure(minutes / 60, '.1f')} h"


def between(span: Span) -> str:
    """Between which minutes 8 in 10 come, as a sentence.

    >>> between(Span(low=12.2, high=95.0))
    '8 in 10 stand in 12 to 95 min.'
    """
    if span.high >= 120:
        return f"8 in 10 stand in {figure(span.low / 60, '.1f')} to {figure(span.high / 60, '.1f')} h."
    return f"8 in 10 stand in {span.low:.0f} to {span.high:.0f} min."


def pace(projection: Projection) -> tuple[float, int]:
    """How many times as fast as forecast, and in which lane: the one furthest off, else the first to thicken."""
    best = 1.0
    lane = min(range(len(projection.schedule.lanes)), key=lambda i: projection.forecast.lanes[i].stages[2].time.q50)
    for i, forecast in enumerate(projection.forecast.lanes):
        origin = projection.schedule.lanes[i].origin
        thick = forecast.stages[2]
        here = max(thick.time.q50 - origin, 0.1)
        ratio = max(thick.expected - origin, 0.1) / here
        if not SLOWER < ratio < FASTER and abs(np.log(ratio)) > abs(np.log(best)):
            best, lane = float(ratio), i
    return best, lane


def _why(projection: Projection, speed: float, lane: int) -> str:
    part = projection.forecast.lanes[lane]
    left = part.stages[2].time.q50 - projection.now
    thick = f"{about(left)} to thick" if part.level < STAGES.index("thick") else "it is thick"
    who = part.portion
    if speed > FAR_FASTER:
        return f"{who} moves far faster than forecast: {thick}."
    if speed >= FASTER:
        times = "twice" if 1.8 <= speed < 2.25 else f"{figure(speed, '.1f')} times"
        return f"{who} moves {times} as fast as forecast: {thick}."
    if speed <= SLOWER:
        return f"{who} moves slower than forecast: {thick}."
    return f"The batter moves as forecast: {part.portion} has {thick}."


class Bench:
    """What a sentence is made of."""

    def __init__(self, projection: Projection) -> None:
        self.recipe, self.shelf, self.projection = projection.recipe, projection.shelf, projection
        self.schedule, self.state = projection.schedule, projection.state
        self.technique = projection.schedule.technique
        self.speed, lane = pace(projection)
        self.why = _why(projection, self.speed, lane)
        self.ahead = projection.schedule.reconciled.ahead
        self.names = [p.name for p in projection.recipe.design.portions]

    def named(self, lanes: Sequence[int]) -> str:
        return listed([self.names[i] for i in lanes])

    def seen(self, lanes: Sequence[int]) -> int:
        """Lowest stage that was last seen of these lanes."""
        return min((self.state.level(self.names[i]) for i in lanes), default=0)


def capitalised(text: str) -> str:
    return text[:1].upper() + text[1:]


def furthest(bench: Bench) -> str:
    """The portion still to come that was seen furthest along, or how the batter moves."""
    left = bench.schedule.reconciled.left
    coming = {i for s in bench.ahead if s.looks and s.do in INTO_MOULD for i in s.lanes if left[i] > 0}
    level, name = max(((bench.state.level(bench.names[i]), bench.names[i]) for i in sorted(coming)), default=(0, ""))
    if level < STAGES.index("medium"):
        return bench.why
    lane = bench.names.index(name)
    thick = bench.projection.forecast.lanes[lane].stages[2]
    fast = thick.expected - bench.schedule.lanes[lane].origin > FASTER * (
        thick.time.q50 - bench.schedule.lanes[lane].origin
    )
    return f"{name} is at {STAGES[level]} already{', faster than forecast' if fast else ''}."


def overdosed(bench: Bench) -> str:
    """Said of a portion that got more fragrance than its certificates allow in the bar."""
    of = bench.projection
    return marked_for_good(overdoses(of.recipe, of.shelf, of.job.sheet, of.state))


def whisk_only(bench: Bench) -> str:
    """Said of batter that has moved by itself."""
    fast = faster_than_believed(bench.projection)
    context = bench.projection.context
    still = [i for i in range(len(bench.names)) if moved(context, i, fast) and i not in bench.projection.at.in_mould]
    return f"Whisk only, no stick: {bench.named(still)}." if still else ""
