"""The shelf: what may go into a recipe, and each fragrance's file."""

from http import HTTPStatus

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.logbook import fragrance_file
from ..core.recipe import blend_of
from ..core.shelf import Fragrance, NewFragrance, after_a_part, blended, in_a_bottle
from ..core.values import ConflictError, Fault, RuleError
from ..reference import also, moulds
from ..reference import shelf as reference_shelf
from . import messages as m
from .context import AppContext, answer, new_id


def _told(context: AppContext, new: NewFragrance, custom_id: str | None = None) -> Fragrance:
    """The fragrance as it is kept: its name must be free, and a blend is as its parts."""
    shelf = context.workshop.ingredients.shelf()
    if new.name.casefold() in {f.name.casefold() for f in shelf.fragrances.values() if f.id != custom_id}:
        message = "Another fragrance has this name." if custom_id else "There is a fragrance of this name already."
        raise RuleError(Fault(pointer="/name", message=message))
    kept = blended(new, shelf, custom_id).model_dump()
    return Fragrance(id=custom_id or new_id(new.name, set(shelf.fragrances)), **kept)


def _files(context: AppContext, fragrance: Fragrance) -> m.FragranceList:
    return m.FragranceList(fragrances=[fragrance_file(context.learned.taught(), fragrance)])


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the shelf's routes."""
    workshop = context.workshop

    @api.get("/shelf", responses={200: m.ShelfView})
    def get_shelf() -> Response:
        shelf, standard = workshop.ingredients.shelf(), reference_shelf()
        shown = {x.id for x in workshop.ingredients.custom()} | {*standard.fats, *standard.liquids, *standard.additives}
        return answer(
            m.ShelfView(
                fats=list(shelf.fats.values()),
                hidden=[i for i in (*shelf.fats, *shelf.liquids, *shelf.additives) if i not in shown],
                liquids=list(shelf.liquids.values()),
                additives=list(shelf.additives.values()),
                techniques=list(shelf.techniques.values()),
                fragrances=list(shelf.fragrances.values()),
                moulds=moulds(workshop.settings.units().length == "in"),
                also=also(),
            )
        )

    @api.get("/fragrances", responses={200: m.FragranceList})
    def get_fragrances() -> Response:
        taught = context.learned.taught()
        files = [fragrance_file(taught, f) for f in workshop.ingredients.shelf().fragrances.values()]
        return answer(m.FragranceList(fragrances=files, fresh=taught.fresh))

    @api.post("/fragrances", responses={201: m.FragranceList})
    def post_fragrance(body: NewFragrance) -> Response:
        fragrance = _told(context, body)
        workshop.ingredients.add_fragrance(fragrance)
        return answer(_files(context, fragrance), HTTPStatus.CREATED)

    @api.post("/blends", responses={201: m.FragranceList})
    def post_blend(body: m.NewBlend) -> Response:
        fragrance = _told(context, blend_of(body.name, body.scents))
        workshop.ingredients.add_fragrance(fragrance)
        return answer(_files(context, fragrance), HTTPStatus.CREATED)

    @api.post("/fragrances/<fragrance_id>/bottle", responses={201: m.FragranceList})
    def post_bottle(path: m.FragrancePath, body: m.BottleName) -> Response:
        """A blend mixed ahead, as a fragrance of its own."""
        blend = workshop.ingredients.fragrance(path.fragrance_id)
        if not blend.parts or blend.bottled:
            raise ConflictError(f"{blend.name} is no blend that could be bottled.")
        fragrance = _told(context, in_a_bottle(blend, body.name))
        workshop.ingredients.add_fragrance(fragrance)
        return answer(_files(context, fragrance), HTTPStatus.CREATED)

    @api.get("/fragrances/<fragrance_id>", responses={200: m.FragranceList})
    def get_fragrance(path: m.FragrancePath) -> Response:
        fragrance = workshop.ingredients.fragrance(path.fragrance_id)
        taught = context.learned.taught()
        file = fragrance_file(taught, fragrance)
        photos = [m.PhotoView(**vars(p)) for p in workshop.pictures.of({p.pour for p in file.pours})]
        return answer(m.FragranceList(fragrances=[file], photos=photos, fresh=taught.fresh))

    @api.put("/fragrances/<fragrance_id>", responses={200: m.FragranceList})
    def put_fragrance(path: m.FragrancePath, body: NewFragrance) -> Response:
        workshop.ingredients.fragrance(path.fragrance_id)
        fragrance = _told(context, body, path.fragrance_id)
        shelf = workshop.ingredients.shelf()
        changed = dict(shelf.fragrances) | {fragrance.id: fragrance}
        for blend in after_a_part(fragrance, changed):
            facts = blended(blend, shelf.model_copy(update={"fragrances": changed}), blend.id)
            changed[blend.id] = Fragrance(**(facts.model_dump() | {"id": blend.id}))
        workshop.ingredients.change_fragrances(
            [f for i, f in changed.items() if f != shelf.fragrances[i] or i == fragrance.id]
        )
        return answer(_files(context, fragrance))
