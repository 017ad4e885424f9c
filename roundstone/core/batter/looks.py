"""The likelihood of looks at the batter: interval and one-sided censoring of log-normal crossing times.

A look is a time at which the stage of a portion was seen. A term says that a threshold was crossed after one
look and by another; either side may be open. With z = (ln τ(t) - a_s)/σ_s the term is ln[Φ(z_U) - Φ(z_L)].
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import log_ndtr

from .cooling import Array
from .lane import THRESHOLD_COLUMNS, Lane

LN_ROOT_TWO_PI = 0.5 * np.log(2 * np.pi)
SHORTEST = 0.05  # minutes; two taps closer than three seconds are one glance


@dataclass(frozen=True)
class Term:
    """Threshold `stage` (0 light … 3 set) of a lane crossed in (`after`, `by`] minutes; None is open.

    `sure` is the chance that somebody looked at all: else it says nothing."""

    lane: int
    stage: int
    after: float | None
    by: float | None
    sure: float = 1.0


def ln_difference(upper: Array, lower: Array) -> Array:
    """ln[Φ(upper) - Φ(lower)] for upper > lower, stable in both tails."""
    flip = upper > -lower
    u, low = np.where(flip, -lower, upper), np.where(flip, -upper, lower)
    big, small = log_ndtr(u), log_ndtr(low)
    with np.errstate(divide="ignore"):
        return big + np.log1p(-np.exp(np.minimum(small - big, -1e-300)))


@dataclass(frozen=True)
class Pulls:
    """Terms at some z: ln[Φ(z_U) - Φ(z_L)], what each end adds to its slope, and its curvatures, turned positive."""

    value: Array
    low: Array
    up: Array
    low_low: Array
    up_up: Array
    both: Array

    def trusted(self, sure: Array) -> "Pulls":
        """The same where each was looked at all only with a chance of `sure`: ln[sure·p + 1 - sure], its slopes, and
        curvatures that stay positive."""
        seen = sure * np.exp(self.value)
        value = np.where(sure < 1, np.log(np.maximum(seen + 1 - sure, 1e-300)), self.value)
        share = np.where(sure < 1, seen / np.maximum(seen + 1 - sure, 1e-300), 1.0)
        parts = (share * x for x in (self.low, self.up, self.low_low, self.up_up, self.both))
        return Pulls(value, *parts)

    def information(self, g_low: Array, g_up: Array) -> Array:
        """Gauss-Newton information of these terms, their ends' gradients being (terms × size)."""
        # h_uu uu' + h_ll ll' + h_ul (ul' + lu') is one product when each end's own row is gathered first.
        of_up = self.up_up[:, None] * g_up + self.both[:, None] * g_low
        of_low = self.low_low[:, None] * g_low + self.both[:, None] * g_up
        return np.asarray(g_up.T @ of_up + g_low.T @ of_low)


def pulls(z_low: Array, z_up: Array) -> Pulls:
    """Terms between these ends; an infinite end is open."""
    ln_d = ln_difference(z_up, z_low)
    low, up = (np.exp(-0.5 * z**2 - LN_ROOT_TWO_PI - ln_d) for z in (z_low, z_up))
    z_low, z_up = np.where(np.isinf(z_low), 0, z_low), np.where(np.isinf(z_up), 0, z_up)
    return Pulls(ln_d, low, up, -z_low * low + low**2, z_up * up + up**2, -up * low)


