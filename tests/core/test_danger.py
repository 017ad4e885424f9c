"""Paths on which a lye figure or a warning once went wrong, each held against hand or outside reckoning."""

import unittest
from itertools import pairwise
from typing import Any

import periodictable
from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.heat import Lye, MilkInJug, lye_peak, plan
from roundstone.core.recipe import (
    ByConcentration,
    Design,
    Dose,
    FatShare,
    LiquidUse,
    Portion,
    Recipe,
    Scent,
)
from roundstone.core.schedule import WorkStep, work_order
from roundstone.core.sheet import label, weigh
from roundstone.core.shelf import Additive, NewAdditive, Scale, Scales, Shelf, make
from roundstone.exchange import sheet_file
from tests.core.test_weigh import recipes
from tests.samples import SHELF, TWO, figure, grams_of, plain, recipe, weighed

NAOH, KOH = (float(periodictable.formula(f).mass) for f in ("NaOH", "KOH"))
HALVES = (Portion(name="A", share=0.5, scent=0.0), Portion(name="B", share=0.5, scent=0.0))


def design(**changes: Any) -> Design:
    return Design(portions=HALVES, technique="drop-swirl").model_copy(update=changes)


def faults(of: Recipe, shelf: Shelf = SHELF) -> dict[str, str]:
    return {f.pointer: str(f.message) for f in weigh(of, shelf).faults}


def steps_of(of: Recipe, shelf: Shelf = SHELF) -> tuple[WorkStep, ...]:
    weighing = weigh(of, shelf)
    assert weighing.sheet is not None, weighing.faults
    return work_order(of, shelf, weighing.sheet, plan(of, shelf, weighing.sheet.lines), weighing.cautions)


class Lines(unittest.TestCase):
    def test_an_own_thing_called_like_a_line_takes_no_lines_place(self) -> None:
        """Additives known as naoh, ice, water and stock: the lye, its heat and the label stay the lye's."""
        names = ("naoh", "koh", "ice", "water", "stock", "alkali")
        own = {
            i: make(NewAdditive(name=f"Own {n}", sort="other", moment="before-lye", usual=10, most=40), i, SHELF)
            for n, i in enumerate(names)
        }
        added = {i: x for i, x in own.items() if isinstance(x, Additive)}
        shelf = SHELF.model_copy(update={"additives": dict(SHELF.additives) | added})
        of = recipe(additives=tuple(Dose(additive=i, amount=30) for i in names))
        sheet = weigh(of, shelf).sheet
        assert sheet is not None
        self.assertEqual(len({x.key for x in sheet.lines}), len(sheet.lines))
        plain = weighed(recipe())
        (lye,) = [x for x in sheet.lines if x.kind == "alkali"]
        self.assertAlmostEqual(lye.grams, plain.naoh, delta=1e-9)
        heats = [plan(r, s, x.lines) for r, s, x in ((of, shelf, sheet), (recipe(), SHELF, plain))]
        self.assertAlmostEqual(heats[0].adiabatic, heats[1].adiabatic, delta=1e-9)
        self.assertIn("Sodium Hydroxide", label(of, shelf, sheet.lines).went_in)
        (step,) = [s for s in work_order(of, shelf, sheet, heats[0], ()) if lye in s.lines]
        self.assertEqual([x.kind for x in step.lines], ["alkali"])

    @settings(max_examples=60, deadline=None)
    @given(st.floats(0.25, 0.5), st.floats(0.85, 1.0), st.floats(0, 0.15))
    def test_a_stock_is_as_pure_as_its_bag_and_comes_back_through_its_file(
        self, strength: float, purity: float, superfat: float
    ) -> None:
        """1 : 1 of 97 % is no 50 % lye: moles of NaOH in what is weighed, against those of the same recipe dry."""
        of = recipe(stock=strength, naoh_purity=purity, superfat=superfat, water=ByConcentration(share=0.25))
        weighing = weigh(of, SHELF)
        if weighing.sheet is None:
            self.assertEqual([f.pointer for f in weighing.faults], ["/stock"])
            return
        sheet = weighing.sheet
        dry = grams_of(weighed(of.model_copy(update={"stock": None})))
        self.assertAlmostEqual(grams_of(sheet)["stock"] * strength, dry["naoh"], delta=1e-9)
        self.assertAlmostEqual(sum(x.grams for x in sheet.lines), sheet.total, delta=1e-6)
        if superfat > 0.001:
            back = sheet_file.read(sheet_file.write(sheet, of, SHELF), "Again", SHELF)
            self.assertAlmostEqual(back.superfat, superfat, delta=1e-5)
            self.assertAlmostEqual(back.naoh_purity, purity, delta=1e-9)
            self.assertAlmostEqual(back.stock or 0, strength, delta=1e-6)

    def test_potassium_is_named_wherever_it_is(self) -> None:
        acid = (Dose(additive="citric-acid", amount=10),)
        dual = recipe(koh_share=0.4, additives=acid)
        became = label(dual, SHELF, weighed(dual).lines).became
        for name in ("Sodium Olivate", "Potassium Olivate", "Sodium Citrate", "Potassium Citrate"):
            self.assertIn(name, became)
        soft = recipe(koh_share=1.0, additives=acid)
        sheet = weighed(soft)
        notes = {x.item: x.note for x in sheet.lines}
        takes = 10 * 3 * KOH / float(periodictable.formula("C6H8O7").mass)
        self.assertIn(f"takes up {takes:.1f} g of potassium hydroxide", plain(notes["additive:citric-acid"]))
        self.assertIn(f"about {0.1 * sheet.koh:.1f} g of it water", plain(notes["alkali:koh"]))
        self.assertFalse([b for b in label(soft, SHELF, sheet.lines).became if b.startswith("Sodium")])


