"""Every error leaves as RFC 9457 problem details, with JSON pointers to the fields at fault."""

import errno
import json
from collections.abc import Callable, Collection, Sequence
from typing import Any, Literal
from urllib.parse import urlsplit

from flask import Flask, Response, request
from pydantic import BaseModel, ValidationError
from sqlalchemy.exc import DatabaseError, IntegrityError, OperationalError
from werkzeug.exceptions import HTTPException

from ..core.text import MM, WARMER_BY, C, Figure, G, Measured, Part, Text, say
from ..core.values import AppError, Fault, RuleError, listed, pointer_to
from .telling import told_here

MOST_BYTES = 3_000_000  # of a body of JSON: the longest text of a file that is read is two million
MOST_FILE_BYTES = 64 * 2**20
MOST_FAULTS = 50  # that one answer names: who sent more reads no further [chosen]
FILES, BESIDE = ("/api/archive", "/api/tables"), ("/photos", "/documents")  # where files are sent, not JSON
OWN_NAMES = ("127.0.0.1", "localhost", "::1")


class Problem(BaseModel):
    """RFC 9457. `sure` says that the same request with `sure` set would be taken."""

    type: Literal["about:blank"] = "about:blank"
    title: str
    status: int
    detail: Text
    errors: list[Fault] = []
    sure: bool = False


# What SQLite says when something cannot be written, as an HTTP status and in words with what to do.
STORE_MESSAGES = (
    ("full", 507, "The disk is full: nothing more can be saved. Make room; what you tapped is kept and saved then."),
    ("locked", 503, "The data file is busy with another program. It is tried again."),
    ("readonly", 503, "The data file has become read-only: nothing can be saved. What you tapped is kept."),
    ("I/O error", 503, "The disk does not answer as it should. What you tapped is kept; look after the disk."),
)


FULL = (errno.ENOSPC, errno.EDQUOT)
FULL_MESSAGES = STORE_MESSAGES[0][2]
DAMAGED = ("malformed", "not a database", "disk image")
DAMAGED_MESSAGES = (
    "A page of the data file is damaged. Nothing was changed: go back to a copy in the Workshop, or restore one with "
    "'roundstone restore COPY'."
)


def respond(status: int, title: str, detail: Part, faults: tuple[Fault, ...] = (), sure: bool = False) -> Response:
    problem = Problem(title=title, status=status, detail=detail, errors=list(faults), sure=sure)
    return Response(problem.model_dump_json(context=told_here), status=status, content_type="application/problem+json")


MESSAGES = {
    "finite_number": "This must be an ordinary number.",
    "missing": "This is needed.",
    "float_parsing": "This must be a number.",
    "float_type": "This must be a number.",
    "int_parsing": "This must be a whole number.",
    "int_from_float": "This must be a whole number.",
    "int_type": "This must be a whole number.",
    "extra_forbidden": "This field is not known.",
}


BOUNDS = {
    "too_long": ("At most {} of these.", "max_length"),
    "too_short": ("At least {} of these.", "min_length"),
    "string_too_long": ("At most {} letters.", "max_length"),
    "greater_than_equal": ("At least {}.", "ge"),
    "greater_than": ("More than {}.", "gt"),
    "less_than_equal": ("At most {}.", "le"),
    "less_than": ("Less than {}.", "lt"),
}
MEASURED: dict[str, Measured | type[Figure]] = {
    "grams": G,
    "offcuts": G,
    "step": G,
    "capacity": G,
    "celsius": C,
    "gap": WARMER_BY,
    "wide": MM,
    "high": MM,
}


def _words(kind: str, otherwise: str, context: dict[str, Any], field: object = "") -> Text:
    """What is wrong, in the maker's words where the library has its own."""
    if kind in BOUNDS:
        words, name = BOUNDS[kind]
        most = context.get(name)
        bound = MEASURED.get(str(field), Figure)(most) if isinstance(most, int | float) else str(most)
        before, after = words.split("{}")
        return say(before, bound, after)
    return say(MESSAGES.get(kind, otherwise))


def from_validation(error: ValidationError) -> Response:
    """422 for a body or path that does not have the right shape."""
    body = request.get_json(silent=True)
    unknown: dict[str, list[str]] = {}
    faults: list[Fault] = []
    for e in error.errors(include_url=False, include_input=False):
        at = pointer_to(e["loc"], body, e["type"])
        if e["type"] == "extra_forbidden":
            unknown.setdefault(at.rpartition("/")[0], []).append(at.rpartition("/")[2])
        elif len(faults) < MOST_FAULTS:
            message = _words(e["type"], e["msg"], e.get("ctx", {}), (e["loc"] or ("",))[-1])
            faults.append(Fault(pointer=at, message=message))
    faults += (_unknown(at, names) for at, names in list(unknown.items())[:MOST_FAULTS])
    return respond(422, "Cannot be read", "Some of what was sent is not of the right kind.", tuple(faults))


