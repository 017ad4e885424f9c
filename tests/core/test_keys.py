"""Keys of the bench tap what they say, and names a portion had."""

import unittest

import numpy as np

from roundstone.core.account import account_of
from roundstone.core.advise import advise, bench_now
from roundstone.core.advise.keys import keys_of
from roundstone.core.forecast import project
from roundstone.core.pour import (
    Event,
    Flagged,
    Folded,
    Judged,
    Mended,
    Paused,
    Renamed,
    Resumed,
    StepDone,
    Worked,
    called,
    doubt,
    replay,
)
from roundstone.core.recipe import Design
from roundstone.core.simulate import levels_at
from tests.core.test_pour_day import THREE, made, pressed, told
from tests.samples import SHELF, job, knows, quick_pour, recipe, seen


class Names(unittest.TestCase):
    def test_a_renamed_portion_keeps_all_that_is_its_own(self) -> None:
        of = recipe()
        late = seen(4.9, "light", "Bone")  # from a device that does not know yet
        events = [*quick_pour(), made(StepDone, 5.2, step="drop Bone"), late]
        before = project(job(of), knows(), 1, events=events, now=8.0).forecast
        events.append(made(Renamed, 3.0, portion="Bone", to="Ivory"))
        renamed, named = called(of, events)
        self.assertEqual([p.name for p in renamed.design.portions], ["Base", "Ivory"])
        state = replay(named, renamed)
        self.assertIn("drop Ivory", state.done)
        self.assertEqual(state.level("Ivory"), 2)
        after = project(job(renamed), knows(), 1, events=named, now=8.0).forecast
        self.assertEqual([x.time for x in before.lanes[0].stages], [x.time for x in after.lanes[0].stages])
        twice, _ = called(of, [*events, made(Renamed, 4.0, portion="Ivory", to="Cream")])
        self.assertEqual(twice.design.portions[1].name, "Cream")

    def test_no_name_is_used_twice(self) -> None:
        first = made(Renamed, 3.0, portion="Bone", to="Ivory")
        for to in ("Base", "Bone", "Ivory"):
            odd = doubt(made(Renamed, 4.0, portion="Base", to=to), [first], recipe(), SHELF)
            assert odd is not None
            self.assertEqual((odd.pointer, odd.stands), ("/to", "cannot"))
        self.assertIsNone(doubt(made(Renamed, 4.0, portion="Ivory", to="Cream"), [first], recipe(), SHELF))


