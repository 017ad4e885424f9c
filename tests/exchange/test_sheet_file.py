"""The sheet as CSV and back: weights mean the recipe they came from, and lye-heavy weights are refused."""

import csv
import io
import unittest

from hypothesis import given, settings

from roundstone.core.recipe import ByRatio, ByWeight, Design, Dose, LiquidUse, Portion, Recipe
from roundstone.core.sheet import weigh
from roundstone.core.values import RuleError
from roundstone.exchange import sheet_file
from tests.core.test_weigh import recipes
from tests.samples import SHELF, grams_of, recipe, weighed

WHOLE = Design(portions=(Portion(name="All", share=1.0, scent=1.0),), technique="tamp")
# 1000 g of olive oil take 135.4 g of pure NaOH: 130 g of 99 % leave 5 %.
PLAIN = "ingredient,grams\nOlive,1000\nSodium hydroxide,130\nWater,270\n"


def told(text: str) -> dict[str, str]:
    try:
        sheet_file.read(text, "Mine", SHELF)
    except RuleError as broken:
        return {f.pointer: str(f.message) for f in broken.faults}
    return {}


class SheetFile(unittest.TestCase):
    def test_anyones_list_of_weights(self) -> None:
        """The superfat of a sheet by hand: 1 - (130 g · 99 % ÷ 39.997) ÷ (1000 g · .190 ÷ 56.106)."""
        read = sheet_file.read(PLAIN.replace("Sodium hydroxide", "naoh"), "Mine", SHELF)
        self.assertAlmostEqual(read.superfat, 1 - (130 * 0.99 / 39.997) / (1000 * 0.190 / 56.106), delta=1e-4)
        self.assertEqual(read.water, ByRatio(parts=270 / (130 * 0.99)))
        self.assertAlmostEqual(weighed(read).naoh, 130, delta=0.01)
        self.assertEqual(read.name, "Mine")

    def test_weights_that_are_no_soap_are_refused(self) -> None:
        self.assertIn("lye heavy", told(PLAIN.replace("130", "139"))["/alkali"])
        self.assertIn("without lye", told(PLAIN.replace("130", "100"))["/alkali"])
        self.assertIn("no lye", told(PLAIN.replace("130", "0"))["/alkali"])
        self.assertIn("parts water", told(PLAIN.replace("270", "90"))["/water"])
        self.assertIn("no fat", told("ingredient,grams\nSodium hydroxide,130\nWater,270\n")["/fats"])

    def test_every_fault_by_line_and_column(self) -> None:
        text = "vessel,ingredient,grams\npot,Moonlight,5\nbucket,Olive,much\njug,Water,-1\n"
        self.assertEqual(list(told(text)), ["/2/ingredient", "/3/vessel", "/3/grams", "/4/grams"])
        self.assertIn("needs ingredient and grams", told("{}\n")["/1"])
        self.assertEqual(list(told("ingredient,weight\nOlive,5\n")), ["/1"])
        # "1,200" is 1200 g in one country and 1.2 g in another: the lye would be out a thousandfold.
        thousand = told('ingredient,grams\nOlive,"1,200"\nSodium hydroxide,"130,5"\n')
        self.assertEqual(thousand, {"/2/grams": "Write 1200, or 1.2000: it could be either."})

    def test_a_name_that_means_two_things_is_not_guessed(self) -> None:
        twin = SHELF.fragrances["slight"].model_copy(update={"name": "Olive"})
        both = SHELF.model_copy(update={"fragrances": {"olive": twin}})
        with self.assertRaises(RuleError) as raised:
            sheet_file.read(PLAIN, "Mine", both)
        self.assertEqual(raised.exception.faults[0].pointer, "/2/ingredient")
        self.assertIn("a fat and a fragrance", raised.exception.faults[0].message)

    @settings(max_examples=80, deadline=None)
    @given(recipes())
    def test_out_and_in_again_weighs_the_same(self, any_recipe: Recipe) -> None:
        """Superfat, water and every weight come back, to the hundredth of a gram that a sheet is written with."""
        # Vinegar's own lye and a free acid's are in the weights; purities are not, so they stay as usual.
        of = any_recipe.model_copy(
            update={"design": WHOLE, "naoh_purity": 0.99, "koh_purity": 0.90, "size": ByWeight(grams=5000)}
        )
        before = weigh(of, SHELF).sheet
        assert before is not None
        text = sheet_file.write(before, of, SHELF)
        if sum(SHELF.fats[r.fat].kind != "acid" for r in of.fats) == 0 or of.superfat < 0.002:
            return  # nothing the superfat is of, or a rounding could make it lye heavy
        read = sheet_file.read(text, of.name, SHELF)
        after = weigh(read, SHELF).sheet
        if after is None:
            self.assertAlmostEqual(before.water_per_lye, 1.0, delta=0.02, msg="only at the edge of dissolving")
            return
        self.assertAlmostEqual(after.naoh, before.naoh, delta=0.05)
        self.assertAlmostEqual(after.koh, before.koh, delta=0.05)
        self.assertAlmostEqual(after.total, before.total, delta=0.5)
        told_before, told_after = (grams_of(s) for s in (before, after))
        for key, grams in told_before.items():
            if grams >= 0.01:
                self.assertAlmostEqual(told_after.get(key, 0.0), grams, delta=0.1, msg=key)

    def test_vessels_stock_lye_and_powders_in_oil(self) -> None:
        of = recipe(
            design=WHOLE,
            stock=0.5,
            liquids=(LiquidUse(liquid="goat-milk", share=0.2, goes="stir"),),
            additives=(Dose(additive="sugar", amount=8, moment="trace"),),
        )
        sheet = weighed(of)
        read = sheet_file.read(sheet_file.write(sheet, of, SHELF), "Again", SHELF)
        self.assertEqual((read.stock, read.liquids[0].goes, read.additives[0].moment), (0.5, "stir", "trace"))
        self.assertAlmostEqual(read.superfat, of.superfat, delta=5e-4)
        rows = list(csv.reader(io.StringIO(sheet_file.write(sheet, of, SHELF))))
        rows.append(["stir", "Coconut", "", "10", "", "", "", "disperses mica"])
        oiled = sheet_file.read("\n".join(",".join(f'"{c}"' for c in r) for r in rows), "Again", SHELF)
        self.assertGreater(oiled.superfat, read.superfat, "oil that came on top is fat all the same")


if __name__ == "__main__":
    unittest.main()
