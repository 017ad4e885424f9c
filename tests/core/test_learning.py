"""Learning and the live pour against independent reckoning."""

import unittest
import warnings
from dataclasses import replace
from typing import Any

import numpy as np
from scipy.stats import multivariate_normal, norm

from roundstone.core.batter import (
    FIXED_COLUMNS,
    NOISE,
    THRESHOLD_COLUMNS,
    THRESHOLD_LEVELS,
    Array,
    Looks,
    Term,
    Work,
    ages,
    doubted,
    draw,
    infer,
    jump_column,
    newton,
    prior,
    scent_column,
)
from roundstone.core.forecast import Job, project
from roundstone.core.logbook import Past, fragrance_file, learn, read, unpacked
from roundstone.core.logbook.drift import DRIFT_SD, drifting, paced_now
from roundstone.core.pour import Ended, Event, Look, replay
from roundstone.core.recipe import Recipe, Scent
from roundstone.core.schedule import Schedule, build_schedule, windows
from roundstone.core.schedule.terms import terms_of
from roundstone.standins.batter import SimulatedMaker, temperament
from tests.samples import SHELF, TRADE, knows, lane, next_id, quick_pour, recipe, seen, weighed

MEDIUM = 1


def _to_medium(minute: float) -> list[Event]:
    return [seen(0.5, "emulsion"), seen(minute, "medium"), Ended(id=next_id(), minute=minute + 3)]


def course_of(of: Recipe, events: list[Event]) -> Schedule:
    state = replay(events)
    return build_schedule(of, weighed(of), TRADE, SHELF, state, state.ended or 0.0)


class AgainstLifelines(unittest.TestCase):
    def test_interval_censored_log_normal(self) -> None:
        """With a flat prior and a constant rate the clock is a log-normal AFT model: same coefficients to 1e-5."""
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            import pandas as pd
            from lifelines import LogNormalAFTFitter

        rng = np.random.default_rng(11)
        x = rng.normal(size=150)
        times = np.exp(2.4 + 0.5 * x + 0.4 * rng.standard_normal(150))
        low = np.maximum(times - rng.uniform(0.2, 3, 150), 1e-3)
        high = times + rng.uniform(0.2, 3, 150)
        high[::7] = np.inf
        fitter = LogNormalAFTFitter()
        frame = pd.DataFrame({"low": low, "high": high, "x": x})
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            fitter.fit_interval_censoring(frame, "low", "high", fit_options={"tol": 1e-12})
        sigma = float(np.exp(fitter.params_["sigma_"]["Intercept"]))

        columns = {n: i for i, n in enumerate(FIXED_COLUMNS)}
        step = prior.FACTORS["superfat"]
        lanes = [
            lane(factors={"superfat": step.reference - step.step * v}, marks=[a, b])
            for v, a, b in zip(x, low, high, strict=True)
        ]
        terms = [Term(i, MEDIUM, a, None if np.isinf(b) else b) for i, (a, b) in enumerate(zip(low, high, strict=True))]
        looks = Looks.of(lanes, terms, columns, [sigma] * 4)
        mode, information = newton(looks, TRADE.mean[: len(columns)], 1e-9 * np.eye(len(columns)))
        for ours, theirs in ((columns["a:medium"], "Intercept"), (columns["x:superfat"], "x")):
            self.assertAlmostEqual(mode[ours], float(fitter.params_["mu_"][theirs]), delta=1e-5)
        free = [columns["a:medium"], columns["x:superfat"]]
        errors = np.sqrt(np.diag(np.linalg.inv(information[np.ix_(free, free)])))
        for ours, theirs in zip(errors, ("Intercept", "x"), strict=True):
            self.assertAlmostEqual(ours / float(fitter.standard_errors_["mu_"][theirs]), 1, delta=0.05)


