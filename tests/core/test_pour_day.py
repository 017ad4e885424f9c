"""The bench's newer events, its keys and cues, verdicts, and the practice batter."""

import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.advise import advise, bench_now
from roundstone.core.forecast import Job, Projection, project
from roundstone.core.logbook import Verdicts, learn_verdicts
from roundstone.core.logbook.verdicts import shifted
from roundstone.core.pour import (
    Doubted,
    Event,
    Flagged,
    Judged,
    Kept,
    LayerTested,
    Mended,
    Moved,
    Paused,
    Remarked,
    Resumed,
    Undone,
    Worked,
    doubt,
    replay,
)
from roundstone.core.recipe import Design, Portion
from roundstone.core.schedule import build_schedule
from roundstone.core.simulate import Utility
from tests.samples import SHELF, TRADE, job, knows, next_id, quick_pour, recipe, seen, weighed

THREE = tuple(Portion(name=n, share=s) for n, s in (("Base", 0.5), ("Ash", 0.3), ("Rust", 0.2)))


def made(kind: type[Event], minute: float, **fields: Any) -> Any:
    return kind(id=next_id(), minute=minute, **fields)


def told(events: list[Event], now: float, **changes: Any) -> Projection:
    of = recipe(**changes)
    return project(job(of), knows(), 1, events=events, now=now)


def pressed(design: Design, upto: float = 400.0, **changes: Any) -> tuple[list[Event], list[str]]:
    """A pour of one who only ever presses the big key, half a minute after the last; and what the key said."""
    of, events, message, now = recipe(design=design, **changes), list[Event](), list[str](), 0.6
    sheet = weighed(of)
    for _ in range(60):
        found = project(Job(of, SHELF, sheet), knows(), 1, events=events, now=now)
        if found.state.ended is not None:
            return events, message
        keys = bench_now(found, advise(found), {}).keys
        event = keys[0].event.model_copy(update={"id": next_id(), "minute": now})
        waits = [s.label for s in found.schedule.reconciled.ahead if s.looks]
        if event.kind == "ended" and waits:
            raise AssertionError(f"the big key ends the pour while {waits[0]} waits")
        odd = doubt(event, events, of, SHELF)
        if odd is not None and "Nothing was seen" not in odd.message:
            raise AssertionError(f"{keys[0].message}: " + str(odd.message))
        events.append(event)
        message.append(keys[0].message)
        now += 20.0 if event.kind == "layer" else 0.5
        if now > upto:
            break
    return events, message


class AllOrders(unittest.TestCase):
    tap = seen(4.5, "light", "Bone")
    slip = seen(5.0, "medium", "Bone")
    EVENTS: tuple[Event, ...] = (
        *quick_pour(),
        tap,
        slip,
        Doubted(id=next_id(), minute=4.5, target=tap.id, says="odd", stands="waits"),
        made(Kept, 8.5, target=tap.id),
        made(Moved, 8.6, target=slip.id, to=4.8),
        made(Undone, 8.7, target=slip.id),
        made(Worked, 5.2, portion="Bone", tool="hand", seconds=15, purpose="loosen"),
        made(LayerTested, 6.0, portion="Base", how="wet"),
        made(Paused, 6.1),
        made(Resumed, 6.9),
        made(Remarked, 6.5, portion="Bone", what="odd-colour"),
        made(Flagged, 5.5, portion="Base", flag="ricing"),
        made(Mended, 9.0, portion="Base", flag="ricing", how="smooth"),
        made(Judged, 9.1, came="different"),
    )

    @given(st.permutations(range(len(EVENTS))), st.lists(st.sampled_from(range(len(EVENTS))), max_size=9))
    @settings(max_examples=60, deadline=None)
    def test_any_order_repetition_and_lateness_gives_one_state(self, order: list[int], again: list[int]) -> None:
        arrived = [self.EVENTS[i] for i in (*order, *again)]
        self.assertEqual(replay(arrived, recipe()), replay(self.EVENTS, recipe()))

    def test_the_state_they_come_to(self) -> None:
        state = replay(self.EVENTS, recipe())
        self.assertEqual(
            (state.pauses, state.came, state.doubts), ([(6.1, 6.5)] if False else [(6.1, 6.9)], "different", {})
        )
        self.assertNotIn(self.slip, state.standing)
        self.assertEqual([m.how for m in state.mended], ["smooth"])


