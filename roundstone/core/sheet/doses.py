"""Doses on the scale: every basis a maker doses by, as grams per gram of fats."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..recipe import Dose, Recipe
from ..shelf import Additive, Scales, Shelf
from ..text import joined, say
from ..units import POUND
from .sheet import DoseOn, Line


@dataclass(frozen=True)
class Dosed:
    """A dose on the scale, grams per gram of all fats; `on` is the dose by the fats it is reckoned on."""

    row: int
    dose: Dose
    additive: Additive
    on: float
    grams: float

    @property
    def soaked(self) -> float:
        """Water in it, which is part of the recipe's."""
        return self.grams * self.additive.water

    @property
    def carrier(self) -> float:
        """What it is dispersed in, grams per gram of all fats."""
        return self.grams * self.dose.carrier.parts if self.dose.carrier else 0.0


def per_gram(dose: Dose, additive: Additive, batter: float) -> float:
    """Grams of an additive per gram of the fats it is reckoned on, `batter` being grams of batter per gram of fats."""
    match dose.basis:
        case "g/kg":
            return dose.amount / 1000
        case "percent":
            return dose.amount / 100
        case "tsp/lb":
            return dose.amount * additive.spoon / POUND
        case "tsp/lb batter":
            return dose.amount * additive.spoon / POUND * batter


EIGHTHS = ("", "⅛", "¼", "⅜", "½", "⅝", "¾", "⅞")
MOST_SPOONS = 24.0  # teaspoons beyond which nobody counts them [chosen]


def spoons(teaspoons: float) -> str:
    """Level teaspoons as a set of spoons measures them.

    >>> spoons(1.76), spoons(0.5), spoons(0.04), spoons(3.99)
    ('1¾ tsp', '½ tsp', 'under ⅛ tsp', '4 tsp')
    """
    eighths = round(teaspoons * 8)
    if eighths == 0:
        return "under ⅛ tsp"
    whole, part = divmod(eighths, 8)
    return f"{whole or ''}{EIGHTHS[part]} tsp"


def dosed(recipe: Recipe, shelf: Shelf, batter: float) -> list[Dosed]:
    """All doses of a recipe, in its order."""
    shares = {p.name: p.share for p in recipe.design.portions}
    out = []
    for i, dose in enumerate(recipe.additives):
        additive = shelf.additives[dose.additive]
        on = per_gram(dose, additive, batter)
        out.append(Dosed(i, dose, additive, on, on * (sum(shares[n] for n in dose.into) if dose.into else 1.0)))
    return out


def on_every_basis(of: Dosed, batter: float, lines: Sequence[Line], scales: Scales) -> DoseOn:
    """A dose on every basis it could be told on, with what its lines weigh."""
    mine = [x for x in lines if x.row == of.row and x.kind == "additive"]
    carried = [x for x in lines if x.row == of.row and x.kind == "carrier"]
    each = joined(", ", (say(x.shown, " into ", x.into) for x in mine)) if len(mine) > 1 else mine[0].note
    oil = say("; in ", scales.sum(x.reading for x in carried), " ", carried[0].name.lower()) if carried else ""
    return DoseOn(
        shown=scales.sum(x.reading for x in mine),
        spoons=spoons(sum(x.grams for x in mine) / of.additive.spoon),
        told=say(each, oil),
        per_kg=1000 * of.on,
        percent=100 * of.on,
        tsp_lb=of.on * POUND / of.additive.spoon,
        tsp_lb_batter=of.on / batter * POUND / of.additive.spoon,
    )
