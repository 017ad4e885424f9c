"""Recipe to sheet: every weight, the superfat as a range, and what is wrong or risky.

`weigh` never raises on a recipe: it returns faults instead of figures. When there is one fault there is no
sheet at all, so a lye weight is never shown beside a mistake.
"""

from collections.abc import Iterator, Sequence
from math import isfinite, sqrt
from typing import Literal

from . import mould
from .chemistry import naoh_per_gram
from .design import check as check_design
from .recipe import ByLoaf, Recipe
from .shelf import Additive, Fat, Shelf, Vessel
from .values import Caution, Fault, Grams, Mend, Share, Span, Value

MOST_GRAMS = 200_000.0  # chosen: ten times a big workshop batch; beyond it a figure is a slip of the finger
STRATA = {
    "quick": ("8:0", "10:0", "12:0", "14:0"),
    "hard": ("16:0", "18:0", "20:0", "22:0"),
    "oleic": ("16:1", "18:1", "20:1", "22:1"),
    "soft": ("18:2", "18:3"),
    "castor": ("ricinoleic",),
}


class Line(Value):
    """One thing on the scale. `share` is of all fats; `note` says when or why."""

    vessel: Vessel
    key: str
    name: str
    grams: Grams
    share: Share
    note: str = ""


class Superfat(Value):
    """The fat left over, three ways: as set, with what the milk's fat adds, and as nature varies.

    `likely` takes the fats' saponification values as independent within their published ranges; `extreme`
    puts every fat at the same end at once.
    """

    set: Share
    with_milk: Share
    likely: Span
    extreme: Span


class PortionWeight(Value):
    name: str
    share: Share
    batter: Grams
    fragrance: Grams


class Sheet(Value):
    """What to weigh. `strata` are shares of the fatty acids, `factors` the batter clock's covariates."""

    lines: tuple[Line, ...]
    fats: Grams
    lye: Grams
    water: Grams
    milk: Grams
    total: Grams
    saponification_value: float
    water_per_lye: float
    superfat: Superfat
    strata: dict[str, Share]
    factors: dict[str, float]
    millilitres: float
    fats_per_millilitre: float
    portions: tuple[PortionWeight, ...]


class Weighing(Value):
    """Either a sheet or the faults that stand in its way; cautions come with a sheet. `whole` is all fats' share."""

    whole: Share
    sheet: Sheet | None
    faults: tuple[Fault, ...]
    cautions: tuple[Caution, ...] = ()


def percent(share: float, digits: int = 1) -> str:
    return f"{share * 100:.{digits}f}".rstrip("0").rstrip(".") + " %"


def _check_fats(recipe: Recipe, shelf: Shelf) -> Iterator[Fault]:
    if not recipe.fats:
        yield Fault(pointer="/fats", says="Add a fat: there is nothing to make soap of yet.")
        return
    seen: set[str] = set()
    sound = True
    for i, row in enumerate(recipe.fats):
        at = f"/fats/{i}/share"
        if row.fat not in shelf.fats:
            yield Fault(pointer=f"/fats/{i}/fat", says="This fat is not on the shelf.")
        elif row.fat in seen:
            yield Fault(pointer=f"/fats/{i}/fat", says="This fat stands here twice. Put it in one row.")
        seen.add(row.fat)
        if row.share < 0:
            yield Fault(pointer=at, says="A share cannot be negative.")
        elif row.share == 0:
            yield Fault(pointer=at, says="Give this fat a share, or take it out.")
        elif row.share > 1:
            yield Fault(pointer=at, says="A share cannot be above 100 %.")
        sound = sound and 0 < row.share <= 1
    total = sum(row.share for row in recipe.fats)
    if sound and abs(total - 1) > 0.0005:
        short = 1 - total
        word = f"{percent(short, 2)} is missing" if short > 0 else f"{percent(-short, 2)} too much"
        yield Fault(
            pointer="/fats",
            says=f"The fats add up to {percent(total, 2)}: {word}. No lye is weighed until they make 100 %.",
            mends=tuple(_balances(recipe, shelf, short)),
        )


def _balances(recipe: Recipe, shelf: Shelf, short: float) -> Iterator[Mend]:
    """The rows that could take up the whole difference, largest first."""
    rows = sorted(enumerate(recipe.fats), key=lambda r: -r[1].share)
    for i, row in rows[:3]:
        value = row.share + short
        if 0 < value <= 1 and row.fat in shelf.fats:
            label = f"make {shelf.fats[row.fat].name} {percent(value, 2)}"
            yield Mend(label=label, pointer=f"/fats/{i}/share", value=round(value, 6))


