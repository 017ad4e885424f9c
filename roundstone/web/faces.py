"""Pictures of cut faces: all that is drawn stands in the address, so a browser keeps them for good."""

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.values import Fault, RuleError
from ..exchange import face_png
from . import messages as m
from .context import AppContext

YEAR = 31_536_000  # seconds


def register(api: APIBlueprint, context: AppContext) -> None:  # noqa: ARG001 - what is drawn stands in the address
    """Add the route of the pictures."""

    @api.get("/faces/<code>/<int:width>.png", responses={200: {"content": {"image/png": {}}}})
    def get_face(path: m.FacePath) -> Response:
        if path.width not in face_png.WIDTHS:
            raise RuleError(Fault(pointer="/width", message=f"One of {', '.join(map(str, face_png.WIDTHS))} pixels."))
        response = Response(face_png.png(path.code, path.width), content_type="image/png")
        response.cache_control.max_age = YEAR
        response.cache_control.immutable = True
        return response
