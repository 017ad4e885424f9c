"""The forward pass: against hand-worked cases, against brute force on other dice, and what must hold for any plan."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.advise.acts import Act, acts, moved
from roundstone.core.advise.advice import choose, weigh_acts
from roundstone.core.batter import Work, ages, crossing_times, infer, prior, sharing
from roundstone.core.forecast import Job, Projection, project, turns
from roundstone.core.pour import (
    Event,
    Flagged,
    PouringBegan,
    ScentIn,
    Split,
    Worked,
    doubt,
    replay,
)
from roundstone.core.recipe import Design, Portion, Scent
from roundstone.core.schedule import Task, build_schedule, plan
from roundstone.core.shelf import Wants
from roundstone.core.simulate import begin, fit_of, level_of, levels_at, play
from roundstone.core.simulate.actions import FOLDED_GRAIN, fold, scent_in, stir, thicken
from roundstone.core.simulate.run import STEP_SD, play_step
from roundstone.core.simulate.trajectory import age_at, b_at, needed_age, when
from tests.samples import SHELF, SMOOTH, TRADE, TWO, job, knows, next_id, quick_pour, recipe, seen, weighed

HAND = np.log([1.2, 4.0, 12.0, 28.0, 65.0, 150.0])[:, None, None]
DROP = (0.0, 1.0, 3.9, 4.8)
MINUTES = (2.2, 2.45, 2.8, 3.3, 4.0, 8.0)
START: list[Event] = [seen(0.5, "emulsion"), Split(id=next_id(), minute=1.5)]


def projected(
    technique: str = "drop-swirl", events: list[Event] | None = None, now: float = 0.0, **changes: object
) -> Projection:
    of = recipe(design=Design(portions=TWO, technique=technique), **changes)
    return project(job(of), knows(hazards=SMOOTH), 5, events=events or [], now=now)


def all_acts(told: Projection) -> list[Act]:
    return list(acts(told.context, told.at, told.schedule.reconciled.ahead, 1.0, told.job, told.schedule.technique))


class ByHand(unittest.TestCase):
    def test_the_step_worked_in_the_docs(self) -> None:
        levels = [float(level_of(HAND, np.log([[tau]]))[0, 0]) for tau in (18.0, 19.0, 30.0, 31.0)]
        np.testing.assert_allclose(levels, [3.479, 3.542, 4.082, 4.121], atol=6e-4)
        fits = fit_of(DROP, np.array(levels))
        np.testing.assert_allclose(fits, [1, 1, 0.798, 0.755], atol=6e-4)
        self.assertAlmostEqual(float(np.mean(fits[2:])), 0.776, delta=6e-4)

    def test_stirring_ages_by_its_multiplier(self) -> None:
        """Half a minute by hand is half a minute at 2.5 times the rate: one and a half more than at rest."""
        told = projected(events=START, now=2.0)
        context, t = told.context, np.full(told.context.draws, 3.0)
        state, _ = begin(context)
        before, (_, rate) = age_at(context, state, [0], t), b_at(context, [0], t)
        stir(context, state, [0], t, 0.5, "hand")
        after = age_at(context, state, [0], t)
        np.testing.assert_allclose(after - before, 0.5 * rate * (context.hand - 1), rtol=1e-9)

    def test_a_scent_is_what_the_lane_itself_would_have_it_be(self) -> None:
        """Played on top, or laid out as a lane from the start: the same age at every minute after."""
        told = projected(events=START, now=2.0, scents=(Scent(fragrance="strong", load=0.03),))
        context, state = told.context, begin(told.context)[0]
        scent_in(context, state, [0], np.full(context.draws, 2.0), "hand")
        lane = told.schedule.bare[0]
        whisked = Work(2.0, 2.0 + prior.SCENT_STIR_MINUTES, "hand")
        scented = replace(lane, added={"strong": (2.0, 3.0)}, work=(*lane.work, whisked))
        (scented,) = sharing([scented], MINUTES)
        _, age = ages([scented], told.samples.column, told.samples.params)
        for minute in MINUTES:
            ours = age_at(context, state, [0], np.full(context.draws, minute))[0]
            exact = age[0, :, scented.segment_ending(minute) + 1]
            off = np.abs(np.log(ours / exact))
            self.assertLess(float(np.quantile(off, 0.99)), 0.06, minute)  # it cools a little while the scent goes in
            self.assertLess(float(np.max(off)), 0.1, minute)
            self.assertLess(float(np.median(off)), 0.01, minute)

    def test_thickened_on_purpose_comes_to_the_level(self) -> None:
        told = projected(events=START, now=2.0)
        context, state = told.context, begin(told.context)[0]
        t = np.full(context.draws, 2.0)
        took = thicken(context, state, [1], t, 3.3)
        age, need = age_at(context, state, [1], t)[0], needed_age(context, [1], 3.3)[0]
        short = took < 2.25 - 1e-9
        np.testing.assert_allclose(age[short], need[short], rtol=1e-9)
        self.assertTrue(np.all(age[~short] <= need[~short] * (1 + 1e-9)), "nobody goes on for longer")
        self.assertGreater(float(np.mean(short)), 0.8)

    def test_a_level_comes_when_it_comes(self) -> None:
        told = projected(events=START, now=2.0)
        context, state = told.context, begin(told.context)[0]
        for level in (2.0, 3.5, 4.6):
            at = when(context, state, [0, 1], level)
            np.testing.assert_allclose(
                age_at(context, state, [0], at[0])[0], needed_age(context, [0], level)[0], rtol=1e-9
            )
            self.assertLess(float(np.median(np.abs(levels_at(context, state, [0], at[0])[0] - level))), 1e-9)

    def test_folding_is_a_weighted_mean(self) -> None:
        """Two lanes alike but for their age fold to the mean of the ln-ages by weight; grains thin out."""
        told = projected(events=START, now=2.0)
        context, state = told.context, begin(told.context)[0]
        context.levels[:, 1] = context.levels[:, 0]
        t = np.full(context.draws, 2.0)
        state.grain[1] = 1.0
        x, y = (age_at(context, state, [i], t)[0].copy() for i in (1, 0))
        fold(context, state, 1, [0], t)
        w = 0.4 / (0.4 + 0.6)
        np.testing.assert_allclose(np.log(state.a0[0]), w * np.log(x) + (1 - w) * np.log(y), rtol=1e-9)
        np.testing.assert_allclose(state.grain[0], FOLDED_GRAIN * w)
        self.assertEqual(state.used[1], 1.0)

    def test_a_gate_is_waited_for_and_no_longer_than_patience(self) -> None:
        told = projected("straight-layers", events=START, now=2.0)
        context, state = told.context, begin(told.context)[0]
        state.in_mould = (0,)
        stands = when(context, state, [0], 3.1)[0]
        for wait in (5.0, 500.0):
            layer = Task("l", "layer", "l", (1,), 1.0, Wants(gate=3.1, wait=wait))
            played = play_step(context, state.copy(), layer)
            np.testing.assert_allclose(played.start, np.maximum(state.t, np.minimum(stands, state.t + wait)))


class BruteForce(unittest.TestCase):
    def test_what_is_lost_cannot_come_as_drawn(self) -> None:
        """In every draw, and nothing is worth more than the best of it."""
        for technique in ("drop-swirl", "hanger-swirl", "straight-layers"):
            hot = projected(technique, pour_celsius=48.0, scents=(Scent(fragrance="seizes", load=0.05),))
            drawn, lost = hot.outcome.drawn, hot.outcome.lost
            self.assertGreater(float(lost.mean()), 0.01, technique)
            self.assertTrue(bool(np.all(drawn >= 0) and np.all(drawn <= 1 - lost + 1e-12)))
            self.assertLessEqual(float(hot.outcome.value(hot.knows.utility).max()), hot.knows.utility.drawn + 1e-12)

    def test_a_plan_played_draw_by_draw_on_other_dice(self) -> None:
        """One portion poured at once, hand-stirred, scented: every draw laid out as a lane of its own, by numpy's own
        generator, with nothing of the pass's bookkeeping."""
        design = Design(portions=(Portion(name="All", share=1),), technique="plain")
        of = recipe(design=design, scents=(Scent(fragrance="strong", load=0.04),), pour_celsius=40.0)
        sheet, events = weighed(of), [seen(0.5, "emulsion")]
        told = project(Job(of, SHELF, sheet), knows(hazards=SMOOTH), 5, events=events, now=0.5)
        tasks = told.schedule.reconciled.ahead
        self.assertEqual([s.do for s in tasks], ["colour", "scent", "pour"])
        schedule = build_schedule(of, sheet, TRADE, SHELF, replay(events, of), 0.5)
        belief = infer(TRADE, schedule.seen, schedule.terms, False, schedule.to_come)
        rng = np.random.default_rng(11)
        lane, names, fits = schedule.bare[0], list(belief.column), []
        for _ in range(1500):
            params = rng.multivariate_normal(belief.mean, belief.cov)
            maker, at, work, added = rng.normal(0, 0.2), 0.5, list(lane.work), {}
            for task in tasks[:2]:
                length = task.minutes * np.exp(maker + STEP_SD * rng.normal())
                if task.do == "colour":
                    work.append(Work(at, at + length, "hand"))
                else:
                    added = {"strong": (at, 4.0)}
                    work.append(Work(at, at + prior.SCENT_STIR_MINUTES, "hand"))
                at += length
            ends = (at, at + tasks[2].minutes * np.exp(maker + STEP_SD * rng.normal()))
            (own,) = sharing([replace(lane, work=work, added=added)], ends)
            _, age = ages([own], belief.column, params[None, :])
            noise = np.asarray(belief.noise.stages) * rng.normal(size=4)
            g = np.maximum.accumulate(params[[names.index(f"a:{s}") for s in prior.THRESHOLDS]] + noise)
            g = np.array([g[0] - np.log(3.3), *g, g[3] + np.log(2.3)])[:, None, None]
            tau = np.array([[age[0, 0, own.segment_ending(m) + 1] for m in ends]])
            level = level_of(np.repeat(g, 2, axis=2), np.log(tau))[0]
            fits.append(fit_of(tasks[2].wants.band, level).mean())
        ours = next(s for s in told.outcome.steps if s.task.do == "pour").odds
        self.assertTrue(0.3 < ours < 0.97, ours)
        self.assertAlmostEqual(float(np.mean(fits)), ours, delta=0.035)

    def test_batches_of_one_pour_are_alike_by_seven_tenths(self) -> None:
        """The belief's own covariance of two batches' rates, and how far the first one's looks move the second."""
        design = Design(portions=TWO, technique="straight-layers", batching="layers")
        of = recipe(design=design, scents=())
        first: list[Event] = [seen(0.5, "emulsion", "Base")]
        schedule = build_schedule(of, weighed(of), TRADE, SHELF, replay(first, of), 1.0)
        blind = infer(TRADE, schedule.seen, (), True)
        u = [blind.column[n] for n in ("u", "u@Base", "u@Bone")]
        base, bone = np.zeros(len(blind.mean)), np.zeros(len(blind.mean))
        base[[u[0], u[1]]], bone[[u[0], u[2]]] = 1.0, 1.0
        cov = blind.cov
        alike = (base @ cov @ bone) / np.sqrt((base @ cov @ base) * (bone @ cov @ bone))
        self.assertAlmostEqual(float(alike), prior.BATCHES_ALIKE, places=9)
        fast = [*first, seen(1.5, "medium", "Base")]
        later = [project(job(of), knows(), 5, events=e, now=1.6).forecast.lanes[1] for e in (first, fast)]
        spans = [x.stages[1].time.q50 - x.emulsion.q50 for x in later]
        self.assertLess(spans[1], 0.8 * spans[0], "the first layer teaches the next")