class Keys(unittest.TestCase):
    def test_pressing_the_big_key_alone_ends_every_technique(self) -> None:
        """From the first burst to the mould full, no tap of it doubted."""
        for technique, many in (
            ("hanger-swirl", 3), ("drop-swirl", 2), ("straight-layers", 2), ("pot-swirl", 2), ("diagonal", 2),
            ("plain", 1),
        ):  # fmt: skip
            with self.subTest(technique):
                portions = THREE[:many] if many < 3 else THREE
                whole = sum(p.share for p in portions)
                portions = tuple(p.model_copy(update={"share": p.share / whole}) for p in portions)
                events, _ = pressed(Design(portions=portions, technique=technique))
                self.assertEqual(events[-1].kind, "ended")

    def test_a_layered_batch_begins_with_its_own_lye(self) -> None:
        portions = (THREE[0], THREE[1].model_copy(update={"share": 0.5, "batch": "Upper"}))
        _, message = pressed(Design(portions=portions, technique="straight-layers"))
        self.assertIn("Upper: lye met fats", message)
        self.assertIn("Ash is an emulsion", message)

    def test_at_a_gate_the_layer_is_tried_before_the_next_lye(self) -> None:
        portions = (THREE[0], THREE[1].model_copy(update={"share": 0.5, "batch": "Upper"}))
        design = Design(portions=portions, technique="straight-layers")
        events, message = pressed(design, upto=2.2)
        self.assertEqual(message[-1], "Base is poured")
        found = told(events, 2.7, design=design)
        advice = advise(found)
        bench = bench_now(found, advice, {})
        self.assertEqual([k.event.kind for k in bench.keys], ["layer", "layer", "combined"])
        self.assertEqual((bench.below, bench.batch, bench.choose), ("Base", "Upper", "Base"))
        gates = [c for c in bench.cues if c.kind == "gate"]
        assert advice.again is not None and advice.minutes is not None
        self.assertAlmostEqual(gates[-1].minute - found.now, advice.again.high, delta=0.05 * advice.again.high)
        self.assertEqual([x.where for x in bench.lanes], ["mould", "raw"])
        self.assertEqual([b.name for b in bench.batches], [""])

    def test_a_gate_cues_when_it_may_stand_and_when_it_should(self) -> None:
        design = Design(portions=THREE, technique="straight-layers")
        events, _ = pressed(design, upto=6.0)
        events = [e for e in events if e.kind != "layer"]
        now = max(e.minute for e in events) + 0.5
        found = told(events, now, design=design)
        advice = advise(found)
        minutes = [c.minute for c in bench_now(found, advice, {}).cues if c.kind == "gate"]
        assert advice.again is not None and advice.minutes is not None
        told_ = [m for m in (advice.again.low, advice.minutes, advice.again.high) if m > 0]
        self.assertEqual(len(minutes), len(told_))
        for minute, expected in zip(minutes, told_, strict=True):
            self.assertAlmostEqual(minute - now, expected, delta=0.05 * expected + 0.1)

    def test_the_big_key_logs_what_is_advised_for_stirring(self) -> None:
        """A portion too thick for its step but still to be loosened, and one that is thin: the key's own seconds."""
        design = Design(portions=THREE, technique="hanger-swirl")
        events, _ = pressed(design, upto=3.4)
        now = max(e.minute for e in events)
        found = told(events, now + 0.1, design=design)
        for do, tool, purpose in (("loosen", "hand", "loosen"), ("burst", "stick", "mix")):
            said = advise(found).model_copy(update={"do": do, "portion": "Ash", "minutes": 0.25})
            event = keys_of(found, said, account_of(found))[0].event
            assert isinstance(event, Worked)
            self.assertEqual((event.portion, event.tool, event.purpose, event.seconds), ("Ash", tool, purpose, 15.0))

    def test_what_was_stirred_loose_is_looser_for_a_while(self) -> None:
        design = Design(portions=THREE, technique="hanger-swirl")
        events, _ = pressed(design, upto=3.4)
        now = max(e.minute for e in events)
        stirred = made(Worked, now, portion="Ash", tool="hand", seconds=0.1, purpose="loosen")

        def level(with_: list[Event], minute: float) -> float:
            found = told(with_, minute, design=design)
            return float(np.median(levels_at(found.context, found.at, [1], np.full(found.context.draws, minute))))

        thick = [*events, seen(now - 0.01, "medium", "Ash")]
        self.assertLess(level([*thick, stirred], now + 0.2), level(thick, now + 0.2) - 0.2)
        self.assertGreater(level([*thick, stirred], now + 3.0), level([*thick, stirred], now + 0.2))

    def test_steps_of_one_block_are_done_in_any_order(self) -> None:
        design = Design(portions=THREE, technique="hanger-swirl")
        events, _ = pressed(design, upto=3.4)
        now = max(e.minute for e in events)
        ahead = [s.key for s in told(events, now, design=design).schedule.reconciled.ahead]
        self.assertIn("drop Ash", ahead)
        other = [*events, made(StepDone, now + 0.1, step="pour Base"), made(StepDone, now + 0.5, step="drop Rust")]
        left = [s.key for s in told(other, now + 0.6, design=design).schedule.reconciled.ahead]
        self.assertIn("drop Ash", left)
        self.assertNotIn("drop Rust", left)

    def test_hands_off_nothing_is_done_by_the_clock(self) -> None:
        design = Design(portions=THREE, technique="hanger-swirl")
        events, _ = pressed(design, upto=4.4)
        now = max(e.minute for e in events)
        busy = told(events, now + 60, design=design).schedule.reconciled
        off = told([*events, made(Paused, now + 0.1)], now + 60, design=design)
        self.assertLess(len(busy.ahead), len(off.schedule.reconciled.ahead))
        self.assertEqual(advise(off).do, "resume")
        back = [*events, made(Paused, now + 0.1), made(Resumed, now + 60)]
        self.assertEqual(
            len(told(back, now + 60, design=design).schedule.reconciled.ahead), len(off.schedule.reconciled.ahead)
        )

    def test_the_card_stays_until_it_is_told_how_it_ended(self) -> None:
        flag = made(Flagged, 4.0, portion="Base", flag="ricing")
        events = [e for e in quick_pour() if e.minute < 4.5]
        found = told([*events, flag], 4.6)
        card = bench_now(found, advise(found), {"ricing": {"told": 9, "seen": 2, "smooth": 1}}).rescue
        assert card is not None
        self.assertIn("2 of 9 pours", card.own)
        self.assertTrue(any("No stick" in n for n in card.never))
        mended = told([*events, flag, made(Mended, 4.5, portion="Base", flag="ricing", how="smooth")], 4.6)
        self.assertIsNone(bench_now(mended, advise(mended), {}).rescue)

    def test_what_rices_again_opens_its_card_again_and_what_came_smooth_has_no_grains(self) -> None:
        flag = made(Flagged, 4.0, portion="Base", flag="ricing")
        other = made(Flagged, 4.1, portion="Bone", flag="ricing")
        smooth = made(Mended, 4.2, portion="Base", flag="ricing", how="smooth")
        events: list[Event] = [e for e in quick_pour() if e.minute < 3.9]

        def grains(extra: list[Event]) -> tuple[float, float]:
            return tuple(map(float, told([*events, *extra], 4.6).context.riced.mean(axis=1)))  # type: ignore[return-value]

        self.assertEqual(grains([flag, other]), (1.0, 1.0))
        self.assertEqual(grains([flag, other, smooth]), (0.0, 1.0), "only the one that was mended")
        self.assertEqual(grains([flag, smooth, made(Flagged, 4.4, portion="Base", flag="ricing")])[0], 1.0)
        for after, portion in (
            ([other, smooth], "Bone"),
            ([smooth, made(Flagged, 4.4, portion="Base", flag="ricing")], "Base"),
        ):
            state = replay([*events, flag, *after], recipe())
            open_ = state.mishap()
            assert open_ is not None
            self.assertEqual(open_.portion, portion)
        self.assertIsNone(replay([*events, flag, smooth], recipe()).mishap())

    def test_of_two_verdicts_the_later_counts_and_a_higher_stage_is_later(self) -> None:
        ended = quick_pour()
        first, second = made(Judged, 8.0, came="lost"), made(Judged, 8.0, came="drawn")
        self.assertEqual(replay([*ended, first, second]).came, "drawn")
        self.assertEqual(replay([*ended, second, first]).came, "lost")
        notebook = [seen(4.0, "light", "Base"), seen(4.0, "medium", "Base")]
        for order in (notebook, notebook[::-1]):
            self.assertEqual(replay([*ended[:2], *order], recipe()).level("Base"), 3)

    def test_lanes_fold_to_what_matters_now(self) -> None:
        design = Design(portions=THREE, technique="hanger-swirl")
        events, _ = pressed(design, upto=3.4)
        now = max(e.minute for e in events)
        found = told([*events, made(Folded, now, portion="Rust", into=("Ash",))], now + 0.1, design=design)
        bench = bench_now(found, advise(found), {})
        self.assertEqual({x.portion: x.where for x in bench.lanes}["Rust"], "folded")
        for lane in bench.lanes:
            self.assertEqual(sorted(lane.shade), list(lane.shade), "batter never thins by itself")
            if lane.span is not None and lane.left is not None:
                self.assertAlmostEqual(lane.span.q50 - found.now, lane.left, places=2)
        self.assertEqual([c.minute for c in bench.cues], sorted(c.minute for c in bench.cues))
        self.assertTrue(all(c.minute >= found.now for c in bench.cues))
