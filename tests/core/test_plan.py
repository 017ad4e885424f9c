"""Designs as steps: what a technique and own steps become, what happened in their place, and what mends them."""

import unittest
from collections import Counter
from typing import Any

from roundstone.core.account import account_of
from roundstone.core.advise import advise
from roundstone.core.advise.keys import keys_of
from roundstone.core.batter import prior
from roundstone.core.forecast import levers, project
from roundstone.core.logbook import Past, learn_hands, read, tune
from roundstone.core.pour import (
    Ended,
    Event,
    Folded,
    LeftOut,
    PouringBegan,
    ScentIn,
    ScentInTurn,
    Spared,
    Split,
    StepDone,
    StepSkipped,
    TechniqueChanged,
    replay,
)
from roundstone.core.recipe import (
    INTO_MOULD,
    Box,
    ByMoulds,
    Cavities,
    CombineStep,
    Design,
    Portion,
    PourStep,
    Recipe,
    Scent,
)
from roundstone.core.schedule import Schedule, build_schedule, in_turn, plan, reconcile, spelled
from roundstone.core.sheet import weigh
from tests.samples import SHELF, TRADE, TWO, job, knows, next_id, quick_pour, recipe, seen, weighed

START: list[Event] = [seen(0.5, "emulsion"), Split(id=next_id(), minute=1.5)]
FOUR = tuple(Portion(name=n, share=0.25) for n in ("Base", "Ash", "Rust", "Sea"))


def labels(of: Recipe) -> list[str]:
    return [s.label for s in plan(of, SHELF, 1000)]


def reconciled(events: list[Event], now: float, design: Design | None = None) -> Any:
    of = recipe(design=design or Design(portions=TWO, technique="drop-swirl"))
    return reconcile(of, SHELF, 1000, replay(events, of), now)


