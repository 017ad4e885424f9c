"""Rest and cure: windows against common practice, gel within limits, the curve against scipy, dates against both."""

import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import curve_fit
from scipy.stats import norm

from roundstone.core.heat import three_cases
from roundstone.core.pour import EVENT, Cut, Ended, Event, replay
from roundstone.core.recipe import Box, ByConcentration, ByMoulds, Design, Dose, FatShare, Portion, Recipe
from roundstone.core.rest import (
    BETA,
    WAYS,
    Ageing,
    RestLearned,
    RestNow,
    Window,
    belief,
    curve,
    done_after,
    learn_cure,
    learn_cuts,
    learn_gel,
    prior,
    remaining,
    rest_now,
    sections,
)
from roundstone.core.rest.windows import BATCH_SD, OWN_SD
from tests.samples import next_id, recipe, seen, weighed

LOAF = ByMoulds(moulds=(Box(length=24, width=8, fill=6.1, cut=28),))
HOUR, DAY = 60.0, 1440.0
COVERS = ("open", "covered", "insulated", "oven", "oven-off", "cold")


def fats(**shares: float) -> tuple[FatShare, ...]:
    return tuple(FatShare(fat=f, share=s) for f, s in shares.items())


def told(kind: str, minute: float, **fields: Any) -> Event:
    return EVENT.validate_python({"id": next_id(), "kind": kind, "minute": minute, **fields})


def ended(*more: Event, at: float = 20.0, medium: float = 12.0) -> list[Event]:
    """A pour of usual pace that ended, and what was tapped since."""
    return [seen(1.0, "emulsion"), seen(medium, "medium"), Ended(id=next_id(), minute=at), *more]


def now(of: Recipe, hours: float, *more: Event, own: RestLearned = RestLearned(), medium: float = 12.0) -> RestNow:  # noqa: B008
    found = rest_now(of, weighed(of), replay(ended(*more, medium=medium), of), 20 + HOUR * hours, own)
    assert found is not None
    return found


def window(of: RestNow, what: str, tool: str = "") -> Window:
    return next(w for w in of.windows if w.what == what and w.tool == tool)


def room(celsius: float, wrap: str = "covered", **changes: Any) -> Recipe:
    plain = recipe(size=LOAF, room_celsius=celsius, **changes)
    return plain.model_copy(update={"design": plain.design.model_copy(update={"wrap": wrap})})


class CommonPractice(unittest.TestCase):
    """The table of windows: common practice, no source."""

    def wire(self, of: Recipe, medium: float = 12.0) -> Window:
        return window(now(of, 1.0, medium=medium), "cut", "wire")

    def test_a_usual_batch_is_cut_after_18_to_24_hours(self) -> None:
        wire = self.wire(room(21))
        self.assertLessEqual(wire.first, 18)
        self.assertTrue(18 <= wire.sure <= 30, wire)
        self.assertGreaterEqual(wire.late, 24)

    def test_covered_and_cool_takes_about_48_hours(self) -> None:
        wire = self.wire(room(10))
        self.assertTrue(wire.first <= 48 and wire.sure >= 24 and wire.late >= 48, wire)
        self.assertGreater(self.wire(room(21, "cold")).sure, 36)

    def test_a_fluid_slow_batter_takes_up_to_four_days(self) -> None:
        soft = room(15, fats=fats(olive=0.7, **{"sunflower-oleic": 0.2}, shea=0.1), water=ByConcentration(share=0.28))
        wire = self.wire(soft, medium=45.0)
        self.assertTrue(48 <= wire.sure <= 100, wire)

    def test_a_hard_one_presses_hard_the_next_day(self) -> None:
        hard = room(21, fats=fats(coconut=0.5, palm=0.35, olive=0.15), water=ByConcentration(share=0.38))
        self.assertLess(self.wire(hard).late, 30)

    def test_a_salt_bar_is_cut_within_hours_and_not_bevelled(self) -> None:
        salty = now(room(21, fats=fats(coconut=0.8, olive=0.2), additives=(Dose(additive="salt", amount=500),)), 1)
        self.assertLess(window(salty, "cut", "wire").sure, 4)
        self.assertEqual({w.what for w in salty.windows}, {"unmould", "cut"})

    def test_bevelled_the_same_day_with_lactate_else_after_two_days_to_a_week(self) -> None:
        plain, lactate = now(room(21), 1), now(room(21, additives=(Dose(additive="sodium-lactate", amount=14),)), 1)
        soon = window(lactate, "bevel").sure - window(lactate, "cut", "wire").sure
        self.assertLess(soon, 12)
        bevel = window(plain, "bevel")
        self.assertTrue(48 <= bevel.sure <= 72 and 96 <= bevel.late <= 200, bevel)

    def test_stamped_a_day_after_the_cut(self) -> None:
        cut = now(room(21), 30, told("cut", 20 + 24 * HOUR, how="clean"))
        self.assertGreaterEqual(window(cut, "stamp").first, 24 + 18)

    def test_a_bar_loses_8_to_15_percent_in_six_weeks_and_is_done_in_four_to_six(self) -> None:
        found = now(room(21), 1).bars[0].curve
        lost = 1 - found.mid[found.days.index(42.0)]
        self.assertTrue(0.08 <= lost <= 0.15, lost)
        middle = (found.done.low + found.done.high) / 2
        self.assertTrue(28 <= middle <= 45, found.done)


