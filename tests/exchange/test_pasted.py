"""A recipe as it was written down: read in any unit, nothing guessed, and never a lye-heavy soap."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.sheet import weigh
from roundstone.core.units import OUNCE, POUND
from roundstone.core.values import RuleError
from roundstone.exchange.pasted import PastedRow, read_lines, recipe_from
from roundstone.reference import also, moulds, shelf
from tests.samples import many

SHELF, MOULD = shelf(), moulds(False)[0].mould
PAPER = """My first bar

Olive Oil  16 oz
COCONUT OIL,8oz
1 lb 2 oz lard
canola; 2½ oz
NaOH\t6.1 oz
Distilled water 10 1/2 oz
"""


def rows(text: str, unit: str = "g") -> list[PastedRow]:
    return [PastedRow(item=x.item, grams=x.grams, share=x.share) for x in read_lines(text, SHELF, also(), unit)]


class Pasted(unittest.TestCase):
    def test_a_paper_in_ounces_is_read_as_it_stands(self) -> None:
        found = {x.item: x.grams for x in read_lines(PAPER, SHELF, also())}
        wanted = {"fat:olive": 16 * OUNCE, "fat:coconut": 8 * OUNCE, "fat:lard": POUND + 2 * OUNCE,
                  "fat:rapeseed": 2.5 * OUNCE, "alkali:naoh": 6.1 * OUNCE, "water": 10.5 * OUNCE}  # fmt: skip
        self.assertEqual(found.keys(), wanted.keys())
        for item, grams in wanted.items():
            self.assertAlmostEqual(found[item] or 0, grams, places=6, msg=item)
        made = recipe_from("Paper", rows(PAPER), SHELF, MOULD)
        sheet = weigh(made, SHELF).sheet
        assert sheet is not None
        self.assertAlmostEqual(sheet.naoh, 6.1 * OUNCE, delta=0.01)
        self.assertEqual((made.design.technique, len(made.design.portions)), ("plain", 1))

    def test_what_is_not_understood_stands_open_and_is_never_guessed(self) -> None:
        for text, message in (
            ("wobble fat 30 g", "Choose what this is"),
            ("olive 1.000", "it could be either"),
            ("olive 1/0 g", "below its line"),
        ):
            (line,) = read_lines(text, SHELF, also())
            self.assertIn(message, line.message)
        with self.assertRaises(RuleError):
            recipe_from("x", [PastedRow(item="fat:no-such", grams=5)], SHELF, MOULD)
        with self.assertRaises(RuleError):
            recipe_from("x", rows("water 100 g"), SHELF, MOULD)

    def test_no_line_is_left_out_in_silence(self) -> None:
        """Whatever is weighed and whatever is a share: every line that was sent is in the recipe, or it is refused."""
        for text, refused in (
            ("olive 500 g\ncoconut 200 g\ncastor 5 %\nlye 90 g\nwater 200 g", True),
            ("olive 700 g\ncoconut 300 g\nlye 14 %", True),
            ("olive 700 g\ncoconut 30 %", True),
            ("olive 70 %\ncoconut 30 %\nhoney 5 g", True),
            ("olive 700 g\ncoconut 300 g\nhoney 1 %", False),
            ("olive 700 g\ncoconut 300 g\nhoney 10 g", False),
        ):
            with self.subTest(text):
                if refused:
                    with self.assertRaises(RuleError):
                        recipe_from("x", rows(text), SHELF, MOULD)
                    continue
                made = recipe_from("x", rows(text), SHELF, MOULD)
                self.assertEqual((len(made.fats), made.additives[0].amount), (2, 10))
        for item in ("", "fat:"):
            with self.assertRaises(RuleError):
                recipe_from("x", [*rows("olive 500 g"), PastedRow(item=item, grams=9)], SHELF, MOULD)

    def test_too_much_lye_is_refused(self) -> None:
        heavy = "stearic acid 50 g\nolive 900 g\ncoconut 50 g\nlye 160 g\nwater 300 g"
        with self.assertRaises(RuleError) as refused:
            recipe_from("x", rows(heavy), SHELF, MOULD)
        self.assertIn("lye heavy", refused.exception.faults[0].message)

    def test_shares_fill_the_usual_mould_and_a_bare_number_is_in_the_makers_unit(self) -> None:
        made = recipe_from("x", rows("olive oil 70 %\ncoconut 30 %\nhoney 1 %"), SHELF, MOULD)
        self.assertEqual([f.share for f in made.fats], [0.7, 0.3])
        self.assertIsNotNone(weigh(made, SHELF).sheet)
        self.assertAlmostEqual(rows("olive 10", "oz")[0].grams or 0, 10 * OUNCE)

    @settings(max_examples=many(60, 500), deadline=None)
    @given(
        fat=st.sampled_from(sorted(SHELF.fats)),
        grams=st.floats(1, 5000),
        unit=st.sampled_from(["g", "kg", "oz", "lb"]),
        first=st.booleans(),
        between=st.sampled_from([" ", "\t", "; ", ", ", ": "]),
    )
    def test_any_fat_in_any_unit_before_or_behind(
        self, fat: str, grams: float, unit: str, first: bool, between: str
    ) -> None:
        amount = f"{grams / {'g': 1, 'kg': 1000, 'oz': OUNCE, 'lb': POUND}[unit]:.4f} {unit}"
        name = SHELF.fats[fat].name
        if any(c.isdigit() for c in name):
            return
        (line,) = read_lines(f"{amount} {name}" if first else f"{name}{between}{amount}", SHELF, also())
        self.assertEqual(line.item, f"fat:{fat}")
        self.assertAlmostEqual((line.grams or 0) / grams, 1, delta=0.05)

    def test_every_other_name_is_of_something_and_of_one_thing(self) -> None:
        known = {i: x.name for table in (SHELF.fats, SHELF.liquids, SHELF.additives) for i, x in table.items()}
        self.assertLessEqual(set(also()), set(known))
        for key, names in also().items():
            for name in names:
                others = [i for i, x in known.items() if i != key and x.casefold() == name.casefold()]
                self.assertEqual(others, [], f"{name} of {key}")
