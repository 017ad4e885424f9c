"""What goes over the wire beside core's own values."""

from datetime import UTC, datetime
from typing import Annotated, Literal
from uuid import UUID

from flask_openapi3 import FileStorage
from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from ..core.advise import Advice, BenchNow
from ..core.face import Tint
from ..core.forecast import FallBack, Forecast, Hazard, Levers, Reasons, School, Scouting, TechniqueOutlook
from ..core.heat import HeatPlan, Reading
from ..core.instruments import InstrumentKind
from ..core.logbook import ColourFile, Foretold, FragranceFile, PourDifference, Recalled, ScoreCard, SeenStrip, StandIn
from ..core.pour import BenchEvent, Event, Moment, Stands, SwatchSeen
from ..core.recipe import MOST_SCENTS, Recipe, Scent, Step, UsualPour
from ..core.rest import Next, RestNow, Section
from ..core.rest.brief import Step as DeadlineStep
from ..core.said import Units
from ..core.schedule import (
    FIRST_AID,
    TEST_A_BAR,
    Before,
    Cue,
    Ledger,
    Meets,
    ReadyAct,
    ReadyPart,
    ReadyState,
    Reweigh,
    StepAct,
    WorkStep,
)
from ..core.sheet import Act, Comparison, Label, LotLeft, OrderLine, PlaceAct, Sheet, Supply, ToWeigh, Weighing
from ..core.shelf import (
    ACID_FORMULA,
    SOUR,
    Additive,
    Fat,
    Fragrance,
    Habit,
    Liquid,
    NewIngredient,
    Scale,
    Scales,
    Technique,
)
from ..core.values import Caution, Fault, Id, Minutes, Name, Span
from ..standins.practice import Temper


def _in_utc(value: datetime) -> datetime:
    """A moment without a zone is taken as UTC; one no clock of a workshop can show is refused."""
    if not 1970 <= value.year <= 9000:
        raise ValueError("A day between 1970 and now is expected.")
    return value.replace(tzinfo=UTC) if value.tzinfo is None else value


AfterAll = Annotated[datetime, AfterValidator(_in_utc)]


