"""After the pour: rest, pictures, colours."""

from datetime import date, datetime

from flask_openapi3 import FileStorage
from pydantic import BaseModel, Field

from ...core.face import Tint
from ...core.logbook import ColourFile
from ...core.pour import Moment, SwatchSeen
from ...core.rest import Day, Next, RestNow, Section
from ...core.schedule import (
    TEST_A_BAR,
)
from ...core.text import Text
from ...core.values import Minutes
from .common import Dated, InOneMould, LoggedEvent, Message, Named, OpenDoubt, PhotoView, Tinted


class Colours(Message):
    colours: tuple[ColourFile, ...]


FIRST_DAY, LAST_DAY = date(1970, 1, 1), date(9000, 1, 1)  # that a calendar shows; beyond is a slip [chosen]


class CalendarDays(BaseModel):
    """Which days are asked for."""

    first: date = Field(ge=FIRST_DAY, le=LAST_DAY)
    many: int = Field(default=42, ge=1, le=400)


class Undated(Message):
    """What is to be poured on no day yet, or was planned as the `nth` and not poured then."""

    recipe_id: str
    recipe: str
    nth: int | None = None
    was: str = ""
    message: Text


class Calendar(Message):
    """Days in a row; `today` is the reader's."""

    today: str
    days: list[Day]
    undated: list[Undated]


class PlanDay(Message):
    """A pour's day: the `nth` that is planned, which `was` on that ISO day, goes to `day` or off the calendar; a new
    one without `nth`."""

    nth: int | None = Field(default=None, ge=0)
    was: str = ""
    day: date | None = Field(default=None, ge=FIRST_DAY, le=LAST_DAY)


class SpotColour(Message):
    """The colour there, what a maker would call it, and the moment a picture of that age most likely shows."""

    tint: Tint
    name: str
    at: Moment


class RestView(Message):
    """A batch at rest. Hours in `now` are since `ended_at`; `minute` and `ended` are on the pour's clock."""

    id: str
    recipe_id: str
    recipe: str
    batch: str = Field(description="its number by the maker's own pattern, empty where batches have none")
    technique: str
    started: datetime
    ended_at: datetime
    minute: Minutes
    ended: Minutes
    came: str | None
    now: RestNow
    bars: int
    harm: Text = Field(description="what must be marked on these bars for good")
    portions: list[Tinted]
    swatches: list[SwatchSeen]
    events: list[LoggedEvent]
    doubts: list[OpenDoubt]
    photos: list[PhotoView]
    subjects: list[Named] = Field(description="what a note for next time can be about")
    fresh: bool = Field(description="whether it rests on the log as it stands, not on one a little older")
    dated: Dated | None
    together: list[InOneMould] = Field(description="other batches in the same mould")
    beside: list[InOneMould] = Field(description="batches of these days that it could be in one mould with")
    testing: str = Field(default=TEST_A_BAR, description="how a bar is tested before anyone uses it")


class Sections(Message):
    """The block in each way to rest it."""

    sections: tuple[Section, ...]


class RestLine(Message):
    """What one batch waits for, and what comes then."""

    id: str
    recipe: str
    face: str
    ended_at: datetime
    hours: float
    cut: bool
    next: Next
    then: Next | None


class RestList(Message):
    """Everything that rests or cures, the most pressing first."""

    lines: list[RestLine]


class NewPhoto(BaseModel):
    """A picture, JPEG, PNG or WebP, and the days since the pour."""

    file: FileStorage
    days: float = Field(ge=0, le=1000)
    note: str = Field(default="", max_length=200)
