"""Every sheet reckoned a second time: from the tables' files and atomic masses alone, sharing nothing with the app."""

import csv
import math
import unittest
from importlib import resources
from typing import Any

import periodictable
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from roundstone.core.recipe import ByWeight, Carrier, Dose, FatShare, Recipe
from roundstone.core.sheet import Line, Sheet, weigh
from tests.core.test_weigh import recipes
from tests.samples import SHELF, many

NAOH, KOH = (float(periodictable.formula(f).mass) for f in ("NaOH", "KOH"))
MG_PER_G = 1000


def table(name: str) -> dict[str, dict[str, str]]:
    text = resources.files("roundstone.reference").joinpath(f"{name}.csv").read_text("utf-8")
    return {row["id"]: row for row in csv.DictReader(text.splitlines())}


FATS, LIQUIDS, ADDITIVES = table("fats"), table("liquids"), table("additives")
SOUR = {"citric": ("C6H8O7", 3), "acetic": ("C2H4O2", 1), "lactic": ("C3H6O3", 1), "malic": ("C4H6O5", 2)}
SOUR["tartaric"] = ("C4H6O6", 2)


@st.composite
def awkward(draw: st.DrawFn) -> Recipe:
    """Any recipe, with a stock lye, powders in oil, free acid or water, sour liquids, and acids left hungry besides."""
    plain = draw(recipes())
    oils = st.sampled_from([None, "olive", "coconut", "castor", "oleic-acid"])
    carriers = st.one_of(st.none(), st.builds(Carrier, fat=oils, parts=st.floats(0.5, 20)))
    powders = [
        Dose(
            additive=a,
            amount=draw(st.floats(0, 10)),
            carrier=draw(carriers),
            into=draw(st.sampled_from([(), ("a",), ("b",), ("a", "b")])),
        )
        for a in draw(st.lists(st.sampled_from(["mica", "kaolin", "titanium-dioxide"]), max_size=3, unique=True))
    ]
    if draw(st.booleans()):  # a soap of free acid, as for shaving
        acid = draw(st.sampled_from([i for i, f in FATS.items() if f["kind"] == "acid"]))
        share = draw(st.integers(5, 60)) / 100
        rest = [row for row in plain.fats if row.fat != acid]
        whole = sum(row.share for row in rest) or 1.0
        fats = [row.model_copy(update={"share": row.share / whole * (1 - share)}) for row in rest]
        if rest:
            plain = plain.model_copy(update={"fats": (*fats, FatShare(fat=acid, share=share))})
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
    """Moles and grams that a sheet's lines bring, by the tables' files; `lower` is by how much each may take less."""

    def __init__(self, of: Recipe, sheet: Sheet) -> None:
        self.fat_moles = self.free_moles = self.acid_moles = self.milk_moles = self.oil_moles = 0.0
        self.alkali = self.water = 0.0
        self.lower: list[float] = []
        for line in sheet.lines:
            kind, _, name = line.item.partition(":")
            if kind == "fat":
                self.fat(name, line.grams, line.kind == "carrier")
            elif kind == "liquid":
                row = LIQUIDS[name]
                self.water += line.grams * float(row["water"]) / 100
                self.milk_moles += line.grams * float(row["fat"]) / 100 * float(row["fat_sv"]) / MG_PER_G / KOH
                if row["acid_of"]:
                    formula, groups = SOUR[row["acid_of"]]
                    mass = float(periodictable.formula(formula).mass)
                    self.acid_moles += line.grams * float(row["acid"]) / 100 * groups / mass
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

    def fat(self, name: str, grams: float, carrier: bool) -> None:
        moles, low = (grams * float(FATS[name][column]) / MG_PER_G / KOH for column in ("sv", "sv_low"))
        self.lower.append(moles - low)
        if FATS[name]["kind"] == "acid":
            self.free_moles += moles
        elif carrier:
            self.oil_moles += moles
        else:
            self.fat_moles += moles

    @property
    def eaten(self) -> float:
        """Moles that the fats take, or the free acids where there is no fat at all."""
        return self.fat_moles + self.oil_moles + self.milk_moles or self.free_moles

    def superfat(self, less: float = 0.0) -> float:
        """Held against the fats: what free and other acids take comes off the lye first."""
        takes = self.fat_moles + self.oil_moles + self.milk_moles + self.free_moles + self.acid_moles
        return (takes - less - self.alkali) / self.eaten

    @property
    def lowest(self) -> float:
        """With everything as hungry as is likely, and the lye a hundredth purer than the bag says."""
        return self.superfat(math.hypot(0.01 * self.alkali, *self.lower))


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
    @settings(max_examples=many(120, 5000), deadline=None)
    @given(awkward(), st.sampled_from(["whole", "layers"]), st.sampled_from(["portions", "pour"]))
    def test_every_portion_and_layer(self, of: Recipe, batching: str, scent_at: str) -> None:
        """What is poured off for a portion, vessel by vessel, has the superfat and the range the sheet tells for it."""
        changes = {"batching": batching, "scent_at": scent_at}
        of = of.model_copy(update={"design": of.design.model_copy(update=changes)})
        weighing = weigh(of, SHELF)
        sheet = weighing.sheet
        assume(sheet is not None)
        assert sheet is not None
        whole = sheet.superfat
        for row, portion in enumerate(sheet.portions):
            pot = Pot(of, part(of, sheet, row))
            give = 6e-5 * max(1, pot.alkali / max(pot.eaten, 1e-9))
            self.assertAlmostEqual(portion.superfat, pot.superfat(), delta=give, msg=portion.name)
            self.assertAlmostEqual(portion.likely.low, pot.lowest, delta=2 * give, msg=portion.name)
            self.assertEqual(portion.uneven, abs(portion.superfat - whole.with_liquids) > 0.01)
            # A portion that may likely be lye heavy is a danger: its own, or that of the whole it is like.
            heavy = portion.likely.low < 0 and (portion.uneven or whole.likely.low >= 0)
            told = [c for c in weighing.cautions if c.pointer == f"/design/portions/{row}/share"]
            self.assertEqual(any(c.danger for c in told), heavy)
            self.assertEqual(bool(told), portion.uneven or heavy)
        everything = sum(sum(x.grams for x in part(of, sheet, row).lines) for row in range(len(sheet.portions)))
        scent = (
            0.0
            if of.design.scent_at in ("fats", "emulsion")
            else sum(x.grams for x in sheet.lines if x.kind == "fragrance")
        )
        self.assertAlmostEqual(everything + scent, sheet.total, delta=1e-6 * sheet.total)

    @settings(max_examples=many(200, 5000), deadline=None)
    @given(awkward())
    def test_alkali_water_and_superfat(self, of: Recipe) -> None:
        weighing = weigh(of, SHELF)
        assume(weighing.sheet is not None)
        sheet = weighing.sheet
        assert sheet is not None
        pot = Pot(of, sheet)
        carried = [x for x in sheet.lines if x.kind == "carrier" and x.item]
        free = sum(
            x.grams * float(FATS[x.item[4:]]["sv"]) / MG_PER_G / KOH
            for x in carried
            if FATS[x.item[4:]]["kind"] == "acid" and not of.count_carriers
        )
        discounted = pot.fat_moles + (pot.oil_moles if of.count_carriers else 0.0)
        wanted = discounted * (1 - of.superfat) + pot.free_moles - free + (pot.acid_moles if of.feed_acids else 0.0)
        self.assertAlmostEqual(pot.alkali / wanted, 1, delta=3e-5, msg="moles of alkali")

        give = 6e-5 * max(1, pot.alkali / max(pot.eaten, 1e-9))
        self.assertAlmostEqual(sheet.superfat.with_liquids, pot.superfat(), delta=give)
        self.assertAlmostEqual(sheet.superfat.likely.low, pot.lowest, delta=2 * give)
        heavy = [c for c in weighing.cautions if c.pointer == "/superfat" and c.danger and "may be as low" in c.message]
        self.assertEqual(bool(heavy), sheet.superfat.likely.low < 0)

        wetting = sheet.dispersed.water if sheet.dispersed and of.count_carriers else 0.0
        self.assertAlmostEqual(pot.water + wetting, sheet.water, delta=1e-6 * sheet.water, msg="grams of water")
        pure = sheet.naoh * of.naoh_purity + sheet.koh * of.koh_purity
        self.assertAlmostEqual(sheet.lye_concentration, pure / (pure + sheet.water), delta=1e-6)

    @settings(max_examples=60, deadline=None)
    @given(
        awkward(),
        st.sampled_from(["citric-acid", "vinegar", "lactic-acid", "tartaric-acid", "malic-acid", "ascorbic-acid"]),
    )
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
