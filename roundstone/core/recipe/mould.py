"""Batter density, what moulds hold, and the bars that come out of them.

Lye densities: Olsson, Jernqvist & Aly 1997 (Int. J. Thermophysics 18(3)) as carried by an open package,
not checked against the paper. Fat density and its slope: from memory.
"""

from collections.abc import Iterator
from math import cos, pi, radians, tan
from typing import NamedTuple

import numpy as np

from ..text import CM, ML, MM, say
from ..values import Fault, Grams, Value
from .recipe import Box, Cavities, Mould, Tube

LYE_SHARE = (0.0, 0.05, 0.10, 0.15, 0.20, 0.25, 0.30, 0.33, 0.35, 0.40, 0.45, 0.50)
LYE_DENSITY_20 = (0.998, 1.053, 1.108, 1.163, 1.218, 1.272, 1.325, 1.357, 1.378, 1.429, 1.477, 1.523)
FRAGRANCE_DENSITY = 0.95  # g/mL, chosen: oils of scent lie between .85 and 1.05
SOAP_DENSITY = 1.05  # g/mL of a bar, from memory
SOLIDS_DENSITY = 1.2  # g/mL of what is in a liquid beside water, chosen: sugars 1.5, protein 1.35, fat .92
CUP = 236.588  # mL, as on measuring cups of most kitchens: common practice
THINNEST_BAR = 1.0  # mm
MOST_SLANT, MOST_PLANKS = 60.0, 8  # degrees; [chosen]
LARGEST_CM, MOST_MILLILITRES = 200.0, 200_000.0


class Bars(Value):
    """What one kind of mould gives: `count` pieces of `grams` each, wet and with what is set into them, from `batter`
    grams poured into it."""

    mould: str
    count: int
    grams: Grams
    batter: Grams


def lye_density(concentration: float, celsius: float) -> float:
    """Density [g/mL] of NaOH solution of mass fraction 0-0.5; linear between table points."""
    return float(np.interp(concentration, LYE_SHARE, LYE_DENSITY_20)) - 0.0006 * (celsius - 20)


def fat_density(celsius: float) -> float:
    """Density [g/mL] of melted fats."""
    return 0.9155 - 0.00068 * (celsius - 20)


def fats_per_millilitre(
    lye_per_gram: float, concentration: float, celsius: float, other_millilitres_per_gram: float = 0.0
) -> float:
    """Grams of fats in one millilitre of batter.

    `lye_per_gram` is lye solution per gram of fats; `other_millilitres_per_gram` the room that fragrance,
    sugar and the like take, per gram of fats. Volumes are taken to add up.
    """
    volume = 1 / fat_density(celsius) + lye_per_gram / lye_density(concentration, celsius)
    return 1 / (volume + other_millilitres_per_gram)


def millilitres(mould: Mould) -> float:
    """What all moulds of this kind hold when filled as said."""
    match mould:
        case Box():
            return mould.count * mould.length * mould.width * mould.fill
        case Tube():
            return mould.count * pi * (mould.diameter / 2) ** 2 * mould.fill
        case Cavities():
            return mould.count * mould.millilitres


def free(mould: Mould, embedded: Grams) -> float:
    """Millilitres of all moulds of this kind that are left for batter, with so much soap set into each."""
    return millilitres(mould) - mould.count * embedded / SOAP_DENSITY


class Grid(NamedTuple):
    """Bars of a box: `along` its length and in `rows` over its width; wires every `step` mm, slanting by `lean` mm from
    front to back, with `ends` mm left at each end (of the short side, where they slant); a bar is `deep` mm."""

    along: int
    rows: int
    step: float
    lean: float
    ends: float
    deep: float


def grid(box: Box) -> Grid:
    """How a box is cut into bars, seen from above; none along where it is not cut or leaves none.

    >>> grid(Box(length=24, width=8, fill=6, cut=24)).along
    10
    >>> slanted = grid(Box(length=24, width=8, fill=6, cut=24, slant=45))
    >>> slanted.along, round(slanted.step, 3), round(slanted.lean, 6)
    (4, 33.941, 80.0)
    """
    long, wide = box.length * 10 - 2 * box.trim, box.width * 10
    if box.cut < THINNEST_BAR:
        return Grid(0, 1, 0.0, 0.0, 0.0, wide)
    angle = radians(box.slant)
    step, lean = box.cut / cos(angle), wide * tan(angle)
    # A hair of tolerance: 24 cm at 24 mm is ten bars, not nine.
    along = max(int((long - lean) / step + 1e-6), 0)
    crossed = THINNEST_BAR <= box.across <= wide
    rows, deep = (int(wide / box.across + 1e-6), box.across) if crossed else (1, wide / cos(angle))
    return Grid(along, rows, step, lean, (box.length * 10 - lean - along * step) / 2, deep)


