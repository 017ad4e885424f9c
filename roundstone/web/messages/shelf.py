"""The shelf: ingredients, fragrances, stock, what is ordered."""

from datetime import datetime
from typing import Literal

from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field

from ...core.logbook import BatchCost, Differed, FragranceFile, MonthCost, StandIn
from ...core.pour.after import SWATCH_AT
from ...core.pour.after import Moment as SwatchAt
from ...core.recipe import MOST_SCENTS, MouldPreset, Scent
from ...core.schedule import STEP_WORDS, Vocabulary
from ...core.sheet import COLOURING, Lot, LotLeft, OrderLine
from ...core.shelf import (
    ACID_FORMULA,
    PUT,
    SOUR,
    VESSEL,
    Additive,
    AdditiveKind,
    Fat,
    Fragrance,
    Liquid,
    Moment,
    NewIngredient,
    Technique,
    Vessel,
)
from ...core.text import Text
from ...core.values import Caution, Grams, Name
from .common import Message, PhotoView


class MomentWords(Message):
    """When something goes in: into which vessel, in words."""

    moment: Moment
    vessel: Vessel
    words: Text


class ShelfView(Message):
    """All that can be weighed, and the words for it: `acids` and `sour` name the acids of fats and of liquids that
    figures are asked for, `moments` when things go in and into what, `colouring` the kinds of additive that colour a
    portion, `swatches` when a colour is looked at, `steps` what can be asked of a step of a plan, `moulds`
    those to begin with, round in the maker's units, `also` what else a thing is called, by its id."""

    fats: list[Fat]
    hidden: list[str] = Field(description="ids of own ingredients that are no longer offered")
    liquids: list[Liquid]
    additives: list[Additive]
    techniques: list[Technique]
    fragrances: list[Fragrance]
    acids: tuple[str, ...] = tuple(ACID_FORMULA)
    sour: tuple[str, ...] = tuple(SOUR)
    moments: tuple[MomentWords, ...] = tuple(
        MomentWords(moment=moment, vessel=VESSEL[moment], words=words) for moment, words in PUT.items()
    )
    colouring: tuple[AdditiveKind, ...] = COLOURING
    swatches: dict[SwatchAt, str] = SWATCH_AT
    steps: Vocabulary = STEP_WORDS
    moulds: tuple[MouldPreset, ...]
    also: dict[str, tuple[str, ...]]


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


class NewDocument(BaseModel):
    """A lot's certificate: a PDF, or a picture of it."""

    file: FileStorage


class DocumentView(Message):
    id: str
    name: str


class LotAway(Message):
    """A lot that was put away, and when."""

    id: str
    lot: Lot
    removed: datetime


class Stock(Message):
    """Lots with what is left of them, what a lot can be of, the certificates beside lots, by the lot's id, and the lots
    put away, the latest first."""

    lots: list[LotLeft]
    items: list[ItemName]
    documents: dict[str, list[DocumentView]] = Field(default_factory=dict)
    away: list[LotAway] = Field(default_factory=list)


class ToOrder(OrderLine):
    """Something to order, and for a fragrance what could stand in for it."""

    instead: tuple[StandIn, ...] = ()


class Orders(Message):
    """What the `planned` batches (recipes with a day to be ready on) lack."""

    planned: int
    lines: list[ToOrder]


MOST_COSTS, MOST_DIFFERED = 60, 30  # batches that one answer tells one by one, and recipes that it compares


class YearOf(BaseModel):
    """A year on the reader's clock."""

    year: int = Field(ge=1970, le=9000)


class YearPaper(YearOf):
    """A year, and the paper its records are for."""

    paper: Literal["A4", "Letter"] = "A4"


class Costs(Message):
    """What a year's batches cost: by month and in all, the latest ones, and what differed in a recipe's last two."""

    year: int
    months: tuple[MonthCost, ...]
    batches: list[BatchCost]
    all_batches: int
    differed: tuple[Differed, ...]
    unpriced: tuple[str, ...]


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


class LotBatch(Message):
    """A batch that took of a lot, how many bars it gave (as cut, else as planned), and how much of the lot it took."""

    pour: str
    recipe: str
    batch: str
    started: datetime
    bars: int
    grams: Grams


MOST_BATCHES = 500  # that one answer names; all of them are in the file


class LotBatches(Message):
    """Batches with something of a lot in them, the latest first, how many there are, and the bars of all; of the
    `uncounted` nobody knows them."""

    batches: list[LotBatch]
    all_batches: int
    bars: int
    uncounted: int


class FragranceList(Message):
    """Fragrance files; `photos` only when one was asked for."""

    fragrances: list[FragranceFile]
    photos: list[PhotoView] = Field(default=[])
    fresh: bool = Field(default=True, description="whether it is of the log as it stands, not of one a little older")
