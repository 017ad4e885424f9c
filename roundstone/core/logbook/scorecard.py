"""How good the forecasts were: every past pour as it would have been forecast before it, by what was known until then.

Only pours before a pour are learned from (leave-future-out), for the noise too. The forecast is given what was done
and when (the scent, the split, the readings), not what was seen. A look says that a stage came between two times; its
score is the log of the probability the forecast gave that. Where in the forecast it came is known only to be somewhere
between the two, so coverage counts the part of that stretch that lies inside the central span: as often as it should
if the forecast is honest, however seldom the maker looks.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from math import exp, log

import numpy as np
from scipy.special import ndtr

from ..batter import (
    THRESHOLD_COLUMNS,
    Array,
    Knowledge,
    Lane,
    Term,
    ages,
    doubted,
    infer,
    normals,
    prior,
    trade_knowledge,
)
from ..shelf import Claim, Shelf
from ..text import MONTHS, Text, figure, say
from ..values import Share, Value
from .learn import Fit, fit
from .past import Logged
from .record import Record
from .tune import LEAST_POURS as FIRST_TUNING
from .tune import tune

LEAST_POURS = 8  # before which a score card says little [chosen]
EVERY = 5  # pours between refits once there are many; a refit for each would be slow and hardly differ
MANY = 30
LEAST_DRIFT = 0.05  # of ln-rate: what nobody would notice is not told [chosen]
TUNE_AGAIN = 1.5  # times the pours that the noise was last tuned from: tuning is slow
DRAWS = 200
FLOOR = 1e-4  # probability below which a miss is not counted as worse
RULE_SD = 0.8  # of ln minutes by the trade's rule of thumb [chosen]
# How many times as fast the rule of thumb takes a claim to be [chosen].
RULE_CLAIM = {
    Claim.SLOWS: 0.8,
    Claim.NONE: 1.0,
    Claim.SLIGHT: 1.3,
    Claim.MODERATE: 2.0,
    Claim.STRONG: 4.0,
    Claim.SEIZES: 10.0,
    Claim.UNKNOWN: 1.3,
}
SPANS = (0.5, 0.8, 0.95)
IN_EIGHT = 1.2816  # standard errors within which 8 in 10 lie


class Coverage(Value):
    """How often stages came inside the span that should hold them `wanted` of the time."""

    wanted: Share
    found: Share


class Scores(Value):
    """Mean log score a look: the clock, the supplier's claims alone, the trade's rule of thumb. Higher is better."""

    looks: int
    clock: float
    claims: float
    rule: float


class MonthScore(Value):
    month: str
    pours: int
    scores: Scores
    inside: Share


class PourScore(Value):
    """One pour: its looks' mean log scores, and how often they lay inside the 80 % span (None: nothing was seen)."""

    pour: str
    recipe: str
    month: str
    scores: Scores
    inside: Share | None


class ScoreCard(Value):
    """`drift` says how the batters have got faster or slower since the first pours, "" where luck explains it."""

    pours: int
    scores: Scores | None
    coverage: tuple[Coverage, ...]
    months: tuple[MonthScore, ...]
    each: tuple[PourScore, ...]
    message: Text
    drift: Text


@dataclass(frozen=True)
class Judged:
    """One look: log scores of clock, claims and rule, and the stretch of the forecast it came in (0 to 1)."""

    clock: float
    claims: float
    rule: float
    low: float
    high: float


def _chances(knowledge: Knowledge, logged: Logged) -> list[tuple[Term, float, float]]:
    """Each term of a pour with the probability that its threshold was crossed by its two ends, before any look."""
    schedule = logged.schedule
    out = []
    for index in sorted({t.lane for t in schedule.terms}):
        lane = schedule.seen[index]
        belief = infer(knowledge, [lane], (), schedule.measured)
        size = len(belief.mean)
        root = np.linalg.cholesky(belief.cov + 1e-12 * np.eye(size))
        params = belief.mean + normals(5, DRAWS, max(64, size))[:, :size] @ root.T
        _, age = ages([lane], belief.column, params)
        for term in (t for t in schedule.terms if t.lane == index):
            noise = knowledge.noise.stages[term.stage]
            goal = params[:, belief.column[THRESHOLD_COLUMNS[term.stage]]]
            low, high = (_reached(lane, age[0], goal, noise, m) for m in (term.after, term.by))
            out.append((term, low, high))
    return out


