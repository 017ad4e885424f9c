"""What all pours taught: maximum a posteriori with a Laplace approximation, batch and portion effects included.

The objective is the sum over pours of their looks' log-likelihood plus Gaussian priors on every coefficient
and effect. Pours are taken in chunks; inside a chunk only the columns that occur in it are laid out, and its
batch and portion effects are eliminated by a Schur complement, so the cost grows with pours, not with the shelf.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import gamma, log

import numpy as np

from ..batter import (
    FIXED_COLUMNS,
    THRESHOLD_COLUMNS,
    Array,
    Knowledge,
    Lane,
    Looks,
    Term,
    batch_sd,
    climb,
    damping,
    doubted,
    prior,
    scent_columns,
)
from ..schedule import Schedule
from .drift import drifting, paced_now

CHUNK = 15  # pours laid out together: fewer wastes calls, more wastes zeros
# Effects have heavy tails, so that one absurd pour does not bend what all others taught: Student's t with so many
# degrees of freedom [C], scaled to hold 80 in 100 within the same span as the normal sd that the noise states.
TAILS = 4.0
SCALED = (1.5332063 / 1.2815516) ** 2  # its 90 % point over the normal's, squared
T_OVER_NORMAL = log(gamma((TAILS + 1) / 2) / gamma(TAILS / 2)) + 0.5 * log(2 * SCALED / TAILS)  # ln of their heights
SILENT = 0.8  # chance that who is pouring and taps nothing looked all the same [C]
ROUNDS, CALM_ROUNDS = 7, 4  # of a fit, and those in which a batch's luck is normal [C]
AS_STRETCHED = 1e-3  # of a prior's sd: stretched by no more than that anew, it is as it was [C]
ENOUGH_MEANWHILE = 1e-3  # as below, before the last climb
ENOUGH = 1e-5  # promised gain in log posterior below which Newton stops: three thousandths of the beliefs' own sd [C]


@dataclass
class _Chunk:
    """Some pours' looks over the `shared` coefficients they use, followed by their own effects."""

    looks: Looks
    shared: Array
    precision: Array
    effects: Array
    names: tuple[tuple[str, str], ...]
    kinds: tuple[str, ...]

    def eliminate(self, theta: Array, effects: Array, tails: bool) -> "_Eliminated":
        """Expand there and solve the effects out of the quadratic model; they are normal, or have heavy `tails`."""
        value, gradient, h = self.looks.expand(np.concatenate([theta[self.shared], effects]))
        n = len(self.shared)
        held = self.precision
        if tails:
            strayed = SCALED * self.precision * effects**2 / TAILS
            value -= 0.5 * (TAILS + 1) * float(np.log1p(strayed).sum())
            # The curvature is that of the parabola that touches the tails from below: never negative.
            held = SCALED * self.precision * (TAILS + 1) / TAILS / (1 + strayed)
        else:
            value -= 0.5 * float(self.precision @ effects**2)
        own_gradient = gradient[n:] - held * effects
        own = h[n:, n:] + np.diag(held)
        solved = np.linalg.solve(own, np.column_stack([h[n:, :n], own_gradient]))
        return _Eliminated(
            effects,
            value,
            gradient[:n],
            own_gradient,
            gradient[:n] - h[:n, n:] @ solved[:, -1],
            h[:n, :n] - h[:n, n:] @ solved[:, :-1],
            solved,
            own,
        )

    def with_noise(self, knowledge: Knowledge) -> "_Chunk":
        """The same pours under another noise; nothing is laid out anew."""
        sigma = np.asarray(knowledge.noise.stages)[self.looks.stage]
        precision = np.array([_precision(knowledge, kind) for kind in self.kinds])
        return replace(self, looks=replace(self.looks, sigma=sigma), precision=precision, effects=self.effects.copy())


