"""Plans of a maker's own steps."""

import unittest
from random import Random

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.advise import advise, bench_now
from roundstone.core.forecast import Job, Projection, project, turns
from roundstone.core.pour import (
    Event,
    Flagged,
    Folded,
    PouringBegan,
    ScentIn,
    Split,
    StepDone,
    TechniqueChanged,
    check,
)
from roundstone.core.recipe import Design, Portion
from roundstone.core.schedule import in_turn, plan
from roundstone.core.sheet import weigh
from roundstone.core.simulate import levels_at, play
from roundstone.core.values import RuleError
from tests.samples import SHELF, TWO, job, knows, next_id, recipe, seen

LETTERS = ("Base", "Ash", "Rust", "Sea")
STEPS = st.sampled_from(
    ["combine", "blend", "split", "colour", "scent", "wait", "pour", "layer", "drop", "pass", "spoon", "pipe", "top"]
)


@st.composite
def own_designs(draw: st.DrawFn) -> Design:
    """Designs of a maker's own: whatever steps, a batch apart, some of the scent, coloured or not."""
    names = LETTERS[: draw(st.integers(1, 4))]
    apart = draw(st.booleans()) and len(names) > 2
    portions = tuple(
        Portion(
            name=n,
            share=1 / len(names),
            scent=draw(st.sampled_from([0.0, 0.5, 1.0])),
            coloured=draw(st.sampled_from(["hand", "stick", "not"])),
            batch="second" if apart and n == names[-1] else "",
        )
        for n in names
    )
    steps: list[dict[str, object]] = []
    for do in draw(st.lists(STEPS, max_size=7)):
        step: dict[str, object] = {"do": do}
        if do == "combine":
            step["batch"] = "second" if apart and draw(st.booleans()) else ""
        elif do != "split":
            step["who"] = draw(st.lists(st.sampled_from(names), min_size=1, max_size=len(names), unique=True))
        if do in ("blend", "wait"):
            step["to" if do == "blend" else "until"] = 3.2
        steps.append(step)
    scent_at = draw(st.sampled_from(["fats", "emulsion", "portions", "pour"]))
    return Design.model_validate(
        {"portions": portions, "technique": "drop-swirl", "steps": steps, "scent_at": scent_at}
    )


class OwnPlans(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.one_of(st.none(), st.sampled_from([0.1, 0.2, 0.3])), min_size=1, max_size=3))
    def test_what_is_left_open_is_what_the_other_pours_leave(self, parts: list[float | None]) -> None:
        steps = [{"do": "pour", "who": ["Base"], "part": part} for part in parts]
        of = recipe(design=Design.model_validate({"portions": TWO, "technique": "drop-swirl", "steps": steps}))
        poured = [s.wants.part for s in plan(of, SHELF, 1000) if s.do == "pour"]
        self.assertAlmostEqual(sum(poured), 1.0 if None in parts else sum(p or 0 for p in parts))
        for said, part in zip(parts, poured, strict=True):
            self.assertTrue(said is None or said == part)

    def test_rounds_are_told_apart(self) -> None:
        steps = [{"do": "pour", "who": ["Base"]}, *[{"do": "drop", "who": ["Bone"]}] * 3]
        design = Design.model_validate({"portions": TWO, "technique": "drop-swirl", "steps": steps})
        events: list[Event] = [seen(0.5, "emulsion"), Split(id=next_id(), minute=1)]
        events += [ScentIn(id=next_id(), minute=2, portion=n) for n in ("Base", "Bone")]
        events.append(PouringBegan(id=next_id(), minute=3))
        of = recipe(design=design)
        heard, keys, minute = [], [], 3.5
        while (told := advise(found := project(job(of), knows(), 1, events=events, now=minute))).go_step:
            heard.append(str(told.headline))
            keys.append(str(bench_now(found, told, {}).keys[0].message))
            events.append(StepDone(id=next_id(), minute=minute, step=told.go_step))
            minute += 0.5
        self.assertEqual(heard, ["Pour Base.", *(f"Drop Bone, {n} of 3." for n in (1, 2, 3))])
        self.assertEqual(keys, ["Base is poured", *(f"Bone is dropped, {n} of 3" for n in (1, 2, 3))])

    def test_what_stands_already_is_not_waited_for(self) -> None:
        design = Design.model_validate({
            "portions": TWO, "technique": "drop-swirl",
            "steps": [{"do": "combine"}, {"do": "wait", "who": ["Base"], "until": 3.2},
                      {"do": "pour", "who": ["Base"]}],
        })  # fmt: skip
        of = recipe(design=design)
        events: list[Event] = [seen(0.5, "emulsion"), seen(3.0, "thick", "Base"),
                  Flagged(id=next_id(), minute=3.1, portion="Base", flag="ricing")]  # fmt: skip
        told = advise(project(job(of), knows(), 3, events=events, now=3.2))
        self.assertEqual((told.go, told.minutes), ("step", 0.0))

    @settings(max_examples=40, deadline=None)
    @given(own_designs(), st.lists(st.tuples(st.integers(0, 8), st.floats(0.1, 4)), max_size=8), st.randoms())
    def test_whatever_a_maker_draws_and_taps_is_played(
        self, design: Design, taps: list[tuple[int, float]], rnd: Random
    ) -> None:
        of = recipe(design=design)
        weighing = weigh(of, SHELF)
        if weighing.sheet is None:
            self.assertTrue(all(f.pointer.startswith("/design") for f in weighing.faults))
            return
        names = [p.name for p in design.portions]
        keys = [s.key for s in plan(of, SHELF, weighing.sheet.total)]
        events: list[Event] = []
        minute = 0.0
        for kind, gap in taps:
            minute += gap
            one = rnd.choice(names)
            tap: Event = (
                seen(minute, "emulsion"), seen(minute, "medium", one), Split(id=next_id(), minute=minute),
                ScentIn(id=next_id(), minute=minute, portion=one, share=2.0), PouringBegan(id=next_id(), minute=minute),
                StepDone(id=next_id(), minute=minute, step=rnd.choice(keys)),
                Folded(id=next_id(), minute=minute, portion=one, into=(rnd.choice(names),)),
                Flagged(id=next_id(), minute=minute, portion=one, flag="ricing"),
                TechniqueChanged(id=next_id(), minute=minute, technique=rnd.choice(["chunks", "slants", "plain"])),
            )[kind].model_copy(update={"sure": True})  # fmt: skip
            try:
                check(tap, events, of, SHELF)
            except RuleError:
                continue
            events.append(tap)
        told = project(Job(of, SHELF, weighing.sheet), knows(), 3, events=events, now=minute + 0.1)
        look = told.forecast.outlook
        self.assertAlmostEqual(look.drawn + look.different + look.lost, 1, places=9)
        self.assertTrue(all(np.isfinite(told.draws.times[..., 0]).ravel()))
        advice = advise(told)
        self.assertTrue(advice.headline and advice.detail)
        if advice.instead is not None and advice.going_on is not None:
            self.assertGreater(advice.instead.value, advice.going_on.value)
        self._what_saves_time_changes_nothing(told)

    def _what_saves_time_changes_nothing(self, told: Projection) -> None:
        """Steps that were done are judged all at once as each by itself, and no technique left out could have paid."""
        for played, placed in zip(told.done, told.schedule.reconciled.done, strict=True):
            if not placed.skipped and played.task.lanes and played.task.wants.weight > 0:
                alone = levels_at(told.context, told.at, list(played.task.lanes), played.start)
                np.testing.assert_allclose(played.level, alone, atol=1e-9)
        for turn in turns(told.context, told.at, told.schedule.reconciled.ahead, told.job, told.schedule.technique):
            value = play(told.context, told.at, turn.tasks).value(told.context.utility, turn.similarity)
            self.assertLessEqual(float(value.max()), told.context.utility.most(turn.similarity) + 1e-9)


