"""The API: each handler reads, asks core, and answers with core's own values."""

import re
import unicodedata
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from http import HTTPStatus
from uuid import uuid4
from zlib import crc32

from flask import Response
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from ..core import pour as pour_rules
from ..core.advice import advise
from ..core.forecast import Projection, project
from ..core.pour import Event, clock_text, replay
from ..core.reasons import explain
from ..core.recipe import Design, Portion, Recipe
from ..core.record import fragrance_file
from ..core.shelf import Fragrance
from ..core.values import Fault, RuleBroken
from ..core.weigh import Sheet, weigh
from ..store import PourRecord, Workshop
from ..store.learned import Learned
from . import messages as m
from .problems import Problem

AHEAD = 0.5  # minutes a tap may be ahead of the server's clock before it is refused


@dataclass(frozen=True)
class Bench:
    """What every handler works with."""

    workshop: Workshop
    learned: Learned
    now: Callable[[], datetime]

    def minute(self, pour: PourRecord) -> float:
        """The pour's clock now."""
        return max(0.0, (self.now() - pour.started).total_seconds() / 60)

    def running(self) -> dict[str, str]:
        """Pours not yet ended, by recipe."""
        return {p.recipe_id: p.id for p in self.workshop.pours() if not p.ended}

    def projection(self, pour: PourRecord) -> tuple[Sheet, Projection]:
        shelf = self.workshop.shelf()
        weighing = weigh(pour.recipe, shelf)
        if weighing.sheet is None:
            raise RuleBroken(*weighing.faults)
        record = self.learned.record()
        scent = pour.recipe.scent.fragrance if pour.recipe.scent else None
        projection = project(
            pour.recipe,
            weighing.sheet,
            shelf,
            record.knowledge,
            crc32(pour.id.encode()),
            events=pour.events,
            now=self.minute(pour),
            scent_pours=record.scent_pours(scent),
        )
        return weighing.sheet, projection


def answer(value: BaseModel, status: HTTPStatus = HTTPStatus.OK) -> Response:
    return Response(value.model_dump_json(), status=status, content_type="application/json")


