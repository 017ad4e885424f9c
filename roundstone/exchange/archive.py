"""The whole workshop as one zip of JSON, CSV and pictures, out and in. See docs/formats.md.

The same workshop always gives the same bytes. Reading takes in what is not there yet, by its id, and leaves what is: so
an empty workshop becomes an equal one, and reading twice doubles nothing.
"""

import json
import zipfile
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import IO, Any, Protocol

from pydantic import TypeAdapter, ValidationError

from ..core.evidence import Evidence, Pool
from ..core.pour import EVENT
from ..core.recipe import Pattern, Recipe
from ..core.sheet import Lot
from ..core.shelf import Additive, Fat, Fragrance, Liquid
from ..core.values import Fault, RuleError
from . import pour_file

FORMAT = "roundstone.workshop/1"
PARTS = (
    "fragrance",
    "own",
    "lot",
    "setting",
    "pattern",
    "evidence",
    "recipe",
    "version",
    "pour",
    "event",
    "photo",
    "document",
)
LATER = ("pattern", "evidence", "document")  # parts that archives of this format did not always have
FILES = ("photo", "document")  # parts whose rows are files
ENDING = {"image/jpeg": "jpg", "application/pdf": "pdf"}
EPOCH = (1980, 1, 1, 0, 0, 0)  # of every entry: the same workshop is the same file
NAMED = 12  # that differ and are named
MOST_BYTES = 4 * 2**30  # unpacked, its pictures included [chosen]
MOST_PART, MOST_PICTURE = 256 * 2**20, 16 * 2**20  # of one list, and of one picture [chosen]
SCHEMAS: dict[str, TypeAdapter[Any]] = {
    "recipe": TypeAdapter(Recipe),
    "event": EVENT,
    "fragrance": TypeAdapter(Fragrance),
    "fat": TypeAdapter(Fat),
    "liquid": TypeAdapter(Liquid),
    "additive": TypeAdapter(Additive),
    "lot": TypeAdapter(Lot),
    "pattern": TypeAdapter(Pattern),
    "evidence": TypeAdapter(Evidence | Pool),
}


class TakenIn(Protocol):
    """How many of each were new and how many there; what came in beside another, under which name; and what stands
    there otherwise and stayed."""

    new: dict[str, int]
    there: dict[str, int]
    beside: list[str]
    clashes: list[str]


class Archived(Protocol):
    """The data file an archive is written of."""

    def dump(self) -> Mapping[str, list[dict[str, Any]]]:
        """Every row of every part, as plain JSON values."""

    def file_bytes(self, table: str, file_id: str) -> bytes:
        """What a picture (photo) or a certificate (document) holds."""

    def origin(self) -> str:
        """The id of the workshop, the same in all copies of it."""


class Receiving(Protocol):
    """The workshop an archive is read into."""

    def take_in_dump(
        self, rows: Mapping[str, list[dict[str, Any]]], files: Mapping[str, bytes], origin: str
    ) -> TakenIn:
        """Take in what is not there yet, all or nothing. `origin` is the id of the workshop it is of, "" if unknown."""


def told(taken: TakenIn) -> str:
    """What was taken in, in words."""
    new = ", ".join(f"{n} {name}" for name, n in taken.new.items() if n) or "nothing"
    there = sum(taken.there.values())
    message = f"Taken in: {new}." + (f" {there} were there already and stayed as they were." if there else "")
    if taken.beside:
        message += f" Beside what is called so here: {_some(taken.beside)}."
    if taken.clashes:
        message += f" Otherwise in the archive: {_some(taken.clashes)}; those of here stayed."
    return message


def _some(names: Sequence[str]) -> str:
    more = f" and {len(names) - NAMED} more" if len(names) > NAMED else ""
    return f"{', '.join(names[:NAMED])}{more}"


def _json(value: Any) -> bytes:
    return (json.dumps(value, indent=1, ensure_ascii=False, sort_keys=True) + "\n").encode()


def write(database: Archived, pours: Sequence[pour_file.Poured], to: IO[bytes]) -> None:
    """Everything, into a file opened for writing; `pours` are all of them, for the table."""
    dump = database.dump()
    with zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as out:

        def put(name: str, body: bytes) -> None:
            entry = zipfile.ZipInfo(name, EPOCH)
            entry.compress_type = zipfile.ZIP_STORED if name.endswith((".jpg", ".pdf")) else zipfile.ZIP_DEFLATED
            entry.external_attr = 0o600 << 16
            out.writestr(entry, body)

        head = {"format": FORMAT, "workshop": database.origin(), "tables": {t: len(dump[t]) for t in PARTS}}
        put("workshop.json", _json(head))
        for table in PARTS:
            put(f"{table}.json", _json(dump[table]))
        for table in FILES:
            for row in dump[table]:
                put(_entry(table, row), database.file_bytes(table, row["id"]))
        put("csv/pours.csv", pour_file.write(pours).encode())
        for name, adapter in SCHEMAS.items():
            put(f"schemas/{name}.json", _json(adapter.json_schema()))


