"""The shelf: what may go into a recipe, and each fragrance's file."""

from http import HTTPStatus

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.certificate import consistency, own_fat
from ..core.record import fragrance_file
from ..core.shelf import Fragrance
from ..core.values import Fault, RuleBroken
from ..reference import shelf as reference_shelf
from . import messages as m
from .bench import Bench, answer, slug


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the shelf's routes."""
    workshop = bench.workshop

    @api.get("/shelf", responses={200: m.ShelfView})
    def get_shelf() -> Response:
        shelf, standard = workshop.shelf(), reference_shelf().fats
        own = {f.id for f in workshop.own_fats()}
        return answer(
            m.ShelfView(
                fats=list(shelf.fats.values()),
                hidden_fats=[f for f in shelf.fats if f not in standard and f not in own],
                liquids=list(shelf.liquids.values()),
                additives=list(shelf.additives.values()),
                techniques=list(shelf.techniques.values()),
                fragrances=list(shelf.fragrances.values()),
            )
        )

    @api.get("/own-fats", responses={200: m.OwnFats})
    def get_own_fats() -> Response:
        return answer(m.OwnFats(fats=[m.OwnFat(fat=f, cautions=consistency(f)) for f in workshop.own_fats()]))

    @api.post("/own-fats", responses={201: m.OwnFat})
    def post_own_fat(body: m.NewFat) -> Response:
        fats = workshop.shelf().fats
        kin = fats.get(body.kin)
        if kin is None:
            raise RuleBroken(Fault(pointer="/kin", says="This fat is not on the shelf."))
        if body.name.casefold() in {f.name.casefold() for f in fats.values()}:
            raise RuleBroken(Fault(pointer="/name", says="There is a fat of this name already."))
        fat = own_fat(slug(body.name, set(fats)), body.name, kin, body.sv)
        workshop.add_own_fat(fat)
        return answer(m.OwnFat(fat=fat, cautions=consistency(fat)), HTTPStatus.CREATED)

    @api.delete("/own-fats/<fat_id>", responses={204: None})
    def delete_own_fat(path: m.FatPath) -> Response:
        workshop.hide_own_fat(path.fat_id, bench.now())
        return Response(status=HTTPStatus.NO_CONTENT)

    @api.post("/own-fats/<fat_id>/restore", responses={204: None})
    def restore_own_fat(path: m.FatPath) -> Response:
        workshop.hide_own_fat(path.fat_id, None)
        return Response(status=HTTPStatus.NO_CONTENT)

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
        return answer(m.FragranceList(fragrances=[fragrance_file(bench.learned.record(), fragrance)]))

    @api.put("/fragrances/<fragrance_id>", responses={200: m.FragranceList})
    def put_fragrance(path: m.FragrancePath, body: m.NewFragrance) -> Response:
        others = {f.name.casefold() for f in workshop.shelf().fragrances.values() if f.id != path.fragrance_id}
        if body.name.casefold() in others:
            raise RuleBroken(Fault(pointer="/name", says="Another fragrance has this name."))
        fragrance = Fragrance(id=path.fragrance_id, **body.model_dump())
        workshop.change_fragrance(fragrance)
        return answer(m.FragranceList(fragrances=[fragrance_file(bench.learned.record(), fragrance)]))
