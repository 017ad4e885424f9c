"""A recipe per gram of fats: alkali, liquid and doses, before it is sized. What cannot be is told as faults."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from ..recipe import LiquidUse, Recipe, moment_of, mould
from ..shelf import Fat, Liquid, Shelf, acid_value
from ..values import Fault, Grams, RuleError
from . import alkali
from .doses import Dosed, dosed

# mg KOH that a gram of stearic acid takes up: as so much of it free acids are counted in the clock.
STEARIC = acid_value({"18:0": 1.0})


@dataclass(frozen=True)
class Amounts:
    """Grams per gram of fats. `liquid` is all of it, the plain water and every other; `base` is the batter that a dose
    by weight of batter counts: before anything is dispersed into it."""

    recipe: Recipe
    rows: Sequence[tuple[float, Fat]]
    uses: Sequence[tuple[LiquidUse, Liquid]]
    doses: Sequence[Dosed]
    lye: alkali.Alkali
    liquid: Grams
    base: Grams

    @property
    def liquids(self) -> list[tuple[Grams, Liquid]]:
        return [(u.share * self.liquid, q) for u, q in self.uses]

    @property
    def plain(self) -> Grams:
        """Water as such, ice and a stock lye's included."""
        return (1 - sum(u.share for u, _ in self.uses)) * self.liquid

    @cached_property
    def water(self) -> Grams:
        """All water, by the recipe's rule."""
        return alkali.water_for(self.recipe, self.lye.pure)

    @property
    def concentration(self) -> float:
        return self.lye.pure / (self.lye.pure + self.water)

    @property
    def wetting(self) -> Grams:
        """Water that powders are dispersed in."""
        return sum(d.carrier for d in self.doses if d.dose.carrier and not d.dose.carrier.fat)

    @property
    def uncounted(self) -> Grams:
        """Of that, what comes on top of the recipe's water."""
        return 0.0 if self.recipe.count_carriers else self.wetting

    @cached_property
    def undosed(self) -> dict[str, float]:
        """The covariates of the batter clock without any dose (see `factors`): acid shares as fractions, and what the
        liquids bring, in g/kg fats."""

        def acids(*names: str) -> float:
            return sum(m * f.acid_share(*names) for m, f in self.rows)

        def fats(factor: str) -> float:
            return sum(m for m, f in self.rows if f.covariate == factor)

        liquids = self.liquids
        return {
            "lauric": acids("12:0", "14:0"),
            "palmitic": acids("16:0", "18:0"),
            "ricinoleic": acids("ricinoleic"),
            "linoleic": acids("18:2", "18:3"),
            "lye": self.concentration,
            "superfat": self.recipe.superfat,
            "sugar": 1000 * sum(g * q.sugars for g, q in liquids if q.kind != "milk"),
            "milk": 1000 * sum(g * (q.solids - q.fat) for g, q in liquids if q.kind == "milk"),
            "clay": 0.0,
            "lactate": 0.0,
            "salt": 1000 * sum(g * q.salt for g, q in liquids),
            "ethanol": 1000 * sum(g * q.alcohol for g, q in liquids),
            "acid": 1000 * sum(m * f.sv / STEARIC for m, f in self.rows if f.kind == "acid"),
            "powder": 0.0,
            "pomace": fats("pomace"),
            "hydrogenated": fats("hydrogenated"),
            "offcuts": 0.0,
            "potash": self.recipe.koh_share,
        }

    def oils(self, shelf: Shelf) -> list[tuple[Grams, Fat]]:
        """Oils that powders are dispersed in."""
        return _oils(self.doses, shelf)

    @property
    def batter(self) -> Grams:
        """All of it but the fragrance."""
        return 1 + self.lye.weighed + self.liquid + sum(d.grams + d.carrier for d in self.doses)

    def room(self, load: float, shelf: Shelf) -> float:
        """Millilitres that all but fats, lye and water take up."""
        volume = sum((d.grams - d.soaked) / d.additive.density for d in self.doses) + load / mould.FRAGRANCE_DENSITY
        volume += sum(g * q.solids for g, q in self.liquids) / mould.SOLIDS_DENSITY
        volume += sum(g for g, _ in self.oils(shelf)) / mould.fat_density(self.recipe.pour_celsius)
        return volume + self.uncounted


