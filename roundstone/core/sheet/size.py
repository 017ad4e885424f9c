"""How large a recipe is, in words: the mould by what it holds, and the bars it gives."""

from math import ceil
from typing import Literal

from pydantic import Field

from ..recipe import Box, ByWeight, Cavities, Recipe
from ..recipe.mould import bars
from ..recipe.recipe import Mould
from ..text import KG, G, Text, say
from ..values import Fault, Grams, RuleError, Value
from .sheet import Sheet

TALL = 0.5  # height by width from which a box is a loaf and not a slab [chosen]
KILO = 1000.0


class SizeWords(Value):
    """The mould (or the fats, where it is sized by them), its bars, and the soap that is set into it, in words; no bars
    where there is no mould."""

    mould: Text
    bars: Text
    embeds: Text = Text.NONE


class BarsWanted(Value):
    """As many of the first mould are filled as it takes for so many bars."""

    kind: Literal["bars_wanted"] = "bars_wanted"
    count: int = Field(ge=1, le=10_000)


def with_bars(recipe: Recipe, act: BarsWanted) -> Recipe:
    """The recipe with enough moulds; RuleError where it is sized by its fats, or the mould gives no bars."""
    size = recipe.size
    if isinstance(size, ByWeight) or not size.moulds:
        raise RuleError(Fault(pointer="/size", message="Choose a mould first: bars come out of moulds."))
    first = size.moulds[0]
    each = 1 if isinstance(first, Cavities) else bars(first.model_copy(update={"count": 1}), 1.0).count
    if each < 1:
        raise RuleError(Fault(pointer="/size/moulds/0/cut", message="This mould gives no whole bar: look at its cuts."))
    moulds = (first.model_copy(update={"count": ceil(act.count / each)}), *size.moulds[1:])
    return recipe.model_copy(update={"size": size.model_copy(update={"moulds": moulds})})


def holds(grams: Grams) -> Text:
    """So much batter, as a mould is called by it.

    >>> str(holds(1134.0)), str(holds(450.0))
    ('1.1\\xa0kg', '450\\xa0g')
    """
    return say(KG(grams / KILO, ".1f")) if grams >= KILO else say(G(grams, ".0f"))


def called(mould: Mould) -> str:
    """What a mould is: a loaf, a slab, a tube, single moulds."""
    if isinstance(mould, Box):
        return "Loaf" if mould.fill >= TALL * mould.width else "Slab"
    return f"{mould.count} single moulds" if isinstance(mould, Cavities) else "Tube"


def size_words(recipe: Recipe, sheet: Sheet | None) -> SizeWords:
    """A recipe's size; before it is weighed, only what it is poured into."""
    size = recipe.size
    if sheet is None:
        return SizeWords(
            mould="By weight" if isinstance(size, ByWeight) or not size.moulds else called(size.moulds[0]), bars=""
        )
    pieces = recipe.moulds * recipe.embedded
    embeds = say(G(pieces, ".0f"), " of embeds") if pieces else Text.NONE
    if isinstance(size, ByWeight):
        return SizeWords(mould=say(sheet.fats_shown, " of oils"), bars="", embeds=embeds)
    first = size.moulds[0]
    vessels = sum(1 if isinstance(m, Cavities) else m.count for m in size.moulds)
    name = called(first) if vessels == 1 else f"{vessels} moulds"
    many = sum(b.count for b in sheet.bars)
    alike = len(sheet.bars) == 1
    return SizeWords(
        mould=say(name, " for ", holds(sheet.total + pieces)),
        bars=say(many, " bars of ", G(sheet.bars[0].grams, ".0f")) if alike and many else f"{many} bars",
        embeds=embeds,
    )
