"""How a fragrance enters a batter, as minutes a maker sees: from its ln-rate and its jump, and back."""

import numpy as np

from .cooling import Array
from .prior import SCENT_COURSE, SCENT_ENTERS, THRESHOLD_MINUTES

COMING_ON = SCENT_COURSE[1][1]
_STEP = 1e-4
_RATES = np.arange(-5.0, 7.0, 0.005)  # ln-rates that are told apart


def minutes_after(age: float, effect: Array, jump: Array) -> Array:
    """Reference minutes from a fragrance's tap until the batter has gained so much age; ln-rates at its dose.

    >>> import numpy as np
    >>> minutes_after(12.0, np.log([1.0, 2.0]), np.log([1.0, 4.0])).round(3).tolist()
    [12.0, 3.532]
    """
    entering = np.exp(COMING_ON * effect + jump)
    later = SCENT_ENTERS + (age - SCENT_ENTERS * entering) / np.exp(effect)
    return np.asarray(np.where(entering * SCENT_ENTERS >= age, age / entering, later))


def ln_times(effect: Array, jump: Array) -> Array:
    """The ln of how many times as soon medium trace comes as without."""
    medium = THRESHOLD_MINUTES["medium"]
    return np.log(medium) - np.log(minutes_after(medium, effect, jump))


def entered(times: float) -> tuple[float, float, float]:
    """The ln-rate that, without a jump, makes medium trace come exp(`times`) times as soon, and by how much the ln of
    that grows with the ln-rate and with the jump.

    >>> [round(x, 2) for x in entered(1.0)]
    [1.14, 0.78, 0.17]
    """
    effect = float(np.interp(times, ln_times(_RATES, np.zeros_like(_RATES)), _RATES))
    at, to = np.array([effect - _STEP, effect + _STEP]), np.array([-_STEP, _STEP])
    by_effect = np.diff(ln_times(at, np.zeros(2)))[0] / (2 * _STEP)
    by_jump = np.diff(ln_times(np.full(2, effect), to))[0] / (2 * _STEP)
    return effect, float(by_effect), float(by_jump)
