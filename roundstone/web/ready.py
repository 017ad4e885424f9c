"""The ready check of a recipe: kept on the server, so that whoever weighs and whoever reads can be two devices."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any
from uuid import UUID, uuid5

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.heat import plan as heat_plan
from ..core.pour import Event, Flag, Heeded
from ..core.recipe import Recipe, build_of
from ..core.schedule import (
    NO_MISHAPS,
    ReadyPart,
    ReadyState,
    Reweigh,
    acted,
    before,
    cues_of,
    meets,
    plan,
    put_by,
    ready_parts,
    stages,
    to_reweigh,
    weighed,
    work_order,
)
from ..core.sheet import Sheet, following, in_hand, supply, weigh
from ..core.text import day, say
from ..core.values import Fault, NotFoundError, RuleError
from ..store import Workshop
from . import messages as m
from .context import AppContext, answer, today

STALE = 12 * 60.0  # minutes after which a ready check is another day's, and begun anew [chosen]


def kept_as(recipe_id: str, day: int = 1) -> str:
    """The name under which a recipe's ready check is kept, of each day of its build."""
    return f"ready {recipe_id}" if day == 1 else f"ready {recipe_id} day {day}"


def heeded(workshop: Workshop, recipe_id: str, pour_id: str, now: datetime) -> list[Event]:
    """What was said of earlier notes while this pour was made ready, as events of its first minute."""
    _, state = state_of(workshop.settings.get(kept_as(recipe_id)), now)
    return [
        Heeded(id=uuid5(UUID(pour_id), note), minute=0.0, note=UUID(note), how=how) for note, how in state.notes.items()
    ]


def forget(workshop: Workshop, recipe_id: str, pour_id: str) -> None:
    """The pour has begun: the next ready check is a new one, unless the pour is taken back."""
    workshop.settings.change(kept_as(recipe_id), lambda was: {"pour": pour_id, "was": was or {}})


def put_back(workshop: Workshop, recipe_id: str, pour_id: str) -> None:
    """The pour was begun by a slip: what stood ready before it stands ready still."""
    workshop.settings.change(
        kept_as(recipe_id), lambda doc: doc["was"] if doc and doc.get("pour") == pour_id else doc or {}
    )


def state_of(doc: dict[str, Any] | None, now: datetime) -> tuple[datetime, ReadyState]:
    """When a ready check was begun, and how far it is; a new one where there is none of today."""
    if doc and "begun" in doc:
        begun = datetime.fromisoformat(doc["begun"])
        if (now - begun).total_seconds() / 60 < STALE:
            return begun, ReadyState.model_validate(doc["state"])
    return now, ReadyState()


def checklist(
    context: AppContext, recipe: Recipe, state: ReadyState, mishaps: Mapping[Flag, float] = NO_MISHAPS, day: int = 1
) -> tuple[tuple[ReadyPart, ...], tuple[Reweigh, ...], Sheet]:
    """What to get ready of a recipe as it is now, what was weighed for another weight, and the sheet of both."""
    shelf = context.workshop.ingredients.shelf()
    sheet, cautions = context.sheet(recipe)
    shelved = supply(recipe, sheet, shelf, context.stock.left(), today(context))
    sheet = in_hand(sheet, context.stock.left())
    told = (*cautions, *shelved.certificates)
    steps = work_order(recipe, shelf, sheet, heat_plan(recipe, shelf, sheet.lines), told)
    parts = ready_parts(recipe, steps, plan(recipe, shelf, sheet.total), shelved.short, state, shelf, mishaps, day)
    return parts, to_reweigh(parts, state, shelf.scales.both), sheet


def check_lye(context: AppContext, recipe_id: str, recipe: Recipe) -> None:
    """RuleError, to be overruled by saying so, where lye was weighed for another weight than the recipe's now."""
    _, state = state_of(context.workshop.settings.get(kept_as(recipe_id)), context.now())
    wrong = [r for r in checklist(context, recipe, state)[1] if r.lye] if state.ticked else []
    if wrong:
        message = [r.message for r in wrong]
        message[-1] += say(" ", wrong[-1].does)
        raise RuleError(*(Fault(pointer="/lye", message=s) for s in message), sure=True)


