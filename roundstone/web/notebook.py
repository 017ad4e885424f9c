"""Pours from a notebook, typed in or read from a file, and all pours as a file."""

from datetime import datetime, timedelta
from http import HTTPStatus
from uuid import uuid4

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core import pour as pour_rules
from ..core.pour import Ended, Event
from ..core.recipe import Recipe
from ..core.values import Fault, RuleBroken
from ..core.weigh import weigh
from ..exchange import pour_file
from . import messages as m
from .bench import Bench, answer, attach


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the notebook's routes."""
    workshop = bench.workshop

    def checked(recipe: Recipe, events: list[Event]) -> list[Event]:
        """A notebook's events in order, each allowed after those before it; ended if they do not say when."""
        shelf = workshop.shelf()
        faults = weigh(recipe, shelf).faults
        if faults:
            raise RuleBroken(*(f.model_copy(update={"pointer": f"/recipe_id{f.pointer}"}) for f in faults))
        rows = sorted(enumerate(events), key=lambda e: e[1].minute)
        if not any(isinstance(e, Ended) for e in events):
            rows.append((len(events), Ended(id=uuid4(), minute=rows[-1][1].minute, sure=True)))
        taken: list[Event] = []
        for row, event in rows:
            try:
                pour_rules.check(event, taken, recipe, shelf)
            except RuleBroken as broken:
                if not (broken.sure and event.sure):
                    faults = tuple(f.model_copy(update={"pointer": f"/events/{row}{f.pointer}"}) for f in broken.faults)
                    raise RuleBroken(*faults, sure=broken.sure) from broken
            taken.append(event)
        return taken

    @api.post("/pours/past", responses={201: m.Saved})
    def post_past(body: m.PastPour) -> Response:
        # A day of grace: the maker's day may be ahead of this clock's.
        if body.started > bench.now() + timedelta(days=1):
            raise RuleBroken(Fault(pointer="/started", says="This day is still to come."))
        events = checked(workshop.recipe(body.recipe_id).recipe, body.events)
        pour_id = str(uuid4())
        workshop.add_past(pour_id, body.recipe_id, body.started, events)
        return answer(m.Saved(id=pour_id, revision=1), HTTPStatus.CREATED)

    @api.post("/pours/import", responses={201: m.TakenIn})
    def import_pours(body: m.PourFile) -> Response:
        recipes = {r.recipe.name.casefold(): r for r in workshop.recipes()}
        made: list[tuple[str, str, datetime, list[Event]]] = []
        faults: list[Fault] = []
        for written in pour_file.read(body.text):
            recipe = recipes.get(written.recipe.casefold())
            if recipe is None:
                says = f"There is no recipe called {written.recipe}."
                faults.append(Fault(pointer=f"/{written.line}/recipe", says=says))
                continue
            try:
                events = checked(recipe.recipe, list(written.events))
                made.append((str(uuid4()), recipe.id, written.started, events))
            except RuleBroken as broken:
                faults += (f.model_copy(update={"pointer": _line(f.pointer, written)}) for f in broken.faults)
        if faults:
            raise RuleBroken(*faults)
        workshop.add_pasts(made)
        return answer(m.TakenIn(pours=len(made), events=sum(len(e) for _, _, _, e in made)), HTTPStatus.CREATED)

    @api.get("/pours.csv")
    def export_pours() -> Response:
        return attach(pour_file.write(workshop.pours()), "text/csv; charset=utf-8", "pours.csv")


def _line(pointer: str, written: pour_file.Written) -> str:
    """A fault at /events/n/… as the line of the file it stands on."""
    parts = pointer.split("/")
    if parts[1] == "events" and int(parts[2]) < len(written.lines):
        return f"/{written.lines[int(parts[2])]}/{'/'.join(parts[3:])}"
    return f"/{written.line}{pointer}"
