"""A year's batches on record: on paper, and as a table."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import timedelta

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.logbook import CAME, NOTED, PaperSection, Recorded, batch_short
from ..core.pour import PourState, Signed, TemperatureRead, label
from ..core.sheet import Bottle, Sheet, bottles
from ..core.text import joined, say
from ..core.values import Fault, RuleError
from ..exchange import papers, tables
from ..store import PourRecord
from . import messages as m
from .context import AppContext, attach, local
from .costs import bars_of, of_year
from .papers import clock_of, moment_words
from .telling import reader

WHO = "What must be on record, and for how long, differs by country: ask who is responsible where you sell."
COLUMNS = (
    "batch", "recipe", "version", "begun", "ended", "technique", "bars", "came_out", "marked_for_good", "fats_grams",
    "hydroxide_grams", "potassium_hydroxide_grams", "superfat_percent", "superfat_likely_low_percent",
    "superfat_likely_high_percent", "lye_purity_percent", "temperatures_celsius", "noted", "lots", "signed", "id",
)  # fmt: skip


@dataclass(frozen=True)
class Kept:
    """A batch as it is on record."""

    pour: PourRecord
    sheet: Sheet
    number: str
    bottles: dict[str, tuple[Bottle, ...]]
    harm: str


def _kept(context: AppContext, year: int) -> Iterator[Kept]:
    """A year's batches, the earliest first; of those whose recipe can be weighed no more nothing can be told."""
    workshop, shelf = context.workshop, context.learned.taught().shelf
    pours = of_year(context, year)
    numbers = workshop.numbers.of([p.id for p in pours])
    took = context.stock.allocation()
    for pour in pours:
        sheet = context.poured_sheet(pour, shelf)
        if sheet is not None:
            harm = str(context.harm(pour, shelf))
            yield Kept(pour, sheet, numbers.get(pour.id, ""), bottles(took, pour.id), harm)


def _lots(kept: Kept) -> str:
    names = {x.item: x.name for x in kept.sheet.lines if x.item}
    found = ((names[i], ", ".join(b.label for b in of if b.label)) for i, of in kept.bottles.items() if i in names)
    return "; ".join(f"{name}: {lots}" for name, lots in found if lots)


def _signed(state: PourState) -> str:
    return ", ".join(e.by for e in state.standing if isinstance(e, Signed))


def _row(context: AppContext, kept: Kept) -> tuple[tables.Cell, ...]:
    pour, sheet, state = kept.pour, kept.sheet, kept.pour.state
    technique = context.workshop.ingredients.shelf().techniques.get(state.technique or pour.recipe.design.technique)
    likely = sheet.superfat.likely
    return (
        kept.number,
        pour.recipe.name,
        pour.version,
        local(pour.started),
        local(pour.started + timedelta(minutes=state.ended or 0.0)),
        technique.name if technique else "",
        bars_of(context, pour),
        CAME.get(state.came or "", ""),
        kept.harm,
        sheet.fats,
        sheet.naoh,
        sheet.koh,
        100 * sheet.superfat.set,
        100 * likely.low,
        100 * likely.high,
        100 * pour.recipe.naoh_purity,
        ", ".join(f"{e.celsius:g}" for e in state.standing if isinstance(e, TemperatureRead)),
        str(joined("; ", (label(e) for e in state.standing if isinstance(e, NOTED)))),
        _lots(kept),
        _signed(state),
        pour.id,
    )


def records_table(context: AppContext, year: int) -> tables.Table:
    """A year's batches, a row each."""
    return tables.Table(f"batches {year}", COLUMNS, [_row(context, k) for k in _kept(context, year)])


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of a year's records."""
    workshop = context.workshop

    @api.get("/records.csv")
    def get_records_table(query: m.YearOf) -> Response:
        body = tables.as_csv(records_table(context, query.year))
        return attach(body, "text/csv; charset=utf-8", f"batches-{query.year}.csv")

    @api.get("/records.pdf")
    def get_records(query: m.YearPaper) -> Response:
        """Every batch of a year in few lines, one after another."""
        shelf = context.learned.taught().shelf
        sections = [
            batch_short(
                Recorded(
                    k.pour.recipe,
                    k.pour.version,
                    k.sheet,
                    shelf,
                    k.pour.state,
                    moment_words(k.pour.started),
                    clock_of(k.pour),
                    k.bottles,
                    k.harm,
                    k.number,
                )
            )
            for k in _kept(context, query.year)
        ]
        if not sections:
            raise RuleError(Fault(pointer="/year", message=f"No batch was poured to its end in {query.year}."))
        signature = PaperSection(title="Signed", rows=(("day, name", "_" * 40),), message=WHO)
        name = say("Batches of ", query.year)
        body = papers.write_long(name, (*sections, signature), query.paper, reader(workshop))
        return attach(body, "application/pdf", f"batches-{query.year}.pdf")
