"""A maker's pace over the years: a random walk from one chunk of pours to the next."""

from dataclasses import replace

import numpy as np

from ..batter import THRESHOLD_COLUMNS, Array, Knowledge

# Fats, room and hand drift: a chunk of pours has the pace of the one before, give or take so much [C].
DRIFT_SD = 0.15


def drifting(knowledge: Knowledge, chunks: int) -> tuple[Array, Array]:
    """Prior mean and covariance of the coefficients, and behind them of the pace of every chunk of pours but the first:
    a random walk."""
    n, paces = len(knowledge.names), max(chunks - 1, 0)
    steps = np.arange(1, paces + 1)
    cov = np.zeros((n + paces, n + paces))
    cov[:n, :n] = knowledge.cov
    cov[n:, n:] = DRIFT_SD**2 * np.minimum(steps[:, None], steps)
    return np.append(knowledge.mean, np.zeros(paces)), cov


def paced_now(knowledge: Knowledge, theta: Array, cov: Array) -> Knowledge:
    """What is believed of the next pour: at a pace so much faster all stages come at ages so much smaller."""
    n = len(knowledge.names)
    turn = np.eye(n, len(theta))
    thresholds = [knowledge.column[c] for c in THRESHOLD_COLUMNS]
    if len(theta) > n:
        turn[thresholds, -1] = -1.0
    mean, cov = turn @ theta, turn @ cov @ turn.T
    if len(theta) > n:
        cov[np.ix_(thresholds, thresholds)] += DRIFT_SD**2  # one more step of the walk
    return replace(knowledge, mean=mean, cov=(cov + cov.T) / 2)
