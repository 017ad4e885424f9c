"""Lots, what is left of them, shortages and cost."""

import unittest
from datetime import UTC, date, datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from roundstone.core.heat import gravest, plan
from roundstone.core.recipe import Box, ByMoulds, Carrier, Dose, FatShare, Recipe
from roundstone.core.schedule import ReadyState, ready_parts, work_order
from roundstone.core.schedule import plan as planned
from roundstone.core.sheet import (
    Lot,
    LotEdit,
    LotLeft,
    MakeLot,
    Sheet,
    Supply,
    Taken,
    Use,
    allocate,
    bottles,
    check_lot,
    following,
    in_hand,
    left,
    made_lot,
    makings,
    recount,
    supply,
    taken_from,
    weigh,
)
from roundstone.core.sheet.lots import PRECISE
from roundstone.core.shelf import Family, IntoPremix, NewInfusion, NewPremix, by_certificate, make
from roundstone.core.values import RuleError
from roundstone.exchange import sheet_file
from tests.samples import SHELF, plain, recipe, weighed

DAY = datetime(2031, 3, 10, 9, tzinfo=UTC)
OIL = "fat:olive"


def lot(grams: float, item: str = OIL, expires: date | None = None, price: float | None = None) -> Lot:
    return Lot(item=item, grams=grams, counted=datetime(2031, 3, 1, tzinfo=UTC), expires=expires, price_per_kg=price)


def told(of: Recipe, *lots: Lot) -> Supply:
    held = [LotLeft(id=str(i), lot=x, left=x.grams) for i, x in enumerate(lots)]
    return supply(of, weighed(of), SHELF, held, DAY.date())


class Left(unittest.TestCase):
    def test_what_expires_first_is_used_first_and_only_since_the_count(self) -> None:
        lots = {"late": lot(1000, expires=date(2032, 1, 1)), "soon": lot(300, expires=date(2031, 4, 1))}
        uses = [Use(DAY, {OIL: 400.0}), Use(DAY - timedelta(days=40), {OIL: 999.0})]
        self.assertEqual({x.id: x.left for x in left(allocate(lots, uses))}, {"soon": 0.0, "late": 900.0})

    @given(st.lists(st.floats(0, 5000), min_size=1, max_size=5), st.lists(st.floats(0, 3000), max_size=6))
    def test_nothing_is_lost(self, have: list[float], taken: list[float]) -> None:
        rest = left(allocate({str(i): lot(g) for i, g in enumerate(have)}, [Use(DAY, {OIL: g}) for g in taken]))
        self.assertAlmostEqual(sum(x.left for x in rest), sum(have) - sum(taken), places=6)


