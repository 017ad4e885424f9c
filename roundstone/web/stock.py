"""Lots on the shelf: what is left, and the shelf's file in and out."""

from http import HTTPStatus
from uuid import uuid4

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.sheet import LotEdit, item_names, recount
from ..core.values import Fault, RuleBroken
from ..exchange import shelf_file
from . import messages as m
from .context import Bench, answer, attach, slug


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the stock's routes."""
    workshop = bench.workshop

    def stock_view() -> m.Stock:
        names = item_names(workshop.shelf())
        items = [m.ItemName(item=i, name=n) for i, n in sorted(names.items(), key=lambda x: x[1].casefold())]
        return m.Stock(lots=list(bench.lots_left()), items=items)

    @api.get("/stock", responses={200: m.Stock})
    def get_stock() -> Response:
        return answer(stock_view())

    @api.put("/stock/<lot_id>", responses={200: m.Stock})
    def put_lot(path: m.LotPath, body: LotEdit) -> Response:
        if body.item not in item_names(workshop.shelf()):
            raise RuleBroken(Fault(pointer="/item", says="This is not on the shelf."))
        lot_id = str(path.lot_id)
        workshop.save_lot(lot_id, recount(workshop.lots().get(lot_id), body, bench.now()), body.revision)
        return answer(stock_view())

    @api.delete("/stock/<lot_id>", responses={204: None})
    def delete_lot(path: m.LotPath) -> Response:
        workshop.remove_lot(str(path.lot_id), bench.now())
        return Response(status=HTTPStatus.NO_CONTENT)

    @api.post("/stock/<lot_id>/restore", responses={200: m.Stock})
    def restore_lot(path: m.LotPath) -> Response:
        workshop.remove_lot(str(path.lot_id), None)
        return answer(stock_view())

    @api.get("/shelf.csv")
    def export_shelf() -> Response:
        text = shelf_file.write(workshop.shelf(), bench.lots_left(), bench.now())
        return attach(text, "text/csv; charset=utf-8", "shelf.csv")

    @api.post("/shelf/import", responses={201: m.Imported})
    def import_shelf(body: m.ShelfFile) -> Response:
        shelf = workshop.shelf()
        lots, fragrances = shelf_file.read(body.text, shelf, slug, bench.now())
        there = workshop.lots()
        new = {i or str(uuid4()): lot for i, lot in lots if i or lot not in there.values()}
        workshop.take_in(fragrances, new)
        return answer(m.Imported(lots=len(new), fragrances=len(fragrances)), HTTPStatus.CREATED)
