"""What a hand does to batter: stirred, scented, thickened, folded."""

from collections.abc import Sequence
from math import log

import numpy as np

from ..batter import Array
from .context import SimulationContext
from .state import State
from .trajectory import STRETCHES, age_at, base_age, needed_age

FETCH_MINUTES = 0.25  # to fetch the stick and knock it off [C]
THICKEN_MOST = 2.0  # minutes one goes on thickening on purpose [C]
RICED_FASTER = log(1.5)  # ln-rate of batter in which grains were seen [C]
FOLDED_GRAIN, FOLD_MINUTES = 0.45, 0.5  # grains left by folding [C]


def settle(context: SimulationContext, state: State, lanes: Sequence[int], t: Array) -> Array:
    """Make now the point from which these lanes go on; returns their own rate."""
    base, b, rate = base_age(context, state, lanes, t)
    state.a0[lanes], state.b0[lanes] = base, b
    return rate


def stir(
    context: SimulationContext, state: State, lanes: Sequence[int], t: Array, minutes: Array | float, by: str
) -> None:
    """Stirred for so long, up to t."""
    if not lanes:
        return
    rate = settle(context, state, lanes, t)
    more = context.stick if by == "stick" else context.hand
    state.a0[lanes] += rate * np.exp(state.ln_m[lanes]) * (more - 1) * minutes


def scent_in(context: SimulationContext, state: State, lanes: Sequence[int], t: Array, by: str) -> None:
    """Their fragrance goes in at t and is stirred in; grains come where they come."""
    new = [i for i in lanes if not state.scented[i]]
    if not new:
        return
    rate = settle(context, state, new, t)
    state.scent_t[new], state.scent_rate[new] = t, rate * np.exp(state.ln_m[new])
    state.slopes[:, new] = (context.unfold_stick if by == "stick" else context.unfold)[:, new]
    state.brought[new] = state.scent_rate[new] * np.einsum("s,sld->ld", STRETCHES, state.slopes[:, new])
    state.ln_m[new] += context.scent[new]
    rices = context.grains[new]
    state.ln_m[new] += RICED_FASTER * rices
    state.grain[new] = np.maximum(state.grain[new], rices)
    state.scented[new] = True


def thicken(
    context: SimulationContext, state: State, lanes: Sequence[int], t: Array, level: float, apart: bool = False
) -> Array:
    """With the stick to a level, on purpose: the minutes it takes (draws), of lanes `apart` one after the other."""
    rate = settle(context, state, lanes, t) * np.exp(state.ln_m[lanes]) * context.stick
    lack = np.maximum(needed_age(context, lanes, level) - age_at(context, state, lanes, t), 0.0)
    minutes = np.minimum(lack / rate, THICKEN_MOST)
    state.a0[lanes] += rate * minutes
    took = minutes.sum(axis=0) if apart else minutes.max(axis=0)
    return took + FETCH_MINUTES * (took > 0)


def fold(context: SimulationContext, state: State, x: int, into: Sequence[int], t: Array) -> None:
    """Fold one lane into others, by their weights."""
    ages = dict(zip([x, *into], age_at(context, state, [x, *into], t), strict=True))
    settle(context, state, [x, *into], t)
    left = np.maximum(context.shares * (1 - state.used), 1e-9)
    for y in into:
        w = left[x] / len(into) / (left[x] / len(into) + left[y])
        shift = context.levels[2, y] - context.levels[2, x]  # its age counts by its own medium
        ln_x, ln_y = (np.log(np.maximum(ages[i], 1e-6)) for i in (x, y))
        state.a0[y] = np.exp(w * (ln_x + shift) + (1 - w) * ln_y)
        state.scent_rate[y] = state.brought[y] = 0.0
        state.ln_m[y] = w * state.ln_m[x] + (1 - w) * state.ln_m[y]
        state.grain[y] = FOLDED_GRAIN * w * state.grain[x] + (1 - w) * state.grain[y]
    state.used[x] = 1.0