class Recall(unittest.TestCase):
    @given(st.lists(st.floats(1, 900), min_size=1, max_size=6), st.integers(1, 4))
    def test_every_gram_a_batch_took_is_found_from_its_lot(self, taken: list[float], many: int) -> None:
        lots = {str(i): lot(6000 / many) for i in range(many)}
        uses = [Use(DAY + timedelta(days=n), {OIL: g}, f"p{n}") for n, g in enumerate(taken)]
        allocation = allocate(lots, uses)
        found = [taken_from(allocation, i) for i in lots]
        for use in uses:
            self.assertAlmostEqual(sum(f.get(use.pour, 0.0) for f in found), use.grams[OIL], places=6)
            labels = bottles(allocation, use.pour)[OIL]
            self.assertEqual(sum(use.pour in f for f in found), len(labels))

    @given(st.lists(st.floats(1, 900), min_size=1, max_size=6), st.integers(0, 6))
    def test_putting_a_lot_away_changes_nothing_that_was(self, taken: list[float], before: int) -> None:
        """What was taken of it until then was taken of no other; from then on nothing is taken of it."""
        lots = {"drum": lot(1500, expires=date(2031, 9, 1)), "next": lot(3000, expires=date(2032, 9, 1))}
        uses = [Use(DAY + timedelta(days=i), {OIL: g}, str(i)) for i, g in enumerate(taken)]
        away = {"drum": DAY + timedelta(days=before, hours=-1)}
        first, whole = allocate(lots, uses[:before]), allocate(lots, uses, away)
        there = {x.id: x.left for x in left(first)}
        self.assertAlmostEqual(left(whole)[0].left, there["next"] - sum(g for g in taken[before:]), places=6)
        self.assertEqual(taken_from(whole, "drum"), taken_from(first, "drum"))

    @given(
        st.lists(st.tuples(st.sampled_from((OIL, "fat:coconut")), st.floats(1, 900)), min_size=1, max_size=6), st.data()
    )
    def test_what_is_known_already_is_told_the_same(self, taken: list[tuple[str, float]], data: st.DataObject) -> None:
        """Whatever changed between: a pour more or less, another lot, one counted anew or put away."""
        lots = {"a": lot(1000), "b": lot(500, "fat:coconut"), "c": lot(700, expires=date(2031, 9, 1))}
        uses = [Use(DAY + timedelta(days=n), {item: g}, f"p{n}") for n, (item, g) in enumerate(taken)]
        before = allocate(lots, data.draw(st.sampled_from((uses, uses[1:], uses[:-1]))))
        change = data.draw(st.sampled_from(list(lots)))
        others = lots | {change: lots[change].model_copy(update={"grams": 50.0}), "d": lot(90)}
        away = data.draw(st.sampled_from(({}, {change: DAY + timedelta(days=2)})))
        again, anew = allocate(others, uses, away, before), allocate(others, uses, away)
        self.assertEqual(left(again), left(anew))
        self.assertEqual([taken_from(again, i) for i in others], [taken_from(anew, i) for i in others])
        self.assertEqual([bottles(again, u.pour) for u in uses], [bottles(anew, u.pour) for u in uses])

    @given(st.lists(st.floats(1, 900), min_size=2, max_size=6), st.integers(1, 5), st.floats(0, 2000))
    def test_counting_a_lot_anew_forgets_no_batch_it_is_in(self, taken: list[float], after: int, found: float) -> None:
        """What was taken before the count was taken from it all the same, and from no other lot."""
        lots = {"drum": lot(1500, expires=date(2031, 9, 1)), "next": lot(3000, expires=date(2032, 9, 1))}
        uses = [Use(DAY + timedelta(days=i), {OIL: g}, str(i)) for i, g in enumerate(taken)]
        now = DAY + timedelta(days=after, hours=-1)
        counted = recount(lots["drum"], LotEdit(item=OIL, grams=found, counted=now, expires=date(2031, 9, 1)), now)
        anew = lots | {"drum": counted}
        before = {p: g for p, g in taken_from(allocate(lots, uses), "drum").items() if int(p) < after}
        recounted = allocate(anew, uses)
        told = taken_from(recounted, "drum")
        self.assertEqual({p: g for p, g in told.items() if int(p) < after}, before)
        rest = {x.id: x.left for x in left(recounted)}
        since = sum(g for p, g in told.items() if int(p) >= after)
        self.assertAlmostEqual(rest["drum"], found - since, places=6)
        self.assertAlmostEqual(rest["next"], 3000 - sum(taken_from(recounted, "next").values()), places=6)
        again = recount(counted, LotEdit(item=OIL, label="renamed"), now)
        self.assertEqual((again.counts, again.label), (counted.counts, "renamed"))
        slip = recount(counted, LotEdit(item=OIL, grams=7, counted=DAY - timedelta(days=2)), now)
        self.assertEqual([c.grams for c in slip.counts], [1500, 7], "a count of an earlier moment replaces later ones")

    def test_also_through_what_was_made_here_of_it(self) -> None:
        """A tenth of what an infusion of a lot is made of is in a batch that took a tenth of the infusion."""
        infused = lot(500, "fat:infused").model_copy(
            update={"made": DAY, "made_of": (Taken(item=OIL, grams=500.0),), "counted": DAY}
        )
        lots = {"drum": lot(1000), "infused": infused}
        uses = [Use(DAY + timedelta(days=1), {"fat:infused": 50.0, OIL: 10.0}, "p")]
        found = allocate(lots, uses + makings(lots))
        self.assertEqual(taken_from(found, "drum"), {"p": 60.0})
        self.assertEqual(taken_from(found, "infused"), {"p": 50.0})
        # More was made of the drum than was counted in it: all of it came from there.
        short = lots | {"drum": lot(200)}
        self.assertEqual(taken_from(allocate(short, uses + makings(short)), "drum"), {"p": 60.0})


