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


SAID = 0.015  # odds below which an outcome is left out of a phrase [chosen]


def hundred(odds: float) -> int:
    """Odds in percent, never none and never all.

    >>> hundred(0.294), hundred(0.0), hundred(1.0)
    (29, 1, 99)
    """
    return min(max(round(100 * odds), 1), 99)


def chance(odds: float) -> str:
    """Odds as they are told.

    >>> chance(0.294), chance(0.0)
    ('29 %', '1 %')
    """
    return f"{hundred(odds)} %"


def told_of(look: Outlook) -> str:
    """An outlook in one phrase; what is hardly possible is left out.

    >>> told_of(Outlook(drawn=0.41, different=0.584, lost=0.006, value=0.7))
    'as planned 41 %, sellable 58 %'
    """
    others = (("sellable", look.different), ("lost", look.lost))
    return ", ".join([f"as planned {chance(look.drawn)}", *(f"{w} {chance(x)}" for w, x in others if x >= SAID)])
