"""Looks that a forecast hardly expects: asked about, at the bench and of what is written in afterwards."""

from collections.abc import Iterator, Sequence

import numpy as np

from ..batter import (
    Draws,
    Knowledge,
    crossing_times,
    infer,
    sample_posterior,
)
from ..pour import Doubt, Event, StageSeen, clock_text, replay
from ..schedule import build_schedule
from ..shelf import STAGES
from ..text import say
from .forecast import Projection
from .job import Job

RARE = 0.01  # below this a tap is doubted


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
    return f"{what}: the forecast gives that less than 1 %. Is it so?"


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
    return Doubt("/stage", say(_odd(event)), "counts")


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