class Windows(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(
        lye=st.floats(0.26, 0.40),
        celsius=st.floats(8, 30),
        felt=st.lists(st.tuples(st.sampled_from(["dents", "drags", "clean", "hard"]), st.floats(2, 200)), max_size=3),
        wraps=st.lists(st.tuples(st.sampled_from(COVERS), st.floats(0.1, 90)), max_size=4),
    )
    def test_edges_are_in_order_whatever_was_felt(
        self, lye: float, celsius: float, felt: list[tuple[str, float]], wraps: list[tuple[str, float]]
    ) -> None:
        of = room(celsius, water=ByConcentration(share=lye))
        events = [told("cut", 20 + HOUR * h, how=how, sure=True) for how, h in felt[:1]]
        events += [told("touch", 20 + HOUR * h, how="dents") for _, h in felt[1:]]
        events += [told("wrap", 20 + HOUR * h, how=how) for how, h in wraps]
        for w in now(of, 1.0, *events).windows:
            self.assertTrue(0 < w.first <= w.sure <= w.late <= w.last < 10_000, w)

    def test_water_waits_warmth_hurries_and_a_quick_batter_too(self) -> None:
        def sure(of: Recipe, medium: float = 12.0) -> float:
            return window(now(of, 1, medium=medium), "cut", "wire").sure

        self.assertGreater(sure(room(21, water=ByConcentration(share=0.28))), sure(room(21)))
        self.assertLess(sure(room(27)), sure(room(21)))
        self.assertLess(sure(room(21), medium=4.0), sure(room(21), medium=30.0))

    def test_ageing_runs_back_and_forth_and_slows_in_the_cold(self) -> None:
        of = Ageing(20.0, [(20.0, "open"), (20 + 10 * HOUR, "cold"), (20 + 30 * HOUR, "oven")], 20.0)
        for hours in (0.0, 4.0, 10.0, 17.0, 30.0, 80.0):
            self.assertAlmostEqual(of.hours(of.age(hours)), hours, places=9)
        self.assertAlmostEqual(of.age(10.0), 10.0)
        self.assertLess(of.age(30.0) - of.age(10.0), 10.0)

    def test_at_the_cut_each_cup_that_riced_is_asked_about_its_grains(self) -> None:
        two = (Portion(name="Base", share=0.6), Portion(name="Fig", share=0.4))
        of = recipe(design=Design(portions=two, technique="drop-swirl"))
        cut = told("cut", 20 + 24 * HOUR, how="clean", tool="wire")
        riced = told("flag", 5.0, flag="ricing", portion="Fig")
        asked = now(of, 25, riced, cut).questions
        self.assertEqual((asked[0].ask, asked[0].portion), ("ricing", "Fig"))
        self.assertEqual(len(asked), 3)
        self.assertNotIn("ricing", [q.ask for q in now(of, 25, cut).questions])
        for portion in ("Fig", None):
            said = told("answer", 20 + 24.5 * HOUR, at="cut", ask="ricing", says="no", portion=portion)
            self.assertNotIn("ricing", [q.ask for q in now(of, 25, riced, cut, said).questions])

    def test_what_a_finger_finds_moves_the_windows_of_this_block(self) -> None:
        before = window(now(room(21), 30), "cut", "wire")
        soft = window(now(room(21), 30, told("touch", 20 + 30 * HOUR, how="dents")), "cut", "wire")
        firm = window(now(room(21), 30, told("touch", 20 + 12 * HOUR, how="firm")), "cut", "wire")
        self.assertGreater(soft.sure, before.sure + 4)
        self.assertLess(firm.sure, before.sure - 2)

    def test_belief_after_a_cut_is_what_sampling_gives(self) -> None:
        """Importance sampling with scipy's normal, apart from the grid."""
        mean, sd = np.log(20.0), float(np.hypot(BATCH_SD, OWN_SD))
        cut = Cut(id=next_id(), minute=0.0, how="drags")
        weights = belief(mean, sd, [(cut, 24.0)])
        grid = mean + np.linspace(-2.0, 2.0, 161)
        x = np.random.default_rng(4).normal(mean, sd, 400_000)
        odds = 1 - norm.cdf((np.log(24.0) - x) / 0.25) + 1e-3
        self.assertAlmostEqual(float(weights @ grid), float(np.average(x, weights=odds)), delta=0.01)

    def test_a_maker_whose_blocks_are_slow_is_learned_from_their_cuts(self) -> None:
        rng = np.random.default_rng(8)
        mean, batches = np.log(20.0), []
        for _ in range(40):
            ready = np.exp(mean + 0.4 + BATCH_SD * rng.normal())
            at = float(np.exp(rng.uniform(np.log(12), np.log(90))))
            how = "drags" if at < ready else "hard" if at > 2.6 * ready else "clean"
            batches.append((float(mean), [(Cut(id=next_id(), minute=0.0, how=how), at)]))
        own = learn_cuts(batches)
        self.assertAlmostEqual(own.shift, 0.4, delta=0.2)
        self.assertLess(own.sd, OWN_SD / 2)
        again = learn_cuts(batches[::-1])
        self.assertAlmostEqual(own.shift, again.shift, places=6)


class Gel(unittest.TestCase):
    def test_odds_add_up_and_warmer_covers_gel_more(self) -> None:
        of = room(20)
        found = sections(of, weighed(of), WAYS)
        for s in found:
            self.assertAlmostEqual(s.none + s.ring + s.full, 1.0)
            self.assertTrue(all(0 <= x <= 1 for column in s.cells for x in column))
        full = {s.wrap: s.full for s in found}
        self.assertLessEqual(full["cold"], full["open"])
        self.assertLessEqual(full["open"], full["covered"])
        self.assertLess(full["covered"], full["insulated"])
        self.assertGreater(full["oven"], 0.7)
        self.assertLess(found[0].ring + found[0].full, 0.25)

    def test_ways_side_by_side_are_as_each_by_itself(self) -> None:
        of = room(20)
        for wrap, together in zip(WAYS, three_cases(of, weighed(of), WAYS), strict=True):
            alone = three_cases(of, weighed(of), [wrap])[0]
            np.testing.assert_allclose(alone.peaks, together.peaks)
            np.testing.assert_allclose(alone.margins, together.margins)

    def test_the_middle_gels_before_the_corner(self) -> None:
        of = room(20)
        for s in sections(of, weighed(of), ["open", "covered"]):
            self.assertGreaterEqual(s.cells[0][5], s.cells[-1][0])
            self.assertGreaterEqual(s.cells[0][5], s.cells[-1][-1])

    def test_blocks_that_gelled_more_than_reckoned_teach_it(self) -> None:
        of = room(20)
        found = three_cases(of, weighed(of), ["open"])[0]
        more, less = (learn_gel([(found, how)] * 6).shift for how in ("full", "none"))
        self.assertGreater(more, 0.2)
        self.assertLess(less, 0.0)
        plain, warm = (sections(of, weighed(of), ["open"], own=own)[0].full for own in (0.0, more))
        self.assertGreater(warm, plain)

    def test_colours_are_told_of_the_palest_and_the_deepest(self) -> None:
        of = room(20)
        portions = tuple(
            p.model_copy(update={"tint": t}) for p, t in zip(of.design.portions, ("#6d3552", "#efe6d4"), strict=True)
        )
        of = of.model_copy(update={"design": of.design.model_copy(update={"portions": portions})})
        told_of = {s.wrap: s.colours for s in sections(of, weighed(of), WAYS)}
        self.assertIn("Bone stays whiter", told_of["cold"])
        self.assertIn("Base deepens", told_of["oven"])


class Cure(unittest.TestCase):
    def test_a_well_weighed_bar_is_fitted_as_scipy_fits_it(self) -> None:
        days = np.array([0.0, 4, 8, 12, 18, 25, 33, 42, 56])
        rng = np.random.default_rng(3)

        def weight(t: np.ndarray, first: float, loss: float, tau: float) -> np.ndarray:
            return np.asarray(first * (1 - loss * (1 - np.exp(-((t / tau) ** BETA)))))

        grams = weight(days, 128.0, 0.13, 11.0) * (1 + 0.0008 * rng.normal(size=len(days)))
        (first, loss, tau), _ = curve_fit(weight, days, grams, p0=(130.0, 0.1, 14.0))
        found = curve(float(np.log(0.12)), float(np.log(13.0)), (tuple(zip(days, grams, strict=True)),))
        assert found.first is not None
        self.assertAlmostEqual(found.first, first, delta=0.6)
        at = found.days.index(28.0)
        self.assertAlmostEqual(found.mid[at], float(weight(np.array(28.0), 1.0, loss, tau)), delta=0.006)
        blind = curve(float(np.log(0.12)), float(np.log(13.0)))
        self.assertLess(found.done.high - found.done.low, blind.done.high - blind.done.low)

    def test_it_is_done_when_the_loss_falls_below_half_a_percent_a_week(self) -> None:
        loss, tau = np.log(np.array([0.08, 0.12, 0.2])), np.log(np.array([8.0, 13.0, 22.0]))
        done = done_after(loss, tau)
        week = remaining(done - 0.01, loss, tau) - remaining(done + 0.01, loss, tau)
        np.testing.assert_allclose(week / 0.02 * 7, 0.005, rtol=1e-3)

    def test_large_bars_and_damp_air_take_longer(self) -> None:
        slab = room(20).model_copy(update={"size": ByMoulds(moulds=(Box(length=24, width=8, fill=6.1, cut=60),))})
        thin, thick = (prior(r, weighed(r))[1] for r in (room(20), slab))
        self.assertGreater(thick, thin)
        dry, damp = (prior(room(20), weighed(room(20)), humidity=h)[1] for h in (0.4, 0.7))
        self.assertGreater(damp, dry)

    def test_own_bars_that_lose_more_shift_what_is_expected(self) -> None:
        expects = (float(np.log(0.11)), float(np.log(13.0)))
        days = np.array([0.0, 7, 14, 28, 42])
        bar = tuple(zip(days, 120 * remaining(days, np.log(0.15), np.log(13.0)), strict=True))
        own = learn_cure([(expects, [bar])] * 4)
        self.assertTrue(0.1 < own.loss < np.log(0.15 / 0.11) + 0.05, own)
        self.assertEqual(own.bars, 4)
        self.assertEqual(learn_cure([(expects, [bar[:1]])]).bars, 0, "one weight is no curve")


if __name__ == "__main__":
    unittest.main()
