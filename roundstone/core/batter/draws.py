"""The batter clock: what is believed about rates, and when each stage comes, as draws.

    η_k  = x·β + E·xT_k + lnm[activity] + Σ dose·e [in] + u_batch + u_portion [after the split]
    τ(t) = Σ_k exp(η_k)·Δt_k
    stage s is crossed when ln τ = a_s + σ_s ε_s

One belief, a joint Gaussian over every coefficient, serves the forecast before the pour (no looks yet), the
live pour (all looks so far) and learning (all pours). See docs/model.md.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from scipy.special import ndtr, ndtri

from .belief import Belief
from .cooling import Array
from .lane import THRESHOLD_COLUMNS, Lane

LEVELS = (2.0, 3.0, 3.5, 4.0, 5.0)  # light, medium, half-way to thick, thick, set
THRESHOLD_LEVELS = (2.0, 3.0, 4.0, 5.0)
QUANTILES = (0.10, 0.25, 0.50, 0.75, 0.90)


@dataclass(frozen=True)
class Known:
    """What a lane's looks say of one threshold: not reached at `after`, reached by `by` (minutes)."""

    after: float | None = None
    by: float | None = None


@dataclass(frozen=True)
class Draws:
    """Crossing times in minutes: (lanes × draws × LEVELS), every draw rising along the levels."""

    times: Array

    @cached_property
    def ordered(self) -> Array:
        """The same times, sorted within each lane and level: (lanes × draws × LEVELS)."""
        return np.sort(self.times, axis=1)

    def median(self, lane: int, level: float) -> float:
        return float(self.ordered[lane, self.times.shape[1] // 2, LEVELS.index(level)])

    def crossing(self, lane: int, level: float) -> Array:
        """When this lane reaches a level in each draw; emulsion or below is already there."""
        if level <= 1:
            return np.full(self.times.shape[1], -np.inf)
        if level > LEVELS[-1]:
            return np.full(self.times.shape[1], np.inf)
        return self.times[lane, :, LEVELS.index(level)]

    def quantiles(self, lane: int, level: float) -> Array:
        """10, 25, 50, 75 and 90 % quantiles, by sorting (inverse of the empirical distribution)."""
        draws = self.times.shape[1]
        return self.ordered[lane, [min(int(q * draws), draws - 1) for q in QUANTILES], LEVELS.index(level)]


@lru_cache(maxsize=32)
def normals(seed: int, draws: int, width: int) -> Array:
    """Standard normals in antithetic pairs: the same for the same seed, so an edit moves the forecast, not the dice."""
    half = np.random.Generator(np.random.PCG64(seed)).standard_normal(((draws + 1) // 2, width))
    both = np.concatenate([half, -half])[:draws]
    both.setflags(write=False)
    return both


def _truncated(normal: Array, low: Array, high: Array) -> Array:
    """Map standard normals to normals between `low` and `high`, monotonically; stable in both tails."""
    flip = low > -high
    lo, hi = np.where(flip, -high, low), np.where(flip, -low, high)
    u = ndtr(np.where(flip, -normal, normal))
    floor, top = ndtr(lo), ndtr(hi)
    x = ndtri(np.clip(floor + u * (top - floor), 1e-300, 1 - 1e-16))
    x = np.clip(x, lo, hi)
    return np.where(flip, -x, x)


def ages(lanes: Sequence[Lane], column: Mapping[str, int], params: Array) -> tuple[Array, Array]:
    """Rates (draws × lanes × segments) and ages at the segments' edges (one more), for lanes that share edges."""
    rows = np.concatenate([lane.rows(column) for lane in lanes])
    rate = np.exp(np.clip(params @ rows.T, -50, 50)).reshape(len(params), len(lanes), -1)
    age = np.zeros((*rate.shape[:2], rate.shape[2] + 1))
    np.cumsum(rate * lanes[0].durations, axis=2, out=age[:, :, 1:])
    return rate, age


def crossings(edges: Array, rate: Array, age: Array, needed: Array) -> Array:
    """Minutes at which the ages in `needed` (… × levels) are reached: the piecewise linear age, inverted.

    Past the last edge the last rate goes on.
    """
    segment = (age[..., None, 1:] < needed[..., None]).sum(axis=-1)
    segment = np.minimum(segment, rate.shape[-1] - 1)
    begun = np.take_along_axis(age, segment, axis=-1)
    return edges[segment] + (needed - begun) / np.take_along_axis(rate, segment, axis=-1)


DICE_OF_PORTIONS, DICE_OF_SCENTS = 32, 64  # where the dice of portions' effects and of scents begin
DICE = 96


def _dice_of(names: Sequence[str]) -> list[int]:
    """Which stream of dice each parameter takes: its own by kind and by its place among its kind."""
    out, counts = [], {"fixed": 0, "portion": DICE_OF_PORTIONS, "scent": DICE_OF_SCENTS}
    for name in names:
        kind = "scent" if name.startswith("e:") else "portion" if name.startswith("u:") else "fixed"
        out.append(counts[kind])
        counts[kind] += 1
    return out


def draw(
    belief: Belief,
    lanes: Sequence[Lane],
    known: Sequence[Mapping[int, Known]],
    seed: int,
    draws: int = 400,
) -> Draws:
    """Crossing times of lanes that share their edges. `known[lane]` maps thresholds to what looks said of them."""
    size = len(belief.mean)
    names = list(belief.column)
    noise = np.asarray(belief.noise.stages)
    # Scents come last in the triangle and every kind of parameter has its own dice, so that an edit that adds a
    # scent or a portion leaves the dice of all others alone.
    order = sorted(range(size), key=lambda i: (names[i].startswith("e:"), i))
    root = np.linalg.cholesky(belief.cov[np.ix_(order, order)] + 1e-12 * np.eye(size))
    dice = normals(seed, draws, DICE)[:, _dice_of([names[i] for i in order])]
    params = np.empty((draws, size))
    params[:, order] = belief.mean[order] + dice @ root.T
    thresholds = params[:, [belief.column[c] for c in THRESHOLD_COLUMNS]]
    rate, age = ages(lanes, belief.column, params)
    # Each lane's noise is a stream of its own, so adding a portion leaves the others' dice alone too.
    eps = np.stack([normals(seed + 7919 * (i + 1), draws, len(noise)) for i in range(len(lanes))], axis=1)
    at = [(i, s, window) for i, windows in enumerate(known) for s, window in windows.items()]
    if at:
        lane_of, stage_of = [i for i, _, _ in at], [s for _, s, _ in at]

        def ends(minutes: Sequence[float | None], open_end: float) -> Array:
            """The looks as normals: (draws × windows), `open_end` where there was none."""
            edge = np.array(
                [0 if m is None else lanes[i].segment_ending(m) + 1 for i, m in zip(lane_of, minutes, strict=True)]
            )
            with np.errstate(divide="ignore"):
                z = (np.log(age[:, lane_of, edge]) - thresholds[:, stage_of]) / noise[stage_of]
            return np.where(edge > 0, z, open_end)

        low, high = ends([w.after for _, _, w in at], -np.inf), ends([w.by for _, _, w in at], np.inf)
        eps[:, lane_of, stage_of] = _truncated(eps[:, lane_of, stage_of], low, np.maximum(high, low))
    ln_age = thresholds[:, None, :] + noise * eps
    half_way = (ln_age[..., 1:2] + ln_age[..., 2:3]) / 2
    needed = np.concatenate([ln_age[..., :2], half_way, ln_age[..., 2:]], axis=2)
    needed = np.maximum.accumulate(needed, axis=2)
    times = crossings(lanes[0].edges, rate, age, np.exp(np.clip(needed, -50, 50)))
    return Draws(times.transpose(1, 0, 2))
