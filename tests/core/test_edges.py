"""Rules just where they turn: at an edge itself, with nothing there at all, and once a thing is done."""

import unittest
from dataclasses import replace

import numpy as np

from roundstone.core.advise.acts import MARGIN, Act, moved
from roundstone.core.advise.choose import Weighed, choose, weigh_acts
from roundstone.core.advise.sentence import pace
from roundstone.core.forecast import project
from roundstone.core.heat import Reading
from roundstone.core.heat.lye import solution_capacity
from roundstone.core.heat.mould import SWEET, is_sweet
from roundstone.core.heat.vessels import solid_share
from roundstone.core.pour import Event, Flagged, ScentIn, Worked, replay
from roundstone.core.recipe import Design, LiquidUse, Portion
from roundstone.core.rest import WAYS, RestLearned, prior, rest_sections
from roundstone.core.schedule import Placed, Task
from roundstone.core.sheet import weigh
from roundstone.core.shelf import Wants
from roundstone.core.simulate import begin
from roundstone.core.simulate.run import play_step
from roundstone.core.text import Text
from tests.core.test_rest import DAY, HOUR, now, room, told
from tests.core.test_run import START, projected
from tests.core.test_thresholds import with_dose
from tests.samples import SHELF, job, knows, next_id, recipe, seen, weighed


class Weighing(unittest.TestCase):
    def said(self, **changes: object) -> list[Text]:
        return [c.message for c in weigh(recipe(scents=(), **changes), SHELF).cautions]

    def test_the_usual_most_itself_is_usual(self) -> None:
        for item in ("sugar", "kaolin", "salt"):
            most = SHELF.additives[item].most
            found = [c.message for c in weigh(with_dose(item, most), SHELF).cautions]
            self.assertFalse([m for m in found if "usual most" in m], item)

    def test_of_a_liquid_that_is_not_there_nothing_is_said(self) -> None:
        for of in SHELF.liquids.values():
            if not of.caution or of.alcohol > 0:
                continue
            for share, many in ((0.0, 0), (0.1, 1)):
                liquids = (LiquidUse(liquid=of.id, share=share, goes="jug", frozen=True),)
                self.assertEqual(self.said(liquids=liquids).count(of.caution), many, of.id)


class Heat(unittest.TestCase):
    def test_potassium_lye_takes_the_heat_its_table_says(self) -> None:
        """Heat capacities at the shares of the table, J/gK: from memory, written out here once more."""
        for share, capacity in ((0.10, 3.709), (0.20, 3.332), (0.25, 3.17), (0.30, 3.023), (0.40, 2.768)):
            self.assertAlmostEqual(solution_capacity(0, share * 100, (1 - share) * 100) / 100, capacity, places=3)

    def test_a_sharp_melting_point_still_takes_a_degree(self) -> None:
        self.assertAlmostEqual(solid_share(24.75, ((0.4, 24.5, 25.0),)), 0.4 * 0.25)

    def test_sweet_is_more_than_a_little(self) -> None:
        for sugar, sweet in ((SWEET, False), (SWEET + 1e-9, True)):
            sheet = weighed(recipe())
            self.assertEqual(is_sweet(sheet.model_copy(update={"factors": {"sugar": sugar, "milk": 0.0}})), sweet)

    def test_a_vessel_may_be_read_as_it_is_made(self) -> None:
        self.assertEqual(Reading(minute=0, celsius=60).minute, 0)


class Rest(unittest.TestCase):
    def what(self, hours: float, *more: Event, own: RestLearned = RestLearned()) -> list[str]:  # noqa: B008
        return [n.what for n in now(room(21), hours, *more, own=own).next]

    def test_what_is_cut_is_covered_no_more(self) -> None:
        self.assertIn("cover", self.what(0.4))
        for done in (told("cut", 20 + 0.3 * HOUR, how="clean"), told("unmould", 20 + 0.3 * HOUR, how="clean")):
            self.assertNotIn("cover", self.what(0.4, done))

    def test_a_bar_is_weighed_again_a_week_later_and_not_before(self) -> None:
        story = (told("cut", 20 + DAY, how="clean"), told("weigh", 20 + DAY, grams=120))
        for day, due in ((2.0, 8.0), (8.5, 8.0), (9.9, 8.0), (10.2, 15.0)):
            found = next(n for n in now(room(21), 24 * day, *story).next if n.what == "weigh")
            self.assertAlmostEqual(found.first / 24, due, places=6, msg=f"on day {day}")

    def test_a_habit_is_let_go_when_its_time_is_over(self) -> None:
        cut, own = told("cut", 20 + DAY, how="clean"), RestLearned(habits=("bevelled",))
        last = next(w.last for w in now(room(21), 30, cut, own=own).windows if w.what == "bevel")
        self.assertIn("bevel", self.what(last - 0.5, cut, own=own))
        self.assertNotIn("bevel", self.what(last + 0.5, cut, own=own))

    def test_the_air_is_never_reckoned_wetter_than_it_dries(self) -> None:
        of = room(21)
        wet = [prior(of, weighed(of), humidity) for humidity in (0.8, 0.9, 0.97)]
        self.assertNotEqual(wet[0], wet[1])
        self.assertEqual(wet[1], wet[2])

    def test_what_gel_does_to_colours_names_the_palest_and_the_deepest(self) -> None:
        def words(*tints: str) -> set[str]:
            portions = tuple(Portion(name="ABC"[i], share=1 / len(tints), tint=t) for i, t in enumerate(tints))
            of = room(21).model_copy(update={"design": Design(portions=portions, technique="drop-swirl")})
            return {s.colours for s in rest_sections(of, weighed(of), replay([], of), RestLearned(), WAYS)}

        self.assertTrue(any("A stays whiter" in w or "in A" in w for w in words("#fbfbf8", "#803020")))
        self.assertFalse(any("A" in w for w in words("#302010", "#803020")), "nothing pale is named")


