"""A portion's batter through time: piecewise constant segments, each with its row of the clock's design matrix.

Times are minutes on the pour's own clock, 0 when the lye meets the fats. Batter age starts at emulsion.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from math import exp
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from .prior import COOLING_MINUTES_PER_100_G, FACTORS, REFERENCE_CELSIUS, THRESHOLDS

Array = NDArray[Any]
THRESHOLD_COLUMNS = tuple(f"a:{s}" for s in THRESHOLDS)
FACTOR_COLUMNS = tuple(f"x:{f}" for f in FACTORS)
FIXED_COLUMNS = (*THRESHOLD_COLUMNS, *FACTOR_COLUMNS, "E", "hand", "stick")
# Minutes after which the temperature is taken anew; the grid opens up as the batter nears the room's.
COOLING_GRID = (0.0, 2, 4, 6, 9, 12, 16, 20, 25, 30, 37, 45, 55, 70, 90, 120, 170, 240, 480, 1440)
HORIZON = COOLING_GRID[-1]


def scent_column(fragrance: str) -> str:
    """Name of a fragrance's column: its ln-rate per 1 % of fats."""
    return f"e:{fragrance}"


def factor_row(factors: Mapping[str, float]) -> dict[str, float]:
    """A sheet's covariates as steps from the reference formula, by column."""
    return {f"x:{k}": (factors[k] - f.reference) / f.step for k, f in FACTORS.items()}


def temperature_step(celsius: float) -> float:
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

    def at(self, minutes: float) -> float:
        return self.room + (self.start - self.room) * exp(-max(minutes, 0.0) / self.minutes)


@dataclass(frozen=True)
class Work:
    """A stretch of stirring: `kind` is the clock's multiplier column."""

    start: float
    end: float
    kind: Literal["hand", "stick"]


@dataclass(frozen=True)
class Lane:
    """What one portion goes through. `split` is None while it is still in the pot.

    `added` maps fragrance to (minute, percent of fats). A segment ends at every one of `marks` (looks, and what
    happens to sibling lanes: lanes with the same marks share their segments). `batch` keeps the effects of
    different pours apart when they are laid out together.
    """

    name: str
    origin: float
    factors: Mapping[str, float]
    temperature: Callable[[float], float]
    work: Sequence[Work] = ()
    added: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    split: float | None = None
    marks: Iterable[float] = ()
    batch: str = ""

    @property
    def batch_effect(self) -> str:
        return f"u{self.batch}"

    @property
    def portion_effect(self) -> str:
        return f"u{self.batch}:{self.name}"

    @property
    def own_marks(self) -> set[float]:
        """Minutes at which something changes in this lane."""
        ends = {m for w in self.work for m in (w.start, w.end)} | {m for m, _ in self.added.values()}
        return ends if self.split is None else ends | {self.split}

    @cached_property
    def edges(self) -> Array:
        """Ends of the segments [min], rising, first one the origin."""
        grid = self.origin + np.array(COOLING_GRID)
        marks = {*self.marks, *self.own_marks}
        inside = [m for m in marks if self.origin < m < HORIZON]
        return np.unique(np.concatenate([grid, inside]))

    @property
    def durations(self) -> Array:
        return np.diff(self.edges)

    def rows(self, columns: Mapping[str, int]) -> Array:
        """Design matrix (segments × columns): what multiplies each parameter in the ln-rate.

        `columns` may name the batch's effect and the portion's (after the split); a name it lacks is skipped.
        """
        edges = self.edges
        mid = (edges[:-1] + edges[1:]) / 2
        z = np.zeros((len(mid), len(columns)))

        def put(name: str, value: Array | float, where: Array | slice = slice(None)) -> None:
            if name in columns:
                z[where, columns[name]] = value

        for name, step in factor_row(self.factors).items():
            put(name, step)
        put("E", np.array([temperature_step(self.temperature(t)) for t in mid]))
        for name, runs in self.activity(mid).items():
            put(name, runs)
        for fragrance, (minute, percent) in self.added.items():
            put(scent_column(fragrance), percent, mid > minute)
        put(self.batch_effect, 1.0)
        if self.split is not None:
            put(self.portion_effect, 1.0, mid > self.split)
        return z

    def activity(self, mid: Array) -> dict[str, Array]:
        """1 where the stick runs, 1 where it is stirred by hand and no stick runs."""
        on = {k: np.zeros(len(mid), dtype=bool) for k in ("hand", "stick")}
        for w in self.work:
            on[w.kind] |= (w.start < mid) & (mid < w.end)
        return {"stick": on["stick"].astype(float), "hand": (on["hand"] & ~on["stick"]).astype(float)}

    def segment_ending(self, minute: float) -> int:
        """Index of the last whole segment that ends by `minute`; -1 at the origin or before."""
        return int(np.searchsorted(self.edges, minute + 1e-9, side="right")) - 2
