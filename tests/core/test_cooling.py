"""Jug and pot: readings, the time both are ready, and the temperature when they are put together."""

import unittest
from typing import Any

import numpy as np

from roundstone.core.heat import (
    COOLING_SD,
    READING_SD,
    START_SD,
    Meeting,
    Reading,
    combined,
    jug_curve,
    meet,
    pot_curve,
)
from roundstone.core.values import Span

BAND = Span(low=32.0, high=40.0)
POT = pot_curve(61, 21, 900)
JUG = jug_curve(86, 21, 420)


def meeting(gap: float = 6.0, after: float = 0.0, pot: tuple[Reading, ...] = ()) -> Meeting:
    return meet(JUG, POT, BAND, gap, (420, 900), (), pot, after)


class Combining(unittest.TestCase):
    def test_common_practice_mixtures(self) -> None:
        """1 kg fats at 40 and 0.4 kg lye at 35 give about 38; 85 °C lye on 22 °C oils 48; both from the heat tables."""
        self.assertAlmostEqual(combined(1000, 40, 400, 35)[0], 37.9, delta=0.3)
        self.assertAlmostEqual(combined(1000, 22, 400, 85)[0], 48, delta=1)

    def test_hard_fats_cool_it_and_some_stay(self) -> None:
        hard = ((0.36, 26.0, 37.0),)
        warm, solid = combined(1000, 22, 400, 85, hard)
        self.assertLess(warm, 42)
        self.assertTrue(0 <= solid < 0.36)
        self.assertEqual(combined(1000, 50, 400, 50, hard)[1], 0.0)

    def test_lies_between_the_two_and_grows_with_either(self) -> None:
        hard = ((0.3, 30.0, 45.0),)
        last = 0.0
        for lye_at in range(20, 95, 5):
            celsius, _ = combined(1000, 35, 400, lye_at, hard)
            self.assertTrue(min(35, lye_at) - 1e-6 <= celsius <= max(35, lye_at) + 1e-6)
            self.assertGreaterEqual(celsius, last)
            last = celsius


class Meetings(unittest.TestCase):
    def test_a_vessel_is_ready_only_within_the_band(self) -> None:
        """One that starts below it and cools is never ready; one above it is, from when it comes down to it."""
        cold = meet(jug_curve(30, 21, 420), POT, BAND, 6, (420, 900)).jug
        self.assertIsNone(cold.ready)
        hot = meeting().jug
        assert hot.ready is not None
        begun, ended = (int(m // hot.every) for m in (hot.ready.low, hot.ready.high))
        self.assertTrue(all(BAND.low - 2 <= hot.middle[n] <= BAND.high + 2 for n in range(begun + 1, ended)))

    def test_mixed_at_once_they_miss_each_other_by_about_45_minutes(self) -> None:
        """The offset of the check case is about 45 minutes earlier: common practice with the heat tables."""
        missed = meeting(gap=3.0)
        self.assertIsNone(missed.window)
        assert missed.offset is not None
        self.assertTrue(25 <= missed.offset <= 75, missed.offset)
        self.assertIn("before", missed.message)
        met = meeting(gap=6.0, after=-missed.offset)
        self.assertGreater(met.odds, missed.odds)

    def test_two_readings_narrow_the_window_and_move_it(self) -> None:
        slow = tuple(Reading(minute=m, celsius=pot_curve(61, 21, 900, 0.4).at(m)) for m in (10, 30))
        before, after = meeting(gap=100), meeting(gap=100, pot=slow)
        width = [m.pot.high[6] - m.pot.low[6] for m in (before, after)]
        self.assertLess(width[1], 0.5 * width[0])
        assert before.pot.ready is not None and after.pot.ready is not None
        self.assertGreater(after.pot.ready.low, before.pot.ready.low + 5)
        self.assertAlmostEqual(after.pot.middle[3], slow[1].celsius, delta=1.2)

    def test_odds_are_odds_and_a_wide_gap_asks_less(self) -> None:
        odds = [meeting(gap=g, after=-45).odds for g in (3.0, 6.0, 100.0)]
        self.assertEqual(odds, sorted(odds))
        self.assertTrue(all(0 <= o <= 1 + 1e-9 for o in odds))
        cold = meet(JUG, POT, Span(low=10, high=15), 6, (420, 900))
        self.assertIsNone(cold.window, "a room of 21 °C never cools them there")

    def test_odds_against_weighted_draws(self) -> None:
        """The grid by a method that shares nothing with it: 200 000 pairs of curves, weighted by readings."""
        readings = {"jug": ((20, 62.0), (60, 47.0)), "pot": ((25, 50.0),)}
        found = meet(
            JUG,
            POT,
            BAND,
            6.0,
            (420, 900),
            tuple(Reading(minute=m, celsius=c) for m, c in readings["jug"]),
            tuple(Reading(minute=m, celsius=c) for m, c in readings["pot"]),
            -30.0,
        )
        rng = np.random.default_rng(5)
        size = 200_000
        chances, celsius = [], []
        for curve, told, since in ((JUG, readings["jug"], 30.0), (POT, readings["pot"], 0.0)):
            k = curve.k * np.exp(COOLING_SD * rng.standard_normal(size))
            above = np.maximum(curve.start + START_SD * rng.standard_normal(size) - curve.room, 0.1)

            def at(
                minute: float, k: Any = k, above: Any = above, n: float = curve.n, room: float = curve.room
            ) -> np.ndarray:
                cooled: np.ndarray = room + above * (1 + n * k * minute * (above / 25) ** n) ** (-1 / n)
                return cooled

            log = sum(-0.5 * ((c - at(m)) / READING_SD) ** 2 for m, c in told)
            chances.append(np.exp(log - np.max(log)))
            celsius.append(at(found.best + since))
        # The two vessels cool for themselves, so any pairing of their draws is as good.
        pairs = [rng.choice(c, size, p=w / w.sum()) for c, w in zip(celsius, chances, strict=True)]
        together = np.abs(pairs[0] - pairs[1]) <= 6.0
        for vessel in pairs:
            together &= (vessel >= BAND.low) & (vessel <= BAND.high)
        self.assertAlmostEqual(found.odds, float(together.mean()), delta=0.04)
