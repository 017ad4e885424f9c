"""Heat of saponification in the mould: how hot the middle gets, how much of it gels, and whether it overheats.

A half cross-section of the block in small cells, with conduction, the block's own length as a heat sink, and
dα/dt = k(α + .02)(1 - α). Constants are chosen or fitted to common practice, so it is run three times, for a middle,
a fast and a slow batter, and told as odds.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import exp, sqrt

import numpy as np
from scipy.special import expit

from ..batter import Array
from ..recipe import Box, ByMoulds, Cavities, Recipe, Wrap
from ..sheet import Sheet
from ..values import Celsius, Share, Value
from .lye import CAPACITY, LYE

ACROSS, UP = 6, 12
CONDUCTIVITY = 0.30  # W/mK
ESTER_HEAT = 57_000.0  # J/mol, 50 to 80 [from memory]
FASTER = 0.56  # ln of the fast case over the middle one [chosen]
RATE_SD = FASTER / 1.2815515655
# °C in the middle at which a batter as often cracks or rises as not. The model's peaks run high, so these are fitted to
# common practice and not read off a thermometer: a plain loaf in a towel or a warm oven hardly ever does, one with
# honey, milk or beer often, and so does a big block that is wrapped [chosen].
LIMIT, LIMIT_SWEET, LIMIT_SD = 110.0, 92.0, 3.5
THIN, THICKER = 0.07, 200.0  # m of the block's smaller side up to which it sheds heat; °C less per m beyond [chosen]
SWEET = 2.0  # g of sugars and milk solids per kg of fats from which a batter counts as sweet [chosen]
SUGAR_HEAT = 1250.0  # J per g of reducing sugar, at most [chosen]
LOAF_AREA = 52.0  # cm², 8 by 6.5: what a recipe by weight alone is thought to be poured into
# W/m²K of side, bottom, top and end: wood open, wood with a lid, wood in a towel, silicone, all [chosen].
WALLS: dict[Wrap, tuple[float, float, float, float]] = {
    "open": (4.6, 3.3, 8.5, 4.6),
    "covered": (4.6, 3.3, 3.5, 4.6),
    "insulated": (1.6, 1.6, 1.5, 1.6),
    "oven": (4.6, 4.6, 8.5, 4.6),
    "cold": (7.5, 4.7, 8.5, 7.5),
}
OVEN, FRIDGE = 70.0, 4.0  # °C
# dα/dt = k(α + SEED)(1 - α), k per hour at RATE_CELSIUS by Arrhenius' law [chosen, fitted to common practice].
RATE, RATE_CELSIUS, ACTIVATION, SEED = 1.7, 38.0, 43_000.0, 0.02  # 1/h, °C, J/mol, share
GAS = 8.314  # J/molK
POURED_AT = 0.03  # α when it is poured [chosen]
GELS_FROM = 0.3  # α from which it can gel [chosen]
# Soap gels at this °C at this water, so much less for more of it, between these ends [from memory].
GEL_CELSIUS, GEL_WATER, GEL_SLOPE, GEL_ENDS = 70.0, 0.191, 200.0, (50.0, 95.0)
FAT_CAPACITY = 2.0  # J/gK [from memory]
KOH_MILLIGRAMS = 56_105.6  # per mole
MILK_SUGAR = 0.58  # of what is solid in milk but its fat that heats as sugar does [chosen]
OLEIC, SLOW_OLEIC = 0.65, 0.6  # share of oleic acid from which a batter is slow, and how slow [chosen]
QUICK, FAST_QUICK = 0.4, 1.3  # the same of C8 to C14 acids, and how fast [chosen]
SWEET_FASTER = 1.6  # times the fast case's pace where it is sweet [chosen]
SQUARE_OF_ROUND = 0.886  # side of a square as large as a circle of diameter 1, √π/2
LOAF, CAVITY = (0.08, 0.065), 0.03  # m: a usual loaf's width and height, a single mould's depth [chosen]
STEPS = ((180.0, 6.0), (600.0, 18.0))  # s of a step, until so many hours


class MouldHeat(Value):
    """Peak temperatures of a slow, a middle and a fast batter; the share of the section that gels in the middle one.

    `gels` are the odds that it gels through, which many want; `overheats` that it cracks or rises out of the mould.
    """

    slow: Celsius
    middle: Celsius
    fast: Celsius
    gelled: Share
    gels: Share
    gel: str
    limit: Celsius
    overheats: Share


@dataclass(frozen=True)
class Block:
    """Width, height and length in metres."""

    width: float
    height: float
    length: float


def block_of(recipe: Recipe, sheet: Sheet) -> Block:
    """The largest block of a recipe; a loaf where it is sized by weight."""
    if not isinstance(recipe.size, ByMoulds):
        return Block(*LOAF, max(sheet.millilitres / LOAF_AREA, 4.0) / 100)
    blocks = []
    for m in recipe.size.moulds:
        match m:
            case Box():
                blocks.append(Block(m.width / 100, m.fill / 100, m.length / 100))
            case Cavities():
                side = sqrt(m.millilitres / (100 * CAVITY))
                blocks.append(Block(side / 100, CAVITY, side / 100))
            case _:
                side = SQUARE_OF_ROUND * m.diameter / 100
                blocks.append(Block(side, m.fill / 100, side))
    return max(blocks, key=lambda b: min(b.width, b.height, b.length))


def _one_way(
    cells: int, size: float, diffusivity: float, capacity: float, near: float, far: float
) -> tuple[Array, Array]:
    """Conduction matrix [1/s] along one axis, and how strongly each cell feels the surroundings."""
    d = size / cells
    a = np.zeros((cells, cells))
    flow = diffusivity / d**2
    for i in range(cells - 1):
        a[i, i] -= flow
        a[i, i + 1] += flow
        a[i + 1, i + 1] -= flow
        a[i + 1, i] += flow
    loss = np.zeros(cells)
    for i, u in ((0, near), (cells - 1, far)):
        if u > 0:
            loss[i] += 1 / (d / (2 * CONDUCTIVITY) + 1 / u) / (capacity * d)
    return a - np.diag(loss), loss


def _surroundings(wrap: Wrap, room: float, hours: float) -> float:
    if wrap == "oven":
        return room + (OVEN - room) * exp(-hours / 2)
    return FRIDGE if wrap == "cold" else room


@dataclass(frozen=True)
class Batter:
    """What the block is made of: J/m³K, K of rise when all is saponified, the gel line [°C], and sugar's own rise."""

    capacity: float
    rise: float
    gels_at: Celsius
    sugar_rise: float


