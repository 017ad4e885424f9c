"""Pooling: a sum over files. What each workshop told falls into narrow bins, and bins are added; so a pool is the same
in whatever order, on however many machines, and as large as its bins, not as its files."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from hashlib import sha256
from math import exp, log, sqrt

import numpy as np
from numpy.typing import NDArray
from scipy.special import gammaln, xlog1py, xlogy

from ..shelf import Counted, Fragrance, Normal, Others, Reviews
from ..values import Id
from .meta import contaminated
from .told import LOADS, MOST_MEMBERS, WARMTHS, Cell, Evidence, Key, Pool, PoolOf, ToldOf, key_of

EIGHT_IN_TEN = 2.5631031  # sds of a normal from one end of its middle 80 % to the other
STEP, SD_STEP = 0.02, 0.1  # of ln times, and of the ln of its sd: narrower than any workshop knows them [chosen]
LEAST_SD = 0.10  # of ln times: no workshop knows it closer, whatever it says [chosen]
MOST_OF_ONE = 10  # pours of one workshop that are counted of what goes wrong [chosen]
RICES_APART = 0.5  # sd of the logit of ricing between workshops [chosen]
RICES_WARM, RICES_LOADED = 0.05, 0.4  # logit of ricing per °C above 37, per % above 3 [chosen]
WRONG = 0.10  # share of workshops whose counts say nothing [chosen]
COUNTS = ("riced", "seized", "separated", "discoloured", "held")
# What a review says of how many times as soon, as ln, and how little one is worth [chosen].
REVIEW = {"calm": 0.1, "faster": 0.9, "riced": 0.6, "seized": 2.0}
REVIEW_SD, REVIEWS_SD = 1.0, 0.4  # of one review; of however many, which may all be of one kind of maker
MOST_REVIEWS = 8  # that are counted as pours [chosen]
GRID = np.arange(-8.0, 4.0, 0.02)


@dataclass(frozen=True)
class Tally:
    """What some workshops told of one fragrance. `speed` counts them by bin of ln times and of ln sd, `riced` by grains
    seen, asked and bin of the logit that load and warmth add; `counts` are pours (seen, asked), each workshop's
    capped."""

    workshops: int = 0
    pours: int = 0
    speed: Counter[tuple[int, int]] = field(default_factory=Counter)
    riced: Counter[tuple[int, int, int]] = field(default_factory=Counter)
    counts: Mapping[str, tuple[int, int]] = field(default_factory=dict)

    def __add__(self, other: "Tally") -> "Tally":
        return total((self, other))


def total(tallies: Iterable[Tally]) -> Tally:
    """Tallies added up."""
    workshops = pours = 0
    speed: Counter[tuple[int, int]] = Counter()
    riced: Counter[tuple[int, int, int]] = Counter()
    counts = dict.fromkeys(COUNTS, (0, 0))
    for t in tallies:
        workshops, pours = workshops + t.workshops, pours + t.pours
        speed.update(t.speed)
        riced.update(t.riced)
        counts = {k: _both(n, t.counts.get(k, (0, 0))) for k, n in counts.items()}
    return Tally(workshops, pours, speed, riced, counts)


def _both(one: tuple[int, int], other: tuple[int, int]) -> tuple[int, int]:
    return one[0] + other[0], one[1] + other[1]


def _capped(seen: int, asked: int) -> tuple[int, int]:
    """Of one workshop's pours, as many as are counted, with as large a share of them seen."""
    return (seen, asked) if asked <= MOST_OF_ONE else (round(seen * MOST_OF_ONE / asked), MOST_OF_ONE)


def counted(told: ToldOf, what: str) -> Counted:
    """Pours of one workshop in which something was seen, at whatever dose and warmth, of those asked about."""
    of: Counted | Sequence[Cell] = getattr(told, what)
    if isinstance(of, Counted):
        return of
    return Counted(seen=sum(c.seen for c in of), asked=sum(c.asked for c in of))