def _reached(lane: Lane, age: Array, goal: Array, noise: float, minute: float | None) -> float:
    """Mean over draws of the probability that ln age had passed the goal at `minute`; NaN for an open end."""
    if minute is None:
        return float("nan")
    edge = lane.segment_ending(minute) + 1
    if edge <= 0:
        return 0.0
    return float(np.mean(ndtr((np.log(np.maximum(age[:, edge], 1e-12)) - goal) / noise)))


def _rule(logged: Logged, shelf: Shelf, term: Term) -> tuple[float, float]:
    """The same two probabilities by rule of thumb: usual minutes, halved per ten degrees, faster by the claim."""
    lane = logged.schedule.seen[term.lane]
    warm = 2 ** ((logged.recipe.pour_celsius - prior.REFERENCE_CELSIUS) / 10)
    claims = [RULE_CLAIM[shelf.fragrances[f].claim] for f in lane.added if f in shelf.fragrances]
    usual = prior.THRESHOLD_MINUTES[prior.THRESHOLDS[term.stage]] / warm / max(claims, default=1.0)

    def at(minute: float | None) -> float:
        if minute is None:
            return float("nan")
        since = minute - lane.origin
        return float(ndtr((log(since) - log(usual)) / RULE_SD)) if since > 0 else 0.0

    return _ends(at(term.after), at(term.by))


def _ends(low: float, high: float) -> tuple[float, float]:
    """An open end is that of all there is."""
    return 0.0 if np.isnan(low) else low, 1.0 if np.isnan(high) else high


def _log_score(low: float, high: float) -> float:
    return log(max(high - low, FLOOR))


def judge(logged: Logged, knowledge: Knowledge, trade: Knowledge, shelf: Shelf) -> list[Judged]:
    """Every look of a pour against the forecast by `knowledge`, by the claims alone (`trade`) and by the rule."""
    own, claims = _chances(knowledge, logged), _chances(trade, logged)
    out = []
    for (term, low, high), (_, claim_low, claim_high) in zip(own, claims, strict=True):
        rule = _log_score(*_rule(logged, shelf, term))
        clock, by_claims = _log_score(*_ends(low, high)), _log_score(*_ends(claim_low, claim_high))
        out.append(Judged(clock, by_claims, rule, *_ends(low, high)))
    return out


def mean_scores(judged: Sequence[Judged]) -> Scores:
    """Mean log scores a look."""
    n = len(judged)
    means = [sum(getattr(j, k) for j in judged) / n for k in ("clock", "claims", "rule")]
    return Scores(looks=n, clock=means[0], claims=means[1], rule=means[2])


def _part_inside(judged: Judged, span: float) -> float:
    """The part of a look's stretch that lies in the central span."""
    bottom, top = (1 - span) / 2, (1 + span) / 2
    wide = judged.high - judged.low
    if wide <= 1e-9:
        return float(bottom <= judged.low <= top)
    return max(min(judged.high, top) - max(judged.low, bottom), 0.0) / wide


def inside(judged: Sequence[Judged], span: float) -> float | None:
    """Mean part of each look's stretch that lies in the central span."""
    return sum(_part_inside(j, span) for j in judged) / len(judged) if judged else None


