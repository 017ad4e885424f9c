"""The bench's newer events, its keys and cues, verdicts, and the practice batter."""

import unittest
from collections import Counter
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.advise import advise, bench_now
from roundstone.core.advise.keys import keys_of
from roundstone.core.forecast import Job, Projection, project
from roundstone.core.heat import plan as heat_plan
from roundstone.core.logbook import Verdicts, learn_verdicts
from roundstone.core.logbook.verdicts import shifted
from roundstone.core.pour import (
    Doubted,
    Event,
    Flagged,
    Folded,
    Judged,
    Kept,
    LayerTested,
    Mended,
    Moved,
    Paused,
    Remarked,
    Renamed,
    Resumed,
    StepDone,
    Undone,
    Worked,
    called,
    doubt,
    replay,
)
from roundstone.core.recipe import Design, Portion
from roundstone.core.schedule import ReadyState, build_schedule, plan, ready_parts, work_order
from roundstone.core.sheet import weigh
from roundstone.core.simulate import Utility, levels_at
from roundstone.standins.practice import TEMPERS, Truth, at_minute, debrief, sights, when_done
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
            raise AssertionError(f"{keys[0].message}: {odd.message}")
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
            event = keys_of(found, said)[0].event
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


class Practice(unittest.TestCase):
    of = recipe(design=Design(portions=THREE, technique="hanger-swirl"))
    sheet = weighed(of)

    def truth(self, temper: Any, seed: int = 5) -> Truth:
        return Truth.dealt(temper, self.of, self.sheet, TRADE, seed)

    def levels(self, truth: Truth, events: list[Event], minute: float) -> list[float]:
        return at_minute(truth, self.of, self.sheet, SHELF, events, minute).levels()

    def test_it_thickens_and_what_is_tapped_as_seen_does_not_move_it(self) -> None:
        events, _ = pressed(self.of.design, upto=4.0)
        for temper in TEMPERS:
            truth = self.truth(temper)
            schedule = [self.levels(truth, events, m) for m in (1.8, 2.5, 4.0, 8.0, 20.0)]
            self.assertTrue(np.all(np.diff(np.array(schedule), axis=0) >= -1e-6), temper)
            lied = [*events, seen(3.0, "set", "Base"), made(Flagged, 3.1, portion="Ash", flag="ricing")]
            self.assertEqual(self.levels(truth, lied, 8.0), schedule[3], temper)

    def test_temperaments_are_what_they_are_called(self) -> None:
        events, _ = pressed(self.of.design, upto=4.0)
        at = {t: float(np.mean([self.levels(self.truth(t, s), events, 6.0) for s in range(6)])) for t in TEMPERS}
        self.assertLess(at["slow"], at["calm"])
        self.assertLess(at["calm"], at["warm"])
        self.assertLess(at["warm"], at["fast"])
        rogue = [self.levels(self.truth("rogue", s), events, 6.0) for s in range(6)]
        self.assertGreater(np.mean([max(x) - min(x) for x in rogue]), 0.3)
        riced = sights(self.truth("ricing"), at_minute(self.truth("ricing"), self.of, self.sheet, SHELF, events, 5.0))
        self.assertTrue(any("grains" in s.words for s in riced.seen))

    def test_hands_are_no_quicker_than_the_plan(self) -> None:
        events, _ = pressed(self.of.design, upto=3.4)
        now = max(e.minute for e in events)
        step = made(StepDone, now + 0.01, step="pour Base")
        until = when_done(self.of, self.sheet, SHELF, events, step, now + 0.01)
        wanted = next(s.minutes for s in plan(self.of, SHELF, self.sheet.total) if s.key == "pour Base")
        self.assertAlmostEqual(until, now + wanted, places=6)
        self.assertEqual(
            when_done(self.of, self.sheet, SHELF, events, step.model_copy(update={"minute": 90.0}), 90.0), 90.0
        )

    def test_a_debrief_knows_what_would_have_been_better(self) -> None:
        events, _ = pressed(self.of.design)
        for temper in ("calm", "fast"):
            told_ = debrief(self.truth(temper), self.of, self.sheet, SHELF, events, (), "Hanger")
            self.assertTrue(0 <= told_.lost <= told_.lost + told_.drawn <= 1 + 1e-9)
            if told_.best is not None:
                self.assertGreater(told_.best.value, told_.kept)


class ReadyCheck(unittest.TestCase):
    def test_everything_weighed_stands_in_it_once_and_every_caution_at_its_step(self) -> None:
        of = recipe(design=Design(portions=THREE, technique="hanger-swirl"))
        weighing = weigh(of, SHELF)
        assert weighing.sheet is not None
        order = work_order(of, SHELF, weighing.sheet, heat_plan(of, SHELF, weighing.sheet.lines), weighing.cautions)
        parts = ready_parts(
            of, order, plan(of, SHELF, weighing.sheet.total), ["Lard: 9 g short."], ReadyState(), SHELF.scales
        )
        keys = Counter(i.key for p in parts for i in p.items)
        self.assertEqual(max(keys.values()), 1)
        shown = [i.shown for p in parts for i in p.items if i.shown]
        self.assertEqual(sorted(shown), sorted(x.shown for step in order for x in step.lines))
        self.assertLessEqual({c for s in order for c in s.cautions}, {c for p in parts for c in p.cautions})
        self.assertIn("Lard: 9 g short.", parts[0].cautions)
        upper = THREE[1].model_copy(update={"share": 0.5, "batch": "Upper"})
        layered = of.model_copy(update={"design": Design(portions=(THREE[0], upper), technique="straight-layers")})
        sheet = weighed(layered)
        order = work_order(layered, SHELF, sheet, heat_plan(layered, SHELF, sheet.lines), ())
        tasks = plan(layered, SHELF, sheet.total)
        layers = ready_parts(layered, order, tasks, (), ReadyState(), SHELF.scales)
        message = {i.message for p in layers for i in p.items}
        self.assertLessEqual({"label Base, pot and jug", "label Ash, pot and jug"}, message, "layers have vessels too")
        self.assertEqual(
            {i.message for p in parts for i in p.items if i.tint is not None},
            {f"label {n} {p}" for n, p in ((1, "Ash"), (2, "Rust"), (3, "Base"))},
        )
