"""One forward pass over a plan: steps × draws, with one pair of hands.

A lane holds what has happened; the future is played on top of it. B(t) is the lane's own age, and in each draw

    τ(t) = A₀ + m·(B(t) − B₀)

    settle                    A₀ ← τ(t), B₀ ← B(t)
    stirred for d min         settle, A₀ += rate·m·(e^lnm − 1)·d
    a fragrance goes in       settle, m ← m·exp(Σ percent·e), and while it comes on and is stirred in
                              τ gains rate·C(t − t₀)
    thickened to a level      as long with the stick as the age lacks, at most THICKEN_MOST
    x folded into y           ln τ and ln m of y become means by weight

Everything that has odds is read off this: blocks of the ribbon, outcome, levers, fall-backs, the bench's advice.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import log

import numpy as np

from ..batter import Array, bisected
from ..recipe import INTO_MOULD
from ..schedule import Placed, Task
from ..shelf import Band
from .context import COMING_ON, STEP_SD, SimulationContext, Utility, _seen_after

LEAST_OF_STEP = 0.25  # share of its minutes that a step under way still takes [C]
FETCH_MINUTES = 0.25  # to fetch the stick and knock it off [C]
THICKEN_MOST = 2.0  # minutes one goes on thickening on purpose [C]
GRAINS_SPOIL = 0.6  # of a step's fit, where it shows grains [C]
GATE_LEAST, GATE_SOFT = 0.15, 0.7  # fit on what does not stand; levels short of the gate at which that is all [C]
LOST_POUR, LOST_SPOON = (5.1, 5.9), (5.5, 6.0)  # levels from which a portion cannot go in, and where none can [C]
RICED_LOST = 0.10  # at least, of a riced portion used as it is [C]
RICED_FASTER = log(1.5)  # ln-rate of batter in which grains were seen [C]
SOFTENED, SOFT_BAND = 0.3, (3.0, 3.5, 5.2, 5.9)  # makers texture unasked what came too thick [C]
FOLDED_GRAIN, FOLD_MINUTES = 0.45, 0.5  # grains left by folding [C]
LOOSER, LOOSE_FOR = 0.35, 1.5  # levels, and minutes they last, of batter stirred loose [C]
# After a layer test that did not hold: minutes, or share of its age, before another is of use [C].
AGAIN = {"wet": (2.0, 0.1), "slumps": (4.0, 0.25)}
DAY = 1440.0  # minutes
STRETCHES = np.diff(COMING_ON)  # minutes
LOOK_FROM, LOOK_TO = 0.3, 0.9  # share of the look kept at which nothing, and everything, counts as drawn [C]


def coming_on(slopes: Array, minutes: Array) -> Array:
    """C(t): what `slopes` (stretches × lanes × draws) have brought so many minutes after the fragrance went in."""
    gained = np.zeros(slopes.shape[1:])
    latest = float(minutes.max())
    for slope, begun, over in zip(slopes, COMING_ON[:-1], COMING_ON[1:], strict=True):
        if latest <= begun:
            break
        gained += slope * np.minimum(np.maximum(minutes - begun, 0.0), over - begun)
    return gained


class State:
    """The played part: times and ages by draw, what is where, and what the look has kept so far."""

    __slots__ = (
        "a0",
        "b0",
        "brought",
        "grain",
        "in_mould",
        "ln_m",
        "loose",
        "lost",
        "q",
        "scent_rate",
        "scent_t",
        "scented",
        "slopes",
        "t",
        "used",
        "w",
    )  # fmt: skip

    def __init__(self, context: SimulationContext) -> None:
        lanes, draws = context.origin.shape
        self.t = np.full(draws, context.schedule.now)
        self.a0, self.b0 = np.zeros((lanes, draws)), np.zeros((lanes, draws))
        self.ln_m = np.zeros((lanes, draws))
        self.grain = context.riced.copy()
        self.loose = np.full((lanes, draws), -np.inf)
        self.in_mould: tuple[int, ...] = context.schedule.reconciled.in_mould
        self.used = np.array([1 - context.schedule.reconciled.left[i] for i in range(lanes)])
        self.scented = np.array([bool(lane.added) for lane in context.schedule.bare])
        self.scent_t, self.scent_rate = np.full((lanes, draws), np.inf), np.zeros((lanes, draws))
        self.slopes = np.zeros((len(COMING_ON) - 1, lanes, draws))
        self.brought = np.zeros((lanes, draws))
        self.lost, self.q, self.w = np.zeros(draws), np.zeros(draws), 0.0

    def copy(self) -> "State":
        other = object.__new__(State)
        for name in State.__slots__:
            value = getattr(self, name)
            setattr(other, name, value.copy() if isinstance(value, np.ndarray) else value)
        return other


@dataclass(frozen=True)
class Played:
    """A step in all draws. `fit` is how well it finds the batter (draws), `each` by lane; `level` where it starts.

    `thick` and `thin` are the means of what is wanting; `waited` and `thickened` minutes by draw.
    """

    task: Task
    start: Array
    end: Array
    fit: Array
    each: Array
    level: Array
    thick: float
    thin: float
    lost: Array
    waited: Array
    done: bool = False

    @property
    def odds(self) -> float:
        return float(np.mean(self.fit))

    @property
    def too_thin_in(self) -> tuple[int, ...]:
        """Portions, by place, in which more is wanting for being too thin than for being too thick."""
        wanting = 1 - self.each
        thin = wanting * (self.level < max(self.task.wants.band[1], 1.0))
        more = thin.mean(axis=1) > wanting.mean(axis=1) / 2
        return tuple(i for i, x in zip(self.task.lanes, more, strict=True) if x)


@dataclass(frozen=True)
class Outcome:
    """By draw: `kept` the share of the look, `lost` the share of the batter; see `told`."""

    kept: Array
    lost: Array
    steps: tuple[Played, ...]
    state: State

    @cached_property
    def drawn(self) -> Array:
        """As drawn, by draw."""
        share = np.clip((self.kept - LOOK_FROM) / (LOOK_TO - LOOK_FROM), 0.0, 1.0)
        return np.asarray((1 - self.lost) * share)

    def value(self, utility: Utility, similarity: float = 1.0) -> Array:
        """What it is worth, by draw; after a change of technique `kin` says how much like the drawn one it is."""
        share = np.clip((self.kept - LOOK_FROM) / (LOOK_TO - LOOK_FROM), 0.0, 1.0)
        good = utility.different + (utility.drawn - utility.different) * similarity * share
        return np.asarray((1 - self.lost) * good + self.lost * utility.lost)


def b_at(context: SimulationContext, lanes: Sequence[int], t: Array) -> tuple[Array, Array]:
    """Own age and rate of some lanes at the minutes t (draws): (lanes × draws) each."""
    age, rate, first = context.flat
    x = t - context.origin[lanes]
    j = np.maximum(np.searchsorted(context.grid, x, side="right") - 1, 0)
    at = first[lanes] + j
    slope = rate[at]
    return np.where(x > 0, age[at] + slope * (x - context.grid[j]), 0.0), slope


def _base(context: SimulationContext, state: State, lanes: Sequence[int], t: Array) -> tuple[Array, Array, Array]:
    """Played age but for what a fragrance brings while it comes on, own age and own rate."""
    b, rate = b_at(context, lanes, t)
    return state.a0[lanes] + np.exp(state.ln_m[lanes]) * (b - state.b0[lanes]), b, rate


def age_at(context: SimulationContext, state: State, lanes: Sequence[int], t: Array) -> Array:
    """Played age of some lanes at the minutes t: (lanes × draws)."""
    base, _, _ = _base(context, state, lanes, t)
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


def _at_ends(
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


def _settle(context: SimulationContext, state: State, lanes: Sequence[int], t: Array) -> Array:
    """Make now the point from which these lanes go on; returns their own rate."""
    base, b, rate = _base(context, state, lanes, t)
    state.a0[lanes], state.b0[lanes] = base, b
    return rate


def stir(
    context: SimulationContext, state: State, lanes: Sequence[int], t: Array, minutes: Array | float, by: str
) -> None:
    """Stirred for so long, up to t."""
    if not lanes:
        return
    rate = _settle(context, state, lanes, t)
    more = context.stick if by == "stick" else context.hand
    state.a0[lanes] += rate * np.exp(state.ln_m[lanes]) * (more - 1) * minutes


def scent_in(context: SimulationContext, state: State, lanes: Sequence[int], t: Array, by: str) -> None:
    """Their fragrance goes in at t and is stirred in; grains come where they come."""
    new = [i for i in lanes if not state.scented[i]]
    if not new:
        return
    rate = _settle(context, state, new, t)
    state.scent_t[new], state.scent_rate[new] = t, rate * np.exp(state.ln_m[new])
    state.slopes[:, new] = (context.unfold_stick if by == "stick" else context.unfold)[:, new]
    state.brought[new] = state.scent_rate[new] * np.einsum("s,sld->ld", STRETCHES, state.slopes[:, new])
    state.ln_m[new] += context.scent[new]
    rices = context.grains[new]
    state.ln_m[new] += RICED_FASTER * rices
    state.grain[new] = np.maximum(state.grain[new], rices)
    state.scented[new] = True


def thicken(context: SimulationContext, state: State, lanes: Sequence[int], t: Array, level: float) -> Array:
    """With the stick to a level, on purpose: the minutes it takes (draws)."""
    rate = _settle(context, state, lanes, t) * np.exp(state.ln_m[lanes]) * context.stick
    lack = np.maximum(needed_age(context, lanes, level) - age_at(context, state, lanes, t), 0.0)
    minutes = np.minimum(lack / rate, THICKEN_MOST)
    state.a0[lanes] += rate * minutes
    took = minutes.max(axis=0)
    return took + FETCH_MINUTES * (took > 0)


def fold(context: SimulationContext, state: State, x: int, into: Sequence[int], t: Array) -> None:
    """Fold one lane into others, by their weights."""
    ages = dict(zip([x, *into], age_at(context, state, [x, *into], t), strict=True))
    _settle(context, state, [x, *into], t)
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


def fit_of(band: Band, level: Array) -> Array:
    """How well a level fits a band: 0 at its ends, 1 in its middle, straight between.

    >>> import numpy as np
    >>> [float(x) for x in fit_of((1.0, 2.0, 3.0, 4.0), np.array([1.5, 2.5, 3.25, 4.2]))]
    [0.5, 1.0, 0.75, 0.0]
    """
    thin, lo, hi, thick = band
    fit = (thick - level) / max(thick - hi, 1e-6)
    if lo > 1:
        fit = np.minimum(fit, (level - thin) / max(lo - thin, 1e-6))
    return np.asarray(np.minimum(np.maximum(fit, 0.0), 1.0))


def _ramp(level: Array, ends: tuple[float, float]) -> Array:
    return np.asarray(np.minimum(np.maximum((level - ends[0]) / (ends[1] - ends[0]), 0.0), 1.0))


def below(state: State, task: Task) -> list[int]:
    """What a step of the look is poured on: what is in the mould, but for its own lanes."""
    return [i for i in state.in_mould if i not in task.lanes]


def play_step(context: SimulationContext, state: State, task: Task, left: float = 1.0, soft: bool = False) -> Played:
    """Play one step and move the state behind it. `left` is how much of it is still to do, `soft` whether the maker
    textures unasked what comes too thick."""
    wants, lanes = task.wants, list(task.lanes)
    begun = state.t.copy()
    start = state.t
    under = below(state, task) if wants.gate is not None and left >= 1 else []
    if left >= 1:
        start = _waited(context, state, task, under, start)
    waited = start - begun
    if task.looks and wants.to is not None and lanes:
        start = start + thicken(context, state, lanes, start, wants.to)
    # A planned wait is by the clock, whoever waits.
    noise = (
        np.exp(context.hands + STEP_SD * context.step_noise(task.key)) if task.do != "wait" else np.ones(context.draws)
    )
    minutes = task.minutes * noise * max(left, LEAST_OF_STEP if left < 1 else 1.0)
    if task.do == "combine":
        return _combine(context, state, task, start)
    end = start + minutes
    weigh = bool(lanes) and wants.weight > 0
    if task.looks and weigh:
        first, second = _at_ends(context, state, lanes, start, end)
    else:
        first = levels_at(context, state, lanes, start) if weigh else np.ones((len(lanes), context.draws))
    if task.do in ("colour", "scent", "blend", "burst", "loosen", "fold"):
        _prepare(context, state, task, start, end, minutes)
        if task.do == "blend" and task.to is not None:
            end = start + thicken(context, state, lanes, start, task.to)
    if not task.looks:
        second = levels_at(context, state, lanes, end) if weigh else first
    elif not weigh:
        second = first
    fit, each, lost = _judged(context, state, task, first, second, start, under, soft)
    thick, thin = _amiss(context, task, first, each)
    if task.do in INTO_MOULD:
        state.used[lanes] = np.minimum(state.used[lanes] + wants.part, 1.0)
        state.in_mould = tuple(dict.fromkeys([*state.in_mould, *lanes]))
    state.t = end
    state.q = state.q + wants.weight * fit
    state.w += wants.weight
    state.lost = state.lost + lost
    return Played(task, start, end, fit, each, first, thick, thin, lost, waited)


def _waited(context: SimulationContext, state: State, task: Task, under: Sequence[int], start: Array) -> Array:
    wants, lanes = task.wants, list(task.lanes)
    if task.do == "wait" and task.to is not None and lanes:
        ready = when(context, state, lanes, task.to).max(axis=0)
        return np.maximum(start, ready)
    if under and wants.gate is not None:
        stands = stands_when(context, state, under, wants.gate)
        start = np.maximum(start, np.minimum(stands, start + wants.wait))
    if task.looks and wants.wait > 0 and wants.band[1] > 1 and lanes and wants.gate is None:
        ready = when(context, state, lanes, wants.band[1]).max(axis=0)
        start = np.maximum(start, np.minimum(ready, start + wants.wait))
    return start


def _combine(context: SimulationContext, state: State, task: Task, start: Array) -> Played:
    """A batch is blended to emulsion: its lanes' clocks begin, in each draw at their own minute."""
    lanes = list(task.lanes)
    schedule = context.schedule
    if lanes and not schedule.emulsified[lanes[0]]:
        begun = schedule.begins[lanes[0]] <= schedule.now
        end = context.origin[lanes[0]] if begun else start + context.emulsion[lanes[0]]
        context.origin[lanes] = end
    else:
        end = start
    if task.to is not None and lanes:
        end = end + thicken(context, state, lanes, end, task.to)
    one = np.ones(context.draws)
    state.t = np.maximum(end, start)
    ones = np.ones((len(lanes), context.draws))
    return Played(task, start, state.t, one, ones, ones, 0.0, 0.0, 0 * one, 0 * one)


