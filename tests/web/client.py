"""A workshop of its own for each test, spoken to through the API."""

import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from functools import cache
from pathlib import Path
from random import Random
from typing import Any
from unittest.mock import patch

from flask.testing import FlaskClient

from roundstone.core.recipe import Carrier, Dose
from roundstone.store import Workshop
from roundstone.web import create_app
from tests.samples import SHELF, next_id, recipe

PLAIN = recipe(
    additives=(Dose(additive="mica", amount=4, into=("Base",), carrier=Carrier(fat="olive", parts=2)),)
).model_dump(mode="json")


def items(view: Any) -> list[Any]:
    """What a ready check has to be ticked, stage by stage."""
    return [i for s in view["stages"] for p in s["parts"] for i in p["items"]]


@cache
def empty_file() -> bytes:
    """A data file with all test fragrances on the shelf, made once; each test gets a copy of its own."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "workshop.sqlite"
        workshop = Workshop(path)
        for fragrance in SHELF.fragrances.values():
            workshop.ingredients.add_fragrance(fragrance)
        workshop.close()
        return path.read_bytes()


class ApiTest(unittest.TestCase):
    """`now` is the app's clock; all test fragrances are on the shelf."""

    client: FlaskClient

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        # A pour's dice are of its id: the same in every run.
        same_ids = patch("os.urandom", Random(self.id()).randbytes)
        same_ids.start()
        self.addCleanup(same_ids.stop)
        self.path = Path(folder.name) / "workshop.sqlite"
        self.now = datetime(2026, 5, 1, 9, 0, tzinfo=UTC)
        self.began: dict[str, datetime] = {}
        self.path.write_bytes(empty_file())
        self.open()
        self.addCleanup(self.close)

    def close(self) -> None:
        self.workshop.close()

    def open(self) -> None:
        self.workshop = Workshop(self.path)
        self.client = create_app(self.workshop, lambda: self.now).test_client()

    def send(self, method: str, path: str, body: Any = None, status: int = 200) -> Any:
        answer = self.client.open(f"/api{path}", method=method, json=body)
        self.assertEqual(answer.status_code, status, answer.get_data(as_text=True))
        if status >= 400:
            self.assertEqual(answer.content_type, "application/problem+json")
            self.assertEqual((answer.json or {})["status"], status)
        if (method, path, status) == ("POST", "/pours", 201):
            self.began[str((answer.json or {})["id"])] = self.now
        return answer.json

    def started(self) -> str:
        made = self.send("POST", "/recipes", {"copy_of": None, "name": "Mine"}, 201)
        self.send("PUT", f"/recipes/{made['id']}", {"revision": 1, "recipe": PLAIN})
        return str(self.send("POST", "/pours", {"recipe_id": made["id"]}, 201)["id"])

    def tap(self, pour: str, minute: float, status: int = 200, **event: Any) -> Any:
        """A tap at that minute of the pour: the app's clock has come so far by then."""
        self.now = max(self.now, self.began.get(pour, self.now) + timedelta(minutes=minute))
        event = {"id": str(next_id()), "minute": minute, "sure": False, **event}
        return self.send("POST", f"/pours/{pour}/events", {"event": event}, status)