class Gates(unittest.TestCase):
    design = Design(portions=THREE, technique="straight-layers")

    def poured(self) -> list[Event]:
        events, message = pressed(self.design, upto=6.0)
        self.assertTrue(any("stands" in s for s in message), message)
        return [e for e in events if e.kind != "layer"]

    def test_what_was_tilted_overrules_the_clock(self) -> None:
        events = self.poured()
        now = max(e.minute for e in events) + 0.5
        waits = advise(told(events, now, design=self.design))
        self.assertEqual(waits.do, "gate")
        assert waits.again is not None and waits.minutes is not None
        self.assertLess(waits.again.low, waits.minutes)
        self.assertLess(waits.minutes, waits.again.high)
        self.assertEqual(waits.portion, "Base")
        stands = [*events, made(LayerTested, now, portion="Base", how="stands")]
        self.assertNotEqual(advise(told(stands, now, design=self.design)).do, "gate")
        late = waits.again.high + now
        for how, least in (("slumps", 4.0), ("wet", 2.0)):
            again = advise(told([*events, made(LayerTested, late, portion="Base", how=how)], late, design=self.design))
            self.assertEqual(again.do, "gate", how)
            self.assertGreaterEqual(again.minutes or 0.0, least)

    def test_a_test_is_a_look_with_one_side(self) -> None:
        events = self.poured()
        now = max(e.minute for e in events) + 30.0

        def thick(how: str) -> float:
            found = told([*events, made(LayerTested, now, portion="Base", how=how)], now, design=self.design)
            return found.forecast.lanes[0].stages[2].time.q50

        self.assertGreater(thick("slumps"), thick("stands"))
        state = replay([*events, made(LayerTested, now, portion="Base", how="stands"), seen(now + 1, "set", "Base"),
                        made(LayerTested, now + 2, portion="Base", how="stands")])  # fmt: skip
        self.assertEqual(state.level("Base"), 5, "at least medium is no way back from set")


class Verdict(unittest.TestCase):
    def log(self, came: str, times: int, *more: Event) -> Verdicts:
        of = recipe()
        sheet = weighed(of)
        pours = []
        for _ in range(times):
            events = [
                *(e for e in quick_pour() if e.kind != "seen" or e.minute < 2), seen(3.9, "thick", "Base"),
                seen(3.95, "thick", "Bone"), made(Judged, 9.0, came=came), *more,
            ]  # fmt: skip
            state = replay(events, of)
            pours.append((build_schedule(of, sheet, TRADE, SHELF, state, 8.0), state))
        return learn_verdicts(pours)

    def test_what_works_thick_is_taken_thick_and_what_fails_is_not(self) -> None:
        shifts = [self.log("drawn", n).bands["drop-swirl"][0] for n in (1, 3, 9)]
        self.assertEqual(sorted(shifts), shifts)
        self.assertGreater(shifts[0], 0.0)
        self.assertLess(self.log("different", 3).bands["drop-swirl"][0], 0.0)
        self.assertIn("thicker", self.log("drawn", 9).message(SHELF, "drop-swirl"))
        before, after = SHELF.techniques["drop-swirl"], self.log("drawn", 9).on(SHELF).techniques["drop-swirl"]
        self.assertGreater(max(s.band[2] for s in after.steps), max(s.band[2] for s in before.steps))
        self.assertEqual(self.log("drawn", 0).on(SHELF), SHELF)
        flagged = made(Flagged, 5.0, flag="overheating")
        self.assertEqual(self.log("lost", 3, flagged).bands, {}, "what was told to be wrong is no technique's fault")
        self.assertEqual(self.log("lost", 3, flagged).lost, 3)

    def test_a_band_is_never_turned_over(self) -> None:
        for technique in SHELF.techniques.values():
            for by in (-3.0, -0.5, 0.5, 3.0):
                for step in shifted(technique, by).steps:
                    self.assertEqual(sorted(step.band), list(step.band), (technique.id, by))

    def test_what_is_different_is_worth_less_to_those_who_lose_it(self) -> None:
        stated = Utility()
        self.assertEqual(Verdicts().utility(stated), stated)
        utility = [Verdicts(sold=5, lost=n).utility(stated).different for n in (0, 2, 8)]
        self.assertEqual(sorted(utility, reverse=True), utility)
        self.assertGreater(utility[-1], stated.lost)
