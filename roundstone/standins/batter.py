"""A simulated batter with a hidden temperament, and a maker who taps what it does.

It runs on the clock's own equations with coefficients the clock does not know, so learning has something to find.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID

import numpy as np

from ..core.batter import THRESHOLD_COLUMNS, Knowledge, ages, crossings, infer, prior
from ..core.pour import Ended, Event, PouringBegan, ScentIn, Split, StageSeen, TemperatureRead, replay
from ..core.recipe import Recipe
from ..core.schedule import Schedule, build_schedule, emulsion_minutes, plan
from ..core.sheet import Sheet
from ..core.shelf import Shelf, Stage

STAGES: tuple[Stage, ...] = ("emulsion", "light", "medium", "thick", "set")
LONGEST = 45.0  # minutes a simulated maker stands at the pot


def temperament(knowledge: Knowledge, rng: np.random.Generator, effects: dict[str, float]) -> Knowledge:
    """A hidden truth: coefficients drawn from what is believed, with some set by name (ln-rate per 1 %)."""
    truth = rng.multivariate_normal(knowledge.mean, knowledge.cov)
    for name, value in effects.items():
        truth[knowledge.column[name]] = value
    return Knowledge(knowledge.names, truth, np.zeros_like(knowledge.cov), noise=knowledge.noise)


@dataclass(frozen=True)
class SimulatedMaker:
    """Pours by the plan; looks every minute or so and taps mostly when the stage has changed."""

    truth: Knowledge
    shelf: Shelf
    rng: np.random.Generator
    look_every: float = 0.9

    def _id(self) -> UUID:
        return UUID(bytes=self.rng.bytes(16), version=4)

    def pour(self, recipe: Recipe, sheet: Sheet, until: float = LONGEST, finished: bool = True) -> list[Event]:
        """Events of one whole pour, in order; cut off at `until` minutes and left open when not `finished`."""
        rng = self.rng
        median, _ = emulsion_minutes(self.truth, sheet, recipe.pour_celsius)
        emulsion = round(max(0.3, median * float(np.exp(prior.EMULSION_WORK_SD * rng.standard_normal()))), 3)
        events: list[Event] = [StageSeen(id=self._id(), minute=emulsion, stage="emulsion")]
        if rng.random() < 0.7:
            read = recipe.pour_celsius + float(rng.normal(0, 1.5))
            events.append(TemperatureRead(id=self._id(), minute=0.0, celsius=round(read, 1)))
        at = emulsion
        if len(recipe.design.portions) > 1:
            at = emulsion + recipe.design.split_minutes * float(rng.uniform(0.8, 1.5))
            events.append(Split(id=self._id(), minute=round(at, 3)))
        at += recipe.design.colour_minutes * float(rng.uniform(0.8, 1.3))
        for portion in recipe.design.portions:
            if recipe.scents and portion.scented:
                into = portion.name if len(recipe.design.portions) > 1 else None
                events.append(ScentIn(id=self._id(), minute=round(at, 3), portion=into))
                at += 0.4
        pouring = at + float(rng.uniform(0.3, 1.0))
        schedule = build_schedule(recipe, sheet, self.truth, self.shelf, replay(events, recipe), pouring)
        times = self._crossing_times(schedule)
        minutes = sum(s.minutes for s in plan(recipe, self.shelf, sheet.total) if s.looks)
        end = pouring + minutes * float(rng.uniform(0.9, 1.4))
        end = min(max(end, float(np.min(times[:, 2])) * 0.9), until, LONGEST)
        events += self._looks(recipe, times, emulsion, end)
        if pouring < end:
            events.append(PouringBegan(id=self._id(), minute=round(pouring, 3)))
        if finished:
            events.append(Ended(id=self._id(), minute=round(end + 0.1, 3)))
        return sorted((e for e in events if e.minute <= end + 0.2), key=lambda e: e.minute)

    def _crossing_times(self, schedule: Schedule) -> np.ndarray:
        """When each portion truly reaches each threshold (portions × 4)."""
        belief = infer(self.truth, schedule.lanes, (), measured=True)
        params = belief.mean.copy()
        for name, place in belief.column.items():
            if name.startswith("u"):
                sd = self.truth.noise.portion if ":" in name else self.truth.noise.batch
                params[place] = sd * self.rng.standard_normal()
        goal = params[[belief.column[c] for c in THRESHOLD_COLUMNS]]
        out = []
        for lane in schedule.lanes:
            needed = goal + np.asarray(self.truth.noise.stages) * self.rng.standard_normal(len(self.truth.noise.stages))
            rate, age = ages([lane], belief.column, params[None, :])
            out.append(crossings(lane.edges, rate[0, 0], age[0, 0], np.exp(np.maximum.accumulate(needed))))
        return np.array(out)

    def _looks(self, recipe: Recipe, times: np.ndarray, emulsion: float, end: float) -> Sequence[Event]:
        """Taps of a maker who looks at each portion now and then and taps what has changed, sometimes what has not."""
        many = len(recipe.design.portions) > 1
        looks: list[Event] = []
        for portion, crossed in zip(recipe.design.portions, times, strict=True):
            at, told = emulsion + 1.2 * recipe.design.split_minutes + 0.8, 0
            while at < end:
                level = int(np.sum(crossed <= at))
                if level != told or self.rng.random() < 0.2:
                    name = portion.name if many else None
                    looks.append(StageSeen(id=self._id(), minute=round(at, 3), portion=name, stage=STAGES[level]))
                told = level
                at += self.look_every * float(self.rng.uniform(0.6, 1.6))
        return looks