def batter_of(sheet: Sheet) -> Batter:
    """Heat capacity, adiabatic rise and gel line of a weighed recipe."""
    lye_per_fat = (sheet.total - sheet.fats) / sheet.fats
    cp_lye = float(np.interp(sheet.lye_concentration, LYE, CAPACITY))
    cp = (FAT_CAPACITY + lye_per_fat * cp_lye) / (1 + lye_per_fat)  # J/gK
    moles = sheet.saponification_value / KOH_MILLIGRAMS  # per g of fats
    heat = ESTER_HEAT * moles / (1 + lye_per_fat)  # J per g batter
    sugar = SUGAR_HEAT * (sheet.factors["sugar"] + MILK_SUGAR * sheet.factors["milk"]) / 1000 / (1 + lye_per_fat)
    density = sheet.total / sheet.millilitres  # g/mL
    water = sheet.water / sheet.total
    gels = float(np.clip(GEL_CELSIUS - GEL_SLOPE * (water - GEL_WATER), *GEL_ENDS))
    return Batter(density * 1e6 * cp, heat / cp, gels, sugar / cp)


@dataclass(frozen=True)
class Cases:
    """What comes of a block at several paces: the peak [°C] of each, and how far above the gel line each cell came
    [K] (cases × ACROSS × UP, from the middle outwards and from the bottom up)."""

    peaks: Array
    margins: Array

    @property
    def shares(self) -> Array:
        """Share of the section that gelled, by case."""
        return np.asarray((self.margins >= 0).mean(axis=(1, 2)))


