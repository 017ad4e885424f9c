"""What can happen to a batter at the bench, as events; nothing is ever changed, and undo is an event too."""

from dataclasses import dataclass
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field, TypeAdapter

from ..formerly import KeptText
from ..shelf import STAGES, Stage, TechniqueId
from ..values import Celsius, Grams, Minutes, Name, Share
from . import after
from .after import LONGEST, PouredEvent


@dataclass(frozen=True)
class Look:
    """What was seen and when; `level` counts stages as techniques do. It may tell `only` a bound: at least, at most."""

    minute: float
    level: int
    only: Literal["", "least", "most"] = ""


# Half the width of "it came to medium about then": minutes, and share of the minute where that is more. [C]
TURNED = (0.5, 0.1)


class StageSeen(PouredEvent):
    """The batter of a portion (None: the pot, or every portion) was looked at and is at `stage`.

    With `turned` it came to that stage about then, as notebooks have it; else since when it was there is open.
    """

    kind: Literal["seen"] = "seen"
    portion: Name | None = None
    stage: Stage
    turned: bool = False

    @property
    def looks(self) -> tuple["Look", ...]:
        """What this says of the batter: its level then, or before and after it turned."""
        level = STAGES.index(self.stage)
        if not self.turned or level == 1:
            return (Look(self.minute, level),)
        give = max(TURNED[0], TURNED[1] * self.minute)
        return Look(max(self.minute - give, 0.0), level - 1), Look(self.minute + give, level)


class Worked(PouredEvent):
    """A stretch of blending or whisking that ended at `minute`; on `purpose` to thicken it, or to loosen it."""

    kind: Literal["work"] = "work"
    portion: Name | None = None
    tool: Literal["stick", "hand"] = "stick"
    seconds: float = Field(gt=0, le=1800)
    purpose: Literal["mix", "thicken", "loosen"] = "mix"


class Split(PouredEvent):
    """The batter was divided into the design's portions."""

    kind: Literal["split"] = "split"


class ScentIn(PouredEvent):
    """The fragrance went in: into one portion, or (None) the whole pot.

    As planned, or so many `grams`, or a `share` of the full dose.
    """

    kind: Literal["scent"] = "scent"
    portion: Name | None = None
    grams: Grams | None = Field(default=None, ge=0, le=100_000)
    share: Share | None = Field(default=None, ge=0, le=20)


class LeftUnscented(PouredEvent):
    """The fragrance was left out on purpose: of one portion, or (None) of all that had none yet."""

    kind: Literal["unscented"] = "unscented"
    portion: Name | None = None


class ScentInTurn(PouredEvent):
    """From now on every portion gets its fragrance just before it is poured."""

    kind: Literal["in-turn"] = "in-turn"


class TemperatureRead(PouredEvent):
    kind: Literal["temperature"] = "temperature"
    celsius: Celsius = Field(ge=-5, le=110)


class TechniqueChanged(PouredEvent):
    kind: Literal["switch"] = "switch"
    technique: TechniqueId


class PouringBegan(PouredEvent):
    kind: Literal["pouring"] = "pouring"


class Combined(PouredEvent):
    """Lye met the fats of another batch; the first one's is minute 0."""

    kind: Literal["combined"] = "combined"
    batch: Name


class StepDone(PouredEvent):
    """A step of the plan was finished; named as the plan names it. `changed` if it was done, but otherwise."""

    kind: Literal["step"] = "step"
    step: str = Field(min_length=1, max_length=200)
    changed: bool = False


class StepSkipped(PouredEvent):
    """A step of the plan is left out."""

    kind: Literal["skip"] = "skip"
    step: str = Field(min_length=1, max_length=200)


class Folded(PouredEvent):
    """A portion was folded into another, or several."""

    kind: Literal["fold"] = "fold"
    portion: Name
    into: tuple[Name, ...] = Field(min_length=1, max_length=24)


class Spared(PouredEvent):
    """A portion's rest (None: all that is left) went into a spare mould."""

    kind: Literal["spare"] = "spare"
    portion: Name | None = None


Stood = Literal["stands", "wet", "slumps"]


class LayerTested(PouredEvent):
    """What was poured last was tilted and touched: it stands, has a film but is wet below, or slumps."""

    kind: Literal["layer"] = "layer"
    portion: Name
    how: Stood

    @property
    def look(self) -> "Look":
        """What it says of the batter: what stands is past medium, what does not is not yet thick."""
        medium = STAGES.index("medium")
        return Look(self.minute, medium, "least" if self.how == "stands" else "most")


class Paused(PouredEvent):
    """Hands are off the pour until the next tap, be it tomorrow: no step is taken as done meanwhile."""

    kind: Literal["pause"] = "pause"


class Resumed(PouredEvent):
    """Hands are on the pour again."""

    kind: Literal["resume"] = "resume"


