"""A pour at its bench, its ready check, practice, and pours that were written down."""

from datetime import datetime
from typing import Literal

from pydantic import Field

from ...core.advise import Advice, BenchNow
from ...core.forecast import Forecast, Offer
from ...core.logbook import Foretold, PourDifference, Recalled, SeenStrip
from ...core.pour import BenchEvent, Event
from ...core.recipe import Recipe
from ...core.rest import Next
from ...core.schedule import (
    FIRST_AID,
    Before,
    Cue,
    Meets,
    ReadyAct,
    ReadyStage,
    ReadyState,
    Reweigh,
)
from ...core.sheet import Sheet
from ...core.shelf import (
    Technique,
)
from ...core.text import Text
from ...core.values import Minutes
from ...standins.practice import Temper
from .common import AfterAll, InOneMould, LoggedEvent, Message, OpenDoubt, Page, PhotoView


class Offers(Message):
    """What the recipe of a pour could be next time, as it stands at this `revision`; `fresh` when this pour is learned
    from already."""

    recipe_id: str
    revision: int
    offers: list[Offer]
    fresh: bool


class TakeOffer(Message):
    """`revision` is that of the recipe it was offered for."""

    key: str
    revision: int


class TakenUp(Message):
    """A draft that was changed by one tap, and the recipe it was `before`."""

    id: str
    revision: int
    before: Recipe


class ReadyTap(Message):
    act: ReadyAct


class BuildDay(Message):
    """A day of a build, 1 the first."""

    day: int = Field(default=1, ge=1, le=60)


class ReadyView(Message):
    """The ready check of a recipe, on one `day` of the `days` of its build; `minute` is its own clock, which began with
    the first act. On a later day it `combines` lye with fats, or does not."""

    recipe_id: str
    name: str
    minute: Minutes
    stages: tuple[ReadyStage, ...]
    reweigh: tuple[Reweigh, ...]
    state: ReadyState
    meets: Meets
    cues: tuple[Cue, ...]
    before: tuple[Before, ...]
    noted: list[Recalled]
    running: str | None
    day: int
    days: int
    combines: bool
    aid: tuple[str, ...] = FIRST_AID


class StartPour(Message):
    """The pour of a recipe begins; `sure` where it begins though lye was ticked for another weight, and
    `again` where it begins beside a pour of the recipe that runs."""

    recipe_id: str
    sure: bool = False
    again: bool = False


class Tap(Message):
    event: BenchEvent


class PracticeNow(Message):
    """That a pour is practice, and how many times as fast its clock runs."""

    speed: float


class PractisedLine(Message):
    """A practice pour in memory; what its batter was is said once it has ended."""

    id: str
    recipe: str
    ended: bool
    temper: Text


class Practised(Message):
    practices: list[PractisedLine]


class StartPractice(Message):
    """A recipe, or none for the practice loaf; a temperament, or none to be dealt one."""

    recipe_id: str = Field(default="", max_length=40)
    temper: Temper | None = None
    speed: float = Field(default=1.0, ge=1, le=10)
    seed: int | None = Field(default=None, ge=0, lt=2**31, description="to be dealt the same batter again")


class Speed(Message):
    speed: float = Field(ge=1, le=10)


class PourView(Message):
    """A pour as it stands; `minute` is its clock when this was made."""

    id: str
    recipe_id: str
    version: int
    recipe: Recipe
    sheet: Sheet
    technique: Technique
    started: datetime
    minute: Minutes
    ended: Minutes | None
    split: Minutes | None
    pouring: Minutes | None
    celsius: float
    measured: bool
    events: list[LoggedEvent]
    doubts: list[OpenDoubt]
    forecast: Forecast
    advice: Advice
    bench: BenchNow
    look_at: Minutes | None = Field(description="the most telling moment for the next look, and at which portion")
    look_into: str | None
    photos: list[PhotoView]
    taught: Text = Field(default=Text.NONE, description="what verdicts have taught of its technique, once it has ended")
    harm: Text = Field(default=Text.NONE, description="what must be marked on these bars for good")
    aid: tuple[str, ...] = FIRST_AID
    practice: PracticeNow | None = None


class PoursPage(Page):
    """Which pours: those that wait for something, or came out so."""

    only: Literal["", "waits", "drawn", "different", "lost"] = ""


class PourLine(Message):
    id: str
    recipe: str
    recipe_id: str
    version: int
    batch: str = Field(default="", description="its number by the maker's own pattern")
    scent: str | None
    technique: str
    face: str = Field(description="code of its cut face, by the trace that was seen")
    started: datetime
    ended: Minutes | None
    events: int
    left_out: bool = Field(description="its recipe can no longer be weighed, so nothing is learned from it")
    came: str | None = None
    harm: Text = Field(default=Text.NONE, description="what must be marked on these bars for good")
    foretold: Foretold | None = Field(default=None, description="what was forecast when it was begun")
    seen: SeenStrip
    next: Next | None = Field(default=None, description="what it waits for, in hours since `ended_at`")
    hours: float | None = None
    ended_at: datetime | None = None
    photo: str | None = None
    together: list[InOneMould] = Field(default=[], description="other batches in the same mould")


class PourList(Message):
    """One page of pours, how many there are in all, and how many of the whole log may still wait for something."""

    pours: list[PourLine]
    total: int
    waiting: int


class Differ(Message):
    """Pours by id; each is told against the first."""

    pours: list[str] = Field(min_length=2, max_length=6)


class Differences(Message):
    """Each other pour against the first; `pours` are they as listed, in the same order."""

    first: PourLine
    pours: list[PourLine]
    others: list[PourDifference]


class PastPour(Message):
    """A pour from a notebook: its events with whatever gaps; it ends at the last of them unless it says when."""

    recipe_id: str = Field(max_length=40)
    started: AfterAll
    events: list[Event] = Field(min_length=1, max_length=500)
    sure: bool = Field(default=False, description="what the forecast hardly gives was asked, and is so")


class PourFile(Message):
    """A CSV of past pours, as it was read from disk; `sure` when what was asked of it is so."""

    text: str = Field(max_length=2_000_000)
    sure: bool = False


class TakenIn(Message):
    """Pours and events that are new; `there` pours were in the log already."""

    pours: int
    events: int
    there: int
