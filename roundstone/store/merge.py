"""Taking in the rows of another file: what is not there yet, and beside what is there otherwise.

An id says what a thing is only within the workshop it was made in. What another workshop calls by an id of here, and
what two copies of one workshop made of the same draft or ingredient, comes in beside, under an id of its content and a
name of its own; everything that came with it goes on naming it.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any
from uuid import NAMESPACE_OID, uuid5

from pydantic import BaseModel, ValidationError
from sqlalchemy import func, select
from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from ..core.pour import EVENT, replay
from ..core.recipe import Pattern, Recipe
from ..core.shelf import Additive, Fat, Fragrance, Liquid
from ..core.values import Fault, RuleError
from ..reference import shelf as reference_shelf
from .dump import IDENTITY, TABLES, identity
from .identity import digest, version_uid
from .settled import settle
from .tables import Base, EventRow, Instant, PourRow, RecipeRow, VersionRow

Rows = Mapping[str, Sequence[dict[str, Any]]]
# Of here, where it is the same one: what stands otherwise elsewhere is told.
STAYS = ("lot", "setting", "fragrance", "evidence")
BESIDE = ("own", "fragrance", "pattern", "recipe")  # what comes in beside another thing of its id
HOLDS = {"photo": "jpeg", "document": "body"}  # tables of files, with the column of their bytes
LONGEST_ID, LONGEST_NAME = 51, 74  # letters of an id and of a name that leave room to tell it apart


@dataclass
class Merged:
    """How many rows of each table were new and how many were there; what stands there otherwise and stayed; and what
    came in beside, by the name it has now."""

    new: dict[str, int] = field(default_factory=lambda: dict.fromkeys(TABLES, 0))
    there: dict[str, int] = field(default_factory=lambda: dict.fromkeys(TABLES, 0))
    clashes: list[str] = field(default_factory=list)
    beside: list[str] = field(default_factory=list)


Called = dict[tuple[str, str], str]  # kind and id elsewhere → id here


def _item(item: str, called: Called) -> str:
    kind, _, name = item.partition(":")
    return f"{kind}:{called[kind, name]}" if (kind, name) in called else item


def _recipe(doc: dict[str, Any], called: Called) -> dict[str, Any]:
    """A recipe with the ingredients it names by their ids here."""

    def of(kind: str, rows: Iterable[Any], key: str) -> list[Any]:
        return [{**r, key: called.get((kind, r[key]), r[key])} if isinstance(r, dict) and key in r else r for r in rows]

    out = dict(doc)
    for rows, kind, key in (
        ("fats", "fat", "fat"),
        ("liquids", "liquid", "liquid"),
        ("scents", "fragrance", "fragrance"),
    ):
        if isinstance(doc.get(rows), list):
            out[rows] = of(kind, doc[rows], key)
    if isinstance(doc.get("additives"), list):
        doses = of("additive", doc["additives"], "additive")
        for i, dose in enumerate(doses):
            carrier = dose.get("carrier") if isinstance(dose, dict) else None
            if isinstance(carrier, dict):
                doses[i] = {**dose, "carrier": of("fat", [carrier], "fat")[0]}
        out["additives"] = doses
    return out


def _own(doc: dict[str, Any], called: Called) -> dict[str, Any]:
    out = dict(doc)
    if doc.get("kin"):
        out["kin"] = called.get(("fat", doc["kin"]), doc["kin"])
    if doc.get("made"):
        parts = [{**p, "item": _item(p["item"], called)} for p in doc["made"]["of"]]
        out["made"] = {**doc["made"], "of": parts}
    return out


def _fragrance(doc: dict[str, Any], called: Called) -> dict[str, Any]:
    out = dict(doc)
    if doc.get("inherits"):
        out["inherits"] = called.get(("fragrance", doc["inherits"]), doc["inherits"])
    parts = doc.get("parts") or ()
    out["parts"] = [{**p, "fragrance": called.get(("fragrance", p["fragrance"]), p["fragrance"])} for p in parts]
    return out


def _lot(doc: dict[str, Any], called: Called) -> dict[str, Any]:
    taken = [{**t, "item": _item(t["item"], called)} for t in doc.get("made_of") or ()]
    return {**doc, "item": _item(doc["item"], called), "made_of": taken}


def _event(doc: dict[str, Any], called: Called) -> dict[str, Any]:
    kind, _, name = str(doc.get("about", "")).partition(":")
    of = {"colour": "additive"}.get(kind, kind)
    return {**doc, "about": f"{kind}:{called[of, name]}"} if (of, name) in called else doc


def _pattern(doc: dict[str, Any], called: Called) -> dict[str, Any]:
    doses = _recipe({"additives": doc.get("doses") or []}, called)["additives"]
    return {**doc, "doses": doses} if doses else doc


def _sheet(doc: dict[str, Any] | None, called: Called) -> dict[str, Any] | None:
    """A sheet as weighed, its lines by the ids of here."""
    if doc is None or not called:
        return doc

    def lines(rows: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
        return [{**x, "item": _item(x["item"], called)} for x in rows]

    portions = [{**p, "own": lines(p["own"])} for p in doc["portions"]]
    return {**doc, "lines": lines(doc["lines"]), "portions": portions}


RENAMED: dict[str, Callable[[dict[str, Any], Called], dict[str, Any]]] = {
    "own": _own,
    "fragrance": _fragrance,
    "lot": _lot,
    "pattern": _pattern,
    "recipe": _recipe,
    "version": _recipe,
    "event": _event,
}


def take_in(s: Session, rows: Rows, files: Mapping[str, bytes], same: bool) -> Merged:
    """Add what is not there yet; RuleError when rows do not fit together.

    `same` says that the rows are of this workshop, or of a copy of it: then an id of a fragrance is the same bottle,
    whatever was changed of it since.
    """
    try:
        return _Taking(s, rows, files, same).all()
    except (SQLAlchemyError, ArithmeticError, AttributeError, LookupError, TypeError, ValueError) as error:
        message = f"The parts of this archive do not fit together: {str(error).splitlines()[0]}"
        raise RuleError(Fault(pointer="", message=message)) from error


def of_this_workshop(s: Session, rows: Rows) -> bool:
    """Whether rows without a mark of their origin are of a copy of this workshop: they share a draft."""
    ids = {row["id"] for row in rows["recipe"]}
    return any(i in ids for i in s.scalars(select(RecipeRow.id)))


def _version_uids(versions: Sequence[dict[str, Any]]) -> dict[tuple[str, int], str]:
    """Ids of versions by recipe and number, as their own file counts them."""
    return {
        (v["recipe_id"], v["number"]): v.get("uid") or version_uid(v["recipe_id"], v["number"], v["doc"])
        for v in versions
    }


class _Taking:
    """Rows on their way in, table by table; what others refer to comes first."""

    def __init__(self, s: Session, rows: Rows, files: Mapping[str, bytes], same: bool) -> None:
        self.s, self.rows, self.files, self.same = s, rows, files, same
        self.merged, self.called, self.touched = Merged(), Called(), set[str]()
        self.uids = _version_uids(rows["version"])
        self.known: dict[tuple[Any, ...], Any] = {}

    def all(self) -> Merged:
        for name, table in TABLES.items():
            self.known = self._known(name, table)
            for row in _parts_first(name, self.rows[name]):
                self._take(name, table, dict(row))
            self.s.flush()
        for pour in self.touched:
            docs = self.s.scalars(select(EventRow.doc).where(EventRow.pour_id == pour).order_by(EventRow.seq))
            events = [EVENT.validate_python(doc) for doc in docs]
            settle(self.s.get_one(PourRow, pour), replay(events), len(events))
        return self.merged

    def _known(self, name: str, table: type[Base]) -> dict[tuple[Any, ...], Any]:
        """What is there already, by what makes it the same one, with its contents."""
        key = IDENTITY.get(name, ("id",))
        rows = self.s.scalars(select(table))
        known = {identity(name, {c: getattr(r, c) for c in key}): getattr(r, "doc", None) for r in rows}
        if name == "own":  # an id of the tables is taken too
            standard = reference_shelf()
            for of in (standard.fats, standard.liquids, standard.additives):
                known = {(i,): x.model_dump(mode="json") for i, x in of.items()} | known
        return known

    def _take(self, name: str, table: type[Base], row: dict[str, Any]) -> None:
        """One row: new, there, there otherwise, or in beside what is there."""
        original = row.get("doc")
        if name in ("version", "pour"):
            row["uid"] = row.pop("version_uid", None) or self.uids[row["recipe_id"], row["number"]]
        if name in RENAMED:
            row["doc"] = RENAMED[name](row["doc"], self.called)
        if name == "version":
            row["sheet"] = _sheet(row.get("sheet"), self.called)
        at = identity(name, row)
        if at in self.known and not (self._differs(name, at, row) and self._beside(name, row, original)):
            self.merged.there[name] += 1
            here = self.known[at]
            if here is not None and name in STAYS and here != row["doc"] and not self._came_before(name, at):
                self.merged.clashes.append(f"{name} {_called(row)}")
            return
        self.s.add(self._made(name, table, row))
        self.merged.new[name] += 1
        if name == "event":
            self.touched.add(row["pour_id"])
        if name == "version":
            self.s.flush()  # the next one of its recipe counts it

    def _came_before(self, name: str, at: tuple[Any, ...]) -> bool:
        """Whether what differs stands beside it already."""
        return (name, at[0]) in self.called

    def _differs(self, name: str, at: tuple[Any, ...], row: dict[str, Any]) -> bool:
        """Whether what has this id here is another thing, and not the same one before or after an edit."""
        if name not in BESIDE or (name == "fragrance" and self.same):
            return False
        if _value(name, self.known[at]) == _value(name, row["doc"]):
            return False
        if name == "recipe":  # what was poured of it is kept as its version
            versions = self.s.scalars(select(VersionRow.doc).where(VersionRow.recipe_id == row["id"]))
            return row["doc"] not in list(versions)
        return True

    def _beside(self, name: str, row: dict[str, Any], original: Any) -> bool:
        """Give a row an id of its content and a name of its own; False where it came in before."""
        was = row["id"]
        if name == "recipe":
            row["id"] = str(uuid5(NAMESPACE_OID, f"{was} {digest(original)}"))
        else:
            row["id"] = f"{was[:LONGEST_ID]}-{digest(original)[:8]}"
            self.called[row["kind"] if name == "own" else name, was] = row["id"]
        if (row["id"],) in self.known:
            return False
        doc = dict(row["doc"])
        if name != "recipe":
            doc["id"] = row["id"]
        title = str(doc.get("name", ""))
        doc["name"] = self._free(name, title)
        row["doc"] = self.known[row["id"],] = doc
        self.merged.beside.append(f"{name if name != 'own' else row['kind']} {title} as {doc['name']}")
        return True

    def _free(self, name: str, title: str) -> str:
        """A name like this one that nothing of its table has."""
        self.s.flush()
        table: Any = TABLES[name]
        taken = {str(n).casefold() for n in self.s.scalars(select(func.json_extract(table.doc, "$.name")))}
        tries = (f"{title[:LONGEST_NAME]} ({n})" for n in range(2, 10_000))
        return next(told for told in tries if told.casefold() not in taken)

    def _made(self, name: str, table: type[Base], row: dict[str, Any]) -> Base:
        values = row
        for column in table.__table__.columns:
            if isinstance(column.type, Instant) and values.get(column.name) is not None:
                moment = datetime.fromisoformat(values[column.name])
                values[column.name] = moment if moment.tzinfo else moment.replace(tzinfo=UTC)
        if name == "version":
            of = select(VersionRow.number).where(VersionRow.recipe_id == values["recipe_id"])
            taken = set(self.s.scalars(of))
            if values["number"] in taken:
                values["number"] = max(taken) + 1
        if name == "pour":
            uid = values.pop("uid")
            values = {k: v for k, v in values.items() if k not in ("recipe_id", "number")}
            values["version_id"] = self.s.scalars(select(VersionRow.id).where(VersionRow.uid == uid)).one()
            values |= {"ended_minute": None, "event_count": 0, "phase": "poured"}
        if name in HOLDS:
            values[HOLDS[name]] = self.files[values["id"]]
        return table(**values)


def _value(name: str, doc: Any) -> Any:
    """What a document says, whichever program wrote it; a draft that cannot be read is its text."""
    kinds: dict[str, tuple[type[BaseModel], ...]] = {
        "own": (Fat, Liquid, Additive),
        "fragrance": (Fragrance,),
        "pattern": (Pattern,),
        "recipe": (Recipe,),
    }
    for kind in kinds.get(name, ()):
        with suppress(ValidationError):
            return kind.model_validate(doc)
    return doc


def _parts_first(name: str, rows: Sequence[dict[str, Any]]) -> Sequence[dict[str, Any]]:
    """What others of its table are made of comes before them, so that a new id of it is known."""
    if name not in ("own", "fragrance"):
        return rows
    by = {row["id"]: row for row in rows}

    def rank(row: dict[str, Any], seen: frozenset[str] = frozenset()) -> int:
        doc, inside = row["doc"], seen | {row["id"]}
        named = [p.get("fragrance") for p in doc.get("parts") or ()] + [doc.get("inherits"), doc.get("kin")]
        named += [p["item"].partition(":")[2] for p in (doc.get("made") or {}).get("of", ())]
        return 1 + max((rank(by[n], inside) for n in named if n in by and n not in inside), default=0)

    return sorted(rows, key=lambda row: (rank(row), row["id"]))


def _called(row: Mapping[str, Any]) -> str:
    """What a row is called, for who reads that two of it differ."""
    doc = row.get("doc") or {}
    return str(doc.get("name") or doc.get("label") or doc.get("item") or row.get("name") or row.get("id"))
