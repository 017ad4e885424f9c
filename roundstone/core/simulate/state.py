"""What is played: the state of a pour by draw, a step of it, and what a plan comes to."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..batter import Array
from ..schedule import Task
from .context import COMING_ON, SimulationContext, Utility

LOOK_FROM, LOOK_TO = 0.3, 0.9  # share of the look kept at which nothing, and everything, counts as planned [C]


class State:
    """The played part: times and ages by draw, what is where, and what the look has kept so far."""

    __slots__ = (
        "a0",
        "b0",
        "brought",
        "grain",
        "in_mould",
        "ln_m",
        "loose",
        "lost",
        "q",
        "scent_rate",
        "scent_t",
        "scented",
        "slopes",
        "t",
        "used",
        "w",
    )  # fmt: skip

    def __init__(self, context: SimulationContext) -> None:
        lanes, draws = context.origin.shape
        self.t = np.full(draws, context.schedule.now)
        self.a0, self.b0 = np.zeros((lanes, draws)), np.zeros((lanes, draws))
        self.ln_m = np.zeros((lanes, draws))
        self.grain = context.riced.copy()
        self.loose = np.full((lanes, draws), -np.inf)
        self.in_mould: tuple[int, ...] = context.schedule.reconciled.in_mould
        self.used = np.array([1 - context.schedule.reconciled.left[i] for i in range(lanes)])
        self.scented = np.array([bool(lane.added) for lane in context.schedule.bare])
        self.scent_t, self.scent_rate = np.full((lanes, draws), np.inf), np.zeros((lanes, draws))
        self.slopes = np.zeros((len(COMING_ON) - 1, lanes, draws))
        self.brought = np.zeros((lanes, draws))
        self.lost, self.q, self.w = np.zeros(draws), np.zeros(draws), 0.0

    def copy(self) -> "State":
        other = object.__new__(State)
        for name in State.__slots__:
            value = getattr(self, name)
            setattr(other, name, value.copy() if isinstance(value, np.ndarray) else value)
        return other


@dataclass(frozen=True)
class Amiss:
    """Means over the draws of what is wanting of a step's fit: for being too thick, for being too thin, and because
    what it lies on stands too late."""

    thick: float = 0.0
    thin: float = 0.0
    late: float = 0.0


@dataclass(frozen=True)
class Played:
    """A step in all draws. `fit` is how well it finds the batter (draws), `each` by lane; `level` where it starts.

    `amiss` is what is wanting; `waited` are minutes by draw; `of_bar` is how much of the batter it puts in its place.
    """

    task: Task
    start: Array
    end: Array
    fit: Array
    each: Array
    level: Array
    amiss: Amiss
    lost: Array
    waited: Array
    of_bar: float
    done: bool = False

    @property
    def odds(self) -> float:
        return float(np.mean(self.fit))

    @property
    def too_thin_in(self) -> tuple[int, ...]:
        """Portions, by place, in which more is wanting for being too thin than for being too thick."""
        wanting = 1 - self.each
        thin = wanting * (self.level < max(self.task.wants.band[1], 1.0))
        more = thin.mean(axis=1) > wanting.mean(axis=1) / 2
        return tuple(i for i, x in zip(self.task.lanes, more, strict=True) if x)


@dataclass(frozen=True)
class Outcome:
    """By draw: `kept` the share of the look, `lost` the share of the batter; see `outlook`."""

    kept: Array
    lost: Array
    steps: tuple[Played, ...]
    state: State

    @cached_property
    def share(self) -> Array:
        """How much of the look counts as planned, by draw: of all steps by their weights, and no more
        than layers that came as they should are of the bar."""
        share = np.clip((self.kept - LOOK_FROM) / (LOOK_TO - LOOK_FROM), 0.0, 1.0)
        layers = [step for step in self.steps if step.task.do == "layer" and step.task.wants.weight > 0]
        return np.minimum(share, 1 - sum((x.of_bar * (1 - x.fit) for x in layers), np.zeros_like(share)))

    def costs(self, step: Played) -> float:
        """How much of the look a step is believed to cost, by the measure of `share`: by its weight or, of a layer,
        by its part of the bar, whichever is more."""
        weights = sum(x.task.wants.weight for x in self.steps)
        if step.task.wants.weight <= 0 or weights <= 0:
            return 0.0
        of = step.task.wants.weight / weights / (LOOK_TO - LOOK_FROM)
        return (1 - step.odds) * max(of, step.of_bar if step.task.do == "layer" else 0.0)

    @cached_property
    def drawn(self) -> Array:
        """As planned, by draw."""
        return np.asarray((1 - self.lost) * self.share)

    def value(self, utility: Utility, similarity: float = 1.0) -> Array:
        """What it is worth, by draw; after a change of technique `similarity` says how like the drawn one it is."""
        good = utility.different + (utility.drawn - utility.different) * similarity * self.share
        return np.asarray((1 - self.lost) * good + self.lost * utility.lost)
