"""Quantities in the maker's units: against SciPy's table of constants, and never a figure too much."""

import random
import re
import unittest

from hypothesis import given
from hypothesis import strategies as st
from scipy import constants
from scipy.constants import convert_temperature

from roundstone.core.said import C_BOTH, CM, KG, MARK, METRIC, ML, MM, WARMER_BY, C, G, Reader, day, figure, in_units
from roundstone.core.sheet import weigh
from roundstone.core.shelf import USUAL_SCALES, Scale, Scales
from tests.samples import SHELF, recipe

PIECES = (
    *("0", "-7", "2031-05-01", "5 g", "3.5", ".", "°C", "-", "12.25"),
    *(f"-4.5{C}", f"85{C_BOTH}", f"5{WARMER_BY}", f"1412.6{G}", f"2{KG}", f"12.5{MM}", f"3{CM}", f"250{ML}", C),
    *(figure(2.5), figure(-0.25), day("2031-05-01"), day("2031-12-24", short=True), SHELF.scales.shown(12.37)),
)
OWN = Reader(weight="oz", warmth="F", length="in", volume="fl oz")


def ounces(told: str) -> float:
    """What "2 lb 3.25 oz" comes to."""
    per = {"lb": constants.pound / constants.oz, "oz": 1.0}
    return sum(float(n) * per[unit] for n, unit in re.findall(r"([\d.]+)\xa0(lb|oz)", in_units(told)))


class InUnits(unittest.TestCase):
    def test_what_is_told_is_what_a_table_of_constants_says(self) -> None:
        dice = random.Random(5)
        for _ in range(300):
            celsius, grams, mm = dice.randint(-20, 120), dice.uniform(1, 9000), dice.uniform(1, 400)
            told = in_units(f"{celsius}{C}|{grams:.1f}{G}|{mm:.1f}{MM}|{grams:.0f}{ML}|{celsius}{WARMER_BY}", OWN)
            warm, weight, long, much, by = (float(x.split("\xa0")[0]) for x in told.split("|"))
            self.assertAlmostEqual(warm, convert_temperature(celsius, "C", "F"), delta=0.5)
            self.assertAlmostEqual(weight, grams / 1000 / constants.oz, delta=0.06)
            self.assertAlmostEqual(long, mm / 1000 / constants.inch, delta=0.06)
            self.assertAlmostEqual(much, grams / 1e6 / constants.fluid_ounce, delta=0.08)
            self.assertAlmostEqual(by, celsius * 9 / 5, delta=0.5)
            pounds = in_units(f"{grams:.1f}{G}", Reader(weight="lb"))
            self.assertAlmostEqual(ounces(pounds), grams / 1000 / constants.oz, delta=0.06)

    def test_what_is_not_marked_stays_to_the_letter(self) -> None:
        for typed in ("my 5 g, 40 °C", "5\u00a0g by the 20\u00a0cm", "3 fl oz", ""):
            self.assertEqual(in_units(typed, OWN), typed)
        mine = f"20{C} to 1{KG}, 3{CM}"
        self.assertEqual(in_units(mine, METRIC), "20\u00a0°C to 1\u00a0kg, 3\u00a0cm")
        self.assertEqual(in_units(in_units(mine, OWN), METRIC), in_units(mine, OWN))
        self.assertNotIn(MARK, in_units(mine, OWN))

    @given(st.lists(st.sampled_from(PIECES), max_size=8), st.sampled_from([METRIC, OWN, Reader(sign=",", dates="mdy")]))
    def test_each_mark_is_read_by_itself(self, pieces: list[str], reader: Reader) -> None:
        """A text is what its pieces are, one by one, whatever stands beside them; and no mark is left."""
        whole = in_units(" ".join(pieces), reader)
        self.assertEqual(whole, " ".join(in_units(p, reader) for p in pieces))
        self.assertNotIn(MARK, whole)
        self.assertEqual(in_units(whole, OWN), whole)

    def test_the_decimal_sign_is_the_readers_and_nothing_else_changes(self) -> None:
        """With a comma for the point every text is the other's, to the letter, but for what somebody typed."""
        shown = SHELF.scales.shown(12.37)
        said = f"{figure(2.5)} times 3.5; {20.5}{C} or {12.5}{G}, {shown}, {99}{C}. {figure(-0.25, '.1f')}"
        for units in (METRIC, OWN):
            point, comma = (in_units(said, units.model_copy(update={"sign": sign})) for sign in (".", ","))
            self.assertEqual(comma.replace(",", "."), point.replace(",", "."))
            self.assertEqual(re.findall(r"\d[.]\d", comma), ["3.5"])
            self.assertIn("2.5 times", point)


class OnTheScale(unittest.TestCase):
    def test_a_reading_is_on_the_scale_and_lye_never_more_than_reckoned(self) -> None:
        dice = random.Random(7)
        odd = Scales(scales=(Scale(step=0.1, capacity=500), Scale(step=1, capacity=20_000)), unit="oz")
        for scales in (USUAL_SCALES["oz"], USUAL_SCALES["lb"], odd):
            for _ in range(400):
                grams = 10 ** dice.uniform(0.3, 4)
                step = scales.step(grams)
                told, down = ounces(scales.shown(grams)), ounces(scales.shown(grams, down=True))
                self.assertAlmostEqual(told * constants.oz * 1000, grams, delta=step / 2 + 0.002 * step)
                self.assertLessEqual(down * constants.oz * 1000, grams * (1 + 1e-9))
                self.assertGreater(down * constants.oz * 1000, grams - 1.01 * step)
                self.assertAlmostEqual(told * constants.oz * 1000, scales.reading(grams), places=5)
                also = float(in_units(scales.in_grams(grams)).split("\xa0")[0])
                self.assertLessEqual(also, grams + 1e-6)

    def test_a_sheet_in_ounces_weighs_the_same_and_tells_lye_in_grams_too(self) -> None:
        metric = weigh(recipe(), SHELF).sheet
        own = weigh(recipe(), SHELF.model_copy(update={"scales": USUAL_SCALES["oz"]})).sheet
        assert metric is not None and own is not None
        for a, b in zip(metric.lines, own.lines, strict=True):
            self.assertAlmostEqual(a.grams, b.grams, places=9)
            self.assertEqual((a.also, b.shown.endswith("\xa0oz")), ("", True))
            self.assertEqual(b.also.endswith("\xa0g"), b.kind == "alkali", b.name)
            if b.kind == "alkali":
                self.assertAlmostEqual(float(in_units(b.also)[:-2]), b.grams, delta=own.naoh * 0.01)
        self.assertEqual([p.from_jug.count("(") for p in (x.shown for x in own.portions)], [1] * len(own.portions))
