"""Odds as they are told, and their words."""

import numpy as np

from ..simulate import Outcome
from ..values import Share, Value

MOST_SURE = 0.95  # no odds are ever told above this, nor below its complement


class Outlook(Value):
    """What a plan comes to: as planned, sellable, lost; they add up to 1. `value` is what that is worth."""

    drawn: Share
    different: Share
    lost: Share
    value: float


def clamped(odds: float) -> float:
    """Odds as they may be said."""
    return min(max(float(odds), 1 - MOST_SURE), MOST_SURE)


def outlook(outcome: Outcome, value: float, at: np.ndarray | None = None) -> Outlook:
    """The means over all draws, or over those marked in `at`; as planned is told within 5 and 95 in 100."""
    drawn, lost = (float(np.mean(x if at is None else x[at])) for x in (outcome.drawn, outcome.lost))
    said = clamped(drawn)
    gone = min(lost, 1 - said)
    return Outlook(drawn=said, different=max(1 - said - gone, 0.0), lost=gone, value=value)


def in_ten(odds: float) -> str:
    """Odds as "8 times in 10"; never all or none of the ten.

    >>> in_ten(0.83), in_ten(0.02), in_ten(1.0)
    ('8 times in 10', 'less than 1 time in 10', '9 times in 10')
    """
    n = min(max(round(odds * 10), 0), 9)
    if n == 0:
        return "less than 1 time in 10"
    return f"{n} time{'s' if n > 1 else ''} in 10"


def hundred(odds: float) -> int:
    """Odds in percent, never none and never all.

    >>> hundred(0.294), hundred(0.0), hundred(1.0)
    (29, 1, 99)
    """
    return min(max(round(100 * odds), 1), 99)


def told_of(look: Outlook) -> str:
    """An outlook in one phrase.

    >>> told_of(Outlook(drawn=0.41, different=0.5, lost=0.09, value=0.7))
    'as planned 4 times in 10, sellable 5, lost 1'
    """
    n = [min(max(round(10 * x), 0), 9) for x in (look.drawn, look.different, look.lost)]
    parts = [f"as planned {in_ten(look.drawn)}"]
    parts += [f"sellable {n[1]}"] if n[1] else []
    parts += [f"lost {n[2]}"] if n[2] else []
    return ", ".join(parts)
