"""The record of colours, what planned batches lack, and what could stand in for a fragrance."""

import unittest
from datetime import UTC, date, datetime
from itertools import pairwise
from typing import Any

from coloraide import Color

from roundstone.core.face import apart
from roundstone.core.logbook import Past, Record, colour_files, colour_name, read, stand_ins
from roundstone.core.pour import EVENT, Event
from roundstone.core.recipe import Design, Dose, FatShare
from roundstone.core.sheet import Lot, LotLeft, Planned, supply, to_order, weigh
from tests.samples import SHELF, TWO, next_id, quick_pour, recipe, weighed

# Keywords of CSS Color Module Level 4 (W3C), by what a maker would call them.
KEYWORDS = {
    "red": ("red", "crimson"),
    "orange": ("orange", "darkorange"),
    "yellow": ("gold", "khaki"),
    "brown": ("saddlebrown", "sienna"),
    "green": ("green", "forestgreen", "yellowgreen"),
    "teal": ("teal", "darkcyan"),
    "blue": ("blue", "royalblue", "navy"),
    "violet": ("purple", "indigo", "orchid"),
    "pink": ("pink", "hotpink"),
    "grey": ("grey", "silver"),
    "white": ("white", "snow"),
    "black": ("black",),
}


def told(kind: str, minute: float, **fields: Any) -> Event:
    return EVENT.validate_python({"id": next_id(), "kind": kind, "minute": minute, **fields})


def record(*stories: tuple[Event, ...], into: str | None = "Base", more: tuple[Dose, ...] = ()) -> Record:
    of = recipe(additives=(Dose(additive="ultramarine", amount=3, into=(into,) if into else ()), *more))
    return read(SHELF, [Past(str(n), of, [*quick_pour(), *story]) for n, story in enumerate(stories)])


def swatch(at: str, tint: str, portion: str | None = "Base") -> Event:
    return told("swatch", 100, at=at, tint=tint, portion=portion)


class Colours(unittest.TestCase):
    def test_colours_are_called_as_css_calls_them(self) -> None:
        for name, keywords in KEYWORDS.items():
            for keyword in keywords:
                with self.subTest(keyword):
                    self.assertEqual(colour_name(Color(keyword).convert("srgb").to_string(hex=True)), name)

    def test_the_record_warns_of_what_turned(self) -> None:
        found = record(
            (swatch("wet", "#27406e"), swatch("cut", "#a3302a"), told("gel", 90, how="full")),
            (swatch("wet", "#27406e"), swatch("cut", "#2b4a78"), told("gel", 90, how="none")),
        )
        file = colour_files(SHELF, found.colours)[0]
        self.assertEqual(file.additive, "ultramarine")
        self.assertEqual(len(file.swatches), 4)
        self.assertEqual({s.gelled for s in file.swatches}, {"full", "none"})
        self.assertIn("blue turned red (cut) in Plain in Test moderate", file.warnings)
        self.assertIn("blue read red when gelled (Plain)", file.warnings)
        self.assertEqual(len(file.warnings), 2)

    def test_of_a_mixture_nothing_is_blamed_on_one(self) -> None:
        story = (swatch("wet", "#27406e"), swatch("cut", "#a3302a"))
        found = record(story, more=(Dose(additive="iron-oxide", amount=2, into=("Base",)),))
        for file in colour_files(SHELF, found.colours)[:2]:
            self.assertEqual(len(file.swatches), 2)
            self.assertEqual(file.warnings, ())
            self.assertEqual(len(file.swatches[0].beside), 1)

    def test_another_portion_is_another_colour(self) -> None:
        found = record((swatch("cut", "#a3302a", "Bone"), swatch("cut", "#27406e", None)))
        file = colour_files(SHELF, found.colours)[0]
        self.assertEqual([(s.portion, s.tint) for s in file.swatches], [("Base", "#27406e")])

    def test_what_colours_the_whole_pot_is_seen_in_every_portion(self) -> None:
        found = record((swatch("cured", "#35363a", None),), into=None)
        self.assertEqual({s.portion for s in colour_files(SHELF, found.colours)[0].swatches}, {"Base", "Bone"})

    def test_a_dose_is_one_dose_however_it_is_measured(self) -> None:
        for file in colour_files(SHELF, {}):
            spoon = SHELF.additives[file.additive].spoon
            for dose in file.doses:
                self.assertAlmostEqual(dose.spoons * spoon, dose.cup, places=9)
                self.assertTrue(0 < dose.cup < dose.batter < dose.fats)
            assert file.expected is not None and file.tint and file.expected_gelled is not None
            self.assertLess(apart(file.expected.cured, file.tint), 0.02, "cured is what its table means")


