"""Every sheet reckoned a second time: from the tables' files and atomic masses alone, sharing nothing with the app."""

import csv
import unittest
from importlib import resources
from typing import Any

import periodictable
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from roundstone.core.recipe import ByWeight, Carrier, Dose, Recipe
from roundstone.core.sheet import Line, Sheet, weigh
from tests.core.test_weigh import recipes
from tests.samples import SHELF

NAOH, KOH = (float(periodictable.formula(f).mass) for f in ("NaOH", "KOH"))
MG_PER_G = 1000


def table(name: str) -> dict[str, dict[str, str]]:
    text = resources.files("roundstone.reference").joinpath(f"{name}.csv").read_text("utf-8")
    return {row["id"]: row for row in csv.DictReader(text.splitlines())}


FATS, LIQUIDS, ADDITIVES = table("fats"), table("liquids"), table("additives")


@st.composite
def awkward(draw: st.DrawFn) -> Recipe:
    """Any recipe, with a stock lye, powders in oil or water, and acids left hungry besides."""
    plain = draw(recipes())
    oils = st.sampled_from([None, "olive", "coconut", "castor"])
    carriers = st.one_of(st.none(), st.builds(Carrier, fat=oils, parts=st.floats(0.5, 4)))
    powders = [
        Dose(additive=a, amount=draw(st.floats(0, 10)), carrier=draw(carriers), into=draw(st.sampled_from([None, "a"])))
        for a in draw(st.lists(st.sampled_from(["mica", "kaolin", "titanium-dioxide"]), max_size=3, unique=True))
    ]
    stock = draw(st.sampled_from([None, None, 0.4, 0.5]))
    purities = {"naoh_purity": draw(st.floats(0.9, 1)), "koh_purity": draw(st.floats(0.85, 1))}
    sodium_only: dict[str, Any] = {"koh_share": 0.0, "stock": stock} if stock else {}
    return plain.model_copy(
        update={
            "additives": (*(d for d in plain.additives if d.additive not in {p.additive for p in powders}), *powders),
            "feed_acids": draw(st.booleans()),
            "count_carriers": draw(st.booleans()),
            "size": ByWeight(grams=draw(st.floats(200, 5000))),
            **sodium_only,
            **purities,
        }
    )


class Pot:
    """Moles and grams that a sheet's lines bring, by the tables' files."""

    def __init__(self, of: Recipe, sheet: Sheet) -> None:
        self.fat_moles = self.free_moles = self.acid_moles = self.milk_moles = self.oil_moles = 0.0
        self.alkali = self.water = 0.0
        for line in sheet.lines:
            kind, _, name = line.item.partition(":")
            if kind == "fat" and line.kind == "carrier":
                self.oil_moles += self.saponifies(name, line.grams)
            elif kind == "fat" and FATS[name]["kind"] == "acid":
                self.free_moles += self.saponifies(name, line.grams)
            elif kind == "fat":
                self.fat_moles += self.saponifies(name, line.grams)
            elif kind == "liquid":
                row = LIQUIDS[name]
                self.water += line.grams * float(row["water"]) / 100
                self.milk_moles += line.grams * float(row["fat"]) / 100 * float(row["fat_sv"]) / MG_PER_G / KOH
            elif kind == "additive":
                row = ADDITIVES[name]
                self.milk_moles += line.grams * float(row["fat"]) * float(row["fat_sv"]) / MG_PER_G / KOH
                if row["kind"] in ("acid", "lactate", "sugar"):
                    self.water += line.grams * (1 - float(row["active"]))
                if row["formula"]:
                    mass = float(periodictable.formula(row["formula"]).mass)
                    self.acid_moles += line.grams * float(row["active"]) * int(row["acid_groups"]) / mass
            elif line.kind in ("water", "ice"):
                self.water += line.grams
            elif line.kind == "stock":
                assert of.stock is not None
                self.alkali += line.grams * of.stock * of.naoh_purity / NAOH
                self.water += line.grams * (1 - of.stock)
            elif line.kind == "alkali":
                sodium = name == "naoh"
                purity = of.naoh_purity if sodium else of.koh_purity
                self.alkali += line.grams * purity / (NAOH if sodium else KOH)

    @staticmethod
    def saponifies(fat: str, grams: float) -> float:
        return grams * float(FATS[fat]["sv"]) / MG_PER_G / KOH


def part(of: Recipe, sheet: Sheet, row: int) -> "Sheet":
    """One portion as it is weighed out: its share of every vessel, and what goes into it alone."""
    portion = sheet.portions[row]
    shares = {
        vessel: grams / total if (total := sum(x.grams for x in shared(of, sheet) if x.vessel == vessel)) else 0.0
        for vessel, grams in {"pot": portion.from_pot, "jug": portion.from_jug, "stir": portion.stirred}.items()
    }
    lines = [x.model_copy(update={"grams": x.grams * shares[x.vessel]}) for x in shared(of, sheet)]
    return sheet.model_copy(update={"lines": (*lines, *portion.own)})


