"""Is what other workshops saw worth reading? `python -m bench.evidence [WORLDS]` writes the tables of docs/evidence.md.

Workshops of `bench.world`, whose batter is not the clock's, pour the same bottles: each does the same everywhere, give
or take APART. Their files are what the program itself tells of their logs. Some are careless, two say what is not
so. A workshop that never poured any of them then forecasts its first pours: by the claim alone, and with the files of
others."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import sys
from collections.abc import Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace
from functools import partial
from math import exp, log, pi

import numpy as np

from bench.page import put, table
from bench.spans import SCENTS, Maker, maker, one_pour, told_what_was_done
from roundstone.core.batter import doubted, trade_knowledge
from roundstone.core.evidence import Cell, Evidence, SpeedSeen, ToldOf, heard, others_of, pooled_names
from roundstone.core.forecast import Job, hazards, project
from roundstone.core.logbook import Past, read, saw
from roundstone.core.shelf import Claim, Fragrance, KnownAs, Shelf
from tests.samples import SHELF, UNLEARNED, weighed

WORKSHOPS, POURS, APART = 200, 8, 0.25
COUNTS = (0, 1, 5, 20, 100, 200)
JUDGED, READERS = 6, 12
BOTTLES = SCENTS[1:]
CARELESS, LIE = 0.1, 2  # share whose figures are scattered threefold; workshops that say what is not so
SEIZES = 2.0  # minutes
WRONG = 0.05  # of files that all say the same untruth


@dataclass
class Scores:
    """Of each crossing its log score and whether the 80 % span held it; of each pour odds of seizing, and whether."""

    log: list[float] = field(default_factory=list)
    held: list[bool] = field(default_factory=list)
    odds: list[float] = field(default_factory=list)
    seized: list[bool] = field(default_factory=list)


def _bottles(world: int) -> dict[str, float]:
    """What the bottles of a world truly do: half of them not what is claimed."""
    return maker(np.random.default_rng(90_000 + world)).scents


def _workshop(world: int, n: int) -> Maker:
    rng = np.random.default_rng(1000 * world + n)
    own = maker(rng, onset=float(rng.choice((0.4, 0.8))))
    scents = {c: x + float(rng.normal(0, APART)) for c, x in _bottles(world).items()}
    return replace(own, scents=scents)


def file_of(n: int, world: int) -> Evidence:
    """What workshop `n` tells after POURS pours, by the program's own learning."""
    rng = np.random.default_rng(1000 * world + n)
    if n < LIE:
        told = tuple(_lie(c, 50.0 if n else 0.06) for c in BOTTLES)
    else:
        of_maker = _workshop(world, n)
        poured = [one_pour(rng, of_maker, "changes" if n % 2 else "every", i, BOTTLES) for i in range(POURS)]
        record = read(SHELF, [Past(str(i), of, p.events, "2031-05", p.sheet) for i, (of, p) in enumerate(poured)])
        told = tuple(saw(record).values())
        if rng.random() < CARELESS:
            told = tuple(_scattered(t, float(exp(rng.normal(0, log(3))))) for t in told)
    return Evidence(workshop=f"{n:032x}", edition=1, fragrances=told)


def _lie(claim: str, times: float) -> ToldOf:
    speed = SpeedSeen(times=times, low=0.95 * times, high=1.05 * times, pours=900, looks=9000)
    seen = 900 if times > 1 else 0
    cells = (Cell(load="usual", warmth="middle", seen=seen, asked=900),)
    return ToldOf(name=f"Test {claim}", claim=Claim(claim), speed=speed, riced=cells)


def _scattered(told: ToldOf, by: float) -> ToldOf:
    if told.speed is None:
        return told
    times, low, high = (min(max(x * by, 0.05), 60.0) for x in (told.speed.times, told.speed.low, told.speed.high))
    speed = told.speed.model_copy(update={"times": times, "low": low, "high": high})
    return told.model_copy(update={"speed": speed}) if low < times < high else told


def _shelf(files: Sequence[Evidence]) -> Shelf:
    """The test shelf, whose owner said that others' bottles are these."""
    known: Mapping[str, Fragrance] = {
        i: f.model_copy(update={"known_as": (KnownAs(name=f.name),)}) for i, f in SHELF.fragrances.items()
    }
    return SHELF.model_copy(update={"fragrances": known, "others": heard(known.values(), files)})


