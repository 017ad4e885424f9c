"""Papers beside the bench sheet: a batch's record, a label's draft, a cut plan."""

from datetime import timedelta

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.logbook import batch_record, cut_paper, label_paper
from ..core.recipe import Box, ByMoulds, cut_plan
from ..core.sheet import bottles, label
from ..core.text import day, joined, say
from ..core.values import Fault, RuleError
from ..exchange import papers
from . import messages as m
from .context import AppContext, attach, local, slug
from .rest import resting
from .telling import reader


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the papers' routes."""
    workshop = context.workshop

    @api.get("/pours/<pour_id>/record.pdf")
    def get_record(path: m.PourPath, query: m.Paper) -> Response:
        """Everything of one batch."""
        pour, taught = workshop.pour(path.pour_id), context.learned.taught()
        shelf = taught.shelf
        sheet = context.poured_sheet(pour, shelf)
        if sheet is None:
            raise RuleError(Fault(pointer="/id", message="Its recipe can be weighed no more."))
        rest = resting(context, pour, taught)
        begun = local(pour.started).isoformat()

        def when(minute: float) -> str:
            at = local(pour.started + timedelta(minutes=minute))
            return f"{at.day} {at:%b %H:%M}"

        sections = batch_record(
            pour.recipe,
            pour.version,
            sheet,
            shelf,
            pour.state,
            say(day(begun), f", {local(pour.started):%H:%M %Z}"),
            when,
            label(pour.recipe, shelf, sheet.lines),
            bottles(workshop.lots(), context.uses(), pour.id),
            rest[1] if rest is not None else None,
            context.harm(pour, shelf),
        )
        body = papers.write(say(pour.recipe.name, ", ", day(begun)), sections, query.paper, reader(workshop))
        return attach(body, "application/pdf", f"{slug(f'{pour.recipe.name} {begun[:10]}', set())}.pdf")

    @api.get("/recipes/<recipe_id>/label.pdf")
    def get_label(path: m.RecipePath, query: m.Paper) -> Response:
        recipe = workshop.recipe(path.recipe_id).recipe
        sheet, _ = context.sheet(recipe)
        sections = label_paper(recipe, label(recipe, workshop.shelf(), sheet.lines))
        body = papers.write(f"Label draft: {recipe.name}", sections, query.paper, reader(workshop))
        return attach(body, "application/pdf", f"label-{slug(recipe.name, set())}.pdf")

    @api.get("/recipes/<recipe_id>/cut-plan.pdf")
    def get_cuts(path: m.RecipePath, query: m.Paper) -> Response:
        recipe = workshop.recipe(path.recipe_id).recipe
        sheet, _ = context.sheet(recipe)
        box = recipe.size.moulds[0] if isinstance(recipe.size, ByMoulds) and recipe.size.moulds else None
        cuts = cut_plan(box) if isinstance(box, Box) else None
        if not isinstance(box, Box) or cuts is None:
            raise RuleError(Fault(pointer="/size", message="No box is cut here: say how thick a bar is."))
        fill = context.ledger(recipe, sheet, workshop.shelf()).mould
        placed = fill.toppings if fill is not None else ()
        told = [say(cuts.message, "."), *(fill.message if fill is not None else ()), *([fill.ends] if fill else [])]
        sections = cut_paper(told, [joined(" ", filter(None, (say(t.told, "."), t.message))) for t in placed])
        body = papers.write_cuts(f"Cut plan: {recipe.name}", box, cuts, placed, sections, query.paper, reader(workshop))
        return attach(body, "application/pdf", f"cut-{slug(recipe.name, set())}.pdf")
