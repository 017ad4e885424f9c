"""What stands on the shelf: fats, liquids, additives, fragrances and techniques, as the rules need them."""

from collections.abc import Mapping
from enum import StrEnum
from typing import Literal

from pydantic import Field

from .values import Celsius, Id, Minutes, Name, Share, Value

Vessel = Literal["pot", "jug", "stir"]


class Fat(Value):
    """A fat. Saponification values in mg KOH/g; `acids` in weight percent; `melts` is where it turns clear."""

    id: Id
    name: Name
    sv_low: float
    sv: float
    sv_high: float
    unsaponifiable: Share
    melts: Celsius | None
    acids: dict[str, float]
    source: str

    def acid_share(self, *names: str) -> float:
        """Share (0-1) of the named fatty acids in all of this fat's acids."""
        return sum(self.acids.get(n, 0.0) for n in names) / sum(self.acids.values())


class Liquid(Value):
    """Water or a milk: fractions by weight, and the saponification value of the fat in it."""

    id: Id
    name: Name
    kind: Literal["water", "milk"]
    water: Share
    fat: Share
    protein: Share
    sugars: Share
    fat_sv: float
    source: str

    @property
    def solids(self) -> float:
        """Everything that is not water, per gram."""
        return 1 - self.water


class Additive(Value):
    """Something weighed per kg of fats. `factor` names the batter clock's covariate it feeds, if any.

    `naoh` is the NaOH [g] one gram takes up; `active` the share of it that is the named substance.
    """

    id: Id
    name: Name
    vessel: Vessel
    moment: str
    factor: str | None
    active: Share
    naoh: float
    density: float
    usual: float
    most: float
    source: str


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


class Fragrance(Value):
    """A fragrance as bought. The claim is kept apart from what was seen: changing one never touches the other."""

    id: Id
    name: Name = Field(min_length=1)
    family: Family
    claim: Claim
    claim_words: str = Field(default="", max_length=400, description="the supplier's own words")
    vanillin: Share | None = Field(default=None, ge=0, le=1)
    note: str = Field(default="", max_length=2000)


class Technique(Value):
    """A way of pouring and the band of trace it wants.

    Levels count stages: 1 emulsion, 2 light, 3 medium, 4 thick, 5 set. The batter fits from the moment it
    reaches `from_level` until it reaches `to_level`; half a level is the geometric mean of its neighbours.
    """

    id: Id
    name: Name
    short: Name
    from_level: float
    to_level: float
    minutes: Minutes
    portions: int
    how: str
    falls_back_to: tuple[Id, ...]
    source: str


class Shelf(Value):
    """Everything the rules may look up, by id."""

    fats: Mapping[Id, Fat]
    liquids: Mapping[Id, Liquid]
    additives: Mapping[Id, Additive]
    techniques: Mapping[Id, Technique]
    fragrances: Mapping[Id, Fragrance] = Field(default_factory=dict)