def _prepare(context: SimulationContext, state: State, task: Task, start: Array, end: Array, minutes: Array) -> None:
    lanes = list(task.lanes)
    match task.do:
        case "colour":
            stir(context, state, lanes, end, minutes, task.by)
        case "scent":
            scent_in(context, state, lanes, start, task.by)
        case "burst":
            stir(context, state, lanes, end, np.maximum(minutes - FETCH_MINUTES, 0.0), "stick")
        case "loosen":
            stir(context, state, lanes, end, minutes, "hand")
            state.loose[lanes] = end + LOOSE_FOR
        case "fold":
            fold(context, state, lanes[0], lanes[1:], start)


def _judged(
    context: SimulationContext,
    state: State,
    task: Task,
    first: Array,
    second: Array,
    start: Array,
    under: Sequence[int],
    soft: bool,
) -> tuple[Array, Array, Array]:
    """Fit over all lanes, fit of each, and what is lost of the batter."""
    wants, lanes = task.wants, list(task.lanes)
    none = np.zeros(context.draws)
    if not lanes or wants.weight <= 0:
        return np.ones(context.draws), np.ones((len(lanes), context.draws)), none
    each = (fit_of(wants.band, first) + fit_of(wants.band, second)) / 2
    if soft:
        thick = first > (wants.band[2] + wants.band[3]) / 2
        each = np.where(thick, np.maximum(each, SOFTENED * fit_of(SOFT_BAND, first)), each)
    grain = state.grain[lanes]
    each = each * (1 - GRAINS_SPOIL * wants.grain * grain)
    if under and wants.gate is not None:
        lies = levels_at(context, state, under, start).min(axis=0)
        each = each * (GATE_LEAST + (1 - GATE_LEAST) * np.clip((lies - (wants.gate - GATE_SOFT)) / GATE_SOFT, 0.0, 1.0))
    shares = context.shares[lanes] / context.shares[lanes].sum()
    fit = shares @ each
    if (task.do not in INTO_MOULD and task.do != "spare") or task.do in ("pipe", "top"):
        return fit, each, none
    gone = _ramp(first, LOST_SPOON if task.do == "spoon" else LOST_POUR)
    gone = np.maximum(gone, RICED_LOST * grain)
    return fit, each, (context.shares[lanes] * wants.part) @ gone


