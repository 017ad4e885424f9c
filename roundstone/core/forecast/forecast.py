"""When the batter of a recipe will move, before the pour and during it, and what its plan comes to.

One function, `project`, serves the docked ribbon, the Forecast place and the live pour.
"""

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..batter import (
    LEVELS,
    THRESHOLD_LEVELS,
    Array,
    Belief,
    Draws,
    Knowledge,
    Known,
    PosteriorSamples,
    ages,
    crossing_times,
    crossings,
    five,
    infer,
    sample_posterior,
)
from ..face import Tint
from ..pour import Doubt, Event, PourState, Remarked, StageSeen, clock_text, replay
from ..recipe import INTO_MOULD, Recipe
from ..schedule import Placed, Schedule, build_schedule, emulsion_minutes, replanned, tint_of
from ..shelf import STAGES, Shelf, band_words
from ..values import Celsius, Minutes, Name, Quantiles, Share, Span, Value
from .context import SimulationContext, context
from .faces import Faces, faces_of
from .hazard_log import ricing_odds
from .job import Job, Knows
from .odds import Outlook, clamped, outlook
from .run import Outcome, Played, State, begin, middle, play
from .turns import RISKY, message

FRESH = 0.5  # minutes in which what is believed without looking is taken as unchanged [C]
RARE = 0.01  # below this a tap is doubted
SHADE_POINTS = 97
SHORTEST_AXIS = 12.0  # minutes
LONGEST_AXIS = 240.0  # minutes: a pour that stands for days is not drawn to the end
PLAN_FILLS = 2.8  # the axis is at most this many times the plan
SHIFT = 0.25  # minutes by which waiting must move a step for its lanes to be laid out anew


class StageTime(Value):
    """When a lane reaches a stage. `expected` is the median before anything was seen at the bench."""

    stage: str
    time: Quantiles
    expected: Minutes
    seen: Minutes | None


class LaneForecast(Value):
    """`shade` is the mean level of the batter (1 emulsion … 5 set) at even steps of the axis from its start.

    `batch` names its own lye-in, where a pour has several, and `emulsion` is when that is an emulsion.
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

    `odds` is the share of the look that comes as drawn, over all its portions, `each` for every portion by itself;
    `too_thick` and `too_thin` are what is wanting, `lost` the share of the batter that cannot be used, `waits` the
    middle of the minutes it waits for the batter, `waits_span` what 8 in 10 wait. What only prepares has a `weight` of
    0 and no odds of its own. `thicken` names those that are thickened on purpose just before, `risky` the portions, by
    place, that may well not suit it, `thin` those that are rather too thin than too thick. `takes` are its own minutes
    in this maker's hands, and `puts` what it puts into the mould, as a share of all batter, by portion.
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
    skipped: bool = False


class Weakest(Value):
    """The step on which most of the look is likely to be lost, and in which way."""

    step: str
    label: str
    odds: Share
    thick: bool
    message: str


class School(Value):
    """A custom of pour temperature, and when medium trace would come by it in the middle of what is believed."""

    name: str
    celsius: Celsius
    medium: Minutes


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


@dataclass(frozen=True)
class Projection:
    """A forecast with what it was made from, for those who go on reckoning with it.

    `blind` is the outcome had nobody looked, None while nobody has, and `unseen` the draws of that; `done_events` are
    those by which something was done.
    """

    job: Job
    knows: Knows
    seed: int
    forecast: Forecast
    schedule: Schedule
    draws: Draws
    state: PourState
    now: float
    belief: Belief
    samples: PosteriorSamples
    context: SimulationContext
    at: State
    outcome: Outcome
    blind: Outcome | None
    unseen: Draws
    done_events: tuple[tuple[object, float], ...]

    @property
    def recipe(self) -> Recipe:
        return self.job.recipe

    @property
    def shelf(self) -> Shelf:
        return self.job.shelf

    @property
    def done(self) -> tuple[Played, ...]:
        """Steps that are done, as they are judged now."""
        return self.outcome.steps[: len(self.schedule.reconciled.done)]


def _step_forecasts(steps: Sequence[Played], recipe: Recipe, skipped: Collection[str]) -> Iterator[StepForecast]:
    if not steps:
        return
    # What is asked of every step's minutes, sorted in one go.
    minutes = np.sort([[p.start, p.end, p.waited, p.end - p.start] for p in steps], axis=-1)
    for played, (start, end, waited, takes) in zip(steps, _five(minutes), strict=True):
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
        too_thick=max(played.thick, 0.0),
        too_thin=max(played.thin, 0.0),
        lost=float(np.mean(played.lost)),
        waits=waited[2],
        waits_span=Span(low=waited[0], high=waited[4]),
        takes=_spread(takes),
        puts=tuple(recipe.design.portions[i].share * task.wants.part for i in task.lanes)
        if task.do in INTO_MOULD
        else (),
        thicken=names if task.wants.to is not None else (),
        may_skip=task.wants.keep is not None,
        risky=tuple(i for i, x in zip(task.lanes, each, strict=True) if weighs and not played.done and x < RISKY),
        thin=played.too_thin_in if weighs else (),
        done=played.done,
        skipped=skipped,
    )


def weakest_of(outcome: Outcome, recipe: Recipe) -> Weakest | None:
    """The step to come on which most of the look hangs and fails."""
    coming = [p for p in outcome.steps if not p.done and p.task.looks and p.task.wants.weight > 0]
    if not coming:
        return None
    worst = max(coming, key=lambda p: p.task.wants.weight * (1 - p.odds))
    names = [recipe.design.portions[i].name for i in worst.task.lanes]
    return Weakest(
        step=worst.task.key,
        label=worst.task.label,
        odds=clamped(worst.odds),
        thick=worst.thick >= worst.thin,
        message=message(worst, names),
    )


def quantiles(values: Array) -> Quantiles:
    """10, 25, 50, 75 and 90 % quantiles by sorting (inverse of the empirical distribution)."""
    return _spread(_five(np.sort(values)))


def _five(rising: Array) -> list[Any]:
    """The five as they are told: (… × 5)."""
    told: list[Any] = five(rising).round(3).tolist()
    return told


def _spread(of: Sequence[float]) -> Quantiles:
    return Quantiles(q10=of[0], q25=of[1], q50=of[2], q75=of[3], q90=of[4])


def _axis(draws: Draws, plan_end: float, now: float) -> float:
    """An end of the axis, on an even tick, that shows the batter's way to thick but never dwarfs the plan."""
    thick = max(float(draws.median(i, 4.0)) for i in range(draws.times.shape[0]))
    want = max(min(1.15 * thick, PLAN_FILLS * plan_end), 1.2 * plan_end, now + 6, SHORTEST_AXIS)
    want = min(want, LONGEST_AXIS)
    tick = next((t for t in (2.0, 4.0, 5.0, 10.0) if t * 9 >= want), 20.0)
    return float(np.ceil(want / tick) * tick)


