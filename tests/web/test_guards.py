"""What comes from elsewhere, is damaged, or is too much: refused by name, and never a mistake of our own."""

import http.client
import socket
import tempfile
import threading
import time
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock
from uuid import uuid4

from sqlalchemy.exc import OperationalError
from waitress.server import create_server

from bench.fuzz import requests_to
from roundstone.cli.serving import LIMITS
from roundstone.store import Workshop
from roundstone.store.pours import Pours
from roundstone.web import create_app
from roundstone.web.clock import steady_now
from tests.samples import many
from tests.web.client import PLAIN, ApiTest

OWN = "http://localhost"


class FromElsewhere(ApiTest):
    def status(self, method: str, path: str = "/api/recipes", **headers: str) -> int:
        told = {k.replace("_", "-"): v for k, v in headers.items()}
        told |= {"Content-Type": "application/json"} if method == "POST" else {}
        data = b"{}" if method == "POST" else None
        return self.client.open(path, method=method, data=data, headers=told).status_code

    def test_a_name_bound_to_this_machine_by_another_page_gets_nothing(self) -> None:
        for host, status in (
            ("127.0.0.1:8765", 200),
            ("localhost", 200),
            ("[::1]:8765", 200),
            ("workshop.example", 421),
            ("127.0.0.1.example:8765", 421),
            ("127.0.0.1@elsewhere.example", 421),
            ("", 421),
        ):
            for path in ("/api/recipes", "/", "/assets/x.js"):
                got = self.client.get(path, headers={"Host": host}).status_code
                self.assertEqual(got == 421, status == 421, f"{host} {path}: {got}")

    def test_what_has_its_content_in_its_name_is_cached_for_ever_and_the_page_never(self) -> None:
        """RFC 9111 and RFC 8246: with no-cache beside it, immutable would be asked for anew each time."""
        with tempfile.TemporaryDirectory() as folder, mock.patch("roundstone.web.app.STATIC", Path(folder)):
            (Path(folder) / "assets").mkdir()
            for name in ("index.html", "assets/main-3f2a.js"):
                (Path(folder) / name).write_text("x")
            told = {p: self.client.get(p).headers["Cache-Control"] for p in ("/", "/assets/main-3f2a.js")}
        self.assertEqual(told["/"], "no-cache")
        self.assertEqual(set(told["/assets/main-3f2a.js"].split(", ")), {"public", "max-age=31536000", "immutable"})

    def test_changes_come_from_this_apps_own_pages(self) -> None:
        browser = "Mozilla/5.0 of some kind"
        for headers, status in (
            ({}, 201),
            ({"Origin": OWN, "Sec_Fetch_Site": "same-origin", "User_Agent": browser}, 201),
            ({"Origin": OWN, "User_Agent": browser}, 201),
            ({"Origin": "http://elsewhere.example"}, 403),
            ({"Origin": "null"}, 403),
            ({"Origin": OWN, "Sec_Fetch_Site": "cross-site"}, 403),
            ({"Origin": OWN, "Sec_Fetch_Site": "same-site"}, 403),
            ({"Sec_Fetch_Site": "same-origin"}, 403),
            ({"User_Agent": browser}, 403),
        ):
            self.assertEqual(self.status("POST", **headers), status, headers)
        self.assertEqual(self.status("GET", User_Agent=browser, Sec_Fetch_Site="none"), 200)


