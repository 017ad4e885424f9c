"""Pours from a notebook, typed in or read from a file, and all pours as a file."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from http import HTTPStatus
from uuid import uuid4

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.forecast import Job, unlikely
from ..core.pour import Ended, Event
from ..core.pour import rules as pour_rules
from ..core.recipe import Recipe
from ..core.sheet import weigh
from ..core.values import Fault, RuleError
from ..exchange import pour_file
from . import messages as m
from .context import AppContext, answer, attach, local

GRACE = timedelta(days=1)  # the maker's day may be ahead of this clock's
TO_COME = "This day is still to come."


def checked(context: AppContext, recipe: Recipe, events: list[Event], sure: bool) -> list[Event]:
    """A notebook's events in order, each allowed after those before it; ended if they do not say when.

    What the forecast hardly gives is asked, unless the maker is `sure`.
    """
    taught = context.learned.taught()
    shelf = taught.shelf
    weighing = weigh(recipe, shelf)
    faults = weighing.faults
    if faults:
        raise RuleError(*faults).under("/recipe_id")
    rows = sorted(enumerate(events), key=lambda e: e[1].minute)
    if not any(isinstance(e, Ended) for e in events):
        rows.append((len(events), Ended(id=uuid4(), minute=rows[-1][1].minute, sure=True)))
    taken: list[Event] = []
    for row, event in rows:
        try:
            pour_rules.check(event, taken, recipe, shelf)
        except RuleError as broken:
            if not (broken.sure and event.sure):
                raise broken.under(f"/events/{row}") from broken
        taken.append(event)
    if not sure and weighing.sheet is not None:
        at = {event.id: row for row, event in rows}
        odd = [
            Fault(pointer=f"/events/{at[event.id]}/stage", message=message)
            for event, message in unlikely(Job(recipe, shelf, weighing.sheet), taught.knowledge, taken)
        ]
        if odd:
            raise RuleError(*odd, sure=True)
    return taken


@dataclass(frozen=True)
class ReadPours:
    """Pours of a file that are new: id, recipe's id, start and events; `there` were in the log already."""

    made: list[tuple[str, str, datetime, list[Event]]]
    there: int


def read_pours(context: AppContext, text: str, sure: bool) -> ReadPours:
    """What a file of pours holds; RuleError names every fault by its line, and nothing is taken in."""
    workshop = context.workshop
    recipes: dict[str, list[str]] = {}
    for recipe_id, name in workshop.recipes.names():
        recipes.setdefault(name.casefold(), []).append(recipe_id)
    made: list[tuple[str, str, datetime, list[Event]]] = []
    faults: list[Fault] = []
    there = {pour for pour, _, _ in workshop.pours.poured()}
    skipped, asked = 0, True
    for written in pour_file.read(text):
        if written.id in there:
            skipped += 1
            continue
        found = recipes.get(written.recipe.casefold(), [])
        if len(found) != 1:
            message = f"There is no recipe called {written.recipe}."
            if found:
                message = f"{len(found)} recipes are called {written.recipe}: rename all but the one that was poured."
            faults.append(Fault(pointer=f"/{written.line}/recipe", message=message))
            asked = False
            continue
        if written.started > context.now() + GRACE:
            faults.append(Fault(pointer=f"/{written.line}/started", message=TO_COME))
            asked = False
            continue
        recipe = workshop.recipes.get(found[0])
        try:
            events = checked(context, recipe.recipe, list(written.events), sure)
            made.append((written.id, recipe.id, written.started, events))
        except RuleError as broken:
            asked = asked and broken.sure
            faults += (f.model_copy(update={"pointer": _line(f.pointer, written)}) for f in broken.faults)
    if faults:
        raise RuleError(*faults, sure=asked)
    return ReadPours(made, skipped)


def take_in_pours(context: AppContext, read: ReadPours) -> m.TakenIn:
    """Keep what a file of pours held."""
    context.workshop.pours.add_pasts(read.made)
    context.workshop.numbers.give(local)
    return m.TakenIn(pours=len(read.made), events=sum(len(e) for _, _, _, e in read.made), there=read.there)


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the notebook's routes."""
    workshop = context.workshop

    @api.post("/pours/past", responses={201: m.Saved})
    def post_past(body: m.PastPour) -> Response:
        if body.started > context.now() + GRACE:
            raise RuleError(Fault(pointer="/started", message=TO_COME))
        events = checked(context, workshop.recipes.get(body.recipe_id).recipe, body.events, body.sure)
        pour_id = str(uuid4())
        workshop.pours.add_past(pour_id, body.recipe_id, body.started, events)
        workshop.numbers.give(local)
        return answer(m.Saved(id=pour_id, revision=1), HTTPStatus.CREATED)

    @api.post("/pours/import", responses={201: m.TakenIn})
    def import_pours(body: m.PourFile) -> Response:
        return answer(take_in_pours(context, read_pours(context, body.text, body.sure)), HTTPStatus.CREATED)

    @api.get("/pours.csv")
    def export_pours() -> Response:
        return attach(pour_file.write(workshop.pours.page()), "text/csv; charset=utf-8", "pours.csv")


def _line(pointer: str, written: pour_file.Written) -> str:
    """A fault at /events/n/… as the line of the file it stands on."""
    parts = pointer.split("/")
    if parts[1] == "events" and int(parts[2]) < len(written.lines):
        return f"/{written.lines[int(parts[2])]}/{'/'.join(parts[3:])}"
    return f"/{written.line}{pointer}"
