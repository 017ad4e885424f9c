"""One data file, opened: transactions, settings, what was learned, and the whole of it. Repositories stand on it."""

import contextlib
import os
import sqlite3
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from threading import RLock
from typing import Any, TypeVar, cast
from uuid import uuid4

import sqlalchemy as sa
from alembic import command
from alembic.config import Config
from sqlalchemy import event as sa_event
from sqlalchemy import func, select
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from ..core.values import DataFileError
from . import dump, keeping
from .merge import Merged, of_this_workshop, take_in
from .tables import (
    DocumentRow,
    LearnedRow,
    PhotoRow,
    RecipeRow,
    SettingRow,
)

ORIGIN = "workshop"  # the setting that says which workshop a file is
SETTING = sa.select(SettingRow.doc).where(SettingRow.name == sa.bindparam("name"))


def _connect(path: Path) -> sa.Engine:
    engine = sa.create_engine(f"sqlite:///{path}", connect_args={"timeout": 10}, pool_size=16, max_overflow=16)

    @sa_event.listens_for(engine, "connect")
    def _pragmas(connection: Any, _: object) -> None:
        # The driver's own transactions lose updates and leave half-made migrations; SQLAlchemy begins them instead.
        connection.isolation_level = None
        for pragma in ("foreign_keys=ON", "journal_mode=WAL", "busy_timeout=5000", "synchronous=FULL"):
            connection.execute(f"PRAGMA {pragma}")

    @sa_event.listens_for(engine, "begin")
    def _begin(connection: sa.Connection) -> None:
        write = connection.get_execution_options().get("write", False)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if write else "BEGIN")

    return engine


MOST_KEPT = 5000  # of each kind that are kept read
K = TypeVar("K")
V = TypeVar("V")


def kept(keep: dict[K, V], key: K, read: Callable[[], V]) -> V:
    """What was read before, else read now and kept."""
    with contextlib.suppress(KeyError):
        return keep[key]
    if len(keep) >= MOST_KEPT:
        keep.clear()
    value = keep[key] = read()
    return value