@dataclass(frozen=True)
class Looks:
    """Terms made ready for evaluation at any parameter vector of `size`.

    A lane touches few parameters, so its design is kept over its own: z (segments × own), `lane` (segments) and
    `places` (lanes × own) among the parameters, `size` standing for none. A lane's segments end at its last look.
    minutes (segments), first/last (looks) index segments; stage/lower/upper/sigma/at (terms), where lower and upper
    index looks and are -1 where open, and `at` is the term's lane.
    """

    z: Array
    lane: Array
    places: Array
    size: int
    minutes: Array
    first: Array
    last: Array
    stage: Array
    lower: Array
    upper: Array
    at: Array
    sigma: Array
    thresholds: Array
    sure: Array

    @classmethod
    def of(
        cls,
        lanes: Sequence[Lane],
        terms: Sequence[Term],
        columns: Mapping[str, int],
        sigma: Sequence[float],
        batches: Sequence[str] | None = None,
    ) -> "Looks":
        """Lay out lanes and their terms over the given parameter columns; sigma by threshold.

        `batches` name the pour of each lane where several are laid out together.
        """
        seen: dict[tuple[int, int], int] = {}

        def look(lane: int, minute: float | None) -> int:
            if minute is None:
                return -1
            segment = lanes[lane].segment_ending(minute)
            return seen.setdefault((lane, segment), len(seen)) if segment >= 0 else -1

        rows = [(t.stage, look(t.lane, t.after), look(t.lane, t.by), t.lane) for t in terms]
        stage, lower, upper, at = np.array(rows, dtype=int).reshape(-1, 4).T
        lengths = [0] * len(lanes)
        for index, segment in seen:
            lengths[index] = max(lengths[index], segment + 1)
        start = np.concatenate([[0], np.cumsum(lengths)]).astype(int)
        width = max((len(lane.own) for lane in lanes), default=0)
        size = len(columns)
        z = np.zeros((int(start[-1]), width))
        places = np.full((len(lanes), width), size)
        for i, one in enumerate(lanes):
            z[start[i] : start[i + 1], : len(one.own)] = one.design(lengths[i])
            found = np.array(one.places(columns, batches[i] if batches is not None else ""))
            places[i, : len(found)] = np.where(found < 0, size, found)
        minutes = [one.durations[:n] for one, n in zip(lanes, lengths, strict=True)]
        return cls(
            z=z,
            lane=np.repeat(np.arange(len(lanes)), lengths),
            places=places,
            size=size,
            minutes=np.concatenate(minutes) if minutes else np.zeros(0),
            first=np.array([start[lane] for lane, _ in seen], dtype=int),
            last=np.array([start[lane] + segment for lane, segment in seen], dtype=int),
            stage=stage,
            lower=lower,
            upper=upper,
            at=at,
            sigma=np.asarray(sigma)[stage],
            thresholds=np.array([columns[c] for c in THRESHOLD_COLUMNS], dtype=int),
            sure=np.array([t.sure for t in terms]),
        )

    def _rates(self, params: Array) -> tuple[Array, Array]:
        """Age gained in each segment, and its running sum from 0."""
        own = np.append(params, 0.0)[self.places]
        rate = np.exp(np.clip(np.einsum("sw,sw->s", self.z, own[self.lane]), -50, 50)) * self.minutes
        return rate, np.concatenate([[0.0], np.cumsum(rate)])

    def _ends(self, params: Array, total: Array) -> tuple[Array, Array]:
        """z at both ends of every term; infinite where open."""
        ln_age = np.append(np.log(total[self.last + 1] - total[self.first]), np.nan)
        a = params[self.thresholds[self.stage]]
        z_low = np.where(self.lower < 0, -np.inf, (ln_age[self.lower] - a) / self.sigma)
        z_up = np.where(self.upper < 0, np.inf, (ln_age[self.upper] - a) / self.sigma)
        gap = 1e-6  # rounding must never close an interval
        return z_low, np.where(z_up - z_low < gap, z_low + gap, z_up)

    def linear(self, params: Array) -> tuple[Array, Array, Array, Array]:
        """Both ends' z and their gradients (terms × size), lower and upper; an open end is infinite and flat."""
        rate, total = self._rates(params)
        moved = np.concatenate([np.zeros((1, self.z.shape[1])), np.cumsum(rate[:, None] * self.z, axis=0)])
        age = total[self.last + 1] - total[self.first]
        slope = np.vstack([(moved[self.last + 1] - moved[self.first]) / age[:, None], np.zeros(self.z.shape[1])])
        z_low, z_up = self._ends(params, total)
        # Over all parameters and a spare one, which takes what has no place; both ends of the terms stacked.
        terms, many = np.arange(len(self.stage)), len(self.stage)
        g = np.zeros((2 * many, self.size + 1))
        places, threshold = self.places[self.at], self.thresholds[self.stage]
        for row, look, z in ((terms, self.lower, z_low), (terms + many, self.upper, z_up)):
            scale = np.isfinite(z) / self.sigma
            g[row[:, None], places] = slope[look] * scale[:, None]
            g[row, threshold] -= scale
        g = g[:, : self.size]
        return z_low, z_up, g[:many], g[many:]

    def expand(self, params: Array) -> tuple[float, Array, Array]:
        """Log-likelihood, gradient and Gauss-Newton information (positive semi-definite)."""
        size = self.size
        if not len(self.stage):
            return 0.0, np.zeros(size), np.zeros((size, size))
        z_low, z_up, g_low, g_up = self.linear(params)
        at = pulls(z_low, z_up).trusted(self.sure)
        return float(np.sum(at.value)), at.up @ g_up - at.low @ g_low, at.information(g_low, g_up)