def _running(context: AppContext, recipe_id: str, day: int) -> str | None:
    """The pour of a recipe that runs; of several the latest, and on a later day the one that waits for it longest."""
    pours = context.workshop.pours.running().get(recipe_id)
    return pours[-1 if day == 1 else 0] if pours else None


def _recipe_of(context: AppContext, recipe_id: str, day: int) -> Recipe:
    """The recipe of a ready check: on a later day of a build that of the pour that runs, whatever the draft became.
    NotFoundError for a day it has not."""
    workshop = context.workshop
    pour = _running(context, recipe_id, day) if day > 1 else None
    recipe = workshop.recipes.get(recipe_id).recipe if pour is None else workshop.pours.get(pour).recipe
    if day > build_of(recipe.design).many:
        raise NotFoundError(f"This plan has no day {day}.")
    return recipe


def _view(context: AppContext, recipe_id: str, which: int) -> Response:
    recipe = _recipe_of(context, recipe_id, which)
    begun, state = state_of(context.workshop.settings.get(kept_as(recipe_id, which)), context.now())
    minute = (context.now() - begun).total_seconds() / 60
    parts, reweigh, sheet = checklist(context, recipe, state, context.mishaps(recipe, recipe_id), which)
    shelf = context.workshop.ingredients.shelf()
    taught = context.learned.taught()
    last = next(((day(p.started.isoformat()), p.state) for p in context.workshop.pours.last_of(recipe_id, 1)), None)
    of_technique = taught.verdicts.message(taught.shelf, recipe.design.technique)
    later = which > 1
    stands, left = put_by(recipe, sheet, which - 1) if later else (recipe, sheet)
    met = meets(stands, left, shelf, state, minute)
    return answer(
        m.ReadyView(
            recipe_id=recipe_id,
            name=recipe.name,
            minute=minute,
            stages=stages(parts, which),
            reweigh=reweigh,
            state=state,
            meets=met,
            cues=cues_of(met),
            before=() if later else before(recipe, shelf, last, taught.poured, of_technique),
            noted=[] if later else context.recalled(recipe, recipe_id, state.notes),
            day=which,
            days=build_of(recipe.design).many,
            combines=bool(build_of(recipe.design).portions(which - 1)),
            running=_running(context, recipe_id, which),
        )
    )


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the ready check's routes."""
    workshop = context.workshop

    @api.get("/recipes/<recipe_id>/ready", responses={200: m.ReadyView})
    def get_ready(path: m.RecipePath, query: m.BuildDay) -> Response:
        return _view(context, path.recipe_id, query.day)

    @api.post("/recipes/<recipe_id>/ready", responses={200: m.ReadyView})
    def post_ready(path: m.RecipePath, query: m.BuildDay, body: m.ReadyTap) -> Response:
        """One act at a time, so that two devices never write over each other."""
        _recipe_of(context, path.recipe_id, query.day)

        def changed(doc: dict[str, Any] | None) -> dict[str, Any]:
            begun, state = state_of(doc, context.now())
            minute = (context.now() - begun).total_seconds() / 60
            try:
                after = acted(state, body.act, minute)
            except RuleError as broken:
                raise broken.under("/act") from broken
            return {"begun": begun.isoformat(), "state": after.model_dump(mode="json")}

        workshop.settings.change(kept_as(path.recipe_id, query.day), changed)
        return _view(context, path.recipe_id, query.day)

    @api.post("/recipes/<recipe_id>/ready/follow", responses={200: m.ReadyView})
    def post_follow(path: m.RecipePath) -> Response:
        """The recipe becomes what was weighed; what stands ready stands then for what the recipe says."""
        draft = workshop.recipes.get(path.recipe_id)
        shelf = workshop.ingredients.shelf()
        _, state = state_of(workshop.settings.get(kept_as(path.recipe_id)), context.now())
        # What is weighed on two days is not whole on the first.
        days = range(1, build_of(draft.recipe.design).many + 1)
        sheet = checklist(context, draft.recipe, state)[2]
        parts = [p for d in days for p in checklist(context, draft.recipe, state, day=d)[0]]
        followed = following(draft.recipe, shelf, sheet, weighed(parts, state))
        faults = weigh(followed, shelf).faults
        if faults:
            raise RuleError(*faults)
        workshop.recipes.save(path.recipe_id, followed, draft.revision, context.now())
        return _view(context, path.recipe_id, 1)
