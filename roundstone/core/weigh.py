"""Recipe to sheet: every weight, the superfat as a range, and what is wrong or risky.

`weigh` never raises on a recipe: it returns faults instead of figures. When there is one fault there is no
sheet at all, so a lye weight is never shown beside a mistake.
"""

from collections.abc import Iterator, Sequence
from math import isfinite, sqrt

from . import alkali, mould
from .bar import Bar, describe
from .checks import POUND, faults_of, per_gram, percent
from .chemistry import KOH
from .recipe import ByMoulds, Recipe
from .shelf import Additive, Fat, Liquid, Shelf, Vessel
from .values import Caution, Fault, Grams, Share, Span, Value

SCALE_STEP = 0.1  # grams a usual bench scale shows [chosen]
PURITY_SPREAD = 0.01  # of the alkali about what the bag says [chosen]: bags state 97 to 99 %
CURED = 0.89  # of the wet weight is left after cure: common practice, loss 8-15 %


class Line(Value):
    """One thing on the scale. `share` is of all fats; `note` says when or why."""

    vessel: Vessel
    key: str
    name: str
    grams: Grams
    share: Share
    note: str = ""


class Superfat(Value):
    """The fat left over, three ways: as set, with what liquids bring and unfed acids take, and as nature varies.

    `likely` takes the fats' saponification values as independent within their published ranges, and the alkali's
    purity within PURITY_SPREAD; `extreme` puts everything at the same end at once.
    """

    set: Share
    with_liquids: Share
    likely: Span
    extreme: Span


class LimitUse(Value):
    """How much of the allowed fragrance is used, as Σ share ÷ limit: 1 is the limit. Cured soap is stronger."""

    wet: float
    cured: float
    unknown: tuple[str, ...]


class PortionWeight(Value):
    name: str
    share: Share
    batter: Grams
    fragrance: Grams


class DoseOn(Value):
    """One dose on every basis: grams per kilogram of fats, percent, and level teaspoons per pound."""

    per_kg: float
    percent: float
    tsp_lb: float


class Sheet(Value):
    """What to weigh. `factors` are the batter clock's covariates in their own units; `ice` is part of no other line."""

    lines: tuple[Line, ...]
    fats: Grams
    naoh: Grams
    koh: Grams
    water: Grams
    total: Grams
    saponification_value: float
    iodine_value: float
    lye_concentration: Share
    water_per_lye: float
    water_of_fats: Share
    superfat: Superfat
    limit: LimitUse | None
    doses: tuple[DoseOn, ...]
    factors: dict[str, float]
    bar: Bar
    millilitres: float
    fats_per_millilitre: float
    bars: tuple[mould.Bars, ...]
    portions: tuple[PortionWeight, ...]


class Weighing(Value):
    """Either a sheet or the faults that stand in its way; cautions come with a sheet. `whole` is all fats' share."""

    whole: Share
    sheet: Sheet | None
    faults: tuple[Fault, ...]
    cautions: tuple[Caution, ...] = ()


def _superfat(
    recipe: Recipe, fats: Sequence[tuple[float, Fat]], for_fats: float, liquid_fat: Sequence[tuple[float, Liquid]]
) -> Superfat:
    """`for_fats` is what is left for them, in moles per gram of fats; `liquid_fat` are grams of liquids with fat."""
    rows = [(m, f) for m, f in fats if f.kind != "acid"]
    typical = sum(m * f.sv for m, f in rows) / 1000 / KOH
    if typical == 0:
        whole = Span(low=recipe.superfat, high=recipe.superfat)
        return Superfat(set=recipe.superfat, with_liquids=recipe.superfat, likely=whole, extreme=whole)
    brought = sum(g * q.fat * q.fat_sv for g, q in liquid_fat) / 1000 / KOH
    # Alkali that is purer than the bag says works like fats that take less of it.
    purity = typical * PURITY_SPREAD
    down = [purity, *(m * (f.sv - f.sv_low) / 1000 / KOH for m, f in rows)]
    up = [purity, *(m * (f.sv_high - f.sv) / 1000 / KOH for m, f in rows)]

    def left(capacity: float) -> float:
        return 1 - for_fats / capacity

    def together(ways: Sequence[float]) -> float:
        return sqrt(sum(w * w for w in ways))

    return Superfat(
        set=recipe.superfat,
        with_liquids=left(typical + brought),
        likely=Span(low=left(typical - together(down)), high=left(typical + together(up))),
        extreme=Span(low=left(typical - sum(down)), high=left(typical + sum(up))),
    )


