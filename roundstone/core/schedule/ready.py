"""The ready check: what stands at hand before the lye meets the fats, each to be ticked, each caution at its step."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import AliasChoices, Field, field_validator

from ..face import Tint
from ..heat import Reading, check_band
from ..pour import Flag
from ..recipe import Recipe
from ..sheet import Line
from ..shelf import Scales, Shelf
from ..text import C, Part, Text, joined, say
from ..values import Caution, Celsius, Fault, Grams, Minutes, RuleError, Share, Span, Value, listed
from .choices import STEP_WORDS
from .ledger import tint_of
from .moulded import top_told
from .plan import WORDS, Task
from .worksheet import (
    BEFORE,
    COLOUR,
    COMBINE,
    COOL,
    CUPS,
    HARD,
    HOT,
    JUG,
    JUG_SHARE,
    LYE,
    RAW,
    SCENT,
    SOFT,
    SPLIT,
    WHOLE,
    SheetCup,
    WorkStep,
)

TOOLS = "Tools and shelf"
FORMERLY = AliasChoices("message", "says")  # as it was called when some of what is still kept was written
NEEDED: Mapping[str, str] = {
    "pass": "the wire or comb that is drawn through",
    "spoon": "a spoon or spatula",
    "pipe": "a piping bag, its tip in, and a jug to fill it over",
    "embed": "the embeds, dry and at room warmth",
    "top": "a spoon for the top",
    "spare": "a spare mould",
}  # common practice, by the act of a step
AT_HAND: Mapping[Flag, str] = {
    "ricing": "if it rices: a whisk to smooth it by hand, no stick",
    "seizing": "if it seizes: a stiff spoon, and the mould lined now",
    "false-trace": "if it sets in the cold: a warm water bath",
}  # common practice
NO_MISHAPS: Mapping[Flag, Share] = {}
DRAWN = {words or WORDS["pass"] for words in STEP_WORDS.tools} | {*STEP_WORDS.tools.values()}  # tools, not own steps
BY_TECHNIQUE = {"pass", "spoon"}  # acts whose tool a technique names itself, where it names any
MOST_TICKED = 400
SAME_WEIGHT = 0.0025  # of a weight: what turning it into another unit may change of a reading [chosen]
ALKALI = ("alkali:", "stock")
LYE_LINES = (*ALKALI, "water", "ice", JUG_SHARE)  # keys of the lines that the jug's lye is made of
STAGES: Mapping[str, str] = {
    TOOLS: "Tools",
    CUPS: "Colours in cups",
    COLOUR: "Scent",
    SCENT: "Scent",
    WHOLE: "Into all of it",
    JUG: "Lye into water",
    LYE: "Lye into water",
    HOT: "Lye into water",
    COOL: "Lye into water",
    HARD: "Fat pot",
    SOFT: "Fat pot",
}  # what is done at one place, by the step of the bench sheet
LAST = "Cool, then combine"  # the stage of all others
HOT_AT: Mapping[str, Literal["melted", "mixed"]] = {"Lye into water": "mixed", "Fat pot": "melted"}
ORDER = ("Tools", "Colours in cups", "Lye into water", "Fat pot", "Into all of it", "Scent", LAST)
NAMED_OPEN = 3  # things that are named, before the rest of what is not ticked is counted
LYE_ANEW = "Make the jug anew; put the old solution away safely, as local rules say. Or let the recipe follow."
READINGS = 6  # of each vessel, at most [chosen]
AGAIN = 1.0  # minutes within which a second reading corrects the first [C]
BAND, GAP = 3.0, 6.0  # °C either side of the pour's, and between jug and pot, unless the maker says otherwise [C]


class ReadyItem(Value):
    """Something to stand ready or to be weighed; `key` is what is ticked, `line` the sheet's key of what is weighed.
    `shown` is what the scale shows, `reading` the same in grams; `cup` the portion whose cup it goes into, where it is
    told as its `name`. `ticked`: it stands ready, and as it is now.
    """

    key: str
    cup: str = ""
    name: str = ""
    message: Text
    shown: Text = Text.NONE
    also: Text = Text.NONE
    tint: Tint | None = None
    reading: Grams | None = None
    line: str = ""
    ticked: bool = False


class Reweigh(Value):
    """A tick that was given for another weight, or for what stands in the recipe no more: what `says` it, how to put it
    right (`does`), and whether it is of the lye."""

    key: str
    message: Text
    does: Text
    lye: bool


class ReadyPart(Value):
    """What is got ready in one go, in the order of work, with what to beware of while doing it."""

    title: str
    does: Text
    items: tuple[ReadyItem, ...]
    cautions: tuple[Caution, ...]


class ReadyStage(Value):
    """What hands do at one place before they turn to the next: `told` is how far it is, `open` names what is not ticked
    yet, `done` that nothing is; `hot` is what is tapped when it is `melted` or `mixed` there."""

    title: str
    told: Text
    open: Text
    done: bool
    hot: Literal["melted", "mixed"] | None
    parts: tuple[ReadyPart, ...]


class Ticked(Value):
    """What was ticked, as it was read: its words, and grams where it is weighed, on which line of the sheet."""

    message: str = Field(default="", validation_alias=FORMERLY)
    grams: Grams | None = None
    line: str = ""


class ReadyState(Value):
    """What the maker has ticked and read so far. All minutes are on the ready check's own clock, which begins with its
    first act: when the fats were `melted`, the lye `mixed`, and each reading taken. `notes` are those for next time
    that were heeded or set aside, by id."""

    ticked: dict[str, Ticked] = Field(default={}, max_length=400)
    melted: Minutes | None = None
    mixed: Minutes | None = None
    jug: tuple[Reading, ...] = Field(default=(), max_length=READINGS)
    pot: tuple[Reading, ...] = Field(default=(), max_length=READINGS)
    band: Span | None = None
    gap: float = Field(default=GAP, ge=0.5, le=100)
    notes: dict[str, Literal["heeded", "aside"]] = Field(default={}, max_length=100)

    @field_validator("ticked", mode="before")
    @classmethod
    def _as_read(cls, value: Any) -> Any:
        # Of an older program: it did not keep what was read, so nothing that is weighed stands.
        return {key: {} for key in value} if isinstance(value, list | tuple) else value


class Tick(Value):
    """A thing stands ready, or does not after all; of what is weighed so many `grams`, as the hand read them."""

    kind: Literal["tick"] = "tick"
    key: str = Field(max_length=200)
    on: bool = True
    grams: Grams | None = Field(default=None, ge=0, le=1_000_000)
    message: str = Field(default="", max_length=200, validation_alias=FORMERLY)
    line: str = Field(default="", max_length=200)


class HotNow(Value):
    """The fats are melted, or the lye is mixed, at this moment; or that was a slip."""

    kind: Literal["hot"] = "hot"
    what: Literal["melted", "mixed"]
    on: bool = True


class ReadingTaken(Value):
    """A thermometer's reading of a vessel at this moment."""

    kind: Literal["reading"] = "reading"
    vessel: Literal["jug", "pot"]
    celsius: Celsius = Field(ge=-5, le=120)


