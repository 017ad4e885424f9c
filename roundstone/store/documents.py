"""Certificates of lots: a PDF or a picture beside each, in the data file."""

from datetime import datetime

from sqlalchemy import select

from ..core.values import NotFoundError
from .database import Database
from .records import Document
from .tables import DocumentRow, LotRow


class Documents:
    """What lies beside lots."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def keep(self, document: Document, body: bytes) -> None:
        """Put a file beside its lot; NotFoundError when there is no such lot."""
        with self._database.writing() as s:
            if s.get(LotRow, document.lot) is None:
                raise NotFoundError("There is no such lot.")
            s.add(
                DocumentRow(
                    id=document.id,
                    lot_id=document.lot,
                    name=document.name,
                    media=document.media,
                    body=body,
                    removed=None,
                )
            )

    def by_lot(self) -> dict[str, list[Document]]:
        """What there is of every lot, by the lot's id."""
        out: dict[str, list[Document]] = {}
        columns = (DocumentRow.id, DocumentRow.lot_id, DocumentRow.name, DocumentRow.media)
        with self._database.reading() as s:
            rows = s.execute(select(*columns).where(DocumentRow.removed.is_(None)).order_by(DocumentRow.name))
            for row in rows:
                out.setdefault(row.lot_id, []).append(Document(*row))
        return out

    def get(self, document_id: str) -> tuple[Document, bytes]:
        """A file with what is in it; NotFoundError when it is not there, or was taken away."""
        with self._database.reading() as s:
            row = s.get(DocumentRow, document_id)
            if row is None or row.removed is not None:
                raise NotFoundError("There is no such file.")
            return Document(row.id, row.lot_id, row.name, row.media), row.body

    def remove(self, document_id: str, now: datetime | None) -> None:
        """Take a file away, or with None bring it back."""
        with self._database.writing() as s:
            row = s.get(DocumentRow, document_id)
            if row is None:
                raise NotFoundError("There is no such file.")
            row.removed = now
