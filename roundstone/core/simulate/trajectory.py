"""How old, and how thick, a lane is at a minute, and when it comes to a level."""

from collections.abc import Sequence

import numpy as np

from ..batter import Array, bisected
from .context import COMING_ON, SimulationContext
from .state import State

LOOSER, LOOSE_FOR = 0.35, 1.5  # levels, and minutes they last, of batter stirred loose [C]
# After a layer test that did not hold: minutes, or share of its age, before another is of use [C].
AGAIN = {"wet": (2.0, 0.1), "slumps": (4.0, 0.25)}
DAY = 1440.0  # minutes
STRETCHES = np.diff(COMING_ON)  # minutes


def coming_on(slopes: Array, minutes: Array) -> Array:
    """C(t): what `slopes` (stretches × lanes × draws) have brought so many minutes after the fragrance went in."""
    gained = np.zeros(slopes.shape[1:])
    latest = float(minutes.max())
    for slope, begun, over in zip(slopes, COMING_ON[:-1], COMING_ON[1:], strict=True):
        if latest <= begun:
            break
        gained += slope * np.minimum(np.maximum(minutes - begun, 0.0), over - begun)
    return gained


def b_at(context: SimulationContext, lanes: Sequence[int], t: Array) -> tuple[Array, Array]:
    """Own age and rate of some lanes at the minutes t (draws): (lanes × draws) each."""
    age, rate, first = context.flat
    x = t - context.origin[lanes]
    j = np.maximum(np.searchsorted(context.grid, x, side="right") - 1, 0)
    at = first[lanes] + j
    slope = rate[at]
    return np.where(x > 0, age[at] + slope * (x - context.grid[j]), 0.0), slope


def base_age(context: SimulationContext, state: State, lanes: Sequence[int], t: Array) -> tuple[Array, Array, Array]:
    """Played age but for what a fragrance brings while it comes on, own age and own rate."""
    b, rate = b_at(context, lanes, t)
    return state.a0[lanes] + np.exp(state.ln_m[lanes]) * (b - state.b0[lanes]), b, rate


def age_at(context: SimulationContext, state: State, lanes: Sequence[int], t: Array) -> Array:
    """Played age of some lanes at the minutes t: (lanes × draws)."""
    base, _, _ = base_age(context, state, lanes, t)
    if not any(state.scent_rate[i, 0] for i in lanes):
        return base
    since = np.where(np.isfinite(state.scent_t[lanes]), t - state.scent_t[lanes], 0.0)
    if float(since.min()) >= COMING_ON[-1]:
        return np.asarray(np.maximum(base + state.brought[lanes], 0.0))
    return np.asarray(np.maximum(base + state.scent_rate[lanes] * coming_on(state.slopes[:, lanes], since), 0.0))


def middle(values: Array) -> float:
    """The middle one of some draws.

    >>> import numpy as np
    >>> middle(np.array([3.0, 1.0, 2.0]))
    2.0
    """
    half = len(values) // 2
    return float(np.partition(values, half)[half])


def quantile(values: Array, share: float) -> float:
    """The value below which such a share of the draws lies; what never comes counts as a day."""
    return float(np.quantile(np.clip(np.nan_to_num(values, posinf=DAY, neginf=-DAY), -DAY, DAY), share))


def level_of(levels: Array, ln_age: Array) -> Array:
    """Level at a ln-age, between the ln-ages at which the levels 1 to 6 begin: L = 1 + Σ clip((ln τ − g_j)/(g_{j+1} −
    g_j)).

    >>> import numpy as np
    >>> g = np.log([1.2, 4.0, 12.0, 28.0, 65.0, 150.0])[:, None, None]
    >>> float(level_of(g, np.log([[12.0]]))[0, 0])
    3.0
    """
    span = np.maximum(levels[1:] - levels[:-1], 1e-6)
    return np.asarray(1 + np.clip((ln_age - levels[:-1]) / span, 0.0, 1.0).sum(axis=0))


def levels_at(context: SimulationContext, state: State, lanes: Sequence[int], t: Array) -> Array:
    """Level of some lanes at the minutes t: (lanes × draws)."""
    return _levels(context, state, lanes, age_at(context, state, lanes, t), t)


def _levels(context: SimulationContext, state: State, lanes: Sequence[int], tau: Array, t: Array) -> Array:
    """Level of some lanes at their ages tau and the minutes t: (… × lanes × draws), as tau."""
    first, spans = (x[:, lanes].reshape(-1, *(1,) * (tau.ndim - 2), len(lanes), context.draws) for x in context.steps)
    part = np.log(np.maximum(tau, 1e-9)) - first
    part *= spans
    np.minimum(np.maximum(part, 0.0, out=part), 1.0, out=part)
    level = part.sum(axis=0)
    level += 1
    level -= LOOSER * (t < state.loose[lanes])
    return np.asarray(level)


def at_ends(
    context: SimulationContext, state: State, lanes: Sequence[int], start: Array, end: Array
) -> tuple[Array, Array]:
    """Levels of some lanes at both ends of a step that changes nothing in them, in one pass."""
    ends = np.empty((2, len(lanes), context.draws))
    ends[0], ends[1] = start, end
    tau = age_at(context, state, [*lanes, *lanes], ends.reshape(-1, context.draws))
    first, second = _levels(context, state, lanes, tau.reshape(ends.shape), ends)
    return first, second


def needed_age(context: SimulationContext, lanes: Sequence[int], level: float) -> Array:
    """The age at which some lanes come to a level."""
    j = min(max(int(level), 1), 5)
    g = context.levels[:, lanes]
    return np.exp(g[j - 1] + (level - j) * (g[j] - g[j - 1]))


def when(context: SimulationContext, state: State, lanes: Sequence[int], level: float) -> Array:
    """Minutes at which some lanes come to a level if nobody touches them: (lanes × draws).

    What a fragrance still brings while it comes on is taken as brought.
    """
    need = needed_age(context, lanes, level)
    if any(state.scent_rate[i, 0] for i in lanes):
        need = need - state.brought[lanes]
    target = state.b0[lanes] + (need - state.a0[lanes]) * np.exp(-state.ln_m[lanes])
    age, rate, first = context.flat
    segment = bisected(age, first[lanes], len(context.grid), target)
    at = first[lanes] + segment
    x = context.grid[segment] + (target - age[at]) / rate[at]
    return np.where(need <= state.a0[lanes], -np.inf, context.origin[lanes] + x)


def stands_when(context: SimulationContext, state: State, lanes: Sequence[int], gate: float) -> Array:
    """Minutes at which all of these lanes stand (draws); what was tilted and touched overrules the clock."""
    ready = when(context, state, lanes, gate)
    for row, i in enumerate(lanes):
        test = context.schedule.state.tests.get(context.schedule.bare[i].name)
        if test is not None and test.how == "stands":
            ready[row] = -np.inf
        elif test is not None:
            least, share = AGAIN[test.how]
            ready[row] = np.maximum(
                ready[row], test.minute + max(least, share * (test.minute - context.origin[i].min()))
            )
    return np.asarray(ready.max(axis=0))
