"""How much of the fats in a pot is solid: what looks like trace and is none.

Each fat has its own curve of solid fat. In a pot the others are oil to it and dissolve some of it: by the ideal law of
solubility, ln x = -(ΔH/R)(1/T - 1/T_m), x being what a gram of the others can hold of it (mass for moles: triglycerides
weigh alike). It says nothing of how fast fats set, nor of their crystals' form: an estimate for a warning.
"""

from collections.abc import Iterable
from itertools import pairwise
from math import exp

from ..recipe import Recipe
from ..shelf import Fat, Shelf
from ..values import Celsius, Share

MELTING_KELVIN = 1.2e4  # K: ΔH/R of triglycerides, of some 100 kJ/mol [from memory]
ZERO = 273.15
# Of a fat without a curve of its own: solid at so many °C below where it softens, where it softens, and where clear.
BELOW, SOLID_BELOW, SOLID_FROM = 15.0, 0.65, 0.35  # [chosen]
SOFTENS = 5.0  # °C below clear, of a fat of which no more is known [chosen]
# Waxes and free acids set as a net of crystals: so much of them thickens as more of a fat would [chosen].
NET = 3.0
LIKE_TRACE = 0.06  # of a pot that has set, from which it may look like trace [chosen]


def own_solid(fat: Fat, celsius: Celsius) -> Share:
    """Share of a fat by itself that is solid.

    >>> from roundstone.reference import shelf
    >>> [round(own_solid(shelf().fats["palm"], t), 2) for t in (18.0, 25.0, 45.0)]
    [0.3, 0.13, 0.0]
    """
    points = tuple((p.celsius, p.share) for p in fat.solid) or _by_melting(fat)
    if points[-1][1] > 0:  # where a curve ends before the fat is clear
        points = (*points, (max(fat.melts or 0.0, points[-1][0] + SOFTENS), 0.0))
    for (low, more), (high, less) in pairwise(points):
        if low <= celsius <= high:
            return more + (less - more) * (celsius - low) / (high - low)
    return points[0][1] if celsius < points[0][0] else points[-1][1]


def _by_melting(fat: Fat) -> tuple[tuple[Celsius, Share], ...]:
    if fat.melts is None:
        return ((0.0, 0.0), (100.0, 0.0))
    soft = min(fat.melts_from if fat.melts_from is not None else fat.melts - SOFTENS, fat.melts - 1)
    if fat.kind != "fat":
        return ((soft, 1.0), (fat.melts, 0.0))
    return ((soft - BELOW, SOLID_BELOW), (soft, SOLID_FROM), (fat.melts, 0.0))


def pot_sets(recipe: Recipe, shelf: Shelf, celsius: Celsius) -> Share:
    """What sets of a recipe's pot at so many °C."""
    whole = sum(r.share for r in recipe.fats) or 1.0
    return set_share(((r.share / whole, shelf.fats[r.fat]) for r in recipe.fats), celsius)


def set_share(rows: Iterable[tuple[Share, Fat]], celsius: Celsius) -> Share:
    """What sets of a pot's fats (share of all, fat) at so many °C, waxes and free acids counted NET times."""
    total = 0.0
    for share, fat in rows:
        own = own_solid(fat, celsius)
        if own > 0 and fat.melts is not None:
            holds = exp(-MELTING_KELVIN * (1 / (celsius + ZERO) - 1 / (max(fat.melts, celsius) + ZERO)))
            total += max(share * own - holds * (1 - share), 0.0) * (1.0 if fat.kind == "fat" else NET)
    return min(total, 1.0)
