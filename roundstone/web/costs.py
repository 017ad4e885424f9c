"""What batches cost, by the year."""

from datetime import UTC, datetime, timedelta

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.logbook import BatchCost, batch_cost, by_month, differed
from ..core.pour import bars_counted
from ..core.sheet import item_names
from ..exchange import tables
from ..store import PourRecord
from . import messages as m
from .context import AppContext, attach, local, while_unchanged


def bars_of(context: AppContext, pour: PourRecord) -> int:
    """Bars of a batch: as counted last, else as its moulds give; 0 where nobody knows."""
    return bars_counted(pour.events) or (planned_bars(context, pour.row) if pour.row is not None else 0)


def planned_bars(context: AppContext, version: int) -> int:
    """Bars that the moulds of a poured version give; 0 where it has none."""
    sheet = context.workshop.recipes.sheet(version)
    return sum(b.count for b in sheet.bars) if sheet is not None else 0


def of_year(context: AppContext, year: int) -> list[PourRecord]:
    """Pours of a year that ended, the earliest first."""
    since = datetime(year, 1, 1, tzinfo=UTC) - timedelta(days=1)  # wherever the reader is
    pours = context.workshop.pours.page(finished=True, since=since)
    return [p for p in reversed(pours) if local(p.started).year == year]


def costs_of(context: AppContext, year: int) -> list[BatchCost]:
    """What each batch of a year cost, the earliest first."""
    workshop, rates = context.workshop, context.workshop.settings.selling()
    pours = of_year(context, year)
    took = context.stock.allocation()
    names, numbers = item_names(workshop.ingredients.shelf()), workshop.numbers.of([p.id for p in pours])
    return [
        batch_cost(
            (p.id, p.recipe_id, p.recipe.name, numbers.get(p.id, ""), local(p.started).date().isoformat()),
            bars_of(context, p),
            context.stock.need(p.row) if p.row is not None else {},
            [(t.item, t.grams, took.lots[t.lot].price_per_kg) for t in took.by_pour.get(p.id, ())],
            p.state.ended or 0.0,
            rates,
            names,
        )
        for p in pours
    ]


def _costs(context: AppContext, year: int) -> m.Costs:
    found, names = costs_of(context, year), item_names(context.workshop.ingredients.shelf())
    return m.Costs(
        year=year,
        months=by_month(found),
        batches=list(reversed(found))[: m.MOST_COSTS],
        all_batches=len(found),
        differed=differed(found, names, context.workshop.settings.units().money)[: m.MOST_DIFFERED],
        unpriced=tuple(dict.fromkeys(n for b in found for n in b.unpriced)),
    )


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of costs."""

    @api.get("/costs", responses={200: m.Costs})
    def get_costs(query: m.YearOf) -> Response:
        """A year's batches by month, and what differed in a recipe's last two."""
        return while_unchanged(context, context.workshop.stamps.spent(), lambda: _costs(context, query.year))

    @api.get("/costs.csv")
    def get_cost_file(query: m.YearOf) -> Response:
        body = tables.as_csv(tables.costs_table(costs_of(context, query.year)))
        return attach(body, "text/csv; charset=utf-8", f"costs-{query.year}.csv")