class Message(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


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

    kind: Literal["recipe", "pour", "rest", "fragrance", "ingredient", "note"]
    id: str
    name: str
    hint: str


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
    """What an empty workshop offers, and what it has set."""

    starters: list[StarterLine]
    usual: UsualPour
    scales: Scales


class Named(Message):
    id: str
    name: str


class RecipeList(Message):
    """One page of recipes, how many there are in all, and the pours that run, named by their recipe."""

    recipes: list[RecipeLine]
    total: int
    running: list[Named]


class Names(Message):
    names: list[Named]


class Page(BaseModel):
    """Which part of a list: those in which every word of `find` is found, from the `first` on."""

    find: str = Field(default="", max_length=80)
    first: int = Field(default=0, ge=0, le=10_000_000)
    most: int = Field(default=30, ge=1, le=200)


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


class Weigh(Message):
    recipe: Recipe


class Ask(Weigh):
    seed: str = Field(default="", max_length=80, description="keeps the dice of one recipe or pour the same")


class UsePattern(BaseModel):
    """The recipe is poured in this pattern."""

    kind: Literal["use_pattern"] = "use_pattern"
    pattern: Id


class PullLever(BaseModel):
    """A lever is kept, on the recipe as it now stands."""

    kind: Literal["pull_lever"] = "pull_lever"
    key: str = Field(max_length=40)


class UseBlend(Message):
    """Put a blend in place of its parts, which stand in the recipe in its shares."""

    kind: Literal["use_blend"] = "use_blend"
    fragrance: Id


class BlendApart(Message):
    """Put the parts of a blend in its place."""

    kind: Literal["blend_apart"] = "blend_apart"
    fragrance: Id


AnyAct = Annotated[
    Act | StepAct | UsePattern | PullLever | UseBlend | BlendApart | ToWeigh | PlaceAct,
    Field(union_mode="left_to_right"),
]


class Adjust(Message):
    """An act on a recipe, which comes back weighed."""

    recipe: Recipe
    act: AnyAct


class Weights(Message):
    """A recipe weighed, which takes a moment; all but the weighing is missing while it has faults."""

    weighing: Weighing
    heat: HeatPlan | None = None
    label: Label | None = None
    supply: Supply | None = None
    ledger: Ledger | None = None


class RecipeForecast(Message):
    """What a recipe's batter will do, or the `faults` for which nothing can be told. `steps` are those of its plan,
    spelled out, in the order of the forecast's."""

    forecast: Forecast | None = None
    reasons: Reasons | None = None
    faults: tuple[Fault, ...] = ()
    schools: tuple[School, ...] = ()
    steps: tuple[Step, ...] = ()
    dated: "Dated | None" = None


class Adjusted(Message):
    recipe: Recipe
    weighed: Weights


class Prospects(Message):
    """What else can go wrong with a recipe, what to try first, and what missing figures cost."""

    hazards: tuple[Hazard, ...] = ()
    scouting: Scouting | None = None


class PlanView(Message):
    """Levers, how every technique would do in this batter, and fall-backs under the risky steps."""

    levers: Levers | None = None
    techniques: tuple[TechniqueOutlook, ...] = ()
    fall_backs: tuple[FallBack, ...] = ()


class PatternLine(Message):
    """A pattern in the list; `face` is the code of its cut face, as it is meant."""

    id: str
    name: str
    technique: str
    portions: int
    face: str


class Patterns(Message):
    patterns: list[PatternLine]


class NewPattern(Message):
    """The design of a recipe to keep; with `replace` it takes the place of one of the same name."""

    name: Name
    recipe: Recipe
    replace: bool = False


class PatternPath(BaseModel):
    pattern_id: Id


class FacePath(BaseModel):
    code: str = Field(max_length=1200)
    width: int


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


class Worksheet(Message):
    """The bench sheet of one recipe; `face` is the code of its cut face."""

    name: str
    sheet: Sheet
    heat: HeatPlan
    steps: list[WorkStep]
    face: str
    aid: tuple[str, ...] = FIRST_AID


class Paper(BaseModel):
    """What lies in the printer, the sign before decimals, the order of a day and its month, and the time zone."""

    paper: Literal["A4", "Letter"] = "A4"
    decimal: Literal[".", ","] = "."
    dates: Literal["dmy", "mdy"] = "dmy"
    zone: str = Field(default="", max_length=64)


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


class UtilitySet(Message):
    """What a pour is worth to this maker that comes out as drawn, different but sellable, lost: 0 to 1, falling."""

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


class Colours(Message):
    colours: tuple[ColourFile, ...]


class ShelfFile(Message):
    """A shelf file's text, as it was read from disk; `sure` that a lot did grow ten times."""

    text: str = Field(max_length=1_000_000)
    sure: bool = False


class Imported(Message):
    lots: int
    fragrances: int


class Version(Message):
    number: int
    made: datetime


class Versions(Message):
    versions: list[Version]


class Reference(Message):
    """A recipe as it stands, one of its poured versions, or one as it is being typed."""

    recipe_id: str = Field(max_length=40)
    version: int | None = None
    recipe: Recipe | None = None


class Compare(Message):
    left: Reference
    right: Reference


class Compared(Message):
    """Both names, what differs, and the forecast of each as its own place tells it."""

    left: str
    right: str
    comparison: Comparison
    left_forecast: Forecast
    right_forecast: Forecast


class Cooling(Message):
    """Readings of jug and pot, and when they are wanted together: a band in °C and the widest gap in K."""

    recipe: Recipe
    band: Span
    gap: float = Field(ge=0.5, le=100)
    lye_after: Minutes = Field(default=0.0, ge=-720, le=720)
    jug: tuple[Reading, ...] = Field(default=(), max_length=6)
    pot: tuple[Reading, ...] = Field(default=(), max_length=6)


class BottleName(Message):
    name: Name = Field(min_length=1)


class NewBlend(Message):
    """The scents of a recipe, to be kept as one blend under a name; their loads give the shares."""

    name: Name = Field(min_length=1)
    scents: tuple[Scent, ...] = Field(max_length=MOST_SCENTS)


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


class SpotColour(Message):
    """The colour there, what a maker would call it, and the moment a picture of that age most likely shows."""

    tint: Tint
    name: str
    at: Moment


class FragranceList(Message):
    """Fragrance files; `photos` only when one was asked for."""

    fragrances: list[FragranceFile]
    photos: list[PhotoView] = []
    fresh: bool = Field(default=True, description="whether it is of the log as it stands, not of one a little older")


class ReadyTap(Message):
    act: ReadyAct


class ReadyView(Message):
    """The ready check of a recipe; `minute` is its own clock, which began with the first act."""

    recipe_id: str
    name: str
    minute: Minutes
    parts: tuple[ReadyPart, ...]
    reweigh: tuple[Reweigh, ...]
    state: ReadyState
    band: Span
    meets: Meets
    cues: tuple[Cue, ...]
    before: tuple[Before, ...]
    noted: list[Recalled]
    running: str | None
    aid: tuple[str, ...] = FIRST_AID


class InstrumentsThere(Message):
    """Which instruments can be read."""

    thermometer: bool
    scale: bool


class InstrumentsSet(Message):
    """Whether the simulated thermometer and scale stand in for real ones."""

    simulated: bool


class InstrumentPath(BaseModel):
    kind: InstrumentKind


class StartPour(Message):
    """The pour of a recipe begins; `sure` where it begins though lye was ticked for another weight."""

    recipe_id: str
    sure: bool = False


class Tap(Message):
    event: BenchEvent


class OpenDoubt(Message):
    """A tap that was taken and is doubted; it can be kept unless it `cannot` be where it is, moved, or taken back."""

    target: UUID
    minute: Minutes
    label: str
    message: str
    stands: Stands


class LoggedEvent(Message):
    event: Event
    label: str


class PracticeNow(Message):
    """That a pour is practice, and how many times as fast its clock runs."""

    speed: float


class PractisedLine(Message):
    """A practice pour in memory; what its batter was is said once it has ended."""

    id: str
    recipe: str
    ended: bool
    temper: str


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


class PracticePath(BaseModel):
    practice_id: str = Field(max_length=40)


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
    taught: str = Field(default="", description="what verdicts have taught of its technique, once it has ended")
    harm: str = Field(default="", description="what must be marked on these bars for good")
    aid: tuple[str, ...] = FIRST_AID
    practice: PracticeNow | None = None


class Tinted(Message):
    """A portion by name and the colour it was meant to have."""

    name: str
    tint: str | None


class DeadlineDay(Message):
    """A step with its ISO days: done `by`, with luck still at `latest`; `late` when the first has passed."""

    what: DeadlineStep
    message: str
    by: str
    latest: str
    late: bool


class Dated(Message):
    """Dates counted back from the day a batch must be `ready`; `bars` when its mould gives fewer than wanted."""

    ready: str
    message: str
    met: Literal["met", "tight", "late"]
    bars: str = ""
    deadlines: list[DeadlineDay]


class InOneMould(Message):
    """Another batch in the same mould."""

    id: str
    recipe: str
    started: datetime


class RestView(Message):
    """A batch at rest. Hours in `now` are since `ended_at`; `minute` and `ended` are on the pour's clock."""

    id: str
    recipe_id: str
    recipe: str
    technique: str
    started: datetime
    ended_at: datetime
    minute: Minutes
    ended: Minutes
    came: str | None
    now: RestNow
    bars: int
    harm: str = Field(description="what must be marked on these bars for good")
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


class PoursPage(Page):
    """Which pours: those that wait for something, or came out so."""

    only: Literal["", "waits", "drawn", "different", "lost"] = ""


class PourLine(Message):
    id: str
    recipe: str
    recipe_id: str
    version: int
    scent: str | None
    technique: str
    face: str = Field(description="code of its cut face, by the trace that was seen")
    started: datetime
    ended: Minutes | None
    events: int
    left_out: bool = Field(description="its recipe can no longer be weighed, so nothing is learned from it")
    came: str | None = None
    harm: str = Field(default="", description="what must be marked on these bars for good")
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


class NewPhoto(BaseModel):
    """A picture, JPEG, PNG or WebP, and the days since the pour."""

    file: FileStorage
    days: float = Field(ge=0, le=1000)
    note: str = Field(default="", max_length=200)


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


class FragrancePath(BaseModel):
    fragrance_id: Id
