"""Grams typed into a row, and the rest balanced: what was not touched stays as it was."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.recipe import (
    MOST_PORTIONS,
    Box,
    ByMoulds,
    ByWeight,
    Cavities,
    Design,
    Dose,
    Embed,
    FatShare,
    Portion,
    Recipe,
)
from roundstone.core.sheet import (
    Act,
    AddFat,
    AddPortion,
    Balance,
    FatGrams,
    FatTyped,
    PortionAmount,
    PortionPerMould,
    TakePortion,
    adjust,
    to_weigh,
    weigh,
)
from roundstone.core.values import RuleError
from tests.core.test_weigh import recipes
from tests.samples import SHELF, grams_of, recipe, weighed


class Grams(unittest.TestCase):
    @settings(max_examples=80, deadline=None)
    @given(recipes(), st.floats(5, 5000))
    def test_by_weight_only_that_row_changes(self, any_recipe: Recipe, grams: float) -> None:
        before = any_recipe.model_copy(update={"size": ByWeight(grams=1000)})
        after = adjust(before, FatGrams(row=0, grams=grams), weighed(before))
        self.assertAlmostEqual(sum(r.share for r in after.fats), 1, delta=1e-9)
        found = weigh(after, SHELF)
        if found.sheet is None:  # another fat became too small a share to keep
            self.assertTrue(all("share" in f.pointer or f.pointer == "/size/grams" for f in found.faults), found.faults)
            return
        was, now = grams_of(weighed(before)), grams_of(found.sheet)
        # Shares are kept to a thousandth of a percent, so grams to that part of the pot.
        fine = 2e-5 * found.sheet.fats * len(after.fats)
        self.assertAlmostEqual(now[after.fats[0].fat], grams, delta=fine)
        for row in after.fats[1:]:
            self.assertAlmostEqual(now[row.fat], was[row.fat], delta=fine)

    def test_by_moulds_the_mould_stays_full(self) -> None:
        before = recipe(size=ByMoulds(moulds=(Box(length=20, width=8, fill=6),)))
        sheet = weighed(before)
        olive = grams_of(sheet)["olive"]
        after = to_weigh(before, FatGrams(row=0, grams=olive * 1.5), SHELF)
        self.assertEqual(after.size, before.size)
        self.assertAlmostEqual(weighed(after).millilitres, sheet.millilitres, delta=1e-6)
        self.assertGreater(after.fats[0].share, before.fats[0].share)

    @settings(max_examples=60, deadline=None)
    @given(recipes(), st.floats(0.02, 0.98), st.lists(st.integers(0, 11), max_size=3).map(tuple))
    def test_by_moulds_what_was_typed_stands(self, of: Recipe, part: float, keep: tuple[int, ...]) -> None:
        """Those to keep keep their share, the others theirs to one another, and the mould is as full as it was."""
        of = of.model_copy(update={"size": ByMoulds(moulds=(Box(length=20, width=8, fill=6),)), "embeds": ()})
        sheet = weighed(of)
        grams = part * sheet.fats
        after = to_weigh(of, FatGrams(row=0, grams=grams, keep=keep), SHELF)
        found = weigh(after, SHELF)
        if found.sheet is None:  # it leaves nothing for the others, or too little of one
            self.assertTrue(all("share" in f.pointer or f.pointer == "/fats" for f in found.faults), found.faults)
            return
        self.assertAlmostEqual(grams_of(found.sheet)[after.fats[0].fat], grams, delta=2e-6 * found.sheet.fats)
        self.assertAlmostEqual(found.sheet.millilitres, sheet.millilitres, delta=1e-6)
        if {*range(len(of.fats))} - {0, *keep}:
            for i in {*keep} - {0}:
                if i < len(of.fats):
                    self.assertEqual(after.fats[i].share, of.fats[i].share)

    def test_what_cannot_be(self) -> None:
        sheet = weighed(recipe())
        for act in (FatGrams(row=0, grams=0), FatGrams(row=0, grams=-4), FatGrams(row=9, grams=5)):
            with self.assertRaises(RuleError):
                adjust(recipe(), act, sheet)
        moulds = recipe(size=ByMoulds(moulds=(Box(length=20, width=8, fill=6),)))
        for act in (FatGrams(row=0, grams=-1), FatGrams(row=4, grams=5)):
            with self.assertRaises(RuleError):
                to_weigh(moulds, act, SHELF)
        with self.assertRaises(RuleError):
            adjust(moulds, FatGrams(row=0, grams=5), weighed(moulds))

    def test_a_list_of_weights_is_typed_from_the_first_row(self) -> None:
        """Grams stay as typed, the total follows, and nothing is ever wrong on the way."""
        of = recipe(fats=(), scents=())
        wanted = {"olive": 437.0, "coconut": 210.5, "castor": 52.25}
        for i, (fat, grams) in enumerate(wanted.items()):
            of = adjust(of, AddFat(fat=fat, on_top=True, keep=tuple(range(i))), None)
            self.assertEqual(weigh(of, SHELF).faults, ())
            of = adjust(of, FatGrams(row=i, grams=grams), None)
            self.assertEqual(weigh(of, SHELF).faults, ())
        for fat, grams in wanted.items():
            self.assertAlmostEqual(grams_of(weighed(of))[fat], grams, delta=0.02)
        self.assertAlmostEqual(weighed(of).fats, sum(wanted.values()), delta=1e-3)


class Balanced(unittest.TestCase):
    def test_the_kept_row_stays_and_the_rest_keep_their_proportions(self) -> None:
        shares = (("olive", 0.60), ("coconut", 0.25), ("lard", 0.20), ("castor", 0.05))
        off = recipe(fats=tuple(FatShare(fat=f, share=s) for f, s in shares))
        self.assertIsNone(weigh(off, SHELF).sheet)
        after = adjust(off, Balance(keep=(0,)), None)
        self.assertEqual([round(r.share, 5) for r in after.fats], [0.6, 0.2, 0.16, 0.04])
        self.assertIsNotNone(weigh(after, SHELF).sheet)

    def test_odd_thirds_still_make_a_whole(self) -> None:
        off = recipe(fats=tuple(FatShare(fat=f, share=0.1) for f in ("olive", "coconut", "lard")))
        after = adjust(off, Balance(), None)
        self.assertAlmostEqual(sum(r.share for r in after.fats), 1.0, delta=1e-12)

    def test_nothing_left_for_the_others(self) -> None:
        full = recipe(fats=(FatShare(fat="olive", share=1.0), FatShare(fat="coconut", share=0.2)))
        with self.assertRaises(RuleError):
            adjust(full, Balance(keep=(0,)), None)


class Rows(unittest.TestCase):
    def test_a_new_fat_takes_what_is_missing(self) -> None:
        short = recipe(fats=(FatShare(fat="olive", share=0.7),))
        self.assertEqual(adjust(short, AddFat(fat="coconut"), None).fats[1].share, 0.3)
        self.assertEqual(adjust(recipe(fats=()), AddFat(fat="olive"), None).fats[0].share, 1.0)
        fuller = adjust(recipe(), AddFat(fat="shea", keep=(0,)), None)
        self.assertEqual((fuller.fats[0].share, fuller.fats[-1].share), (0.5, 0.05), "the typed row stays")
        self.assertEqual(weigh(fuller, SHELF).faults, ())

    def test_a_typed_share_moves_only_what_was_not_typed(self) -> None:
        of = adjust(recipe(), FatTyped(row=1, share=0.35, keep=(0,)), None)
        self.assertEqual([round(r.share, 5) for r in of.fats], [0.5, 0.35, 0.12, 0.03])
        stuck = adjust(of, FatTyped(row=3, share=0.2, keep=(0, 1, 2)), None)
        self.assertEqual([r.share for r in stuck.fats][:3], [r.share for r in of.fats][:3])
        self.assertIn("too much", weigh(stuck, SHELF).faults[0].message)
        with self.assertRaises(RuleError):
            adjust(of, FatTyped(row=7, share=0.2), None)
        below = recipe(fats=(FatShare(fat="olive", share=1.4), FatShare(fat="castor", share=-0.4)))
        with self.assertRaises(RuleError) as refused:
            adjust(below, Balance(), None)
        self.assertEqual(refused.exception.faults[0].pointer, "/fats/1/share")

    def test_portions_always_make_the_whole(self) -> None:
        of = recipe()
        for n in range(3, MOST_PORTIONS + 1):
            of = adjust(of, AddPortion(), None)
            self.assertEqual(len(of.design.portions), n)
            self.assertEqual(weigh(of, SHELF).faults, ())
        with self.assertRaises(RuleError):
            adjust(of, AddPortion(), None)
        for n in range(MOST_PORTIONS - 1, 0, -1):
            of = adjust(of, TakePortion(row=n), None)
            self.assertAlmostEqual(sum(p.share for p in of.design.portions), 1, delta=1e-9)
        with self.assertRaises(RuleError):
            adjust(of, TakePortion(row=0), None)


class Typed(unittest.TestCase):
    @given(st.lists(st.tuples(st.integers(0, 4), st.integers(1, 19)), min_size=1, max_size=4, unique_by=lambda x: x[0]))
    def test_a_share_that_was_typed_stays(self, typed: list[tuple[int, int]]) -> None:
        """Of five portions, whichever are typed in whatever order, as long as one is left that nobody typed."""
        portions = tuple(Portion(name=n, share=0.2) for n in "abcde")
        of, kept = recipe(design=Design(portions=portions, technique="drop-swirl")), list[int]()
        for row, percent in typed:
            of = adjust(of, PortionAmount(row=row, amount=percent, keep=tuple(kept)), weighed(recipe()))
            kept.append(row)
        for row, percent in typed:
            self.assertAlmostEqual(of.design.portions[row].share, percent / 100, places=6)
        self.assertAlmostEqual(sum(p.share for p in of.design.portions), 1, places=6)


class Additions(unittest.TestCase):
    def test_they_follow_their_portion(self) -> None:
        of = recipe(additives=(Dose(additive="mica", amount=5, into=("Bone",)),))
        taken = adjust(of, TakePortion(row=1), None)
        self.assertEqual(taken.additives[0].into, ("Base",))

    def test_a_master_batter_has_a_portion_for_each_mould(self) -> None:
        size = ByMoulds(moulds=(Box(length=20, width=8, fill=6), Cavities(count=6, millilitres=80)))
        for embeds, share in (((), 960 / 1440), ((Embed(name="bead", count=2, grams=5),), 0.6921)):
            of = adjust(recipe(size=size, embeds=embeds), PortionPerMould(), None)
            self.assertEqual([p.name for p in of.design.portions], ["Box 1", "Cavities 2"])
            self.assertAlmostEqual(of.design.portions[0].share, share, places=4)
            sheet = weighed(of)
            for portion, bars in zip(sheet.portions, sheet.bars, strict=True):
                self.assertAlmostEqual(portion.batter + portion.fragrance, bars.batter, delta=0.001 * bars.batter)
        with self.assertRaises(RuleError):
            adjust(recipe(), PortionPerMould(), None)


ACTS = st.one_of(
    st.builds(FatGrams, row=st.integers(-1, 12), grams=st.floats(-10, 5000)),
    st.builds(Balance, keep=st.lists(st.integers(-1, 12), max_size=4).map(tuple)),
    st.builds(AddFat, fat=st.sampled_from(sorted(SHELF.fats)), keep=st.lists(st.integers(0, 4)).map(tuple)),
    st.builds(FatTyped, row=st.integers(-1, 12), share=st.floats(0, 1.2), keep=st.lists(st.integers(0, 4)).map(tuple)),
    st.builds(AddPortion),
    st.builds(TakePortion, row=st.integers(-1, 4)),
    st.builds(PortionPerMould),
)


class AnyAct(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(recipes(), st.lists(ACTS, min_size=1, max_size=5))
    def test_is_refused_whole_or_leaves_a_whole(self, of: Recipe, acts: list[Act]) -> None:
        """Shares of portions always make one, fats too unless one was added to a full pot; nothing is below zero."""
        for act in acts:
            whole = sum(r.share for r in of.fats)
            try:
                after = adjust(of, act, weigh(of, SHELF).sheet)
            except RuleError as broken:
                self.assertTrue(all(f.pointer.startswith("/") and f.message for f in broken.faults))
                continue
            self.assertEqual(
                after.model_copy(
                    update={"fats": of.fats, "design": of.design, "size": of.size, "additives": of.additives}
                ),
                of,
            )
            shares = [r.share for r in after.fats]
            self.assertTrue(all(s >= 0 for s in shares), act)
            if isinstance(act, AddFat):
                self.assertGreaterEqual(sum(shares), min(whole, 1) - 1e-6)
            elif isinstance(act, FatGrams | Balance):
                self.assertAlmostEqual(sum(shares), 1, delta=1e-9)
            parts = after.design.portions
            self.assertAlmostEqual(sum(p.share for p in parts), 1, delta=1e-5)
            self.assertEqual(len({p.name for p in parts}), len(parts))
            names = {p.name for p in parts}
            self.assertTrue(all({*d.into} <= names for d in after.additives))
            of = after