@dataclass(frozen=True)
class _Eliminated:
    effects: Array
    value: float
    gradient: Array
    own_gradient: Array
    reduced_gradient: Array
    information: Array
    solved: Array
    own: Array

    @property
    def own_logdet(self) -> float:
        return float(np.linalg.slogdet(self.own)[1])

    def effects_step(self, theta_step: Array) -> Array:
        return self.solved[:, -1] - self.solved[:, :-1] @ theta_step


def _precision(knowledge: Knowledge, kind: str) -> float:
    """Prior precision of an effect: a portion's, or a batch's with its temperature measured or stated.

    Of several batches in one pour, what they have in common and what sets each apart are two effects.
    """
    if kind == "portion":
        return knowledge.noise.portion**-2
    part = {"apart": 1 - prior.BATCHES_ALIKE, "several": prior.BATCHES_ALIKE}.get(kind.rsplit(maxsplit=1)[-1], 1.0)
    return 1 / (part * batch_sd(knowledge, kind.startswith("measured")) ** 2)


def _chunk(schedules: Sequence[tuple[str, Schedule]], knowledge: Knowledge, number: int = 0) -> _Chunk:
    """Pours that follow one another; their pace stands behind the coefficients, but for the first's, which these are
    counted from."""
    lanes: list[Lane] = []
    batches: list[str] = []
    terms: list[Term] = []
    kinds: dict[str, str] = {}
    names: dict[str, tuple[str, str]] = {}
    for i, (pour, schedule) in enumerate(schedules):
        its = [*schedule.terms, *(replace(t, sure=SILENT) for t in schedule.quiet)]
        used = sorted({t.lane for t in its})
        base = len(lanes)
        lanes += [replace(schedule.seen[j]) for j in used]  # copies: what they work out goes when they go
        batches += [f"{i}"] * len(used)
        terms += [replace(t, lane=base + used.index(t.lane)) for t in its]
        for lane in lanes[base:]:
            kinds[f"u{i}"] = "measured" if schedule.measured else "stated"
            names[f"u{i}"] = (pour, "")
            if lane.batch:
                kinds[f"u{i}"] += " of several"
                kinds[f"u{i}@{lane.batch}"] = f"{'measured' if schedule.measured else 'stated'} apart"
                names[f"u{i}@{lane.batch}"] = (pour, f"@{lane.batch}")
            if lane.split is not None:
                kinds[f"u{i}:{lane.name}"] = "portion"
                names[f"u{i}:{lane.name}"] = (pour, lane.name)
    columns = [*FIXED_COLUMNS, *scent_columns(s for lane in lanes for s in lane.added)]
    shared = [knowledge.column[n] for n in columns]
    if number:
        columns.append("pace")
        shared.append(len(knowledge.names) + number - 1)
    return _Chunk(
        looks=Looks.of(lanes, terms, {n: i for i, n in enumerate([*columns, *kinds])}, knowledge.noise.stages, batches),
        shared=np.array(shared),
        precision=np.array([_precision(knowledge, k) for k in kinds.values()]),
        effects=np.zeros(len(kinds)),
        names=tuple(names.values()),
        kinds=tuple(kinds.values()),
    )


@dataclass(frozen=True)
class Fit:
    """Knowledge after some pours, the own ln-rate of each (pour, portion or "" for the batch), and the evidence:
    the log of the probability of all looks, every coefficient and effect integrated out by Laplace's rule. `paces` are
    the ln-rates of the chunks of pours after the first, above that one's, the last give or take `pace_sd`; knowledge is
    of the pace now. `stretched` is by how much the prior sd of each coefficient was widened by what strayed from it.
    """

    knowledge: Knowledge
    effects: Mapping[tuple[str, str], float]
    evidence: float
    paces: tuple[float, ...] = ()
    pace_sd: float = 0.0
    stretched: Array | None = None


def learn(prior_knowledge: Knowledge, schedules: Sequence[Schedule], start: Knowledge | None = None) -> Knowledge:
    """Knowledge after these finished pours, oldest first; `start` (an earlier answer) only saves time."""
    begun = None if start is None else Fit(start, {}, 0.0)
    return fit(prior_knowledge, {str(i): c for i, c in enumerate(schedules)}, begun).knowledge


