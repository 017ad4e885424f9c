"""What weighing a recipe gives: lines for the scale, the superfat as a range, and figures that follow."""

from collections.abc import Iterable

from . import mould
from .bar import Bar
from .shelf import Moment, Vessel
from .values import Caution, Fault, Grams, Share, Span, Value


class Line(Value):
    """One thing on the scale. `share` is of all fats; `note` says when or why.

    `item` is what the shelf keeps stock of: fat, liquid, additive, fragrance or alkali, a colon, and its id; empty for
    water. `into` is the one portion it goes into; `row` its place among the recipe's additives.
    """

    vessel: Vessel
    key: str
    name: str
    grams: Grams
    share: Share
    note: str = ""
    item: str = ""
    moment: Moment | None = None
    into: str = ""
    row: int | None = None


class Superfat(Value):
    """The fat left over, three ways: as set; with what liquids and dispersing oils bring and unfed acids take; and as
    nature varies.

    `likely` takes the fats' saponification values as independent within their published ranges, and the alkali's
    purity within PURITY_SPREAD; `extreme` puts everything at the same end at once.
    """

    set: Share
    with_liquids: Share
    likely: Span
    extreme: Span


class LimitUse(Value):
    """How much of the allowed fragrance is used, as Σ share ÷ limit: 1 is the limit. Cured soap is stronger."""

    wet: float
    cured: float
    unknown: tuple[str, ...]


class PortionWeight(Value):
    """A portion of the split: its batter, its fragrance, and what goes into it alone.

    `fats` and `lye` (all that stands in the jug) are its raw shares, for those who combine layer by layer.
    """

    name: str
    share: Share
    batter: Grams
    fragrance: Grams
    fats: Grams
    lye: Grams
    own: tuple[Line, ...]


class Dispersed(Value):
    """Oil and water that powders are dispersed in, and the lye concentration with that water in the batter."""

    oil: Grams
    water: Grams
    lye_concentration: Share


class DoseOn(Value):
    """One dose on every basis: grams per kilogram, percent and level teaspoons per pound of fats, and per batter."""

    per_kg: float
    percent: float
    tsp_lb: float
    tsp_lb_batter: float


class Sheet(Value):
    """What to weigh. `factors` are the batter clock's covariates in their own units; `ice` is part of no other line."""

    lines: tuple[Line, ...]
    fats: Grams
    naoh: Grams
    koh: Grams
    water: Grams
    total: Grams
    saponification_value: float
    iodine_value: float
    lye_concentration: Share
    water_per_lye: float
    water_of_fats: Share
    superfat: Superfat
    limit: LimitUse | None
    doses: tuple[DoseOn, ...]
    factors: dict[str, float]
    bar: Bar
    millilitres: float
    fats_per_millilitre: float
    bars: tuple[mould.Bars, ...]
    portions: tuple[PortionWeight, ...]
    dispersed: Dispersed | None


class Weighing(Value):
    """Either a sheet or the faults that stand in its way; cautions come with a sheet. `whole` is all fats' share."""

    whole: Share
    sheet: Sheet | None
    faults: tuple[Fault, ...]
    cautions: tuple[Caution, ...] = ()


def grams_by_key(lines: Iterable[Line]) -> dict[str, float]:
    """Grams of each line, by its key."""
    return {line.key: line.grams for line in lines}
