"""Lots of a workshop: counted, made here, put away."""

from collections.abc import Iterable, Mapping
from datetime import datetime
from functools import partial

from sqlalchemy import String, select, type_coerce

from ..core.sheet import Lot
from ..core.shelf import Fragrance
from ..core.values import ConflictError, NotFoundError
from .database import Database, kept
from .tables import (
    FragranceRow,
    LotRow,
)


class Lots:
    """What there is of everything."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._read: dict[str, Lot] = {}  # by what is written of them

    def all(self) -> dict[str, Lot]:
        """Lots by id, without those put away."""
        with self._database.reading() as s:
            return {r.id: Lot.model_validate(r.doc) for r in s.scalars(select(LotRow).where(LotRow.removed.is_(None)))}

    def ever(self) -> tuple[dict[str, Lot], dict[str, datetime]]:
        """Every lot that was there, by id, and when those put away were; one that was not made after all never was."""
        query = select(LotRow.id, type_coerce(LotRow.doc, String).label("doc"), LotRow.removed)
        with self._database.asking() as connection:
            rows = [
                (r.id, kept(self._read, r.doc, partial(Lot.model_validate_json, r.doc)), r.removed)
                for r in connection.execute(query)
            ]
        there = [(i, lot, removed) for i, lot, removed in rows if not lot.unmade]
        return {i: lot for i, lot, _ in there}, {i: removed for i, _, removed in there if removed is not None}

    def revisions(self) -> dict[str, int]:
        with self._database.reading() as s:
            return {str(i): int(n) for i, n in s.execute(select(LotRow.id, LotRow.revision))}

    def save(self, lot_id: str, lot: Lot, revision: int | None) -> None:
        """Add a lot, or change the one of this revision; ConflictError when another window changed it first."""
        with self._database.writing() as s:
            row = s.get(LotRow, lot_id)
            doc = lot.model_dump(mode="json")
            if row is not None and revision is not None and row.revision != revision and row.doc != doc:
                raise ConflictError("This lot was changed in another window. Look at it again, then correct it.")
        self.take_in((), {lot_id: lot})

    def save_all(self, lots: Mapping[str, Lot]) -> None:
        """Add lots or change them, all or none."""
        self.take_in((), lots)

    def take_in(self, fragrances: Iterable[Fragrance], lots: Mapping[str, Lot]) -> None:
        """Put new fragrances and lots on the shelf, all or none."""
        with self._database.writing() as s:
            for fragrance in fragrances:
                s.add(FragranceRow(id=fragrance.id, doc=fragrance.model_dump(mode="json"), revision=1))
            for lot_id, lot in lots.items():
                row = s.get(LotRow, lot_id)
                if row is None:
                    s.add(LotRow(id=lot_id, doc=lot.model_dump(mode="json"), removed=None, revision=1))
                else:
                    row.doc = lot.model_dump(mode="json")
                    row.revision += 1

    def remove(self, lot_id: str, now: datetime | None) -> None:
        """Put a used-up lot away, or with None take it back."""
        with self._database.writing() as s:
            row = s.get(LotRow, lot_id)
            if row is None:
                raise NotFoundError("There is no such lot.")
            row.removed = now
            if now is None and row.doc.get("unmade"):
                row.doc = row.doc | {"unmade": False}
            row.revision += 1

    def unmake(self, lot_id: str, now: datetime) -> None:
        """A lot that was not made after all: put away, and it took nothing."""
        with self._database.writing() as s:
            row = s.get(LotRow, lot_id)
            if row is None or not row.doc.get("made"):
                raise NotFoundError("There is no such lot that was made here.")
            row.doc = row.doc | {"unmade": True}
            row.removed = now
            row.revision += 1
