"""What a workshop sets once, and the copies of it: made, downloaded, and the whole of it as an archive."""

from http import HTTPStatus
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.recipe import UsualPour
from ..core.shelf import Scales
from ..core.values import Fault, RuleBroken
from ..exchange import archive
from ..store import DataFileTrouble, keeping
from . import messages as m
from .context import Bench, answer, attach, bytes_of


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the settings' routes."""
    workshop, keeper = bench.workshop, bench.keeper

    def copies_view() -> m.CopiesView:
        copies = keeper.copies()
        return m.CopiesView(
            file=str(workshop.path),
            folder=str(copies.folder),
            keep=copies.keep,
            copies=[m.CopyMade(name=k.path.name, made=k.made, size=k.size) for k in copies.all()[:50]],
            trouble=keeper.trouble,
        )

    def settings_view() -> m.Settings:
        return m.Settings(
            scales=workshop.scales(),
            copies=copies_view(),
            taps=workshop.taps(),
            worth=m.WorthSet(**vars(workshop.worth())),
            humidity=workshop.humidity(),
            usual=workshop.usual_pour(),
        )

    @api.get("/settings", responses={200: m.Settings})
    def get_settings() -> Response:
        return answer(settings_view())

    @api.put("/settings/scales", responses={200: m.Settings})
    def put_scales(body: Scales) -> Response:
        workshop.keep_setting("scales", body.model_dump(mode="json"))
        return answer(settings_view())

    @api.put("/settings/taps", responses={200: m.Settings})
    def put_taps(body: m.TapsSet) -> Response:
        workshop.keep_setting("taps", body.model_dump())
        return answer(settings_view())

    @api.put("/settings/usual", responses={200: m.Settings})
    def put_usual(body: UsualPour) -> Response:
        """How warm new recipes are poured, and in what room."""
        for field, (low, high) in (("pour_celsius", (10, 75)), ("room_celsius", (0, 45))):
            value = getattr(body, field)
            if value is not None and not low <= value <= high:
                raise RuleBroken(Fault(pointer=f"/{field}", says=f"From {low} to {high} °C."))
        workshop.keep_setting("usual", body.model_dump())
        return answer(settings_view())

    @api.put("/settings/air", responses={200: m.Settings})
    def put_air(body: m.AirSet) -> Response:
        workshop.keep_setting("air", body.model_dump())
        return answer(settings_view())

    @api.put("/settings/worth", responses={200: m.Settings})
    def put_worth(body: m.WorthSet) -> Response:
        if not body.drawn > body.different > body.lost:
            says = "What comes as drawn is worth most, what is lost least."
            raise RuleBroken(Fault(pointer="/different", says=says))
        workshop.keep_setting("worth", body.model_dump())
        return answer(settings_view())

    @api.put("/settings/copies", responses={200: m.Settings})
    def put_copies(body: m.CopiesSet) -> Response:
        folder = Path(body.folder).expanduser() if body.folder else None
        if folder is not None and not folder.is_absolute():
            raise RuleBroken(Fault(pointer="/folder", says="Name the whole way to the folder, from the root."))
        try:
            keeper.set(folder, body.keep)
        except DataFileTrouble as trouble:
            raise RuleBroken(Fault(pointer="/folder", says=str(trouble))) from trouble
        return answer(settings_view())

    @api.post("/copies", responses={201: m.Settings})
    def post_copy() -> Response:
        try:
            keeper.copy()
        except DataFileTrouble as trouble:
            raise RuleBroken(Fault(pointer="", says=str(trouble))) from trouble
        return answer(settings_view(), HTTPStatus.CREATED)

    @api.get("/workshop.sqlite")
    def get_copy() -> Response:
        with TemporaryDirectory() as folder:
            body = keeping.copy(workshop.path, Path(folder) / "copy.sqlite").read_bytes()
        return attach(body, "application/vnd.sqlite3", f"{keeping.COPY}{bench.now():%Y%m%d}.sqlite")

    @api.get("/workshop.zip")
    def get_archive() -> Response:
        out = BytesIO()
        archive.write(workshop, out)
        return attach(out.getvalue(), "application/zip", f"{keeping.COPY}{bench.now():%Y%m%d}.zip")

    @api.post("/archive", responses={201: m.ArchiveRead})
    def post_archive(form: m.ArchiveFile) -> Response:
        taken = archive.read(workshop, BytesIO(bytes_of(form.file)))
        return answer(m.ArchiveRead(says=taken.says), HTTPStatus.CREATED)
