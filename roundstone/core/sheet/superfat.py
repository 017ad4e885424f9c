"""The superfat of whatever was weighed together: one reckoning for the pot, a portion, a layer and a scale's readings.

Free fatty acids and other acids take their alkali first and whole; what is left of it is held against the fats. So
their spread, and the purity of all the alkali, is the fats' to bear.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import hypot, sqrt

from ..recipe import Recipe
from ..shelf import KOH, NAOH, Shelf
from ..values import Grams, Share, Span
from .sheet import Line, Superfat

PURITY_SPREAD = 0.01  # of the alkali about what the bag says [chosen]: bags state 97 to 99 %
A_MG = 1 / 1000 / KOH  # moles of a milligram of potassium hydroxide, which saponification values count


@dataclass(frozen=True)
class Takes:
    """Moles per gram of a line: of alkali, and of what takes it. `lower` and `upper` are the moles by which what it
    takes may lie below or above what is typical of it."""

    alkali: float = 0.0
    fats: float = 0.0
    free: float = 0.0
    acids: float = 0.0
    lower: float = 0.0
    upper: float = 0.0

    @property
    def net(self) -> float:
        return self.fats + self.free + self.acids - self.alkali


def takes(line: Line, recipe: Recipe, shelf: Shelf) -> Takes | None:
    """What a gram of a line is to the lye; None of water and fragrance."""
    kind, _, name = line.item.partition(":")
    if line.kind == "stock":
        return Takes(alkali=(recipe.stock or 0.0) * recipe.naoh_purity / NAOH)
    if kind == "alkali":
        return Takes(alkali=recipe.naoh_purity / NAOH if name == "naoh" else recipe.koh_purity / KOH)
    if kind == "fat":
        fat = shelf.fats[name]
        moles, spread = fat.sv * A_MG, ((fat.sv - fat.sv_low) * A_MG, (fat.sv_high - fat.sv) * A_MG)
        return Takes(0.0, 0.0, moles, 0.0, *spread) if fat.kind == "acid" else Takes(0.0, moles, 0.0, 0.0, *spread)
    if kind in ("liquid", "additive"):
        thing = shelf.liquids[name] if kind == "liquid" else shelf.additives[name]
        return Takes(fats=thing.fat * thing.fat_sv * A_MG, acids=thing.naoh / NAOH)
    return None


@dataclass(frozen=True)
class Balance:
    """Moles of what was weighed together; `lower` and `upper` in all, and `low` and `high` as they likely add up."""

    alkali: float
    fats: float
    free: float
    acids: float
    lower: float
    upper: float
    low: float
    high: float

    def superfat(self, more: float = 0.0) -> Share:
        """Share of the fats left without alkali, of the free acids where there is no fat; below 0 the soap is lye
        heavy. `more` moles are taken besides.
        """
        whole = self.fats or self.free
        return (self.fats + self.free + self.acids + more - self.alkali) / whole if whole else 0.0

    @property
    def likely(self) -> Span:
        """Each thing takes what it does independently of the others, within its published range."""
        purity = PURITY_SPREAD * self.alkali
        return Span(low=self.superfat(-hypot(purity, self.low)), high=self.superfat(hypot(purity, self.high)))

    @property
    def extreme(self) -> Span:
        """All of it at the same end at once."""
        purity = PURITY_SPREAD * self.alkali
        return Span(low=self.superfat(-purity - self.lower), high=self.superfat(purity + self.upper))


def balance(weights: Iterable[tuple[Grams, Takes | None]]) -> Balance:
    """The balance of so many grams of each."""
    alkali = fats = free = acids = lower = upper = low = high = 0.0
    for grams, of in weights:
        if of is not None:
            alkali += grams * of.alkali
            fats += grams * of.fats
            free += grams * of.free
            acids += grams * of.acids
            lower += grams * of.lower
            upper += grams * of.upper
            low += (grams * of.lower) ** 2
            high += (grams * of.upper) ** 2
    return Balance(alkali, fats, free, acids, lower, upper, sqrt(low), sqrt(high))


def superfat_of(recipe: Recipe, shelf: Shelf, lines: Sequence[Line], each: Sequence[Takes | None]) -> Superfat:
    """The superfat of a whole sheet, `each` being what its lines take."""
    of = balance((x.grams, t) for x, t in zip(lines, each, strict=True))
    return Superfat(
        set=recipe.superfat,
        with_liquids=of.superfat(),
        likely=of.likely,
        extreme=of.extreme,
        as_weighed=_as_weighed(shelf, lines, each),
    )


def _as_weighed(shelf: Shelf, lines: Sequence[Line], each: Sequence[Takes | None]) -> Span:
    """What the scales make of it: each line is read to its scale's step, and may lie half a step either side."""
    read = balance((x.reading, t) for x, t in zip(lines, each, strict=True))
    slips = (shelf.scales.step(x.grams) / 2 * t.net for x, t in zip(lines, each, strict=True) if t and x.grams > 0)
    off = sqrt(sum(s * s for s in slips))
    return Span(low=read.superfat(-off), high=read.superfat(off))


def of_portion(share: Share, name: str, lines: Sequence[Line], each: Sequence[Takes | None]) -> Balance:
    """What a portion holds: its share of all that is for every portion, and what goes into it alone."""
    whole = zip(lines, each, strict=True)
    return balance((x.grams * (1.0 if x.into else share), t) for x, t in whole if x.into in ("", name))
