"""Whatever a maker taps, in whatever order the app takes: the forecast stays sound."""

import itertools
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.advise import advise
from roundstone.core.batter import FIXED_COLUMNS, THRESHOLD_LEVELS, doubted
from roundstone.core.forecast import Job, project
from roundstone.core.logbook import Past, differ, fragrance_file, read, score
from roundstone.core.pour import EVENT, Ended, Event, LeftUnscented, ScentIn, check, replay
from roundstone.core.recipe import Design, Portion, Scent
from roundstone.core.schedule import build_schedule
from roundstone.core.shelf import STAGES
from roundstone.core.values import RuleError
from roundstone.standins.batter import SimulatedMaker, temperament
from tests.samples import SHELF, TRADE, TWO, job, knows, next_id, quick_pour, recipe, seen, statistics, weighed

PORTIONS = st.sampled_from([None, "Base", "Bone"])
TAPS = st.one_of(
    st.fixed_dictionaries(
        {
            "kind": st.just("seen"),
            "portion": PORTIONS,
            "stage": st.sampled_from(STAGES[1:]),
            "turned": st.booleans(),
        }
    ),
    st.fixed_dictionaries(
        {
            "kind": st.just("work"),
            "portion": PORTIONS,
            "tool": st.sampled_from(["stick", "hand"]),
            "seconds": st.floats(0.5, 120),
        }
    ),
    st.fixed_dictionaries({"kind": st.just("split")}),
    st.fixed_dictionaries({"kind": st.just("scent"), "portion": PORTIONS}),
    st.fixed_dictionaries({"kind": st.just("temperature"), "celsius": st.floats(5, 70)}),
    st.fixed_dictionaries({"kind": st.just("unscented"), "portion": PORTIONS}),
    st.fixed_dictionaries({"kind": st.just("in-turn")}),
    st.fixed_dictionaries({"kind": st.just("switch"), "technique": st.sampled_from(sorted(SHELF.techniques))}),
    st.fixed_dictionaries({"kind": st.just("pouring")}),
)


def taken(taps: list[dict[str, object]], gaps: list[float]) -> list[Event]:
    """The taps the rules accept, each a little later than the one before, as a sure maker makes them."""
    events: list[Event] = []
    minute = 0.0
    for tap, gap in zip(taps, gaps, strict=False):
        minute += gap
        event = EVENT.validate_python({"id": next_id(), "minute": minute, "sure": True, **tap})
        try:
            check(event, events, recipe(), SHELF)
        except RuleError:
            continue
        events.append(event)
    return events


