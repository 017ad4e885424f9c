"""What can happen to a batch once it is poured: covered, unmoulded, cut, weighed, judged; days long, written late."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field

from ..text import C, G, Text, figure, joined, say
from ..values import Celsius, Grams, Minutes, Name, Value

LONGEST = 10 * 366 * 24 * 60.0  # minutes; a pour lasts as long as it lasts, this only keeps nonsense out [chosen]
Tint = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]


class PouredEvent(Value):
    """`minute` is on the pour's clock, 0 when the lye met the fats. `sure` overrules a question the app asked."""

    id: UUID
    minute: Minutes = Field(ge=0, le=LONGEST)
    sure: bool = False


Cover = Literal["open", "covered", "insulated", "oven", "oven-off", "cold"]


class Wrapped(PouredEvent):
    """From now on it rests so; `celsius` is what the oven is set to. An oven turned off keeps its warmth for hours."""

    kind: Literal["wrap"] = "wrap"
    how: Cover
    celsius: Celsius | None = Field(default=None, ge=25, le=120)


class Misted(PouredEvent):
    """Alcohol was misted on against ash."""

    kind: Literal["mist"] = "mist"


Felt = Literal["dents", "gives", "firm"]


class Touched(PouredEvent):
    """A finger on the block: it dents, gives a little or is firm."""

    kind: Literal["touch"] = "touch"
    how: Felt


class Unmoulded(PouredEvent):
    """Out of the mould: clean, or it stuck or tore."""

    kind: Literal["unmould"] = "unmould"
    how: Literal["clean", "stuck", "tore"] = "clean"


CutFelt = Literal["dents", "drags", "clean", "hard"]
CutTool = Literal["wire", "knife"]


class Cut(PouredEvent):
    """Cut into bars: how it felt, with what, how many bars it gave and what was cut off, weighed."""

    kind: Literal["cut"] = "cut"
    how: CutFelt
    tool: CutTool = "wire"
    bars: int | None = Field(default=None, ge=1, le=5000)
    offcuts: Grams | None = Field(default=None, ge=0, le=100_000)


class BarsCounted(PouredEvent):
    """How many bars there are of it, counted at the cut or later; the last count holds."""

    kind: Literal["bars"] = "bars"
    bars: int = Field(ge=1, le=5000)


Work = Literal["planed", "bevelled", "stamped", "steamed"]


class Finished(PouredEvent):
    """A hand on the bars: planed, bevelled, stamped or steamed; how it went."""

    kind: Literal["finish"] = "finish"
    what: Work
    how: Literal["clean", "soft", "hard"] = "clean"


Gelled = Literal["none", "ring", "full"]


class GelSeen(PouredEvent):
    """What gelled, as the section shows it."""

    kind: Literal["gel"] = "gel"
    how: Gelled


Much = Literal["none", "some", "much"]


class AshSeen(PouredEvent):
    """White ash on top."""

    kind: Literal["ash"] = "ash"
    how: Much


class BlockSeen(PouredEvent):
    """Something amiss with the block: it seeps or is cracked."""

    kind: Literal["block"] = "block"
    what: Literal["seeping", "cracked"]


class Weighed(PouredEvent):
    """One marked bar on the scale; `bar` is what it is marked with, `mould` which of the recipe's moulds it is from."""

    kind: Literal["weigh"] = "weigh"
    bar: Name = Field(default="1", min_length=1)
    mould: int = Field(default=0, ge=0, le=23)
    grams: Grams = Field(gt=0, le=50_000)


class Tested(PouredEvent):
    """The maker's own test on the tongue or with a strip: a note, and no proof that a bar is safe."""

    kind: Literal["test"] = "test"
    zaps: bool | None = None
    ph: float | None = Field(default=None, ge=0, le=14)


Moment = Literal["wet", "scented", "cut", "week", "cured"]
SWATCH_AT: dict[Moment, str] = {
    "wet": "wet",
    "scented": "scented",
    "cut": "at the cut",
    "week": "a week",
    "cured": "cured",
}


class SwatchSeen(PouredEvent):
    """The colour of a portion (None: of all), as picked from a picture or by eye."""

    kind: Literal["swatch"] = "swatch"
    portion: Name | None = None
    at: Moment
    tint: Tint


Ask = Literal["definition", "colour", "ricing", "rivers", "scent", "sell", "again"]
Answer = Literal["yes", "partly", "no"]


