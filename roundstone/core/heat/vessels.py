"""Jug and pot: how they cool or warm up, and what they come to when they are put together.

Cooling constants and their spreads are fitted to common practice [chosen] and told as ranges.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log

from ..values import Celsius

LONGEST = 1440.0  # minutes; a vessel that takes a day does not cool by itself
COOLING_SD = 0.35  # of ln k, both vessels [chosen]
# ln-slope at 25 K above the room [1/min] of so many grams, and how curved: fitted to common practice.
POT_COOLS, POT_GRAMS, POT_CURVED = 0.0143, 900.0, 0.15
JUG_COOLS, JUG_GRAMS, JUG_CURVED = 0.0115, 420.0, 0.55
CURVE_KELVIN = 25.0  # K above the room at which the slope is as told
FAT_CAPACITY, LYE_CAPACITY = 2.0, 3.55  # J/gK; lye near 35 %
MELTING_HEAT = 110.0  # J/g of hard fats, between palm 95 and cocoa butter 147 [from memory]


def solid_share(celsius: Celsius, melts: Sequence[tuple[float, float, float]]) -> float:
    """Share of the fats that is solid; each of (share, softens, clear) melts evenly between its two ends [chosen]."""
    total = 0.0
    for share, soft, clear in melts:
        total += share * min(max((clear - celsius) / max(clear - soft, 1.0), 0.0), 1.0)
    return total


def combined(
    fats: float,
    fats_at: Celsius,
    lye: float,
    lye_at: Celsius,
    melts: Sequence[tuple[float, float, float]] = (),
) -> tuple[Celsius, float]:
    """Temperature of fats [g] and lye [g] put together, and the solid share left; solids melt as it warms.

    Bowl and reaction are left out: in the first hour they net -1 to +3 °C, common practice.
    """
    from scipy.optimize import brentq  # slow to import

    capacity = fats * FAT_CAPACITY + lye * LYE_CAPACITY
    heat = fats * FAT_CAPACITY * fats_at + lye * LYE_CAPACITY * lye_at
    before = solid_share(fats_at, melts)
    low, high = min(fats_at, lye_at), max(fats_at, lye_at)
    if high - low < 1e-9:
        return high, before

    def excess(celsius: float) -> float:
        return capacity * celsius + fats * MELTING_HEAT * (before - solid_share(celsius, melts)) - heat

    found = float(brentq(excess, low, high))
    return found, solid_share(found, melts)


@dataclass(frozen=True)
class Curve:
    """Curved Newton cooling of a vessel: dθ/dt = -kθ(θ/25)^n above the room, θ in K."""

    start: float
    room: float
    k: float
    n: float

    def at(self, minutes: float) -> float:
        above = self.start - self.room
        if above <= 0:
            return self.room + above * exp(-self.k * minutes)
        return self.room + above * (1 + self.n * self.k * minutes * (above / CURVE_KELVIN) ** self.n) ** (-1 / self.n)

    def until(self, celsius: float) -> float:
        """Minutes until it has fallen to `celsius`; 0 when it is there, infinite when it never gets there."""
        above, goal = self.start - self.room, celsius - self.room
        if above <= goal:
            return 0.0
        if goal <= 0:
            return float("inf")
        return ((above / goal) ** self.n - 1) / (self.n * self.k * (above / CURVE_KELVIN) ** self.n)

    def warm(self, celsius: float) -> float:
        """Minutes until a vessel that is colder than the room has warmed to `celsius`; infinite when it never does."""
        below, goal = self.room - self.start, self.room - celsius
        if celsius <= self.start:
            return 0.0
        return log(below / goal) / self.k if goal > 0 else float("inf")


def pot_curve(start: Celsius, room: Celsius, grams: float, slower: float = 0.0) -> Curve:
    """The fat pot; `slower` shifts ln k down."""
    return Curve(start, room, POT_COOLS * (grams / POT_GRAMS) ** (-1 / 3) * exp(-slower), POT_CURVED)


def jug_curve(start: Celsius, room: Celsius, grams: float, slower: float = 0.0) -> Curve:
    """The lye jug."""
    return Curve(start, room, JUG_COOLS * (grams / JUG_GRAMS) ** (-1 / 3) * exp(-slower), JUG_CURVED)
