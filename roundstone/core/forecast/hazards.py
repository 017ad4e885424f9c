"""What else can go wrong, with odds: seizing, ricing, separation, false trace, overheating, discolouring.

Seizing comes from the clock's own draws and overheating from the heat in the mould. Ricing, separation and false trace
are Bayesian logistic regressions with a Gaussian prior: an intercept for each fragrance, shared slopes, Laplace's rule.
Discolouring joins vanillin, the claim and the maker's own record. Base rates and slopes are chosen.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, log, pi, sqrt
from typing import Literal

import numpy as np
from scipy.special import expit, log_expit

from ..batter import (
    CLAIM_LOAD,
    FACTORS,
    THRESHOLD_COLUMNS,
    Array,
    Dense,
    Draws,
    Knowledge,
    Lane,
    ages,
    believe,
    climb,
    felt,
    inherit,
    scent_column,
    with_prior,
)
from ..course import Course
from ..heat import mould_heat
from ..pour import PourState
from ..recipe import Recipe
from ..said import WARMER_BY, C
from ..sheet import Sheet
from ..shelf import Claim, Discolours, Family, Fragrance, Ricing, Shelf
from ..values import Share, Value
from .odds import MOST_SURE

SEIZES_WITHIN = 2.0  # minutes from scent to thick
UNKNOWN_SEIZES_MORE = 1.5  # odds times this for a fragrance never poured: the clock under-warns then
AGED = 7  # days before which a colour says little
LEAST = 0.01  # odds are never told below this
Row = tuple[Mapping[str, float], bool]


def _logit(p: float) -> float:
    return log(p / (1 - p))


# Logit and its sd of ricing at 3 %, 37 °C, by what the supplier says [C] ...
RICING: dict[Ricing, tuple[float, float]] = {
    Ricing.NO: (_logit(0.02), 0.8),
    Ricing.UNKNOWN: (_logit(0.04), 1.2),
    Ricing.SOME: (_logit(0.15), 1.0),
    Ricing.YES: (_logit(0.35), 1.0),
}
ACCELERATES = (_logit(0.08), 1.0)  # ... and of one that says nothing of it but accelerates [C]
SLOPES: dict[str, tuple[float, float]] = {
    "ricing:warm": (0.5, 0.3),  # per 10 °C above 37
    "ricing:hard": (0.4, 0.3),  # per 10 points of palmitic and stearic
    "ricing:load": (0.4, 0.3),  # per 1 % above 3
    "false-trace": (_logit(0.03), 0.5),
    "false-trace:cool": (1.0, 0.5),  # per 10 °C below 32
    "false-trace:hard": (0.5, 0.3),
    "separation": (_logit(0.01), 0.5),
    "separation:age": (-1.0, 0.5),  # per unit of ln age past light trace when poured
    "overheating": (0.0, 1.0),  # beyond what the heat in the mould gives ...
    "overheating:heat": (1.0, 0.01),  # ... whose own logit counts once
}

HazardKey = Literal["seizing", "ricing", "separation", "false-trace", "overheating", "gel", "discolouring"]


class Hazard(Value):
    """Odds of a hazard in words and figures, how often it was seen, and what would lower it.

    What does no `harm` is told beside the others because it comes from the same cause.
    """

    key: HazardKey
    name: str
    odds: Share
    words: str
    seen: int
    asked: int
    says: str
    lower: tuple[str, ...]
    harm: bool = True


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


def _ricing_prior(f: Fragrance) -> tuple[float, float]:
    fast = f.claim in (Claim.MODERATE, Claim.STRONG, Claim.SEIZES)
    return ACCELERATES if f.ricing is Ricing.UNKNOWN and fast else RICING[f.ricing]


def _ricing_row(scents: Mapping[str, float], celsius: float, palmitic: float) -> dict[str, float]:
    """`scents` are percent of fats."""
    total = sum(scents.values())
    row = {f"ricing:{f}": p / total for f, p in scents.items() if total > 0}
    hard = (palmitic - FACTORS["palmitic"].reference) / 0.10
    return row | {"ricing:warm": (celsius - 37) / 10, "ricing:hard": hard, "ricing:load": total - CLAIM_LOAD}


def _false_trace_row(celsius: float, palmitic: float) -> dict[str, float]:
    hard = (palmitic - FACTORS["palmitic"].reference) / 0.10
    return {"false-trace": 1.0, "false-trace:cool": (32 - celsius) / 10, "false-trace:hard": hard}


def _separation_row(knowledge: Knowledge, lane: Lane, pouring: float) -> dict[str, float]:
    belief = believe(knowledge, [lane], (), measured=True)
    _, age = ages([lane], belief.column, belief.mean[None, :])
    at = float(np.interp(pouring, lane.edges, age[0, 0]))
    light = float(belief.mean[belief.column[THRESHOLD_COLUMNS[0]]])
    return {"separation": 1.0, "separation:age": log(max(at, 1e-3)) - light}


def _heat_row(odds: float) -> dict[str, float]:
    return {"overheating": 1.0, "overheating:heat": _logit(min(max(odds, 0.001), 0.999))}


def mould_pace(recipe: Recipe, knowledge: Knowledge) -> float:
    """How many times as fast as usual its fragrance makes the batter go on in the mould: half its ln-rate [chosen]."""
    loads = felt({s.fragrance: 100 * s.load for s in recipe.scents})
    ln = sum(x * knowledge.value(scent_column(f)) for f, x in loads.items()) * recipe.scented_share
    return min(max(exp(0.5 * ln), 1.0), 3.0)


@dataclass(frozen=True)
class Told:
    """A finished pour as hazards see it; `heat` are the odds of overheating its mould gave, where it was asked."""

    course: Course
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
        state, course = pour.state, pour.course
        flagged = {k: {f.portion for f in state.flags if f.flag == k} for k in ("ricing", "separation", "false-trace")}
        palmitic = pour.sheet.factors["palmitic"]
        if state.smooth or flagged["ricing"]:
            for lane in course.lanes:
                if lane.added:
                    begun = max(m for m, _ in lane.added.values())
                    riced = bool(flagged["ricing"] & {None, lane.name})
                    added = {f: p for f, (_, p) in lane.added.items()}
                    rows.append((_ricing_row(added, lane.temperature(begun), palmitic), riced))
            for f in {f for lane in course.lanes for f in lane.added}:
                count(f"ricing:{f}", bool(flagged["ricing"]))
        lane = course.lanes[0]
        if state.smooth or flagged["false-trace"]:
            happened = bool(flagged["false-trace"])
            rows.append((_false_trace_row(lane.temperature(course.origin), palmitic), happened))
            count("false-trace", happened)
        if state.smooth or flagged["separation"]:
            happened = bool(flagged["separation"])
            at = state.pouring if state.pouring is not None else state.ended or course.origin
            rows.append((_separation_row(knowledge, lane, at), happened))
            count("separation", happened)
        if pour.heat is not None:
            rows.append((_heat_row(pour.heat), any(f.flag == "overheating" for f in state.flags)))
        for key in ("seizing", "overheating"):
            if state.smooth or any(f.flag == key for f in state.flags):
                count(key, any(f.flag == key for f in state.flags))
        for f in {f for lane in course.lanes for f in lane.added}:
            scented = {None, *(lane.name for lane in course.lanes if f in lane.added)}
            aged = [c for c in state.colours if c.days >= AGED and c.portion in scented]
            if aged:
                count(f"discolouring:{f}", max(aged, key=lambda c: c.days).shade != "true")
    names, mean, cov = _priors(shelf)
    return HazardKnowledge(names, *_fit(names, mean, cov, rows), counts)


def _priors(shelf: Shelf) -> tuple[tuple[str, ...], Array, Array]:
    """What is believed with an empty log; a blend rices as its parts do, another bottle as its elder."""
    scents = sorted(shelf.fragrances)
    priors = {f"ricing:{f}": _ricing_prior(shelf.fragrances[f]) for f in scents} | SLOPES
    mean = np.array([m for m, _ in priors.values()])
    cov = np.diag([sd**2 for _, sd in priors.values()])
    inherit(mean, cov, {f: i for i, f in enumerate(scents)}, shelf.fragrances.values())
    return tuple(priors), mean, cov


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
    return HazardKnowledge(names, mean, cov, known.counts)


def _fit(names: Sequence[str], mean: Array, cov: Array, rows: Sequence[Row]) -> tuple[Array, Array]:
    """Mode and Laplace covariance of a logistic regression with a Gaussian prior, by Newton's method."""
    if not rows:
        return mean, cov
    precision = np.linalg.inv(cov)
    x = np.array([[row.get(n, 0.0) for n in names] for row, _ in rows])
    y = np.array([float(happened) for _, happened in rows])

    def likelihood(at: Array) -> tuple[float, Array, Array]:
        logit = x @ at
        p = expit(logit)
        value = float(np.sum(log_expit(np.where(y > 0, logit, -logit))))
        return value, x.T @ (y - p), x.T @ ((p * (1 - p))[:, None] * x)

    found = climb(Dense(mean, with_prior(likelihood, mean, precision)))
    return found.at, np.linalg.inv(found.information)


