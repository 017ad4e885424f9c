"""Papers beside the bench sheet: a batch's record, a label's draft, a cut plan."""

from calendar import monthrange
from collections.abc import Callable
from datetime import date, datetime, timedelta

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.logbook import Recorded, bar_label, batch_record, cut_paper, label_paper
from ..core.recipe import Box, ByMoulds, cut_plan
from ..core.schedule import as_poured
from ..core.sheet import bottles, label
from ..core.shelf import Shelf
from ..core.text import Text, day, joined, say
from ..core.values import Fault, RuleError
from ..exchange import face_png, labels, papers
from ..store import PourRecord
from . import messages as m
from .context import AppContext, attach, local, slug
from .rest import resting
from .telling import reader


def months_on(of: date, months: int) -> date:
    """The same day so many months on, or the last one of that month.

    >>> months_on(date(2031, 8, 31), 18)
    datetime.date(2033, 2, 28)
    """
    years, month = divmod(of.month - 1 + months, 12)
    year = of.year + years
    return date(year, month + 1, min(of.day, monthrange(year, month + 1)[1]))


def moment_words(at: datetime) -> Text:
    """A moment on the reader's clock, with its zone."""
    here = local(at)
    return say(day(here.isoformat()), f", {here:%H:%M %Z}")


def clock_of(pour: PourRecord) -> Callable[[float], str]:
    """How a minute of a pour's clock reads on the reader's."""

    def when(minute: float) -> str:
        at = local(pour.started + timedelta(minutes=minute))
        return f"{at.day} {at:%b %H:%M}"

    return when


def _bar_picture(context: AppContext, pour: PourRecord, shelf: Shelf) -> bytes | None:
    """The last picture taken of a batch's bars, else its cut face as it was drawn."""
    photos = context.workshop.pictures.of([pour.id])
    if photos:
        return context.workshop.pictures.get(photos[-1].id)
    code = context.face(pour, shelf)
    return face_png.png(code, 240) if code else None


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the papers' routes."""
    workshop = context.workshop

    @api.get("/pours/<pour_id>/record.pdf")
    def get_record(path: m.PourPath, query: m.Paper) -> Response:
        """Everything of one batch."""
        pour, taught = workshop.pours.get(path.pour_id), context.learned.taught()
        shelf = taught.shelf
        sheet = context.poured_sheet(pour, shelf)
        if sheet is None:
            raise RuleError(Fault(pointer="/id", message="Its recipe can be weighed no more."))
        rest = resting(context, pour, taught)
        begun = local(pour.started).isoformat()
        recorded = Recorded(
            pour.recipe,
            pour.version,
            sheet,
            shelf,
            pour.state,
            moment_words(pour.started),
            clock_of(pour),
            bottles(context.stock.allocation(), pour.id),
            context.harm(pour, shelf),
            workshop.numbers.of([pour.id]).get(pour.id, ""),
        )
        poured, went = as_poured(pour.recipe, shelf, sheet, pour.state)
        made = label(poured, shelf, went.lines)
        sections = batch_record(recorded, made, rest[1] if rest is not None else None)
        name = say(pour.recipe.name, ", ", day(begun))
        body = papers.write(name, sections, query.paper, reader(workshop), _bar_picture(context, pour, shelf))
        return attach(body, "application/pdf", f"{slug(f'{pour.recipe.name} {begun[:10]}', set())}.pdf")

    @api.get("/pours/<pour_id>/labels.pdf")
    def get_labels(path: m.PourPath, query: m.LabelPaper) -> Response:
        """Labels of a batch's bars, as many as a sheet holds."""
        pour, taught, sold = workshop.pours.get(path.pour_id), context.learned.taught(), workshop.settings.selling()
        harm, rest = context.harm(pour, taught.shelf), resting(context, pour, taught)
        if harm != Text.NONE:
            raise RuleError(Fault(pointer="/id", message=say(harm, " They get no label for sale.")))
        if rest is None:
            raise RuleError(Fault(pointer="/id", message="It is still being poured, or can be weighed no more."))
        begun = local(pour.started)
        best = say(day(months_on(begun.date(), sold.best_months).isoformat())) if sold.best_months else Text.NONE
        poured, went = as_poured(pour.recipe, taught.shelf, rest[0], pour.state)
        made = label(poured, taught.shelf, went.lines)
        number = workshop.numbers.of([pour.id]).get(pour.id, "")
        told = bar_label(
            pour.recipe, made, query.names, rest[1], number, best, sold.maker, workshop.settings.units().weight
        )
        body = labels.write(told, query.size, query.paper, reader(workshop))
        return attach(body, "application/pdf", f"labels-{slug(f'{pour.recipe.name} {number}', set())}.pdf")

    @api.get("/recipes/<recipe_id>/label.pdf")
    def get_label(path: m.RecipePath, query: m.Paper) -> Response:
        recipe = workshop.recipes.get(path.recipe_id).recipe
        sheet, _ = context.sheet(recipe)
        sections = label_paper(recipe, label(recipe, workshop.ingredients.shelf(), sheet.lines))
        body = papers.write(f"Label draft: {recipe.name}", sections, query.paper, reader(workshop))
        return attach(body, "application/pdf", f"label-{slug(recipe.name, set())}.pdf")

    @api.get("/recipes/<recipe_id>/cut-plan.pdf")
    def get_cuts(path: m.RecipePath, query: m.Paper) -> Response:
        recipe = workshop.recipes.get(path.recipe_id).recipe
        sheet, _ = context.sheet(recipe)
        box = recipe.size.moulds[0] if isinstance(recipe.size, ByMoulds) and recipe.size.moulds else None
        cuts = cut_plan(box) if isinstance(box, Box) else None
        if not isinstance(box, Box) or cuts is None:
            raise RuleError(Fault(pointer="/size", message="No box is cut here: say how thick a bar is."))
        fill = context.ledger(recipe, sheet, workshop.ingredients.shelf()).mould
        placed = fill.toppings if fill is not None else ()
        told = [say(cuts.message, "."), *(fill.message if fill is not None else ()), *([fill.ends] if fill else [])]
        sections = cut_paper(told, [joined(" ", filter(None, (say(t.told, "."), t.message))) for t in placed])
        body = papers.write_cuts(f"Cut plan: {recipe.name}", box, cuts, placed, sections, query.paper, reader(workshop))
        return attach(body, "application/pdf", f"cut-{slug(recipe.name, set())}.pdf")
