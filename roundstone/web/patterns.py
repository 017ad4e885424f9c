"""Patterns: designs kept under a name, and used on another recipe."""

from http import HTTPStatus

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.face import coded
from ..core.forecast import meant
from ..core.recipe import pattern_of
from ..core.values import Fault, RuleError
from . import messages as m
from .context import AppContext, answer, new_id


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the patterns' routes."""
    workshop = context.workshop

    def view() -> m.Patterns:
        shelf = workshop.ingredients.shelf()
        out = []
        for p in workshop.patterns.all().values():
            technique = shelf.techniques.get(p.design.technique)
            as_recipe = m.Recipe(name=p.name, fats=(), design=p.design, additives=p.doses)
            face = coded(meant(as_recipe, shelf, technique, 0)) if technique is not None else ""
            name = technique.name if technique is not None else ""
            out.append(m.PatternLine(id=p.id, name=p.name, technique=name, portions=len(p.design.portions), face=face))
        return m.Patterns(patterns=out)

    @api.get("/patterns", responses={200: m.Patterns})
    def get_patterns() -> Response:
        return answer(view())

    @api.post("/patterns", responses={201: m.Patterns})
    def post_pattern(body: m.NewPattern) -> Response:
        there = workshop.patterns.all()
        if not body.name:
            raise RuleError(Fault(pointer="/name", message="Give the pattern a name to find it by."))
        same = next((i for i, p in there.items() if p.name.casefold() == body.name.casefold()), None)
        if same is not None and not body.replace:
            raise RuleError(Fault(pointer="/name", message="There is a pattern of this name."), sure=True)
        pattern_id = same or new_id(body.name, set(there))
        workshop.patterns.keep(pattern_of(body.recipe, pattern_id, body.name))
        return answer(view(), HTTPStatus.CREATED)

    @api.delete("/patterns/<pattern_id>", responses={200: m.Patterns})
    def delete_pattern(path: m.PatternPath) -> Response:
        workshop.patterns.remove(path.pattern_id, context.now())
        return answer(view())

    @api.post("/patterns/<pattern_id>/restore", responses={200: m.Patterns})
    def restore_pattern(path: m.PatternPath) -> Response:
        workshop.patterns.remove(path.pattern_id, None)
        return answer(view())
