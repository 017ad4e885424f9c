"""Lots on the shelf: what is left, and the shelf's file in and out."""

from collections import Counter
from http import HTTPStatus
from uuid import NAMESPACE_OID, uuid5

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.logbook import fragrances_left, order_paper, stand_ins
from ..core.sheet import (
    Lot,
    LotEdit,
    Planned,
    as_made,
    check_lot,
    item_names,
    recount,
    taken_from,
    to_order,
)
from ..core.shelf import Fragrance
from ..core.text import day, say
from ..core.values import Fault, NotFoundError, RuleError
from ..exchange import papers, shelf_file
from . import messages as m
from .context import AppContext, answer, attach, local, new_id, while_unchanged
from .costs import planned_bars
from .made import stock_view
from .planned import to_come, to_come_stamp
from .telling import reader


def _batches_of(context: AppContext, lot: str) -> m.LotBatches:
    """Batches with something of a lot in them, the latest first."""
    workshop = context.workshop
    allocation = context.stock.allocation()
    if lot not in allocation.lots:
        raise NotFoundError("There is no such lot.")
    took = taken_from(allocation, lot)
    poured = {i: row for i, row, _ in workshop.pours.poured() if i in took}
    counted = workshop.pours.bars_counted(took)
    bars = {i: counted.get(i) or planned_bars(context, row) for i, row in poured.items()}
    latest = list(poured)[::-1][: m.MOST_BATCHES]
    numbers = workshop.numbers.of(latest)
    rows = [
        m.LotBatch(
            pour=pour.id,
            recipe=pour.recipe.name,
            batch=numbers.get(pour.id, ""),
            started=pour.started,
            bars=bars[pour.id],
            grams=took[pour.id],
        )
        for pour in workshop.pours.page(of=latest)
    ]
    return m.LotBatches(
        batches=rows,
        all_batches=len(bars),
        bars=sum(bars.values()),
        uncounted=sum(not n for n in bars.values()),
    )


def orders_of(context: AppContext) -> m.Orders:
    """What planned batches lack, the soonest first."""
    taught = context.learned.taught()
    planned = [
        Planned(x.record.recipe.name, x.pours.by.isoformat() if x.pours.by else "", x.sheet, x.pours.times)
        for x in to_come(context)
        if x.pours.times
    ]
    there: dict[str, float] = {}
    for lot in context.stock.left():
        there[lot.lot.item] = there.get(lot.lot.item, 0.0) + max(lot.left, 0.0)
    rest = fragrances_left(taught.shelf, there)
    lines = []
    for line in to_order(planned, context.stock.left(), taught.shelf, list(context.stock.allocation().lots.values())):
        kind, _, what = line.item.partition(":")
        instead = stand_ins(taught, what, rest) if kind == "fragrance" and line.counted else ()
        lines.append(m.ToOrder(**line.model_dump(), instead=instead))
    return m.Orders(planned=sum(p.times for p in planned), lines=lines)


def read_shelf(context: AppContext, text: str, sure: bool) -> tuple[dict[str, Lot], list[Fragrance]]:
    """Lots by id, and fragrances that are new, of a shelf's file; RuleError names every fault by its line."""
    workshop = context.workshop
    counted = {x.id: x.left for x in context.stock.left()}
    lots, fragrances = shelf_file.read(text, workshop.ingredients.shelf(), new_id, context.now(), counted, sure)
    there, ever = workshop.lots.all(), context.stock.allocation().lots
    new: dict[str, Lot] = {}
    alike: Counter[str] = Counter()
    for lot_id, lot in lots:
        if lot_id:
            new[lot_id] = as_made(lot, there.get(lot_id))
        elif lot not in there.values():
            # A row without an id is known by what stands in it, so that a file read twice doubles nothing.
            content = lot.model_dump_json(exclude={"counted"} if lot.counted == context.now() else None)
            alike[content] += 1
            made = str(uuid5(NAMESPACE_OID, f"{content} {alike[content]}"))
            if made not in ever:
                new[made] = lot
    return new, fragrances


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the stock's routes."""
    workshop = context.workshop

    @api.get("/stock", responses={200: m.Stock})
    def get_stock() -> Response:
        return answer(stock_view(context))

    @api.get("/stock/order", responses={200: m.Orders})
    def get_orders() -> Response:
        """What planned batches lack: of briefs that name a day to come, each as often as its bars want less what was
        poured for it."""
        return while_unchanged(context, to_come_stamp(context), lambda: orders_of(context))

    @api.get("/stock/order.csv")
    def get_order_file() -> Response:
        """The same as a list to send: what is missing, tracked or not."""
        return attach(shelf_file.write_orders(orders_of(context).lines), "text/csv; charset=utf-8", "order.csv")

    @api.get("/stock/order.pdf")
    def get_order_paper(query: m.Paper) -> Response:
        """The same on paper, a part for each supplier."""
        orders = orders_of(context)
        name = say("To order, ", day(local(context.now()).isoformat()))
        body = papers.write(
            name, order_paper(orders.lines, workshop.settings.units().money), query.paper, reader(workshop)
        )
        return attach(body, "application/pdf", "order.pdf")

    @api.put("/stock/<lot_id>", responses={200: m.Stock})
    def put_lot(path: m.LotPath, body: LotEdit) -> Response:
        if body.item not in item_names(workshop.ingredients.shelf()):
            raise RuleError(Fault(pointer="/item", message="This is not on the shelf."))
        blend = workshop.ingredients.shelf().fragrances.get(body.item.removeprefix("fragrance:"))
        if blend is not None and blend.parts and not blend.bottled:
            message = "This blend is weighed from its parts: put a bottle of it on the shelf first."
            raise RuleError(Fault(pointer="/item", message=message))
        check_lot(body, workshop.ingredients.shelf())
        lot_id = str(path.lot_id)
        workshop.lots.save(lot_id, recount(workshop.lots.all().get(lot_id), body, context.now()), body.revision)
        return answer(stock_view(context))

    @api.get("/stock/<lot_id>/batches", responses={200: m.LotBatches})
    def get_batches(path: m.LotPath) -> Response:
        """Which batches have something of this lot in them, the latest first."""
        return while_unchanged(context, workshop.stamps.spent(), lambda: _batches_of(context, str(path.lot_id)))

    @api.delete("/stock/<lot_id>", responses={204: None})
    def delete_lot(path: m.LotPath) -> Response:
        workshop.lots.remove(str(path.lot_id), context.now())
        return Response(status=HTTPStatus.NO_CONTENT)

    @api.post("/stock/<lot_id>/restore", responses={200: m.Stock})
    def restore_lot(path: m.LotPath) -> Response:
        workshop.lots.remove(str(path.lot_id), None)
        return answer(stock_view(context))

    @api.get("/shelf.csv")
    def export_shelf() -> Response:
        text = shelf_file.write(workshop.ingredients.shelf(), context.stock.left(), context.now())
        return attach(text, "text/csv; charset=utf-8", "shelf.csv")

    @api.post("/shelf/import", responses={201: m.Imported})
    def import_shelf(body: m.ShelfFile) -> Response:
        lots, fragrances = read_shelf(context, body.text, body.sure)
        workshop.lots.take_in(fragrances, lots)
        return answer(m.Imported(lots=len(lots), fragrances=len(fragrances)), HTTPStatus.CREATED)
