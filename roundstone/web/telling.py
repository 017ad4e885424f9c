"""Who reads an answer, and its sentences as they read them."""

from flask import current_app, g, request

from ..core.text import Text
from ..store import Workshop
from ..told import Reader

DECIMAL, DATES = "X-Decimal-Sign", "X-Date-Order"


def reader(workshop: Workshop) -> Reader:
    """Who reads what is answered: the workshop's units, and what the page (or a link of it) says its region writes."""
    sign = request.args.get("decimal") or request.headers.get(DECIMAL)
    dates = request.args.get("dates") or request.headers.get(DATES)
    return Reader(
        **workshop.settings.units().model_dump(),
        sign="," if sign == "," else ".",
        dates="mdy" if dates == "mdy" else "dmy",
    )


def told_here(text: Text) -> str:
    """A sentence as who asked reads it. The data file is only asked for their units where there is something in it to
    be told in them: a sentence about a broken file has to get through."""
    if len(text.parts) < 2 and all(isinstance(x, str) for x in text.parts):
        return str(text)
    if "reader" not in g:
        g.reader = reader(current_app.extensions["context"].workshop)
    told: str = g.reader(text)
    return told