class Heat(unittest.TestCase):
    def test_stock_with_milk_or_ice_counts_both(self) -> None:
        """Energy in is energy out: the parts' heat contents about 25 °C, by hand."""
        warm = lye_peak(Lye(held=140, stock_water=140), 0, 0, 20, 20, [MilkInJug(180, 0.875, 20)])[0]
        self.assertAlmostEqual(warm, 52, delta=1)
        frozen = lye_peak(Lye(held=140, stock_water=140), 0, 0, 20, 20, [MilkInJug(180, 0.875, -18)])[0]
        self.assertLess(frozen, 10)
        of = recipe(stock=0.5, liquids=(LiquidUse(liquid="goat-milk", share=0.5),))
        heat = plan(of, SHELF, weighed(of).lines)
        self.assertGreater(heat.peak, 45)
        self.assertIn("/liquids/0/share", {c.pointer for c in heat.cautions})

    def test_a_vessel_that_stands_too_cool_is_to_be_warmed(self) -> None:
        oils = (FatShare(fat="olive", share=0.9), FatShare(fat="castor", share=0.1))
        of = recipe(fats=oils, pour_celsius=37, stock=0.5)
        sheet = weighed(of)
        heat = plan(of, SHELF, sheet.lines)
        self.assertEqual((heat.jug.warm_to, heat.pot.warm_to), (None, 37))
        self.assertIn("Warm the fats, which stand at 20 °C, to 37 °C", plain(heat.advice))
        lye = sum(x.grams for x in sheet.lines if x.vessel == "jug")
        expected = (1000 * 2.0 * 20 + lye * 3.55 * 37) / (1000 * 2.0 + lye * 3.55)
        assert heat.combined is not None
        self.assertAlmostEqual(heat.combined, expected, delta=0.1)
        cold = plan(
            of.model_copy(update={"liquids": (LiquidUse(liquid="goat-milk", share=0.5, frozen=True),)}),
            SHELF,
            weighed(of.model_copy(update={"liquids": (LiquidUse(liquid="goat-milk", share=0.5, frozen=True),)})).lines,
        )
        self.assertIn("Warm the fats, which stand at 20 °C, to 37 °C", plain(cold.advice))
        self.assertIn("stand it in warm water until it reads 37 °C", plain(cold.advice))
        self.assertIsNone(plan(recipe(), SHELF, weighed(recipe()).lines).combined, "hard fats are melted anyway")

    def test_potassium_lye_has_a_heat_of_its_own(self) -> None:
        """Infinite dilution of KOH: -57.8 kJ/mol; its flakes' water has cost some of it already [from memory]."""
        dilute = lye_peak(Lye(koh=5.6106), 1000, 0, 25, 25)[0]
        self.assertAlmostEqual(dilute, 25 + 0.1 * 57.2e3 / (1005.6 * 4.15), delta=0.05)
        dry, flakes = (lye_peak(Lye(koh=100, flake_water=w), 200, 0, 20, 20)[0] for w in (0, 11))
        self.assertLess(flakes, dry)
        shares = [lye_peak(Lye(naoh=100 * (1 - k), koh=140.3 * k), 230, 0, 20, 20)[0] for k in (0, 0.5, 1)]
        self.assertTrue(min(shares[0], shares[2]) - 3 < shares[1] < max(shares[0], shares[2]) + 3)
        of = recipe(koh_share=1.0)
        self.assertIn("/koh_share", {c.pointer for c in plan(of, SHELF, weighed(of).lines).cautions})


