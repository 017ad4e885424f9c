"""Pours: started from a draft, then nothing but events."""

from collections.abc import Mapping, Sequence
from http import HTTPStatus
from typing import Any
from uuid import UUID, uuid4, uuid5

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.account import doubt_of
from ..core.advise import advise, bench_now
from ..core.forecast import Projection, next_look
from ..core.logbook import Foretold, Taught, foretell, seen_strip
from ..core.pour import (
    BLOCK,
    Doubted,
    Ended,
    Event,
    LayerTested,
    LeftOut,
    Moved,
    NextTime,
    Note,
    Rest,
    StageSeen,
    Undone,
    by_last_names,
    clock_text,
    label,
    last_names,
    shared,
)
from ..core.pour import rules as pour_rules
from ..core.schedule import marked_for_good, overdoses
from ..core.sheet import weigh
from ..core.shelf import Shelf
from ..core.text import say
from ..core.values import Fault, RuleError
from ..store import PourRecord
from . import messages as m
from . import ready
from .context import AppContext, answer, local
from .door import at_the_bench
from .rest import LATELY, beside, ended_at, glanced

WAITING = ("rests", "cures")
SHOWN = 8  # pours whose last forecast is at hand [chosen]
FRESH = 0.5  # minutes a forecast that was shown serves to be surprised by: plans move little in them [C]
AHEAD = 2.0  # minutes a tap may be ahead of the server's clock before it is doubted
DOUBTS = UUID("0e9f4c5e-2f2f-4a3a-9d0e-5d0b7c7f7a11")  # under which doubts have their ids, so that none is told twice


def line_of(
    context: AppContext,
    pour: PourRecord,
    taught: Taught,
    foretold: dict[str, Any] | None,
    photo: str | None,
    partners: Mapping[str, set[str]],
    batch: str,
) -> m.PourLine:
    """A pour in a list."""
    state, shelf = pour.state, taught.shelf
    since = context.now() - pour.started
    waits = glanced(context, pour, taught, partners) if since < LATELY and state.came != "lost" else None
    return m.PourLine(
        id=pour.id,
        recipe=pour.recipe.name,
        recipe_id=pour.recipe_id,
        version=pour.version,
        batch=batch,
        scent=shelf.blend_name(pour.recipe.fragrances) or None,
        technique=_technique(state.technique or pour.recipe.design.technique, shelf),
        face=context.face(pour, shelf),
        started=pour.started,
        ended=state.ended,
        events=len(state.standing),
        left_out=pour.id in taught.left_out,
        came=state.came,
        harm=context.harm(pour, shelf),
        foretold=Foretold.model_validate(foretold) if foretold else None,
        seen=seen_strip(state),
        next=waits.next[0] if waits is not None and waits.next else None,
        hours=waits.hours if waits is not None else None,
        ended_at=ended_at(pour) if state.ended is not None else None,
        photo=photo,
        together=beside(context, partners.get(pour.id, ())),
    )


def lines_of(context: AppContext, pours: Sequence[PourRecord]) -> list[m.PourLine]:
    """Pours in a list."""
    taught, ids = context.learned.taught(), [p.id for p in pours]
    foretold = context.workshop.pours.foretold(ids)
    photos = {p.pour: p.id for p in context.workshop.pictures.of(ids)}
    together, numbers = context.workshop.pours.partners(), context.workshop.numbers.of(ids)
    return [
        line_of(context, p, taught, foretold.get(p.id), photos.get(p.id), together, numbers.get(p.id, ""))
        for p in pours
    ]


def _technique(technique: str, shelf: Shelf) -> str:
    known = shelf.techniques.get(technique)
    return known.name if known else technique


