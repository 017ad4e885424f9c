"""A step as it is played: who, what it wants of the batter, its minutes, its place in the days of a build."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import get_args

from ..recipe import days_apart, is_night
from ..shelf import LookAct, Wants
from ..values import listed

WORDS = {"pass": "wire", "spare": "spare mould", "embed": "embeds"}
PREPARES = ("combine", "blend", "split", "colour", "scent", "wait")
LOOKS = get_args(LookAct)
NOTHING = Wants(weight=0.0)


@dataclass(frozen=True)
class Task:
    """A step as it is played: `lanes` are the portions it is on, by their number; what prepares has a `weight` of 0.

    `part` is the share of each lane it uses up, `minutes` what it takes this maker. `to` is the level a combine, blend
    or wait goes to. `key` names it in the pour's events. `apart` are the names of its portions where each stands in a
    vessel of its own: one pair of hands does them one after the other, and shares the minutes. `place` is which of
    several moulds it fills."""

    key: str
    do: str
    label: str
    lanes: tuple[int, ...]
    minutes: float
    wants: Wants = NOTHING
    batch: str = ""
    by: str = "hand"
    to: float | None = None
    apart: tuple[str, ...] = ()
    place: str = ""

    @property
    def vessels(self) -> int:
        """In how many vessels it is done, one after the other."""
        return len(self.apart) or 1

    @property
    def pieces(self) -> "tuple[Task, ...]":
        """The same as a step for each vessel."""
        if len(self.apart) < 2:
            return (self,)
        minutes = self.minutes / len(self.apart)
        return tuple(
            replace(self, key=f"{self.key}, {name}", label=f"{self.do} {name}", lanes=(i,), minutes=minutes, apart=())
            for i, name in zip(self.lanes, self.apart, strict=True)
        )

    @property
    def looks(self) -> bool:
        """Whether it makes the look, rather than preparing it."""
        return self.do in LOOKS


def scaled(minutes: float, grams: float) -> float:
    """Minutes of a 1 kg loaf for another size: with the cube root, between two thirds and twice as long [C].

    >>> scaled(3.0, 1000), scaled(3.0, 8000), round(scaled(3.0, 100), 2)
    (3.0, 6.0, 2.0)
    """
    return minutes * min(max((grams / 1000) ** (1 / 3), 2 / 3), 2.0)


def label_of(do: str, names: Sequence[str], every: bool) -> str:
    word = WORDS.get(do, do)
    return word if every or not names else f"{word} {listed(names)}"


def named_apart(tasks: Iterable[Task], taken: Iterable[str] = ()) -> tuple[Task, ...]:
    """Every task under a key of its own: its label, with a number where that stands twice."""
    seen = set(taken)
    out = []
    for task in tasks:
        keys = (task.label if n == 1 else f"{task.label} {n}" for n in range(1, 1000))
        key = next(k for k in keys if k not in seen)
        seen.add(key)
        out.append(replace(task, key=key))
    return tuple(out)


def tasks_on(tasks: Iterable[Task]) -> tuple[int, ...]:
    """On which day of its build, 0 the first, each step is."""
    return days_apart(t.minutes if t.do == "wait" else 0.0 for t in tasks)


def is_a_night(task: Task) -> bool:
    """A wait after which another day begins."""
    return task.do == "wait" and is_night(task.minutes)


def poured_into(place: str) -> str:
    """The label of a pour into one of several moulds."""
    return f"pour, {place}"
