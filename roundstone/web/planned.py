"""Batches to come: of which recipe, how often, and on which days."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

from ..core.recipe import Brief
from ..core.rest import still_planned
from ..core.sheet import Sheet, times_to_pour, weigh
from ..store.records import RecipeRecord
from .context import AppContext, local
from .rest import dated

ORDER_AHEAD = timedelta(days=7)  # before a planned pour at which what it lacks must be ordered [chosen]


@dataclass(frozen=True)
class ToCome:
    """A draft that is to be poured: on `days` still to come by their place in its brief, `missed` ones that went by
    without a pour, and `undated` times besides. `by` is the ISO day by which what it lacks must be ordered."""

    record: RecipeRecord
    sheet: Sheet
    days: Sequence[tuple[int, date]]
    missed: Sequence[tuple[int, date]]
    undated: int
    by: str

    @property
    def times(self) -> int:
        return len(self.days) + self.undated


def waiting_of(brief: Brief, poured: Iterable[datetime]) -> list[tuple[int, date]]:
    """Planned days, by their place, that no pour since they were planned came near."""
    try:
        since = datetime.fromisoformat(brief.planned) if brief.planned else None
    except ValueError:  # a file may say anything
        since = None
    if since is not None and since.tzinfo is None:
        since = since.replace(tzinfo=UTC)
    return still_planned(brief.days, [local(p).date() for p in poured if since is None or p >= since])


def to_come(context: AppContext) -> list[ToCome]:
    """Everything that is planned and can be weighed, those with a day to be ready on first."""
    workshop, taught, today = context.workshop, context.learned.taught(), local(context.now()).date()
    planned = workshop.planned(today.isoformat())
    poured = workshop.poured_days([r.id for r, _ in planned])
    out = []
    for record, for_day in planned:
        recipe = record.recipe
        sheet = weigh(recipe, taught.shelf).sheet
        if sheet is None or recipe.brief is None:
            continue
        waiting = waiting_of(recipe.brief, poured.get(record.id, ()))
        days = [w for w in waiting if w[1] >= today]
        wanted = times_to_pour(recipe, sheet) - for_day if (recipe.brief.ready or "") >= today.isoformat() else 0
        undated = max(wanted - len(days), 0)
        if not (waiting or undated):
            continue
        due = dated(recipe, record.id, sheet, context, taught) if undated else None
        ends = [(min(d for _, d in days) - ORDER_AHEAD).isoformat()] if days else []
        ends += [due.deadlines[0].by] if due is not None and due.deadlines else []
        missed = [w for w in waiting if w[1] < today]
        out.append(ToCome(record, sheet, days, missed, undated, min(ends, default="")))
    return out
