"""What the bar will be like: strata of fatty acids, how it keeps, when it can be cut, and what its label says.

Thresholds are common practice without a source; spans are given because makers disagree.
"""

from collections.abc import Mapping, Sequence

from .recipe import Recipe
from .shelf import Fat, Shelf
from .values import Share, Value

STRATA = {
    "quick": ("8:0", "10:0", "12:0", "14:0"),
    "hard": ("16:0", "18:0", "20:0", "22:0"),
    "oleic": ("16:1", "18:1", "20:1", "22:1"),
    "soft": ("18:2", "18:3"),
    "castor": ("ricinoleic",),
}


class Bar(Value):
    """`strata` are shares of the fatty acids; the rest is said in words."""

    strata: dict[str, Share]
    keeping: str
    cutting: str


class Label(Value):
    """A draft: ingredients by weight as they went in, and as they became; local rules decide what is printed."""

    went_in: tuple[str, ...]
    became: tuple[str, ...]
    allergens: tuple[str, ...]
    note: str = "A draft. Names, order, allergens and warnings are set by the rules of the country it is sold in."


def describe(
    rows: Sequence[tuple[float, Fat]], doses: Mapping[str, float], superfat: float, concentration: float
) -> Bar:
    """The bar of these fats (share, fat), doses (g per g fats), superfat and lye concentration."""
    strata = {k: sum(m * f.acid_share(*acids) for m, f in rows) for k, acids in STRATA.items()}
    # Linolenic acid goes rancid about twice as readily as linoleic: common practice.
    risk = sum(m * (f.acid_share("18:2") + 2 * f.acid_share("18:3")) for m, f in rows) * (1 + 4 * superfat)
    keeping = (
        "keeps well, a year and more"
        if risk < 0.15
        else "keeps about a year in the cool and dark"
        if risk < 0.27
        else "spoils early: use within months, or less linoleic oil and superfat"
    )
    firm = strata["quick"] + strata["hard"] + 1.5 * (concentration - 0.33)
    firm += 0.06 * (doses.get("sodium-lactate", 0.0) > 0) + 0.06 * (doses.get("salt", 0.0) > 0)
    cutting = (
        "firm enough to cut after 12 to 24 hours"
        if firm > 0.42
        else "firm enough to cut after 18 to 36 hours"
        if firm > 0.30
        else "soft at first: cut after 2 to 4 days"
    )
    return Bar(strata=strata, keeping=keeping, cutting=cutting)


def label(recipe: Recipe, shelf: Shelf, lines: Mapping[str, float]) -> Label:
    """Label of a weighed recipe; `lines` maps each line's key to grams.

    What became of it: fats turn to their soaps (named for the alkali that is more), the superfat stays as fat,
    lye and its water are used up or dry out, glycerin comes free.
    """
    potassium = recipe.koh_share > 0.5
    other = sorted(
        [(grams, _other_name(key, shelf)) for key, grams in lines.items() if _other_name(key, shelf)], reverse=True
    )
    fats = [(lines[r.fat], shelf.fats[r.fat]) for r in recipe.fats]
    alkali = [(lines.get(k, 0.0), n) for k, n in (("naoh", "Sodium Hydroxide"), ("koh", "Potassium Hydroxide"))]
    stock = lines.get("stock", 0.0)
    if recipe.stock is not None:
        alkali[0] = (stock * recipe.stock, "Sodium Hydroxide")
    water = lines.get("water", 0.0) + lines.get("ice", 0.0) + stock * (1 - (recipe.stock or 0.0))
    went_in = [(g, f.inci) for g, f in fats] + [(g, n) for g, n in alkali if g > 0] + [(water, "Aqua"), *other]
    became = [(g * (1 - recipe.superfat), f"{'Potassium' if potassium else 'Sodium'} {f.soap}") for g, f in fats]
    became += [(g * recipe.superfat, f.inci) for g, f in fats if recipe.superfat > 0]
    glycerin = sum(g * (0.105 if f.kind == "fat" else 0.0) for g, f in fats)  # about a tenth of fat: common practice
    became += [(glycerin, "Glycerin"), (0.5 * water, "Aqua"), *other]
    allergens = {a for s in recipe.scents for a in shelf.fragrances[s.fragrance].allergens}
    return Label(went_in=_ordered(went_in), became=_ordered(became), allergens=tuple(sorted(allergens)))


def _other_name(key: str, shelf: Shelf) -> str:
    if key.startswith("scent-"):
        return "Parfum"
    if key in shelf.additives:
        return shelf.additives[key].inci
    base, _, vessel = key.rpartition("-")
    return shelf.liquids[base].inci if vessel in ("jug", "pot", "stir") and base in shelf.liquids else ""


def _ordered(parts: Sequence[tuple[float, str]]) -> tuple[str, ...]:
    """Names by falling weight, one name once."""
    total: dict[str, float] = {}
    for grams, name in parts:
        total[name] = total.get(name, 0.0) + grams
    return tuple(name for name, grams in sorted(total.items(), key=lambda p: -p[1]) if grams > 0)