def lot(item: str, grams: float, **more: Any) -> LotLeft:
    of = Lot(item=item, grams=grams, counted=datetime(2026, 1, 1, tzinfo=UTC), **more)
    return LotLeft(id="x", lot=of, left=grams)


class Whites(unittest.TestCase):
    """Common practice: what breaks a white; each told with what keeps it, and nothing where there is nothing."""

    WHITE = (Dose(additive="titanium-dioxide", amount=6, into=("Bone",)),)

    def told(self, vanillin: float = 0.0, scent: float = 1.0, wrap: str = "open", **changes: object) -> list[str]:
        portions = tuple(
            p.model_copy(update={"white": p.name == "Bone", "scent": scent if p.name == "Bone" else 1.0}) for p in TWO
        )
        fragrance = SHELF.fragrances["moderate"].model_copy(update={"vanillin": vanillin})
        shelf = SHELF.model_copy(update={"fragrances": {**SHELF.fragrances, "moderate": fragrance}})
        design = Design.model_validate({"portions": portions, "technique": "drop-swirl", "wrap": wrap})
        fats = (FatShare(fat="lard", share=0.7), FatShare(fat="coconut", share=0.3))
        of = recipe(**{"design": design, "additives": self.WHITE, "fats": fats, **changes})
        found = weigh(of, shelf).cautions
        return [str(c.message) for c in found if c.pointer == "/design/portions/1/white"]

    def test_each_with_what_would_keep_it(self) -> None:
        self.assertEqual(self.told(), [])
        self.assertEqual(self.told(vanillin=0.005), [], "half a percent hardly shows: common practice")
        self.assertIn("leave it unscented", " ".join(self.told(vanillin=0.08)))
        self.assertEqual(self.told(vanillin=0.08, scent=0.0), [])
        self.assertIn("in the fridge", " ".join(self.told(wrap="oven")))
        self.assertIn("Add a white colourant", " ".join(self.told(additives=())))
        green = (FatShare(fat="hemp", share=0.2), FatShare(fat="coconut", share=0.8))
        self.assertIn("paler oil", " ".join(self.told(fats=green)))
        charcoal = (*self.WHITE, Dose(additive="charcoal", amount=3))
        self.assertIn("will not stay white", " ".join(self.told(additives=charcoal)))


class Orders(unittest.TestCase):
    def test_the_last_batches_go_short(self) -> None:
        sheet = weighed(recipe())
        need = sum(x.grams for x in sheet.lines if x.item == "fat:olive")
        planned = [Planned("Late", "2026-06-01", sheet), Planned("Soon", "2026-05-01", sheet)]
        lots = [lot("fat:olive", 1.5 * need), lot("fat:castor", 10_000)]
        found = {line.item: line for line in to_order(planned, lots, SHELF)}
        olive = found["fat:olive"]
        self.assertAlmostEqual(olive.missing, 0.5 * need)
        self.assertEqual((olive.batches, olive.by, olive.counted), (("Late",), "2026-06-01", True))
        self.assertNotIn("fat:castor", found)
        self.assertEqual(found["fat:lard"].batches, ("Soon", "Late"))
        self.assertFalse(found["fat:lard"].counted)
        self.assertEqual(to_order([], lots, SHELF), ())

    def test_an_old_bottle_is_told_of_where_it_is_used(self) -> None:
        of, today = recipe(), date(2026, 6, 1)
        for opened, message in ((date(2025, 1, 1), True), (date(2026, 3, 1), False), (None, False)):
            lots = [lot("fragrance:moderate", 500, label="bottle 2", opened=opened)]
            short = supply(of, weighed(of), SHELF, lots, today).short
            self.assertEqual(any("(bottle 2) was opened 17 months ago" in c.message for c in short), message, opened)


class StandIns(unittest.TestCase):
    def test_kin_first_nothing_that_is_gone_and_minutes_with_the_right_sign(self) -> None:
        kin = SHELF.fragrances["slight"].model_copy(update={"id": "kin", "name": "Kin", "inherits": "moderate"})
        shelf = SHELF.model_copy(update={"fragrances": {**SHELF.fragrances, "kin": kin}})
        taught = read(shelf, ()).light
        found = stand_ins(taught, "moderate", {"slight": 0.0})
        self.assertEqual(found[0].fragrance, "kin")
        self.assertNotIn("slight", [s.fragrance for s in found])
        self.assertTrue(all(a.likeness >= b.likeness for a, b in pairwise(found)))
        by = {s.fragrance: s.minutes for s in stand_ins(taught, "slight", {})}
        self.assertLess(by.get("moderate", -1.0), 0.0, "a faster one comes sooner")
        self.assertGreater(by.get("none", 1.0), 0.0)


if __name__ == "__main__":
    unittest.main()
