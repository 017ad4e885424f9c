"""The account of a pour: what a hand told and nothing else; random pours in every technique, and the worst by hand."""

import unittest
from dataclasses import replace
from typing import Any

from roundstone.core.account import account_of, doubt_of
from roundstone.core.advise import advise, bench_now
from roundstone.core.forecast import Job, Projection, project
from roundstone.core.pour import (
    Ended,
    Event,
    Flagged,
    Folded,
    LayerTested,
    PouringBegan,
    ScentIn,
    Spared,
    Split,
    StageSeen,
    StepDone,
    TemperatureRead,
)
from roundstone.core.recipe import Design, Portion
from roundstone.core.schedule import how_laid, plan
from roundstone.core.schedule.plan import looks_of
from tests.player import NAMES, played
from tests.samples import SHELF, knows, many, next_id, recipe, weighed

POURS = 3  # in the check; `python -m bench.player` plays as many as one likes


def made(kind: type[Any], minute: float, **fields: Any) -> Any:
    return kind(id=next_id(), minute=minute, **fields)


def told(events: list[Event], now: float, design: Design) -> Projection:
    of = recipe(design=design)
    return project(Job(of, SHELF, weighed(of)), knows(), 1, events=events, now=now)


def drops(count: int) -> Design:
    shares = [0.5, *([0.5 / (count - 1)] * (count - 1))]
    names = zip(NAMES, shares, strict=False)
    return Design(portions=tuple(Portion(name=n, share=s) for n, s in names), technique="drop-swirl")


def begun(names: tuple[str, ...], pouring: float = 6.0) -> list[Event]:
    scents = [made(ScentIn, 2.0 + 0.3 * i, portion=n) for i, n in enumerate(names)]
    return [made(StageSeen, 0.6, stage="emulsion"), made(Split, 1.5), *scents, made(PouringBegan, pouring)]


class AnyPour(unittest.TestCase):
    def test_nothing_that_must_not_be_in_random_pours(self) -> None:
        for seed in range(many(POURS, 60)):
            with self.subTest(seed=seed):
                self.assertEqual(played(recipe(), SHELF, knows(), seed), [])


