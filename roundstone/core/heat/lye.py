"""How hot the lye gets, how jug and pot cool, and when both are ready to meet.

Heat of solution of NaOH: shape from Olsson, Jernqvist & Aly 1997 as carried by an open package (not checked against
the paper), anchored to -44.3 kJ/mol at infinite dilution; heat capacity from the same tables. KOH from memory.
Practical factors, cooling constants and their spreads are fitted to common practice [chosen] and told as ranges.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import exp

import numpy as np

from ..recipe import Recipe, moment_of
from ..said import C_BOTH, WARMER_BY, C
from ..sheet import Line, grams_of
from ..shelf import KOH, NAOH, WATER, Shelf
from ..values import Caution, Celsius, Minutes, Span, Value, listed

LYE = (0.05, 0.10, 0.15, 0.20, 0.25, 0.28, 0.30, 0.33, 0.35, 0.38, 0.40, 0.45, 0.50)
HEAT = (1109, 1109, 1105, 1087, 1051, 1019, 992, 946, 911, 853, 812, 703, 593)  # J per g NaOH at 25 °C
CAPACITY = (3.972, 3.835, 3.748, 3.693, 3.652, 3.629, 3.611, 3.579, 3.552, 3.504, 3.467, 3.352, 3.216)  # J/gK
WATER_CAPACITY, NAOH_CAPACITY = 4.186, 1.49  # J/gK
FUSION, ICE_CAPACITY = 333.4, 2.09  # J/g, J/gK
FROZEN_CELSIUS = -18.0
SOLIDS_CAPACITY = 1.6  # J/gK of what is in milk beside water [from memory]
JUG_KJ = 0.19  # kJ/K of a 100 g polypropylene jug
STAYS, STAYS_WITH_ICE = 0.86, 0.90  # of the heat that stays in the jug while it is stirred [chosen]
PLASTIC_LIMIT = 95.0  # °C, above which thin plastic and glass can fail: common practice
MELTED = 61.0  # °C of the fat pot when the hard fats are clear: common practice
AT_ONCE = 3  # minutes of difference that are not worth telling [chosen]
LONGEST = 1440.0  # minutes; a vessel that takes a day does not cool by itself
COOLING_SD = 0.35  # of ln k, both vessels [chosen]
NEAR = 1.0  # °C below the goal that a vessel may stand and still be called ready [chosen]
SCORCHES = 40.0  # °C from which milk and sugar brown in lye: common practice
SUGARY = 0.03  # of a liquid from which it browns like milk [chosen]
MILK_FREEZES, BOUND_WATER = -0.52, 0.013  # °C, share of milk that never freezes [from memory]
STANDARD = 25.0  # °C at which heats of solution are told
# ln-slope at 25 K above the room [1/min] of so many grams, and how curved: fitted to common practice.
POT_COOLS, POT_GRAMS, POT_CURVED = 0.0143, 900.0, 0.15
JUG_COOLS, JUG_GRAMS, JUG_CURVED = 0.0115, 420.0, 0.55
CURVE_KELVIN = 25.0  # K above the room at which the slope is as told
TENTH = 1.2815515655  # normal quantile of the 80 % span
KOH_GIVE = 8.0  # °C that potassium lye's peak may be off [from memory]


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
    cold = ice > 0 or any(m.celsius < 0 for m in milk)
    # A stock is thinned in a moment; only dry alkali is stirred long enough to lose heat to the room.
    stays = STAYS_WITH_ICE if cold else STAYS if lye.held == 0 else 1.0
    part = capacity / 1000 / (capacity / 1000 + JUG_KJ) * stays
    begun = start if water > 0 or lye.held > 0 or not milk else max(min(m.celsius for m in milk), 0.0)
    return adiabatic, begun + part * (adiabatic - begun)


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


def pot_curve(start: Celsius, room: Celsius, grams: float, slower: float = 0.0) -> Curve:
    """The fat pot; `slower` shifts ln k down."""
    return Curve(start, room, POT_COOLS * (grams / POT_GRAMS) ** (-1 / 3) * exp(-slower), POT_CURVED)


def jug_curve(start: Celsius, room: Celsius, grams: float, slower: float = 0.0) -> Curve:
    """The lye jug."""
    return Curve(start, room, JUG_COOLS * (grams / JUG_GRAMS) ** (-1 / 3) * exp(-slower), JUG_CURVED)


class Vessel(Value):
    """When a vessel falls to the pour temperature, counted from when it was hot: middle and likely span.

    One that is cooler than that from the start must be warmed `to`: it never gets there by itself.
    """

    start: Celsius
    ready: Minutes
    likely: Span
    warm_to: Celsius | None


class HeatPlan(Value):
    """The lye's peak, when jug and pot are ready, and what to do about it.

    `combined` is where the batter would stand if a vessel that is too cool were not warmed.
    """

    adiabatic: Celsius
    peak: Celsius
    jug: Vessel
    pot: Vessel
    combined: Celsius | None
    advice: str
    cautions: tuple[Caution, ...]


def _vessel(curve: Callable[[float], Curve], goal: float) -> Vessel:
    z = TENTH * COOLING_SD
    middle, quick, slow = (min(curve(s).until(goal), LONGEST) for s in (0.0, -z, z))
    begun = curve(0.0).start
    warm_to = goal if begun < goal - NEAR else None
    return Vessel(start=begun, ready=middle, likely=Span(low=quick, high=slow), warm_to=warm_to)


def _cold_advice(recipe: Recipe, jug: Vessel, pot: Vessel, begun: "Start", together: Celsius) -> str:
    """What to do when a vessel stands below the pour temperature from the start."""
    goal = recipe.pour_celsius
    as_they_are = f"As they are they would meet near {together:.0f}{C}, not {goal:g}{C}."
    if jug.warm_to is not None and pot.warm_to is not None:
        return (
            f"Warm both to {goal:g}{C}: the fats stand at {pot.start:.0f}{C} and the lye comes to no more than "
            f"{jug.start:.0f}{C}. {as_they_are}"
        )
    if pot.warm_to is not None:
        span = f"{jug.likely.low:.0f} to {min(jug.likely.high, LONGEST):.0f}"
        return (
            f"Warm the fats, which stand at {pot.start:.0f}{C}, to {goal:g}{C} when the lye has come down to that, "
            f"after {span} min by a thermometer. {as_they_are}"
        )
    lye = begun.jug_grams * LYE_CAPACITY
    warmer = goal + (goal - jug.start) * lye / (begun.fats * FAT_CAPACITY)
    return (
        f"The lye comes to no more than {jug.start:.0f}{C}: stand it in warm water until it reads {goal:g}{C}, or "
        f"combine it with fats at about {warmer:.0f}{C}. {as_they_are}"
    )


def _advice(recipe: Recipe, jug: Vessel, pot: Vessel) -> str:
    goal, room = recipe.pour_celsius, recipe.room_celsius
    if max(jug.ready, pot.ready) >= LONGEST:
        return f"A room of {room:g}{C} hardly cools them to {goal:g}{C}: stand the vessels in cold water."
    early = round(jug.ready - pot.ready)
    if abs(early) < AT_ONCE:
        when = "Mix the lye as the fats are melted"
    else:
        when = f"Mix the lye about {abs(early)} min {'before' if early > 0 else 'after'} the fats are melted"
    span = f"{jug.likely.low:.0f} to {min(jug.likely.high, LONGEST):.0f}"
    return f"{when}: both then meet at {goal:g}{C}. The jug takes {span} min, so look at a thermometer."


@dataclass(frozen=True)
class Start:
    """Jug and pot when they are hot: °C and grams. `melts` are (share, softens, clear) of the fats that can set."""

    adiabatic: Celsius
    jug: Curve
    jug_grams: float
    pot: Curve
    fats: float
    melts: tuple[tuple[float, float, float], ...]


def start(recipe: Recipe, shelf: Shelf, lines: Sequence[Line]) -> Start:
    """Where cooling begins, from a sheet's lines."""
    room, ice = recipe.room_celsius, grams_of(lines, "ice")
    # What acids and sugars bring of it is in the jug before the lye, like the plain water.
    water = grams_of(lines, "water")
    for x in lines:
        if x.kind == "additive" and x.row is not None:
            dose = recipe.additives[x.row]
            additive = shelf.additives[dose.additive]
            if not dose.into and moment_of(dose, additive) == "before-lye":
                water += x.grams * additive.water
    liquids = [(recipe.liquids[x.row], x) for x in lines if x.kind == "liquid" and x.row is not None]
    jugged = [(u, shelf.liquids[u.liquid], x.grams) for u, x in liquids if u.goes == "jug"]
    milk = [MilkInJug(g, q.water, FROZEN_CELSIUS if u.frozen else room) for u, q, g in jugged]
    stock, flakes = grams_of(lines, "stock"), grams_of(lines, "alkali", "alkali:koh")
    strength = recipe.stock or 0.0
    lye = Lye(
        naoh=grams_of(lines, "alkali", "alkali:naoh") * recipe.naoh_purity,
        koh=flakes * recipe.koh_purity,
        flake_water=flakes * (1 - recipe.koh_purity),
        held=stock * strength * recipe.naoh_purity,
        stock_water=stock * (1 - strength),
    )
    adiabatic, peak = lye_peak(lye, water, ice, room, room, milk)
    jug_grams = water + ice + stock + grams_of(lines, "alkali") + sum(g for _, _, g in jugged)
    fats = grams_of(lines, "fat")
    melts = tuple(
        (row.share, f.melts_from if f.melts_from is not None else f.melts - 5, f.melts)
        for row in recipe.fats
        if (f := shelf.fats[row.fat]).melts is not None
    )
    hard = any(clear > room for _, _, clear in melts)
    hot = max([MELTED, *(clear + 5 for _, _, clear in melts)]) if hard else room
    return Start(adiabatic, jug_curve(peak, room, jug_grams), jug_grams, pot_curve(hot, room, fats), fats, melts)