class Answered(PouredEvent):
    """One answer to one question at the cut, after a week, or cured; of one portion or of all."""

    kind: Literal["answer"] = "answer"
    portion: Name | None = None
    at: Literal["cut", "week", "cured"]
    ask: Ask
    says: Answer


class Heeded(PouredEvent):
    """A note of an earlier pour (`note`, by its id), met again while this one was made: heeded, or set aside."""

    kind: Literal["heed"] = "heed"
    note: UUID
    how: Literal["heeded", "aside"]


class Signed(PouredEvent):
    """Somebody looked the batch's record through and stands for it; `by` is the name they sign with."""

    kind: Literal["sign"] = "sign"
    by: Name = Field(min_length=1)


class Joined(PouredEvent):
    """It went into one mould with another batch (`other`, by its id): they are unmoulded and cut as one block."""

    kind: Literal["join"] = "join"
    other: Annotated[str, Field(max_length=60)]


Rest = (
    Joined
    | Wrapped
    | Misted
    | Touched
    | Unmoulded
    | Cut
    | BarsCounted
    | Finished
    | GelSeen
    | AshSeen
    | BlockSeen
    | Weighed
    | Tested
    | SwatchSeen
    | Answered
    | Signed
)

COVERED: dict[Cover, str] = {
    "open": "uncovered",
    "covered": "covered",
    "insulated": "in a towel",
    "oven": "in the warm oven",
    "oven-off": "oven off, left inside",
    "cold": "in a cold place",
}
CUT_FELT: dict[CutFelt, str] = {
    "dents": "it dented",
    "drags": "it dragged",
    "clean": "clean",
    "hard": "had to be pushed",
}
FELT: dict[Felt, str] = {"dents": "a finger dents it", "gives": "gives a little", "firm": "firm"}
GELLED: dict[Gelled, str] = {"none": "no gel", "ring": "a gelled ring", "full": "gelled through"}
ASKED: dict[Ask, str] = {
    "definition": "lines as sharp as hoped",
    "colour": "colours as hoped",
    "ricing": "free of grains",
    "rivers": "free of glycerin rivers",
    "scent": "scent holds",
    "sell": "would sell it",
    "again": "would make it again",
}
ANSWERS: dict[Answer, str] = {"yes": "yes", "partly": "partly", "no": "no"}


def rest_label(event: Rest | Heeded) -> Text:  # noqa: PLR0911, PLR0912 - one return a kind
    """A rest event in words."""
    match event:
        case Joined():
            return say("in one mould with another batch")
        case Wrapped():
            return say(COVERED[event.how] + (say(", ", C(event.celsius)) if event.celsius is not None else ""))
        case Misted():
            return say("misted with alcohol")
        case Touched():
            return say(FELT[event.how])
        case Unmoulded():
            return say("unmoulded" + {"clean": "", "stuck": ", it stuck", "tore": ", it tore"}[event.how])
        case Cut():
            bars = f", {event.bars} bars" if event.bars else ""
            off = say(", ", G(event.offcuts), " offcuts") if event.offcuts else ""
            return say("cut by ", event.tool, ": ", CUT_FELT[event.how], bars, off)
        case BarsCounted():
            return say("1 bar" if event.bars == 1 else f"{event.bars} bars", " counted")
        case Finished():
            return say(event.what + {"clean": "", "soft": ", too soft", "hard": ", too hard"}[event.how])
        case GelSeen():
            return say(GELLED[event.how])
        case AshSeen():
            return say("ash: ", event.how)
        case BlockSeen():
            return say(event.what)
        case Weighed():
            return say("bar ", event.bar, " weighs ", G(event.grams))
        case Tested():
            zap = {True: "zaps", False: "no zap", None: ""}[event.zaps]
            ph = say("pH ", figure(event.ph)) if event.ph is not None else ""
            return say("own test: ", joined(", ", filter(None, (zap, ph))))
        case SwatchSeen():
            return say("colour ", event.tint, " (", event.at, ")")
        case Signed():
            return say("record signed by ", event.by)
        case Answered():
            return say(ASKED[event.ask], ": ", ANSWERS[event.says], " (", event.at, ")")
        case Heeded():
            return say("an earlier note was heeded" if event.how == "heeded" else "an earlier note was set aside")
