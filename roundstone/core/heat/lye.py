"""How hot the lye gets where it is mixed, and how cold it can be before it sets.

Heat of solution of NaOH: shape from Olsson, Jernqvist & Aly 1997 as carried by an open package (not checked against
the paper), anchored to -44.3 kJ/mol at infinite dilution; heat capacity from the same tables. KOH from memory.
Practical factors, cooling constants and their spreads are fitted to common practice [chosen] and told as ranges.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..shelf import KOH, NAOH, WATER
from ..values import Celsius

LYE = (0.05, 0.10, 0.15, 0.20, 0.25, 0.28, 0.30, 0.33, 0.35, 0.38, 0.40, 0.45, 0.50)
HEAT = (1109, 1109, 1105, 1087, 1051, 1019, 992, 946, 911, 853, 812, 703, 593)  # J per g NaOH at 25 °C
CAPACITY = (3.972, 3.835, 3.748, 3.693, 3.652, 3.629, 3.611, 3.579, 3.552, 3.504, 3.467, 3.352, 3.216)  # J/gK
WATER_CAPACITY, NAOH_CAPACITY = 4.186, 1.49  # J/gK
FUSION, ICE_CAPACITY = 333.4, 2.09  # J/g, J/gK
FROZEN_CELSIUS = -18.0
SOLIDS_CAPACITY = 1.6  # J/gK of what is in milk beside water [from memory]
JUG_KJ = 0.19  # kJ/K of a 100 g polypropylene jug
STAYS, STAYS_WITH_ICE = 0.86, 0.90  # of the heat that stays in the jug while it is stirred [chosen]
MILK_FREEZES, BOUND_WATER = -0.52, 0.013  # °C, share of milk that never freezes [from memory]
# °C at which sodium lye of so much NaOH begins to set: from memory of its phase diagram (ice to 19 %, then hydrates).
SETS_SHARE = (0.0, 0.05, 0.10, 0.15, 0.19, 0.22, 0.25, 0.28, 0.30, 0.33, 0.36, 0.388, 0.42, 0.455, 0.48, 0.50, 0.52)
SETS_CELSIUS = (0.0, -4.7, -10.5, -18.5, -28.0, -24.0, -18.0, -8.0, 1.0, 6.0, 12.0, 15.9, 13.0, 5.0, 8.0, 12.0, 20.0)
STANDARD = 25.0  # °C at which heats of solution are told


def _table(values: Sequence[float], w: float) -> float:
    return float(np.interp(w, LYE, values))


def milk_content(celsius: Celsius, water: float) -> float:
    """Heat content [J/g] of milk with this water fraction, liquid at 0 °C being 0; frozen below -0.52 °C."""
    liquid = WATER_CAPACITY * water + SOLIDS_CAPACITY * (1 - water)
    if celsius > MILK_FREEZES:
        return liquid * celsius
    ice = (water - BOUND_WATER) * (1 - MILK_FREEZES / celsius)
    return -FUSION * ice + (liquid - ICE_CAPACITY * ice) * celsius


@dataclass(frozen=True)
class MilkInJug:
    """Milk or another watery liquid: grams, its water fraction, and its temperature."""

    grams: float
    water: float
    celsius: float


# KOH, low confidence (about ±8 °C): apparent molar heat content φL [kJ/mol] at so many moles of water to one of KOH,
# and heat capacity of the solution [J/gK] by mass fraction [from memory]. What is not KOH in flakes is bound water,
# which cost this much heat a mole to part with [from memory].
KOH_WATER = (2.5, 3, 4, 5, 6.3, 8, 10, 20, 50)
KOH_CONTENT = (15, 11, 6.2, 3.7, 2.2, 1.3, 1.0, 0.9, 0.6)
KOH_INFINITE = 57.8  # kJ/mol at infinite dilution [from memory]
KOH_SHARES = (0.0, 0.10, 0.20, 0.25, 0.30, 0.33, 0.40, 0.50)
KOH_CAPACITY = (4.186, 3.709, 3.332, 3.17, 3.023, 2.941, 2.768, 2.566)
FLAKE_WATER = 38.3  # kJ per mole of water bound in potassium hydroxide flakes


@dataclass(frozen=True)
class Lye:
    """What goes into the jug, in grams: alkali from the bag as pure substance, and `flake_water` that comes with it.

    `held` is sodium hydroxide that stands in a stock lye with `stock_water` already.
    """

    naoh: float = 0.0
    koh: float = 0.0
    flake_water: float = 0.0
    held: float = 0.0
    stock_water: float = 0.0


def solution_heat(naoh: float, koh: float, water: float) -> float:
    """Heat [J] set free by dissolving these grams together in water, at 25 °C.

    In a mixed lye each alkali dissolves as it would at the strength of both together.
    """
    moles = naoh / NAOH + koh / KOH
    if moles <= 0 or water <= 0:
        return 0.0
    as_sodium = moles * NAOH / (moles * NAOH + water)
    content = float(np.interp(water / WATER / moles, KOH_WATER, KOH_CONTENT))
    return naoh * _table(HEAT, as_sodium) + koh / KOH * (KOH_INFINITE - content) * 1000


def solution_capacity(naoh: float, koh: float, water: float) -> float:
    """Heat capacity [J/K] of so much lye, each alkali's by its moles."""
    alkali, moles = naoh + koh, naoh / NAOH + koh / KOH
    total = alkali + water
    if moles <= 0:
        return total * WATER_CAPACITY
    w = alkali / total
    potassium = koh / KOH / moles
    each = (1 - potassium) * _table(CAPACITY, w) + potassium * float(np.interp(w, KOH_SHARES, KOH_CAPACITY))
    return total * each


