"""The data file over years: whose it is, copies of it, what is wrong with it, and what is left after sudden ends."""

import errno
import sqlite3
import stat
import tempfile
import unittest
import zipfile
from datetime import UTC, datetime, timedelta
from io import BytesIO
from pathlib import Path
from unittest import mock

from sqlalchemy import text
from sqlalchemy.exc import IntegrityError

from roundstone.core.pour import Ended, NextTime, Undone
from roundstone.core.recipe import FatShare, Scent, pattern_of
from roundstone.core.sheet import Lot, weigh
from roundstone.core.shelf import Claim, Family, Fragrance, NewFat, make
from roundstone.core.values import RuleError
from roundstone.exchange import archive
from roundstone.store import DataFileError, Photo, Workshop, dump, keeping
from roundstone.store.keeper import Keeper
from roundstone.store.learned import Learned
from roundstone.store.records import Document
from tests.samples import SHELF, next_id, quick_pour, recipe, seen

NOW = datetime(2026, 5, 1, 9, 0, tzinfo=UTC)
ROOT = Path(__file__).parents[2]


class Filed(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = self.folder / "workshop.sqlite"

    def filled(self, path: Path | None = None) -> Workshop:
        """Something of everything a workshop keeps."""
        workshop = Workshop(path or self.path)
        self.addCleanup(workshop.close)
        for fragrance in SHELF.fragrances.values():
            workshop.ingredients.add_fragrance(fragrance)
        workshop.recipes.add("r", recipe(), NOW)
        workshop.recipes.add("s", recipe(name="Half typed", fats=()), NOW)
        for n in (1, 2):
            workshop.pours.start(f"p{n}", "r", NOW + timedelta(days=n))
            workshop.pours.append(f"p{n}", quick_pour(), NOW)
        end = workshop.pours.get("p1").events[-1]
        workshop.pours.append("p1", [Undone(id=next_id(), minute=9, target=end.id)], NOW)
        workshop.lots.save_all({"lot": Lot(item="fat:olive", grams=900, counted=NOW)})
        workshop.pictures.add(Photo("ph", "p2", 3.0, "cut"), b"\xff\xd8 picture")
        workshop.documents.keep(Document("doc", "lot", "analysis.pdf", "application/pdf"), b"%PDF-1.7 of olive")
        workshop.settings.keep("scales", {"scales": [{"step": 0.01, "capacity": 200}]})
        return workshop


class Files(Filed):
    def test_whatever_is_wrong_with_a_file_is_said_in_one_sentence_and_left(self) -> None:
        self.filled().close()
        whole = self.path.read_bytes()
        newer, other = self.folder / "newer", self.folder / "other"
        for path, change in (
            (newer, "UPDATE alembic_version SET version_num = '9999'"),
            (other, "DROP TABLE alembic_version"),
        ):
            path.write_bytes(whole)
            with sqlite3.connect(path) as raw:
                raw.execute(change)
            raw.close()
        text = self.folder / "letter"
        text.write_bytes(b"Dear friend, this is no workshop at all.")
        torn = self.folder / "torn"
        torn.write_bytes(whole[:8192] + b"\x00" * 8192 + whole[16384:])
        for path, words in (
            (newer, "newer Round Stone"),
            (other, "another program"),
            (text, "another program"),
            (torn, "damaged"),
            (self.folder, "not a file"),
        ):
            before = path.read_bytes() if path.is_file() else b""
            with self.subTest(path.name), self.assertRaises(DataFileError) as said:
                Workshop(path)
            self.assertIn(words, str(said.exception))
            self.assertNotIn("\n", str(said.exception))
            if path.is_file():
                self.assertEqual(path.read_bytes(), before, "not a byte of it was changed")

    def test_read_only(self) -> None:
        self.filled().close()
        before = self.path.read_bytes()
        # Root may write everything, so it is asked of the system, whose answer is put here.
        with mock.patch("os.access", return_value=False), self.assertRaises(DataFileError) as said:
            Workshop(self.path)
        self.assertIn("read-only", str(said.exception))
        self.assertEqual(self.path.read_bytes(), before)
        for number, words in ((errno.EROFS, "read-only"), (errno.ENOSPC, "full"), (errno.ENOTDIR, "name another")):
            with (
                mock.patch("os.open", side_effect=OSError(number, "refused")),
                self.assertRaises(DataFileError) as said,
                keeping.held(self.path),
            ):
                self.fail("held what cannot be held")
            self.assertIn(words, str(said.exception))

    def test_only_its_owner_can_read_it(self) -> None:
        workshop = self.filled()
        for file in self.folder.glob("workshop.sqlite*"):
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600, file.name)
        workshop.close()
        self.assertEqual([f.name for f in self.folder.glob("workshop.sqlite*")], ["workshop.sqlite"], "all in one file")

    def test_a_second_server_is_told_where_the_first_is(self) -> None:
        with keeping.held(self.path) as hold:
            hold.tell("http://127.0.0.1:8765")
            with self.assertRaises(DataFileError) as said, keeping.held(self.path):
                pass
            self.assertIn("http://127.0.0.1:8765", str(said.exception))
        with keeping.held(self.path):
            pass

    def test_a_copy_is_made_before_the_tables_change(self) -> None:
        from tests.store.test_older_files import made_by

        made_by(self.path, "0004")
        Workshop(self.path).close()
        (before,) = (self.folder / "copies").iterdir()
        self.assertEqual(keeping.check(before, write=False), "0004")
        Workshop(self.path).close()
        self.assertEqual(len(list((self.folder / "copies").iterdir())), 1)