def _words(odds: float) -> str:
    words = ((0.05, "hardly"), (0.15, "unlikely"), (0.35, "possible"), (0.65, "about even"))
    return next((w for most, w in words if odds < most), "likely")


def hazards(
    recipe: Recipe,
    sheet: Sheet,
    shelf: Shelf,
    course: Course,
    draws: Draws,
    known: HazardKnowledge,
    knowledge: Knowledge,
) -> tuple[Hazard, ...]:
    """All hazards of a recipe before its pour, the likeliest first."""
    found = [
        *_seizing(recipe, shelf, course, draws, known, knowledge),
        *_ricing(recipe, sheet, shelf, known),
        _false_trace(recipe, sheet, known),
        _separation(course, known, knowledge),
        *_heat_in_mould(recipe, sheet, known, knowledge),
        *_discolouring(recipe, shelf, known),
    ]
    return tuple(sorted(found, key=lambda h: (not h.harm, -h.odds)))


def _made(
    key: HazardKey, name: str, odds: float, count: tuple[int, int], says: str, lower: Sequence[str] = ()
) -> Hazard:
    told = min(max(odds, LEAST), MOST_SURE)
    seen, asked = count
    return Hazard(
        key=key, name=name, odds=told, words=_words(told), seen=seen, asked=asked, says=says, lower=tuple(lower)
    )


