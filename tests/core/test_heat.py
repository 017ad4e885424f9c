"""Heat of the lye and of two vessels that must meet; the tables are those of the house's heat notes."""

import re
import unittest
from typing import Any

from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy import integrate

from roundstone.core.heat import Lye, MilkInJug, jug_curve, lye_peak, own_solid, plan, pot_curve, sets_at
from roundstone.core.heat.lye import solution_capacity, solution_heat
from roundstone.core.recipe import ByConcentration, FatShare, LiquidUse
from roundstone.core.schedule import ReadyState, meets
from roundstone.core.sheet import weigh
from tests.samples import SHELF, many, plain, recipe, weighed

# Lye %, then (adiabatic, practical) °C without ice, a third and half of the water as ice; 0.4 kg in a plastic jug.
PEAKS = {
    25: ((92, 75), (61, 53), (45, 41)),
    30: ((103, 83), (73, 62), (59, 51)),
    33: ((108, 86), (79, 67), (65, 56)),
    40: ((114, 92), (88, 73), (75, 64)),
    50: ((113, 91), (89, 74), (77, 66)),
}


class Apart(unittest.TestCase):
    """Lye that is cooler than the fats on purpose."""

    @settings(max_examples=60, deadline=None)
    @given(st.sampled_from(["room", "ahead"]), st.floats(15, 50), st.floats(5, 35))
    def test_together_they_make_what_is_wanted_or_it_is_said_that_they_do_not(
        self, stands: str, celsius: float, room: float
    ) -> None:
        """By the sum of their heats, reckoned here anew: fats hold about 2, lye about 3.4 J/gK [house heat notes]."""
        of = recipe(lye_stands=stands, pour_celsius=celsius, room_celsius=room)
        told = plan(of, SHELF, weighed(of).lines)
        assert told.wanted is not None
        self.assertEqual(told.wanted.jug, room)
        self.assertLessEqual(told.wanted.pot, 60.0)
        self.assertTrue(room - 1e-9 <= told.wanted.make <= told.wanted.pot + 1e-9)
        self.assertEqual(abs(told.wanted.make - celsius) > 1.0, "Not " in told.advice, told.advice)
        self.assertNotRegex(str(told.advice), r"Mix the lye about \d{3}")
        self.assertIsNone(plan(of.model_copy(update={"lye_stands": "warm"}), SHELF, weighed(of).lines).wanted)

    def test_each_vessel_is_wanted_in_its_own_band(self) -> None:
        """Lye of the day before is as the room at once; the fats come to theirs."""
        of = recipe(lye_stands="ahead", pour_celsius=35, room_celsius=20)
        sheet, state = weighed(of), ReadyState(melted=0.0)
        found = meets(of, sheet, SHELF, state, 5.0)
        assert found.opens is not None and found.closes is not None and found.jug is not None
        self.assertAlmostEqual(found.jug, 20, delta=2.5)
        self.assertFalse(found.gaps)
        tapped = meets(of, sheet, SHELF, ReadyState(melted=0.0, mixed=4.0), 5.0)
        self.assertEqual(tapped.jug, found.jug, "told to be mixed, it is no hotter")
        wanted = plan(of, SHELF, sheet.lines).wanted
        assert wanted is not None
        self.assertIn(f"fats at {wanted.pot - 5:.0f}", found.wanted)
        waits = meets(of.model_copy(update={"lye_stands": "room"}), sheet, SHELF, state, 5.0)
        self.assertIn("lye is mixed", waits.message)


class Clear(unittest.TestCase):
    def test_every_fat_by_itself_comes_clear_and_can_be_planned(self) -> None:
        """Also where its published curve of solid fat ends before that."""
        for fat in SHELF.fats.values():
            self.assertEqual(own_solid(fat, 100), 0.0, fat.id)
            alone = weigh(recipe(fats=(FatShare(fat=fat.id, share=1),), pour_celsius=15), SHELF).sheet
            if alone is not None:
                of = recipe(fats=(FatShare(fat=fat.id, share=1),), pour_celsius=15)
                self.assertGreater(plan(of, SHELF, alone.lines).peak, 20, fat.id)


