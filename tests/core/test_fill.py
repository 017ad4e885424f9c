"""Batter in its mould against closed forms and numerical integration; cut plans against hand-worked cases."""

import unittest
from math import radians, tan

from hypothesis import assume, given
from hypothesis import strategies as st
from scipy.integrate import quad

from roundstone.core.recipe import Box, Topping, cut_plan, leaning, steepest, toppings_at
from roundstone.core.recipe.mould import bars

LONG, HIGH = st.floats(2, 30), st.floats(2, 20)


class Leaning(unittest.TestCase):
    @given(LONG, HIGH, st.floats(0, 60), st.floats(0.05, 1.5))
    def test_area_under_the_surface_is_what_was_poured(
        self, width: float, height: float, lean: float, part: float
    ) -> None:
        """Integrated with scipy: depth falls from the high end along the floor by the tangent of the lean."""
        area = part * width * height
        lies = leaning(width, height, lean, area)
        slope = tan(radians(lean))
        under, _ = quad(lambda x: max(lies.high - slope * x, 0.0), 0, width, limit=200, points=[min(lies.foot, width)])
        self.assertAlmostEqual(under, area * (1 - lies.over), delta=1e-6 * max(area, 1))
        self.assertLessEqual(lies.high, height + 1e-9, "nothing stands above the wall")
        self.assertGreaterEqual(lies.low, 0)

    @given(LONG, HIGH, st.floats(1, 60), st.floats(0.01, 0.99))
    def test_a_corner_is_a_triangle(self, width: float, height: float, lean: float, part: float) -> None:
        """Closed form: half base times rise."""
        slope = tan(radians(lean))
        base = part * min(width, height / slope)
        lies = leaning(width, height, lean, base * base * slope / 2)
        self.assertAlmostEqual(lies.foot, base, places=6)
        self.assertAlmostEqual(lies.high, base * slope, places=6)
        self.assertEqual(lies.low, 0)

    def test_level_is_volume_over_floor(self) -> None:
        self.assertAlmostEqual(leaning(8, 6, 0, 20).high, 2.5)
        self.assertAlmostEqual(leaning(8, 6, 0, 60).over, 1 - 48 / 60)

    @given(LONG, HIGH, st.floats(0.05, 0.95))
    def test_the_steepest_lean_holds_it_and_one_more_does_not(self, width: float, height: float, part: float) -> None:
        area = part * width * height
        lean = steepest(width, height, area)
        self.assertLess(leaning(width, height, lean, area).over, 1e-8)
        assume(lean < 60)
        self.assertGreater(leaning(width, height, lean + 1, area).over, 0)


class Cuts(unittest.TestCase):
    def test_worked_by_hand(self) -> None:
        """24 cm by 28 mm: 8 bars of 224 mm, 8 mm at each end. 25 mm: 9 of 225, 7.5 at each end. 24: ten, none left."""
        for cut, count, ends, wires in ((28, 8, 8.0, 9), (25, 9, 7.5, 10), (24, 10, 0.0, 9)):
            plan = cut_plan(Box(length=24, width=8, fill=6, cut=cut))
            assert plan is not None
            self.assertEqual((plan.bars, plan.ends, len(plan.wires)), (count, ends, wires), cut)
        slab = cut_plan(Box(length=30, width=24, fill=3, cut=60, across=80))
        assert slab is not None
        self.assertEqual((slab.bars, slab.across, slab.bar), (15, (80.0, 160.0), (60.0, 80.0, 30.0)))
        self.assertIsNone(cut_plan(Box(length=24, width=8, fill=6)))
        # At 45 degrees 24 mm of bar take 33.9 mm of length, and 80 mm of it are lost to the slant.
        slanted = cut_plan(Box(length=24, width=8, fill=6, cut=24, slant=45, planks=2))
        assert slanted is not None
        self.assertEqual((slanted.bars, slanted.level, len(slanted.wires)), (8, (30.0,), 5))
        self.assertAlmostEqual(slanted.bar[1], 80 * 2**0.5)

    @given(
        st.floats(10, 60),
        st.floats(5, 40),
        st.floats(10, 80),
        st.floats(0, 20),
        st.one_of(st.just(0.0), st.floats(1, 150)),
        st.integers(1, 4),
        st.one_of(st.just(0.0), st.floats(1, 60)),
    )
    def test_bars_are_counted_and_weighed_as_they_are_cut(
        self, length: float, width: float, cut: float, trim: float, across: float, planks: int, slant: float
    ) -> None:
        box = Box(
            length=length,
            width=width,
            fill=5,
            cut=cut,
            trim=trim,
            across=min(across, 10 * width),
            planks=planks,
            slant=0.0 if across else slant,
        )
        plan = cut_plan(box)
        assume(plan is not None)
        assert plan is not None
        told = bars(box, 1.0)
        self.assertEqual(plan.bars, told.count)
        self.assertLessEqual(told.count * told.grams, told.batter * (1 + 1e-9), "no bar from nothing")
        self.assertAlmostEqual(told.grams, plan.bar[0] * plan.bar[1] * plan.bar[2] / 1000, places=6)
        gaps = [b - a for a, b in zip(plan.wires, plan.wires[1:], strict=False)]
        self.assertTrue(all(abs(g - plan.step) < 2e-3 for g in gaps))
        self.assertGreaterEqual(plan.ends, trim - 1e-6)
        if plan.lean:
            self.assertLessEqual(plan.wires[-1] + plan.lean, 10 * length - trim + 2e-3, "no wire leaves the block")

    def test_toppings_stand_in_their_bars_clear_of_the_wires(self) -> None:
        plan = cut_plan(Box(length=24, width=8, fill=6, cut=28))
        assert plan is not None
        one, two, wide, high = toppings_at(
            plan,
            (
                Topping(name="Petal", wide=10),
                Topping(name="Seed", a_bar=2, wide=4),
                Topping(name="Slice", wide=26),
                Topping(name="Cone", wide=10, high=40),
            ),
            25.0,
        )
        self.assertEqual((one.at[0], len(one.at), one.message), (22.0, 8, ""))
        self.assertEqual(two.at[:2], (15.0, 29.0))
        self.assertIn("wire will catch", wide.message)
        self.assertIn("cutter clears", high.message)
        for at in (*one.at, *two.at):
            self.assertGreater(min(abs(at - w) for w in plan.wires), 3)
