"""The pour's events, the design's odds, the reasons and the advice."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from roundstone.core.advise import about, advise, pace
from roundstone.core.forecast import Projection, chance, explain, likelihood_of, project
from roundstone.core.pour import (
    ColourSeen,
    Doubted,
    Ended,
    Event,
    Flagged,
    Kept,
    LeftUnscented,
    Moved,
    NothingAmiss,
    PouringBegan,
    ScentIn,
    Split,
    TechniqueChanged,
    Undone,
    check,
    doubt,
    replay,
)
from roundstone.core.recipe import Design, Dose, Scent
from roundstone.core.values import RuleError, listed
from tests.samples import SHELF, TWO, job, knows, next_id, quick_pour, recipe, seen


def projected(events: list[Event], now: float, **changes: object) -> Projection:
    of = recipe(**changes)
    return project(job(of), knows(), 1, events=events, now=now)


class Events(unittest.TestCase):
    def refused(self, event: Event, after: list[Event], pointer: str, sure: bool = False) -> None:
        with self.assertRaises(RuleError) as raised:
            check(event, after, recipe(), SHELF)
        self.assertEqual((raised.exception.faults[0].pointer, raised.exception.sure), (pointer, sure))

    def test_a_whole_pour_is_taken_in_order(self) -> None:
        events = quick_pour()
        for i, event in enumerate(events):
            check(event, events[:i], recipe(), SHELF)
        state = replay(events)
        self.assertEqual((state.emulsion, state.split, state.ended), (0.5, 1.5, 8.0))
        self.assertEqual((state.level("Base"), state.level("Bone"), state.scented_at("Bone")), (4, 2, None))

    def test_taps_out_of_order(self) -> None:
        """Each is doubted beside its field; what the maker may stand by is a question."""
        start: list[Event] = [seen(0.5, "emulsion")]
        split: list[Event] = [*start, Split(id=next_id(), minute=1)]
        self.refused(seen(2, "light", "Base"), start, "/portion", sure=True)
        self.refused(seen(2, "light", "Nobody"), split, "/portion")
        self.refused(Split(id=next_id(), minute=2), split, "/kind")
        self.refused(seen(9, "light", "Base"), quick_pour()[:-1], "/stage", sure=True)
        self.refused(seen(9, "set", "Base"), quick_pour(), "/kind", sure=True)
        self.refused(ScentIn(id=next_id(), minute=4, portion="Base"), quick_pour()[:4], "/portion", sure=True)
        self.refused(ScentIn(id=next_id(), minute=4, portion="Bone"), quick_pour()[:4], "/portion", sure=True)
        self.refused(Ended(id=next_id(), minute=4), [], "/kind", sure=True)
        self.refused(TechniqueChanged(id=next_id(), minute=4, technique="juggling"), split, "/technique")
        began = PouringBegan(id=next_id(), minute=5)
        self.refused(PouringBegan(id=next_id(), minute=6), [*split, began], "/kind")
        self.refused(PouringBegan(id=next_id(), minute=2), start, "/kind", sure=True)

    def test_a_doubted_tap_stands_open_until_it_is_answered(self) -> None:
        events = quick_pour()[:-1]
        back = seen(9, "light", "Base")
        found = doubt(back, events, recipe(), SHELF)
        assert found is not None
        told = Doubted(id=next_id(), minute=9, target=back.id, says=found.message, stands=found.stands)
        open_ = replay([*events, back, told])
        self.assertEqual((open_.level("Base"), list(open_.doubts)), (4, [back.id]), "it waits")
        self.assertIn(back, open_.standing, "and is shown")
        kept = replay([*events, back, told, Kept(id=next_id(), minute=10, target=back.id)])
        self.assertEqual((kept.level("Base"), kept.doubts), (2, {}))
        moved = replay([*events, back, told, Moved(id=next_id(), minute=10, target=back.id, to=3.2)])
        self.assertEqual((moved.level("Base"), moved.doubts), (4, {}))
        self.assertIn(3.2, [look.minute for look in moved.looks_of("Base")])
        gone = replay([*events, back, told, Undone(id=next_id(), minute=10, target=back.id)])
        self.assertEqual(gone.looks, replay(events).looks)
        never = told.model_copy(update={"stands": "cannot"})
        self.assertEqual(replay([*events, back, never, Kept(id=next_id(), minute=10, target=back.id)]).level("Base"), 4)

    @given(st.permutations(range(9)), st.lists(st.integers(0, 8), max_size=4))
    def test_whatever_order_taps_arrive_in_nothing_breaks(self, order: list[int], again: list[int]) -> None:
        """Late, twice and shuffled: the state is that of the taps in order of their minutes."""
        events = quick_pour()
        arrived: list[Event] = [events[i] for i in order]
        for i in again:
            twin = events[i].model_copy(update={"id": next_id()})
            found = doubt(twin, arrived, recipe(), SHELF)
            arrived.append(twin)
            if found is not None:
                arrived.append(
                    Doubted(id=next_id(), minute=twin.minute, target=twin.id, says=found.message, stands=found.stands)
                )
        state = replay(arrived)
        plain = replay(events)
        self.assertEqual((state.split, state.ended, state.scents), (plain.split, plain.ended, plain.scents))
        projected(arrived, 8.0)

    def test_a_question_answered_is_taken(self) -> None:
        check(seen(9, "light", "Base", sure=True), quick_pour()[:-1], recipe(), SHELF)

    def test_any_tap_is_taken_back_and_twice_goes_further_back(self) -> None:
        events = quick_pour()[:4]
        self.refused(Undone(id=next_id(), minute=5, target=events[0].id), [], "/target")
        undo = Undone(id=next_id(), minute=5, target=events[-1].id)
        check(undo, events, recipe(), SHELF)
        self.assertEqual(replay([*events, undo]).looks, replay(events[:-1]).looks)
        again = Undone(id=next_id(), minute=5, target=events[-2].id)
        check(again, [*events, undo], recipe(), SHELF)
        self.assertEqual(replay([*events, undo, again]).scents, {})


class WrittenInLater(unittest.TestCase):
    """Of a pour that has ended any tap can be put right."""

    def setUp(self) -> None:
        self.of, self.events = recipe(), quick_pour()

    def allowed(self, event: Event) -> bool:
        try:
            check(event, self.events, self.of, SHELF)
        except RuleError as broken:
            return broken.sure and event.sure
        return True

    def test_what_was_forgotten_at_its_own_minute(self) -> None:
        late = seen(3.2, "emulsion", "Base")
        self.assertTrue(self.allowed(late))
        self.assertFalse(self.allowed(late.model_copy(update={"minute": 20.0})), "not after it ended")
        self.assertFalse(self.allowed(Ended(id=next_id(), minute=7)))
        back = seen(4.1, "light", "Base")
        self.assertFalse(self.allowed(back), "it was at medium before")
        self.assertTrue(self.allowed(back.model_copy(update={"sure": True})))

    def test_a_pour_lasts_as_long_as_it_lasts(self) -> None:
        """Layers and rests take days: it can be ended then, and the end taken back a week later."""
        days = quick_pour()[:-1]
        late = Ended(id=next_id(), minute=3 * 24 * 60)
        self.assertIsNone(doubt(late, days, recipe(), SHELF))
        back = Undone(id=next_id(), minute=10 * 24 * 60, target=late.id)
        again = Ended(id=next_id(), minute=11 * 24 * 60)
        check(back, [*days, late], recipe(), SHELF)
        self.assertIsNone(doubt(again, [*days, late, back], recipe(), SHELF))
        self.assertEqual(replay([*days, late, back, again]).ended, again.minute)

    def test_any_tap_of_an_ended_pour_is_taken_back(self) -> None:
        for event in self.events:
            self.assertTrue(self.allowed(Undone(id=next_id(), minute=8, target=event.id)))

    def test_a_scent_that_stays_out(self) -> None:
        """Pouring with nothing said of the fragrance is a question; left out, the advice goes on without it."""
        start: list[Event] = [seen(0.5, "emulsion"), Split(id=next_id(), minute=1.5), seen(2.0, "emulsion")]
        pouring = PouringBegan(id=next_id(), minute=3)
        with self.assertRaises(RuleError) as raised:
            check(pouring, start, self.of, SHELF)
        self.assertTrue(raised.exception.sure)
        self.assertIn("The fragrance was not tapped", raised.exception.faults[0].message)
        out = LeftUnscented(id=next_id(), minute=2.5, portion="Base")
        check(out, start, self.of, SHELF)
        check(pouring, [*start, out], self.of, SHELF)
        before, after = (advise(projected(e, 2.6)) for e in (start, [*start, out]))
        self.assertEqual((before.do, after.go), ("scent", "pouring"))
        lane = projected([*start, out], 2.6).schedule.lanes[0]
        self.assertEqual(lane.added, {})
        after_all = ScentIn(id=next_id(), minute=2.8, portion="Base")
        self.assertFalse(replay([*start, out, after_all]).waits_for_scent("Base"))
        self.events = [*start, ScentIn(id=next_id(), minute=2.2, portion="Base")]
        self.assertFalse(self.allowed(out), "it is in")
        in_fats = recipe(design=Design(portions=self.of.design.portions, technique="drop-swirl", scent_at="fats"))
        check(pouring, start, in_fats, SHELF)
        with self.assertRaises(RuleError):
            check(after_all, start, in_fats, SHELF)

    def test_answers_and_colours(self) -> None:
        flag = Flagged(id=next_id(), minute=8, flag="ricing", portion="Base")
        colour = ColourSeen(id=next_id(), minute=8, days=7, shade="tan", portion="Base")
        for event in (flag, NothingAmiss(id=next_id(), minute=8), colour):
            self.assertTrue(self.allowed(event))
        self.assertFalse(self.allowed(flag.model_copy(update={"portion": "Nowhere"})))
        state = replay([*self.events, flag, colour])
        self.assertEqual((len(state.flags), len(state.colours), state.smooth), (1, 1, False))
        self.events = self.events[:-1]
        self.assertTrue(self.allowed(flag), "also while it is poured")
        self.assertFalse(self.allowed(colour), "but a colour only in the mould")


class Odds(unittest.TestCase):
    def test_never_told_above_95(self) -> None:
        for fragrance in ("slows", "none", "seizes"):
            forecast = projected([], 0, scents=(Scent(fragrance=fragrance, load=0.03),)).forecast
            look = forecast.outlook
            told = [s.odds for s in forecast.steps] + [look.drawn]
            self.assertTrue(all(0.05 - 1e-9 <= odds <= 0.95 for odds in told))
            self.assertAlmostEqual(look.drawn + look.different + look.lost, 1)

    def test_faster_fragrances_leave_worse_odds(self) -> None:
        odds = [
            projected([], 0, scents=(Scent(fragrance=f, load=0.03),)).forecast.outlook.value
            for f in ("none", "moderate", "strong", "seizes")
        ]
        self.assertTrue(odds[0] >= odds[1] > odds[2] and odds[2] > odds[3] - 0.02, odds)
        self.assertLess(odds[-1], odds[0] - 0.03)


class WhyAndWhatNow(unittest.TestCase):
    def test_reasons_add_up_and_have_the_right_sign(self) -> None:
        of = recipe(additives=(Dose(additive="sugar", amount=15),), superfat=0.10, pour_celsius=30)
        projection = project(job(of), knows(), 1)
        told = explain(projection.job, projection.knows, projection.schedule, 1)
        self.assertAlmostEqual(sum(r.minutes for r in told.reasons), told.here - told.usual, delta=0.051)
        minutes = {r.key: r.minutes for r in told.reasons}
        self.assertLess(minutes["e:moderate"], 0)
        self.assertLess(minutes["x:sugar"], 0)
        self.assertGreater(minutes["E"], 0)
        self.assertEqual(next(r.basis for r in told.reasons if r.key == "e:moderate"), "the supplier's claim")
        self.assertEqual([r.evidence for r in told.reasons], [0.0] * len(told.reasons))

    def test_calm_batter_keeps_its_design(self) -> None:
        calm = recipe(scents=(Scent(fragrance="slows", load=0.03),), pour_celsius=26)
        events = quick_pour()[:3]
        advice = advise(project(job(calm), knows(), 1, events=events, now=3.2))
        self.assertEqual(advice.technique, None)
        self.assertEqual(advice.do, "pouring")

    def test_accelerating_batter_gets_a_changed_design(self) -> None:
        """Thick a minute after the scent: first it is stirred loose; once that cannot help, what takes thick batter."""
        events = quick_pour()[:7]
        projection = projected(events, 4.9)
        speed, lane = pace(projection)
        self.assertGreater(speed, 1.35)
        self.assertEqual(projection.forecast.lanes[lane].portion, "Base")
        self.assertIn(advise(projection).do, ("loosen", "switch"))
        firm = [*events, seen(5.0, "thick", "Bone"), seen(5.4, "set", "Base")]
        projection = projected(firm, 5.5)
        advice = advise(projection)
        self.assertEqual(advice.do, "switch")
        chosen = SHELF.techniques[advice.technique or ""]
        self.assertTrue(all(x.band[2] >= 4.5 for x in chosen.steps), "only what takes thick batter is left")
        assert advice.instead is not None and advice.going_on is not None
        self.assertGreater(advice.instead.value, advice.going_on.value)
        for part in ("faster than forecast", chance(advice.instead.drawn), "Going on"):
            self.assertIn(part, advice.detail)
        # Once changed to it, the advice is to pour it.
        changed = [*firm, TechniqueChanged(id=next_id(), minute=5.6, technique=chosen.id)]
        self.assertEqual(advise(projected(changed, 5.7)).go, "pouring")

    def test_from_first_burst_to_end(self) -> None:
        events = quick_pour()
        acts = [advise(projected(events[:n], events[n - 1].minute if n else 0)).do for n in (0, 1, 2, 9)]
        self.assertEqual(acts, ["emulsion", "split", "scent", "done"])

    def test_a_surprising_tap_is_noticed(self) -> None:
        events: list[Event] = [seen(0.5, "emulsion")]
        projection = projected(events, 0.7, design=Design(portions=TWO, technique="drop-swirl"))
        self.assertLess(likelihood_of(projection.draws, ["Base", "Bone"], None, 5, 0.7), 0.01)
        self.assertGreater(likelihood_of(projection.draws, ["Base", "Bone"], None, 1, 0.7), 0.01)

    def test_words(self) -> None:
        self.assertEqual((about(0.2), about(4.4)), ("under a minute", "about 4 min"))
        said = [listed("ABCDE"[:n]) for n in range(1, 6)]
        self.assertEqual(said, ["A", "A and B", "A, B and C", "A, B and 2 more", "A, B and 3 more"])
        self.assertEqual((chance(0.002), chance(0.114), chance(0.999)), ("1 %", "11 %", "99 %"))
