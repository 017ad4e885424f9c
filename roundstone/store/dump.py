"""All rows of a workshop as plain values: what an archive is made of."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from sqlalchemy import LargeBinary, select
from sqlalchemy.orm import Session

from .tables import (
    Base,
    CustomRow,
    DocumentRow,
    EventRow,
    EvidenceRow,
    FragranceRow,
    LotRow,
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
    "own": CustomRow,
    "lot": LotRow,
    "setting": SettingRow,
    "pattern": PatternRow,
    "evidence": EvidenceRow,
    "recipe": RecipeRow,
    "version": VersionRow,
    "pour": PourRow,
    "event": EventRow,
    "photo": PhotoRow,
    "document": DocumentRow,
}
# What makes a row the same one in another file; a version's and an event's numbers are of this file alone.
IDENTITY: dict[str, tuple[str, ...]] = {"setting": ("name",), "version": ("uid",)}
LOCAL = {
    "version": ("id",),
    "event": ("seq",),
    "pour": ("version_id", "ended_minute", "event_count", "verdict", "phase"),
}
MACHINE = (
    "copies",
    "demo",
    "workshop",
    "others",
)  # settings of one machine or one file, that are no part of what it holds


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, datetime) else value


def identity(table: str, row: Mapping[str, Any]) -> tuple[Any, ...]:
    return tuple(row[c] for c in IDENTITY.get(table, ("id",)))


def dump(s: Session) -> dict[str, list[dict[str, Any]]]:
    """Rows by table, in an order that does not depend on the file they lie in; files without their bytes."""
    out: dict[str, list[dict[str, Any]]] = {}
    of = select(VersionRow.id, VersionRow.recipe_id, VersionRow.number, VersionRow.uid)
    versions = {row: (recipe, number, uid) for row, recipe, number, uid in s.execute(of)}
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
                plain["recipe_id"], plain["number"], plain["version_uid"] = versions[row.version_id]
            if not (name == "setting" and plain["name"] in MACHINE):
                rows.append(plain)
        out[name] = (
            rows
            if name == "event"
            else sorted(rows, key=lambda r: identity(name, r) if name != "version" else (r["recipe_id"], r["number"]))
        )
    return out
