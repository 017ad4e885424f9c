"""Pours that are still to come of a recipe: on planned days, and for the bars its brief wants."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

from ..recipe import Recipe
from ..sheet import Sheet, times_to_pour
from .brief import Typical, order_ahead, order_by
from .days import a_day, days_before, still_planned


@dataclass(frozen=True)
class Coming:
    """Of a recipe's planned days, by their place in its brief: those to come, and those `missed` that went by without a
    pour. `times` it is poured in all, `undated` of them on no day; `by` is the day by which what it lacks is ordered.
    """

    days: Sequence[tuple[int, date]]
    missed: Sequence[tuple[int, date]]
    times: int
    undated: int
    by: date | None


def waiting(recipe: Recipe, poured: Sequence[datetime], day: Callable[[datetime], date]) -> list[tuple[int, date]]:
    """Planned days, by their place, that no pour since they were planned came near; `day` is that of a moment."""
    brief = recipe.brief
    if brief is None or not brief.days:
        return []
    try:
        since = datetime.fromisoformat(brief.planned) if brief.planned else None
    except ValueError:  # a file may say anything
        since = None
    if since is not None and since.tzinfo is None:
        since = since.replace(tzinfo=UTC)
    return still_planned(brief.days, [day(p) for p in poured if since is None or p >= since])


def outstanding(recipe: Recipe, sheet: Sheet, poured: int) -> int:
    """How often a recipe is still to be poured for the bars its brief wants, when it was `poured` so often for them."""
    return max(times_to_pour(recipe, sheet) - poured, 0)


def coming(
    recipe: Recipe, sheet: Sheet, takes: Typical, planned: Sequence[tuple[int, date]], poured: int, today: date
) -> Coming:
    """What is still to be poured of a recipe that was `poured` so often for the day its brief names. A planned day that
    went by is asked about; until it is settled it is one of the pours that are wanted."""
    brief = recipe.brief
    ready = a_day(brief.due) if brief is not None and brief.due else None
    days, missed = [d for d in planned if d[1] >= today], [d for d in planned if d[1] < today]
    wanted = outstanding(recipe, sheet, poured) if ready is not None and ready >= today else 0
    ends = []
    if brief is not None and days:
        ends.append(min(d for _, d in days) - timedelta(days=order_ahead(brief)))
    if brief is not None and ready is not None and wanted > len(days):
        ends.append(days_before(ready, order_by(recipe, takes.cured[1])))
    return Coming(
        days=days,
        missed=missed,
        times=max(wanted, len(days)),
        undated=max(wanted - len(days) - len(missed), 0),
        by=min(ends, default=None),
    )
