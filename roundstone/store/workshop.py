"""One workshop in one SQLite file. Every write is one transaction; ids and times are passed in."""

import contextlib
import json
import os
import re
import sqlite3
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from contextlib import closing, contextmanager
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from functools import cached_property, partial
from pathlib import Path
from threading import RLock
from typing import Any, TypeVar
from uuid import UUID

import sqlalchemy as sa
from alembic import command
from alembic.config import Config
from pydantic import ValidationError
from sqlalchemy import event as sa_event
from sqlalchemy import func, select
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from ..core.forecast import Worth
from ..core.pour import EVENT, Event, Heeded, NextTime, PourState, Renamed, called, replay
from ..core.recipe import Recipe, UsualPour
from ..core.sheet import Lot
from ..core.shelf import USUAL_HUMIDITY, Additive, Fat, Fragrance, Habit, Ingredient, Liquid, Scales, Shelf
from ..core.values import Conflict, DataFileTrouble, Fault, Missing, RuleBroken
from ..reference import shelf as reference_shelf
from . import dump, keeping
from .settled import keep_offcuts, settle
from .tables import (
    EventRow,
    FragranceRow,
    LearnedRow,
    LotRow,
    OwnRow,
    PhotoRow,
    PourRow,
    RecipeRow,
    SettingRow,
    VersionRow,
)


@dataclass(frozen=True)
class RecipeRecord:
    """A draft with its history: `versions` were poured `pours` times."""

    id: str
    recipe: Recipe
    revision: int
    changed: datetime
    versions: int
    pours: int


@dataclass(frozen=True)
class Unreadable:
    """A draft this program cannot read: its raw JSON, and why."""

    id: str
    name: str
    raw: str
    why: str
    changed: datetime


@dataclass(frozen=True)
class Photo:
    """A picture of a pour's bar, `days` after it was poured."""

    id: str
    pour: str
    days: float
    note: str


@dataclass(frozen=True)
class Note:
    """What was noted for next time, about what, and at which pour of which recipe."""

    id: UUID
    says: str
    about: str
    pour: str
    recipe_id: str
    recipe: str
    started: datetime


@dataclass(frozen=True)
class PourRecord:
    """A pour with the recipe version it pins and its events in the order they came."""

    id: str
    recipe_id: str
    version: int
    recipe: Recipe
    started: datetime
    events: tuple[Event, ...]

    @classmethod
    def of(
        cls, pour: str, recipe_id: str, version: int, started: datetime, recipe: Recipe, events: Sequence[Event]
    ) -> "PourRecord":
        """As it is kept, in the names its portions carry last."""
        recipe, named = called(recipe, events)
        return cls(pour, recipe_id, version, recipe, started, named)

    @cached_property
    def state(self) -> PourState:
        """What the events come to."""
        return replay(self.events, self.recipe)

    @property
    def ended(self) -> bool:
        return self.state.ended is not None


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


# What was learned rests on finished pours alone: a tap in a running one changes nothing of it.
LOG_STAMP = select(
    select(func.count(PourRow.id)).where(PourRow.ended.is_not(None)).scalar_subquery(),
    select(func.sum(PourRow.taps)).where(PourRow.ended.is_not(None)).scalar_subquery(),
    *(select(func.sum(table.revision)).scalar_subquery() for table in (FragranceRow, OwnRow)),
    select(SettingRow.revision).where(SettingRow.name == "noise").scalar_subquery(),
    select(SettingRow.revision).where(SettingRow.name == "taps").scalar_subquery(),
    select(SettingRow.revision).where(SettingRow.name == "air").scalar_subquery(),
)
# The shelf rests on these.
SHELF_STAMP = select(
    *(select(func.sum(table.revision)).scalar_subquery() for table in (FragranceRow, OwnRow)),
    *(select(func.count()).select_from(table).scalar_subquery() for table in (FragranceRow, OwnRow)),
    *(select(SettingRow.revision).where(SettingRow.name == n).scalar_subquery() for n in ("scales", "taps", "air")),
)
# What is left of every lot rests on these.
STOCK_STAMP = select(
    select(func.count(PourRow.id)).scalar_subquery(),
    select(func.sum(LotRow.revision)).scalar_subquery(),
    select(func.count(LotRow.id)).where(LotRow.removed.is_(None)).scalar_subquery(),
    select(func.sum(OwnRow.revision)).scalar_subquery(),
)
NAME = func.json_extract(RecipeRow.doc, "$.name")
NAME_OF_VERSION = func.json_extract(VersionRow.doc, "$.name")
# What is looked for: every word, each with the ids of what on the shelf is called like it.
Find = Sequence[tuple[str, Sequence[str]]]
MOST_IDS = 40  # of one word that are looked for in recipes


def _like(doc: Any, find: Find) -> Iterator[sa.ColumnElement[bool]]:
    """A recipe is found when each word is part of its name, or of the name of something in it."""
    text = sa.cast(doc, sa.String)
    for word, ids in find:
        name = func.json_extract(doc, "$.name").icontains(word, autoescape=True)
        yield sa.or_(name, *(text.contains(f'"{i}"', autoescape=True) for i in ids[:MOST_IDS]))