def view_of(
    context: AppContext,
    pour: PourRecord,
    minute: float | None = None,
    taught: Taught | None = None,
    pictures: bool = True,
) -> m.PourView:
    """A pour as the bench sees it, at a `minute` or at its clock's."""
    sheet, projection = context.projection(pour, minute, taught)
    context.shown[pour.id] = (pour, taught or context.learned.taught(), projection)
    for oldest in list(context.shown)[:-SHOWN]:
        context.shown.pop(oldest, None)
    state = projection.state
    look = next_look(projection)
    advice = advise(projection, context.said.get(pour.id, ""))
    context.said[pour.id] = advice.standing
    clock = projection.now if minute is not None else context.minute(pour)
    known = taught or context.learned.taught()
    return m.PourView(
        id=pour.id,
        recipe_id=pour.recipe_id,
        version=pour.version,
        recipe=pour.recipe,
        sheet=sheet,
        technique=projection.schedule.technique,
        started=pour.started,
        minute=state.ended if state.ended is not None else clock,
        ended=state.ended,
        split=state.split,
        pouring=state.pouring,
        celsius=state.readings[-1][1] if state.readings else pour.recipe.pour_celsius,
        measured=bool(state.readings),
        events=[m.LoggedEvent(event=e, label=label(e)) for e in state.standing],
        doubts=[
            m.OpenDoubt(target=e.id, minute=e.minute, label=label(e), message=d.says, stands=d.stands)
            for e in state.standing
            if (d := state.doubts.get(e.id)) is not None
        ],
        forecast=projection.forecast,
        advice=advice,
        bench=bench_now(projection, advice, known.mishaps),
        look_at=look[1] if look else None,
        look_into=look[0] if look else None,
        photos=[m.PhotoView(**vars(p)) for p in context.workshop.pictures.of([pour.id])] if pictures else [],
        taught=known.verdicts.message(known.shelf, projection.schedule.technique.id) if state.ended is not None else "",
        harm=marked_for_good(overdoses(pour.recipe, known.shelf, sheet, state)),
    )


def _before(
    context: AppContext,
    pour: PourRecord,
    before: Sequence[Event],
    at: float,
    minute: float | None,
    taught: Taught | None,
) -> Projection:
    """The forecast before a tap: the one that was shown last, where that is of the same taps and fresh."""
    last = context.shown.get(pour.id)
    known = taught or context.learned.taught()
    same = last is not None and last[1] is known and list(last[0].events) == list(before)
    if last is not None and same and abs(last[2].now - at) <= FRESH:
        return last[2]
    rest = PourRecord(pour.id, pour.recipe_id, pour.version, pour.row, pour.recipe, pour.started, tuple(before))
    return context.projection(rest, minute, taught)[1]


def doubted(
    context: AppContext, pour: PourRecord, event: Event, minute: float | None = None, taught: Taught | None = None
) -> Doubted | None:
    """What the rules, the clock or the forecast doubt about a tap; a tap that was moved is looked at anew."""
    before = [e for e in pour.events if not isinstance(e, Undone) or e.target != event.id]
    tap = event
    if isinstance(event, Moved):
        moved = next((e for e in pour.events if e.id == event.target), None)
        if moved is None or isinstance(moved, Note):
            return None
        tap = moved.model_copy(update={"minute": event.to})
        before = [e for e in before if e.id != moved.id]
    if isinstance(tap, Note):
        return None
    last = context.shown.get(pour.id)
    same = last is not None and last[0].recipe == pour.recipe and list(last[0].events) == before
    known = last[0].state if last is not None and same else None
    found = pour_rules.doubt(tap, before, pour.recipe, (taught or context.learned.taught()).shelf, known)
    clock = context.minute(pour) if minute is None else minute
    if found is None and tap.minute > clock + AHEAD:
        message = say(f"This tap is at {clock_text(tap.minute)}, but the pour's clock shows {clock_text(clock)}.")
        found = pour_rules.Doubt("/minute", message, "waits")
    if found is None and isinstance(tap, StageSeen | Ended | LayerTested) and not tap.sure and not pour.ended:
        found = doubt_of(_before(context, pour, before, tap.minute, minute, taught), tap)
    if found is None or (tap.sure and found.stands != "cannot"):
        return None
    return Doubted(
        id=uuid5(DOUBTS, str(event.id)), minute=tap.minute, target=tap.id, says=found.message, stands=found.stands
    )


def share(context: AppContext, pour: PourRecord, event: Event) -> None:
    """What is done to a block is done to every batch in it: told in the others' logs too, once."""
    if not isinstance(event, BLOCK | Undone):
        return
    for other in context.workshop.pours.partners().get(pour.id, ()):
        there = context.workshop.pours.get(other)
        copy = shared(event, other, (there.started - pour.started).total_seconds() / 60)
        known = {e.id for e in there.events}
        if copy is not None and there.ended and (not isinstance(copy, Undone) or copy.target in known):
            context.workshop.pours.append(other, [copy], context.now())