def scented_share(recipe: Recipe) -> float:
    """Share of the batter that gets fragrance."""
    return sum(p.share for p in recipe.design.portions if p.scented)


def weigh(recipe: Recipe, shelf: Shelf) -> Weighing:
    """Weigh a recipe. Everything is first reckoned per gram of fats, then sized once."""
    faults = faults_of(recipe, shelf)
    whole = sum(row.share for row in recipe.fats)
    if faults:
        return Weighing(whole=whole if isfinite(whole) else 0.0, sheet=None, faults=faults)

    rows = [(row.share / whole, shelf.fats[row.fat]) for row in recipe.fats]
    doses = [(per_gram(d, shelf.additives[d.additive]), shelf.additives[d.additive]) for d in recipe.additives]
    lye = alkali.reckon(recipe, rows, doses)
    water = alkali.water_for(recipe, lye.pure)
    uses = [(use, shelf.liquids[use.liquid]) for use in recipe.liquids]
    plain_share = 1 - sum(u.share for u, _ in uses)
    liquid = water / (plain_share + sum(u.share * q.water for u, q in uses))
    plain = plain_share * liquid
    in_jug = plain + sum(u.share * q.water * liquid for u, q in uses if u.goes == "jug")
    faults = tuple(alkali.check_dissolves(recipe, lye.pure, water, in_jug if recipe.stock is None else plain))
    if faults:
        return Weighing(whole=whole, sheet=None, faults=faults)

    load = sum(s.load for s in recipe.scents) * scented_share(recipe)
    solids = sum(u.share * q.solids * liquid for u, q in uses)
    other_volume = sum(d / a.density for d, a in doses) + load / mould.FRAGRANCE_DENSITY + solids / mould.SOLIDS_DENSITY
    concentration = lye.pure / (lye.pure + water)
    per_ml = mould.fats_per_millilitre(lye.weighed + water, concentration, recipe.pour_celsius, other_volume)
    batter = 1 + lye.weighed + liquid + sum(d for d, _ in doses)
    if isinstance(recipe.size, ByMoulds):
        fats = sum(mould.millilitres(m) for m in recipe.size.moulds) * (1 + recipe.size.spare) * per_ml
        bars = tuple(mould.bars(m, per_ml * (batter + load)) for m in recipe.size.moulds)
    else:
        fats, bars = recipe.size.grams, ()

    sheet = Sheet(
        lines=tuple(_lines(recipe, shelf, rows, doses, lye, plain, liquid, fats)),
        fats=fats,
        naoh=lye.naoh_weighed * fats,
        koh=lye.koh_weighed * fats,
        water=water * fats,
        total=(batter + load) * fats,
        saponification_value=sum(m * f.sv for m, f in rows),
        iodine_value=sum(m * f.iodine_value for m, f in rows),
        lye_concentration=concentration,
        water_per_lye=water / lye.pure,
        water_of_fats=water,
        superfat=_superfat(recipe, rows, lye.for_fats - lye.taken, [(u.share * liquid, q) for u, q in uses]),
        limit=_limit(recipe, shelf, batter),
        doses=tuple(DoseOn(per_kg=1000 * d, percent=100 * d, tsp_lb=d * POUND / a.spoon) for d, a in doses),
        factors=_factors(recipe, rows, doses, [(u.share * liquid, q) for u, q in uses], concentration),
        bar=describe(rows, {a.id: d for d, a in doses}, recipe.superfat, concentration),
        millilitres=fats / per_ml,
        fats_per_millilitre=per_ml,
        bars=bars,
        portions=tuple(
            PortionWeight(
                name=p.name,
                share=p.share,
                batter=p.share * batter * fats,
                fragrance=sum(s.load for s in recipe.scents) * p.share * fats if p.scented else 0.0,
            )
            for p in recipe.design.portions
        ),
    )
    return Weighing(whole=whole, sheet=sheet, faults=(), cautions=tuple(_cautions(recipe, shelf, sheet, doses)))


