"""The sheet: a hand calculation, what must hold for every recipe, and what is refused."""

import math
import unittest
from typing import Any

import periodictable
from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core import mould
from roundstone.core.recipe import (
    ByLoaf,
    ByWeight,
    Design,
    Dose,
    FatShare,
    Milk,
    Portion,
    Recipe,
    Scent,
)
from roundstone.core.weigh import weigh
from roundstone.reference import shelf as reference_shelf
from tests.samples import SHELF, TWO, recipe, weighed


@st.composite
def recipes(draw: st.DrawFn) -> Recipe:
    """Any recipe without faults."""
    ids = draw(st.lists(st.sampled_from(sorted(SHELF.fats)), min_size=1, max_size=12, unique=True))
    parts = [draw(st.integers(1, 100)) for _ in ids]
    shares = [p / sum(parts) for p in parts]
    doses = draw(st.lists(st.sampled_from(sorted(SHELF.additives)), max_size=5, unique=True))
    milk = draw(st.none() | st.sampled_from(["goat-milk", "cow-milk", "coconut-milk"]))
    split = draw(st.integers(5, 95)) / 100
    return Recipe(
        name="any",
        fats=tuple(FatShare(fat=f, share=s) for f, s in zip(ids, shares, strict=True)),
        superfat=draw(st.integers(0, 40)) / 200,
        lye_concentration=draw(st.integers(40, 100)) / 200,
        naoh_purity=draw(st.integers(80, 100)) / 100,
        milk=Milk(liquid=milk, share=draw(st.integers(0, 20)) / 20) if milk else None,
        additives=tuple(Dose(additive=d, per_kg=draw(st.integers(0, 40))) for d in doses),
        scent=draw(st.none() | st.builds(Scent, fragrance=st.just("strong"), load=st.floats(0, 0.1))),
        pour_celsius=draw(st.integers(10, 75)),
        size=draw(
            st.builds(ByWeight, grams=st.floats(10, 200_000))
            | st.builds(ByLoaf, length=st.floats(5, 60), width=st.floats(3, 20), fill=st.floats(2, 10))
        ),
        design=Design(
            portions=(
                Portion(name="a", share=split, scented=True),
                Portion(name="b", share=1 - split, scented=False),
            ),
            technique="drop-swirl",
        ),
    )


class ByHand(unittest.TestCase):
    def test_milk_and_citric_acid(self) -> None:
        """1000 g olive and coconut 70 : 30, 5 % superfat, 33 % lye of 98 % purity, 10 g citric acid, 40 % goat milk."""
        sheet = weighed(
            recipe(
                fats=(FatShare(fat="olive", share=0.7), FatShare(fat="coconut", share=0.3)),
                naoh_purity=0.98,
                additives=(Dose(additive="citric-acid", per_kg=10),),
                milk=Milk(liquid="goat-milk", share=0.4),
                scent=Scent(fragrance="slight", load=0.03),
                size=ByWeight(grams=1000),
            )
        )
        naoh, koh, citric = (float(periodictable.formula(f).mass) for f in ("NaOH", "KOH", "C6H8O7"))
        for_fats = 0.95 * (700 * 0.190 + 300 * 0.257) * naoh / koh
        pure = for_fats + 10 * 3 * naoh / citric
        self.assertAlmostEqual(sheet.lye, pure / 0.98, delta=0.01)
        # All water, that in the milk (87 %) included, makes 33 % lye.
        self.assertAlmostEqual(sheet.water + 0.87 * sheet.milk, pure * 67 / 33, delta=0.02)
        self.assertAlmostEqual(sheet.milk / (sheet.milk + sheet.water), 0.4, delta=1e-9)
        fragrance = 0.03 * 600
        self.assertAlmostEqual(next(x.grams for x in sheet.lines if x.key == "scent"), fragrance, delta=1e-9)
        self.assertAlmostEqual(sheet.total, 1000 + pure / 0.98 + sheet.water + sheet.milk + 10 + fragrance, delta=0.01)
        # The acid's lye is not the fats': the superfat stays what was set, and the milk's fat adds to it.
        self.assertAlmostEqual(sheet.superfat.set, 0.05)
        milk_fat = 0.0414 * sheet.milk
        capacity = (700 * 0.190 + 300 * 0.257 + milk_fat * 0.232) * naoh / koh
        self.assertAlmostEqual(sheet.superfat.with_milk, 1 - for_fats / capacity, delta=1e-5)

    def test_superfat_range_of_one_fat(self) -> None:
        """Olive alone at 5 %: 184 to 196 about 190 gives 1.9 to 7.9 %, likely and extreme alike."""
        span = weighed(recipe(fats=(FatShare(fat="olive", share=1.0),))).superfat
        for found in (span.likely, span.extreme):
            self.assertAlmostEqual(found.low, 1 - 0.95 * 190 / 184, delta=1e-9)
            self.assertAlmostEqual(found.high, 1 - 0.95 * 190 / 196, delta=1e-9)

    def test_fill_of_a_mould(self) -> None:
        """Grams of fats per mL against the house's fill table, for a 190 mg/g fat without fragrance at 38 °C."""
        for percent, expected in {25: 0.656, 28: 0.680, 30: 0.694, 33: 0.712, 36: 0.728, 40: 0.746}.items():
            with self.subTest(percent):
                w = percent / 100
                lye = 0.95 * 0.190 * 39.997 / 56.105 / w
                self.assertAlmostEqual(mould.fats_per_millilitre(lye, w, 38), expected, delta=0.006)

    def test_the_worked_pair(self) -> None:
        """252 g NaOH in 587 g water is 2.33 : 1, 30 % (common practice)."""
        sheet = weighed(recipe(lye_concentration=252 / (252 + 587), naoh_purity=1.0))
        self.assertAlmostEqual(sheet.water_per_lye, 2.33, delta=0.005)


