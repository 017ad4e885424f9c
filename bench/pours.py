"""Long logs for the benchmarks."""

import dataclasses

import numpy as np

from roundstone.core.batter import Knowledge, trade_knowledge
from roundstone.core.pour import replay
from roundstone.core.schedule import Schedule, build_schedule
from roundstone.core.shelf import Claim, Family, Fragrance
from roundstone.standins.batter import SimulatedMaker, temperament
from tests.samples import SHELF, TRADE, recipe, weighed


def many_courses(count: int, ingredients: int) -> tuple[Knowledge, dict[str, Schedule]]:
    """Pours of a maker with a long shelf: every one of `ingredients` fragrances is poured in turn."""
    rng = np.random.Generator(np.random.PCG64(4))
    shelf_scents = [
        Fragrance(id=f"f{n}", name=f"Bench {n}", family=Family.OTHER, claim=list(Claim)[n % 7])
        for n in range(ingredients)
    ]
    trade = trade_knowledge(shelf_scents)
    maker = SimulatedMaker(temperament(TRADE, rng, {}), SHELF, rng)
    of, sheet = recipe(), weighed(recipe())
    kinds = [build_schedule(of, sheet, TRADE, SHELF, replay(maker.pour(of, sheet)), 20.0) for _ in range(40)]

    def with_scent(schedule: Schedule, scent: str) -> Schedule:
        lanes = tuple(
            dataclasses.replace(one, added=dict.fromkeys([scent], next(iter(one.added.values()))) if one.added else {})
            for one in schedule.seen
        )
        return dataclasses.replace(schedule, seen=lanes, lanes=lanes[:-1])

    return trade, {str(n): with_scent(kinds[n % 40], f"f{n % ingredients}") for n in range(count)}
