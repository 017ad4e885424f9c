"""What the rules say of a recipe that is being typed: weights, forecast, comparison, cooling. Nothing is saved."""

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.advise import mishaps_of, stood_ready
from ..core.forecast import explain, hazards, levers, may_go_wrong, pulled, schools, scout, techniques
from ..core.heat import Meeting, apart, check_band, gravest, meet, plan, start
from ..core.recipe import ByWeight, Recipe, build_of, taken_apart, with_blend, with_pattern
from ..core.schedule import StepEdit, asks_of, near, rearranged, spelled
from ..core.sheet import (
    BarsWanted,
    FatGrams,
    PlaceEdit,
    SetColours,
    TakePortion,
    ToWeigh,
    adjust,
    compare,
    fitted,
    label,
    place,
    size_words,
    supply,
    to_weigh,
    weigh,
    with_bars,
    with_colours,
)
from ..core.text import Part, day, say
from ..core.values import Fault, RuleError
from . import messages as m
from .context import AppContext, answer, today
from .rest import dated


def _adjusted(context: AppContext, recipe: Recipe, act: m.AnyAct) -> Recipe:  # noqa: PLR0911 - one return a kind of act
    shelf = context.workshop.ingredients.shelf()
    if isinstance(act, m.UsePattern):
        there = context.workshop.patterns.all()
        if act.pattern not in there:
            raise RuleError(Fault(pointer="/act/pattern", message="There is no such pattern any more."))
        return with_pattern(recipe, there[act.pattern])
    if isinstance(act, m.PullLever):
        return pulled(recipe, shelf, act.key)
    if isinstance(act, m.UseBlend | m.BlendApart):
        blend = shelf.fragrances.get(act.fragrance)
        if blend is None or not blend.parts:
            raise RuleError(Fault(pointer="/act/fragrance", message="There is no such blend on the shelf."))
        return with_blend(recipe, blend) if isinstance(act, m.UseBlend) else taken_apart(recipe, blend)
    if isinstance(act, ToWeigh) or (isinstance(act, FatGrams) and not isinstance(recipe.size, ByWeight)):
        return to_weigh(recipe, act, shelf)
    if isinstance(act, BarsWanted):
        return with_bars(recipe, act)
    if isinstance(act, SetColours):
        return with_colours(recipe, act, shelf)
    if isinstance(act, PlaceEdit):
        return place(recipe, act, shelf)
    weighing = weigh(recipe, shelf)
    if isinstance(act, StepEdit):
        if weighing.sheet is None:
            raise RuleError(*weighing.faults)
        return rearranged(recipe, act, shelf, weighing.sheet.total)
    done = adjust(recipe, act, weighing.sheet)
    return fitted(done, shelf) if isinstance(act, TakePortion) else done


def _weighed(context: AppContext, recipe: Recipe) -> m.Weights:
    shelf = context.workshop.ingredients.shelf()
    weighing = weigh(recipe, shelf)
    sheet, days = weighing.sheet, build_of(recipe.design).many
    if sheet is None:
        return m.Weights(
            weighing=weighing, days=days, gravest=gravest(weighing.cautions, None), size=size_words(recipe, None)
        )
    heat = plan(recipe, shelf, sheet.lines)
    shelved = supply(recipe, sheet, shelf, context.stock.left(), today(context))
    return m.Weights(
        weighing=weighing,
        days=days,
        heat=heat,
        gravest=gravest((*weighing.cautions, *shelved.certificates, *shelved.short), heat),
        size=size_words(recipe, sheet),
        label=label(recipe, shelf, sheet.lines),
        supply=shelved,
        ledger=context.ledger(recipe, sheet, shelf),
    )