class Likelihood(unittest.TestCase):
    def test_gradient_and_information_by_finite_differences(self) -> None:
        schedule = course_of(recipe(), quick_pour())
        belief = infer(TRADE, schedule.seen, (), False)
        looks = Looks.of(schedule.seen, schedule.terms, belief.column, NOISE)
        rng = np.random.default_rng(2)
        at = belief.mean + 0.2 * rng.standard_normal(len(belief.mean))
        value, gradient, information = looks.expand(at)
        self.assertLess(value, 0)
        self.assertGreaterEqual(float(np.linalg.eigvalsh(information).min()), -1e-9)
        for i in range(len(at)):
            h = np.zeros(len(at))
            h[i] = 1e-5
            slope = (looks.expand(at + h)[0] - looks.expand(at - h)[0]) / 2e-5
            self.assertAlmostEqual(slope, gradient[i], delta=1e-5)

    def test_live_belief_against_those_of_the_prior_that_fit(self) -> None:
        """The forecast after taps, by a method that shares nothing with ours: of 400 000 batters of the prior those
        that did what was seen. Where all looks are one-sided, the mode alone would be a tenth too early.
        """
        for claim, looks in (
            ("moderate", (Look(1.5, 1), Look(2.5, 2), Look(3.2, 3))),
            ("unknown", (Look(3.0, 1),)),
            ("strong", (Look(2.0, 1),)),
            ("moderate", (Look(0.5, 1), Look(1.0, 2), Look(4.0, 2))),
        ):
            known = windows(looks)
            ends = [m for w in known.values() for m in (w.after, w.by) if m is not None]
            batter = lane(scent=claim, marks=ends)
            terms = list(terms_of(["only"], [known], [0.0], [0], [None], [False]))
            ours = draw(infer(TRADE, [batter], terms, True), [batter], [known], seed=4, draws=20_000)
            times = self._batters(claim)
            fits = np.all(
                [(times[:, s] > (w.after or 0.0)) & (times[:, s] <= (w.by or np.inf)) for s, w in known.items()], axis=0
            )
            self.assertGreater(fits.sum(), 1000)
            for s, level in ((1, 3.0), (2, 4.0)):
                for q, delta in ((0.1, 0.06), (0.5, 0.035), (0.9, 0.06)):
                    with self.subTest(claim, looks=looks, level=level, q=q):
                        ratio = np.quantile(ours.crossing(0, level), q) / np.quantile(times[fits, s], q)
                        self.assertAlmostEqual(float(ratio), 1, delta=delta)

    def test_a_belief_is_the_mean_of_the_prior_weighted_by_the_looks(self) -> None:
        """Also where stirring between two looks pulls a term's ends apart: 200 000 draws of the prior, weighted."""
        stirred = lane(work=[Work(1.0, 3.0, "stick")], marks=[0.9, 3.1, 4.0])
        scented = lane(scent="unknown", work=[Work(2.0, 2.5, "stick")], marks=[1.9, 2.6, 6.0])
        between = [Term(0, s, 1.9, 2.6) for s in range(3)]
        for batter, terms in (
            (stirred, [Term(0, 0, 0.9, 3.1), Term(0, 1, 0.9, 3.1), Term(0, 2, 3.1, 4.0)]),
            (scented, [*between, Term(0, 3, 2.6, 6.0)]),
            (scented, [Term(0, 0, 2.6, None)]),
            (scented, [Term(0, 1, None, 1.9), Term(0, 2, 6.0, None)]),
        ):
            before, after = (infer(TRADE, [batter], of, True) for of in ((), terms))
            draws = np.random.default_rng(3).multivariate_normal(before.mean, before.cov, 200_000)
            _, age = ages([batter], before.column, draws)
            weight = np.ones(len(draws))
            for t in terms:
                ln_age = [np.log(age[0, :, batter.segment_ending(m) + 1]) if m else None for m in (t.after, t.by)]
                law = norm(draws[:, before.column[THRESHOLD_COLUMNS[t.stage]]], before.noise.stages[t.stage])
                low, up = (law.cdf(x) if x is not None else shut for x, shut in zip(ln_age, (0.0, 1.0), strict=True))
                weight *= up - low
            weight /= weight.sum()
            mean = weight @ draws
            sd = np.sqrt(weight @ np.square(draws - mean))
            with self.subTest(terms=terms):
                wander = float(np.sqrt(np.sum(np.square(weight))))  # of a mean of so few that count, in sds
                self.assertLess(wander, 0.04)
                self.assertLess(float(np.max(np.abs(after.mean - mean) / sd)), 0.08 + wander)
                ratio = np.sqrt(np.diag(after.cov)) / sd
                self.assertTrue(np.all((ratio > 0.92) & (ratio < 1.1)), ratio)

    def _batters(self, claim: str) -> Array:
        """Minutes to light, medium, thick and set of 400 000 batters of the prior, 3 % of a fragrance in at once."""
        rng = np.random.default_rng(9)
        mean, cov = TRADE.part([*FIXED_COLUMNS, scent_column(claim), jump_column(claim)])
        theta = rng.multivariate_normal(mean, cov, 400_000)
        spread = np.hypot(prior.BATCH_SD, TRADE.value("E") * prior.MEASURED_CELSIUS_SD / 10)
        effect, jump = 3 * theta[:, -2], 3 * theta[:, -1]
        eta = effect + spread * rng.standard_normal(len(theta))
        noise = np.asarray(NOISE) * rng.standard_normal((len(theta), 4))
        ages = np.exp(np.maximum.accumulate(theta[:, :4] + noise, axis=1))
        # The batter jumps while the fragrance comes on, and goes on at its pace.
        entering, then = np.exp(eta - 0.5 * effect + jump)[:, None], np.exp(eta)[:, None]
        spent = np.minimum(ages / entering, prior.SCENT_ENTERS)
        return np.asarray(spent + (ages - spent * entering) / then)

    def test_after_one_look_against_the_normal_integral(self) -> None:
        """Light seen between two looks: medium and thick follow from a bivariate normal, integrated by scipy."""
        batter = lane(marks=[2.0, 3.0])
        known = windows([Look(2.0, 1), Look(3.0, 2)])
        mean, cov = TRADE.part(FIXED_COLUMNS[:4])
        # The batch's own pace and the thermometer's give move all thresholds together.
        shared = prior.BATCH_SD**2 + (TRADE.value("E") * prior.MEASURED_CELSIUS_SD / 10) ** 2
        whole = cov + shared + np.diag(np.square(NOISE))
        belief = infer(TRADE, [batter], [Term(0, 0, 2.0, 3.0)], True)
        drawn = draw(belief, [batter], [{0: known[0]}], seed=3, draws=20_000)
        for stage in (1, 2, 3):
            with self.subTest(prior.THRESHOLDS[stage]):
                pair = [0, stage]
                joint = multivariate_normal(mean[pair], whole[np.ix_(pair, pair)])
                light = norm(mean[0], whole[0, 0] ** 0.5)

                def exact(minute: float, joint: Any = joint, light: Any = light) -> float:
                    upper, lower = (joint.cdf([np.log(t), np.log(minute)]) for t in (3.0, 2.0))
                    return float((upper - lower) / (light.cdf(np.log(3.0)) - light.cdf(np.log(2.0))))

                times = drawn.crossing(0, THRESHOLD_LEVELS[stage])
                for q in (0.1, 0.5, 0.9):
                    self.assertAlmostEqual(exact(float(np.quantile(times, q))), q, delta=0.03)


