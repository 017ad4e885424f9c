"""Is the advice worth following? `python -m bench.advice` writes the table of docs/model.md.

Pours are simulated in a world that is not the model's (`bench.world`) and followed three ways: never changing anything,
doing what is advised, and knowing the batter (the best change of technique, and whether to hold the scent, found by
trying each in the world itself). In some the levers that leave look and scent as planned are pulled before the pour.
"""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial
from time import perf_counter

import numpy as np

from bench.batter import Own, Temper
from bench.page import put, table
from bench.world import RICES, Done, Policy, Pour, Rules, Taps
from roundstone.core.advise import advise
from roundstone.core.batter import factor_row
from roundstone.core.forecast import Job, learn_hazards, levers, project, ricing_odds
from roundstone.core.pour import ScentIn
from roundstone.core.recipe import Design, Portion, Recipe, Scent
from roundstone.core.simulate import begin, play
from tests.samples import SHELF, TRADE, job, knows, next_id, quick_pour, recipe, weighed

POURS = 400
TECHNIQUES = (
    ("hanger-swirl", 3),
    ("hanger-swirl", 5),
    ("drop-swirl", 2),
    ("drop-swirl", 4),
    ("pot-swirl", 2),
    ("jug-swirl", 3),
    ("bowl-stripes", 4),
    ("straight-layers", 3),
    ("diagonal", 2),
    ("fade", 3),
)
CLAIMS = ("none", "slight", "moderate", "moderate", "strong", "strong", "unknown")
# Levers that leave look and scent as they were drawn.
KEEPING = ("cooler", "warmer", "water", "drier", "softer", "hand", "later", "turn", "stick", "order")
MOST_LEVERS = 2
NAMES = ("Base", "Ash", "Rust", "Sea", "Moss")


@dataclass(frozen=True)
class Case:
    """How the world differs from what is believed."""

    name: str
    pace: float = 1.0
    one: float = 1.0
    riced: bool = False
    unlike: bool = True
    own: bool = False
    policies: tuple[Policy, ...] = ("never", "advice")


CASES = (
    Case(
        "the clock's own batter, bands as the table's",
        unlike=False,
        own=True,
        policies=("never", "advice", "levers", "knows"),
    ),
    Case("bands as the table's", unlike=False),
    Case("bands and minutes unlike the table's", policies=("never", "advice", "levers", "knows")),
    Case("three times as fast", pace=3.0, policies=("never", "advice", "levers")),
    Case("a third as fast", pace=1 / 3),
    Case("one portion three times as fast", one=3.0),
    Case("one portion riced", riced=True),
)


def recipe_of(rng: np.random.Generator) -> tuple[Recipe, str]:
    technique, many = TECHNIQUES[int(rng.integers(len(TECHNIQUES)))]
    claim = str(rng.choice(CLAIMS))
    base = 0.5 if many > 1 else 1.0
    shares = [base, *([round((1 - base) / (many - 1), 6)] * (many - 1))]
    shares[-1] += 1 - sum(shares)
    portions = tuple(
        Portion(name=n, share=s, scent=float(rng.random() < 0.8)) for n, s in zip(NAMES, shares, strict=False)
    )
    of = recipe(
        scents=(Scent(fragrance=claim, load=round(float(rng.uniform(0.02, 0.045)), 4)),),
        pour_celsius=float(rng.integers(26, 42)),
        design=Design(portions=portions, technique=technique),
    )
    return of, claim


def with_levers(of: Recipe) -> Recipe:
    """The recipe with the best levers pulled that leave look and scent as they were drawn, while any buys something."""
    for _ in range(MOST_LEVERS):
        told = levers(project(job(of), knows(), 1))
        best = next((x for x in told.levers if x.key in KEEPING), None)
        if best is None:
            break
        of = best.recipe
    return of


def one(seed: int, case: Case) -> dict[str, Done]:
    """The same pour, followed each way."""
    out: dict[str, Done] = {}
    for policy in case.policies:
        rng = np.random.Generator(np.random.PCG64(seed))
        of, claim = recipe_of(rng)
        temper = Temper.drawn(rng, claim, pace=case.pace)
        if case.riced:
            temper.rices = 2.5
        rules_rng = np.random.Generator(np.random.PCG64(seed + 1))
        shift = float(rules_rng.normal(0, 0.2))
        width = float(np.exp(rules_rng.normal(0, 0.25)))
        rules = Rules(shift, width, 0.3 if case.unlike else 0.0, rules_rng, case.unlike)
        of = with_levers(of) if policy == "levers" else of
        # What water and hard fats truly do, which is not what is believed.
        steps, effects = (
            factor_row(weighed(of).factors),
            np.random.Generator(np.random.PCG64(seed + 2)).normal(0.2, 0.2, 2),
        )
        temper.formula = float(effects @ (steps["x:lye"], steps["x:palmitic"]))
        taps: Taps = ("every", "changes", "changes", "seldom")[int(rng.integers(4))]
        if case.own:
            percent = {s.fragrance: 100 * s.load for s in of.scents}
            temper.rices = ricing_odds(percent, of.pour_celsius, weighed(of), learn_hazards(SHELF, [], TRADE)) / RICES
        pot = Own.drawn(of, weighed(of), TRADE, temper, rng) if case.own else None
        pour = Pour(of, weighed(of), SHELF, temper, rules, rng, taps, pot)
        if case.one != 1.0:
            pour.temper = Temper(**vars(temper))
        out[policy] = _with_one(pour, case.one).run(policy, TRADE)
    return out


