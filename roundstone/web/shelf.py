"""The shelf: what may go into a recipe, and each fragrance's file."""

from http import HTTPStatus

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.logbook import fragrance_file
from ..core.shelf import Fragrance
from ..core.values import Fault, RuleBroken
from ..reference import shelf as reference_shelf
from . import messages as m
from .context import Bench, answer, slug


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the shelf's routes."""
    workshop = bench.workshop

    @api.get("/shelf", responses={200: m.ShelfView})
    def get_shelf() -> Response:
        shelf, standard = workshop.shelf(), reference_shelf()
        shown = {x.id for x in workshop.own()} | {*standard.fats, *standard.liquids, *standard.additives}
        return answer(
            m.ShelfView(
                fats=list(shelf.fats.values()),
                hidden=[i for i in (*shelf.fats, *shelf.liquids, *shelf.additives) if i not in shown],
                liquids=list(shelf.liquids.values()),
                additives=list(shelf.additives.values()),
                techniques=list(shelf.techniques.values()),
                fragrances=list(shelf.fragrances.values()),
            )
        )

    @api.get("/fragrances", responses={200: m.FragranceList})
    def get_fragrances() -> Response:
        record = bench.learned.record()
        files = [fragrance_file(record, f) for f in workshop.shelf().fragrances.values()]
        return answer(m.FragranceList(fragrances=files))

    @api.post("/fragrances", responses={201: m.FragranceList})
    def post_fragrance(body: m.NewFragrance) -> Response:
        taken = workshop.shelf().fragrances
        if body.name.casefold() in {f.name.casefold() for f in taken.values()}:
            raise RuleBroken(Fault(pointer="/name", says="There is a fragrance of this name already."))
        fragrance = Fragrance(id=slug(body.name, set(taken)), **body.model_dump())
        workshop.add_fragrance(fragrance)
        file = fragrance_file(bench.learned.record(), fragrance)
        return answer(m.FragranceList(fragrances=[file]), HTTPStatus.CREATED)

    @api.get("/fragrances/<fragrance_id>", responses={200: m.FragranceList})
    def get_fragrance(path: m.FragrancePath) -> Response:
        fragrance = workshop.fragrance(path.fragrance_id)
        file = fragrance_file(bench.learned.record(), fragrance)
        photos = workshop.photos({p.pour for p in file.pours})
        return answer(m.FragranceList(fragrances=[file], photos=[m.PhotoView(**vars(p)) for p in photos]))

    @api.put("/fragrances/<fragrance_id>", responses={200: m.FragranceList})
    def put_fragrance(path: m.FragrancePath, body: m.NewFragrance) -> Response:
        others = {f.name.casefold() for f in workshop.shelf().fragrances.values() if f.id != path.fragrance_id}
        if body.name.casefold() in others:
            raise RuleBroken(Fault(pointer="/name", says="Another fragrance has this name."))
        fragrance = Fragrance(id=path.fragrance_id, **body.model_dump())
        workshop.change_fragrance(fragrance)
        return answer(m.FragranceList(fragrances=[fragrance_file(bench.learned.record(), fragrance)]))