class Plans(unittest.TestCase):
    def test_a_technique_becomes_steps_played_by_its_portions(self) -> None:
        of = recipe(design=Design(portions=TWO, technique="hanger-swirl"))
        self.assertEqual(
            labels(of),
            ["blend to emulsion", "split", "colour Bone", "colour Base", "scent Base", "pour Base", "drop Bone",
             "pour Base", "wire", "top"],
        )  # fmt: skip
        self.assertEqual([s.key for s in plan(of, SHELF, 1000)][-3:], ["pour Base 2", "wire", "top"])

    def test_whatever_the_technique_every_portion_goes_into_the_mould_once_and_whole(self) -> None:
        """With a frosting of its own batch or none, a finish alone too: nothing stays in its cup unsaid."""
        for name, technique in SHELF.techniques.items():
            for many in range(max(technique.pots, 1), 8):
                for batch in ("", "frosting"):
                    portions = [Portion(name=f"P{i}", share=1 / many) for i in range(many)]
                    portions[-1] = portions[-1].model_copy(update={"batch": batch if many > 1 else ""})
                    of = recipe(design=Design(portions=tuple(portions), technique=name), scents=())
                    poured = Counter[int]()
                    for task in plan(of, SHELF, 1000):
                        poured.update(dict.fromkeys(task.lanes, task.wants.part) if task.do in INTO_MOULD else {})
                    for i in range(many):
                        self.assertAlmostEqual(poured[i], 1.0, msg=(name, many, batch, i))

    def test_one_batter_is_poured_mould_by_mould_and_the_last_finds_it_thickest(self) -> None:
        """By the room in each; single moulds in one go. On every step its own key, and spelled out the same."""
        moulds = (Box(count=2, length=24, width=8, fill=6), Cavities(count=6, millilitres=90))
        one = Design(portions=(Portion(name="Batter", share=1.0),), technique="plain")
        of = recipe(size=ByMoulds(moulds=moulds), design=one, scents=(Scent(fragrance="strong", load=0.03),))
        grams = weighed(of).total
        pours = [t for t in plan(of, SHELF, grams) if t.do == "pour"]
        self.assertEqual([t.place for t in pours], ["loaf 1", "loaf 2", "6 single moulds"])
        self.assertEqual([round(t.wants.part, 4) for t in pours], [round(x / 2844, 4) for x in (1152, 1152, 540)])
        self.assertAlmostEqual(sum(t.wants.weight for t in pours), 1.0)
        own = of.model_copy(update={"design": one.model_copy(update={"steps": spelled(of, SHELF, grams)})})
        alike = [[(t.key, t.place) for t in plan(x, SHELF, grams)] for x in (own, of)]
        self.assertEqual(*alike)
        typed = one.model_copy(update={"steps": (CombineStep(), PourStep(who=("Batter",), note="pour, slowly"))})
        slowly = plan(of.model_copy(update={"design": typed}), SHELF, grams)[-1]
        self.assertEqual((slowly.label, slowly.place), ("pour, slowly", ""), "what was typed names no mould")
        odds = [s.odds for s in project(job(of), knows(), 1).forecast.steps if s.do == "pour"]
        self.assertEqual(odds, sorted(odds, reverse=True))
        self.assertLess(odds[-1], odds[0] - 0.05)
        events: list[Event] = [
            seen(0.5, "emulsion"),
            ScentIn(id=next_id(), minute=2),
            PouringBegan(id=next_id(), minute=2.5),
        ]
        now = project(job(of), knows(), 1, events=events, now=2.6)
        advice = advise(now)
        self.assertEqual(str(advice.headline), "Pour loaf 1.")
        self.assertEqual(keys_of(now, advice, account_of(now))[0].message, "Loaf 1 is poured")

    def test_a_fragrance_may_wait_for_its_portions_turn(self) -> None:
        """By any technique: the same steps, each scent straight before the first pour of its portion; and by the log of
        one who decides so at the bench what is in by then stays where it was."""
        for name, technique in SHELF.techniques.items():
            count = max(technique.pots, min(4, technique.most or 4))
            portions = tuple(Portion(name=p.name, share=1 / count) for p in FOUR[:count])
            design = Design(portions=portions, technique=name)
            usual, later = (
                plan(recipe(design=design.model_copy(update={"scent_at": at})), SHELF, 1000)
                for at in ("portions", "pour")
            )
            with self.subTest(name):
                self.assertEqual(Counter(s.label for s in usual), Counter(s.label for s in later))
                self.assertEqual(in_turn(usual), later)
                self.assertEqual(in_turn(later), later, "once is enough")
                for n, task in enumerate(later):
                    if task.do == "scent" and technique.pots:
                        after = next(s for s in later[n:] if s.do != "scent")
                        self.assertTrue(set(task.lanes) <= set(after.lanes) and after.looks, task.label)
        held = ScentInTurn(id=next_id(), minute=3.0)
        events = [*START, ScentIn(id=next_id(), minute=2.5, portion="Ash"), held]
        found = reconciled(events, 3.1, Design(portions=FOUR, technique="drop-swirl"))
        self.assertIn("scent Ash", [p.task.label for p in found.done])
        ahead = [s.label for s in found.ahead if s.do in ("scent", "pour", "drop")]
        self.assertEqual(ahead, ["scent Base", "pour Base", "drop Ash", "scent Rust", "drop Rust", "scent Sea",
                                 "drop Sea", "pour Base"])  # fmt: skip

    def test_what_waits_for_its_turn_is_not_in_because_pouring_began(self) -> None:
        design = Design(portions=FOUR[:2], technique="drop-swirl", scent_at="pour")
        design = design.model_copy(update={"portions": tuple(p.model_copy(update={"share": 0.5}) for p in FOUR[:2])})
        events = [*START, ScentIn(id=next_id(), minute=3.5, portion="Base"), PouringBegan(id=next_id(), minute=4.2)]
        self.assertEqual(reconciled(events, 6.0, design).ahead[0].label, "scent Ash")
        of = recipe(design=design)
        state = replay([*events, ScentIn(id=next_id(), minute=6.2, portion="Ash")], of)
        schedule = build_schedule(of, weighed(of), TRADE, SHELF, state, 6.5)
        self.assertEqual([lane.added["moderate"][0] for lane in schedule.bare], [3.5, 6.2])
        self.assertNotIn("scent Ash", [s.label for s in schedule.reconciled.ahead])
        whisked = next(p.end for p in schedule.reconciled.done if p.task.label == "scent Ash")
        nearly = reconcile(of, SHELF, 1000, state, whisked + 0.3)
        self.assertEqual(nearly.ahead[0].label, "drop Ash", "not dropped while it was whisked")

    def test_raw_layers_are_combined_just_before_they_are_poured(self) -> None:
        of = recipe(design=Design(portions=TWO, technique="straight-layers", batching="layers"))
        told = labels(of)
        self.assertEqual(told[0], "blend to emulsion")
        self.assertLess(told.index("layer Base"), told.index("combine Bone"))
        self.assertLess(told.index("combine Bone"), told.index("layer Bone"))
        self.assertNotIn("split", told)

    def test_a_batch_of_frosting_is_piped_last(self) -> None:
        portions = (
            *TWO[:1],
            TWO[1].model_copy(update={"share": 0.3}),
            Portion(name="Frost", share=0.1, batch="frosting"),
        )
        told = labels(recipe(design=Design(portions=portions, technique="drop-swirl")))
        self.assertEqual(told[-1], "pipe Frost")
        self.assertLess(told.index("top"), told.index("combine frosting"))

    def test_own_steps_share_a_portion_out_and_wrong_ones_are_faults(self) -> None:
        pour = {"do": "pour", "who": ["Base"]}
        steps: tuple[Any, ...] = (pour, {"do": "drop", "who": ["Bone"]}, pour, {"do": "pass", "note": "comb"})
        of = recipe(design=Design(portions=TWO, technique="plain", steps=steps))
        looks = [s for s in plan(of, SHELF, 1000) if s.looks]
        self.assertEqual(
            [(s.label, s.wants.part) for s in looks[:3]], [("pour Base", 0.5), ("drop Bone", 1), ("pour Base", 0.5)]
        )
        self.assertEqual((looks[3].label, looks[3].lanes), ("comb", (0, 1)))
        wrong: dict[str, tuple[Any, ...]] = {
            "/design/steps/0/who": ({"do": "pour", "who": ["Nobody"]},),
            "/design/steps/0": ({"do": "pass"}, {"do": "pour", "who": ["Base"]}),
            "/design/steps/1/part": tuple({"do": "pour", "who": ["Base"], "part": 0.6} for _ in range(2)),
            "/design/steps/0/band": ({"do": "pour", "who": ["Base"], "band": [1, 4, 3, 5]},),
            "/design/steps/0/batch": ({"do": "combine", "batch": "no such"}, {"do": "pour", "who": ["Base"]}),
            "/design/steps": ({"do": "split"},),
        }
        for pointer, bad in wrong.items():
            faults = weigh(recipe(design=Design(portions=TWO, technique="plain", steps=bad)), SHELF).faults
            self.assertIn(pointer, [f.pointer for f in faults])
        loop = (TWO[0].model_copy(update={"of": "Bone"}), TWO[1].model_copy(update={"of": "Base"}))
        faults = weigh(recipe(design=Design(portions=loop, technique="plain")), SHELF).faults
        self.assertIn("/design/portions/0/of", [f.pointer for f in faults])

    def test_an_earlier_recipe_is_lifted_and_its_technique_renamed(self) -> None:
        old = recipe().model_dump(mode="json")
        old["format"] = "roundstone.recipe/1"
        old["design"] = {"technique": "dilution-fade", "portions": [
            {"name": "A", "share": 0.5, "scented": True}, {"name": "B", "share": 0.5, "scented": False}]}  # fmt: skip
        lifted = Recipe.model_validate(old)
        self.assertEqual((lifted.format, lifted.design.technique), ("roundstone.recipe/3", "fade"))
        self.assertEqual([p.scent for p in lifted.design.portions], [1.0, 0.0])
        self.assertEqual(TechniqueChanged(id=next_id(), minute=1, technique="spooned-chunks").technique, "chunks")

    def test_some_of_the_scent_is_weighed_as_some(self) -> None:
        half = (TWO[0], TWO[1].model_copy(update={"scent": 0.5}))
        sheet = weighed(recipe(design=Design(portions=half, technique="drop-swirl")))
        full, less = (p.fragrance / p.share for p in sheet.portions)
        self.assertAlmostEqual(less, full / 2)
        self.assertAlmostEqual(
            sum(p.fragrance for p in sheet.portions), sum(x.grams for x in sheet.lines if x.kind == "fragrance")
        )


