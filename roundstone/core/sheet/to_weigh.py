"""A dose typed as what shall lie on the scale: "12 g", "1.5 tsp"; its figure in the recipe follows from it."""

from typing import Literal

from pydantic import Field

from ..recipe import Recipe
from ..shelf import Shelf
from ..text import say
from ..units import FLUID_OUNCE
from ..values import Fault, Grams, RuleError, Value
from .acts import FatGrams, FatTyped
from .adjust import adjust
from .sheet import Weighing
from .weigh import weigh

TEASPOON = FLUID_OUNCE / 6  # mL: exact by definition (NIST Special Publication 811, appendix B)
STEPS = 60  # of nearing the weight; two to five are taken [C]
NEAR = 1e-10  # of the weight: below any scale [C]
NEAR_FAT = 1e-6  # of all fats: the others are kept to a thousandth of a percent [C]
FIRST = 0.001  # of the fats, where nothing is dosed yet to start from [C]

_FIGURE = {"additive": ("additives", "amount"), "liquid": ("liquids", "share"), "fragrance": ("scents", "load")}


class ToWeigh(Value):
    """An additive, a liquid or a fragrance shall weigh so much in the whole recipe, on the basis it is dosed on.

    Millilitres are level spoons of an additive. What the recipe cannot take stands as typed, and the recipe says what
    is wrong with it.
    """

    kind: Literal["to_weigh"] = "to_weigh"
    what: Literal["additive", "liquid", "fragrance"]
    row: int
    amount: float = Field(ge=0)
    unit: Literal["g", "mL"] = "g"


def to_weigh(recipe: Recipe, act: ToWeigh | FatGrams, shelf: Shelf) -> Recipe:
    """The recipe with that figure, of a fat in full moulds with that share; RuleError where it cannot be reckoned.

    A recipe sized by its moulds holds less of the fats the more is put in, and spoons by weight of batter count that
    batter: so the figure is neared by weighing, each time in proportion to what is missing.
    """
    if isinstance(act, FatGrams):
        return _fat(recipe, act, shelf)
    rows, field = _FIGURE[act.what]
    at = f"/{rows}/{act.row}/{field}"
    if not 0 <= act.row < len(getattr(recipe, rows)):
        raise RuleError(Fault(pointer=f"/{rows}", message="This row is not there any more: look at the list again."))
    wanted = _grams(recipe, act, shelf, at)
    if wanted == 0:
        return _with(recipe, act, 0.0)
    # What stands there may be just what cannot be weighed, so it is not where this starts.
    figure = FIRST
    for _ in range(STEPS):
        tried = _with(recipe, act, figure)
        weighing = weigh(tried, shelf)
        if weighing.sheet is None:
            if figure == FIRST:
                message = say("Weights and spoons can be typed once the recipe is weighed: mend it first.")
                if weigh(_with(recipe, act, 0.0), shelf).sheet is not None:
                    message = say("This recipe takes none of it. ", weighing.faults[0].message)
                raise RuleError(Fault(pointer=at, message=message))
            return tried
        got = _weighs(weighing, act)
        if got <= 0:
            raise RuleError(Fault(pointer=at, message="Nothing of the batter takes it up: type it as a share."))
        if abs(got - wanted) <= NEAR * wanted:
            return tried
        figure *= wanted / got
    raise RuleError(Fault(pointer=at, message="No dose weighs just that in this recipe: type it as a share."))


def _fat(recipe: Recipe, act: FatGrams, shelf: Shelf) -> Recipe:
    """A fat weighs so much in the moulds and the others share what is left; where they cannot, its share stands, and
    the recipe says what is too much.
    """
    at, sheet = f"/fats/{act.row}/share", weigh(recipe, shelf).sheet
    if not 0 <= act.row < len(recipe.fats):
        raise RuleError(Fault(pointer="/fats", message="This row is not there any more: look at the list again."))
    if act.grams <= 0:
        raise RuleError(Fault(pointer=at, message="A weight must be more than nothing."))
    if sheet is None:
        message = "By moulds, a weight can be typed once the recipe is weighed: mend it first."
        raise RuleError(Fault(pointer=at, message=message))
    # Where every other row was typed too, they give way together.
    keep = act.keep if {*range(len(recipe.fats))} - {act.row, *act.keep} else ()
    share, tried = act.grams / sheet.fats, recipe
    for _ in range(STEPS):
        tried = adjust(recipe, FatTyped(row=act.row, share=share, keep=keep), None)
        now = weigh(tried, shelf).sheet
        if now is None or abs(share * now.fats - act.grams) <= NEAR_FAT * now.fats:
            break
        share = act.grams / now.fats
    return tried


def _weighs(weighing: Weighing, act: ToWeigh) -> Grams:
    lines = weighing.sheet.lines if weighing.sheet else ()
    return sum(line.grams for line in lines if line.kind == act.what and line.row == act.row)


def _grams(recipe: Recipe, act: ToWeigh, shelf: Shelf, at: str) -> Grams:
    if act.unit == "g":
        return act.amount
    if act.what != "additive":
        message = "This is weighed, not measured: its density is not known. Type a weight."
        raise RuleError(Fault(pointer=at, message=message))
    additive = shelf.additives.get(recipe.additives[act.row].additive)
    if additive is None:
        raise RuleError(Fault(pointer=at, message="This is not on the shelf."))
    return act.amount / TEASPOON * additive.spoon


def _with(recipe: Recipe, act: ToWeigh, figure: float) -> Recipe:
    rows, field = _FIGURE[act.what]
    changed = list(getattr(recipe, rows))
    changed[act.row] = changed[act.row].model_copy(update={field: figure})
    return recipe.model_copy(update={rows: tuple(changed)})
