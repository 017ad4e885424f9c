"""After a pour: what its recipe could be next time, taken into it by one tap."""

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.forecast import offers, pulled
from . import messages as m
from .context import AppContext, answer


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the offers' routes."""
    workshop = context.workshop

    @api.get("/pours/<pour_id>/offers", responses={200: m.Offers})
    def get_offers(path: m.PourPath) -> Response:
        """Offers for the recipe as it stands now, by all that was learned. Slower than a forecast."""
        pour = workshop.pours.get(path.pour_id)
        draft = workshop.recipes.get(pour.recipe_id)
        told = context.planned(draft.recipe, pour.recipe_id)
        found = list(offers(told)) if told is not None and pour.ended else []
        fresh = context.learned.taught().fresh
        return answer(m.Offers(recipe_id=draft.id, revision=draft.revision, offers=found, fresh=fresh))

    @api.post("/pours/<pour_id>/offers", responses={200: m.TakenUp})
    def post_offer(path: m.PourPath, body: m.TakeOffer) -> Response:
        """Make the recipe so: the next version that is poured has it. What it was before comes back with the answer;
        tapped twice, or after another hand changed the recipe, it is refused."""
        draft = workshop.recipes.get(workshop.pours.get(path.pour_id).recipe_id)
        changed = pulled(draft.recipe, workshop.ingredients.shelf(), body.key)
        revision = workshop.recipes.save(draft.id, changed, body.revision, context.now())
        return answer(m.TakenUp(id=draft.id, revision=revision, before=draft.recipe))
