"""Pooling many evidence files: `python -m bench.pooling [FILES]`, on one process and on a local cluster of Dask.

Time per file is given as a ratio to a floor in numpy, which only adds up as many figures as the files hold; the largest
memory of a process, too. Both pools must be the same."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import resource
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from bench.page import put, table
from roundstone.core.evidence import Cell, Evidence, SpeedSeen, ToldOf, others_of
from roundstone.exchange import evidence_file
from roundstone.exchange.pooling import pooled_folder

NAMES = 400  # fragrances there are; each workshop tells of EACH
EACH = 10


def written(folder: Path, files: int) -> None:
    """Simulated evidence: every fragrance has a truth, every workshop its own share of it and of luck."""
    rng = np.random.default_rng(17)
    truth = rng.normal(0.6, 0.6, NAMES)
    for n in range(files):
        told = []
        for i in rng.choice(NAMES, EACH, replace=False):
            sd = float(rng.uniform(0.15, 0.5))
            mid = float(np.clip(np.exp(truth[i] + rng.normal(0, 0.25) + rng.normal(0, sd)), 0.1, 30))
            low, high = mid * float(np.exp(-1.2816 * sd)), mid * float(np.exp(1.2816 * sd))
            speed = SpeedSeen(times=mid, low=max(low, 0.05), high=min(high, 60.0), pours=4, looks=12)
            cells = (Cell(load="usual", warmth="middle", seen=int(rng.random() < 0.1), asked=4),)
            told.append(ToldOf(name=f"Bench {i}", speed=speed, riced=cells))
        text = evidence_file.write(Evidence(workshop=f"{n:032x}", edition=1, fragrances=tuple(told)))
        (folder / f"{n:07d}.json").write_text(text, encoding="utf-8")


def floor(files: int) -> float:
    """Seconds in which numpy adds up as many figures by fragrance as the files hold."""
    rng = np.random.default_rng(1)
    keys, figures = rng.integers(0, NAMES, files * EACH), rng.random((files * EACH, 3))
    tries = []
    for _ in range(7):
        began = time.perf_counter()
        for column in figures.T:
            np.bincount(keys, column, NAMES)
        tries.append(time.perf_counter() - began)
    return min(tries)


def memory() -> float:
    """Largest memory [MB] of this process so far."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def main() -> int:
    most = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    from dask.distributed import LocalCluster

    rows = []
    for files in (most // 10, most // 3, most):
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            written(folder, files)
            began = time.perf_counter()
            here = pooled_folder(folder).told
            one = time.perf_counter() - began
            held = memory()
            with LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None) as cluster:  # type: ignore[no-untyped-call]
                began = time.perf_counter()
                there = pooled_folder(folder, cluster.scheduler_address).told
                two = time.perf_counter() - began
        if there != here:
            raise SystemExit("the pools differ")
        worst = 0.0
        for key, (_, _, tally) in here.items():
            alone, shared = others_of(tally).speed, others_of(there[key][2]).speed
            if alone is not None and shared is not None:
                worst = max(worst, abs(alone.mean - shared.mean), abs(alone.sd - shared.sd))
        bins = sum(len(t.speed) for _, _, t in here.values())
        base = floor(files)
        rows.append(
            (
                f"{files:,}",
                f"{1000 * one / files:.2f} ms",
                f"{one / base:,.0f}",
                f"{1000 * two / files:.2f} ms",
                f"{two / base:,.0f}",
                f"{held:.0f} MB",
                f"{bins:,}",
                f"{worst:.0e}",
            )
        )
        print(rows[-1], flush=True)
    heads = (
        "files",
        "one process, a file",
        "to numpy",
        "two workers, a file",
        "to numpy",
        "memory",
        "bins",
        "pools differ by",
    )
    if most >= 100_000:
        put("pooling", table(heads, rows), "scale.md")
    return 0


if __name__ == "__main__":
    sys.exit(main())
