"""What is said of the bar, and the label draft."""

import unittest

from roundstone.core.recipe import Dose, FatShare, LiquidUse, Recipe
from roundstone.core.sheet import describe, label
from tests.samples import SHELF, recipe, weighed


def labelled(of: Recipe) -> tuple[tuple[str, ...], tuple[str, ...]]:
    draft = label(of, SHELF, weighed(of).lines)
    return draft.went_in, draft.became


class Bar(unittest.TestCase):
    def test_words_follow_the_acids(self) -> None:
        """Common practice: hard fats cut early, olive alone late; linseed spoils, coconut keeps."""
        fats = SHELF.fats
        hard = describe([(0.5, fats["coconut"]), (0.5, fats["tallow"])], (), 0.05, 0.33)
        soft = describe([(1.0, fats["olive"])], (), 0.05, 0.30)
        self.assertIn("12 to 24 hours", hard.cutting)
        self.assertIn("2 to 4 days", soft.cutting)
        self.assertIn("keeps well", describe([(1.0, fats["coconut"])], (), 0.05, 0.33).keeping)
        self.assertIn("spoils early", describe([(1.0, fats["linseed"])], (), 0.05, 0.33).keeping)

    def test_label_by_weight_both_ways(self) -> None:
        fats = (FatShare(fat="olive", share=0.6), FatShare(fat="coconut", share=0.4))
        went_in, became = labelled(recipe(fats=fats, scents=()))
        self.assertEqual(went_in, ("Olea Europaea Fruit Oil", "Cocos Nucifera Oil", "Aqua", "Sodium Hydroxide"))
        self.assertEqual(became[:2], ("Sodium Olivate", "Sodium Cocoate"))
        self.assertIn("Glycerin", became)
        self.assertNotIn("Sodium Hydroxide", became, "none is left")
        self.assertEqual(
            set(became[-2:]), {"Olea Europaea Fruit Oil", "Cocos Nucifera Oil"}, "the superfat stays as fat"
        )

    def test_potassium_soap_is_named_so(self) -> None:
        went_in, became = labelled(recipe(koh_share=1.0))
        self.assertIn("Potassium Hydroxide", went_in)
        self.assertNotIn("Sodium Hydroxide", went_in)
        self.assertTrue(all(not n.startswith("Sodium ") for n in became))

    def test_everything_is_named_once(self) -> None:
        of = recipe(
            additives=(Dose(additive="kaolin", amount=10), Dose(additive="rose-clay", amount=5)),
            liquids=(LiquidUse(liquid="goat-milk", share=0.2), LiquidUse(liquid="tea", share=0.2, goes="stir")),
        )
        for names in labelled(of):
            self.assertEqual(len(names), len(set(names)))
            for name in ("Kaolin", "Goat Milk", "Parfum", "Aqua"):
                self.assertIn(name, names)

    def test_an_acid_goes_in_as_itself_and_becomes_its_salt(self) -> None:
        """Vinegar is water with a little acetic acid: neither list puts the acid before the fats."""
        sour = (Dose(additive="vinegar", amount=100), Dose(additive="citric-acid", amount=10))
        went_in, became = labelled(recipe(additives=sour))
        for name in ("Acetic Acid", "Citric Acid"):
            self.assertIn(name, went_in)
            self.assertNotIn(name, became)
        self.assertIn("Sodium Acetate", became)
        self.assertLess(went_in.index("Aqua"), went_in.index("Citric Acid"))
        self.assertLess(went_in.index("Citric Acid"), went_in.index("Acetic Acid"), "10 g against 5")
        _, soft = labelled(recipe(additives=sour, koh_share=1.0))
        self.assertIn("Potassium Citrate", soft)

    def test_free_acids_keep_no_superfat(self) -> None:
        fats = (FatShare(fat="olive", share=0.6), FatShare(fat="stearic-acid", share=0.4))
        _, became = labelled(recipe(fats=fats))
        self.assertIn("Sodium Stearate", became)
        self.assertNotIn("Stearic Acid", became)

    def test_allergens_of_the_blend(self) -> None:
        fragrance = SHELF.fragrances["moderate"].model_copy(update={"allergens": ("Linalool", "Limonene")})
        shelf = SHELF.model_copy(update={"fragrances": dict(SHELF.fragrances) | {"moderate": fragrance}})
        draft = label(recipe(), shelf, weighed(recipe()).lines)
        self.assertEqual(draft.allergens, ("Limonene", "Linalool"))
        self.assertIn("rules of the country", draft.note)
