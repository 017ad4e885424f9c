"""Signs that could be turned without any other test noticing: each is held by a property or an outside check here."""

import re
import unittest
from dataclasses import replace
from typing import Any

import numpy as np

from roundstone.core.advise import advise, pace
from roundstone.core.batter import Cooling, Knowledge
from roundstone.core.forecast import SEIZES_WITHIN, Hazard, Job, Projection, explain, hazards, project, scout
from roundstone.core.logbook import Past, read
from roundstone.core.pour import Event
from roundstone.core.recipe import Box, ByMoulds, Design, Dose, LiquidUse, Portion, Recipe, Scent, Wrap
from roundstone.core.simulate import Utility
from tests.core.test_hazards import SMOOTH, flag, poured
from tests.samples import SHELF, TRADE, TWO, job, knows, plain, quick_pour, recipe, seen, weighed


def projected(
    of: Recipe, events: list[Event] | None = None, now: float = 0.0, knowledge: Knowledge = TRADE
) -> Projection:
    return project(job(of), knows(knowledge), 3, events=events or [], now=now)


def noisier(**noise: Any) -> Knowledge:
    return replace(TRADE, noise=replace(TRADE.noise, **noise))


def odds_of(of: Recipe, record: object = None) -> dict[str, Hazard]:
    read_of = read(SHELF, []) if record is None else record
    projection = project(Job(of, read_of.shelf, weighed(of)), read_of.light.knows(Utility()), 2)  # type: ignore[attr-defined]
    schedule, draws = projection.schedule, projection.draws
    found = hazards(projection.job, projection.knows, schedule, draws, projection.samples)
    return {h.key: h for h in found}


def told_in(lower: tuple[object, ...], words: str) -> float:
    """The odds a way to lower them is told to leave."""
    return next(float(found[1]) / 100 for one in lower if (found := re.match(rf"{words}: (\d+) %", plain(one))))


class Warmth(unittest.TestCase):
    def test_a_portion_cools_with_its_own_mass_from_the_split_on(self) -> None:
        """Newton's law with each portion's grams, as if it had been poured at the split at the pot's temperature."""
        cup = (Portion(name="Base", share=0.95, scent=1.0), Portion(name="Cup", share=0.05, scent=0.0))
        of = recipe(design=Design(portions=cup, technique="drop-swirl"), pour_celsius=45.0, room_celsius=18.0)
        sheet, schedule = weighed(of), projected(of, quick_pour()[:2], 2.0).schedule
        base, small = (lane.temperature for lane in schedule.lanes)
        self.assertAlmostEqual(float(base(1.4)), float(small(1.4)))
        for portion, path in zip(sheet.portions, (base, small), strict=True):
            alone = Cooling(float(path(1.5)), 18.0, portion.batter)
            self.assertAlmostEqual(float(path(21.5)), float(alone.at(20.0)), places=6)
        self.assertGreater(float(base(21.5)), float(small(21.5)) + 1)


class Noise(unittest.TestCase):
    def test_the_more_portions_differ_the_less_a_scout_cup_tells(self) -> None:
        """A cup is a portion of its own: what it has of its own luck hides what it shares."""
        of = recipe(scents=(Scent(fragrance="unknown", load=0.03),))
        told = []
        for portion in (0.02, 0.1, 0.3, 0.6, 3.0):
            knowledge = noisier(portion=portion)
            tries = {t.key: t for t in scout(projected(of, knowledge=knowledge)).tries}
            told.append(tries["cup"].information if "cup" in tries else 0.0)
        self.assertEqual(told, sorted(told, reverse=True))
        self.assertEqual(told[-1], 0.0, "not worth naming where portions differ twentyfold")

    def test_the_batchs_own_luck_is_no_reason(self) -> None:
        """It is the same luck in both batters that are compared, however large it is."""
        of = recipe(pour_celsius=30.0)
        spreads = []
        for batch in (0.05, 0.8):
            knowledge = noisier(batch=batch)
            schedule = projected(of, knowledge=knowledge).schedule
            told = explain(job(of), knows(knowledge, trade=knowledge), schedule, 1)
            spreads.append([told.spread, *(r.spread for r in told.reasons)])
        np.testing.assert_allclose(spreads[0], spreads[1], rtol=1e-6)


