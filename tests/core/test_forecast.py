"""The forecast over any recipe: what must hold whatever is in the pot, and that reasons always add up."""

import unittest
from math import log
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.batter import trade_knowledge
from roundstone.core.forecast import TRADE_USUAL, Job, Usual, explain, project, schools, techniques
from roundstone.core.heat import plan
from roundstone.core.recipe import ByConcentration, Design, Dose, FatShare, Portion, Recipe, Scent
from roundstone.core.sheet import weigh
from roundstone.core.shelf import Claim
from tests.core.test_weigh import recipes
from tests.samples import REFERENCE_FACTORS, SHELF, TRADE, job, knows, recipe, weighed


def medium(of: Recipe, lane: int = 0) -> float:
    return project(job(of), knows(), 4).forecast.lanes[lane].stages[1].time.q50


class AnyRecipe(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(recipes(), st.integers(0, 2**31))
    def test_forecast_reasons_and_heat_are_sound(self, any_recipe: Recipe, seed: int) -> None:
        sheet = weighed(any_recipe)
        projection = project(Job(any_recipe, SHELF, sheet), knows(), seed)
        self.assertTrue(np.all(np.isfinite(projection.draws.times)))
        self.assertGreater(float(projection.draws.times.min()), 0)
        for lane in projection.forecast.lanes:
            mids = [s.time.q50 for s in lane.stages]
            self.assertEqual(mids, sorted(mids))
            self.assertTrue(all(0 <= level <= 5 for level in lane.shade))
        told = explain(projection.job, projection.knows, projection.schedule, seed)
        self.assertAlmostEqual(sum(r.minutes for r in told.reasons), told.here - told.usual, delta=0.051)
        heat = plan(any_recipe, SHELF, sheet.lines)
        self.assertTrue(any_recipe.room_celsius - 25 < heat.peak <= heat.adiabatic + 1 or heat.peak < 60)
        self.assertTrue(0 <= heat.pot.ready <= 1440 and 0 <= heat.jug.ready <= 1440)

    @settings(max_examples=60, deadline=None)
    @given(
        st.sampled_from([s for s, t in SHELF.techniques.items() if any(x.do == "layer" for x in t.steps)]),
        st.floats(0.1, 0.9),
        st.sampled_from(Claim),
        st.floats(20, 45),
        st.floats(0, 0.9),
    )
    def test_a_plan_is_never_likelier_than_its_layers_by_their_share(
        self, technique: str, first: float, claim: Claim, celsius: float, third: float
    ) -> None:
        shares = (first, (1 - first) * (1 - third), (1 - first) * third)
        portions = tuple(Portion(name=f"p{i}", share=x) for i, x in enumerate(shares) if x > 0.01)
        of = recipe(
            scents=(Scent(fragrance=claim.value, load=0.03),),
            pour_celsius=celsius,
            design=Design(portions=portions, technique=technique),
        )
        if weigh(of, SHELF).sheet is None:
            return  # the technique takes another number of portions
        told = project(job(of), knows(), 1)
        for step in told.outcome.steps:
            if step.task.do == "layer":
                self.assertLessEqual(float(told.outcome.drawn.mean()), 1 - step.of_bar * (1 - step.odds) + 1e-9)
                assert told.forecast.weakest is not None
                weakest = next(x for x in told.outcome.steps if x.task.key == told.forecast.weakest.step)
                self.assertGreaterEqual(told.outcome.costs(weakest), step.of_bar * (1 - step.odds), "named first")

    def test_the_same_batter_has_no_reasons(self) -> None:
        """A recipe that is the usual one, unscented, differs by nothing."""
        of = recipe(scents=())
        sheet = weighed(of)
        usual = Usual(pours=3, factors=sheet.factors, celsius=of.pour_celsius)
        schedule = project(Job(of, SHELF, sheet), knows(), 1).schedule
        told = explain(Job(of, SHELF, sheet), knows(TRADE, usual=usual), schedule, 1)
        self.assertEqual(told.reasons, ())
        self.assertAlmostEqual(told.here, told.usual, delta=1e-9)
        self.assertIn("your usual", told.usual_words)


class Directions(unittest.TestCase):
    """What hastens and what delays, by common practice."""

    def test_warmer_is_faster(self) -> None:
        times = [medium(recipe(pour_celsius=c)) for c in (24, 30, 36, 42)]
        self.assertEqual(times, sorted(times, reverse=True))

    def test_schools_of_temperature_cost_what_the_forecast_says(self) -> None:
        of = recipe()
        told = schools(project(job(of), knows(), 1))
        self.assertEqual([s.name for s in told], ["cool", "middle", "warm"])
        self.assertTrue(told[0].medium > told[1].medium > told[2].medium)
        for school in told:
            self.assertAlmostEqual(medium(recipe(pour_celsius=school.celsius)) / school.medium, 1, delta=0.12)

    def test_claims_in_order(self) -> None:
        order = (Claim.SLOWS, Claim.NONE, Claim.SLIGHT, Claim.MODERATE, Claim.STRONG, Claim.SEIZES)
        times = [medium(recipe(scents=(Scent(fragrance=c.value, load=0.03),))) for c in order]
        self.assertEqual(times, sorted(times, reverse=True))

    def test_more_water_is_slower_and_sugar_faster(self) -> None:
        self.assertGreater(medium(recipe(water=ByConcentration(share=0.26))), medium(recipe()))
        self.assertLess(medium(recipe(additives=(Dose(additive="sugar", amount=20),))), medium(recipe()))

    def test_free_acid_sets_a_pot_at_once_and_pomace_is_quick(self) -> None:
        """Common practice: a twentieth of stearic acid in a pot warm enough to hold it is thick within a minute or two;
        pomace comes on about twice as soon as plain olive."""

        def fats(*rows: tuple[str, float]) -> tuple[FatShare, ...]:
            return tuple(FatShare(fat=f, share=x) for f, x in rows)

        usual = (("olive", 0.7), ("coconut", 0.25))
        hot = [
            medium(recipe(fats=fats(*usual, (f, 0.05)), pour_celsius=55.0, scents=()))
            for f in ("castor", "stearic-acid")
        ]
        self.assertTrue(hot[1] < 1.5 < 2.5 * hot[1] < hot[0], hot)
        few = recipe(fats=fats(*usual, ("stearic-acid", 0.05)), scents=())
        self.assertAlmostEqual(weighed(few).factors["acid"], 50, delta=5, msg="commercial acid, told as stearic")
        plain, pomace = (
            medium(recipe(fats=fats((f, 0.7), ("coconut", 0.3)), scents=())) for f in ("olive", "olive-pomace")
        )
        self.assertTrue(1.4 < plain / pomace < 2.5, (plain, pomace))

    def test_of_what_nothing_is_known_widens_the_span_alone(self) -> None:
        def span(**changes: Any) -> tuple[float, float]:
            time = project(job(recipe(scents=(), **changes)), knows(), 4).forecast.lanes[0].stages[2].time
            return time.q50, log(time.q90 / time.q10)

        middle, width = span()
        for changes in ({"koh_share": 0.6}, {"additives": (Dose(additive="soap-offcuts", amount=300),)}):
            there, wider = span(**changes)
            self.assertGreater(wider, width)
            self.assertLess(abs(log(there / middle)), 0.15)

    def test_the_unscented_portion_is_left_alone(self) -> None:
        calm = medium(recipe(scents=(Scent(fragrance="slows", load=0.03),)), lane=1)
        wild = medium(recipe(scents=(Scent(fragrance="seizes", load=0.03),)), lane=1)
        self.assertAlmostEqual(calm, wild, delta=0.02 * calm)

    def test_a_blend_does_what_its_parts_do(self) -> None:
        parts = [medium(recipe(scents=(Scent(fragrance=f, load=0.03),))) for f in ("slows", "strong")]
        blend = medium(recipe(scents=(Scent(fragrance="slows", load=0.015), Scent(fragrance="strong", load=0.015))))
        self.assertTrue(parts[1] < blend < parts[0])

    def test_an_unknown_scent_is_wider_than_a_known_one(self) -> None:
        def width(claim: str) -> float:
            of = recipe(scents=(Scent(fragrance=claim, load=0.03),))
            time = project(job(of), knows(), 4).forecast.lanes[0].stages[2].time
            return time.q90 / time.q10

        self.assertGreater(width("unknown"), width("none"))

    def test_a_measured_temperature_narrows(self) -> None:
        sd = {m: float(np.sqrt(_batch_variance(m))) for m in (True, False)}
        self.assertLess(sd[True], sd[False])


def _batch_variance(measured: bool) -> float:
    from roundstone.core.batter import batch_sd

    return batch_sd(TRADE, measured) ** 2


class Knowing(unittest.TestCase):
    def test_an_empty_shelf_has_an_opinion_too(self) -> None:
        bare = trade_knowledge([])
        self.assertTrue(np.all(np.linalg.eigvalsh(bare.cov) > 0))
        of = recipe(scents=())
        forecast = project(job(of), knows(bare), 1).forecast
        self.assertEqual(forecast.standing, "A starting guess from trade experience, not your log.")

    def test_one_portion_alone(self) -> None:
        """No split, no second colour: three steps, and only what needs one portion is offered."""
        design = Design(portions=(Portion(name="All", share=1, scent=1.0),), technique="tamp")
        of = recipe(design=design)
        plan = project(job(of), knows(), 1)
        self.assertEqual([s.do for s in plan.forecast.steps], ["combine", "colour", "scent", "spoon"])
        offered = {t.technique for t in techniques(plan.context, plan.at, plan.job) if t.outlook is not None}
        self.assertEqual(offered, {"plain", "tamp", "scraped"})

    def test_six_portions(self) -> None:
        portions = tuple(Portion(name=f"p{i}", share=1 / 6, scent=float(i % 2 == 0)) for i in range(6))
        of = recipe(design=Design(portions=portions, technique="hanger-swirl"))
        self.assertEqual(weigh(of, SHELF).faults, ())
        forecast = project(job(of), knows(), 1).forecast
        self.assertEqual(len(forecast.lanes), 6)
        self.assertTrue(all(min(s.each) <= s.odds <= max(s.each) for s in forecast.steps if s.weight))

    def test_reference_factors_are_the_reference(self) -> None:
        self.assertEqual(TRADE_USUAL.factors, REFERENCE_FACTORS)
