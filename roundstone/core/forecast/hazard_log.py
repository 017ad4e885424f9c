"""How often a batter riced, separated or set falsely, and what was claimed of it: logistic regressions.

Ricing, separation and false trace are Bayesian logistic regressions with a Gaussian prior: an intercept for each
fragrance, shared slopes, Laplace's rule. Base rates and slopes are chosen.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, log, pi, sqrt

import numpy as np
from scipy.special import expit, log_expit

from ..batter import (
    CLAIM_LOAD,
    FACTORS,
    THRESHOLD_COLUMNS,
    Array,
    Dense,
    Knowledge,
    Lane,
    ages,
    climb,
    conditioned,
    effective_dose,
    infer,
    inherit,
    scent_column,
    with_prior,
)
from ..evidence import EIGHT_IN_TEN, RICES_LOADED, RICES_WARM
from ..heat import pot_sets
from ..pour import PourState
from ..recipe import Recipe
from ..schedule import Schedule
from ..sheet import Sheet
from ..shelf import Claim, Fragrance, Ricing, Shelf
from ..values import Span

AGED = 7  # days before which a colour says little
PORTIONS_ALIKE = 0.7  # correlation of grains in one pour's portions: five of them are hardly five answers [C]
Row = tuple[Mapping[str, float], bool, float]


def logit(p: float) -> float:
    return log(p / (1 - p))


# Logit and its sd of ricing at 3 %, 37 °C, by what the supplier says [C] ...
RICING: dict[Ricing, tuple[float, float]] = {
    Ricing.NO: (logit(0.02), 0.8),
    Ricing.UNKNOWN: (logit(0.04), 1.2),
    Ricing.SOME: (logit(0.15), 1.0),
    Ricing.YES: (logit(0.35), 1.0),
}
ACCELERATES = (logit(0.08), 1.0)  # ... and of one that says nothing of it but accelerates [C]
SLOPES: dict[str, tuple[float, float]] = {
    "ricing:warm": (10 * RICES_WARM, 0.3),  # per 10 °C above 37
    "ricing:hard": (0.4, 0.3),  # per 10 points of palmitic and stearic
    "ricing:load": (RICES_LOADED, 0.3),  # per 1 % above 3
    "false-trace": (logit(0.03), 0.5),
    "false-trace:set": (2.0, 0.6),  # per tenth of the fats that sets at the pot's temperature
    "separation": (logit(0.01), 0.5),
    "separation:age": (-1.0, 0.5),  # per unit of ln age past light trace when poured
    "overheating": (0.0, 1.0),  # beyond what the heat in the mould gives ...
    "overheating:heat": (1.0, 0.01),  # ... whose own logit counts once
}


@dataclass(frozen=True)
class HazardKnowledge:
    """A Gaussian over the logistic coefficients, and how often each hazard was answered for: (seen, asked) by key."""

    names: tuple[str, ...]
    mean: Array
    cov: Array
    counts: Mapping[str, tuple[int, int]]

    def odds(self, row: Mapping[str, float]) -> float:
        """Probability, the coefficients integrated out by the usual scaling of the logit."""
        x = np.array([row.get(n, 0.0) for n in self.names])
        return float(expit(x @ self.mean / sqrt(1 + pi / 8 * float(x @ self.cov @ x))))

    def span(self, row: Mapping[str, float]) -> Span:
        """Within which the probability itself is believed to lie, 8 times in 10."""
        x = np.array([row.get(n, 0.0) for n in self.names])
        middle, half = float(x @ self.mean), EIGHT_IN_TEN / 2 * sqrt(float(x @ self.cov @ x))
        return Span(low=float(expit(middle - half)), high=float(expit(middle + half)))


def _ricing_prior(f: Fragrance) -> tuple[float, float]:
    fast = f.claim in (Claim.MODERATE, Claim.STRONG, Claim.SEIZES)
    return ACCELERATES if f.ricing is Ricing.UNKNOWN and fast else RICING[f.ricing]


def _ricing_row(scents: Mapping[str, float], celsius: float, palmitic: float) -> dict[str, float]:
    """`scents` are percent of fats."""
    total = sum(scents.values())
    row = {f"ricing:{f}": p / total for f, p in scents.items() if total > 0}
    hard = (palmitic - FACTORS["palmitic"].reference) / 0.10
    return row | {"ricing:warm": (celsius - 37) / 10, "ricing:hard": hard, "ricing:load": total - CLAIM_LOAD}


def false_trace_row(recipe: Recipe, shelf: Shelf, celsius: float) -> dict[str, float]:
    """Of a pot at so many °C."""
    return {"false-trace": 1.0, "false-trace:set": 10 * pot_sets(recipe, shelf, celsius)}


YOUNGEST = log(0.25)  # ln age by light trace's below which an emulsion holds no worse: poured so by many [chosen]


def separation_row(knowledge: Knowledge, lane: Lane, pouring: float) -> dict[str, float]:
    belief = infer(knowledge, [lane], (), measured=True)
    _, age = ages([lane], belief.column, belief.mean[None, :])
    at = float(np.interp(pouring, lane.edges, age[0, 0]))
    light = float(belief.mean[belief.column[THRESHOLD_COLUMNS[0]]])
    return {"separation": 1.0, "separation:age": max(log(max(at, 1e-3)) - light, YOUNGEST)}


def heat_row(odds: float) -> dict[str, float]:
    return {"overheating": 1.0, "overheating:heat": logit(min(max(odds, 0.001), 0.999))}


def ricing_row(
    percent: Mapping[str, float], celsius: float, sheet: Sheet, less: float = 0.0, softer: float = 0.0
) -> dict[str, float]:
    """Of a portion that gets `percent` of each fragrance, some, at so many °C; with so many percent less of them all,
    or softer in fats."""
    part = max(sum(percent.values()) - less, 0.1) / sum(percent.values())
    scents = {f: p * part for f, p in percent.items()}
    return _ricing_row(scents, celsius, sheet.factors["palmitic"] - softer)


def ricing_odds(percent: Mapping[str, float], celsius: float, sheet: Sheet, known: HazardKnowledge) -> float:
    """Odds of grains in a portion that gets `percent` of each fragrance at so many °C."""
    return known.odds(ricing_row(percent, celsius, sheet)) if sum(percent.values()) > 0 else 0.0


def mould_pace(recipe: Recipe, knowledge: Knowledge) -> float:
    """How many times as fast as usual its fragrance makes the batter go on in the mould: half its ln-rate [chosen]."""
    loads = effective_dose({s.fragrance: 100 * s.load for s in recipe.scents})
    ln = sum(x * knowledge.value(scent_column(f)) for f, x in loads.items()) * recipe.scented_share
    return min(max(exp(0.5 * ln), 1.0), 3.0)


@dataclass(frozen=True)
class Told:
    """A finished pour as hazards see it; `heat` are the odds of overheating its mould gave, where it was asked."""

    recipe: Recipe
    schedule: Schedule
    state: PourState
    sheet: Sheet
    heat: float | None = None


def learn_hazards(shelf: Shelf, pours: Sequence[Told], knowledge: Knowledge) -> HazardKnowledge:
    """What the flags of finished pours taught; a pour without an answer teaches nothing of that hazard."""
    rows: list[Row] = []
    counts: dict[str, tuple[int, int]] = {}

    def count(key: str, happened: bool) -> None:
        seen, asked = counts.get(key, (0, 0))
        counts[key] = (seen + happened, asked + 1)

    for pour in pours:
        state, schedule = pour.state, pour.schedule
        flagged = {k: {f.portion for f in state.flags if f.flag == k} for k in ("ricing", "separation", "false-trace")}
        palmitic = pour.sheet.factors["palmitic"]
        if state.smooth or flagged["ricing"]:
            scented = [lane for lane in schedule.lanes if lane.added]
            for lane in scented:
                begun = max(m for m, _ in lane.added.values())
                riced = bool(flagged["ricing"] & {None, lane.name})
                added = {f: p for f, (_, p) in lane.added.items()}
                counts_as = 1 / (1 + PORTIONS_ALIKE * (len(scented) - 1))
                rows.append((_ricing_row(added, lane.temperature(begun), palmitic), riced, counts_as))
            for f in {f for lane in schedule.lanes for f in lane.added}:
                count(f"ricing:{f}", bool(flagged["ricing"]))
        lane = schedule.lanes[0]
        if state.smooth or flagged["false-trace"]:
            happened = bool(flagged["false-trace"])
            rows.append((false_trace_row(pour.recipe, shelf, lane.temperature(schedule.origin)), happened, 1.0))
            count("false-trace", happened)
        if state.smooth or flagged["separation"]:
            happened = bool(flagged["separation"])
            at = state.pouring if state.pouring is not None else state.ended or schedule.origin
            rows.append((separation_row(knowledge, lane, at), happened, 1.0))
            count("separation", happened)
        if pour.heat is not None:
            rows.append((heat_row(pour.heat), any(f.flag == "overheating" for f in state.flags), 1.0))
        for key in ("seizing", "overheating"):
            if state.smooth or any(f.flag == key for f in state.flags):
                count(key, any(f.flag == key for f in state.flags))
        for f in {f for lane in schedule.lanes for f in lane.added}:
            turned = discoloured(state, schedule, f)
            if turned is not None:
                count(f"discolouring:{f}", turned)
    names, mean, cov = _priors(shelf)
    return HazardKnowledge(names, *_fit(names, mean, cov, rows), counts)


def discoloured(state: PourState, schedule: Schedule, fragrance: str) -> bool | None:
    """Whether a fragrance changed its portions' colour, as last seen when it says something; None while it does not."""
    names = {None, *(lane.name for lane in schedule.lanes if fragrance in lane.added)}
    aged = [c for c in state.colours if c.days >= AGED and c.portion in names]
    return max(aged, key=lambda c: c.days).shade != "true" if aged else None


