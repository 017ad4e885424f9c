"""Colours on the shelf: what every colourant became in this maker's hands."""

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.logbook import colour_files
from . import messages as m
from .context import AppContext, answer


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the colours' route."""

    @api.get("/colours", responses={200: m.Colours})
    def get_colours() -> Response:
        taught = context.learned.taught()
        return answer(m.Colours(colours=colour_files(taught.shelf, taught.colours)))