class WantedTogether(Value):
    """Between which °C jug and pot are wanted (None: about the recipe's own), and how near each other."""

    kind: Literal["wanted"] = "wanted"
    band: Span | None = None
    gap: float = Field(default=GAP, ge=0.5, le=100)


class NoteMet(Value):
    """A note for next time is heeded, or set aside; or that was a slip."""

    kind: Literal["note"] = "note"
    note: UUID
    how: Literal["", "heeded", "aside"]


ReadyAct = Annotated[Tick | HotNow | ReadingTaken | WantedTogether | NoteMet, Field(discriminator="kind")]


def acted(state: ReadyState, act: ReadyAct, minute: Minutes) -> ReadyState:
    """The ready check after an act at that minute of it. RuleError for a reading of a vessel that is not hot yet, and
    for a band that is none."""
    match act:
        case Tick():
            ticked = {k: v for k, v in state.ticked.items() if k != act.key}
            if act.on and len(ticked) < MOST_TICKED:
                ticked[act.key] = Ticked(message=act.message, grams=act.grams, line=act.line)
            return state.model_copy(update={"ticked": ticked})
        case HotNow():
            return state.model_copy(update={act.what: minute if act.on else None})
        case ReadingTaken():
            if (state.mixed if act.vessel == "jug" else state.melted) is None:
                what = "the lye is mixed" if act.vessel == "jug" else "the fats are melted"
                raise RuleError(Fault(pointer="/celsius", message=f"Tap first that {what}."))
            # Readings of one moment correct each other.
            rest = [r for r in getattr(state, act.vessel) if abs(r.minute - minute) >= AGAIN]
            taken = (*rest, Reading(minute=minute, celsius=act.celsius))
            return state.model_copy(update={act.vessel: taken[-READINGS:]})
        case NoteMet():
            notes = {k: v for k, v in state.notes.items() if k != str(act.note)}
            if act.how:
                notes[str(act.note)] = act.how
            return state.model_copy(update={"notes": notes})
        case WantedTogether():
            if act.band is not None:
                check_band(act.band)
            return state.model_copy(update={"band": act.band, "gap": act.gap})