def score(record: Record, progress: Callable[[float], None] | None = None) -> ScoreCard:
    """The score card of all finished pours that were looked at; `progress` is told the share that is done."""
    pours = [p for p in reversed(record.logged) if p.schedule.terms]
    judged: list[tuple[Logged, list[Judged]]] = []
    fitted: Fit | None = None
    # The noise, too, is only what the pours before could have tuned: today's is tuned on all of them.
    trade = trade_knowledge(record.shelf.fragrances.values(), others=record.shelf.others)
    claims = doubted(trade)
    tuned = record.trade.noise != trade.noise
    tune_at: float = FIRST_TUNING
    for i, pour in enumerate(pours):
        if tuned and i >= tune_at:
            trade = replace(trade, noise=tune(trade, {p.pour: p.schedule for p in pours[:i]}))
            fitted, tune_at = None, i * TUNE_AGAIN
        if fitted is None or i <= MANY or i % EVERY == 0:
            fitted = fit(trade, {p.pour: p.schedule for p in pours[:i]}, fitted)
        judged.append((pour, judge(pour, fitted.knowledge, claims, record.shelf)))
        if progress is not None:
            progress((i + 1) / len(pours))
    every = [j for _, found in judged for j in found]
    months = []
    for month in sorted({p.past.month for p, _ in judged}):
        its = [j for p, j in judged if p.past.month == month]
        looks = [x for j in its for x in j]
        months.append(
            MonthScore(month=month, pours=len(its), scores=mean_scores(looks), inside=inside(looks, 0.8) or 0.0)
        )
    coverage = [Coverage(wanted=s, found=found) for s in SPANS if (found := inside(every, s)) is not None]
    return ScoreCard(
        pours=len(judged),
        scores=mean_scores(every) if every else None,
        coverage=tuple(coverage),
        months=tuple(months),
        each=tuple(
            PourScore(
                pour=p.pour,
                recipe=p.recipe.name,
                month=p.past.month,
                scores=mean_scores(found),
                inside=inside(found, 0.8),
            )
            for p, found in reversed(judged)
        ),
        message=_says([found for _, found in judged]),
        drift=drift_of(fitted, pours[0].past.month) if fitted is not None else "",
    )


def drift_of(fitted: Fit, since: str) -> Text:
    """How the pace of all batters has moved since the first pours, in the month `since` (2031-05), or "" where luck
    explains it."""
    moved = fitted.paces[-1] if fitted.paces else 0.0
    if not since or abs(moved) <= max(IN_EIGHT * fitted.pace_sd, LEAST_DRIFT):
        return Text.NONE
    low, high = (figure(exp(moved + z * fitted.pace_sd), ".2f") for z in (-IN_EIGHT, IN_EIGHT))
    return say(
        "The same batter moves ",
        low,
        " to ",
        high,
        " times as fast as in ",
        MONTHS[int(since[5:7]) - 1],
        " ",
        since[:4],
        ": room, fats and hand change by and by. Forecasts go by the pace now.",
    )


def luck_of(each: Sequence[Sequence[float]]) -> tuple[float, float]:
    """Mean over all looks, and how far luck alone may move it: one standard error, looks of a pour going together.

    A ratio of sums over pours (Cochran, Sampling Techniques, 3rd ed. 1977, 6.4).

    >>> luck_of([[1.0, 2.0], [3.0]])
    (2.0, 0.6666666666666666)
    """
    total = sum(len(x) for x in each)
    mean = sum(map(sum, each)) / total
    off = sum((sum(x) - mean * len(x)) ** 2 for x in each)
    return mean, (len(each) / (len(each) - 1) * off) ** 0.5 / total


def _better(each: Sequence[Sequence[float]]) -> Text:
    """How much better by the chance that was given, and the 8 in 10 that luck leaves open."""
    mean, samples = luck_of(each)
    low, middle, high = (100 * (exp(mean + z * samples) - 1) for z in (-IN_EIGHT, 0.0, IN_EIGHT))
    how = "better" if middle >= 0 else "worse"
    return say(f"{abs(middle):.0f} % {how} ({low:.0f} to {high:.0f} %, give or take luck)")


def _says(judged: Sequence[Sequence[Judged]]) -> Text:
    """The score card in a few sentences: each figure with what luck alone could make of it."""
    if not judged:
        return say("No pour has been looked at yet, so nothing can be scored.")
    pours = len(judged)
    if pours < LEAST_POURS:
        return say("Only ", pours, " ", "pour" if pours == 1 else "pours", " so far: too few to tell luck from skill.")
    rule = _better([[j.clock - j.rule for j in pour] for pour in judged])
    claims = _better([[j.clock - j.claims for j in pour] for pour in judged])
    held, samples = luck_of([[_part_inside(j, 0.8) for j in pour] for pour in judged])
    off = held - 0.8
    why = (
        "which luck explains"
        if abs(off) <= IN_EIGHT * samples
        else "too seldom"
        if off < 0
        else "more often than it should"
    )
    closer = sum(sum(j.clock - j.rule for j in pour) > 0 for pour in judged)
    return say(
        "Forecasts were closer than the rule of thumb in ",
        closer,
        " of ",
        pours,
        " pours: ",
        rule,
        "; against the suppliers' claims alone ",
        claims,
        f". The 80 % span held {100 * held:.0f} % of the time, ",
        why,
        ".",
    )