def _oils(doses: Sequence[Dosed], shelf: Shelf) -> list[tuple[Grams, Fat]]:
    return [(d.carrier, shelf.fats[d.dose.carrier.fat]) for d in doses if d.dose.carrier and d.dose.carrier.fat]


def amounts_of(recipe: Recipe, shelf: Shelf) -> Amounts:
    """The amounts of a recipe that has no faults of its own; RuleError where they cannot be."""
    whole = sum(row.share for row in recipe.fats)
    rows = [(row.share / whole, shelf.fats[row.fat]) for row in recipe.fats]
    uses = [(use, shelf.liquids[use.liquid]) for use in recipe.liquids]
    # A dose by weight of batter counts the batter before anything is dispersed into it. No acid is dosed so.
    lye, liquid = _lye_and_liquid(recipe, rows, uses, dosed(recipe, shelf, 0.0), (), 0.0)
    base = 1 + lye.weighed + liquid
    doses = dosed(recipe, shelf, base)
    soaked = sum(d.soaked for d in doses)
    oils: Sequence[tuple[Grams, Fat]] = ()
    if recipe.count_carriers:
        oils = _oils(doses, shelf)
        soaked += sum(d.carrier for d in doses if d.dose.carrier and not d.dose.carrier.fat)
    lye, liquid = _lye_and_liquid(recipe, rows, uses, doses, oils, soaked)
    of = Amounts(recipe, rows, uses, doses, lye, liquid, base)
    faults = _too_wet(of) if liquid < 0 else _undissolved(of)
    if faults:
        raise RuleError(*faults)
    return of


def _lye_and_liquid(
    recipe: Recipe,
    rows: Sequence[tuple[float, Fat]],
    uses: Sequence[tuple[LiquidUse, Liquid]],
    doses: Sequence[Dosed],
    oils: Sequence[tuple[float, Fat]],
    soaked: Grams,
) -> tuple[alkali.Alkali, Grams]:
    """The alkali, and all liquid, of which `soaked` comes with other things.

    A sour liquid takes alkali of its own, more alkali wants more water, and that is more of the sour liquid: both are
    in proportion, so it is one division.
    """
    acids = [(d.grams, d.additive.naoh) for d in doses]
    lye = alkali.reckon(recipe, rows, acids, oils)
    watery = 1 - sum(u.share * (1 - q.water) for u, q in uses)
    sour = sum(u.share * q.naoh for u, q in uses) if recipe.feed_acids else 0.0
    water = alkali.water_for(recipe, lye.pure)
    if sour > 0:
        a_gram = alkali.reckon(recipe, rows, [*acids, (1.0, sour)], oils).pure - lye.pure
        thirst = watery - (alkali.water_for(recipe, lye.pure + a_gram) - water)
        if thirst <= 0:
            sourest = max(range(len(uses)), key=lambda i: uses[i][0].share * uses[i][1].naoh)
            message = f"{uses[sourest][1].name} takes up more lye than its own water can hold: take less of it."
            raise RuleError(Fault(pointer=f"/liquids/{sourest}/share", message=message))
        liquid = (water - soaked) / thirst
        return alkali.reckon(recipe, rows, [*acids, (liquid, sour)], oils), liquid
    liquid = (water - soaked) / watery
    return alkali.reckon(recipe, rows, [*acids, *((u.share * liquid, q.naoh) for u, q in uses)], oils), liquid


def _undissolved(of: Amounts) -> tuple[Fault, ...]:
    in_jug = of.plain + sum(u.share * q.water * of.liquid for u, q in of.uses if u.goes == "jug")
    in_jug += sum(d.soaked for d in of.doses if moment_of(d.dose, d.additive) == "before-lye")
    stands = in_jug if of.recipe.stock is None else of.plain
    return tuple(alkali.check_dissolves(of.recipe, of.lye.pure, of.water, stands))


def _too_wet(of: Amounts) -> tuple[Fault, ...]:
    counted = of.recipe.count_carriers
    wettest = max(of.doses, key=lambda d: d.soaked + (d.carrier if counted else 0.0))
    message = f"{wettest.additive.name} alone brings more water than this recipe has: take less of it, or more water."
    return (Fault(pointer=f"/additives/{wettest.row}/amount", message=message),)