class AnyPour(unittest.TestCase):
    @settings(max_examples=150, deadline=None)
    @given(st.lists(TAPS, max_size=14), st.lists(st.floats(0, 6), min_size=14, max_size=14))
    def test_forecast_and_advice_stay_sound(self, taps: list[dict[str, object]], gaps: list[float]) -> None:
        events = taken(taps, gaps)
        now = sum(gaps)
        projection = project(job(recipe()), knows(), 3, events=events, now=now)
        forecast = projection.forecast
        self.assertTrue(np.all(np.isfinite(projection.draws.times)))
        self.assertTrue(np.all(np.diff(projection.draws.times, axis=2) >= -1e-9))
        lanes = projection.schedule.lanes
        self.assertTrue(all(np.array_equal(lane.edges, lanes[0].edges) for lane in lanes))
        for i, lane in enumerate(forecast.lanes):
            for stage in lane.stages:
                q = stage.time
                self.assertTrue(q.q10 <= q.q25 <= q.q50 <= q.q75 <= q.q90)
            for s, window in projection.schedule.known[i].items():
                if window.after is not None and window.by is None and window.after > projection.schedule.origin:
                    soonest = projection.draws.crossing(i, THRESHOLD_LEVELS[s]).min()
                    # "It came to light just now" says something of the next half minute too: that is no past yet.
                    seen_until = min(window.after, now)
                    self.assertGreaterEqual(soonest, seen_until - 1e-6, "never in a past where it was not seen")
            self.assertTrue(all(b >= a - 1e-9 for a, b in zip(lane.shade, lane.shade[1:], strict=False)))
        for step in forecast.steps:
            self.assertTrue(0.05 - 1e-9 <= step.odds <= 0.95 and step.start <= step.end)
            self.assertTrue(min(step.each, default=0) - 1e-9 <= step.odds <= max(step.each, default=1) + 1e-9)
        starts = [s.start for s in forecast.steps]
        self.assertEqual(starts, sorted(starts))
        advice = advise(projection)
        self.assertTrue(advice.headline and advice.detail and advice.pace > 0)

    @settings(max_examples=60, deadline=None)
    @given(
        st.lists(
            st.tuples(st.lists(TAPS, max_size=10), st.lists(st.floats(0, 6), min_size=10, max_size=10)), max_size=4
        )
    )
    def test_whatever_was_logged_teaches_soundly(self, logs: list[tuple[list[dict[str, object]], list[float]]]) -> None:
        """No log breaks learning: it stays finite, never widens a belief but of a fragrance that strayed from its
        claim, and the same pours teach the same."""
        extra: list[dict[str, object]] = [{"kind": "flag", "flag": "ricing"}, {"kind": "smooth"}, {"kind": "ended"}]
        pours = [
            Past(f"p{i}", recipe(), taken([*taps, *extra[i % 2 :]], [*gaps[: len(taps)], 0.5, 0.5, 0.5]))
            for i, (taps, gaps) in enumerate(logs)
        ]
        record = read(SHELF, pours)
        known = record.knowledge
        self.assertTrue(np.all(np.isfinite(known.mean)) and np.all(np.isfinite(known.cov)))
        self.assertGreater(float(np.linalg.eigvalsh(known.cov).min()), 0)
        widened = np.diag(known.cov) / np.diag(doubted(record.trade).cov)
        self.assertLess(float(np.max(widened[: len(FIXED_COLUMNS)])), 1 + 1e-6)
        again = read(SHELF, pours[::-1], before=record)
        np.testing.assert_allclose(again.knowledge.mean, known.mean, atol=2e-3)
        card = score(record)
        self.assertLessEqual(card.pours, len(pours))
        for first, second in itertools.pairwise(record.logged):
            self.assertTrue(np.isfinite(differ(first, second, known, SHELF).modelled))
        for fragrance in SHELF.fragrances.values():
            self.assertTrue(0 <= fragrance_file(record, fragrance).evidence <= 1)

    def test_what_happened_takes_the_place_of_the_plan(self) -> None:
        of, sheet = recipe(), weighed(recipe())
        planned = build_schedule(of, sheet, TRADE, SHELF, replay([]), 0)
        self.assertIn("moderate", planned.lanes[0].added)
        self.assertNotIn("moderate", planned.lanes[1].added, "the unscented portion stays so")
        happened = build_schedule(of, sheet, TRADE, SHELF, replay(quick_pour()), 8)
        self.assertEqual(happened.lanes[0].added["moderate"], (3.0, 3.0))
        self.assertEqual(happened.reconciled.ahead, ())

    def test_what_was_not_logged_went_as_planned(self) -> None:
        of, sheet = recipe(), weighed(recipe())

        def added(events: list[Event]) -> dict[str, tuple[float, float]]:
            return dict(build_schedule(of, sheet, TRADE, SHELF, replay(events), 8).lanes[0].added)

        forgotten: list[Event] = [e for e in quick_pour() if e.kind != "scent"]
        minute, percent = added(forgotten)["moderate"]
        self.assertEqual(percent, 3.0)
        self.assertTrue(1.5 < minute <= 1.5 + of.design.colour_minutes)
        out = LeftUnscented(id=next_id(), minute=3)
        self.assertEqual(added([*forgotten, out]), {})
        other = ScentIn(id=next_id(), minute=3, portion="Bone", sure=True)
        self.assertEqual(added([*forgotten, other]), {}, "passed over while another was logged")
        # A notebook that says nothing but when it was medium: split and scented as planned, in each portion.
        gaps: list[Event] = [seen(6, "medium"), Ended(id=next_id(), minute=6)]
        schedule = build_schedule(of, sheet, TRADE, SHELF, replay(gaps), 6)
        self.assertEqual({t.lane for t in schedule.terms}, {0, 1})
        self.assertTrue(schedule.lanes[0].added["moderate"][0] < 6)
        single = recipe(design=Design(portions=(Portion(name="All", share=1, scent=1.0),), technique="tamp"))
        pot = build_schedule(single, weighed(single), TRADE, SHELF, replay(gaps), 6).seen[-1]
        self.assertIn("moderate", pot.added)

    def test_pot_looks_are_said_once(self) -> None:
        schedule = build_schedule(recipe(), weighed(recipe()), TRADE, SHELF, replay(quick_pour()), 8)
        self.assertEqual(len(schedule.terms), len(set(schedule.terms)))
        lanes_of_light = [t.lane for t in schedule.terms if t.stage == 0]
        self.assertEqual(sorted(lanes_of_light), [0, 1], "light came after the split, in each portion by itself")


