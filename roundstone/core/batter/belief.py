"""What is believed of one batch, given its looks."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from . import prior
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


def believe(
    knowledge: Knowledge, lanes: Sequence[Lane], terms: Sequence[Term], measured: bool, scents: Iterable[str] = ()
) -> Belief:
    """What is believed of this pour given all its looks so far. Always solved afresh, so undo is free.

    `scents` are fragrances still to go in. Where a pour has several batches their effects are correlated: the pour's
    own effect has BATCHES_ALIKE of the variance, each batch the rest.
    """
    to_come = sorted({s for lane in lanes for s in lane.added} | set(scents))
    names = [*FIXED_COLUMNS, *(scent_column(s) for s in to_come)]
    known_mean, known_cov = knowledge.part(names)
    batches = list(dict.fromkeys(e for lane in lanes if (e := lane.lye_in_effect)))
    split = [lane.portion_effect for lane in lanes if lane.split is not None]
    column = {n: i for i, n in enumerate([*names, lanes[0].batch_effect, *batches, *split])}
    n, size = len(names), len(column)
    mean = np.concatenate([known_mean, np.zeros(size - n)])
    cov = np.zeros((size, size))
    cov[:n, :n] = known_cov
    of_pour = batch_sd(knowledge, measured) ** 2
    apart = 1 - prior.BATCHES_ALIKE if batches else 0.0
    effects = [of_pour * (1 - apart), *(of_pour * apart for _ in batches), *(knowledge.noise.portion**2 for _ in split)]
    cov[range(n, size), range(n, size)] = effects
    if terms:
        looks = Looks.of(lanes, terms, column, knowledge.noise.stages)
        mean, information = newton(looks, mean, np.linalg.inv(cov))
        cov = np.linalg.inv(information)
        cov = (cov + cov.T) / 2
    return Belief(column, mean, cov, knowledge.noise)