class ByHand(unittest.TestCase):
    def test_the_clock_tells_nothing(self) -> None:
        """An hour after pouring began nothing is in, the first step is asked for, and one key says yes to all."""
        found = told(begun(NAMES[:4]), 66, drops(4))
        account = account_of(found)
        self.assertEqual((account.mould, len(account.assumed)), ((), len([t for t in account.open if t.looks])))
        keys = bench_now(found, advise(found), {}).keys
        self.assertEqual([k.message for k in keys[:2]], ["Base is poured", "All done, up to: top"])
        after = told([*begun(NAMES[:4]), keys[1].event.model_copy(update={"id": next_id()})], 66.1, drops(4))
        self.assertEqual(account_of(after).open, ())
        self.assertEqual(set(account_of(after).mould), set(range(4)))

    def test_solid_batter_is_spooned_and_its_card_says_the_same(self) -> None:
        for tap in (
            made(Flagged, 7.5, portion="Ash", flag="seizing"),
            made(StageSeen, 7.5, portion="Ash", stage="set"),
        ):
            events = [*begun(NAMES[:3]), made(StageSeen, 6.2, portion="Base", stage="light")]
            first = bench_now(told(events, 7, drops(3)), advise(told(events, 7, drops(3))), {}).keys[0]
            events += [first.event.model_copy(update={"id": next_id(), "minute": 7.0}), tap]
            found = told(events, 7.6, drops(3))
            advice = advise(found)
            shown = bench_now(found, advice, {})
            self.assertIn("Spoon Ash in", advice.headline)
            self.assertEqual(shown.keys[0].message, "Ash is spooned in")
            if shown.rescue is not None:
                self.assertIn("Spoon it in", shown.rescue.do[0])
            self.assertTrue(account_of(found).never("loosen", [1]))

    def test_grains_are_whisked_before_anything_else_and_never_sticked(self) -> None:
        found = told([*begun(NAMES[:3]), made(Flagged, 6.2, portion="Ash", flag="ricing")], 6.3, drops(3))
        advice = advise(found)
        keys = [k.event.kind for k in bench_now(found, advice, {}).keys]
        self.assertEqual((advice.do, advice.headline), ("rescue", "Whisk Ash by hand until it is smooth."))
        self.assertEqual(keys[:2], ["mended", "mended"])
        self.assertEqual(account_of(found).never("stick", [1]), "ricing")

    def test_what_has_not_come_together_is_never_offered_to_be_poured(self) -> None:
        for flag in ("separation", "false-trace"):
            found = told([*begun(NAMES[:3]), made(Flagged, 6.2, portion="Base", flag=flag)], 6.3, drops(3))
            keys = bench_now(found, advise(found), {}).keys
            self.assertEqual([k.event.kind for k in keys], ["mended"], "Base is next, and free lye is in it")

    def test_a_gate_opens_by_a_hand_alone(self) -> None:
        design = Design(
            portions=(Portion(name="Base", share=0.5), Portion(name="Ash", share=0.5)), technique="straight-layers"
        )
        events = begun(NAMES[:2], 4.0)
        first = bench_now(told(events, 4.1, design), advise(told(events, 4.1, design)), {}).keys[0]
        events.append(first.event.model_copy(update={"id": next_id(), "minute": 4.5}))
        wet = made(LayerTested, 10.0, portion="Base", how="wet")
        for more, minute, do in (([], 200.0, "gate"), ([wet], 300.0, "gate")):
            self.assertEqual(advise(told([*events, *more], minute, design)).do, do, "by no clock")
        stood = [*events, wet, made(LayerTested, 60.0, portion="Base", how="stands")]
        self.assertEqual(advise(told(stood, 60.1, design)).do, "step")
        three = Design(
            portions=tuple(Portion(name=n, share=x) for n, x in zip(NAMES, (0.5, 0.3, 0.2), strict=False)),
            technique="straight-layers",
        )
        upper = [*begun(NAMES[:3], 4.0), first.event.model_copy(update={"id": next_id(), "minute": 4.5})]
        for n in (1, 2):
            minute = 60.0 * n
            self.assertEqual(advise(told(upper, minute, three)).do, "gate", "whatever stood before that")
            upper.append(made(LayerTested, minute, portion=NAMES[n - 1], how="stands"))
            found = told(upper, minute + 0.1, three)
            self.assertEqual(advise(found).do, "step")
            key = bench_now(found, advise(found), {}).keys[0]
            upper.append(key.event.model_copy(update={"id": next_id(), "minute": minute + 1}))
        soon = made(LayerTested, 4.6, portion="Base", how="stands")
        odd = doubt_of(told(events, 4.6, design), soon)
        self.assertIsNotNone(odd)
        self.assertIsNone(doubt_of(told(events, 300.0, design), made(LayerTested, 300, portion="Base", how="stands")))

    def test_what_waits_for_its_scent_is_named_in_the_plans_order(self) -> None:
        events = begun(NAMES[:4])[:2]
        for scented in ((), (made(ScentIn, 2.0, portion=NAMES[2]),)):
            found = told([*events, *scented], 2.1, drops(4))
            bench = bench_now(found, advise(found), {})
            self.assertEqual(len(bench.scents), 4 - len(scented))
            self.assertCountEqual(bench.scents, [x.portion for x in bench.lanes if x.scent == "waits"])

    def test_what_was_put_into_a_spare_mould_is_asked_for_no_more(self) -> None:
        """A pour of drops, silent for twenty minutes; then the rest went elsewhere."""
        events = [*begun(NAMES[:3]), made(Spared, 30.0)]
        account = account_of(told(events, 30.1, drops(3)))
        self.assertEqual([t.do for t in account.open], [])
        self.assertEqual({p.where for p in account.portions}, {"spare"})
        tapped = [*begun(NAMES[:3]), made(StepDone, 8.0, step="drop Rust"), made(Spared, 30.0)]
        account = account_of(told(tapped, 30.1, drops(3)))
        self.assertEqual([(p.name, p.where) for p in account.portions if p.where == "mould"][-1:], [("Rust", "mould")])

    def test_a_step_of_unlike_rests_takes_of_each_what_is_left(self) -> None:
        """Half of the base is in; the rest of it and all of the accent are spooned, each to its end."""
        (spoon, *more) = looks_of(SHELF.techniques["chunks"], drops(2), 1000.0, {0: 0.5, 1: 1.0}, (0,))
        self.assertEqual([(t.lanes, t.wants.part) for t in (spoon, *more)], [((0,), 0.5), ((1,), 1.0)])
        (both,) = looks_of(SHELF.techniques["chunks"], drops(2), 1000.0, {0: 1.0, 1: 1.0})
        self.assertAlmostEqual(sum(t.wants.weight for t in (spoon, *more)), both.wants.weight)
        self.assertAlmostEqual(sum(t.minutes for t in (spoon, *more)), both.minutes)

    def test_a_layer_is_told_how_it_is_laid_and_how_the_mould_stands(self) -> None:
        portions = tuple(Portion(name=n, share=x) for n, x in zip(NAMES, (0.5, 0.3, 0.2), strict=False))
        for tilt, wrap in ((20.0, "covered"), (0.0, "oven")):
            design = Design(portions=portions, technique="straight-layers", tilt=tilt, wrap=wrap)
            of = recipe(design=design)
            tasks = plan(of, SHELF, 1000.0)
            first, second, third = (
                [str(x) for x in how_laid(of, tasks, t, mist=wrap != "oven")] for t in tasks if t.do == "layer"
            )
            self.assertEqual([bool(x) and "mould" in x[0] for x in (first, second, third)], [tilt > 0] * 3)
            self.assertEqual(["spatula" in " ".join(x) for x in (first, second, third)], [False, True, True])
            self.assertEqual("mist" in " ".join(second), wrap != "oven", "its vapour lights in a warm oven")
        pot = next(t for t in plan(recipe(design=drops(3)), SHELF, 1000.0) if t.do == "pour")
        self.assertEqual(how_laid(recipe(design=drops(3)), [pot, pot], pot, mist=True), ())

    def test_the_temperature_is_asked_once(self) -> None:
        raw: tuple[list[Event], ...] = (
            [made(TemperatureRead, 0.2, celsius=36.0)],
            [],
            [made(StageSeen, 0.6, stage="emulsion")],
        )
        asked = ["Read the temperature" in str(advise(told(events, 0.7, drops(3))).detail) for events in raw]
        self.assertEqual(asked, [False, True, False])

    def test_a_round_that_was_left_out_is_none(self) -> None:
        found = told(begun(NAMES[:3]), 6.1, drops(3))
        twice = [s for s in account_of(found).steps if s.task.do == "drop"][:1]
        again = [replace(s, task=replace(s.task, key=f"{s.task.key} {n}")) for s in twice for n in range(3)]
        for out, words in ((None, "3 of 3"), (1, "2 of 2")):
            steps = tuple(replace(s, standing="left out") if n == out else s for n, s in enumerate(again))
            account = replace(account_of(found), steps=steps)
            self.assertEqual(account.round_of(again[2].task), words)

    def test_a_full_mould_with_full_cups_is_asked_about(self) -> None:
        early = doubt_of(told(begun(NAMES[:3]), 6.2, drops(3)), made(Ended, 6.2))
        assert early is not None
        self.assertEqual((early.stands, str(early.message)[:17]), ("waits", "Base, Ash and Rus"))
        late = told(begun(NAMES[:3]), 40, drops(3))
        self.assertIsNone(doubt_of(late, made(Ended, 40)), "who taps little is not asked what is likely in")

    def test_a_base_that_is_folded_leaves_another_base(self) -> None:
        events = [*begun(NAMES[:3])[:-1], made(Folded, 5.0, portion="Base", into=("Ash",))]
        found = told(events, 5.1, drops(3))
        account = account_of(found)
        looks = [(t.do, t.lanes) for t in account.open if t.looks and t.do != "top"]
        self.assertEqual(looks, [("pour", (1,)), ("drop", (2,)), ("pour", (1,))], "Ash is poured where Base was")
        self.assertEqual(account.portions[0].where, "folded")