def band_of(recipe: Recipe, state: ReadyState) -> Span:
    """The °C between which jug and pot are wanted."""
    return state.band or Span(low=recipe.pour_celsius - BAND, high=recipe.pour_celsius + BAND)


def ready_parts(
    recipe: Recipe,
    steps: Sequence[WorkStep],
    tasks: Sequence[Task],
    short: Sequence[Caution],
    state: ReadyState,
    shelf: Shelf,
    mishaps: Mapping[Flag, Share] = NO_MISHAPS,
) -> tuple[ReadyPart, ...]:
    """What to get ready, in the order of work. `steps` are the bench sheet's, `short` what the shelf is short of,
    `mishaps` what may go wrong, with its odds."""
    parts, scales = _parts(recipe, shelf, steps, tasks, short, mishaps), shelf.scales
    return tuple(
        part.model_copy(
            update={
                "items": tuple(i.model_copy(update={"ticked": stands(i, state, scales)}) for i in part.items),
            }
        )
        for part in parts
    )


def stands(item: ReadyItem, state: ReadyState, scales: Scales) -> bool:
    """Whether an item is ticked for what it is now: one step of the scale more or less is another weight, and another
    vessel another item."""
    found = state.ticked.get(item.key)
    if found is None or item.reading is None:
        return found is not None
    if found.grams is None or found.message != item.message:
        return False
    give = min(scales.step(item.reading) / 2, SAME_WEIGHT * item.reading)
    return abs(found.grams - item.reading) <= give


def stages(parts: Sequence[ReadyPart]) -> tuple[ReadyStage, ...]:
    """The parts by the place where they are done, in the order of hands."""
    found = []
    for title in ORDER:
        mine = tuple(p for p in parts if STAGES.get(p.title, LAST) == title)
        items = [i for p in mine for i in p.items]
        left = list(dict.fromkeys(say(i.cup) if i.cup else i.message for i in items if not i.ticked))
        ticked = sum(i.ticked for i in items)
        more = f" and {len(left) - NAMED_OPEN} more" if len(left) > NAMED_OPEN else ""
        if mine:
            found.append(
                ReadyStage(
                    title=title,
                    told=f"{ticked} of {len(items)}" if items else "",
                    open=say(joined(", ", left[:NAMED_OPEN]), more) if left else "",
                    done=bool(items) and not left,
                    hot=HOT_AT.get(title),
                    parts=mine,
                )
            )
    return tuple(found)


def weighed(parts: Sequence[ReadyPart], state: ReadyState) -> dict[str, Grams]:
    """What was weighed on each line of the sheet, in grams; of what is weighed cup by cup, once every cup was."""
    of_line: dict[str, list[str]] = {}
    for item in (i for p in parts for i in p.items if i.line):
        of_line.setdefault(item.line, []).append(item.key)
    out = {t.line: t.grams for k, t in state.ticked.items() if t.line not in of_line and t.line and t.grams is not None}
    for line, keys in of_line.items():
        grams = [t.grams for k in keys if (t := state.ticked.get(k)) is not None and t.grams is not None]
        if len(grams) == len(keys):
            out[line] = sum(grams)
    return out


def to_reweigh(parts: Sequence[ReadyPart], state: ReadyState, shown: Callable[[Grams], Text]) -> tuple[Reweigh, ...]:
    """Ticks that stand no more, the lye's first, with how to put it right; `shown` tells a weight on the scales."""
    items = {i.key: i for part in parts for i in part.items}
    found = []
    for key, was in state.ticked.items():
        item = items.get(key)
        if (item is not None and item.ticked) or (was.grams is None and (item is None or item.reading is None)):
            continue
        lye = was.line.startswith(LYE_LINES)
        name = was.message or (item.message if item is not None else key.partition("/")[2])
        if item is None or item.reading is None:
            message = say(name, ": you weighed ", shown(was.grams or 0.0), ", and the recipe has it there no more.")
        elif was.grams is None:
            message = say(name, ": ticked, and nobody kept for what weight; it is ", item.shown, " now.")
        else:
            moved = say(", ", item.message) if item.message != name else ""
            message = say(name, ": you weighed ", shown(was.grams), ", it is ", item.shown, moved, " now.")
        found.append(Reweigh(key=key, message=message, does=LYE_ANEW if lye else _put_right(item, was, shown), lye=lye))
    first = {r.key: 2 - r.lye - state.ticked[r.key].line.startswith(ALKALI) for r in found}
    return tuple(sorted(found, key=lambda r: first[r.key]))


def _put_right(item: ReadyItem | None, was: Ticked, shown: Callable[[Grams], Text]) -> Text:
    if item is None or item.reading is None or was.grams is None:
        return say("Put it away, or weigh it anew.")
    more = item.reading - was.grams
    return say("Add ", shown(more), ".") if more > 0 else say("Take ", shown(-more), " out, if it lies by itself.")


