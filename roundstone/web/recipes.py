"""Recipes: drafts that save themselves, weighed and forecast as they are typed."""

from http import HTTPStatus
from uuid import uuid4

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.recipe import Design, Portion, Recipe
from ..core.values import Fault, RuleBroken
from . import messages as m
from .bench import Bench, answer


def blank_recipe(name: str) -> Recipe:
    """A new recipe: no fats yet, two portions as most designs have."""
    portions = (Portion(name="Base", share=0.6, scented=True), Portion(name="Accent", share=0.4, scented=False))
    return Recipe(name=name or "New recipe", fats=(), design=Design(portions=portions, technique="drop-swirl"))


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the recipes' routes."""
    workshop = bench.workshop

    def recipe_view(recipe_id: str) -> m.RecipeView:
        r = workshop.recipe(recipe_id)
        running = bench.running().get(r.id)
        return m.RecipeView(
            id=r.id, revision=r.revision, versions=r.versions, pours=r.pours, running=running, recipe=r.recipe
        )

    @api.get("/recipes", responses={200: m.RecipeList})
    def get_recipes() -> Response:
        shelf, running = workshop.shelf(), bench.running()
        lines = []
        for r in workshop.recipes():
            technique = shelf.techniques.get(r.recipe.design.technique)
            fats = sorted(r.recipe.fats, key=lambda f: -f.share)
            lines.append(
                m.RecipeLine(
                    id=r.id,
                    name=r.recipe.name,
                    fats=[shelf.fats[f.fat].name for f in fats if f.fat in shelf.fats],
                    scent=shelf.blend_name(r.recipe.fragrances) or None,
                    technique=technique.name if technique else "",
                    changed=r.changed,
                    versions=r.versions,
                    pours=r.pours,
                    running=running.get(r.id),
                )
            )
        return answer(m.RecipeList(recipes=lines))

    @api.post("/recipes", responses={201: m.Saved})
    def post_recipe(body: m.NewRecipe) -> Response:
        if body.copy_of is None:
            recipe = blank_recipe(body.name)
        else:
            recipe = workshop.recipe(body.copy_of).recipe
            recipe = recipe.model_copy(update={"name": body.name or f"{recipe.name[:74]}, copy"})
        recipe_id = str(uuid4())
        workshop.add_recipe(recipe_id, recipe, bench.now())
        return answer(m.Saved(id=recipe_id, revision=1), HTTPStatus.CREATED)

    @api.get("/recipes/<recipe_id>", responses={200: m.RecipeView})
    def get_recipe(path: m.RecipePath) -> Response:
        return answer(recipe_view(path.recipe_id))

    @api.put("/recipes/<recipe_id>", responses={200: m.Saved})
    def put_recipe(path: m.RecipePath, body: m.Draft) -> Response:
        revision = workshop.save_draft(path.recipe_id, body.recipe, body.revision, bench.now())
        return answer(m.Saved(id=path.recipe_id, revision=revision))

    @api.delete("/recipes/<recipe_id>", responses={204: None})
    def delete_recipe(path: m.RecipePath) -> Response:
        workshop.recipe(path.recipe_id)
        if path.recipe_id in bench.running():
            raise RuleBroken(Fault(pointer="", says="A pour of this recipe is running. End it first."))
        workshop.remove_recipe(path.recipe_id, bench.now())
        return Response(status=HTTPStatus.NO_CONTENT)

    @api.post("/recipes/<recipe_id>/restore", responses={200: m.RecipeView})
    def restore_recipe(path: m.RecipePath) -> Response:
        workshop.remove_recipe(path.recipe_id, None)
        return answer(recipe_view(path.recipe_id))

    @api.get("/recipes/<recipe_id>/versions", responses={200: m.Versions})
    def get_versions(path: m.RecipePath) -> Response:
        workshop.recipe(path.recipe_id)
        return answer(
            m.Versions(versions=[m.Version(number=n, made=made) for n, made, _ in workshop.versions(path.recipe_id)])
        )