def plan(recipe: Recipe, shelf: Shelf, lines: Sequence[Line]) -> HeatPlan:
    """Heat of a weighed recipe, from its sheet's lines."""
    begun = start(recipe, shelf, lines)
    room, adiabatic, peak = recipe.room_celsius, begun.adiabatic, begun.jug.start
    hard = begun.pot.start > room
    goal = recipe.pour_celsius
    jug = _vessel(lambda s: jug_curve(peak, room, begun.jug_grams, s), goal)
    pot = _vessel(lambda s: pot_curve(begun.pot.start, room, begun.fats, s), goal)
    cautions = []
    if adiabatic > PLASTIC_LIMIT:
        hot = f"The lye can reach {adiabatic:.0f}{C_BOTH} where it dissolves"
        says = f"{hot}: no glass, no thin plastic, steam; add it slowly."
        cautions.append(Caution(pointer="/water", says=says, danger=True))
    for i, use in enumerate(recipe.liquids):
        q = shelf.liquids[use.liquid]
        if use.goes == "jug" and peak > SCORCHES and (q.kind == "milk" or q.sugars > SUGARY):
            says = (
                f"The jug comes to about {peak:.0f}{C}: {q.name.lower()} browns and smells from {SCORCHES:.0f}{C} on."
            )
            cautions.append(Caution(pointer=f"/liquids/{i}/share", says=says))
    if recipe.koh_share > 0:
        give = f"give or take {8}{WARMER_BY}"
        says = f"How hot potassium lye gets is known only roughly, {give}; it can boil. Add it slowly."
        cautions.append(Caution(pointer="/koh_share", says=says, danger=peak > PLASTIC_LIMIT - KOH_GIVE))
    clear = max((shelf.fats[r.fat].melts or 0) for r in recipe.fats)
    if hard and clear > goal + 2:
        names = [shelf.fats[r.fat].name for r in recipe.fats if (shelf.fats[r.fat].melts or 0) > goal + 2]
        says = f"{listed(names)} can set in the pot below {clear:.0f}{C} and look like trace: keep it stirred."
        cautions.append(Caution(pointer="/pour_celsius", says=says))
    together = None
    if jug.warm_to is None and pot.warm_to is None:
        advice = _advice(recipe, jug, pot)
    else:
        fats_at, lye_at = (min(v.start, goal) for v in (pot, jug))
        together, _ = combined(begun.fats, fats_at, begun.jug_grams, lye_at)
        advice = _cold_advice(recipe, jug, pot, begun, together)
    return HeatPlan(
        adiabatic=adiabatic,
        peak=peak,
        jug=jug,
        pot=pot,
        combined=together,
        advice=advice,
        cautions=tuple(cautions),
    )