def slug(name: str, taken: set[str]) -> str:
    """An id a person can read, not taken yet."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:50] or "fragrance"
    return next(i for n in range(1, 10_000) if (i := base if n == 1 else f"{base}-{n}") not in taken)


def event_label(event: Event) -> str:
    """An event in the words of the bench."""
    where = getattr(event, "portion", None)
    to = f"{where}: " if where else ""
    match event:
        case pour_rules.StageSeen():
            return f"{to}{event.stage}"
        case pour_rules.Worked():
            return f"{to}{'blended' if event.tool == 'stick' else 'stirred'} {event.seconds:.0f} s"
        case pour_rules.Split():
            return "split"
        case pour_rules.ScentIn():
            return f"{to}scent in"
        case pour_rules.TemperatureRead():
            return f"{event.celsius:g} °C"
        case pour_rules.TechniqueChanged():
            return f"changed to {event.technique.replace('-', ' ')}"
        case pour_rules.PouringBegan():
            return "pouring"
        case pour_rules.Ended():
            return "ended"
    return "undone"


def blank_recipe(name: str) -> Recipe:
    """A new recipe: no fats yet, two portions as most designs have."""
    portions = (Portion(name="Base", share=0.6, scented=True), Portion(name="Accent", share=0.4, scented=False))
    return Recipe(name=name or "New recipe", fats=(), design=Design(portions=portions, technique="drop-swirl"))


def blueprint(bench: Bench) -> APIBlueprint:
    api = APIBlueprint("api", __name__, url_prefix="/api", abp_responses={404: Problem, 409: Problem})
    workshop = bench.workshop

    def recipe_view(recipe_id: str) -> m.RecipeView:
        r = workshop.recipe(recipe_id)
        running = bench.running().get(r.id)
        return m.RecipeView(
            id=r.id, revision=r.revision, versions=r.versions, pours=r.pours, running=running, recipe=r.recipe
        )

    def pour_view(pour: PourRecord) -> m.PourView:
        sheet, projection = bench.projection(pour)
        shelf = workshop.shelf()
        state = projection.state
        scented = [p.name for p in pour.recipe.design.portions if state.scented_at(p.name) is not None]
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
            scented=scented,
            celsius=state.readings[-1][1] if state.readings else pour.recipe.pour_celsius,
            measured=bool(state.readings),
            events=[m.LoggedEvent(event=e, label=event_label(e)) for e in state.standing],
            forecast=projection.forecast,
            advice=advise(pour.recipe, shelf, projection),
        )

    @api.get("/shelf", responses={200: m.ShelfView})
    def get_shelf() -> Response:
        shelf = workshop.shelf()
        return answer(
            m.ShelfView(
                fats=list(shelf.fats.values()),
                liquids=list(shelf.liquids.values()),
                additives=list(shelf.additives.values()),
                techniques=list(shelf.techniques.values()),
                fragrances=list(shelf.fragrances.values()),
            )
        )

    @api.get("/recipes", responses={200: m.RecipeList})
    def get_recipes() -> Response:
        shelf, running = workshop.shelf(), bench.running()
        lines = []
        for r in workshop.recipes():
            scent = shelf.fragrances.get(r.recipe.scent.fragrance) if r.recipe.scent else None
            technique = shelf.techniques.get(r.recipe.design.technique)
            fats = sorted(r.recipe.fats, key=lambda f: -f.share)
            lines.append(
                m.RecipeLine(
                    id=r.id,
                    name=r.recipe.name,
                    fats=[shelf.fats[f.fat].name for f in fats if f.fat in shelf.fats],
                    scent=scent.name if scent else None,
                    technique=technique.name if technique else "",
                    changed=r.changed,
                    versions=r.versions,
                    pours=r.pours,
                    running=running.get(r.id),
                )
            )
        return answer(m.RecipeList(recipes=lines))

    @api.post("/recipes", responses={201: m.Saved})
    def post_recipe(body: m.NewRecipe) -> Response:
        if body.copy_of is None:
            recipe = blank_recipe(body.name)
        else:
            recipe = workshop.recipe(body.copy_of).recipe
            recipe = recipe.model_copy(update={"name": body.name or f"{recipe.name[:74]}, copy"})
        recipe_id = str(uuid4())
        workshop.add_recipe(recipe_id, recipe, bench.now())
        return answer(m.Saved(id=recipe_id, revision=1), HTTPStatus.CREATED)

    @api.get("/recipes/<recipe_id>", responses={200: m.RecipeView})
    def get_recipe(path: m.RecipePath) -> Response:
        return answer(recipe_view(path.recipe_id))

    @api.put("/recipes/<recipe_id>", responses={200: m.Saved})
    def put_recipe(path: m.RecipePath, body: m.Draft) -> Response:
        revision = workshop.save_draft(path.recipe_id, body.recipe, body.revision, bench.now())
        return answer(m.Saved(id=path.recipe_id, revision=revision))

    @api.delete("/recipes/<recipe_id>", responses={204: None})
    def delete_recipe(path: m.RecipePath) -> Response:
        workshop.recipe(path.recipe_id)
        if path.recipe_id in bench.running():
            raise RuleBroken(Fault(pointer="", says="A pour of this recipe is running. End it first."))
        workshop.remove_recipe(path.recipe_id, bench.now())
        return Response(status=HTTPStatus.NO_CONTENT)

    @api.post("/recipes/<recipe_id>/restore", responses={200: m.RecipeView})
    def restore_recipe(path: m.RecipePath) -> Response:
        workshop.remove_recipe(path.recipe_id, None)
        return answer(recipe_view(path.recipe_id))

    @api.post("/forecast", responses={200: m.Reckoning})
    def post_forecast(body: m.Ask) -> Response:
        shelf = workshop.shelf()
        weighing = weigh(body.recipe, shelf)
        if weighing.sheet is None:
            return answer(m.Reckoning(weighing=weighing, forecast=None, reasons=None))
        record = bench.learned.record()
        scent_pours = record.scent_pours(body.recipe.scent.fragrance if body.recipe.scent else None)
        seed = crc32(body.seed.encode())
        projection = project(
            body.recipe, weighing.sheet, shelf, record.knowledge, seed, scent_pours=scent_pours
        )
        reasons = explain(
            body.recipe, projection.course, record.knowledge, record.trade, shelf, record.usual, seed, scent_pours
        )
        return answer(m.Reckoning(weighing=weighing, forecast=projection.forecast, reasons=reasons))

    @api.get("/fragrances", responses={200: m.FragranceList})
    def get_fragrances() -> Response:
        record = bench.learned.record()
        files = [fragrance_file(record, f) for f in workshop.shelf().fragrances.values()]
        return answer(m.FragranceList(fragrances=files))

    @api.post("/fragrances", responses={201: m.FragranceList})
    def post_fragrance(body: m.NewFragrance) -> Response:
        taken = workshop.shelf().fragrances
        if body.name.casefold() in {f.name.casefold() for f in taken.values()}:
            raise RuleBroken(Fault(pointer="/name", says="There is a fragrance of this name already."))
        fragrance = Fragrance(id=slug(body.name, set(taken)), **body.model_dump())
        workshop.add_fragrance(fragrance)
        file = fragrance_file(bench.learned.record(), fragrance)
        return answer(m.FragranceList(fragrances=[file]), HTTPStatus.CREATED)

    @api.get("/fragrances/<fragrance_id>", responses={200: m.FragranceList})
    def get_fragrance(path: m.FragrancePath) -> Response:
        fragrance = workshop.fragrance(path.fragrance_id)
        return answer(m.FragranceList(fragrances=[fragrance_file(bench.learned.record(), fragrance)]))

    @api.put("/fragrances/<fragrance_id>", responses={200: m.FragranceList})
    def put_fragrance(path: m.FragrancePath, body: m.NewFragrance) -> Response:
        others = {f.name.casefold() for f in workshop.shelf().fragrances.values() if f.id != path.fragrance_id}
        if body.name.casefold() in others:
            raise RuleBroken(Fault(pointer="/name", says="Another fragrance has this name."))
        fragrance = Fragrance(id=path.fragrance_id, **body.model_dump())
        workshop.change_fragrance(fragrance)
        return answer(m.FragranceList(fragrances=[fragrance_file(bench.learned.record(), fragrance)]))

    @api.get("/pours", responses={200: m.PourList})
    def get_pours() -> Response:
        shelf = workshop.shelf()
        lines = []
        for p in workshop.pours():
            scent = shelf.fragrances.get(p.recipe.scent.fragrance) if p.recipe.scent else None
            state = replay(p.events)
            technique = shelf.techniques[state.technique or p.recipe.design.technique]
            lines.append(
                m.PourLine(
                    id=p.id,
                    recipe=p.recipe.name,
                    recipe_id=p.recipe_id,
                    version=p.version,
                    scent=scent.name if scent else None,
                    technique=technique.name,
                    started=p.started,
                    ended=state.ended,
                    events=len(state.standing),
                )
            )
        return answer(m.PourList(pours=lines))

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
            if event.minute > clock + AHEAD:
                says = f"This tap is at {clock_text(event.minute)}, but the pour's clock shows {clock_text(clock)}."
                raise RuleBroken(Fault(pointer="/event/minute", says=says))
            pour_rules.check(event, pour.events, pour.recipe, shelf)

        return answer(pour_view(workshop.append(path.pour_id, event, bench.now(), check)))

    return api
