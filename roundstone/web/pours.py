"""Pours: started from a draft, then nothing but events."""

from collections.abc import Sequence
from http import HTTPStatus
from uuid import UUID, uuid4, uuid5
from zlib import crc32

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.face import coded
from ..core.forecast import Projection, advise, bench_now, meant, next_look, surprise
from ..core.logbook import Taught
from ..core.pour import (
    MID_STAGE,
    Doubted,
    Event,
    Moved,
    Note,
    StageSeen,
    Undone,
    by_last_names,
    clock_text,
    label,
    last_names,
)
from ..core.pour import rules as pour_rules
from ..core.sheet import weigh
from ..core.shelf import Shelf
from ..core.values import Fault, RuleBroken
from ..store import PourRecord
from . import messages as m
from . import ready
from .context import Bench, answer

SHOWN = 8  # pours whose last forecast is at hand [chosen]
FRESH = 0.5  # minutes a forecast that was shown serves to be surprised by: plans move little in them [C]
AHEAD = 2.0  # minutes a tap may be ahead of the server's clock before it is doubted
DOUBTS = UUID("0e9f4c5e-2f2f-4a3a-9d0e-5d0b7c7f7a11")  # under which doubts have their ids, so that none is told twice


def line_of(pour: PourRecord, shelf: Shelf, left_out: set[str]) -> m.PourLine:
    """A pour in a list."""
    state = pour.state
    technique = shelf.techniques.get(state.technique or pour.recipe.design.technique)
    seen = {p.name: level + MID_STAGE for p in pour.recipe.design.portions if (level := state.level(p.name)) >= 1}
    return m.PourLine(
        id=pour.id,
        recipe=pour.recipe.name,
        recipe_id=pour.recipe_id,
        version=pour.version,
        scent=shelf.blend_name(pour.recipe.fragrances) or None,
        technique=_technique(state.technique or pour.recipe.design.technique, shelf),
        face=coded(meant(pour.recipe, shelf, technique, crc32(pour.recipe_id.encode()), seen)) if technique else "",
        started=pour.started,
        ended=state.ended,
        events=len(state.standing),
        left_out=pour.id in left_out,
    )


def _technique(technique: str, shelf: Shelf) -> str:
    known = shelf.techniques.get(technique)
    return known.name if known else technique


def view_of(
    bench: Bench, pour: PourRecord, minute: float | None = None, taught: Taught | None = None, pictures: bool = True
) -> m.PourView:
    """A pour as the bench sees it, at a `minute` or at its clock's."""
    sheet, projection = bench.projection(pour, minute, taught)
    bench.shown[pour.id] = (pour, taught or bench.learned.taught(), projection)
    for oldest in list(bench.shown)[:-SHOWN]:
        bench.shown.pop(oldest, None)
    state = projection.state
    look = next_look(projection)
    advice = advise(projection, bench.said.get(pour.id, ""))
    bench.said[pour.id] = advice.standing
    clock = projection.now if minute is not None else bench.minute(pour)
    known = taught or bench.learned.taught()
    return m.PourView(
        id=pour.id,
        recipe_id=pour.recipe_id,
        version=pour.version,
        recipe=pour.recipe,
        sheet=sheet,
        technique=projection.course.technique,
        started=pour.started,
        minute=state.ended if state.ended is not None else clock,
        ended=state.ended,
        split=state.split,
        pouring=state.pouring,
        celsius=state.readings[-1][1] if state.readings else pour.recipe.pour_celsius,
        measured=bool(state.readings),
        events=[m.LoggedEvent(event=e, label=label(e)) for e in state.standing],
        doubts=[
            m.OpenDoubt(target=e.id, minute=e.minute, label=label(e), says=d.says, stands=d.stands)
            for e in state.standing
            if (d := state.doubts.get(e.id)) is not None
        ],
        forecast=projection.forecast,
        advice=advice,
        bench=bench_now(projection, advice, known.mishaps),
        look_at=look[1] if look else None,
        look_into=look[0] if look else None,
        photos=[m.PhotoView(**vars(p)) for p in bench.workshop.photos([pour.id])] if pictures else [],
        taught=known.verdicts.says(known.shelf, projection.course.technique.id) if state.ended is not None else "",
    )


