"""A thermometer and a scale that are not there: they read what such instruments would, for whoever has none at hand."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from math import exp, sin

from ..core.instruments import Shown

ROOM, START, COOLS = 22.0, 52.0, 38.0  # °C, °C, and minutes for the difference to fall by e [chosen]
REHEATED = 180.0  # minutes after which the pot is hot again, so that there is always something to read [chosen]
TRAY = 41.3  # g that stands on the scale [chosen]
SHAKES = 0.15  # of a unit, from reading to reading [chosen]


@dataclass(frozen=True)
class SimulatedThermometer:
    """A pot that cools from when it was first looked at."""

    now: Callable[[], datetime]
    since: datetime
    unit: str = "°C"

    def read(self) -> Shown:
        minutes = (self.now() - self.since).total_seconds() / 60
        celsius = ROOM + (START - ROOM) * exp(-(minutes % REHEATED) / COOLS) + SHAKES * sin(37 * minutes)
        return Shown(value=round(celsius, 1), unit=self.unit, instrument="a simulated thermometer")


@dataclass(frozen=True)
class SimulatedScale:
    """A cup that always weighs about the same."""

    now: Callable[[], datetime]
    unit: str = "g"

    def read(self) -> Shown:
        shake = SHAKES * sin(self.now().timestamp())
        return Shown(value=round(TRAY + shake, 1), unit=self.unit, instrument="a simulated scale")
