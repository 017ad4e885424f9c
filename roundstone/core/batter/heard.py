"""What others saw, taken into what is believed before any pour of one's own: as one more look, however it was known."""

from ..shelf import Normal
from .cooling import Array
from .entering import entered
from .prior import CLAIM_LOAD


def conditioned(mean: Array, cov: Array, row: Array, value: float, sd: float) -> None:
    """Believe that `row` times the coefficients was seen to be `value`, give or take `sd`; in place.

    What goes with it moves too: a blend with its parts, another bottle with its elder.

    >>> import numpy as np
    >>> mean, cov = np.zeros(2), np.eye(2)
    >>> conditioned(mean, cov, np.array([1.0, 0.0]), 1.0, 1.0)
    >>> mean.tolist(), cov.tolist()
    ([0.5, 0.0], [[0.5, 0.0], [0.0, 1.0]])
    """
    known = cov @ row
    gain = known / (float(row @ known) + sd**2)
    mean += gain * (value - float(row @ mean))
    cov -= gain[:, None] * known[None, :]


def hear(mean: Array, cov: Array, effect: int, jump: int, speed: Normal) -> None:
    """Believe what others saw of a fragrance's speed; `effect` and `jump` are its columns, per 1 % of fats; in place.

    The minutes are not linear in the two: they are taken so about the pace that would give just what was seen.
    """
    pace, by_effect, by_jump = entered(speed.mean)
    row = mean * 0.0
    row[effect], row[jump] = CLAIM_LOAD * by_effect, CLAIM_LOAD * by_jump
    conditioned(mean, cov, row, by_effect * pace, speed.sd)
