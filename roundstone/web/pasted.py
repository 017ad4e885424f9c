"""Recipes as they were written down: read line by line, settled by the maker, made."""

from http import HTTPStatus
from uuid import uuid4

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.recipe import Recipe, as_usual, blank
from ..core.values import Fault, RuleError
from ..exchange.pasted import CHOICES, read_recipes, recipe_from
from ..reference import also, moulds
from . import messages as m
from .context import AppContext, answer


def _plain_unit(weight: str) -> str:
    """What a number without a unit is in: of pounds and ounces, ounces."""
    return "g" if weight == "g" else "oz"


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of what was pasted."""
    workshop = context.workshop

    @api.post("/recipes/pasted", responses={200: m.PastedLines})
    def post_pasted(body: m.Pasted) -> Response:
        """Recipes as they were written down, read line by line; nothing is kept."""
        found = read_recipes(
            body.text, workshop.ingredients.shelf(), also(), _plain_unit(workshop.settings.units().weight)
        )
        choices = tuple(m.Named(id=i, name=name) for i, name in CHOICES.items())
        return answer(m.PastedLines(recipes=found, choices=choices))

    @api.post("/recipes/pasted/made", responses={201: m.RecipesMade})
    def post_pasted_made(body: m.PastedRecipes) -> Response:
        """The recipes of those lines, as the maker settled them: all of them or none."""
        units = workshop.settings.units()
        mould = moulds(units.length == "in")[0].mould
        warm = {"pour_celsius": blank("", mould, units.warmth == "F").pour_celsius}
        made: dict[str, Recipe] = {}
        faults: list[Fault] = []
        for n, of in enumerate(body.recipes):
            try:
                recipe = recipe_from(of.name or "New recipe", of.rows, workshop.ingredients.shelf(), mould)
            except RuleError as wrong:
                faults += wrong.under(f"/recipes/{n}").faults
                continue
            made[str(uuid4())] = as_usual(recipe.model_copy(update=warm), workshop.settings.usual_pour(), warmth=True)
        if faults:
            raise RuleError(*faults)
        workshop.recipes.add_all(made, context.now())
        return answer(m.RecipesMade(ids=list(made)), HTTPStatus.CREATED)
