"""Recipes: lists, drafts, files, versions, the bench sheet."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field

from ...core.heat import HeatPlan
from ...core.logbook import Convention, Recalled
from ...core.recipe import Recipe, UsualPour
from ...core.schedule import (
    FIRST_AID,
    MouldFill,
    WorkStep,
)
from ...core.sheet import Sheet
from ...core.shelf import (
    Scales,
)
from ...core.text import Text
from ...core.values import Id, Name
from ...exchange.labels import LabelSize
from ...exchange.pasted import MOST_RECIPES, PastedBlock, PastedRow
from .common import Message, Named


class RecipeLine(Message):
    """A recipe in the list."""

    id: str
    name: str
    fats: list[str]
    scent: str | None
    technique: str
    face: str = Field(description="code of its cut face, as its technique means it")
    changed: datetime
    versions: int
    pours: int
    running: str | None = Field(description="id of a pour of it that has not ended")
    unreadable: str = Field(default="", description="why this program cannot read it; its raw text can be saved")


class FindWords(Message):
    words: str = Field(default="", max_length=120)


class Found(Message):
    """Something found by its name; a note has the id of the pour it was made at."""

    kind: Literal["recipe", "pour", "rest", "fragrance", "ingredient", "note", "word"]
    id: str
    name: Text
    hint: Text


class Finds(Message):
    found: list[Found]


class StarterLine(Message):
    """A recipe to begin with."""

    id: Id
    name: str
    teaches: str
    fats: list[str]
    technique: str
    face: str


class StarterList(Message):
    """What an empty workshop offers, and what it has set; `units_set` is false where nobody chose units yet."""

    starters: list[StarterLine]
    usual: UsualPour
    scales: Scales
    units_set: bool


class RecipeList(Message):
    """One page of recipes, how many there are in all, and the pours that run, named by their recipe."""

    recipes: list[RecipeLine]
    total: int
    running: list[Named]


class RecipeView(Message):
    id: str
    revision: int
    versions: int
    pours: int
    running: str | None
    noted: list[Recalled] = Field(description="notes for next time that matter to it")
    recipe: Recipe


class NewRecipe(Message):
    """A copy of one of ours, one to begin with, or a blank one."""

    copy_of: str | None = None
    starter: Id | None = None
    name: Name = ""


class RecipeFile(Message):
    """A recipe file's text, or a sheet of weights as CSV, as it was read from disk; `name` is for a sheet."""

    text: str = Field(max_length=500_000)
    name: Name = ""
    sure: bool = Field(default=False, description="what it names without saying what it is, is what is called so here")


class Draft(Message):
    revision: int
    recipe: Recipe


class Saved(Message):
    id: str
    revision: int


class RecipeImported(Saved):
    beside: list[str] = Field(description="what came in beside something that is called so here")


class Pasted(Message):
    """A recipe as somebody wrote it down."""

    text: str = Field(max_length=20_000)


class PastedLines(Message):
    """What of it was read, recipe by recipe; a line can be one of the `choices` beside what stands on the shelf."""

    recipes: tuple[PastedBlock, ...]
    choices: tuple[Named, ...]


class PastedRecipe(Message):
    """Lines as they were settled, to be made a recipe."""

    name: Name
    rows: tuple[PastedRow, ...] = Field(max_length=200)


class PastedRecipes(Message):
    """Recipes to be made, all or none."""

    recipes: tuple[PastedRecipe, ...] = Field(min_length=1, max_length=MOST_RECIPES)


class RecipesMade(Message):
    """Recipes that were made, by id, in the order they were sent."""

    ids: list[str]


class Worksheet(Message):
    """The bench sheet of one recipe; `face` is the code of its cut face, `mould` how its first mould is filled, cut and
    topped."""

    name: str
    sheet: Sheet
    heat: HeatPlan
    steps: list[WorkStep]
    face: str
    mould: MouldFill | None
    aid: tuple[str, ...] = FIRST_AID


class Paper(BaseModel):
    """What lies in the printer, the sign before decimals, the order of a day and its month, and the time zone."""

    paper: Literal["A4", "Letter"] = "A4"
    decimal: Literal[".", ","] = "."
    dates: Literal["dmy", "mdy"] = "dmy"
    zone: str = Field(default="", max_length=64)


class LabelPaper(Paper):
    """How large labels are, and whether they name what went in or what it became."""

    size: LabelSize = "medium"
    names: Convention = "became"


class Version(Message):
    number: int
    made: datetime


class Versions(Message):
    versions: list[Version]
