"""Two recipes side by side: every weight and figure, and what differs."""

from collections.abc import Iterator

from ..recipe import LYE_STANDS, Recipe
from ..shelf import Shelf
from ..text import C, G, Part, Text, figure, joined, say
from ..values import Grams, Share, Value
from .checks import percent
from .sheet import Line, Sheet

SAME = 0.0005  # of all fats: less is no difference


class Side(Value):
    """One thing in both recipes; None where it is not in one of them."""

    vessel: str
    name: str
    left: Grams | None
    right: Grams | None
    left_share: Share | None
    right_share: Share | None
    differs: bool


class Setting(Value):
    """One figure or choice, in words."""

    name: str
    left: Text
    right: Text
    differs: bool


class Comparison(Value):
    lines: tuple[Side, ...]
    settings: tuple[Setting, ...]


def _settings(recipe: Recipe, sheet: Sheet, shelf: Shelf) -> Iterator[tuple[str, Part]]:
    design = recipe.design
    yield "Name", recipe.name
    yield "Superfat", percent(recipe.superfat)
    yield "Superfat with liquids", percent(sheet.superfat.with_liquids)
    yield "Lye concentration", percent(sheet.lye_concentration)
    yield "Fats", say(G(sheet.fats, ".0f"))
    yield "Batter", say(G(sheet.total, ".0f"))
    stated = (
        say(shelf.fats[r.fat].name, " ", figure(r.sv, ".5g"))
        for r in recipe.fats
        if r.sv is not None and r.fat in shelf.fats
    )
    yield "Saponification values by certificate", joined(", ", stated) or "none"
    yield "Pour at", say(C(recipe.pour_celsius))
    yield "Lye as it meets the fats", LYE_STANDS[recipe.lye_stands]
    yield (
        "Fragrance",
        joined(", ", (say(shelf.fragrances[s.fragrance].name, " ", percent(s.load, 2)) for s in recipe.scents))
        or "none",
    )
    yield (
        "Scent goes in",
        {
            "fats": "with the fats",
            "emulsion": "at emulsion",
            "portions": "after the split",
            "pour": "as each is poured",
        }[design.scent_at],
    )
    yield (
        "Embeds in each mould",
        joined(", ", (say(e.count, " × ", e.name, " ", G(e.grams)) for e in recipe.embeds)) or "none",
    )
    yield "Technique", shelf.techniques[design.technique].name
    yield "Portions", joined(", ", (say(p.name, " ", percent(p.share)) for p in design.portions))
    yield "Batching", {"whole": "whole batter", "layers": "layer by layer"}[design.batching]
    yield "Quick lather acids", percent(sheet.bar.strata["quick"])
    yield "Hard acids", percent(sheet.bar.strata["hard"])
    yield "Cutting", sheet.bar.cutting


def _by_place(sheet: Sheet) -> dict[tuple[str | int, ...], Line]:
    """Lines by what they are and where they go, whatever row they stand in; those alike are told apart by order."""
    out: dict[tuple[str | int, ...], Line] = {}
    for line in sheet.lines:
        place = (line.vessel, line.kind, line.item, line.name, line.into)
        nth = sum(key[:-1] == place for key in out)
        out[(*place, nth)] = line
    return out


def compare(left: tuple[Recipe, Sheet], right: tuple[Recipe, Sheet], shelf: Shelf) -> Comparison:
    """Both recipes weighed; lines in the left one's order, what only the right one has behind them."""
    sides = [_by_place(sheet) for _, sheet in (left, right)]
    keys = list(dict.fromkeys([*sides[0], *sides[1]]))
    order = ("pot", "jug", "stir")
    lines = []
    for key in keys:
        a, b = sides[0].get(key), sides[1].get(key)
        some = a or b
        assert some is not None
        differs = a is None or b is None or abs(a.share - b.share) > SAME
        lines.append(
            Side(
                vessel=some.vessel,
                name=some.name + (f", into {some.into}" if some.into else ""),
                left=a.grams if a else None,
                right=b.grams if b else None,
                left_share=a.share if a else None,
                right_share=b.share if b else None,
                differs=differs,
            )
        )
    lines.sort(key=lambda x: order.index(x.vessel))
    pairs = [
        (name, say(a), say(b))
        for (name, a), (_, b) in zip(_settings(*left, shelf), _settings(*right, shelf), strict=True)
    ]
    settings = tuple(Setting(name=name, left=a, right=b, differs=a != b) for name, a, b in pairs)
    return Comparison(lines=tuple(lines), settings=settings)