class Following(unittest.TestCase):
    def test_taps_and_the_clock_take_the_place_of_the_plan(self) -> None:
        poured = [*START, ScentIn(id=next_id(), minute=3.0, portion="Base"), PouringBegan(id=next_id(), minute=4.0)]
        begun = reconciled(poured, 4.2)
        self.assertEqual((begun.ahead[0].label, begun.in_mould), ("pour Base", ()))
        self.assertTrue(0 < begun.under < 1)
        later = reconciled(poured, 5.0)
        self.assertEqual((later.ahead[0].label, later.in_mould), ("drop Bone", (0,)))
        tapped = reconciled([*poured, StepDone(id=next_id(), minute=4.4, step="drop Bone")], 4.5)
        self.assertEqual([s.label for s in tapped.ahead], ["pour Base", "top"], "what came before it was done too")

    def test_left_out_folded_spared_and_changed(self) -> None:
        four = Design(portions=FOUR, technique="drop-swirl")
        out = reconciled([*START, StepSkipped(id=next_id(), minute=3, step="top")], 3.1, four)
        self.assertNotIn("top", [s.label for s in out.ahead])
        folded = reconciled([*START, Folded(id=next_id(), minute=3, portion="Ash", into=("Rust",))], 3.1, four)
        self.assertNotIn("drop Ash", [s.label for s in folded.ahead])
        poured: list[Event] = [
            *START,
            PouringBegan(id=next_id(), minute=4.0),
            StepDone(id=next_id(), minute=4.8, step="pour Base"),
        ]
        spared = reconciled([*poured, Spared(id=next_id(), minute=5)], 5.1, four)
        self.assertFalse([s for s in spared.ahead if s.looks and s.do != "pass"])
        changed = reconciled([*poured, TechniqueChanged(id=next_id(), minute=5, technique="chunks")], 5.1, four)
        self.assertEqual((changed.technique.id, changed.drawn), ("chunks", False))
        self.assertEqual([p.task.label for p in changed.done if p.task.looks], ["pour Base"], "what is done stays done")
        before, after = (
            sum(s.wants.weight for s in f.ahead if s.looks) for f in (reconciled(poured, 5.1, four), changed)
        )
        self.assertAlmostEqual(before, after)


