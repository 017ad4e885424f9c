"""The first bar: what a new recipe is, how it gets more colours, and that no fault of a design hides its lye."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.heat import gravest, plan
from roundstone.core.recipe import ByWeight, Design, Dose, FatShare, Portion, Recipe, blank
from roundstone.core.sheet import (
    BarsWanted,
    SetColours,
    TakePortion,
    adjust,
    fitted,
    size_words,
    weigh,
    with_bars,
    with_colours,
)
from roundstone.core.values import Caution, RuleError
from roundstone.reference import moulds
from roundstone.told import METRIC, Reader
from tests.samples import SHELF, many, recipe, weighed

FATS = (FatShare(fat="olive", share=0.7), FatShare(fat="coconut", share=0.3))
TECHNIQUES = sorted(SHELF.techniques)


def first(inches: bool = False) -> Recipe:
    return blank("", moulds(inches)[0].mould, inches).model_copy(update={"fats": FATS})


class New(unittest.TestCase):
    def test_it_is_one_portion_fully_scented_and_plain(self) -> None:
        of = first()
        self.assertEqual([(p.share, p.scent) for p in of.design.portions], [(1.0, 1.0)])
        self.assertEqual(of.design.technique, "plain")
        weighing = weigh(of, SHELF)
        self.assertEqual((weighing.faults, weighing.cautions), ((), ()))

    def test_its_mould_and_temperature_are_round_in_the_makers_units(self) -> None:
        for inches, reader in ((False, METRIC), (True, Reader(weight="lb", length="in", warmth="F"))):
            of = first(inches)
            words = size_words(of, weighed(of))
            self.assertRegex(reader(words.mould), r"^Loaf for (1\.1.kg|2.lb \d)")
            self.assertRegex(reader(words.bars), r"^8 bars of \d")
        self.assertAlmostEqual(first(inches=True).pour_celsius * 9 / 5 + 32, 100)
        for preset in moulds(True):
            for name in ("length", "width", "fill", "diameter"):
                inch = getattr(preset.mould, name, 2.54) / 2.54
                self.assertAlmostEqual(inch * 4, round(inch * 4), places=6, msg=f"{preset.id} {name}")

    def test_every_preset_can_be_poured(self) -> None:
        for inches in (False, True):
            for preset in moulds(inches):
                of = blank("", preset.mould).model_copy(update={"fats": FATS})
                self.assertGreater(weighed(of).bars[0].count, 1, preset.id)
                words = size_words(of, weighed(of)).mould
                self.assertTrue(words.startswith(preset.name.removeprefix("Small ").capitalize()), words)

    def test_bars_wanted_are_bars_got_and_no_mould_too_many(self) -> None:
        for preset in moulds(False):
            of = blank("", preset.mould).model_copy(update={"fats": FATS})
            for count in (1, 7, 8, 9, 36):
                got = with_bars(of, BarsWanted(count=count))
                each = weighed(of).bars[0].count / preset.mould.count
                found = weighed(got).bars[0].count
                self.assertTrue(count <= found < count + each, preset.id)
        with self.assertRaises(RuleError):
            with_bars(recipe(size=ByWeight(grams=500)), BarsWanted(count=8))


class Colours(unittest.TestCase):
    @settings(max_examples=many(60, 600), deadline=None)
    @given(
        technique=st.sampled_from(TECHNIQUES),
        shares=st.lists(st.floats(0.05, 1), min_size=1, max_size=6),
        counts=st.lists(st.integers(1, 3), min_size=1, max_size=4),
    )
    def test_it_can_always_be_poured_and_weighs_the_same(
        self, technique: str, shares: list[float], counts: list[int]
    ) -> None:
        portions = [Portion(name=f"P{i}", share=round(s / sum(shares), 4), scent=i % 2) for i, s in enumerate(shares)]
        rest = round(1 - sum(p.share for p in portions[1:]), 6)
        portions[0] = portions[0].model_copy(update={"share": rest})
        doses = tuple(Dose(additive="titanium-dioxide", amount=5, into=(p.name,)) for p in portions[1:])
        of = recipe(
            size=ByWeight(grams=800),
            additives=doses,
            design=Design(portions=tuple(portions), technique=technique),
        )
        for count in counts:
            fewer = len(of.design.portions) > count
            of = with_colours(of, SetColours(count=count), SHELF)
            self.assertEqual(min(len(of.design.portions), 3), count)
            sheet = weighed(of)  # no fault, whatever it was before
            self.assertAlmostEqual(sum(p.share for p in of.design.portions), 1)
            self.assertAlmostEqual(sheet.naoh, weighed(recipe(size=ByWeight(grams=800))).naoh)
            self.assertTrue(all({*d.into} <= {p.name for p in of.design.portions} for d in of.additives))
            if count == 1 and fewer:
                self.assertEqual(of.design.portions[0].scent, 1.0)

    def test_a_portion_taken_out_leaves_a_design_that_can_be_poured(self) -> None:
        for technique in TECHNIQUES:
            least = max(SHELF.techniques[technique].pots, 2)
            portions = tuple(Portion(name=f"P{i}", share=1 / least) for i in range(least))
            of = recipe(design=Design(portions=portions, technique=technique))
            left = fitted(adjust(of, TakePortion(row=0), None), SHELF)
            self.assertEqual(weigh(left, SHELF).faults, (), technique)


class Sound(unittest.TestCase):
    def test_no_fault_of_a_design_hides_fats_lye_and_water(self) -> None:
        two = (Portion(name="A", share=0.6), Portion(name="B", share=0.4))
        colour = (Dose(additive="titanium-dioxide", amount=6, into=("B",)),)
        faulty = (
            Design(portions=two, technique="no-such"),
            Design(portions=two[:1], technique="drop-swirl"),
            Design(portions=(), technique="plain"),
            Design(portions=(two[0], two[0]), technique="drop-swirl"),
        )
        size = ByWeight(grams=1000)
        for design in faulty:
            for doses in ((), colour):
                of = recipe(design=design, size=size, additives=doses)
                weighing = weigh(of, SHELF)
                self.assertIsNone(weighing.sheet)
                whole = {x.key: x.grams for x in weighed(recipe(size=size)).lines}
                found = {x.key: x.grams for x in weighing.sound}
                self.assertTrue({x.item for x in weighing.sound} >= {"alkali:naoh", "fat:olive"}, design.technique)
                for key, grams in found.items():
                    self.assertAlmostEqual(grams, whole[key], places=6, msg=key)

    def test_any_other_fault_and_what_takes_lye_in_one_portion_hide_them(self) -> None:
        bad = Design(portions=(Portion(name="A", share=1),), technique="drop-swirl")
        sour = (Dose(additive="goat-milk-powder", amount=10, into=("A",)),)
        for changes in ({"superfat": 3.0}, {"additives": sour}):
            self.assertEqual(weigh(recipe(design=bad, **changes), SHELF).sound, ())


class Gravest(unittest.TestCase):
    def test_a_danger_is_said_before_a_note_and_the_rule_where_there_is_neither(self) -> None:
        note, far = Caution(pointer="/water", message="note"), Caution(pointer="/scents/0/load", message="far")
        danger = Caution(pointer="/design/portions/0/share", message="danger", danger=True)
        calm = recipe(scents=())
        heat = plan(calm, SHELF, weighed(calm).lines)
        second = danger.model_copy(update={"message": "another"})
        told = [[c.message for c in gravest(said, heat)] for said in ([far, note, danger, second], [far, note], [far])]
        self.assertEqual(told[:2], [["danger", "another"], ["note"]], "no danger is folded away")
        self.assertIn("Lye into water", told[2][0])
