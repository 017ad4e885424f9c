"""The sheet: a hand calculation, what must hold for every recipe, and what is refused."""

import math
import unittest

import periodictable
from hypothesis import assume
from hypothesis import strategies as st

from roundstone.core.recipe import (
    Box,
    ByConcentration,
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
    Tube,
    mould,
)
from roundstone.core.sheet import weigh
from tests.samples import SHELF, grams_of, recipe, weighed

WATER = st.one_of(
    st.builds(ByConcentration, share=st.integers(40, 100).map(lambda n: n / 200)),
    st.builds(ByRatio, parts=st.integers(10, 40).map(lambda n: n / 10)),
)
MOULDS = st.one_of(
    st.builds(Box, count=st.integers(1, 4), length=st.floats(5, 60), width=st.floats(3, 20), fill=st.floats(2, 10)),
    st.builds(Tube, diameter=st.floats(3, 20), fill=st.floats(5, 60), cut=st.just(25.0)),
    st.builds(Cavities, count=st.integers(1, 30), millilitres=st.floats(20, 300)),
)


@st.composite
def recipes(draw: st.DrawFn) -> Recipe:
    """Any recipe without faults."""
    ids = draw(st.lists(st.sampled_from(sorted(SHELF.fats)), min_size=1, max_size=12, unique=True))
    parts = [draw(st.integers(1, 100)) for _ in ids]
    doses = draw(st.lists(st.sampled_from(sorted(SHELF.additives)), max_size=6, unique=True))
    liquids = draw(st.lists(st.sampled_from(sorted(set(SHELF.liquids) - {"water"})), max_size=4, unique=True))
    split = draw(st.integers(5, 95)) / 100
    size = draw(
        st.builds(ByWeight, grams=st.floats(10, 200_000))
        | st.builds(ByMoulds, moulds=st.tuples(MOULDS), spare=st.floats(0, 0.2))
    )
    holds = size.grams if isinstance(size, ByWeight) else min(mould.millilitres(m) / m.count for m in size.moulds)
    pieces = draw(st.lists(st.tuples(st.integers(1, 20), st.floats(0.01, 0.3)), max_size=2))
    made = Recipe(
        name="any",
        fats=tuple(FatShare(fat=f, share=p / sum(parts)) for f, p in zip(ids, parts, strict=True)),
        superfat=draw(st.integers(0, 40)) / 200,
        koh_share=draw(st.sampled_from([0.0, 0.0, 0.3, 1.0])),
        naoh_purity=draw(st.integers(80, 100)) / 100,
        water=draw(WATER),
        ice=draw(st.integers(0, 10)) / 10,
        liquids=tuple(
            LiquidUse(liquid=q, share=draw(st.integers(0, 25)) / 100, frozen=draw(st.booleans())) for q in liquids
        ),
        additives=tuple(Dose(additive=d, amount=draw(st.floats(0, SHELF.additives[d].most))) for d in doses),
        scents=tuple(
            Scent(fragrance=f, load=draw(st.floats(0, 0.03)))
            for f in draw(st.lists(st.sampled_from(["strong", "slight", "none"]), max_size=3, unique=True))
        ),
        pour_celsius=draw(st.integers(10, 75)),
        size=size,
        embeds=tuple(Embed(name=f"e{n}", count=n, grams=part * holds / n) for n, part in pieces),
        design=Design(
            portions=(
                Portion(name="a", share=split, scent=1.0),
                Portion(name="b", share=1 - split, scent=0.0),
            ),
            technique="drop-swirl",
        ),
    )
    # Watery acids and lactate can ask for more water than there is, which is refused.
    assume(weigh(made, SHELF).sheet is not None)
    return made


NAOH, KOH, CITRIC = (float(periodictable.formula(f).mass) for f in ("NaOH", "KOH", "C6H8O7"))


