"""Practice: the bench on a batter that is not there. Kept in memory alone: it teaches nothing and leaves no pour."""

from dataclasses import replace
from http import HTTPStatus
from random import Random, SystemRandom
from uuid import uuid4

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.pour import by_last_names, last_names
from ..core.pour import called as named
from ..core.sheet import weigh
from ..core.values import NotFoundError, RuleError
from ..standins.debrief import Debrief, ToldThen, after, debrief
from ..standins.practice import TEMPERS, Sights, Truth, at_minute, practice_recipe, sights, when_done
from ..store import PourRecord
from . import messages as m
from .context import AppContext, Practice, answer
from .pours import doubted, view_of

MOST = 20  # practices kept at a time; the oldest go first [chosen]


def dealt(context: AppContext, body: m.StartPractice, dice: Random, called: str | None = None) -> Practice:
    """A new practice, begun now, under a new id or as it is `called`."""
    taught = context.learned.taught()
    if body.recipe_id:
        recipe = context.workshop.recipes.get(body.recipe_id).recipe
    else:
        recipe, shelf = practice_recipe(taught.shelf)
        taught = taught.on(shelf, taught.knowledge.noise)
    weighing = weigh(recipe, taught.shelf)
    if weighing.sheet is None:
        raise RuleError(*weighing.faults)
    temper = body.temper if body.temper is not None else dice.choice(tuple(TEMPERS))
    seed = body.seed if body.seed is not None else dice.randrange(1, 2**31)
    truth = Truth.dealt(temper, recipe, weighing.sheet, taught.knowledge, seed)
    now = context.now()
    pour = PourRecord(called or str(uuid4()), body.recipe_id, 0, None, recipe, now, ())
    for oldest in list(context.practices)[: max(len(context.practices) + 1 - MOST, 0)]:
        del context.practices[oldest]
    context.practices[pour.id] = Practice(pour, truth, taught, weighing.sheet, body.speed, now)
    return context.practices[pour.id]


def _held(context: AppContext) -> list[m.PractisedLine]:
    held = [
        m.PractisedLine(
            id=i,
            recipe=p.pour.recipe.name,
            ended=p.pour.ended,
            temper=TEMPERS[p.truth.temper] if p.pour.ended else "",
        )
        for i, p in context.practices.items()
    ]
    return held[::-1]


def _found(context: AppContext, practice_id: str) -> Practice:
    practice = context.practices.get(practice_id)
    if practice is None:
        raise NotFoundError("This practice is over: it is kept only as long as the app runs.")
    return practice


def _view(context: AppContext, practice: Practice) -> Response:
    minute = practice.now(context.now())
    shown = view_of(context, practice.pour, minute, practice.taught, pictures=False)
    advised = shown.advice
    if advised.going_on is not None and (not practice.told or practice.told[-1].headline != advised.headline):
        done = practice.pour.state.standing
        practice.told.append(
            ToldThen(minute=minute, after=after(done), drawn=advised.going_on.drawn, headline=advised.headline)
        )
    if shown.ended is not None:
        advised = advised.model_copy(update={"detail": "Nothing of a practice batter is kept or learned from."})
    now = m.PracticeNow(speed=practice.speed)
    return answer(shown.model_copy(update={"practice": now, "advice": advised}))


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add practice's routes."""
    dice = SystemRandom()

    @api.get("/practice", responses={200: m.Practised})
    def get_practices() -> Response:
        """What was practised since the app was started, the newest first."""
        return answer(m.Practised(practices=_held(context)))

    @api.post("/practice", responses={201: m.PourView})
    def post_practice(body: m.StartPractice) -> Response:
        practice = dealt(context, body, dice)
        response = _view(context, practice)
        response.status_code = HTTPStatus.CREATED
        return response

    @api.get("/practice/<practice_id>", responses={200: m.PourView})
    def get_practice(path: m.PracticePath) -> Response:
        return _view(context, _found(context, path.practice_id))

    @api.post("/practice/<practice_id>/events", responses={200: m.PourView})
    def post_practice_event(path: m.PracticePath, body: m.Tap) -> Response:
        practice = _found(context, path.practice_id)
        pour, event = practice.pour, body.event
        if all(e.id != event.id for e in pour.events):
            now = context.now()
            minute = practice.now(now)
            until = when_done(pour.recipe, practice.sheet, practice.taught.shelf, pour.events, event, minute)
            if until > minute:
                practice.minute, practice.at, minute = until, now, until
            event = event.model_copy(update={"minute": until})
            doubt = doubted(context, pour, by_last_names(event, last_names(pour.events)), minute, practice.taught)
            told = [event, *([doubt] if doubt is not None else [])]
            recipe, events = named(pour.recipe, (*pour.events, *told))
            practice.pour = replace(pour, recipe=recipe, events=events)
        return _view(context, practice)

    @api.put("/practice/<practice_id>/speed", responses={200: m.PourView})
    def put_speed(path: m.PracticePath, body: m.Speed) -> Response:
        practice, now = _found(context, path.practice_id), context.now()
        practice.minute, practice.at, practice.speed = practice.now(now), now, body.speed
        return _view(context, practice)

    @api.get("/practice/<practice_id>/sights", responses={200: Sights})
    def get_sights(path: m.PracticePath) -> Response:
        practice = _found(context, path.practice_id)
        pour = practice.pour
        moment = at_minute(
            practice.truth, pour.recipe, practice.sheet, practice.taught.shelf, pour.events, practice.now(context.now())
        )
        return answer(sights(practice.truth, moment))

    @api.get("/practice/<practice_id>/debrief", responses={200: Debrief})
    def get_debrief(path: m.PracticePath) -> Response:
        practice = _found(context, path.practice_id)
        pour, shelf = practice.pour, practice.taught.shelf
        if not pour.ended:
            raise NotFoundError("This practice has not ended yet.")
        technique = shelf.techniques[pour.recipe.design.technique]
        return answer(
            debrief(practice.truth, pour.recipe, practice.sheet, shelf, pour.events, practice.told, technique.name)
        )