class Renamed(PouredEvent):
    """A portion is called otherwise from now on; what was tapped under its old names stays its own."""

    kind: Literal["rename"] = "rename"
    portion: Name
    to: Name = Field(min_length=1)


Remark = Literal[
    "watery-top", "odd-colour", "smell", "lumps", "air", "spilled", "residue", "ran-short", "words"
]  # fmt: skip


class Remarked(PouredEvent):
    """Something seen that changes nothing of the plan, by a chip or in words: kept for who looks back."""

    kind: Literal["remark"] = "remark"
    portion: Name | None = None
    what: Remark
    says: str = Field(default="", max_length=300)


class LeftOut(PouredEvent):
    """This pour is left out of learning."""

    kind: Literal["unlearned"] = "unlearned"


Flag = Literal["ricing", "seizing", "separation", "false-trace", "overheating", "soup"]
Shade = Literal["true", "tint", "tan", "brown", "odd"]


class Flagged(PouredEvent):
    """Something went wrong with a portion (None: with all of it)."""

    kind: Literal["flag"] = "flag"
    portion: Name | None = None
    flag: Flag


class Mended(PouredEvent):
    """How it ended, what was flagged: it came smooth again, was used rough, or was lost."""

    kind: Literal["mended"] = "mended"
    portion: Name | None = None
    flag: Flag
    how: Literal["smooth", "rough", "lost"]


CameOut = Literal["drawn", "different", "lost"]


class Judged(PouredEvent):
    """How the pour came out: as planned, different but it would sell, or lost."""

    kind: Literal["verdict"] = "verdict"
    came: CameOut


class NothingAmiss(PouredEvent):
    """The maker says that nothing else went wrong: an answer, where silence is none."""

    kind: Literal["smooth"] = "smooth"


class ColourSeen(PouredEvent):
    """The colour of a portion some days after the pour, against the one it was meant to have."""

    kind: Literal["colour"] = "colour"
    portion: Name | None = None
    days: float = Field(ge=0, le=1000)
    shade: Shade


About = Annotated[str, Field(pattern=r"^(recipe|mould|(fragrance|technique|colour):.{1,80})$")]


class NextTime(PouredEvent):
    """What the maker would do otherwise next time, `about` what: it returns wherever that is planned and poured again.

    About the recipe, its mould, or one fragrance, technique or colour, by id.
    """

    kind: Literal["next"] = "next"
    says: str = Field(min_length=1, max_length=300)
    about: About = "recipe"


class Ended(PouredEvent):
    """The mould is full; this pour can be learned from."""

    kind: Literal["ended"] = "ended"


class Undone(PouredEvent):
    kind: Literal["undo"] = "undo"
    target: UUID


class Kept(PouredEvent):
    """The maker stands by a tap that was doubted."""

    kind: Literal["kept"] = "kept"
    target: UUID


class Moved(PouredEvent):
    """The maker says that a tap was made at another minute."""

    kind: Literal["moved"] = "moved"
    target: UUID
    to: Minutes = Field(ge=0, le=LONGEST)


# A doubted tap counts meanwhile, waits until it is kept, or cannot count where it is.
Stands = Literal["counts", "waits", "cannot"]


class Doubted(PouredEvent):
    """The rules doubt a tap: why, and how it stands until the maker has answered."""

    kind: Literal["doubted"] = "doubted"
    target: UUID
    says: KeptText
    stands: Stands


Note = Undone | Kept | Moved | Doubted  # of other events, not of the batter
_Tap = (
    StageSeen
    | Combined
    | StepDone
    | StepSkipped
    | Folded
    | Spared
    | LayerTested
    | Paused
    | Resumed
    | Renamed
    | Remarked
    | Mended
    | Judged
    | LeftOut
    | Worked
    | Split
    | ScentIn
    | LeftUnscented
    | ScentInTurn
    | TemperatureRead
    | TechniqueChanged
    | PouringBegan
    | Flagged
    | NothingAmiss
    | ColourSeen
    | NextTime
    | Ended
    | Undone
    | Kept
    | Moved
    | after.Rest
    | after.Heeded
)
BenchEvent = Annotated[_Tap, Field(discriminator="kind")]
Event = Annotated[_Tap | Doubted, Field(discriminator="kind")]
EVENT: TypeAdapter[Event] = TypeAdapter(Event)


def clock_text(minute: float) -> str:
    """Minutes as the bench clock shows them, m:ss, with hours before them where there are any.

    >>> clock_text(4.175), clock_text(1500.5)
    ('4:10', '25:00:30')
    """
    hours, seconds = divmod(round(minute * 60), 3600)
    rest = f"{seconds // 60}:{seconds % 60:02d}"
    return f"{hours}:{rest:0>5}" if hours else rest
