"""Recipes in and out: files, the sheet as CSV, and the bench sheet."""

from http import HTTPStatus
from uuid import uuid4

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.course import work_order
from ..core.heat import plan
from ..exchange import bench_pdf, face_png, recipe_file, sheet_file
from . import messages as m
from .context import Bench, answer, attach, reader, slug


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the files' routes."""
    workshop = bench.workshop

    @api.post("/recipes/import", responses={201: m.Saved})
    def import_recipe(body: m.RecipeFile) -> Response:
        recipe = sheet_file.read_either(body.text, body.name, workshop.shelf())
        recipe_id = str(uuid4())
        workshop.add_recipe(recipe_id, recipe, bench.now())
        return answer(m.Saved(id=recipe_id, revision=1), HTTPStatus.CREATED)

    @api.get("/recipes/<recipe_id>/file")
    def export_recipe(path: m.RecipePath) -> Response:
        recipe = workshop.recipe(path.recipe_id).recipe
        return attach(recipe_file.write(recipe), "application/json", f"{slug(recipe.name, set())}.json")

    @api.get("/recipes/<recipe_id>/sheet.csv")
    def export_sheet(path: m.RecipePath) -> Response:
        recipe = workshop.recipe(path.recipe_id).recipe
        text = sheet_file.write(bench.sheet(recipe)[0], recipe, workshop.shelf())
        return attach(text, "text/csv; charset=utf-8", f"{slug(recipe.name, set())}.csv")

    def worksheet(recipe_id: str) -> m.Worksheet:
        recipe = workshop.recipe(recipe_id).recipe
        shelf = workshop.shelf()
        sheet, cautions = bench.sheet(recipe)
        heat = plan(recipe, shelf, sheet.lines)
        forecast = bench.forecast(recipe, sheet, recipe_id)
        when = {s.key: s.start for s in forecast.steps}
        noted = [n.says for n in bench.recalled(recipe, recipe_id)]
        steps = work_order(recipe, shelf, sheet, heat, cautions, when, noted)
        return m.Worksheet(name=recipe.name, sheet=sheet, heat=heat, steps=list(steps), face=forecast.faces.cut)

    @api.get("/recipes/<recipe_id>/worksheet", responses={200: m.Worksheet})
    def get_worksheet(path: m.RecipePath) -> Response:
        return answer(worksheet(path.recipe_id))

    @api.get("/recipes/<recipe_id>/bench-sheet.pdf")
    def get_bench_sheet(path: m.RecipePath, query: m.Paper) -> Response:
        page = worksheet(path.recipe_id)
        picture = face_png.png(page.face, 240)
        body = bench_pdf.write(
            page.name, page.sheet, page.steps, bench.now().date(), query.paper, reader(bench.workshop), picture
        )
        return attach(body, "application/pdf", f"{slug(page.name, set())}.pdf")
