"""Recipes in and out: files, the sheet as CSV, and the bench sheet."""

from http import HTTPStatus
from uuid import uuid4

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.heat import plan
from ..core.schedule import work_order
from ..core.sheet import in_hand, supply
from ..core.shelf import Shelf
from ..core.values import Fault, RuleError, listed
from ..exchange import bench_pdf, face_png, recipe_file, sheet_file
from ..reference import shelf as reference_shelf
from . import messages as m
from .context import AppContext, answer, attach, slug, today
from .telling import reader


def _ask_whose(named: set[str], shelf: Shelf) -> None:
    """A file that does not hold what it names may mean somebody else's: RuleError as a question."""
    standard = reference_shelf()
    own = [
        x.name
        for of, tables in (
            (shelf.fats, standard.fats),
            (shelf.liquids, standard.liquids),
            (shelf.additives, standard.additives),
            (shelf.fragrances, {}),
        )
        for i, x in of.items()
        if i in named and tables.get(i) != x
    ]
    if own:
        message = (
            f"This file names {listed(own)} without saying what it is: it would be weighed as what is called so here. "
            "Is it yours?"
        )
        raise RuleError(Fault(pointer="/text", message=message), sure=True)


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the files' routes."""
    workshop = context.workshop

    @api.post("/recipes/import", responses={201: m.RecipeImported})
    def import_recipe(body: m.RecipeFile) -> Response:
        shelf = workshop.ingredients.shelf()
        found = sheet_file.read_either(body.text, body.name, shelf)
        if found.uses is None and not body.sure:
            _ask_whose(found.named(), shelf)
        recipe_id = str(uuid4())
        uses = found.uses or recipe_file.Uses()
        beside = workshop.recipes.take_in(recipe_id, found.recipe, uses.rows(), uses.workshop, context.now())
        return answer(m.RecipeImported(id=recipe_id, revision=1, beside=beside), HTTPStatus.CREATED)

    @api.get("/recipes/<recipe_id>/file")
    def export_recipe(path: m.RecipePath) -> Response:
        recipe = workshop.recipes.get(path.recipe_id).recipe
        text = recipe_file.write(recipe, workshop.ingredients.shelf(), workshop.database.origin())
        return attach(text, "application/json", f"{slug(recipe.name, set())}.json")

    @api.get("/recipes/<recipe_id>/sheet.csv")
    def export_sheet(path: m.RecipePath) -> Response:
        recipe = workshop.recipes.get(path.recipe_id).recipe
        text = sheet_file.write(context.sheet(recipe)[0], recipe, workshop.ingredients.shelf())
        return attach(text, "text/csv; charset=utf-8", f"{slug(recipe.name, set())}.csv")

    def worksheet(recipe_id: str) -> m.Worksheet:
        recipe = workshop.recipes.get(recipe_id).recipe
        shelf = workshop.ingredients.shelf()
        sheet, cautions = context.sheet(recipe)
        certified = supply(recipe, sheet, shelf, context.stock.left(), today(context)).certificates
        sheet = in_hand(sheet, context.stock.left())
        heat = plan(recipe, shelf, sheet.lines)
        forecast = context.forecast(recipe, sheet, recipe_id)
        when = {s.key: s.start for s in forecast.steps}
        noted = [n.message for n in context.recalled(recipe, recipe_id)]
        steps = work_order(recipe, shelf, sheet, heat, (*cautions, *certified), when, noted)
        return m.Worksheet(
            name=recipe.name,
            sheet=sheet,
            heat=heat,
            steps=list(steps),
            face=forecast.faces.cut,
            mould=context.ledger(recipe, sheet, shelf).mould,
        )

    @api.get("/recipes/<recipe_id>/worksheet", responses={200: m.Worksheet})
    def get_worksheet(path: m.RecipePath) -> Response:
        return answer(worksheet(path.recipe_id))

    @api.get("/recipes/<recipe_id>/bench-sheet.pdf")
    def get_bench_sheet(path: m.RecipePath, query: m.Paper) -> Response:
        page = worksheet(path.recipe_id)
        picture = face_png.png(page.face, 240)
        body = bench_pdf.write(
            page.name, page.sheet, page.steps, today(context), query.paper, reader(context.workshop), picture
        )
        return attach(body, "application/pdf", f"{slug(page.name, set())}.pdf")
