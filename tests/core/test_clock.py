"""The batter clock before anything is logged: common practice, and independent arithmetic."""

import unittest

import numpy as np
from scipy import integrate, optimize, stats

from roundstone.core.batter import (
    Cooling,
    Knowledge,
    Known,
    Lane,
    Work,
    crossings,
    draw,
    infer,
    ln_difference,
    prior,
    sample_posterior,
    temperature_step,
)
from roundstone.core.batter.draws import _truncated, segments_at
from roundstone.core.schedule import emulsion_minutes
from tests.samples import REFERENCE_FACTORS, SHELF, TRADE, drawn, lane, recipe, weighed

HALF_MINUTE_BY_HAND = [Work(0, 0.5, "hand")]
MEDIUM, THICK, SET = 1, 2, 3


def certain(**values: float) -> Knowledge:
    """Knowledge with no doubt at all, the trade's middle but for `values`."""
    mean = TRADE.mean.copy()
    for name, value in values.items():
        mean[TRADE.column[name]] = value
    return Knowledge(TRADE.names, mean, 1e-18 * np.eye(len(mean)))


class Crossings(unittest.TestCase):
    def test_an_age_is_found_where_numpy_finds_it(self) -> None:
        rng = np.random.default_rng(4)
        for edges in (2, 3, 4, 5, 8, 9, 31):
            age = np.cumsum(rng.exponential(size=(3, 5, edges)), axis=2)
            needed = rng.exponential(edges / 2, size=(3, 5, 4))
            found = segments_at(age, needed)
            for place in np.ndindex(3, 5):
                there = np.minimum(np.searchsorted(age[place][1:], needed[place]), edges - 2)
                np.testing.assert_array_equal(found[place], there)


