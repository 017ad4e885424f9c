"""A recipe: what the maker decides. Lenient in shape, so a half-typed draft can be kept; `weigh` judges it."""

from typing import Annotated, Literal

from pydantic import Field

from .values import Celsius, Grams, Id, Minutes, Name, Share, Value


class FatShare(Value):
    fat: Id
    share: Share


class Milk(Value):
    """A milk in place of part of the water. `share` is its part of all liquid, by weight."""

    liquid: Id
    share: Share


class Dose(Value):
    """An additive in grams per kilogram of fats."""

    additive: Id
    per_kg: float


class Scent(Value):
    """A fragrance; `load` is grams per gram of the fats in the portions it goes into."""

    fragrance: Id
    load: Share


class ByWeight(Value):
    kind: Literal["fats"] = "fats"
    grams: Grams


class ByLoaf(Value):
    """A loaf mould, inside measures in centimetres, filled to `fill`."""

    kind: Literal["loaf"] = "loaf"
    length: float
    width: float
    fill: float

    @property
    def millilitres(self) -> float:
        return self.length * self.width * self.fill


Size = Annotated[ByWeight | ByLoaf, Field(discriminator="kind")]


class Portion(Value):
    """A part of the batter after the split."""

    name: Name
    share: Share
    scented: bool
    colour: Name = ""


class Design(Value):
    """Three steps on the batter's clock: split, colour and scent, and the pour by a technique."""

    portions: tuple[Portion, ...] = Field(max_length=6)
    technique: Id
    split_minutes: Minutes = 1.0
    colour_minutes: Minutes = 2.0


class Recipe(Value):
    """Shares are fractions of all fats. `room` is the air where it is poured and rests."""

    format: Literal["roundstone.recipe/1"] = "roundstone.recipe/1"
    name: Name
    fats: tuple[FatShare, ...] = Field(max_length=40)
    superfat: Share = 0.05
    lye_concentration: Share = 0.33
    naoh_purity: Share = 0.99
    milk: Milk | None = None
    additives: tuple[Dose, ...] = Field(default=(), max_length=20)
    scent: Scent | None = None
    pour_celsius: Celsius = 37.0
    room_celsius: Celsius = 20.0
    size: Size = ByWeight(grams=1000)
    design: Design