class CopiesMade(Filed):
    def test_a_copy_of_a_file_in_use_is_whole_and_nothing_is_written_over(self) -> None:
        workshop = self.filled()
        copy = keeping.copy(self.path, self.folder / "there" / "copy.sqlite")
        self.assertEqual(keeping.counts(copy)["pours"], 2)
        with self.assertRaises(FileExistsError):
            keeping.copy(self.path, copy)
        workshop.pours.append("p1", [seen(9, "thick", "Base")], NOW)
        workshop.close()
        aside = keeping.restore(copy, self.path, NOW)
        assert aside is not None
        self.assertEqual((keeping.counts(self.path)["taps"], keeping.counts(aside)["taps"]), (19, 20))
        torn = self.folder / "torn"
        torn.write_bytes(copy.read_bytes()[:5000])
        with self.assertRaises(DataFileError):
            keeping.restore(torn, self.path, NOW)
        self.assertEqual(keeping.counts(self.path)["taps"], 19)
        with keeping.held(self.path), self.assertRaises(DataFileError):
            keeping.restore(copy, self.path, NOW)

    def test_one_a_day_while_in_use_and_so_many_are_kept(self) -> None:
        now = [NOW]
        workshop = self.filled()
        keeper = Keeper(workshop, lambda: now[0])
        keeper.set(self.folder / "far away", 3)
        note = self.folder / "far away" / "my notes.sqlite"
        note.write_text("mine")
        for day in range(6):
            for hour in (0, 5):
                now[0] = NOW + timedelta(days=day, hours=hour)
                workshop.pours.append("p1", [seen(9, "thick", "Base")], now[0])
                keeper.tick()
        for day in (6, 7, 8):
            now[0] = NOW + timedelta(days=day)
            keeper.tick()
        made = [k.made.day for k in keeper.copies().all()]
        self.assertEqual(made, [7, 6, 5, 1], "none on the days nothing was written; the newest three, and the first")
        for minute in range(6):
            now[0] = NOW + timedelta(days=9, minutes=minute)
            keeper.copy(keeping.BY_HAND)
        keeper.back(keeper.copies().all()[-1].path.name)
        for minute in range(6, 12):
            now[0] = NOW + timedelta(days=9, minutes=minute)
            keeper.copy(keeping.BY_HAND)
        why = [k.why for k in keeper.copies().all()]
        self.assertEqual(
            why, ["by-hand"] * 3 + ["before-going-back", "", "", "", ""], "by hand pushes out its own kind"
        )
        self.assertTrue(note.exists())
        with self.assertRaises(DataFileError):
            keeper.set(note / "inside a file", 3)

    def test_what_is_quiet_is_merged(self) -> None:
        workshop = self.filled()
        keeper = Keeper(workshop, lambda: NOW)
        workshop.pours.append("p1", [seen(9, "thick", "Base")], NOW)
        log = self.path.with_name("workshop.sqlite-wal")
        keeper.tick()
        self.assertGreater(log.stat().st_size, 0, "still in use")
        keeper.tick()
        self.assertEqual(log.stat().st_size, 0)

    def test_removed_pictures_are_gone_the_day_after(self) -> None:
        workshop = self.filled()
        workshop.pictures.remove("ph", NOW)
        workshop.pictures.forget(NOW - timedelta(days=1))
        workshop.pictures.remove("ph", None)
        workshop.pictures.remove("ph", NOW)
        workshop.pictures.forget(NOW + timedelta(seconds=1))
        self.assertEqual(workshop.database.dump()["photo"], [])


