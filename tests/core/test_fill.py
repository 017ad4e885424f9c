"""Batter in its mould against closed forms and numerical integration; cut plans against hand-worked cases."""

import unittest
from math import radians, tan

from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from roundstone.core.recipe import Box, Topping, cut_plan, grid, leaning, placed, steepest
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

    @settings(max_examples=200, deadline=None)
    @given(
        st.builds(
            Topping,
            name=st.just("Petal"),
            a_bar=st.integers(1, 6),
            wide=st.floats(1, 30),
            bars=st.sampled_from(["all", "left", "right", "alternate"]),
            row=st.sampled_from(["", "front", "middle", "back"]),
            laid=st.sampled_from(["side", "down", "scattered"]),
        ),
        st.integers(15, 40),
        st.sampled_from([0, 40]),
        st.sampled_from([0, 20]),
    )
    def test_toppings_lie_on_their_bars_clear_of_the_wires(
        self, topping: Topping, cut: int, across: int, slant: int
    ) -> None:
        """Each piece is clear of every wire, or it is said that a wire will catch it; as many bars as meant have it."""
        box = Box(length=24, width=8, fill=6, cut=cut, across=across, slant=0 if across else slant)
        plan = cut_plan(box)
        assert plan is not None
        (found,) = placed(box, plan, (topping,), 25.0)
        columns, rows = (grid(box).along, grid(box).rows)
        bars = {"all": columns * rows, "left": -(-columns // 2) * rows, "right": -(-columns // 2) * rows}
        many = bars.get(topping.bars, -(-columns * rows // 2))
        self.assertEqual(len(found.at), many * topping.a_bar)
        self.assertIn(f"{many * topping.a_bar} in all", found.told)
        for along, deep in ((s.along, s.across) for s in found.at):
            self.assertTrue(0 <= deep <= 80)
            if not found.message:
                wires = [w + plan.lean * (1 - deep / 80) for w in plan.wires]
                gap = min(abs(along - w) for w in wires) - topping.wide / 2
                self.assertGreaterEqual(gap, 1.5 - 0.02, "half the room that two pieces share")
        tall = topping.model_copy(update={"wide": 4.0, "a_bar": 1, "high": 40})
        self.assertIn("cutter clears", placed(box, plan, (tall,), 25.0)[0].message)