class Mending(unittest.TestCase):
    def test_levers_buy_what_they_say_on_the_same_dice(self) -> None:
        of = recipe(
            scents=(Scent(fragrance="strong", load=0.035),), pour_celsius=40.0,
            design=Design(portions=FOUR, technique="hanger-swirl"),
        )  # fmt: skip
        told = project(job(of), knows(), 3)
        found = levers(told)
        self.assertFalse(found.thin)
        self.assertTrue({"cooler", "less", "base"} <= {x.key for x in found.levers}, [x.key for x in found.levers])
        values = [x.value for x in found.levers]
        self.assertEqual(values, sorted(values, reverse=True))
        for lever in found.levers:
            again = project(job(lever.recipe), knows(), 3).forecast.outlook
            self.assertAlmostEqual(again.value - told.forecast.outlook.value, lever.value)
            self.assertEqual(weigh(lever.recipe, SHELF).faults, ())

    def test_a_plan_that_thickens_too_soon_may_stop_at_emulsion(self) -> None:
        """Of a maker's own steps, those that thicken on purpose; the rest stay."""
        steps = [{"do": "combine", "to": 3.4}, {"do": "split"}, {"do": "blend", "who": ["Base"], "to": 3.6},
                 {"do": "pour", "who": ["Base"], "band": (0, 1, 2.2, 3)}, {"do": "drop", "who": ["Bone"]}]  # fmt: skip
        of = recipe(design=Design.model_validate({"portions": TWO, "technique": "drop-swirl", "steps": steps}))
        found = {x.key: x for x in levers(project(job(of), knows(), 3)).levers}
        self.assertGreater(found["stop"].value, 0.05)
        left = found["stop"].recipe.design.steps
        self.assertEqual([s.do for s in left], ["combine", "split", "pour", "drop"])
        calm = recipe(design=found["stop"].recipe.design)
        self.assertNotIn("stop", [x.key for x in levers(project(job(calm), knows(), 3)).levers])

    def test_thin_batter_is_offered_warmth(self) -> None:
        of = recipe(scents=(Scent(fragrance="slows", load=0.03),), pour_celsius=26.0,
                    design=Design(portions=TWO, technique="chunks"))  # fmt: skip
        found = levers(project(job(of), knows(), 3))
        self.assertTrue(found.thin)
        self.assertIn("warmer", [x.key for x in found.levers])


