"""Every fault and caution at its threshold, a hair below and a hair above. The thresholds are written out here once
more: a rule that is moved is moved in two places, knowingly. Where no source is named they are common practice."""

import unittest
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from roundstone.core.heat import HeatPlan, plan, pot_sets
from roundstone.core.heat.sets import LIKE_TRACE
from roundstone.core.recipe import (
    ByConcentration,
    ByFats,
    ByRatio,
    ByWeight,
    Carrier,
    Design,
    Dose,
    FatShare,
    LiquidUse,
    Portion,
    Recipe,
    Scent,
)
from roundstone.core.sheet import Weighing, weigh
from roundstone.core.shelf import Claim, Family, Fragrance, Moment, Scale, Scales, Shelf
from roundstone.told import Reader
from tests.samples import SHELF, recipe, weighed

READER = Reader()

HAIR = 1e-6


@dataclass(frozen=True)
class Row:
    """`at(value)` is a recipe (and shelf) with that figure; `words` are said beyond `edge` at `pointer`, on the `above`
    side (else below it). `danger` of what is said, None for a fault.
    """

    pointer: str
    words: str
    at: Callable[[float], Recipe | tuple[Recipe, Shelf]]
    edge: float
    above: bool = True
    danger: bool | None = None
    hair: float = HAIR


def fats(first: float) -> Recipe:
    return recipe(fats=(FatShare(fat="olive", share=first), FatShare(fat="coconut", share=0.3)))


def portions(*scents: float) -> tuple[Portion, ...]:
    return tuple(Portion(name="ABCD"[i], share=1 / len(scents), scent=s) for i, s in enumerate(scents))


def with_dose(item: str, amount: float, **changes: Any) -> Recipe:
    return recipe(additives=(Dose(additive=item, amount=amount, **changes),), scents=())


def limited(load: float) -> tuple[Recipe, Shelf]:
    """A fragrance whose certificate allows 5 % of the cured bar, all portions alike."""
    bottle = Fragrance(id="few", name="Few", family=Family.OTHER, claim=Claim.NONE, limit=0.05)
    shelf = SHELF.model_copy(update={"fragrances": {**SHELF.fragrances, "few": bottle}})
    of = recipe(
        scents=(Scent(fragrance="few", load=load),), design=Design(portions=portions(1, 1), technique="drop-swirl")
    )
    return of, shelf


def load_of_limit() -> float:
    """The load at which that bar holds just what is allowed, found by the sheet's own cured bar."""
    low, high = 0.001, 0.1
    for _ in range(60):
        middle = (low + high) / 2
        of, shelf = limited(middle)
        sheet = weigh(of, shelf).sheet
        assert sheet is not None
        low, high = (middle, high) if sheet.portions[0].limit_use < 1 else (low, middle)
    return (low + high) / 2


def coarse(part: float) -> tuple[Recipe, Shelf]:
    """On a scale whose step is such a part of the lye."""
    of = recipe(scents=(), size=ByWeight(grams=1000))
    lye = next(x.grams for x in weighed(of).lines if x.kind == "alkali")
    scales = Scales(scales=(Scale(step=part * lye, capacity=10_000),))
    return of, SHELF.model_copy(update={"scales": scales})


def heavy(part: float) -> tuple[Recipe, Shelf]:
    """The heaviest line, as a part of what the largest scale holds."""
    of = recipe(scents=(), size=ByWeight(grams=1000))
    most = max(x.grams for x in weighed(of).lines)
    return of, SHELF.model_copy(update={"scales": Scales(scales=(Scale(step=0.1, capacity=most / part),))})


def fine(part: float) -> tuple[Recipe, Shelf]:
    """A dose, as a part of the finest scale's step."""
    of = with_dose("sugar", 1.0, basis="g/kg").model_copy(update={"size": ByWeight(grams=1000)})
    return of, SHELF.model_copy(update={"scales": Scales(scales=(Scale(step=1.0 / part, capacity=10_000),))})


