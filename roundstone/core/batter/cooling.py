"""The batter's temperature through time, and what it does to the rate."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .prior import COOLING_MINUTES_PER_100_G, REFERENCE_CELSIUS

Array = NDArray[Any]
Temperature = Callable[[Any], Any]  # °C at one minute or at many


def temperature_step(celsius: Any) -> Any:
    """Arrhenius step: 0 at 37 °C, 1 at 47 °C, so its coefficient is the ln factor of those ten degrees."""
    kelvin, reference = celsius + 273.15, REFERENCE_CELSIUS + 273.15
    return (1 / reference - 1 / kelvin) / (1 / reference - 1 / (reference + 10))


@dataclass(frozen=True)
class Cooling:
    """Newton cooling from `start` °C toward `room` °C with a time constant set by the batter's mass."""

    start: float
    room: float
    grams: float

    @property
    def minutes(self) -> float:
        return COOLING_MINUTES_PER_100_G * (max(self.grams, 1.0) / 100) ** (1 / 3)

    def at(self, minutes: Any) -> Any:
        """°C at one time or at many."""
        return self.room + (self.start - self.room) * np.exp(-np.maximum(minutes, 0.0) / self.minutes)


@dataclass(frozen=True)
class CoolingPath:
    """The batter's temperature in legs, each cooling from its own start from its minute on."""

    legs: tuple[tuple[float, Cooling], ...]

    @cached_property
    def _table(self) -> Array:
        return np.array([(begun, leg.start, leg.room, leg.minutes) for begun, leg in self.legs]).T

    def __call__(self, minute: Any) -> Any:
        """°C at one minute of the pour's clock or at many."""
        begun, start, room, minutes = self._table
        leg = np.maximum(np.searchsorted(begun, minute, side="right") - 1, 0)
        passed = np.maximum(minute - begun[leg], 0.0)
        return room[leg] + (start[leg] - room[leg]) * np.exp(-passed / minutes[leg])
