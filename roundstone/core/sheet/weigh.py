"""Recipe to sheet: every weight, the superfat as a range, and what is wrong or risky.

`weigh` never raises on a recipe: it returns faults instead of figures. When there is one fault there is no sheet. Only
a fault of the design, which no lye hangs on, leaves the weights of fats, liquids and lye standing.
"""

from collections.abc import Sequence
from math import isfinite

from ..recipe import ONE_PORTION, ByMoulds, ByWeight, Recipe, mould
from ..shelf import Shelf
from ..values import Fault, Grams, RuleError
from .amounts import Amounts, amounts_of
from .bar import describe
from .cautions import cautions_of
from .certified import certified
from .checks import faults_of
from .doses import on_every_basis
from .factors import combined_factors, factors_of, portion_factors
from .limits import limit_of
from .lines import lines_of
from .portions import portions_of
from .sheet import Dispersed, Line, LineKind, Sheet, Weighing
from .superfat import superfat_of, takes

SOUND: tuple[LineKind, ...] = ("fat", "alkali", "stock", "water", "ice", "liquid")


def weigh(recipe: Recipe, shelf: Shelf) -> Weighing:
    """Weigh a recipe. Everything is first reckoned per gram of fats, then sized once."""
    faults = faults_of(recipe, shelf)
    whole = sum(row.share for row in recipe.fats)
    by_weight = recipe.size.grams if isinstance(recipe.size, ByWeight) else None
    rows_weigh = tuple(row.share * by_weight for row in recipe.fats) if by_weight is not None else ()
    rows_weigh = rows_weigh if all(map(isfinite, rows_weigh)) else ()
    if faults:
        whole = whole if isfinite(whole) else 0.0
        sound = _sound(recipe, shelf, faults)
        return Weighing(whole=whole, sheet=None, faults=faults, fat_grams=rows_weigh, sound=sound)
    lots = certified(recipe, shelf)
    try:
        of = amounts_of(recipe, lots)
    except RuleError as broken:
        return Weighing(whole=whole, sheet=None, faults=broken.faults, fat_grams=rows_weigh)
    sheet = _sized(of, lots)
    told = cautions_of(recipe, shelf, sheet, [(d.grams, d.dose, d.additive) for d in of.doses])
    return Weighing(whole=whole, sheet=sheet, faults=(), cautions=tuple(told), fat_grams=rows_weigh)


def _sound(recipe: Recipe, shelf: Shelf, faults: Sequence[Fault]) -> tuple[Line, ...]:
    """What is weighed whatever the design is, where that alone is at fault: the same batter poured as one portion.

    What goes into one portion alone is left out; where that takes lye of its own, or brings fat, nothing stands.
    """
    alone = [d for d in recipe.additives if d.into]
    things = [shelf.additives.get(d.additive) for d in alone]
    of_design = all(f.pointer.startswith("/design") or f.pointer.endswith("/into") for f in faults)
    if not of_design or any(a is None or a.naoh or a.fat for a in things):
        return ()
    if recipe.count_carriers and any(d.carrier for d in alone):
        return ()
    rest = tuple(d for d in recipe.additives if not d.into)
    sheet = weigh(recipe.model_copy(update={"design": ONE_PORTION, "additives": rest}), shelf).sheet
    return () if sheet is None else tuple(x for x in sheet.lines if x.kind in SOUND)


def _sized(of: Amounts, shelf: Shelf) -> Sheet:
    recipe, scales = of.recipe, shelf.scales
    load = sum(s.load for s in recipe.scents) * recipe.scented_share
    water_and_lye = of.lye.weighed + of.water
    per_ml = mould.fats_per_millilitre(water_and_lye, of.concentration, recipe.pour_celsius, of.room(load, shelf))
    if isinstance(recipe.size, ByMoulds):
        into = recipe.embedded
        fats = sum(mould.free(m, into) for m in recipe.size.moulds) * (1 + recipe.size.spare) * per_ml
        bars = tuple(mould.bars(m, per_ml * (of.batter + load), into) for m in recipe.size.moulds)
    else:
        fats, bars = recipe.size.grams, ()
    lines = tuple(lines_of(of, shelf, fats))
    each = [takes(x, recipe, shelf) for x in lines]
    superfat = superfat_of(recipe, shelf, lines, each)
    portions = tuple(portions_of(of, shelf, lines, each, fats, superfat))
    return Sheet(
        lines=lines,
        fats=fats,
        naoh=of.lye.naoh_weighed * fats,
        koh=of.lye.koh_weighed * fats,
        water=of.water * fats,
        total=(of.batter + load) * fats,
        fats_shown=scales.sum(x.reading for x in lines if x.kind == "fat"),
        total_shown=scales.sum(x.reading for x in lines),
        saponification_value=sum(m * f.sv for m, f in of.rows),
        iodine_value=sum(m * f.iodine_value for m, f in of.rows),
        lye_concentration=of.concentration,
        water_per_lye=of.water / of.lye.pure,
        water_of_fats=of.water,
        superfat=superfat,
        limit=limit_of(recipe, shelf, portions),
        doses=tuple(on_every_basis(d, of.base, lines, scales) for d in of.doses),
        factors=factors_of(of),
        combined=combined_factors(of),
        shared=portion_factors(of),
        bar=describe(of.rows, [(d.grams, d.additive) for d in of.doses], recipe.superfat, of.concentration),
        millilitres=fats / per_ml,
        fats_per_millilitre=per_ml,
        bars=bars,
        portions=portions,
        dispersed=_dispersed(of, shelf, fats),
    )


def _dispersed(of: Amounts, shelf: Shelf, fats: Grams) -> Dispersed | None:
    oil = sum(g for g, _ in of.oils(shelf))
    if not oil + of.wetting:
        return None
    strength = of.lye.pure / (of.lye.pure + of.water + of.uncounted)
    return Dispersed(oil=oil * fats, water=of.wetting * fats, lye_concentration=strength)
