"""The shelf: ingredients, fragrances, stock, what is ordered."""

from pydantic import Field

from ...core.logbook import FragranceFile, StandIn
from ...core.recipe import MOST_SCENTS, Scent
from ...core.sheet import LotLeft, OrderLine
from ...core.shelf import (
    ACID_FORMULA,
    SOUR,
    Additive,
    Fat,
    Fragrance,
    Liquid,
    NewIngredient,
    Technique,
)
from ...core.values import Caution, Name
from .common import Message, PhotoView


class ShelfView(Message):
    """All that can be weighed; `acids` and `sour` name the acids of fats and of liquids that figures are asked for."""

    fats: list[Fat]
    hidden: list[str] = Field(description="ids of own ingredients that are no longer offered")
    liquids: list[Liquid]
    additives: list[Additive]
    techniques: list[Technique]
    fragrances: list[Fragrance]
    acids: tuple[str, ...] = tuple(ACID_FORMULA)
    sour: tuple[str, ...] = tuple(SOUR)


class NewOwn(Message):
    """An ingredient of the maker's own, as typed."""

    ingredient: NewIngredient


class CustomIngredient(Message):
    """One of fat, liquid and additive, and what is doubtful about it."""

    fat: Fat | None = None
    liquid: Liquid | None = None
    additive: Additive | None = None
    cautions: tuple[Caution, ...] = ()
    equivalent: float | None = Field(default=None, description="grams of an acid that take up one mole of lye")


class CustomIngredients(Message):
    custom: list[CustomIngredient]


class ItemName(Message):
    """Something a lot can be of; `made` when it is made here of other things."""

    item: str
    name: str
    made: bool = False


class Stock(Message):
    lots: list[LotLeft]
    items: list[ItemName]


class ToOrder(OrderLine):
    """Something to order, and for a fragrance what could stand in for it."""

    instead: tuple[StandIn, ...] = ()


class Orders(Message):
    """What the `planned` batches (recipes with a day to be ready on) lack."""

    planned: int
    lines: list[ToOrder]


class ShelfFile(Message):
    """A shelf file's text, as it was read from disk; `sure` that a lot did grow ten times."""

    text: str = Field(max_length=1_000_000)
    sure: bool = False


class Imported(Message):
    lots: int
    fragrances: int


class BottleName(Message):
    name: Name = Field(min_length=1)


class NewBlend(Message):
    """The scents of a recipe, to be kept as one blend under a name; their loads give the shares."""

    name: Name = Field(min_length=1)
    scents: tuple[Scent, ...] = Field(max_length=MOST_SCENTS)


class FragranceList(Message):
    """Fragrance files; `photos` only when one was asked for."""

    fragrances: list[FragranceFile]
    photos: list[PhotoView] = Field(default=[])
    fresh: bool = Field(default=True, description="whether it is of the log as it stands, not of one a little older")
