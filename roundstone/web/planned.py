"""Batches to come: of which recipe, how often, and on which days."""

from dataclasses import dataclass

from ..core.rest import Coming, Typical, coming, typical, waiting
from ..core.sheet import Sheet, weigh
from ..store.records import RecipeRecord
from .context import AppContext, Course, local, today


@dataclass(frozen=True)
class ToCome:
    """A draft that is to be poured, weighed, with how it sets and cures."""

    record: RecipeRecord
    sheet: Sheet
    takes: Typical
    pours: Coming


def to_come_stamp(context: AppContext) -> tuple[object, ...]:
    """Changes with everything that batches to come rest on: what was written and learned, and the minute."""
    minute = int(context.now().timestamp() // 60)
    return (*context.workshop.stamps.year(), minute, id(context.learned.taught()))


def _course(context: AppContext, record: RecipeRecord) -> Course | None:
    """A draft weighed, with how it sets and cures; kept until the draft or what was learned changes."""
    taught = context.learned.taught()
    known = context.courses.get(record.id)
    if known is None or known.recipe is not record.recipe or known.taught is not taught:
        sheet = weigh(record.recipe, taught.shelf).sheet
        if sheet is None:
            return None
        takes = typical(record.recipe, sheet, taught.rest, taught.shelf.humidity)
        known = context.courses[record.id] = Course(record.recipe, taught, sheet, takes)
    return known


def to_come(context: AppContext) -> list[ToCome]:
    """Everything that is planned and can be weighed, those with a day to be ready on first."""
    workshop, on = context.workshop, today(context)
    planned = workshop.recipes.planned(on.isoformat())
    poured = workshop.recipes.poured_days([r.id for r, _ in planned])
    out = []
    for record, for_day in planned:
        course = _course(context, record)
        if course is not None:
            days = waiting(record.recipe, poured.get(record.id, ()), lambda at: local(at).date())
            found = coming(record.recipe, course.sheet, course.takes, days, for_day, on)
            if found.times or found.missed:
                out.append(ToCome(record, course.sheet, course.takes, found))
    return out
