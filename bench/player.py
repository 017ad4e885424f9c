"""A random player of pours: `python -m bench.player [N] [--from SEED]` prints every breach with its seed.

What must hold whatever is tapped is in `tests/player.py`; the check plays a few of the same pours.
"""

import argparse

from roundstone.core.forecast import unlearned
from tests.player import played
from tests.samples import SHELF, recipe


def main() -> int:
    asked = argparse.ArgumentParser(prog="python -m bench.player", description=__doc__)
    asked.add_argument("many", nargs="?", type=int, default=200)
    asked.add_argument("--from", dest="first", type=int, default=0)
    options = asked.parse_args()
    knows, breaches = unlearned(SHELF), 0
    for seed in range(options.first, options.first + options.many):
        found = played(recipe(), SHELF, knows, seed)
        breaches += len(found)
        print(*found, sep="\n", end="\n" if found else "", flush=True)
    print(f"{options.many} pours, {breaches} breaches")
    return 1 if breaches else 0


if __name__ == "__main__":
    raise SystemExit(main())