def _harder(cells: Iterable[Cell]) -> float:
    """The logit that the loads and temperatures of some cells add, in the mean of what was asked."""
    of = [(c.asked, RICES_LOADED * (LOADS[c.load][1] - 3) + RICES_WARM * (WARMTHS[c.warmth][1] - 37)) for c in cells]
    asked = sum(n for n, _ in of)
    return sum(n * x for n, x in of) / asked if asked else 0.0


def tally_of(told: ToldOf) -> Tally:
    """What one workshop told of a fragrance, in bins."""
    speed: Counter[tuple[int, int]] = Counter()
    if told.speed is not None:
        sd = max(log(told.speed.high / told.speed.low) / EIGHT_IN_TEN, LEAST_SD)
        speed[round(log(told.speed.times) / STEP), round(log(sd) / SD_STEP)] = 1
    of = {what: counted(told, what) for what in COUNTS}
    counts = {what: _capped(x.seen, x.asked) for what, x in of.items()}
    riced: Counter[tuple[int, int, int]] = Counter()
    if counts["riced"][1]:
        riced[*counts["riced"], round(_harder(told.riced) / STEP)] = 1
    pours = max(told.speed.pours if told.speed else 0, of["riced"].asked, of["seized"].asked)
    return Tally(1, pours, speed, riced, counts)


def told_by(file: Evidence | Pool) -> dict[Key, Tally]:
    """What a file tells of each fragrance in it."""
    if isinstance(file, Evidence):
        return {f.key: tally_of(f) for f in file.fragrances}
    return {f.key: _unpacked(f) for f in file.fragrances}


def packed(name: str, code: str, tally: Tally) -> PoolOf:
    """A tally as a file holds it."""
    return PoolOf(
        name=name,
        code=code,
        workshops=tally.workshops,
        pours=tally.pours,
        speed=tuple((y, s, n) for (y, s), n in sorted(tally.speed.items())),
        riced=tuple((seen, asked, x, n) for (seen, asked, x), n in sorted(tally.riced.items())),
        counts=dict(tally.counts),
    )


def _unpacked(of: PoolOf) -> Tally:
    return Tally(
        of.workshops,
        of.pours,
        Counter({(y, s): n for y, s, n in of.speed}),
        Counter({(min(seen, asked), asked, x): n for seen, asked, x, n in of.riced}),
        {k: (min(of.counts.get(k, (0, 0))), of.counts.get(k, (0, 0))[1]) for k in COUNTS},
    )


Named = tuple[str, str, Tally]  # a fragrance's name and code as first told, and what was told of it


def pooled_names(files: Iterable[Evidence | Pool]) -> dict[Key, Named]:
    """Everything some files tell, by fragrance, each file of a workshop that stands in no other; a name is as it stands
    first in the alphabet, so that the order of the files does not matter."""
    names: dict[Key, tuple[str, str]] = {}
    tallies: dict[Key, list[Tally]] = {}
    for file in files:
        told = told_by(file)
        for f in file.fragrances:
            names[f.key] = min(names.get(f.key, (f.name, f.code)), (f.name, f.code))
            tallies.setdefault(f.key, []).append(told[f.key])
    return {key: (*name, total(tallies[key])) for key, name in names.items()}


def merged(one: dict[Key, Named], other: Mapping[Key, Named]) -> dict[Key, Named]:
    """Two pools as one, in the place of the first."""
    for key, (name, code, tally) in other.items():
        if key in one:
            was = one[key]
            one[key] = (*min(was[:2], (name, code)), was[2] + tally)
        else:
            one[key] = (name, code, tally)
    return one


def pool_of(told: Mapping[Key, Named], members: Iterable[str] = ()) -> Pool:
    """A pool as a file holds it; `members` are who is in it."""
    named = sorted(set(members))
    rows = tuple(packed(*told[key]) for key in sorted(told))
    made = sha256("\n".join(r.model_dump_json() for r in rows).encode()).hexdigest()[:32]
    return Pool(made=made, fragrances=rows, members=tuple(named) if len(named) <= MOST_MEMBERS else ())


