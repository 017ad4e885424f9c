"""What stands on the shelf: fats, liquids, additives, fragrances and techniques, as the rules need them."""

from collections.abc import Iterable, Mapping
from enum import StrEnum
from typing import Literal

from pydantic import Field, PrivateAttr

from ..face import Tint
from ..text import Text
from ..values import LONGEST, Celsius, Id, Name, Share, Value, listed
from .chemistry import SOUR, acid_naoh, iodine_value
from .names import Telling, told_by
from .others import KnownAs, Others, Reviews
from .scales import Scales
from .techniques import Technique, Wants

Vessel = Literal["pot", "jug", "stir"]
Moment = Literal["before-lye", "hot-lye", "cool-lye", "fats", "trace"]
VESSEL: dict[Moment, Vessel] = {
    "before-lye": "jug",
    "hot-lye": "jug",
    "cool-lye": "jug",
    "fats": "pot",
    "trace": "stir",
}
USUAL_HUMIDITY = 0.5  # relative, of the air where soap cures, where none is told [chosen]
Habit = Literal["looks", "turns"]  # a maker taps what is seen at a look, or only when it turns
MOST_ALLERGENS = 240  # of a bottle, or of all that is in a blend
SLIP = 5  # times the usual most of an additive is a misplaced decimal point [chosen]
AdditiveKind = Literal[
    "sugar", "acid", "salt", "lactate", "silk", "clay", "powder", "milk", "pigment", "oil", "alcohol", "other"
]


class MadePart(Value):
    """What something made here takes of an item (its kind, a colon, its id), as a share of its weight."""

    item: str
    share: Share


class Made(Value):
    """How something is made here: of what, and the days it keeps."""

    of: tuple[MadePart, ...]
    keeps: int


class SolidAt(Value):
    """The share of a fat that is solid at so many °C."""

    celsius: Celsius
    share: Share


class Fat(Value):
    """A fat, a wax or a free fatty acid.

    Saponification values in mg KOH/g, iodine values in g/100 g; `acids` in weight percent. It softens at `melts_from`
    and is clear at `melts`; `solid` is how much of it is, rising in °C, where that is known.
    `inci` is its name on a label, `soap` the stem of its soap's name there. `iodine` is stated where the acids do
    not tell it, as for waxes. One of the maker's own names its `kin`. An infusion is `made` here, and `tint` is
    how soap made with it looks. `factor` is what it is to the batter clock beside its acids. From `colours_from` of all
    fats on, it gives soap the colour that `colours` says.
    """

    id: Id
    name: Name
    kind: Literal["fat", "wax", "acid"]
    sv_low: float
    sv: float
    sv_high: float
    unsaponifiable: Share
    iodine_low: float
    iodine_high: float
    melts_from: Celsius | None
    melts: Celsius | None
    solid: tuple[SolidAt, ...] = ()
    inci: str
    soap: str
    acids: dict[str, float]
    source: str
    iodine: float | None = None
    kin: Id | None = None
    made: Made | None = None
    tint: Tint | Literal[""] = ""
    factor: str = ""
    colours: str = ""
    colours_from: Share | None = None

    @property
    def covariate(self) -> str:
        """What of the batter clock it moves beside its acids, or ""."""
        return "acid" if self.kind == "acid" else self.factor

    @property
    def own(self) -> bool:
        """Of the maker's own certificate, not of the tables."""
        return self.kin is not None or self.source.startswith("own ")

    def acid_share(self, *names: str) -> float:
        """Share (0-1) of the named fatty acids in all of this fat's acids."""
        return sum(self.acids.get(n, 0.0) for n in names) / sum(self.acids.values())

    @property
    def iodine_value(self) -> float:
        """As stated, else from its own acids, g iodine per 100 g."""
        return iodine_value(self.acids, self.unsaponifiable) if self.iodine is None else self.iodine


BROWNS = 0.03  # of sugars in a liquid, from which it browns in lye like milk [chosen]


