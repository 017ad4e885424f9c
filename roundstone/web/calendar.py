"""The calendar of batches: planned, poured, at rest, ready, by the day."""

from collections.abc import Iterator
from datetime import date, timedelta

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.recipe import MOST_PLANNED, Brief
from ..core.rest import Entry, Held, a_day, days_at_bench, days_of, held_by, of_build, of_plan, waiting
from ..core.text import day, say
from ..core.values import Fault, Minutes, NotFoundError, RuleError
from . import messages as m
from .context import AppContext, answer, local, today, while_unchanged
from .planned import ToCome, to_come, to_come_stamp
from .rest import at_rest_lines, ended_at

USUAL_MINUTES = 45.0  # of a pour that was never poured before, beside what the workshop says of its work [chosen]
MOST_POURED = 400  # batches of the days that are shown
HOLDS = timedelta(days=14)  # a batch that was not unmoulded for longer holds no mould any more [chosen]


def _planned(context: AppContext, x: ToCome, minutes: Minutes) -> tuple[list[tuple[date, Entry]], list[Held]]:
    """What the planned pours of a recipe bring with them, and the moulds they hold; each takes so many minutes."""
    taught, record = context.learned.taught(), x.record
    entries: list[tuple[date, Entry]] = []
    held = []
    for at in x.pours.days:
        found, mould = of_plan(record.recipe, record.id, x.takes, taught.rest, at, minutes)
        entries += found
        held.append(mould)
    return entries, held


def _promised(context: AppContext) -> Iterator[tuple[date, Entry]]:
    """The days that briefs name, also once what they want is poured."""
    for record, _ in context.workshop.recipes.planned(today(context).isoformat()):
        brief = record.recipe.brief or Brief()
        for what, iso, words in (("ready", brief.ready, "To be ready"), ("sale", brief.sale, "On sale")):
            if iso and (on := a_day(iso)) is not None:
                told = f"{words}, for {brief.whom}" if brief.whom else words
                yield on, Entry(what=what, recipe=record.recipe.name, message=told, recipe_id=record.id, firm=True)


def _poured(context: AppContext, first: date, last: date) -> tuple[list[tuple[date, Entry]], list[Held]]:
    """What was poured, and what rests and waits for hands."""
    workshop, this_day = context.workshop, today(context)
    entries: list[tuple[date, Entry]] = []
    since = context.now() - timedelta(days=(this_day - first).days + 1)
    for p in workshop.pours.page(most=MOST_POURED, since=since):
        on = local(p.started).date()
        if on <= last:
            entries.append((on, Entry(what="poured", recipe=p.recipe.name, message="Poured", pour=p.id, firm=True)))
            entries += [] if p.ended else of_build(p.recipe, p.id, on, this_day)
    held = []
    for pour, now in at_rest_lines(context):
        at = ended_at(pour)
        for n in [n for n in now.next if n.what != "weigh"][:2]:  # of every day, and no appointment
            on = max(local(at + timedelta(hours=n.sure)).date(), this_day)
            cured = n.what == "judge-cured"
            touch = Entry(what="cured" if cured else "touch", recipe=pour.recipe.name, message=n.message, pour=pour.id)
            entries.append((on, touch))
        free = next((n for n in now.next if n.what in ("unmould", "cut")), None)
        if now.cut_at is None and free is not None and context.now() - at < HOLDS:
            until = max(local(at + timedelta(hours=free.sure)).date(), this_day) + timedelta(days=1)
            held.append(held_by(pour.recipe, local(pour.started).date(), until, False))
    return entries, held


def _calendar(context: AppContext, first: date, many: int) -> m.Calendar:
    last = first + timedelta(days=many - 1)
    entries, held = _poured(context, first, last)
    entries += _promised(context)
    undated: list[m.Undated] = []
    planned = to_come(context)
    took, beside = (
        context.workshop.recipes.last_minutes([x.record.id for x in planned]),
        context.workshop.settings.selling().minutes_beside,
    )
    for x in planned:
        # Between the first and the last tap of a build of several days lie its nights.
        days = len(days_at_bench(x.record.recipe))
        each = took.get(x.record.id, USUAL_MINUTES) if days == 1 else days * USUAL_MINUTES
        found, moulds = _planned(context, x, each + beside)
        entries += found
        held += moulds
        name, due = x.record.recipe.name, x.record.recipe.brief.due if x.record.recipe.brief else None
        undated += [
            m.Undated(
                recipe_id=x.record.id,
                recipe=name,
                nth=nth,
                was=on.isoformat(),
                message=say("planned for ", day(on.isoformat(), short=True), ", not poured"),
            )
            for nth, on in x.pours.missed
        ]
        if x.pours.undated:
            times = f"{x.pours.undated} pours" if x.pours.undated > 1 else "1 pour"
            by = say(", to be ready ", day(due, short=True)) if due else ""
            undated.append(m.Undated(recipe_id=x.record.id, recipe=name, message=say(times, by)))
    return m.Calendar(
        today=today(context).isoformat(),
        days=list(days_of(first, many, entries, held)),
        undated=undated,
    )


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of the calendar."""
    workshop = context.workshop

    @api.get("/calendar", responses={200: m.Calendar})
    def get_calendar_days(query: m.CalendarDays) -> Response:
        """So many days from one on, and what is to be poured on no day yet."""
        return while_unchanged(context, to_come_stamp(context), lambda: _calendar(context, query.first, query.many))

    @api.put("/recipes/<recipe_id>/days", responses={200: m.Saved})
    def put_day(path: m.RecipePath, body: m.PlanDay) -> Response:
        """Plan a recipe's pour for a day, move one that is planned, or take it off the calendar."""
        record = workshop.recipes.get(path.recipe_id)
        brief = record.recipe.brief or Brief()
        poured = workshop.recipes.poured_days([path.recipe_id]).get(path.recipe_id, ())
        days = {i: on.isoformat() for i, on in waiting(record.recipe, poured, lambda at: local(at).date())}
        if body.nth is not None and days.get(body.nth) != body.was:
            raise NotFoundError("This pour is not planned there any more.")
        if body.nth is None and body.day is None:
            raise RuleError(Fault(pointer="/day", message="Say on which day."))
        if body.day is None:
            del days[body.nth or 0]
        else:
            days[len(brief.days) if body.nth is None else body.nth] = body.day.isoformat()
        if len(days) > MOST_PLANNED:
            raise RuleError(Fault(pointer="/day", message=f"At most {MOST_PLANNED} pours of a recipe are planned."))
        planned = {"days": tuple(days.values()), "planned": context.now().isoformat()}
        recipe = record.recipe.model_copy(update={"brief": brief.model_copy(update=planned)})
        revision = workshop.recipes.save(path.recipe_id, recipe, record.revision, context.now())
        return answer(m.Saved(id=path.recipe_id, revision=revision))
