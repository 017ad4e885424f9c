"""One workshop in one SQLite file. Every write is one transaction; ids and times are passed in."""

import json
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

import sqlalchemy as sa
from alembic import command
from alembic.config import Config
from sqlalchemy import event as sa_event
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from ..core.own import Ingredient
from ..core.pour import EVENT, Ended, Event, replay
from ..core.recipe import Recipe
from ..core.shelf import Additive, Fat, Fragrance, Liquid, Shelf
from ..core.stock import Lot
from ..reference import shelf as reference_shelf
from .tables import EventRow, FragranceRow, LotRow, OwnRow, PhotoRow, PourRow, RecipeRow, SettingRow, VersionRow


class Missing(LookupError):  # noqa: N818 - read as it is raised: raise Missing
    """There is no such recipe, pour or fragrance."""


class Conflict(RuntimeError):  # noqa: N818
    """Someone else changed it first, or one id was used for two things."""


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
class Photo:
    """A picture of a pour's bar, `days` after it was poured."""

    id: str
    pour: str
    days: float
    note: str


@dataclass(frozen=True)
class PourRecord:
    """A pour with the recipe version it pins and its events in the order they came."""

    id: str
    recipe_id: str
    version: int
    recipe: Recipe
    started: datetime
    events: tuple[Event, ...]

    @property
    def ended(self) -> bool:
        return any(isinstance(e, Ended) for e in replay(self.events).standing)


def _connect(path: Path) -> sa.Engine:
    engine = sa.create_engine(f"sqlite:///{path}", connect_args={"timeout": 10})

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


LOG_STAMP = select(
    select(func.max(EventRow.seq)).scalar_subquery(),
    *(select(func.sum(table.revision)).scalar_subquery() for table in (FragranceRow, OwnRow, SettingRow)),
)