def _shade(draws: Draws, lane: int, begins: float, origin: float, axis: float) -> tuple[float, ...]:
    grid = np.linspace(0, axis, SHADE_POINTS)
    rise = np.clip((grid - begins) / max(origin - begins, 1e-9), 0, 1)
    level = np.where(grid >= origin, 1.0, rise)
    for stage_level in THRESHOLD_LEVELS:
        crossed = draws.ordered[lane, :, LEVELS.index(stage_level)]
        level = level + np.searchsorted(crossed, grid, side="right") / len(crossed)
    return tuple(np.round(level, 3).tolist())


OLDER = " What was logged last is still being learned from."


def _standing(job: Job, knows: Knows) -> str:
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


def _with_waits(schedule: Schedule, recipe: Recipe, steps: Sequence[Played]) -> Schedule:
    """The course with its steps where they come in the middle of the draws, if waiting for the batter moves them."""
    placed = tuple(Placed(p.task, middle(p.start), middle(p.end)) for p in steps if not p.done)
    moves = [abs(a.start - b.start) for a, b in zip(placed, schedule.planned, strict=True)]
    return replanned(schedule, recipe, placed) if max(moves, default=0.0) > SHIFT else schedule


def _world(job: Job, knows: Knows, schedule: Schedule, samples: PosteriorSamples, seed: int) -> SimulationContext:
    return context(
        schedule, samples, ricing_odds(job.recipe, job.sheet, knows.hazards), seed, knows.hands, knows.utility
    )


def _played_blind(job: Job, knows: Knows, schedule: Schedule, samples: PosteriorSamples, seed: int) -> Outcome:
    """What the plan would come to by what was done alone, had nobody looked."""
    blind = _world(job, knows, replace(schedule, state=replace(schedule.state, flags=[])), samples, seed)
    at, done = begin(blind)
    return play(blind, at, schedule.reconciled.ahead, schedule.reconciled.under, done=done)


