"""A portion's batter through time: piecewise constant segments, each with its row of the clock's design matrix.

Times are minutes on the pour's own clock, 0 when the lye meets the fats. Batter age starts at emulsion.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Literal

import numpy as np

from .cooling import Array, Temperature, temperature_step
from .prior import CLAIM_LOAD, FACTORS, SATURATES, SCENT_COURSE, SCENT_EARLY, SCENT_ENTERS, THRESHOLDS

THRESHOLD_COLUMNS = tuple(f"a:{s}" for s in THRESHOLDS)
FACTOR_COLUMNS = tuple(f"x:{f}" for f in FACTORS)
FIXED_COLUMNS = (*THRESHOLD_COLUMNS, *FACTOR_COLUMNS, "E", "hand", "stick")
# Of the pour, of one of its batches, of a portion after the split, and of the time it was poured in.
OWN_EFFECTS = ("u", "u@", "u:", "pace")
OWN_COLUMNS = (*FACTOR_COLUMNS, "E", "hand", "stick", *OWN_EFFECTS)
# Minutes after which the temperature is taken anew; the grid opens up as the batter nears the room's.
COOLING_GRID = (0.0, 2, 4, 6, 9, 12, 16, 20, 25, 30, 37, 45, 55, 70, 90, 120, 170, 240, 480, 1440)
HORIZON = COOLING_GRID[-1]


def scent_column(fragrance: str) -> str:
    """Name of a fragrance's column: its ln-rate per 1 % of fats."""
    return f"e:{fragrance}"


def jump_column(fragrance: str) -> str:
    """Name of the column of a fragrance's jump while it goes in: its ln-rate per 1 % of fats."""
    return f"J:{fragrance}"


def scent_columns(fragrances: Iterable[str]) -> tuple[str, ...]:
    """Columns of these fragrances: what each does, then how each jumps."""
    names = sorted(set(fragrances))
    return (*map(scent_column, names), *map(jump_column, names))


NOTHING = 1e-9  # percent of fragrance that no scale shows and no figure can be made of


def effective_dose(percents: Mapping[str, float]) -> dict[str, float]:
    """Percents by which fragrances act, by what of each is in: at CLAIM_LOAD in all as they are, beyond it less.

    >>> effective_dose({"a": 3.0}), {f: round(x, 2) for f, x in effective_dose({"a": 3.0, "b": 3.0}).items()}
    ({'a': 3.0}, {'a': 2.52, 'b': 2.52})
    >>> effective_dose({"a": 5e-324})
    {'a': 0.0}
    """
    whole = sum(percents.values())
    times = (CLAIM_LOAD / whole) ** (1 - SATURATES) if whole > NOTHING else 0.0
    return {f: x * times for f, x in percents.items()}


def factor_row(factors: Mapping[str, float]) -> dict[str, float]:
    """A sheet's covariates as steps from the reference formula, by column."""
    return {f"x:{k}": (factors[k] - f.reference) / f.step for k, f in FACTORS.items()}


@dataclass(frozen=True)
class Work:
    """A stretch of stirring: `kind` is the clock's multiplier column."""

    start: float
    end: float
    kind: Literal["hand", "stick"]