def _unknown(at: str, names: Sequence[str]) -> Fault:
    """One fault for all the fields of one object that nobody declared."""
    if len(names) == 1:
        return Fault(pointer=f"{at}/{names[0]}", message=MESSAGES["extra_forbidden"])
    return Fault(pointer=at, message=f"{len(names)} fields are not known: {listed([n[:40] for n in names], 5)}.")


def _misdirected(names: Collection[str]) -> Response | None:
    """A name that is not this machine's own may have been bound to it by a page from elsewhere."""
    try:
        if urlsplit(f"//{request.host}").hostname in names:
            return None
    except ValueError:
        pass  # no name at all
    return respond(421, "Not here", f"Round Stone answers to {listed(sorted(names), 9)} alone.")


def _own_origin() -> bool:
    """Whether the page that asks is this app's own; what is no address is nobody's."""
    try:
        return urlsplit(request.headers.get("Origin", "")).netloc == request.host
    except ValueError:
        return False


def _foreign() -> Response | None:
    """Changes are only taken from this app's own pages, or from a program that is no browser."""
    if request.method in ("GET", "HEAD", "OPTIONS"):
        return None
    origin, site = request.headers.get("Origin"), request.headers.get("Sec-Fetch-Site")
    browser = site is not None or request.headers.get("User-Agent", "").startswith("Mozilla/")
    own = origin is not None and _own_origin()
    if (origin is not None and not own) or (browser and not own) or site not in (None, "same-origin"):
        return respond(403, "Not from here", "Changes are only taken from this app's own pages.")
    return None


def _unread() -> Response | None:
    """A body that is no JSON object, or has letters in it that are no letters."""
    files = request.path in FILES or request.path.endswith(BESIDE)
    if files and request.method == "POST":
        request.max_content_length = MOST_FILE_BYTES
        return None
    if not request.path.startswith("/api/") or not request.get_data():
        return None
    try:
        body = json.loads(request.get_data())
        json.dumps(body, ensure_ascii=False).encode()
    except (ValueError, RecursionError):
        return respond(400, "Not JSON", "The body could not be read as JSON.")
    if not isinstance(body, dict):
        return respond(422, "Cannot be read", "The body must be a JSON object.")
    if not request.is_json:
        return respond(415, "Not JSON", "Send JSON with the content type application/json.")
    return None


def install(
    app: Flask,
    names: Callable[[], Collection[str]] = lambda: OWN_NAMES,
    watch: Callable[[], None] = lambda: None,
) -> None:
    """Handlers for everything that can go wrong, and a guard on what comes in.

    It answers to these `names`; `watch` raises Trouble for who is not let in, before anything sent is read.
    """

    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES

    @app.before_request
    def _guard() -> Response | None:
        refused = _misdirected(names()) or _foreign()
        if refused is None:
            watch()
            refused = _unread()
        return refused

    @app.errorhandler(AppError)
    def _trouble(error: AppError) -> Response:
        if isinstance(error, RuleError):
            return respond(error.status, error.title, error.faults[0].message, error.faults, error.sure)
        return respond(error.status, error.title, str(error))

    @app.errorhandler(OperationalError)
    def _operational(error: OperationalError) -> Response:
        for words, status, message in STORE_MESSAGES:
            if words in str(error.orig):
                return respond(status, "Not saved", message)
        return _unexpected(error)

    @app.errorhandler(DatabaseError)
    def _damaged(error: DatabaseError) -> Response:
        if any(words in str(error.orig) for words in DAMAGED):
            return respond(503, "Damaged", DAMAGED_MESSAGES)
        return _unexpected(error)

    @app.errorhandler(OSError)
    def _disk(error: OSError) -> Response:
        return respond(507, "Not saved", FULL_MESSAGES) if error.errno in FULL else _unexpected(error)

    @app.errorhandler(IntegrityError)
    def _integrity(_: IntegrityError) -> Response:
        return respond(409, "Changed meanwhile", "This clashes with something saved a moment ago. Try again.")

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        response = respond(error.code or 500, error.name, error.description or error.name)
        for name, value in error.get_headers():
            if name.lower() not in ("content-type", "content-length"):
                response.headers[name] = value
        return response

    @app.errorhandler(Exception)
    def _unexpected(error: Exception) -> Response:
        app.logger.exception("unexpected: %s", error)
        message = "Round Stone made a mistake of its own. What you entered is kept; try again."
        return respond(500, "Our mistake", message)
