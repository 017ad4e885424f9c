"""The migrations make exactly the tables the program uses, also from an older file."""

import sqlite3
import tempfile
import unittest
from pathlib import Path

import sqlalchemy as sa
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext

from roundstone.store import Workshop
from roundstone.store.tables import Base


class Migrations(unittest.TestCase):
    def test_migrated_tables_are_the_models(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "w.sqlite"
            Workshop(path).close()
            engine = sa.create_engine(f"sqlite:///{path}")
            with engine.connect() as connection:
                differences = compare_metadata(MigrationContext.configure(connection), Base.metadata)
            engine.dispose()
        self.assertEqual(differences, [])

    def test_opening_twice_changes_nothing(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "w.sqlite"
            dumps = []
            for _ in range(2):
                Workshop(path).close()
                with sqlite3.connect(path) as raw:
                    dumps.append(list(raw.iterdump()))
                raw.close()
        self.assertEqual(dumps[0], dumps[1])

    def test_durable_and_safe_settings(self) -> None:
        """WAL and full sync: a power cut after "saved" loses nothing."""
        with tempfile.TemporaryDirectory() as folder:
            workshop = Workshop(Path(folder) / "w.sqlite")
            with workshop.database._engine.connect() as connection:
                settings = {
                    p: connection.exec_driver_sql(f"PRAGMA {p}").scalar()
                    for p in ("journal_mode", "synchronous", "foreign_keys")
                }
            workshop.close()
        self.assertEqual(settings, {"journal_mode": "wal", "synchronous": 2, "foreign_keys": 1})
