"""What workshops tell each other: pooled as the statistics of the field have it, and never taken for one's own."""

import unittest
import warnings
from math import exp, log

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from roundstone.core.batter import scent_column, times_as_soon, trade_knowledge
from roundstone.core.evidence import (
    Cell,
    Evidence,
    SpeedSeen,
    Tally,
    ToldOf,
    contaminated,
    file_of,
    heard,
    others_of,
    pool_of,
    pooled_names,
    random_effects,
    tally_of,
    times_of,
    told_by,
)
from roundstone.core.forecast import learn_hazards, ricing_odds
from roundstone.core.logbook import Past, fragrance_file, read, saw
from roundstone.core.shelf import Claim, KnownAs, Normal, Others, Reviews
from roundstone.standins.batter import SimulatedMaker, temperament
from tests.samples import SHELF, TRADE, recipe, weighed


def told(times: float, spread: float = 1.4, riced: tuple[int, int] = (0, 0), name: str = "Fig") -> ToldOf:
    cells = (Cell(load="usual", warmth="middle", seen=riced[0], asked=riced[1]),) if riced[1] else ()
    speed = SpeedSeen(times=times, low=times / spread, high=times * spread, pours=4, looks=12)
    return ToldOf(name=name, speed=speed, riced=cells)


def workshop(n: int, *fragrances: ToldOf, edition: int = 1) -> Evidence:
    return Evidence(workshop=f"{n:032x}", edition=edition, fragrances=fragrances)


def likes(others: Others) -> float:
    assert others.speed is not None
    return others.speed.mean


TOLD = st.builds(
    told,
    times=st.floats(0.3, 15),
    spread=st.floats(1.1, 3),
    riced=st.tuples(st.integers(0, 4), st.integers(4, 30)),
    name=st.sampled_from(("Fig", "Moss", "Rye")),
)


class AgainstStatsmodels(unittest.TestCase):
    def test_effects_within_and_between_workshops(self) -> None:
        """tau² by REML: its own likelihood is at its highest there (scipy), and where all workshops know theirs equally
        well it is that of Paule and Mandel, as `statsmodels` has it; the mean and its error are theirs at that tau²."""
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            from scipy.optimize import minimize_scalar
            from statsmodels.stats.meta_analysis import combine_effects

        rng = np.random.default_rng(5)
        for k in (3, 8, 40):
            even = np.full(k, 0.04)
            v = rng.uniform(0.01, 0.3, k)
            y = 0.7 + rng.normal(0, 0.3, k) + rng.normal(0, 1, k) * np.sqrt(v)

            def restricted(tau2: float, y: np.ndarray = y, v: np.ndarray = v) -> float:
                w = 1 / (v + tau2)
                mean = w @ y / w.sum()
                return float(0.5 * (np.log(v + tau2).sum() + np.log(w.sum()) + w @ (y - mean) ** 2))

            best = minimize_scalar(restricted, bounds=(0, 4), method="bounded", options={"xatol": 1e-10}).x
            self.assertAlmostEqual(random_effects(y, v).tau2, best, delta=1e-5)
            found, theirs = random_effects(y, even), combine_effects(y, even, method_re="iterated", atol=1e-12)
            self.assertAlmostEqual(found.tau2, theirs.tau2, places=6)
            self.assertAlmostEqual(found.mean, theirs.mean_effect_re, places=6)
            self.assertAlmostEqual(found.se, theirs.sd_eff_w_re, places=6)

    def test_counted_rows_are_repeated_rows(self) -> None:
        y, v, n = np.array([0.1, 0.6, 1.4]), np.array([0.1, 0.05, 0.2]), np.array([3, 1, 2])
        once, apart = random_effects(y, v, n), random_effects(np.repeat(y, n), np.repeat(v, n))
        self.assertAlmostEqual(once.mean, apart.mean)
        self.assertAlmostEqual(once.tau2, apart.tau2, places=7)

    def test_one_in_twenty_who_is_simply_wrong_moves_nothing(self) -> None:
        """Up to 5 % of files may say anything: no figure moves by more than its own spread."""
        rng = np.random.default_rng(8)
        files = [workshop(n, told(exp(rng.normal(0.7, 0.25)), 1.5, (rng.binomial(8, 0.05), 8))) for n in range(95)]
        for lie in (told(50, 1.02, (10, 10)), told(0.06, 1.02, (0, 10))):
            honest = others_of(pooled_names(files)[lie.key][2])
            lied = others_of(pooled_names([*files, *(workshop(900 + n, lie) for n in range(5))])[lie.key][2])
            assert honest.speed and lied.speed and honest.rices and lied.rices
            self.assertLess(abs(honest.speed.mean - lied.speed.mean), 0.2 * honest.speed.sd)
            self.assertLess(abs(honest.rices.mean - lied.rices.mean), honest.rices.sd)
        y = np.array([0.5, 0.6, 0.7, 0.6, 4.0])
        right = contaminated(y, np.full(5, 0.02)).right
        self.assertTrue((right[:4] > 0.9).all() and right[4] < 0.1, right)


