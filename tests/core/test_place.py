"""What is put in and moved: as practice has it, and nothing else changes with it."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.heat import plan
from roundstone.core.recipe import Carrier, Design, Dose, Recipe
from roundstone.core.sheet import AddThing, Disperse, MoveDose, MoveThing, place, weigh
from roundstone.core.values import RuleError
from tests.samples import SHELF, TWO, recipe

BARE = recipe(scents=())
MOMENTS = ("fats", "before-lye", "hot-lye", "cool-lye", "trace")
VESSELS = ("pot", "jug", "stir")


def put(of: Recipe, what: str, item: str) -> Recipe:
    return place(of, AddThing(what=what, item=item), SHELF)


class Place(unittest.TestCase):
    def test_everything_on_the_shelf_goes_in_as_is_usual(self) -> None:
        """It weighs without a fault, no milk browns in the jug, and nothing is above its usual most."""
        for what, items in (("liquid", SHELF.liquids), ("additive", SHELF.additives), ("scent", SHELF.fragrances)):
            for item in items:
                if item == "water":
                    continue
                with self.subTest(item):
                    of = put(BARE, what, item)
                    weighing = weigh(of, SHELF)
                    assert weighing.sheet is not None, weighing.faults
                    said = [c.message for c in (*weighing.cautions, *plan(of, SHELF, weighing.sheet.lines).cautions)]
                    self.assertFalse([s for s in said if "browns" in s or "scorch" in s or "usual most" in s], said)

    def test_a_powder_is_dispersed_in_the_recipes_own_oil(self) -> None:
        (dose,) = put(BARE, "additive", "mica").additives
        self.assertEqual(dose.carrier, Carrier(fat="olive", parts=3))
        wet = place(put(BARE, "additive", "mica"), Disperse(row=0, into="no"), SHELF)
        wet = place(wet, Disperse(row=0, into="water"), SHELF)
        self.assertEqual(wet.additives[0].carrier, Carrier(fat=None, parts=2))

    @settings(max_examples=80, deadline=None)
    @given(st.sampled_from(sorted(SHELF.additives)), st.sampled_from(MOMENTS), st.sampled_from([None, "Bone"]),
           st.sampled_from(["whole", "layers"]))  # fmt: skip
    def test_a_moved_dose_keeps_its_portion_and_its_grams_or_is_refused(
        self, item: str, moment: str, into: str | None, batching: str
    ) -> None:
        """Said of one red it must not turn up in every white."""
        dose = Dose(additive=item, amount=3, into=(into,) if into else (), moment="trace")
        design = Design(portions=TWO, technique="drop-swirl", batching=batching)
        of = recipe(scents=(), additives=(dose,), design=design)
        try:
            moved = place(of, MoveDose(row=0, moment=moment), SHELF)
        except RuleError as broken:
            self.assertIsNotNone(into)
            self.assertIn("alone", broken.faults[0].message)
            return
        self.assertEqual((moved.additives[0].into, moved.additives[0].amount), ((into,) if into else (), 3))

    def test_what_is_moved_by_its_vessel_goes_in_at_its_usual_moment_there(self) -> None:
        of = recipe(additives=(Dose(additive="sugar", amount=5), Dose(additive="mica", amount=3, into=("Bone",))))
        for vessel in VESSELS:
            there = place(of, MoveThing(what="additive", row=0, vessel=vessel), SHELF)
            sheet = weigh(there, SHELF).sheet
            assert sheet is not None
            self.assertEqual([x.vessel for x in sheet.lines if x.item == "additive:sugar"], [vessel])
        for vessel in ("pot", "jug"):
            with self.assertRaises(RuleError):
                place(of, MoveThing(what="additive", row=1, vessel=vessel), SHELF)
            with self.assertRaises(RuleError):
                place(of, MoveThing(what="additive", row=9, vessel=vessel), SHELF)
        with self.assertRaises(RuleError):
            place(of, MoveThing(what="scent", row=0, vessel="jug"), SHELF)
        with self.assertRaises(RuleError):
            put(of, "liquid", "water")
