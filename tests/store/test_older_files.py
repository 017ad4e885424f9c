"""A data file made by an older program opens with everything in it."""

import json
import sqlite3
import tempfile
import unittest
from datetime import UTC, datetime
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine

from roundstone import store
from roundstone.core.shelf import NewFat, make
from roundstone.store import ConflictError, NotFoundError, Photo, Workshop
from tests.samples import SHELF, recipe

NOW = datetime(2026, 6, 1, tzinfo=UTC)
LOT_7 = make(NewFat(name="Lot 7", kin="olive", sv=188.0), "lot-7", SHELF)


def made_by(path: Path, revision: str) -> None:
    """A data file with the tables of an older program."""
    config = Config()
    config.set_main_option("script_location", str(Path(store.__file__).parent / "migrations"))
    engine = create_engine(f"sqlite:///{path}")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, revision)
    engine.dispose()


class OlderFiles(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "w.sqlite"

    def test_own_fats_and_recipes_of_the_second_revision(self) -> None:
        made_by(self.path, "0002")
        # A recipe as it was written before doses could be moved, dispersed or put into one portion.
        old = recipe(additives=()).model_dump(mode="json")
        for field in ("count_carriers",):
            del old[field]
        for field in ("batching", "scent_at", "scent_by", "wrap"):
            del old["design"][field]
        old["additives"] = [{"additive": "kaolin", "amount": 10, "basis": "g/kg"}]
        with sqlite3.connect(self.path) as raw:
            raw.execute(
                "INSERT INTO recipe (id, doc, revision, changed) VALUES ('r', ?, 1, '2026-05-01 00:00:00')",
                (json.dumps(old),),
            )
            raw.execute("INSERT INTO own_fat (id, doc) VALUES ('lot-7', ?)", (LOT_7.model_dump_json(),))
        raw.close()
        workshop = Workshop(self.path)
        self.addCleanup(workshop.close)
        self.assertEqual(workshop.recipes.get("r").recipe.additives[0].additive, "kaolin")
        self.assertEqual(workshop.ingredients.custom(), [LOT_7])
        self.assertEqual(workshop.ingredients.shelf().fats["lot-7"], LOT_7)

    def test_own_figures_stay_once_poured(self) -> None:
        workshop = Workshop(self.path)
        self.addCleanup(workshop.close)
        workshop.ingredients.add_custom(LOT_7)
        other = make(NewFat(name="Lot 7", kin="olive", sv=191.0), "lot-7", SHELF)
        workshop.ingredients.change_custom(other)
        self.assertEqual(workshop.ingredients.custom(), [other])
        for taken in (LOT_7, make(NewFat(name="Olive again", kin="olive", sv=190), "olive", SHELF)):
            with self.assertRaises(ConflictError):
                workshop.ingredients.add_custom(taken)
        fats = [{"fat": "lot-7", "share": 1.0}]
        workshop.recipes.add("r", recipe().model_validate(recipe().model_dump() | {"fats": fats}), NOW)
        workshop.pours.start("p", "r", NOW)
        with self.assertRaises(ConflictError):
            workshop.ingredients.change_custom(LOT_7)
        with self.assertRaises(NotFoundError):
            workshop.ingredients.hide_custom("no-such", NOW)

    def test_settings_and_pictures(self) -> None:
        workshop = Workshop(self.path)
        self.addCleanup(workshop.close)
        before = workshop.stamps.log()
        self.assertIsNone(workshop.settings.get("noise"))
        workshop.settings.keep("noise", {"batch": 0.3})
        workshop.settings.keep("noise", {"batch": 0.4})
        self.assertEqual(workshop.settings.get("noise"), {"batch": 0.4})
        self.assertNotEqual(workshop.stamps.log(), before, "what was learned must be reckoned anew")
        with self.assertRaises(NotFoundError):
            workshop.pictures.add(Photo("x", "no pour", 1, ""), b"jpeg")
        workshop.recipes.add("r", recipe(), NOW)
        workshop.pours.start("p", "r", NOW)
        for days in (30, 1):
            workshop.pictures.add(Photo(f"x{days}", "p", days, ""), b"jpeg")
        self.assertEqual([p.days for p in workshop.pictures.of(["p", "q"])], [1, 30])
        workshop.pictures.remove("x30", NOW)
        self.assertEqual([p.id for p in workshop.pictures.of(["p"])], ["x1"])
        with self.assertRaises(NotFoundError):
            workshop.pictures.get("x30")
        workshop.pictures.remove("x30", None)
        self.assertEqual(workshop.pictures.get("x30"), b"jpeg", "hidden, not lost")