def sour(amount: float) -> Recipe:
    """Citric acid that gets no lye of its own: what it takes up is taken from the fats."""
    return with_dose("citric-acid", amount).model_copy(update={"feed_acids": False})


def crossing(of: Callable[[float], float], goal: float, low: float, high: float) -> float:
    """Where something that changes in one direction comes to a goal."""
    rises = of(high) > of(low)
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if (of(middle) < goal) == rises else (low, middle)
    return (low + high) / 2


def heat(of: Recipe) -> HeatPlan:
    return plan(of, SHELF, weighed(of).lines)


def strong(share: float) -> Recipe:
    return recipe(water=ByConcentration(share=share), scents=())


def salted(moment: Moment) -> Callable[[float], Recipe]:
    return lambda amount: with_dose("salt", amount, moment=moment)


def milky(share: float) -> Recipe:
    """So much of the liquid is frozen milk, in the jug: the more of it, the cooler the lye stays."""
    return recipe(liquids=(LiquidUse(liquid="goat-milk", share=share, goes="jug", frozen=True),), scents=())


def put(field: str) -> Callable[[float], Recipe]:
    return lambda x: recipe(**{field: x})


def load(amount: float) -> Recipe:
    return recipe(scents=(Scent(fragrance="moderate", load=amount),))


FAULTS = (
    Row("/fats", "add up to", fats, 0.7005, hair=1e-5),
    Row("/fats", "is missing", fats, 0.6995, above=False, hair=1e-5),
    Row("/fats/0/share", "negative", fats, 0.0, above=False),
    Row("/fats/0/share", "above 100", fats, 1.0),
    Row("/liquids/0/share", "from 0 to 100", lambda x: recipe(liquids=(LiquidUse(liquid="goat-milk", share=x),)), 1.0),
    Row("/liquids/0/share", "from 0 to 100", lambda x: recipe(liquids=(LiquidUse(liquid="goat-milk", share=x),)), 0.0,
        above=False),
    Row("/additives/0/amount", "negative", lambda x: with_dose("sugar", x), 0.0, above=False),
    Row("/additives/0/carrier/parts", "0 to 20", lambda x: with_dose("mica", 3, carrier=Carrier(fat="olive", parts=x)),
        20.0),
    Row("/additives/0/carrier/parts", "0 to 20", lambda x: with_dose("mica", 3, carrier=Carrier(fat="olive", parts=x)),
        0.0, above=False),
    Row("/scents/0/load", "0 to 10 %", load, 0.10),
    Row("/scents/0/load", "0 to 10 %", load, 0.0, above=False),
    Row("/scents/1/load", "together", lambda x: recipe(scents=(Scent(fragrance="moderate", load=0.05),
        Scent(fragrance="slight", load=x))), 0.05, hair=1e-5),
    Row("/size/grams", "Fats run", lambda x: recipe(size=ByWeight(grams=x)), 10.0, above=False),
    Row("/size/grams", "Fats run", lambda x: recipe(size=ByWeight(grams=x)), 200_000.0),
    Row("/pour_celsius", "runs from", lambda x: recipe(pour_celsius=x), 75.0),
    Row("/pour_celsius", "runs from", lambda x: recipe(pour_celsius=x), 10.0, above=False),
    Row("/room_celsius", "The room", lambda x: recipe(room_celsius=x), 45.0),
    Row("/room_celsius", "The room", lambda x: recipe(room_celsius=x), 0.0, above=False),
    Row("/design/portions/0/scent", "up to 10 %", lambda x: recipe(scents=(Scent(fragrance="moderate", load=0.04),),
        design=Design(portions=portions(x, 1), technique="drop-swirl")), 2.5),
    *(Row(f"/{field}", "runs from", put(field), edge, above)
      for field, edges in (("koh_share", (0.0, 1.0)), ("naoh_purity", (0.80, 1.0)), ("koh_purity", (0.80, 1.0)),
                           ("stock", (0.25, 0.50)))
      for edge, above in zip(edges, (False, True), strict=True)),
    Row("/superfat", "Superfat runs", lambda x: recipe(superfat=x), 0.0, above=False),
    Row("/superfat", "Superfat runs", lambda x: recipe(superfat=x), 0.20),
    Row("/ice", "from 0 to 100", lambda x: recipe(ice=x), 0.0, above=False),
    Row("/ice", "from 0 to 100", lambda x: recipe(ice=x), 1.0),
    Row("/water/share", "Lye concentration", lambda x: recipe(water=ByConcentration(share=x)), 0.20, above=False),
    Row("/water/share", "Lye concentration", lambda x: recipe(water=ByConcentration(share=x)), 0.50),
    Row("/water/parts", "1 to 4 parts", lambda x: recipe(water=ByRatio(parts=x)), 1.0, above=False),
    Row("/water/parts", "1 to 4 parts", lambda x: recipe(water=ByRatio(parts=x)), 4.0),
    Row("/water/share", "5 to 100 %", lambda x: recipe(water=ByFats(share=x)), 0.05, above=False),
    Row("/water/share", "5 to 100 %", lambda x: recipe(water=ByFats(share=x)), 1.0),
)  # fmt: skip

