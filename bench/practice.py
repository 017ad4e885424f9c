"""What is practice worth, and obeying? `python -m bench.practice` writes the table of docs/model.md.

A scripted maker stands at the practice bench, taps what can be seen, and presses the big key (obeying) or the plan's
own next key (not). The same batters are dealt to both.
"""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from uuid import UUID

import numpy as np

from bench.advice import recipe_of
from bench.page import put, table
from roundstone.core.advise import Advice, advise, bench_now
from roundstone.core.forecast import Job, project
from roundstone.core.pour import Ended, Event, Flagged, StageSeen, Worked, replay
from roundstone.core.recipe import Recipe
from roundstone.core.shelf import STAGES
from roundstone.standins.debrief import Debrief, debrief
from roundstone.standins.practice import TEMPERS, Temper, Truth, at_minute, sights
from tests.samples import SHELF, TRADE, knows, weighed

RUNS = 200
STEPS = 60  # keys at most in one pour
FETCH = 0.15  # minutes between a key and the next thing done


class Scripted:
    """One maker at one practice batter; `obeys` presses what is advised, else the plan's own key."""

    def __init__(self, recipe: Recipe, truth: Truth, rng: np.random.Generator, obeys: bool) -> None:
        self.recipe, self.sheet, self.truth, self.rng, self.obeys = recipe, weighed(recipe), truth, rng, obeys
        self.events: list[Event] = []
        self.now = 0.05
        self.count = 0
        self.standing = ""

    def tap(self, event: Event) -> None:
        self.count += 1
        self.events.append(event.model_copy(update={"id": UUID(int=self.count), "minute": round(self.now, 3)}))
        self.now += 0.02

    def look(self) -> None:
        """Tap every portion in a pot whose stage is another than the one tapped last, and grains once."""
        moment = at_minute(self.truth, self.recipe, self.sheet, SHELF, self.events, self.now)
        state = replay(self.events, self.recipe)
        many = state.split is not None
        for sight in sights(self.truth, moment).seen[: None if many else 1]:
            name = sight.portion if many else None
            base = {"id": UUID(int=1), "minute": self.now}
            lane = [p.name for p in self.recipe.design.portions].index(sight.portion)
            if lane in moment.at.in_mould or sight.stage <= max(state.level(sight.portion), 0 if many else 1):
                continue
            self.tap(StageSeen(**base, portion=name, stage=STAGES[sight.stage]))
            if "grains" in sight.words and not any(f.portion == name for f in state.flags):
                self.tap(Flagged(**base, portion=name, flag="ricing"))

    def told(self) -> tuple[Advice, Sequence[Event], float]:
        found = project(Job(self.recipe, SHELF, self.sheet), knows(), 7, events=self.events, now=self.now)
        said = advise(found, self.standing)
        self.standing = said.standing
        ahead = found.schedule.reconciled.ahead
        minutes = ahead[0].minutes if ahead and ahead[0].do != "combine" else 0.3
        return said, [k.event for k in bench_now(found, said, {}).keys], minutes

    def run(self) -> Debrief:
        for _ in range(STEPS):
            state = replay(self.events, self.recipe)
            if state.emulsion is None:
                self.now = max(self.now, self.truth.emulsion + 0.1)
            self.look()
            said, keys, minutes = self.told()
            going = [e for e in keys if e.kind in ("seen", "split", "scent", "pouring", "step", "ended", "combined")]
            event = keys[0] if self.obeys else (going or keys)[0]
            if said.do in ("gate", "wait") and self.obeys and (said.minutes or 0) > 0.5:
                self.now += min(said.minutes or 1.0, 3.0)
                if self.now < 240:
                    continue
                event = (going or keys)[0]
            if isinstance(event, Worked):
                minutes = event.seconds / 60
            if event.kind not in ("switch", "skip", "fold", "layer"):
                self.now += minutes * float(np.exp(self.rng.normal(0, 0.2))) if event.kind != "pouring" else FETCH
            self.tap(event)
            if isinstance(event, Ended):
                break
        else:
            self.tap(Ended(id=UUID(int=1), minute=self.now))
        return debrief(self.truth, self.recipe, self.sheet, SHELF, self.events, (), "", search=False)


def one(seed: int, temper: Temper) -> tuple[float, float, bool]:
    """What one batter kept when the screen was not obeyed, and when it was, and whether that changed the design."""
    kept = []
    changed = False
    for obeys in (False, True):
        rng = np.random.Generator(np.random.PCG64(seed))
        recipe, _ = recipe_of(rng)
        truth = Truth.dealt(temper, recipe, weighed(recipe), TRADE, seed)
        maker = Scripted(recipe, truth, rng, obeys)
        kept.append(maker.run().kept)
        changed = any(e.kind in ("switch", "skip", "fold", "spare") for e in maker.events)
    return kept[0], kept[1], changed


def main() -> int:
    runs = int(sys.argv[1]) if len(sys.argv) > 1 else RUNS
    each = max(runs // len(TEMPERS), 1)
    rows, every = [], []
    with ProcessPoolExecutor(2) as workers:
        for temper in TEMPERS:
            found = list(workers.map(partial(one, temper=temper), range(100, 100 + each), chunksize=4))
            every += found
            rows.append(cells(temper, found))
            print(*rows[-1], sep="  ", flush=True)
    rows.append(cells("all", every))
    print(*rows[-1], sep="  ", flush=True)
    if runs >= RUNS:
        heads = ("temperament", "runs", "not obeyed", "obeyed", "obeyed worse by > .01", "design changed")
        put("practice", table(heads, rows))
    return 0


def cells(name: str, found: Sequence[tuple[float, float, bool]]) -> list[str]:
    alone, obeyed, changed = (np.array(x, dtype=float) for x in zip(*found, strict=True))
    return [
        name, str(len(found)), f"{alone.mean():.3f}", f"{obeyed.mean():.3f}",
        f"{100 * np.mean(obeyed < alone - 0.01):.0f} %", f"{100 * changed.mean():.0f} %",
    ]  # fmt: skip


if __name__ == "__main__":
    sys.exit(main())
