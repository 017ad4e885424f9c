"""The likelihood of looks at the batter: interval and one-sided censoring of log-normal crossing times.

A look is a time at which the stage of a portion was seen. A term says that a threshold was crossed after one
look and by another; either side may be open. With z = (ln τ(t) - a_s)/σ_s the term is ln[Φ(z_U) - Φ(z_L)].
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import log_ndtr

from .batter import THRESHOLD_COLUMNS, Array, Lane

SHORTEST = 0.05  # minutes; two taps closer than three seconds are one glance
LARGEST_STEP = 2.0  # of any parameter in one Newton step: ln-rates of 2 are already a factor of seven


@dataclass(frozen=True)
class Term:
    """Threshold `stage` (0 light … 3 set) of a lane crossed in (`after`, `by`] minutes; None is open."""

    lane: int
    stage: int
    after: float | None
    by: float | None


def ln_difference(upper: Array, lower: Array) -> Array:
    """ln[Φ(upper) - Φ(lower)] for upper > lower, stable in both tails."""
    flip = upper > -lower
    u, low = np.where(flip, -lower, upper), np.where(flip, -upper, lower)
    big, small = log_ndtr(u), log_ndtr(low)
    with np.errstate(divide="ignore"):
        return big + np.log1p(-np.exp(np.minimum(small - big, -1e-300)))


@dataclass(frozen=True)
class Looks:
    """Terms made ready for evaluation at any parameter vector.

    z (segments × parameters), minutes (segments), first/last (looks) index segments of each look's lane,
    stage/lower/upper/sigma (terms); lower and upper index looks and are -1 where open.
    """

    z: Array
    minutes: Array
    first: Array
    last: Array
    stage: Array
    lower: Array
    upper: Array
    sigma: Array
    thresholds: Array

    @classmethod
    def of(
        cls, lanes: Sequence[Lane], terms: Sequence[Term], columns: Mapping[str, int], sigma: Sequence[float]
    ) -> "Looks":
        """Lay out lanes and their terms over the given parameter columns; sigma by threshold."""
        blocks = [lane.rows(columns) for lane in lanes]
        start = np.concatenate([[0], np.cumsum([len(b) for b in blocks])]).astype(int)
        seen: dict[tuple[int, int], int] = {}

        def look(lane: int, minute: float | None) -> int:
            if minute is None:
                return -1
            segment = lanes[lane].segment_ending(minute)
            return seen.setdefault((lane, segment), len(seen)) if segment >= 0 else -1

        rows = [(t.stage, look(t.lane, t.after), look(t.lane, t.by)) for t in terms]
        stage, lower, upper = np.array(rows, dtype=int).reshape(-1, 3).T
        return cls(
            z=np.concatenate(blocks) if blocks else np.zeros((0, len(columns))),
            minutes=np.concatenate([lane.durations for lane in lanes]) if lanes else np.zeros(0),
            first=np.array([start[lane] for lane, _ in seen], dtype=int),
            last=np.array([start[lane] + segment for lane, segment in seen], dtype=int),
            stage=stage,
            lower=lower,
            upper=upper,
            sigma=np.asarray(sigma)[stage],
            thresholds=np.array([columns[c] for c in THRESHOLD_COLUMNS], dtype=int),
        )

    def ages(self, params: Array) -> tuple[Array, Array]:
        """ln of the batter age at each look, and its gradient (looks × parameters)."""
        rate = np.exp(np.clip(self.z @ params, -50, 50)) * self.minutes
        total = np.concatenate([[0.0], np.cumsum(rate)])
        moved = np.concatenate([np.zeros((1, self.z.shape[1])), np.cumsum(rate[:, None] * self.z, axis=0)])
        age = total[self.last + 1] - total[self.first]
        return np.log(age), (moved[self.last + 1] - moved[self.first]) / age[:, None]

    def _ends(self, params: Array) -> tuple[Array, Array, Array, Array]:
        ln_age, slope = self.ages(params)
        a = params[self.thresholds[self.stage]]
        none = len(ln_age)
        ln_age = np.append(ln_age, np.nan)
        slope = np.vstack([slope, np.zeros(slope.shape[1])])
        z_low = np.where(self.lower < 0, -np.inf, (ln_age[self.lower] - a) / self.sigma)
        z_up = np.where(self.upper < 0, np.inf, (ln_age[self.upper] - a) / self.sigma)
        gap = 1e-6  # rounding must never close an interval
        z_up = np.where(z_up - z_low < gap, z_low + gap, z_up)

        def gradient(look: Array) -> Array:
            g = slope[np.where(look < 0, none, look)].copy()
            g[np.arange(len(look)), self.thresholds[self.stage]] -= 1
            g[look < 0] = 0
            return g / self.sigma[:, None]

        return z_low, z_up, gradient(self.lower), gradient(self.upper)

    def value(self, params: Array) -> float:
        """Log-likelihood."""
        if not len(self.stage):
            return 0.0
        z_low, z_up, _, _ = self._ends(params)
        return float(np.sum(ln_difference(z_up, z_low)))

    def expand(self, params: Array) -> tuple[float, Array, Array]:
        """Log-likelihood, gradient and Gauss-Newton information (positive semi-definite)."""
        size = self.z.shape[1]
        if not len(self.stage):
            return 0.0, np.zeros(size), np.zeros((size, size))
        z_low, z_up, g_low, g_up = self._ends(params)
        ln_d = ln_difference(z_up, z_low)
        open_low, open_up = np.isneginf(z_low), np.isposinf(z_up)
        z_low, z_up = np.where(open_low, 0, z_low), np.where(open_up, 0, z_up)
        half = 0.5 * np.log(2 * np.pi)
        p_low = np.where(open_low, 0, np.exp(-0.5 * z_low**2 - half - ln_d))
        p_up = np.where(open_up, 0, np.exp(-0.5 * z_up**2 - half - ln_d))
        h_up, h_low, h_both = z_up * p_up + p_up**2, -z_low * p_low + p_low**2, -p_up * p_low
        gradient = g_up.T @ p_up - g_low.T @ p_low
        cross = g_up.T @ (h_both[:, None] * g_low)
        information = g_up.T @ (h_up[:, None] * g_up) + g_low.T @ (h_low[:, None] * g_low) + cross + cross.T
        return float(np.sum(ln_d)), gradient, information
