"""Why this batter moves sooner or later than the maker's usual one, in signed minutes that add up.

The time T at which a stage comes is a function of the design row x of every segment. Along the straight path
from the usual batch (λ = 0) to this one (λ = 1) each factor's share is ∫ ∂T/∂x_j Δx_j dλ (Aumann-Shapley), so the
shares add up to the whole difference whatever their order. From ln τ(T) = a:  dT = -τ·(∂ln τ/∂x_j)dx_j / rate(T).
"""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from ..batter import THRESHOLD_COLUMNS, Array, Belief, Lane, infer, prior, scent_column
from ..recipe import Recipe
from ..schedule import Schedule
from ..shelf import Shelf
from ..text import C, Text, figure, say
from ..values import Fault, Minutes, RuleError, Share, Value
from .job import Job, Knows, Usual

LEAST = 0.25  # minutes; smaller reasons are told together
SMALLEST = 0.05  # minutes; not even worth telling
MOST = 6  # lines; the rest is told together
DRAWS = 40
# The path has kinks where a segment ends, so it has more nodes than smoothness asks.
GAUSS = np.polynomial.legendre.leggauss(16)


class Reason(Value):
    """What one factor adds (+, later) or takes (-, sooner), give or take `spread`; `evidence` is from own pours. `row`
    points at what in the recipe it is of, where that is one thing put in."""

    key: str
    row: str = ""
    label: Text
    minutes: Minutes
    spread: Minutes
    evidence: Share
    basis: str


class Reasons(Value):
    """The reasons add up to `here - usual` for the stage in a portion; none asked for, in the first scented one (else
    the first)."""

    stage: str
    portion: str
    here: Minutes
    usual: Minutes
    spread: Minutes
    usual_words: Text
    reasons: tuple[Reason, ...]


def path(usual: Lane, here: Lane, belief: Belief, params: Array, stage: int) -> tuple[Array, Array, Array]:
    """Minutes by draw and column, and the two ends' times. The lanes share their segments."""
    start, end = usual.rows(belief.column), here.rows(belief.column)
    need = np.exp(params[:, belief.column[THRESHOLD_COLUMNS[stage]]])[:, None]
    edges, minutes = here.edges, here.durations
    nodes, weights = GAUSS
    # The ends of the path ride along with weight 0, so all is one pass: (path × draws × segments).
    along = np.concatenate([[0.0, 1.0], (nodes + 1) / 2])[:, None, None]
    weights = np.concatenate([[0.0, 0.0], weights / 2])
    rate = np.exp(np.clip((params @ start.T)[None] + along * (params @ (end - start).T)[None], -50, 50))
    age = np.cumsum(rate * minutes, axis=2)
    last = np.minimum((age < need).sum(axis=2, keepdims=True), len(minutes) - 1)
    begun = np.take_along_axis(np.concatenate([np.zeros_like(age[:, :, :1]), age], axis=2), last, axis=2)
    final = np.take_along_axis(rate, last, axis=2)
    left = (need - begun) / final
    segment = np.arange(len(minutes))
    spent = np.where(segment < last, minutes, np.where(segment == last, left, 0.0)) * rate / final
    total = -(np.tensordot(weights, spent, axes=1) @ (end - start)) * params
    times = (edges[last] + left)[:, :, 0]
    return total, times[0], times[1]


def places_of(column: str, columns: Mapping[str, int]) -> list[int]:
    """The places of all that a column's name stands for: a fragrance's pace and its jump are one reason."""
    jump = column.replace("e:", "J:", 1) if column.startswith("e:") else column
    return [columns[c] for c in dict.fromkeys((column, jump)) if c in columns]


def _labels(recipe: Recipe, shelf: Shelf, usual: Usual, factors: Mapping[str, float]) -> dict[str, Text]:
    warmer = "warmer pour" if recipe.pour_celsius > usual.celsius else "cooler pour"
    labels = {"E": say(warmer, ", ", C(recipe.pour_celsius))}
    for key, factor in prior.FACTORS.items():
        labels[f"x:{key}"] = say(factor.more if factors[key] >= usual.factors[key] else factor.less)
    for scent in recipe.scents:
        name = shelf.fragrances[scent.fragrance].name
        labels[scent_column(scent.fragrance)] = say(name, ", ", figure(100 * scent.load), " %")
    return labels


