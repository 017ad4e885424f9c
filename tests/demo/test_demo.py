"""The demo workshop: complete, the same every time, and with something to learn in it."""

import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np
from sqlalchemy import select

from roundstone.core.batter import scent_column
from roundstone.core.pour import replay
from roundstone.core.recipe import build_of
from roundstone.core.sheet import weigh
from roundstone.demo import workshop as demo
from roundstone.demo.story import PAUSED, RICED
from roundstone.store import RecipeRecord, Workshop
from roundstone.store.learned import Learned
from roundstone.store.tables import PourRow
from tests.samples import seen

NOW = datetime(2026, 6, 1, 12, 0, tzinfo=UTC)


def drafts(workshop: Workshop) -> list[RecipeRecord]:
    return [r for r in workshop.recipes.page() if isinstance(r, RecipeRecord)]


class Demo(unittest.TestCase):
    workshop: Workshop
    folder: Path

    @classmethod
    def setUpClass(cls) -> None:
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)
        cls.workshop = Workshop(cls.folder / "demo.sqlite")
        cls.addClassCleanup(cls.workshop.close)
        demo.seed(cls.workshop, NOW)

    def test_is_complete(self) -> None:
        pours = self.workshop.pours.page()
        self.assertEqual(len(self.workshop.recipes.page()), 10)
        self.assertEqual(len(self.workshop.ingredients.shelf().fragrances), 13)
        self.assertEqual(sum(p.ended for p in pours), 26)
        self.assertEqual({p.id for p in pours if not p.ended}, {demo.RUNNING, PAUSED})
        self.assertTrue(all(p.started <= NOW for p in pours))

    def test_every_draft_can_be_weighed_and_poured(self) -> None:
        shelf = self.workshop.ingredients.shelf()
        for record in drafts(self.workshop):
            self.assertEqual(weigh(record.recipe, shelf).faults, (), record.recipe.name)
        self.assertTrue(any(len(r.recipe.fats) == 12 for r in drafts(self.workshop)))

    def test_is_the_same_every_time(self) -> None:
        other = Workshop(self.folder / "other.sqlite")
        self.addCleanup(other.close)
        demo.seed(other, NOW)
        self.assertEqual(other.pours.page(), self.workshop.pours.page())
        self.assertEqual([r.recipe for r in drafts(other)], [r.recipe for r in drafts(self.workshop)])

    def test_events_are_in_order_and_every_pour_was_watched(self) -> None:
        for pour in self.workshop.pours.page():
            minutes = [e.minute for e in pour.events]
            self.assertEqual(minutes, sorted(minutes))
            state = replay(pour.events)
            self.assertIsNotNone(state.emulsion)
            if pour.ended:
                self.assertGreaterEqual(len(state.looks), 3, pour.recipe.name)

    def test_batches_stand_in_every_state(self) -> None:
        pours = {p.id: p for p in self.workshop.pours.page()}
        states = {i: replay(p.events, p.recipe) for i, p in pours.items()}
        paused, riced = states[PAUSED], states[RICED]
        self.assertEqual((build_of(pours[PAUSED].recipe.design).many, paused.ended, paused.combined), (2, None, {}))
        batches = {p.batch for p in pours[PAUSED].recipe.design.portions}
        self.assertEqual(batches, {"", "second day"})
        self.assertEqual((riced.came, [f.flag for f in riced.flags]), ("different", ["ricing"]))
        self.assertTrue(any(e.kind == "fold" for e in riced.standing))
        with self.workshop.database.reading() as s:
            phases = set(s.scalars(select(PourRow.phase)))
        self.assertLessEqual({"rests", "cures", "done"}, phases, phases)
        self.assertEqual({s.came for s in states.values()} - {None, ""}, {"drawn", "different", "lost"})
        self.assertTrue(any(r.recipe.brief and r.recipe.brief.ready for r in drafts(self.workshop)))

    def test_learning_holds_the_hidden_truth_and_is_no_further_from_it_than_the_claims(self) -> None:
        """One maker and a dozen scents are few: give or take a tenth, and most truths within twice the doubt."""
        record = Learned(self.workshop).record()
        self.assertEqual(record.left_out, ())
        claimed, learned, doubt = [], [], []
        for name, *_, truth in demo._FRAGRANCES:
            if record.poured.get(name, 0) >= 2:
                claimed.append(record.trade.value(scent_column(name)) - truth)
                learned.append(record.knowledge.value(scent_column(name)) - truth)
                doubt.append(record.knowledge.sd(scent_column(name)))
        self.assertGreaterEqual(len(learned), 6)
        self.assertLess(float(np.mean(np.square(learned))), 1.1 * float(np.mean(np.square(claimed))))
        self.assertGreaterEqual(float(np.mean(np.abs(learned) < 2 * np.array(doubt))), 0.75)

    def test_the_running_pour_has_just_begun_until_someone_goes_on(self) -> None:
        later = NOW + timedelta(days=3)
        demo.refresh_running(self.workshop, later)
        self.assertEqual(self.workshop.pours.get(demo.RUNNING).started, later - demo.RUNNING_FOR)
        self.workshop.pours.append(demo.RUNNING, [seen(8.0, "medium", "Char")], later)
        demo.refresh_running(self.workshop, later + timedelta(days=1))
        self.assertEqual(self.workshop.pours.get(demo.RUNNING).started, later - demo.RUNNING_FOR)
