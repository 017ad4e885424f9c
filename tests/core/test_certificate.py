"""Fats by certificate: the lye follows the figure, and doubtful figures are said or refused."""

import unittest

from roundstone.core.certificate import consistency, own_fat
from roundstone.core.recipe import FatShare
from roundstone.core.values import RuleBroken
from roundstone.core.weigh import weigh
from roundstone.reference import shelf
from tests.samples import SHELF, recipe, weighed

OLIVE = shelf().fats["olive"]


class Certificate(unittest.TestCase):
    def test_lye_follows_it_and_the_range_narrows(self) -> None:
        mine = own_fat("olive-lot-7", "Olive, lot 7", OLIVE, 187.0)
        with_mine = SHELF.model_copy(update={"fats": dict(SHELF.fats) | {mine.id: mine}})
        sheet = weigh(recipe(fats=(FatShare(fat=mine.id, share=1.0),)), with_mine).sheet
        assert sheet is not None
        table = weighed(recipe(fats=(FatShare(fat="olive", share=1.0),)))
        self.assertAlmostEqual(sheet.naoh / table.naoh, 187 / 190, delta=1e-9)
        spans = [s.superfat.likely.high - s.superfat.likely.low for s in (sheet, table)]
        self.assertLess(spans[0], 0.6 * spans[1])
        self.assertGreater(sheet.superfat.extreme.low, 0)
        self.assertEqual(sheet.factors, table.factors, "the batter clock sees the same acids")

    def test_far_off_is_refused_near_off_is_said(self) -> None:
        for wrong in (19.0, 134.0, 240.0, 1900.0):  # a slip, a NaOH figure, another fat, a missing point
            with self.assertRaises(RuleBroken) as refused:
                own_fat("x", "x", OLIVE, wrong)
            self.assertEqual(refused.exception.faults[0].pointer, "/sv")
        self.assertEqual(consistency(own_fat("x", "x", OLIVE, 191.0)), ())
        self.assertIn("lye follows the certificate", consistency(own_fat("x", "x", OLIVE, 181.0))[0].says)

    def test_the_whole_table_is_consistent(self) -> None:
        doubtful = [f.id for f in shelf().fats.values() if consistency(f)]
        self.assertEqual(doubtful, ["butterfat"], "its shortest acids are not in the table")
