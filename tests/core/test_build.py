"""A build of several days: each thing is weighed on one of them, and only a hand begins the next."""

import unittest
from collections import Counter
from datetime import date, timedelta
from uuid import UUID

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.account import account_of
from roundstone.core.advise import advise, bench_now
from roundstone.core.advise.keys import keys_of
from roundstone.core.forecast import hazards, project
from roundstone.core.heat import plan as heat_plan
from roundstone.core.pour import Combined, Event, StageSeen, StepDone
from roundstone.core.recipe import (
    CombineStep,
    Design,
    Dose,
    LayerStep,
    Portion,
    Recipe,
    Scent,
    Step,
    WaitStep,
    build_of,
)
from roundstone.core.rest import RestLearned, count_back, typical
from roundstone.core.rest.days import of_build, of_plan
from roundstone.core.schedule import NO_MISHAPS, ReadyState, plan, put_by, ready_parts, rearranged, work_order
from roundstone.core.schedule.edit import PutNew
from roundstone.core.schedule.work_step import WorkStep
from roundstone.core.sheet import weigh
from tests.samples import SHELF, job, knows, next_id, recipe, weighed

NAMES = ("Husk", "Clay", "Moss", "Fig")
EMULSION: tuple[Event, ...] = (StageSeen(id=UUID(int=6), minute=1, stage="emulsion"),)


def build(nights: tuple[float, ...], **changes: object) -> Recipe:
    """Layers, each of its own lye, with so many minutes between one and the next."""
    share = 1 / (len(nights) + 1)
    portions = tuple(Portion(name=n, share=share, batch=n if i else "") for i, n in enumerate(NAMES[: len(nights) + 1]))
    steps: list[Step] = []
    for i, p in enumerate(portions):
        steps += [WaitStep(minutes=nights[i - 1])] if i else []
        steps += [CombineStep(batch=p.batch), LayerStep(who=(p.name,))]
    doses = tuple(Dose(additive="mica", amount=4, into=(p.name,), called=p.name) for p in portions)
    design = Design(portions=portions, technique="straight-layers", steps=tuple(steps))
    return recipe(design=design, **({"additives": (*doses, Dose(additive="sugar", amount=10))} | changes))


def sheet_of(of: Recipe) -> tuple[WorkStep, ...]:
    sheet = weighed(of)
    return work_order(of, SHELF, sheet, heat_plan(of, SHELF, sheet.lines), weigh(of, SHELF).cautions)


waits = st.lists(st.sampled_from([0.0, 20.0, 359.0, 360.0, 1320.0, 2880.0]), min_size=1, max_size=3).map(tuple)