def reader(n: int, world: int, files: Sequence[Evidence]) -> Scores:
    """First pours of a workshop that never poured one of them, forecast with these files."""
    rng = np.random.default_rng(500_000 + 1000 * world + n)
    of_maker, shelf = _workshop(world, 5000 + n), _shelf(files)
    knows = replace(UNLEARNED, knowledge=doubted(trade_knowledge(shelf.fragrances.values(), others=shelf.others)))
    out = Scores()
    for i in range(JUDGED):
        of, pour = one_pour(rng, of_maker, "every", i, BOTTLES)
        told = told_what_was_done(np.random.default_rng(i), knows.knowledge, of, pour)
        scented = {e.portion: e.minute for e in pour.events if e.kind == "scent"}
        job = Job(of, shelf, weighed(of))
        plan = project(job, knows, 7)
        odds = {h.key: h.odds for h in hazards(job, knows, plan.schedule, plan.draws, plan.samples)}
        fastest = 1e9
        for portion, lane, when in zip(of.design.portions, told.forecast.lanes, pour.crossed(), strict=True):
            begun = scented.get(portion.name, scented.get(None))
            if not portion.scent or begun is None:
                continue
            fastest = min(fastest, when[2] - begun)
            for stage, minute in zip(lane.stages[:3], when, strict=True):
                q = stage.time
                out.held.append(q.q10 <= minute <= q.q90)
                out.log.append(_score(minute, q.q10, q.q50, q.q90))
        if fastest < 1e9:
            out.odds.append(odds.get("seizing", 0.0))
            out.seized.append(fastest < SEIZES)
    return out


def _score(minute: float, low: float, mid: float, high: float) -> float:
    """Log density of the ln minute by a normal of unlike halves through three quantiles."""
    x, m = log(max(minute, 0.05)), log(max(mid, 0.05))
    down, up = (max(abs(log(max(e, 0.05)) - m) / 1.2816, 0.02) for e in (low, high))
    sd = down if x < m else up
    return max(log(2 / ((down + up) * (2 * pi) ** 0.5)) - 0.5 * ((x - m) / sd) ** 2, -12.0)


def main() -> int:
    worlds = int(sys.argv[1]) if len(sys.argv) > 1 else 3
    of: dict[int, Scores] = {k: Scores() for k in COUNTS}
    moved: list[float] = []
    with ProcessPoolExecutor(2) as workers:
        for world in range(worlds):
            files = list(workers.map(partial(file_of, world=world), range(WORKSHOPS), chunksize=4))
            mixed = [files[i] for i in np.random.default_rng(world).permutation(WORKSHOPS)]
            for k in COUNTS:
                for s in workers.map(partial(reader, world=world, files=mixed[:k]), range(READERS)):
                    for name in ("log", "held", "odds", "seized"):
                        getattr(of[k], name).extend(getattr(s, name))
                print(world, k, row(of[k]), flush=True)
            moved += poisoned(files[LIE:])
    rows = [(str(k), *row(s)) for k, s in of.items()]
    heads = ("files read", "log score of a crossing", "80 % spans that held", "seizing told, was", "its Brier score")
    text = table(heads, rows)
    text += f"\n\nWhere {100 * WRONG:.0f} % of the files all say the same untruth, the one that moves most, a "
    text += f"fragrance's speed moves by {np.mean(moved):.2f} of its own spread in the mean, {max(moved):.2f} at most "
    text += f"({len(moved)} figures). World by world the seeds are 0 to {worlds - 1}."
    print(text)
    if worlds >= 3:
        put("worth", text, "evidence.md")
    return 0


def poisoned(honest: Sequence[Evidence]) -> list[float]:
    """By how much of its own spread each fragrance's speed moves where WRONG of the files say the same untruth: the one
    that moves it most, neither so near that it moves nothing nor so far that nobody believes it."""
    many = round(len(honest) * WRONG / (1 - WRONG))
    before = pooled_names(honest)
    out = dict.fromkeys(before, 0.0)
    for times in np.exp(np.arange(-2.8, 4.0, 0.2)):
        lies = [
            Evidence(workshop=f"{9000 + n:032x}", edition=1, fragrances=tuple(_lie(c, float(times)) for c in BOTTLES))
            for n in range(many)
        ]
        after = pooled_names([*honest, *lies])
        for key, (_, _, tally) in before.items():
            one, two = others_of(tally).speed, others_of(after[key][2]).speed
            if one is not None and two is not None:
                out[key] = max(out[key], abs(two.mean - one.mean) / one.sd)
    return list(out.values())


def row(s: Scores) -> tuple[str, str, str, str]:
    """What a table says of some scores."""
    odds, seized = np.array(s.odds), np.array(s.seized, dtype=float)
    return (
        f"{np.mean(s.log):.2f} ± {np.std(s.log) / len(s.log) ** 0.5:.2f}",
        f"{np.mean(s.held):.2f}",
        f"{odds.mean():.2f}, {seized.mean():.2f}",
        f"{np.mean((odds - seized) ** 2):.3f}",
    )


if __name__ == "__main__":
    sys.exit(main())
