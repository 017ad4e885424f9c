"""Ingredients of the maker's own."""

from http import HTTPStatus

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.shelf import NAOH, Additive, Fat, Ingredient, Liquid, consistency, make, warned_by_name
from ..core.values import Fault, RuleError
from . import messages as m
from .context import AppContext, answer, new_id


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of own ingredients."""
    workshop = context.workshop

    def custom_view(x: Ingredient) -> m.CustomIngredient:
        shelf = workshop.ingredients.shelf()
        warned = warned_by_name(x, shelf)
        match x:
            case Fat():
                return m.CustomIngredient(fat=x, cautions=(*consistency(x, shelf.fats), *warned))
            case Liquid():
                return m.CustomIngredient(liquid=x, cautions=warned)
            case Additive():
                equivalent = NAOH * x.active / x.naoh if x.naoh > 0 else None
                return m.CustomIngredient(additive=x, cautions=warned, equivalent=equivalent)

    def made(body: m.NewOwn, ingredient_id: str | None) -> Ingredient:
        """The ingredient from what was typed; its name must be free."""
        shelf, new = workshop.ingredients.shelf(), body.ingredient
        all_of: dict[str, Ingredient] = {**shelf.fats, **shelf.liquids, **shelf.additives}
        others = {x.name.casefold() for i, x in all_of.items() if i != ingredient_id}
        try:
            if new.name.casefold() in others:
                raise RuleError(Fault(pointer="/name", message="There is something of this name on the shelf already."))
            return make(new, ingredient_id or new_id(new.name, set(all_of)), shelf)
        except RuleError as broken:
            raise broken.under("/ingredient") from broken  # core speaks of the ingredient; what was sent holds it

    @api.get("/custom", responses={200: m.CustomIngredients})
    def get_own() -> Response:
        return answer(m.CustomIngredients(custom=[custom_view(x) for x in workshop.ingredients.custom()]))

    @api.post("/custom", responses={201: m.CustomIngredient})
    def post_own(body: m.NewOwn) -> Response:
        ingredient = made(body, None)
        workshop.ingredients.add_custom(ingredient)
        return answer(custom_view(ingredient), HTTPStatus.CREATED)

    @api.put("/custom/<ingredient_id>", responses={200: m.CustomIngredient})
    def put_own(path: m.IngredientPath, body: m.NewOwn) -> Response:
        ingredient = made(body, path.ingredient_id)
        workshop.ingredients.change_custom(ingredient)
        return answer(custom_view(ingredient))

    @api.delete("/custom/<ingredient_id>", responses={204: None})
    def delete_own(path: m.IngredientPath) -> Response:
        workshop.ingredients.hide_custom(path.ingredient_id, context.now())
        return Response(status=HTTPStatus.NO_CONTENT)

    @api.post("/custom/<ingredient_id>/restore", responses={204: None})
    def restore_own(path: m.IngredientPath) -> Response:
        workshop.ingredients.hide_custom(path.ingredient_id, None)
        return Response(status=HTTPStatus.NO_CONTENT)
