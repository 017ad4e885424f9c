"""What of a forecast is told: lanes, steps, the weakest of them, an axis to draw it on."""

from collections.abc import Collection, Iterator, Sequence
from typing import Any

import numpy as np

from ..batter import (
    LEVELS,
    THRESHOLD_LEVELS,
    Array,
    Draws,
    five,
)
from ..face import Tint
from ..recipe import INTO_MOULD, ON_MOULD, Recipe
from ..schedule import PREPARES, Schedule, tint_of
from ..shelf import STAGES, band_words
from ..simulate import Outcome, Played
from ..text import Text
from ..values import Minutes, Name, Quantiles, Share, Span, Value
from .faces import Faces
from .job import Job, Knows
from .odds import Outlook, clamped
from .turns import RISKY, message

SHADE_POINTS = 97
SHORTEST_AXIS = 12.0  # minutes
LONGEST_AXIS = 240.0  # minutes: a pour that stands for days is not drawn to the end
PLAN_FILLS = 2.8  # the axis is at most this many times the plan


class StageTime(Value):
    """When a lane reaches a stage. `expected` is the median before anything was seen at the bench."""

    stage: str
    time: Quantiles
    expected: Minutes
    seen: Minutes | None


class LaneForecast(Value):
    """`shade` is the mean level of the batter (1 emulsion … 5 set) at even steps of the axis from its start.

    `batch` names its separate batch of lye, where a pour has several, and `emulsion` is when that is an emulsion.
    """

    portion: str
    share: Share
    tint: Tint
    scented: bool
    level: int
    stages: tuple[StageTime, ...]
    shade: tuple[float, ...]
    batch: Name
    emulsion: Quantiles
    emulsion_seen: bool


class StepForecast(Value):
    """A step of the plan, when it comes, and how the batter will suit it; never told above 95 in 100.

    `odds` is the share of the look that comes as planned, over all its portions, `each` for every portion by itself;
    `too_thick`, `too_thin` and `too_late` (what it lies on does not stand yet) are what is wanting, `lost` the
    share of the batter that cannot be used, `waits` the middle of the minutes it waits for the batter,
    `waits_span` what 8 in 10 wait. What only prepares has a `weight` of 0 and no odds of its own;
    `prepares` and `on_mould` say what makes nothing of the look, and what is done to what lies in the mould. `thicken`
    names those that are thickened on purpose just before, `risky` the portions, by place, that may well not suit
    it, `thin` those that are rather too thin than too thick. `takes` are its own minutes in this maker's hands,
    and `puts` what it puts into the mould, as a share of all batter, by portion.
    """

    key: str
    do: str
    label: str
    start: Minutes
    end: Minutes
    portions: tuple[int, ...]
    wants: str
    weight: float
    odds: Share
    each: tuple[Share, ...]
    too_thick: Share
    too_thin: Share
    too_late: Share
    lost: Share
    waits: Minutes
    waits_span: Span
    takes: Quantiles
    puts: tuple[Share, ...]
    thicken: tuple[str, ...]
    may_skip: bool
    risky: tuple[int, ...]
    thin: tuple[int, ...]
    done: bool
    prepares: bool
    on_mould: bool
    skipped: bool = False


class Weakest(Value):
    """The step on which most of the look is likely to be lost, and in which way."""

    step: str
    label: str
    odds: Share
    thick: bool
    message: Text


class Forecast(Value):
    """Everything the ribbon draws. Times are minutes from when the lye meets the fats; `axis` is their end."""

    axis: Minutes
    emulsion: Quantiles
    emulsion_seen: bool
    lanes: tuple[LaneForecast, ...]
    steps: tuple[StepForecast, ...]
    outlook: Outlook
    weakest: Weakest | None
    technique: str
    faces: Faces
    pours: int
    standing: str


def step_forecasts(steps: Sequence[Played], recipe: Recipe, skipped: Collection[str]) -> Iterator[StepForecast]:
    if not steps:
        return
    # What is asked of every step's minutes, sorted in one go.
    minutes = np.sort([[p.start, p.end, p.waited, p.end - p.start] for p in steps], axis=-1)
    for played, (start, end, waited, takes) in zip(steps, five_of(minutes), strict=True):
        yield _step_forecast(played, recipe, played.task.key in skipped, start[2], end[2], waited, takes)


def _step_forecast(
    played: Played,
    recipe: Recipe,
    skipped: bool,
    start: float,
    end: float,
    waited: Sequence[float],
    takes: Sequence[float],
) -> StepForecast:
    task = played.task
    names = tuple(recipe.design.portions[i].name for i in task.lanes)
    weighs = task.wants.weight > 0 and task.looks
    each = played.each.mean(axis=1)
    return StepForecast(
        key=task.key,
        do=task.do,
        label=task.label,
        start=start,
        end=end,
        portions=task.lanes,
        wants=band_words(task.wants.band) if weighs else "any",
        weight=task.wants.weight if task.looks else 0.0,
        odds=clamped(played.odds),
        each=tuple(clamped(float(x)) for x in each),
        too_thick=played.amiss.thick,
        too_thin=played.amiss.thin,
        too_late=played.amiss.late,
        lost=float(np.mean(played.lost)),
        waits=waited[2],
        waits_span=Span(low=waited[0], high=waited[4]),
        takes=spread_of(takes),
        puts=tuple(recipe.design.portions[i].share * task.wants.part for i in task.lanes)
        if task.do in INTO_MOULD
        else (),
        thicken=names if task.wants.to is not None else (),
        may_skip=task.wants.keep is not None,
        risky=tuple(i for i, x in zip(task.lanes, each, strict=True) if weighs and not played.done and x < RISKY),
        thin=played.too_thin_in if weighs else (),
        done=played.done,
        prepares=task.do in PREPARES,
        on_mould=task.do not in PREPARES and (task.do in ON_MOULD or not task.lanes),
        skipped=skipped,
    )


