"""What is believed of one batch, given its looks."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from .cooling import Array
from .knowledge import Knowledge, Noise, batch_sd
from .lane import FIXED_COLUMNS, Lane, scent_column
from .looks import Looks, Term
from .newton import Dense, climb, with_prior


@dataclass(frozen=True)
class Belief:
    """A Gaussian over the parameters that matter to one batch, after its looks."""

    column: Mapping[str, int]
    mean: Array
    cov: Array
    noise: Noise


def newton(looks: Looks, mean: Array, precision: Array, start: Array | None = None) -> tuple[Array, Array]:
    """Mode and information of a Gaussian prior times the looks."""
    found = climb(Dense(mean if start is None else start, with_prior(looks.expand, mean, precision)))
    return found.at, found.information


def believe(knowledge: Knowledge, lanes: Sequence[Lane], terms: Sequence[Term], measured: bool) -> Belief:
    """What is believed of this batch given all its looks so far. Always solved afresh, so undo is free."""
    scents = sorted({s for lane in lanes for s in lane.added})
    names = [*FIXED_COLUMNS, *(scent_column(s) for s in scents)]
    known_mean, known_cov = knowledge.part(names)
    split = [lane.portion_effect for lane in lanes if lane.split is not None]
    column = {n: i for i, n in enumerate([*names, lanes[0].batch_effect, *split])}
    mean = np.concatenate([known_mean, np.zeros(1 + len(split))])
    cov = np.zeros((len(mean), len(mean)))
    n = len(names)
    cov[:n, :n] = known_cov
    cov[n, n] = batch_sd(knowledge, measured) ** 2
    for i in range(n + 1, len(mean)):
        cov[i, i] = knowledge.noise.portion**2
    if terms:
        looks = Looks.of(lanes, terms, column, knowledge.noise.stages)
        mean, information = newton(looks, mean, np.linalg.inv(cov))
        cov = np.linalg.inv(information)
        cov = (cov + cov.T) / 2
    return Belief(column, mean, cov, knowledge.noise)