class Live(unittest.TestCase):
    def test_order_of_taps_does_not_matter_and_undo_is_as_if_never(self) -> None:
        of, sheet, events = recipe(), weighed(recipe()), quick_pour()[:-1]
        at = [project(Job(of, SHELF, sheet), knows(), 1, events=e, now=7.0).forecast for e in (events, events[::-1])]
        self.assertEqual(at[0], at[1])

    def test_early_trace_contracts_the_rest(self) -> None:
        of, sheet, events = recipe(), weighed(recipe()), quick_pour()
        before = project(Job(of, SHELF, sheet), knows(), 1, events=events[:3], now=3.0).forecast.lanes[0].stages[2].time
        after = project(Job(of, SHELF, sheet), knows(), 1, events=events[:5], now=4.0).forecast.lanes[0].stages[2].time
        self.assertLess(after.q50, before.q50)
        self.assertLess(after.q90 / after.q10, before.q90 / before.q10)

    def test_a_later_tap_overrides_an_earlier_one(self) -> None:
        found = windows([Look(1, 1), Look(2, 4), Look(3, 2), Look(5, 3)])
        self.assertEqual((found[0].after, found[0].by), (2, 3), "it was tapped when it turned: within the last minute")
        self.assertEqual((found[1].after, found[1].by), (4, 5))
        self.assertEqual((found[2].after, found[2].by), (5, None))