class Purity(unittest.TestCase):
    @given(st.floats(0.9, 1.0), st.floats(0.9, 1.0))
    def test_a_lot_of_another_purity_is_told_and_one_click_reckons_with_it(self, lot_is: float, by: float) -> None:
        """A danger where the superfat may not bear it. With the mend the lye holds just what the fats take."""
        of = recipe(naoh_purity=by)
        bag = lot(5000, "alkali:naoh").model_copy(update={"purity": lot_is, "label": "bag 3"})
        found = [c for c in told(of, bag).certificates if c.pointer == "/naoh_purity"]
        self.assertEqual(bool(found), abs(lot_is - by) > 0.0005)
        for caution in found:
            self.assertEqual(caution.danger, weighed(of).superfat.likely.low < lot_is / by - 1)
            (mend,) = caution.mends
            mended = of.model_copy(update={"naoh_purity": mend.value})
            self.assertEqual([c for c in told(mended, bag).certificates if c.pointer == "/naoh_purity"], [])
            self.assertAlmostEqual(weighed(mended).naoh * lot_is, weighed(of).naoh * by, places=6)

    def test_lye_that_would_be_heavy_is_said_beside_its_weight_and_where_it_is_weighed(self) -> None:
        of, bag = recipe(naoh_purity=0.95), lot(5000, "alkali:naoh").model_copy(update={"purity": 0.99})
        stated = told(of, bag).certificates
        self.assertIn("too much", str(gravest(stated, None)[0].message))
        sheet = weighed(of)
        steps = work_order(of, SHELF, sheet, plan(of, SHELF, sheet.lines), stated)
        self.assertEqual([s.title for s in steps if stated[0] in s.cautions], ["Lye"])
        parts = ready_parts(of, steps, planned(of, SHELF, sheet.total), (), ReadyState(), SHELF)
        at = [p for p in parts if any(c.pointer == "/naoh_purity" for c in p.cautions)]
        self.assertEqual(len(at), 1)
        self.assertTrue(any("Sodium hydroxide" in str(i.name) for i in at[0].items))

    def test_of_two_bags_those_this_batch_takes_from_are_told(self) -> None:
        need = weighed(recipe()).naoh
        pure, other = (lot(need / 2 + 1, "alkali:naoh").model_copy(update={"purity": p}) for p in (0.99, 0.97))
        for bags, many in (((pure, other), 1), ((pure, pure, other), 0)):
            stated = told(recipe(naoh_purity=0.99), *bags).certificates
            self.assertEqual(sum(c.pointer == "/naoh_purity" for c in stated), many)

    def test_a_stock_lye_is_of_such_a_bag_too(self) -> None:
        bag = lot(5000, "alkali:naoh").model_copy(update={"purity": 0.97})
        of = recipe(stock=0.5, naoh_purity=0.99)
        self.assertEqual([c.pointer for c in told(of, bag).certificates], ["/naoh_purity"])

    @given(st.floats(0.9, 1.0))
    def test_a_danger_to_one_portion_is_one(self, lot_is: float) -> None:
        """Oil that is counted and goes into one portion leaves less of the other's."""
        oiled = Dose(additive="mica", amount=20, into="Bone", carrier=Carrier(fat="olive", parts=3))
        of = recipe(superfat=0.04, naoh_purity=0.95, additives=(oiled,), count_carriers=True)
        bag = lot(5000, "alkali:naoh").model_copy(update={"purity": lot_is})
        sheet = weighed(of)
        least = min(p.likely.low for p in sheet.portions)
        self.assertLess(least, sheet.superfat.likely.low)
        for caution in told(of, bag).certificates:
            self.assertEqual(caution.danger, least < lot_is / 0.95 - 1)


