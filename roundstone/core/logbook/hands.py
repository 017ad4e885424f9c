"""How long a maker's steps take, learned from the pours that were logged."""

from collections.abc import Iterable
from math import log

import numpy as np

from ..schedule import Schedule
from ..simulate import Hands

MAKERS_SD = 0.20  # of ln(minutes taken ÷ minutes planned) among makers [C]
POURS_SD = 0.30  # of one pour about its maker's [C]
LEFT_SD = 0.10  # that is left of a maker's own from day to day [C]
LEAST_MINUTES = 0.5  # of a stretch that is worth comparing


def paces(schedule: Schedule) -> list[float]:
    """ln(taken ÷ planned) of the stretches of one finished pour that two taps enclose and no batter held up."""
    state, out = schedule.state, []
    done = schedule.reconciled.done
    preparing = sum(p.task.minutes for p in done if p.task.do in ("colour", "scent"))
    if state.split is not None and state.pouring is not None and len(set(schedule.begins)) == 1:
        out.append((state.pouring - state.split, preparing))
    looks = [p.task for p in done if p.task.looks and not p.skipped]
    held = any(s.wants.gate is not None or s.wants.wait > 0 for s in looks)
    if state.pouring is not None and state.ended is not None and not held and not state.switches:
        out.append((state.ended - state.pouring, sum(s.minutes for s in looks)))
    return [log(taken / planned) for taken, planned in out if min(taken, planned) >= LEAST_MINUTES]


def learn_hands(schedules: Iterable[Schedule]) -> Hands:
    """What is believed of a maker's hands: a normal mean with a normal prior, one observation a pour.

    >>> learn_hands([])
    Hands(mean=0.0, sd=0.2)
    """
    seen = [float(np.clip(np.mean(p), -1.5, 1.5)) for c in schedules if (p := paces(c))]
    if not seen:
        return Hands(0.0, MAKERS_SD)
    precision = MAKERS_SD**-2 + len(seen) * POURS_SD**-2
    mean = sum(seen) * POURS_SD**-2 / precision
    return Hands(float(mean), float(np.hypot(precision**-0.5, LEFT_SD)))
