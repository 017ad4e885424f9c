"""One place to find anything by its name: recipes, batches, fragrances, ingredients, notes."""

from collections.abc import Iterable, Iterator
from itertools import islice

from flask import Response
from flask_openapi3 import APIBlueprint

from .. import reference
from ..core.shelf import Additive, Fat, Liquid, Shelf
from ..core.text import day
from ..store import RecipeRecord
from . import messages as m
from .context import AppContext, answer

EACH = 6  # found of each kind that are shown [chosen]


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the route that finds."""
    workshop = context.workshop

    def recipes(words: str) -> Iterator[m.Found]:
        for r in workshop.recipes.page(context.meaning(words), 0, EACH):
            if isinstance(r, RecipeRecord):
                yield m.Found(kind="recipe", id=r.id, name=r.recipe.name, hint=f"{r.pours} poured" if r.pours else "")

    def batches(words: str) -> Iterator[m.Found]:
        for p in workshop.pours.page(context.meaning(words), 0, EACH):
            kind = "rest" if p.ended else "pour"
            yield m.Found(kind=kind, id=p.id, name=p.recipe.name, hint=day(p.started.isoformat(), short=True))

    def notes(words: list[str]) -> Iterator[m.Found]:
        for n in workshop.pours.notes()[0]:
            if all(w in n.message.casefold() for w in words):
                yield m.Found(kind="note", id=n.pour, name=n.message, hint=n.recipe)

    @api.get("/find", responses={200: m.Finds})
    def get_find(query: m.FindWords) -> Response:
        words = query.words.casefold().split()
        if not words:
            return answer(m.Finds(found=[]))
        shelf = workshop.ingredients.shelf()
        found = [*recipes(query.words), *_named(fragrances(shelf), words), *_named(ingredients(shelf), words)]
        meant = islice(explained(words), EACH)
        return answer(m.Finds(found=[*found, *meant, *islice(notes(words), EACH), *batches(query.words)]))


def fragrances(shelf: Shelf) -> Iterator[m.Found]:
    for f in shelf.fragrances.values():
        yield m.Found(kind="fragrance", id=f.id, name=f.name, hint="a blend" if f.parts else str(f.family))


def ingredients(shelf: Shelf) -> Iterator[m.Found]:
    all_of: tuple[Fat | Liquid | Additive, ...] = (
        *shelf.fats.values(),
        *shelf.liquids.values(),
        *shelf.additives.values(),
    )
    for x in all_of:
        yield m.Found(kind="ingredient", id=x.id, name=x.name, hint=str(x.kind))


def explained(said: list[str]) -> Iterator[m.Found]:
    """Words of the trade, by themselves or by another word for them."""
    for w in reference.words():
        if any(all(s in name.casefold() for s in said) for name in (w.word, *w.also)):
            yield m.Found(kind="word", id=w.id, name=w.word, hint="")


def _named(all_of: Iterable[m.Found], words: list[str]) -> list[m.Found]:
    """Those with every word in their name, what begins with the first of them before the rest."""
    found = [x for x in all_of if all(w in str(x.name).casefold() for w in words)]
    return sorted(found, key=lambda x: (not str(x.name).casefold().startswith(words[0]), str(x.name).casefold()))[:EACH]