class Liquid(Value):
    """Water, a milk or what else is liquid: fractions by weight, and the saponification value of the fat in it.

    `acid` is how much of it is the acid it is sour by, `acid_of`. `usual` is the share of all liquid it is put in
    with, and `goes` where (common practice: what is rich in fat or thick goes into the fats). `caution` is said
    wherever it is used.
    """

    id: Id
    name: Name
    kind: Literal["water", "milk", "other"]
    water: Share
    fat: Share
    protein: Share
    sugars: Share
    alcohol: Share
    fat_sv: float
    inci: str
    source: Text
    salt: Share = 0.0
    acid: Share = 0.0
    acid_of: Literal["", "citric", "acetic", "lactic", "malic", "tartaric"] = ""
    usual: Share = 1.0
    goes: Vessel = "jug"
    caution: Text = Text.NONE
    made: Made | None = None
    tint: Tint | Literal[""] = ""

    @property
    def naoh(self) -> float:
        """NaOH [g] that the acid in one gram takes up."""
        return self.acid * acid_naoh(*SOUR[self.acid_of]) if self.acid_of else 0.0

    @property
    def browns(self) -> bool:
        """Whether it browns and smells in hot lye, as milk and sugar do."""
        return self.kind == "milk" or self.sugars > BROWNS

    @property
    def frozen_first(self) -> bool:
        """Whether practice freezes it before lye is added: what browns, and what foams over."""
        return self.browns or self.alcohol > 0

    @property
    def solids(self) -> float:
        """Everything that is not water, per gram."""
        return 1 - self.water


class Additive(Value):
    """Something weighed per kg of fats. `factor` names the batter clock's covariate it feeds, if any.

    `moment` is where and when it usually goes in, `how` says so in words. `naoh` is the NaOH [g] one gram takes
    up; `active` the share of it that is the named substance; `spoon` the grams of a level teaspoon; `density` in
    g/mL. `usual` and `most` are g/kg of fats. `danger` is said wherever it is used. `salt` is what an acid becomes on
    a label, without its cation; `fat` its share of fat, with that fat's saponification value [mg KOH/g]. `tint` is how
    soap coloured with it looks. A premix is `made` here and `wet` is what of it is water.
    """

    id: Id
    name: Name
    kind: AdditiveKind
    moment: Moment
    how: Text
    factor: str | None
    active: Share
    naoh: float
    density: float
    spoon: float
    inci: str
    danger: Text
    usual: float
    most: float
    source: Text
    salt: str = ""
    fat: Share = 0.0
    fat_sv: float = 0.0
    ceiling: float | None = None
    tint: Tint | Literal[""] = ""
    wet: Share = 0.0
    made: Made | None = None

    @property
    def refused_above(self) -> float:
        """Dose [g/kg of fats] that is taken for a slip of the finger: `ceiling`, else SLIP times the usual most."""
        return self.ceiling if self.ceiling is not None else SLIP * self.most

    @property
    def water(self) -> Share:
        """The share that is water: what of an acid, a lactate or a sugar is not the named substance, or as stated."""
        return 1 - self.active if self.kind in ("acid", "lactate", "sugar") else self.wet


class Claim(StrEnum):
    """What the supplier says a fragrance does to the batter."""

    SLOWS = "slows"
    NONE = "none"
    SLIGHT = "slight"
    MODERATE = "moderate"
    STRONG = "strong"
    SEIZES = "seizes"
    UNKNOWN = "unknown"


class Family(StrEnum):
    """The kind of scent: the only guide when the supplier claims nothing."""

    CITRUS = "citrus"
    MINT = "mint"
    WOOD = "wood"
    FRESH = "fresh"
    FRUITY = "fruity"
    SWEET = "sweet"
    MUSK = "musk"
    FLORAL = "floral"
    SPICE = "spice"
    OTHER = "other"


class Ricing(StrEnum):
    """What the supplier says of grains in the batter."""

    UNKNOWN = "unknown"
    NO = "no"
    SOME = "some"
    YES = "yes"


class Discolours(StrEnum):
    """What the supplier says of the colour it turns."""

    UNKNOWN = "unknown"
    NO = "no"
    TINT = "tint"
    BROWN = "brown"


class BlendPart(Value):
    """A fragrance in a blend, with its share of the blend by weight."""

    fragrance: Id
    share: Share = Field(gt=0, le=1)


