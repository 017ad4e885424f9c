"""A draft of the bar's label, by the two usual conventions: what went in, and what it became."""

from collections.abc import Sequence

from .recipe import Recipe
from .sheet import Line, grams_by_key
from .shelf import Shelf
from .values import Value

OTHERS = ("additive", "liquid", "fragrance")
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
    cation = "Potassium" if recipe.koh_share > 0.5 else "Sodium"
    rest = [(x.grams, *_names(x.item, shelf, cation)) for x in lines if x.item.partition(":")[0] in OTHERS]
    other = [(grams * (1 - wet), name) for grams, wet, name, _ in rest]
    later = [(grams * (1 - wet), name) for grams, wet, _, name in rest]
    fats = [(x.grams, shelf.fats[x.item.removeprefix("fat:")]) for x in lines if x.item.startswith("fat:")]
    stock = weighed.get("stock", 0.0)
    sodium = weighed.get("naoh", 0.0) + stock * (recipe.stock or 0.0)
    alkali = [(sodium, "Sodium Hydroxide"), (weighed.get("koh", 0.0), "Potassium Hydroxide")]
    water = sum(x.grams for x in lines if not x.item and x.key != "stock") + stock * (1 - (recipe.stock or 0.0))
    water += sum(grams * wet for grams, wet, _, _ in rest)
    went_in = [(g, f.inci) for g, f in fats] + [(g, n) for g, n in alkali if g > 0] + [(water, "Aqua"), *other]
    kept = [recipe.superfat if f.kind != "acid" else 0.0 for _, f in fats]  # free acids turn to soap to the last
    became = [(g * (1 - k), f"{cation} {f.soap}") for (g, f), k in zip(fats, kept, strict=True)]
    became += [(g * k, f.inci) for (g, f), k in zip(fats, kept, strict=True)]
    glycerin = sum(g * (GLYCERIN if f.kind == "fat" else 0.0) for g, f in fats)
    became += [(glycerin, "Glycerin"), (0.5 * water, "Aqua"), *later]
    allergens = {a for s in recipe.scents for a in shelf.fragrances[s.fragrance].allergens}
    return Label(went_in=_ordered(went_in), became=_ordered(became), allergens=tuple(sorted(allergens)))


def _names(item: str, shelf: Shelf, cation: str) -> tuple[float, str, str]:
    """Share of water, name as it goes in, and what it becomes, of what is neither fat, alkali nor plain water."""
    kind, _, name = item.partition(":")
    if kind == "additive":
        additive = shelf.additives[name]
        return additive.water, additive.inci, f"{cation} {additive.salt}" if additive.salt else additive.inci
    inci = shelf.liquids[name].inci if kind == "liquid" else "Parfum"
    return 0.0, inci, inci


def _ordered(parts: Sequence[tuple[float, str]]) -> tuple[str, ...]:
    """Names by falling weight, one name once."""
    total: dict[str, float] = {}
    for grams, name in parts:
        total[name] = total.get(name, 0.0) + grams
    return tuple(name for name, grams in sorted(total.items(), key=lambda p: -p[1]) if grams > 0)