class Advice(unittest.TestCase):
    def test_every_margin_is_enough_and_a_hair_less_is_not(self) -> None:
        """Worth that a change must gain, written out here once more [chosen]."""
        margins = {"hold": 0.02, "wait": 0.02, "loosen": 0.02, "order": 0.015, "skip": 0.035, "burst": 0.04,
                   "fold": 0.04, "switch": 0.06, "spare": 0.10}  # fmt: skip
        self.assertEqual(set(margins), set(MARGIN))
        going = weigh_acts(projected(events=START, now=2.0))[0]
        still: Weighed = replace(going, value=0.0)
        for kind, margin in margins.items():
            act = Act(kind, (), technique=SHELF.techniques["chunks"])  # type: ignore[arg-type] # one of the kinds
            for gain, chosen in ((margin, kind), (margin * (1 - 1e-9), "go")):
                self.assertEqual(choose(still, [replace(going, act=act, value=gain)]).act.kind, chosen)

    def test_without_a_look_no_batter_is_off_its_pace(self) -> None:
        self.assertEqual(pace(projected(events=START, now=2.0))[0], 1.0)

    def test_a_portion_that_jumped_is_blended_no_more_unless_its_own_stick_did_it(self) -> None:
        def jumped(*work: Worked) -> bool:
            events: list[Event] = [*START, ScentIn(id=next_id(), minute=2.5, portion="Base"), *work,
                                   seen(4.0, "thick", "Base")]  # fmt: skip
            found = projected(events=events, now=4.1)
            return moved(found.context, 0, None)

        def stick(minute: float, portion: str | None, tool: str = "stick") -> Worked:
            return Worked(id=next_id(), minute=minute, portion=portion, tool=tool, seconds=20.0)

        self.assertTrue(jumped())
        self.assertTrue(jumped(stick(3.0, "Bone")), "another cup's")
        self.assertTrue(jumped(stick(2.0, "Base")), "before its scent")
        self.assertTrue(jumped(stick(3.0, "Base", "hand")), "by hand")
        self.assertFalse(jumped(stick(3.0, "Base")))
        self.assertFalse(jumped(stick(3.0, None)), "all of it")


class Played(unittest.TestCase):
    def test_a_batch_of_its_own_is_an_emulsion_after_it_was_combined(self) -> None:
        two = (Portion(name="Base", share=0.5), Portion(name="Late", share=0.5, batch="second"))
        of = project(
            job(recipe(design=Design(portions=two, technique="straight-layers"))), knows(), 5, events=START[:1], now=2.0
        )
        context, state = of.context, begin(of.context)[0]
        start = np.full(context.draws, 9.0)
        for lane, meets in ((0, False), (1, True)):
            at = state.copy()
            at.t = start
            played = play_step(context, at, Task("c", "combine", "c", (lane,), 0.0, Wants()))
            self.assertEqual(bool(np.all(played.end > start)), meets, "what is an emulsion already takes no time")

    def test_what_was_left_out_lies_in_no_mould(self) -> None:
        of = projected("straight-layers", events=START, now=2.0)
        below, above = [t for t in of.schedule.reconciled.ahead if t.do in ("pour", "layer")][:2]
        for skipped in (True, False):
            done = (Placed(below, 2.0, 2.5, skipped=skipped), Placed(above, 3.0, 3.5))
            schedule = replace(of.schedule, reconciled=replace(of.schedule.reconciled, done=done))
            late = begin(replace(of.context, schedule=schedule))[1][-1].amiss.late
            self.assertEqual(late < 0.5, skipped)

    def test_only_grains_that_were_not_looked_at_since_run_ahead(self) -> None:
        def age(*events: Event) -> float:
            of = projected(events=[*START, *events], now=5.0)
            return float(np.mean(begin(of.context)[0].ln_m[0]))

        rice = Flagged(id=next_id(), minute=3.0, flag="ricing", portion="Base")
        self.assertGreater(age(rice), age())
        self.assertEqual(age(Flagged(id=next_id(), minute=3.0, flag="ricing", portion="Bone")), age())
        self.assertEqual(age(rice, seen(4.0, "light", "Base")), age(seen(4.0, "light", "Base")))