class SaponificationValues(unittest.TestCase):
    """A lot's own saponification value is the recipe's to state; everything that reckons with fats then follows it."""

    @given(st.floats(0.97, 1.03), st.sampled_from(["olive", "coconut"]), st.booleans())
    def test_a_row_that_states_it_is_weighed_as_a_fat_that_has_it(self, by: float, name: str, counted: bool) -> None:
        rows = (FatShare(fat="olive", share=0.7), FatShare(fat="coconut", share=0.3))
        clay = Dose(additive="mica", amount=5, carrier=Carrier(fat="olive", parts=2))
        of = recipe(fats=rows, additives=(clay,), count_carriers=counted)
        sv = SHELF.fats[name].sv * by
        stated = of.model_copy(
            update={"fats": tuple(r.model_copy(update={"sv": sv}) if r.fat == name else r for r in rows)}
        )
        shelf = SHELF.model_copy(update={"fats": {**SHELF.fats, name: by_certificate(SHELF.fats[name], sv)}})
        one, other = weigh(stated, SHELF), weigh(of, shelf)
        assert one.sheet is not None and other.sheet is not None
        plainly = [x.model_copy(update={"note": other.sheet.lines[i].note}) for i, x in enumerate(one.sheet.lines)]
        self.assertEqual(one.sheet.model_copy(update={"lines": tuple(plainly)}), other.sheet)
        half = {"alkali:naoh": one.sheet.naoh * 0.97}
        self.assertAlmostEqual(
            following(stated, SHELF, one.sheet, half).superfat, following(of, shelf, other.sheet, half).superfat
        )
        back = sheet_file.read(sheet_file.write(one.sheet, stated, SHELF), "back", SHELF)
        self.assertAlmostEqual({r.fat: r.sv for r in back.fats}[name] or 0, sv, places=6)
        self.assertAlmostEqual(weighed(back).naoh, one.sheet.naoh, delta=0.001)

    @given(st.floats(0.97, 1.03), st.none() | st.floats(0.97, 1.03))
    def test_another_than_the_recipe_reckons_with_is_told_and_one_click_takes_it(
        self, lot_is: float, states: float | None
    ) -> None:
        """The lye that one click gives is what the lot takes: no more, whatever was reckoned before."""
        table = SHELF.fats["olive"].sv
        of = recipe(fats=(FatShare(fat="olive", share=1.0, sv=None if states is None else table * states),))
        drum = lot(5000).model_copy(update={"sv": table * lot_is, "label": "drum"})
        found = told(of, drum).certificates
        self.assertEqual(bool(found), abs(lot_is / (states or 1.0) - 1) > 0.0005)
        for caution in found:
            self.assertEqual(caution.danger, min(weighed(of).superfat.likely.low, 1) < 1 - lot_is / (states or 1.0))
            (mend,) = caution.mends
            self.assertEqual(mend.pointer, "/fats/0/sv")
            mended = of.model_copy(update={"fats": (FatShare(fat="olive", share=1.0, sv=mend.value),)})
            self.assertEqual(told(mended, drum).certificates, ())
            self.assertAlmostEqual(weighed(mended).naoh / weighed(of).naoh, lot_is / (states or 1.0), places=9)

    def test_a_value_of_no_such_fat_is_refused_beside_it(self) -> None:
        of = recipe(fats=(FatShare(fat="olive", share=0.7, sv=250.0), FatShare(fat="coconut", share=0.3)))
        self.assertEqual([f.pointer for f in weigh(of, SHELF).faults], ["/fats/0/sv"])
        self.assertIn("250 is", str(weigh(of, SHELF).faults[0].message))
        for bad in ({"sv": 250.0}, {"item": "alkali:naoh", "sv": 190.0}, {"purity": 0.9}):
            with self.assertRaises(RuleError):
                check_lot(lot(10).model_copy(update=bad), SHELF)

    def test_the_sheet_names_the_lots_in_the_order_they_are_taken(self) -> None:
        sheet = weighed(recipe())
        olive = next(x.grams for x in sheet.lines if x.item == OIL)
        lots = [lot(olive / 2), lot(olive), lot(olive)]
        held = [
            LotLeft(id=n, lot=x.model_copy(update={"label": n}), left=x.grams)
            for n, x in zip(("first", "second", "third"), lots, strict=True)
        ]
        noted = {x.item: str(x.note) for x in in_hand(sheet, held).lines}
        self.assertIn("lot: first, second", noted[OIL])
        self.assertNotIn("third", noted[OIL])
        self.assertEqual([x.grams for x in in_hand(sheet, held).lines], [x.grams for x in sheet.lines])