COLDEST = -28.0  # °C of the lowest that lye and ice come to: sodium lye's eutectic, from memory


def sets_at(share: float) -> Celsius:
    """°C below which sodium lye of this strength (NaOH in all of it) sets; of above 52 % as of that."""
    return float(np.interp(share, SETS_SHARE, SETS_CELSIUS))


def lye_peak(
    lye: Lye, water: float, ice: float, start: Celsius, room: Celsius, milk: Sequence[MilkInJug] = ()
) -> tuple[Celsius, Celsius]:
    """Adiabatic and practical peak [°C] of lye made in a plastic jug.

    `water` (liquid) and `ice` in grams; `start` is the water's temperature, `room` the alkali's and a stock lye's. The
    lye's strength counts all water, that in the milk, in flakes and in a stock included; what else is in the milk
    only takes up heat. A stock gives the difference of its heats of solution before and after.
    """
    wet = water + ice + lye.flake_water + lye.stock_water + sum(m.grams * m.water for m in milk)
    naoh = lye.naoh + lye.held
    capacity = solution_capacity(naoh, lye.koh, wet) + SOLIDS_CAPACITY * sum(m.grams * (1 - m.water) for m in milk)
    heat = water * WATER_CAPACITY * (start - STANDARD) + (lye.naoh + lye.koh) * NAOH_CAPACITY * (room - STANDARD)
    heat += solution_heat(naoh, lye.koh, wet) - solution_heat(lye.held, 0.0, lye.stock_water)
    heat += solution_capacity(lye.held, 0.0, lye.stock_water) * (room - STANDARD) if lye.held > 0 else 0.0
    heat -= lye.flake_water / WATER * FLAKE_WATER * 1000
    heat += ice * (-FUSION + ICE_CAPACITY * FROZEN_CELSIUS - WATER_CAPACITY * STANDARD)
    heat += sum(m.grams * (milk_content(m.celsius, m.water) - milk_content(STANDARD, m.water)) for m in milk)
    adiabatic = STANDARD + heat / capacity
    # Colder than where such lye sets it does not get while there is ice to melt.
    adiabatic = max(adiabatic, sets_at(naoh / (naoh + wet))) if lye.koh == 0 and naoh > 0 else max(adiabatic, COLDEST)
    cold = ice > 0 or any(m.celsius < 0 for m in milk)
    # A stock is thinned in a moment; only dry alkali is stirred long enough to lose heat to the room.
    stays = STAYS_WITH_ICE if cold else STAYS if lye.held == 0 else 1.0
    part = capacity / 1000 / (capacity / 1000 + JUG_KJ) * stays
    solid = water == 0 and lye.held == 0 and (ice > 0 or milk)
    begun = max(min([0.0] * (ice > 0) + [m.celsius for m in milk]), 0.0) if solid else start
    return adiabatic, begun + part * (adiabatic - begun)
