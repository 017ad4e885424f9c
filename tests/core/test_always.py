"""What holds of every sheet."""

import math
import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.recipe import (
    Box,
    ByConcentration,
    ByFats,
    ByMoulds,
    ByRatio,
    ByWeight,
    Cavities,
    Design,
    Dose,
    Embed,
    FatShare,
    LiquidUse,
    Portion,
    Recipe,
    Scent,
    mould,
)
from roundstone.core.sheet import weigh
from roundstone.reference import shelf as reference_shelf
from tests.core.test_weigh import KOH, NAOH, recipes
from tests.samples import SHELF, TWO, recipe, weighed

LOAF = ByMoulds(moulds=(Box(length=24, width=8, fill=6, cut=24),))


class Always(unittest.TestCase):
    @settings(max_examples=120, deadline=None)
    @given(recipes(), st.floats(0.1, 10))
    def test_scaling_scales_every_weight(self, plain: Recipe, factor: float) -> None:
        grams = min(max(weighed(plain).fats, 100), 20_000)
        one = weighed(plain.model_copy(update={"size": ByWeight(grams=grams)}))
        two = weighed(plain.model_copy(update={"size": ByWeight(grams=grams * factor)}))
        for a, b in zip(one.lines, two.lines, strict=True):
            self.assertAlmostEqual(a.grams * factor, b.grams, delta=1e-6 * max(1, b.grams))
        for field in ("with_liquids", "likely", "extreme"):
            a, b = (one.superfat.model_dump()[field], two.superfat.model_dump()[field])
            for x, y in zip(*([v.values() if isinstance(v, dict) else [v]] for v in (a, b)), strict=True):
                for left, right in zip(x, y, strict=True):
                    self.assertAlmostEqual(left, right, delta=1e-9 * max(1, abs(left)))
        self.assertEqual(one.factors, two.factors)

    @settings(max_examples=150, deadline=None)
    @given(recipes())
    def test_nothing_is_lost_or_caustic(self, any_recipe: Recipe) -> None:
        sheet = weighed(any_recipe)
        self.assertAlmostEqual(sum(x.grams for x in sheet.lines), sheet.total, delta=1e-6 * sheet.total)
        for line in sheet.lines:
            self.assertTrue(math.isfinite(line.grams) and line.grams >= 0, line)
        # Never more alkali than the fats at their typical values and the acids can take, in moles.
        can_take = sum(x.grams * SHELF.fats[x.item[4:]].sv / 1000 / KOH for x in sheet.lines if x.kind == "fat")
        for kind, table in (("additive", SHELF.additives), ("liquid", SHELF.liquids)):
            sour = [x for x in sheet.lines if x.kind == kind]
            can_take += sum(x.grams * table[x.item.partition(":")[2]].naoh / NAOH for x in sour)
        given = sheet.naoh * any_recipe.naoh_purity / NAOH + sheet.koh * any_recipe.koh_purity / KOH
        self.assertLessEqual(given, can_take * (1 + 2e-5))
        self.assertGreaterEqual(sheet.water_per_lye, 1 - 1e-9)
        self.assertLessEqual(sheet.superfat.extreme.low, sheet.superfat.likely.low + 1e-12)
        self.assertLessEqual(sheet.superfat.likely.low, sheet.superfat.with_liquids)
        self.assertLessEqual(sheet.superfat.with_liquids, sheet.superfat.likely.high)
        if any(SHELF.fats[row.fat].kind != "acid" for row in any_recipe.fats):
            self.assertLessEqual(any_recipe.superfat, sheet.superfat.with_liquids + 1e-9)
        self.assertAlmostEqual(sum(sheet.bar.strata.values()), 1, delta=1e-9)
        self.assertAlmostEqual(
            sum(p.batter + p.fragrance for p in sheet.portions), sheet.total, delta=1e-6 * sheet.total
        )
        if isinstance(any_recipe.size, ByMoulds):
            held = sum(mould.millilitres(m) for m in any_recipe.size.moulds) * (1 + any_recipe.size.spare)
            count = sum(m.count for m in any_recipe.size.moulds)
            pieces = sum(e.count * e.grams for e in any_recipe.embeds)
            held -= count * pieces / 1.05 * (1 + any_recipe.size.spare)
            self.assertAlmostEqual(sheet.millilitres, held, delta=1e-6 * sheet.millilitres)

    @settings(max_examples=60, deadline=None)
    @given(recipes())
    def test_the_three_ways_to_set_water_agree(self, any_recipe: Recipe) -> None:
        sheet = weighed(any_recipe)
        rules = (
            ByConcentration(share=sheet.lye_concentration),
            ByRatio(parts=sheet.water_per_lye),
            ByFats(share=sheet.water_of_fats),
        )
        for rule in rules:
            again = weigh(any_recipe.model_copy(update={"water": rule}), SHELF).sheet
            if again is not None:  # at the very edge a rounding may step over it
                self.assertAlmostEqual(again.water / again.fats, sheet.water / sheet.fats, delta=1e-6)

    def test_every_way_to_be_wrong_is_told_where_it_is(self) -> None:
        def share(*rows: tuple[str, float]) -> tuple[FatShare, ...]:
            return tuple(FatShare(fat=f, share=s) for f, s in rows)

        def design(*shares: float) -> Design:
            portions = tuple(Portion(name=f"p{i}", share=s, scent=1.0) for i, s in enumerate(shares))
            return Design(portions=portions, technique="drop-swirl")

        wrong: dict[str, list[dict[str, Any]]] = {
            "/fats": [{"fats": ()}, {"fats": share(("olive", 0.5), ("coconut", 0.4))}],
            "/fats/1/share": [
                {"fats": share(("olive", 1.2), ("coconut", -0.2))},
                {"fats": share(("olive", 1.0), ("coconut", 0.0))},
            ],
            "/fats/1/fat": [
                {"fats": share(("olive", 0.5), ("olive", 0.5))},
                {"fats": share(("olive", 0.5), ("x", 0.5))},
            ],
            "/superfat": [{"superfat": -0.01}, {"superfat": 0.21}],
            "/water/share": [
                {"water": ByConcentration(share=0.19)},
                {"water": ByConcentration(share=0.51)},
                {"water": ByFats(share=0.06)},
                {"water": ByFats(share=2)},
            ],
            "/water/parts": [{"water": ByRatio(parts=0.99)}, {"water": ByRatio(parts=4.1)}],
            "/koh_share": [{"koh_share": -0.1}],
            "/koh_purity": [{"koh_purity": 0.2}],
            "/ice": [{"ice": 1.2}],
            "/stock": [{"stock": 0.6}, {"stock": 0.3}, {"stock": 0.5, "koh_share": 0.5}],
            "/liquids/0/share": [
                {"liquids": (LiquidUse(liquid="goat-milk", share=1.1),)},
                {"liquids": (LiquidUse(liquid="goat-milk", share=0.8, goes="pot"),)},
            ],
            "/liquids/0/liquid": [{"liquids": (LiquidUse(liquid="water", share=0.5),)}],
            "/liquids/1/share": [
                {"liquids": (LiquidUse(liquid="goat-milk", share=0.6), LiquidUse(liquid="beer", share=0.6))}
            ],
            "/scents/1/load": [{"scents": (Scent(fragrance="slight", load=0.09), Scent(fragrance="none", load=0.09))}],
            "/naoh_purity": [{"naoh_purity": 0.5}, {"naoh_purity": 1.01}],
            "/additives/0/amount": [
                {"additives": (Dose(additive="sugar", amount=-1),)},
                {"additives": (Dose(additive="sugar", amount=5000),)},
            ],
            "/scents/0/load": [{"scents": (Scent(fragrance="slight", load=-0.01),)}],
            "/scents/0/fragrance": [{"scents": (Scent(fragrance="gone", load=0.01),)}],
            "/size/grams": [{"size": ByWeight(grams=0)}, {"size": ByWeight(grams=-5)}, {"size": ByWeight(grams=1e9)}],
            "/size/moulds": [{"size": ByMoulds(moulds=())}],
            "/size/moulds/0/fill": [{"size": ByMoulds(moulds=(Box(length=20, width=8, fill=0),))}],
            "/size/moulds/0/cut": [{"size": ByMoulds(moulds=(Box(length=20, width=8, fill=6, cut=300),))}],
            "/size/moulds/0/count": [{"size": ByMoulds(moulds=(Cavities(count=0, millilitres=90),))}],
            "/embeds/0/name": [{"embeds": (Embed(name="", grams=5),)}],
            "/embeds/0/count": [{"embeds": (Embed(name="cube", count=n, grams=500),), "size": LOAF} for n in (0, 3)],
            "/embeds/0/grams": [{"embeds": (Embed(name="cube", grams=g),)} for g in (-1, 3e4)],
            "/pour_celsius": [{"pour_celsius": -3}],
            "/design/portions/1/share": [{"design": design(0.5, 0.4)}, {"design": design(0.5, -0.5)}],
            "/design/technique": [{"design": design(1.0)}],
            "/name": [{"name": " "}],
        }
        for pointer, cases in wrong.items():
            for changes in cases:
                with self.subTest(pointer, **changes):
                    weighing = weigh(recipe(**changes), SHELF)
                    self.assertIn(pointer, [f.pointer for f in weighing.faults])
                    self.assertIsNone(weighing.sheet, "no lye is shown beside a mistake")

    def test_a_mend_mends(self) -> None:
        short = recipe(fats=(FatShare(fat="olive", share=0.6), FatShare(fat="coconut", share=0.3)))
        fault = weigh(short, SHELF).faults[0]
        self.assertIn("90 %: 10 % is missing", fault.message)
        mend = fault.mends[0]
        self.assertEqual((mend.pointer, mend.value), ("/fats/0/share", 0.7))
        fats = (FatShare(fat="olive", share=mend.value), short.fats[1])
        self.assertIsNotNone(weigh(short.model_copy(update={"fats": fats}), SHELF).sheet)

    def test_lye_heavy_by_nature_is_said_aloud(self) -> None:
        cautions = weigh(recipe(fats=(FatShare(fat="olive", share=1.0),), superfat=0.0), SHELF).cautions
        self.assertTrue(any(c.pointer == "/superfat" and c.danger and "lye heavy" in c.message for c in cautions))

    def test_milks_as_published(self) -> None:
        """USDA FoodData Central: fat, protein and sugars of fluid milks, per gram."""
        for name, parts in {
            "goat-milk": (0.0414, 0.0356, 0.0445),
            "cow-milk": (0.032, 0.0327, 0.0481),
            "coconut-milk": (0.2384, 0.0229, 0.0334),
        }.items():
            milk = reference_shelf().liquids[name]
            for ours, published in zip((milk.fat, milk.protein, milk.sugars), parts, strict=True):
                self.assertAlmostEqual(ours, published, delta=1e-9)

    def test_two_portions_share_one_pot(self) -> None:
        sheet = weighed(recipe())
        base, bone = sheet.portions
        self.assertAlmostEqual(base.batter / bone.batter, TWO[0].share / TWO[1].share, delta=1e-9)
        self.assertEqual(bone.fragrance, 0)
