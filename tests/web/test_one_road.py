"""One recipe has one forecast: every place, command and paper tells it to the digit."""

import io
import json
import tempfile
import unittest
from contextlib import redirect_stdout
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, ClassVar

from flask.testing import FlaskClient

from roundstone.cli import main
from roundstone.demo.workshop import seed
from roundstone.store import Workshop
from roundstone.store.learned import Learned
from roundstone.web import create_app

NOW = datetime(2026, 5, 1, 9, 0, tzinfo=UTC)


class OneRoad(unittest.TestCase):
    """Over all demo recipes, by a log that has taught: hazards, hands and verdicts count everywhere or nowhere."""

    folder: ClassVar["tempfile.TemporaryDirectory[str]"]
    path: ClassVar[Path]
    workshop: ClassVar[Workshop]
    client: ClassVar[FlaskClient]

    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.folder.cleanup)
        cls.path = Path(cls.folder.name) / "workshop.sqlite"
        cls.workshop = Workshop(cls.path)
        cls.addClassCleanup(cls.workshop.close)
        seed(cls.workshop, NOW)
        cls.workshop.settings.keep("worth", {"drawn": 1.0, "different": 0.4, "lost": 0.1})
        Learned(cls.workshop).record()
        cls.client = create_app(cls.workshop, lambda: NOW).test_client()

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        answer = self.client.open(f"/api{path}", method=method, json=body)
        self.assertLess(answer.status_code, 300, answer.get_data(as_text=True))
        return answer.json

    def on_the_command_line(self, *line: str) -> Any:
        told = io.StringIO()
        with redirect_stdout(told):
            self.assertEqual(main([*line, "--data", str(self.path)]), 0)
        return json.loads(told.getvalue())

    def test_every_place_tells_the_same_odds(self) -> None:
        for row in self.ask("GET", "/recipes")["recipes"]:
            with self.subTest(recipe=row["name"]):
                recipe_id = row["id"]
                view = self.ask("GET", f"/recipes/{recipe_id}")
                of, asked = view["recipe"], {"recipe": view["recipe"], "seed": recipe_id}
                forecast = self.ask("POST", "/forecast", asked)["forecast"]
                outlook = forecast["outlook"]
                self.assertEqual(self.ask("POST", "/plan", asked)["levers"]["outlook"], outlook)
                sides = {"left": {"recipe_id": recipe_id}, "right": {"recipe_id": recipe_id, "recipe": of}}
                compared = self.ask("POST", "/compare", sides)
                self.assertEqual(compared["left_forecast"], forecast)
                self.assertEqual(compared["right_forecast"], forecast)
                file = Path(self.folder.name) / "recipe.json"
                file.write_text(json.dumps(of))
                planned = self.on_the_command_line("plan", str(file), "--seed", recipe_id)
                self.assertEqual(planned["outlook"], outlook)
                self.assertEqual(planned["steps"], forecast["steps"])
                self.assertEqual(planned["standing"], forecast["standing"])
                if view["running"] is None:
                    pour = self.ask("POST", "/pours", {"recipe_id": recipe_id, "sure": True})
                    self.assertEqual(pour["forecast"]["outlook"], outlook, "the bench opens with what was told")