class NewFragrance(Value):
    """A fragrance as bought. The claim is kept apart from what was seen: changing one never touches the other.

    One that `inherits` is another bottle, lot or supplier of a scent that is known: the forecast starts from that. A
    blend has `parts`, and is believed as they are; it is weighed from their bottles, or once it is `bottled` from its
    own, as a fragrance of its own.
    """

    name: Name = Field(min_length=1)
    family: Family
    claim: Claim
    claim_words: str = Field(default="", max_length=400, description="the supplier's own words")
    vanillin: Share | None = Field(default=None, ge=0, le=1)
    limit: Share | None = Field(default=None, gt=0, le=1, description="most allowed in the finished bar")
    allergens: tuple[Name, ...] = Field(default=(), max_length=MOST_ALLERGENS)
    ricing: Ricing = Ricing.UNKNOWN
    discolours: Discolours = Discolours.UNKNOWN
    source: str = Field(default="", max_length=LONGEST, description="who says so: a leaflet, a page, another maker")
    stated: str = Field(default="", pattern=r"^(\d{4}-\d{2}-\d{2})?$", description="the day it was said, ISO 8601")
    inherits: Id | None = None
    essential: bool = Field(default=False, description="an essential oil, not a compounded fragrance")
    note: str = Field(default="", max_length=2000)
    parts: tuple[BlendPart, ...] = Field(default=(), max_length=6)
    bottled: bool = False
    code: Name = Field(default="", description="the supplier's code for it")
    reviews: Reviews = Field(default=Reviews(), description="what makers wrote of it, counted by hand")
    known_as: tuple[KnownAs, ...] = Field(default=(), max_length=40)


class Fragrance(NewFragrance):
    """A fragrance on the shelf."""

    id: Id


class Possible(Value):
    """What may not be done to batter that was `told` to be at a stage or to have gone wrong, and what is done
    `instead` of pouring it."""

    told: str
    never: tuple[str, ...]
    instead: str
    source: str


class Shelf(Value):
    """Everything the rules may look up, by id, the scales it is weighed on, and the air it cures in.

    `tellings` are what names give away, `others` what other workshops saw of fragrances here.
    """

    fats: Mapping[Id, Fat]
    liquids: Mapping[Id, Liquid]
    additives: Mapping[Id, Additive]
    techniques: Mapping[Id, Technique]
    acts: Mapping[str, Wants] = Field(default_factory=dict)
    possible: tuple[Possible, ...] = ()
    fragrances: Mapping[Id, Fragrance] = Field(default_factory=dict)
    scales: Scales = Scales()
    tellings: tuple[Telling, ...] = ()
    others: Mapping[Id, Others] = Field(default_factory=dict)
    taps: Habit = "looks"
    humidity: Share = USUAL_HUMIDITY
    _told: dict[str, Telling | None] = PrivateAttr(default_factory=dict)  # asked at every weighing

    def blend_name(self, fragrances: Iterable[Id]) -> str:
        """Names of these fragrances as one phrase; those no longer on the shelf are left out."""
        names = [self.fragrances[f].name for f in fragrances if f in self.fragrances]
        return listed(names, most=len(names))

    def told_by(self, name: str) -> Telling | None:
        """What a name gives away: lye, an acid, or what does harm."""
        if name not in self._told:
            self._told[name] = told_by(name, self.tellings)
        return self._told[name]

    def inside(self, fragrance: Fragrance, within: frozenset[Id] = frozenset()) -> list[Fragrance]:
        """A fragrance and all that is in it, also of a blend in a bottle of its own."""
        parts = [self.fragrances[p.fragrance] for p in fragrance.parts if p.fragrance in self.fragrances]
        known = within | {fragrance.id}
        return [fragrance, *(f for part in parts if part.id not in known for f in self.inside(part, known))]

    def poured(
        self, scents: Iterable[tuple[Id, float]], within: frozenset[Id] = frozenset()
    ) -> list[tuple[float, Fragrance]]:
        """What is weighed of these fragrances and loads: of a blend that has no bottle of its own, its parts.

        Those no longer on the shelf are left out; one that is `within` itself, as two merged shelves may say, is whole.
        """
        out: list[tuple[float, Fragrance]] = []
        for fragrance_id, load in scents:
            fragrance = self.fragrances.get(fragrance_id)
            if fragrance is None:
                continue
            if fragrance.parts and not fragrance.bottled and fragrance_id not in within:
                parts = ((p.fragrance, p.share * load) for p in fragrance.parts)
                out += self.poured(parts, within | {fragrance_id})
            else:
                out.append((load, fragrance))
        return out
