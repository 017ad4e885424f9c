"""Random-effects meta-analysis: what workshops found together, how far they are apart, and who is simply wrong.

Each workshop i found y_i with a known variance v_i about its own truth, which is N(mean, tau²). tau² by restricted
maximum likelihood (Viechtbauer, J. Educ. Behav. Stat. 30 (2005) 261). A workshop may be simply wrong: with
probability WRONG its figure is scattered WILD wider (a normal contaminated by a wide one: Tukey 1960; solved by EM).
"""

from dataclasses import dataclass

import numpy as np

from ..batter import Array

WRONG, WILD = 0.10, 1.5  # share of workshops that are simply wrong, and sd of their ln figures [chosen]
ROUNDS, ENOUGH = 200, 1e-10
# How far workshops are apart before many told, and for how many that counts [chosen].
KNOWN_APART, APART_WORTH = 0.25, 3.0
LEAST_APART = 0.20  # bottles and hands differ, however alike those who told are [chosen]
MOST_SURE = 2.0  # times as much as the middle one, and no more, does one that says it is sure count [chosen]


@dataclass(frozen=True)
class Pooled:
    """The mean of all workshops and its standard error, tau², and for each row the probability that it is right."""

    mean: float
    se: float
    tau2: float
    right: Array


def random_effects(y: Array, v: Array, n: Array | None = None) -> Pooled:
    """REML over k rows: what each found, its variance, and how many workshops (k,) found just that.

    >>> import numpy as np
    >>> found = random_effects(np.array([0.0, 1.0]), np.array([0.1, 0.1]))
    >>> round(found.mean, 6), round(found.tau2, 6)
    (0.5, 0.4)
    """
    n = np.ones_like(y) if n is None else n
    tau2 = _tau2(y, v, n)
    w = n / (v + tau2)
    return Pooled(float(w @ y / w.sum()), float(w.sum() ** -0.5), tau2, np.ones_like(y))


def _tau2(y: Array, v: Array, n: Array) -> float:
    if n.sum() <= 1:
        return 0.0
    mean = float(n @ y / n.sum())
    tau2 = max(float(n @ (y - mean) ** 2 / (n.sum() - 1)) - float(n @ v / n.sum()), 0.0)
    for _ in range(ROUNDS):
        w = 1 / (v + tau2)
        total = float(n @ w)
        mean = float(n @ (w * y)) / total
        raised = float(n @ (w**2 * ((y - mean) ** 2 - v))) / float(n @ w**2) + 1 / total
        before, tau2 = tau2, max(raised, 0.0)
        if abs(tau2 - before) <= ENOUGH * (1 + tau2):
            break
    return tau2


def contaminated(y: Array, v: Array, n: Array | None = None) -> Pooled:
    """The same where some workshops may be simply wrong: `right` is how likely each row is not, and how much it counts.

    How far the others are apart is drawn to KNOWN_APART while few told; the standard error counts with that. Nobody
    counts much more than the middle one.
    """
    n = np.ones_like(y) if n is None else n
    v = np.maximum(v, _median(v, n) / MOST_SURE)
    mean = _median(y, n)
    apart = KNOWN_APART**2
    right = np.ones_like(y)
    for _ in range(ROUNDS):
        near, far = v + apart, v + apart + WILD**2
        lean = np.log(WRONG / (1 - WRONG)) - 0.5 * (np.log(far / near) + (y - mean) ** 2 * (1 / far - 1 / near))
        right = 1 / (1 + np.exp(np.clip(lean, -700, 700)))
        before = (mean, apart)
        counts = n * right
        known = max(float(counts.sum()) - 1, 0.0)
        apart = (APART_WORTH * KNOWN_APART**2 + known * _tau2(y, v, counts)) / (APART_WORTH + known)
        apart = max(apart, LEAST_APART**2)
        w = counts / (v + apart)
        mean = float(w @ y / w.sum())
        if abs(mean - before[0]) + abs(apart - before[1]) < ENOUGH * 100:
            break
    w = n * right / (v + apart)
    return Pooled(mean, float(w.sum() ** -0.5), apart, right)


def _median(y: Array, n: Array) -> float:
    order = np.argsort(y)
    half = np.cumsum(n[order])
    return float(y[order][np.searchsorted(half, half[-1] / 2)])
