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
        """10, 25, 50, 75 and 90 % of when a lane comes to a level."""
        return five(self.ordered[lane, :, LEVELS.index(level)])


def five(rising: Array) -> Array:
    """10, 25, 50, 75 and 90 % quantiles (… × 5) of sorted draws (… × draws): the empirical distribution, inverted."""
    draws = rising.shape[-1]
    return np.asarray(rising[..., [min(int(q * draws), draws - 1) for q in QUANTILES]])


@lru_cache(maxsize=32)
def normals(seed: int, draws: int, width: int) -> Array:
    """Standard normals: the same for the same seed, so an edit moves the forecast, not the dice.

    In antithetic pairs, and spread evenly: every column has one in each of `draws` equally likely stretches (a Latin
    hypercube: McKay, Beckman & Conover, Technometrics 21 (1979) 239).
    """
    rng, half = np.random.Generator(np.random.PCG64(seed)), (draws + 1) // 2
    stretch = rng.permuted(np.tile(np.arange(half)[:, None], (1, width)), axis=0)
    upper = ndtri(0.5 + (stretch + rng.random((half, width))) / (2 * half))
    one = upper * rng.choice([-1.0, 1.0], size=upper.shape)
    both = np.concatenate([one, -one])[:draws]
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
    """Rates (lanes × draws × segments) and ages at the segments' edges (one more), for lanes that share edges."""
    rows = np.stack([lane.rows(column) for lane in lanes])
    rate = params @ rows.transpose(0, 2, 1)
    np.exp(np.clip(rate, -50, 50, out=rate), out=rate)
    age = np.zeros((*rate.shape[:2], rate.shape[2] + 1))
    later = np.multiply(rate, lanes[0].durations, out=age[:, :, 1:])
    np.cumsum(later, axis=2, out=later)
    return rate, age


def segments_at(age: Array, needed: Array) -> Array:
    """In which segment the ages in `needed` (… × levels) are reached by the rising ages at the edges (… × edges), the
    last one where they never are. By bisection, of all at once.

    >>> import numpy as np
    >>> segments_at(np.array([0.0, 1.0, 2.0, 4.0]), np.array([0.0, 1.0, 1.5, 2.5, 9.0])).tolist()
    [0, 0, 1, 2, 2]
    """
    edges = age.shape[-1]
    return bisected(age.ravel(), np.arange(0, age.size, edges).reshape(*age.shape[:-1], 1), edges, needed)


def bisected(flat: Array, first: Array, edges: int, needed: Array) -> Array:
    """The same of ages that lie one after the other, so many `edges` from each `first` on."""
    segment = np.zeros(needed.shape, dtype=np.intp)
    step = 1 << max((edges - 2).bit_length() - 1, 0)
    while step:
        further = np.minimum(segment + step, edges - 2)
        segment = np.where(flat[first + further] < needed, further, segment)
        step >>= 1
    return segment


def crossings(edges: Array, rate: Array, age: Array, needed: Array) -> Array:
    """Minutes at which the ages in `needed` (… × levels) are reached: the piecewise linear age, inverted.

    Past the last edge the last rate goes on.
    """
    segment = segments_at(age, needed)
    begun = np.take_along_axis(age, segment, axis=-1)
    return edges[segment] + (needed - begun) / np.take_along_axis(rate, segment, axis=-1)


DICE_OF_BATCHES, DICE_OF_PORTIONS, DICE_OF_SCENTS, DICE_OF_JUMPS = 24, 32, 64, 96  # where each kind's dice begin
DICE = 128
STREAM = 7919  # between the seeds of streams of dice: a prime, so that no two lanes share one


def _dice_of(names: Sequence[str]) -> list[int]:
    """Which stream of dice each parameter takes: its own by kind and by its place among its kind."""
    kinds = {"e:": "scent", "J:": "jump", "u:": "portion", "u@": "batch"}
    begins = {"batch": DICE_OF_BATCHES, "portion": DICE_OF_PORTIONS, "scent": DICE_OF_SCENTS, "jump": DICE_OF_JUMPS}
    out, counts = [], {"fixed": 0} | begins
    for name in names:
        kind = kinds.get(name[:2], "fixed")
        out.append(counts[kind])
        counts[kind] += 1
    return out


@dataclass(frozen=True)
class PosteriorSamples:
    """What may be, once all looks are heard: the same draws for every plan that is tried on them.

    `params` (draws × columns); `ln_age` (lanes × draws × 4) is the logarithm of the age at which each lane comes to
    light, medium, thick and set; `rate` (lanes × draws × segments) and `age` (one edge more) are of the `lanes` it was
    made of, on the `grid` of minutes since their emulsion.
    """

    column: Mapping[str, int]
    params: Array
    ln_age: Array
    grid: Array
    rate: Array
    age: Array
    lanes: tuple[Lane, ...]

    def of(self, name: str) -> Array:
        """A coefficient in each draw."""
        return self.params[:, self.column[name]]