def _check_take_back(pour: PourRecord, event: Event) -> None:
    """A device of the bench takes back no tap of a pour that has ended, but those of its rest: RuleError.

    What it tapped before the end, however late it arrives, is taken.
    """
    ended = pour.state.ended
    if ended is None or event.minute <= ended or not isinstance(event, Undone | Moved | LeftOut):
        return
    target = next((e for e in pour.events if e.id == getattr(event, "target", None)), None)
    if not isinstance(target, Rest | NextTime):
        message = "This pour has ended: what was tapped at the bench is corrected on the workshop's own screen."
        raise RuleError(Fault(pointer="/event", message=message))


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the pours' routes."""
    workshop = context.workshop

    def pour_view(pour: PourRecord) -> m.PourView:
        return view_of(context, pour)

    @api.get("/pours", responses={200: m.PourList})
    def get_pours(query: m.PoursPage) -> Response:
        find = context.meaning(query.find)
        since = context.now() - LATELY
        waits: dict[str, Any] = {"phases": WAITING, "since": since}
        narrow: dict[str, Any] = waits if query.only == "waits" else {"came": query.only}
        pours = workshop.pours.page(find, query.first, query.most, **narrow)
        # A page that is not full is the last one: what came before it is known.
        last = len(pours) < query.most and (pours or not query.first)
        total = query.first + len(pours) if last else workshop.pours.count(find, **narrow)
        waiting = total if query.only == "waits" and not find else workshop.pours.count(**waits)
        return answer(m.PourList(pours=lines_of(context, pours), total=total, waiting=waiting))

    @api.post("/pours", responses={201: m.PourView})
    def post_pour(body: m.StartPour) -> Response:
        draft = workshop.recipes.get(body.recipe_id)
        faults = weigh(draft.recipe, workshop.ingredients.shelf()).faults
        if faults:
            raise RuleError(*faults)
        if not body.sure:
            ready.check_lye(context, body.recipe_id, draft.recipe)
        pour_id = str(uuid4())
        weighed, _ = context.sheet(draft.recipe)
        foretold = foretell(context.forecast(draft.recipe, weighed, body.recipe_id)).model_dump()
        if workshop.pours.start(pour_id, body.recipe_id, context.now(), foretold, body.again) != pour_id:
            raise RuleError(Fault(pointer="/recipe_id", message="A pour of this recipe is running. End it first."))
        workshop.numbers.give(local)
        met = ready.heeded(workshop, body.recipe_id, pour_id, context.now())
        if met:
            workshop.pours.append(pour_id, met, context.now())
        ready.forget(workshop, body.recipe_id, pour_id)
        return answer(pour_view(workshop.pours.get(pour_id)), HTTPStatus.CREATED)

    @api.get("/pours/<pour_id>", responses={200: m.PourView})
    def get_pour(path: m.PourPath) -> Response:
        return answer(pour_view(workshop.pours.get(path.pour_id)))

    @api.delete("/pours/<pour_id>", responses={204: None})
    def delete_pour(path: m.PourPath) -> Response:
        """Lye did not meet the fats: a pour that was begun by a slip, before anything of it was tapped."""
        ready.put_back(workshop, workshop.pours.withdraw(path.pour_id), path.pour_id)
        return Response(status=HTTPStatus.NO_CONTENT)

    @api.post("/pours/<pour_id>/events", responses={200: m.PourView})
    def post_event(path: m.PourPath, body: m.Tap) -> Response:
        """Every tap is taken; what is odd about it is asked afterwards. Reckoned before anything is written."""
        pour, event, taught = workshop.pours.get(path.pour_id), body.event, context.learned.taught()
        if at_the_bench():
            _check_take_back(pour, event)
        told: list[Event] = [event]
        if all(e.id != event.id for e in pour.events):
            doubt = doubted(context, pour, by_last_names(event, last_names(pour.events)), taught=taught)
            told += [doubt] if doubt is not None else []
        kept = workshop.pours.append(path.pour_id, told, context.now())
        share(context, kept, event)
        # What an event changed of what is learned is asked for anew.
        return answer(view_of(context, kept, taught=None if kept.ended else taught))
