"""Drafts of a workshop, and the versions of them that were poured."""

import json
from collections.abc import Collection, Mapping, Sequence
from contextlib import suppress
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

import sqlalchemy as sa
from pydantic import ValidationError
from sqlalchemy import func, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from ..core.formerly import lifted
from ..core.recipe import Brief, Recipe
from ..core.sheet import Sheet, weigh
from ..core.values import ConflictError, Fault, NotFoundError, RuleError
from .database import Database, kept
from .dump import TABLES
from .find import NAME, Find, like
from .identity import version_uid
from .ingredients import Ingredients
from .merge import take_in
from .records import RecipeRecord, Unreadable
from .tables import (
    PourRow,
    RecipeRow,
    VersionRow,
)

SHEET = select(VersionRow.sheet).where(VersionRow.id == sa.bindparam("row"))
UNWEIGHED = select(VersionRow.id, VersionRow.doc).where(VersionRow.sheet.is_(None))
FIELDS = set(Sheet.model_fields)


def _due(doc: InstrumentedAttribute[dict[str, Any]]) -> sa.ColumnElement[Any]:
    """The day a recipe's brief is due (`Brief.due`), for a query."""
    return func.coalesce(func.json_extract(doc, "$.brief.ready"), func.json_extract(doc, "$.brief.sale"))


