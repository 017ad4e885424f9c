"""A recipe: what the maker decides. Lenient in shape, so a half-typed draft can be kept; `weigh` judges it."""

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, model_validator

from ..face import Tint
from ..shelf import Moment, TechniqueId
from ..values import Celsius, Grams, Id, Minutes, Name, Share, Value
from .lift import lifted, one_or_more
from .steps import Step


class FatShare(Value):
    """A fat of the recipe; `sv` is the saponification value [mg KOH/g] of the lot in hand, where its certificate states
    one: the lye follows it, instead of the table."""

    fat: Id
    share: Share
    sv: float | None = None


class ByConcentration(Value):
    """Alkali as a share of alkali and water together."""

    by: Literal["concentration"] = "concentration"
    share: Share


class ByRatio(Value):
    """Parts of water to one part of alkali, by weight."""

    by: Literal["ratio"] = "ratio"
    parts: float


class ByFats(Value):
    """Water as a share of the fats' weight."""

    by: Literal["fats"] = "fats"
    share: Share


WaterRule = Annotated[ByConcentration | ByRatio | ByFats, Field(discriminator="by")]


class LiquidUse(Value):
    """A liquid in place of part of the water. `share` is its part of all liquid, by weight."""

    liquid: Id
    share: Share
    goes: Literal["jug", "pot", "stir"] = "jug"
    frozen: bool = False


LyeStands = Literal["warm", "room", "ahead"]
LYE_STANDS: dict[LyeStands, str] = {
    "warm": "as warm as the fats",
    "room": "cooled to the room",
    "ahead": "made the day before",
}
Words = Annotated[str, Field(max_length=160)]
Wrap = Literal["open", "covered", "insulated", "oven", "cold"]
Basis = Literal["g/kg", "percent", "tsp/lb", "tsp/lb batter"]


class Carrier(Value):
    """What a powder is dispersed in first: `parts` by weight to one of it, of a fat, or of water if none is named."""

    fat: Id | None = None
    parts: float


class Dose(Value):
    """An additive by weight of fats: grams per kilogram, percent, or level teaspoons per pound.

    `tsp/lb batter` counts fats, lye and liquids. `into` some portions only, the dose is on the share of each; with none
    named it goes into all of the batter. `moment` moves it from where it usually goes in. `called` tells two of a kind
    apart, such as two micas.
    """

    additive: Id
    amount: float
    basis: Basis = "g/kg"
    moment: Moment | None = None
    into: Annotated[tuple[Name, ...], BeforeValidator(one_or_more), Field(max_length=24)] = ()
    carrier: Carrier | None = None
    called: Name = ""

    def reaches(self, portion: str) -> bool:
        """Whether something of it goes into that portion."""
        return not self.into or portion in self.into

    def moved(self, names: Mapping[str, str | None]) -> "Dose":
        """The same with other names of its portions, each once; one that goes to None is left out."""
        found = (names.get(n, n) for n in self.into)
        return self.model_copy(update={"into": tuple(dict.fromkeys(n for n in found if n is not None))})


class Scent(Value):
    """A fragrance; `load` is grams per gram of the fats in the portions it goes into."""

    fragrance: Id
    load: Share


class ByWeight(Value):
    kind: Literal["fats"] = "fats"
    grams: Grams


class Box(Value):
    """A loaf or slab mould, inside measures in centimetres; `cut` is the bar's thickness in millimetres, 0 uncut.

    `across` is the second cut of a slab, millimetres of its width (0: bars as long as it is wide); `trim` millimetres
    cut off at each end before the bars. `planks` are cut level through its height first (1: none), and `slant` is how
    far the wires turn from square across it, in degrees seen from above.
    """

    shape: Literal["box"] = "box"
    count: int = 1
    length: float
    width: float
    fill: float
    cut: float = 0.0
    across: float = 0.0
    trim: float = 0.0
    planks: int = 1
    slant: float = 0.0


class Tube(Value):
    """A round mould standing up, in centimetres; `cut` in millimetres along its height, 0 uncut."""

    shape: Literal["tube"] = "tube"
    count: int = 1
    diameter: float
    fill: float
    cut: float = 0.0


class Cavities(Value):
    """Moulds of single bars, or any vessel of known volume in millilitres."""

    shape: Literal["cavities"] = "cavities"
    count: int = 6
    millilitres: float


Mould = Annotated[Box | Tube | Cavities, Field(discriminator="shape")]


