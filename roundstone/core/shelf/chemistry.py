"""Stoichiometry of saponification, from atomic masses.

Standard atomic weights: IUPAC 2021, abridged [from memory]; tests check them against `periodictable`.
"""

import re
from collections.abc import Mapping

ATOM = {"H": 1.008, "C": 12.011, "N": 14.007, "O": 15.999, "Na": 22.990, "K": 39.098}


def molar_mass(formula: str) -> float:
    """Molar mass [g/mol] of a plain formula such as ``C6H8O7``; ValueError on anything else."""
    if not re.fullmatch(r"(?:[A-Z][a-z]?\d*)+", formula):
        raise ValueError(f"not a plain formula: {formula!r}")
    try:
        return sum(ATOM[el] * int(n or 1) for el, n in re.findall(r"([A-Z][a-z]?)(\d*)", formula))
    except KeyError as unknown:
        raise ValueError(f"no atomic mass for {unknown}") from unknown


NAOH = molar_mass("NaOH")
KOH = molar_mass("KOH")
WATER = molar_mass("H2O")
GLYCEROL = molar_mass("C3H8O3")

ACID_FORMULA = {
    "4:0": "C4H8O2",
    "6:0": "C6H12O2",
    "8:0": "C8H16O2",
    "10:0": "C10H20O2",
    "12:0": "C12H24O2",
    "14:0": "C14H28O2",
    "16:0": "C16H32O2",
    "16:1": "C16H30O2",
    "18:0": "C18H36O2",
    "18:1": "C18H34O2",
    "18:2": "C18H32O2",
    "18:3": "C18H30O2",
    "20:0": "C20H40O2",
    "20:1": "C20H38O2",
    "22:0": "C22H44O2",
    "22:1": "C22H42O2",
    "ricinoleic": "C18H34O3",
    "hydroxystearic": "C18H36O3",
    "resin": "C20H30O2",
}
ACID_MASS = {name: molar_mass(f) for name, f in ACID_FORMULA.items()}

# What liquids of a kitchen are sour by: formula, and how many times it takes up lye.
SOUR = {
    "citric": ("C6H8O7", 3),
    "acetic": ("C2H4O2", 1),
    "lactic": ("C3H6O3", 1),
    "malic": ("C4H6O5", 2),
    "tartaric": ("C4H6O6", 2),
}


def saponification_value(acids: Mapping[str, float], unsaponifiable: float = 0.0) -> float:
    """Saponification value [mg KOH per g] of a triglyceride with these fatty acids.

    `acids` maps names of `ACID_FORMULA` to weights in any unit; `unsaponifiable` is a fraction.
    The mean molar mass is harmonic, since weights are given and moles are wanted (an arithmetic
    mean is 2.7 % off for coconut). In the manner of AOCS Cd 3a-94 [from memory].

    >>> round(saponification_value({"18:1": 1.0}), 1)
    190.1
    """
    total = sum(acids.values())
    if total <= 0:
        raise ValueError("no fatty acids")
    mean = total / sum(w / ACID_MASS[a] for a, w in acids.items())
    triglyceride = 3 * mean + GLYCEROL - 3 * WATER
    return 3 * KOH * 1000 / triglyceride * (1 - unsaponifiable)


# g iodine per 100 g of triglyceride for each percent of an acid: AOCS Cd 1c-85 [from memory]; ricinoleic from
# one double bond and its molar mass, as the others are.
IODINE = {
    "16:1": 0.950,
    "18:1": 0.860,
    "18:2": 1.732,
    "18:3": 2.616,
    "20:1": 0.785,
    "22:1": 0.723,
    "ricinoleic": 0.816,
}


def iodine_value(acids: Mapping[str, float], unsaponifiable: float = 0.0) -> float:
    """Iodine value [g per 100 g] of a triglyceride with these fatty acids, by weight in any unit."""
    total = sum(acids.values())
    return 100 * sum(IODINE.get(a, 0.0) * w for a, w in acids.items()) / total * (1 - unsaponifiable)


def acid_value(acids: Mapping[str, float]) -> float:
    """mg KOH taken up by one gram of free fatty acids."""
    return KOH * 1000 * sum(w / ACID_MASS[a] for a, w in acids.items()) / sum(acids.values())


def acid_naoh(formula: str, groups: int) -> float:
    """NaOH [g] taken up by one gram of a `groups`-basic acid.

    >>> round(acid_naoh("C6H8O7", 3), 3)
    0.625
    """
    return groups * NAOH / molar_mass(formula)