DAY = re.compile(r"(19|20)\d\d(-\d\d(-\d\d)?)?")
MONTHS = (
    "january", "february", "march", "april", "may", "june",
    "july", "august", "september", "october", "november", "december",
)  # fmt: skip


def _month(word: str) -> str | None:
    """The month a word names, as two digits: at least its first three letters.

    >>> _month("Nov"), _month("november"), _month("no")
    ('11', '11', None)
    """
    found = [n for n, name in enumerate(MONTHS, 1) if len(word) >= 3 and name.startswith(word.casefold())]
    return f"{found[0]:02d}" if found else None


def _narrowed(find: Find, phases: Sequence[str], came: str, since: datetime | None) -> Iterator[sa.ColumnElement[bool]]:
    """Pours found by their recipe, a note or their day (a month, or 2031-05), in some phases, that came out so, or
    were begun since then.
    """
    for word in find:
        # Versions are looked through once, not once a pour; notes by their own index.
        recipes = select(VersionRow.id).where(*_like(VersionRow.doc, [word]))
        says = func.json_extract(EventRow.doc, "$.says").icontains(word[0], autoescape=True)
        notes = select(EventRow.pour_id).where(sa.text("json_extract(event.doc, '$.kind') IN ('next', 'heed', 'undo')"))
        ways: list[sa.ColumnElement[bool]] = [PourRow.version_id.in_(recipes), PourRow.id.in_(notes.where(says))]
        if (month := _month(word[0])) is not None:
            ways.append(sa.func.strftime("%m", PourRow.started) == month)
        if DAY.fullmatch(word[0]):
            ways.append(sa.func.strftime("%Y-%m-%d", PourRow.started).startswith(word[0], autoescape=True))
        yield sa.or_(*ways)
    if phases:
        yield PourRow.phase.in_(phases)
    if came:
        yield PourRow.came == came
    if since is not None:
        yield PourRow.started >= since


def _renames(events: Iterable[Event]) -> bool:
    return any(isinstance(e, Renamed) for e in events)


MOST_KEPT = 5000  # of each kind that are kept read
K = TypeVar("K")
V = TypeVar("V")


def _kept(keep: dict[K, V], key: K, read: Callable[[], V]) -> V:
    """What was read before, else read now and kept."""
    with contextlib.suppress(KeyError):
        return keep[key]
    if len(keep) >= MOST_KEPT:
        keep.clear()
    value = keep[key] = read()
    return value