def _priors(shelf: Shelf) -> tuple[tuple[str, ...], Array, Array]:
    """What is believed with an empty log; a blend rices as its parts do, another bottle as its elder."""
    scents = sorted(shelf.fragrances)
    priors = {f"ricing:{f}": _ricing_prior(shelf.fragrances[f]) for f in scents} | SLOPES
    mean = np.array([m for m, _ in priors.values()])
    cov = np.diag([sd**2 for _, sd in priors.values()])
    inherit(mean, cov, {f: i for i, f in enumerate(scents)}, shelf.fragrances.values())
    _hear(mean, cov, {f: i for i, f in enumerate(scents)}, shelf)
    return tuple(priors), mean, cov


def _hear(mean: Array, cov: Array, place: Mapping[str, int], shelf: Shelf) -> None:
    """Believe how often others saw grains, in place."""
    for f, at in place.items():
        rices = shelf.others[f].rices if f in shelf.others else None
        if rices is not None:
            conditioned(mean, cov, np.eye(len(mean))[at], rices.mean, rices.sd)


def claimed_hazards(shelf: Shelf, known: HazardKnowledge) -> HazardKnowledge:
    """What was learned, with the claims of fragrances that came to the shelf since."""
    new = [f for f in sorted(shelf.fragrances) if f"ricing:{f}" not in known.names]
    if not new:
        return known
    names = (*known.names, *(f"ricing:{f}" for f in new))
    priors = [_ricing_prior(shelf.fragrances[f]) for f in new]
    mean = np.concatenate([known.mean, [m for m, _ in priors]])
    cov = np.zeros((len(mean), len(mean)))
    cov[: len(known.mean), : len(known.mean)] = known.cov
    at = len(known.mean)
    cov[at:, at:] = np.diag([sd**2 for _, sd in priors])
    place = {f: names.index(f"ricing:{f}") for f in shelf.fragrances}
    inherit(mean, cov, place, shelf.fragrances.values(), only=new)
    _hear(mean, cov, {f: place[f] for f in new}, shelf)
    return HazardKnowledge(names, mean, cov, known.counts)


def _fit(names: Sequence[str], mean: Array, cov: Array, rows: Sequence[Row]) -> tuple[Array, Array]:
    """Mode and Laplace covariance of a logistic regression with a Gaussian prior, by Newton's method; the last figure
    of a row is how many answers it counts as."""
    if not rows:
        return mean, cov
    precision = np.linalg.inv(cov)
    x = np.array([[row.get(n, 0.0) for n in names] for row, _, _ in rows])
    y = np.array([float(happened) for _, happened, _ in rows])
    w = np.array([counts for _, _, counts in rows])

    def likelihood(at: Array) -> tuple[float, Array, Array]:
        logit = x @ at
        p = expit(logit)
        value = float(np.sum(w * log_expit(np.where(y > 0, logit, -logit))))
        return value, x.T @ (w * (y - p)), x.T @ ((w * p * (1 - p))[:, None] * x)

    found = climb(Dense(mean, with_prior(likelihood, mean, precision)))
    return found.at, np.linalg.inv(found.information)