class ByMoulds(Value):
    """Fats solved from the moulds; `spare` is made over and above, as a share."""

    kind: Literal["moulds"] = "moulds"
    moulds: tuple[Mould, ...] = Field(max_length=24)
    spare: Share = 0.0


Size = Annotated[ByWeight | ByMoulds, Field(discriminator="kind")]


class Embed(Value):
    """Pieces of soap made before that are set into the batter: `count` in each mould, of `grams` each (0:
    not said yet). `of` says from which batch. What they take up of a mould is not poured."""

    name: Name
    count: int = 1
    grams: Grams = 0.0
    of: Words = ""


MOST_SCENTS = 6  # fragrances of one recipe
MOST_SCENT = 3.0  # times the full dose that may be planned for one portion [chosen]


class Portion(Value):
    """A part of the batter. `of` names the portion it is taken from, else it comes from its `batch` ("" is the pot).

    `scent` is its share of the full dose: 0 none, 1 full, less or more; `coloured` how its colour is worked in.
    `tint` is how its soap shall look (None: as its colourant does). Of several portions the one that is the `rest`
    takes what the others leave: it stays in the pot. What shall stay `white` is told what would break it.
    """

    name: Name
    share: Share
    scent: Share = 1.0
    colour: Name = ""
    coloured: Literal["hand", "stick", "not"] = "hand"
    of: Name = ""
    batch: Name = ""
    tint: Tint | None = None
    rest: bool = False
    white: bool = False

    @property
    def scented(self) -> bool:
        """Whether any fragrance goes in."""
        return self.scent > 0


class Topping(Value):
    """What is set on the top: so many a bar, or so many `grams` of what is not counted, each piece so many millimetres
    wide and standing so high; on which `bars`, where on each, and how it is laid and pressed in."""

    name: Name
    a_bar: int = Field(default=1, ge=1, le=12)
    grams: Grams = Field(default=0.0, ge=0, le=1000)
    bars: Literal["all", "left", "right", "alternate"] = "all"
    row: Literal["", "front", "middle", "back"] = ""
    laid: Literal["side", "down", "scattered"] = "side"
    pressed: Literal["set", "pressed", "deep", "dusted"] = "set"
    tint: Tint = "#8e2d44"
    wide: float = Field(default=8.0, gt=0, le=200)
    high: float = Field(default=4.0, ge=0, le=100)


class StandBy(Value):
    """A technique stood ready under a step, by the step's key, with the words that tell when it is due."""

    step: Annotated[str, Field(max_length=200)]
    technique: TechniqueId
    trigger: Annotated[str, Field(max_length=500)] = ""


MOST_PORTIONS = 24
MOST_STEPS = 120


class Design(Value):
    """Portions, and steps on the batter's clock: those of a technique, or the maker's own `steps`.

    In `layers` every portion is a batch of its own, combined by itself from its raw share of fats and lye; else a
    portion that names a `batch` is part of that. `scent_at` is when the fragrance goes in: into the fats (proven ones),
    the whole pot at emulsion, each portion after the split, or each just before it is poured; and `scent_by` by hand or
    with the stick.
    `colour_minutes` are for all colouring and scenting together. `wrap` is how the mould rests. `pot` is what the empty
    pot weighs and `residue` what is left in each cup, in grams; `tilt` is how the mould leans while it is filled, in
    degrees, and `toppings` stand on the top. `ready` are the fall-backs the maker stood ready.
    """

    portions: tuple[Portion, ...] = Field(max_length=MOST_PORTIONS)
    technique: TechniqueId
    steps: tuple[Step, ...] = Field(default=(), max_length=MOST_STEPS)
    split_minutes: Minutes = 1.0
    colour_minutes: Minutes = 2.0
    batching: Literal["whole", "layers"] = "whole"
    scent_at: Literal["fats", "emulsion", "portions", "pour"] = "portions"
    scent_by: Literal["hand", "stick"] = "hand"
    wrap: Wrap = "covered"
    pot: Grams = 0.0
    residue: Grams = 0.0
    tilt: float = 0.0
    toppings: tuple[Topping, ...] = Field(default=(), max_length=12)
    ready: tuple[StandBy, ...] = Field(default=(), max_length=24)

    @property
    def scents_apart(self) -> bool:
        """Whether the fragrance goes into the portions, each its own share of it."""
        return self.scent_at in ("portions", "pour")

    def batch_of(self, portion: Portion) -> str:
        """Name of the batch a portion is of; "" is the pot."""
        return portion.name if self.batching == "layers" and len(self.portions) > 1 else portion.batch

    def alone(self, portion: Portion) -> bool:
        """Whether a portion is a batch of its own, combined from its raw share of fats and lye."""
        of = [self.batch_of(p) for p in self.portions]
        return len(set(of)) > 1 and of.count(self.batch_of(portion)) == 1

    @property
    def batches(self) -> tuple[str, ...]:
        """Batches in the order in which they are combined: the pot first, then as the portions come."""
        named = list(dict.fromkeys(self.batch_of(p) for p in self.portions))
        return tuple(sorted(named, key=bool)) or ("",)