class FromTheLog(unittest.TestCase):
    def test_learns_a_hidden_temperament(self) -> None:
        """Thirty pours by a simulated batter: hidden effects are found, to within three of the stated spreads."""
        rng = np.random.Generator(np.random.PCG64(17))
        hidden = {scent_column("none"): 0.18, scent_column("strong"): 0.25}
        maker = SimulatedMaker(temperament(TRADE, rng, hidden), SHELF, rng)
        kinds = [recipe(scents=(Scent(fragrance=f, load=0.03),)) for f in ("none", "strong")]
        schedules = [course_of(of, maker.pour(of, weighed(of))) for of in kinds * 15]
        learned = learn(TRADE, schedules)
        self.assertEqual(learned.pours, 30)
        for column, truth in hidden.items():
            self.assertLess(learned.sd(column), 0.7 * TRADE.sd(column))
            self.assertLess(abs(learned.value(column) - truth), 3 * learned.sd(column))
            self.assertLess(abs(learned.value(column) - truth), abs(TRADE.value(column) - truth))
        # What no pour could show stays as it was believed.
        self.assertAlmostEqual(learned.sd(scent_column("seizes")), TRADE.sd(scent_column("seizes")), delta=1e-9)
        again = learn(TRADE, schedules, learned)
        np.testing.assert_allclose(again.mean, learned.mean, atol=1e-4)

    def test_pours_in_one_chunk_or_many_teach_the_same(self) -> None:
        schedules = [course_of(recipe(), quick_pour()) for _ in range(30)]
        together = learn(TRADE, schedules)
        # A pour that taught nothing shifts every chunk's border.
        shifted = learn(TRADE, schedules[7:] + schedules[:7])
        np.testing.assert_allclose(together.mean, shifted.mean, atol=1e-5)
        np.testing.assert_allclose(together.cov, shifted.cov, atol=1e-6)

    def test_the_pace_of_the_last_pours_counts_for_more(self) -> None:
        """The same pours, now fast ones last, now slow ones; of a few pours the order says nothing."""
        slow, fast = ([course_of(recipe(), _to_medium(m))] * 30 for m in (11.0, 5.0))
        quicker, slower = (learn(TRADE, both) for both in (slow + fast, fast + slow))
        self.assertLess(quicker.value("a:medium"), slower.value("a:medium") - 0.05)
        self.assertGreater(quicker.sd("a:medium"), learn(TRADE, fast + fast[:15]).sd("a:medium") * 0.9)
        # The log is read latest first.
        pasts = [Past(f"{m} {n}", recipe(), _to_medium(m)) for m in (5.0, 11.0) for n in range(20)]
        as_logged, turned = (read(SHELF, told).knowledge.value("a:medium") for told in (pasts, pasts[::-1]))
        self.assertLess(as_logged, turned - 0.03)
        few = [learn(TRADE, both) for both in (slow[:7] + fast[:7], fast[:7] + slow[:7])]
        np.testing.assert_allclose(few[0].mean, few[1].mean, atol=1e-5)

    def test_a_walk_is_as_a_filter_has_it(self) -> None:
        """Paces of chunks seen through noise: the coefficients' algebra against Kalman's filter, step by step."""
        seen_at, noise = np.array([0.1, 0.25, 0.2, 0.4]), 0.05**2
        known = replace(TRADE, mean=TRADE.mean.copy(), cov=1e-12 * np.eye(len(TRADE.mean)))
        mean, cov = drifting(known, len(seen_at) + 1)
        h = np.eye(len(mean))[len(known.names) :]
        gain = cov @ h.T @ np.linalg.inv(h @ cov @ h.T + noise * np.eye(len(seen_at)))
        found = paced_now(known, mean + gain @ (seen_at - h @ mean), cov - gain @ h @ cov)
        level, spread = 0.0, 0.0
        for x in seen_at:
            spread += DRIFT_SD**2
            k = spread / (spread + noise)
            level, spread = level + k * (x - level), (1 - k) * spread
        self.assertAlmostEqual(known.value("a:thick") - found.value("a:thick"), level, places=9)
        self.assertAlmostEqual(found.sd("a:thick"), (spread + DRIFT_SD**2) ** 0.5, places=6)

    def test_what_another_clock_learned_is_of_no_use(self) -> None:
        taught = read(SHELF, [Past("p", recipe(), quick_pour())]).light
        kept = taught.packed()
        np.testing.assert_array_equal(unpacked(kept, SHELF, taught.trade.noise).knowledge.mean, taught.knowledge.mean)
        for other in ({**kept, "clock": 1}, {k: v for k, v in kept.items() if k != "clock"}):
            with self.assertRaises((KeyError, ValueError)):
                unpacked(other, SHELF, taught.trade.noise)

    def test_without_pours_the_claim_stands(self) -> None:
        learned = learn(TRADE, [])
        np.testing.assert_allclose(learned.mean, TRADE.mean)
        np.testing.assert_allclose(learned.cov, doubted(TRADE).cov, atol=1e-12)

    def test_file_tells_claim_from_evidence(self) -> None:
        of = recipe()
        record = read(SHELF, [Past(f"p{i}", of, quick_pour()) for i in range(8)])
        file = fragrance_file(record, SHELF.fragrances["moderate"])
        self.assertEqual(len(file.pours), 8)
        self.assertGreater(file.learned.mid, file.claimed.mid, "it was seen to run faster than claimed")
        self.assertLess(file.learned.high / file.learned.low, file.claimed.high / file.claimed.low)
        self.assertTrue(0.05 < file.evidence < 1)
        self.assertEqual(file.warning, "", "an unscented sibling tells fragrance and recipe apart")
        untouched = fragrance_file(record, SHELF.fragrances["slight"])
        self.assertEqual((untouched.pours, round(untouched.evidence, 9)), ((), 0))

    def test_one_scented_batch_is_confounded(self) -> None:
        whole = recipe(
            design={"portions": [{"name": "All", "share": 1, "scent": 1.0}], "technique": "tamp"},
        )
        events: list[Event] = [e for e in quick_pour() if getattr(e, "portion", None) is None and e.kind != "split"]
        events = [
            *events[:1],
            *[e.model_copy(update={"portion": None}) for e in quick_pour()[2:5]],
            seen(4.8, "thick"),
            *events[1:],
        ]
        record = read(SHELF, [Past(f"p{i}", whole, events) for i in range(2)])
        self.assertIn("cannot be told apart", fragrance_file(record, SHELF.fragrances["moderate"]).warning)