class Workshop:
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
        self._shelf: tuple[tuple[int, ...], Shelf] | None = None  # as last read, with the stamp of what it rests on
        # What was read once: a draft's revision, a poured version and a pour's log up to a tap never change.
        self._drafts: dict[tuple[str, int], Recipe] = {}
        self._versions: dict[int, Recipe] = {}
        self._pours: dict[tuple[str, int], PourRecord] = {}
        self._read: dict[str, Event] = {}
        self._writing = RLock()  # one writer in the process: others wait here, not in the file
        self._engine = _connect(path)
        self._closed = False
        if was != keeping.revisions()[-1]:
            self._migrate()

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
                raise DataFileTrouble(f"The copy could not be put in place ({error}): nothing was changed.") from error
            if was != keeping.revisions()[-1]:
                self._migrate()
            self._shelf = None
            for read in (self._drafts, self._versions, self._pours, self._read):
                read.clear()
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

    @contextmanager
    def reading(self) -> Iterator[Session]:
        with Session(self._open()) as session:
            yield session

    @contextmanager
    def writing(self) -> Iterator[Session]:
        with self._writing, Session(self._open().execution_options(write=True)) as session, session.begin():
            yield session
        self.changes += 1

    # Shelf -----------------------------------------------------------------------------------------------------

    def shelf(self) -> Shelf:
        """The reference shelf with this workshop's fragrances and own ingredients on it."""
        with self._open().connect() as connection:
            stamp = tuple(n or 0 for n in connection.execute(SHELF_STAMP).one())
        kept = self._shelf
        if kept is None or kept[0] != stamp:
            kept = self._shelf = (stamp, self._read_shelf())
        return kept[1]

    def _read_shelf(self) -> Shelf:
        with self.reading() as s:
            rows = s.scalars(select(FragranceRow)).all()
            own = [self._own(r) for r in s.scalars(select(OwnRow).order_by(OwnRow.id))]
        fragrances = sorted((Fragrance.model_validate(r.doc) for r in rows), key=lambda f: f.name.casefold())
        standard = reference_shelf()
        return standard.model_copy(
            update={
                "scales": self.scales(),
                "taps": self.taps(),
                "humidity": self.humidity(),
                "fragrances": {f.id: f for f in fragrances},
                "fats": dict(standard.fats) | {x.id: x for x in own if isinstance(x, Fat)},
                "liquids": dict(standard.liquids) | {x.id: x for x in own if isinstance(x, Liquid)},
                "additives": dict(standard.additives) | {x.id: x for x in own if isinstance(x, Additive)},
            }
        )

    def scales(self) -> Scales:
        """The maker's scales, as set or as usual."""
        kept = self.setting("scales")
        return Scales() if kept is None else Scales.model_validate(kept)

    def taps(self) -> Habit:
        """How the maker taps, as asked once."""
        kept = self.setting("taps")
        return "turns" if kept is not None and kept.get("taps") == "turns" else "looks"

    def humidity(self) -> float:
        """Relative humidity where soap cures, as set or as usual."""
        return float((self.setting("air") or {}).get("humidity", USUAL_HUMIDITY))

    def usual_pour(self) -> UsualPour:
        """How warm it is usually poured, and in what room, as far as that was set."""
        return UsualPour.model_validate(self.setting("usual") or {})

    def worth(self) -> Worth:
        """What an outcome is worth to the maker, as set or as usual."""
        return Worth(**(self.setting("worth") or {}))

    @staticmethod
    def _own(row: OwnRow) -> Ingredient:
        kinds: dict[str, type[Fat] | type[Liquid] | type[Additive]] = {
            "fat": Fat,
            "liquid": Liquid,
            "additive": Additive,
        }
        return kinds[row.kind].model_validate(row.doc)

    def own(self) -> list[Ingredient]:
        """The maker's own ingredients that are not hidden."""
        with self.reading() as s:
            return [self._own(r) for r in s.scalars(select(OwnRow).where(OwnRow.removed.is_(None)).order_by(OwnRow.id))]

    def add_own(self, ingredient: Ingredient) -> None:
        """Conflict when the id is taken, also by an ingredient of the reference tables."""
        with self.writing() as s:
            standard = reference_shelf()
            taken = {*standard.fats, *standard.liquids, *standard.additives}
            if ingredient.id in taken or s.get(OwnRow, ingredient.id) is not None:
                raise Conflict(f"There is a thing called {ingredient.name} on the shelf already.")
            kind = type(ingredient).__name__.lower()
            s.add(OwnRow(id=ingredient.id, kind=kind, doc=ingredient.model_dump(mode="json"), revision=1, removed=None))

    def change_own(self, ingredient: Ingredient) -> None:
        """Put other figures to an own ingredient; Conflict once it was poured: poured recipes stay as weighed."""
        with self.writing() as s:
            row = s.get(OwnRow, ingredient.id)
            if row is None or row.kind != type(ingredient).__name__.lower():
                raise Missing("There is no such ingredient of your own.")
            if self._in_a_pour(s, ingredient.id):
                raise Conflict(f"{ingredient.name} was poured: its figures stay. Add it anew under another name.")
            # An infusion or a premix has its figures from what it is made of.
            of = f'"{type(ingredient).__name__.lower()}:{ingredient.id}"'
            made = sa.cast(OwnRow.doc, sa.String).contains(of, autoescape=True)
            if s.scalar(select(OwnRow.id).where(made, OwnRow.id != ingredient.id).limit(1)) is not None:
                raise Conflict(
                    f"Something is made of {ingredient.name}: its figures stay. Add it anew under another name."
                )
            row.doc = ingredient.model_dump(mode="json")
            row.revision += 1

    @staticmethod
    def _in_a_pour(s: Session, what: str) -> bool:
        """Whether something of the shelf stands in a recipe that was poured."""
        named = sa.cast(VersionRow.doc, sa.String).contains(f'"{what}"', autoescape=True)
        return s.scalar(select(VersionRow.id).where(named).limit(1)) is not None

    def hide_own(self, ingredient_id: str, now: datetime | None) -> None:
        """Take an ingredient out of the choices, or with None back into them; recipes that use it go on."""
        with self.writing() as s:
            row = s.get(OwnRow, ingredient_id)
            if row is None:
                raise Missing("There is no such ingredient of your own.")
            row.removed = now

    # Stock -----------------------------------------------------------------------------------------------------

    def lots(self) -> dict[str, Lot]:
        """Lots by id, without those put away."""
        with self.reading() as s:
            return {r.id: Lot.model_validate(r.doc) for r in s.scalars(select(LotRow).where(LotRow.removed.is_(None)))}

    def made_lots(self) -> list[Lot]:
        """Every lot that was made here, also those put away: what went into it is gone."""
        with self.reading() as s:
            made = func.json_extract(LotRow.doc, "$.made").is_not(None)
            return [Lot.model_validate(doc) for doc in s.scalars(select(LotRow.doc).where(made))]

    def lot_revisions(self) -> dict[str, int]:
        with self.reading() as s:
            return {str(i): int(n) for i, n in s.execute(select(LotRow.id, LotRow.revision))}

    def save_lot(self, lot_id: str, lot: Lot, revision: int | None) -> None:
        """Add a lot, or change the one of this revision; Conflict when another window changed it first."""
        with self.writing() as s:
            row = s.get(LotRow, lot_id)
            doc = lot.model_dump(mode="json")
            if row is not None and revision is not None and row.revision != revision and row.doc != doc:
                raise Conflict("This lot was changed in another window. Look at it again, then correct it.")
        self.take_in((), {lot_id: lot})

    def save_lots(self, lots: Mapping[str, Lot]) -> None:
        """Add lots or change them, all or none."""
        self.take_in((), lots)

    def take_in(self, fragrances: Iterable[Fragrance], lots: Mapping[str, Lot]) -> None:
        """Put new fragrances and lots on the shelf, all or none."""
        with self.writing() as s:
            for fragrance in fragrances:
                s.add(FragranceRow(id=fragrance.id, doc=fragrance.model_dump(mode="json"), revision=1))
            for lot_id, lot in lots.items():
                row = s.get(LotRow, lot_id)
                if row is None:
                    s.add(LotRow(id=lot_id, doc=lot.model_dump(mode="json"), removed=None, revision=1))
                else:
                    row.doc = lot.model_dump(mode="json")
                    row.revision += 1

    def remove_lot(self, lot_id: str, now: datetime | None) -> None:
        """Put a used-up lot away, or with None take it back."""
        with self.writing() as s:
            row = s.get(LotRow, lot_id)
            if row is None:
                raise Missing("There is no such lot.")
            row.removed = now
            if now is None and row.doc.get("unmade"):
                row.doc = row.doc | {"unmade": False}
            row.revision += 1

    def unmake_lot(self, lot_id: str, now: datetime) -> None:
        """A lot that was not made after all: put away, and it took nothing."""
        with self.writing() as s:
            row = s.get(LotRow, lot_id)
            if row is None or not row.doc.get("made"):
                raise Missing("There is no such lot that was made here.")
            row.doc = row.doc | {"unmade": True}
            row.removed = now
            row.revision += 1

    def versions(self, recipe_id: str) -> list[tuple[int, datetime, Recipe]]:
        """The versions of a recipe that were poured, latest first."""
        with self.reading() as s:
            rows = s.scalars(
                select(VersionRow).where(VersionRow.recipe_id == recipe_id).order_by(VersionRow.number.desc())
            )
            return [(r.number, r.made, Recipe.model_validate(r.doc)) for r in rows]

    def fragrance(self, fragrance_id: str) -> Fragrance:
        with self.reading() as s:
            row = s.get(FragranceRow, fragrance_id)
            if row is None:
                raise Missing("This fragrance is not on the shelf.")
            return Fragrance.model_validate(row.doc)

    def add_fragrance(self, fragrance: Fragrance) -> None:
        """Conflict when the id is taken."""
        with self.writing() as s:
            if s.get(FragranceRow, fragrance.id) is not None:
                raise Conflict(f"There is a fragrance called {fragrance.name} already.")
            s.add(FragranceRow(id=fragrance.id, doc=fragrance.model_dump(mode="json"), revision=1))

    def change_fragrances(self, fragrances: Iterable[Fragrance]) -> None:
        """Put other facts to fragrances of the shelf, all or none; Conflict where a poured blend got other parts."""
        with self.writing() as s:
            for fragrance in fragrances:
                row = s.get(FragranceRow, fragrance.id)
                if row is None:
                    raise Missing("This fragrance is not on the shelf.")
                was = Fragrance.model_validate(row.doc)
                if (was.parts, was.bottled) != (fragrance.parts, fragrance.bottled) and self._in_a_pour(
                    s, fragrance.id
                ):
                    says = "was poured: its parts stay. Keep the new shares as another blend, or bottle it."
                    raise Conflict(f"{was.name} {says}")
                row.doc = fragrance.model_dump(mode="json")
                row.revision += 1

    # Recipes ---------------------------------------------------------------------------------------------------

    def recipes(self, find: Find = (), first: int = 0, most: int = 10_000) -> list[RecipeRecord | Unreadable]:
        """Drafts that were not removed, latest change first. One page of those found."""
        with self.reading() as s:
            rows = s.scalars(self._found(select(RecipeRow), find).offset(first).limit(most)).all()
            counts = self._counts(s, [r.id for r in rows])
            return [self._recipe_or_raw(r, counts) for r in rows]

    def recipe_count(self, find: Find = ()) -> int:
        with self.reading() as s:
            return s.scalar(select(func.count()).select_from(self._found(select(RecipeRow.id), find).subquery())) or 0

    def recipe_names(self, only: Collection[str] | None = None) -> list[tuple[str, str]]:
        """Id and name of every draft, or of some, latest change first."""
        with self.reading() as s:
            query = self._found(select(RecipeRow.id, NAME), ())
            rows = s.execute(query if only is None else query.where(RecipeRow.id.in_(only)))
            return [(i, str(name or "")) for i, name in rows]

    @staticmethod
    def _found(query: sa.Select[Any], find: Find) -> sa.Select[Any]:
        query = query.where(RecipeRow.removed.is_(None)).order_by(RecipeRow.changed.desc(), RecipeRow.id.desc())
        return query.where(*_like(RecipeRow.doc, find))

    def _recipe_or_raw(self, row: RecipeRow, counts: dict[str, tuple[int, int]]) -> "RecipeRecord | Unreadable":
        try:
            recipe = _kept(self._drafts, (row.id, row.revision), lambda: Recipe.model_validate(row.doc))
            return RecipeRecord(row.id, recipe, row.revision, row.changed, *counts.get(row.id, (0, 0)))
        except ValidationError as error:
            first = error.errors()[0]
            why = f"{'/'.join(map(str, first['loc']))}: {first['msg']}"
            raw = json.dumps(row.doc, indent=2, ensure_ascii=False)
            name = row.doc.get("name") if isinstance(row.doc, dict) else None
            return Unreadable(row.id, str(name or "Without a name"), raw, why, row.changed)

    def raw_recipe(self, recipe_id: str) -> str:
        """A draft as it is stored, readable or not."""
        with self.reading() as s:
            return json.dumps(self._recipe_row(s, recipe_id).doc, indent=2, ensure_ascii=False)

    def recipe(self, recipe_id: str) -> RecipeRecord:
        with self.reading() as s:
            found = self._recipe_or_raw(self._recipe_row(s, recipe_id), self._counts(s, [recipe_id]))
        if isinstance(found, Unreadable):
            says = f"This draft cannot be read by this version of Round Stone ({found.why}). Its text can be saved."
            raise RuleBroken(Fault(pointer="", says=says))
        return found

    def add_recipe(self, recipe_id: str, recipe: Recipe, now: datetime) -> None:
        with self.writing() as s:
            s.add(RecipeRow(id=recipe_id, doc=recipe.model_dump(mode="json"), revision=1, changed=now))

    def save_draft(self, recipe_id: str, recipe: Recipe, revision: int, now: datetime) -> int:
        """Save what was typed on top of `revision`; the new revision. Conflict when another window was faster."""
        with self.writing() as s:
            row = self._recipe_row(s, recipe_id)
            doc = recipe.model_dump(mode="json")
            # What is stored already is saved, whoever asks: the answer to the first time may have been lost.
            if row.revision != revision and doc != row.doc:
                raise Conflict("This recipe was changed in another window. Reload to see it; yours is still here.")
            if doc != row.doc:
                row.doc, row.changed = doc, now
                row.revision += 1
            return row.revision

    def remove_recipe(self, recipe_id: str, now: datetime | None) -> None:
        """Hide a recipe, or with None take that back. Its poured versions stay."""
        with self.writing() as s:
            row = s.get(RecipeRow, recipe_id)
            if row is None:
                raise Missing("There is no such recipe.")
            row.removed = now

    @staticmethod
    def _recipe_row(s: Session, recipe_id: str) -> RecipeRow:
        row = s.get(RecipeRow, recipe_id)
        if row is None or row.removed is not None:
            raise Missing("There is no such recipe, or it was removed.")
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

    def planned(self, today: str) -> list[RecipeRecord]:
        """Drafts whose brief names a day to come, the soonest first; not those poured since they were changed."""
        ready = func.json_extract(RecipeRow.doc, "$.brief.ready")
        poured = (
            select(VersionRow.recipe_id, func.max(PourRow.started).label("last"))
            .join(PourRow, PourRow.version_id == VersionRow.id)
            .group_by(VersionRow.recipe_id)
            .subquery()
        )
        with self.reading() as s:
            query = (
                select(RecipeRow)
                .outerjoin(poured, poured.c.recipe_id == RecipeRow.id)
                .where(RecipeRow.removed.is_(None), ready >= today)
                .where(sa.or_(poured.c.last.is_(None), poured.c.last < RecipeRow.changed))
                .order_by(ready, RecipeRow.id)
            )
            found = [self._recipe_or_raw(row, {}) for row in s.scalars(query)]
        return [r for r in found if isinstance(r, RecipeRecord)]

    # Pours -----------------------------------------------------------------------------------------------------

    def start_pour(self, pour_id: str, recipe_id: str, now: datetime, foretold: dict[str, Any] | None = None) -> str:
        """Pin the draft as a version (the latest one again, when nothing changed since) and start its clock.

        A recipe that is being poured already is not started twice: the id of the pour that runs. `foretold` is what is
        forecast of it.
        """
        with self.writing() as s:
            running = self._running(s, recipe_id)
            if recipe_id in running:
                return running[recipe_id]
            self._begin(s, pour_id, recipe_id, now).foretold = foretold
            return pour_id

    def running(self) -> dict[str, str]:
        """Pours not yet ended, by recipe."""
        with self.reading() as s:
            return self._running(s)

    @staticmethod
    def _running(s: Session, recipe_id: str | None = None) -> dict[str, str]:
        query = (
            select(VersionRow.recipe_id, PourRow.id)
            .join(VersionRow, VersionRow.id == PourRow.version_id)
            .where(PourRow.ended.is_(None))
            .order_by(PourRow.started)
        )
        if recipe_id is not None:
            query = query.where(VersionRow.recipe_id == recipe_id)
        return {str(recipe): str(pour) for recipe, pour in s.execute(query)}

    def _begin(self, s: Session, pour_id: str, recipe_id: str, now: datetime) -> PourRow:
        draft = self._recipe_row(s, recipe_id)
        latest = s.scalars(
            select(VersionRow).where(VersionRow.recipe_id == recipe_id).order_by(VersionRow.number.desc()).limit(1)
        ).first()
        if latest is None or latest.doc != draft.doc:
            number = 1 if latest is None else latest.number + 1
            latest = VersionRow(recipe_id=recipe_id, number=number, doc=draft.doc, made=now)
            s.add(latest)
            s.flush()
        pour = PourRow(id=pour_id, version_id=latest.id, started=now, ended=None, taps=0, phase="poured")
        s.add(pour)
        return pour

    def pours(
        self,
        find: Find = (),
        first: int = 0,
        most: int = 1_000_000,
        finished: bool = False,
        phases: Sequence[str] = (),
        came: str = "",
        since: datetime | None = None,
    ) -> list[PourRecord]:
        """Pours, latest first. One page of those whose recipe is found, or only those that ended, in some phases, that
        came out so, or were begun since then."""
        with self.reading() as s:
            query = self._poured(find, phases, came, since).offset(first).limit(most)
            if finished:
                query = query.where(PourRow.ended.is_not(None))
            rows = s.execute(query).all()
            for p, _ in rows:
                self._forget_moved(p.id, p.taps, p.started)
            read = self._events(s, [p.id for p, _ in rows if (p.id, p.taps) not in self._pours])
            out = []
            for p, v in rows:
                recipe = self._version_recipe(v)
                if recipe is not None:
                    fields = (p.id, v.recipe_id, v.number, p.started, recipe, read.get(p.id, ()))
                    out.append(_kept(self._pours, (p.id, p.taps), partial(PourRecord.of, *fields)))
            return out

    def _version_recipe(self, version: VersionRow) -> Recipe | None:
        """A version that cannot be read takes no list down with it."""
        try:
            return _kept(self._versions, version.id, lambda: Recipe.model_validate(version.doc))
        except ValidationError:
            return None

    def pour_count(
        self, find: Find = (), phases: Sequence[str] = (), came: str = "", since: datetime | None = None
    ) -> int:
        with self.reading() as s:
            narrowed = _narrowed(find, phases, came, since)  # every pour has its version: nothing to join
            return s.scalar(select(func.count(PourRow.id)).where(*narrowed)) or 0

    @staticmethod
    def _poured(
        find: Find, phases: Sequence[str] = (), came: str = "", since: datetime | None = None
    ) -> sa.Select[Any]:
        both: Any = select(PourRow, VersionRow)
        query: sa.Select[Any] = both.join(VersionRow, VersionRow.id == PourRow.version_id).order_by(
            PourRow.started.desc(), PourRow.id.desc()
        )
        return query.where(*_narrowed(find, phases, came, since))

    def foretold(self, pours: Collection[str]) -> dict[str, dict[str, Any]]:
        """What was forecast of these pours when they were begun, where that was kept."""
        with self.reading() as s:
            query = select(PourRow.id, PourRow.foretold).where(PourRow.id.in_(pours), PourRow.foretold.is_not(None))
            return {str(i): doc for i, doc in s.execute(query) if doc is not None}

    @staticmethod
    def _events(s: Session, pours: Sequence[str]) -> dict[str, list[Event]]:
        """Events by pour, in the order they came."""
        out: dict[str, list[Event]] = {}
        for start in range(0, len(pours), 500):
            some = select(EventRow.pour_id, EventRow.doc).where(EventRow.pour_id.in_(pours[start : start + 500]))
            for pour, doc in s.execute(some.order_by(EventRow.seq)):
                out.setdefault(pour, []).append(EVENT.validate_python(doc))
        return out

    def poured(self) -> list[tuple[str, int, datetime]]:
        """Every pour's id, version row and start, oldest first."""
        with self.reading() as s:
            query = select(PourRow.id, PourRow.version_id, PourRow.started).order_by(PourRow.started)
            return [(i, version, started) for i, version, started in s.execute(query)]

    def version(self, row: int) -> Recipe:
        """A version by its row; it never changes."""
        with self.reading() as s:
            found = s.get(VersionRow, row)
            if found is None:
                raise Missing("There is no such version.")
            return Recipe.model_validate(found.doc)

    def pour(self, pour_id: str) -> PourRecord:
        with self.reading() as s:
            return self._pour_in(s, pour_id)

    def pours_of(self, recipe_id: str, most: int) -> list[PourRecord]:
        """The last pours of a recipe that ended, latest first."""
        with self.reading() as s:
            query = (
                select(PourRow.id)
                .join(VersionRow, PourRow.version_id == VersionRow.id)
                .where(VersionRow.recipe_id == recipe_id, PourRow.ended.is_not(None))
                .order_by(PourRow.started.desc())
                .limit(most)
            )
            return [self._pour_in(s, str(i)) for i in s.scalars(query)]

    def notes(self) -> tuple[list[Note], list[Heeded]]:
        """All notes for next time that stand, latest first, and what became of them since."""
        with self.reading() as s:
            query = (
                select(EventRow.doc, EventRow.pour_id, PourRow.started, VersionRow.recipe_id, NAME_OF_VERSION)
                .join(PourRow, PourRow.id == EventRow.pour_id)
                .join(VersionRow, VersionRow.id == PourRow.version_id)
                .where(sa.text("json_extract(event.doc, '$.kind') IN ('next', 'heed', 'undo')"))
                .order_by(PourRow.started.desc(), EventRow.seq.desc())
            )
            rows = s.execute(query).all()
        undone = {doc["target"] for doc, *_ in rows if doc["kind"] == "undo"}
        found: list[Note] = []
        heeds: list[Heeded] = []
        for doc, pour, started, recipe_id, name in rows:
            if doc["kind"] == "undo" or doc["id"] in undone:
                continue
            event = _kept(self._read, doc["id"], partial(EVENT.validate_python, doc))
            if isinstance(event, NextTime):
                found.append(Note(event.id, event.says, event.about, pour, recipe_id, name, started))
            elif isinstance(event, Heeded):
                heeds.append(event)
        return found, heeds

    def partners(self) -> dict[str, set[str]]:
        """Batches in one mould with others, by id, each with all of the others."""
        with self.reading() as s:
            query = select(EventRow.id, EventRow.pour_id, func.json_extract(EventRow.doc, "$.other"))
            joins = s.execute(query.where(sa.text("json_extract(event.doc, '$.kind') = 'join'"))).all()
            logs = {pour: {str(e.id) for e in self._pour_in(s, pour).state.standing} for _, pour, _ in joins}
            others = [other for _, _, other in joins]
            there = set(s.scalars(select(PourRow.id).where(PourRow.id.in_(others))))
        together: dict[str, set[str]] = {}
        for event, pour, other in joins:
            if event in logs[pour] and other in there:
                block = {pour, other} | together.get(pour, set()) | together.get(other, set())
                together |= dict.fromkeys(block, block)
        return {pour: block - {pour} for pour, block in together.items()}

    def append(self, pour_id: str, events: Sequence[Event], received: datetime) -> PourRecord:
        """Add a tap and what belongs to it, once: a repeated request changes nothing."""
        with self.writing() as s:
            row = s.get(PourRow, pour_id)
            if row is None:
                raise Missing("There is no such pour.")
            new: list[Event] = []
            for event in events:
                doc = event.model_dump(mode="json")
                there = s.scalars(select(EventRow).where(EventRow.id == str(event.id))).first()
                if there is None:
                    s.add(EventRow(id=str(event.id), pour_id=pour_id, doc=doc, received=received))
                    new.append(event)
                elif there.pour_id != pour_id or there.doc != doc:
                    raise Conflict("This event id was used for something else.")
            s.flush()
            known = self._pours.get((pour_id, row.taps))
            if known is not None and known.started == row.started and not _renames((*known.events, *new)):
                pour = replace(known, events=(*known.events, *new))
            else:
                pour = self._read_pour(s, pour_id)
            self._pours.pop((pour_id, row.taps), None)
            settle(row, pour.state, len(pour.events))
            _kept(self._pours, (pour_id, row.taps), lambda: pour)
            keep_offcuts(s, row, pour.recipe.name, pour.events, pour.state)
            return pour

    def write_down(self, pour_id: str, events: Sequence[Event], received: datetime) -> None:
        """Add a whole run of events that are known to follow one another, in one transaction."""
        self.append(pour_id, events, received)

    def add_past(self, pour_id: str, recipe_id: str, started: datetime, events: Sequence[Event]) -> None:
        """A pour from a notebook, with all its events."""
        self.add_pasts([(pour_id, recipe_id, started, events)])

    def add_pasts(self, pours: Sequence[tuple[str, str, datetime, Sequence[Event]]]) -> None:
        """Pours from a notebook (id, recipe, start, events), all or none."""
        with self.writing() as s:
            for pour_id, recipe_id, started, events in pours:
                settle(self._begin(s, pour_id, recipe_id, started), replay(events), len(events))
                s.flush()
                s.add_all(
                    EventRow(id=str(e.id), pour_id=pour_id, doc=e.model_dump(mode="json"), received=started)
                    for e in events
                )

    def restart_clock(self, pour_id: str, started: datetime) -> None:
        """Move a pour's start: only for showing a pour in progress whenever the demo workshop is opened."""
        with self.writing() as s:
            row = s.get(PourRow, pour_id)
            if row is None:
                raise Missing("There is no such pour.")
            row.started = started

    def setting(self, name: str) -> dict[str, Any] | None:
        with self.reading() as s:
            row = s.get(SettingRow, name)
            return None if row is None else row.doc

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

    def add_photo(self, photo: Photo, jpeg: bytes) -> None:
        with self.writing() as s:
            if s.get(PourRow, photo.pour) is None:
                raise Missing("There is no such pour.")
            s.add(PhotoRow(id=photo.id, pour_id=photo.pour, days=photo.days, note=photo.note, jpeg=jpeg, removed=None))

    def photos(self, pours: Collection[str]) -> list[Photo]:
        """Photographs of these pours, in order of age."""
        with self.reading() as s:
            rows = s.execute(
                select(PhotoRow.id, PhotoRow.pour_id, PhotoRow.days, PhotoRow.note)
                .where(PhotoRow.pour_id.in_(pours), PhotoRow.removed.is_(None))
                .order_by(PhotoRow.days, PhotoRow.id)
            )
            return [Photo(i, pour, days, note) for i, pour, days, note in rows]

    def photo(self, photo_id: str) -> bytes:
        with self.reading() as s:
            row = s.get(PhotoRow, photo_id)
            if row is None or row.removed is not None:
                raise Missing("There is no such picture.")
            return row.jpeg

    def forget_photos(self, before: datetime) -> None:
        """Pictures removed before this moment are gone from the file: they can be brought back no more."""
        with self.reading() as s:
            some = s.scalar(select(func.count()).select_from(PhotoRow).where(PhotoRow.removed < before))
        if some:
            with self.writing() as s:
                s.execute(sa.delete(PhotoRow).where(PhotoRow.removed < before))

    def remove_photo(self, photo_id: str, now: datetime | None) -> None:
        """Hide a picture, or with None take that back."""
        with self.writing() as s:
            row = s.get(PhotoRow, photo_id)
            if row is None:
                raise Missing("There is no such picture.")
            row.removed = now

    def log_stamp(self) -> tuple[int, ...]:
        """Changes whenever a pour has ended or changed after its end, or a claim or an own ingredient was edited."""
        with self._open().connect() as connection:
            return tuple(n or 0 for n in connection.execute(LOG_STAMP).one())

    def finished(self) -> int:
        """How many pours have ended."""
        with self.reading() as s:
            return s.scalar(select(func.count(PourRow.id)).where(PourRow.ended.is_not(None))) or 0

    def stock_stamp(self) -> tuple[int, ...]:
        """Changes whenever a lot was edited or a pour begun."""
        with self._open().connect() as connection:
            return tuple(n or 0 for n in connection.execute(STOCK_STAMP).one())

    def _pour_in(self, s: Session, pour_id: str) -> PourRecord:
        """A pour as it stands; one read before is read again only when more was tapped."""
        row = s.execute(select(PourRow.taps, PourRow.started).where(PourRow.id == pour_id)).first()
        if row is not None:
            self._forget_moved(pour_id, row.taps, row.started)
            if (known := self._pours.get((pour_id, row.taps))) is not None:
                return known
        pour = self._read_pour(s, pour_id)
        return _kept(self._pours, (pour_id, len(pour.events)), lambda: pour)

    def _forget_moved(self, pour_id: str, taps: int, started: datetime) -> None:
        """A pour that was read before its start was moved is not what it was."""
        known = self._pours.get((pour_id, taps))
        if known is not None and known.started != started:
            self._pours.pop((pour_id, taps), None)

    def _read_pour(self, s: Session, pour_id: str) -> PourRecord:
        found = s.execute(
            select(PourRow, VersionRow)
            .join(VersionRow, VersionRow.id == PourRow.version_id)
            .where(PourRow.id == pour_id)
        ).first()
        if found is None:
            raise Missing("There is no such pour.")
        pour, version = found
        rows = s.execute(select(EventRow.id, EventRow.doc).where(EventRow.pour_id == pour_id).order_by(EventRow.seq))
        # An event never changes: each is read once.
        events = [_kept(self._read, i, partial(EVENT.validate_python, doc)) for i, doc in rows]
        recipe = _kept(self._versions, version.id, lambda: Recipe.model_validate(version.doc))
        return PourRecord.of(pour.id, version.recipe_id, version.number, pour.started, recipe, events)

    def dump(self) -> dict[str, list[dict[str, Any]]]:
        """All rows by table, as plain values; pictures without their bytes."""
        with self.reading() as s:
            return dump.dump(s)

    def photo_bytes(self, photo_id: str) -> bytes:
        """A picture as it is stored, also one that was removed a moment ago."""
        with self.reading() as s:
            return s.get_one(PhotoRow, photo_id).jpeg

    def take_in_dump(
        self, rows: Mapping[str, Sequence[dict[str, Any]]], pictures: Mapping[str, bytes]
    ) -> tuple[dict[str, int], dict[str, int], list[str]]:
        """Add what is not there yet, all or nothing: how many were new, and how many were there, by table, and what
        stands there otherwise."""
        with self.writing() as s:
            return dump.take_in(s, rows, pictures)

    def learned(self, name: str) -> tuple[str, dict[str, Any]] | None:
        """What was kept as learned, with the stamp of the log it was learned from."""
        with self.reading() as s:
            row = s.get(LearnedRow, name)
            return None if row is None else (row.stamp, row.doc)

    def keep_learned(self, name: str, stamp: str, doc: dict[str, Any]) -> None:
        with self.writing() as s:
            s.merge(LearnedRow(name=name, stamp=stamp, doc=doc))