def _parts(
    recipe: Recipe,
    shelf: Shelf,
    steps: Sequence[WorkStep],
    tasks: Sequence[Task],
    short: Sequence[Caution],
    mishaps: Mapping[Flag, Share],
) -> tuple[ReadyPart, ...]:
    before = next(s for s in steps if s.title == BEFORE)
    tints = {p.name: tint_of(recipe, shelf, i) for i, p in enumerate(recipe.design.portions)}
    cautions = (*before.cautions, *short)
    parts = [
        ReadyPart(title=TOOLS, does=before.does, items=tuple(_tools(recipe, shelf, tasks, mishaps)), cautions=cautions)
    ]
    for step in steps:
        in_cups = {t.line for c in step.cups for t in c.takes if t.line}
        items = [_item(step.title, line, tints) for line in step.lines if line.key not in in_cups]
        for cup in step.cups:
            items += [_vessel(step.title, cup)] if step.title == SPLIT else _taken(step.title, cup)
        if step is not before and (items or step.cautions or step.title == COMBINE):
            parts.append(ReadyPart(title=step.title, does=step.does, items=tuple(items), cautions=step.cautions))
    return tuple(parts)


def _vessel(title: str, cup: SheetCup) -> ReadyItem:
    return ReadyItem(key=f"{title}/{cup.vessel}", message=f"label {cup.vessel}", tint=cup.tint)


def _taken(title: str, cup: SheetCup) -> list[ReadyItem]:
    """What a cup takes, each with its own tick."""
    return [
        ReadyItem(
            key=f"{title}/{cup.portion} {t.line or t.of}",
            cup=cup.portion,
            name=t.of,
            message=f"{t.of}, {cup.portion}" if title == RAW else f"{t.of}, into {cup.portion}",
            shown=t.shown,
            tint=cup.tint,
            reading=t.reading,
            line=t.line,
        )
        for t in cup.takes
    ]


def _item(title: str, line: Line, tints: Mapping[str, Tint]) -> ReadyItem:
    into = f", into {line.into}" if line.into else ""
    name = f"in {line.name.lower()}" if line.kind == "carrier" else line.name
    return ReadyItem(
        key=f"{title}/{line.kind} {line.key}",
        cup=line.into,
        name=name,
        message=f"{name}{into}",
        shown=line.shown,
        also=line.also or line.spoons,
        tint=tints.get(line.into),
        reading=line.reading,
        line=line.key,
    )


def _tools(recipe: Recipe, shelf: Shelf, tasks: Sequence[Task], mishaps: Mapping[Flag, Share]) -> Iterator[ReadyItem]:
    """Common practice, no source."""
    told: list[tuple[str, Part]] = [
        ("goggles", "goggles and gloves on, sleeves down"),
        ("air", "window open, children and animals out, water at hand"),
        ("scale", "scale and thermometer, both on"),
        ("stick", "stick blender: plug out whenever a hand is near the blades"),
        ("mould", "mould lined, level, and where it can stay"),
    ]
    scented = [p.name for p in recipe.design.portions if p.scented] if recipe.scents else []
    if scented:
        told.append(("whisk", f"a whisk for the scent, into {listed(scented)}"))
    technique = shelf.techniques.get(recipe.design.technique)
    named = {s.do for s in technique.steps} & BY_TECHNIQUE if technique is not None and technique.tools else set()
    own = {s.key for s in tasks if s.do == "pass" and s.label not in DRAWN}
    acts = dict.fromkeys(s.do for s in tasks if s.do in NEEDED and s.do not in named and s.key not in own)
    told += [(f"act {do}", NEEDED[do]) for do in acts]
    drawn = (recipe.design.technique, *(r.technique for r in recipe.design.ready))
    told += [
        (f"tool {tool}", tool) for name in drawn if name in shelf.techniques for tool in shelf.techniques[name].tools
    ]
    told += [(f"if {flag}", say(AT_HAND[flag], f" ({100 * odds:.0f} %)")) for flag, odds in mishaps.items()
             if flag in AT_HAND]  # fmt: skip
    if recipe.design.wrap == "oven":
        told.append(
            ("oven", say("oven warmed to ", C(65), " to ", C(70), ", and switched off before the mould goes in"))
        )
    told += [(f"top {n}", t) for n, t in enumerate(top_told(recipe))]
    told.append(("cover", "lid or film, and a towel if it is to stay warm"))
    yield from (ReadyItem(key=f"{TOOLS}/{key}", message=message) for key, message in dict.fromkeys(told))
