"""What weighing a recipe gives: lines for the scale, the superfat as a range, and figures that follow."""

from collections.abc import Iterable
from typing import Literal

from pydantic import Field

from ..recipe import mould
from ..shelf import Moment, Vessel
from ..text import Text
from ..values import Caution, Fault, Grams, Share, Span, Value
from .bar import Bar

UNEVEN = 0.01  # of superfat between a portion and the whole that is worth telling [chosen]


LineKind = Literal["fat", "water", "ice", "stock", "alkali", "liquid", "additive", "carrier", "fragrance"]


class Line(Value):
    """One thing on the scale. `share` is of all fats; `note` says when or why.

    `grams` are exact, `reading` is what the maker's scale shows of them and `shown` that in print, `also` the same in
    grams where a slip is dangerous and the scale shows something else; lye is never
    rounded up. `kind` tells lines apart, whatever things are called; `row` is its place among the recipe's own of
    that kind. `item` is what the shelf keeps stock of: fat, liquid, additive, fragrance or alkali, a colon, and its
    id; empty for water and stock lye. `into` is the one portion it goes into, `lot` names the lots in use that it is
    taken from, where they have names.
    """

    vessel: Vessel
    kind: LineKind
    key: str
    name: str
    grams: Grams
    share: Share
    reading: Grams
    shown: Text
    also: Text = Text.NONE
    spoons: str = ""
    note: Text = Text.NONE
    item: str = ""
    lot: str = ""
    moment: Moment | None = None
    into: str = ""
    row: int | None = None


class Superfat(Value):
    """The fat left over, three ways: as set; of all that takes lye, with what liquids and dispersing oils bring; and as
    nature varies that.

    `likely` takes the saponification values as independent within their published ranges, and the alkali's purity
    within PURITY_SPREAD; `extreme` puts everything at the same end at once. `as_weighed` is what the scales make of it:
    every line read anywhere within its step.
    """

    set: Share
    with_liquids: Share
    likely: Span
    extreme: Span
    as_weighed: Span


class LimitUse(Value):
    """How much of the allowed fragrance is used, as Σ share ÷ limit: 1 is the limit. Cured soap is stronger.

    It is told of the strongest `portion`; `unknown` are fragrances without a known limit.
    """

    wet: float
    cured: float
    portion: str
    unknown: tuple[str, ...]


class PortionShown(Value):
    """A portion's weights as the maker's scales show them."""

    batter: Text
    fragrance: Text
    from_pot: Text
    from_jug: Text
    stirred: Text


class PortionWeight(Value):
    """A portion of the split: its batter, its fragrance, and what goes into it alone.

    Layer by layer it is combined from its raw share of *all* that stands in the pot (`from_pot`) and in the jug
    (`from_jug`), and gets `stirred` of what is stirred into the whole batter. `superfat` is its own, `likely` as nature
    varies it; `uneven` marks one that differs from the whole batter's by more than UNEVEN, `lye_heavy` one that may
    likely be so where the whole is not. `limit_use` is how many times what is allowed its cured bars hold of fragrance.
    `factors` are the batter clock's covariates once all is in it that is stirred into it alone.
    """

    name: str
    share: Share
    batter: Grams
    fragrance: Grams
    from_pot: Grams
    from_jug: Grams
    stirred: Grams
    shown: PortionShown
    superfat: Share
    likely: Span
    uneven: bool
    lye_heavy: bool
    limit_use: float
    own: tuple[Line, ...]
    factors: dict[str, float] = Field(default_factory=dict)  # a sheet kept by an older program has none


class Dispersed(Value):
    """Oil and water that powders are dispersed in, and the lye concentration with that water in the batter."""

    oil: Grams
    water: Grams
    lye_concentration: Share


class DoseOn(Value):
    """One dose on every basis: grams per kilogram, percent and level teaspoons per pound of fats, and per batter.
    `shown` is what all of it weighs, `spoons` the same in level teaspoons; `told` is what of it goes where, and in
    what it is dispersed."""

    per_kg: float
    percent: float
    tsp_lb: float
    tsp_lb_batter: float
    shown: Text = Text.NONE
    spoons: str = ""
    told: Text = Text.NONE


class Sheet(Value):
    """What to weigh. `factors` are the batter clock's covariates in their own units, of all of it; `combined` of what
    stands in jug and pot as they meet, `shared` of the batter before anything goes into one portion alone. `ice` is
    part of no other line. `naoh` and `koh` are as weighed, impurity included. `fats_shown` and `total_shown` are
    sums of what the scales show, `total` the exact one: all lines together.
    """

    lines: tuple[Line, ...]
    fats: Grams
    naoh: Grams
    koh: Grams
    water: Grams
    total: Grams
    fats_shown: Text
    total_shown: Text
    saponification_value: float
    iodine_value: float
    lye_concentration: Share
    water_per_lye: float
    water_of_fats: Share
    superfat: Superfat
    limit: LimitUse | None
    doses: tuple[DoseOn, ...]
    factors: dict[str, float]
    combined: dict[str, float]
    shared: dict[str, float]
    bar: Bar
    millilitres: float
    fats_per_millilitre: float
    bars: tuple[mould.Bars, ...]
    portions: tuple[PortionWeight, ...]
    dispersed: Dispersed | None


class Weighing(Value):
    """Either a sheet or the faults that stand in its way; cautions come with a sheet. `whole` is all fats' share.

    `fat_grams` are what the rows weigh in a recipe by weight, also while nothing else can be weighed yet. `sound` are
    the lines that stand whatever is wrong: fats, liquids and lye where only the design is at fault.
    """

    whole: Share
    sheet: Sheet | None
    faults: tuple[Fault, ...]
    cautions: tuple[Caution, ...] = ()
    fat_grams: tuple[Grams, ...] = ()
    sound: tuple[Line, ...] = ()


def grams_of(lines: Iterable[Line], kind: LineKind, item: str = "") -> Grams:
    """Grams of all lines of a kind, or of one item among them."""
    return sum(x.grams for x in lines if x.kind == kind and item in ("", x.item))