class Always(unittest.TestCase):
    @settings(max_examples=120, deadline=None)
    @given(recipes(), st.floats(0.1, 10))
    def test_scaling_scales_every_weight(self, plain: Recipe, factor: float) -> None:
        grams = min(max(weighed(plain).fats, 100), 20_000)
        one = weighed(plain.model_copy(update={"size": ByWeight(grams=grams)}))
        two = weighed(plain.model_copy(update={"size": ByWeight(grams=grams * factor)}))
        for a, b in zip(one.lines, two.lines, strict=True):
            self.assertAlmostEqual(a.grams * factor, b.grams, delta=1e-6 * max(1, b.grams))
        self.assertEqual(one.superfat, two.superfat)
        self.assertEqual(one.factors, two.factors)

    @settings(max_examples=150, deadline=None)
    @given(recipes())
    def test_nothing_is_lost_or_caustic(self, any_recipe: Recipe) -> None:
        sheet = weighed(any_recipe)
        self.assertAlmostEqual(sum(x.grams for x in sheet.lines), sheet.total, delta=1e-6 * sheet.total)
        for line in sheet.lines:
            self.assertTrue(math.isfinite(line.grams) and line.grams >= 0, line)
        # Never more alkali than the fats at their typical values and the acids can take.
        can_take = sum(
            x.grams * SHELF.fats[x.key].sv / 1000 * 39.997 / 56.105 for x in sheet.lines if x.key in SHELF.fats
        ) + sum(x.grams * SHELF.additives[x.key].naoh for x in sheet.lines if x.key in SHELF.additives)
        self.assertLessEqual(sheet.lye * any_recipe.naoh_purity, can_take * (1 + 1e-9))
        self.assertGreaterEqual(sheet.water_per_lye, 1 - 1e-9)
        self.assertLessEqual(sheet.superfat.extreme.low, sheet.superfat.likely.low + 1e-12)
        self.assertLessEqual(sheet.superfat.likely.low, any_recipe.superfat + 1e-12)
        self.assertLessEqual(any_recipe.superfat, sheet.superfat.likely.high + 1e-12)
        self.assertLessEqual(any_recipe.superfat, sheet.superfat.with_milk + 1e-12)
        self.assertAlmostEqual(sum(sheet.strata.values()), 1, delta=1e-9)
        self.assertAlmostEqual(
            sum(p.batter + p.fragrance for p in sheet.portions), sheet.total, delta=1e-6 * sheet.total
        )
        if isinstance(any_recipe.size, ByLoaf):
            self.assertAlmostEqual(sheet.millilitres, any_recipe.size.millilitres, delta=1e-6 * sheet.millilitres)

    def test_every_way_to_be_wrong_is_told_where_it_is(self) -> None:
        def share(*rows: tuple[str, float]) -> tuple[FatShare, ...]:
            return tuple(FatShare(fat=f, share=s) for f, s in rows)

        def design(*shares: float) -> Design:
            portions = tuple(Portion(name=f"p{i}", share=s, scented=True) for i, s in enumerate(shares))
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
            "/lye_concentration": [{"lye_concentration": 0.19}, {"lye_concentration": 0.51}],
            "/naoh_purity": [{"naoh_purity": 0.5}, {"naoh_purity": 1.01}],
            "/milk/share": [{"milk": Milk(liquid="goat-milk", share=1.1)}],
            "/milk/liquid": [{"milk": Milk(liquid="water", share=0.5)}],
            "/additives/0/per_kg": [
                {"additives": (Dose(additive="sugar", per_kg=-1),)},
                {"additives": (Dose(additive="sugar", per_kg=5000),)},
            ],
            "/scent/load": [{"scent": Scent(fragrance="slight", load=-0.01)}],
            "/scent/fragrance": [{"scent": Scent(fragrance="gone", load=0.01)}],
            "/size/grams": [{"size": ByWeight(grams=0)}, {"size": ByWeight(grams=-5)}, {"size": ByWeight(grams=1e9)}],
            "/size/fill": [{"size": ByLoaf(length=20, width=8, fill=0)}],
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
        self.assertIn("90 %: 10 % is missing", fault.says)
        mend = fault.mends[0]
        self.assertEqual((mend.pointer, mend.value), ("/fats/0/share", 0.7))
        fats = (FatShare(fat="olive", share=mend.value), short.fats[1])
        self.assertIsNotNone(weigh(short.model_copy(update={"fats": fats}), SHELF).sheet)

    def test_lye_heavy_by_nature_is_said_aloud(self) -> None:
        cautions = weigh(recipe(fats=(FatShare(fat="olive", share=1.0),), superfat=0.0), SHELF).cautions
        self.assertTrue(any(c.pointer == "/superfat" and c.danger and "lye heavy" in c.says for c in cautions))

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
