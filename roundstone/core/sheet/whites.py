"""A portion that shall stay white: what would break it, and what keeps it. Common practice where no source is named."""

from collections.abc import Iterator, Mapping

from ..face import aged, apart
from ..recipe import Portion, Recipe, Wrap
from ..shelf import Discolours, Shelf
from ..text import Text, say
from ..values import Caution
from .checks import percent

# How likely a bar gels by the way its mould rests, for its colours alone [C].
GELS: Mapping[Wrap, float] = {"open": 0.15, "covered": 0.4, "insulated": 0.9, "oven": 0.95, "cold": 0.05}
LIKELY_GEL = 0.5  # from which gel is spoken of [chosen]
WHITE = "#f7f5ee"  # of soap with titanium dioxide: what a white is held against [chosen]
PALE = 0.10  # of that in OKLab, within which a colourant is a white: kaolin and its like are [chosen]
SEEN = 0.045  # in OKLab: what an eye sees of a change with nothing beside it [chosen]
TURNS = {Discolours.BROWN: "brown", Discolours.TINT: "darker"}


def vanillin_in(recipe: Recipe, shelf: Shelf, portion: Portion) -> float:
    """Share of vanillin in the fragrance, as far as it is in this portion."""
    load = sum(s.load for s in recipe.scents)
    known = shelf.poured((s.fragrance, s.load) for s in recipe.scents)
    vanillin = sum(x * (f.vanillin or 0.0) for x, f in known) / load if load else 0.0
    return vanillin * min(portion.scent if recipe.design.scents_apart else 1.0, 1.0)


def whites(recipe: Recipe, shelf: Shelf) -> Iterator[Caution]:
    """What each portion that shall stay white has against it, each with what would keep it white."""
    for i, portion in enumerate(recipe.design.portions):
        if not portion.white:
            continue
        at = f"/design/portions/{i}/white"
        for told in (_scent, _colours, _fats):
            yield from (Caution(pointer=at, message=message) for message in told(recipe, shelf, portion))


def _scent(recipe: Recipe, shelf: Shelf, portion: Portion) -> Iterator[Text]:
    reaches = portion.scented or not recipe.design.scents_apart
    if not recipe.scents or not reaches:
        return
    late = recipe.design.scents_apart
    keep = "leave it unscented" if late else "scent the portions after the split, and leave it out"
    vanillin = vanillin_in(recipe, shelf, portion)
    if apart(WHITE, aged(WHITE, 0.0, vanillin).cured) > SEEN:
        shade = "brown" if vanillin > 0.03 else "tan"
        yield say(
            portion.name, " will not stay white: its scent holds ", percent(vanillin), f" vanillin and turns {shade}. ",
            "Use a lighter scent in it, or ", keep, ".",
        )  # fmt: skip
        return
    for scent in recipe.scents:
        bottle = shelf.fragrances[scent.fragrance]
        if scent.load > 0 and bottle.discolours in TURNS:
            yield say(
                portion.name, " may not stay white: ", bottle.name, f" is said to turn {TURNS[bottle.discolours]}. ",
                keep[:1].upper(), keep[1:], ".",
            )  # fmt: skip


def _colours(recipe: Recipe, shelf: Shelf, portion: Portion) -> Iterator[Text]:
    doses = [shelf.additives[d.additive] for d in recipe.additives if d.amount > 0 and d.reaches(portion.name)]
    tinted = [a for a in doses if a.tint]
    if not any(apart(WHITE, a.tint) < PALE for a in tinted):
        yield say(portion.name, ": nothing in it is white, and soap by itself is cream. Add a white colourant to it.")
    for coloured in (a for a in tinted if apart(WHITE, a.tint) >= PALE):
        yield say(portion.name, " will not stay white with ", coloured.name, " in it.")
    if GELS[recipe.design.wrap] >= LIKELY_GEL:
        yield say(portion.name, ": gel makes a white greyer. Leave the mould open, or in the fridge.")


def _fats(recipe: Recipe, shelf: Shelf, portion: Portion) -> Iterator[Text]:
    whole = sum(row.share for row in recipe.fats)
    for row in recipe.fats:
        fat, share = shelf.fats[row.fat], row.share / whole
        if fat.tint and share > 0 and apart(WHITE, fat.tint) >= PALE:
            yield say(portion.name, " will not stay white: ", fat.name, " colours all of the batter.")
        elif fat.colours_from is not None and share >= fat.colours_from:
            yield say(
                portion.name, ": ", percent(share), f" {fat.name.lower()} makes soap {fat.colours}. ",
                "Use a refined or paler oil.",
            )  # fmt: skip