def write_pictures(shots: Iterable[tuple[str, float, str, bytes]], to: IO[bytes]) -> None:
    """Pictures (batch, days, note, JPEG) as files in a folder for each batch, none over another."""
    taken: set[str] = set()
    with zipfile.ZipFile(to, "w", zipfile.ZIP_STORED) as out:
        for batch, days, note, jpeg in shots:
            stem = f"{_file_name(batch)}/day {days:03.0f}{f' {_file_name(note)}' if note else ''}"
            name, n = f"{stem}.jpg", 2
            while name in taken:
                name, n = f"{stem} {n}.jpg", n + 1
            taken.add(name)
            entry = zipfile.ZipInfo(name, EPOCH)
            entry.external_attr = 0o600 << 16
            out.writestr(entry, jpeg)


def _file_name(text: str) -> str:
    """Words as every file system takes them.

    >>> _file_name("Oat / milk: 2nd?"), _file_name("..")
    ('Oat milk 2nd', '_')
    """
    kept = "".join(c if c.isalnum() or c in " -_,.()" else " " for c in text)
    return " ".join(kept.split()).strip(" .")[:80] or "_"


def _rows(found: zipfile.ZipFile, name: str) -> list[dict[str, Any]]:
    if name in LATER and f"{name}.json" not in found.namelist():
        return []
    try:
        rows = json.loads(_bounded(found, f"{name}.json", MOST_PART))
    except (KeyError, ValueError, UnicodeDecodeError) as error:
        raise RuleError(Fault(pointer=f"/{name}.json", message="This part is missing or cannot be read.")) from error
    if not isinstance(rows, list) or not all(isinstance(r, dict) for r in rows):
        raise RuleError(Fault(pointer=f"/{name}.json", message="A list of objects is expected."))
    return rows


def _bounded(found: zipfile.ZipFile, name: str, most: int) -> bytes:
    """A part of the archive, read no further than it may be large, whatever its own heading says."""
    with found.open(name) as part:
        body = part.read(most + 1)
    if len(body) > most:
        raise RuleError(Fault(pointer=f"/{name}", message=f"This part is larger than {most // 2**20} MB."))
    return body


def _entry(table: str, row: Mapping[str, Any]) -> str:
    """Where in an archive a file of the workshop stands."""
    return f"{table}/{row['id']}.{ENDING[row.get('media', 'image/jpeg')]}"


class _Files(Mapping[str, bytes]):
    """The files of an archive by their ids, each read when it is wanted."""

    def __init__(self, found: zipfile.ZipFile, entries: Mapping[str, str]) -> None:
        self._found, self.entries = found, entries

    def __getitem__(self, file: str) -> bytes:
        return _bounded(self._found, self.entries[file], MOST_PICTURE)

    def __iter__(self) -> Iterator[str]:
        return iter(self.entries)

    def __len__(self) -> int:
        return len(self.entries)


def _checked(name: str, rows: list[dict[str, Any]]) -> None:
    """Every value in it is one the rules can read; a draft may be half typed, but must be an object."""
    for i, row in enumerate(rows):
        kind = {"own": row.get("kind"), "version": "recipe"}.get(name, name)
        try:
            if kind in SCHEMAS and name != "recipe":
                SCHEMAS[kind].validate_python(row["doc"])
            elif name in ("recipe", "setting") and not isinstance(row["doc"], dict):
                raise TypeError("an object is expected")
        except (ValidationError, KeyError, TypeError) as error:
            message = f"This cannot be read: {str(error).splitlines()[0]}"
            raise RuleError(Fault(pointer=f"/{name}.json/{i}/doc", message=message)) from error


def read(workshop: Receiving, file: IO[bytes]) -> TakenIn:
    """Take in what is not there yet, all of it or nothing; RuleError names what cannot be read."""
    try:
        with zipfile.ZipFile(file) as found:
            if sum(i.file_size for i in found.infolist()) > MOST_BYTES:
                raise RuleError(Fault(pointer="", message="This archive is larger than 4 GB unpacked."))
            head = json.loads(_bounded(found, "workshop.json", 2**20))
            if head.get("format") != FORMAT:
                message = f"This is not an archive of this format: {FORMAT} is expected."
                raise RuleError(Fault(pointer="/workshop.json/format", message=message))
            rows = {table: _rows(found, table) for table in PARTS}
            for table, of in rows.items():
                _checked(table, of)
            files = _Files(found, {str(row["id"]): _entry(table, row) for table in FILES for row in rows[table]})
            missing = set(files.entries.values()) - set(found.namelist())
            if missing:
                raise RuleError(Fault(pointer=f"/{min(missing)}", message="This part is missing."))
            origin = head.get("workshop")
            return workshop.take_in_dump(rows, files, origin if isinstance(origin, str) else "")
    except RuleError:
        raise
    except Exception as error:  # a damaged file fails in whatever way its bytes please
        message = f"This is not an archive of a workshop, or it is damaged: {str(error) or type(error).__name__}"
        raise RuleError(Fault(pointer="", message=message)) from error