class Seizing(unittest.TestCase):
    def test_a_fragrance_never_poured_is_told_higher_than_the_clock_has_it(self) -> None:
        of = recipe(scents=(Scent(fragrance="strong", load=0.03),))
        projection = project(job(of), knows(), 2)
        since = projection.draws.crossing(0, 4.0) - max(m for m, _ in projection.schedule.lanes[0].added.values())
        by_clock = float(np.mean(since < SEIZES_WITHIN))
        told = odds_of(of)["seizing"].odds
        self.assertTrue(0.02 < by_clock < 0.9, by_clock)
        self.assertAlmostEqual(told / (1 - told), 1.5 * by_clock / (1 - by_clock), delta=0.02)

    def test_where_nothing_is_scented_nothing_seizes(self) -> None:
        bare = tuple(p.model_copy(update={"scent": 0.0}) for p in TWO)
        for of in (recipe(scents=()), recipe(design=Design(portions=bare, technique="drop-swirl"))):
            self.assertNotIn("seizing", odds_of(of))

    def test_cooler_and_less_of_it_lower_the_odds(self) -> None:
        hazard = odds_of(recipe(scents=(Scent(fragrance="strong", load=0.03),), pour_celsius=34.0))["seizing"]
        for words in ("5 °C cooler", "1 % less of it"):
            self.assertLess(told_in(hazard.lower, words), hazard.odds)


class Pace(unittest.TestCase):
    def why(self, events: list[Event], now: float, **changes: object) -> tuple[float, str]:
        of = recipe(**changes)
        projection = projected(of, events, now)
        return pace(projection)[0], str(advise(projection).detail)

    def test_faster_is_said_of_what_came_sooner_and_slower_of_what_came_later(self) -> None:
        fast, said = self.why(quick_pour()[:7], 4.9)
        self.assertGreater(fast, 1.35)
        self.assertRegex(said, "faster than forecast|as fast as forecast")
        # Forty minutes after the split both portions are still at emulsion.
        idle = [*quick_pour()[:3], seen(40, "emulsion", "Base"), seen(40, "emulsion", "Bone")]
        slow, said = self.why(idle, 40.5)
        self.assertLess(slow, 1)
        self.assertIn("slower than forecast", said)
        self.assertNotIn("fast", said)

    def test_nothing_seen_is_neither(self) -> None:
        for fragrance in ("slows", "strong"):
            speed, said = self.why([], 0.0, scents=(Scent(fragrance=fragrance, load=0.03),))
            self.assertEqual(speed, 1.0)
            self.assertNotRegex(said, "faster|slower")