@dataclass(frozen=True)
class Lane:
    """What one portion goes through. `split` is None while it is still in the pot.

    `added` maps fragrance to (minute, percent of fats); `tapped` where a hand said so, as it went in or a little
    later. `own_factors` are the factors from the split on, with what is stirred into this portion alone. Where
    lanes share their segments (`sharing`), `ends` are what these end at, in minutes since emulsion. `batch` names
    its separate batch of lye where a pour has several.
    """

    name: str
    origin: float
    factors: Mapping[str, float]
    temperature: Temperature
    work: Sequence[Work] = ()
    added: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    tapped: bool = False
    own_factors: Mapping[str, float] | None = None
    split: float | None = None
    ends: tuple[float, ...] | None = None
    batch: str = ""

    @property
    def batch_effect(self) -> str:
        return "u"

    @property
    def lye_in_effect(self) -> str | None:
        """What sets this batch apart from the pour's others, where there are any."""
        return f"u@{self.batch}" if self.batch else None

    @property
    def portion_effect(self) -> str:
        return f"u:{self.name}"

    def marks(self) -> set[float]:
        """Minutes since emulsion at which something changes in this lane."""
        ends = {m for w in self.work for m in (w.start, w.end)}
        ends.update(x for m, _ in self.added.values() for x in (self.met(m), m, m + SCENT_ENTERS))
        if self.split is not None:
            ends.add(self.split)
        return {round(m - self.origin, 9) for m in ends}

    def met(self, minute: float) -> float:
        """When a fragrance that stands at this minute may first have met the batter: never before it had a cup of its
        own to go into."""
        if not self.tapped:
            return minute
        cup = self.split if self.split is not None and self.split <= minute else self.origin
        return min(minute, max(cup, minute - SCENT_EARLY))

    @cached_property
    def grid(self) -> Array:
        """Ends of the segments, in minutes since emulsion, rising from 0."""
        return np.array(self.ends if self.ends is not None else segment_ends(self.marks()))

    @cached_property
    def edges(self) -> Array:
        """Ends of the segments [min on the pour's clock], rising, first one the origin."""
        return self.origin + self.grid

    @cached_property
    def durations(self) -> Array:
        return np.diff(self.grid)

    @cached_property
    def own(self) -> tuple[str, ...]:
        """This lane's own parameters: the effects stand under OWN_EFFECTS, whatever they are called outside."""
        return (*OWN_COLUMNS, *scent_columns(self.added))

    @cached_property
    def effective_dose(self) -> dict[str, float]:
        """Percents by which its fragrances act."""
        return effective_dose({f: percent for f, (_, percent) in self.added.items()})

    @cached_property
    def _designed(self) -> list[Array]:
        return []

    def design(self, segments: int) -> Array:
        """What multiplies each of `own` in the ln-rate of the first `segments`: (segments × own)."""
        if not self._designed or len(self._designed[0]) < segments:
            edges = self.edges[: segments + 1]
            mid = (edges[:-1] + edges[1:]) / 2
            z = np.zeros((len(mid), len(self.own)))
            n = len(FACTOR_COLUMNS)
            z[:, :n] = list(factor_row(self.factors).values())
            if self.own_factors is not None:
                z[mid > (self.split or 0.0), :n] = list(factor_row(self.own_factors).values())
            z[:, n] = temperature_step(self.temperature(mid))
            runs = self.activity(mid)
            z[:, n + 1], z[:, n + 2] = runs["hand"], runs["stick"]
            z[:, n + 3] = 1.0
            z[:, n + 4] = bool(self.batch)
            if self.split is not None:
                z[:, n + 5] = mid > self.split
            z[:, n + 6] = 1.0
            for i, fragrance in enumerate(sorted(self.added), start=len(OWN_COLUMNS)):
                minute, _ = self.added[fragrance]
                dose, met = self.effective_dose[fragrance], self.met(minute)
                for after, times in SCENT_COURSE:
                    z[mid > max(minute + after, met), i] = dose * times
                z[(mid > met) & (mid < minute + SCENT_ENTERS), i + len(self.added)] = dose
            self._designed[:] = [z]
        return self._designed[0][:segments]

    def places(self, columns: Mapping[str, int], batch: str = "") -> list[int]:
        """For each of `own` its place among `columns`, -1 where they lack it."""
        own = (f"u{batch}", f"u{batch}@{self.batch}", f"u{batch}:{self.name}", "pace")
        named = dict(zip(OWN_EFFECTS, own, strict=True))
        return [columns.get(named.get(name, name), -1) for name in self.own]

    def rows(self, columns: Mapping[str, int]) -> Array:
        """Design matrix (segments × columns): what multiplies each parameter in the ln-rate."""
        own = self.design(len(self.durations))
        places = np.array(self.places(columns))
        z = np.zeros((len(own), len(columns)))
        z[:, places[places >= 0]] = own[:, places >= 0]
        return z

    def activity(self, mid: Array) -> dict[str, Array]:
        """1 where the stick runs, 1 where it is stirred by hand and no stick runs."""
        on = {k: np.zeros(len(mid), dtype=bool) for k in ("hand", "stick")}
        for w in self.work:
            on[w.kind] |= (w.start < mid) & (mid < w.end)
        return {"stick": on["stick"].astype(float), "hand": (on["hand"] & ~on["stick"]).astype(float)}

    def segment_ending(self, minute: float) -> int:
        """Index of the last whole segment that ends by `minute`; -1 at the origin or before."""
        return int(self.edges.searchsorted(minute + 1e-7, side="right")) - 2


def segment_ends(marks: Iterable[float]) -> tuple[float, ...]:
    """Where segments end that end at these minutes since emulsion, and as often as the batter cools."""
    return tuple(sorted({*COOLING_GRID, *(m for m in marks if 0 < m < HORIZON)}))


def sharing(lanes: Sequence[Lane], looks: Iterable[float] = ()) -> list[Lane]:
    """Lanes that share their segments: one ends wherever something changes in any of them, at every one of `looks`
    [min on the pour's clock] in each, and where one ended that was shared before.
    """
    marks = {m for lane in lanes for m in lane.marks()}
    marks.update(round(m - origin, 9) for origin in {lane.origin for lane in lanes} for m in looks)
    ends = segment_ends(marks.union(*(lane.ends or () for lane in lanes)))
    return [replace(lane, ends=ends) for lane in lanes]
