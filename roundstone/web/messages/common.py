"""What several resources share."""

from datetime import UTC, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from ...core.instruments import InstrumentKind
from ...core.pour import Event, Stands
from ...core.rest.brief import Step as DeadlineStep
from ...core.text import Text
from ...core.values import Id, Minutes


def in_utc(value: datetime) -> datetime:
    """A moment without a zone is taken as UTC; one no clock of a workshop can show is refused."""
    if not 1970 <= value.year <= 9000:
        raise ValueError("A day between 1970 and now is expected.")
    return value.replace(tzinfo=UTC) if value.tzinfo is None else value


AfterAll = Annotated[datetime, AfterValidator(in_utc)]


class Message(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class Named(Message):
    id: str
    name: str


class Names(Message):
    names: list[Named]


class Page(BaseModel):
    """Which part of a list: those in which every word of `find` is found, from the `first` on."""

    find: str = Field(default="", max_length=80)
    first: int = Field(default=0, ge=0, le=10_000_000)
    most: int = Field(default=30, ge=1, le=200)


class PatternPath(BaseModel):
    pattern_id: Id


class FacePath(BaseModel):
    code: str = Field(max_length=1200)
    width: int


class PhotoView(Message):
    id: str
    pour: str
    days: float
    note: str


class SpotPath(Message):
    """A place in a picture of this many days, as shares of its width and height from the top left."""

    days: float = Field(ge=0)
    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)


class InstrumentPath(BaseModel):
    kind: InstrumentKind


class PracticePath(BaseModel):
    practice_id: str = Field(max_length=40)


class Tinted(Message):
    """A portion by name and the colour it was meant to have."""

    name: str
    tint: str | None


class DeadlineDay(Message):
    """A step with its ISO days: done `by`, with luck still at `latest`; `late` when the first has passed."""

    what: DeadlineStep
    message: Text
    by: str
    latest: str
    late: bool


class Dated(Message):
    """Dates counted back from the day a batch must be `ready`; `bars` when its mould gives fewer than wanted, and
    `early` where its sale is before that day."""

    ready: str
    sale: str | None = None
    early: str = ""
    message: Text
    met: Literal["met", "tight", "late"]
    bars: str = ""
    deadlines: list[DeadlineDay]


class PhotoPath(BaseModel):
    photo_id: UUID


class RecipePath(BaseModel):
    recipe_id: str = Field(max_length=40)


class PourPath(BaseModel):
    pour_id: str = Field(max_length=40)


class IngredientPath(BaseModel):
    ingredient_id: Id


class LotPath(BaseModel):
    lot_id: UUID


class DocumentPath(BaseModel):
    document_id: UUID


class FragrancePath(BaseModel):
    fragrance_id: Id


class OpenDoubt(Message):
    """A tap that was taken and is doubted; it can be kept unless it `cannot` be where it is, moved, or taken back."""

    target: UUID
    minute: Minutes
    label: Text
    message: Text
    stands: Stands


class LoggedEvent(Message):
    event: Event
    label: Text


class InOneMould(Message):
    """Another batch in the same mould."""

    id: str
    recipe: str
    started: datetime
