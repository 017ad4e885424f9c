"""What all pours taught: maximum a posteriori with a Laplace approximation, batch and portion effects included.

The objective is the sum over pours of their looks' log-likelihood plus Gaussian priors on every coefficient
and effect. Pours are taken in chunks; inside a chunk only the columns that occur in it are laid out, and its
batch and portion effects are eliminated by a Schur complement, so the cost grows with pours, not with the shelf.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from . import prior
from .batter import FIXED_COLUMNS, Array, Lane, scent_column
from .clock import NOISE, Knowledge, batch_sd
from .course import Course
from .likelihood import LARGEST_STEP, Looks, Term

CHUNK = 25  # pours laid out together: fewer wastes calls, more wastes zeros
ENOUGH = 1e-8  # promised gain in log posterior below which Newton stops


@dataclass
class _Chunk:
    """Some pours' looks over the `shared` coefficients they use, followed by their own effects."""

    looks: Looks
    shared: Array
    precision: Array
    effects: Array

    def value(self, theta: Array, effects: Array) -> float:
        params = np.concatenate([theta[self.shared], effects])
        return self.looks.value(params) - 0.5 * float(effects @ (self.precision * effects))

    def eliminate(self, theta: Array) -> "_Eliminated":
        """Expand at `theta` and solve the effects out of the quadratic model."""
        value, gradient, h = self.looks.expand(np.concatenate([theta[self.shared], self.effects]))
        n = len(self.shared)
        value -= 0.5 * float(self.effects @ (self.precision * self.effects))
        own_gradient = gradient[n:] - self.precision * self.effects
        own = h[n:, n:] + np.diag(self.precision)
        solved = np.linalg.solve(own, np.column_stack([h[n:, :n], own_gradient]))
        return _Eliminated(
            value,
            gradient[:n],
            own_gradient,
            gradient[:n] - h[:n, n:] @ solved[:, -1],
            h[:n, :n] - h[:n, n:] @ solved[:, :-1],
            solved,
        )


@dataclass(frozen=True)
class _Eliminated:
    value: float
    gradient: Array
    own_gradient: Array
    reduced_gradient: Array
    information: Array
    solved: Array

    def effects_step(self, theta_step: Array) -> Array:
        return self.solved[:, -1] - self.solved[:, :-1] @ theta_step


def _chunk(courses: Sequence[Course], knowledge: Knowledge) -> _Chunk:
    lanes: list[Lane] = []
    terms: list[Term] = []
    precision: dict[str, float] = {}
    for i, course in enumerate(courses):
        used = sorted({t.lane for t in course.terms})
        base = len(lanes)
        lanes += [replace(course.seen[j], batch=f"{i}") for j in used]
        terms += [Term(base + used.index(t.lane), t.stage, t.after, t.by) for t in course.terms]
        for lane in lanes[base:]:
            precision[lane.batch_effect] = batch_sd(knowledge, course.measured) ** -2
            if lane.split is not None:
                precision[lane.portion_effect] = prior.PORTION_SD**-2
    names = [*FIXED_COLUMNS, *(scent_column(s) for s in sorted({s for lane in lanes for s in lane.added}))]
    columns = {n: i for i, n in enumerate([*names, *precision])}
    return _Chunk(
        looks=Looks.of(lanes, terms, columns, NOISE),
        shared=np.array([knowledge.column[n] for n in names]),
        precision=np.array(list(precision.values())),
        effects=np.zeros(len(precision)),
    )


def learn(prior_knowledge: Knowledge, courses: Sequence[Course], start: Knowledge | None = None) -> Knowledge:
    """Knowledge after these finished pours; `start` (an earlier answer) only saves time.

    Pours without a single look teach nothing and are passed over.
    """
    told = [c for c in courses if c.terms]
    chunks = [_chunk(told[i : i + CHUNK], prior_knowledge) for i in range(0, len(told), CHUNK)]
    precision = np.linalg.inv(prior_knowledge.cov)
    theta = prior_knowledge.mean.copy()
    if start is not None:
        shared = [n for n in start.names if n in prior_knowledge.column]
        theta[[prior_knowledge.column[n] for n in shared]] = start.part(shared)[0]

    def penalty(at: Array) -> float:
        away = at - prior_knowledge.mean
        return -0.5 * float(away @ precision @ away)

    for _ in range(60):
        parts = [c.eliminate(theta) for c in chunks]
        pull = -precision @ (theta - prior_knowledge.mean)
        information, gradient, slope = precision.copy(), pull.copy(), pull.copy()
        for chunk, part in zip(chunks, parts, strict=True):
            information[np.ix_(chunk.shared, chunk.shared)] += part.information
            gradient[chunk.shared] += part.reduced_gradient
            slope[chunk.shared] += part.gradient
        step = np.linalg.solve(information, gradient)
        moves = [p.effects_step(step[c.shared]) for c, p in zip(chunks, parts, strict=True)]
        longest = max(float(np.max(np.abs(m))) for m in [step, *moves])
        scale = min(1.0, LARGEST_STEP / max(longest, 1e-12))
        promise = float(slope @ step) + sum(float(p.own_gradient @ m) for p, m in zip(parts, moves, strict=True))
        if promise < ENOUGH:
            break
        value = penalty(theta) + sum(p.value for p in parts)
        while scale > 1e-6:
            tried = penalty(theta + scale * step)
            tried += sum(
                c.value(theta + scale * step, c.effects + scale * m) for c, m in zip(chunks, moves, strict=True)
            )
            if tried >= value + 1e-4 * scale * promise:
                break
            scale /= 2
        theta = theta + scale * step
        for chunk, move in zip(chunks, moves, strict=True):
            chunk.effects = chunk.effects + scale * move

    cov = np.linalg.inv(information)
    return Knowledge(prior_knowledge.names, theta, (cov + cov.T) / 2, pours=len(told))
