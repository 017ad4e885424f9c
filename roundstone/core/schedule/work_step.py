"""A step of the bench sheet, the titles of all of them, and the days they are on."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..recipe import Build, Recipe, build_of
from ..sheet import Line, Sheet
from ..text import Part, Text
from ..values import Caution, Name, Value
from .cups import SheetCup, SheetPour
from .task import Task, tasks_on

BEFORE, JUG, LYE, HOT, COOL = "Before anything", "Lye jug", "Lye", "While the lye is hot", "When the lye is cool"
HARD, SOFT, COMBINE, WHOLE, SPLIT = "Fat pot, hard", "Fat pot, liquid", "Combine", "Into the whole batter", "Split"
KEPT = "Lye and fats, kept"  # since the first day
CUPS, RAW, COLOUR, SCENT, AFTER = "Colours in cups", "Shares of fats and lye", "Colour, then scent", "Scent", "After"
DRESS = "Goggles, gloves, sleeves; no aluminium. Window open, children and animals out, water at hand."
PUT_BY = "cover it, label it as lye, out of reach"


class WorkStep(Value):
    """One step at the bench: what is weighed in it, what is done, and what to beware of; on which `day` of a build of
    several, 1 the first."""

    title: str
    lines: tuple[Line, ...]
    does: Text
    cautions: tuple[Caution, ...] = ()
    cups: tuple[SheetCup, ...] = ()
    pours: tuple[SheetPour, ...] = ()
    day: int = 1


@dataclass(frozen=True)
class Day:
    """A day of a build, 0 the first: the portions whose lye meets their fats on it, its steps, its shares of the fats
    in all, and its heat."""

    on: int
    build: Build
    names: frozenset[Name]
    tasks: tuple[Task, ...]

    @property
    def last(self) -> bool:
        return self.on == self.build.many - 1

    def has(self, line: Line) -> bool:
        """What goes into a portion is of that portion's day, what goes into all of it of the first."""
        return line.into in self.names if line.into else self.on == 0


def days_of(recipe: Recipe, tasks: Sequence[Task]) -> tuple[Day, ...]:
    """The days of a build, each with its steps."""
    build, on = build_of(recipe.design), tasks_on(tasks)
    return tuple(
        Day(d, build, build.portions(d), tuple(t for t, at in zip(tasks, on, strict=True) if at == d))
        for d in range(build.many)
    )


def put_by(recipe: Recipe, sheet: Sheet, on: int) -> tuple[Recipe, Sheet]:
    """Lye and fats that wait for a later day of a build, by their share: the lye has stood overnight by then."""
    names = build_of(recipe.design).portions(on)
    share = sum(p.share for p in recipe.design.portions if p.name in names)
    lines = tuple(x.model_copy(update={"grams": share * x.grams}) for x in sheet.lines)
    return recipe.model_copy(update={"lye_stands": "ahead"}), sheet.model_copy(update={"lines": lines})


def heed(message: Part, danger: bool = False) -> Caution:
    """A caution of a step, and of no field."""
    return Caution(pointer="", message=message, danger=danger)


def named(lines: Iterable[Line]) -> str:
    names = list(dict.fromkeys("fats" if x.kind == "fat" else x.name.lower() for x in lines if x.kind != "carrier"))
    return ", ".join(names)