class ASumOverFiles(unittest.TestCase):
    @given(st.lists(st.lists(TOLD, max_size=3, unique_by=lambda t: t.key), max_size=9), st.randoms())
    def test_in_whatever_order_and_in_whatever_parts(self, told_by_each: list[list[ToldOf]], dice: object) -> None:
        """A pool of pools is the pool of all, through the file too, and it opens as what was put in."""
        files = [workshop(n, *told) for n, told in enumerate(told_by_each)]
        whole = pooled_names(files)
        mixed = list(files)
        dice.shuffle(mixed)  # type: ignore[attr-defined]
        half = len(mixed) // 2
        parts = [file_of(pool_of(pooled_names(part)).model_dump(mode="json")) for part in (mixed[:half], mixed[half:])]
        again = pooled_names(parts)
        self.assertEqual(whole.keys(), again.keys())
        for key, (_, _, tally) in whole.items():
            self.assertEqual(again[key][2], tally)
            self.assertEqual(others_of(tally), others_of(again[key][2]))
            self.assertEqual(sum((told_by(f).get(key, Tally()) for f in files), Tally()), tally)

    @given(TOLD)
    def test_bins_are_narrower_than_what_is_known(self, one: ToldOf) -> None:
        assert one.speed is not None
        found = times_of(others_of(tally_of(one)))
        assert found is not None
        self.assertLess(abs(log(found[1] / one.speed.times)), 0.011)
        self.assertGreater(found[2] / found[0], (one.speed.high / one.speed.low) ** 0.94)

    def test_what_is_no_evidence_is_refused(self) -> None:
        good = workshop(1, told(2.0)).model_dump(mode="json")
        for change in (
            {"workshop": "Anna"},
            {"edition": 0},
            {"recipe": "secret"},
            {"fragrances": [good["fragrances"][0]] * 2},
            {"fragrances": [{"name": "Fig", "speed": {"times": 2, "low": 3, "high": 4, "pours": 1, "looks": 1}}]},
            {"format": "roundstone.pool/1", "workshop": None},
            {"fragrances": [{"name": "Fig", "riced": [{"load": "low", "warmth": "cool", "seen": 3, "asked": 2}]}]},
        ):
            with self.assertRaises(ValueError, msg=str(change)):
                file_of(good | change)
        # No bin that a workshop could not have told falls into a pool: what is read can always be reckoned with.
        pool = pool_of(pooled_names([workshop(1, told(2.0, 1.4, (1, 4)))])).model_dump(mode="json")
        for rows, most in (("speed", [[210, 16, 9]]), ("speed", [[-210, -24, 9]]), ("riced", [[10, 10, 120, 9]])):
            of = pool["fragrances"][0] | {rows: most}
            others = others_of(told_by(file_of(pool | {"fragrances": [of]}))[told(2.0).key])
            assert others.speed is not None and others.rices is not None
            self.assertTrue(np.isfinite([others.speed.mean, others.speed.sd, others.rices.mean, others.rices.sd]).all())
            beyond = of | {rows: [[10 * most[0][0], *most[0][1:]]]}
            with self.assertRaises(ValueError):
                file_of(pool | {"fragrances": [beyond]})