class AnyPlan(unittest.TestCase):
    @settings(max_examples=25, deadline=None)
    @given(
        st.sampled_from([t for t, x in SHELF.techniques.items() if x.pots]),
        st.integers(1, 6),
        st.sampled_from(["slows", "none", "strong", "seizes"]),
        st.sampled_from(["whole", "layers"]),
    )
    def test_outlooks_add_up_and_every_step_has_its_place(self, technique: str, n: int, claim: str, how: str) -> None:
        n = max(n, SHELF.techniques[technique].pots)
        shares = [1 / n] * n
        portions = tuple(Portion(name=f"P{i}", share=s) for i, s in enumerate(shares))
        of = recipe(
            design=Design(portions=portions, technique=technique, batching=how),
            scents=(Scent(fragrance=claim, load=0.03),),
        )
        sheet = weighed(of)
        tasks = plan(of, SHELF, sheet.total)
        self.assertEqual(len({s.key for s in tasks}), len(tasks))
        used = np.zeros(n)
        for task in tasks:
            if task.looks and task.do not in ("pass", "embed", "spare"):
                used[list(task.lanes)] += task.wants.part
        told = project(Job(of, SHELF, sheet), knows(), 2)
        look = told.forecast.outlook
        self.assertAlmostEqual(look.drawn + look.different + look.lost, 1, places=9)
        self.assertTrue(0 <= look.lost <= 1 and 0.1 - 1e-9 <= look.value <= 1)
        for step in told.forecast.steps:
            self.assertTrue(step.start <= step.end + 1e-9 and step.too_thick >= -1e-9 and step.too_thin >= -1e-9)
            self.assertLessEqual({*step.risky, *step.thin}, set(step.portions))
            if len(step.portions) == 1 and step.risky:
                self.assertEqual(step.thin == step.portions, step.too_thin > step.too_thick, "one portion is the step")
        ahead = told.schedule.reconciled.ahead
        weight = sum(s.wants.weight for s in ahead if s.looks)
        for turn in turns(told.context, told.at, ahead, told.job, told.schedule.technique):
            self.assertAlmostEqual(sum(s.wants.weight for s in turn.tasks if s.looks), weight, places=6)

    def test_the_same_dice_for_every_plan(self) -> None:
        """Played twice the same comes out, whatever was tried between: a state is left as it was."""
        told = projected(events=quick_pour()[:5], now=4.1)
        first = play(told.context, told.at, told.schedule.reconciled.ahead)
        for act in all_acts(told):
            play(told.context, told.at, act.tasks, act.left, act.credit)
        again = play(told.context, told.at, told.schedule.reconciled.ahead)
        np.testing.assert_array_equal(first.kept, again.kept)

    def test_what_only_saves_time_changes_nothing(self) -> None:
        """Lanes nothing more is planned for are not aged twice; what the taps before come to is not worked out anew."""
        events = quick_pour()
        told = projected(events=events[:5], now=4.1)
        origins = told.context.origin
        for lanes in (told.schedule.bare, told.schedule.lanes):
            spared = crossing_times(told.samples, lanes, origins)
            anew = crossing_times(replace(told.samples, lanes=()), lanes, origins)
            np.testing.assert_array_equal(spared.times, anew.times)
        of = recipe()
        for n, event in enumerate(events):
            before = events[:n]
            self.assertEqual(doubt(event, before, of, SHELF), doubt(event, before, of, SHELF, replay(before, of)))


