"""What is only reckoned: weights, forecasts, plans, comparisons."""

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from ...core.advise import Mishap
from ...core.forecast import FallBack, Forecast, Hazard, Levers, Reasons, School, Scouting, TechniqueOutlook
from ...core.heat import HeatPlan, Reading
from ...core.recipe import Recipe, Step
from ...core.schedule import (
    Asks,
    Ledger,
    StepAct,
)
from ...core.sheet import Act, BarsWanted, Comparison, Label, PlaceAct, SetColours, SizeWords, Supply, ToWeigh, Weighing
from ...core.text import Text
from ...core.values import Caution, Fault, Id, Minutes, Name, Span
from .common import Dated, Message


class Weigh(Message):
    recipe: Recipe


class Ask(Weigh):
    seed: str = Field(default="", max_length=80, description="keeps the dice of one recipe or pour the same")


class AskOf(Ask):
    portion: Name


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
    Act | SetColours | BarsWanted | StepAct | UsePattern | PullLever | UseBlend | BlendApart | ToWeigh | PlaceAct,
    Field(union_mode="left_to_right"),
]


class Adjust(Message):
    """An act on a recipe, which comes back weighed."""

    recipe: Recipe
    act: AnyAct


class Weights(Message):
    """A recipe weighed, which takes a moment; while it has faults all is missing but the weighing and the `gravest`
    things to be said beside its lye. Its plan is of so many `days` at the bench."""

    weighing: Weighing
    days: int
    gravest: tuple[Caution, ...]
    size: SizeWords
    heat: HeatPlan | None = None
    label: Label | None = None
    supply: Supply | None = None
    ledger: Ledger | None = None


class ReasonsOf(Message):
    reasons: Reasons | None = None


class RecipeForecast(Message):
    """What a recipe's batter will do, or the `faults` for which nothing can be told. `steps` are those of its plan,
    spelled out, in the order of the forecast's, and `asks` what each wants of the batter."""

    forecast: Forecast | None = None
    reasons: Reasons | None = None
    faults: tuple[Fault, ...] = ()
    schools: tuple[School, ...] = ()
    steps: tuple[Step, ...] = ()
    asks: tuple[Asks | None, ...] = ()
    dated: "Dated | None" = None


class Adjusted(Message):
    recipe: Recipe
    weighed: Weights


class Prospects(Message):
    """What else can go wrong with a recipe, what to try first, and what missing figures cost."""

    hazards: tuple[Hazard, ...] = ()
    scouting: Scouting | None = None


class PlanView(Message):
    """Levers, how every technique would do in this batter, fall-backs under the risky steps, and what may go wrong."""

    levers: Levers | None = None
    techniques: tuple[TechniqueOutlook, ...] = ()
    fall_backs: tuple[FallBack, ...] = ()
    mishaps: tuple[Mishap, ...] = ()


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

    left: Text
    right: Text
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