def _amiss(context: SimulationContext, task: Task, level: Array, each: Array) -> tuple[float, float]:
    """Means of what is wanting where the batter is too thick, and where it is too thin (or what is below is)."""
    if not task.lanes or task.wants.weight <= 0:
        return 0.0, 0.0
    shares = context.shares[list(task.lanes)]
    shares = shares / (shares.sum() * context.draws)
    wanting = 1 - each
    too_thin = level < max(task.wants.band[1], 1.0)
    thin = float((shares @ (wanting * too_thin)).sum()) if too_thin.any() else 0.0
    return float((shares @ wanting).sum()) - thin, thin


def judge_done(
    context: SimulationContext, state: State, placed: Placed, under: Sequence[int], levels: tuple[Array, Array] | None
) -> Played:
    """A step that was done, judged at its own minutes by what is believed now: by its lanes' `levels` at both ends,
    None where it weighs nothing."""
    start, end = np.full(context.draws, placed.start), np.full(context.draws, placed.end)
    wants, lanes = placed.task.wants, list(placed.task.lanes)
    if levels is None:
        fit = np.full(context.draws, (wants.keep or 0.0) if placed.skipped else 1.0)
        each = np.tile(fit, (len(lanes), 1))
        return Played(placed.task, start, end, fit, each, each + 1, 0.0, 0.0, 0 * start, 0 * start, done=True)
    first, second = levels
    fit, each, lost = _judged(context, state, placed.task, first, second, start, under, soft=False)
    thick, thin = _amiss(context, placed.task, first, each)
    return Played(placed.task, start, end, fit, each, first, thick, thin, lost, 0 * start, done=True)


