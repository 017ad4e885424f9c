"""Doses on every basis, dispersed or not, into one portion or all, at their moment or elsewhere."""

import unittest
from typing import get_args

from hypothesis import assume, given, settings
from hypothesis import strategies as st

from roundstone.core.heat import plan
from roundstone.core.recipe import MISPLACED, Basis, ByRatio, Carrier, Design, Dose, Recipe
from roundstone.core.sheet import ToWeigh, Weighing, following, to_weigh, weigh
from roundstone.core.shelf import VESSEL, Moment, acid_naoh
from roundstone.core.values import RuleError
from tests.core.test_weigh import recipes
from tests.samples import SHELF, TWO, grams_of, recipe, weighed

POUND = 453.592


def faults(of: Recipe) -> dict[str, str]:
    return {f.pointer: str(f.message) for f in weigh(of, SHELF).faults}


def said(of: Recipe) -> dict[str, str]:
    weighing: Weighing = weigh(of, SHELF)
    assert weighing.sheet is not None, weighing.faults
    return {c.pointer: str(c.message) for c in weighing.cautions}


class Typed(unittest.TestCase):
    """A dose typed as what shall lie on the scale."""

    @settings(max_examples=80, deadline=None)
    @given(recipes(), st.floats(0.5, 60), st.sampled_from(get_args(Basis)), st.data())
    def test_the_scale_shows_what_was_typed(self, of: Recipe, grams: float, basis: Basis, data: st.DataObject) -> None:
        """For any recipe, row and basis; nothing else of the recipe is touched."""
        of = of.model_copy(update={"additives": tuple(d.model_copy(update={"basis": basis}) for d in of.additives)})
        figures = {"additive": ("additives", "amount"), "liquid": ("liquids", "share"), "fragrance": ("scents", "load")}
        every = [(what, i) for what, (rows, _) in figures.items() for i in range(len(getattr(of, rows)))]
        assume(every and weigh(of, SHELF).sheet is not None)
        what, row = data.draw(st.sampled_from(every))
        rows, figure = figures[what]
        try:
            after = to_weigh(of, ToWeigh(what=what, row=row, amount=grams), SHELF)
        except RuleError as refused:
            self.assertIn("takes none of it", refused.faults[0].message)
            return
        back, was = list(getattr(after, rows)), getattr(of, rows)[row]
        back[row] = back[row].model_copy(update={figure: getattr(was, figure)})
        self.assertEqual(after.model_copy(update={rows: tuple(back)}), of)
        weighing = weigh(after, SHELF)
        if weighing.sheet is None:  # more than the recipe takes: it stands as typed, and the recipe says so
            self.assertTrue(any(rows in f.pointer or "water" in f.pointer for f in weighing.faults), weighing)
            return
        got = sum(x.grams for x in weighing.sheet.lines if x.kind == what and x.row == row)
        self.assertAlmostEqual(got / grams, 1, delta=1e-8)

    def test_spoons(self) -> None:
        """A teaspoon is 4.92892 mL (NIST SP 811); what is weighed has no spoon, and a fault elsewhere comes first."""
        of = recipe(additives=(Dose(additive="mica", amount=900),))
        self.assertIsNone(weigh(of, SHELF).sheet, "what stood there may be the fault that is being mended")
        typed = ToWeigh(what="additive", row=0, amount=1.5 * 4.92892159375, unit="mL")
        after = to_weigh(of, typed, SHELF)
        self.assertAlmostEqual(grams_of(weighed(after))["mica"], 1.5 * SHELF.additives["mica"].spoon, delta=1e-9)
        for refused in (typed.model_copy(update={"what": "fragrance"}), typed.model_copy(update={"row": 3})):
            with self.assertRaises(RuleError):
                to_weigh(of, refused, SHELF)
        with self.assertRaisesRegex(RuleError, "mend it first"):
            to_weigh(of.model_copy(update={"fats": ()}), typed, SHELF)