def _lines(
    recipe: Recipe,
    shelf: Shelf,
    rows: Sequence[tuple[float, Fat]],
    doses: Sequence[tuple[float, Additive]],
    lye: alkali.Alkali,
    plain: float,
    liquid: float,
    fats: float,
) -> Iterator[Line]:
    """Everything on the scale, in the order of work within each vessel."""

    def line(vessel: Vessel, key: str, name: str, share: float, note: str = "") -> Line:
        return Line(vessel=vessel, key=key, name=name, grams=share * fats, share=share, note=note)

    for share, fat in rows:
        yield line("pot", fat.id, fat.name, share)
    in_stock = lye.naoh * (1 - recipe.stock) / recipe.stock if recipe.stock else 0.0
    water = max(plain - in_stock, 0.0)
    yield line("jug", "water", "Water", water * (1 - recipe.ice))
    if recipe.ice > 0:
        yield line("jug", "ice", "Ice", water * recipe.ice, "in the water before the lye")
    for use in recipe.liquids:
        q = shelf.liquids[use.liquid]
        share = use.share * liquid
        brings = f"{share * q.fat * fats:.1f} g fat, {share * q.sugars * fats:.1f} g sugars"
        how = "frozen; " if use.frozen else ""
        where = {"jug": "", "pot": "into the fats; ", "stir": "at trace; "}[use.goes]
        yield line(use.goes, f"{q.id}-{use.goes}", q.name, share, f"{how}{where}brings {brings}")
    for dose, additive in doses:
        takes = dose * additive.naoh * fats
        eats = f"; takes up {takes:.1f} g of sodium hydroxide" if takes else ""
        yield line(additive.vessel, additive.id, additive.name, dose, additive.moment + eats)
    never = "into the liquid, never the reverse"
    if recipe.stock is not None:
        name = f"Stock lye {percent(recipe.stock)}"
        yield line("jug", "stock", name, lye.naoh / recipe.stock, f"holds {lye.naoh * fats:.1f} g of sodium hydroxide")
    elif lye.naoh > 0:
        yield line("jug", "naoh", "Sodium hydroxide", lye.naoh_weighed, f"{percent(recipe.naoh_purity)} pure; {never}")
    if lye.koh > 0:
        yield line("jug", "koh", "Potassium hydroxide", lye.koh_weighed, f"{percent(recipe.koh_purity)} pure; {never}")
    into = ", ".join(p.name for p in recipe.design.portions if p.scented) or "no portion"
    for scent in recipe.scents:
        name = shelf.fragrances[scent.fragrance].name
        yield line(
            "stir", f"scent-{scent.fragrance}", name, scent.load * scented_share(recipe), f"into {into}, by hand"
        )


def _limit(recipe: Recipe, shelf: Shelf, batter: float) -> LimitUse | None:
    """Fragrance in a scented bar against what the certificates allow; the uses of a blend add up."""
    if not recipe.scents:
        return None
    load = sum(s.load for s in recipe.scents)
    fragrances = [(s.load, shelf.fragrances[s.fragrance]) for s in recipe.scents]
    used = sum(part / (batter + load) / f.limit for part, f in fragrances if f.limit)
    unknown = tuple(f.name for _, f in fragrances if not f.limit)
    return LimitUse(wet=used, cured=used / CURED, unknown=unknown)


def _factors(
    recipe: Recipe,
    rows: Sequence[tuple[float, Fat]],
    doses: Sequence[tuple[float, Additive]],
    liquids: Sequence[tuple[float, Liquid]],
    concentration: float,
) -> dict[str, float]:
    """The covariates of the batter clock: acid shares as fractions, doses in g/kg fats."""

    def acids(*names: str) -> float:
        return sum(m * f.acid_share(*names) for m, f in rows)

    factors = {
        "lauric": acids("12:0", "14:0"),
        "palmitic": acids("16:0", "18:0"),
        "ricinoleic": acids("ricinoleic"),
        "linoleic": acids("18:2", "18:3"),
        "lye": concentration,
        "superfat": recipe.superfat,
        "sugar": 1000 * sum(g * q.sugars for g, q in liquids if q.kind != "milk"),
        "milk": 1000 * sum(g * q.solids for g, q in liquids if q.kind == "milk"),
        "clay": 0.0,
        "lactate": 0.0,
        "salt": 0.0,
        "ethanol": 1000 * sum(g * q.alcohol for g, q in liquids),
    }
    for dose, additive in doses:
        if additive.factor:
            factors[additive.factor] += 1000 * dose * additive.active
    return factors