def _referred(context: AppContext, ref: m.Reference, side: str) -> tuple[Part, Recipe]:
    if ref.recipe is not None:
        return f"{ref.recipe.name}, as typed", ref.recipe
    recipe = context.workshop.recipes.get(ref.recipe_id).recipe
    if ref.version is None:
        return f"{recipe.name}, as it stands", recipe
    for number, made, version in context.workshop.recipes.versions(ref.recipe_id):
        if number == ref.version:
            return say(version.name, ", version ", number, " of ", day(made.isoformat())), version
    raise RuleError(Fault(pointer=f"/{side}/version", message="There is no such version."))


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes that only reckon."""
    workshop = context.workshop

    @api.post("/adjust", responses={200: m.Adjusted})
    def post_adjust(body: m.Adjust) -> Response:
        recipe = _adjusted(context, body.recipe, body.act)
        return answer(m.Adjusted(recipe=recipe, weighed=_weighed(context, recipe)))

    @api.post("/weigh", responses={200: m.Weights})
    def post_weigh(body: m.Weigh) -> Response:
        """What stands on the scale. Asked for first and by itself, so that no figure waits for a forecast."""
        return answer(_weighed(context, body.recipe))

    @api.post("/forecast", responses={200: m.RecipeForecast})
    def post_forecast(body: m.Ask) -> Response:
        recipe, told = body.recipe, context.planned(body.recipe, body.seed)
        if told is None:
            return answer(m.RecipeForecast(faults=weigh(recipe, workshop.ingredients.shelf()).faults))
        job = told.job
        steps = spelled(recipe, job.shelf, job.grams)
        return answer(
            m.RecipeForecast(
                forecast=told.forecast,
                reasons=explain(job, told.knows, told.schedule, told.seed),
                schools=schools(told),
                steps=steps,
                asks=tuple(map(asks_of, steps)),
                dated=dated(recipe, body.seed, job.sheet, context, context.learned.taught()),
            )
        )

    @api.post("/reasons", responses={200: m.ReasonsOf})
    def post_reasons(body: m.AskOf) -> Response:
        """Why one portion comes to medium when it does."""
        told = context.planned(body.recipe, body.seed)
        if told is None:
            return answer(m.ReasonsOf())
        return answer(
            m.ReasonsOf(reasons=explain(told.job, told.knows, told.schedule, told.seed, portion=body.portion))
        )

    @api.post("/prospects", responses={200: m.Prospects})
    def post_prospects(body: m.Ask) -> Response:
        told = context.planned(body.recipe, body.seed)
        if told is None:
            return answer(m.Prospects())
        found = hazards(told.job, told.knows, told.schedule, told.draws, told.samples)
        return answer(m.Prospects(hazards=found, scouting=scout(told)))

    @api.post("/plan", responses={200: m.PlanView})
    def post_plan(body: m.Ask) -> Response:
        """What the plan of a recipe could be: other techniques, levers, fall-backs. Slower than the forecast."""
        told = context.planned(body.recipe, body.seed)
        if told is None:
            return answer(m.PlanView())
        possible = techniques(told.context, told.at, told.job)
        found = hazards(told.job, told.knows, told.schedule, told.draws, told.samples)
        wrong = mishaps_of(may_go_wrong(found))
        return answer(m.PlanView(levers=levers(told), techniques=possible, fall_backs=stood_ready(told), mishaps=wrong))

    @api.post("/compare", responses={200: m.Compared})
    def post_compare(body: m.Compare) -> Response:
        taught = context.learned.taught()
        names, weighed, forecasts = [], [], []
        for side in ("left", "right"):
            name, recipe = _referred(context, getattr(body, side), side)
            weighing = weigh(recipe, taught.shelf)
            if weighing.sheet is None:
                message = say(name, " cannot be weighed: ", weighing.faults[0].message)
                raise RuleError(Fault(pointer=f"/{side}", message=message))
            names.append(name)
            weighed.append((recipe, weighing.sheet))
            forecasts.append(context.forecast(recipe, weighing.sheet, getattr(body, side).recipe_id))
        return answer(
            m.Compared(
                left=names[0],
                right=names[1],
                comparison=compare(weighed[0], weighed[1], taught.shelf),
                left_forecast=forecasts[0],
                right_forecast=forecasts[1],
            )
        )

    @api.post("/cooling", responses={200: Meeting})
    def post_cooling(body: m.Cooling) -> Response:
        check_band(body.band)
        sheet, _ = context.sheet(body.recipe)
        begun = start(body.recipe, workshop.ingredients.shelf(), sheet.lines)
        cool = apart(body.recipe, begun)
        return answer(
            meet(
                begun.jug,
                begun.pot,
                body.band,
                body.gap,
                (begun.jug_grams, begun.fats),
                body.jug,
                body.pot,
                body.lye_after,
                begun.melts,
                None if cool is None else near(cool.jug),
            )
        )