class Database:
    """Opens (and migrates) a data file; `path` is created when it is not there.

    A file of another program, a newer version's, a damaged or a read-only one is left as it was (DataFileTrouble). A
    copy is made before its tables are changed.
    """

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        was = keeping.check(path)
        if was is not None and was != keeping.revisions()[-1]:
            folder = path.parent / "copies"
            keeping.Copies(path, folder, keep=10_000).make(datetime.now(UTC), f"before-{keeping.revisions()[-1]}")
        if not path.exists():
            os.close(os.open(path, os.O_CREAT | os.O_WRONLY, 0o600))
        self.path = path
        self.changes = 0  # writes by this process, for those who keep what they reckoned
        self._asked: dict[str, tuple[int, Any]] = {}
        self._writing = RLock()  # one writer in the process: others wait here, not in the file
        self._engine = _connect(path)
        self._closed = False
        if was != keeping.revisions()[-1]:
            self._migrate()
        if not self.origin():
            self.keep_setting(ORIGIN, {"id": str(uuid4())})

    def _migrate(self) -> None:
        config = Config()
        config.set_main_option("script_location", str(keeping.MIGRATIONS))
        with self._engine.execution_options(write=True).begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    def become(self, copy: Path) -> None:
        """Be what a copy holds, all of it or nothing: DataFileTrouble where it is none that can be read."""
        was = keeping.check(copy, write=False)
        with self._writing:
            try:
                source = sqlite3.connect(f"file:{copy}?mode=ro", uri=True)
                with closing(source) as old, closing(sqlite3.connect(self.path, timeout=10)) as new:
                    old.backup(new)
            except sqlite3.Error as error:
                raise DataFileError(f"The copy could not be put in place ({error}): nothing was changed.") from error
            if was != keeping.revisions()[-1]:
                self._migrate()
        self.changes += 1

    def close(self) -> None:
        """Everything into the one file, so that copying it copies all. What still runs behind can do nothing after."""
        self.merge()
        with self._writing:
            self._closed = True
            self._engine.dispose()

    def _open(self) -> sa.Engine:
        if self._closed:
            raise RuntimeError("this workshop was closed")
        return self._engine

    def merge(self) -> None:
        """Put the log SQLite keeps beside the file into it; what is busy is left for the next time."""
        if self._closed:
            return
        with self._writing, contextlib.suppress(OperationalError), self._engine.connect() as connection:
            connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")

    def asking(self) -> sa.Connection:
        """A connection alone: for what is asked at every key and tap, where a session costs more than the question."""
        return self._open().connect()

    @contextmanager
    def reading(self) -> Iterator[Session]:
        with Session(self._open()) as session:
            yield session

    @contextmanager
    def writing(self) -> Iterator[Session]:
        with self._writing, Session(self._open().execution_options(write=True)) as session, session.begin():
            yield session
        self.changes += 1

    def unchanged(self, what: str, read: Callable[[], V]) -> V:
        """What was read of the file under this name, read anew once anything in it was written."""
        stamp = self.changes
        known = self._asked.get(what)
        if known is None or known[0] != stamp:
            known = self._asked[what] = (stamp, read())
        return cast(V, known[1])

    def stamp(self, what: str, of: sa.Select[Any]) -> tuple[int, ...]:
        """Numbers that tell whether something in the file has changed."""

        def read() -> tuple[int, ...]:
            with self.asking() as connection:
                return tuple(n or 0 for n in connection.execute(of).one())

        return self.unchanged(what, read)

    def setting(self, name: str) -> dict[str, Any] | None:
        """What is kept under a name; not to be changed in place."""

        def read() -> dict[str, Any] | None:
            with self.asking() as connection:
                row = connection.execute(SETTING, {"name": name}).first()
                return None if row is None else row.doc

        return self.unchanged(f"setting {name}", read)

    def change_setting(self, name: str, change: Callable[[dict[str, Any] | None], dict[str, Any]]) -> None:
        """Change what is kept under a name, by what stands there, in one transaction."""
        with self.writing() as s:
            row = s.get(SettingRow, name)
            if row is None:
                s.add(SettingRow(name=name, doc=change(None), revision=1))
            else:
                row.doc = change(dict(row.doc))
                row.revision += 1

    def keep_setting(self, name: str, doc: dict[str, Any]) -> None:
        self.change_setting(name, lambda _: doc)

    def dump(self) -> dict[str, list[dict[str, Any]]]:
        """All rows by table, as plain values; files without their bytes."""
        with self.reading() as s:
            return dump.dump(s)

    def take_in_dump(
        self, rows: Mapping[str, Sequence[dict[str, Any]]], files: Mapping[str, bytes], origin: str = ""
    ) -> Merged:
        """Add what is not there yet, all or nothing. `origin` is the id of the workshop the rows are of, where it is
        known; an empty workshop that takes in another becomes that one."""
        with self.writing() as s:
            same = origin == self.origin() if origin else of_this_workshop(s, rows)
            empty = not s.scalar(select(func.count()).select_from(RecipeRow))
            merged = take_in(s, rows, files, same)
        if empty and origin:
            self.keep_setting(ORIGIN, {"id": origin})
        return merged

    def origin(self) -> str:
        """The id of this workshop, the same in every copy of it."""
        return str((self.setting(ORIGIN) or {}).get("id", ""))

    def file_bytes(self, table: str, file_id: str) -> bytes:
        """A picture or a certificate as it is stored, also one that was removed a moment ago."""
        with self.reading() as s:
            if table == "photo":
                return s.get_one(PhotoRow, file_id).jpeg
            return s.get_one(DocumentRow, file_id).body

    def learned(self, name: str) -> tuple[str, dict[str, Any]] | None:
        """What was kept as learned, with the stamp of the log it was learned from."""
        with self.reading() as s:
            row = s.get(LearnedRow, name)
            return None if row is None else (row.stamp, row.doc)

    def keep_learned(self, name: str, stamp: str, doc: dict[str, Any]) -> None:
        with self.writing() as s:
            s.merge(LearnedRow(name=name, stamp=stamp, doc=doc))