def _parameters(belief: Belief, seed: int, draws: int) -> Array:
    """Draws of the belief (draws × columns).

    Scents come last in the triangle and every kind of parameter has its own dice, so that an edit that adds a scent or
    a portion leaves the dice of all others alone.
    """
    size, names = len(belief.mean), list(belief.column)
    order = sorted(range(size), key=lambda i: (names[i].startswith(("e:", "J:")), i))
    root = np.linalg.cholesky(belief.cov[np.ix_(order, order)] + 1e-12 * np.eye(size))
    dice = normals(seed, draws, DICE)[:, _dice_of([names[i] for i in order])]
    params = np.empty((draws, size))
    params[:, order] = belief.mean[order] + dice @ root.T
    return params


def sample_posterior(
    belief: Belief, lanes: Sequence[Lane], known: Sequence[Mapping[int, Known]], seed: int, draws: int = 400
) -> PosteriorSamples:
    """Draws of batters that agree with all looks. The lanes share their segments, counted from their own emulsion;
    `known[lane]` maps thresholds (0 light … 3 set) to what looks said of them.

    Portions of one pot share their luck until they part: a threshold crossed in the pot is crossed by all of them.
    """
    params = _parameters(belief, seed, draws)
    thresholds = params[:, [belief.column[c] for c in THRESHOLD_COLUMNS]]
    noise = np.asarray(belief.noise.stages)
    rate, age = ages(lanes, belief.column, params)
    every = range(len(noise))

    def z_at(which: Sequence[int], minutes: Sequence[Sequence[float | None]], open_end: float) -> Array:
        """Looks at these lanes, one a threshold, as normals (lanes × draws × thresholds); `open_end` where none was."""
        edge = [
            [0 if m is None else lanes[i].segment_ending(m) + 1 for m in its]
            for i, its in zip(which, minutes, strict=True)
        ]
        edges = np.maximum(np.array(edge, dtype=int).reshape(-1, len(noise)), 0)
        seen = age[np.array(which, dtype=int)[:, None], :, np.maximum(edges, 1)].transpose(0, 2, 1)
        return np.where(edges[:, None, :] > 0, (np.log(seen) - thresholds) / noise, open_end)

    whole = range(len(lanes))
    after = [[w.after if (w := its.get(s)) else None for s in every] for its in known]
    by = [[w.by if (w := its.get(s)) else None for s in every] for its in known]
    low, high = z_at(whole, after, -np.inf), z_at(whole, by, np.inf)
    parted = z_at(whole, [[lane.split] * len(noise) for lane in lanes], -np.inf)
    apart = [i for i, lane in enumerate(lanes) if lane.split is not None and lane.segment_ending(lane.split) >= 0]
    # In the pot all are one: by the looks until the split.
    pots = list({lanes[i].batch: i for i in reversed(apart)}.values())
    splits = [lanes[i].split or 0.0 for i in pots]
    least = [[None if m is None else min(m, at) for m in after[i]] for i, at in zip(pots, splits, strict=True)]
    most = [[m if m is not None and m <= at else None for m in by[i]] for i, at in zip(pots, splits, strict=True)]
    least_z, most_z = z_at(pots, least, -np.inf), z_at(pots, most, np.inf)
    dice = normals(seed + STREAM * 40, draws, len(noise))
    together = _truncated(dice, least_z, np.maximum(most_z, least_z))
    pot_of = {lanes[i].batch: in_pot for i, in_pot in zip(pots, together, strict=True)}
    in_pot, floor = np.full_like(low, np.inf), low.copy()
    for i in apart:
        in_pot[i] = pot_of[lanes[i].batch]
        floor[i] = np.maximum(low[i], np.minimum(parted[i], high[i]))
    crossed = (in_pot <= parted) & (in_pot >= low - 1e-9)
    own = np.stack([normals(seed + STREAM * (i + 1), draws, len(noise)) for i in whole])
    eps = np.where(crossed, np.minimum(in_pot, high), _truncated(own, floor, np.maximum(high, floor)))
    return PosteriorSamples(
        column=belief.column,
        params=params,
        ln_age=np.maximum.accumulate(thresholds + noise * eps, axis=2),
        grid=lanes[0].grid,
        rate=rate,
        age=age,
        lanes=tuple(lanes),
    )


def crossing_times(samples: PosteriorSamples, lanes: Sequence[Lane], origins: Array) -> Draws:
    """Crossing times of lanes in these samples; `origins` (lanes × draws), in minutes, are when their clocks begin."""
    rate, age = (
        (samples.rate, samples.age) if tuple(lanes) == samples.lanes else ages(lanes, samples.column, samples.params)
    )
    half_way = (samples.ln_age[..., 1:2] + samples.ln_age[..., 2:3]) / 2
    needed = np.concatenate([samples.ln_age[..., :2], half_way, samples.ln_age[..., 2:]], axis=2)
    return Draws(crossings(lanes[0].grid, rate, age, np.exp(np.clip(needed, -50, 50))) + origins[:, :, None])


def draw(
    belief: Belief, lanes: Sequence[Lane], known: Sequence[Mapping[int, Known]], seed: int, draws: int = 400
) -> Draws:
    """Crossing times of lanes that share their segments and whose emulsion is known."""
    samples = sample_posterior(belief, lanes, known, seed, draws)
    origins = np.array([lane.origin for lane in lanes])[:, None]
    return crossing_times(samples, lanes, np.broadcast_to(origins, (len(lanes), draws)))