class CommonPractice(unittest.TestCase):
    """Facts of the trade, common practice without a source; the numbers are in docs/model.md."""

    def test_fifteen_seconds_of_stick(self) -> None:
        """≤ 15 s of stick blending in a warm recipe usually just emulsifies."""
        median, sd = emulsion_minutes(TRADE, weighed(recipe()).model_copy(update={"combined": REFERENCE_FACTORS}), 37)
        within = stats.norm.cdf(np.log(0.25 / (median * prior.BLENDING_SHARE)) / sd)
        self.assertAlmostEqual(within, 0.82, delta=0.03)

    def test_no_pot_is_an_emulsion_before_the_stick_has_been_round(self) -> None:
        """However hot: some ten seconds at 65 °C, as at 50; longer the cooler it is."""
        minutes = [emulsion_minutes(TRADE, weighed(recipe()), float(c))[0] for c in (22, 32, 50, 65)]
        self.assertEqual(minutes, sorted(minutes, reverse=True))
        self.assertTrue(0.15 < minutes[-1] < 0.3 < minutes[1] < 1.5, minutes)

    def test_minutes_to_medium_by_claim(self) -> None:
        for claim, (low, mid, high) in {
            "none": (4.1, 10.6, 25),
            "slight": (2.8, 7.8, 19),
            "strong": (0.4, 2.7, 7.1),
            "unknown": (2.2, 7.4, 24),
        }.items():
            with self.subTest(claim):
                found = drawn(lane(scent=claim, work=HALF_MINUTE_BY_HAND)).quantiles(0, 3.0)
                for ours, expected in zip(found[[0, 2, 4]], (low, mid, high), strict=True):
                    self.assertAlmostEqual(ours, expected, delta=max(0.12 * expected, 0.12))

    def test_mild_oils_stand_five_to_ten_minutes(self) -> None:
        """Pourable but thicker in 5 to 10 min."""
        thick = drawn(lane(scent="slight", work=HALF_MINUTE_BY_HAND)).crossing(0, 4.0)
        self.assertAlmostEqual(float(np.mean(thick > 5)), 0.98, delta=0.02)
        self.assertAlmostEqual(float(np.mean(thick > 10)), 0.83, delta=0.05)

    def test_strong_floral_pair(self) -> None:
        """At 3 %, 38 °C, whisked in at light. A pair of strong florals or spices, of which a supplier says "seizes", is
        unpourable within 2 min as likely as not and stands within some 10 min; of all that are claimed to be strong two
        in ten are; a calm one never is.
        """
        told = {}
        for claim in ("seizes", "strong", "none"):
            batter = lane(38.0, claim, work=[Work(0, prior.SCENT_STIR_MINUTES, "hand")])
            samples = sample_posterior(infer(TRADE, [batter], (), True), [batter], [{}], 5, 20_000)
            light, thick, stands = (np.exp(samples.ln_age[0][:, s]) for s in (0, 2, 3))
            needed = np.stack([thick - light, stands - light], axis=1)
            times = crossings(batter.grid, samples.rate[0], samples.age[0], np.maximum(needed, 1e-9))
            told[claim] = (float(np.mean(times[:, 0] < 2)), float(np.median(times[:, 1])))
        self.assertTrue(0.4 < told["seizes"][0] < 0.6, told)
        self.assertTrue(0.15 < told["strong"][0] < 0.25, told)
        self.assertTrue(4 < told["seizes"][1] < told["strong"][1] < 15, "stands at 45°")
        self.assertLess(told["none"][0], 0.02)

    def test_slow_and_cool_is_still_soft(self) -> None:
        """A fluid fragrance at 21 °C is too soft after half an hour, mostly."""
        medium = drawn(lane(celsius=21, scent="slows", work=HALF_MINUTE_BY_HAND)).crossing(0, 3.0)
        self.assertAlmostEqual(float(np.mean(medium > 30)), 0.80, delta=0.05)

    def test_doubling_every_ten_degrees(self) -> None:
        for low, expected in ((20, 2.17), (30, 2.06)):
            ratio = np.exp(prior.TEMPERATURE * (temperature_step(low + 10) - temperature_step(low)))
            self.assertAlmostEqual(float(ratio), expected, delta=0.01)

    def test_hand_instead_of_stick(self) -> None:
        """A moderate scent mixed at light trace: 10 s of stick leave less time to thick than 40 s by hand."""
        rate = np.exp(certain().value("e:moderate") * 3)
        knowledge = certain(**{"a:thick": np.log(28.0 - 4.0)})
        for kind, seconds, left in (("stick", 10, 7.4), ("hand", 40, 9.4)):
            mixed = lane(scent="moderate", work=[Work(0, seconds / 60, "stick" if kind == "stick" else "hand")])
            found = float(np.median(drawn(mixed, knowledge).crossing(0, 4.0))) - seconds / 60
            self.assertAlmostEqual(found, left, delta=0.35, msg=f"{kind}, rate {rate:.2f}")

    def test_calm_scent_moves_in_a_warm_hard_batter(self) -> None:
        knowledge = certain(**{"a:thick": np.log(24.0)})
        whisked = [Work(0, 1.0, "hand")]
        cool = drawn(lane(32, "slight", work=whisked), knowledge).crossing(0, 4.0)
        warm = drawn(lane(45, "slight", work=whisked, factors={"palmitic": 0.37}), knowledge).crossing(0, 4.0)
        self.assertAlmostEqual(float(np.median(cool)), 22, delta=2)
        self.assertAlmostEqual(float(np.median(warm)), 6.1, delta=0.6)

    def test_sugar_milk_and_hard_fats_hasten_superfat_delays(self) -> None:
        plain = float(np.median(drawn(lane()).crossing(0, 3.0)))
        for factor, value in {"sugar": 20.0, "milk": 60.0, "palmitic": 0.4, "lye": 0.4, "ethanol": 10.0}.items():
            self.assertLess(float(np.median(drawn(lane(factors={factor: value})).crossing(0, 3.0))), plain, factor)
        self.assertGreater(float(np.median(drawn(lane(factors={"superfat": 0.10})).crossing(0, 3.0))), plain)


