"""The data file: drafts, immutable versions, an append-only log, and two writers at once."""

import sqlite3
import tempfile
import threading
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

from roundstone.core.own import NewFat, make
from roundstone.core.pour import Ended
from roundstone.store import Conflict, Missing, PourRecord, Workshop
from roundstone.store.learned import Learned
from tests.samples import SHELF, next_id, quick_pour, recipe, seen

NOW = datetime(2026, 5, 1, 9, 0, tzinfo=UTC)


def accept(_: PourRecord) -> None:
    """Any event may follow."""


class Keeping(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "new" / "workshop.sqlite"
        self.workshop = Workshop(self.path)
        self.addCleanup(self.close)
        self.workshop.add_recipe("r", recipe(), NOW)

    def close(self) -> None:
        self.workshop.close()

    def reopen(self) -> None:
        self.workshop.close()
        self.workshop = Workshop(self.path)

    def test_draft_is_kept_and_a_stale_one_refused(self) -> None:
        revision = self.workshop.save_draft("r", recipe(superfat=0.07), 1, NOW)
        self.reopen()
        self.assertEqual(self.workshop.recipe("r").recipe.superfat, 0.07)
        with self.assertRaises(Conflict):
            self.workshop.save_draft("r", recipe(superfat=0.08), revision - 1, NOW)
        self.assertEqual(self.workshop.save_draft("r", recipe(superfat=0.07), revision, NOW), revision)

    def test_a_poured_version_never_changes(self) -> None:
        self.workshop.start_pour("p1", "r", NOW)
        self.workshop.start_pour("p2", "r", NOW)
        self.workshop.save_draft("r", recipe(superfat=0.07), 1, NOW)
        self.workshop.start_pour("p3", "r", NOW)
        self.assertEqual([self.workshop.pour(p).version for p in ("p1", "p2", "p3")], [1, 1, 2])
        self.assertEqual(self.workshop.pour("p1").recipe, recipe())
        record = self.workshop.recipe("r")
        self.assertEqual((record.versions, record.pours), (2, 3))

    def test_the_file_itself_refuses_to_rewrite_history(self) -> None:
        self.workshop.start_pour("p", "r", NOW)
        self.workshop.append("p", seen(1, "emulsion"), NOW, accept)
        self.workshop.add_own(make(NewFat(name="Lot 7", kin="olive", sv=188.0), "lot-7", SHELF.fats))
        with sqlite3.connect(self.path) as raw:
            for attempt in (
                "UPDATE event SET doc = '{}'",
                "DELETE FROM event",
                "UPDATE version SET doc = '{}'",
                "DELETE FROM version",
                "DELETE FROM own",
            ):
                with self.subTest(attempt), self.assertRaises(sqlite3.IntegrityError):
                    raw.execute(attempt)
        raw.close()

    def test_an_event_counts_once(self) -> None:
        self.workshop.start_pour("p", "r", NOW)
        tap = seen(1, "emulsion")
        for _ in range(3):
            pour = self.workshop.append("p", tap, NOW, accept)
        self.assertEqual(pour.events, (tap,))
        with self.assertRaises(Conflict):
            self.workshop.append("p", tap.model_copy(update={"minute": 2.0}), NOW, accept)

    def test_removed_and_brought_back(self) -> None:
        self.workshop.remove_recipe("r", NOW)
        self.assertEqual(self.workshop.recipes(), [])
        with self.assertRaises(Missing):
            self.workshop.recipe("r")
        self.workshop.remove_recipe("r", None)
        self.assertEqual(len(self.workshop.recipes()), 1)

    def test_eight_threads_lose_no_tap(self) -> None:
        self.workshop.start_pour("p", "r", NOW)

        def tap() -> None:
            for _ in range(10):
                self.workshop.append("p", seen(1, "emulsion"), NOW, accept)

        threads = [threading.Thread(target=tap) for _ in range(8)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(len(self.workshop.pour("p").events), 80)

    def test_learning_follows_the_log(self) -> None:
        for fragrance in SHELF.fragrances.values():
            self.workshop.add_fragrance(fragrance)
        learned = Learned(self.workshop)
        self.assertEqual(learned.record().knowledge.pours, 0)
        self.workshop.start_pour("p", "r", NOW)
        for event in quick_pour()[:-1]:
            self.workshop.append("p", event, NOW + timedelta(minutes=event.minute), accept)
        self.assertEqual(learned.record().knowledge.pours, 0, "not before it has ended")
        before = learned.record().knowledge.sd("e:moderate")
        self.workshop.append("p", Ended(id=next_id(), minute=9), NOW, accept)
        after = learned.record()
        self.assertEqual(after.knowledge.pours, 1)
        self.assertLess(after.knowledge.sd("e:moderate"), before)
        self.assertIs(learned.record(), after, "kept until something changes")