def bars(mould: Mould, grams_per_millilitre: float, embedded: Grams = 0.0) -> Bars:
    """Whole bars cut from a mould, or the single pieces it was poured as; with so much soap set into each mould."""
    batter = free(mould, embedded) * grams_per_millilitre
    each = batter / mould.count + embedded
    if isinstance(mould, Cavities):
        return Bars(mould="cavity", count=mould.count, grams=each, batter=batter)
    name = "loaf" if isinstance(mould, Box) else "tube"
    if mould.cut <= 0:
        return Bars(mould=name, count=mould.count, grams=each, batter=batter)
    if isinstance(mould, Tube):
        pieces = int(mould.fill * 10 / mould.cut + 1e-6)
        grams = each * mould.cut / (mould.fill * 10)
        return Bars(mould=name, count=mould.count * pieces, grams=grams, batter=batter)
    cut = grid(mould)
    part = mould.across / (10 * mould.width) if mould.across > 0 else 1.0
    grams = each * cut.step / (mould.length * 10) * part / mould.planks
    return Bars(mould=name, count=mould.count * cut.along * cut.rows * mould.planks, grams=grams, batter=batter)


def check(mould: Mould, pointer: str) -> Iterator[Fault]:
    """Faults of one mould's measures."""
    measures = {"length": "length", "width": "width", "diameter": "diameter", "fill": "fill height"}
    for field, words in measures.items():
        value = getattr(mould, field, None)
        if value is not None and not 0.5 <= value <= LARGEST_CM:
            yield Fault(
                pointer=f"{pointer}/{field}",
                message=say("The ", words, " runs from ", CM(0.5), " to ", CM(LARGEST_CM), "."),
            )
    if not 1 <= mould.count <= 500:
        yield Fault(pointer=f"{pointer}/count", message="From 1 to 500 of them.")
    if isinstance(mould, Cavities):
        if not 5 <= mould.millilitres <= MOST_MILLILITRES:
            yield Fault(
                pointer=f"{pointer}/millilitres", message=say("A mould holds from ", ML(5), " to ", ML(200000), ".")
            )
    else:
        long = mould.length if isinstance(mould, Box) else mould.fill
        if mould.cut < 0 or mould.cut > max(long, 0) * 10:
            yield Fault(pointer=f"{pointer}/cut", message="A bar cannot be thicker than the block it is cut from.")
        elif 0 < mould.cut < THINNEST_BAR:
            yield Fault(
                pointer=f"{pointer}/cut", message=say("A bar is at least ", MM(THINNEST_BAR), " thick; 0 is uncut.")
            )
        elif isinstance(mould, Box):
            yield from _check_cuts(mould, pointer)


def _check_cuts(box: Box, pointer: str) -> Iterator[Fault]:
    """The first thing that stands against cutting a box so."""
    if not 0 <= 2 * box.trim <= box.length * 10 - box.cut:
        yield Fault(pointer=f"{pointer}/trim", message="The ends that are cut off leave no bar.")
    elif box.across != 0 and not THINNEST_BAR <= box.across <= box.width * 10:
        message = say("A bar is from ", MM(THINNEST_BAR), " wide to all of the block; 0 is not cut across.")
        yield Fault(pointer=f"{pointer}/across", message=message)
    elif not 0 <= box.slant <= MOST_SLANT:
        yield Fault(pointer=f"{pointer}/slant", message=f"Wires slant from 0 (square) to {MOST_SLANT:g} degrees.")
    elif box.slant > 0 and box.across > 0:
        yield Fault(pointer=f"{pointer}/slant", message="Cut at a slant, or across too: not both.")
    elif not 1 <= box.planks <= MOST_PLANKS:
        yield Fault(pointer=f"{pointer}/planks", message=f"From 1 (not cut level) to {MOST_PLANKS} planks.")
    elif box.cut > 0 and grid(box).along < 1:
        yield Fault(pointer=f"{pointer}/slant", message="At this slant no whole bar comes out of it.")