SHORT = 50.0  # K below the gel line per share of soap that is missing before it can gel [chosen]


def cases(
    block: Block, batter: Batter, wraps: Sequence[Wrap], poured: Celsius, room: Celsius, paces: Array, sweet: Array
) -> list[Cases]:
    """A block in each way to rest it, for a batter that is `paces` times as fast as the reference; `sweet` ones heat by
    their sugar. The same block is asked for by learning, hazards and rest, and solved once."""
    key = tuple(paces.tolist()), tuple(sweet.tolist())
    return list(_solved(block, batter, tuple(wraps), poured, room, *key))


@lru_cache(maxsize=512)
def _solved(
    block: Block,
    batter: Batter,
    wraps: tuple[Wrap, ...],
    poured: Celsius,
    room: Celsius,
    as_fast: tuple[float, ...],
    by_sugar: tuple[float, ...],
) -> tuple[Cases, ...]:
    """All solved side by side: (ways × cells × paces)."""
    paces, sweet = np.array(as_fast), np.array(by_sugar)
    ways = [_conduction(block, batter, wrap) for wrap in wraps]
    a, loss = np.stack([w[0] for w in ways]), np.stack([w[1] for w in ways])[:, :, None]
    shape = (len(ways), ACROSS * UP, len(paces))
    celsius, done = np.full(shape, poured), np.full(shape, POURED_AT)
    margins, peaks, clock = np.full(shape, -np.inf), np.full((len(ways), len(paces)), poured), 0.0
    rise = batter.rise + batter.sugar_rise * sweet
    for dt, until in STEPS:
        solve = np.linalg.inv(np.eye(ACROSS * UP) - dt * a)
        while clock < until - 1e-9:
            colder = 1 / (celsius + 273.15) - 1 / (RATE_CELSIUS + 273.15)
            k = paces * RATE * np.exp(-ACTIVATION / GAS * colder)
            e = np.exp(np.minimum((1 + SEED) * k * dt / 3600, 50))
            x = (done + SEED) * e
            after = (x - SEED * (1 - done)) / (x + 1 - done)
            around = np.array([_surroundings(wrap, room, clock) for wrap in wraps])[:, None, None]
            celsius = solve @ (celsius + rise * (after - done) + dt * loss * around)
            done = after
            short = SHORT * np.maximum(GELS_FROM - done, 0.0)
            margins = np.maximum(margins, celsius - batter.gels_at - short - (short > 0))
            peaks = np.maximum(peaks, celsius.max(axis=1))
            clock += dt / 3600
    for kept in (peaks, margins):
        kept.flags.writeable = False  # who asks next gets the same
    return tuple(Cases(p, m.T.reshape(len(paces), ACROSS, UP)) for p, m in zip(peaks, margins, strict=True))


def _conduction(block: Block, batter: Batter, wrap: Wrap) -> tuple[Array, Array]:
    """Conduction between the cells of a half section [1/s], and how strongly each feels the surroundings."""
    from scipy.optimize import brentq  # slow to import

    side, bottom, top, end = WALLS[wrap]
    diffusivity = CONDUCTIVITY / batter.capacity
    across, loss_x = _one_way(ACROSS, block.width / 2, diffusivity, batter.capacity, 0.0, side)
    up, loss_y = _one_way(UP, block.height, diffusivity, batter.capacity, bottom, top)
    half = block.length / 2
    mu = brentq(lambda m: m * np.tan(m) - end * half / CONDUCTIVITY, 1e-6, np.pi / 2 - 1e-6)
    sink = diffusivity * (mu / half) ** 2
    a = np.kron(across, np.eye(UP)) + np.kron(np.eye(ACROSS), up) - sink * np.eye(ACROSS * UP)
    return a, np.kron(loss_x, np.ones(UP)) + np.kron(np.ones(ACROSS), loss_y) + sink