class Bases(unittest.TestCase):
    def test_the_same_dose_on_every_basis(self) -> None:
        """1 tsp of mica per lb of fats; per lb of batter it is more by all the lye and water."""
        spoon = SHELF.additives["mica"].spoon
        amounts: dict[Basis, float] = {
            "tsp/lb": 1,
            "g/kg": 1000 * spoon / POUND,
            "percent": 100 * spoon / POUND,
        }
        for basis, amount in amounts.items():
            sheet = weighed(recipe(additives=(Dose(additive="mica", amount=amount, basis=basis),)))
            self.assertAlmostEqual(grams_of(sheet)["mica"], 1000 * spoon / POUND, delta=1e-3, msg=basis)
        plain = weighed(recipe(scents=()))
        sheet = weighed(recipe(additives=(Dose(additive="mica", amount=1, basis="tsp/lb batter"),)))
        ratio = grams_of(sheet)["mica"] / (1000 * spoon / POUND)
        self.assertAlmostEqual(ratio, plain.total / plain.fats, delta=1e-5)
        self.assertTrue(1.35 < ratio < 1.6, "a factor of about 1.5: common practice")
        self.assertAlmostEqual(sheet.doses[0].tsp_lb_batter, 1.0, delta=1e-9)

    def test_into_one_portion_it_is_on_that_portions_share(self) -> None:
        doses = (Dose(additive="mica", amount=5, into=("Base",)), Dose(additive="mica", amount=2, into=("Bone",)))
        sheet = weighed(recipe(additives=doses))
        base, bone = sheet.portions
        self.assertAlmostEqual(base.own[0].grams, 5 * 0.6, delta=1e-9)
        self.assertAlmostEqual(bone.own[0].grams, 2 * 0.4, delta=1e-9)
        everything = sum(p.batter + p.fragrance + sum(x.grams for x in p.own) for p in sheet.portions)
        self.assertAlmostEqual(everything, sheet.total, delta=1e-6)

    @settings(max_examples=60, deadline=None)
    @given(recipes(), st.floats(0.1, 8), st.sampled_from(get_args(Basis)), st.floats(0.5, 20), st.booleans())
    def test_one_row_for_several_portions_is_a_row_for_each(
        self, of: Recipe, amount: float, basis: Basis, parts: float, counted: bool
    ) -> None:
        """To the gram, the superfat, the clock's covariates and the pots, of the whole and of each portion."""
        dose = Dose(additive="mica", amount=amount, basis=basis, carrier=Carrier(fat="olive", parts=parts))
        others = tuple(d for d in of.additives if d.additive != "mica")
        of = of.model_copy(update={"count_carriers": counted})
        rows = [
            of.model_copy(update={"additives": (*others, *(dose.model_copy(update={"into": i}) for i in into))})
            for into in ([("a", "b")], [("a",), ("b",)])
        ]
        one, two = (weigh(r, SHELF).sheet for r in rows)
        assume(one is not None and two is not None)
        assert one is not None and two is not None
        self.assertEqual([(x.into, x.shown, x.note) for x in one.lines], [(x.into, x.shown, x.note) for x in two.lines])
        for a, b in zip(one.portions, two.portions, strict=True):
            for x, y in ((a.batter, b.batter), (a.superfat, b.superfat), (a.likely.low, b.likely.low)):
                self.assertAlmostEqual(x, y, delta=1e-9 * one.total)
            self.assertEqual(a.factors.keys(), b.factors.keys())
            for name, factor in a.factors.items():
                self.assertAlmostEqual(factor, b.factors[name], delta=1e-9, msg=name)
        self.assertAlmostEqual(one.naoh + one.koh, two.naoh + two.koh, delta=1e-9)
        self.assertEqual(len({x.key for x in one.lines}), len(one.lines), "each is ticked by itself")

    def test_what_each_portion_got_is_followed(self) -> None:
        """Unlike doses of a row have rows of their own from then on: no portion is told what it has not."""
        of = recipe(
            additives=(Dose(additive="mica", amount=5, into=("Base", "Bone")), Dose(additive="sugar", amount=8))
        )
        sheet = weighed(of)
        bone = next(x for x in sheet.lines if x.into == "Bone")
        alike = following(of, SHELF, sheet, {bone.key: bone.grams})
        self.assertEqual([d.into for d in alike.additives], [("Base", "Bone"), ()])
        after = weighed(following(of, SHELF, sheet, {bone.key: 2 * bone.grams}))
        for was, now, times in zip(sheet.portions, after.portions, (1, 2), strict=True):
            self.assertAlmostEqual(now.own[0].grams, times * was.own[0].grams, delta=1e-9)

    def test_layers_share_fats_and_lye_raw(self) -> None:
        design = Design(portions=TWO, technique="drop-swirl", batching="layers")
        sheet = weighed(recipe(design=design))
        grams = grams_of(sheet)
        jug = grams["water"] + grams["naoh"]
        for p in sheet.portions:
            self.assertAlmostEqual(p.from_pot, p.share * sheet.fats)
            self.assertAlmostEqual(p.from_jug, p.share * jug)

    def test_wrong_places_are_refused_beside_their_field(self) -> None:
        wrong = {
            "/additives/0/into": Dose(additive="mica", amount=5, into=("Nowhere",)),
            "/additives/0/amount": Dose(additive="citric-acid", amount=1, basis="tsp/lb batter"),
            "/additives/0/carrier/parts": Dose(additive="mica", amount=5, carrier=Carrier(parts=-1)),
            "/additives/0/carrier/fat": Dose(additive="mica", amount=5, carrier=Carrier(fat="no-such", parts=1)),
        }
        for pointer, dose in wrong.items():
            self.assertIn(pointer, faults(recipe(additives=(dose,))))
        early = Dose(additive="kaolin", amount=5, into=("Base",), carrier=Carrier(parts=1))
        self.assertEqual(set(faults(recipe(additives=(early,)))), {"/additives/0/into", "/additives/0/carrier/parts"})