class Salt(unittest.TestCase):
    def test_salt_bars_are_weighed_and_warned_of(self) -> None:
        """300 to 1000 g/kg are everyday, the lye holds little of it, the bar is cut within hours: common practice."""
        for amount in (300, 1000):
            weighing = weigh(recipe(additives=(Dose(additive="salt", amount=amount),)), SHELF)
            assert weighing.sheet is not None
            said = " ".join(str(c.message) for c in weighing.cautions if c.pointer == "/additives/0/amount")
            self.assertIn("falls out", said)
            self.assertIn("within hours", said)
            self.assertIn("1 to 4 hours", weighing.sheet.bar.cutting)
        self.assertIn("/additives/0/amount", faults(recipe(additives=(Dose(additive="salt", amount=1001),))))
        late = weigh(recipe(additives=(Dose(additive="coarse-salt", amount=500),)), SHELF)
        self.assertFalse(any("falls out" in c.message for c in late.cautions))

    def test_hungry_acids_beyond_a_soap_are_a_danger(self) -> None:
        for amount, danger in ((10, False), (40, True)):
            hungry = weigh(recipe(additives=(Dose(additive="citric-acid", amount=amount),), feed_acids=False), SHELF)
            (said,) = [c for c in hungry.cautions if c.pointer == "/feed_acids"]
            self.assertEqual(said.danger, danger)


class OnTheScale(unittest.TestCase):
    @given(
        st.lists(st.sampled_from([0.01, 0.1, 0.5, 1.0, 5.0]), min_size=1, max_size=3, unique=True),
        st.floats(1e-4, 5e4),
    )
    def test_readings(self, steps: list[float], grams: float) -> None:
        scales = Scales(scales=tuple(Scale(step=s, capacity=200 * (i + 1) / s) for i, s in enumerate(steps)))
        step = scales.step(grams)
        near, below = scales.reading(grams), scales.reading(grams, down=True)
        self.assertGreater(figure(scales.shown(grams)), 0, "nothing weighed is shown as nothing")
        self.assertLessEqual(below, grams * (1 + 1e-9))
        self.assertLessEqual(abs(near - grams), step / 2 * (1 + 1e-6))
        if grams >= step:
            self.assertEqual(figure(scales.shown(grams)), near)
            self.assertAlmostEqual(near / step, round(near / step), delta=1e-6)
        self.assertTrue(any(s.step == step for s in scales.scales))

    def test_lye_is_never_rounded_up_and_sums_are_of_what_is_read(self) -> None:
        coarse = SHELF.model_copy(update={"scales": Scales(scales=(Scale(step=1, capacity=5000),))})
        for grams in (250.0, 333.0, 710.0):
            of = recipe(size={"kind": "fats", "grams": grams}, additives=(Dose(additive="mica", amount=4),))
            weighing = weigh(of, coarse)
            sheet = weighing.sheet
            assert sheet is not None
            (lye,) = [x for x in sheet.lines if x.kind == "alkali"]
            self.assertLessEqual(lye.reading, lye.grams)
            self.assertEqual(plain(lye.shown), f"{lye.reading:.0f} g")
            self.assertEqual(figure(sheet.total_shown), sum(x.reading for x in sheet.lines))
            self.assertIn("/superfat", {c.pointer for c in weighing.cautions}, "1 g in so little lye is told")

    def test_a_dose_too_small_says_a_dilution_that_can_be_weighed(self) -> None:
        """0.014 g on a 0.1 g scale: a tenth of it is 0.14 g, one or two steps; a hundredth part is 1.4 g."""
        tiny = recipe(additives=(Dose(additive="mica", amount=0.014),))
        weighing = weigh(tiny, SHELF)
        assert weighing.sheet is not None
        (said,) = [c.message for c in weighing.cautions if c.pointer == "/additives/0/amount"]
        self.assertIn("1 part into 99", said)
        self.assertIn("weigh 1.4 g", plain(said))
        self.assertEqual(figure(next(x.shown for x in weighing.sheet.lines if x.item == "additive:mica")), 0.014)
        fine = SHELF.model_copy(
            update={"scales": Scales(scales=(Scale(step=0.01, capacity=200), Scale(step=1, capacity=9000)))}
        )
        self.assertEqual([c for c in weigh(tiny, fine).cautions if c.pointer == "/additives/0/amount"], [])


