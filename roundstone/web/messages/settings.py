"""Settings, copies and archives of the workshop, instruments, learning."""

from datetime import datetime
from typing import Literal

from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field

from ...core.logbook import ScoreCard, Selling
from ...core.recipe import UsualPour
from ...core.shelf import (
    Habit,
    Scale,
    Scales,
)
from ...core.units import Units
from .common import Message


class NoiseView(Message):
    """Sds of ln-rates of a batch and a portion, and of light, medium, thick and set; `pours` they were tuned from."""

    batch: float
    portion: float
    stages: list[float]
    pours: int


class Learning(Message):
    """The score card (None while it is made), and how far the work in the background is, 0 to 1 or None."""

    card: ScoreCard | None
    scoring: float | None
    tuning: float | None
    failed: str
    noise: NoiseView
    trade: NoiseView
    due: bool


class CopyMade(Message):
    """A copy of the data file: its name, when it was made, and its size in bytes."""

    name: str
    made: datetime
    size: int


class CopiesView(Message):
    """Where copies lie, how many are kept, and those there are, newest first; `trouble` if the last one failed."""

    file: str
    folder: str
    keep: int
    copies: list[CopyMade]
    trouble: str


class CopiesSet(Message):
    """A folder of the maker's choosing (None: beside the data file), and how many copies are kept there."""

    folder: str | None = Field(default=None, max_length=1000)
    keep: int = Field(ge=1, le=1000)


class Settings(Message):
    """What a workshop sets once."""

    scales: Scales
    units: Units
    copies: CopiesView
    taps: Habit
    utility: "UtilitySet"
    humidity: float
    usual: UsualPour
    selling: Selling
    example: str = Field(description="the number that the next batch would have")


class UtilitySet(Message):
    """What a pour is worth to this maker that comes out as planned, different but sellable, lost: 0 to 1, falling."""

    drawn: float = Field(ge=0, le=1)
    different: float = Field(ge=0, le=1)
    lost: float = Field(ge=0, le=1)


class ScalesSet(Message):
    """The workshop's scales, in grams whatever they show."""

    scales: tuple[Scale, ...] = Field(min_length=1, max_length=6)


class CopyName(Message):
    name: str = Field(max_length=300)


class AirSet(Message):
    """Relative humidity of the air where soap cures, 0 to 1."""

    humidity: float = Field(ge=0.1, le=0.95)


class TapsSet(Message):
    """How this maker taps: what is seen at every look, or only when it turns."""

    taps: Habit


class ArchiveFile(BaseModel):
    """An archive of a workshop."""

    file: FileStorage


class ArchiveRead(Message):
    message: str


class NewTables(BaseModel):
    """A spreadsheet of the workshop's tables; `sure` that what was asked of it is so."""

    file: FileStorage
    sure: bool = False


class DataTable(Message):
    name: str
    address: str


class DataTables(Message):
    """The tables that can be read."""

    tables: list[DataTable]


class DataPath(BaseModel):
    name: str = Field(max_length=40)


class DataQuery(BaseModel):
    """Which rows of a table, and as what."""

    first: int = Field(default=0, ge=0)
    most: int = Field(default=100_000, ge=1, le=1_000_000)
    format: Literal["json", "csv"] = "json"


class DataRows(Message):
    """Rows of a table, of `all` it has. Figures are metric, moments ISO 8601."""

    name: str
    columns: list[str]
    all: int
    rows: list[dict[str, str | float | int | None]]


class InstrumentsThere(Message):
    """Which instruments can be read."""

    thermometer: bool
    scale: bool


class InstrumentsSet(Message):
    """Whether the simulated thermometer and scale stand in for real ones."""

    simulated: bool
