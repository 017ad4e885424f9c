"""Copies of a workshop: made, downloaded, the whole of it as an archive, and its pictures."""

from http import HTTPStatus
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory, TemporaryFile
from typing import IO

from flask import Response, send_file
from flask_openapi3 import APIBlueprint

from ..core.values import Fault, RuleError
from ..exchange import archive
from ..store import DataFileError, keeping
from . import messages as m
from .context import AppContext, answer, attach, bytes_of, local
from .settings import settings_view


def _streamed(out: IO[bytes], name: str) -> Response:
    """A zip that is sent from the disk: ten years of pictures do not fit into memory."""
    out.seek(0)
    return send_file(out, "application/zip", as_attachment=True, download_name=name)


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of copies."""
    workshop, keeper = context.workshop, context.keeper

    @api.put("/settings/copies", responses={200: m.Settings})
    def put_copies(body: m.CopiesSet) -> Response:
        folder = Path(body.folder).expanduser() if body.folder else None
        if folder is not None and not folder.is_absolute():
            raise RuleError(Fault(pointer="/folder", message="Name the whole way to the folder, from the root."))
        try:
            keeper.set(folder, body.keep)
        except DataFileError as trouble:
            raise RuleError(Fault(pointer="/folder", message=str(trouble))) from trouble
        return answer(settings_view(context))

    @api.post("/copies", responses={201: m.Settings})
    def post_copy() -> Response:
        try:
            keeper.copy(keeping.BY_HAND)
        except DataFileError as trouble:
            raise RuleError(Fault(pointer="", message=str(trouble))) from trouble
        return answer(settings_view(context), HTTPStatus.CREATED)

    @api.post("/copies/back", responses={200: m.Settings})
    def post_back(body: m.CopyName) -> Response:
        """Go back to a copy; what stands now is copied first."""
        try:
            keeper.back(body.name)
        except DataFileError as trouble:
            raise RuleError(Fault(pointer="/name", message=str(trouble))) from trouble
        context.forget()
        return answer(settings_view(context))

    @api.get("/workshop.sqlite")
    def get_copy() -> Response:
        with TemporaryDirectory() as folder:
            body = keeping.copy(workshop.path, Path(folder) / "copy.sqlite").read_bytes()
        return attach(body, "application/vnd.sqlite3", f"{keeping.COPY}{context.now():%Y%m%d}.sqlite")

    @api.get("/workshop.zip")
    def get_archive() -> Response:
        out = TemporaryFile()  # noqa: SIM115 - closed when it was sent
        archive.write(workshop.database, workshop.pours.page(), out)
        return _streamed(out, f"{keeping.COPY}{context.now():%Y%m%d}.zip")

    @api.get("/pictures.zip")
    def get_pictures() -> Response:
        """All pictures, a folder for each batch."""
        out = TemporaryFile()  # noqa: SIM115 - closed when it was sent
        photos = workshop.pictures.of([pour for pour, _, _ in workshop.pours.poured()])
        pours = [workshop.pours.get(i) for i in {p.pour for p in photos}]
        named = {p.id: f"{p.started:%Y-%m-%d} {p.recipe.name}" for p in pours}
        archive.write_pictures(((named[p.pour], p.days, p.note, workshop.pictures.get(p.id)) for p in photos), out)
        return _streamed(out, f"pictures-{context.now():%Y%m%d}.zip")

    @api.post("/archive", responses={201: m.ArchiveRead})
    def post_archive(form: m.ArchiveFile) -> Response:
        taken = archive.read(workshop, BytesIO(bytes_of(form.file)))
        workshop.numbers.give(local)
        return answer(m.ArchiveRead(message=archive.told(taken)), HTTPStatus.CREATED)
