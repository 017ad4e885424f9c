"""Looking after the data file: what it is, whose it is, and copies of it.

A copy is made by SQLite's online backup, so it is whole at any moment, and appears under its name only when it is
finished. Nothing here ever writes over a file.
"""

import errno
import fcntl
import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from pathlib import Path

from alembic.config import Config
from alembic.script import ScriptDirectory

from ..core.values import DataFileError

HEADER = b"SQLite format 3\0"
MIGRATIONS = Path(__file__).parent / "migrations"
TABLES = {"recipe": "recipes", "version": "poured versions", "pour": "pours", "event": "taps", "photo": "pictures"}
COPY, DEMO = "roundstone-", "demo"
KEPT = ("recipe", "pour", "fragrance", "own", "lot", "pattern")  # what makes a file somebody's
BY_HAND = "by-hand"
KEEP = 14  # copies that are kept, the newest [chosen]


@cache
def revisions() -> tuple[str, ...]:
    """All revisions of the tables this program knows, oldest first."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    return tuple(s.revision for s in ScriptDirectory.from_config(config).walk_revisions())[::-1]


def check(path: Path, write: bool = True) -> str | None:
    """The revision of a data file's tables, None when there is no file yet.

    DataFileTrouble, in one sentence with what to do, when it is not a data file of this program, is of a newer
    version, damaged, or (with `write`) cannot be written. The file is only read.
    """
    if not path.exists():
        return None
    if not path.is_file():
        raise DataFileError(f"{path} is not a file: name one with --data.")
    try:
        with path.open("rb") as file:
            begins = file.read(len(HEADER))
    except PermissionError as error:
        raise DataFileError(f"{path} may not be read by you: give yourself the right to read it.") from error
    if begins == b"":
        return None  # made a moment ago by something that was ended at once
    if begins != HEADER:
        raise DataFileError(f"{path} belongs to another program: it was left as it is; name another with --data.")
    if write and not (os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)):
        raise DataFileError(f"{path} is read-only: give yourself the right to write it and its folder.")
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as raw:
            found = raw.execute("PRAGMA quick_check").fetchone()
            names = {n for (n,) in raw.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            revision = raw.execute("SELECT version_num FROM alembic_version").fetchone() if _ours(names) else None
    except sqlite3.DatabaseError as error:
        raise DataFileError(_damaged(path, str(error))) from error
    if found is None or found[0] != "ok":
        raise DataFileError(_damaged(path, found[0] if found else "no answer"))
    if names and revision is None:
        raise DataFileError(f"{path} belongs to another program: it was left as it is; name another with --data.")
    if revision is not None and revision[0] not in revisions():
        raise DataFileError(f"{path} was written by a newer Round Stone: use that one, or restore an older copy.")
    return revision[0] if revision is not None else None


def _ours(tables: set[str]) -> bool:
    return {"alembic_version", "recipe", "pour", "event"} <= tables


def _damaged(path: Path, why: str) -> str:
    return f"{path} is damaged ({why.splitlines()[0][:120]}): restore a copy with 'roundstone restore COPY'."


def counts(path: Path) -> dict[str, int]:
    """How much is in a data file, in words a maker knows."""
    with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as raw:
        return {words: raw.execute(f"SELECT count(*) FROM {table}").fetchone()[0] for table, words in TABLES.items()}


def is_demo(path: Path) -> bool:
    """Whether a data file is marked as the demo workshop; an empty one may become it.

    What is in it says nothing: a maker may have taken the demo's recipes into a workshop of their own.
    """
    if not path.exists() or path.stat().st_size == 0:
        return True
    with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as raw:
        marked = raw.execute("SELECT count(*) FROM setting WHERE name = ?", (DEMO,)).fetchone()[0]
        there = {name for (name,) in raw.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        filled = any(raw.execute(f"SELECT 1 FROM {t} LIMIT 1").fetchone() for t in KEPT if t in there)
    return bool(marked) or not filled


def remove(path: Path) -> None:
    """Remove a data file with what SQLite keeps beside it, and nothing else."""
    for beside in ("", "-wal", "-shm"):
        path.with_name(path.name + beside).unlink(missing_ok=True)


def _unwritable(path: Path, error: OSError) -> str:
    if error.errno == errno.ENOSPC:
        return f"The disk of {path} is full: make room, nothing can be saved there."
    if error.errno in (errno.EROFS, errno.EACCES, errno.EPERM):
        return f"{path} is read-only: give yourself the right to write it and its folder."
    return f"{path} cannot be kept there ({error.strerror}): name another with --data."


@contextmanager
def held(path: Path) -> Iterator["Hold"]:
    """Hold the data file against other servers; DataFileTrouble names the address of the one that has it."""
    lock = path.with_name(path.name + ".lock")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        descriptor = os.open(lock, os.O_RDWR | os.O_CREAT, 0o600)
    except OSError as error:
        raise DataFileError(_unwritable(path, error)) from error
    try:
        try:
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            where = os.read(descriptor, 200).decode("utf-8", "replace").strip()
            raise DataFileError(f"{path} is open in another Round Stone{f': {where}' if where else ''}.") from error
        hold = Hold(descriptor)
        hold.tell("")
        yield hold
        hold.tell("")
    finally:
        os.close(descriptor)


@dataclass(frozen=True)
class Hold:
    """A data file that is held; it says at which address its server is."""

    descriptor: int

    def tell(self, address: str) -> None:
        os.ftruncate(self.descriptor, 0)
        os.pwrite(self.descriptor, address.encode(), 0)


def copy(source: Path, to: Path) -> Path:
    """A whole copy of a data file that may be in use. FileExistsError rather than write over anything; DataFileTrouble
    where the disk is full or the file is damaged.
    """
    to.parent.mkdir(parents=True, exist_ok=True)
    if to.exists():
        raise FileExistsError(f"{to} is there already: nothing was written over.")
    part = to.with_name(f".{to.name}.{os.getpid()}.part")
    part.unlink(missing_ok=True)  # of one that was ended in the middle
    os.close(os.open(part, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600))
    try:
        with closing(sqlite3.connect(f"file:{source}?mode=ro", uri=True)) as old, closing(sqlite3.connect(part)) as new:
            old.backup(new)
            new.execute("PRAGMA journal_mode=DELETE")
            (found,) = new.execute("PRAGMA quick_check").fetchone()
        if found != "ok":
            raise DataFileError(_damaged(source, found))
        with part.open("rb") as file:
            os.fsync(file.fileno())
        os.link(part, to)  # fails when something is there by now
    except sqlite3.Error as error:
        message = _uncopied(source, to, error)
        raise DataFileError(message) from error
    finally:
        part.unlink(missing_ok=True)
    return to


def _uncopied(source: Path, to: Path, error: sqlite3.Error) -> str:
    if "full" in str(error):
        return f"The disk of {to.parent} is full: make room, or keep copies somewhere else."
    if "malformed" in str(error) or "not a database" in str(error):
        return _damaged(source, str(error))
    return f"{source} could not be copied to {to.parent} ({error})."


def restore(copy_of: Path, path: Path, now: datetime) -> Path | None:
    """Put a copy in the place of the data file; what was there is set aside, and where is told."""
    check(copy_of, write=False)
    aside = None
    with held(path):
        if path.exists():
            aside = path.with_name(f"{path.stem}-before-restore-{now:%Y%m%d-%H%M%S}{path.suffix}")
            try:
                copy(path, aside)
            except (DataFileError, sqlite3.DatabaseError):
                os.link(path, aside)  # damaged: as it is
        fresh = path.with_name(f".{path.name}.restored")
        fresh.unlink(missing_ok=True)
        copy(copy_of, fresh)
        remove(path)
        fresh.rename(path)
    return aside


@dataclass(frozen=True)
class Kept:
    """A copy: where it lies, when it was made, its size in bytes, and why it was made."""

    path: Path
    made: datetime
    size: int
    why: str = ""


@dataclass(frozen=True)
class Copies:
    """The copies of one data file, in a folder. Of those that are made by themselves the newest `keep` stay, and of
    those made by hand as many; the first one of all, and one made before something was changed, are never let go.
    """

    of: Path
    folder: Path
    keep: int = KEEP

    def make(self, now: datetime, why: str = "") -> Kept:
        """One more, named by its moment and why it was made ("" for the day's); older ones of its kind are let go."""
        name = f"{COPY}{self.of.stem}-{now:%Y%m%d-%H%M%S}{f'-{why}' if why else ''}.sqlite"
        made = self.folder / name
        if not made.exists():
            copy(self.of, made)
        if why in ("", BY_HAND):
            there = self.all()
            alike = [k for k in there if k.why == why and k is not there[-1]]
            for old in alike[self.keep :]:
                old.path.unlink(missing_ok=True)
        return Kept(made, now, made.stat().st_size, why)

    def all(self) -> list[Kept]:
        """Copies of this data file, newest first."""
        out = []
        for path in self.folder.glob(f"{COPY}{self.of.stem}-*.sqlite") if self.folder.is_dir() else ():
            stamp = path.stem.removeprefix(f"{COPY}{self.of.stem}-")[:15]
            try:
                made = datetime.strptime(f"{stamp}+0000", "%Y%m%d-%H%M%S%z")
            except ValueError:
                continue
            why = path.stem.removeprefix(f"{COPY}{self.of.stem}-")[16:]
            out.append(Kept(path, made, path.stat().st_size, why))
        return sorted(out, key=lambda k: (k.made, k.path.name), reverse=True)
