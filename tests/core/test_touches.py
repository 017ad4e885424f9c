"""What is touched next, on any day and safely."""

import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.pour import EVENT, Event, Undone, doubt, replay
from roundstone.core.recipe import ByMoulds, Cavities
from roundstone.core.rest import (
    RestLearned,
    RestLog,
    count_back,
    learn_rest,
    phase,
    rested,
    shown_pace,
)
from tests.core.test_rest import DAY, HOUR, ended, now, room, told
from tests.samples import SHELF, next_id, seen, weighed


class Touches(unittest.TestCase):
    def what(self, hours: float, *more: Event, **kwargs: Any) -> list[str]:
        return [n.what for n in now(room(21), hours, *more, **kwargs).next]

    def test_one_thing_after_the_other_until_it_is_done(self) -> None:
        wrap = told("wrap", 21, how="covered")
        self.assertEqual(self.what(0.1)[0], "cover")
        self.assertEqual(self.what(1, wrap)[:2], ["unmould", "cut"])
        cut = [wrap, told("unmould", 20 + 25 * HOUR, how="clean"), told("cut", 20 + 26 * HOUR, how="clean")]
        self.assertEqual(self.what(26.5, *cut)[:3], ["gel", "judge-cut", "weigh"])
        cut += [told("gel", 20 + 26 * HOUR, how="none"), told("weigh", 20 + 26 * HOUR, grams=130)]
        cut += [told("answer", 20 + 27 * HOUR, at="cut", ask=a, says="yes") for a in ("definition", "colour", "rivers")]
        self.assertEqual(self.what(28, *cut)[0], "judge-week")
        self.assertEqual(self.what(24 * 8, *cut)[0], "judge-week")
        cut += [told("answer", 20 + 8 * DAY, at="week", ask=a, says="yes") for a in ("scent", "colour", "ricing")]
        self.assertEqual(self.what(24 * 8.2, *cut)[0], "weigh")
        cut += [told("answer", 20 + 40 * DAY, at="cured", ask=a, says="yes") for a in ("scent", "sell", "again")]
        self.assertEqual(self.what(24 * 41, *cut), [])
        self.assertEqual(phase(replay(ended(*cut))), "done")

    def test_a_second_mist_is_offered_for_a_while_and_never_beside_an_oven(self) -> None:
        wrap, mist, again = told("wrap", 21, how="open"), told("mist", 22), told("mist", 33)
        self.assertEqual(self.what(0.1, wrap, mist)[0], "mist")
        self.assertEqual(now(room(21), 0.3, wrap, mist).keys[0].event["kind"], "mist")
        self.assertNotIn("mist", self.what(0.3, wrap, mist, again))
        self.assertNotIn("mist", self.what(1.0, wrap, mist))
        self.assertNotIn("mist", self.what(0.3, mist, told("wrap", 23, how="oven")))
        self.assertNotIn("mist", self.what(0.3, wrap))

    def test_a_cut_taken_back_is_waited_for_again(self) -> None:
        cut = told("cut", 20 + 26 * HOUR, how="hard")
        self.assertNotIn("cut", self.what(27, cut))
        self.assertIn("cut", self.what(27, cut, Undone(id=next_id(), minute=20 + 26.5 * HOUR, target=cut.id)))

    def test_a_question_stands_until_it_is_answered_of_all_or_of_each(self) -> None:
        cut = told("cut", 20 + 26 * HOUR, how="clean")

        def asked(*answers: tuple[str, str | None]) -> list[str]:
            more = [told("answer", 21 + 26 * HOUR, at="cut", ask=a, says="yes", portion=p) for a, p in answers]
            return [q.ask for q in now(room(21), 27, cut, *more).questions]

        self.assertEqual(asked(), ["definition", "colour", "rivers"])
        self.assertEqual(asked(("colour", "Base")), ["definition", "colour", "rivers"])
        self.assertEqual(asked(("colour", "Base"), ("colour", "Bone")), ["definition", "rivers"])
        self.assertEqual(asked(("definition", None), ("colour", "Bone")), ["colour", "rivers"])
        other = told("answer", 21 + 26 * HOUR, at="cut", ask="sell", says="yes")
        self.assertIn(
            "judge-cut", [n.what for n in now(room(21), 27, cut, other).next], "another question answers none"
        )

    def test_single_moulds_are_unmoulded_and_never_cut(self) -> None:
        of = room(21).model_copy(update={"size": ByMoulds(moulds=(Cavities(count=12, millilitres=110),))})
        found = now(of, 26)
        self.assertNotIn("cut", {w.what for w in found.windows} | {n.what for n in found.next})
        self.assertNotIn("cut", {d.what for d in count_back(of, weighed(of), RestLearned(), 90.0).deadlines})
        unmoulded = now(of, 30, told("unmould", 20 + 28 * HOUR, how="clean"))
        self.assertEqual([n.what for n in unmoulded.next][:3], ["gel", "judge-cut", "weigh"])

    def test_who_stamps_by_habit_is_told_when(self) -> None:
        cut = (told("cut", 20 + 24 * HOUR, how="clean"),)
        self.assertNotIn("stamp", self.what(30, *cut))
        self.assertIn("stamp", self.what(30, *cut, own=RestLearned(habits=("stamped",))))

    def test_a_weighing_that_was_missed_waits_a_week_and_nags_nobody(self) -> None:
        story = (told("cut", 20 + DAY, how="clean"), told("weigh", 20 + DAY, grams=120))
        due = next(n for n in now(room(21), 24 * 12.5, *story).next if n.what == "weigh")
        self.assertGreater(due.first, 24 * 12.5)
        self.assertAlmostEqual((due.first - 24) / 168, 2.0, places=6)

    def test_keys_tap_what_they_say(self) -> None:
        for hours, more in ((0.1, ()), (30.0, ()), (30.0, (told("unmould", 20 + 25 * HOUR),))):
            keys = now(room(21), hours, *more).keys
            self.assertTrue(keys)
            for key in keys:
                EVENT.validate_python({"id": next_id(), "minute": 20 + HOUR * hours, **key.event})

    def test_pace_says_little_when_nothing_was_seen(self) -> None:
        self.assertEqual(shown_pace(replay([])), 1.0)
        quick, slow = (shown_pace(replay(ended(medium=m))) for m in (3.0, 60.0))
        self.assertTrue(slow < 1 < quick <= 3**0.5 + 1e-9)


