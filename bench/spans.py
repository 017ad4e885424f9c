"""Do the spans hold in a world that is not the model's? `python -m bench.spans` writes the table of docs/model.md.

Makers of `bench.world` pour, and tap in one of three ways; after 0, 5, 20 and 100 pours six more are forecast by what
was done and when, and held against when each portion truly came to light, medium and thick, whether it was tapped or
not."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from math import exp

import numpy as np

from bench.batter import CLAIMED, USUAL, Batter, Temper
from bench.page import put, table
from bench.world import Pour, Rules, Taps
from roundstone.core.batter import Knowledge
from roundstone.core.forecast import Projection, project
from roundstone.core.logbook import Past, learn, read, tune
from roundstone.core.pour import Event
from roundstone.core.recipe import Design, Portion, Recipe, Scent
from tests.samples import SHELF, TRADE, UNLEARNED, job, knows, recipe, weighed

WAYS: tuple[Taps, ...] = ("every", "changes", "seldom")
COUNTS = (0, 5, 20, 100)
JUDGED = 6
SCENTS = ("none", "slight", "moderate", "strong", "unknown")
TECHNIQUES = (("hanger-swirl", 3), ("drop-swirl", 2), ("straight-layers", 2), ("bowl-stripes", 4), ("plain", 1))
NAMES = ("Base", "Ash", "Rust", "Sea")
MAKERS = {0: 60, 5: 60, 20: 40, 100: 24}
IDEA_SD, IDEA_OWN_SD = 0.2, 0.12  # of ln progress: where a maker says that any stage begins, and each by itself
LATE = (0.1, 0.8)  # minutes until a tap, at most: of a quick hand, and of one that taps when the whisk rests


@dataclass(frozen=True)
class Seen:
    """Of each crossing: whether 50 and 80 in 100 spans held it, and the log score of the look at it."""

    fifty: list[bool]
    eighty: list[bool]
    early: list[bool]


@dataclass(frozen=True)
class Maker:
    """What every scent on a shelf truly does, and the maker's own hand, habit and idea of the stages."""

    scents: dict[str, float]
    hand: Temper
    marks: tuple[float, ...]


def maker(rng: np.random.Generator, onset: float = 0.4) -> Maker:
    """One drawn at random, whose fragrances come on in `onset` minutes."""
    scents = {
        c: CLAIMED[c]
        + float(rng.normal(0, 0.8 if rng.random() < 0.2 else 0.3) if c != "unknown" else rng.normal(0, 0.7))
        for c in CLAIMED
    }
    hand = exp(float(rng.normal(np.log(2.3), 0.25)))
    late = float(rng.choice(LATE))
    pace = exp(float(rng.normal(0, 0.15)))
    temper = Temper(pace=pace, scent=0.0, hand=hand, rices=0.02, minutes=1.0, onset=onset, late=late)
    shift = float(rng.normal(0, IDEA_SD))
    marks = [m * exp(shift + float(rng.normal(0, IDEA_OWN_SD))) for m in USUAL]
    return Maker(scents, temper, tuple(np.maximum.accumulate(marks).tolist()))


def one_pour(
    rng: np.random.Generator,
    of_maker: Maker,
    taps: Taps,
    n: int,
    claims: Sequence[str] = SCENTS,
) -> tuple[Recipe, Pour]:
    technique, many = TECHNIQUES[int(rng.integers(len(TECHNIQUES)))]
    claim = str(rng.choice(claims))
    shares = [1.0] if many == 1 else [0.5, *([0.5 / (many - 1)] * (many - 1))]
    portions = tuple(Portion(name=NAMES[i], share=s, scent=float(i != 1)) for i, s in enumerate(shares))
    of = recipe(
        scents=(Scent(fragrance=claim, load=round(float(rng.uniform(0.02, 0.04)), 4)),),
        pour_celsius=float(rng.integers(26, 42)),
        design=Design(portions=portions, technique=technique),
    )
    pace = of_maker.hand.pace * exp(float(np.clip(0.3 * rng.standard_t(4), -1.5, 1.5)) + 0.002 * n)
    temper = replace(of_maker.hand, pace=pace, scent=of_maker.scents[claim], minutes=exp(float(rng.normal(0, 0.2))))
    sheet = weighed(of)
    pot = Batter(temper, of.pour_celsius, of.room_celsius, sheet.total, rng, marks=of_maker.marks)
    pour = Pour(of, sheet, SHELF, temper, Rules(0.0, 1.0, 0.0, rng, False), rng, taps, pot)
    pour.run("never")
    return of, pour


