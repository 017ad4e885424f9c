"""Every error leaves as RFC 9457 problem details, with JSON pointers to the fields at fault."""

import json
from typing import Literal

from flask import Flask, Response, request
from pydantic import BaseModel, ValidationError
from sqlalchemy.exc import IntegrityError
from werkzeug.exceptions import HTTPException

from ..core.values import Fault, RuleBroken, pointer_to
from ..store import Conflict, Missing

MOST_BYTES = 1_000_000


class Problem(BaseModel):
    """RFC 9457. `sure` says that the same request with `sure` set would be taken."""

    type: Literal["about:blank"] = "about:blank"
    title: str
    status: int
    detail: str
    errors: list[Fault] = []
    sure: bool = False


def respond(status: int, title: str, detail: str, faults: tuple[Fault, ...] = (), sure: bool = False) -> Response:
    problem = Problem(title=title, status=status, detail=detail, errors=list(faults), sure=sure)
    return Response(problem.model_dump_json(), status=status, content_type="application/problem+json")


SAYS = {
    "finite_number": "This must be an ordinary number.",
    "missing": "This is needed.",
    "float_parsing": "This must be a number.",
    "float_type": "This must be a number.",
    "extra_forbidden": "This field is not known.",
}


def from_validation(error: ValidationError) -> Response:
    """422 for a body or path that does not have the right shape."""
    body = request.get_json(silent=True)
    faults = tuple(
        Fault(pointer=pointer_to(e["loc"], body, e["type"]), says=SAYS.get(e["type"], e["msg"])) for e in error.errors()
    )
    return respond(422, "Cannot be read", "Some of what was sent is not of the right kind.", faults)


def install(app: Flask) -> None:
    """Handlers for everything that can go wrong, and a guard on what comes in."""

    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES

    @app.before_request
    def _guard() -> Response | None:
        origin = request.headers.get("Origin")
        if origin and request.method not in ("GET", "HEAD") and origin.split("://")[-1] != request.host:
            return respond(403, "Not from here", "Changes are only taken from this app's own pages.")
        if request.get_data() and request.path.startswith("/api/"):
            try:
                body = json.loads(request.get_data())
            except (ValueError, RecursionError):
                return respond(400, "Not JSON", "The body could not be read as JSON.")
            if not isinstance(body, dict):
                return respond(422, "Cannot be read", "The body must be a JSON object.")
            if not request.is_json:
                return respond(415, "Not JSON", "Send JSON with the content type application/json.")
        return None

    @app.errorhandler(RuleBroken)
    def _broken(error: RuleBroken) -> Response:
        return respond(422, "Cannot be done", error.faults[0].says, error.faults, error.sure)

    @app.errorhandler(Missing)
    def _missing(error: Missing) -> Response:
        return respond(404, "Not found", str(error))

    @app.errorhandler(Conflict)
    def _conflict(error: Conflict) -> Response:
        return respond(409, "Changed meanwhile", str(error))

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
        says = "Round Stone made a mistake of its own. What you entered is kept; try again."
        return respond(500, "Our mistake", says)
