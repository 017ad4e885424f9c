"""Lots of a workshop: counted, made here, put away."""

from collections.abc import Iterable, Mapping
from datetime import datetime
from functools import partial

from sqlalchemy import String, select, type_coerce

from ..core.sheet import Lot
from ..core.shelf import Fragrance
from ..core.values import ConflictError, NotFoundError
from .opened import Opened, kept
from .stamps import POURED_STAMP, STOCK_STAMP
from .tables import (
    FragranceRow,
    LotRow,
)


class Stocked(Opened):
    """What there is of everything."""

    def lots(self) -> dict[str, Lot]:
        """Lots by id, without those put away."""
        with self.reading() as s:
            return {r.id: Lot.model_validate(r.doc) for r in s.scalars(select(LotRow).where(LotRow.removed.is_(None)))}

    def lots_ever(self) -> tuple[dict[str, Lot], dict[str, datetime]]:
        """Every lot that was there, by id, and when those put away were; one that was not made after all never was."""
        query = select(LotRow.id, type_coerce(LotRow.doc, String).label("doc"), LotRow.removed)
        with self._open().connect() as connection:
            rows = [
                (r.id, kept(self._lots, r.doc, partial(Lot.model_validate_json, r.doc)), r.removed)
                for r in connection.execute(query)
            ]
        there = [(i, lot, removed) for i, lot, removed in rows if not lot.unmade]
        return {i: lot for i, lot, _ in there}, {i: removed for i, _, removed in there if removed is not None}

    def lot_revisions(self) -> dict[str, int]:
        with self.reading() as s:
            return {str(i): int(n) for i, n in s.execute(select(LotRow.id, LotRow.revision))}

    def save_lot(self, lot_id: str, lot: Lot, revision: int | None) -> None:
        """Add a lot, or change the one of this revision; ConflictError when another window changed it first."""
        with self.writing() as s:
            row = s.get(LotRow, lot_id)
            doc = lot.model_dump(mode="json")
            if row is not None and revision is not None and row.revision != revision and row.doc != doc:
                raise ConflictError("This lot was changed in another window. Look at it again, then correct it.")
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
                raise NotFoundError("There is no such lot.")
            row.removed = now
            if now is None and row.doc.get("unmade"):
                row.doc = row.doc | {"unmade": False}
            row.revision += 1

    def unmake_lot(self, lot_id: str, now: datetime) -> None:
        """A lot that was not made after all: put away, and it took nothing."""
        with self.writing() as s:
            row = s.get(LotRow, lot_id)
            if row is None or not row.doc.get("made"):
                raise NotFoundError("There is no such lot that was made here.")
            row.doc = row.doc | {"unmade": True}
            row.removed = now
            row.revision += 1

    def poured_stamp(self) -> tuple[int, ...]:
        """Changes whenever a pour was begun, or taken out again."""
        return self.stamp("poured", POURED_STAMP)

    def stock_stamp(self) -> tuple[int, ...]:
        """Changes whenever a lot was edited or a pour begun."""
        return self.stamp("stock", STOCK_STAMP)