class Build(unittest.TestCase):
    @settings(max_examples=30, deadline=None)
    @given(waits)
    def test_everything_is_weighed_once_on_the_day_it_goes_in(self, nights: tuple[float, ...]) -> None:
        """The same weights as on one day, none twice and none lost; of fats and lye their shares add up."""
        of, whole = build(nights), build((0.0,) * len(nights))
        days = build_of(of.design)
        self.assertEqual(days.many, 1 + sum(n >= 360 for n in nights))
        self.assertEqual(days.after[-1], sum(max(round(n / 1440), 1) for n in nights if n >= 360))
        steps = sheet_of(of)

        def lines(told: tuple[WorkStep, ...]) -> Counter[str]:
            return Counter(x.key for s in told for x in s.lines)

        def takes(told: tuple[WorkStep, ...]) -> Counter[tuple[str, str, str]]:
            return Counter((c.portion, t.of, str(t.shown)) for s in told for c in s.cups for t in c.takes)

        self.assertEqual(takes(steps), takes(sheet_of(whole)))
        self.assertEqual(
            {k: n for k, n in lines(steps).items() if not k.startswith("fragrance")},
            {k: n for k, n in lines(sheet_of(whole)).items() if not k.startswith("fragrance")},
        )
        self.assertEqual([s.day for s in steps], sorted(s.day for s in steps))
        for step in steps:
            mine = days.portions(step.day - 1)
            self.assertLessEqual({c.portion for c in step.cups} | {x.into for x in step.lines if x.into}, mine)
        sheet = weighed(of)
        jug = sum(x.grams for x in sheet.lines if x.vessel == "jug")
        left = [sum(x.grams for x in put_by(of, sheet, d)[1].lines if x.vessel == "jug") for d in range(days.many)]
        self.assertAlmostEqual(sum(left), jug)
        shared = sum(p.from_jug for p in sheet.portions)
        self.assertAlmostEqual(shared, jug, delta=1e-6 * jug)

    def test_each_day_has_a_ready_check_of_its_own(self) -> None:
        of = build((1320.0,))
        sheet, tasks = weighed(of), plan(of, SHELF, weighed(of).total)

        def keys(day: int) -> set[str]:
            parts = ready_parts(of, sheet_of(of), tasks, (), ReadyState(), SHELF, NO_MISHAPS, day)
            return {i.key for p in parts for i in p.items if i.reading is not None}

        first, second = keys(1), keys(2)
        self.assertFalse(first & second)
        self.assertTrue(any("naoh" in k for k in first) and not any("naoh" in k for k in second))
        whole = build((0.0,))
        parts = ready_parts(whole, sheet_of(whole), plan(whole, SHELF, sheet.total), (), ReadyState(), SHELF)
        self.assertEqual(first | second, {i.key for p in parts for i in p.items if i.reading is not None})

    def test_a_night_is_put_in_by_one_act_and_batter_that_would_set_in_it_is_told(self) -> None:
        pot = recipe(
            design=Design(portions=tuple(Portion(name=n, share=0.5) for n in NAMES[:2]), technique="straight-layers")
        )
        row = next(i for i, t in enumerate(plan(pot, SHELF, 1000.0)) if t.do == "layer" and t.lanes == (1,))
        night = rearranged(pot, PutNew(row=row, do="night", portion="Clay"), SHELF, 1000.0)
        self.assertEqual(build_of(night.design).late, ("Clay",))
        told = [c for c in weigh(night, SHELF).cautions if "overnight" in str(c.message)]
        self.assertEqual([(c.pointer, c.danger) for c in told], [("/design/portions/1/share", True)])
        self.assertFalse([c for c in weigh(build((1320.0,)), SHELF).cautions if "overnight" in str(c.message)])

    def test_the_bench_tells_a_later_days_portion_by_its_day_and_by_no_minutes(self) -> None:
        of = build((1320.0,), scents=())
        wait = next(t.key for t in plan(of, SHELF, weighed(of).total) if t.do == "wait")
        layer = next(t.key for t in plan(of, SHELF, weighed(of).total) if t.do == "layer")
        for more in ([], [StepDone(id=next_id(), minute=4, step=layer), StepDone(id=next_id(), minute=4.5, step=wait)]):
            found = project(job(of), knows(), 1, events=[*EMULSION, *more], now=5.0)
            lanes = {x.portion: x for x in bench_now(found, advise(found), {}).lanes}
            clay = lanes["Clay"]
            self.assertEqual(clay.day, None if more else 2)
            self.assertEqual((clay.left is None and clay.odds is None), not more)
            self.assertIsNone(lanes[NAMES[0]].day)

    @settings(max_examples=8, deadline=None)
    @given(st.floats(5, 3000))
    def test_only_a_hand_begins_a_day(self, now: float) -> None:
        of = build((1320.0,), scents=())
        layer = next(t.key for t in plan(of, SHELF, weighed(of).total) if t.do == "layer")
        wait = next(t.key for t in plan(of, SHELF, weighed(of).total) if t.do == "wait")
        poured = [*EMULSION, StepDone(id=next_id(), minute=4, step=layer)]

        def at(*more: Event) -> tuple[int | None, str, tuple[str, ...]]:
            found = project(job(of), knows(), 1, events=[*poured, *more], now=now)
            advice = advise(found)
            return advice.day, advice.go, tuple(k.message for k in keys_of(found, advice, account_of(found)))

        day, _, keys = at()
        self.assertEqual((day, keys[0]), (2, "The next day begins"))
        begun, go, keys = at(StepDone(id=next_id(), minute=min(now, 4.5), step=wait))
        self.assertEqual((begun, go), (None, "emulsion"))
        self.assertIn("Clay: lye met fats", keys)
        self.assertIsNone(at(Combined(id=next_id(), minute=min(now, 4.5), batch="Clay"))[0])

    def test_a_wait_that_is_half_over_has_half_to_go(self) -> None:
        of = build((1320.0,), scents=())
        layer = next(t.key for t in plan(of, SHELF, weighed(of).total) if t.do == "layer")
        events = [*EMULSION, StepDone(id=UUID(int=7), minute=4, step=layer)]
        for now in (4.0, 664.0, 1323.0, 2000.0):
            found = project(job(of), knows(), 1, events=events, now=now)
            self.assertAlmostEqual(advise(found).minutes or 0.0, max(1324 - now, 0), delta=1)
            second = next(s for s in found.forecast.steps if s.do == "combine" and not s.done)
            self.assertAlmostEqual(second.start, max(1324, now), delta=2)

    def test_a_night_makes_no_batter_separate(self) -> None:
        """Each lane is judged at its own pouring, not a lye that met no fats at the first's."""

        def odds(nights: tuple[float, ...]) -> float:
            of = build(nights, scents=())
            found = project(job(of), knows(), 1)
            told = hazards(found.job, found.knows, found.schedule, found.draws, found.samples)
            return next(h.odds for h in told if h.key == "separation")

        self.assertAlmostEqual(odds((1320.0,)), odds((0.0,)), delta=0.02)
        self.assertLess(odds((1320.0,)), 0.1, "many pour at emulsion: common practice")

    def test_brief_and_calendar_have_a_day_for_each(self) -> None:
        of = build((1320.0, 2880.0), scents=(Scent(fragrance="moderate", load=0.02),))
        sheet = weighed(of)
        found = count_back(of, sheet, RestLearned(), 90.0)
        days = [d for d in found.deadlines if d.what in ("pour", "build")]
        self.assertEqual([str(d.message) for d in days], [f"Pour, day {i + 1}: {n}" for i, n in enumerate(NAMES[:3])])
        self.assertEqual([days[0].by - d.by for d in days], [0, 1, 3])
        on = date(2031, 3, 10)
        entries, held = of_plan(of, "r", typical(of, sheet, RestLearned()), RestLearned(), (0, on), 60.0)
        self.assertEqual([(d - on).days for d, e in entries if e.what in ("pour", "build")], [0, 1, 3])
        self.assertGreater((held.until - on).days, 3)
        for gone, due in ((0, [1, 3]), (2, [2, 3]), (9, [9, 9])):
            told = of_build(of, "p", on, on + timedelta(days=gone))
            self.assertEqual([(d - on).days for d, _ in told], due, "what went by is due today")
