"""Jug and pot on their way down: curves that follow the thermometer, and when both are ready to meet.

Before a reading each vessel's cooling is a spread of curves about the practical law of `heat`; one to three
readings narrow it. The posterior is a plain sum over a grid of ln k and the start temperature.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from pydantic import Field

from ..batter import Array
from ..text import WARMER_BY, C, Text, say
from ..values import Celsius, Fault, Minutes, RuleError, Span, Value
from .vessels import COOLING_SD, CURVE_KELVIN, LONGEST, Curve, combined

READING_SD = 1.2  # °C, thermometer and stirring [chosen]
START_SD = 6.0  # °C, of the temperature a vessel is thought to start from [chosen]
SLOWER = np.linspace(-3.0, 3.0, 31) * COOLING_SD
STARTS = np.linspace(-2.5, 2.5, 21) * START_SD
STEP, SPAN = 1.0, 360.0  # minutes
LATEST = 180  # minutes the lye may be mixed before or after the fats


class Reading(Value):
    """A temperature in °C, minutes after the vessel was hot."""

    minute: Minutes = Field(ge=0, le=LONGEST)
    celsius: Celsius = Field(ge=-5, le=120)


LOWEST, HIGHEST = 10.0, 75.0  # °C between which vessels may be wanted together [chosen]


def check_band(band: Span, pointer: str = "/band") -> None:
    """RuleError when jug and pot cannot be wanted between these °C."""
    if not LOWEST <= band.low < band.high <= HIGHEST:
        message = say(
            "The band runs from its lower to its upper end, ", C(LOWEST, ".0f"), " to ", C(HIGHEST, ".0f"), "."
        )
        raise RuleError(Fault(pointer=pointer, message=message))


class VesselNow(Value):
    """A vessel's course: its temperature every few minutes, middle and 80 % span, and when it is in the band."""

    every: Minutes
    middle: tuple[Celsius, ...]
    low: tuple[Celsius, ...]
    high: tuple[Celsius, ...]
    ready: Span | None


class Meeting(Value):
    """When both vessels are in the band and near enough, in minutes after the fats were melted.

    `window` is where the odds exceed one half; without one, `offset` is how many minutes earlier the lye should have
    been mixed (negative: later). `combined` is the temperature of the batter when they meet at `best`.
    """

    jug: VesselNow
    pot: VesselNow
    window: Span | None
    best: Minutes
    odds: float
    offset: Minutes | None
    combined: Celsius
    solid: float
    message: Text


@dataclass(frozen=True)
class _Grid:
    """Weights and temperatures (cells × times) of a vessel's possible curves."""

    weight: Array
    celsius: Array

    def odds_of(self, wanted: Array) -> Array:
        return np.asarray(self.weight @ wanted)


def _grid(curve: Curve, readings: Sequence[Reading], minutes: Array) -> _Grid:
    slower, start = (a.ravel() for a in np.meshgrid(SLOWER, STARTS, indexing="ij"))
    log = -0.5 * (slower / COOLING_SD) ** 2 - 0.5 * (start / START_SD) ** 2
    begun = curve.start + start
    k = curve.k * np.exp(-slower)

    def at(m: Array) -> Array:
        above = (begun - curve.room)[:, None]
        fall = 1 + curve.n * k[:, None] * m[None, :] * (np.maximum(above, 0.0) / CURVE_KELVIN) ** curve.n
        # What is colder than the room, such as lye on frozen milk, warms up by the plain law, as `Curve` has it.
        part = np.where(above > 0, fall ** (-1 / curve.n), np.exp(-k[:, None] * m[None, :]))
        return curve.room + above * part

    if readings:
        expected = at(np.array([r.minute for r in readings]))
        log -= 0.5 * (((np.array([r.celsius for r in readings]) - expected) / READING_SD) ** 2).sum(axis=1)
    weight = np.exp(log - log.max())
    return _Grid(weight / weight.sum(), at(minutes))


def _quantile(grid: _Grid, q: float) -> Array:
    order = np.argsort(grid.celsius, axis=0)
    total = np.cumsum(np.take_along_axis(np.broadcast_to(grid.weight[:, None], order.shape), order, axis=0), axis=0)
    row = (total < q).sum(axis=0).clip(max=len(order) - 1)
    return np.asarray(np.take_along_axis(np.take_along_axis(grid.celsius, order, axis=0), row[None, :], axis=0)[0])


def _vessel(grid: _Grid, minutes: Array, band: Span) -> VesselNow:
    inside = grid.odds_of((grid.celsius >= band.low) & (grid.celsius <= band.high)) > 0.5
    every = 10
    low, middle, high = (tuple(np.round(_quantile(grid, q)[::every], 1)) for q in (0.1, 0.5, 0.9))
    return VesselNow(every=every * STEP, middle=middle, low=low, high=high, ready=_span(inside, minutes))


def _span(inside: Array, minutes: Array) -> Span | None:
    where = np.flatnonzero(inside)
    return Span(low=float(minutes[where[0]]), high=float(minutes[where[-1]])) if len(where) else None


