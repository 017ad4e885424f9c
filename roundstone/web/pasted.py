"""A recipe as it was written down: read line by line, settled by the maker, made."""

from http import HTTPStatus
from uuid import uuid4

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.recipe import as_usual, blank
from ..exchange.pasted import read_lines, recipe_from
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
        """A recipe as it was written down, read line by line; nothing is kept."""
        lines = read_lines(body.text, workshop.shelf(), also(), _plain_unit(workshop.units().weight))
        return answer(m.PastedLines(lines=lines, lye=any(x.item.startswith("alkali:") for x in lines)))

    @api.post("/recipes/pasted/made", responses={201: m.Saved})
    def post_pasted_made(body: m.PastedRecipe) -> Response:
        """The recipe of those lines, as the maker settled them."""
        mould = moulds(workshop.units().length == "in")[0].mould
        recipe_id = str(uuid4())
        recipe = recipe_from(body.name or "New recipe", body.rows, workshop.shelf(), mould)
        warm = blank("", mould, workshop.units().warmth == "F").pour_celsius
        recipe = recipe.model_copy(update={"pour_celsius": warm})
        workshop.add_recipe(recipe_id, as_usual(recipe, workshop.usual_pour(), warmth=True), context.now())
        return answer(m.Saved(id=recipe_id, revision=1), HTTPStatus.CREATED)