def told_what_was_done(rng: np.random.Generator, knowledge: Knowledge, of: Recipe, pour: Pour) -> Projection:
    """The forecast by what was done alone, not by what was seen."""
    done: list[Event] = [e for e in pour.events if e.kind in ("split", "scent", "work", "pouring", "step", "ended")]
    first = next((e for e in pour.events if e.kind == "seen" and e.stage == "emulsion"), None)
    done = [first, *done] if first is not None else done
    return project(job(of), knows(knowledge), int(rng.integers(1, 10**6)), events=done)


def judged(rng: np.random.Generator, knowledge: Knowledge, of: Recipe, pour: Pour) -> Seen:
    """Such a forecast held against when each stage truly came."""
    told = told_what_was_done(rng, knowledge, of, pour)
    fifty, eighty, early = [], [], []
    for lane, when in zip(told.forecast.lanes, pour.crossed(), strict=True):
        for stage, minute in zip(lane.stages[:3], when, strict=True):
            q = stage.time
            eighty.append(q.q10 <= minute <= q.q90)
            fifty.append(q.q25 <= minute <= q.q75)
            early.append(minute < q.q50)
    return Seen(fifty, eighty, early)


def learned(poured: Sequence[tuple[Recipe, Pour]], taps: Taps) -> Knowledge:
    """What these pours taught one who taps like this."""
    if not poured:
        return UNLEARNED.knowledge
    shelf = SHELF.model_copy(update={"taps": "turns" if taps == "changes" else "looks"})
    record = read(shelf, [Past(str(n), of, pour.events) for n, (of, pour) in enumerate(poured)])
    schedules = {p.pour: p.schedule for p in record.logged}
    noise = tune(record.trade, schedules)
    return learn(replace(TRADE, noise=noise), list(schedules.values()))


def one(seed: int, taps: Taps, count: int) -> Seen:
    rng = np.random.Generator(np.random.PCG64(7000 * count + seed))
    of_maker = maker(rng)
    poured = [one_pour(rng, of_maker, taps, n) for n in range(count + JUDGED)]
    knowledge = learned(poured[:count], taps)
    all_of = [judged(rng, knowledge, of, pour) for of, pour in poured[count:]]
    return Seen(*([x for s in all_of for x in getattr(s, k)] for k in ("fifty", "eighty", "early")))


def main() -> int:
    times = float(sys.argv[1]) if len(sys.argv) > 1 else 1.0
    rows: list[Sequence[str]] = []
    with ProcessPoolExecutor(2) as workers:
        for taps in WAYS:
            cells = [{"every": "every look", "changes": "only what changes", "seldom": "seldom"}[taps]]
            for count in COUNTS:
                found = list(
                    workers.map(partial(one, taps=taps, count=count), range(max(int(MAKERS[count] * times), 2)))
                )
                eighty = float(np.mean([x for s in found for x in s.eighty]))
                fifty = float(np.mean([x for s in found for x in s.fifty]))
                early = float(np.mean([x for s in found for x in s.early]))
                spread = float(np.std([np.mean(s.eighty) for s in found]) / len(found) ** 0.5)
                cells.append(f"{eighty:.2f} ± {spread:.2f} ({fifty:.2f}; {early:.2f})")
                print(cells[0], count, cells[-1], flush=True)
            rows.append(cells)
    if times >= 1:
        put("spans", table(("taps", *(f"{c} pours" for c in COUNTS)), rows))
    return 0


if __name__ == "__main__":
    sys.exit(main())
