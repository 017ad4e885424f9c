"""The application factory: documents, guards, and the single page."""

from collections.abc import Callable, Collection
from datetime import UTC, datetime
from mimetypes import guess_type
from pathlib import Path

from flask import Flask, Response, request, send_from_directory
from flask_openapi3 import APIBlueprint, Info, OpenAPI

from .. import __version__
from ..share import Network, Sharing, door_beside
from ..store import Workshop
from ..store.keeper import Keeper
from ..store.learned import Learned
from . import (
    calendar,
    colours,
    copies,
    costs,
    custom,
    documents,
    door,
    evidence,
    faces,
    files,
    find,
    instruments,
    learning,
    made,
    notebook,
    offers,
    papers,
    pasted,
    patterns,
    photos,
    pours,
    practice,
    problems,
    ready,
    recipes,
    reckon,
    records,
    rest,
    settings,
    shelf,
    stock,
    tables,
    words,
)
from .context import AppContext

STATIC = Path(__file__).parent / "static"
YEAR = 31_536_000  # seconds
POLICY = "default-src 'self'; frame-ancestors 'none'; base-uri 'self'; form-action 'self'"

PLACES = (
    files,
    faces,
    recipes,
    find,
    reckon,
    papers,
    pasted,
    patterns,
    shelf,
    custom,
    stock,
    documents,
    costs,
    records,
    tables,
    calendar,
    learning,
    made,
    notebook,
    photos,
    offers,
    pours,
    settings,
    copies,
    door,
    instruments,
    practice,
    ready,
    rest,
    colours,
    words,
    evidence,
)  # resources, each with its routes


def _now() -> datetime:
    return datetime.now(UTC)


def _is_file(path: str) -> bool:
    try:
        return (STATIC / path).is_file()
    except (OSError, ValueError):
        return False  # a name no file can have


def _page(path: str = "") -> Response:
    """The front end: a file of it, or its one page, which finds its way by itself."""
    if path.startswith("api/"):
        return problems.respond(404, "Not found", "There is no such address in the API.")
    if path and _is_file(path):
        # What stands in assets/ has its content in its name, and never changes.
        named = path.startswith("assets/")
        response = _packed(path) if named else send_from_directory(STATIC, path)
        response.cache_control.immutable = named
        return response
    if path.startswith("assets/"):  # of a page that was opened before an update: it is not there any more
        return problems.respond(404, "Not found", "This page was updated: reload it.")
    if not (STATIC / "index.html").is_file():
        return problems.respond(503, "Not built", "The front end has not been built yet: run ./bin/demo.")
    response = send_from_directory(STATIC, "index.html")
    response.cache_control.no_cache = True
    return response


def _packed(path: str) -> Response:
    """An asset as small as this browser can read it."""
    taken = request.accept_encodings
    for encoding, ending in (("br", ".br"), ("gzip", ".gz")):
        if taken[encoding] > 0 and (STATIC / f"{path}{ending}").is_file():
            kind = guess_type(path)[0] or "application/octet-stream"
            response = send_from_directory(STATIC, path + ending, mimetype=kind, max_age=YEAR)
            response.content_encoding = encoding
            break
    else:
        response = send_from_directory(STATIC, path, max_age=YEAR)
    response.vary.add("Accept-Encoding")
    return response


def _headers(response: Response) -> Response:
    """Every answer with what browsers are to keep to."""
    response.headers.setdefault("Content-Security-Policy", POLICY)
    response.headers.setdefault("X-Content-Type-Options", "nosniff")
    response.headers.setdefault("Referrer-Policy", "no-referrer")
    if response.content_type.startswith("application/"):
        response.headers.setdefault("Cache-Control", "no-store")
    return response


def create_app(
    workshop: Workshop,
    now: Callable[[], datetime] = _now,
    background: bool = False,
    keeper: Keeper | None = None,
    sharing: Sharing | None = None,
    network: Network | None = None,
    document: bool = False,
) -> Flask:
    """The app on one workshop. `now` is the only clock it reads; with `background` it learns behind the requests.

    With `sharing`, or while `network` is open, it answers to the network's names too; who is let in there is the door's
    to say. With `document` it describes itself in OpenAPI, which takes longer than all else at a start.
    """
    app = OpenAPI(
        __name__,
        info=Info(title="Round Stone", version=__version__),
        doc_ui=False,
        static_folder=None,
        validation_error_model=problems.Problem,
        validation_error_callback=problems.from_validation,
        responses={422: problems.Problem},
    )
    keeping = app.extensions["door"] = door_beside(workshop.path, now)
    app.openapi_version = "3.1.0"
    app.json.sort_keys = False  # type: ignore[attr-defined]
    network = network or Network(sharing)

    def names() -> Collection[str]:
        return {*problems.OWN_NAMES, *(network.sharing.names if network.sharing else ())}

    problems.install(app, names, lambda: door.watch(keeping))
    api = APIBlueprint(
        "api",
        __name__,
        url_prefix="/api",
        abp_responses={404: problems.Problem, 409: problems.Problem},
        doc_ui=document,
    )
    context = AppContext(
        workshop, Learned(workshop, background), now, keeper or Keeper(workshop, now), keeping, network
    )
    app.extensions["context"] = context
    for place in PLACES:
        place.register(api, context)
    app.register_api(api)

    app.add_url_rule("/", door.PAGE, _page)
    app.add_url_rule("/<path:path>", door.PAGE, _page)

    app.after_request(_headers)
    return app