class Believed(unittest.TestCase):
    def of(self, **others: object) -> Others:
        return Others.model_validate({"workshops": 9, "pours": 40} | others)

    def test_what_others_saw_stands_between_the_claim_and_ones_own_pours(self) -> None:
        """It moves a bottle that was never poured towards itself and takes doubt away, in the clock and of grains."""
        for claim in ("none", "strong", "unknown"):
            for mean in (-0.4, 0.6, 2.0):
                told_here = {claim: self.of(speed=Normal(mean=mean, sd=0.3))}
                after = trade_knowledge(SHELF.fragrances.values(), others=told_here)
                before, now = (np.log(times_as_soon(k, claim)) for k in (TRADE, after))
                self.assertLess(after.sd(scent_column(claim)), TRADE.sd(scent_column(claim)))
                self.assertLess(abs(np.median(now) - mean), max(abs(np.median(before) - mean), 0.03), (claim, mean))
                for other in set(SHELF.fragrances) - {claim}:
                    self.assertEqual(after.value(scent_column(other)), TRADE.value(scent_column(other)))
        sheet, blank = weighed(recipe()), learn_hazards(SHELF, (), TRADE)
        for mean, way in ((0.5, 1), (-6.0, -1)):
            shelf = SHELF.model_copy(update={"others": {"moderate": self.of(rices=Normal(mean=mean, sd=0.6))}})
            odds = [ricing_odds({"moderate": 3.0}, 37, sheet, k) for k in (blank, learn_hazards(shelf, (), TRADE))]
            self.assertGreater(way * (odds[1] - odds[0]), 0)

    def test_a_blend_and_another_bottle_go_with_it(self) -> None:
        elder = SHELF.fragrances["unknown"]
        heir = elder.model_copy(update={"id": "heir", "inherits": "unknown"})
        others = {"unknown": self.of(speed=Normal(mean=2.0, sd=0.2))}
        known, heirs = (trade_knowledge([elder, heir], others=o).value(scent_column("heir")) for o in ({}, others))
        self.assertGreater(heirs, known + 0.2)

    def test_only_what_the_maker_said_is_the_same(self) -> None:
        files = [workshop(n, told(3.0), told(0.9, name="Moss")) for n in range(3)]
        fig = SHELF.fragrances["none"].model_copy(update={"name": "Fig"})
        self.assertEqual(heard([fig], files), {})
        mine = fig.model_copy(update={"known_as": (KnownAs(name="FIG ", code=""),)})
        self.assertEqual(heard([mine], files)["none"].workshops, 3)
        self.assertAlmostEqual(likes(heard([mine], files)["none"]), log(3.0), delta=0.02)

    def test_reviews_are_weak_and_have_a_ceiling(self) -> None:
        few, many = (others_of(Tally(), Reviews(calm=7 * n, riced=n)) for n in (1, 100))
        assert few.speed and many.speed and few.rices and many.rices
        self.assertGreater(many.speed.sd, 0.4)
        self.assertGreater(few.speed.sd, many.speed.sd)
        self.assertAlmostEqual(few.rices.mean, many.rices.mean, delta=0.5)
        one = others_of(tally_of(told(3.0, 1.3)), Reviews(calm=500))
        self.assertGreater(exp(likes(one)), 1.8, "a whole workshop's pours count more than any number of reviews")


class ToldOn(unittest.TestCase):
    def test_pours_are_told_apart_from_every_claim_and_from_what_others_said(self) -> None:
        """What is told is the pours' alone: the same whatever is claimed and whoever told what; the truth is near."""
        rng = np.random.Generator(np.random.PCG64(12))
        truth = temperament(TRADE, rng, {scent_column("moderate"): 0.5})
        maker = SimulatedMaker(truth, SHELF, rng)
        of = recipe()
        pours = [Past(f"p{n}", of, tuple(maker.pour(of, weighed(of))), "2031-05", weighed(of)) for n in range(6)]
        said = []
        for claim, others in ((Claim.MODERATE, {}), (Claim.NONE, {"moderate": Normal(mean=-0.3, sd=0.5)})):
            bottle = SHELF.fragrances["moderate"].model_copy(update={"claim": claim})
            heard_of = {i: Others(workshops=5, speed=n) for i, n in others.items()}
            shelf = SHELF.model_copy(
                update={"fragrances": dict(SHELF.fragrances) | {"moderate": bottle}, "others": heard_of}
            )
            record = read(shelf, pours)
            speed = saw(record)["moderate"].speed
            assert speed is not None
            said.append(speed)
            if others:
                file = fragrance_file(record, bottle)
                assert file.heard is not None
                self.assertLess(file.heard.mid, file.learned.mid)
                self.assertLess(file.claimed.mid, file.learned.mid, "own pours outweigh the claim and the others")
        self.assertAlmostEqual(said[0].times / said[1].times, 1.0, delta=0.03)
        spread = log(said[0].high / said[0].low) / 2.56
        self.assertLess(abs(log(said[0].times) - 1.5), 3 * spread + 0.3, "three times half a percent a percent")
        self.assertNotIn("none", saw(record), "what was never poured is not told of")
        self.assertLess(spread, 0.5)


if __name__ == "__main__":
    unittest.main()