def explain(
    job: Job, knows: Knows, schedule: Schedule, seed: int, stage: int = 1, portion: str | None = None
) -> Reasons:
    """Reasons for the time of a threshold (0 light, 1 medium …) in a portion, against the usual batch poured the same
    way; RuleError where there is no such portion."""
    recipe, usual = job.recipe, knows.usual
    lead = _lead(recipe, schedule, portion)
    here = schedule.lanes[lead]
    # The same stirring and the same room: only what went in, and how warm, may differ.
    drift = usual.celsius - recipe.pour_celsius
    as_usual = replace(
        here, factors=usual.factors, own_factors=None, added={}, temperature=lambda t: here.temperature(t) + drift
    )
    belief = infer(knows.knowledge, [here], (), schedule.measured)
    params = _draws_of(belief, seed)
    # The batch's own luck is the same for both batters, so it is left out of what sets them apart.
    for name in (here.batch_effect, here.portion_effect):
        if name in belief.column:
            params[:, belief.column[name]] = 0.0
    minutes, usual_time, here_time = path(as_usual, here, belief, params, stage)

    labels = _labels(recipe, job.shelf, usual, here.own_factors or here.factors)
    reasons = [
        r.model_copy(update={"row": _row(r.key, recipe, job.shelf)})
        for r in _largest(labels, minutes, belief, knows, knows.scent_pours(recipe))
    ]
    gap = here_time - usual_time
    rest = gap - minutes[:, [j for r in reasons for j in places_of(r.key, belief.column)]].sum(axis=1)
    if abs(rest[0]) >= SMALLEST:
        spread = float(np.std(rest[1:]))
        reasons.append(
            Reason(
                key="rest", label="the rest, each small", minutes=float(rest[0]), spread=spread, evidence=0.0, basis=""
            )
        )
    return Reasons(
        stage=prior.THRESHOLDS[stage],
        portion=recipe.design.portions[lead].name,
        here=float(here_time[0]),
        usual=float(usual_time[0]),
        spread=float(np.std(gap[1:])),
        usual_words=say("your usual unscented batch, ", C(usual.celsius, ".0f"))
        if usual.pours
        else say("a plain batch at ", C(37)),
        reasons=tuple(reasons),
    )


def _lead(recipe: Recipe, schedule: Schedule, portion: str | None) -> int:
    """The portion that is asked for, else the first that gets a scent; RuleError where there is no such portion."""
    if portion is None:
        return next((i for i, lane in enumerate(schedule.lanes) if lane.added), 0)
    for i, p in enumerate(recipe.design.portions):
        if p.name == portion:
            return i
    raise RuleError(Fault(pointer="/portion", message="This recipe has no such portion."))


def _draws_of(belief: Belief, seed: int) -> Array:
    """The mean of a belief, and below it draws of it in pairs that mirror each other, a row each."""
    half = np.random.Generator(np.random.PCG64(seed)).standard_normal((DRAWS // 2, len(belief.mean)))
    root = np.linalg.cholesky(belief.cov + 1e-12 * np.eye(len(belief.mean)))
    return np.vstack([belief.mean, belief.mean + half @ root.T, belief.mean - half @ root.T])


def _largest(
    labels: Mapping[str, Text], minutes: Array, belief: Belief, knows: Knows, scent_pours: Mapping[str, int]
) -> list[Reason]:
    """A reason for each column that has a label, the largest first, without what is too small to be told."""
    reasons = []
    for column, label in labels.items():
        if column not in belief.column:
            continue
        whole = minutes[:, places_of(column, belief.column)].sum(axis=1)
        evidence = max(0.0, 1 - (knows.knowledge.sd(column) / knows.trade.sd(column)) ** 2)
        reasons.append(
            Reason(
                key=column,
                label=label,
                minutes=float(whole[0]),
                spread=float(np.std(whole[1:])),
                evidence=evidence,
                basis=_basis(column, evidence, knows.knowledge.pours, scent_pours),
            )
        )
    reasons.sort(key=lambda r: -abs(r.minutes))
    return [r for r in reasons if abs(r.minutes) >= LEAST][:MOST]


def _row(column: str, recipe: Recipe, shelf: Shelf) -> str:
    """What was put into the recipe that a column stands for: the first thing that moves it."""
    for i, scent in enumerate(recipe.scents):
        if scent_column(scent.fragrance) == column:
            return f"/scents/{i}"
    for i, use in enumerate(recipe.liquids):
        liquid = shelf.liquids[use.liquid]
        if column == "x:milk" and use.share > 0 and liquid.protein + liquid.sugars > 0:
            return f"/liquids/{i}"
    for i, row in enumerate(recipe.fats):
        if f"x:{shelf.fats[row.fat].covariate}" == column:
            return f"/fats/{i}"
    for i, dose in enumerate(recipe.additives):
        if f"x:{shelf.additives[dose.additive].factor}" == column:
            return f"/additives/{i}"
    return ""


def _basis(column: str, evidence: float, pours: int, scent_pours: Mapping[str, int]) -> str:
    if column.startswith("e:"):
        own = scent_pours.get(column.removeprefix("e:"), 0)
        return f"{own} pour{'s' if own > 1 else ''} of yours" if own else "the supplier's claim"
    return f"{pours} pours of yours" if evidence >= 0.2 else "trade experience"