def _check_band(value: float, low: float, high: float, pointer: str, says: str) -> Iterator[Fault]:
    if not low <= value <= high:
        yield Fault(pointer=pointer, says=says)


def _check_lye(recipe: Recipe) -> Iterator[Fault]:
    yield from _check_band(
        recipe.superfat, 0, 0.20, "/superfat", "Superfat runs from 0 to 20 %. Below 0 the soap would be caustic."
    )
    yield from _check_band(
        recipe.lye_concentration,
        0.20,
        0.50,
        "/lye_concentration",
        "Lye concentration runs from 20 to 50 %. Above 50 % the lye does not dissolve.",
    )
    yield from _check_band(
        recipe.naoh_purity, 0.80, 1.0, "/naoh_purity", "Purity runs from 80 to 100 %; the bag or its certificate says."
    )


def _check_liquids_and_additives(recipe: Recipe, shelf: Shelf) -> Iterator[Fault]:
    if recipe.milk is not None:
        liquid = shelf.liquids.get(recipe.milk.liquid)
        if liquid is None or liquid.kind != "milk":
            yield Fault(pointer="/milk/liquid", says="This milk is not on the shelf.")
        yield from _check_band(
            recipe.milk.share, 0, 1, "/milk/share", "Milk can replace from 0 to 100 % of the liquid."
        )
    seen: set[str] = set()
    for i, dose in enumerate(recipe.additives):
        additive = shelf.additives.get(dose.additive)
        at = f"/additives/{i}"
        if additive is None:
            yield Fault(pointer=f"{at}/additive", says="This is not on the shelf.")
            continue
        if dose.additive in seen:
            yield Fault(pointer=f"{at}/additive", says=f"{additive.name} stands here twice. Put it in one row.")
        seen.add(dose.additive)
        if dose.per_kg < 0:
            yield Fault(pointer=f"{at}/per_kg", says="A dose cannot be negative.")
        elif dose.per_kg > 5 * additive.most:
            says = f"More than {5 * additive.most:g} g per kg of fats: is the decimal point in the right place?"
            yield Fault(pointer=f"{at}/per_kg", says=says)


def _check_scent(recipe: Recipe, shelf: Shelf) -> Iterator[Fault]:
    if recipe.scent is None:
        return
    if recipe.scent.fragrance not in shelf.fragrances:
        yield Fault(pointer="/scent/fragrance", says="This fragrance is not on the shelf.")
    says = "Fragrance runs from 0 to 10 % of the fats it goes into."
    yield from _check_band(recipe.scent.load, 0, 0.10, "/scent/load", says)


def _check_size(recipe: Recipe) -> Iterator[Fault]:
    size = recipe.size
    if isinstance(size, ByLoaf):
        for field, name in (("length", "length"), ("width", "width"), ("fill", "fill height")):
            value = getattr(size, field)
            if not 0.5 <= value <= 200:
                yield Fault(pointer=f"/size/{field}", says=f"The {name} runs from 0.5 to 200 cm.")
        if all(0.5 <= v <= 200 for v in (size.length, size.width, size.fill)) and size.millilitres > MOST_GRAMS:
            yield Fault(pointer="/size/length", says="This mould holds more than 200 litres: check the measures.")
    else:
        says = f"Fats run from 10 g to {MOST_GRAMS / 1000:g} kg."
        yield from _check_band(size.grams, 10, MOST_GRAMS, "/size/grams", says)


def _check_temperature(recipe: Recipe) -> Iterator[Fault]:
    says = "Pour temperature runs from 10 to 75 °C."
    yield from _check_band(recipe.pour_celsius, 10, 75, "/pour_celsius", says)
    says = "The room runs from 0 to 45 °C."
    yield from _check_band(recipe.room_celsius, 0, 45, "/room_celsius", says)


def _faults(recipe: Recipe, shelf: Shelf) -> tuple[Fault, ...]:
    name = () if recipe.name else (Fault(pointer="/name", says="Give the recipe a name to find it by."),)
    return (
        *name,
        *_check_fats(recipe, shelf),
        *_check_lye(recipe),
        *_check_liquids_and_additives(recipe, shelf),
        *_check_scent(recipe, shelf),
        *_check_size(recipe),
        *_check_temperature(recipe),
        *check_design(recipe, shelf),
    )