class Workshop:
    """Opens (and migrates) a data file; `path` is created when it is not there."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self.changes = 0  # writes by this process, for those who keep what they reckoned
        self._parsed: dict[tuple[str, int], Recipe] = {}
        self._engine = _connect(path)
        self._writer = self._engine.execution_options(write=True)
        config = Config()
        config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
        with self._writer.begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, "head")

    def close(self) -> None:
        self._engine.dispose()

    @contextmanager
    def _read(self) -> Iterator[Session]:
        with Session(self._engine) as session:
            yield session

    @contextmanager
    def _write(self) -> Iterator[Session]:
        with Session(self._writer) as session, session.begin():
            yield session
        self.changes += 1

    # Shelf -----------------------------------------------------------------------------------------------------

    def shelf(self) -> Shelf:
        """The reference shelf with this workshop's fragrances and own ingredients on it."""
        with self._read() as s:
            rows = s.scalars(select(FragranceRow)).all()
            own = [self._own(r) for r in s.scalars(select(OwnRow).order_by(OwnRow.id))]
        fragrances = sorted((Fragrance.model_validate(r.doc) for r in rows), key=lambda f: f.name.casefold())
        standard = reference_shelf()
        return standard.model_copy(
            update={
                "fragrances": {f.id: f for f in fragrances},
                "fats": dict(standard.fats) | {x.id: x for x in own if isinstance(x, Fat)},
                "liquids": dict(standard.liquids) | {x.id: x for x in own if isinstance(x, Liquid)},
                "additives": dict(standard.additives) | {x.id: x for x in own if isinstance(x, Additive)},
            }
        )

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
        with self._read() as s:
            return [self._own(r) for r in s.scalars(select(OwnRow).where(OwnRow.removed.is_(None)).order_by(OwnRow.id))]

    def add_own(self, ingredient: Ingredient) -> None:
        """Conflict when the id is taken, also by an ingredient of the reference tables."""
        with self._write() as s:
            standard = reference_shelf()
            taken = {*standard.fats, *standard.liquids, *standard.additives}
            if ingredient.id in taken or s.get(OwnRow, ingredient.id) is not None:
                raise Conflict(f"There is a thing called {ingredient.name} on the shelf already.")
            kind = type(ingredient).__name__.lower()
            s.add(OwnRow(id=ingredient.id, kind=kind, doc=ingredient.model_dump(mode="json"), revision=1, removed=None))

    def change_own(self, ingredient: Ingredient) -> None:
        """Put other figures to an own ingredient; Conflict once it was poured: poured recipes stay as weighed."""
        with self._write() as s:
            row = s.get(OwnRow, ingredient.id)
            if row is None or row.kind != type(ingredient).__name__.lower():
                raise Missing("There is no such ingredient of your own.")
            if any(f'"{ingredient.id}"' in json.dumps(doc) for doc in s.scalars(select(VersionRow.doc))):
                raise Conflict(f"{ingredient.name} was poured: its figures stay. Add it anew under another name.")
            row.doc = ingredient.model_dump(mode="json")
            row.revision += 1

    def hide_own(self, ingredient_id: str, now: datetime | None) -> None:
        """Take an ingredient out of the choices, or with None back into them; recipes that use it go on."""
        with self._write() as s:
            row = s.get(OwnRow, ingredient_id)
            if row is None:
                raise Missing("There is no such ingredient of your own.")
            row.removed = now

    # Stock -----------------------------------------------------------------------------------------------------

    def lots(self) -> dict[str, Lot]:
        """Lots by id, without those put away."""
        with self._read() as s:
            return {r.id: Lot.model_validate(r.doc) for r in s.scalars(select(LotRow).where(LotRow.removed.is_(None)))}

    def save_lots(self, lots: Mapping[str, Lot]) -> None:
        """Add lots or change them, all or none."""
        self.take_in((), lots)

    def take_in(self, fragrances: Iterable[Fragrance], lots: Mapping[str, Lot]) -> None:
        """Put new fragrances and lots on the shelf, all or none."""
        with self._write() as s:
            for fragrance in fragrances:
                s.add(FragranceRow(id=fragrance.id, doc=fragrance.model_dump(mode="json"), revision=1))
            for lot_id, lot in lots.items():
                row = s.get(LotRow, lot_id)
                if row is None:
                    s.add(LotRow(id=lot_id, doc=lot.model_dump(mode="json"), removed=None))
                else:
                    row.doc = lot.model_dump(mode="json")

    def remove_lot(self, lot_id: str, now: datetime | None) -> None:
        """Put a used-up lot away, or with None take it back."""
        with self._write() as s:
            row = s.get(LotRow, lot_id)
            if row is None:
                raise Missing("There is no such lot.")
            row.removed = now

    def versions(self, recipe_id: str) -> list[tuple[int, datetime, Recipe]]:
        """The versions of a recipe that were poured, latest first."""
        with self._read() as s:
            rows = s.scalars(
                select(VersionRow).where(VersionRow.recipe_id == recipe_id).order_by(VersionRow.number.desc())
            )
            return [(r.number, r.made, Recipe.model_validate(r.doc)) for r in rows]

    def fragrance(self, fragrance_id: str) -> Fragrance:
        with self._read() as s:
            row = s.get(FragranceRow, fragrance_id)
            if row is None:
                raise Missing("This fragrance is not on the shelf.")
            return Fragrance.model_validate(row.doc)

    def add_fragrance(self, fragrance: Fragrance) -> None:
        """Conflict when the id is taken."""
        with self._write() as s:
            if s.get(FragranceRow, fragrance.id) is not None:
                raise Conflict(f"There is a fragrance called {fragrance.name} already.")
            s.add(FragranceRow(id=fragrance.id, doc=fragrance.model_dump(mode="json"), revision=1))

    def change_fragrance(self, fragrance: Fragrance) -> None:
        with self._write() as s:
            row = s.get(FragranceRow, fragrance.id)
            if row is None:
                raise Missing("This fragrance is not on the shelf.")
            row.doc = fragrance.model_dump(mode="json")
            row.revision += 1

    # Recipes ---------------------------------------------------------------------------------------------------

    def recipes(self) -> list[RecipeRecord]:
        """All drafts that were not removed, latest change first."""
        with self._read() as s:
            rows = s.execute(
                select(RecipeRow.id, RecipeRow.revision, RecipeRow.changed)
                .where(RecipeRow.removed.is_(None))
                .order_by(RecipeRow.changed.desc(), RecipeRow.id)
            ).all()
            # A revision never changes its content, so what was read once is kept: long lists stay quick. Each
            # request works on a copy of its own, since another may be reading at the same time.
            known = self._parsed
            parsed = {(i, n): known[i, n] for i, n, _ in rows if (i, n) in known}
            new = [i for i, n, _ in rows if (i, n) not in parsed]
            for start in range(0, len(new), 500):
                some = select(RecipeRow).where(RecipeRow.id.in_(new[start : start + 500]))
                parsed |= {(r.id, r.revision): Recipe.model_validate(r.doc) for r in s.scalars(some)}
            self._parsed = parsed
            counts = self._counts(s)
            return [
                RecipeRecord(i, parsed[i, revision], revision, changed, *counts.get(i, (0, 0)))
                for i, revision, changed in rows
            ]

    def recipe(self, recipe_id: str) -> RecipeRecord:
        with self._read() as s:
            return self._recipe_record(self._recipe_row(s, recipe_id), self._counts(s, recipe_id))

    def add_recipe(self, recipe_id: str, recipe: Recipe, now: datetime) -> None:
        with self._write() as s:
            s.add(RecipeRow(id=recipe_id, doc=recipe.model_dump(mode="json"), revision=1, changed=now))

    def save_draft(self, recipe_id: str, recipe: Recipe, revision: int, now: datetime) -> int:
        """Save what was typed on top of `revision`; the new revision. Conflict when another window was faster."""
        with self._write() as s:
            row = self._recipe_row(s, recipe_id)
            if row.revision != revision:
                raise Conflict("This recipe was changed in another window. Reload to see it; yours is still here.")
            doc = recipe.model_dump(mode="json")
            if doc != row.doc:
                row.doc, row.changed = doc, now
                row.revision += 1
            return row.revision

    def remove_recipe(self, recipe_id: str, now: datetime | None) -> None:
        """Hide a recipe, or with None take that back. Its poured versions stay."""
        with self._write() as s:
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
    def _counts(s: Session, recipe_id: str | None = None) -> dict[str, tuple[int, int]]:
        query = (
            select(VersionRow.recipe_id, func.count(VersionRow.id.distinct()), func.count(PourRow.id))
            .outerjoin(PourRow, PourRow.version_id == VersionRow.id)
            .group_by(VersionRow.recipe_id)
        )
        if recipe_id is not None:
            query = query.where(VersionRow.recipe_id == recipe_id)
        return {r: (v, p) for r, v, p in s.execute(query)}

    @staticmethod
    def _recipe_record(row: RecipeRow, counts: dict[str, tuple[int, int]]) -> RecipeRecord:
        versions, pours = counts.get(row.id, (0, 0))
        return RecipeRecord(row.id, Recipe.model_validate(row.doc), row.revision, row.changed, versions, pours)

    # Pours -----------------------------------------------------------------------------------------------------

    def start_pour(self, pour_id: str, recipe_id: str, now: datetime) -> None:
        """Pin the draft as a version (the latest one again, when nothing changed since) and start its clock."""
        with self._write() as s:
            self._begin(s, pour_id, recipe_id, now)

    def _begin(self, s: Session, pour_id: str, recipe_id: str, now: datetime) -> None:
        draft = self._recipe_row(s, recipe_id)
        latest = s.scalars(
            select(VersionRow).where(VersionRow.recipe_id == recipe_id).order_by(VersionRow.number.desc()).limit(1)
        ).first()
        if latest is None or latest.doc != draft.doc:
            number = 1 if latest is None else latest.number + 1
            latest = VersionRow(recipe_id=recipe_id, number=number, doc=draft.doc, made=now)
            s.add(latest)
            s.flush()
        s.add(PourRow(id=pour_id, version_id=latest.id, started=now))

    def pours(self) -> list[PourRecord]:
        """All pours, latest first."""
        with self._read() as s:
            events: dict[str, list[Event]] = {}
            for row in s.scalars(select(EventRow).order_by(EventRow.seq)):
                events.setdefault(row.pour_id, []).append(EVENT.validate_python(row.doc))
            rows = s.execute(
                select(PourRow, VersionRow)
                .join(VersionRow, VersionRow.id == PourRow.version_id)
                .order_by(PourRow.started.desc(), PourRow.id)
            ).all()
            return [self._pour_record(p, v, events.get(p.id, [])) for p, v in rows]

    def poured(self) -> list[tuple[str, int, datetime]]:
        """Every pour's id, version row and start, oldest first."""
        with self._read() as s:
            query = select(PourRow.id, PourRow.version_id, PourRow.started).order_by(PourRow.started)
            return [(i, version, started) for i, version, started in s.execute(query)]

    def version(self, row: int) -> Recipe:
        """A version by its row; it never changes."""
        with self._read() as s:
            found = s.get(VersionRow, row)
            if found is None:
                raise Missing("There is no such version.")
            return Recipe.model_validate(found.doc)

    def pour(self, pour_id: str) -> PourRecord:
        with self._read() as s:
            return self._pour_in(s, pour_id)

    def append(self, pour_id: str, event: Event, received: datetime, check: Callable[[PourRecord], None]) -> PourRecord:
        """Add an event once. A repeated request changes nothing; `check` sees the pour inside the transaction."""
        doc = event.model_dump(mode="json")
        with self._write() as s:
            there = s.scalars(select(EventRow).where(EventRow.id == str(event.id))).first()
            if there is None:
                check(self._pour_in(s, pour_id))
                s.add(EventRow(id=str(event.id), pour_id=pour_id, doc=doc, received=received))
                s.flush()
            elif there.pour_id != pour_id or there.doc != doc:
                raise Conflict("This event id was used for something else.")
            return self._pour_in(s, pour_id)

    def write_down(self, pour_id: str, events: Sequence[Event], received: datetime) -> None:
        """Add a whole run of events that are known to follow one another, in one transaction."""
        with self._write() as s:
            self._pour_in(s, pour_id)
            s.add_all(
                EventRow(id=str(e.id), pour_id=pour_id, doc=e.model_dump(mode="json"), received=received)
                for e in events
            )

    def add_past(self, pour_id: str, recipe_id: str, started: datetime, events: Sequence[Event]) -> None:
        """A pour from a notebook, with all its events."""
        self.add_pasts([(pour_id, recipe_id, started, events)])

    def add_pasts(self, pours: Sequence[tuple[str, str, datetime, Sequence[Event]]]) -> None:
        """Pours from a notebook (id, recipe, start, events), all or none."""
        with self._write() as s:
            for pour_id, recipe_id, started, events in pours:
                self._begin(s, pour_id, recipe_id, started)
                s.flush()
                s.add_all(
                    EventRow(id=str(e.id), pour_id=pour_id, doc=e.model_dump(mode="json"), received=started)
                    for e in events
                )

    def restart_clock(self, pour_id: str, started: datetime) -> None:
        """Move a pour's start: only for showing a pour in progress whenever the demo workshop is opened."""
        with self._write() as s:
            row = s.get(PourRow, pour_id)
            if row is None:
                raise Missing("There is no such pour.")
            row.started = started

    def setting(self, name: str) -> dict[str, Any] | None:
        with self._read() as s:
            row = s.get(SettingRow, name)
            return None if row is None else row.doc

    def keep_setting(self, name: str, doc: dict[str, Any]) -> None:
        with self._write() as s:
            row = s.get(SettingRow, name)
            if row is None:
                s.add(SettingRow(name=name, doc=doc, revision=1))
            else:
                row.doc = doc
                row.revision += 1

    def add_photo(self, photo: Photo, jpeg: bytes) -> None:
        with self._write() as s:
            if s.get(PourRow, photo.pour) is None:
                raise Missing("There is no such pour.")
            s.add(PhotoRow(id=photo.id, pour_id=photo.pour, days=photo.days, note=photo.note, jpeg=jpeg, removed=None))

    def photos(self, pours: Collection[str]) -> list[Photo]:
        """Photographs of these pours, in order of age."""
        with self._read() as s:
            rows = s.execute(
                select(PhotoRow.id, PhotoRow.pour_id, PhotoRow.days, PhotoRow.note)
                .where(PhotoRow.pour_id.in_(pours), PhotoRow.removed.is_(None))
                .order_by(PhotoRow.days, PhotoRow.id)
            )
            return [Photo(i, pour, days, note) for i, pour, days, note in rows]

    def photo(self, photo_id: str) -> bytes:
        with self._read() as s:
            row = s.get(PhotoRow, photo_id)
            if row is None:
                raise Missing("There is no such picture.")
            return row.jpeg

    def remove_photo(self, photo_id: str, now: datetime | None) -> None:
        """Hide a picture, or with None take that back."""
        with self._write() as s:
            row = s.get(PhotoRow, photo_id)
            if row is None:
                raise Missing("There is no such picture.")
            row.removed = now

    def log_stamp(self) -> tuple[int, ...]:
        """Changes whenever something was logged, or a claim or an own ingredient was edited."""
        with self._engine.connect() as connection:
            return tuple(n or 0 for n in connection.execute(LOG_STAMP).one())

    def _pour_in(self, s: Session, pour_id: str) -> PourRecord:
        found = s.execute(
            select(PourRow, VersionRow)
            .join(VersionRow, VersionRow.id == PourRow.version_id)
            .where(PourRow.id == pour_id)
        ).first()
        if found is None:
            raise Missing("There is no such pour.")
        rows = s.scalars(select(EventRow).where(EventRow.pour_id == pour_id).order_by(EventRow.seq)).all()
        return self._pour_record(found[0], found[1], [EVENT.validate_python(r.doc) for r in rows])

    @staticmethod
    def _pour_record(pour: PourRow, version: VersionRow, events: Sequence[Event]) -> PourRecord:
        recipe = Recipe.model_validate(version.doc)
        return PourRecord(pour.id, version.recipe_id, version.number, recipe, pour.started, tuple(events))