class ByHand(unittest.TestCase):
    def test_milk_and_citric_acid(self) -> None:
        """1000 g olive and coconut 70 : 30, 5 % superfat, 33 % lye of 98 % purity, 10 g citric acid, 40 % goat milk."""
        sheet = weighed(
            recipe(
                fats=(FatShare(fat="olive", share=0.7), FatShare(fat="coconut", share=0.3)),
                naoh_purity=0.98,
                additives=(Dose(additive="citric-acid", amount=10),),
                liquids=(LiquidUse(liquid="goat-milk", share=0.4),),
                scents=(Scent(fragrance="slight", load=0.03),),
                size=ByWeight(grams=1000),
            )
        )
        for_fats = 0.95 * (700 * 0.190 + 300 * 0.257) * NAOH / KOH
        pure = for_fats + 10 * 3 * NAOH / CITRIC
        self.assertAlmostEqual(sheet.naoh, pure / 0.98, delta=0.01)
        # All water, that in the milk (87 %) included, makes 33 % lye.
        grams = grams_of(sheet)
        milk = grams["goat-milk"]
        self.assertAlmostEqual(grams["water"] + 0.87 * milk, pure * 67 / 33, delta=0.02)
        self.assertAlmostEqual(milk / (milk + grams["water"]), 0.4, delta=1e-9)
        self.assertAlmostEqual(grams["slight"], 0.03 * 600, delta=1e-9)
        self.assertAlmostEqual(sheet.total, 1000 + pure / 0.98 + grams["water"] + milk + 10 + 18, delta=0.01)
        # The acid's lye is not the fats': the superfat stays what was set, and the milk's fat adds to it.
        self.assertAlmostEqual(sheet.superfat.set, 0.05)
        capacity = (700 * 0.190 + 300 * 0.257 + 0.0414 * milk * 0.232) * NAOH / KOH
        self.assertAlmostEqual(sheet.superfat.with_liquids, 1 - for_fats / capacity, delta=1e-5)

    def test_a_full_table_in_two_moulds(self) -> None:
        """Milk and honey, citric acid, ice, two clays, three colours, a blend of two, a loaf and six cavities."""
        sheet = weighed(
            recipe(
                fats=(
                    FatShare(fat="olive", share=0.5),
                    FatShare(fat="coconut", share=0.3),
                    FatShare(fat="shea", share=0.2),
                ),
                liquids=(LiquidUse(liquid="goat-milk", share=0.3, frozen=True),),
                ice=0.5,
                additives=tuple(
                    Dose(additive=a, amount=n)
                    for a, n in {
                        "honey": 12,
                        "citric-acid": 10,
                        "kaolin": 10,
                        "rose-clay": 5,
                        "mica": 4,
                        "titanium-dioxide": 6,
                        "iron-oxide": 1,
                    }.items()
                ),
                scents=(Scent(fragrance="slight", load=0.02), Scent(fragrance="none", load=0.01)),
                size=ByMoulds(moulds=(Box(length=24, width=8, fill=6, cut=24), Cavities(count=6, millilitres=110))),
            )
        )
        grams, fats = grams_of(sheet), sheet.fats
        self.assertAlmostEqual(sheet.millilitres, 24 * 8 * 6 + 6 * 110, delta=0.01)
        for key, share in {
            "olive": 0.5,
            "coconut": 0.3,
            "shea": 0.2,
            "honey": 0.012,
            "mica": 0.004,
            "kaolin": 0.01,
        }.items():
            self.assertAlmostEqual(grams[key], share * fats, delta=0.001)
        pure = 0.95 * fats * (0.5 * 0.190 + 0.3 * 0.257 + 0.2 * 0.179) * NAOH / KOH + 0.01 * fats * 3 * NAOH / CITRIC
        self.assertAlmostEqual(grams["naoh"], pure / 0.99, delta=0.02)
        # A fifth of the honey is water, which is part of the 67.
        liquid = (pure * 67 / 33 - 0.2 * 0.012 * fats) / (0.7 + 0.3 * 0.87)
        self.assertAlmostEqual(grams["goat-milk"], 0.3 * liquid, delta=0.02)
        self.assertAlmostEqual(grams["water"], grams["ice"], delta=1e-9)
        self.assertAlmostEqual(grams["water"] + grams["ice"], 0.7 * liquid, delta=0.02)
        self.assertAlmostEqual(grams["slight"], 0.02 * 0.6 * fats, delta=0.001)
        self.assertAlmostEqual(grams["none"], 0.01 * 0.6 * fats, delta=0.001)
        loaf, cavity = sheet.bars
        self.assertEqual((loaf.count, cavity.count), (10, 6))
        self.assertAlmostEqual(loaf.count * loaf.grams + cavity.count * cavity.grams, sheet.total, delta=1.0)

    def test_potassium_and_both(self) -> None:
        """One gram-molecule of either alkali does the same work; 90 % flake is a tenth water."""
        fats = (FatShare(fat="olive", share=1.0),)
        moles = 0.95 * 1000 * 0.190 / KOH
        only = weighed(recipe(fats=fats, koh_share=1.0, size=ByWeight(grams=1000)))
        self.assertAlmostEqual(only.koh, moles * KOH / 0.9, delta=0.02)
        self.assertEqual(only.naoh, 0)
        both = weighed(recipe(fats=fats, koh_share=0.4, size=ByWeight(grams=1000)))
        sodium, potassium = both.naoh * 0.99, both.koh * 0.9
        self.assertAlmostEqual(sodium / NAOH + potassium / KOH, moles, delta=1e-4)
        self.assertAlmostEqual(potassium / (sodium + potassium), 0.4, delta=1e-6)

    def test_a_free_acid_is_never_discounted(self) -> None:
        """Ten percent stearic acid takes all its alkali whatever the superfat is."""
        fats = (FatShare(fat="olive", share=0.9), FatShare(fat="stearic-acid", share=0.1))
        low, high = (weighed(recipe(fats=fats, superfat=s, size=ByWeight(grams=1000))).naoh * 0.99 for s in (0.0, 0.2))
        self.assertAlmostEqual(low - high, 0.2 * 900 * 0.190 * NAOH / KOH, delta=0.01)

    def test_acids_left_hungry_take_from_the_fats(self) -> None:
        """1 % citric acid without lye of its own: 3 mol of NaOH a mol are missing from what the fats get."""
        acid = (Dose(additive="citric-acid", amount=10),)
        plain = weighed(recipe(size=ByWeight(grams=1000)))
        fed = weighed(recipe(additives=acid, size=ByWeight(grams=1000)))
        hungry = weigh(recipe(additives=acid, feed_acids=False, size=ByWeight(grams=1000)), SHELF)
        sheet = hungry.sheet
        assert sheet is not None
        self.assertAlmostEqual(sheet.naoh, plain.naoh, delta=1e-9)
        self.assertAlmostEqual((fed.naoh - sheet.naoh) * 0.99, 10 * 3 * NAOH / CITRIC, delta=0.001)
        capacity = plain.naoh * 0.99 / 0.95
        expected = 1 - (0.95 * capacity - 10 * 3 * NAOH / CITRIC) / capacity
        self.assertAlmostEqual(sheet.superfat.with_liquids, expected, delta=1e-5)
        self.assertEqual(sheet.superfat.set, 0.05)
        said = next(c.message for c in hungry.cautions if c.pointer == "/feed_acids")
        self.assertIn(f"becomes {100 * expected:.1f} %", said)

    def test_a_stock_lye_brings_its_own_water(self) -> None:
        plain = grams_of(weighed(recipe()))
        stock = grams_of(weighed(recipe(stock=0.5)))
        self.assertAlmostEqual(stock["stock"], 2 * plain["naoh"], delta=0.01)
        self.assertAlmostEqual(stock["water"], plain["water"] - plain["naoh"], delta=0.01)
        self.assertNotIn("naoh", stock)

    def test_the_limit_adds_up_over_a_blend(self) -> None:
        """Σ share ÷ limit over the bar, and the cured bar is stronger by the water it lost."""
        limits = {"slight": 0.05, "none": 0.02}
        fragrances = {
            k: f.model_copy(update={"limit": limits[k]}) if k in limits else f for k, f in SHELF.fragrances.items()
        }
        shelf = SHELF.model_copy(update={"fragrances": fragrances})
        blend = (Scent(fragrance="slight", load=0.03), Scent(fragrance="none", load=0.02))
        weighing = weigh(recipe(scents=blend), shelf)
        sheet = weighing.sheet
        assert sheet is not None and sheet.limit is not None
        base = sheet.portions[0]
        bar = base.batter + base.fragrance
        in_fats = 0.6 * sheet.fats
        used = 0.03 * in_fats / bar / 0.05 + 0.02 * in_fats / bar / 0.02
        self.assertAlmostEqual(sheet.limit.wet, used, delta=1e-9)
        self.assertAlmostEqual(sheet.limit.cured, used / 0.89, delta=1e-9)
        self.assertGreater(sheet.limit.cured, 1)
        self.assertTrue(any(c.danger and c.pointer == "/scents/1/load" for c in weighing.cautions))

    def test_spoons(self) -> None:
        """Common practice: 1 tsp of sugar per lb of fats is about 4.2 g in 454 g."""
        spooned = weighed(
            recipe(additives=(Dose(additive="sugar", amount=1, basis="tsp/lb"),), size=ByWeight(grams=453.6))
        )
        self.assertAlmostEqual(grams_of(spooned)["sugar"], 4.2, delta=0.01)
        on = spooned.doses[0]
        for basis, amount in (("g/kg", on.per_kg), ("percent", on.percent), ("tsp/lb", on.tsp_lb)):
            again = weighed(
                recipe(additives=({"additive": "sugar", "amount": amount, "basis": basis},), size=ByWeight(grams=453.6))
            )
            self.assertAlmostEqual(grams_of(again)["sugar"], grams_of(spooned)["sugar"], delta=1e-9)

    def test_superfat_range_of_one_fat(self) -> None:
        """Olive alone at 5 %: 184 to 196 about 190, and an alkali within 1 % of what its bag says."""
        span = weighed(recipe(fats=(FatShare(fat="olive", share=1.0),))).superfat
        alkali = 0.01 * 0.95 * 190
        self.assertAlmostEqual(span.extreme.low, 0.05 - (6 + alkali) / 190, delta=1e-9)
        self.assertAlmostEqual(span.extreme.high, 0.05 + (6 + alkali) / 190, delta=1e-9)
        both = math.hypot(6, alkali)
        self.assertAlmostEqual(span.likely.low, 0.05 - both / 190, delta=1e-9)
        self.assertAlmostEqual(span.likely.high, 0.05 + both / 190, delta=1e-9)

    def test_fill_of_a_mould(self) -> None:
        """Grams of fats per mL against the house's fill table, for a 190 mg/g fat without fragrance at 38 °C."""
        for percent, expected in {25: 0.656, 28: 0.680, 30: 0.694, 33: 0.712, 36: 0.728, 40: 0.746}.items():
            with self.subTest(percent):
                w = percent / 100
                lye = 0.95 * 0.190 * 39.997 / 56.105 / w
                self.assertAlmostEqual(mould.fats_per_millilitre(lye, w, 38), expected, delta=0.006)

    def test_the_worked_pair(self) -> None:
        """252 g NaOH in 587 g water is 2.33 : 1, 30 % (common practice)."""
        sheet = weighed(recipe(water=ByConcentration(share=252 / (252 + 587)), naoh_purity=1.0))
        self.assertAlmostEqual(sheet.water_per_lye, 2.33, delta=0.005)
