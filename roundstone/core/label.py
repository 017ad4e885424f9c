"""A draft of the bar's label, by the two usual conventions: what went in, and what it became."""

from collections.abc import Sequence

from .recipe import Recipe
from .sheet import Line, grams_by_key
from .shelf import Shelf
from .values import Value

GLYCERIN = 0.105  # of a fat comes free: about a tenth, common practice


class Label(Value):
    """A draft: ingredients by weight as they went in, and as they became; local rules decide what is printed."""

    went_in: tuple[str, ...]
    became: tuple[str, ...]
    allergens: tuple[str, ...]
    note: str = "A draft. Names, order, allergens and warnings are set by the rules of the country it is sold in."


def label(recipe: Recipe, shelf: Shelf, lines: Sequence[Line]) -> Label:
    """Label of a weighed recipe.

    What became of it: fats turn to their soaps (named for the alkali that is more), the superfat stays as fat,
    lye and its water are used up or dry out, glycerin comes free.
    """
    weighed = grams_by_key(lines)
    other = [(x.grams, _other_name(x.item, shelf)) for x in lines if _other_name(x.item, shelf)]
    fats = [(x.grams, shelf.fats[x.item.removeprefix("fat:")]) for x in lines if x.item.startswith("fat:")]
    stock = weighed.get("stock", 0.0)
    sodium = weighed.get("naoh", 0.0) + stock * (recipe.stock or 0.0)
    alkali = [(sodium, "Sodium Hydroxide"), (weighed.get("koh", 0.0), "Potassium Hydroxide")]
    water = sum(x.grams for x in lines if not x.item and x.key != "stock") + stock * (1 - (recipe.stock or 0.0))
    went_in = [(g, f.inci) for g, f in fats] + [(g, n) for g, n in alkali if g > 0] + [(water, "Aqua"), *other]
    cation = "Potassium" if recipe.koh_share > 0.5 else "Sodium"
    became = [(g * (1 - recipe.superfat), f"{cation} {f.soap}") for g, f in fats]
    became += [(g * recipe.superfat, f.inci) for g, f in fats if recipe.superfat > 0]
    glycerin = sum(g * (GLYCERIN if f.kind == "fat" else 0.0) for g, f in fats)
    became += [(glycerin, "Glycerin"), (0.5 * water, "Aqua"), *other]
    allergens = {a for s in recipe.scents for a in shelf.fragrances[s.fragrance].allergens}
    return Label(went_in=_ordered(went_in), became=_ordered(became), allergens=tuple(sorted(allergens)))


def _other_name(item: str, shelf: Shelf) -> str:
    """Name on a label of what is neither fat, alkali nor plain water."""
    kind, _, name = item.partition(":")
    match kind:
        case "fragrance":
            return "Parfum"
        case "additive":
            return shelf.additives[name].inci
        case "liquid":
            return shelf.liquids[name].inci
    return ""


def _ordered(parts: Sequence[tuple[float, str]]) -> tuple[str, ...]:
    """Names by falling weight, one name once."""
    total: dict[str, float] = {}
    for grams, name in parts:
        total[name] = total.get(name, 0.0) + grams
    return tuple(name for name, grams in sorted(total.items(), key=lambda p: -p[1]) if grams > 0)
