"""Fragrance in a bar against what the certificates allow: each bar against its own weight, a blend by its parts."""

from collections.abc import Iterable

from ..recipe import Recipe
from ..shelf import Fragrance, Shelf
from ..values import Grams
from .sheet import LimitUse, PortionWeight

CURED = 0.89  # of the wet weight is left after cure: common practice, loss 8-15 %


def limit_use(scents: Iterable[tuple[Grams, Fragrance]], bar: Grams, shelf: Shelf) -> float:
    """How many times its limits a wet bar of so many grams holds of these fragrances; 1 is the limit.

    Of a blend in a bottle of its own its certificate counts, or its parts' where those are stricter together.
    """
    return sum(_use(fragrance, grams / bar, shelf) for grams, fragrance in scents)


def _use(fragrance: Fragrance, share: float, shelf: Shelf, within: frozenset[str] = frozenset()) -> float:
    own = share / fragrance.limit if fragrance.limit else 0.0
    parts = ((shelf.fragrances.get(p.fragrance), p.share * share) for p in fragrance.parts)
    inside = within | {fragrance.id}
    return max(own, sum(_use(f, part, shelf, inside) for f, part in parts if f is not None and f.id not in inside))


def unlimited(scents: Iterable[Fragrance], shelf: Shelf) -> tuple[str, ...]:
    """Names of those for which no limit is known; of a blend without one, of those of its parts."""
    out: list[str] = []
    for fragrance in scents:
        if not fragrance.limit:
            parts = [f for f in shelf.inside(fragrance) if f.id != fragrance.id]
            out += [f.name for f in parts if not f.limit and not f.parts] if parts else [fragrance.name]
    return tuple(dict.fromkeys(out))


def limit_of(recipe: Recipe, shelf: Shelf, portions: Iterable[PortionWeight]) -> LimitUse | None:
    """The strongest bar of a recipe, where it has a fragrance."""
    if not recipe.scents:
        return None
    strongest = max(portions, key=lambda p: p.limit_use)
    used = strongest.limit_use
    scents = [shelf.fragrances[s.fragrance] for s in recipe.scents]
    return LimitUse(wet=used * CURED, cured=used, portion=strongest.name, unknown=unlimited(scents, shelf))
