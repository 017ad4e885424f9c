"""The commands, as a person starts them."""

import contextlib
import io
import json
import os
import socket
import subprocess
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from roundstone.cli import data_directory, main
from roundstone.exchange import recipe_file
from tests.browser.real import ROOT, Server
from tests.samples import SHELF, recipe


def said(*arguments: str) -> tuple[int, str, str]:
    """Exit code, what was printed, and what was complained of."""
    out, complaint = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(complaint):
        code = main(list(arguments))
    return code, out.getvalue(), complaint.getvalue()


class Commands(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_a_file_that_is_no_workshop(self) -> None:
        file = self.folder / "notes.sqlite"
        file.write_text("Dear diary, today the batter seized again. " * 50)
        before = file.read_bytes()
        code, _, complaint = said("serve", "--data", str(file))
        self.assertEqual(code, 2)
        self.assertIn("belongs to another program", complaint)
        self.assertIn("left as it is", complaint)
        self.assertEqual(file.read_bytes(), before)

    def test_a_port_that_is_taken(self) -> None:
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            port = str(taken.getsockname()[1])
            code, _, complaint = said("serve", "--data", str(self.folder / "w.sqlite"), "--port", port)
        self.assertEqual(code, 1)
        self.assertIn("Try --port", complaint)

    def test_serves_the_named_file_and_keeps_it(self) -> None:
        file = self.folder / "deep" / "mine.sqlite"
        server = Server("serve", file)
        self.addCleanup(server.stop)
        self.assertTrue(file.exists())
        with socket.create_connection(("127.0.0.1", server.port)) as line:
            line.sendall(b"GET / HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n")
            answer = line.makefile("rb").read()
        self.assertIn(b"200 OK", answer.split(b"\r\n")[0])
        self.assertIn(b"default-src 'self'", answer)

    def test_where_data_lives(self) -> None:
        with mock.patch.dict(os.environ, {"XDG_DATA_HOME": "/srv/data"}):
            self.assertEqual(data_directory(), Path("/srv/data/roundstone"))
        with mock.patch.dict(os.environ, {"XDG_DATA_HOME": "not/absolute"}):
            self.assertTrue(data_directory().is_absolute())

    def test_the_contract_is_what_the_front_end_was_made_from(self) -> None:
        code, document, _ = said("contract")
        self.assertEqual(code, 0)
        self.assertEqual(json.loads(document), json.loads((ROOT / "ui/openapi.json").read_text()))


class WithoutAServer(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_weighs_compares_and_cools_from_files(self) -> None:
        one, two = self.folder / "one.json", self.folder / "two.json"
        one.write_text(recipe_file.write(recipe(scents=()), SHELF))
        two.write_text(recipe_file.write(recipe(scents=(), superfat=0.08), SHELF))
        code, text, _ = said("weigh", str(one))
        told = json.loads(text)
        self.assertEqual(code, 0)
        self.assertEqual(told["work_order"][0]["title"], "Before anything")
        self.assertGreater(told["heat"]["peak"], 60)
        self.assertIn("Near", text)
        self.assertNotIn('"kind": "quantity"', text, "sentences are written out")
        self.assertIn("Sodium Olivate", told["label"]["became"])
        code, text, _ = said("compare", str(one), str(two))
        changed = [s["name"] for s in json.loads(text)["settings"] if s["differs"]]
        self.assertIn("Superfat", changed)
        code, text, _ = said(
            "cool", str(one), "--band", "32", "40", "--jug", "20:60", "--pot", "10:55", "--pot", "30:47"
        )
        self.assertEqual(code, 0)
        self.assertIn("fats were melted", json.loads(text)["message"])
        self.assertNotIn('"kind": "quantity"', text)
        self.assertEqual(said("cool", str(one), "--jug", "warm")[0], 2)
        self.assertEqual(said("compare", str(one), str(self.folder / "none.json"))[0], 2)

    def test_plans_from_a_file(self) -> None:
        file = self.folder / "one.json"
        file.write_text(recipe_file.write(recipe(scents=()), SHELF))
        code, text, _ = said("plan", str(file))
        told = json.loads(text)
        self.assertEqual(code, 0)
        self.assertAlmostEqual(sum(told["outlook"][k] for k in ("drawn", "different", "lost")), 1, places=9)
        self.assertEqual(next(s["label"] for s in told["steps"] if s["puts"]), "pour Base")
        self.assertIn(told["weakest"]["step"], [s["key"] for s in told["steps"]])
        self.assertEqual([r["name"] for r in told["ledger"]["rows"]], ["Bone", "Base"])
        self.assertTrue(told["face"].startswith("drop-swirl."))
        file.write_text(recipe_file.write(recipe(scents=(), superfat=0.5), SHELF))
        self.assertEqual(said("plan", str(file))[0], 1)

    def test_a_data_file_that_is_not_there_is_named_and_not_made(self) -> None:
        one, typo = self.folder / "one.json", self.folder / "typo.db"
        one.write_text(recipe_file.write(recipe(), SHELF))
        code, _, complaint = said("weigh", str(one), "--data", str(typo))
        self.assertEqual((code, typo.exists()), (2, False))
        self.assertIn("typo.db", complaint)

    def test_from_any_folder_by_its_own_command(self) -> None:
        (self.folder / "mine.json").write_text(recipe_file.write(recipe(scents=(), superfat=0.3), SHELF))
        line = [str(ROOT / "bin/roundstone"), "weigh", "mine.json"]
        done = subprocess.run(line, cwd=self.folder, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 1, done.stderr)
        told = json.loads(done.stdout)
        self.assertIsNone(told["sheet"], "no lye beside a mistake")
        self.assertEqual([f["pointer"] for f in told["faults"]], ["/superfat"])