def _played(
    job: Job, knows: Knows, seed: int, state: PourState, now: float
) -> tuple[Schedule, Belief, PosteriorSamples, SimulationContext, State, Outcome]:
    """A recipe laid out, believed, drawn, and its plan played: the one road to an outcome."""
    schedule = build_schedule(job.recipe, job.sheet, knows.knowledge, job.shelf, state, now)
    for lane in schedule.bare:
        lane.design(len(lane.durations))  # whole at once: the belief wants the beginning of it, the draws all
    belief = infer(knows.knowledge, schedule.seen, schedule.terms, schedule.measured, schedule.to_come)
    samples = sample_posterior(belief, schedule.bare, schedule.known, seed)
    played_on = _world(job, knows, schedule, samples, seed)
    at, done = begin(played_on)
    return schedule, belief, samples, played_on, at, play(
        played_on, at, schedule.reconciled.ahead, schedule.reconciled.under, done=done
    )  # fmt: skip


def outlook_of(job: Job, knows: Knows, seed: int) -> Outlook:
    """What a recipe's plan comes to before its pour, and nothing else: the outlook that `project` tells."""
    outcome = _played(job, knows, seed, replay([], job.recipe), 0.0)[-1]
    return outlook(outcome, float(outcome.value(knows.utility).mean()))


def project(
    job: Job,
    knows: Knows,
    seed: int,
    *,
    events: Sequence[Event] = (),
    now: float = 0.0,
    state: PourState | None = None,
    last: Projection | None = None,
) -> Projection:
    """Forecast a recipe's batter from all its looks up to `now` (minutes), on the dice of `seed`.

    With no events this is the forecast before the pour. `state`, what the events come to, and `last`, a forecast of the
    same pour a moment ago, only save time.
    """
    recipe, shelf, knowledge = job.recipe, job.shelf, knows.knowledge
    state = replay(events, recipe) if state is None else state
    now = state.ended if state.ended is not None else now
    schedule, belief, samples, played_on, at, outcome = _played(job, knows, seed, state, now)
    schedule = _with_waits(schedule, recipe, outcome.steps)
    draws = before = crossing_times(samples, schedule.lanes, played_on.origin)
    expected: Outcome | None = None
    done = (*state.emulsions.items(), *((e.id, e.minute) for e in state.standing if not _only_seen(e)))
    same = last is not None and last.done_events == done and last.knows.knowledge is knowledge
    if schedule.terms and last is not None and same and last.blind is not None and abs(last.now - now) <= FRESH:
        before, expected = last.unseen, last.blind
    elif schedule.terms:
        blank: list[dict[int, Known]] = [{} for _ in schedule.bare]
        blind = infer(knowledge, schedule.seen, (), schedule.measured, schedule.to_come)
        unseen = sample_posterior(blind, schedule.bare, blank, seed)
        before = crossing_times(unseen, schedule.lanes, played_on.origin)
        expected = _played_blind(job, knows, schedule, unseen, seed)
    plan_end = max(schedule.plan_end, middle(outcome.state.t))
    axis = _axis(draws, plan_end, now)

    lanes = []
    by_lane = _five(draws.ordered.transpose(0, 2, 1))
    for i, portion in enumerate(recipe.design.portions):
        stages = []
        for s, level in enumerate(THRESHOLD_LEVELS):
            window = schedule.known[i].get(s)
            stages.append(
                StageTime(
                    stage=STAGES[int(level)],
                    time=_spread(by_lane[i][LEVELS.index(level)]),
                    expected=round(float(before.median(i, level)), 3),
                    seen=window.by if window else None,
                )
            )
        emulsion = quantiles(played_on.origin[i])
        lanes.append(
            LaneForecast(
                portion=portion.name,
                share=portion.share,
                tint=tint_of(recipe, shelf, i),
                scented=portion.scented,
                level=state.level(portion.name),
                stages=tuple(stages),
                shade=_shade(draws, i, schedule.begins[i], emulsion.q50, axis),
                batch=recipe.design.batch_of(portion),
                emulsion=emulsion,
                emulsion_seen=schedule.emulsified[i],
            )
        )
    skipped = {p.task.key for p in schedule.reconciled.done if p.skipped}
    forecast = Forecast(
        axis=axis,
        emulsion=lanes[0].emulsion,
        emulsion_seen=state.emulsion is not None,
        lanes=tuple(lanes),
        steps=tuple(_step_forecasts(outcome.steps, recipe, skipped)),
        outlook=outlook(outcome, float(outcome.value(knows.utility).mean())),
        weakest=weakest_of(outcome, recipe),
        technique=schedule.technique.id,
        faces=faces_of(recipe, shelf, schedule.technique.id, outcome, seed),
        pours=knowledge.pours,
        standing=_standing(job, knows) + ("" if knows.fresh else OLDER),
    )
    return Projection(
        job,
        knows,
        seed,
        forecast,
        schedule,
        draws,
        state,
        now,
        belief,
        samples,
        played_on,
        at,
        outcome,
        expected,
        before,
        done,
    )


def _only_seen(event: Event) -> bool:
    """Whether nothing was done by an event: what is believed without looking is the same with and without it."""
    return isinstance(event, Remarked | StageSeen)