class BenchSheet(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(recipes(), st.sampled_from(["whole", "layers"]), st.sampled_from(["fats", "emulsion", "portions", "pour"]))
    def test_every_caution_stands_at_one_step(self, of: Recipe, batching: str, scent_at: str) -> None:
        of = of.model_copy(update={"design": of.design.model_copy(update={"batching": batching, "scent_at": scent_at})})
        weighing = weigh(of, SHELF)
        if weighing.sheet is None:
            return
        heat = plan(of, SHELF, weighing.sheet.lines)
        steps = work_order(of, SHELF, weighing.sheet, heat, weighing.cautions)
        told = [c.message for s in steps for c in s.cautions]
        for caution in (*weighing.cautions, *heat.cautions):
            self.assertIn(caution.message, told)
        self.assertEqual(sorted(x.key for s in steps for x in s.lines), sorted(x.key for x in weighing.sheet.lines))

    def test_each_at_its_own(self) -> None:
        """Common practice: what is said, and at which step it is heeded."""
        sour = Dose(additive="citric-acid", amount=5, moment="hot-lye")
        doses = tuple(Dose(additive=a, amount=2) for a in ("honey", "ethanol", "lactic-acid", "silk", "sodium-lactate"))
        steps = steps_of(recipe(additives=(sour, *doses)))
        at = {s.title: " ".join(map(str, (s.does, *(c.message for c in s.cautions)))) for s in steps}
        self.assertIn("boil up", at["Lye jug"])
        self.assertIn("heats with lye", at["Lye jug"])
        self.assertIn("spit", at["While the lye is hot"])
        self.assertIn("below 43 °C", plain(at["When the lye is cool"]))
        for step in ("Colours in cups", "Into the whole batter"):
            self.assertIn("no flame", at[step])
        titles = [s.title for s in steps]
        for before, after in pairwise(
            ("Colours in cups", "Lye jug", "Lye", "While the lye is hot", "When the lye is cool", "Combine", "Split")
        ):
            self.assertLess(titles.index(before), titles.index(after))
        early = steps_of(recipe(design=Design(portions=TWO, technique="drop-swirl", scent_at="emulsion")))
        (where,) = [i for i, s in enumerate(early) if any(x.kind == "fragrance" for x in s.lines)]
        self.assertLess(where, [s.title for s in early].index("Split"), "the scent at emulsion is before the split")

    def test_zero_loads_are_no_lines_of_their_own_luck(self) -> None:
        blend = (Scent(fragrance="moderate", load=0.03), Scent(fragrance="slight", load=0.0))
        self.assertEqual(weighed(recipe(scents=blend)).total, weighed(recipe()).total)


if __name__ == "__main__":
    unittest.main()