def _before(
    bench: Bench, pour: PourRecord, before: Sequence[Event], at: float, minute: float | None, taught: Taught | None
) -> Projection:
    """The forecast before a tap: the one that was shown last, where that is of the same taps and fresh."""
    last = bench.shown.get(pour.id)
    known = taught or bench.learned.taught()
    same = last is not None and last[1] is known and list(last[0].events) == list(before)
    if last is not None and same and abs(last[2].now - at) <= FRESH:
        return last[2]
    rest = PourRecord(pour.id, pour.recipe_id, pour.version, pour.recipe, pour.started, tuple(before))
    return bench.projection(rest, minute, taught)[1]


def doubted(
    bench: Bench, pour: PourRecord, event: Event, minute: float | None = None, taught: Taught | None = None
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
    found = pour_rules.doubt(tap, before, pour.recipe, (taught or bench.learned.taught()).shelf)
    clock = bench.minute(pour) if minute is None else minute
    if found is None and tap.minute > clock + AHEAD:
        says = f"This tap is at {clock_text(tap.minute)}, but the pour's clock shows {clock_text(clock)}."
        found = pour_rules.Doubt("/minute", says, "counts")
    if found is None and isinstance(tap, StageSeen) and not tap.sure and not pour.ended:
        found = surprise(_before(bench, pour, before, tap.minute, minute, taught), tap)
    if found is None or (tap.sure and found.stands != "cannot"):
        return None
    return Doubted(
        id=uuid5(DOUBTS, str(event.id)), minute=tap.minute, target=tap.id, says=found.says, stands=found.stands
    )


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the pours' routes."""
    workshop = bench.workshop

    def pour_view(pour: PourRecord) -> m.PourView:
        return view_of(bench, pour)

    @api.get("/pours", responses={200: m.PourList})
    def get_pours(query: m.Page) -> Response:
        taught = bench.learned.taught()
        left_out = set(taught.left_out)
        find = bench.meaning(query.find)
        lines = [line_of(p, taught.shelf, left_out) for p in workshop.pours(find, query.first, query.most)]
        return answer(m.PourList(pours=lines, total=workshop.pour_count(find)))

    @api.post("/pours", responses={201: m.PourView})
    def post_pour(body: m.StartPour) -> Response:
        draft = workshop.recipe(body.recipe_id)
        faults = weigh(draft.recipe, workshop.shelf()).faults
        if faults:
            raise RuleBroken(*faults)
        pour_id = str(uuid4())
        if workshop.start_pour(pour_id, body.recipe_id, bench.now()) != pour_id:
            raise RuleBroken(Fault(pointer="/recipe_id", says="A pour of this recipe is running. End it first."))
        ready.forget(workshop, body.recipe_id)
        return answer(pour_view(workshop.pour(pour_id)), HTTPStatus.CREATED)

    @api.get("/pours/<pour_id>", responses={200: m.PourView})
    def get_pour(path: m.PourPath) -> Response:
        return answer(pour_view(workshop.pour(path.pour_id)))

    @api.post("/pours/<pour_id>/events", responses={200: m.PourView})
    def post_event(path: m.PourPath, body: m.Tap) -> Response:
        """Every tap is taken; what is odd about it is asked afterwards. Reckoned before anything is written."""
        pour, event = workshop.pour(path.pour_id), body.event
        told: list[Event] = [event]
        if all(e.id != event.id for e in pour.events):
            doubt = doubted(bench, pour, by_last_names(event, last_names(pour.events)))
            told += [doubt] if doubt is not None else []
        return answer(pour_view(workshop.append(path.pour_id, told, bench.now())))
