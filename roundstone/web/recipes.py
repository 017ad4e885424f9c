"""Recipes: drafts that save themselves, weighed and forecast as they are typed."""

from collections.abc import Mapping, Sequence
from http import HTTPStatus
from uuid import uuid4
from zlib import crc32

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.face import coded
from ..core.forecast import meant
from ..core.recipe import as_usual, blank
from ..core.shelf import Shelf
from ..core.values import Fault, RuleError
from ..reference import moulds, starters
from ..store import RecipeRecord, Unreadable
from . import messages as m
from .context import AppContext, answer, attach


def _line(r: RecipeRecord, shelf: Shelf, running: str | None) -> m.RecipeLine:
    technique = shelf.techniques.get(r.recipe.design.technique)
    fats = sorted(r.recipe.fats, key=lambda f: -f.share)
    return m.RecipeLine(
        id=r.id,
        name=r.recipe.name,
        fats=[shelf.fats[f.fat].name for f in fats if f.fat in shelf.fats],
        scent=shelf.blend_name(r.recipe.fragrances) or None,
        technique=technique.name if technique else "",
        face=coded(meant(r.recipe, shelf, technique, crc32(r.id.encode())))
        if technique and r.recipe.design.portions
        else "",
        changed=r.changed,
        versions=r.versions,
        pours=r.pours,
        running=running,
    )


def _unread(r: Unreadable) -> m.RecipeLine:
    """A draft that cannot be read takes no list down: it is shown as what it is."""
    return m.RecipeLine(
        id=r.id,
        name=r.name,
        fats=[],
        scent=None,
        technique="",
        face="",
        changed=r.changed,
        versions=0,
        pours=0,
        running=None,
        unreadable=r.why,
    )


def _latest(running: Mapping[str, Sequence[str]], recipe_id: str) -> str | None:
    """Of the pours of a recipe that run the one that was begun last."""
    return running[recipe_id][-1] if recipe_id in running else None


def _recipe_view(context: AppContext, recipe_id: str) -> m.RecipeView:
    r = context.workshop.recipes.get(recipe_id)
    return m.RecipeView(
        id=r.id,
        revision=r.revision,
        versions=r.versions,
        pours=r.pours,
        running=_latest(context.workshop.pours.running(), r.id),
        noted=context.recalled(r.recipe, r.id),
        recipe=r.recipe,
    )


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the recipes' routes."""
    workshop = context.workshop

    @api.get("/recipes", responses={200: m.RecipeList})
    def get_recipes(query: m.Page) -> Response:
        shelf, running = workshop.ingredients.shelf(), workshop.pours.running()
        find = context.meaning(query.find)
        found = workshop.recipes.page(find, query.first, query.most)
        lines = [_unread(r) if isinstance(r, Unreadable) else _line(r, shelf, _latest(running, r.id)) for r in found]
        names = dict(workshop.recipes.names(running)) if running else {}
        poured = [
            m.Named(id=pour, name=f"{name}, pour {nth}" if len(pours) > 1 else name)
            for recipe, pours in running.items()
            for name in (names.get(recipe, "A recipe"),)
            for nth, pour in enumerate(pours, 1)
        ]
        return answer(m.RecipeList(recipes=lines, total=workshop.recipes.count(find), running=poured))

    @api.get("/starters", responses={200: m.StarterList})
    def get_starters() -> Response:
        """Recipes for who has none yet; what this workshop set up already is not asked again."""
        shelf = workshop.ingredients.shelf()
        lines = []
        for s in starters():
            technique = shelf.techniques[s.recipe.design.technique]
            lines.append(
                m.StarterLine(
                    id=s.id,
                    name=s.recipe.name,
                    teaches=s.teaches,
                    fats=[shelf.fats[f.fat].name for f in s.recipe.fats],
                    technique=technique.name,
                    face=coded(meant(s.recipe, shelf, technique, crc32(s.id.encode()))),
                )
            )
        return answer(
            m.StarterList(
                starters=lines,
                usual=workshop.settings.usual_pour(),
                scales=workshop.settings.scales(),
                units_set=workshop.settings.get("units") is not None or workshop.pours.count() > 0,
            )
        )

    @api.get("/recipes/names", responses={200: m.Names})
    def get_names() -> Response:
        return answer(m.Names(names=[m.Named(id=i, name=n) for i, n in workshop.recipes.names()]))

    @api.get("/recipes/<recipe_id>/raw")
    def get_raw(path: m.RecipePath) -> Response:
        return attach(workshop.recipes.raw(path.recipe_id), "application/json", "recipe-as-stored.json")

    @api.post("/recipes", responses={201: m.Saved})
    def post_recipe(body: m.NewRecipe) -> Response:
        usual = workshop.settings.usual_pour()
        if body.starter is not None:
            begun = next((s.recipe for s in starters() if s.id == body.starter), None)
            if begun is None:
                raise RuleError(Fault(pointer="/starter", message="There is no such recipe to begin with."))
            recipe = as_usual(begun.model_copy(update={"name": body.name or begun.name}), usual, warmth=False)
        elif body.copy_of is None:
            units = workshop.settings.units()
            mould = moulds(units.length == "in")[0].mould
            recipe = as_usual(blank(body.name, mould, units.warmth == "F"), usual, warmth=True)
        else:
            recipe = workshop.recipes.get(body.copy_of).recipe
            recipe = recipe.model_copy(update={"name": body.name or f"{recipe.name[:74]}, copy"})
        recipe_id = str(uuid4())
        workshop.recipes.add(recipe_id, recipe, context.now())
        return answer(m.Saved(id=recipe_id, revision=1), HTTPStatus.CREATED)

    @api.get("/recipes/<recipe_id>", responses={200: m.RecipeView})
    def get_recipe(path: m.RecipePath) -> Response:
        return answer(_recipe_view(context, path.recipe_id))

    @api.put("/recipes/<recipe_id>", responses={200: m.Saved})
    def put_recipe(path: m.RecipePath, body: m.Draft) -> Response:
        revision = workshop.recipes.save(path.recipe_id, body.recipe, body.revision, context.now())
        return answer(m.Saved(id=path.recipe_id, revision=revision))

    @api.delete("/recipes/<recipe_id>", responses={204: None})
    def delete_recipe(path: m.RecipePath) -> Response:
        if path.recipe_id in workshop.pours.running():
            raise RuleError(Fault(pointer="", message="A pour of this recipe is running. End it first."))
        workshop.recipes.remove(path.recipe_id, context.now())
        return Response(status=HTTPStatus.NO_CONTENT)

    @api.post("/recipes/<recipe_id>/restore", responses={200: m.RecipeView})
    def restore_recipe(path: m.RecipePath) -> Response:
        workshop.recipes.remove(path.recipe_id, None)
        return answer(_recipe_view(context, path.recipe_id))

    @api.get("/recipes/<recipe_id>/versions", responses={200: m.Versions})
    def get_versions(path: m.RecipePath) -> Response:
        workshop.recipes.get(path.recipe_id)
        return answer(
            m.Versions(
                versions=[m.Version(number=n, made=made) for n, made, _ in workshop.recipes.versions(path.recipe_id)]
            )
        )
