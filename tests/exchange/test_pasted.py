"""A recipe as it was written down: read in any unit, nothing guessed, and never a lye-heavy soap."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.sheet import weigh
from roundstone.core.units import OUNCE, POUND
from roundstone.core.values import RuleError
from roundstone.exchange.pasted import FATS, STRENGTH, SUPERFAT, PastedLine, PastedRow, read_recipes, recipe_from
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


def read_lines(text: str, unit: str = "g") -> tuple[PastedLine, ...]:
    """Lines of a text with one recipe."""
    (found,) = read_recipes(text, SHELF, also(), unit)
    return found.lines


def rows(text: str, unit: str = "g") -> list[PastedRow]:
    return [PastedRow(item=x.item, grams=x.grams, share=x.share) for x in read_lines(text, unit)]


class Pasted(unittest.TestCase):
    def test_a_paper_in_ounces_is_read_as_it_stands(self) -> None:
        found = {x.item: x.grams for x in read_lines(PAPER)}
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
            (line,) = read_lines(text)
            self.assertIn(message, line.message)
        with self.assertRaises(RuleError):
            recipe_from("x", [PastedRow(item="fat:no-such", grams=5)], SHELF, MOULD)
        with self.assertRaises(RuleError):
            recipe_from("x", rows("water 100 g"), SHELF, MOULD)

    def test_half_an_ounce_alone_is_an_amount_and_what_is_too_long_is_said(self) -> None:
        (found,) = read_recipes("Bar\n\nolive 9 oz\n\ncastor ½ oz\n¾ oz coconut", SHELF, also())
        self.assertEqual([x.grams for x in found.lines], [9 * OUNCE, 0.5 * OUNCE, 0.75 * OUNCE])
        for much in ("olive 5 g\n" * 601, "\n\n".join(f"Bar\nolive {n} g" for n in range(1, 63))):
            with self.assertRaises(RuleError):
                read_recipes(much, SHELF, also())

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

    def test_what_a_line_says_of_the_whole_is_so_in_the_recipe(self) -> None:
        text = "Total oils 800 g\nolive 70 %\ncoconut 30 %\nSuperfat: 6.5%\nwater : lye = 2:1\n"
        made = recipe_from("x", rows(text), SHELF, MOULD)
        sheet = weigh(made, SHELF).sheet
        assert sheet is not None
        self.assertAlmostEqual(made.superfat, 0.065)
        self.assertAlmostEqual(sheet.fats, 800)
        pure = sheet.naoh * made.naoh_purity
        self.assertAlmostEqual(sheet.water / pure, 2, delta=1e-6)
        for more, water in (("lye concentration 35 %", pure * 65 / 35), ("water 38 %", 0.38 * 800)):
            again = weigh(recipe_from("x", rows(text.replace("water : lye = 2:1", more)), SHELF, MOULD), SHELF).sheet
            assert again is not None
            self.assertAlmostEqual(again.water, water, delta=1e-6, msg=more)
        self.assertEqual({SUPERFAT, STRENGTH, FATS} & {r.item for r in rows(text)}, {SUPERFAT, STRENGTH, FATS})

    def test_what_is_said_of_the_whole_is_understood_in_five_languages(self) -> None:
        """Words from memory; a share in any of them is taken as in English."""
        for strength, fats, superfat in (
            ("lye concentration", "total oils", "superfat"),
            ("Laugenkonzentration", "Gesamtfett", "Überfettung"),
            ("concentration de soude", "total des huiles", "surgras"),
            ("concentración de sosa", "total de aceites", "sobreengrasado"),
            ("concentrazione di soda", "totale oli", "sovragrasso"),
        ):
            found = rows(f"{fats} 800 g\nolive 100 %\n{superfat} 6 %\n{strength} 33 %")
            self.assertEqual([r.item for r in found], [FATS, "fat:olive", SUPERFAT, STRENGTH], strength)

    def test_what_is_said_of_the_whole_otherwise_than_it_is_weighed_is_refused(self) -> None:
        """The lye that is weighed decides; a superfat beside it that it does not give is asked about."""
        weighed = "olive 700 g\ncoconut 300 g\nlye 141 g\nwater 290 g\n"
        sound = recipe_from("x", rows(weighed), SHELF, MOULD)
        for line, fits in (
            (f"superfat {100 * sound.superfat:.1f} %", True), ("superfat 15 %", False), ("superfat 0.5 %", False),
            ("oils 1000 g", True), ("oils 1200 g", False), ("lye concentration 33 %", True),
            ("lye concentration 25 %", False), ("superfat 50 g", False), ("oils 5 %", False),
        ):  # fmt: skip
            with self.subTest(line):
                if fits:
                    self.assertEqual(recipe_from("x", rows(weighed + line), SHELF, MOULD), sound)
                else:
                    with self.assertRaises(RuleError) as refused:
                        recipe_from("x", rows(weighed + line), SHELF, MOULD)
                    self.assertEqual(refused.exception.faults[0].pointer, "/rows/4")
        for twice in ("superfat 5 %\nsuperfat 8 %", "lye concentration 33 %\nwater 38 %"):
            with self.assertRaises(RuleError):
                recipe_from("x", rows(f"olive 700 g\n{twice}"), SHELF, MOULD)

    @settings(max_examples=many(40, 300), deadline=None)
    @given(st.lists(st.sampled_from(sorted(SHELF.fats)), min_size=1, max_size=6), st.booleans(), st.booleans())
    def test_many_at_once_are_read_as_each_alone(self, fats: list[str], parted: bool, padded: bool) -> None:
        """With a name each and headings within; what stands behind a heading belongs to the recipe it stands in."""
        texts = []
        for n, fat in enumerate(fats):
            head = "Fats:\n" if parted else ""
            tail = "\n\nLye\n" if padded else ""
            texts.append(
                f"Bar no{chr(97 + n)}\n{head}olive {n + 5}00 g\n{fat.replace('-', ' ')} 90 g{tail}\nsuperfat 6 %"
            )
        if any(c.isdigit() for f in fats for c in f):
            return
        found = read_recipes("\n\n".join(texts), SHELF, also())
        self.assertEqual([r.name for r in found], [f"Bar no{chr(97 + n)}" for n in range(len(fats))])
        for one, text in zip(found, texts, strict=True):
            self.assertEqual(one, read_recipes(text, SHELF, also())[0])
            self.assertEqual([x.item for x in one.lines][::2], ["fat:olive", SUPERFAT])

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
        (line,) = read_lines(f"{amount} {name}" if first else f"{name}{between}{amount}")
        self.assertEqual(line.item, f"fat:{fat}")
        self.assertAlmostEqual((line.grams or 0) / grams, 1, delta=0.05)

    def test_every_other_name_is_of_something_and_of_one_thing(self) -> None:
        known = {i: x.name for table in (SHELF.fats, SHELF.liquids, SHELF.additives) for i, x in table.items()}
        self.assertLessEqual(set(also()), set(known))
        for key, names in also().items():
            for name in names:
                others = [i for i, x in known.items() if i != key and x.casefold() == name.casefold()]
                self.assertEqual(others, [], f"{name} of {key}")