def _with_one(pour: Pour, faster: float) -> Pour:
    """The pour with its second portion faster by so much, from the split on."""
    if faster == 1.0:
        return pour
    part = pour.pot.part

    def parted(grams: float) -> object:
        cup = part(grams)
        cup.own *= faster if len(pour.lanes) == 0 and abs(grams - pour.sheet.portions[1].batter) < 1e-9 else 1.0
        return cup

    pour.pot.part = parted  # type: ignore[method-assign, assignment]
    return pour


def row(case: Case, found: Sequence[dict[str, Done]]) -> list[str]:
    mean = {p: float(np.mean([f[p].value for f in found])) for p in case.policies}
    worse = float(np.mean([f["advice"].value < f["never"].value - 0.01 for f in found]))
    changed = float(np.mean([any(t in ("switch", "fold", "spare", "skip") for t in f["advice"].told) for f in found]))
    held = float(np.mean(["hold" in f["advice"].told for f in found]))
    levers, knows = (f"{mean[p]:.3f}" if p in mean else "–" for p in ("levers", "knows"))
    cells = [
        case.name,
        f"{mean['never']:.3f}",
        f"{mean['advice']:.3f}",
        levers,
        knows,
        f"{100 * worse:.0f} %",
        f"{100 * changed:.0f} %",
        f"{100 * held:.0f} %",
    ]
    print(*cells, sep="  ", flush=True)
    return cells


def honest(found: Sequence[dict[str, Done]]) -> list[list[str]]:
    """As planned, told and was, of pours in which nothing was changed."""
    out = []
    for moment in ("before the pour", "emulsion", "first pour"):
        pairs = [(f["never"].forecasts[moment], f["never"].drawn) for f in found if moment in f["never"].forecasts]
        told, was = np.array(pairs).T
        brier = float(np.mean((told - was) ** 2))
        order = np.argsort(told)
        low, high = order[: len(order) // 3], order[-len(order) // 3 :]
        out.append([
            moment, f"{told.mean():.2f} / {was.mean():.2f}", f"{brier:.3f}",
            f"{told[low].mean():.2f} / {was[low].mean():.2f}", f"{told[high].mean():.2f} / {was[high].mean():.2f}",
        ])  # fmt: skip
        print(*out[-1], sep="  ", flush=True)
    return out


def speed() -> list[list[str]]:
    """Milliseconds of compute with 6 portions: conditioning, a play of 12 steps and more, and a tap's whole advice."""
    shares = (0.3, 0.14, 0.14, 0.14, 0.14, 0.14)
    names = ("Base", "Bone", "Rust", "Sea", "Moss", "Clay")
    design = Design(
        portions=tuple(Portion(name=n, share=s) for n, s in zip(names, shares, strict=True)), technique="hanger-swirl"
    )
    of = recipe(design=design)
    # All scents are in and none can be held back: so a warning is told, and its fall-back sought.
    poured = quick_pour()[:7]
    rest = [ScentIn(id=next_id(), minute=3.0 + 0.1 * i, portion=n) for i, n in enumerate(names) if i]
    sheet, events = weighed(of), sorted([*poured, *rest], key=lambda e: e.minute)
    told = project(Job(of, SHELF, sheet), knows(), 1, events=events, now=4.9)

    def took(what: object, times: int = 15) -> float:
        assert callable(what)
        spent = []
        for _ in range(times):
            start = perf_counter()
            what()
            spent.append(perf_counter() - start)
        return 1000 * float(np.median(spent))

    def again() -> None:
        project(Job(of, SHELF, sheet), knows(), 1, events=events, now=4.9)

    before = project(Job(of, SHELF, sheet), knows(), 1, events=events[:-1], now=4.8)

    def tap() -> None:
        advise(project(Job(of, SHELF, sheet), knows(), 1, events=events, now=4.9, last=before))

    split = project(Job(of, SHELF, sheet), knows(), 1, events=poured[:2], now=1.6)
    context, ahead = split.context, split.schedule.reconciled.ahead
    state, done = begin(context)
    rows = [
        ("all looks to draws, and the plan's play", took(again), 50),
        (f"one play of {len(ahead)} steps", took(lambda: play(context, state, ahead, done=done)), 25),
        ("every act played, and the advice", took(lambda: advise(told)), 250),
        ("a tap at the bench: its forecast and its advice", took(tap), 100),
        ("all levers before a pour", took(lambda: pull_levers(of)), 250),
    ]  # fmt: skip
    for cells in rows:
        print(*cells, sep="  ", flush=True)
    return [[name, f"{ms:.0f} ms", f"{most} ms"] for name, ms, most in rows]


def pull_levers(of: Recipe) -> None:
    levers(project(job(of), knows(), 1))


def main() -> int:
    pours = int(sys.argv[1]) if len(sys.argv) > 1 else POURS
    rows, told = [], []
    with ProcessPoolExecutor(2) as workers:
        for case in CASES:
            found = list(workers.map(partial(one, case=case), range(pours), chunksize=8))
            rows.append(row(case, found))
            if case.unlike is False or "knows" in case.policies:
                told += [[case.name, *cells] for cells in honest(found)]
    heads = (
        "world", "never change", "as advised", "levers first, then as advised", "knows the batter",
        "worse than never by > .01", "told to change", "told to hold the scent",
    )  # fmt: skip
    if pours >= POURS:
        put("advice", table(heads, rows))
        put("honest", table(("world", "moment", "told / was", "Brier", "lowest third", "highest third"), told))
        put("advice-speed", table(("what", "measured", "to stay under"), speed()))
    return 0


if __name__ == "__main__":
    sys.exit(main())