def _superfat(recipe: Recipe, shelf: Shelf, lye: float, milk_fat: float, milk_sv: float) -> Superfat:
    """Per gram of fats: `lye` [g NaOH, pure, for the fats], `milk_fat` [g]."""
    rows = [(row.share, shelf.fats[row.fat]) for row in recipe.fats]
    typical = sum(m * naoh_per_gram(f.sv) for m, f in rows)

    def left(capacity: float) -> float:
        return 1 - lye / capacity

    def reach(end: Literal["sv_low", "sv_high"]) -> tuple[float, float]:
        away = [m * naoh_per_gram(getattr(f, end) - f.sv) for m, f in rows]
        independent = sqrt(sum(d * d for d in away))
        return typical + (independent if end == "sv_high" else -independent), typical + sum(away)

    likely_low, extreme_low = reach("sv_low")
    likely_high, extreme_high = reach("sv_high")
    return Superfat(
        set=recipe.superfat,
        with_milk=left(typical + milk_fat * naoh_per_gram(milk_sv)),
        likely=Span(low=left(likely_low), high=left(likely_high)),
        extreme=Span(low=left(extreme_low), high=left(extreme_high)),
    )


def scented_share(recipe: Recipe) -> float:
    """Share of the batter that gets fragrance."""
    return sum(p.share for p in recipe.design.portions if p.scented)


def weigh(recipe: Recipe, shelf: Shelf) -> Weighing:
    """Weigh a recipe. Everything is first reckoned per gram of fats, then sized once."""
    faults = _faults(recipe, shelf)
    whole = sum(row.share for row in recipe.fats)
    if faults:
        return Weighing(whole=whole if isfinite(whole) else 0.0, sheet=None, faults=faults)

    rows = [(row.share, shelf.fats[row.fat]) for row in recipe.fats]
    doses = [(d.per_kg / 1000, shelf.additives[d.additive]) for d in recipe.additives]
    sv = sum(m * f.sv for m, f in rows) / whole
    for_fats = (1 - recipe.superfat) * sum(m * naoh_per_gram(f.sv) for m, f in rows) / whole
    # An acid takes its alkali first and whole: the superfat must not discount it, or it eats into the fats' lye.
    pure = for_fats + sum(d * a.naoh for d, a in doses)
    lye = pure / recipe.naoh_purity
    water_needed = pure * (1 - recipe.lye_concentration) / recipe.lye_concentration

    milk = shelf.liquids[recipe.milk.liquid] if recipe.milk else None
    milk_share = recipe.milk.share if recipe.milk else 0.0
    liquid = water_needed / (1 - milk_share * (milk.solids if milk else 0.0))
    milk_grams, water = milk_share * liquid, (1 - milk_share) * liquid
    milk_solids = milk_grams * milk.solids if milk else 0.0
    load = recipe.scent.load * scented_share(recipe) if recipe.scent else 0.0

    other_volume = (
        sum(d / a.density for d, a in doses) + load / mould.FRAGRANCE_DENSITY + milk_solids / mould.MILK_SOLIDS_DENSITY
    )
    per_ml = mould.fats_per_millilitre(
        lye + water_needed, lye / (lye + water_needed), recipe.pour_celsius, other_volume
    )
    fats = recipe.size.millilitres * per_ml if isinstance(recipe.size, ByLoaf) else recipe.size.grams
    per_gram = 1 + lye + water + milk_grams + sum(d for d, _ in doses) + load

    lines = [Line(vessel="pot", key=f.id, name=f.name, grams=m / whole * fats, share=m) for m, f in rows]
    lines.append(Line(vessel="jug", key="water", name="Water", grams=water * fats, share=water))
    if milk is not None:
        note = f"cold; brings {milk_grams * milk.fat * fats:.1f} g fat, {milk_grams * milk.sugars * fats:.1f} g sugars"
        lines.append(
            Line(vessel="jug", key=milk.id, name=milk.name, grams=milk_grams * fats, share=milk_grams, note=note)
        )
    for dose, additive in doses:
        eats = f"; takes up {dose * additive.naoh * fats:.1f} g lye" if additive.naoh else ""
        note = additive.moment + eats
        lines.append(
            Line(vessel=additive.vessel, key=additive.id, name=additive.name, grams=dose * fats, share=dose, note=note)
        )
    note = f"{percent(recipe.naoh_purity)} pure; into the liquid, never the reverse"
    lines.append(Line(vessel="jug", key="naoh", name="Sodium hydroxide", grams=lye * fats, share=lye, note=note))
    if recipe.scent is not None:
        fragrance = shelf.fragrances[recipe.scent.fragrance]
        into = ", ".join(p.name for p in recipe.design.portions if p.scented) or "no portion"
        lines.append(
            Line(
                vessel="stir",
                key="scent",
                name=fragrance.name,
                grams=load * fats,
                share=load,
                note=f"into {into}, by hand",
            )
        )

    superfat = _superfat(recipe, shelf, for_fats, milk_grams * milk.fat if milk else 0.0, milk.fat_sv if milk else 0.0)
    sheet = Sheet(
        lines=tuple(lines),
        fats=fats,
        lye=lye * fats,
        water=water * fats,
        milk=milk_grams * fats,
        total=per_gram * fats,
        saponification_value=sv,
        water_per_lye=water_needed / pure,
        superfat=superfat,
        strata={k: sum(m * f.acid_share(*acids) for m, f in rows) / whole for k, acids in STRATA.items()},
        factors=_factors(recipe, rows, whole, doses, milk_solids),
        millilitres=fats / per_ml,
        fats_per_millilitre=per_ml,
        portions=tuple(
            PortionWeight(
                name=p.name,
                share=p.share,
                batter=p.share * (per_gram - load) * fats,
                fragrance=recipe.scent.load * p.share * fats if recipe.scent and p.scented else 0.0,
            )
            for p in recipe.design.portions
        ),
    )
    return Weighing(whole=whole, sheet=sheet, faults=(), cautions=tuple(_cautions(recipe, shelf, sheet)))


