"""Fats by certificate: the lye follows the figure, and doubtful figures are said or refused."""

import unittest

import periodictable
from hypothesis import given
from hypothesis import strategies as st

from roundstone.core.recipe import Dose, FatShare
from roundstone.core.sheet import label, weigh
from roundstone.core.shelf import Additive, Fat, Liquid, NewAdditive, NewFat, NewLiquid, consistency, make
from roundstone.core.values import RuleError
from roundstone.reference import shelf
from tests.samples import SHELF, recipe, weighed

FATS = shelf().fats


def custom_fat(sv: float | None, acids: dict[str, float] | None = None) -> Fat:
    made = make(NewFat(name="Olive, lot 7", kin="olive", sv=sv, acids=acids), "olive-lot-7", SHELF)
    assert isinstance(made, Fat)
    return made


class Certificate(unittest.TestCase):
    def test_lye_follows_it_and_the_range_narrows(self) -> None:
        mine = custom_fat(187.0)
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
            with self.assertRaises(RuleError) as refused:
                custom_fat(wrong)
            self.assertEqual(refused.exception.faults[0].pointer, "/sv")
        self.assertEqual(consistency(custom_fat(191.0), FATS), ())
        self.assertIn("lye follows the certificate", consistency(custom_fat(181.0), FATS)[0].message)

    def test_a_figure_at_odds_with_its_own_acids_is_refused(self) -> None:
        """Olive's acids beside coconut's 257 would get a third more lye than olive takes."""
        acids = dict(FATS["olive"].acids)
        with self.assertRaises(RuleError) as refused:
            custom_fat(257.0, acids)
        for words in ("184 to 196", "35 % more lye"):
            self.assertIn(words, refused.exception.faults[0].message)
        other = {"12:0": 48.0, "14:0": 19.0, "16:0": 9.0, "8:0": 8.0, "10:0": 6.0, "18:1": 8.0, "18:0": 2.0}
        self.assertAlmostEqual(custom_fat(257.0, other).sv, 257, msg="acids of its own decide, not the kin")
        with self.assertRaises(RuleError):
            custom_fat(190.0, other)

    @given(st.sampled_from(sorted(FATS)), st.floats(0.85, 1.15))
    def test_what_is_taken_is_near_or_said_in_every_recipe(self, kin: str, off: float) -> None:
        fat = FATS[kin]
        try:
            mine = make(NewFat(name="Mine", kin=kin, sv=fat.sv * off), "mine", SHELF)
        except RuleError:
            self.assertFalse(fat.sv_low <= fat.sv * off <= fat.sv_high, "what the table has is never refused")
            return
        assert isinstance(mine, Fat)
        usual = fat.sv_low <= mine.sv <= fat.sv_high
        own = SHELF.model_copy(update={"fats": dict(SHELF.fats) | {"mine": mine}})
        rest = FatShare(fat="lard" if kin == "olive" else "olive", share=0.5)
        told = weigh(recipe(fats=(FatShare(fat="mine", share=0.5), rest)), own).cautions
        said = [c for c in told if c.pointer == "/fats/0/share"]
        self.assertEqual([c.danger for c in said], [] if usual else [True])
        # Never so far that a superfat of 5 % at the table's edge is used up.
        self.assertTrue(fat.sv_low * 0.95 < mine.sv < fat.sv_high * 1.05)

    def test_by_its_acids_alone(self) -> None:
        """An all-oleic fat is triolein: 190.1 mg KOH per g from its molar mass, 885.4."""
        triolein = custom_fat(None, {"18:1": 100.0})
        self.assertAlmostEqual(triolein.sv / (1 - FATS["olive"].unsaponifiable), 190.1, delta=0.1)
        for acids in ({"18:1": 60.0}, {"18:1": 120.0}, {"99:9": 100.0}):
            with self.assertRaises(RuleError):
                custom_fat(None, acids)


class OthersOfOnesOwn(unittest.TestCase):
    def test_an_acid_takes_the_lye_of_its_molar_mass(self) -> None:
        """Malic acid, a dibasic acid: stoichiometry from atomic masses of `periodictable`."""
        mass, naoh = (float(periodictable.formula(f).mass) for f in ("C4H6O5", "NaOH"))
        new = NewAdditive(
            name="Malic", sort="acid", moment="before-lye", usual=8, most=30, molar_mass=mass, valence=2, active=0.9
        )
        malic = make(new, "malic", SHELF)
        assert isinstance(malic, Additive)
        with_it = SHELF.model_copy(update={"additives": dict(SHELF.additives) | {"malic": malic}})
        plain = weighed(recipe())
        fed = weigh(recipe(additives=(Dose(additive="malic", amount=10),)), with_it).sheet
        assert fed is not None
        self.assertAlmostEqual((fed.naoh - plain.naoh) * 0.99, 10 * 0.9 * 2 * naoh / mass, delta=1e-3)

    def test_what_cannot_be_is_refused_beside_its_field(self) -> None:
        acid = {"name": "x", "sort": "acid", "moment": "before-lye", "usual": 5, "most": 20}
        water = {"name": "x", "water": 0.9}
        for new, at in (
            (NewAdditive.model_validate(acid), "/molar_mass"),
            (NewAdditive.model_validate(acid | {"molar_mass": 100.0}), "/valence"),
            (NewAdditive.model_validate(acid | {"sort": "clay", "valence": 2}), "/valence"),
            (NewAdditive.model_validate(acid | {"molar_mass": 98.0, "valence": 6}), "/valence"),
            (NewAdditive.model_validate(acid | {"sort": "clay", "most": 1}), "/most"),
            (NewLiquid.model_validate(water | {"fat": 0.2}), "/water"),
            (NewLiquid.model_validate(water | {"water": 0.1}), "/water"),
            (NewFat(name="x", kin="olive"), "/sv"),
            (NewFat(name="x", kin="nothing", sv=190), "/kin"),
        ):
            with self.assertRaises(RuleError) as refused:
                make(new, "x", SHELF)
            self.assertEqual(refused.exception.faults[0].pointer, at)
        milk = make(NewLiquid(name="Mare", milk=True, water=0.9, sugars=0.06, fat=0.015), "mare", SHELF)
        assert isinstance(milk, Liquid)
        self.assertEqual(milk.kind, "milk")

    def test_a_milk_powder_brings_its_fat_and_an_acid_its_salt(self) -> None:
        powder = make(
            NewAdditive(name="Cream powder", sort="milk", moment="fats", usual=20, most=80, fat=0.5), "p", SHELF
        )
        acid = NewAdditive(
            name="Malic",
            sort="acid",
            moment="before-lye",
            usual=5,
            most=20,
            molar_mass=134.09,
            valence=2,
            salt="Malate",
        )
        malic = make(acid, "m", SHELF)
        assert isinstance(powder, Additive) and isinstance(malic, Additive)
        added = {"p": powder, "m": malic}
        own = SHELF.model_copy(update={"additives": dict(SHELF.additives) | added})
        doses = tuple(Dose(additive=a, amount=n) for a, n in (("p", 40), ("m", 5)))
        of = recipe(additives=doses)
        sheet = weigh(of, own).sheet
        assert sheet is not None
        # 20 g of butterfat to the kilogram, 230 mg KOH a gram against the fats' own.
        more = 0.020 * 230 / sheet.saponification_value
        self.assertAlmostEqual(sheet.superfat.with_liquids, 1 - 0.95 / (1 + more), delta=1e-3)
        self.assertIn("Sodium Malate", label(of, own, sheet.lines).became)