class Odd(ApiTest):
    def test_values_no_clock_or_letter_has(self) -> None:
        made = self.send("POST", "/recipes", {}, 201)
        event = {"id": str(uuid4()), "minute": 1, "kind": "seen", "stage": "light"}
        for started in ("0001-01-01T00:00:00", "0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-12:00", "soon"):
            body = {"recipe_id": made["id"], "started": started, "events": [event]}
            self.send("POST", "/pours/past", body, 422)
        text = b'{"name": "\\ud800"}'
        for path in ("/api/recipes", "/api/shelf/import"):
            self.assertEqual(self.client.post(path, data=text, content_type="application/json").status_code, 400)
        box = {"shape": "box", "count": 1, "length": 24, "width": 8, "fill": 6, "cut": 5e-324}
        thin = PLAIN | {"size": {"kind": "moulds", "moulds": [box], "spare": 0}}
        faults = self.send("POST", "/weigh", {"recipe": thin})["weighing"]["faults"]
        self.assertEqual([f["pointer"] for f in faults], ["/size/moulds/0/cut"])
        for path in ("/" + "a" * 256, "/" + "a" * 5000, "/%00", "/..%2f..%2fetc%2fpasswd"):
            self.assertIn(self.client.get(path).status_code, (200, 404, 503))

    def test_what_the_disk_says_is_said_with_what_to_do(self) -> None:
        pour = self.started()
        for words, status, message in (
            ("database or disk is full", 507, "Make room"),
            ("database is locked", 503, "busy"),
            ("attempt to write a readonly database", 503, "read-only"),
            ("disk I/O error", 503, "look after the disk"),
        ):
            trouble = OperationalError("INSERT", {}, Exception(words))
            with mock.patch.object(Pours, "append", side_effect=trouble):
                self.assertIn(message, self.tap(pour, 1, status, kind="seen", stage="light")["detail"])
        self.assertEqual(len(self.tap(pour, 1, kind="seen", stage="light")["events"]), 1)

    def test_a_disk_that_fills_up_in_mid_pour(self) -> None:
        """The file's own limit stands in for a full disk; with room again the same tap is taken once."""
        pour = self.started()
        engine = self.workshop.database._engine
        with engine.connect() as connection:
            pages = connection.exec_driver_sql("PRAGMA page_count").scalar()
        self.workshop.database.merge()
        engine.dispose()
        from sqlalchemy import event

        def small(connection: object, _: object) -> None:
            connection.execute(f"PRAGMA max_page_count={pages}")  # type: ignore[attr-defined]

        event.listen(engine, "connect", small)
        tap = {"id": str(uuid4()), "minute": 1.0, "sure": True, "kind": "seen", "stage": "light", "portion": None}
        statuses = []
        for n in range(400):
            one = tap | {"id": str(uuid4()), "minute": 1.0 + n / 1000}
            answer = self.client.post(f"/api/pours/{pour}/events", json={"event": one})
            statuses.append(answer.status_code)
            if answer.status_code != 200:
                break
        self.assertEqual(statuses[-1], 507)
        event.remove(engine, "connect", small)
        engine.dispose()
        for _ in range(2):
            view = self.send("POST", f"/pours/{pour}/events", {"event": one})
        self.assertEqual(len(view["events"]), len(statuses))

    def test_requests_made_up_from_the_contract(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            statuses, broken = requests_to(Path(folder), many(120, 2000))
        self.assertEqual(broken, [])
        self.assertGreater(sum(statuses.values()), 100)


class Crowds(unittest.TestCase):
    """The server's limits, on a real one."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        workshop = Workshop(Path(folder.name) / "w.sqlite")
        self.addCleanup(workshop.close)
        self.server = create_server(create_app(workshop), host="127.0.0.1", port=0, **LIMITS)
        self.port = int(self.server.effective_port)
        thread = threading.Thread(target=self.server.run, daemon=True)
        thread.start()
        self.addCleanup(thread.join, 5)
        self.addCleanup(self.stop)

    def stop(self) -> None:
        self.server.task_dispatcher.shutdown()

        def close() -> None:
            for channel in list(self.server.active_channels.values()):
                channel.handle_close()
            self.server.close()

        self.server.trigger.pull_trigger(close)

    def test_silent_connections_keep_nobody_waiting(self) -> None:
        silent = [socket.create_connection(("127.0.0.1", self.port)) for _ in range(150)]
        for one in silent:
            self.addCleanup(one.close)
            one.send(b"GET / HT")
        begun = time.monotonic()
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=10)
        self.addCleanup(connection.close)
        connection.request("GET", "/api/recipes")
        self.assertEqual(connection.getresponse().status, 200)
        self.assertLess(time.monotonic() - begun, 5)

    def test_a_body_too_large_is_refused_at_its_first_line(self) -> None:
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=10)
        self.addCleanup(connection.close)
        connection.putrequest("POST", "/api/forecast")
        connection.putheader("Content-Length", str(900_000_000))
        connection.endheaders(b"{")
        self.assertEqual(connection.getresponse().status, 413)


class Clock(unittest.TestCase):
    def test_setting_the_machines_clock_moves_nothing(self) -> None:
        now = steady_now()
        first = now()
        with mock.patch("roundstone.web.clock.datetime") as wall:
            wall.now.return_value = datetime(2001, 1, 1, tzinfo=UTC)
            later = now()
        self.assertTrue(timedelta(0) <= later - first < timedelta(seconds=5))


if __name__ == "__main__":
    unittest.main()
