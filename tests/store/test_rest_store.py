"""What the file keeps of the days after: phases and verdicts, notes, what was foretold, what is planned."""

import io
import json
import sqlite3
import tempfile
import unittest
from contextlib import closing
from datetime import UTC, datetime, timedelta
from itertools import product
from pathlib import Path
from typing import Any
from uuid import uuid4

from roundstone.core.pour import EVENT, Event
from roundstone.core.recipe import Brief
from roundstone.exchange import archive
from roundstone.store import Workshop
from tests.samples import SHELF, next_id, quick_pour, recipe
from tests.store.test_older_files import made_by

NOW = datetime(2026, 6, 1, 12, tzinfo=UTC)


def told(kind: str, minute: float = 50.0, **fields: Any) -> Event:
    return EVENT.validate_python({"id": next_id(), "kind": kind, "minute": minute, **fields})


def cured(asks: tuple[str, ...] = ("scent", "sell", "again")) -> list[Event]:
    return [told("answer", 60_000, at="cured", ask=a, says="yes") for a in asks]


class RestInTheFile(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "w.sqlite"

    def open(self, path: Path | None = None) -> Workshop:
        workshop = Workshop(path or self.path)
        self.addCleanup(workshop.close)
        if not workshop.ingredients.shelf().fragrances:
            for fragrance in SHELF.fragrances.values():
                workshop.ingredients.add_fragrance(fragrance)
        return workshop

    def pour(self, workshop: Workshop, *more: Event, started: datetime = NOW, name: str = "Plain") -> str:
        recipe_id, pour = str(uuid4()), str(uuid4())
        workshop.recipes.add(recipe_id, recipe(name=name), started)
        workshop.pours.start(pour, recipe_id, started, {"middles": [], "spans": [], "pour": None, "drawn": 0.5})
        fresh = [e.model_copy(update={"id": next_id()}) for e in quick_pour()]
        workshop.pours.append(pour, [*fresh, *more], started)
        return pour

    def test_a_log_of_the_sixth_revision_tells_how_its_pours_came_out(self) -> None:
        made_by(self.path, "0006")
        stories: dict[str, list[Event]] = {
            "drawn": [told("verdict", came="drawn")],
            "lost": [told("verdict", came="drawn"), told("verdict", 51, came="lost")],
            "nothing": [],
        }
        back = told("verdict", came="lost")
        stories["taken-back"] = [back, told("undo", target=str(back.id))]
        with closing(sqlite3.connect(self.path)) as file, file:
            doc = json.dumps(recipe().model_dump(mode="json"))
            file.execute("INSERT INTO recipe (id, doc, revision, changed) VALUES ('r', ?, 1, '2026-01-01')", (doc,))
            file.execute(
                "INSERT INTO version (id, recipe_id, number, doc, made) VALUES (1, 'r', 1, ?, '2026-01-01')", (doc,)
            )
            for pour, events in stories.items():
                row = (pour, "2026-01-01 09:00:00.000000", 8.0, len(events))
                file.execute("INSERT INTO pour (id, version_id, started, ended, taps) VALUES (?, 1, ?, ?, ?)", row)
                for e in [told("ended", 8.0), *events]:
                    kept = (str(e.id), pour, json.dumps(e.model_dump(mode="json")), "2026-01-01")
                    file.execute("INSERT INTO event (id, pour_id, doc, received) VALUES (?, ?, ?, ?)", kept)
            file.execute("INSERT INTO pour (id, version_id, started, taps) VALUES ('running', 1, '2026-01-02', 0)")
        workshop = self.open()
        with closing(sqlite3.connect(self.path)) as file:
            rows = {i: (came, phase) for i, came, phase in file.execute("SELECT id, verdict, phase FROM pour")}
        expected = {"drawn": ("drawn", "rests"), "lost": ("lost", "done"), "nothing": (None, "rests")}
        expected |= {"taken-back": (None, "rests"), "running": (None, "poured")}
        self.assertEqual(rows, expected)
        self.assertEqual(workshop.pours.count(came="lost"), 1)

    def test_a_row_follows_its_events_there_and_back(self) -> None:
        workshop = self.open()
        cut = told("cut", 1500, how="clean")
        pour = self.pour(workshop, cut)

        def phase() -> str:
            return next(p for p in ("poured", "rests", "cures", "done") if workshop.pours.count(phases=(p,)))

        self.assertEqual(phase(), "cures")
        workshop.pours.append(pour, [told("undo", 1600, target=str(cut.id))], NOW)
        self.assertEqual(phase(), "rests")
        workshop.pours.append(pour, cured(("scent", "sell")), NOW)
        self.assertEqual(phase(), "rests")
        again = cured(("again",))
        workshop.pours.append(pour, again, NOW)
        self.assertEqual(phase(), "done")
        workshop.pours.append(pour, [told("undo", 60_001, target=str(again[0].id)), told("verdict", came="lost")], NOW)
        self.assertEqual(phase(), "done", "nothing waits for what was lost")

    def test_lists_and_counts_agree_however_they_are_narrowed(self) -> None:
        workshop = self.open()
        for n in range(12):
            more = [told("verdict", came=("drawn", "different", "lost")[n % 3])]
            more += [told("cut", 2000, how="clean")] * (n % 2)
            more += [told("next", says=f"word{n % 4}", about="recipe")] * (n % 5 == 0)
            self.pour(workshop, *more, started=NOW - timedelta(days=20 * n), name=f"Kind {n % 3}")
        finds: tuple[list[tuple[str, list[str]]], ...] = ([], [("kind", []), ("1", [])], [("word1", [])], [("may", [])])
        seen = set()
        for find, phases, came, since in product(
            finds, ((), ("rests", "cures")), ("", "lost", "drawn"), (None, NOW - timedelta(days=100))
        ):
            found = workshop.pours.page(find, phases=phases, came=came, since=since)
            self.assertEqual(len(found), workshop.pours.count(find, phases, came, since))
            page = workshop.pours.page(find, 1, 2, phases=phases, came=came, since=since)
            self.assertEqual([p.id for p in page], [p.id for p in found[1:3]])
            for p in found:
                self.assertTrue(not came or p.state.came == came)
                self.assertTrue(since is None or p.started >= since)
            seen.add(len(found))
        self.assertGreater(len(seen), 5)

    def test_notes_and_what_was_foretold_go_with_the_archive(self) -> None:
        workshop = self.open()
        note = told("next", says="Pour cooler", about="fragrance:moderate")
        pour = self.pour(workshop, note, told("next", says="gone", about="recipe"))
        gone = (
            workshop.pours.notes()[0][0]
            if workshop.pours.notes()[0][0].message == "gone"
            else workshop.pours.notes()[0][1]
        )
        workshop.pours.append(pour, [told("undo", 70, target=str(gone.id))], NOW)
        later = self.pour(workshop, told("heed", 0, note=str(note.id), how="heeded"), started=NOW + timedelta(days=1))
        other = self.open(self.path.with_name("other.sqlite"))
        file = io.BytesIO()
        archive.write(workshop.database, workshop.pours.page(), file)
        file.seek(0)
        archive.read(other, file)
        for each in (workshop, other):
            notes, heeds = each.pours.notes()
            self.assertEqual(
                [(n.message, n.about, n.pour) for n in notes], [("Pour cooler", "fragrance:moderate", pour)]
            )
            self.assertEqual([h.note for h in heeds], [note.id])
            self.assertEqual(set(each.pours.foretold([pour, later])), {pour, later})
            self.assertEqual(each.pours.count(phases=("rests",)), 2)

    def test_planned_is_what_has_a_day_to_come_and_how_often_it_was_poured_for_that_day(self) -> None:
        workshop = self.open()
        for name, ready in (("late", "2026-09-01"), ("soon", "2026-07-01"), ("past", "2026-05-01"), ("none", None)):
            workshop.recipes.add(name, recipe(name=name, brief=Brief(ready=ready)), NOW)

        def planned() -> list[tuple[str, int]]:
            return [(r.id, times) for r, times in workshop.recipes.planned("2026-06-01")]

        self.assertEqual(planned(), [("soon", 0), ("late", 0)])
        workshop.pours.start("p", "soon", NOW + timedelta(hours=1))
        self.assertEqual(planned(), [("soon", 1), ("late", 0)])
        warmer = recipe(name="soon", brief=Brief(ready="2026-07-01"), pour_celsius=39)
        workshop.recipes.save("soon", warmer, 1, NOW + timedelta(hours=2))
        self.assertEqual(planned(), [("soon", 1), ("late", 0)], "another edit is no other day")
        again = recipe(name="soon", brief=Brief(sale="2026-12-01"))
        workshop.recipes.save("soon", again, 2, NOW + timedelta(hours=3))
        self.assertEqual(planned(), [("late", 0), ("soon", 0)])
        workshop.recipes.add("sold", recipe(brief=Brief(ready="2026-05-01", sale="2026-06-01")), NOW)
        self.assertIn(("sold", 0), planned(), "ready, and still to be sold")


if __name__ == "__main__":
    unittest.main()
