"""When the batter of a recipe will move, before the pour and during it, and what its plan comes to.

One function, `project`, serves the docked ribbon, the Forecast place and the live pour.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..batter import (
    Belief,
    Draws,
    Knowledge,
    Known,
    PosteriorSamples,
    crossing_times,
    infer,
    sample_posterior,
)
from ..pour import Event, PourState, Remarked, StageSeen, replay
from ..recipe import Recipe
from ..schedule import Placed, Schedule, build_schedule, replanned
from ..shelf import Shelf
from ..simulate import Outcome, Played, SimulationContext, State, begin, middle, play, simulation_context
from .faces import faces_of
from .hazard_log import ricing_odds
from .job import Job, Knows
from .odds import Outlook, outlook
from .views import OLDER, Forecast, axis_of, lane_forecasts, standing_of, step_forecasts, weakest_of

FRESH = 0.5  # minutes in which what is believed without looking is taken as unchanged [C]
SHIFT = 0.25  # minutes by which waiting must move a step for its lanes to be laid out anew


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

    def is_still(self, done: tuple[tuple[object, float], ...], knowledge: Knowledge, now: float) -> bool:
        """Whether what is believed without looking is what it was: the same was done, known the same, a moment ago."""
        same = self.done_events == done and self.knows.knowledge is knowledge
        return same and self.blind is not None and abs(self.now - now) <= FRESH

    @property
    def done(self) -> tuple[Played, ...]:
        """Steps that are done, as they are judged now."""
        return self.outcome.steps[: len(self.schedule.reconciled.done)]


def _with_waits(schedule: Schedule, recipe: Recipe, steps: Sequence[Played]) -> Schedule:
    """The schedule with its steps where they come in the middle of the draws, if waiting for the batter moves them."""
    placed = tuple(Placed(p.task, middle(p.start), middle(p.end)) for p in steps if not p.done)
    moves = [abs(a.start - b.start) for a, b in zip(placed, schedule.planned, strict=True)]
    return replanned(schedule, recipe, placed) if max(moves, default=0.0) > SHIFT else schedule


def _world(job: Job, knows: Knows, schedule: Schedule, samples: PosteriorSamples, seed: int) -> SimulationContext:
    at = job.recipe.pour_celsius
    rices = [ricing_odds(percent, at, job.sheet, knows.hazards) for percent in schedule.percents]
    return simulation_context(schedule, samples, rices, seed, knows.hands, knows.utility)


def _unseen(
    job: Job, knows: Knows, seed: int, schedule: Schedule, played_on: SimulationContext
) -> tuple[Draws, Outcome]:
    """When stages would come, and what the plan would come to, by what was done alone, had nobody looked."""
    belief = infer(knows.knowledge, schedule.seen, (), schedule.measured, schedule.to_come)
    blank: list[dict[int, Known]] = [{} for _ in schedule.bare]
    samples = sample_posterior(belief, schedule.bare, blank, seed)
    blind = _world(job, knows, replace(schedule, state=replace(schedule.state, flags=[])), samples, seed)
    at, done = begin(blind)
    outcome = play(blind, at, schedule.reconciled.ahead, schedule.reconciled.under, done=done)
    return crossing_times(samples, schedule.lanes, played_on.origin), outcome


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
    draws = crossing_times(samples, schedule.lanes, played_on.origin)
    done = (*state.emulsions.items(), *((e.id, e.minute) for e in state.standing if not _only_seen(e)))
    if not schedule.terms:
        before, expected = draws, None
    elif last is not None and last.is_still(done, knowledge, now):
        before, expected = last.unseen, last.blind
    else:
        before, expected = _unseen(job, knows, seed, schedule, played_on)
    axis = axis_of(draws, max(schedule.plan_end, middle(outcome.state.t)), now)
    lanes = lane_forecasts(job, schedule, draws, before, played_on.origin, axis)
    skipped = {p.task.key for p in schedule.reconciled.done if p.skipped}
    forecast = Forecast(
        axis=axis,
        emulsion=lanes[0].emulsion,
        emulsion_seen=state.emulsion is not None,
        lanes=lanes,
        steps=tuple(step_forecasts(outcome.steps, recipe, skipped)),
        outlook=outlook(outcome, float(outcome.value(knows.utility).mean())),
        weakest=weakest_of(outcome, recipe),
        technique=schedule.technique.id,
        faces=faces_of(recipe, shelf, schedule.technique.id, outcome, seed),
        pours=knowledge.pours,
        standing=standing_of(job, knows) + ("" if knows.fresh else OLDER),
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
