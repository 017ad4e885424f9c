"""The noise that no coefficient explains, tuned by the evidence of all pours."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from ..batter import Array, Knowledge, Noise
from ..schedule import Schedule
from .learn import lay_out, solve

LEAST_POURS = 20  # to tune the noise from
TUNING_SD = 0.2  # prior of ln σ about the trade's, for each of the three [C]
TUNING_STEPS = 45


def tune(
    prior_knowledge: Knowledge, schedules: Mapping[str, Schedule], progress: Callable[[float], None] | None = None
) -> Noise:
    """The noise with the highest evidence: a batch's, a portion's and a common scale of the thresholds'.

    `progress` is told the share of steps done. With fewer than LEAST_POURS pours the trade's noise stands.
    """
    from scipy.optimize import minimize  # slow to import

    trade = Noise()
    chunks = lay_out(prior_knowledge, schedules)
    pours = len({pour for c in chunks for pour, _ in c.names})
    if pours < LEAST_POURS:
        return trade
    start = solve(prior_knowledge, chunks, None)
    done = 0

    def noise(x: Array) -> Noise:
        batch, portion, scale = (float(np.exp(np.clip(v, -1.5, 1.5))) for v in x)
        return Noise(trade.batch * batch, trade.portion * portion, tuple(s * scale for s in trade.stages))

    def loss(x: Array) -> float:
        nonlocal done
        done += 1
        if progress is not None:
            progress(min(done / TUNING_STEPS, 1.0))
        knowledge = replace(prior_knowledge, noise=noise(x))
        found = solve(knowledge, [c.with_noise(knowledge) for c in chunks], start, start.stretched)
        return -found.evidence + 0.5 * float(np.sum(np.square(x))) / TUNING_SD**2

    simplex = np.vstack([np.zeros(3), 0.25 * np.eye(3)])
    options: Any = {"maxfev": TUNING_STEPS, "initial_simplex": simplex, "xatol": 0.02, "fatol": 0.02}
    return noise(minimize(loss, np.zeros(3), method="Nelder-Mead", options=options).x)
