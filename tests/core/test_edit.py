"""The plan changed by hand: spelled out it is the same plan, and each act does what it says."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.recipe import (
    Design,
    LookStep,
    PassStep,
    Portion,
    Recipe,
    TopStep,
    pattern_of,
    with_pattern,
)
from roundstone.core.schedule import asks_of, plan, rearranged, spelled
from roundstone.core.schedule.edit import (
    AddFinish,
    ChangeStep,
    MoveStep,
    PutNew,
    SpellSteps,
    TakeStep,
    TimeStep,
    WantStages,
)
from roundstone.core.sheet import weigh
from roundstone.core.values import RuleError
from tests.samples import SHELF, recipe, weighed

FIVE = tuple(Portion(name=n, share=0.2, scent=float(i % 2)) for i, n in enumerate(("A", "B", "C", "D", "E")))


def hanger(**changes: object) -> Recipe:
    return recipe(design=Design.model_validate({"portions": FIVE, "technique": "hanger-swirl", **changes}))


def labels(of: Recipe) -> list[str]:
    return [s.key for s in plan(of, SHELF, 1000)]


class Moved(unittest.TestCase):
    def test_a_layer_that_is_moved_takes_its_lye_along(self) -> None:
        """Whichever is poured where, each batch is combined, coloured and scented before any of it is poured, and right
        before it, but for the first."""
        layers = [p.model_copy(update={"share": 0.25}) for p in FIVE[:4]]
        of = hanger(portions=layers, technique="straight-layers", batching="layers")
        of = rearranged(of, SpellSteps(), SHELF, 1000)
        pours = [i for i, s in enumerate(of.design.steps) if isinstance(s, LookStep)]
        for row in pours[1:]:
            for to in range(1, len(of.design.steps)):
                moved = rearranged(of, MoveStep(row=row, to=to), SHELF, 1000).design.steps
                self.assertEqual(sorted(map(repr, moved)), sorted(map(repr, of.design.steps)), "nothing is lost")
                (mine,) = of.design.steps[row].who  # type: ignore[union-attr]
                kinds = [(s.do, getattr(s, "batch", None) or next(iter(getattr(s, "who", ())), "")) for s in moved]
                poured = kinds.index((of.design.steps[row].do, mine))
                self.assertLess(kinds.index(("combine", mine)), poured)
                self.assertTrue(all(name == mine for _, name in kinds[kinds.index(("combine", mine)) : poured]), kinds)

    def test_a_step_of_ones_own_is_named_timed_and_held(self) -> None:
        of = rearranged(hanger(), SpellSteps(), SHELF, 1000)
        for row, kind in ((1, "wait"), (len(of.design.steps), "pass")):
            put = rearranged(of, PutNew(row=row, do="own", portion="A"), SHELF, 1000)
            step = put.design.steps[row]
            self.assertEqual(step.do, kind)
            named = step.model_copy(update={"note": "turn the mould"})
            put = rearranged(put, ChangeStep(row=row, step=named), SHELF, 1000)
            self.assertEqual(labels(put)[row], "turn the mould")
            put = rearranged(put, MoveStep(row=row, to=row - 1 or 2), SHELF, 1000)
            self.assertIn("turn the mould", labels(put))
            self.assertEqual(weigh(put, SHELF).faults, ())


class Spelled(unittest.TestCase):
    def test_every_technique_is_the_same_plan_and_can_be_weighed(self) -> None:
        seen = 0
        for technique in SHELF.techniques.values():
            for n in (1, 2, 3, 5):
                if n < technique.pots or (technique.most is not None and n > technique.most):
                    continue
                for batching in ("whole", "layers"):
                    portions = FIVE[:n]
                    portions = (*portions[:-1], portions[-1].model_copy(update={"share": 1 - 0.2 * (n - 1)}))
                    last = portions[-1].model_copy(update={"batch": "Frost" if n == 5 else ""})
                    of = hanger(portions=(*portions[:-1], last), technique=technique.id, batching=batching)
                    own = rearranged(of, SpellSteps(), SHELF, 1000)
                    self.assertEqual(plan(own, SHELF, 1000), plan(of, SHELF, 1000), technique.id)
                    if technique.pots:
                        self.assertEqual(weigh(own, SHELF).faults, (), technique.id)
                    self.assertEqual(spelled(own, SHELF, 1000), own.design.steps, "spelling twice changes nothing")
                    seen += 1
        self.assertGreater(seen, 100)


class Acts(unittest.TestCase):
    @given(st.integers(1, 16), st.integers(1, 16))
    @settings(max_examples=40)
    def test_moving_there_and_back_is_nothing(self, row: int, to: int) -> None:
        of = rearranged(hanger(), SpellSteps(), SHELF, 1000)
        there = rearranged(of, MoveStep(row=row, to=to), SHELF, 1000)
        back = rearranged(there, MoveStep(row=to, to=row), SHELF, 1000)
        self.assertEqual(back.design.steps, of.design.steps)

    def test_timed_taken_put_changed(self) -> None:
        of = hanger()
        row = labels(of).index("drop C")
        longer = rearranged(of, TimeStep(row=row, times=2.0), SHELF, 1000)
        self.assertEqual(plan(longer, SHELF, 1000)[row].minutes, 2 * plan(of, SHELF, 1000)[row].minutes)
        self.assertNotIn("drop C", labels(rearranged(of, TakeStep(row=row), SHELF, 1000)))
        waits = rearranged(of, PutNew(row=row, do="wait", portion="C"), SHELF, 1000)
        self.assertEqual(labels(waits)[row : row + 2], ["wait", "drop C"])
        wanted = rearranged(of, WantStages(row=row, thinnest=2, thickest=3), SHELF, 1000)
        asks = asks_of(wanted.design.steps[row])
        assert asks is not None
        self.assertEqual((asks.thinnest, asks.thickest), (2, 3))
        again = rearranged(of, PutNew(row=row + 1, do="spoon", portion="C"), SHELF, 1000)
        parts = [s.part for s in again.design.steps if isinstance(s, LookStep) and s.who == ("C",)]
        self.assertEqual(parts, [0.45, 0.45], "what there was of it, in halves")
        weighed(again)
        other = rearranged(of, ChangeStep(row=row, step=PassStep(note="comb")), SHELF, 1000)
        self.assertEqual(labels(other)[row], "comb")
        topped = rearranged(of, AddFinish(technique="embeds"), SHELF, 1000)
        self.assertEqual(plan(topped, SHELF, 1000)[-1].do, "embed")
        weighed(topped)
        texture = TopStep(who=("A",), part=0.1, texture="peaks")
        top = rearranged(of, ChangeStep(row=len(labels(of)) - 1, step=texture), SHELF, 1000)
        self.assertEqual(spelled(top, SHELF, 1000)[-1].model_dump()["texture"], "peaks")

    def test_what_cannot_be_is_said(self) -> None:
        of = hanger()
        for act in (
            MoveStep(row=99, to=0),
            MoveStep(row=0, to=4),
            TimeStep(row=0, minutes=3),
            TimeStep(row=3, minutes=-1),
            TimeStep(row=3, times=1e9),
            TakeStep(row=0),
            AddFinish(technique="drop-swirl"),
            PutNew(row=99, do="wait", portion=""),
            WantStages(row=0, thinnest=1, thickest=2),
        ):
            with self.assertRaises(RuleError, msg=str(act)):
                rearranged(of, act, SHELF, 1000)
        late = rearranged(of, MoveStep(row=labels(of).index("colour C"), to=len(labels(of)) - 1), SHELF, 1000)
        self.assertIn("C is in the mould by then", weigh(late, SHELF).faults[0].message)
        row = labels(of).index("drop C")
        whole = spelled(of, SHELF, 1000)[row].model_copy(update={"part": 1.0})
        more = rearranged(of, ChangeStep(row=row, step=whole), SHELF, 1000)
        self.assertIn("More of C is used than there is", weigh(more, SHELF).faults[0].message)


class Patterns(unittest.TestCase):
    def test_a_pattern_takes_design_and_colours_to_another_batter(self) -> None:
        from roundstone.core.recipe import Dose

        one = recipe(
            design=Design(portions=FIVE, technique="hanger-swirl"),
            additives=(Dose(additive="mica", amount=5, into=("C",)), Dose(additive="sugar", amount=8)),
        )
        other = recipe(
            additives=(Dose(additive="kaolin", amount=5), Dose(additive="charcoal", amount=5, into=("Bone",)))
        )
        got = with_pattern(other, pattern_of(one, "five", "Five"))
        self.assertEqual(got.design, one.design)
        self.assertEqual([d.additive for d in got.additives], ["kaolin", "mica"])
        weighed(got)
