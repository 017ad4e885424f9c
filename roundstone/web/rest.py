"""After the pour: what is touched next, what gels, what it weighs, and the calendar of it all."""

from collections.abc import Iterable, Mapping
from datetime import datetime, timedelta

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.logbook import Taught, subjects
from ..core.pour import NextTime, Rest, label
from ..core.recipe import Recipe
from ..core.rest import (
    WAYS,
    Next,
    RestNow,
    a_day,
    as_one,
    count_back,
    days_before,
    early,
    outstanding,
    rest_now,
    rest_sections,
)
from ..core.schedule import as_poured
from ..core.sheet import Sheet, supply
from ..core.text import day, say
from ..core.values import Fault, RuleError
from ..exchange import calendar_file
from ..store import PourRecord
from . import messages as m
from .context import AppContext, Rests, answer, attach, local, today
from .telling import reader

LATELY = timedelta(days=150)  # in which a batch can still wait for something [chosen]
MOST_RESTING = 200  # batches that are looked at together
STANDS = 1.0  # minutes that a batch's line in a list may be old [chosen]
MOST_KEPT = 400  # batches whose rest is kept at hand
NEAR, MOST_NEAR = timedelta(days=7), 12  # days about a pour, and batches, that it may share a mould with [chosen]
IN_CALENDAR = 3  # next touches of one batch that are written into a calendar


def resting(
    context: AppContext, pour: PourRecord, taught: Taught, partners: Mapping[str, set[str]] | None = None
) -> tuple[Sheet, RestNow] | None:
    """A pour that ended, as it rests now; None while it is poured, or where its recipe can be weighed no more.

    `partners` are the batches in one mould, where they were asked for already.
    """
    if pour.state.ended is None:
        return None
    sheet = context.poured_sheet(pour, taught.shelf)
    if sheet is None:
        return None
    now = _alone(context, pour, sheet, taught)
    if now is None:
        return None
    others = []
    for other in (context.workshop.pours.partners() if partners is None else partners).get(pour.id, ()):
        there = context.workshop.pours.get(other)
        of = context.poured_sheet(there, taught.shelf)
        found = _alone(context, there, of, taught) if of is not None else None
        others += [found] if found is not None else []
    return sheet, as_one(now, others)


def glanced(context: AppContext, pour: PourRecord, taught: Taught, partners: Mapping[str, set[str]]) -> RestNow | None:
    """A batch at rest as a list tells it: what it waits for, reckoned a minute ago at most."""
    minute, known = context.minute(pour), context.rests.get(pour.id)
    same = known is not None and known.events is pour.events and known.taught is taught
    if known is not None and same and 0 <= minute - known.minute < STANDS:
        return known.now and known.now.model_copy(update={"hours": known.now.hours + (minute - known.minute) / 60})
    found = resting(context, pour, taught, partners)
    if len(context.rests) >= MOST_KEPT:
        context.rests.clear()
    context.rests[pour.id] = Rests(pour.events, taught, minute, found[1] if found is not None else None)
    return context.rests[pour.id].now


def _alone(context: AppContext, pour: PourRecord, sheet: Sheet, taught: Taught) -> RestNow | None:
    recipe, went = as_poured(pour.recipe, taught.shelf, sheet, pour.state)
    return rest_now(recipe, went, pour.state, context.minute(pour), taught.rest, taught.shelf.humidity)


def beside(context: AppContext, pours: Iterable[str]) -> list[m.InOneMould]:
    """Batches as they are named beside another one."""
    found = [context.workshop.pours.get(p) for p in pours]
    return [m.InOneMould(id=p.id, recipe=p.recipe.name, started=p.started) for p in found]


def ended_at(pour: PourRecord) -> datetime:
    return pour.started + timedelta(minutes=pour.state.ended or 0.0)


def dated(recipe: Recipe, recipe_id: str, sheet: Sheet, context: AppContext, taught: Taught) -> m.Dated | None:
    """The dates of a brief, counted back from the day the batch must be ready, for what is still to be poured for it;
    None where no day is named."""
    due = recipe.brief.due if recipe.brief else None
    if recipe.brief is None or due is None:
        return None
    ready = a_day(due)
    if ready is None or a_day(recipe.brief.sale or due) is None:
        return m.Dated(ready=due, message="There is no such day.", met="late", deadlines=[])
    now = today(context)
    poured = context.workshop.recipes.poured_for(recipe_id, due)
    bars, wanted = sum(b.count for b in sheet.bars), outstanding(recipe, sheet, 0)
    times = max(outstanding(recipe, sheet, poured), 1)
    short = supply(recipe, sheet, taught.shelf, context.stock.left(), now, times).order
    counted = count_back(recipe, sheet, taught.rest, float((ready - now).days), short, taught.shelf.humidity)
    more = f", {poured} poured" if poured else ""
    many = f"{bars} of {recipe.brief.bars} bars: pour it {wanted} times{more}." if wanted > 1 else ""
    return m.Dated(
        ready=due,
        sale=recipe.brief.sale,
        early=early(recipe.brief),
        message=counted.message,
        met=counted.met,
        bars=many,
        deadlines=[
            m.DeadlineDay(
                what=d.what,
                message=d.message,
                by=days_before(ready, d.by).isoformat(),
                latest=days_before(ready, d.latest).isoformat(),
                late=days_before(ready, d.by) < now,
            )
            for d in counted.deadlines
        ],
    )


def _at_rest(context: AppContext, pour_id: str) -> tuple[PourRecord, Sheet, RestNow, Taught]:
    pour, taught = context.workshop.pours.get(pour_id), context.learned.taught()
    found = resting(context, pour, taught)
    if found is None:
        message = "This pour has not ended: it rests once it is in the mould."
        if pour.state.ended is not None:
            message = "Its recipe can be weighed no more: something on the shelf was changed or taken out."
        raise RuleError(Fault(pointer="/id", message=message))
    return pour, *found, taught