class Archive(Filed):
    def written(self, workshop: Workshop) -> bytes:
        out = BytesIO()
        archive.write(workshop.database, workshop.pours.page(), out)
        return out.getvalue()

    def test_every_table_has_its_part(self) -> None:
        self.assertEqual(archive.PARTS, tuple(dump.TABLES))

    def test_an_empty_workshop_becomes_an_equal_one(self) -> None:
        first = self.filled()
        body = self.written(first)
        second = Workshop(self.folder / "second.sqlite")
        self.addCleanup(second.close)
        taken = archive.read(second, BytesIO(body))
        self.assertEqual(sum(taken.there.values()), 0)
        self.assertEqual(self.written(second), body, "byte for byte")
        self.assertEqual(second.pours.page(), first.pours.page())
        self.assertEqual((second.lots.all(), second.ingredients.shelf()), (first.lots.all(), first.ingredients.shelf()))
        self.assertEqual(second.documents.get("doc"), first.documents.get("doc"))
        self.assertEqual(second.pours.running(), {"r": ["p1"]})
        learned = [Learned(w).taught() for w in (first, second)]
        self.assertEqual(learned[0].poured, learned[1].poured)
        self.assertAlmostEqual(learned[0].knowledge.value("e:moderate"), learned[1].knowledge.value("e:moderate"))

    def test_read_twice_it_doubles_nothing_and_mine_stays(self) -> None:
        workshop = self.filled()
        body = self.written(workshop)
        workshop.recipes.save("s", recipe(name="Typed on"), 1, NOW)
        workshop.pours.append("p1", [Ended(id=next_id(), minute=10)], NOW)
        before = workshop.database.dump()
        taken = archive.read(workshop, BytesIO(body))
        self.assertEqual({k: n for k, n in taken.new.items() if n}, {"recipe": 1}, "the draft as it was, beside mine")
        self.assertEqual(workshop.recipes.get("s").recipe.name, "Typed on")
        self.assertEqual(taken.beside, ["recipe Half typed as Half typed (2)"])
        after = workshop.database.dump()
        for table, rows in before.items():
            self.assertEqual([r for r in after[table] if r in rows], rows, table)
        self.assertEqual(sum(archive.read(workshop, BytesIO(body)).new.values()), 0)
        self.assertEqual(workshop.database.dump(), after)

    def test_two_copies_that_went_on_by_themselves(self) -> None:
        """Each poured a second version of one recipe, with fats of their own under one id: both stand as weighed."""
        here = self.filled()
        body = self.written(here)
        there = Workshop(self.folder / "there.sqlite")
        self.addCleanup(there.close)
        archive.read(there, BytesIO(body))
        self.assertEqual(there.database.origin(), here.database.origin(), "a copy is the same workshop")
        for workshop, sv, olive in ((here, 190.0, 0.8), (there, 197.0, 0.3)):
            fat = make(NewFat(name="My tallow", kin="tallow", sv=sv), "my-tallow", SHELF)
            workshop.ingredients.add_custom(fat)
            rows = (FatShare(fat="olive", share=olive), FatShare(fat="my-tallow", share=1 - olive))
            workshop.recipes.save("s", recipe(name="Plain", fats=rows), 1, NOW)
            workshop.pours.start(f"p-{sv:.0f}", "s", NOW)
        weights = {}
        for workshop in (here, there):
            for pour in workshop.pours.page():
                sheet = workshop.recipes.sheet(pour.row or 0)
                assert sheet is not None
                weights[pour.id] = sheet
        taken = archive.read(here, BytesIO(self.written(there)))
        self.assertEqual(taken.beside, ["fat My tallow as My tallow (2)", "recipe Plain as Plain (2)"])
        for pour in here.pours.page():
            sheet = here.recipes.sheet(pour.row or 0)
            assert sheet is not None
            self.assertEqual([x.grams for x in sheet.lines], [x.grams for x in weights[pour.id].lines], pour.id)
            # What is weighed of its recipe now is what was weighed then: no other fat stands in for its own.
            again = weigh(pour.recipe, here.ingredients.shelf()).sheet
            assert again is not None
            self.assertAlmostEqual(again.naoh, sheet.naoh, delta=1e-9)
        mine, theirs = (next(p for p in here.pours.page() if p.id == i) for i in ("p-190", "p-197"))
        self.assertNotEqual(mine.version, theirs.version)
        self.assertEqual((mine.recipe.fats[0].share, theirs.recipe.fats[0].share), (0.8, 0.3))
        self.assertEqual(sum(archive.read(here, BytesIO(self.written(there))).new.values()), 0, "once")

    def test_another_workshops_bottle_of_one_name_is_another_bottle(self) -> None:
        here = self.filled()
        there = Workshop(self.folder / "there.sqlite")
        self.addCleanup(there.close)
        for workshop, limit in ((here, 0.02), (there, 0.05)):
            fig = Fragrance(id="fig", name="Fig", family=Family.FRUITY, claim=Claim.NONE, limit=limit)
            workshop.ingredients.add_fragrance(fig)
        there.recipes.add("t", recipe(scents=(Scent(fragrance="fig", load=0.03),)), NOW)
        there.pours.start("far", "t", NOW)
        said = NextTime(id=next_id(), minute=9, says="less of it", about="fragrance:fig")
        there.pours.append("far", [Ended(id=next_id(), minute=8), said], NOW)
        archive.read(here, BytesIO(self.written(there)))
        theirs = here.pours.get("far").recipe.scents[0].fragrance
        self.assertNotEqual(theirs, "fig")
        self.assertEqual(
            (here.ingredients.shelf().fragrances["fig"].limit, here.ingredients.shelf().fragrances[theirs].limit),
            (0.02, 0.05),
        )
        self.assertEqual(here.pours.get("far").state.notes[0].about, f"fragrance:{theirs}")
        sheet = here.recipes.sheet(here.pours.get("far").row or 0)
        assert sheet is not None
        self.assertEqual([x.item for x in sheet.lines if x.kind == "fragrance"], [f"fragrance:{theirs}"])

    def test_weights_stay_as_they_were_weighed(self) -> None:
        """Whatever becomes of scales and tables: a record does not change, and a new pour has weights of its own."""
        workshop = self.filled()
        before = workshop.recipes.sheet(workshop.pours.get("p1").row or 0)
        coarse = {"scales": [{"step": 10, "capacity": 5000}]}
        workshop.settings.keep("scales", coarse)
        self.assertEqual(workshop.recipes.sheet(workshop.pours.get("p1").row or 0), before)
        workshop.pours.append("p1", [Ended(id=next_id(), minute=9)], NOW)
        workshop.pours.start("p3", "r", NOW)
        assert before is not None
        after = workshop.recipes.sheet(workshop.pours.get("p3").row or 0)
        assert after is not None
        self.assertNotEqual([x.reading for x in after.lines], [x.reading for x in before.lines])
        with self.assertRaises(IntegrityError), workshop.database.writing() as s:
            s.execute(text("UPDATE version SET sheet = NULL"))

    def test_an_archive_from_before_there_were_patterns_is_read(self) -> None:
        workshop = self.filled()
        workshop.patterns.keep(pattern_of(recipe(), "mine", "Mine"))
        self.assertEqual(list(workshop.patterns.all()), ["mine"])
        whole, older = zipfile.ZipFile(BytesIO(self.written(workshop))), BytesIO()
        with zipfile.ZipFile(older, "w") as out:
            for name in whole.namelist():
                if name != "pattern.json":
                    out.writestr(name, whole.read(name))
        second = Workshop(self.folder / "second.sqlite")
        self.addCleanup(second.close)
        older.seek(0)
        self.assertEqual(archive.read(second, older).new["recipe"], 2)
        self.assertEqual(second.patterns.all(), {})
        archive.read(second, BytesIO(self.written(workshop)))
        self.assertEqual(second.patterns.all(), workshop.patterns.all())

    def test_what_is_no_archive_changes_nothing(self) -> None:
        workshop = self.filled()
        body = self.written(workshop)
        empty = Workshop(self.folder / "empty.sqlite")
        self.addCleanup(empty.close)
        with mock.patch("roundstone.exchange.archive.FORMAT", "roundstone.workshop/9"):
            newer = self.written(workshop)
        for wrong in (b"", b"PK", body[:-200], newer):
            with self.assertRaises(RuleError):
                archive.read(empty, BytesIO(wrong))
        self.assertEqual(empty.recipes.count(), 0)


if __name__ == "__main__":
    unittest.main()