class Bottles(unittest.TestCase):
    def test_each_pour_knows_the_lots_it_took_from(self) -> None:
        old = lot(300, expires=date(2031, 4, 20)).model_copy(update={"label": "old"})
        lots = {"old": old, "new": lot(500).model_copy(update={"label": "new"})}
        uses = [Use(DAY + timedelta(days=n), {OIL: 200.0}, f"p{n}") for n in (1, 2, 30)]
        told = [bottles(allocate(lots, uses), use.pour)[OIL] for use in uses]
        self.assertEqual([[b.label for b in x] for x in told], [["old"], ["old", "new"], ["new"]])
        self.assertEqual([x[0].days for x in told], [(use.at - lots["old"].counted).days for use in uses])
        self.assertIn("days before", str(told[0][0]))
        late = bottles(allocate(lots, [Use(DAY + timedelta(days=50), {OIL: 5.0}, "late")]), "late")[OIL]
        self.assertTrue(late[0].past)
        self.assertEqual(bottles(allocate(lots, uses), "no such pour"), {})


class MadeHere(unittest.TestCase):
    """An infused oil and a premix: what they take, what they bring to the lye, and how long they keep."""

    infused = make(
        NewInfusion(name="Annatto olive", base=OIL, steeped="annatto", tint="#d08a2a"), "annatto-olive", SHELF
    )
    premix = make(
        NewPremix(
            name="Mica in sweet almond",
            parts=(IntoPremix(item="additive:mica", grams=40), IntoPremix(item="fat:almond", grams=60)),
        ),
        "mica-almond",
        SHELF,
    )
    shelf = SHELF.model_copy(
        update={
            "fats": dict(SHELF.fats) | {"annatto-olive": infused},
            "additives": dict(SHELF.additives) | {"mica-almond": premix},
        }
    )

    def sheet(self, of: Recipe) -> Sheet:
        found = weigh(of, self.shelf).sheet
        assert found is not None
        return found

    def test_an_infused_oil_takes_the_lye_of_its_oil(self) -> None:
        plain = recipe()
        rows = tuple(r.model_copy(update={"fat": "annatto-olive"}) if r.fat == "olive" else r for r in plain.fats)
        other = plain.model_copy(update={"fats": rows})
        self.assertEqual(self.sheet(other).naoh, self.sheet(plain).naoh)
        self.assertEqual(self.sheet(other).superfat, self.sheet(plain).superfat)

    @given(st.floats(2, 40))
    def test_a_premix_is_its_powder_and_its_oil_to_the_lye(self, powder: float) -> None:
        """The superfat counts its oil as it counts an oil a powder is dispersed in by hand."""
        ahead = recipe(additives=(Dose(additive="mica-almond", amount=powder / 0.4),))
        carrier = Carrier(fat="almond", parts=1.5)
        by_hand = recipe(additives=(Dose(additive="mica", amount=powder, carrier=carrier),))
        one, two = self.sheet(ahead), self.sheet(by_hand)
        self.assertAlmostEqual(one.superfat.with_liquids, two.superfat.with_liquids, delta=1e-9)
        self.assertAlmostEqual(one.total, two.total, delta=1e-6)
        self.assertAlmostEqual(one.naoh, two.naoh, delta=1e-9)

    def test_making_takes_its_parts_once_and_keeps_no_longer_than_they(self) -> None:
        lots = {
            "oil": lot(500, "fat:almond", expires=date(2031, 4, 1), price=10.0),
            "mica": lot(100, "additive:mica", price=80.0),
        }
        here = [LotLeft(id=i, lot=x, left=x.grams) for i, x in lots.items()]
        made = made_lot(MakeLot(item="additive:mica-almond", grams=50), self.shelf, here, DAY)
        self.assertEqual({t.item: t.grams for t in made.made_of}, {"additive:mica": 20.0, "fat:almond": 30.0})
        self.assertEqual(made.expires, date(2031, 4, 1))
        self.assertAlmostEqual(made.price_per_kg or 0, 0.4 * 80 + 0.6 * 10)
        rest = {x.id: x.left for x in left(allocate(lots | {"made": made}, makings({"made": made})))}
        self.assertEqual(rest, {"oil": 470.0, "mica": 80.0, "made": 50.0})
        self.assertEqual(makings({"made": made.model_copy(update={"unmade": True})}), [])
        young = made_lot(MakeLot(item="fat:annatto-olive", grams=50), self.shelf, (), DAY)
        self.assertEqual(young.expires, (DAY + timedelta(days=180)).date())
        for wrong in (
            MakeLot(item="fat:olive", grams=5),
            MakeLot(item="fat:annatto-olive", grams=5, at=DAY.replace(year=2040)),
        ):
            with self.assertRaises(RuleError):
                made_lot(wrong, self.shelf, (), DAY)

    def test_what_must_be_weighed_by_itself_is_refused(self) -> None:
        """Sugar, salt and acids change the lye or the batter: never inside a premix."""
        for item in ("additive:sugar", "additive:citric-acid", "additive:nothing", "liquid:nothing"):
            parts = (IntoPremix(item="additive:mica", grams=10), IntoPremix(item=item, grams=10))
            with self.assertRaises(RuleError) as refused:
                make(NewPremix(name="x", parts=parts), "x", SHELF)
            self.assertEqual(refused.exception.faults[0].pointer, "/parts/1/item")
        oils = (IntoPremix(item=OIL, grams=10), IntoPremix(item="fat:almond", grams=10))
        with self.assertRaises(RuleError):
            make(NewPremix(name="x", parts=oils), "x", SHELF)