class Carriers(unittest.TestCase):
    OIL = (Dose(additive="mica", amount=10, carrier=Carrier(fat="olive", parts=3)),)
    WATER = (Dose(additive="titanium-dioxide", amount=7, carrier=Carrier(parts=2)),)

    def test_oil_on_top_raises_the_superfat_counted_it_gets_lye(self) -> None:
        """30 g of olive oil beside 1000 g of fats of about the same saponification value: 5 % becomes near 7.7 %."""
        plain, extra = weighed(recipe()), weighed(recipe(additives=self.OIL))
        counted = weighed(recipe(additives=self.OIL, count_carriers=True))
        self.assertAlmostEqual(extra.naoh, plain.naoh)
        capacity = plain.saponification_value * 1000
        expected = 1 - 0.95 * capacity / (capacity + 30 * SHELF.fats["olive"].sv)
        self.assertAlmostEqual(extra.superfat.with_liquids, expected, delta=1e-9)
        self.assertAlmostEqual(counted.superfat.with_liquids, 0.05, delta=1e-9)
        self.assertAlmostEqual(
            counted.naoh - plain.naoh, 0.95 * 30 * SHELF.fats["olive"].sv / 1402.72 / 0.99, delta=2e-3
        )
        assert extra.dispersed is not None
        self.assertAlmostEqual(extra.dispersed.oil, 30)

    def test_water_on_top_thins_the_lye_counted_it_does_not(self) -> None:
        plain, extra = weighed(recipe()), weighed(recipe(additives=self.WATER))
        counted = weighed(recipe(additives=self.WATER, count_carriers=True))
        self.assertAlmostEqual(grams_of(plain)["water"] - grams_of(counted)["water"], 14, delta=1e-6)
        assert extra.dispersed is not None and counted.dispersed is not None
        self.assertAlmostEqual(counted.dispersed.lye_concentration, 0.33, delta=1e-9)
        self.assertLess(extra.dispersed.lye_concentration, 0.33)
        self.assertAlmostEqual(extra.water, plain.water)

    @settings(max_examples=60, deadline=None)
    @given(recipes(), st.booleans(), st.floats(0, 5), st.sampled_from([None, "olive", "coconut"]))
    def test_whatever_is_dispersed_the_sheet_adds_up(
        self, of: Recipe, counted: bool, parts: float, fat: str | None
    ) -> None:
        dose = Dose(additive="ultramarine", amount=3, into=("a",), carrier=Carrier(fat=fat, parts=parts))
        rest = tuple(d for d in of.additives if d.additive != "ultramarine")
        sheet = weigh(of.model_copy(update={"additives": (*rest, dose), "count_carriers": counted}), SHELF).sheet
        if sheet is None:
            return
        self.assertAlmostEqual(sum(x.grams for x in sheet.lines), sheet.total, delta=1e-6 * sheet.total)
        self.assertTrue(all(x.grams >= 0 for x in sheet.lines))
        split = sum(p.batter + p.fragrance + sum(x.grams for x in p.own) for p in sheet.portions)
        self.assertAlmostEqual(split, sheet.total, delta=1e-6 * sheet.total)