def _near(context: AppContext, pour: PourRecord) -> list[m.InOneMould]:
    """Batches of the days about a pour that rest like it."""
    here = context.workshop.pours.page(phases=("rests",), most=MOST_RESTING, since=pour.started - NEAR)
    known = context.workshop.pours.partners().get(pour.id, set()) | {pour.id}
    rest = [p.id for p in here if p.id not in known and p.ended and p.started < pour.started + NEAR]
    return beside(context, rest[:MOST_NEAR])


def at_rest_lines(context: AppContext) -> list[tuple[PourRecord, RestNow]]:
    """Everything that rests or cures, the most pressing first."""
    return _lines(context, context.learned.taught())


def _lines(context: AppContext, taught: Taught) -> list[tuple[PourRecord, RestNow]]:
    since, partners = context.now() - LATELY, context.workshop.pours.partners()
    found = []
    for pour in context.workshop.pours.page(phases=("rests", "cures"), most=MOST_RESTING, since=since):
        rest = glanced(context, pour, taught, partners)
        if rest is not None and rest.next:
            found.append((pour, rest))
    return sorted(found, key=lambda x: ended_at(x[0]) + timedelta(hours=x[1].next[0].first))


def _touches(some: Iterable[tuple[PourRecord, RestNow]]) -> list[calendar_file.Touch]:
    out = []
    for pour, now in some:
        out += [_touch(pour, n) for n in now.next[:IN_CALENDAR]]
    return out


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of rest."""
    workshop = context.workshop

    @api.get("/pours/<pour_id>/rest", responses={200: m.RestView})
    def get_rest(path: m.PourPath) -> Response:
        pour, sheet, now, taught = _at_rest(context, path.pour_id)
        state, shelf = pour.state, taught.shelf
        return answer(
            m.RestView(
                id=pour.id,
                recipe_id=pour.recipe_id,
                recipe=pour.recipe.name,
                batch=workshop.numbers.of([pour.id]).get(pour.id, ""),
                technique=pour.recipe.design.technique,
                started=pour.started,
                ended_at=ended_at(pour),
                minute=context.minute(pour),
                ended=state.ended or 0.0,
                came=state.came,
                now=now,
                bars=sum(b.count for b in sheet.bars),
                harm=context.harm(pour, shelf),
                portions=[m.Tinted(name=p.name, tint=p.tint) for p in pour.recipe.design.portions],
                swatches=[e for e in state.standing if e.kind == "swatch"],
                events=[
                    m.LoggedEvent(event=e, label=label(e)) for e in state.standing if isinstance(e, Rest | NextTime)
                ],
                doubts=[
                    m.OpenDoubt(target=e.id, minute=e.minute, label=label(e), message=d.says, stands=d.stands)
                    for e in state.standing
                    if (d := state.doubts.get(e.id)) is not None and isinstance(e, Rest)
                ],
                photos=[m.PhotoView(**vars(p)) for p in workshop.pictures.of([pour.id])],
                subjects=[m.Named(id=i, name=n) for i, n in subjects(pour.recipe, shelf).items()],
                dated=dated(pour.recipe, pour.recipe_id, sheet, context, taught),
                together=beside(context, workshop.pours.partners().get(pour.id, ())),
                beside=_near(context, pour),
                fresh=taught.fresh,
            )
        )

    @api.get("/pours/<pour_id>/sections", responses={200: m.Sections})
    def get_sections(path: m.PourPath) -> Response:
        """What gels in each way to rest it; slower than the rest, and asked for by itself."""
        pour, sheet, _, taught = _at_rest(context, path.pour_id)
        return answer(m.Sections(sections=rest_sections(pour.recipe, sheet, pour.state, taught.rest, WAYS)))

    @api.get("/rest", responses={200: m.RestList})
    def get_rests() -> Response:
        """What every batch waits for."""
        taught = context.learned.taught()
        return answer(
            m.RestList(
                lines=[
                    m.RestLine(
                        id=p.id,
                        recipe=p.recipe.name,
                        face=context.face(p, taught.shelf),
                        ended_at=ended_at(p),
                        hours=now.hours,
                        cut=now.cut_at is not None,
                        next=now.next[0],
                        then=now.next[1] if len(now.next) > 1 else None,
                    )
                    for p, now in _lines(context, taught)
                ]
            )
        )

    @api.get("/rest.ics")
    def get_calendar() -> Response:
        return attach(
            calendar_file.write(
                _touches(_lines(context, context.learned.taught())), context.now(), reader(context.workshop)
            ),
            "text/calendar; charset=utf-8",
            "rest.ics",
        )

    @api.get("/pours/<pour_id>/rest.ics")
    def get_pour_calendar(path: m.PourPath) -> Response:
        pour, _, now, _ = _at_rest(context, path.pour_id)
        return attach(
            calendar_file.write(_touches([(pour, now)]), context.now(), reader(context.workshop)),
            "text/calendar; charset=utf-8",
            "rest.ics",
        )


def _touch(pour: PourRecord, n: Next) -> calendar_file.Touch:
    at = ended_at(pour)
    first = local(at + timedelta(hours=n.first))
    return calendar_file.Touch(
        pour=pour.id,
        what=n.what,
        title=say(n.message, ": ", pour.recipe.name),
        begins=local(at + timedelta(hours=n.sure)),
        ends=local(at + timedelta(hours=max(n.late, n.sure + 0.25))),
        open=not n.after,
        message=say("Possible from ", day(first.isoformat()), f", {first:%H:%M %Z}")
        + (f"; later it {n.after}" if n.after else ""),
    )