def _factors(
    recipe: Recipe,
    rows: Sequence[tuple[float, Fat]],
    whole: float,
    doses: Sequence[tuple[float, Additive]],
    milk_solids: float,
) -> dict[str, float]:
    """The covariates of the batter clock: acid shares as fractions, doses in g/kg fats."""

    def acids(*names: str) -> float:
        return sum(m * f.acid_share(*names) for m, f in rows) / whole

    stirred = {a.factor: 1000 * d * a.active for d, a in doses if a.factor}
    return {
        "lauric": acids("12:0", "14:0"),
        "palmitic": acids("16:0", "18:0"),
        "ricinoleic": acids("ricinoleic"),
        "linoleic": acids("18:2", "18:3"),
        "lye": recipe.lye_concentration,
        "superfat": recipe.superfat,
        "sugar": 0.0,
        "milk": 1000 * milk_solids,
        "clay": 0.0,
        "lactate": 0.0,
        "salt": 0.0,
        "ethanol": 0.0,
    } | stirred


def _cautions(recipe: Recipe, shelf: Shelf, sheet: Sheet) -> Iterator[Caution]:
    low = sheet.superfat.extreme.low
    if low < 0:
        sure = sheet.superfat.likely.low < 0
        says = (
            f"With every fat at the low end of its range the superfat would be {percent(low)}: lye heavy. "
            + ("Raise the superfat" if sure else "Consider a higher superfat")
            + ", or use the saponification value of your own certificate, and test the bar before it is used."
        )
        yield Caution(pointer="/superfat", says=says, danger=sure)
    if recipe.lye_concentration > 0.40:
        says = "Above 40 % the lye runs very hot and the batter moves fast. Glass and thin plastic can fail."
        yield Caution(pointer="/lye_concentration", says=says, danger=True)
    if recipe.milk and recipe.milk.share > 0:
        says = "Milk scorches in hot lye: keep it frozen or ice cold, add the lye slowly, and watch it."
        yield Caution(pointer="/milk", says=says)
    for i, dose in enumerate(recipe.additives):
        additive = shelf.additives[dose.additive]
        if dose.per_kg > additive.most:
            says = f"More than the usual most of {additive.most:g} g per kg of fats."
            yield Caution(pointer=f"/additives/{i}/per_kg", says=says)
        if additive.id == "ethanol" and dose.per_kg > 0:
            yield Caution(pointer=f"/additives/{i}", says="Alcohol is flammable: no flame, no warm oven.", danger=True)
    if recipe.scent and recipe.scent.load > 0.06:
        says = "Above 6 % the forecast is a guess, and the supplier's limit is easily passed."
        yield Caution(pointer="/scent/load", says=says)
    if recipe.scent and not scented_share(recipe):
        yield Caution(pointer="/scent/load", says="No portion is scented, so no fragrance is weighed.")
    if recipe.pour_celsius > 55:
        says = "Hot batter burns and can rise out of the pot: leave headroom."
        yield Caution(pointer="/pour_celsius", says=says, danger=True)