class WhatSpeedsWhat(unittest.TestCase):
    """What goes into one portion moves that portion, from when it is in."""

    def mediums(self, *additives: Dose, **changes: object) -> tuple[float, list[float]]:
        forecast = project(job(recipe(scents=(), additives=additives, **changes)), knows(), 3).forecast
        return forecast.emulsion.q50, [lane.stages[1].time.q50 for lane in forecast.lanes]

    def test_an_additive_in_one_portion_moves_that_portion_alone(self) -> None:
        emulsion, plain_ = self.mediums()
        then, own = self.mediums(Dose(additive="ethanol", amount=15.0, into=("Base",)))
        self.assertAlmostEqual(then, emulsion, places=6)
        self.assertLess(own[0], 0.85 * plain_[0])
        self.assertAlmostEqual(own[1], plain_[1], delta=0.0015, msg="told to a thousandth of a minute")
        then, all_of = self.mediums(Dose(additive="ethanol", amount=15.0))
        self.assertAlmostEqual(then, emulsion, delta=0.01, msg="it goes in at emulsion")
        self.assertTrue(all(a < 0.85 * b for a, b in zip(all_of, plain_, strict=True)))
        # The same on each portion by itself is the same on all of them, from the split on.
        _, each = self.mediums(*(Dose(additive="ethanol", amount=15.0, into=(p.name,)) for p in TWO))
        self.assertTrue(all(a <= b * 1.0001 < 1.15 * a for a, b in zip(all_of, each, strict=True)), (all_of, each))

    def test_ricing_counts_a_portions_own_dose(self) -> None:
        def odds(load: float, scent: float) -> float:
            portions = (TWO[0].model_copy(update={"scent": scent}), TWO[1])
            of = recipe(
                scents=(Scent(fragrance="none", load=load),), design=Design(portions=portions, technique="drop-swirl")
            )
            return odds_of(of)["ricing"].odds

        self.assertAlmostEqual(odds(0.03, 3.0), odds(0.09, 1.0))
        self.assertGreater(odds(0.03, 3.0), 2 * odds(0.03, 1.0))

    def test_the_fat_of_milk_hastens_nothing(self) -> None:
        """Cream brings eight times the fat of goat milk and less of its sugar and protein: it hastens less."""
        _, water = self.mediums()
        _, goat = self.mediums(liquids=(LiquidUse(liquid="goat-milk", share=0.5, goes="pot"),))
        _, cream = self.mediums(liquids=(LiquidUse(liquid="cream", share=0.5, goes="pot"),))
        self.assertTrue(goat[0] < cream[0] < water[0], (goat, cream, water))


class HeatInPractice(unittest.TestCase):
    """Common practice: plain loaves sit in warm ovens and towels daily; sugar, milk and big wrapped blocks crack."""

    LOAF, BLOCK = Box(length=22, width=8, fill=6.5), Box(length=30, width=20, fill=14)

    def loaf(self, wrap: Wrap, box: Box = LOAF, **changes: object) -> Recipe:
        design = Design(portions=TWO, technique="drop-swirl", wrap=wrap)
        plain = {"scents": (), "size": ByMoulds(moulds=(box,)), "design": design, "pour_celsius": 36.0}
        return recipe(**plain | changes)

    def test_rarely_and_often(self) -> None:
        for wrap in ("oven", "insulated", "covered", "open"):
            with self.subTest(plain=wrap):
                self.assertLess(odds_of(self.loaf(wrap))["overheating"].odds, 0.15)
        often = {
            "honey": self.loaf("insulated", additives=(Dose(additive="honey", amount=30),), pour_celsius=43.0),
            "milk": self.loaf("oven", liquids=(LiquidUse(liquid="goat-milk", share=1.0),), pour_celsius=43.0),
            "beer": self.loaf("oven", liquids=(LiquidUse(liquid="beer", share=1.0),), pour_celsius=43.0),
            "block": self.loaf("insulated", self.BLOCK, pour_celsius=45.0),
        }
        for name, of in often.items():
            with self.subTest(often=name):
                self.assertGreater(odds_of(of)["overheating"].odds, 0.3)

    def test_what_would_lower_it_keeps_the_fragrances_pace(self) -> None:
        """Uncovered is told as what the uncovered recipe itself comes to."""
        scents = (Scent(fragrance="strong", load=0.05),)
        wrapped, bare = (
            odds_of(self.loaf(wrap, scents=scents, additives=(Dose(additive="honey", amount=25),)))["overheating"]
            for wrap in ("insulated", "open")
        )
        self.assertAlmostEqual(told_in(wrapped.lower, "leave it uncovered"), bare.odds, delta=0.011)

    def test_own_answers_move_it(self) -> None:
        of = self.loaf("insulated", additives=(Dose(additive="honey", amount=20),))
        cracked = [Past(f"c{n}", of, poured(flag("overheating"))) for n in range(8)]
        smooth = [Past(f"s{n}", of, poured(SMOOTH)) for n in range(8)]
        before = odds_of(of)["overheating"].odds
        self.assertGreater(odds_of(of, read(SHELF, cracked))["overheating"].odds, before + 0.05)
        self.assertLess(odds_of(of, read(SHELF, smooth))["overheating"].odds, before - 0.02)


if __name__ == "__main__":
    unittest.main()