class Shortage(unittest.TestCase):
    def test_a_short_bottle_says_what_would_still_fit(self) -> None:
        """18 g needed for 1000 g fats at 3 % in 60 % of the batter; 9 g are half of it."""
        (caution,) = told(recipe(), lot(9, "fragrance:moderate")).short
        self.assertEqual(caution.pointer, "/scents/0/load")
        for words in ("18.0 g needed", "9.0 g left", "500 g fats", "1.5 % of it"):
            self.assertIn(words, plain(caution.message))

    def test_what_is_not_counted_is_not_missing(self) -> None:
        self.assertEqual(told(recipe()).short, ())

    @given(st.floats(0.01, 1.5), st.floats(0.01, 1.5), st.sampled_from(list(Family)))
    def test_a_short_bottle_is_stretched_with_what_is_like_it_and_there(
        self, there: float, other: float, family: Family
    ) -> None:
        kin = {n: SHELF.fragrances[n].model_copy(update={"family": family}) for n in ("moderate", "slight", "strong")}
        shelf = SHELF.model_copy(update={"fragrances": {**SHELF.fragrances, **kin}})
        of = recipe()
        need = sum(x.grams for x in weighed(of).lines if x.kind == "fragrance")
        lots = [lot(there * need, "fragrance:moderate"), lot(other * need, "fragrance:slight")]
        lots.append(lot(9000, "fragrance:strong"))
        held = [LotLeft(id=str(i), lot=x, left=x.grams) for i, x in enumerate(lots)]
        mends = [m for c in supply(of, weighed(of), shelf, held, DAY.date()).short for m in c.mends]
        lacks = (1 - there) * need
        if abs(lacks - PRECISE) > 1e-6 and abs(lacks - other * need) > 1e-6:  # else the last digit decides
            self.assertEqual(len(mends), PRECISE < lacks < other * need and family is not Family.OTHER)
        for mend in mends:
            doc = of.model_dump() | {mend.pointer.removeprefix("/"): mend.value}
            made = Recipe.model_validate(doc)
            self.assertAlmostEqual(sum(s.load for s in made.scents), sum(s.load for s in of.scents))
            self.assertEqual(supply(made, weighed(made), shelf, held, DAY.date()).short, ())

    def test_dates(self) -> None:
        for expires, words in ((date(2031, 3, 9), "went past"), (date(2031, 3, 25), "is good until")):
            self.assertIn(words, told(recipe(), lot(9000, expires=expires)).short[0].message)
        self.assertEqual(told(recipe(), lot(9000, expires=date(2033, 1, 1))).short, ())


class Money(unittest.TestCase):
    def test_per_batch_and_bar(self) -> None:
        """500 g olive at 6 a kilogram and 18 g scent at 80 make 4.44; ten bars, 0.444 each."""
        of = recipe()
        size = ByMoulds(moulds=(Box(length=25, width=8, fill=6, cut=25),))
        prices = (lot(9000, price=6.0), lot(900, "fragrance:moderate", price=80.0))
        cost = told(of, *prices).cost
        assert cost is not None
        self.assertAlmostEqual(cost.batch, 0.5 * 6 + 0.018 * 80)
        self.assertIsNone(cost.bar)
        self.assertIn("Castor", cost.unpriced)
        cut = told(recipe(size=size), *prices).cost
        assert cut is not None and cut.bar is not None
        self.assertAlmostEqual(cut.bar, cut.batch / 10)