def _levels_of(context: SimulationContext, state: State, done: Sequence[Placed]) -> list[tuple[Array, Array] | None]:
    """Levels at both ends of every step that was done and weighs, all in one pass."""
    weighs = [bool(p.task.lanes) and not p.skipped and p.task.wants.weight > 0 for p in done]
    lanes = [i for p, counts in zip(done, weighs, strict=True) if counts for i in p.task.lanes]
    if not lanes:
        return [None] * len(done)
    of = [p for p, counts in zip(done, weighs, strict=True) if counts for _ in p.task.lanes]
    first, second = _at_ends(
        context, state, lanes, np.array([[p.start] for p in of]), np.array([[p.end] for p in of])
    )  # fmt: skip
    out: list[tuple[Array, Array] | None] = []
    at = 0
    for placed, counts in zip(done, weighs, strict=True):
        upto = at + len(placed.task.lanes) * counts
        out.append((first[at:upto], second[at:upto]) if counts else None)
        at = upto
    return out


def begin(context: SimulationContext) -> tuple[State, tuple[Played, ...]]:
    """Where the pour stands now, with the steps that are done judged."""
    state = State(context)
    for flag in context.schedule.state.flags:
        for i, lane in enumerate(context.schedule.bare):
            if (
                flag.flag != "ricing"
                or flag.portion not in (None, lane.name)
                or _seen_after(context.schedule, i, flag.minute)
            ):
                continue
            _settle(context, state, [i], np.full(context.draws, min(flag.minute, context.schedule.now)))
            state.ln_m[i] += RICED_FASTER
    for work in context.schedule.state.work:
        lanes = [i for i, lane in enumerate(context.schedule.bare) if work.portion in (None, lane.name)]
        if work.purpose == "loosen":
            state.loose[lanes] = work.minute + LOOSE_FOR
    done: list[Played] = []
    in_mould: list[int] = []
    reconciled = context.schedule.reconciled.done
    for placed, levels in zip(reconciled, _levels_of(context, state, reconciled), strict=True):
        task = placed.task
        under = [i for i in in_mould if i not in task.lanes] if task.wants.gate is not None else []
        played = judge_done(context, state, placed, under, levels)
        done.append(played)
        if task.do in INTO_MOULD and not placed.skipped:
            in_mould = list(dict.fromkeys([*in_mould, *task.lanes]))
        state.q = state.q + task.wants.weight * played.fit
        state.w += task.wants.weight
        state.lost = state.lost + played.lost
    state.t = np.maximum(state.t, context.schedule.reconciled.free if context.schedule.reconciled.done else 0.0)
    return state, tuple(done)


