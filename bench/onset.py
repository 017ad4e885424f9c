"""Strong and seizing claims, in worlds where a fragrance comes on at once, in a while, or slowly.

`python -m bench.onset` writes the table of docs/model.md. Makers of `bench.world` pour fragrances of which a supplier
says "strong" or "may seize"; after 0 and 5 pours each pours six more, which are forecast by what was done alone, and
held against when each scented portion truly came to light, medium and thick. The rule of thumb is the score card's."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial
from math import log

import numpy as np
from scipy.stats import norm

from bench.page import put, table
from bench.spans import JUDGED, learned, maker, one_pour, told_what_was_done
from bench.world import Pour
from roundstone.core.batter import Array, Knowledge, prior
from roundstone.core.forecast import SEIZES_WITHIN
from roundstone.core.logbook.scorecard import RULE_CLAIM, RULE_SD
from roundstone.core.recipe import Recipe
from tests.samples import SHELF

STRONG = ("strong", "seizes")
ONSETS, COUNTS = (0.0, 0.7, 2.0), (0, 5)
MAKERS = 40
NEAR, FLOOR = 0.15, 0.005  # of ln minutes: what counts as right; the least chance that is scored
THICK = 2


@dataclass(frozen=True)
class Crossing:
    """One crossing: whether the 80 % span held it, and log scores of the clock and of the rule of thumb."""

    held: bool
    clock: float
    rule: float


@dataclass(frozen=True)
class Seizing:
    """Of a scented portion: odds of thick within two minutes of its fragrance, as told, and whether it was."""

    claim: str
    told: float
    was: bool


def scored(chance: float) -> float:
    return log(max(chance, FLOOR))


def judged(
    rng: np.random.Generator, knowledge: Knowledge, of: Recipe, pour: Pour
) -> tuple[list[Crossing], list[Seizing]]:
    """Every scented portion of a pour."""
    told = told_what_was_done(rng, knowledge, of, pour)
    claim = of.scents[0].fragrance
    warm = 2 ** ((of.pour_celsius - prior.REFERENCE_CELSIUS) / 10) * RULE_CLAIM[SHELF.fragrances[claim].claim]
    crossings, seizings = [], []
    for i, (lane, when) in enumerate(zip(told.schedule.lanes, pour.crossed(), strict=True)):
        if not lane.added:
            continue
        scented = min(m for m, _ in lane.added.values())
        for s, stage in enumerate(prior.THRESHOLDS[:3]):
            draws: Array = told.draws.crossing(i, s + 2.0) - lane.origin
            since = max(when[s] - lane.origin, 0.05)
            usual = prior.THRESHOLD_MINUTES[stage] / warm
            ends = norm.cdf((log(since) + np.array([-NEAR, NEAR]) - log(usual)) / RULE_SD)
            near = np.abs(np.log(np.maximum(draws, 0.05)) - log(since)) < NEAR
            low, high = np.quantile(draws, [0.1, 0.9])
            crossings.append(
                Crossing(bool(low <= since <= high), scored(float(near.mean())), scored(float(ends[1] - ends[0])))
            )
        thick: Array = told.draws.crossing(i, 4.0)
        odds = float(np.mean(thick - scented < SEIZES_WITHIN))
        seizings.append(Seizing(claim, odds, when[THICK] - scented < SEIZES_WITHIN))
    return crossings, seizings


def one(seed: int, onset: float, count: int) -> tuple[list[Crossing], list[Seizing]]:
    rng = np.random.Generator(np.random.PCG64(9000 * count + seed))
    of_maker = maker(rng, onset)
    poured = [one_pour(rng, of_maker, "changes", n, STRONG) for n in range(count + JUDGED)]
    knowledge = learned(poured[:count], "changes")
    found = [judged(rng, knowledge, of, pour) for of, pour in poured[count:]]
    return [c for cs, _ in found for c in cs], [s for _, ss in found for s in ss]


def told_and_was(seizings: Sequence[Seizing], claim: str) -> str:
    its = [s for s in seizings if s.claim == claim]
    return f"{np.mean([s.told for s in its]):.2f} / {np.mean([s.was for s in its]):.2f}"


def main() -> int:
    makers = max(int(MAKERS * (float(sys.argv[1]) if len(sys.argv) > 1 else 1.0)), 2)
    rows: list[Sequence[str]] = []
    with ProcessPoolExecutor(2) as workers:
        for onset in ONSETS:
            for count in COUNTS:
                found = list(workers.map(partial(one, onset=onset, count=count), range(makers)))
                crossings = [c for cs, _ in found for c in cs]
                seizings = [s for _, ss in found for s in ss]
                held = [float(np.mean([c.held for c in cs])) for cs, _ in found if cs]
                clock, rule = (float(np.mean([getattr(c, k) for c in crossings])) for k in ("clock", "rule"))
                brier = float(np.mean([(s.told - s.was) ** 2 for s in seizings]))
                constant = float(np.var([s.was for s in seizings]))
                rows.append(
                    [
                        f"{onset:g}",
                        str(count),
                        f"{np.mean(held):.2f} ± {np.std(held) / len(held) ** 0.5:.2f}",
                        f"{clock:.2f} / {rule:.2f}",
                        told_and_was(seizings, "strong"),
                        told_and_was(seizings, "seizes"),
                        f"{brier - constant:+.3f}",
                    ]
                )
                print(*rows[-1], sep="  ", flush=True)
    heads = (
        "comes on in, min",
        "pours",
        "80 % held",
        "log score: clock / rule",
        "strong: seizing told / was",
        "seizes: told / was",
        "Brier less a constant's",
    )
    if len(sys.argv) < 2:
        put("onset", table(heads, rows))
    return 0


if __name__ == "__main__":
    sys.exit(main())
