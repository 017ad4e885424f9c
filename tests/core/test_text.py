"""Quantities in the maker's units: against SciPy's table of constants, and never a figure too much."""

import random
import re
import unittest

from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter
from scipy import constants
from scipy.constants import convert_temperature

from roundstone.core.formerly import MARK, lifted
from roundstone.core.sheet import weigh
from roundstone.core.shelf import USUAL_SCALES, Scale, Scales
from roundstone.core.text import CM, KG, ML, MM, WARMER_BY, C, G, Part, Text, day, figure, say
from roundstone.told import METRIC, Reader
from tests.samples import SHELF, recipe

PARTS: tuple[Part, ...] = (
    *("0", "-7", "2031-05-01", "5 g", "3.5", ".", "°C", "-", "12.25", " "),
    *(C(-4.5), C(85, both=True), WARMER_BY(5), G(1412.6), KG(2), MM(12.5), CM(3), ML(250)),
    *(figure(2.5), figure(-0.25), day("2031-05-01"), day("2031-12-24", short=True), SHELF.scales.shown(12.37)),
)
OWN = Reader(weight="oz", warmth="F", length="in", volume="fl oz")
READERS = (METRIC, OWN, Reader(sign=",", dates="mdy"), Reader(weight="lb", sign=","))
A_TEXT = TypeAdapter(Text)


def ounces(told: Text | str) -> float:
    """What "2 lb 3.25 oz" comes to."""
    per = {"lb": constants.pound / constants.oz, "oz": 1.0}
    return sum(float(n) * per[unit] for n, unit in re.findall(r"([\d.]+)\xa0(lb|oz)", str(told)))


class Told(unittest.TestCase):
    def test_what_is_told_is_what_a_table_of_constants_says(self) -> None:
        dice = random.Random(5)
        for _ in range(300):
            celsius, grams, mm = dice.randint(-20, 120), dice.uniform(1, 9000), dice.uniform(1, 400)
            parts = (C(celsius), G(grams, ".1f"), MM(mm, ".1f"), ML(grams, ".0f"), WARMER_BY(celsius))
            warm, weight, long, much, by = (float(OWN(say(x)).split("\xa0")[0]) for x in parts)
            self.assertAlmostEqual(warm, convert_temperature(celsius, "C", "F"), delta=0.5)
            self.assertAlmostEqual(weight, grams / 1000 / constants.oz, delta=0.06)
            self.assertAlmostEqual(long, mm / 1000 / constants.inch, delta=0.06)
            self.assertAlmostEqual(much, grams / 1e6 / constants.fluid_ounce, delta=0.08)
            self.assertAlmostEqual(by, celsius * 9 / 5, delta=0.5)
            pounds = Reader(weight="lb")(say(G(grams, ".1f")))
            self.assertAlmostEqual(ounces(pounds), grams / 1000 / constants.oz, delta=0.06)

    def test_words_stay_to_the_letter(self) -> None:
        for typed in ("my 5 g, 40 °C", "5\u00a0g by the 20\u00a0cm", "3 fl oz", "", "a 2031-05-01", "1.5 \u2060."):
            for reader in READERS:
                self.assertEqual(reader(say(typed)), typed)
        mine = say(C(20), " to ", KG(1), ", ", CM(3))
        self.assertEqual(METRIC(mine), "20\u00a0°C to 1\u00a0kg, 3\u00a0cm")

    @given(st.lists(st.sampled_from(PARTS), max_size=8), st.sampled_from(READERS))
    def test_a_text_is_what_its_parts_are(self, parts: list[Part], reader: Reader) -> None:
        """Whatever stands beside them; kept and read back it is the same for every reader."""
        whole = say(*parts)
        self.assertEqual(reader(whole), "".join(reader(say(p)) for p in parts))
        self.assertEqual(METRIC(whole), str(whole))
        again = A_TEXT.validate_json(A_TEXT.dump_json(whole))
        self.assertEqual((again.parts, reader(again)), (whole.parts, reader(whole)))
        self.assertEqual(A_TEXT.dump_python(whole, mode="json", context=reader), reader(whole))

    def test_the_decimal_sign_is_the_readers_and_nothing_else_changes(self) -> None:
        """With a comma for the point every text is the other's, to the letter, but for what somebody typed."""
        shown = SHELF.scales.shown(12.37)
        said = say(
            figure(2.5), " times 3.5; ", C(20.5), " or ", G(12.5), ", ", shown, ", ", C(99), figure(-0.25, ".1f")
        )
        for units in (METRIC, OWN):
            point, comma = (units.model_copy(update={"sign": sign})(said) for sign in (".", ","))
            self.assertEqual(comma.replace(",", "."), point.replace(",", "."))
            self.assertEqual(re.findall(r"\d[.]\d", comma), ["3.5"])
            self.assertIn("2.5 times", point)

    def test_what_older_programs_kept_is_lifted(self) -> None:
        """Marks stood in their strings: before decimal points, units and days."""
        kept = {"shown": f"12{MARK}.4\xa0g", "note": [f"near 85{MARK}\xa0°C{MARK}", "my 5\xa0g"], "n": 3}
        lifted_ = lifted(kept)
        shown, near, typed = (Text.read(x) for x in (lifted_["shown"], *lifted_["note"]))
        self.assertEqual(OWN(shown), "12.4\xa0g", "what a scale showed stays")
        self.assertEqual(Reader(sign=",")(shown), "12,4\xa0g")
        self.assertEqual(OWN(near), "near 185\xa0°F (85\xa0°C)")
        self.assertEqual((OWN(typed), lifted_["n"]), ("my 5\xa0g", 3))


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
                also = float(str(scales.in_grams(grams)).split("\xa0")[0])
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
                self.assertAlmostEqual(float(str(b.also)[:-2]), b.grams, delta=own.naoh * 0.01)
        self.assertEqual([str(p.from_jug).count("(") for p in (x.shown for x in own.portions)], [1] * len(own.portions))
