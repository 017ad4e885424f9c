"""Words of the trade, explained and drawn."""

from functools import cache

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.face import coded
from ..core.forecast import meant
from ..core.recipe import Design, Portion, Recipe
from ..reference import shelf, words
from . import messages as m
from .context import AppContext, answer

SHOWN = (("Bone", 0.5, "#e6dcc3"), ("Moss", 0.3, "#6f8f72"), ("Rust", 0.2, "#a4553a"))  # colours of a face [chosen]


@cache
def _face(technique: str) -> str:
    """A technique's cut face in three colours; of a plain pour in one."""
    known = shelf().techniques[technique]
    count = len(SHOWN) if technique != "plain" else 1
    whole = sum(share for _, share, _ in SHOWN[:count])
    portions = tuple(Portion(name=n, share=share / whole, tint=tint) for n, share, tint in SHOWN[:count])
    design = Design(portions=portions, technique=technique)
    return coded(meant(Recipe(name="Shown", fats=(), design=design), shelf(), known, 1))


def register(api: APIBlueprint, context: AppContext) -> None:  # noqa: ARG001 - as every resource
    """Add the route of the words."""

    @api.get("/words", responses={200: m.Words})
    def get_words() -> Response:
        """Words of the trade, what they mean, and what is drawn beside them."""
        lines = []
        for w in words():
            kind, _, of = w.picture.partition(":")
            lines.append(m.WordLine(**dict(w), face=_face(of) if kind == "face" else ""))
        return answer(m.Words(words=lines))
