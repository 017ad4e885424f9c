"""The data file: drafts, immutable versions, an append-only log, and two writers at once."""

import sqlite3
import tempfile
import threading
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

import numpy as np

from roundstone.core.batter import trade_knowledge
from roundstone.core.logbook import read
from roundstone.core.pour import Ended
from roundstone.core.shelf import NewFat, make
from roundstone.core.values import RuleError
from roundstone.store import ConflictError, NotFoundError, Unreadable, Workshop
from roundstone.store.learned import Learned
from tests.samples import SHELF, next_id, quick_pour, recipe, seen

NOW = datetime(2026, 5, 1, 9, 0, tzinfo=UTC)


class Keeping(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "new" / "workshop.sqlite"
        self.workshop = Workshop(self.path)
        self.addCleanup(self.close)
        self.workshop.recipes.add("r", recipe(), NOW)

    def close(self) -> None:
        self.workshop.close()

    def reopen(self) -> None:
        self.workshop.close()
        self.workshop = Workshop(self.path)

    def test_draft_is_kept_and_a_stale_one_refused(self) -> None:
        revision = self.workshop.recipes.save("r", recipe(superfat=0.07), 1, NOW)
        self.reopen()
        self.assertEqual(self.workshop.recipes.get("r").recipe.superfat, 0.07)
        with self.assertRaises(ConflictError):
            self.workshop.recipes.save("r", recipe(superfat=0.08), revision - 1, NOW)
        self.assertEqual(self.workshop.recipes.save("r", recipe(superfat=0.07), revision, NOW), revision)

    def test_a_poured_version_never_changes(self) -> None:
        for pour in ("p1", "p2"):
            self.workshop.pours.start(pour, "r", NOW)
            self.workshop.pours.append(pour, [Ended(id=next_id(), minute=9)], NOW)
        self.workshop.recipes.save("r", recipe(superfat=0.07), 1, NOW)
        self.workshop.pours.start("p3", "r", NOW)
        self.assertEqual([self.workshop.pours.get(p).version for p in ("p1", "p2", "p3")], [1, 1, 2])
        self.assertEqual(self.workshop.pours.get("p1").recipe, recipe())
        record = self.workshop.recipes.get("r")
        self.assertEqual((record.versions, record.pours), (2, 3))

    def test_the_file_itself_refuses_to_rewrite_history(self) -> None:
        self.workshop.pours.start("p", "r", NOW)
        self.workshop.pours.append("p", [seen(1, "emulsion")], NOW)
        self.workshop.ingredients.add_custom(make(NewFat(name="Lot 7", kin="olive", sv=188.0), "lot-7", SHELF))
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
        self.workshop.pours.start("p", "r", NOW)
        tap = seen(1, "emulsion")
        for _ in range(3):
            pour = self.workshop.pours.append("p", [tap], NOW)
        self.assertEqual(pour.events, (tap,))
        with self.assertRaises(ConflictError):
            self.workshop.pours.append("p", [tap.model_copy(update={"minute": 2.0})], NOW)

    def test_removed_and_brought_back(self) -> None:
        self.workshop.recipes.remove("r", NOW)
        self.assertEqual(self.workshop.recipes.page(), [])
        with self.assertRaises(NotFoundError):
            self.workshop.recipes.get("r")
        self.workshop.recipes.remove("r", None)
        self.assertEqual(len(self.workshop.recipes.page()), 1)

    def test_eight_threads_lose_no_tap(self) -> None:
        self.workshop.pours.start("p", "r", NOW)

        def tap() -> None:
            for _ in range(10):
                self.workshop.pours.append("p", [seen(1, "emulsion")], NOW)

        threads = [threading.Thread(target=tap) for _ in range(8)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(len(self.workshop.pours.get("p").events), 80)

    def test_four_starts_at_once_make_one_pour(self) -> None:
        told: list[str] = []
        threads = [
            threading.Thread(target=lambda n=n: told.append(self.workshop.pours.start(f"p{n}", "r", NOW)))
            for n in range(4)
        ]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual((len(self.workshop.pours.page()), len(set(told))), (1, 1))

    def test_a_pour_may_stand_for_weeks(self) -> None:
        self.workshop.pours.start("p", "r", NOW)
        late = 9 * 24 * 60.0
        self.workshop.pours.append("p", [Ended(id=next_id(), minute=late)], NOW + timedelta(days=9))
        self.assertEqual(self.workshop.pours.running(), {})
        self.assertTrue(self.workshop.pours.get("p").ended)

    def test_one_unreadable_draft_takes_no_list_down(self) -> None:
        self.workshop.recipes.add("s", recipe(name="Sound"), NOW)
        with sqlite3.connect(self.path) as raw:
            raw.execute("""UPDATE recipe SET doc = '{"name": "Odd", "fats": 7}' WHERE id = 'r'""")
        raw.close()
        found = {r.id: r for r in self.workshop.recipes.page()}
        odd = found["r"]
        assert isinstance(odd, Unreadable)
        self.assertEqual((odd.name, set(found)), ("Odd", {"r", "s"}))
        self.assertIn('"fats": 7', self.workshop.recipes.raw("r"))
        with self.assertRaises(RuleError):
            self.workshop.recipes.get("r")

    def test_lists_are_found_and_paged(self) -> None:
        for n in range(7):
            self.workshop.recipes.add(f"n{n}", recipe(name=f"Loam 10_{n} %"), NOW + timedelta(minutes=n))
        names = [
            r.recipe.name for r in self.workshop.recipes.page([("LOAM", [])], 2, 3) if not isinstance(r, Unreadable)
        ]
        self.assertEqual(names, [f"Loam 10_{n} %" for n in (4, 3, 2)])
        self.assertEqual(self.workshop.recipes.count([("0_3", ())]), 1, "what is typed is no pattern")
        self.assertEqual(self.workshop.recipes.count([("nowhere", ["castor"])]), 8, "by what is in it")
        self.assertEqual(self.workshop.recipes.count([("loam", ()), ("plain", ())]), 0)

    def test_many_who_ask_at_once_wait_for_one_refit(self) -> None:
        """A refit that is slow to begin is waited for by all, and fails for none."""

        class Slow(threading.Thread):
            def start(self) -> None:
                threading.Event().wait(0.05)
                super().start()

        learned, failed = Learned(self.workshop, background=True), list[Exception]()

        def ask() -> None:
            try:
                learned.taught()
            except Exception as error:
                failed.append(error)

        asking = [threading.Thread(target=ask) for _ in range(6)]
        with mock.patch("roundstone.store.learned.Thread", Slow):
            for one in asking:
                one.start()
            for one in asking:
                one.join()
        self.assertEqual(failed, [])
        thread = learned.fitting.thread
        assert thread is not None
        thread.join()

    def test_what_was_learned_is_kept_beside_the_log(self) -> None:
        for fragrance in SHELF.fragrances.values():
            self.workshop.ingredients.add_fragrance(fragrance)
        self.workshop.pours.start("p", "r", NOW)
        self.workshop.pours.append("p", quick_pour(), NOW)
        first = Learned(self.workshop).taught()
        self.reopen()
        asleep = Learned(self.workshop)
        with mock.patch("roundstone.store.learned.read", side_effect=AssertionError("no refit at a start")):
            again = asleep.taught()
            # A tap in a pour that runs, and a fragrance nobody poured, ask for no refit of the log either.
            self.workshop.pours.start("q", "r", NOW)
            self.workshop.pours.append("q", [seen(1, "emulsion")], NOW)
            self.assertIs(asleep.taught(), again)
        self.assertEqual(again.knowledge.names, first.knowledge.names)
        np.testing.assert_allclose(again.knowledge.cov, first.knowledge.cov)
        np.testing.assert_allclose(again.hazards.mean, first.hazards.mean)
        self.assertEqual((again.poured, again.usual, again.fresh), (first.poured, first.usual, True))

    def test_while_it_is_refitted_the_last_answer_serves(self) -> None:
        self.workshop.ingredients.add_fragrance(SHELF.fragrances["moderate"])
        self.workshop.pours.start("p", "r", NOW)
        self.workshop.pours.append("p", quick_pour(), NOW)
        learned = Learned(self.workshop, background=True)
        wait = threading.Event()
        self.addCleanup(wait.set)
        self.assertEqual(learned.taught().knowledge.pours, 1)
        self.workshop.ingredients.add_fragrance(SHELF.fragrances["strong"])
        real = read
        with mock.patch("roundstone.store.learned.read", side_effect=lambda *a: (wait.wait(10), real(*a))[1]):
            meanwhile = learned.taught()
            self.assertEqual((meanwhile.fresh, meanwhile.knowledge.pours), (False, 1))
            claim = trade_knowledge(SHELF.fragrances.values()).value("e:strong")
            self.assertEqual(meanwhile.knowledge.value("e:strong"), claim, "what is new is believed as claimed")
            wait.set()
            assert learned.fitting.thread is not None
            learned.fitting.thread.join(10)
        self.assertTrue(learned.taught().fresh)

    def test_a_job_that_fails_is_told_and_not_begun_again(self) -> None:
        learned = Learned(self.workshop)
        with mock.patch("roundstone.store.learned.score", side_effect=ValueError("no such look")) as scoring:
            for _ in range(3):
                self.assertIsNone(learned.card(wait=True))
        self.assertEqual((scoring.call_count, learned.scoring.failed), (1, "no such look"))

    def test_learning_follows_the_log(self) -> None:
        for fragrance in SHELF.fragrances.values():
            self.workshop.ingredients.add_fragrance(fragrance)
        learned = Learned(self.workshop)
        self.assertEqual(learned.record().knowledge.pours, 0)
        self.workshop.pours.start("p", "r", NOW)
        for event in quick_pour()[:-1]:
            self.workshop.pours.append("p", [event], NOW + timedelta(minutes=event.minute))
        self.assertEqual(learned.record().knowledge.pours, 0, "not before it has ended")
        before = learned.record().knowledge.sd("e:moderate")
        self.workshop.pours.append("p", [Ended(id=next_id(), minute=9)], NOW)
        after = learned.record()
        self.assertEqual(after.knowledge.pours, 1)
        self.assertLess(after.knowledge.sd("e:moderate"), before)
        self.assertIs(learned.record(), after, "kept until something changes")
