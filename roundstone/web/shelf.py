"""The shelf: what may go into a recipe, and each fragrance's file."""

from http import HTTPStatus

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.own import Ingredient, consistency, make
from ..core.record import fragrance_file
from ..core.shelf import Additive, Fat, Fragrance, Liquid
from ..core.values import Fault, RuleBroken
from ..reference import shelf as reference_shelf
from . import messages as m
from .bench import Bench, answer, slug


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

    def own_view(x: Ingredient) -> m.OwnIngredient:
        match x:
            case Fat():
                return m.OwnIngredient(fat=x, cautions=consistency(x))
            case Liquid():
                return m.OwnIngredient(liquid=x)
            case Additive():
                return m.OwnIngredient(additive=x)

    def made(body: m.NewOwn, ingredient_id: str | None) -> Ingredient:
        """The ingredient from what was typed; its name must be free."""
        shelf, new = workshop.shelf(), body.ingredient
        all_of: dict[str, Ingredient] = {**shelf.fats, **shelf.liquids, **shelf.additives}
        others = {x.name.casefold() for i, x in all_of.items() if i != ingredient_id}
        try:
            if new.name.casefold() in others:
                raise RuleBroken(Fault(pointer="/name", says="There is something of this name on the shelf already."))
            return make(new, ingredient_id or slug(new.name, set(all_of)), shelf.fats)
        except RuleBroken as broken:
            # Core speaks of the ingredient; what was sent holds it.
            faults = (f.model_copy(update={"pointer": f"/ingredient{f.pointer}"}) for f in broken.faults)
            raise RuleBroken(*faults) from broken

    @api.get("/own", responses={200: m.OwnIngredients})
    def get_own() -> Response:
        return answer(m.OwnIngredients(own=[own_view(x) for x in workshop.own()]))

    @api.post("/own", responses={201: m.OwnIngredient})
    def post_own(body: m.NewOwn) -> Response:
        ingredient = made(body, None)
        workshop.add_own(ingredient)
        return answer(own_view(ingredient), HTTPStatus.CREATED)

    @api.put("/own/<ingredient_id>", responses={200: m.OwnIngredient})
    def put_own(path: m.IngredientPath, body: m.NewOwn) -> Response:
        ingredient = made(body, path.ingredient_id)
        workshop.change_own(ingredient)
        return answer(own_view(ingredient))

    @api.delete("/own/<ingredient_id>", responses={204: None})
    def delete_own(path: m.IngredientPath) -> Response:
        workshop.hide_own(path.ingredient_id, bench.now())
        return Response(status=HTTPStatus.NO_CONTENT)

    @api.post("/own/<ingredient_id>/restore", responses={204: None})
    def restore_own(path: m.IngredientPath) -> Response:
        workshop.hide_own(path.ingredient_id, None)
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