CAUTIONS = (
    Row("/water", "runs very hot", lambda x: recipe(water=ByConcentration(share=x)), 0.40, danger=True),
    Row("/water", "Below 25 %", lambda x: recipe(water=ByConcentration(share=x)), 0.25, above=False, danger=False),
    Row("/koh_share", "potassium", lambda x: recipe(koh_share=x), 0.0, danger=False),
    Row("/pour_celsius", "Hot batter burns", lambda x: recipe(pour_celsius=x), 55.0, danger=True),
    Row("/scents/0/load", "Above 6 %", load, 0.06, danger=False),
    Row("/design/portions/0/scent", "above 6 %", lambda x: recipe(scents=(Scent(fragrance="moderate", load=0.03),),
        design=Design(portions=portions(x, 1), technique="drop-swirl")), 2.0, danger=False),
    Row("/scents/0/load", "certificates allow", limited, load_of_limit(), danger=True),
    Row("/additives/0/amount", "usual most", lambda x: with_dose("sugar", x), SHELF.additives["sugar"].most,
        danger=False),
    # What rounding may cost: half a percent of the lye.
    Row("/superfat", "Sodium hydroxide is read", coarse, 0.005, danger=False),
    Row("/size", "more than your largest scale", heavy, 1.0, danger=False),
    Row("/additives/0/amount", "less than your finest", fine, 1.0, above=False, danger=False),
)  # fmt: skip


# Of the heat plan: °C from which plastic gives way and from which milk browns.
def hard(celsius: float) -> Recipe:
    """Half of it palm stearin."""
    fats = (FatShare(fat="palm-stearin", share=0.5), FatShare(fat="olive", share=0.5))
    return recipe(fats=fats, pour_celsius=celsius)


HEATED = (
    Row("/water", "no thin plastic", strong, crossing(lambda x: heat(strong(x)).adiabatic, 95.0, 0.2, 0.5),
        danger=True),
    Row("/liquids/0/share", "browns", milky, crossing(lambda x: heat(milky(x)).peak, 40.0, 0.1, 1),
        above=False, danger=False),
    Row("/pour_celsius", "look like trace", hard, crossing(lambda x: -pot_sets(hard(x), SHELF, x), -LIKE_TRACE, 20, 56),
        above=False, danger=False),
)  # fmt: skip
# Said on both sides, and a danger beyond.
DANGERS = (
    Row("/superfat", "Sodium hydroxide is read", coarse, 0.05),
    Row("/feed_acids", "take lye from the fats", sour,
        crossing(lambda x: weighed(sour(x)).superfat.with_liquids, 0.20, 0, 200)),
)  # fmt: skip


