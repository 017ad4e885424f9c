"""The simulated maker taps only what a real one could, and the batter does what its hidden truth says."""

import unittest

import numpy as np

from roundstone.core.batter import scent_column
from roundstone.core.logbook import learn
from roundstone.core.pour import ScentIn, StageSeen, check, replay
from roundstone.core.recipe import Scent
from roundstone.core.schedule import build_schedule
from roundstone.core.shelf import STAGES
from roundstone.standins.batter import SimulatedMaker, temperament
from tests.samples import SHELF, TRADE, recipe, weighed


def maker(seed: int, **hidden: float) -> SimulatedMaker:
    rng = np.random.Generator(np.random.PCG64(seed))
    effects = {scent_column(k): v for k, v in hidden.items()}
    return SimulatedMaker(temperament(TRADE, rng, effects), SHELF, rng)


class Simulated(unittest.TestCase):
    def test_every_tap_follows_the_rules_without_being_sure(self) -> None:
        of, sheet = recipe(), weighed(recipe())
        for seed in range(25):
            events = maker(seed).pour(of, sheet)
            for i, event in enumerate(events):
                check(event, events[:i], of, SHELF)
            self.assertIsNotNone(replay(events).ended)

    def test_stages_of_a_portion_never_go_back(self) -> None:
        for seed in range(15):
            seen: dict[str | None, int] = {}
            for event in maker(seed).pour(recipe(), weighed(recipe())):
                if isinstance(event, StageSeen):
                    level = STAGES.index(event.stage)
                    self.assertGreaterEqual(level, seen.get(event.portion, 0))
                    seen[event.portion] = level

    def test_a_wild_scent_is_seen_to_be_wild(self) -> None:
        """With the hidden effect at its claim's two ends the scented portion is seen further on, or less far."""
        of, sheet = recipe(), weighed(recipe())

        def levels(effect: float) -> float:
            final = [replay(maker(s, moderate=effect).pour(of, sheet)).level("Base") for s in range(20)]
            return float(np.mean(final))

        self.assertGreater(levels(0.8), levels(-0.1) + 0.5)

    def test_the_same_seed_pours_the_same(self) -> None:
        first, second = (maker(4).pour(recipe(), weighed(recipe())) for _ in range(2))
        self.assertEqual(first, second)

    def test_an_open_pour_is_cut_off(self) -> None:
        events = maker(3).pour(recipe(), weighed(recipe()), until=3.0, finished=False)
        self.assertIsNone(replay(events).ended)
        self.assertTrue(all(e.minute <= 3.2 for e in events))

    def test_a_blend_teaches_through_its_parts(self) -> None:
        """Only blends are poured: the sum of their effects is learned well, each part less so, and they trade off."""
        blend = recipe(scents=(Scent(fragrance="slight", load=0.02), Scent(fragrance="moderate", load=0.02)))
        sheet = weighed(blend)
        simulated = maker(8, slight=0.20, moderate=0.35)
        schedules = []
        for _ in range(20):
            events = simulated.pour(blend, sheet)
            self.assertTrue(any(isinstance(e, ScentIn) for e in events))
            state = replay(events)
            schedules.append(build_schedule(blend, sheet, TRADE, SHELF, state, state.ended or 0.0))
        learned = learn(TRADE, schedules)
        mean, cov = learned.part([scent_column("slight"), scent_column("moderate")])
        together = float(np.sqrt(cov.sum()))
        self.assertLess(abs(float(mean.sum()) - 0.55), 3 * together)
        self.assertLess(cov[0, 1], 0, "more of one would mean less of the other")
        self.assertLess(together, float(np.sqrt(cov[0, 0] + cov[1, 1])))
