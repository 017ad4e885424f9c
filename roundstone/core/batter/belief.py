"""What is believed of one batch, given its looks: the Gaussian nearest to it, by expectation propagation."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from . import prior
from .cooling import Array
from .knowledge import Knowledge, Noise, batch_sd
from .lane import FIXED_COLUMNS, Lane, scent_columns
from .looks import Looks, Term, pulls
from .newton import Dense, climb, with_prior

LEAST_WEIGHT = 1e-9  # of a term that says next to nothing
SITE_STEP = 0.8  # of the way, each sweep: all terms move at once, and would overshoot [C]
SITES_REST = 1e-3  # what moves less than that has come to rest [C]
MOST_SWEEPS = 30
NEAR = 1e-4  # gain left to the mode where terms are laid straight: a hundredth of an sd [C]
WEAK = 0.02  # of the other end's pull: an end that pulls no more is as good as open [C]
ALIKE = 0.2  # of a term's width: ends that move apart by no more move together [C]


@dataclass(frozen=True)
class Belief:
    """A Gaussian over the parameters that matter to one batch, after its looks."""

    column: Mapping[str, int]
    mean: Array
    cov: Array
    noise: Noise


def newton(looks: Looks, mean: Array, precision: Array, enough: float = 1e-10) -> tuple[Array, Array]:
    """Mode and information of a Gaussian prior times the looks, but for a gain of `enough` in the log of both."""
    found = climb(Dense(mean, with_prior(looks.expand, mean, precision)), enough)
    return found.at, found.information


def tilt(z_low: Array, z_up: Array, variance: Array) -> tuple[Array, Array]:
    """How ln ∫ N(t; 0, variance) [Φ(z_up + t) - Φ(z_low + t)] dt rises with t's mean, and how fast that falls off.

    >>> [round(float(x[0]), 4) for x in tilt(np.array([-np.inf]), np.array([0.0]), np.array([0.0]))]
    [0.7979, 0.6366]
    """
    scale = np.sqrt(1 + variance)
    low = z_low / scale
    at = pulls(low, np.maximum(z_up / scale, low + 1e-9))
    return (at.up - at.low) / scale, (at.up_up + at.low_low + 2 * at.both) / scale**2


def propagated(looks: Looks, mean: Array, precision: Array, at: Array) -> tuple[Array, Array]:
    """Mean and covariance of a Gaussian prior times the looks, from their mode `at`.

    The mode leans early where looks are one-sided: it is where the batter is likeliest, not where it is on average.
    A term that hangs on one number, t, along its gradient at the mode, is replaced by the Gaussian in t that leaves
    mean and variance of t right, given all the others, and all of these at once until none moves: expectation
    propagation (Minka, UAI 2001), with the moments of a probit (Rasmussen & Williams, Gaussian Processes for Machine
    Learning, 2006, 3.6). A term both of whose ends pull, each its own way, stays the parabola it is at the mode.
    """
    z_low, z_up, g_low, g_up = looks.linear(at)
    here = pulls(z_low, z_up)
    cov = np.linalg.inv(precision + here.information(g_low, g_up))
    weak = np.minimum(here.low, here.up) <= WEAK * np.maximum(here.low, here.up)
    apart = g_up - g_low
    alike = np.sum((apart @ cov) * apart, axis=1) <= (ALIKE * (z_up - z_low)) ** 2
    one = weak | alike
    two = ~one
    bent = precision + pulls(z_low[two], z_up[two]).information(g_low[two], g_up[two])
    ends = here.low + here.up
    along = ((here.low[:, None] * g_low + here.up[:, None] * g_up) / np.maximum(ends, 1e-300)[:, None])[one]
    z_low, z_up = z_low[one], z_up[one]
    pull, weight = tilt(z_low, z_up, np.zeros(len(z_low)))
    # What t does not tell of the slope, such as that a stretch of time grows shorter, stays as it is at the mode.
    behind = precision @ (mean - at) + here.up @ g_up - here.low @ g_low - pull @ along
    weight = np.maximum(weight, LEAST_WEIGHT)
    heard = pull.copy()  # a site's natural mean: `weight` times where it points, in t from the mode
    for _ in range(MOST_SWEEPS if len(along) else 0):
        cov = np.linalg.inv(bent + (along.T * weight) @ along)
        told = along @ cov
        t = told @ (behind + heard @ along)
        spread = np.maximum(np.sum(told * along, axis=1), 1e-12)
        # Without the term itself.
        rest = 1 / np.maximum(1 / spread - weight, 1e-6 / spread)
        middle = rest * (t / spread - heard)
        pull, fall = tilt(z_low + middle, z_up + middle, rest)
        fall = np.clip(fall, LEAST_WEIGHT, (1 - 1e-6) / rest)
        now = fall / (1 - fall * rest)
        moved = now - weight, now * (middle + pull / fall) - heard
        weight, heard = weight + SITE_STEP * moved[0], heard + SITE_STEP * moved[1]
        if max(np.max(np.abs(moved[0]) / (1 + weight)), np.max(np.abs(moved[1]))) < SITES_REST:
            break
    cov = np.linalg.inv(bent + (along.T * weight) @ along)
    return at + cov @ (behind + heard @ along), cov


def infer(
    knowledge: Knowledge, lanes: Sequence[Lane], terms: Sequence[Term], measured: bool, scents: Iterable[str] = ()
) -> Belief:
    """What is believed of this pour given all its looks so far. Always solved afresh, so undo is free.

    `scents` are fragrances still to go in. Where a pour has several batches their effects are correlated: the pour's
    own effect has BATCHES_ALIKE of the variance, each batch the rest.
    """
    names = [*FIXED_COLUMNS, *scent_columns({s for lane in lanes for s in lane.added} | set(scents))]
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
        precision = np.linalg.inv(cov)
        mean, cov = propagated(looks, mean, precision, newton(looks, mean, precision, NEAR)[0])
        cov = (cov + cov.T) / 2
    return Belief(column, mean, cov, knowledge.noise)