def shared(of: Recipe, sheet: Sheet) -> list[Line]:
    alone = of.design.scent_at in ("portions", "pour")
    return [x for x in sheet.lines if not x.into and not (alone and x.kind == "fragrance")]


class SecondReckoning(unittest.TestCase):
    @settings(max_examples=120, deadline=None)
    @given(awkward(), st.sampled_from(["whole", "layers"]), st.sampled_from(["portions", "pour"]))
    def test_every_portion_and_layer(self, of: Recipe, batching: str, scent_at: str) -> None:
        """What is poured off for a portion, vessel by vessel, has the superfat the sheet tells for it."""
        changes = {"batching": batching, "scent_at": scent_at}
        of = of.model_copy(update={"design": of.design.model_copy(update=changes)})
        sheet = weigh(of, SHELF).sheet
        assume(sheet is not None)
        assert sheet is not None
        assume(Pot(of, sheet).fat_moles > 0)
        for row, portion in enumerate(sheet.portions):
            pot = Pot(of, part(of, sheet, row))
            eaten = pot.fat_moles + pot.oil_moles + pot.milk_moles
            left = pot.alkali - pot.free_moles - pot.acid_moles
            give = 6e-5 * max(1, pot.alkali / max(eaten, 1e-9))
            self.assertAlmostEqual(portion.superfat, 1 - left / eaten, delta=give, msg=portion.name)
            whole = sheet.superfat.with_liquids
            self.assertEqual(portion.uneven, abs(portion.superfat - whole) > 0.005)
            told = [c for c in weigh(of, SHELF).cautions if c.pointer == f"/design/portions/{row}/share"]
            self.assertEqual(any(c.danger for c in told), portion.superfat < 0)
            self.assertEqual(bool(told), portion.uneven or portion.superfat < 0)
        everything = sum(sum(x.grams for x in part(of, sheet, row).lines) for row in range(len(sheet.portions)))
        scent = (
            0.0
            if of.design.scent_at in ("fats", "emulsion")
            else sum(x.grams for x in sheet.lines if x.kind == "fragrance")
        )
        self.assertAlmostEqual(everything + scent, sheet.total, delta=1e-6 * sheet.total)

    @settings(max_examples=200, deadline=None)
    @given(awkward())
    def test_alkali_water_and_superfat(self, of: Recipe) -> None:
        weighing = weigh(of, SHELF)
        assume(weighing.sheet is not None)
        sheet = weighing.sheet
        assert sheet is not None
        pot = Pot(of, sheet)
        discounted = pot.fat_moles + (pot.oil_moles if of.count_carriers else 0.0)
        wanted = discounted * (1 - of.superfat) + pot.free_moles + (pot.acid_moles if of.feed_acids else 0.0)
        self.assertAlmostEqual(pot.alkali / wanted, 1, delta=3e-5, msg="moles of alkali")

        left = pot.alkali - pot.free_moles - pot.acid_moles
        eaten = pot.fat_moles + pot.oil_moles + pot.milk_moles
        give = 6e-5 * max(1, pot.alkali / max(eaten, 1e-9))
        if pot.fat_moles > 0:
            self.assertAlmostEqual(sheet.superfat.with_liquids, 1 - left / eaten, delta=give)

        wetting = sheet.dispersed.water if sheet.dispersed and of.count_carriers else 0.0
        self.assertAlmostEqual(pot.water + wetting, sheet.water, delta=1e-6 * sheet.water, msg="grams of water")
        pure = sheet.naoh * of.naoh_purity + sheet.koh * of.koh_purity
        self.assertAlmostEqual(sheet.lye_concentration, pure / (pure + sheet.water), delta=1e-6)

    @settings(max_examples=60, deadline=None)
    @given(awkward(), st.sampled_from(["citric-acid", "vinegar", "lactic-acid", "tartaric-acid"]))
    def test_an_acid_that_is_fed_leaves_the_superfat_alone(self, of: Recipe, acid: str) -> None:
        plain = of.model_copy(update={"feed_acids": True, "additives": ()})
        soured = plain.model_copy(update={"additives": (Dose(additive=acid, amount=5),)})
        sheets = [weigh(x, SHELF).sheet for x in (plain, soured)]
        assume(None not in sheets)
        before, after = (s for s in sheets if s is not None)
        self.assertAlmostEqual(before.superfat.with_liquids, after.superfat.with_liquids, delta=2e-3)
        if of.stock is None:
            self.assertGreater(after.naoh + after.koh, before.naoh + before.koh)


if __name__ == "__main__":
    unittest.main()