class Arithmetic(unittest.TestCase):
    def test_age_against_an_integral(self) -> None:
        """A cooling, stirred, scented batter, its fragrance tapped half a minute late: the age at the
        crossing integrates to the threshold."""
        cooling = Cooling(start=45, room=18, grams=600)
        scent_at, stirred = 2.0, Work(1.0, 3.0, "hand")
        batter = Lane(
            name="only",
            origin=0.5,
            factors=REFERENCE_FACTORS | {"sugar": 12.0},
            temperature=cooling.at,
            work=[stirred],
            added={"moderate": (scent_at, 2.5)},
            tapped=True,
        )
        jump = 0.2  # ln-rate per percent

        def rate(t: float) -> float:
            eta = 0.12 * 1.2 + prior.TEMPERATURE * temperature_step(cooling.at(t))
            eta += prior.HAND if stirred.start < t < stirred.end else 0
            acts = 0.0
            for after, times in prior.SCENT_COURSE:
                acts = times if t > scent_at + after else acts
            eta += jump * 2.5 * (2.5 / 3) ** (prior.SATURATES - 1) if 1.5 < t < 3.35 else 0.0
            return float(np.exp(eta + 0.85 * (2.5 / 3) ** prior.SATURATES * acts))

        def missing(t: float) -> float:
            return float(integrate.quad(rate, 0.5, t, points=[1.0, 1.5, 2.0, 3.0, 3.35], limit=200)[0]) - 28.0

        exact = optimize.brentq(missing, 3.5, 60)
        # One draw with all noise at its median: belief and thresholds without spread.
        belief = infer(certain(**{"J:moderate": jump}), [batter], (), measured=True)
        free = type(belief)(belief.column, belief.mean, 1e-18 * np.eye(len(belief.mean)), belief.noise)
        thick = draw(free, [batter], [{}], seed=1, draws=20_000).crossing(0, 4.0)
        self.assertAlmostEqual(float(np.exp(np.median(np.log(thick)))), float(exact), delta=0.03 * float(exact))

    def test_ln_difference_of_normals(self) -> None:
        for low, high in ((-1.0, 2.0), (8.0, 8.5), (-9.0, -8.9), (-40.0, -39.0), (30.0, 31.0)):
            flip = low > -high
            a, b = (-high, -low) if flip else (low, high)
            exact = stats.norm.logcdf(b) + np.log1p(-np.exp(stats.norm.logcdf(a) - stats.norm.logcdf(b)))
            ours = ln_difference(np.array([high]), np.array([low]))[0]
            self.assertAlmostEqual(float(ours), float(exact), delta=1e-9 * abs(float(exact)) + 1e-12)
        self.assertEqual(float(ln_difference(np.array([np.inf]), np.array([-np.inf]))[0]), 0.0)

    def test_truncated_normals(self) -> None:
        z = stats.norm.ppf((np.arange(4000) + 0.5) / 4000)
        for low, high in ((0.5, np.inf), (-np.inf, -2.0), (3.0, 3.5), (-1.0, 1.0)):
            ours = _truncated(z, np.full(4000, low), np.full(4000, high))
            self.assertTrue(np.all((ours >= low) & (ours <= high)))
            reference = stats.truncnorm(low, high)
            self.assertAlmostEqual(float(np.mean(ours)), float(reference.mean()), delta=2e-3)
            self.assertAlmostEqual(float(np.std(ours)), float(reference.std()), delta=4e-3)

    def test_stages_come_in_order_and_never_in_the_seen_past(self) -> None:
        batter = lane(marks=[6.0], scent="moderate")
        known = {MEDIUM: Known(after=6.0), THICK: Known(after=6.0), SET: Known(after=6.0)}
        times = draw(infer(TRADE, [batter], (), True), [batter], [known], seed=3).times
        self.assertTrue(np.all(np.diff(times, axis=2) >= -1e-9))
        self.assertGreaterEqual(float(times[0, :, 1].min()), 6.0 - 1e-9)

    def test_same_seed_same_dice(self) -> None:
        one, two = (drawn(lane(), draws=400).times for _ in range(2))
        np.testing.assert_array_equal(one, two)
        warmer = drawn(lane(celsius=40), draws=400).times
        self.assertTrue(np.all(warmer < one), "a warmer batter is faster in every single draw")

    def test_every_claim_has_a_prior(self) -> None:
        means = [
            prior.fragrance_prior(SHELF.fragrances[c])[0]
            for c in ("slows", "none", "slight", "moderate", "strong", "seizes")
        ]
        self.assertEqual(means, sorted(means))
        self.assertEqual(prior.fragrance_prior(SHELF.fragrances["unknown"]), (0.40, 0.68))
