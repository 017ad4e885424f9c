"""A blend as one thing: weighed as its parts, held to their limits, and learned of through them, both ways."""

import unittest
from dataclasses import replace
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from roundstone.core.batter import CLAIM_LOAD, Knowledge, extended, prior, scent_column, trade_knowledge
from roundstone.core.forecast import claimed_hazards, learn_hazards
from roundstone.core.logbook import learn
from roundstone.core.pour import replay
from roundstone.core.recipe import Recipe, Scent, blend_of, taken_apart, with_blend
from roundstone.core.schedule import build_schedule
from roundstone.core.sheet import label, used, weigh
from roundstone.core.shelf import BlendPart, Fragrance, Shelf, after_a_part, blended, in_a_bottle
from roundstone.core.values import RuleError
from tests.core.test_learning import course_of
from tests.samples import SHELF, quick_pour, recipe

SHARES = st.lists(st.floats(0.05, 1.0), min_size=2, max_size=4)


def blend(shares: dict[str, float], shelf: Shelf = SHELF, **of: Any) -> Fragrance:
    parts = tuple(BlendPart(fragrance=f, share=s) for f, s in shares.items())
    new = shelf.fragrances[next(iter(shares))].model_copy(update={"name": "Both", "parts": parts} | of)
    return Fragrance.model_validate(blended(new, shelf).model_dump() | {"id": "both"})


def holding(*more: Fragrance, shelf: Shelf = SHELF) -> Shelf:
    return shelf.model_copy(update={"fragrances": dict(shelf.fragrances) | {f.id: f for f in more}})


def scented(*scents: tuple[str, float]) -> Recipe:
    return recipe(scents=tuple(Scent(fragrance=f, load=x) for f, x in scents))


class Weighed(unittest.TestCase):
    @given(SHARES, st.floats(0.005, 0.03))
    def test_a_blend_weighs_what_its_parts_weigh_as_rows_of_their_own(self, raw: list[float], load: float) -> None:
        names = ("none", "slight", "moderate", "strong")[: len(raw)]
        both = blend({n: s / sum(raw) for n, s in zip(names, raw, strict=True)})
        shelf = holding(both)
        one = scented(("both", load))
        apart = taken_apart(one, both)
        sheets = [weigh(r, shelf).sheet for r in (one, apart)]
        first, second = sheets
        assert first is not None
        assert second is not None
        taken = [{i: g for i, g in used(s.lines).items() if i.startswith("fragrance:")} for s in (first, second)]
        self.assertEqual(taken[0].keys(), taken[1].keys())
        for item, grams in taken[0].items():
            self.assertAlmostEqual(grams, taken[1][item], delta=1e-9)
        self.assertAlmostEqual(first.total, second.total, delta=1e-9)
        self.assertAlmostEqual(first.naoh, second.naoh, delta=1e-9)
        self.assertEqual(first.limit, second.limit)
        self.assertEqual(len({x.key for x in first.lines}), len(first.lines))
        self.assertEqual(with_blend(apart, both).scents[0].fragrance, "both")
        self.assertAlmostEqual(with_blend(apart, both).scents[0].load, load)

    def test_limits_allergens_and_the_label_are_those_of_the_parts(self) -> None:
        told = {
            "none": {"limit": 0.02, "allergens": ("Linalool",)},
            "strong": {"limit": 0.01, "allergens": ("Geraniol", "Linalool")},
        }
        shelf = holding(*(SHELF.fragrances[i].model_copy(update=x) for i, x in told.items()))
        both = blend({"none": 0.5, "strong": 0.5}, shelf)
        self.assertAlmostEqual(both.limit or 0, 1 / (0.5 / 0.02 + 0.5 / 0.01))
        self.assertEqual(both.allergens, ("Geraniol", "Linalool"))
        shelf, one = holding(both, shelf=shelf), scented(("both", 0.03))
        sheet = weigh(one, shelf).sheet
        assert sheet is not None
        assert sheet.limit is not None
        self.assertAlmostEqual(sheet.limit.wet * sheet.total / sheet.fats, 0.03 / (both.limit or 1), delta=0.05)
        self.assertEqual(label(one, shelf, sheet.lines).allergens, ("Geraniol", "Linalool"))
        unknown = blend({"none": 0.5, "slight": 0.5}, shelf)
        self.assertIsNone(unknown.limit)

    def test_a_bottle_of_it_is_weighed_from_itself(self) -> None:
        both = blend({"none": 0.5, "strong": 0.5})
        bottle = Fragrance.model_validate(in_a_bottle(both, "Mixed").model_dump() | {"id": "mixed"})
        sheet = weigh(scented(("mixed", 0.03)), holding(both, bottle)).sheet
        assert sheet is not None
        self.assertEqual([x.item for x in sheet.lines if x.kind == "fragrance"], ["fragrance:mixed"])

    def test_what_cannot_be_is_refused_beside_its_field(self) -> None:
        inner = blend({"none": 0.5, "strong": 0.5})
        for shares, at in (
            ({"none": 1.0}, "/parts"),
            ({"none": 0.5, "strong": 0.4}, "/parts"),
            ({"none": 0.5, "gone": 0.5}, "/parts/1/fragrance"),
            ({"none": 0.5, "both": 0.5}, "/parts/1/fragrance"),
        ):
            parts = tuple(BlendPart(fragrance=f, share=s) for f, s in shares.items())
            with self.assertRaises(RuleError) as refused:
                blended(inner.model_copy(update={"parts": parts}), holding(inner), "both")
            self.assertEqual(refused.exception.faults[0].pointer, at)
        with self.assertRaises(RuleError):
            with_blend(scented(("none", 0.02), ("strong", 0.01)), inner)
        with self.assertRaises(RuleError):
            blend_of("x", [Scent(fragrance="none", load=0.03)])
        for load in (5e307, -1.0, 1e-300):
            absurd = [Scent(fragrance=f, load=load) for f in ("none", "strong", "both")]
            with self.assertRaises(RuleError):
                blend_of("x", absurd)
            if load > 1 or load < 0:
                with self.assertRaises(RuleError):
                    with_blend(recipe(scents=tuple(absurd)), inner)
        with self.assertRaises(RuleError):
            taken_apart(recipe(scents=(Scent(fragrance="both", load=5e307),) * 2), inner)

    def test_a_part_that_changes_changes_every_blend_it_is_in_the_nearest_first(self) -> None:
        inner = blend({"none": 0.5, "strong": 0.5})
        outer = blend({"both": 0.5, "slight": 0.5}, holding(inner)).model_copy(update={"id": "outer"})
        on = holding(inner, outer).fragrances
        self.assertEqual([f.id for f in after_a_part(on["strong"], on)], ["both", "outer"])
        self.assertEqual(after_a_part(on["moderate"], on), [])

    def test_a_ring_that_two_merged_shelves_make_loses_nothing_and_ends(self) -> None:
        both = blend({"none": 0.5, "strong": 0.5})
        ring = SHELF.fragrances["strong"].model_copy(
            update={"parts": tuple(BlendPart(fragrance=f, share=0.5) for f in ("both", "slight"))}
        )
        shelf = holding(both, ring)
        self.assertAlmostEqual(sum(load for load, _ in shelf.poured([("both", 0.03)])), 0.03)
        self.assertIn("both", [f.id for f in after_a_part(shelf.fragrances["strong"], shelf.fragrances)])
        self.assertTrue(np.all(np.isfinite(trade_knowledge(shelf.fragrances.values()).cov)))