def weakest_of(outcome: Outcome, recipe: Recipe) -> Weakest | None:
    """The step to come on which most of the look hangs and fails."""
    coming = [p for p in outcome.steps if not p.done and p.task.looks and p.task.wants.weight > 0]
    if not coming:
        return None
    worst = max(coming, key=outcome.costs)
    names = [recipe.design.portions[i].name for i in worst.task.lanes]
    return Weakest(
        step=worst.task.key,
        label=worst.task.label,
        odds=clamped(worst.odds),
        thick=worst.amiss.thick >= max(worst.amiss.thin, worst.amiss.late),
        message=message(worst, names),
    )


def quantiles(values: Array) -> Quantiles:
    """10, 25, 50, 75 and 90 % quantiles by sorting (inverse of the empirical distribution)."""
    return spread_of(five_of(np.sort(values)))


def five_of(rising: Array) -> list[Any]:
    """The five as they are told: (… × 5)."""
    told: list[Any] = five(rising).round(3).tolist()
    return told


def spread_of(of: Sequence[float]) -> Quantiles:
    return Quantiles(q10=of[0], q25=of[1], q50=of[2], q75=of[3], q90=of[4])


def axis_of(draws: Draws, plan_end: float, now: float) -> float:
    """An end of the axis, on an even tick, that shows the batter's way to thick but never dwarfs the plan."""
    thick = max(float(draws.median(i, 4.0)) for i in range(draws.times.shape[0]))
    want = max(min(1.15 * thick, PLAN_FILLS * plan_end), 1.2 * plan_end, now + 6, SHORTEST_AXIS)
    want = min(want, LONGEST_AXIS)
    tick = next((t for t in (2.0, 4.0, 5.0, 10.0) if t * 9 >= want), 20.0)
    return float(np.ceil(want / tick) * tick)


def shade_of(draws: Draws, lane: int, begins: float, origin: float, axis: float) -> tuple[float, ...]:
    grid = np.linspace(0, axis, SHADE_POINTS)
    rise = np.clip((grid - begins) / max(origin - begins, 1e-9), 0, 1)
    level = np.where(grid >= origin, 1.0, rise)
    for stage_level in THRESHOLD_LEVELS:
        crossed = draws.ordered[lane, :, LEVELS.index(stage_level)]
        level = level + np.searchsorted(crossed, grid, side="right") / len(crossed)
    return tuple(np.round(level, 3).tolist())


OLDER = " What was logged last is still being learned from."


def standing_of(job: Job, knows: Knows) -> str:
    if knows.knowledge.pours == 0:
        return "A starting guess from trade experience, not your log."
    log = f"Learned from {knows.knowledge.pours} of your pours"
    if not job.recipe.scents:
        return f"{log}."
    scent_pours, shelf = knows.scent_pours(job.recipe), job.shelf
    known = [f"{n} of them with {shelf.fragrances[f].name}" for f, n in scent_pours.items() if n]
    new = [f for f, n in scent_pours.items() if not n]
    if not new:
        return f"{log}, {', '.join(known)}."
    claim = f"what {shelf.blend_name(new)} does is the supplier's claim"
    return f"{', '.join([log, *known])}; {claim}."


def lane_forecasts(
    job: Job, schedule: Schedule, draws: Draws, before: Draws, origin: Array, axis: float
) -> tuple[LaneForecast, ...]:
    """Each portion by itself; `before` are the crossing times had nobody looked, `origin` (lanes × draws) is when it
    was an emulsion."""
    recipe = job.recipe
    by_lane = five_of(draws.ordered.transpose(0, 2, 1))
    lanes = []
    for i, portion in enumerate(recipe.design.portions):
        seen = {s: schedule.known[i].get(s) for s in range(len(THRESHOLD_LEVELS))}
        emulsion = quantiles(origin[i])
        lanes.append(
            LaneForecast(
                portion=portion.name,
                share=portion.share,
                tint=tint_of(recipe, job.shelf, i),
                scented=portion.scented,
                level=schedule.state.level(portion.name),
                stages=tuple(
                    StageTime(
                        stage=STAGES[int(level)],
                        time=spread_of(by_lane[i][LEVELS.index(level)]),
                        expected=round(float(before.median(i, level)), 3),
                        seen=known.by if (known := seen[s]) else None,
                    )
                    for s, level in enumerate(THRESHOLD_LEVELS)
                ),
                shade=shade_of(draws, i, schedule.begins[i], emulsion.q50, axis),
                batch=recipe.design.batch_of(portion),
                emulsion=emulsion,
                emulsion_seen=schedule.emulsified[i],
            )
        )
    return tuple(lanes)
