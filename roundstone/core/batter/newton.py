"""Damped Newton with Armijo's rule, for every mode that is looked for: of one batch, of all pours, of the hazards."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol, Self, TypeVar

import numpy as np

from .cooling import Array

LARGEST_STEP = 2.0  # of any parameter in one step: ln-rates of 2 are already a factor of seven
ARMIJO = 1e-4  # share of the promised gain that must be kept (Nocedal & Wright, Numerical Optimization, 3.1)
SHORTEST_SCALE = 1e-6
MOST_STEPS = 60


class Slope(Protocol):
    """A function expanded at a point: its value, the gain that Newton's step promises, and the point ahead."""

    @property
    def value(self) -> float: ...
    @property
    def promise(self) -> float: ...
    def ahead(self, scale: float) -> Self:
        """Expanded anew after this part of the step."""
        ...


S = TypeVar("S", bound=Slope)


def climb(here: S, enough: float = 1e-10) -> S:
    """Climb until less than `enough` is promised; a step is halved until it keeps what Armijo asks of it."""
    for _ in range(MOST_STEPS):
        if here.promise < enough:
            break
        scale = 1.0
        while (tried := here.ahead(scale)).value < here.value + ARMIJO * scale * here.promise:
            scale /= 2
            if scale < SHORTEST_SCALE:
                break
        here = tried
    return here


def damping(longest: float) -> float:
    """What a step is shortened by so that no parameter moves more than LARGEST_STEP.

    >>> damping(1.0), damping(8.0)
    (1.0, 0.25)
    """
    return min(1.0, LARGEST_STEP / max(longest, 1e-12))


@dataclass(frozen=True)
class Dense:
    """A log posterior at a point: `expand` gives value, gradient and information (positive definite) anywhere."""

    at: Array
    expand: Callable[[Array], tuple[float, Array, Array]]

    @cached_property
    def _local(self) -> tuple[float, Array, Array]:
        return self.expand(self.at)

    @property
    def value(self) -> float:
        return self._local[0]

    @property
    def information(self) -> Array:
        return self._local[2]

    @cached_property
    def step(self) -> Array:
        _, gradient, information = self._local
        step = np.linalg.solve(information, gradient)
        return step * damping(float(np.max(np.abs(step))))

    @property
    def promise(self) -> float:
        return float(self._local[1] @ self.step)

    def ahead(self, scale: float) -> "Dense":
        return Dense(self.at + scale * self.step, self.expand)


def with_prior(
    expand: Callable[[Array], tuple[float, Array, Array]], mean: Array, precision: Array
) -> Callable[[Array], tuple[float, Array, Array]]:
    """A log-likelihood's expansion times a Gaussian prior."""

    def posterior(p: Array) -> tuple[float, Array, Array]:
        value, gradient, information = expand(p)
        away = precision @ (p - mean)
        return value - 0.5 * float((p - mean) @ away), gradient - away, information + precision

    return posterior