def fit(prior_knowledge: Knowledge, schedules: Mapping[str, Schedule], start: Fit | None = None) -> Fit:
    """Knowledge after these finished pours (by id, oldest first), at the pace of the last; `start`, an earlier answer,
    only saves time.

    Pours without a single look teach nothing and are passed over.
    """
    return solve(prior_knowledge, lay_out(prior_knowledge, schedules), start)


def lay_out(knowledge: Knowledge, schedules: Mapping[str, Schedule]) -> list[_Chunk]:
    """Pours that say anything, a few at a time; nothing of the noise is in it."""
    told = [(pour, c) for pour, c in schedules.items() if c.terms]
    return [_chunk(told[i : i + CHUNK], knowledge, i // CHUNK) for i in range(0, len(told), CHUNK)]


@dataclass(frozen=True)
class _Slope:
    """The log posterior of all pours at some coefficients and effects, the effects' step eliminated chunk by chunk."""

    mean: Array
    precision: Array
    chunks: Sequence[_Chunk]
    theta: Array
    effects: Sequence[Array]
    tails: bool = True

    @cached_property
    def parts(self) -> list[_Eliminated]:
        return [c.eliminate(self.theta, own, self.tails) for c, own in zip(self.chunks, self.effects, strict=True)]

    @cached_property
    def value(self) -> float:
        away = self.theta - self.mean
        return sum(p.value for p in self.parts) - 0.5 * float(away @ self.precision @ away)

    @cached_property
    def information(self) -> Array:
        """Of the coefficients, all effects eliminated."""
        information = self.precision.copy()
        for chunk, part in zip(self.chunks, self.parts, strict=True):
            information[np.ix_(chunk.shared, chunk.shared)] += part.information
        return information

    @cached_property
    def _step(self) -> tuple[Array, list[Array]]:
        gradient = -self.precision @ (self.theta - self.mean)
        for chunk, part in zip(self.chunks, self.parts, strict=True):
            gradient[chunk.shared] += part.reduced_gradient
        step = np.linalg.solve(self.information, gradient)
        return step, [p.effects_step(step[c.shared]) for c, p in zip(self.chunks, self.parts, strict=True)]

    @cached_property
    def promise(self) -> float:
        step, moves = self._step
        slope = -self.precision @ (self.theta - self.mean)
        for chunk, part in zip(self.chunks, self.parts, strict=True):
            slope[chunk.shared] += part.gradient
        return float(slope @ step) + sum(float(p.own_gradient @ m) for p, m in zip(self.parts, moves, strict=True))

    def ahead(self, scale: float) -> "_Slope":
        step, moves = self._step
        scale *= damping(max(float(np.max(np.abs(m))) for m in [step, *moves]))
        effects = [own + scale * m for own, m in zip(self.effects, moves, strict=True)]
        return _Slope(self.mean, self.precision, self.chunks, self.theta + scale * step, effects, self.tails)


def _climbed(
    mean: Array,
    cov: Array,
    chunks: Sequence[_Chunk],
    theta: Array,
    scents: Array,
    begun: Array | None,
) -> tuple[_Slope, Array]:
    """The mode of all pours, and by how much the prior sd of each coefficient was stretched to reach it.

    What fragrances do has heavy tails too: a normal prior, stretched by how far the mode strays from it, and climbed
    anew (the t as a scale mixture of normals: Lange, Little & Taylor, JASA 84 (1989) 881). They are asked before a
    batch may stray: of two that explain as much, what was done is blamed before luck. The first rounds are of normals
    alone, so that where it started does not matter; they are left out where the stretching has `begun`, from an answer
    to nearly the same pours. A blend, or another bottle, strays with its kin.
    """
    from scipy.sparse.csgraph import connected_components  # slow to import

    effects: Sequence[Array] = [c.effects for c in chunks]
    prior_mean, sd = mean[scents], np.sqrt(np.diag(cov)[scents])
    kin = connected_components(cov[np.ix_(scents, scents)] != 0, directed=False)[1]
    times = np.ones(len(mean)) if begun is None else begun
    found = None
    for tails, rounds in ((False, CALM_ROUNDS), (True, ROUNDS - CALM_ROUNDS)):
        if not tails and begun is not None:
            continue
        for n in range(rounds):
            was, times = times, times.copy()
            if found is not None:
                strayed = np.zeros(len(scents))
                np.maximum.at(strayed, kin, SCALED * ((theta[scents] - prior_mean) / sd) ** 2)
                times[scents] = np.sqrt(np.maximum((TAILS + strayed[kin]) / (SCALED * (TAILS + 1)), 1.0))
            if n and float(np.max(np.abs(times - was))) < AS_STRETCHED:
                break
            found = climb(_Slope(mean, _precision_of(cov, times), chunks, theta, effects, tails), ENOUGH_MEANWHILE)
            theta, effects = found.theta, found.effects
    assert found is not None
    return climb(found, ENOUGH), times


def _precision_of(cov: Array, times: Array) -> Array:
    """Precision of a prior whose sds are so many times as wide."""
    return np.asarray(np.linalg.inv(times[:, None] * cov * times))


def _begun(knowledge: Knowledge, start: Fit | None, size: int) -> Array | None:
    """By how much each prior was stretched in an earlier answer; nothing is stretched of what is new since."""
    if start is None or start.stretched is None:
        return None
    out = np.ones(size)
    before = dict(zip(start.knowledge.names, start.stretched, strict=False))
    out[: len(knowledge.names)] = [before.get(n, 1.0) for n in knowledge.names]
    return out


def solve(
    prior_knowledge: Knowledge, chunks: Sequence[_Chunk], start: Fit | None, stretched: Array | None = None
) -> Fit:
    """The mode of all pours, and what is believed about it; by a prior `stretched` already, where that is known."""
    mean, cov = drifting(prior_knowledge, len(chunks))
    theta = mean.copy()
    if start is not None:
        shared = [n for n in start.knowledge.names if n in prior_knowledge.column]
        theta[[prior_knowledge.column[n] for n in shared]] = start.knowledge.part(shared)[0]
        paces = start.paces[: len(chunks) - 1]
        theta[len(prior_knowledge.names) :][: len(paces)] = paces
        if start.paces:
            theta[[prior_knowledge.column[c] for c in THRESHOLD_COLUMNS]] += start.paces[-1]
        for chunk in chunks:
            chunk.effects = np.array([start.effects.get(n, 0.0) for n in chunk.names])

    if stretched is not None:
        found = climb(_Slope(mean, _precision_of(cov, stretched), chunks, theta, [c.effects for c in chunks]), ENOUGH)
    else:
        scents = np.array([i for n, i in prior_knowledge.column.items() if n.startswith(("e:", "J:"))], dtype=int)
        found, stretched = _climbed(mean, cov, chunks, theta, scents, _begun(prior_knowledge, start, len(mean)))
    information, parts, precision = found.information, found.parts, found.precision

    pours = len({pour for c in chunks for pour, _ in c.names})
    spread = np.linalg.inv(information)
    knowledge = doubted(replace(paced_now(prior_knowledge, found.theta, spread), pours=pours))
    effects = {n: float(u) for c, p in zip(chunks, parts, strict=True) for n, u in zip(c.names, p.effects, strict=True)}
    # Integrating a Gaussian out leaves half the log of prior precision over posterior information.
    evidence = found.value + 0.5 * (np.linalg.slogdet(precision)[1] - np.linalg.slogdet(information)[1])
    for c, p in zip(chunks, parts, strict=True):
        evidence += 0.5 * (float(np.log(c.precision).sum()) - p.own_logdet) + len(c.kinds) * T_OVER_NORMAL
    paces = tuple(found.theta[len(prior_knowledge.names) :].tolist())
    pace_sd = float(np.sqrt(spread[-1, -1])) if paces else 0.0
    return Fit(knowledge, effects, float(evidence), paces, pace_sd, stretched)
