"""Cure: what a bar weighs as its water goes, and when that is done.

loss(t) = L[1 - exp(-(t/τ)^β)]. Priors from water, room and the bar's own size [C]; L and τ are fitted on a grid to the
maker's weighings with the first weight left open. About 11 to 12 % is lost in six weeks at 33 % lye; makers lose 8 to
15 % [common practice].
"""

from collections.abc import Sequence
from functools import lru_cache
from math import log

import numpy as np

from ..batter import Array
from ..recipe import Box, ByMoulds, Cavities, Recipe, grid
from ..sheet import Sheet
from ..shelf import USUAL_HUMIDITY
from ..values import Share, Span, Value

BETA = 0.8  # [C]
LEFT, PER_HUMIDITY = 0.03, 0.10  # water a bar keeps: of its weight, dry air, and more by humidity [C]
TAU, THICK, HUMID_SHARE = 13.0, 0.738, 0.5  # days for a bar of this volume by surface (cm) at that humidity [C]
LOSS_SD, TAU_SD = 0.25, 0.5  # of the logarithms [C]
SCALE_SD = 0.0025  # of a weight, what a kitchen scale and a hand make of it [C]
DONE = 0.005  # of its first weight a week below which a bar is done losing water [common practice]
WIDER = 1.4  # the span of what a few weighings say, for what the model leaves out [C]
DRIEST = 0.9  # relative humidity at most
GRID = 41
DAYS = 7.0
LONGEST = 365.0  # days
BAR = (2.8, 8.0, 6.0)  # cm, where nothing is said of how it is cut [C]
SHOWN = tuple(3.5 * d for d in range(21))


class Curve(Value):
    """What a bar weighs, as shares of its first weight, on `days` since it was cut: low, middle and high of 8 in 10.
    `done` is when it stops losing water, in days; `loss` what it will have lost by then."""

    days: tuple[float, ...]
    low: tuple[Share, ...]
    mid: tuple[Share, ...]
    high: tuple[Share, ...]
    done: Span
    loss: Span
    weighings: int
    first: float | None


def kinds_of_bar(recipe: Recipe) -> int:
    """How many kinds of bar one pot gives: one of each mould."""
    return max(len(recipe.size.moulds), 1) if isinstance(recipe.size, ByMoulds) else 1


def surface(recipe: Recipe, of: int = 0) -> float:
    """Volume of a bar by its surface, in cm: of one of the moulds, as it is cut."""
    sides = BAR
    if isinstance(recipe.size, ByMoulds) and recipe.size.moulds:
        mould = recipe.size.moulds[min(of, len(recipe.size.moulds) - 1)]
        if isinstance(mould, Cavities):
            side = (mould.millilitres / 3) ** 0.5
            sides = (3.0, side, side)
        elif mould.cut > 0:
            wide = mould.width if isinstance(mould, Box) else mould.diameter
            deep = grid(mould).deep / 10 if isinstance(mould, Box) else wide
            high = mould.fill / mould.planks if isinstance(mould, Box) else mould.diameter
            sides = (mould.cut / 10, deep, high)
    a, b, c = sides
    return a * b * c / (2 * (a * b + b * c + a * c))


def prior(recipe: Recipe, sheet: Sheet, humidity: float = USUAL_HUMIDITY, of: int = 0) -> tuple[float, float]:
    """Expected ln-loss and ln-days of a recipe's bar, of one of its moulds."""
    air = min(humidity, DRIEST)
    water = sheet.water / sheet.total
    loss = max(1 - (1 - water) / (1 - LEFT - PER_HUMIDITY * air), 0.01)
    tau = TAU * (surface(recipe, of) / THICK) ** 1.5 * HUMID_SHARE / (1 - air)
    return log(loss), log(tau)


def remaining(days: Array, ln_loss: Array, ln_tau: Array) -> Array:
    """Share of its first weight that a bar has left: shape of `days` and the grids, broadcast.

    >>> float(remaining(np.array(0.0), np.array(-2.0), np.array(2.0)))
    1.0
    """
    return np.asarray(1 - np.exp(ln_loss) * (1 - np.exp(-((np.maximum(days, 0.0) / np.exp(ln_tau)) ** BETA))))


