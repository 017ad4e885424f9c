"""The ready check of a recipe: kept on the server, so that whoever weighs and whoever reads can be two devices."""

from datetime import datetime
from typing import Any

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.course import (
    Before,
    Meets,
    ReadyState,
    band_of,
    cues_of,
    plan,
    ready_parts,
    work_order,
)
from ..core.heat import Reading, VesselNow, meet, start
from ..core.heat import plan as heat_plan
from ..core.recipe import Recipe
from ..core.sheet import Sheet, supply
from ..core.shelf import Shelf
from ..core.values import Fault, RuleBroken
from ..store import Workshop
from . import messages as m
from .context import Bench, answer

STALE = 12 * 60.0  # minutes after which a ready check is another day's, and begun anew [chosen]
CAME = {"drawn": "as drawn", "different": "different, but it would sell", "lost": "lost"}


def kept_as(recipe_id: str) -> str:
    """The name under which a recipe's ready check is kept."""
    return f"ready {recipe_id}"


def forget(workshop: Workshop, recipe_id: str) -> None:
    """The pour has begun: the next ready check is a new one."""
    workshop.keep_setting(kept_as(recipe_id), {})


def state_of(doc: dict[str, Any] | None, now: datetime) -> tuple[datetime, ReadyState]:
    """When a ready check was begun, and how far it is; a new one where there is none of today."""
    if doc and "begun" in doc:
        begun = datetime.fromisoformat(doc["begun"])
        if (now - begun).total_seconds() / 60 < STALE:
            return begun, ReadyState.model_validate(doc["state"])
    return now, ReadyState()


def meets(recipe: Recipe, sheet: Sheet, shelf: Shelf, state: ReadyState, minute: float) -> Meets:
    """When the vessels can meet, asked of their curves once both are hot."""
    if state.melted is None or state.mixed is None:
        told = (("the fats are melted", state.melted), ("the lye is mixed", state.mixed))
        waits = [what for what, at in told if at is None]
        says = f"Tap when {' and when '.join(waits)}: then the time counts down."
        return Meets(opens=None, closes=None, jug=None, pot=None, combined=None, says=says)
    begun, band = start(recipe, shelf, sheet.lines), band_of(recipe, state)
    masses, after = (begun.jug_grams, begun.fats), state.mixed - state.melted
    found = meet(begun.jug, begun.pot, band, state.gap, masses, state.jug, state.pot, after, begun.melts)
    since = minute - state.melted

    def now_at(vessel: VesselNow) -> float | None:
        place = round(since / vessel.every)
        return vessel.middle[place] if 0 <= place < len(vessel.middle) else None

    return Meets(
        opens=state.melted + found.window.low if found.window else None,
        closes=state.melted + found.window.high if found.window else None,
        jug=now_at(found.jug),
        pot=now_at(found.pot),
        combined=found.combined,
        says=found.says,
    )


def before(bench: Bench, recipe_id: str, recipe: Recipe) -> list[Before]:
    """What happened last time with this recipe, its fragrances, its technique."""
    taught, out = bench.learned.taught(), []
    last = next(iter(bench.workshop.pours_of(recipe_id, 1)), None)
    if last is not None:
        flags = dict.fromkeys(f.flag.replace("-", " ") for f in last.state.flags)
        came = f", came out {CAME[last.state.came]}" if last.state.came else ""
        changed = f", changed to {last.state.technique.replace('-', ' ')}" if last.state.technique else ""
        wrong = f"; {', '.join(flags)}" if flags else ""
        says = f"poured {last.started.day} {last.started:%B %Y}{changed}{came}{wrong}."
        out.append(Before(of="This recipe", says=says))
    for fragrance in recipe.fragrances:
        count, known = taught.poured.get(fragrance, 0), taught.shelf.fragrances[fragrance]
        says = f"in {count} of your pours." if count else "never poured yet: believe the claim with care."
        out.append(Before(of=known.name, says=f"{says} {known.note}".strip()))
    technique = taught.verdicts.says(taught.shelf, recipe.design.technique)
    if technique:
        out.append(Before(of=taught.shelf.techniques[recipe.design.technique].name, says=technique))
    return out


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the ready check's routes."""
    workshop = bench.workshop

    def view(recipe_id: str) -> Response:
        recipe = workshop.recipe(recipe_id).recipe
        shelf = workshop.shelf()
        sheet, cautions = bench.sheet(recipe)
        begun, state = state_of(workshop.setting(kept_as(recipe_id)), bench.now())
        minute = (bench.now() - begun).total_seconds() / 60
        steps = work_order(recipe, shelf, sheet, heat_plan(recipe, shelf, sheet.lines), cautions)
        stock = supply(recipe, sheet, shelf, bench.lots_left(), bench.now().date())
        short = [c.says for c in stock.short]
        met = meets(recipe, sheet, shelf, state, minute)
        return answer(
            m.ReadyView(
                recipe_id=recipe_id,
                name=recipe.name,
                minute=minute,
                parts=ready_parts(recipe, steps, plan(recipe, shelf, sheet.total), short),
                state=state,
                band=band_of(recipe, state),
                meets=met,
                cues=cues_of(met),
                before=before(bench, recipe_id, recipe),
                noted=[n for _, n in workshop.said_last(recipe_id)],
                running=workshop.running().get(recipe_id),
            )
        )

    @api.get("/recipes/<recipe_id>/ready", responses={200: m.ReadyView})
    def get_ready(path: m.RecipePath) -> Response:
        return view(path.recipe_id)

    @api.post("/recipes/<recipe_id>/ready", responses={200: m.ReadyView})
    def post_ready(path: m.RecipePath, body: m.ReadyTap) -> Response:
        """One act at a time, so that two devices never write over each other."""
        workshop.recipe(path.recipe_id)

        def changed(doc: dict[str, Any] | None) -> dict[str, Any]:
            begun, state = state_of(doc, bench.now())
            minute = (bench.now() - begun).total_seconds() / 60
            return {"begun": begun.isoformat(), "state": acted(state, body.act, minute).model_dump(mode="json")}

        workshop.change_setting(kept_as(path.recipe_id), changed)
        return view(path.recipe_id)


def acted(state: ReadyState, act: m.ReadyAct, minute: float) -> ReadyState:
    """The ready check after an act at that minute of it."""
    match act:
        case m.Tick():
            ticked = [k for k in state.ticked if k != act.key]
            return state.model_copy(update={"ticked": (*ticked, act.key) if act.on else tuple(ticked)})
        case m.HotNow():
            return state.model_copy(update={act.what: minute if act.on else None})
        case m.ReadingTaken():
            since = state.mixed if act.vessel == "jug" else state.melted
            if since is None:
                what = "the lye is mixed" if act.vessel == "jug" else "the fats are melted"
                raise RuleBroken(Fault(pointer="/act/celsius", says=f"Tap first that {what}."))
            # Readings of the same minute correct each other.
            at = round(max(minute - since, 0.0), 1)
            rest = [r for r in getattr(state, act.vessel) if abs(r.minute - at) >= 1]
            return state.model_copy(update={act.vessel: (*rest, Reading(minute=at, celsius=act.celsius))[-6:]})
    if act.band is not None and not 10 <= act.band.low < act.band.high <= 75:
        raise RuleBroken(Fault(pointer="/act/band", says="The band runs from its lower to its upper end, 10 to 75 °C."))
    return state.model_copy(update={"band": act.band, "gap": act.gap})