def run(
    block: Block, batter: Batter, wrap: Wrap, poured: Celsius, room: Celsius, pace: float, sugar: bool
) -> tuple[float, float]:
    """Peak temperature [°C] and gelled share of the section, for a batter `pace` times as fast as the reference."""
    found = cases(block, batter, [wrap], poured, room, np.array([pace]), np.array([float(sugar)]))[0]
    return float(found.peaks[0]), float(found.shares[0])


def three_cases(recipe: Recipe, sheet: Sheet, wraps: Sequence[Wrap], pace: float = 1.0) -> list[Cases]:
    """A slow, a middle and a fast batter of a recipe, in each way to rest; `pace` is how much faster than usual it is
    thought to be."""
    strata = sheet.bar.strata
    own = pace * (SLOW_OLEIC if strata["oleic"] > OLEIC else FAST_QUICK if strata["quick"] > QUICK else 1.0)
    sweet = is_sweet(sheet)
    paces = own * np.exp(np.array([-FASTER, 0.0, FASTER])) * np.array([1.0, 1.0, SWEET_FASTER if sweet else 1.0])
    at = (recipe.pour_celsius, recipe.room_celsius)
    return cases(block_of(recipe, sheet), batter_of(sheet), wraps, *at, paces, np.array([0.0, 0.0, float(sweet)]))


def is_sweet(sheet: Sheet) -> bool:
    """Whether sugars or milk may overheat it."""
    return sheet.factors["sugar"] + sheet.factors["milk"] > SWEET


def overheating(recipe: Recipe, sheet: Sheet, peaks: Array) -> tuple[Celsius, Share]:
    """The limit of its block, and the odds that a slow, middle and fast batter's peaks crack it or lift it out."""
    block = block_of(recipe, sheet)
    limit = LIMIT_SWEET if is_sweet(sheet) else LIMIT
    limit -= THICKER * max(min(block.width, block.height, block.length) - THIN, 0.0)
    return limit, over_mean(expit((over_rates(peaks) - limit) / LIMIT_SD))


def mould_heat(recipe: Recipe, sheet: Sheet, pace: float = 1.0) -> MouldHeat:
    """Peaks, gel and the odds of overheating; `pace` is how much faster than usual its fragrance makes it."""
    found = three_cases(recipe, sheet, [recipe.design.wrap], pace)[0]
    shares, peaks = found.shares, found.peaks
    limit, overheats = overheating(recipe, sheet, peaks)
    gel = "no gel" if shares[1] < RING[0] else "full gel" if shares[1] > RING[1] else "a partly gelled ring"
    return MouldHeat(
        slow=float(peaks[0]),
        middle=float(peaks[1]),
        fast=float(peaks[2]),
        gelled=float(shares[1]),
        gels=over_mean(np.clip((over_rates(shares) - RING[0]) / (RING[1] - RING[0]), 0.0, 1.0) ** 4),
        gel=gel,
        limit=limit,
        overheats=overheats,
    )


RING = (0.03, 0.9)  # of the section gelled: below no gel, above full gel, between the feared ring
RATES = np.linspace(-3 * RATE_SD, 3 * RATE_SD, 121)
WEIGHTS = np.exp(-0.5 * (RATES / RATE_SD) ** 2) / np.exp(-0.5 * (RATES / RATE_SD) ** 2).sum()


def over_rates(found: Array, rates: Array = RATES) -> Array:
    """A figure of the slow, middle and fast case (first axis) at every ln-rate (last axis): joined by straight lines,
    carried on beyond."""
    at = np.expand_dims(found, -1)
    slope = np.where(rates < 0, at[1] - at[0], at[2] - at[1]) / FASTER
    return np.asarray(at[1] + slope * rates)


def over_mean(values: Array) -> float:
    """Mean over the rates a batter may have, of a figure at each of RATES."""
    return float(values @ WEIGHTS)
