"""The days of one build: a night between two steps of a plan makes what follows another day's work."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from ..values import Minutes, Name
from .recipe import Design
from .steps import CombineStep, LookStep, Step, WaitStep

A_NIGHT = 360.0  # minutes of waiting from which what comes after is another day's [chosen]
DAY = 1440.0  # minutes


def days_apart(waits: Iterable[Minutes]) -> tuple[int, ...]:
    """On which day of a build, 0 the first, each of its steps is, by what each of them waits.

    >>> days_apart((0, 5, 0, 1320, 0, 0))
    (0, 0, 0, 0, 1, 1)
    """
    out, day = [], 0
    for minutes in waits:
        out.append(day)
        day += is_night(minutes)
    return tuple(out)


def is_night(wait: Minutes) -> bool:
    """Whether a wait is so long that hands go home."""
    return wait >= A_NIGHT


def _waits(step: Step) -> Minutes:
    return step.minutes or 0.0 if isinstance(step, WaitStep) else 0.0


@dataclass(frozen=True)
class Build:
    """`after` is how many days each day of a build lies after its first, `of` the day of each portion: that on which
    its lye meets its fats. `late` are portions that are poured on a later day than that."""

    after: tuple[int, ...]
    of: dict[Name, int]
    late: tuple[Name, ...]

    @property
    def many(self) -> int:
        """Days at the bench."""
        return len(self.after)

    def portions(self, day: int) -> frozenset[Name]:
        """Those whose lye meets their fats on that day."""
        return frozenset(n for n, on in self.of.items() if on == day)


def build_of(design: Design) -> Build:
    """The days of a design's plan; one, unless a night is among its steps."""
    steps = design.steps
    days = days_apart(map(_waits, steps))
    many = days[-1] + 1 if days else 1
    nights = [_waits(s) for s, (on, then) in zip(steps, pairwise(days), strict=False) if then > on]
    after = [0]
    for minutes in nights:
        after.append(after[-1] + max(round(minutes / DAY), 1))
    combined = {s.batch: on for s, on in zip(steps, days, strict=True) if isinstance(s, CombineStep)}
    of = {p.name: combined.get(design.batch_of(p), 0) for p in design.portions}
    late = [n for n, on in of.items() if _poured_after(steps, days, n, on)]
    return Build(tuple(after[:many]), of, tuple(late))


def _poured_after(steps: Sequence[Step], days: Sequence[int], name: Name, on: int) -> bool:
    """Whether anything of a portion is poured on another day than its lye met its fats."""
    return any(isinstance(s, LookStep) and name in s.who and day > on for s, day in zip(steps, days, strict=True))