def reviewed(reviews: Reviews) -> tuple[float, float] | None:
    """What counted reviews say of the ln of how many times as soon, and its sd; None of none.

    >>> [round(x, 2) for x in reviewed(Reviews(calm=14, riced=2))]
    [0.16, 0.47]
    """
    if not reviews.all:
        return None
    said = {"calm": reviews.calm, "faster": reviews.faster, "riced": reviews.riced, "seized": reviews.seized}
    mean = sum(n * REVIEW[k] for k, n in said.items()) / reviews.all
    return mean, sqrt(REVIEWS_SD**2 + REVIEW_SD**2 / reviews.all)


def others_of(tally: Tally, reviews: Reviews = Reviews()) -> Others:  # noqa: B008
    """What a fragrance does by what others saw: pooled, with how far workshops are apart in it."""
    rows = [(STEP * y, exp(SD_STEP * s) ** 2, n) for (y, s), n in sorted(tally.speed.items())]
    by_review = reviewed(reviews)
    if by_review is not None:
        rows.append((by_review[0], by_review[1] ** 2, 1))
    speed, apart = None, 0.0
    if rows:
        y, v, n = (np.array(x, dtype=float) for x in zip(*rows, strict=True))
        found = contaminated(y, v, n)
        apart = sqrt(found.tau2)
        speed = Normal(mean=found.mean, sd=sqrt(found.tau2 + found.se**2))
    told = {k: Counted(seen=seen, asked=asked) for k, (seen, asked) in tally.counts.items()}
    return Others(
        workshops=tally.workshops,
        pours=tally.pours,
        reviews=reviews.all,
        speed=speed,
        apart=apart,
        rices=_rices(tally, reviews),
        **told,
    )


def _binomial(seen: int, asked: int, p: NDArray[np.float64]) -> NDArray[np.float64]:
    """How likely it is that so many of those asked said yes, where each does so with probability p."""
    ways = gammaln(asked + 1) - gammaln(seen + 1) - gammaln(asked - seen + 1)
    like: NDArray[np.float64] = np.exp(ways + xlogy(seen, p) + xlog1py(asked - seen, -p))
    return like


def _rices(tally: Tally, reviews: Reviews) -> Normal | None:
    """Logit of grains at 3 % and 37 °C in a workshop that did not tell yet; None where nobody was asked."""
    rows = sorted(tally.riced.items())
    if reviews.all:
        seen, asked = _capped(reviews.riced, reviews.all)
        part = min(1.0, MOST_REVIEWS / asked)
        rows.append(((round(seen * part), round(asked * part), 0), 1))
    if not rows:
        return None
    value = -0.5 * ((GRID + 3.0) / 3.0) ** 2  # one in twenty, give or take anything: weak beside any answer [chosen]
    for (seen, asked, harder), n in rows:
        p = 1 / (1 + np.exp(-(GRID + STEP * harder)))
        value = value + n * np.log((1 - WRONG) * _binomial(seen, asked, p) + WRONG / (asked + 1))
    weight = np.exp(value - value.max())
    weight /= weight.sum()
    mean = float(weight @ GRID)
    return Normal(mean=mean, sd=sqrt(float(weight @ (GRID - mean) ** 2) + RICES_APART**2))


def heard(fragrances: Iterable[Fragrance], files: Iterable[Evidence | Pool]) -> dict[Id, Others]:
    """By id, what others saw of fragrances: of those names alone that the maker said are the same, and of reviews."""
    known = list(fragrances)
    keys = {key_of(n.name, n.code) for f in known for n in f.known_as}
    told: dict[Key, list[Tally]] = {}
    for file in files if keys else ():
        for key, tally in told_by(file).items():
            if key in keys:
                told.setdefault(key, []).append(tally)
    out = {}
    for f in known:
        of = [t for k in dict.fromkeys(key_of(n.name, n.code) for n in f.known_as) for t in told.get(k, ())]
        if of or f.reviews.all:
            out[f.id] = others_of(total(of), f.reviews)
    return out