class WateryAdditives(unittest.TestCase):
    def test_their_water_is_part_of_the_recipes(self) -> None:
        """A hundred grams of vinegar to the kilogram are 95 of water: so much less is poured plain."""
        recipes_ = (recipe(), recipe(additives=(Dose(additive="vinegar", amount=100),)))
        plain, sour = map(weighed, recipes_)
        grams = [grams_of(s) for s in (plain, sour)]
        acid = 0.005 * sour.fats
        # The acid's own lye brings its share of water too.
        more = acid * acid_naoh("C2H4O2", 1) * plain.water_per_lye
        self.assertAlmostEqual(grams[1]["water"], grams[0]["water"] + more - 0.095 * sour.fats, delta=0.01)
        self.assertAlmostEqual(sour.lye_concentration, plain.lye_concentration, delta=1e-9)
        self.assertAlmostEqual(sour.water_per_lye, plain.water_per_lye, delta=1e-9)
        hot = [plan(of, SHELF, s.lines).jug.start for of, s in zip(recipes_, (plain, sour), strict=True)]
        self.assertAlmostEqual(hot[0], hot[1], delta=1.0)

    def test_more_of_it_than_there_is_water_is_refused(self) -> None:
        wet = recipe(additives=(Dose(additive="salt", amount=5), Dose(additive="vinegar", amount=400)))
        weighing = weigh(wet, SHELF)
        self.assertIsNone(weighing.sheet)
        self.assertEqual([f.pointer for f in weighing.faults], ["/additives/1/amount"])
        # Lactate goes into lye that is made: its water does not help the lye dissolve.
        thick = recipe(water=ByRatio(parts=1.0), additives=(Dose(additive="sodium-lactate", amount=40),))
        self.assertEqual([f.pointer for f in weigh(thick, SHELF).faults], ["/water"])


class Order(unittest.TestCase):
    def test_the_usual_place_is_never_wrong_and_others_are_explained(self) -> None:
        for additive in SHELF.additives.values():
            self.assertNotIn(additive.moment, MISPLACED[additive.kind], additive.name)
        moments: list[Moment] = ["before-lye", "hot-lye", "cool-lye", "fats", "trace"]
        for moment in moments:
            sheet = weighed(recipe(additives=(Dose(additive="sugar", amount=10, moment=moment),)))
            line = next(x for x in sheet.lines if x.item == "additive:sugar")
            self.assertEqual((line.vessel, line.moment), (VESSEL[moment], moment))

    def test_what_the_trade_warns_of(self) -> None:
        """Common practice: sugar and acids before the lye, silk in hot lye, lactate cool, powders not in lye."""
        wrong: dict[str, tuple[Moment, str]] = {
            "sugar": ("hot-lye", "before the lye"),
            "citric-acid": ("hot-lye", "before the lye"),
            "silk": ("fats", "only in hot lye"),
            "sodium-lactate": ("hot-lye", "below 43"),
            "kaolin": ("before-lye", "clumps"),
            "goat-milk-powder": ("hot-lye", "scorch"),
        }
        for additive, (moment, words) in wrong.items():
            dose = Dose(additive=additive, amount=1, moment=moment)
            self.assertIn(words, said(recipe(additives=(dose,)))["/additives/0/moment"])

    def test_scent_in_the_fats_reaches_all(self) -> None:
        design = Design(portions=TWO, technique="drop-swirl", scent_at="fats")
        sheet = weighed(recipe(design=design))
        line = next(x for x in sheet.lines if x.item == "fragrance:moderate")
        self.assertEqual((line.vessel, line.grams), ("pot", 30.0))
        self.assertIn("/design/scent_at", said(recipe(design=design)))
        self.assertEqual([p.fragrance for p in sheet.portions], [0.0, 0.0])


class EssentialOils(unittest.TestCase):
    def test_cautions_by_kind_and_a_missing_limit(self) -> None:
        spice = SHELF.fragrances["moderate"].model_copy(update={"essential": True, "family": "spice"})
        shelf = SHELF.model_copy(update={"fragrances": dict(SHELF.fragrances) | {"moderate": spice}})
        told = [c.message for c in weigh(recipe(), shelf).cautions if c.pointer == "/scents/0/load"]
        self.assertTrue(any("sensitisers" in t for t in told) and any("certificate" in t for t in told), told)