class TheStick(unittest.TestCase):
    def test_never_in_what_riced_or_jumped(self) -> None:
        grains = [*START, ScentIn(id=next_id(), minute=2.5, portion="Base"),
                  Flagged(id=next_id(), minute=3.0, portion="Base", flag="ricing")]  # fmt: skip
        jumped = [*START, ScentIn(id=next_id(), minute=2.5, portion="Base"), seen(3.5, "medium", "Base")]
        blended = [*jumped[:-1], Worked(id=next_id(), minute=3.2, portion="Base", seconds=20), jumped[-1]]
        for events, still in ((grains, True), (jumped, True), (blended, False)):
            told = projected(events=events, now=3.6)
            self.assertEqual(moved(told.context, 0, None), still)
            bursts = [a for a in all_acts(told) if a.kind == "burst" and 0 in a.lanes]
            if still:
                self.assertEqual(bursts, [])

    def test_what_is_in_the_mould_is_left_alone(self) -> None:
        poured = [*START, PouringBegan(id=next_id(), minute=3.0)]
        told = projected("straight-layers", events=poured, now=6.0)
        self.assertEqual(told.at.in_mould, (0,))
        for act in all_acts(told):
            if act.kind in ("burst", "loosen", "fold"):
                self.assertNotIn(0, act.lanes)


class Choosing(unittest.TestCase):
    def test_mildest_of_near_equals_and_what_was_said_stands(self) -> None:
        told = projected(events=[*quick_pour()[:7], seen(5.0, "thick", "Bone")], now=5.2)
        going, others = weigh_acts(told)
        self.assertGreater(len(others), 3)
        base = going.value
        skip, switch = Act("skip", ()), Act("switch", (), technique=SHELF.techniques["chunks"])

        def chosen(gain_skip: float, gain_switch: float, standing: str = "") -> str:
            pair = [replace(going, act=a, value=base + g) for a, g in ((switch, gain_switch), (skip, gain_skip))]
            return choose(going, pair, standing).act.kind

        self.assertEqual(chosen(0.03, 0.05), "go")
        self.assertEqual(chosen(0.08, 0.1), "skip")
        self.assertEqual(chosen(0.04, 0.2), "switch")
        self.assertEqual(chosen(0.0, 0.04, standing="switch chunks"), "switch", "advice does not flicker")
        calm = weigh_acts(projected(events=quick_pour()[:3], now=1.7))[1]
        self.assertFalse({o.act.kind for o in calm} & {"switch", "spare"}, "not before it was seen")