class Peaks(unittest.TestCase):
    def test_peaks(self) -> None:
        for percent, row in PEAKS.items():
            naoh = 400 * percent / 100
            for ice, (adiabatic, practical) in zip((0, 1 / 3, 0.5), row, strict=True):
                with self.subTest(percent, ice=ice):
                    water = 400 - naoh
                    found = lye_peak(Lye(naoh=naoh), water * (1 - ice), water * ice, 20, 20)
                    self.assertAlmostEqual(found[0], adiabatic, delta=0.6)
                    self.assertAlmostEqual(found[1], practical, delta=1.6)

    def test_milk_from_warm_to_frozen(self) -> None:
        """139 g NaOH in 322 g milk at 4, -5 and -18 °C."""
        for celsius, expected in ((4, 91), (-5, 33), (-18, 23)):
            self.assertAlmostEqual(
                lye_peak(Lye(naoh=139), 0, 0, 20, 20, [MilkInJug(322, 0.875, celsius)])[0], expected, delta=0.7
            )

    def test_milk_with_nothing_in_it_is_water(self) -> None:
        """One law for all: milk of pure water at the water's temperature changes nothing, frozen it is ice."""
        plain = lye_peak(Lye(naoh=132), 268, 0, 20, 20)
        self.assertAlmostEqual(
            lye_peak(Lye(naoh=132), 168, 0, 20, 20, [MilkInJug(100, 1.0, 20)])[0], plain[0], delta=0.01
        )
        iced = lye_peak(Lye(naoh=132), 168, 100, 20, 20)[0]
        self.assertAlmostEqual(lye_peak(Lye(naoh=132), 168, 0, 20, 20, [MilkInJug(100, 1.0, -18)])[0], iced, delta=1.5)

    def test_more_ice_is_cooler_and_stronger_lye_hotter(self) -> None:
        peaks = [lye_peak(Lye(naoh=132), 268 * (1 - i / 10), 268 * i / 10, 20, 20)[1] for i in range(11)]
        self.assertEqual(peaks, sorted(peaks, reverse=True))
        hot = [lye_peak(Lye(naoh=400 * w), 400 * (1 - w), 0, 20, 20)[1] for w in (0.2, 0.25, 0.3, 0.35, 0.4)]
        self.assertEqual(hot, sorted(hot))


class Solution(unittest.TestCase):
    def test_what_a_mole_sets_free_in_much_water(self) -> None:
        """Enthalpies of solution at infinite dilution, CRC Handbook: NaOH -44.51, KOH -57.61 kJ/mol (from memory)."""
        for naoh, koh, kilojoules in ((39.997, 0.0, 44.51), (0.0, 56.106, 57.61)):
            found = solution_heat(naoh, koh, 20_000) / 1000
            self.assertAlmostEqual(found, kilojoules, delta=0.03 * kilojoules)

    def test_twice_as_much_sets_free_and_holds_twice_as_much(self) -> None:
        """Of either alkali, or both: heat and capacity are of what is in the jug, and per gram between water's and a
        strong lye's (about 2.4 J/gK, from memory)."""
        for naoh, koh in ((100.0, 0.0), (0.0, 100.0), (60.0, 40.0)):
            once, twice = (solution_heat(n * naoh, n * koh, n * 200) for n in (1, 2))
            self.assertAlmostEqual(twice, 2 * once, delta=1e-6 * twice)
            per_gram = solution_capacity(naoh, koh, 200) / 300
            self.assertTrue(2.4 < per_gram < 4.2, per_gram)
        # Potassium lye holds less heat, gram for gram.
        self.assertLess(solution_capacity(0, 100, 200), solution_capacity(100, 0, 200))


class Cooling(unittest.TestCase):
    def test_common_practice(self) -> None:
        """0.9 kg of fats fall from 61 to 38 °C in about an hour; fresh lye takes one to two hours to 38 °C."""
        self.assertAlmostEqual(pot_curve(61, 21, 900).until(38), 60, delta=2)
        self.assertAlmostEqual(jug_curve(86, 21, 420).until(38), 100, delta=4)
        self.assertTrue(150 < jug_curve(86, 21, 420).until(30) < 190)

    def test_the_curve_solves_its_equation(self) -> None:
        """dθ/dt = -kθ(θ/25)^n by an independent solver."""

        def law(_: float, above: Any, k: float, n: float) -> Any:
            return -k * above * (above / 25) ** n

        for curve in (pot_curve(61, 21, 900), jug_curve(86, 18, 300)):
            start = [curve.start - curve.room]
            solved = integrate.solve_ivp(law, (0, 120), start, args=(curve.k, curve.n), rtol=1e-9, t_eval=[30, 120])
            for minutes, above in zip((30, 120), solved.y[0], strict=True):
                self.assertAlmostEqual(curve.at(minutes), curve.room + above, delta=1e-4)
            self.assertAlmostEqual(curve.at(curve.until(35.0)), 35.0, delta=1e-9)

    def test_never_below_the_room(self) -> None:
        self.assertEqual(pot_curve(40, 21, 900).until(20), float("inf"))
        self.assertEqual(pot_curve(30, 21, 900).until(35), 0.0)


