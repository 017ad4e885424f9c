"""What each custom of pour temperature costs in minutes."""

from dataclasses import replace

import numpy as np

from ..batter import (
    ages,
    crossings,
    infer,
)
from ..schedule import emulsion_minutes
from ..values import Celsius, Minutes, Value
from .forecast import Projection


class School(Value):
    """A custom of pour temperature, and when medium trace would come by it in the middle of what is believed."""

    name: str
    celsius: Celsius
    medium: Minutes


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
