"""Pours: started from a draft, then nothing but events."""

from http import HTTPStatus
from uuid import uuid4

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core import pour as pour_rules
from ..core.advice import advise
from ..core.forecast import question_surprise
from ..core.pour import clock_text, label, replay
from ..core.scout import next_look
from ..core.shelf import Shelf
from ..core.values import Fault, RuleBroken
from ..core.weigh import weigh
from ..store import PourRecord
from . import messages as m
from .bench import Bench, answer

AHEAD = 0.5  # minutes a tap may be ahead of the server's clock before it is refused


def line_of(pour: PourRecord, shelf: Shelf, left_out: set[str]) -> m.PourLine:
    """A pour in a list."""
    state = replay(pour.events)
    return m.PourLine(
        id=pour.id,
        recipe=pour.recipe.name,
        recipe_id=pour.recipe_id,
        version=pour.version,
        scent=shelf.blend_name(pour.recipe.fragrances) or None,
        technique=shelf.techniques[state.technique or pour.recipe.design.technique].name,
        started=pour.started,
        ended=state.ended,
        events=len(state.standing),
        left_out=pour.id in left_out,
    )


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the pours' routes."""
    workshop = bench.workshop

    def pour_view(pour: PourRecord) -> m.PourView:
        sheet, projection = bench.projection(pour)
        shelf = workshop.shelf()
        state = projection.state
        look = next_look(projection)
        waiting = [p.name for p in pour.recipe.design.portions if p.scented and state.waits_for_scent(p.name)]
        return m.PourView(
            id=pour.id,
            recipe_id=pour.recipe_id,
            version=pour.version,
            recipe=pour.recipe,
            sheet=sheet,
            technique=projection.course.technique,
            started=pour.started,
            minute=state.ended if state.ended is not None else bench.minute(pour),
            ended=state.ended,
            split=state.split,
            pouring=state.pouring,
            waiting=waiting if pour.recipe.scents else [],
            celsius=state.readings[-1][1] if state.readings else pour.recipe.pour_celsius,
            measured=bool(state.readings),
            events=[m.LoggedEvent(event=e, label=label(e)) for e in state.standing],
            forecast=projection.forecast,
            advice=advise(pour.recipe, shelf, projection),
            look_at=look[1] if look else None,
            look_into=look[0] if look else None,
            photos=[m.PhotoView(**vars(p)) for p in workshop.photos([pour.id])],
        )

    @api.get("/pours", responses={200: m.PourList})
    def get_pours() -> Response:
        shelf = workshop.shelf()
        left_out = set(bench.learned.record().left_out)
        return answer(m.PourList(pours=[line_of(p, shelf, left_out) for p in workshop.pours()]))

    @api.post("/pours", responses={201: m.PourView})
    def post_pour(body: m.StartPour) -> Response:
        draft = workshop.recipe(body.recipe_id)
        faults = weigh(draft.recipe, workshop.shelf()).faults
        if faults:
            raise RuleBroken(*faults)
        running = bench.running().get(body.recipe_id)
        if running is not None:
            raise RuleBroken(Fault(pointer="/recipe_id", says="A pour of this recipe is running. End it first."))
        pour_id = str(uuid4())
        workshop.start_pour(pour_id, body.recipe_id, bench.now())
        return answer(pour_view(workshop.pour(pour_id)), HTTPStatus.CREATED)

    @api.get("/pours/<pour_id>", responses={200: m.PourView})
    def get_pour(path: m.PourPath) -> Response:
        return answer(pour_view(workshop.pour(path.pour_id)))

    @api.post("/pours/<pour_id>/events", responses={200: m.PourView})
    def post_event(path: m.PourPath, body: m.Tap) -> Response:
        event, shelf = body.event, workshop.shelf()

        def check(pour: PourRecord) -> None:
            clock = bench.minute(pour)
            try:
                if event.minute > clock + AHEAD:
                    says = f"This tap is at {clock_text(event.minute)}, but the pour's clock shows {clock_text(clock)}."
                    raise RuleBroken(Fault(pointer="/minute", says=says))
                pour_rules.check(event, pour.events, pour.recipe, shelf)
                if not event.sure and not pour.ended:
                    question_surprise(bench.projection(pour)[1], event)
            except RuleBroken as broken:
                # Core speaks of the event; what was sent holds it.
                faults = (f.model_copy(update={"pointer": f"/event{f.pointer}"}) for f in broken.faults)
                raise RuleBroken(*faults, sure=broken.sure) from broken

        return answer(pour_view(workshop.append(path.pour_id, event, bench.now(), check)))