class Plan(unittest.TestCase):
    def test_the_lye_is_mixed_first_by_the_difference(self) -> None:
        of = recipe(pour_celsius=35, room_celsius=21)
        heat = plan(of, SHELF, weighed(of).lines)
        early = round(heat.jug.ready - heat.pot.ready)
        self.assertGreater(early, 10)
        self.assertIn(f"about {early} min before", heat.advice)
        self.assertTrue(heat.jug.likely.low < heat.jug.ready < heat.jug.likely.high)

    def test_ice_and_a_stock_lye_are_cooler(self) -> None:
        def peak(**changes: object) -> float:
            of = recipe(**changes)
            return plan(of, SHELF, weighed(of).lines).peak

        self.assertLess(peak(ice=0.4), peak() - 15)
        # 50 % stock thinned to 33 % in a room of 20 °C comes to 53 °C, less what the jug takes up.
        self.assertAlmostEqual(lye_peak(Lye(held=100, stock_water=100), 103, 0, 20, 20)[0], 53, delta=1)
        self.assertAlmostEqual(peak(stock=0.5), 50, delta=2)

    def test_dangers_are_said(self) -> None:
        hot = recipe(water=ByConcentration(share=0.45))
        cold_hard = recipe(
            fats=(FatShare(fat="tallow", share=0.6), FatShare(fat="olive", share=0.4)), pour_celsius=30, room_celsius=30
        )
        told = plan(hot, SHELF, weighed(hot).lines).cautions
        self.assertTrue(any(c.danger and "no thin plastic" in c.message for c in told))
        told = plan(cold_hard, SHELF, weighed(cold_hard).lines).cautions
        self.assertTrue(any("look like trace" in c.message for c in told))
        heat = plan(cold_hard, SHELF, weighed(cold_hard).lines)
        self.assertIn("cold water", heat.advice)
        self.assertEqual(weigh(cold_hard, SHELF).faults, ())

    @settings(max_examples=many(150, 3000), deadline=None)
    @given(
        st.floats(0.2, 0.5),
        st.sampled_from([0.0, 0.5, 1.0]),
        st.sampled_from([0.0, 0.0, 0.5, 1.0]),
        st.sampled_from([None, None, "goat-milk", "lemon-juice"]),
        st.floats(10, 75),
        st.floats(0, 40),
        st.sampled_from([None, None, 0.5]),
    )
    def test_no_advice_pours_lye_on_hot_fats_or_warms_by_what_is_colder(
        self, lye: float, ice: float, koh: float, liquid: str | None, goal: float, room: float, stock: float | None
    ) -> None:
        """Whatever is frozen in the jug: fats of 60 °C at most, a colder jug warms up first, no lye below its ice."""
        liquids = (LiquidUse(liquid=liquid, share=1.0, frozen=True),) if liquid else ()
        of = recipe(water=ByConcentration(share=lye), ice=ice, koh_share=koh, liquids=liquids, pour_celsius=goal,
                    room_celsius=room, stock=stock if koh == 0 and not liquid else None)  # fmt: skip
        sheet = weigh(of, SHELF).sheet
        assume(sheet is not None)
        assert sheet is not None
        heat = plan(of, SHELF, sheet.lines)
        advice = plain(heat.advice)
        asked = [float(n) for n in re.findall(r"(?:with fats at about|Warm the fats.*? to) (-?[\d.]+) °C", advice)]
        self.assertTrue(all(n <= 60 for n in asked), advice)
        self.assertGreaterEqual(heat.peak, -28)
        self.assertGreaterEqual(heat.adiabatic, -28)
        if heat.jug.warm_to is not None:
            self.assertIn("then combine", advice)
            self.assertEqual("warm water" in advice, goal > room, advice)

    def test_a_stock_that_sets_in_the_cold_is_said(self) -> None:
        """Common practice: 50 % caustic sets at about 12 °C."""
        self.assertAlmostEqual(sets_at(0.50), 12, delta=1)
        for room, told in ((8.0, True), (20.0, False)):
            of = recipe(stock=0.5, room_celsius=room)
            message = [c.message for c in plan(of, SHELF, weighed(of).lines).cautions if c.pointer == "/stock"]
            self.assertEqual(bool(message), told, message)