def meet(
    jug: Curve,
    pot: Curve,
    band: Span,
    gap: float,
    masses: tuple[float, float],
    jug_readings: Sequence[Reading] = (),
    pot_readings: Sequence[Reading] = (),
    lye_after: Minutes = 0.0,
    melts: Sequence[tuple[float, float, float]] = (),
    jug_band: Span | None = None,
) -> Meeting:
    """When jug and pot meet in `band` [°C] within `gap` kelvin of each other, or, at 100 K and more, at any gap. With a
    `jug_band` each is wanted in its own, and no gap is asked.

    `masses` are grams of lye and fats; the lye was mixed `lye_after` minutes after the fats were melted (negative:
    before); `melts` are (share, from, clear) of the fats for what is still solid when they meet. Readings count from
    when each vessel was hot.
    """
    minutes = np.arange(0.0, SPAN + STEP, STEP)
    pot_grid = _grid(pot, pot_readings, minutes)
    jug_grid = _grid(jug, jug_readings, np.maximum(minutes - lye_after, 0.0))
    pot_bins = _bins(pot_grid, band)
    if jug_band is not None:
        pot_bins = _inside(pot_grid, band)

    def jug_bins(grid: _Grid) -> Array:
        return _bins(grid, band) if jug_band is None else _inside(grid, jug_band)

    odds = np.where(minutes < lye_after, 0.0, _together(jug_bins(jug_grid), pot_bins, gap))
    best = int(np.argmax(odds))
    window = _span(odds > 0.5, minutes)
    offset = None
    if window is None:
        longer = _grid(jug, jug_readings, np.arange(0.0, SPAN + LATEST + STEP, STEP))
        offset = _offset(jug_bins(longer), pot_bins, gap)
        middle = (band.low + band.high) / 2
        best = int(np.argmin(np.abs(_quantile(pot_grid, 0.5) - middle)))
    fats_at, lye_at = float(_quantile(pot_grid, 0.5)[best]), float(_quantile(jug_grid, 0.5)[best])
    celsius, solid = combined(masses[1], fats_at, masses[0], lye_at, melts)
    return Meeting(
        jug=_vessel(jug_grid, minutes, jug_band or band),
        pot=_vessel(pot_grid, minutes, band),
        window=window,
        best=float(minutes[best]),
        odds=float(odds[best]),
        offset=offset,
        combined=celsius,
        solid=solid,
        message=_says(window, offset, band, jug_band, gap, lye_after, min(jug.room, pot.room)),
    )


def _inside(grid: _Grid, band: Span) -> Array:
    """Odds of standing in the band, at every time: (1 × times)."""
    return grid.odds_of((grid.celsius >= band.low) & (grid.celsius <= band.high))[None, :]


def _bins(grid: _Grid, band: Span) -> Array:
    """Odds of standing in each half degree of the band, at every time: (bins × times)."""
    edges = np.arange(band.low, band.high + 0.25, 0.5)
    place = np.digitize(grid.celsius, edges) - 1
    return np.stack([grid.odds_of(place == j) for j in range(len(edges) - 1)])


def _together(jug: Array, pot: Array, gap: float) -> Array:
    """Odds at every time that both are in the band and within the gap: the vessels are independent."""
    middles = 0.5 * np.arange(len(jug))
    near = (np.abs(middles[:, None] - middles[None, :]) <= gap).astype(float)
    return np.asarray(((near @ pot) * jug).sum(axis=0))


def _offset(jug: Array, pot: Array, gap: float) -> Minutes:
    """How much earlier the lye would have to be mixed for the best chance to meet, to five minutes.

    `jug` runs LATEST minutes longer than `pot`, so that an earlier lye is the same odds, shifted.
    """
    times = pot.shape[1]
    tried = np.arange(-LATEST, LATEST + 1, 5)
    best = []
    for early in tried:
        late = max(-early, 0)
        odds = _together(jug[:, max(early, 0) : max(early, 0) + times - late], pot[:, late:], gap)
        best.append(float(odds.max()))
    return float(tried[int(np.argmax(best))])


def wanted_apart(jug: Span, pot: Span) -> Text:
    """How warm each vessel is wanted, in words."""
    return say(
        "lye at ", C(jug.low, ".0f"), " to ", C(jug.high, ".0f"), ", fats at ", C(pot.low, ".0f"), " to ",
        C(pot.high, ".0f"),
    )  # fmt: skip


def _says(
    window: Span | None,
    offset: Minutes | None,
    band: Span,
    jug_band: Span | None,
    gap: float,
    lye_after: Minutes,
    room: Celsius,
) -> Text:
    near = "" if gap >= 100 else say(", within ", WARMER_BY(gap), " of each other")
    wanted = say("between ", C(band.low, ".0f"), " and ", C(band.high, ".0f"), near)
    if jug_band is not None:
        wanted = say("right: ", wanted_apart(jug_band, band), ",")
    if window is not None:
        return say(
            "Both are most likely ",
            wanted,
            f" from {window.low:.0f} to {window.high:.0f} min after the fats were melted.",
        )
    if band.high <= room:
        return say(
            "A room of ", C(room), " keeps both warmer than ", wanted, ": stand both in cold water, or raise the band."
        )
    if jug_band is not None:
        return say("Look at a thermometer: ", wanted_apart(jug_band, band), ".")
    early = offset or 0.0
    if abs(early + lye_after) < 5:
        return say("They are very unlikely to be ", wanted, " together: stand one in cold or warm water.")
    when = "before" if early > 0 else "after"
    bath = "cold" if early > 0 else "warm"
    return say(
        "They are very unlikely to be both ",
        wanted,
        f". Mix the lye about {abs(early):.0f} min ",
        when,
        " the fats are melted, or stand it in ",
        bath,
        " water, or rewarm the fats.",
    )
