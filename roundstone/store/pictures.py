"""Pictures of a workshop's batches."""

from collections.abc import Collection
from datetime import datetime

import sqlalchemy as sa
from sqlalchemy import func, select

from ..core.values import NotFoundError
from .database import Database
from .records import Photo
from .tables import (
    PhotoRow,
    PourRow,
)

PHOTOS = (
    select(PhotoRow.id, PhotoRow.pour_id, PhotoRow.days, PhotoRow.note)
    .where(PhotoRow.pour_id.in_(sa.bindparam("pours", expanding=True)), PhotoRow.removed.is_(None))
    .order_by(PhotoRow.days, PhotoRow.id)
)


class Pictures:
    """Pictures, kept in the data file."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def add(self, photo: Photo, jpeg: bytes) -> None:
        with self._database.writing() as s:
            if s.get(PourRow, photo.pour) is None:
                raise NotFoundError("There is no such pour.")
            s.add(PhotoRow(id=photo.id, pour_id=photo.pour, days=photo.days, note=photo.note, jpeg=jpeg, removed=None))

    def of(self, pours: Collection[str]) -> list[Photo]:
        """Photographs of these pours, in order of age."""
        with self._database.asking() as connection:
            rows = connection.execute(PHOTOS, {"pours": list(pours)})
            return [Photo(i, pour, days, note) for i, pour, days, note in rows]

    def get(self, photo_id: str) -> bytes:
        with self._database.reading() as s:
            row = s.get(PhotoRow, photo_id)
            if row is None or row.removed is not None:
                raise NotFoundError("There is no such picture.")
            return row.jpeg

    def forget(self, before: datetime) -> None:
        """Pictures removed before this moment are gone from the file: they can be brought back no more."""
        with self._database.reading() as s:
            some = s.scalar(select(func.count()).select_from(PhotoRow).where(PhotoRow.removed < before))
        if some:
            with self._database.writing() as s:
                s.execute(sa.delete(PhotoRow).where(PhotoRow.removed < before))

    def remove(self, photo_id: str, now: datetime | None) -> None:
        """Hide a picture, or with None take that back."""
        with self._database.writing() as s:
            row = s.get(PhotoRow, photo_id)
            if row is None:
                raise NotFoundError("There is no such picture.")
            row.removed = now