class Walk:
    """Steps played one after the other, from a state that stays as it was."""

    def __init__(self, context: SimulationContext, state: State, tasks: Sequence[Task]) -> None:
        self.state = state.copy()
        combines = any(s.do == "combine" for s in tasks)
        self.context = replace(context, origin=context.origin.copy()) if combines else context
        self._looks = 0

    def step(self, task: Task, left: float = 1.0) -> Played:
        """Play the next step, or what is `left` of it."""
        played = play_step(self.context, self.state, task, left, soft=self._looks > 1)
        self._looks += task.looks
        return played


def play(
    context: SimulationContext,
    state: State,
    tasks: Sequence[Task],
    left: float = 1.0,
    credit: tuple[float, float] = (0.0, 0.0),
    done: Sequence[Played] = (),
) -> Outcome:
    """Play steps from a state, which stays as it was. `left` is of the first step; `credit` a weight of the look and
    the share of it that is kept, for what is left out of the steps.
    """
    walk = Walk(context, state, tasks)
    now = walk.state
    now.q, now.w = now.q + credit[0] * credit[1], now.w + credit[0]
    steps = [walk.step(task, left if n == 0 else 1.0) for n, task in enumerate(tasks)]
    kept = now.q / now.w if now.w > 0 else np.ones(context.draws)
    return Outcome(np.asarray(kept), np.clip(now.lost, 0.0, 1.0), (*done, *steps), now)