def _cautions(recipe: Recipe, shelf: Shelf, sheet: Sheet, doses: Sequence[tuple[float, Additive]]) -> Iterator[Caution]:
    low = sheet.superfat.extreme.low
    if low < 0:
        sure = sheet.superfat.likely.low < 0
        says = (
            f"With every fat at the low end of its range the superfat would be {percent(low)}: lye heavy. "
            + ("Raise the superfat" if sure else "Consider a higher superfat")
            + ", or use the saponification value of your own certificate, and test the bar before it is used."
        )
        yield Caution(pointer="/superfat", says=says, danger=sure)
    if sheet.lye_concentration > 0.40:
        says = "Above 40 % the lye runs very hot and the batter moves fast. Glass and thin plastic can fail."
        yield Caution(pointer="/water", says=says, danger=True)
    if sheet.lye_concentration < 0.25:
        yield Caution(pointer="/water", says="Below 25 % the batter is slow, the bar soft, and it shrinks and warps.")
    if recipe.koh_share > 0:
        says = "With potassium hydroxide the soap stays softer; the batter clock knows sodium soap only."
        yield Caution(pointer="/koh_share", says=says)
    if not recipe.feed_acids and any(a.naoh for d, a in doses if d):
        says = f"The acids take lye from the fats: the superfat becomes {percent(sheet.superfat.with_liquids)}."
        yield Caution(pointer="/feed_acids", says=says)
    yield from _liquid_cautions(recipe, shelf)
    yield from _dose_cautions(sheet, doses)
    yield from _scent_cautions(recipe, sheet)
    if recipe.pour_celsius > 55:
        says = "Hot batter burns and can rise out of the pot: leave headroom."
        yield Caution(pointer="/pour_celsius", says=says, danger=True)


def _liquid_cautions(recipe: Recipe, shelf: Shelf) -> Iterator[Caution]:
    for i, use in enumerate(recipe.liquids):
        q = shelf.liquids[use.liquid]
        if use.share > 0 and use.goes == "jug" and (q.kind == "milk" or q.sugars > 0.03) and not use.frozen:
            says = "Milk and sugar scorch in hot lye: use it frozen or ice cold, add the lye slowly, and watch it."
            yield Caution(pointer=f"/liquids/{i}/share", says=says)
        if q.alcohol > 0:
            says = "Boil the alcohol and the gas off first: it foams over with lye and speeds the batter."
            yield Caution(pointer=f"/liquids/{i}/share", says=says, danger=True)


def _dose_cautions(sheet: Sheet, doses: Sequence[tuple[float, Additive]]) -> Iterator[Caution]:
    for i, (dose, additive) in enumerate(doses):
        at = f"/additives/{i}/amount"
        if dose * 1000 > additive.most:
            yield Caution(pointer=at, says=f"More than the usual most of {additive.most:g} g per kg of fats.")
        grams = dose * sheet.fats
        if 0 < grams < SCALE_STEP:
            parts = 10 if grams * 10 >= SCALE_STEP else 100
            says = (
                f"{grams:.2g} g is less than a {SCALE_STEP:g} g scale shows. Stir 1 part into {parts - 1} of oil and "
                f"weigh {grams * parts:.1f} g of that."
            )
            yield Caution(pointer=at, says=says)
        if additive.danger and dose > 0:
            yield Caution(pointer=at, says=additive.danger, danger=True)


def _scent_cautions(recipe: Recipe, sheet: Sheet) -> Iterator[Caution]:
    for i, scent in enumerate(recipe.scents):
        if scent.load > 0.06:
            says = "Above 6 % the forecast is a guess, and the supplier's limit is easily passed."
            yield Caution(pointer=f"/scents/{i}/load", says=says)
    if recipe.scents and not scented_share(recipe):
        yield Caution(pointer="/scents/0/load", says="No portion is scented, so no fragrance is weighed.")
    if sheet.limit is not None and sheet.limit.cured > 1:
        says = (
            f"The cured bar holds {sheet.limit.cured:.2f} times the fragrance its certificates allow together. "
            "Use less; the supplier's certificate rules."
        )
        yield Caution(pointer=f"/scents/{len(recipe.scents) - 1}/load", says=says, danger=True)