def _less(words: str, now: float, then: float) -> list[str]:
    """A way to lower odds, when it is worth saying."""
    return [f"{words}: {100 * max(then, LEAST):.0f} in 100"] if now > 0.04 and then < 0.9 * now else []


def _seizing(
    recipe: Recipe, shelf: Shelf, course: Course, draws: Draws, known: HazardKnowledge, knowledge: Knowledge
) -> list[Hazard]:
    lanes = course.lanes
    if not any(lane.added for lane in lanes):
        return []
    worst, wait = 0.0, np.zeros(1)
    for i, lane in enumerate(lanes):
        if lane.added:
            since = draws.crossing(i, 4.0) - max(m for m, _ in lane.added.values())
            odds = float(np.mean(since < SEIZES_WITHIN))
            if odds >= worst:
                worst, wait = odds, since
    untried = all(known.counts.get(f"ricing:{f}", (0, 0))[1] == 0 for f in recipe.fragrances)

    def told(slower: float) -> float:
        p = float(np.mean(wait * slower < SEIZES_WITHIN))
        odds = p / max(1 - p, 1e-9) * (UNKNOWN_SEIZES_MORE if untried else 1.0)
        return odds / (1 + odds)

    effect = sum(knowledge.value(scent_column(s.fragrance)) for s in recipe.scents) / len(recipe.scents)
    now = told(1.0)
    lower = _less(f"{5}{WARMER_BY} cooler", now, told(exp(0.5 * knowledge.value("E"))))
    lower += _less("1 % less of it", now, told(exp(max(effect, 0.0))))
    if recipe.design.scent_by == "stick":
        lower.append("whisk it in by hand")
    says = f"thick within {SEIZES_WITHIN:g} min of {shelf.blend_name(recipe.fragrances)}"
    return [_made("seizing", "Seizing", now, known.counts.get("seizing", (0, 0)), says, lower)]


def ricing_odds(
    recipe: Recipe, sheet: Sheet, known: HazardKnowledge, cooler: float = 0.0, less: float = 0.0, softer: float = 0.0
) -> float:
    """Odds of grains where the fragrance goes in, as planned or so many °C cooler, percent less, or softer in fats."""
    percent = {s.fragrance: 100 * s.load for s in recipe.scents if s.load > 0}
    total = sum(percent.values())
    if not total:
        return 0.0
    part = max(total - less, 0.1) / total
    scents = {f: p * part for f, p in percent.items()}
    return known.odds(_ricing_row(scents, recipe.pour_celsius - cooler, sheet.factors["palmitic"] - softer))


def _ricing(recipe: Recipe, sheet: Sheet, shelf: Shelf, known: HazardKnowledge) -> list[Hazard]:
    if not any(s.load > 0 for s in recipe.scents) or not recipe.scented_share:
        return []

    def odds(cooler: float = 0.0, less: float = 0.0, softer: float = 0.0) -> float:
        return ricing_odds(recipe, sheet, known, cooler, less, softer)

    now = odds()
    lower = _less(f"{5}{WARMER_BY} cooler", now, odds(cooler=5)) + _less("1 % less of it", now, odds(less=1))
    lower += _less("5 points less hard fats", now, odds(softer=0.05))
    counts = [known.counts.get(f"ricing:{f}", (0, 0)) for f in recipe.fragrances]
    count = (sum(c[0] for c in counts), sum(c[1] for c in counts))
    return [_made("ricing", "Ricing", now, count, f"grains where {shelf.blend_name(recipe.fragrances)} goes in", lower)]