def done_after(ln_loss: Array, ln_tau: Array) -> Array:
    """Days until the loss falls below DONE a week. The rate falls all the way: halved."""
    tau = np.exp(ln_tau)
    low, high = np.zeros_like(tau), np.full_like(tau, LONGEST)
    for _ in range(40):
        mid = (low + high) / 2
        x = np.maximum(mid / tau, 1e-9)
        rate = DAYS * np.exp(ln_loss) * BETA / tau * x ** (BETA - 1) * np.exp(-(x**BETA))
        still = rate > DONE
        low, high = np.where(still, mid, low), np.where(still, high, mid)
    return high


class _Fit:
    """Weights of a grid of ln-loss and ln-τ."""

    def __init__(self, loss: float, tau: float, bars: Sequence[Sequence[tuple[float, float]]]) -> None:
        z = np.linspace(-3.5, 3.5, GRID)
        self.loss = np.repeat(loss + LOSS_SD * z, GRID)
        self.tau = np.tile(tau + TAU_SD * z, GRID)
        log_weight = -0.5 * (np.repeat(z, GRID) ** 2 + np.tile(z, GRID) ** 2)
        self.weighings, self.first = 0, None
        for bar in bars:
            days, grams = np.array(bar).T
            shape = remaining(days[:, None], self.loss, self.tau)
            # The first weight is profiled out: the one that fits best at each loss and τ, errors being of its share.
            scaled = grams[:, None] / shape
            best = scaled.mean(axis=0)
            log_weight = log_weight - 0.5 * (((scaled / best - 1) / SCALE_SD) ** 2).sum(axis=0)
            self.weighings += len(bar)
        weight = np.exp(log_weight - log_weight.max())
        self.weight = weight / weight.sum()
        if bars:
            days, grams = np.array(bars[0]).T
            shape = remaining(days[:, None], self.loss, self.tau)
            self.first = float((grams[:, None] / shape).mean(axis=0) @ self.weight)

    def spread(self, values: Array, wider: float = 1.0) -> tuple[float, float, float]:
        """Low, middle and high of 8 in 10; `wider` times about the middle."""
        order = np.argsort(values)
        total = np.cumsum(self.weight[order])
        low, mid, high = (float(np.interp(p, total, values[order])) for p in (0.1, 0.5, 0.9))
        return mid - wider * (mid - low), mid, mid + wider * (high - mid)


Bars = tuple[tuple[tuple[float, float], ...], ...]


@lru_cache(maxsize=512)
def curve(loss: float, tau: float, bars: Bars = ()) -> Curve:
    """What a bar will weigh, from an expected ln-loss and ln-τ and weighings (days since the cut, g) of each bar."""
    fit = _Fit(loss, tau, [b for b in bars if b])
    at = [fit.spread(remaining(np.array(d), fit.loss, fit.tau)) for d in SHOWN]
    wider = WIDER if fit.weighings > 1 else 1.0
    done = fit.spread(done_after(fit.loss, fit.tau), wider)
    lost = fit.spread(np.exp(fit.loss))
    return Curve(
        days=SHOWN,
        low=tuple(round(x[0], 4) for x in at),
        mid=tuple(round(x[1], 4) for x in at),
        high=tuple(round(x[2], 4) for x in at),
        done=Span(low=max(done[0], 1.0), high=done[2]),
        loss=Span(low=lost[0], high=lost[2]),
        weighings=fit.weighings,
        first=fit.first,
    )


class CureOwn(Value):
    """What a maker's own curves taught: shifts of ln-loss and ln-τ against the trade's, from how many bars."""

    loss: float = 0.0
    tau: float = 0.0
    bars: int = 0


def learn_cure(seen: Sequence[tuple[tuple[float, float], Sequence[Sequence[tuple[float, float]]]]]) -> CureOwn:
    """Means of what each batch's curve differs from what was expected of it, shrunk to none as if one batch said so.

    >>> learn_cure([])
    CureOwn(loss=0.0, tau=0.0, bars=0)
    """
    shifts, bars = [], 0
    for (loss, tau), weighed in seen:
        told = [b for b in weighed if len(b) > 1]
        if not told:
            continue
        fit = _Fit(loss, tau, told)
        shifts.append((float(fit.weight @ fit.loss) - loss, float(fit.weight @ fit.tau) - tau))
        bars += len(told)
    if not shifts:
        return CureOwn()
    loss, tau = np.sum(shifts, axis=0) / (len(shifts) + 1)
    return CureOwn(loss=round(float(loss), 3), tau=round(float(tau), 3), bars=bars)