class Teaching(unittest.TestCase):
    def schedule(self, of: Recipe, events: list[Event]) -> Schedule:
        return build_schedule(of, weighed(of), TRADE, SHELF, replay(events, of), events[-1].minute)

    def layered(self, layers: int) -> list[Event]:
        """Each layer combined when the last one stands, ten minutes on, and at medium eight minutes later."""
        out: list[Event] = []
        for i, name in enumerate(("Base", "Ash", "Rust", "Sea")[:layers]):
            out += [seen(0.6 + 10 * i, "emulsion", name), seen(8.6 + 10 * i, "medium", name)]
        return sorted([*out, Ended(id=next_id(), minute=60)], key=lambda e: e.minute)

    def test_how_many_layers_were_logged_does_not_change_what_they_teach(self) -> None:
        """Three pours alike, with two or with four of their layers logged: the same pace, only surer."""
        of = recipe(scents=(), design=Design(portions=FOUR, technique="straight-layers", batching="layers"))
        told = []
        for layers in (1, 2, 4):
            record = read(SHELF, [Past(str(i), of, self.layered(layers)) for i in range(3)])
            told.append(project(job(of), knows(record.knowledge), 2).forecast.lanes[0].stages[1].time.q50)
        self.assertEqual(told, sorted(told, reverse=True), "nearer to the eight minutes that were seen")
        self.assertLess(max(told) / min(told), 1.25, told)
        schedule = self.schedule(of, self.layered(4))
        self.assertEqual([round(x.origin, 1) for x in schedule.lanes], [0.6, 10.6, 20.6, 30.6])

    def test_one_absurd_pour_bends_nothing(self) -> None:
        of, good = recipe(), quick_pour()
        slip: list[Event] = [seen(0.5, "emulsion"), Split(id=next_id(), minute=0.8), seen(1.0, "thick", "Base"),
                seen(1.0, "thick", "Bone"), Ended(id=next_id(), minute=1.5)]  # fmt: skip
        pours = [Past(f"p{i}", of, good) for i in range(24)]
        spans, noises = [], []
        for some in (pours, [*pours, Past("slip", of, slip)]):
            record = read(SHELF, some)
            noises.append(tune(record.trade, record.schedules).batch)
            spans.append(project(job(of), knows(record.knowledge), 2).forecast.lanes[1].stages[1].time)
        self.assertAlmostEqual(spans[1].q50 / spans[0].q50, 1, delta=0.05)
        self.assertLess(noises[1] / noises[0], 1.25)

    def test_a_pour_left_out_teaches_nothing_until_it_is_taken_in(self) -> None:
        out = LeftOut(id=next_id(), minute=8.0)
        for events, pours in ((quick_pour(), 1), ([*quick_pour(), out], 0)):
            self.assertEqual(read(SHELF, [Past("p", recipe(), events)]).knowledge.pours, pours)

    def test_silence_of_who_taps_what_turns_says_it_has_not_until_hands_are_full(self) -> None:
        """At the split, and as the fragrance met the batter, half a minute before its tap. As it was poured it hardly
        says so, and nothing where no change was tapped at all."""
        quiet: list[Event] = [*START, seen(2.0, "emulsion", "Bone"), ScentIn(id=next_id(), minute=2.5, portion="Base"),
                              seen(4.0, "light", "Bone"), PouringBegan(id=next_id(), minute=6.0),
                              Ended(id=next_id(), minute=9.0)]  # fmt: skip
        of, turns = recipe(), SHELF.model_copy(update={"taps": "turns"})
        none = [e for e in quiet if e.kind != "seen" or e.stage == "emulsion"]
        asks = ((SHELF, quiet), (turns, quiet), (turns, none))
        told = [build_schedule(of, weighed(of), TRADE, shelf, replay(its, of), 9.0) for shelf, its in asks]
        afters = [s.known[0][0].after or 0.0 for s in told]
        self.assertLess(afters[0], 2.0)
        self.assertEqual(afters[1:], [2.5 - prior.SCENT_EARLY] * 2)
        self.assertEqual([[(t.lane, t.stage) for t in s.quiet] for s in told], [[], [(0, 0), (1, 1)], []])
        self.assertTrue(all((t.after or 0) >= 6.0 for t in told[1].quiet))

    def test_a_makers_own_minutes(self) -> None:
        """Six pours that take half as long again: believed more and more, never beyond what was seen."""
        scent = ScentIn(id=next_id(), minute=3.6, portion="Base")
        pour, end = PouringBegan(id=next_id(), minute=4.5), Ended(id=next_id(), minute=9.5)
        slow: list[Event] = [*START, scent, pour, end]
        schedules = [self.schedule(recipe(), slow) for _ in range(6)]
        means = [learn_hands(schedules[:n]) for n in (0, 1, 6)]
        self.assertTrue(0 == means[0].mean < means[1].mean < means[2].mean < 0.6)
        self.assertLess(means[2].sd, means[0].sd)
