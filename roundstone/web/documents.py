"""Certificates of lots, as files."""

from http import HTTPStatus
from uuid import uuid4

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.values import Fault, RuleError
from ..store.records import Document
from . import messages as m
from .context import AppContext, answer, attach, bytes_of, slug
from .made import stock_view
from .pictures import small_jpeg

MOST_PDF = 8 * 2**20  # bytes [chosen]
PDF, JPEG = "application/pdf", "image/jpeg"


def _read(data: bytes) -> tuple[str, bytes]:
    """What kind of file it is and what is kept of it; RuleError when it is neither a PDF nor a picture."""
    if not data.startswith(b"%PDF-"):
        return JPEG, small_jpeg(data)
    if len(data) > MOST_PDF:
        raise RuleError(Fault(pointer="/file", message="A certificate has at most 8 MB: print it smaller."))
    return PDF, data


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of certificates."""
    workshop = context.workshop

    @api.post("/stock/<lot_id>/documents", responses={201: m.Stock})
    def post_document(path: m.LotPath, form: m.NewDocument) -> Response:
        """Put a certificate beside its lot: a PDF as it is, a picture made small."""
        media, body = _read(bytes_of(form.file))
        name = " ".join((form.file.filename or "certificate").split())[:120]
        workshop.documents.keep(Document(str(uuid4()), str(path.lot_id), name, media), body)
        return answer(stock_view(context), HTTPStatus.CREATED)

    @api.get("/documents/<document_id>")
    def get_document(path: m.DocumentPath) -> Response:
        found, body = workshop.documents.get(str(path.document_id))
        pdf = found.media == PDF
        name = f"{slug(found.name.rpartition('.')[0] or found.name, set())}.{'pdf' if pdf else 'jpg'}"
        return attach(body, PDF if pdf else JPEG, name)

    @api.delete("/documents/<document_id>", responses={200: m.Stock})
    def delete_document(path: m.DocumentPath) -> Response:
        workshop.documents.remove(str(path.document_id), context.now())
        return answer(stock_view(context))

    @api.post("/documents/<document_id>/restore", responses={200: m.Stock})
    def restore_document(path: m.DocumentPath) -> Response:
        workshop.documents.remove(str(path.document_id), None)
        return answer(stock_view(context))