class AnyDay(unittest.TestCase):
    """Whatever was tapped and whenever it is looked at, what is said holds together."""

    STORY: tuple[tuple[str, dict[str, Any]], ...] = (
        ("wrap", {"how": "insulated"}),
        ("touch", {"how": "dents"}),
        ("unmould", {"how": "tore"}),
        ("cut", {"how": "drags", "tool": "knife"}),
        ("gel", {"how": "ring"}),
        ("weigh", {"grams": 120.0}),
        ("weigh", {"grams": 111.0, "bar": "2"}),
        ("finish", {"what": "bevelled"}),
        ("answer", {"at": "cut", "ask": "colour", "says": "no"}),
        ("mist", {}),
    )

    @settings(max_examples=80, deadline=None)
    @given(
        story=st.lists(st.tuples(st.sampled_from(STORY), st.floats(0.1, 2000)), max_size=8),
        hours=st.floats(0, 3000),
        habits=st.lists(st.sampled_from(["bevelled", "stamped", "planed"]), max_size=2),
        tool=st.sampled_from(["wire", "knife"]),
    )
    def test_what_is_next_is_told_whole_and_its_keys_are_events(
        self, story: list[tuple[tuple[str, dict[str, Any]], float]], hours: float, habits: list[str], tool: str
    ) -> None:
        own = RestLearned(habits=tuple(habits), tool=tool, weighs=True)
        events = [told(kind, 20 + HOUR * at, **fields) for (kind, fields), at in story]
        found = now(room(21), hours, *events, own=own)
        kinds = {kind for (kind, _), at in story}
        for n in found.next:
            self.assertTrue(0 <= n.first <= n.sure <= n.late <= n.until, n)
            self.assertTrue(n.message)
            self.assertLess(hours, n.until + 15 * 24, "what nobody told of is let go")
        whats = [n.what for n in found.next]
        self.assertEqual(len(whats), len(set(whats)), "nothing is asked twice")
        self.assertFalse("cut" in whats and "cut" in kinds)
        self.assertFalse("gel" in whats and "gel" in kinds)
        self.assertFalse("weigh" in whats and not kinds & {"cut", "unmould"}, "a bar is weighed once there is one")
        if found.next:
            coming = [n.first for n in found.next if n.first > hours]
            self.assertEqual(coming, sorted(coming))
            self.assertTrue(all(n.first <= hours for n in found.next[: len(found.next) - len(coming)]))
        for key in found.keys:
            EVENT.validate_python({"id": next_id(), "minute": 20.0, **key.event})
        self.assertLessEqual(len(found.questions), 3)
        self.assertLessEqual(found.cured.low, found.cured.high)
        self.assertTrue(all(a >= b for a, b in zip(found.bars[0].curve.mid, found.bars[0].curve.mid[1:], strict=False)))

    def test_what_a_maker_does_by_habit_is_learned_from_the_log(self) -> None:
        of = room(21)
        logs = []
        for n in range(6):
            cut = told("cut", 20 + DAY, how="clean", tool="knife" if n < 4 else "wire")
            more = [told("finish", 20 + 3 * DAY, what="stamped")] * (n < 4) + [told("weigh", 21 + DAY, grams=120)]
            state = replay(ended(cut, *more), of)
            rest = rested(state, of)
            assert rest is not None
            logs.append(RestLog(of, weighed(of), rest, shown_pace(state)))
        own = learn_rest(logs)
        self.assertEqual((own.tool, own.habits, own.weighs, own.cuts.cuts), ("knife", ("stamped",), True, 6))
        self.assertEqual(RestLearned.model_validate(own.model_dump()), own, "it is kept beside the log")


class Safety(unittest.TestCase):
    def doubts(self, event: Event, *before: Event, wrap: str = "covered") -> Any:
        return doubt(event, ended(*before), room(21, wrap), SHELF)

    def test_alcohol_and_a_warm_oven_are_never_next_to_each_other(self) -> None:
        mist = told("mist", 25.0)
        self.assertIsNone(self.doubts(mist))
        self.assertIn("alcohol vapour", self.doubts(mist, wrap="oven").message)
        oven, off = told("wrap", 21, how="oven"), told("wrap", 24, how="oven-off")
        self.assertIn("oven is on", self.doubts(mist, oven).message)
        self.assertIn("may still be warm", self.doubts(mist, oven, off).message)
        self.assertEqual(self.doubts(mist, oven).stands, "counts", "what was done is stored all the same")
        self.assertIsNone(self.doubts(told("mist", 24 + 9 * HOUR), oven, off))
        self.assertIn("oven", now(room(21, "oven"), 0.1).mist)

    def test_nothing_rests_that_is_still_poured(self) -> None:
        odd = doubt(told("cut", 30, how="clean"), [seen(1, "emulsion")], room(21), SHELF)
        assert odd is not None
        self.assertEqual(odd.stands, "cannot")
        early = self.doubts(told("cut", 5, how="clean"))
        self.assertEqual(early.pointer, "/minute")
        self.assertIsNone(rested(replay([seen(1, "emulsion")]), room(21)))