SCHOOLS = {"cool": 25.0, "middle": 33.0, "warm": 43.0}  # °C, common practice


def schools(projection: Projection) -> tuple[School, ...]:
    """What each custom of temperature costs in minutes, in the first scented portion (else the first).

    The batter is poured the same way, but warmer or cooler: cooling toward the room is linear in what
    it starts above it, and emulsion comes sooner or later.
    """
    recipe, schedule, knowledge = projection.recipe, projection.schedule, projection.knows.knowledge
    lane = next((x for x in schedule.lanes if x.added), schedule.lanes[0])
    room, poured = recipe.room_celsius, recipe.pour_celsius
    belief = infer(knowledge, [lane], (), schedule.measured)
    needed = np.exp(belief.mean[[belief.column["a:medium"]]])
    out = []
    for name, celsius in SCHOOLS.items():
        part = (celsius - room) / (poured - room) if poured != room else None

        def at(minute: float, part: float | None = part, celsius: float = celsius) -> float:
            return celsius if part is None else room + (lane.temperature(minute) - room) * part

        other = replace(lane, temperature=at)
        rate, age = ages([other], belief.column, belief.mean[None, :])
        medium = float(crossings(other.edges, rate[0, 0], age[0, 0], needed)[0])
        emulsion, _ = emulsion_minutes(knowledge, projection.job.sheet, celsius)
        out.append(School(name=name, celsius=celsius, medium=medium - schedule.origin + emulsion))
    return tuple(out)


def likelihood_of(draws: Draws, names: Sequence[str], portion: str | None, level: int, minute: float) -> float:
    """How often the draws have this portion (None: any) at `level` or beyond, and not yet past it, by `minute`.

    The smaller of "got there by now" and "has not gone past by now": near 0 either way, the tap surprises.
    """
    there, not_past = 0.0, 0.0
    for i in (i for i, name in enumerate(names) if portion in (None, name)):
        there = max(there, float(np.mean(draws.crossing(i, float(level)) <= minute)))
        not_past = max(not_past, float(np.mean(draws.crossing(i, float(level + 1)) > minute)))
    return min(there, not_past)


def _odd(event: StageSeen) -> str:
    what = f"{event.stage.capitalize()} at {clock_text(event.minute)}"
    return f"{what}: the forecast gives that less than 1 in 100. Is it so?"


def surprise(projection: Projection, event: Event) -> Doubt | None:
    """A doubt when a stage tap is rarer than RARE by the forecast made before it.

    A batch whose emulsion was not seen yet has no clock to be surprised by.
    """
    if not isinstance(event, StageSeen):
        return None
    lanes = projection.forecast.lanes
    told_of = [lane.emulsion_seen for lane in lanes if event.portion in (None, lane.portion)]
    several = len({lane.batch for lane in lanes}) > 1
    if several and not all(told_of):
        return None
    names = [lane.portion for lane in lanes]
    level = STAGES.index(event.stage)
    if likelihood_of(projection.draws, names, event.portion, level, event.minute) >= RARE:
        return None
    return Doubt("/stage", _odd(event), "counts")


def unlikely(job: Job, knowledge: Knowledge, events: Sequence[Event], seed: int = 1) -> Iterator[tuple[Event, str]]:
    """Looks of a finished pour that the forecast by what was done alone gives less than RARE, each with its question.

    What is written down afterwards is asked what is asked at the bench, or one slip bends what all other pours taught.
    """
    looks = [e for e in events if isinstance(e, StageSeen) and e.stage != "emulsion"]
    if not looks:
        return
    done = [e for e in events if not isinstance(e, StageSeen) or e.stage == "emulsion"]
    state = replay(done, job.recipe)
    schedule = build_schedule(job.recipe, job.sheet, knowledge, job.shelf, state, max(e.minute for e in events))
    if len(set(schedule.begins)) > 1:
        return  # a batch whose lye-in was not written down has no clock to be surprised by
    belief = infer(knowledge, schedule.bare, (), schedule.measured, schedule.to_come)
    samples = sample_posterior(belief, schedule.bare, [{} for _ in schedule.bare], seed)
    origins = np.array([lane.origin for lane in schedule.bare])[:, None]
    draws = crossing_times(
        samples, schedule.lanes, np.broadcast_to(origins, (len(schedule.bare), samples.params.shape[0]))
    )
    names = [lane.name for lane in schedule.bare]
    for event in looks:
        level = STAGES.index(event.stage)
        # It need not be a wonder that it was still there, only that it was there already, or had not come.
        if likelihood_of(draws, names, event.portion, level, event.minute) < RARE:
            yield event, _odd(event)
