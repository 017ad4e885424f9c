"""A practice pour, and the ready check before a real one."""

import unittest
from collections import Counter
from typing import Any

import numpy as np

from roundstone.core.heat import plan as heat_plan
from roundstone.core.pour import (
    Event,
    Flag,
    Flagged,
    StepDone,
)
from roundstone.core.recipe import Design, StandBy
from roundstone.core.schedule import ReadyState, plan, ready_parts, work_order
from roundstone.core.sheet import weigh
from roundstone.core.values import Caution
from roundstone.standins.debrief import debrief
from roundstone.standins.practice import TEMPERS, Truth, at_minute, sights, when_done
from tests.core.test_pour_day import THREE, made, pressed
from tests.samples import SHELF, TRADE, recipe, seen, weighed

BACKUP = (StandBy(step="x", technique="tamp"),)


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
            of,
            order,
            plan(of, SHELF, weighing.sheet.total),
            [Caution(pointer="/fats", message="Lard: 9 g short.")],
            ReadyState(),
            SHELF,
        )
        keys = Counter(i.key for p in parts for i in p.items)
        self.assertEqual(max(keys.values()), 1)
        shown = {i.line: i.shown for p in parts for i in p.items if not i.line.startswith("fragrance")}
        self.assertLessEqual(
            {x.key: x.shown for x in weighing.sheet.lines if x.kind != "fragrance"}.items(), shown.items()
        )
        scent = sum(i.reading or 0 for p in parts for i in p.items if i.line.startswith("fragrance"))
        self.assertAlmostEqual(scent, sum(x.grams for x in weighing.sheet.lines if x.kind == "fragrance"), delta=0.15)
        self.assertLessEqual(
            {c.message for s in order for c in s.cautions}, {c.message for p in parts for c in p.cautions}
        )
        self.assertIn("Lard: 9 g short.", [c.message for c in parts[0].cautions])
        tools = {i.message for i in parts[0].items}
        self.assertTrue(any("hanger" in m for m in tools), tools)
        self.assertFalse(any("rices" in m or "squeeze" in m for m in tools), "neither likely nor drawn")
        backed = of.model_copy(update={"design": of.design.model_copy(update={"ready": BACKUP})})
        self.assertFalse(any("wire or comb" in m for m in tools), "the hanger is that wire")
        cases: list[tuple[dict[Flag, float], bool]] = [({}, False), ({"ricing": 0.2}, True)]
        for mishaps, said in cases:
            stands = ready_parts(backed, order, plan(of, SHELF, weighing.sheet.total), (), ReadyState(), SHELF, mishaps)
            told = {str(i.message) for i in stands[0].items}
            self.assertEqual(any("if it rices: a whisk" in m for m in told), said)
            self.assertTrue(any("spatula" in m for m in told), "of what stands ready too")
        upper = THREE[1].model_copy(update={"share": 0.5, "batch": "Upper"})
        layered = of.model_copy(update={"design": Design(portions=(THREE[0], upper), technique="straight-layers")})
        sheet = weighed(layered)
        order = work_order(layered, SHELF, sheet, heat_plan(layered, SHELF, sheet.lines), ())
        tasks = plan(layered, SHELF, sheet.total)
        layers = ready_parts(layered, order, tasks, (), ReadyState(), SHELF)
        message = {i.message for p in layers for i in p.items}
        layers_ = {f"of the {vessel}, {name}" for vessel in ("fat pot", "lye jug") for name in ("Base", "Upper")}
        self.assertLessEqual(layers_, message, "each layer's own lye and fats have a tick")
        self.assertEqual(
            {i.message for p in parts for i in p.items if i.message.startswith("label")},
            {f"label {n} {p}" for n, p in ((1, "Ash"), (2, "Rust"), (3, "Base"))},
        )