class Recipes:
    """Recipes, as last typed and as poured."""

    def __init__(self, database: Database, ingredients: Ingredients) -> None:
        self._database, self._ingredients = database, ingredients
        self.forget()

    def forget(self) -> None:
        """Another workshop stands in the file."""
        # A draft's revision and a poured version never change: each is read once.
        self._drafts: dict[tuple[str, int], Recipe] = {}
        self._versions: dict[int, Recipe] = {}
        self._sheets: dict[int, Sheet | None] = {}

    def page(self, find: Find = (), first: int = 0, most: int = 10_000) -> list[RecipeRecord | Unreadable]:
        """Drafts that were not removed, latest change first. One page of those found."""
        with self._database.reading() as s:
            rows = s.scalars(self._found(select(RecipeRow), find).offset(first).limit(most)).all()
            counts = self._counts(s, [r.id for r in rows])
            return [self._read(r, counts) for r in rows]

    def count(self, find: Find = ()) -> int:
        with self._database.reading() as s:
            return s.scalar(select(func.count()).select_from(self._found(select(RecipeRow.id), find).subquery())) or 0

    def whole(self) -> list[RecipeRecord]:
        """Every draft this program can read, by name."""
        with self._database.reading() as s:
            rows = s.scalars(select(RecipeRow).where(RecipeRow.removed.is_(None)).order_by(NAME, RecipeRow.id))
            found = [self._read(row, {}) for row in rows]
        return [r for r in found if isinstance(r, RecipeRecord)]

    def ids(self) -> set[str]:
        """Ids of all drafts, also of those taken out or unreadable."""
        with self._database.reading() as s:
            return set(s.scalars(select(RecipeRow.id)))

    def names(self, only: Collection[str] | None = None) -> list[tuple[str, str]]:
        """Id and name of every draft, or of some, latest change first."""
        with self._database.reading() as s:
            query = self._found(select(RecipeRow.id, NAME), ())
            rows = s.execute(query if only is None else query.where(RecipeRow.id.in_(only)))
            return [(i, str(name or "")) for i, name in rows]

    @staticmethod
    def _found(query: sa.Select[Any], find: Find) -> sa.Select[Any]:
        query = query.where(RecipeRow.removed.is_(None)).order_by(RecipeRow.changed.desc(), RecipeRow.id.desc())
        return query.where(*like(RecipeRow.doc, find))

    def _read(self, row: RecipeRow, counts: dict[str, tuple[int, int]]) -> "RecipeRecord | Unreadable":
        try:
            recipe = kept(self._drafts, (row.id, row.revision), lambda: Recipe.model_validate(row.doc))
            return RecipeRecord(row.id, recipe, row.revision, row.changed, *counts.get(row.id, (0, 0)))
        except ValidationError as error:
            first = error.errors()[0]
            why = f"{'/'.join(map(str, first['loc']))}: {first['msg']}"
            raw = json.dumps(row.doc, indent=2, ensure_ascii=False)
            name = row.doc.get("name") if isinstance(row.doc, dict) else None
            return Unreadable(row.id, str(name or "Without a name"), raw, why, row.changed)

    def raw(self, recipe_id: str) -> str:
        """A draft as it is stored, readable or not."""
        with self._database.reading() as s:
            return json.dumps(self._row(s, recipe_id).doc, indent=2, ensure_ascii=False)

    def get(self, recipe_id: str) -> RecipeRecord:
        with self._database.reading() as s:
            found = self._read(self._row(s, recipe_id), self._counts(s, [recipe_id]))
        if isinstance(found, Unreadable):
            message = f"This draft cannot be read by this version of Round Stone ({found.why}). Its text can be saved."
            raise RuleError(Fault(pointer="", message=message))
        return found

    def add(self, recipe_id: str, recipe: Recipe, now: datetime) -> None:
        self.add_all({recipe_id: recipe}, now)

    def add_all(self, recipes: Mapping[str, Recipe], now: datetime) -> None:
        """Add drafts by id, all or none; the first of them stands first in a list."""
        with self._database.writing() as s:
            for n, (recipe_id, recipe) in enumerate(recipes.items()):
                at = now - timedelta(microseconds=n)
                s.add(RecipeRow(id=recipe_id, doc=recipe.model_dump(mode="json"), revision=1, changed=at))

    def save(self, recipe_id: str, recipe: Recipe, revision: int, now: datetime) -> int:
        """Save what was typed on top of `revision`; the new revision. ConflictError when another window was faster."""
        with self._database.writing() as s:
            row = self._row(s, recipe_id)
            doc = recipe.model_dump(mode="json")
            # What is stored already is saved, whoever asks: the answer to the first time may have been lost.
            if row.revision != revision and doc != row.doc:
                raise ConflictError("This recipe was changed in another window. Reload to see it; yours is still here.")
            if doc != row.doc:
                row.doc, row.changed = doc, now
                row.revision += 1
            return row.revision

    def take_in(
        self, recipe_id: str, recipe: Recipe, uses: Mapping[str, Sequence[dict[str, Any]]], origin: str, now: datetime
    ) -> list[str]:
        """Add a draft and what it uses, all or nothing; what came in beside something that is called so here."""
        draft = {"id": recipe_id, "doc": recipe.model_dump(mode="json"), "revision": 1}
        draft |= {"changed": now.isoformat(), "removed": None}
        rows = {name: uses.get(name, ()) for name in TABLES} | {"recipe": [draft]}
        with self._database.writing() as s:
            return take_in(s, rows, {}, same=bool(origin) and origin == self._database.origin()).beside

    def remove(self, recipe_id: str, now: datetime | None) -> None:
        """Hide a recipe, or with None take that back. Its poured versions stay."""
        with self._database.writing() as s:
            row = s.get(RecipeRow, recipe_id)
            if row is None:
                raise NotFoundError("There is no such recipe.")
            row.removed = now

    @staticmethod
    def _row(s: Session, recipe_id: str) -> RecipeRow:
        row = s.get(RecipeRow, recipe_id)
        if row is None or row.removed is not None:
            raise NotFoundError("There is no such recipe, or it was removed.")
        return row

    @staticmethod
    def _counts(s: Session, recipes: Sequence[str]) -> dict[str, tuple[int, int]]:
        """Versions and pours of these recipes."""
        query = (
            select(VersionRow.recipe_id, func.count(VersionRow.id.distinct()), func.count(PourRow.id))
            .outerjoin(PourRow, PourRow.version_id == VersionRow.id)
            .where(VersionRow.recipe_id.in_(recipes))
            .group_by(VersionRow.recipe_id)
        )
        return {r: (v, p) for r, v, p in s.execute(query)}

    def planned(self, today: str) -> list[tuple[RecipeRecord, int]]:
        """Drafts whose brief names a day to come, that which is due first at the head, or days to be poured on, with
        how often each was poured for that day."""
        ready = _due(RecipeRow.doc)
        poured = (
            select(func.count(PourRow.id))
            .join(VersionRow, PourRow.version_id == VersionRow.id)
            .where(VersionRow.recipe_id == RecipeRow.id, _due(VersionRow.doc) == ready)
            .correlate(RecipeRow)
            .scalar_subquery()
        )
        with self._database.reading() as s:
            days = func.json_array_length(RecipeRow.doc, "$.brief.days")
            sale = func.json_extract(RecipeRow.doc, "$.brief.sale")
            drafts = select(RecipeRow, poured).where(
                RecipeRow.removed.is_(None), sa.or_(ready >= today, sale >= today, days > 0)
            )
            rows = s.execute(drafts.order_by(ready.is_(None), ready, RecipeRow.id))
            found = [(self._read(row, {}), times) for row, times in rows]
        return [(r, times) for r, times in found if isinstance(r, RecipeRecord)]

    def poured_days(self, recipes: Collection[str]) -> dict[str, list[datetime]]:
        """When each of some recipes was poured."""
        query = (
            select(VersionRow.recipe_id, PourRow.started)
            .join(VersionRow, PourRow.version_id == VersionRow.id)
            .where(VersionRow.recipe_id.in_(list(recipes)))
        )
        out: dict[str, list[datetime]] = {}
        with self._database.reading() as s:
            for recipe, started in s.execute(query):
                out.setdefault(recipe, []).append(started)
        return out

    def last_minutes(self, recipes: Collection[str]) -> dict[str, float]:
        """How long the last pour of each of some recipes took that ended."""
        query = (
            select(VersionRow.recipe_id, PourRow.ended_minute)
            .join(VersionRow, PourRow.version_id == VersionRow.id)
            .where(VersionRow.recipe_id.in_(list(recipes)), PourRow.ended_minute.is_not(None))
            .order_by(PourRow.started)
        )
        with self._database.reading() as s:
            return {str(recipe): minutes for recipe, minutes in s.execute(query) if minutes is not None}

    def poured_for(self, recipe_id: str, ready: str) -> int:
        """How often a recipe was poured for the day its brief named then."""
        query = (
            select(func.count(PourRow.id))
            .join(VersionRow, PourRow.version_id == VersionRow.id)
            .where(VersionRow.recipe_id == recipe_id, _due(VersionRow.doc) == ready)
        )
        with self._database.reading() as s:
            return s.scalar(query) or 0

    def versions(self, recipe_id: str) -> list[tuple[int, datetime, Recipe]]:
        """The versions of a recipe that were poured, latest first."""
        with self._database.reading() as s:
            rows = s.scalars(
                select(VersionRow).where(VersionRow.recipe_id == recipe_id).order_by(VersionRow.number.desc())
            )
            return [(r.number, r.made, Recipe.model_validate(r.doc)) for r in rows]

    def version(self, row: int) -> Recipe:
        """A version by its row; it never changes."""
        with self._database.reading() as s:
            found = s.get(VersionRow, row)
            if found is None:
                raise NotFoundError("There is no such version.")
            return Recipe.model_validate(found.doc)

    def sheet(self, row: int) -> Sheet | None:
        """The sheet a version was weighed by when it was poured; None where it could not be weighed."""
        return kept(self._sheets, row, lambda: self._read_sheet(row))

    def _read_sheet(self, row: int) -> Sheet | None:
        with self._database.asking() as connection:
            found = connection.execute(SHEET, {"row": row}).first()
        if found is None or found.sheet is None:
            return None
        try:
            return Sheet.model_validate(lifted(found.sheet))
        except ValidationError:
            # Of another program: what was weighed stands, and what is new of a sheet is as it would be weighed now.
            now = weigh(self.version(row), self._ingredients.shelf()).sheet
            kept_of = {k: v for k, v in lifted(found.sheet).items() if k in FIELDS}
            return Sheet.model_validate(now.model_dump(mode="json") | kept_of) if now is not None else None

    def keep_weights(self) -> None:
        """The sheets of poured versions that have none yet, as older programs left them: weighed now, and kept."""
        with self._database.reading() as s:
            rows = s.execute(UNWEIGHED).all()
        weighed = [(row, sheet) for row, doc in rows if (sheet := self._weighed(doc)) is not None]
        if weighed:
            with self._database.writing() as s:
                for row, sheet in weighed:
                    s.execute(sa.update(VersionRow).where(VersionRow.id == row).values(sheet=sheet))
            self._sheets = {}

    def _weighed(self, doc: Any) -> dict[str, Any] | None:
        """The sheet of a recipe as it is stored, as plain values; None while it has faults."""
        try:
            sheet = weigh(Recipe.model_validate(doc), self._ingredients.shelf()).sheet
        except ValidationError:
            return None
        return sheet.model_dump(mode="json") if sheet is not None else None

    def pinned(self, s: Session, recipe_id: str, now: datetime) -> VersionRow:
        """The draft as a version with its weights, in a transaction; the latest one again, if neither changed."""
        draft = self._row(s, recipe_id)
        latest = s.scalars(
            select(VersionRow).where(VersionRow.recipe_id == recipe_id).order_by(VersionRow.number.desc()).limit(1)
        ).first()
        sheet = self._weighed(draft.doc)
        if latest is not None and _same_recipe(latest.doc, draft.doc) and _same_weights(latest.sheet, sheet):
            return latest
        number = 1 if latest is None else latest.number + 1
        uid = version_uid(recipe_id, number, draft.doc)
        if s.scalar(select(VersionRow.id).where(VersionRow.uid == uid)) is not None:
            uid = version_uid(f"{recipe_id} {uuid4()}", number, draft.doc)
        made = VersionRow(recipe_id=recipe_id, number=number, doc=draft.doc, made=now, uid=uid, sheet=sheet)
        s.add(made)
        s.flush()
        return made

    def of_version(self, row: int, doc: dict[str, Any]) -> Recipe:
        """A poured recipe by the row it is kept in; ValidationError where it cannot be read."""
        return kept(self._versions, row, lambda: Recipe.model_validate(doc))

    def of_versions(self, s: Session, versions: Collection[int]) -> dict[int, Recipe]:
        """Poured recipes by the row they are kept in; one that cannot be read is left out."""
        out = {i: self._versions[i] for i in versions if i in self._versions}
        new = [i for i in versions if i not in out]
        for start in range(0, len(new), 500):
            docs = select(VersionRow.id, VersionRow.doc).where(VersionRow.id.in_(new[start : start + 500]))
            for row in s.execute(docs):
                with suppress(ValidationError):
                    out[row.id] = self.of_version(row.id, row.doc)
        return out


def _same_recipe(one: dict[str, Any], other: dict[str, Any]) -> bool:
    """Whether two documents are one recipe, whichever program wrote them; on which days it is poured is no part of
    it."""
    if one == other:
        return True

    def read(doc: dict[str, Any]) -> Recipe:
        recipe = Recipe.model_validate(doc)
        brief = recipe.brief and recipe.brief.model_copy(update={"days": (), "planned": ""})
        return recipe.model_copy(update={"brief": None if brief == Brief() else brief})

    try:
        return read(one) == read(other)
    except ValidationError:
        return False


def _same_weights(one: dict[str, Any] | None, two: dict[str, Any] | None) -> bool:
    """Whether two sheets say the same on the scale, line by line."""
    if one is None or two is None:
        return one is two
    return [(x["key"], x["reading"]) for x in one["lines"]] == [(x["key"], x["reading"]) for x in two["lines"]]