class Learned(unittest.TestCase):
    both = blend({"none": 0.4, "strong": 0.6})
    shelf = holding(both)

    def after(self, scent: str, pours: int = 6) -> tuple[Knowledge, Knowledge]:
        trade = trade_knowledge(self.shelf.fragrances.values())
        of = scented((scent, 0.03))
        sheet, state = weigh(of, self.shelf).sheet, replay(quick_pour())
        assert sheet is not None
        schedule = build_schedule(of, sheet, trade, self.shelf, state, state.ended or 0.0)
        return trade, learn(trade, [schedule] * pours)

    def test_believed_as_its_parts_by_their_shares(self) -> None:
        trade, _ = self.after("none", 1)
        mean = 0.4 * trade.value(scent_column("none")) + 0.6 * trade.value(scent_column("strong"))
        self.assertAlmostEqual(trade.value(scent_column("both")), mean)
        sds = [trade.sd(scent_column(f)) for f in ("none", "strong")]
        wanted = (0.4 * sds[0]) ** 2 + (0.6 * sds[1]) ** 2 + (prior.BLEND_SD / CLAIM_LOAD) ** 2
        self.assertAlmostEqual(trade.sd(scent_column("both")) ** 2, wanted)
        self.assertGreater(float(np.linalg.eigvalsh(trade.cov).min()), 0)

    def test_what_is_learned_of_either_moves_the_other(self) -> None:
        for poured, other in (("strong", "both"), ("both", "strong")):
            trade, learned = self.after(poured, pours=1)
            moved = learned.value(scent_column(poured)) - trade.value(scent_column(poured))
            drawn = learned.value(scent_column(other)) - trade.value(scent_column(other))
            self.assertGreater(abs(moved), 0.02)
            self.assertGreater(drawn / moved, 0.2)
            self.assertLess(learned.sd(scent_column(other)), trade.sd(scent_column(other)))

    def test_one_saved_after_its_parts_were_poured_knows_what_they_taught(self) -> None:
        plain = trade_knowledge(SHELF.fragrances.values())
        learned = learn(plain, [course_of(scented(("strong", 0.03)), quick_pour()) for _ in range(6)])
        trade = trade_knowledge(self.shelf.fragrances.values())
        known = extended(learned, trade, self.shelf.fragrances.values())
        parts = 0.4 * known.value(scent_column("none")) + 0.6 * known.value(scent_column("strong"))
        self.assertAlmostEqual(known.value(scent_column("both")), parts)
        self.assertNotAlmostEqual(parts, trade.value(scent_column("both")), delta=0.01)

    def test_a_bottle_goes_its_own_way_sooner_than_the_blend(self) -> None:
        bottle = Fragrance.model_validate(in_a_bottle(self.both, "Mixed").model_dump() | {"id": "mixed"})
        known = trade_knowledge(holding(self.both, bottle).fragrances.values())
        self.assertAlmostEqual(known.value(scent_column("mixed")), known.value(scent_column("both")))
        extra = known.sd(scent_column("mixed")) ** 2 - known.sd(scent_column("both")) ** 2
        self.assertAlmostEqual(extra, (prior.INHERITED_SD / CLAIM_LOAD) ** 2)

    def test_ricing_is_known_through_the_parts_too(self) -> None:
        blank = learn_hazards(SHELF, (), trade_knowledge(()))
        place = blank.names.index("ricing:strong")
        mean = blank.mean.copy()
        mean[place] += 2.0
        now = claimed_hazards(self.shelf, replace(blank, mean=mean))
        was = claimed_hazards(self.shelf, blank)
        at = now.names.index("ricing:both")
        self.assertAlmostEqual(float(now.mean[at] - was.mean[at]), 0.6 * 2.0)
        first = learn_hazards(self.shelf, (), trade_knowledge(()))
        self.assertAlmostEqual(float(first.mean[first.names.index("ricing:both")]), float(was.mean[at]))