@statistics
class Calibration(unittest.TestCase):
    def test_eighty_in_a_hundred_hold_about_eighty(self) -> None:
        """Simulated makers whose truth is drawn from the prior: spans hold what they say, cold and live."""
        rng = np.random.Generator(np.random.PCG64(5))
        of, sheet = recipe(), weighed(recipe())
        cold: list[bool] = []
        live: list[bool] = []
        for _ in range(120):
            maker = SimulatedMaker(temperament(TRADE, rng, {}), SHELF, rng)
            events = maker.pour(of, sheet)
            truth = replay(events)
            for i, portion in enumerate(p.name for p in of.design.portions):
                reached = next((k.minute for k in truth.looks_of(portion) if k.level >= 3), None)
                before = max((k.minute for k in truth.looks_of(portion) if k.level < 3), default=0.0)
                if reached is None:
                    continue
                # Only the events that were there before medium was seen, on their own plan.
                known = [
                    e for e in events if e.kind in ("split", "scent", "temperature") or e.minute <= min(before, 2.5)
                ]
                for events_then, told in (([], cold), (known, live)):
                    span = (
                        project(Job(of, SHELF, sheet), knows(), 9, events=events_then).forecast.lanes[i].stages[1].time
                    )
                    # The truth lies between two looks: count it in when that interval meets the span.
                    told.append(span.q10 <= reached and before <= span.q90)
        self.assertGreater(len(cold), 100)
        for told in (cold, live):
            self.assertTrue(0.72 <= float(np.mean(told)) <= 0.97, float(np.mean(told)))


class WhenTheScentGoesIn(unittest.TestCase):
    def test_the_sooner_it_goes_in_the_sooner_the_batter_moves(self) -> None:
        """Into the fats, at emulsion, after the split: the same fragrance works longer on the same batter."""
        medians = []
        for scent_at in ("fats", "emulsion", "portions", "pour"):
            design = Design(portions=TWO, technique="drop-swirl", scent_at=scent_at)
            of = recipe(design=design, scents=(Scent(fragrance="strong", load=0.03),))
            told = project(job(of), knows(), seed=3).forecast
            medians.append(told.lanes[0].stages[1].time.q50)
            reached = told.lanes[1].stages[1].time.q50
            (self.assertGreater if design.scents_apart else self.assertLess)(reached, 2 * medians[-1])
        self.assertLess(max(medians[:2]), medians[2])

    def test_at_the_bench_it_is_asked_for_at_its_time(self) -> None:
        wanted = {"fats": "split", "emulsion": "scent", "portions": "split", "pour": "split"}
        for scent_at, do in wanted.items():
            of = recipe(design=Design(portions=TWO, technique="drop-swirl", scent_at=scent_at))
            events = [seen(0.5, "emulsion")]
            projection = project(job(of), knows(), seed=3, events=events, now=0.6)
            self.assertEqual(advise(projection).do, do, scent_at)
