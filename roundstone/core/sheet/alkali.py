"""How much alkali and water: NaOH, KOH or both, acids that take their own, and lye that still dissolves."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from ..recipe import ByConcentration, ByFats, ByRatio, Recipe
from ..shelf import KOH, NAOH, Fat
from ..text import figure, say
from ..values import Fault

LEAST_WATER, MOST_WATER = 1.0, 4.0  # parts to one of alkali: 50 and 20 % lye
MOST_SUPERFAT = 0.20


@dataclass(frozen=True)
class Demand:
    """Moles of alkali that fats, free fatty acids and other acids can take."""

    fats: float
    free: float
    acids: float


def demand(fats: Iterable[tuple[float, Fat]], acids: Iterable[tuple[float, float]]) -> Demand:
    """Demand of fats and acids by their weights, in grams or in grams per gram of fats; of an acid with the NaOH [g]
    that a gram of it takes up."""
    by_kind = {True: 0.0, False: 0.0}
    for weight, fat in fats:
        by_kind[fat.kind == "acid"] += weight * fat.sv / 1000 / KOH
    return Demand(by_kind[False], by_kind[True], sum(weight * naoh for weight, naoh in acids) / NAOH)


@dataclass(frozen=True)
class Alkali:
    """Grams of each alkali per gram of fats, pure and as weighed."""

    naoh: float
    koh: float
    naoh_weighed: float
    koh_weighed: float

    @property
    def pure(self) -> float:
        return self.naoh + self.koh

    @property
    def weighed(self) -> float:
        return self.naoh_weighed + self.koh_weighed


def reckon(
    recipe: Recipe,
    fats: Sequence[tuple[float, Fat]],
    acids: Sequence[tuple[float, float]],
    oils: Sequence[tuple[float, Fat]],
) -> Alkali:
    """Alkali for fats (share, fat), acids (g per g fats, NaOH [g] a gram takes up) and oils counted beside the fats.

    The superfat is a lye discount on the fats alone. Free fatty acids and other acids take their alkali first and
    whole: a discount on them would come out of the fats' lye.
    """
    asked = demand((*fats, *oils), acids)
    moles = (1 - recipe.superfat) * asked.fats + asked.free + (asked.acids if recipe.feed_acids else 0.0)
    both = moles / ((1 - recipe.koh_share) / NAOH + recipe.koh_share / KOH)
    naoh, koh = both * (1 - recipe.koh_share), both * recipe.koh_share
    return Alkali(naoh, koh, naoh / recipe.naoh_purity, koh / recipe.koh_purity)


def water_for(recipe: Recipe, pure: float) -> float:
    """Grams of water per gram of fats, for `pure` grams of alkali per gram of fats."""
    match recipe.water:
        case ByConcentration(share=share):
            return pure * (1 - share) / share
        case ByRatio(parts=parts):
            return pure * parts
        case ByFats(share=share):
            return share


def water_in_stock(strength: float, naoh_weighed: float) -> float:
    """Grams of water in a stock lye that holds so much sodium hydroxide as it comes from the bag."""
    return naoh_weighed * (1 - strength) / strength


def check(recipe: Recipe) -> Iterator[Fault]:
    """Faults that need no weighing."""
    if not 0 <= recipe.superfat <= MOST_SUPERFAT:
        message = "Superfat runs from 0 to 20 %. Below 0 the soap would be caustic."
        yield Fault(pointer="/superfat", message=message)
    if not 0 <= recipe.koh_share <= 1:
        yield Fault(pointer="/koh_share", message="The potassium share runs from 0 to 100 % of the alkali.")
    for field, name in (("naoh_purity", "sodium"), ("koh_purity", "potassium")):
        if not 0.80 <= getattr(recipe, field) <= 1:
            message = f"Purity of the {name} hydroxide runs from 80 to 100 %; the bag or its certificate says."
            yield Fault(pointer=f"/{field}", message=message)
    if not 0 <= recipe.ice <= 1:
        yield Fault(pointer="/ice", message="Ice can be from 0 to 100 % of the water.")
    if recipe.stock is not None and not 0.25 <= recipe.stock <= 0.50:
        yield Fault(pointer="/stock", message="A stock lye runs from 25 to 50 %.")
    match recipe.water:
        case ByConcentration(share=share) if not 0.20 <= share <= 0.50:
            message = "Lye concentration runs from 20 to 50 %. Above 50 % the lye does not dissolve."
            yield Fault(pointer="/water/share", message=message)
        case ByRatio(parts=parts) if not LEAST_WATER <= parts <= MOST_WATER:
            message = "Water runs from 1 to 4 parts to one of alkali. Below 1 the lye does not dissolve."
            yield Fault(pointer="/water/parts", message=message)
        case ByFats(share=share) if not 0.05 <= share <= 1.0:
            yield Fault(pointer="/water/share", message="Water runs from 5 to 100 % of the fats.")


def check_dissolves(recipe: Recipe, pure: float, water: float, in_jug: float) -> Iterator[Fault]:
    """Faults once the grams are known: all water, and the part of it that stands in the jug with the alkali."""
    if isinstance(recipe.water, ByFats) and not LEAST_WATER <= water / pure <= MOST_WATER:
        message = say(
            "That is ", figure(water / pure, ".2f"), " parts water to one of alkali; from 1 to 4 is possible."
        )
        yield Fault(pointer="/water/share", message=message)
    elif in_jug < pure * LEAST_WATER * (1 - 1e-9):
        away = next((f"/liquids/{i}/share" for i, use in enumerate(recipe.liquids) if use.goes != "jug"), "/water")
        message = say(
            "Only ",
            figure(max(in_jug, 0) / pure, ".3f"),
            " parts water are left in the jug for one of alkali: it would not dissolve. Keep more liquid in the jug.",
        )
        yield Fault(pointer=away, message=message)
    if recipe.stock is not None and water_in_stock(recipe.stock, pure / recipe.naoh_purity) > in_jug * (1 + 1e-9):
        yield Fault(pointer="/stock", message="The stock lye alone brings more water than this recipe has.")
    if recipe.stock is not None and recipe.koh_share > 0:
        yield Fault(pointer="/stock", message="A stock lye is reckoned for sodium hydroxide alone.")
