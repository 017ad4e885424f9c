"""How hot the lye gets, how jug and pot cool, and when both are ready to meet.

Heat of solution of NaOH: shape from Olsson, Jernqvist & Aly 1997 as carried by an open package (not checked against
the paper), anchored to -44.3 kJ/mol at infinite dilution; heat capacity from the same tables. Practical factors,
cooling constants and their spreads are fitted to common practice [chosen] and told as ranges.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import exp

import numpy as np

from .order import moment_of
from .recipe import Recipe
from .shelf import Shelf
from .values import Caution, Celsius, Minutes, Span, Value

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


def _table(values: Sequence[float], w: float) -> float:
    return float(np.interp(w, LYE, values))


def milk_content(celsius: Celsius, water: float) -> float:
    """Heat content [J/g] of milk with this water fraction, liquid at 0 °C being 0; frozen below -0.52 °C."""
    liquid = WATER_CAPACITY * water + SOLIDS_CAPACITY * (1 - water)
    if celsius > -0.52:
        return liquid * celsius
    ice = (water - 0.013) * (1 - 0.52 / abs(celsius))
    return -FUSION * ice + (liquid - 2.1 * ice) * celsius


@dataclass(frozen=True)
class MilkInJug:
    """Milk or another watery liquid: grams, its water fraction, and its temperature."""

    grams: float
    water: float
    celsius: float


def lye_peak(
    naoh: float, water: float, ice: float, start: Celsius, room: Celsius, milk: Sequence[MilkInJug] = ()
) -> tuple[Celsius, Celsius]:
    """Adiabatic and practical peak [°C] of lye made in a plastic jug.

    `naoh`, `water` (liquid) and `ice` in grams; `start` is the water's temperature, `room` the alkali's. The lye's
    strength counts all water, that in the milk included; what else is in the milk only takes up heat.
    """
    lye = naoh + water + ice + sum(m.grams * m.water for m in milk)
    w = naoh / lye
    capacity = lye * _table(CAPACITY, w) + SOLIDS_CAPACITY * sum(m.grams * (1 - m.water) for m in milk)
    heat = water * WATER_CAPACITY * (start - 25) + naoh * NAOH_CAPACITY * (room - 25) + naoh * _table(HEAT, w)
    heat += ice * (-FUSION + ICE_CAPACITY * FROZEN_CELSIUS - WATER_CAPACITY * 25)
    heat += sum(m.grams * (milk_content(m.celsius, m.water) - milk_content(25, m.water)) for m in milk)
    adiabatic = 25 + heat / capacity
    cold = ice > 0 or any(m.celsius < 0 for m in milk)
    part = capacity / 1000 / (capacity / 1000 + JUG_KJ) * (STAYS_WITH_ICE if cold else STAYS)
    begun = start if water > 0 or not milk else max(min(m.celsius for m in milk), 0.0)
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
    capacity = fats * FAT_CAPACITY + lye * LYE_CAPACITY
    heat = fats * FAT_CAPACITY * fats_at + lye * LYE_CAPACITY * lye_at
    before = solid_share(fats_at, melts)
    low, high = min(fats_at, lye_at), max(fats_at, lye_at)
    for _ in range(50):
        middle = (low + high) / 2
        melted = fats * MELTING_HEAT * (before - solid_share(middle, melts))
        low, high = (middle, high) if capacity * middle + melted < heat else (low, middle)
    return high, solid_share(high, melts)


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
        return self.room + above * (1 + self.n * self.k * minutes * (above / 25) ** self.n) ** (-1 / self.n)

    def until(self, celsius: float) -> float:
        """Minutes until it has fallen to `celsius`; 0 when it is there, infinite when it never gets there."""
        above, goal = self.start - self.room, celsius - self.room
        if above <= goal:
            return 0.0
        if goal <= 0:
            return float("inf")
        return ((above / goal) ** self.n - 1) / (self.n * self.k * (above / 25) ** self.n)


def pot_curve(start: Celsius, room: Celsius, grams: float, slower: float = 0.0) -> Curve:
    """The fat pot; `slower` shifts ln k down."""
    return Curve(start, room, 0.0143 * (grams / 900) ** (-1 / 3) * exp(-slower), 0.15)


def jug_curve(start: Celsius, room: Celsius, grams: float, slower: float = 0.0) -> Curve:
    """The lye jug."""
    return Curve(start, room, 0.0115 * (grams / 420) ** (-1 / 3) * exp(-slower), 0.55)


class Vessel(Value):
    """When a vessel falls to the pour temperature, counted from when it was hot: middle and likely span."""

    start: Celsius
    ready: Minutes
    likely: Span


class HeatPlan(Value):
    """The lye's peak, when jug and pot are ready, and what to do about it."""

    adiabatic: Celsius
    peak: Celsius
    jug: Vessel
    pot: Vessel
    advice: str
    cautions: tuple[Caution, ...]


def _vessel(curve: Callable[[float], Curve], goal: float) -> Vessel:
    z = 1.2815515655 * COOLING_SD
    middle, quick, slow = (min(curve(s).until(goal), LONGEST) for s in (0.0, -z, z))
    return Vessel(start=curve(0.0).start, ready=middle, likely=Span(low=quick, high=slow))


