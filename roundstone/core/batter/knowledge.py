"""What is believed of every batter: a joint Gaussian over named coefficients, and what none of them explains."""

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import log

import numpy as np

from ..shelf import Fragrance, Others, parents
from . import prior
from .cooling import Array
from .heard import hear
from .lane import FIXED_COLUMNS, THRESHOLD_COLUMNS, jump_column, scent_column, scent_columns

NOISE = tuple(prior.NOISE[s] for s in prior.THRESHOLDS)


@dataclass(frozen=True)
class Noise:
    """What no coefficient explains: sd of a batch's and of a portion's own ln-rate, and of each ln-threshold."""

    batch: float = prior.BATCH_SD
    portion: float = prior.PORTION_SD
    stages: tuple[float, ...] = NOISE


@dataclass(frozen=True)
class Knowledge:
    """A joint Gaussian over named coefficients: `mean` (n), `cov` (n × n); `pours` it was learned from."""

    names: tuple[str, ...]
    mean: Array
    cov: Array
    pours: int = 0
    noise: Noise = Noise()

    @cached_property
    def column(self) -> dict[str, int]:
        return {name: i for i, name in enumerate(self.names)}

    def sd(self, name: str) -> float:
        return float(np.sqrt(self.cov[self.column[name], self.column[name]]))

    def value(self, name: str) -> float:
        return float(self.mean[self.column[name]])

    def part(self, names: Sequence[str]) -> tuple[Array, Array]:
        """Mean and covariance of some coefficients, in the order asked for."""
        i = [self.column[n] for n in names]
        return self.mean[i], self.cov[np.ix_(i, i)]


NOBODY: Mapping[str, Others] = {}


def trade_knowledge(
    fragrances: Iterable[Fragrance],
    noise: Noise = Noise(),
    others: Mapping[str, Others] = NOBODY,
    claimed: Callable[[Fragrance], tuple[float, float]] = prior.fragrance_prior,
) -> Knowledge:
    """What is believed with an empty log: trade experience, each fragrance's claim (its ln-rate at CLAIM_LOAD and the
    sd of that, by `claimed`), and what `others` saw of it.

    A new bottle, lot or supplier that `inherits` is believed to be its elder, give or take INHERITED_SD, a blend to be
    as its parts, give or take BLEND_SD: what is learned of either then moves both.
    """
    scents = sorted(fragrances, key=lambda f: f.id)
    names = (*FIXED_COLUMNS, *scent_columns(f.id for f in scents))
    claims = [claimed(f) for f in scents]
    mean = [
        *(log(prior.THRESHOLD_MINUTES[s]) for s in prior.THRESHOLDS),
        *(f.mean for f in prior.FACTORS.values()),
        prior.TEMPERATURE,
        prior.HAND,
        prior.STICK,
        *(m / prior.CLAIM_LOAD for m, _ in claims),
        *(0.0 for _ in scents),
    ]
    sd = [
        *(prior.THRESHOLD_OWN_SD for _ in prior.THRESHOLDS),
        *(f.sd for f in prior.FACTORS.values()),
        prior.TEMPERATURE_SD,
        prior.HAND_SD,
        prior.STICK_SD,
        *(s / prior.CLAIM_LOAD for _, s in claims),
        *(prior.jump_sd(f) / prior.CLAIM_LOAD for f in scents),
    ]
    cov = np.diag(np.square(sd))
    n = len(THRESHOLD_COLUMNS)
    cov[:n, :n] += prior.THRESHOLD_SHIFT_SD**2
    means = np.array(mean)
    for column_of in (scent_column, jump_column):
        inherit(means, cov, {f.id: names.index(column_of(f.id)) for f in scents}, scents, prior.CLAIM_LOAD)
    hear_all(means, cov, names, [f.id for f in scents], others)
    return Knowledge(names, means, cov, noise=noise)


def hear_all(mean: Array, cov: Array, names: Sequence[str], of: Iterable[str], others: Mapping[str, Others]) -> None:
    """Believe what others saw of these fragrances, in place."""
    for i in of:
        speed = others[i].speed if i in others else None
        if speed is not None:
            hear(mean, cov, names.index(scent_column(i)), names.index(jump_column(i)), speed)


def doubted(knowledge: Knowledge) -> Knowledge:
    """The same with the doubt about the clock itself, which no pour takes away: what a forecast is made from."""
    cov = knowledge.cov.copy()
    at = [knowledge.column[c] for c in THRESHOLD_COLUMNS]
    cov[np.ix_(at, at)] += prior.FLOOR_SHIFT_SD**2 + prior.FLOOR_OWN_SD**2 * np.eye(len(at))
    warm = knowledge.column["E"]
    cov[warm, warm] += prior.FLOOR_TEMPERATURE_SD**2
    return replace(knowledge, cov=cov)


def inherit(
    mean: Array,
    cov: Array,
    place: Mapping[str, int],
    fragrances: Iterable[Fragrance],
    scale: float = 1.0,
    only: Collection[str] | None = None,
) -> None:
    """Believe blends to be as their parts, and other bottles as their elders, in place: what is learned of one moves
    the other. `place` is each fragrance's column, their own doubt is divided by `scale`; all of them, or `only` some.
    """
    for heir, of in parents({f.id: f for f in fragrances}):
        if only is not None and heir.id not in only:
            continue
        i, j, w = place[heir.id], [place[p] for p in of], np.array(list(of.values()))
        row = w @ cov[j, :]
        mean[i] = w @ mean[j]
        cov[i, :], cov[:, i] = row, row
        own = prior.BLEND_SD if heir.parts and not heir.bottled else prior.INHERITED_SD
        cov[i, i] = w @ row[j] + (own / scale) ** 2


def extended(
    knowledge: Knowledge, trade: Knowledge, fragrances: Iterable[Fragrance], others: Mapping[str, Others] = NOBODY
) -> Knowledge:
    """What was learned, with what `trade` believes of fragrances that came to the shelf since; those gone stay out.

    A new blend, or another bottle, is believed to be as what was learned of its parts, or of its elder, and as `others`
    saw it.
    """
    new = [n for n in trade.names if n not in knowledge.column]
    if not new and knowledge.names == trade.names:
        return knowledge
    old = [n for n in trade.names if n in knowledge.column]
    names = (*old, *new)
    mean, cov = np.empty(len(names)), np.zeros((len(names), len(names)))
    (mean[: len(old)], cov[: len(old), : len(old)]), at = knowledge.part(old), len(old)
    mean[at:], cov[at:, at:] = trade.part(new)
    scents = list(fragrances)
    fresh = {f.id for f in scents if scent_column(f.id) in new}
    for column_of in (scent_column, jump_column):
        place = {f.id: names.index(column_of(f.id)) for f in scents}
        inherit(mean, cov, place, scents, prior.CLAIM_LOAD, fresh)
    heirs = {f.id for f, _ in parents({f.id: f for f in scents})}
    hear_all(mean, cov, names, sorted(fresh & heirs), others)
    order = [names.index(n) for n in trade.names]
    return replace(knowledge, names=trade.names, mean=mean[order], cov=cov[np.ix_(order, order)])


def batch_sd(knowledge: Knowledge, measured: bool) -> float:
    """Sd of the batch's own ln-rate, with what an unmeasured temperature adds."""
    degrees = prior.MEASURED_CELSIUS_SD if measured else prior.STATED_CELSIUS_SD
    return float(np.hypot(knowledge.noise.batch, knowledge.value("E") * degrees / 10))