def said(row: Row, value: float) -> list[Any]:
    made = row.at(value)
    of, shelf = made if isinstance(made, tuple) else (made, SHELF)
    weighing: Weighing = weigh(of, shelf)
    all_of = weighing.faults if row in FAULTS else weighing.cautions
    if row in HEATED and weighing.sheet is not None:
        all_of = plan(of, shelf, weighing.sheet.lines).cautions
    return [x for x in all_of if x.pointer == row.pointer and row.words in x.message]


class Thresholds(unittest.TestCase):
    def check(self, row: Row) -> None:
        beyond, within = (row.edge + row.hair, row.edge - row.hair)[:: 1 if row.above else -1]
        self.assertEqual([x.message for x in said(row, within)], [], f"within {row.edge}")
        found = said(row, beyond)
        self.assertTrue(found, f"beyond {row.edge}")
        if row.danger is not None:
            self.assertEqual(found[0].danger, row.danger)

    def test_faults(self) -> None:
        for row in FAULTS:
            with self.subTest(row.pointer, edge=row.edge, words=row.words):
                self.check(row)

    def test_cautions(self) -> None:
        for row in CAUTIONS:
            with self.subTest(row.pointer, edge=row.edge, words=row.words):
                self.check(row)

    def test_heat(self) -> None:
        for row in HEATED:
            with self.subTest(row.pointer, edge=row.edge, words=row.words):
                self.check(row)

    def test_nothing_is_said_of_a_calm_recipe(self) -> None:
        """Nor of one whose acid gets its lye, whose milk is frozen, whose salt goes in at trace, that is scented as
        usual, or whose portions are not scented where there is no fragrance."""
        calm = recipe(scents=())
        milk = LiquidUse(liquid="goat-milk", share=0.3, goes="jug", frozen=True)
        fed = with_dose("citric-acid", 10)
        plain = recipe(scents=(), design=Design(portions=portions(0, 0), technique="drop-swirl"))
        for of in (calm, fed, recipe(liquids=(milk,), scents=()), salted("trace")(20), recipe(), plain):
            weighing = weigh(of, SHELF)
            assert weighing.sheet is not None
            self.assertEqual([c.message for c in weighing.cautions], [])
        self.assertEqual([c.message for c in heat(strong(0.25)).cautions if c.pointer == "/water"], [])

    def test_dangers(self) -> None:
        for row in DANGERS:
            with self.subTest(row.pointer, edge=row.edge, words=row.words):
                beyond, within = row.edge + row.hair, row.edge - row.hair
                self.assertEqual([x.danger for v in (within, beyond) for x in said(row, v)], [False, True])

    def test_whose_limit_is_not_known_is_named(self) -> None:
        of, shelf = limited(0.02)
        both = of.model_copy(update={"scents": (*of.scents, Scent(fragrance="moderate", load=0.01))})
        for recipe_, unknown in ((of, ()), (both, ("Test moderate",))):
            sheet = weigh(recipe_, shelf).sheet
            assert sheet is not None and sheet.limit is not None
            self.assertEqual(sheet.limit.unknown, unknown)

    def test_each_cups_own_grams_are_what_the_scale_must_show(self) -> None:
        """Two cups of .6 g are less than a scale of 1 g shows, though together they are more; what is stirred into more
        of what it is dispersed in needs no second dilution."""
        scales = SHELF.model_copy(update={"scales": Scales(scales=(Scale(step=1.0, capacity=10_000),))})
        design = Design(portions=portions(1, 1), technique="drop-swirl")
        for carrier, words in (
            (None, "99 of oil"),
            (Carrier(fat="olive", parts=19), "19 of olive"),
            (Carrier(parts=3), "99 of water"),
        ):
            of = with_dose("mica", 1.2, into=("A", "B"), carrier=carrier)
            of = of.model_copy(update={"size": ByWeight(grams=1000), "design": design})
            cautions = weigh(of, scales).cautions
            told = [READER(c.message) for c in cautions if c.pointer == "/additives/0/amount"]
            self.assertEqual(len(told), 1)
            self.assertRegex(told[0], rf"0\.6.g for A is less than .* Stir 1 part into {words} and weigh \d+.g of that")
