"""Certificates of lots: a PDF or a picture beside each, in the data file."""

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select

from ..core.values import NotFoundError
from .tables import DocumentRow, LotRow
from .workshop import Workshop


@dataclass(frozen=True)
class Document:
    """A file of a lot; `media` is application/pdf or image/jpeg."""

    id: str
    lot: str
    name: str
    media: str


def keep_document(workshop: Workshop, document: Document, body: bytes) -> None:
    """Put a file beside its lot; NotFoundError when there is no such lot."""
    with workshop.writing() as s:
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


def documents(workshop: Workshop) -> dict[str, list[Document]]:
    """What there is of every lot, by the lot's id."""
    out: dict[str, list[Document]] = {}
    columns = (DocumentRow.id, DocumentRow.lot_id, DocumentRow.name, DocumentRow.media)
    with workshop.reading() as s:
        rows = s.execute(select(*columns).where(DocumentRow.removed.is_(None)).order_by(DocumentRow.name))
        for row in rows:
            out.setdefault(row.lot_id, []).append(Document(*row))
    return out


def document(workshop: Workshop, document_id: str) -> tuple[Document, bytes]:
    """A file with what is in it; NotFoundError when it is not there, or was taken away."""
    with workshop.reading() as s:
        row = s.get(DocumentRow, document_id)
        if row is None or row.removed is not None:
            raise NotFoundError("There is no such file.")
        return Document(row.id, row.lot_id, row.name, row.media), row.body


def remove_document(workshop: Workshop, document_id: str, now: datetime | None) -> None:
    """Take a file away, or with None bring it back."""
    with workshop.writing() as s:
        row = s.get(DocumentRow, document_id)
        if row is None:
            raise NotFoundError("There is no such file.")
        row.removed = now
