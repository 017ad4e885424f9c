"""How well a step finds the batter, what is lost of it, and whether it was too thick or too thin."""

from collections.abc import Sequence

import numpy as np

from ..batter import Array
from ..recipe import INTO_MOULD
from ..schedule import Placed, Task
from ..shelf import Band
from .context import SimulationContext
from .state import Amiss, Played, State
from .trajectory import at_ends, levels_at

SOLID = 0.1  # of a step's fit, with a portion that has seized: it goes in as lumps [C]
GRAINS_SPOIL = 0.6  # of a step's fit, where it shows grains [C]
GATE_LEAST, GATE_SOFT = 0.15, 0.7  # fit on what does not stand; levels short of the gate at which that is all [C]
LOST_POUR, LOST_SPOON = (5.1, 5.9), (5.5, 6.0)  # levels from which a portion cannot go in, and where none can [C]
RICED_LOST = 0.10  # at least, of a riced portion used as it is [C]
SOFTENED, SOFT_BAND = 0.3, (3.0, 3.5, 5.2, 5.9)  # makers texture unasked what came too thick [C]


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


def judged(
    context: SimulationContext,
    state: State,
    task: Task,
    first: Array,
    second: Array,
    start: Array,
    under: Sequence[int],
    soft: bool,
) -> tuple[Array, Array, Array, Array]:
    """Fit over all lanes, fit of each, what is lost of the batter, and how much less each fits for what is below."""
    wants, lanes = task.wants, list(task.lanes)
    none = np.zeros(context.draws)
    if not lanes or wants.weight <= 0:
        each = np.ones((len(lanes), context.draws))
        return np.ones(context.draws), each, none, 0 * each
    each = (fit_of(wants.band, first) + fit_of(wants.band, second)) / 2
    if soft:
        thick = first > (wants.band[2] + wants.band[3]) / 2
        each = np.where(thick, np.maximum(each, SOFTENED * fit_of(SOFT_BAND, first)), each)
    each = np.where(context.solid[lanes][:, None], each * SOLID, each)
    grain = state.grain[lanes]
    each = each * (1 - GRAINS_SPOIL * wants.grain * grain)
    late = np.zeros_like(each)
    if under and wants.gate is not None:
        lies = levels_at(context, state, under, start).min(axis=0)
        stands = GATE_LEAST + (1 - GATE_LEAST) * np.clip((lies - (wants.gate - GATE_SOFT)) / GATE_SOFT, 0.0, 1.0)
        late = each * (1 - stands)
        each = each * stands
    shares = context.shares[lanes] / context.shares[lanes].sum()
    fit = shares @ each
    if (task.do not in INTO_MOULD and task.do != "spare") or task.do in ("pipe", "top"):
        return fit, each, none, late
    gone = _ramp(first, LOST_SPOON if task.do == "spoon" else LOST_POUR)
    gone = np.maximum(gone, RICED_LOST * grain)
    return fit, each, (context.shares[lanes] * wants.part) @ gone, late


def of_bar(context: SimulationContext, task: Task) -> float:
    """How much of all batter a step puts into the mould, 0 to 1."""
    return float(context.shares[list(task.lanes)].sum() * task.wants.part) if task.do in INTO_MOULD else 0.0


def amiss(context: SimulationContext, task: Task, level: Array, each: Array, late: Array) -> Amiss:
    """Means of what is wanting where the batter is too thick, where it is too thin, and where what it lies on stands
    too late, which is `late` by lane and draw."""
    if not task.lanes or task.wants.weight <= 0:
        return Amiss()
    shares = context.shares[list(task.lanes)]
    shares = shares / (shares.sum() * context.draws)
    own = 1 - each - late
    too_thin = level < max(task.wants.band[1], 1.0)
    thin = float((shares @ (own * too_thin)).sum()) if too_thin.any() else 0.0
    thick = float((shares @ own).sum()) - thin
    return Amiss(max(thick, 0.0), max(thin, 0.0), float((shares @ late).sum()))


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
        zero = 0 * start
        return Played(
            placed.task, start, end, fit, each, each + 1, Amiss(), zero, zero, of_bar(context, placed.task), True
        )
    first, second = levels
    fit, each, lost, late = judged(context, state, placed.task, first, second, start, under, soft=False)
    wrong = amiss(context, placed.task, first, each, late)
    return Played(placed.task, start, end, fit, each, first, wrong, lost, 0 * start, of_bar(context, placed.task), True)


def levels_of(context: SimulationContext, state: State, done: Sequence[Placed]) -> list[tuple[Array, Array] | None]:
    """Levels at both ends of every step that was done and weighs, all in one pass."""
    weighs = [bool(p.task.lanes) and not p.skipped and p.task.wants.weight > 0 for p in done]
    lanes = [i for p, counts in zip(done, weighs, strict=True) if counts for i in p.task.lanes]
    if not lanes:
        return [None] * len(done)
    of = [p for p, counts in zip(done, weighs, strict=True) if counts for _ in p.task.lanes]
    first, second = at_ends(
        context, state, lanes, np.array([[p.start] for p in of]), np.array([[p.end] for p in of])
    )  # fmt: skip
    out: list[tuple[Array, Array] | None] = []
    at = 0
    for placed, counts in zip(done, weighs, strict=True):
        upto = at + len(placed.task.lanes) * counts
        out.append((first[at:upto], second[at:upto]) if counts else None)
        at = upto
    return out
