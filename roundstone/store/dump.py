"""All rows of a workshop as plain values, out and in: what an archive is made of."""

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any

from pydantic import ValidationError
from sqlalchemy import LargeBinary, select
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from ..core.pour import EVENT, replay
from ..core.values import Fault, RuleBroken
from .settled import settle
from .tables import (
    Base,
    EventRow,
    FragranceRow,
    Instant,
    LotRow,
    OwnRow,
    PatternRow,
    PhotoRow,
    PourRow,
    RecipeRow,
    SettingRow,
    VersionRow,
)

# In the order they are read in: what others refer to comes first.
TABLES: dict[str, type[Base]] = {
    "fragrance": FragranceRow,
    "own": OwnRow,
    "lot": LotRow,
    "setting": SettingRow,
    "pattern": PatternRow,
    "recipe": RecipeRow,
    "version": VersionRow,
    "pour": PourRow,
    "event": EventRow,
    "photo": PhotoRow,
}
# What makes a row the same one in another file; a version's and an event's numbers are of this file alone.
IDENTITY: dict[str, tuple[str, ...]] = {"setting": ("name",), "version": ("recipe_id", "number")}
LOCAL = {"version": ("id",), "event": ("seq",), "pour": ("version_id", "ended", "taps", "came", "phase")}
EDITED = ("fragrance", "own", "lot", "setting", "pattern", "recipe")  # what may stand otherwise in another file
MACHINE = ("copies", "demo")  # settings of one machine, that are no part of a workshop


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, datetime) else value


def _identity(table: str, row: Mapping[str, Any]) -> tuple[Any, ...]:
    return tuple(row[c] for c in IDENTITY.get(table, ("id",)))


def dump(s: Session) -> dict[str, list[dict[str, Any]]]:
    """Rows by table, in an order that does not depend on the file they lie in; pictures without their bytes."""
    out: dict[str, list[dict[str, Any]]] = {}
    versions = {v.id: (v.recipe_id, v.number) for v in s.scalars(select(VersionRow))}
    for name, table in TABLES.items():
        columns = [
            c
            for c in table.__table__.columns
            if c.name not in LOCAL.get(name, ()) and not isinstance(c.type, LargeBinary)
        ]
        rows = []
        order = (EventRow.pour_id, EventRow.seq) if name == "event" else ()
        for row in s.scalars(select(table).order_by(*order)):
            plain = {c.name: _plain(getattr(row, c.name)) for c in columns}
            if isinstance(row, PourRow):
                plain["recipe_id"], plain["number"] = versions[row.version_id]
            if not (name == "setting" and plain["name"] in MACHINE):
                rows.append(plain)
        out[name] = rows if name == "event" else sorted(rows, key=lambda r: _identity(name, r))
    return out


def _called(row: Mapping[str, Any]) -> str:
    """What a row is called, for who reads that two of it differ."""
    doc = row.get("doc") or {}
    return str(doc.get("name") or doc.get("label") or doc.get("item") or row.get("name") or row.get("id"))


def take_in(
    s: Session, rows: Mapping[str, Sequence[dict[str, Any]]], pictures: Mapping[str, bytes]
) -> tuple[dict[str, int], dict[str, int], list[str]]:
    """Add what is not there yet: (new, there) by table, and the names of what stands there with other contents, which
    stays. RuleBroken when rows do not fit together."""
    new, there = dict.fromkeys(TABLES, 0), dict.fromkeys(TABLES, 0)
    clashes: list[str] = []
    touched: set[str] = set()
    try:
        for name, table in TABLES.items():
            known = {
                _identity(name, {c: getattr(r, c) for c in IDENTITY.get(name, ("id",))}): getattr(r, "doc", None)
                for r in s.scalars(select(table))
            }
            for row in rows[name]:
                if _identity(name, row) in known:
                    there[name] += 1
                    if name in EDITED and known[_identity(name, row)] != row["doc"]:
                        clashes.append(f"{name} {_called(row)}")
                    continue
                s.add(_made(s, name, table, row, pictures))
                new[name] += 1
                if name == "event":
                    touched.add(row["pour_id"])
            s.flush()
        for pour in touched:
            docs = s.scalars(select(EventRow.doc).where(EventRow.pour_id == pour).order_by(EventRow.seq))
            events = [EVENT.validate_python(doc) for doc in docs]
            row_of = s.get_one(PourRow, pour)
            settle(row_of, replay(events), len(events))
    except (SQLAlchemyError, KeyError, TypeError, ValueError, ValidationError) as error:
        says = f"The parts of this archive do not fit together: {str(error).splitlines()[0]}"
        raise RuleBroken(Fault(pointer="", says=says)) from error
    return new, there, clashes


def _made(s: Session, name: str, table: type[Base], row: dict[str, Any], pictures: Mapping[str, bytes]) -> Base:
    values = dict(row)
    for column in table.__table__.columns:
        if isinstance(column.type, Instant) and values.get(column.name) is not None:
            moment = datetime.fromisoformat(values[column.name])
            values[column.name] = moment if moment.tzinfo else moment.replace(tzinfo=UTC)
    if name == "pour":
        where = (VersionRow.recipe_id == values.pop("recipe_id"), VersionRow.number == values.pop("number"))
        values |= {
            "version_id": s.scalars(select(VersionRow.id).where(*where)).one(),
            "ended": None,
            "taps": 0,
            "phase": "poured",
        }
    if name == "photo":
        values["jpeg"] = pictures[values["id"]]
    return table(**values)