class OnePairOfHands(unittest.TestCase):
    """A step of several portions that stand apart is done in each in turn: its minutes are shared."""

    FOUR = tuple(Portion(name=n, share=0.25, scent=1.0) for n in LETTERS)

    def own(self, *prepared: dict[str, object]) -> Design:
        poured = [{"do": "pour", "who": [n]} for n in LETTERS]
        steps = [{"do": "combine", "batch": ""}, {"do": "split"}, *prepared, *poured]
        return Design.model_validate({"portions": self.FOUR, "technique": "plain", "steps": steps})

    def test_one_step_of_four_is_four_steps_of_one(self) -> None:
        for do, by, minutes in (("colour", "stick", 2.0), ("colour", "hand", 3.0), ("scent", "hand", 2.0)):
            one = self.own({"do": do, "by": by, "who": list(LETTERS), "minutes": minutes})
            four = self.own(*({"do": do, "by": by, "who": [n], "minutes": minutes / 4} for n in LETTERS))
            told = [project(job(recipe(design=d)), knows(), 7).forecast for d in (one, four)]
            self.assertAlmostEqual(told[0].outlook.drawn, told[1].outlook.drawn, delta=0.02, msg=f"{do} {by}")
            for lanes in zip(*(f.lanes for f in told), strict=True):
                medium = [lane.stages[1].time.q50 for lane in lanes]
                self.assertAlmostEqual(medium[0] / medium[1], 1, delta=0.02, msg=f"{do} {by}")

    def test_a_whole_pot_is_stirred_at_once(self) -> None:
        steps = [{"do": "combine", "batch": ""}, {"do": "colour", "by": "stick", "who": list(LETTERS), "minutes": 1.0},
                 {"do": "split"}, *({"do": "pour", "who": [n]} for n in LETTERS)]  # fmt: skip
        of = Design.model_validate({"portions": self.FOUR, "technique": "plain", "steps": steps})
        tasks = plan(recipe(design=of), SHELF, 1000)
        self.assertEqual([t.vessels for t in tasks if t.do == "colour"], [1])

    def test_one_scent_step_of_several_can_wait_for_each_ones_turn(self) -> None:
        of = self.own({"do": "scent", "who": list(LETTERS)})
        tasks = in_turn(plan(recipe(design=of), SHELF, 1000))
        order = [t.label for t in tasks if t.do in ("scent", "pour")]
        self.assertEqual(order, [f"{do} {n}" for n in LETTERS for do in ("scent", "pour")])
        self.assertEqual(len({t.key for t in tasks}), len(tasks))
