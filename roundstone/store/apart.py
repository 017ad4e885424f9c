"""Slow reckoning in a process of its own, so that no request waits for it: `python -m roundstone.store.apart`.

It reads the data file, tells its progress a line at a time, and its answer as JSON in the last line.
"""

import json
import os
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

NICE = 10  # how much it steps back behind everything else


def ask(work: str, path: Path, progress: Callable[[float], None]) -> dict[str, Any]:
    """The answer to `taught`, `saw`, `noise` or `card` for a data file; RuntimeError says why there is none."""
    line = [sys.executable, "-m", __name__, work, str(path)]
    env = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
    root = Path(__file__).parents[2]
    with subprocess.Popen(line, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, cwd=root, env=env) as child:
        assert child.stdout is not None and child.stderr is not None
        last = ""
        for last in child.stdout:
            if last[:1].isdigit():
                progress(float(last))
        why = child.stderr.read()
    if child.returncode != 0 or not last.startswith("{"):
        raise RuntimeError(why.strip().splitlines()[-1] if why.strip() else f"ended with {child.returncode}")
    answer: dict[str, Any] = json.loads(last)
    return answer


def tell(line: str) -> None:
    """One line to the process that asked, at once."""
    sys.stdout.write(f"{line}\n")
    sys.stdout.flush()


def main(work: str, path: Path) -> int:
    os.nice(NICE)
    from ..core.logbook import saw, score, tune
    from .learned import Learned
    from .workshop import Workshop

    workshop = Workshop(path)
    try:
        stamp, record = Learned(workshop).read()
        answer: dict[str, Any] = {"stamp": stamp}
        if work == "taught":
            answer["taught"] = record.packed()
        elif work == "saw":
            answer["saw"] = {i: told.model_dump(mode="json") for i, told in saw(record).items()}
        elif work == "card":
            answer["card"] = score(record, lambda share: tell(f"{share:.3f}")).model_dump(mode="json")
        else:
            noise = tune(record.trade, record.schedules, lambda share: tell(f"{share:.3f}"))
            answer |= {"batch": noise.batch, "portion": noise.portion, "stages": noise.stages}
            answer["pours"] = record.knowledge.pours
        tell(json.dumps(answer))
    finally:
        workshop.close()
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1], Path(sys.argv[2])))