PLAIN = "plain"  # the technique of one portion
ONE_PORTION = Design(portions=(Portion(name="Batter", share=1.0),), technique=PLAIN)


MOST_PLANNED = 60  # days on which a recipe is planned to be poured


class Brief(Value):
    """What is wanted before there is a recipe: words for scent, palette and top, `whom` it is for, how many bars, the
    days (ISO) it must be ready on and is sold on. `build_days` are days of one build,
    `embeds_days` how long before the pour embeds are made; on `days` (ISO) it is planned to be poured, each pour once;
    pours begun before `planned`, the ISO moment at which that was last changed, are none of them."""

    scent: Words = ""
    palette: Words = ""
    top: Words = ""
    whom: Words = ""
    bars: int | None = Field(default=None, ge=1, le=100_000)
    ready: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")] | None = None
    sale: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")] | None = None
    build_days: int = Field(default=1, ge=1, le=30)
    embeds_days: int = Field(default=0, ge=0, le=365)
    days: tuple[Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")], ...] = Field(default=(), max_length=MOST_PLANNED)
    planned: Annotated[str, Field(max_length=40)] = ""

    @property
    def due(self) -> str | None:
        """The day all before it is counted back from: that it must be ready on, else that of its sale."""
        return self.ready or self.sale


class Recipe(Value):
    """Shares are fractions of all fats, but for `koh_share`, which is of all alkali by weight.

    `stock` is the strength of a lye made ahead, if one is used: sodium hydroxide as it comes from the bag (of
    `naoh_purity`) as a share of the stock's weight. Without `feed_acids` the acids among the
    additives get no alkali of their own and take it from the fats. With `count_carriers` the oil and water that
    powders are dispersed in are part of the superfat and of the lye's water; else they come on top.
    `pour_celsius` is the batter as lye and fats come together, `room_celsius` the air where it is poured. `lye_stands`
    says how warm the lye is then: as the fats, cooled to the `room`, or made `ahead` and stood in it. `embeds` are no
    part of the batter: their lye is their own recipe's.
    """

    format: Literal["roundstone.recipe/3"] = "roundstone.recipe/3"
    name: Name
    fats: tuple[FatShare, ...] = Field(max_length=40)
    superfat: Share = 0.05
    koh_share: Share = 0.0
    naoh_purity: Share = 0.99
    koh_purity: Share = 0.90
    water: WaterRule = ByConcentration(share=0.33)
    feed_acids: bool = True
    count_carriers: bool = False
    ice: Share = 0.0
    stock: Share | None = None
    liquids: tuple[LiquidUse, ...] = Field(default=(), max_length=8)
    additives: tuple[Dose, ...] = Field(default=(), max_length=60)
    scents: tuple[Scent, ...] = Field(default=(), max_length=MOST_SCENTS)
    pour_celsius: Celsius = 37.0
    room_celsius: Celsius = 20.0
    lye_stands: LyeStands = "warm"
    size: Size = ByWeight(grams=1000)
    embeds: tuple[Embed, ...] = Field(default=(), max_length=12)
    design: Design
    brief: Brief | None = None

    @property
    def fragrances(self) -> tuple[Id, ...]:
        return tuple(s.fragrance for s in self.scents)

    @property
    def embedded(self) -> Grams:
        """What is set into each mould, of all embeds together."""
        return sum(e.count * e.grams for e in self.embeds)

    @property
    def moulds(self) -> int:
        """Moulds that are filled, each cavity by itself; one where the recipe is sized by weight."""
        return sum(m.count for m in self.size.moulds) if isinstance(self.size, ByMoulds) else 1

    @property
    def scent_in_fats(self) -> bool:
        """The fragrance stands in the fats before the lye comes."""
        return bool(self.scents) and self.design.scent_at == "fats"

    @property
    def scented_share(self) -> float:
        """Share of the batter that gets fragrance."""
        if not self.design.scents_apart:
            return 1.0
        return sum(p.share * p.scent for p in self.design.portions)

    @model_validator(mode="before")
    @classmethod
    def _lift(cls, value: Any) -> Any:
        return lifted(value)