def _advice(recipe: Recipe, jug: Vessel, pot: Vessel) -> str:
    goal, room = recipe.pour_celsius, recipe.room_celsius
    if max(jug.ready, pot.ready) >= LONGEST:
        return f"A room of {room:g} °C hardly cools them to {goal:g} °C: stand the vessels in cold water."
    early = round(jug.ready - pot.ready)
    if abs(early) < AT_ONCE:
        when = "Mix the lye as the fats are melted"
    else:
        when = f"Mix the lye about {abs(early)} min {'before' if early > 0 else 'after'} the fats are melted"
    span = f"{jug.likely.low:.0f} to {min(jug.likely.high, LONGEST):.0f}"
    return f"{when}: both then meet at {goal:g} °C. The jug takes {span} min, so look at a thermometer."


@dataclass(frozen=True)
class Start:
    """Jug and pot when they are hot: °C and grams. `melts` are (share, softens, clear) of the fats that can set."""

    adiabatic: Celsius
    jug: Curve
    jug_grams: float
    pot: Curve
    fats: float
    melts: tuple[tuple[float, float, float], ...]


def start(recipe: Recipe, shelf: Shelf, grams: dict[str, float]) -> Start:
    """Where cooling begins; `grams` by the sheet's line keys. Potassium lye is taken as sodium lye, roughly."""
    alkali = grams.get("naoh", 0.0) + grams.get("koh", 0.0)
    stock = grams.get("stock", 0.0)
    room, ice = recipe.room_celsius, grams.get("ice", 0.0)
    # What acids and sugars bring of it is in the jug before the lye, like the plain water.
    water = grams.get("water", 0.0) + sum(
        grams.get(d.additive, 0.0) * shelf.additives[d.additive].water
        for d in recipe.additives
        if not d.into and moment_of(d, shelf.additives[d.additive]) == "before-lye"
    )
    jugged = [
        (u, shelf.liquids[u.liquid], grams.get(f"{u.liquid}-jug", 0.0)) for u in recipe.liquids if u.goes == "jug"
    ]
    if stock and recipe.stock:
        # Thinning a stock gives the difference of the two heats of solution.
        held = stock * recipe.stock
        w = held / (stock + water)
        rise = held * (_table(HEAT, w) - _table(HEAT, recipe.stock)) / ((stock + water) * _table(CAPACITY, w))
        adiabatic = peak = room + rise
    else:
        milk = [MilkInJug(g, q.water, FROZEN_CELSIUS if u.frozen else room) for u, q, g in jugged]
        adiabatic, peak = lye_peak(alkali, water, ice, room, room, milk)
    jug_grams = water + sum(grams.get(k, 0.0) for k in ("naoh", "koh", "ice", "stock")) + sum(g for _, _, g in jugged)
    fats = sum(grams.get(r.fat, 0.0) for r in recipe.fats)
    rows = [(r.share, shelf.fats[r.fat]) for r in recipe.fats]
    melts = tuple(
        (share, f.melts_from if f.melts_from is not None else f.melts - 5, f.melts)
        for share, f in rows
        if f.melts is not None
    )
    hard = any(clear > room for _, _, clear in melts)
    hot = max([MELTED, *(clear + 5 for _, _, clear in melts)]) if hard else room
    return Start(adiabatic, jug_curve(peak, room, jug_grams), jug_grams, pot_curve(hot, room, fats), fats, melts)


def plan(recipe: Recipe, shelf: Shelf, grams: dict[str, float]) -> HeatPlan:
    """Heat of a weighed recipe; `grams` by the sheet's line keys."""
    begun = start(recipe, shelf, grams)
    room, adiabatic, peak = recipe.room_celsius, begun.adiabatic, begun.jug.start
    hard = begun.pot.start > room
    jug = _vessel(lambda s: jug_curve(peak, room, begun.jug_grams, s), recipe.pour_celsius)
    pot = _vessel(lambda s: pot_curve(begun.pot.start, room, begun.fats, s), recipe.pour_celsius)
    cautions = []
    if adiabatic > PLASTIC_LIMIT:
        says = (
            f"The lye can reach {adiabatic:.0f} °C where it dissolves: no glass, no thin plastic, steam; add it slowly."
        )
        cautions.append(Caution(pointer="/water", says=says, danger=True))
    clear = max((shelf.fats[r.fat].melts or 0) for r in recipe.fats)
    if hard and clear > recipe.pour_celsius + 2:
        names = [
            shelf.fats[r.fat].name for r in recipe.fats if (shelf.fats[r.fat].melts or 0) > recipe.pour_celsius + 2
        ]
        says = (
            f"{' and '.join(names[:3])} can set in the pot below {clear:.0f} °C and look like trace: keep it stirred."
        )
        cautions.append(Caution(pointer="/pour_celsius", says=says))
    return HeatPlan(
        adiabatic=adiabatic,
        peak=peak,
        jug=jug,
        pot=pot,
        advice=_advice(recipe, jug, pot),
        cautions=tuple(cautions),
    )