def _false_trace(recipe: Recipe, sheet: Sheet, known: HazardKnowledge) -> Hazard:
    palmitic = sheet.factors["palmitic"]
    now = known.odds(_false_trace_row(recipe.pour_celsius, palmitic))
    lower = _less(f"{5}{WARMER_BY} warmer", now, known.odds(_false_trace_row(recipe.pour_celsius + 5, palmitic)))
    says = "thick from hard fats that set, not from soap: it melts back when stirred warm"
    return _made("false-trace", "False trace", now, known.counts.get("false-trace", (0, 0)), says, lower)


def _separation(course: Course, known: HazardKnowledge, knowledge: Knowledge) -> Hazard:
    pouring = course.pouring
    slowest = min(
        (_separation_row(knowledge, lane, pouring) for lane in course.lanes), key=lambda row: row["separation:age"]
    )
    now = known.odds(slowest)
    later = known.odds(slowest | {"separation:age": slowest["separation:age"] + log(2)})
    lower = _less("pour it at twice the age, nearer light trace", now, later)
    says = "oil weeps from batter poured before it holds"
    return _made("separation", "Separation", now, known.counts.get("separation", (0, 0)), says, lower)


def _heat_in_mould(recipe: Recipe, sheet: Sheet, known: HazardKnowledge, knowledge: Knowledge) -> list[Hazard]:
    """Cracking or rising, moved by what the maker saw; and apart from it whether it gels through."""
    pace = mould_pace(recipe, knowledge)

    def odds(of: Recipe) -> float:
        return known.odds(_heat_row(mould_heat(of, sheet, pace).overheats))

    heat = mould_heat(recipe, sheet, pace)
    now = known.odds(_heat_row(heat.overheats))
    says = f"it cracks or rises out of the mould; the middle comes to {heat.slow:.0f}{C} to {heat.fast:.0f}{C}"
    lower = []
    if now > 0.04:
        lower = _less(
            f"pour {6}{WARMER_BY} cooler",
            now,
            odds(recipe.model_copy(update={"pour_celsius": recipe.pour_celsius - 6})),
        )
        if recipe.design.wrap in ("insulated", "oven", "covered"):
            bare = recipe.model_copy(update={"design": recipe.design.model_copy(update={"wrap": "open"})})
            lower += _less("leave it uncovered", now, odds(bare))
    count = known.counts.get("overheating", (0, 0))
    told = min(max(heat.gels, LEAST), MOST_SURE)
    through = Hazard(
        key="gel",
        name="Gels through",
        odds=told,
        words=_words(told),
        seen=0,
        asked=0,
        says=f"{heat.gel} likeliest; full gel deepens colours and spares ash, whites stay whiter without",
        lower=(),
        harm=False,
    )
    return [_made("overheating", "Cracks or volcano", now, count, says, lower), through]


# Vanillin in the scented fats and the colour it turns to: common practice at about 3 % of fragrance.
SHADES = ((0.0, "stays true"), (0.00008, "a tint"), (0.0002, "light brown"), (0.0006, "caramel"), (0.002, "dark brown"))


def _discolouring(recipe: Recipe, shelf: Shelf, known: HazardKnowledge) -> list[Hazard]:
    scents = shelf.poured((s.fragrance, s.load) for s in recipe.scents if s.load > 0)
    if not scents or not recipe.scented_share:
        return []
    vanillin = sum(load * (f.vanillin or 0.0) for load, f in scents)
    odds = float(expit(2.5 * log(max(vanillin, 1e-7) / 0.0002)))
    for _, f in scents:
        hint = {Discolours.NO: 0.03, Discolours.TINT: 0.5, Discolours.BROWN: 0.9}.get(f.discolours)
        if hint is None and vanillin < 0.0002:
            # Declared none may still tint: sweet and musky ones carry ethyl vanillin and the like.
            hint = 0.25 if f.family in (Family.SWEET, Family.MUSK) else 0.05
        odds = max(odds, hint or 0.0)
    counts = [known.counts.get(f"discolouring:{f}", (0, 0)) for f in recipe.fragrances]
    seen, asked = sum(c[0] for c in counts), sum(c[1] for c in counts)
    odds = (2 * odds + seen) / (2 + asked)
    shade = next(words for least, words in reversed(SHADES) if vanillin >= least)
    stated = any(f.vanillin for _, f in scents)
    says = (
        f"true at the cut; by its vanillin {shade} within a week, full when cured"
        if stated
        else "no vanillin is stated; sweet and musky notes may tint all the same"
    )
    plain = [p.name for p in recipe.design.portions if not p.scented]
    lower = [f"{', '.join(plain)} stays true"] if plain and recipe.design.scents_apart else []
    return [_made("discolouring", "Discolouring", odds, (seen, asked), says, lower)]
