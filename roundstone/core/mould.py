"""Batter density and what a mould holds.

Lye densities: Olsson, Jernqvist & Aly 1997 (Int. J. Thermophysics 18(3)) as carried by an open package,
not checked against the paper. Fat density and its slope: from memory.
"""

import numpy as np

LYE_SHARE = (0.0, 0.05, 0.10, 0.15, 0.20, 0.25, 0.30, 0.33, 0.35, 0.40, 0.45, 0.50)
LYE_DENSITY_20 = (0.998, 1.053, 1.108, 1.163, 1.218, 1.272, 1.325, 1.357, 1.378, 1.429, 1.477, 1.523)
FRAGRANCE_DENSITY = 0.95  # g/mL, chosen: oils of scent lie between .85 and 1.05
MILK_SOLIDS_DENSITY = 1.2  # g/mL, chosen: sugars 1.5, protein 1.35, fat .92


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
