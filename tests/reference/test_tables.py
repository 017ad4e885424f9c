"""The tables of facts: every row has a source and makes sense beside the others."""

import unittest
from typing import get_args

from roundstone.core.batter import CLAIM, FACTORS, FAMILY, THRESHOLDS
from roundstone.core.shelf import ACID_FORMULA, Claim, Family, LookAct, band_words
from roundstone.reference import shelf

KINDS_OF_SOURCE = ("Codex", "USDA", "common practice", "from memory", "chosen", "dose", "definition", "molar mass")


class Tables(unittest.TestCase):
    def test_every_row_names_its_source(self) -> None:
        s = shelf()
        for table in (s.fats, s.liquids, s.additives, s.techniques):
            for key, row in table.items():
                self.assertEqual(key, row.id)
                self.assertTrue(any(kind in row.source for kind in KINDS_OF_SOURCE), f"{key}: " + repr(row.source))

    def test_acids_are_known_and_hard_fats_melt_high(self) -> None:
        for fat in shelf().fats.values():
            self.assertLessEqual(set(fat.acids), set(ACID_FORMULA), fat.id)
            if fat.kind != "fat":
                continue
            saturated = fat.acid_share("12:0", "14:0", "16:0", "18:0", "20:0", "22:0")
            if fat.melts is None:
                self.assertLess(saturated, 0.37, f"{fat.id} is liquid but mostly saturated")
            else:
                self.assertGreater(saturated, 0.28, f"{fat.id} melts but is hardly saturated")

    def test_liquids_add_up(self) -> None:
        for liquid in shelf().liquids.values():
            self.assertLessEqual(
                liquid.water + liquid.fat + liquid.protein + liquid.sugars + liquid.acid, 1 + 1e-9, liquid.id
            )
            self.assertGreaterEqual(liquid.solids, liquid.fat)

    def test_additives_feed_known_factors_within_their_doses(self) -> None:
        for additive in shelf().additives.values():
            self.assertTrue(additive.factor is None or additive.factor in FACTORS, additive.id)
        for fat in shelf().fats.values():
            self.assertIn(fat.covariate, ("", *FACTORS), fat.id)
            self.assertTrue(0 < additive.usual <= additive.most, additive.id)
            self.assertTrue(additive.moment, "the moment it goes in is told")
            self.assertTrue(0 < additive.active <= 1)
            self.assertTrue(
                0.05 <= additive.spoon / 4.93 / additive.density <= 1.05, f"{additive.id}: spoon and density"
            )
            self.assertTrue(additive.inci)

    def test_common_doses(self) -> None:
        """Common practice: about a teaspoon of sugar (4.2 g), kaolin or lactate per pound (454 g) of fats."""
        additives = shelf().additives
        self.assertAlmostEqual(additives["sugar"].usual, 4.2 / 0.454, delta=1.0)
        for name in ("kaolin", "sodium-lactate"):
            self.assertTrue(5 <= additives[name].usual <= 15)

    def test_fats_within_what_is_published_and_named_as_their_soap_is(self) -> None:
        """Ranges of saponification and iodine values, and soap names, as the trade's tables have them: from memory."""
        fats = shelf().fats
        values = {  # saponification value mg KOH/g, iodine value g/100 g
            "shea": ((160, 195), (30, 75)),
            "tallow": ((190, 202), (40, 53)),
            "lanolin": ((77, 130), (15, 47)),
            "brazil-nut": ((185, 202), (94, 110)),
            "candelilla": ((35, 87), (14, 44)),
            "butterfat": ((210, 240), (25, 42)),
            "almond": ((183, 207), (85, 109)),
            "pistachio": ((180, 200), (84, 98)),
            "jojoba": ((88, 101), (78, 90)),
            "beeswax": ((87, 104), (5, 15)),
            "meadowfoam": ((162, 175), (85, 105)),
        }
        for name, (sv, iodine) in values.items():
            fat = fats[name]
            spans = ((fat.sv_low, fat.sv, fat.sv_high, sv), (fat.iodine_low, fat.iodine_value, fat.iodine_high, iodine))
            for low, middle, high, (least, most) in spans:
                self.assertTrue(least <= low <= middle <= high <= most, f"{name}: {low} to {high}")
        for name in ("hemp", "macadamia", "mango", "sunflower"):
            soap = next(f.soap for f in fats.values() if f.id.startswith(name))
            self.assertTrue(soap.lower().endswith("seedate"), soap)
        self.assertFalse([f.id for f in fats.values() if "butyrate" in f.soap.lower()], "another chemical")

    def test_techniques_have_bands_words_and_a_way_out(self) -> None:
        table = shelf()
        techniques = table.techniques
        self.assertEqual(len(techniques), 25)
        self.assertEqual(set(table.acts), set(get_args(LookAct)))
        for t in techniques.values():
            for step in (*t.steps, *table.acts.values()):
                self.assertEqual(list(step.band), sorted(step.band), t.id)
                self.assertTrue(band_words(step.band))
            for kin in (k for way in t.turns.values() for k in way):
                self.assertIn(kin, techniques, f"{t.id} turns to {kin}")
            if t.family in ("fluid", "layer") and "split" in t.turns:
                firmest = max(max(x.band[2] for x in techniques[k].steps) for k in t.turns["split"])
                self.assertGreater(firmest, 4.4, f"{t.id} has no way out when the batter thickens")
            if "surface" in t.how or t.id in ("jug-swirl", "bowl-stripes"):
                continue  # poured from what all were poured into
            used = {"base": 0.0, "accents": 0.0}
            for step in t.steps:
                for role in used:
                    mine = {"each": "accents", "all": "", "one": ""}.get(step.who, step.who)
                    used[role] += step.part if mine in (role, "") and step.do not in ("pass", "embed") else 0.0
            self.assertTrue(all(u <= 1 + 1e-9 for u in used.values()), f"{t.id} pours more than there is")

    def test_bands_of_the_trade(self) -> None:
        """Common practice: how thick a technique takes its batter, and what its layers stand on."""
        said = {
            "pot-swirl": "emulsion to light",
            "drop-swirl": "emulsion to medium",
            "hanger-swirl": "emulsion to medium",
            "fade": "emulsion to light",
            "straight-layers": "emulsion to medium",
            "chunks": "late medium to thick",
        }
        for name, words in said.items():
            self.assertEqual(band_words(shelf().techniques[name].steps[0].band), words, name)
        self.assertEqual([x.gate for x in shelf().techniques["slants"].steps], [3.6])

    def test_every_claim_and_family_is_priced(self) -> None:
        self.assertEqual(set(CLAIM), set(Claim))
        self.assertEqual(set(FAMILY), set(Family))
        self.assertEqual(THRESHOLDS, ("light", "medium", "thick", "set"))
        for mean, sd in (*CLAIM.values(), *FAMILY.values()):
            self.assertTrue(-1 < mean < 4 and 0.2 < sd < 1)
