"""A draft of the bar's label, by the two usual conventions: what went in, and what it became."""

from collections.abc import Sequence

from ..recipe import Recipe
from ..shelf import KOH, NAOH, Shelf
from ..values import Value
from .sheet import Line, grams_of

OTHERS = ("additive", "liquid", "fragrance")
GLYCERIN = 0.105  # of a fat comes free: about a tenth, common practice


class Label(Value):
    """A draft: ingredients by weight as they went in, and as they became; local rules decide what is printed."""

    went_in: tuple[str, ...]
    became: tuple[str, ...]
    allergens: tuple[str, ...]
    note: str = "A draft. Names, order, allergens and warnings are set by the rules of the country it is sold in."


SOAP_LIST = "Soap (its own list)"  # of what was soap before it went in


def label(recipe: Recipe, shelf: Shelf, lines: Sequence[Line]) -> Label:
    """Label of a weighed recipe, or of what was poured of it: of these lines.

    What became of it: fats turn to their soaps, of both alkalis where both are used, the superfat stays as fat, lye
    and its water are used up or dry out, glycerin comes free.
    """
    parts = _cations(recipe.koh_share)
    rest = [(x.grams, *_names(x.item, shelf)) for x in lines if x.item.partition(":")[0] in OTHERS]
    other = [(grams * (1 - wet), name) for grams, wet, name, _ in rest]
    later = [
        (grams * (1 - wet) * part, f"{cation} {became}".strip())
        for grams, wet, name, salt in rest
        for part, cation, became in _became(name, salt, parts)
    ]
    fats = [(x.grams, shelf.fats[x.item.removeprefix("fat:")]) for x in lines if x.item.startswith("fat:")]
    stock, strength = grams_of(lines, "stock"), recipe.stock or 0.0
    sodium = grams_of(lines, "alkali", "alkali:naoh") + stock * strength
    alkali = [(sodium, "Sodium Hydroxide"), (grams_of(lines, "alkali", "alkali:koh"), "Potassium Hydroxide")]
    water = sum(x.grams for x in lines if not x.item and x.kind != "stock") + stock * (1 - strength)
    water += sum(grams * wet for grams, wet, _, _ in rest)
    pieces = [(recipe.moulds * recipe.embedded, SOAP_LIST)] if recipe.embeds else []
    went_in = [(g, f.inci) for g, f in fats] + [(g, n) for g, n in alkali if g > 0] + [(water, "Aqua"), *other, *pieces]
    kept = [recipe.superfat if f.kind != "acid" else 0.0 for _, f in fats]  # free acids turn to soap to the last
    became = [
        (g * (1 - k) * part, f"{cation} {f.soap}")
        for (g, f), k in zip(fats, kept, strict=True)
        for part, cation in parts
    ]
    became += [(g * k, f.inci) for (g, f), k in zip(fats, kept, strict=True)]
    glycerin = sum(g * (GLYCERIN if f.kind == "fat" else 0.0) for g, f in fats)
    became += [(glycerin, "Glycerin"), (0.5 * water, "Aqua"), *later, *pieces]
    bottles = (shelf.fragrances[x.item.removeprefix("fragrance:")] for x in lines if x.kind == "fragrance")
    allergens = {a for f in bottles for a in f.allergens}
    return Label(went_in=_ordered(went_in), became=_ordered(became), allergens=tuple(sorted(allergens)))


def _cations(koh_share: float) -> list[tuple[float, str]]:
    """Which part of the soap has which cation, in moles: a gram of potassium hydroxide is fewer of them."""
    sodium, potassium = (1 - koh_share) / NAOH, koh_share / KOH
    both = ((sodium, "Sodium"), (potassium, "Potassium"))
    return [(moles / (sodium + potassium), name) for moles, name in both if moles > 0]


def _became(name: str, salt: str, parts: Sequence[tuple[float, str]]) -> list[tuple[float, str, str]]:
    """Share, cation and name of what something other than fat turned to: an acid to its salts, all else to itself."""
    return [(part, cation, salt) for part, cation in parts] if salt else [(1.0, "", name)]


def _names(item: str, shelf: Shelf) -> tuple[float, str, str]:
    """Share of water, name as it goes in, and the salt it becomes if it is an acid."""
    kind, _, name = item.partition(":")
    if kind == "additive":
        additive = shelf.additives[name]
        return additive.water, additive.inci, additive.salt
    return 0.0, shelf.liquids[name].inci if kind == "liquid" else "Parfum", ""


def _ordered(parts: Sequence[tuple[float, str]]) -> tuple[str, ...]:
    """Names by falling weight, one name once."""
    total: dict[str, float] = {}
    for grams, name in parts:
        total[name] = total.get(name, 0.0) + grams
    return tuple(name for name, grams in sorted(total.items(), key=lambda p: -p[1]) if grams > 0)
