"""What is made here: infusions, premixes and bottled blends, as lots that took from the lots of what is in them."""

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.sheet import MakeLot, item_names, made_lot
from . import messages as m
from .context import AppContext, answer


def stock_view(context: AppContext) -> m.Stock:
    """Every lot with what is left of it, what a lot can be of, and what of that can be made here."""
    shelf = context.workshop.ingredients.shelf()
    names = item_names(shelf)
    made = {f"fragrance:{i}" for i, f in shelf.fragrances.items() if f.bottled}
    made |= {f"fat:{i}" for i, x in shelf.fats.items() if x.made}
    made |= {f"liquid:{i}" for i, x in shelf.liquids.items() if x.made}
    made |= {f"additive:{i}" for i, x in shelf.additives.items() if x.made}
    items = [
        m.ItemName(item=i, name=n, made=i in made) for i, n in sorted(names.items(), key=lambda x: x[1].casefold())
    ]
    beside = {
        lot: [m.DocumentView(id=d.id, name=d.name) for d in of]
        for lot, of in context.workshop.documents.by_lot().items()
    }
    took = context.stock.allocation()
    gone = [
        m.LotAway(id=i, lot=took.lots[i], removed=at)
        for i, at in sorted(took.away.items(), key=lambda x: x[1], reverse=True)
    ]
    return m.Stock(lots=list(context.stock.left()), items=items, documents=beside, away=gone)


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of making."""
    workshop = context.workshop

    @api.put("/stock/<lot_id>/made", responses={200: m.Stock})
    def put_made(path: m.LotPath, body: MakeLot) -> Response:
        """Something made here becomes a lot; the same one only once."""
        if str(path.lot_id) not in workshop.lots.revisions():
            workshop.lots.save(
                str(path.lot_id),
                made_lot(body, workshop.ingredients.shelf(), context.stock.left(), context.now()),
                None,
            )
        return answer(stock_view(context))

    @api.delete("/stock/<lot_id>/made", responses={200: m.Stock})
    def delete_made(path: m.LotPath) -> Response:
        """It was not made after all: the lot goes, and what it took stands there again."""
        workshop.lots.unmake(str(path.lot_id), context.now())
        return answer(stock_view(context))
