"""Do the forecast's spans hold, and is it worth learning? `python -m bench.coverage` writes the table of docs/model.md.

Makers are simulated with a hidden temperament drawn from the prior; after 0, 5, 20 and 100 pours each pours three
more, which are judged by what was learned until then. One more row has a truth the clock's beliefs are wrong about.
"""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import sys
from dataclasses import replace
from math import exp, log

import numpy as np

from bench.page import put, table
from roundstone.core.batter import THRESHOLD_COLUMNS, Knowledge, Noise, infer
from roundstone.core.logbook import Judged, Logged, Past, inside, judge, learn, mean_scores, read
from roundstone.core.recipe import Scent
from roundstone.standins.batter import SimulatedMaker, temperament
from tests.samples import SHELF, TRADE, recipe, weighed

JUDGED = 3
SCENTS = ("none", "slight", "moderate", "strong", "unknown")


def wrong(truth: Knowledge) -> Knowledge:
    """A truth the prior does not expect: tripling per ten degrees, heavy hands, and restless batches."""
    mean = truth.mean.copy()
    for name, value in (("E", log(3)), ("hand", log(4))):
        mean[truth.column[name]] = value
    return replace(truth, mean=mean, noise=Noise(batch=0.6, portion=0.3))


def pours(maker: SimulatedMaker, rng: np.random.Generator, count: int) -> list[Past]:
    out = []
    for n in range(count):
        scent = Scent(fragrance=str(rng.choice(SCENTS)), load=float(rng.uniform(0.02, 0.04)))
        of = recipe(scents=(scent,), pour_celsius=float(rng.integers(26, 42)))
        out.append(Past(str(n), of, maker.pour(of, weighed(of))))
    return out


def span_ratio(knowledge: Knowledge, logged: Logged) -> float:
    """End over beginning of the 80 % span of the scented portion's age at medium, before any look."""
    lane = next((x for x in logged.schedule.lanes if x.added), logged.schedule.lanes[0])
    belief = infer(knowledge, [lane], (), logged.schedule.measured)
    row = -lane.rows(belief.column)[-1]
    row[belief.column[THRESHOLD_COLUMNS[1]]] = 1.0
    variance = float(row @ belief.cov @ row) + knowledge.noise.stages[1] ** 2
    return exp(2 * 1.2815515655 * variance**0.5)


def measure(count: int, makers: int, misled: bool = False) -> tuple[list[Judged], list[float]]:
    judged: list[Judged] = []
    ratios: list[float] = []
    for seed in range(makers):
        rng = np.random.Generator(np.random.PCG64(1000 * count + seed))
        truth = temperament(TRADE, rng, {})
        maker = SimulatedMaker(wrong(truth) if misled else truth, SHELF, rng)
        record = read(SHELF, pours(maker, rng, count + JUDGED))
        known = learn(record.trade, [p.schedule for p in record.logged[:count]])
        for logged in record.logged[count:]:
            judged += judge(logged, known, record.trade, SHELF)
            ratios.append(span_ratio(known, logged))
    return judged, ratios


def row(name: str, judged: list[Judged], ratios: list[float]) -> list[str]:
    scores = mean_scores(judged)
    held = " / ".join(f"{inside(judged, s) or 0:.2f}".lstrip("0") for s in (0.5, 0.8, 0.95))
    ratio = float(np.median(ratios))
    found = [name, held, f"{scores.clock:.2f} / {scores.claims:.2f} / {scores.rule:.2f}", f"{ratio:.1f}"]
    print(*found, sep="  ", flush=True)
    return found


def main() -> int:
    heads = ("pours learned from", "50 / 80 / 95 % held", "log score a look: clock / claims / rule", "80 % end ÷ start")
    rows = [row(str(count), *measure(count, makers)) for count, makers in ((0, 60), (5, 60), (20, 40), (100, 16))]
    rows.append(row("20, truth unlike the prior", *measure(20, 40, misled=True)))
    put("coverage", table(heads, rows))
    return 0


if __name__ == "__main__":
    sys.exit(main())
