"""The ready check: what stands at hand before the lye meets the fats, each to be ticked, each caution at its step."""

from collections.abc import Callable, Mapping, Sequence
from typing import Literal

from ..face import Tint
from ..pour import Flag
from ..recipe import Recipe
from ..sheet import Line
from ..shelf import Scales, Shelf
from ..text import Part, Text, joined, say
from ..values import Caution, Grams, Share, Value
from .cups import JUG_SHARE, SheetCup
from .ledger import tint_of
from .ready_state import ReadyState, Ticked
from .task import Task, tasks_on
from .tools import NO_MISHAPS, tools
from .work_step import (
    BEFORE,
    COLOUR,
    COMBINE,
    COOL,
    CUPS,
    HARD,
    HOT,
    JUG,
    KEPT,
    LYE,
    RAW,
    SCENT,
    SOFT,
    SPLIT,
    WHOLE,
    WorkStep,
)

TOOLS = "Tools and shelf"
SAME_WEIGHT = 0.0025  # of a weight: what turning it into another unit may change of a reading [chosen]
ALKALI = ("alkali:", "stock")
LYE_LINES = (*ALKALI, "water", "ice", JUG_SHARE)  # keys of the lines that the jug's lye is made of
AGAIN = "Warm the fats again"  # of a later day
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
    KEPT: AGAIN,
}  # what is done at one place, by the step of the bench sheet
LAST = "Cool, then combine"  # the stage of all others
HOT_AT: Mapping[str, Literal["melted", "mixed"]] = {"Lye into water": "mixed", "Fat pot": "melted", AGAIN: "melted"}
ORDER = ("Tools", "Colours in cups", "Lye into water", "Fat pot", AGAIN, "Into all of it", "Scent", LAST)
NAMED_OPEN = 3  # things that are named, before the rest of what is not ticked is counted
LYE_ANEW = "Make the jug anew; put the old solution away safely, as local rules say. Or let the recipe follow."


class ReadyItem(Value):
    """Something to stand ready or to be weighed; `key` is what is ticked, `line` the sheet's key of what is weighed.
    `shown` is what the scale shows, `reading` the same in grams; `cup` the portion whose cup it goes into, where it is
    told as its `name`, and `lot` where it is taken from. `ticked`: it stands ready, and as it is now.
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
    lot: str = ""
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


def ready_parts(
    recipe: Recipe,
    steps: Sequence[WorkStep],
    tasks: Sequence[Task],
    short: Sequence[Caution],
    state: ReadyState,
    shelf: Shelf,
    mishaps: Mapping[Flag, Share] = NO_MISHAPS,
    day: int = 1,
) -> tuple[ReadyPart, ...]:
    """What to get ready on a day of the build, 1 the first, in the order of work. `steps` are the bench sheet's,
    `short` what the shelf is short of, `mishaps` what may go wrong, with its odds."""
    steps = [s for s in steps if s.day == day]
    mine = [t for t, on in zip(tasks, tasks_on(tasks), strict=True) if on == day - 1]
    at_hand = tuple(tools(recipe, shelf, mine, mishaps, day))
    parts, scales = _parts(recipe, shelf, steps, at_hand, short if day == 1 else ()), shelf.scales
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


def stages(parts: Sequence[ReadyPart], day: int = 1) -> tuple[ReadyStage, ...]:
    """The parts of a day by the place where they are done, in the order of hands."""
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
                    title=COMBINE if title == LAST and day > 1 else title,
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
    at_hand: Sequence[tuple[str, Part]],
    short: Sequence[Caution],
) -> tuple[ReadyPart, ...]:
    before = next(s for s in steps if s.title == BEFORE)
    tints = {p.name: tint_of(recipe, shelf, i) for i, p in enumerate(recipe.design.portions)}
    # Of the lye in use is said where it is weighed; of all else before anything is.
    of_lye = tuple(c for c in short if c.pointer.endswith("_purity"))
    cautions = (*before.cautions, *(c for c in short if c not in of_lye))
    first = tuple(ReadyItem(key=f"{TOOLS}/{k}", message=m) for k, m in at_hand)
    parts = [ReadyPart(title=TOOLS, does=before.does, items=first, cautions=cautions)]
    lots = {line.key: line.lot for step in steps for line in step.lines}
    for step in steps:
        in_cups = {t.line for c in step.cups for t in c.takes if t.line}
        items = [_item(step.title, line, tints) for line in step.lines if line.key not in in_cups]
        for cup in step.cups:
            items += [_vessel(step.title, cup)] if step.title == SPLIT else _taken(step.title, cup, lots)
        if step is not before and (items or step.cautions or step.title in (COMBINE, KEPT)):
            lye = any(line.kind in ("alkali", "stock") for line in step.lines)
            told = (*(of_lye if lye else ()), *step.cautions)
            parts.append(ReadyPart(title=step.title, does=step.does, items=tuple(items), cautions=told))
    return tuple(parts)


def _vessel(title: str, cup: SheetCup) -> ReadyItem:
    return ReadyItem(key=f"{title}/{cup.vessel}", message=f"label {cup.vessel}", tint=cup.tint)


def _taken(title: str, cup: SheetCup, lots: Mapping[str, str]) -> list[ReadyItem]:
    """What a cup takes, each with its own tick, from which `lots` by the sheet's keys."""
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
            lot=lots.get(t.line, ""),
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
        lot=line.lot,
    )
