"""Recipe to sheet: every weight, the superfat as a range, and what is wrong or risky.

`weigh` never raises on a recipe: it returns faults instead of figures. When there is one fault there is no
sheet at all, so a lye weight is never shown beside a mistake.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import isfinite, sqrt

from ..recipe import ByMoulds, ByWeight, Dose, Recipe, moment_of, mould, vessel_of, words
from ..said import POUND
from ..shelf import KOH, MOMENT_IN, NAOH, Additive, Fat, Liquid, Moment, Shelf, Vessel
from ..values import Fault, Grams, Share, Span
from . import alkali
from .bar import describe
from .cautions import cautions_of
from .checks import faults_of, percent
from .sheet import (
    UNEVEN,
    Dispersed,
    DoseOn,
    LimitUse,
    Line,
    LineKind,
    PortionShown,
    PortionWeight,
    Sheet,
    Superfat,
    Weighing,
)

PURITY_SPREAD = 0.01  # of the alkali about what the bag says [chosen]: bags state 97 to 99 %
CURED = 0.89  # of the wet weight is left after cure: common practice, loss 8-15 %
SALT_TOLD = 100.0  # g/kg of salt beyond which the clock's line is not carried on: a salt bar is another soap [chosen]


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


def _dosed(recipe: Recipe, shelf: Shelf, batter: float) -> list[Dosed]:
    shares = {p.name: p.share for p in recipe.design.portions}
    out = []
    for i, dose in enumerate(recipe.additives):
        additive = shelf.additives[dose.additive]
        on = per_gram(dose, additive, batter)
        out.append(Dosed(i, dose, additive, on, on * (shares[dose.into] if dose.into else 1.0)))
    return out


def _superfat(
    recipe: Recipe,
    fats: Sequence[tuple[float, Fat]],
    for_fats: float,
    fatty: Sequence[tuple[float, Liquid | Additive]],
    oils: Sequence[tuple[float, Fat]],
) -> Superfat:
    """`for_fats` is what is left for them, in moles per gram of fats; `fatty` are grams of what has fat in it,
    `oils` those that powders are dispersed in.
    """
    rows = [(m, f) for m, f in fats if f.kind != "acid"]
    typical = sum(m * f.sv for m, f in rows) / 1000 / KOH
    if typical == 0:
        whole = Span(low=recipe.superfat, high=recipe.superfat)
        return Superfat(set=recipe.superfat, with_liquids=recipe.superfat, likely=whole, extreme=whole)
    brought = sum(g * q.fat * q.fat_sv for g, q in fatty) / 1000 / KOH
    dispersing = sum(g * f.sv for g, f in oils) / 1000 / KOH
    if recipe.count_carriers:
        typical += dispersing
    else:
        brought += dispersing
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


def weigh(recipe: Recipe, shelf: Shelf) -> Weighing:
    """Weigh a recipe. Everything is first reckoned per gram of fats, then sized once."""
    faults = faults_of(recipe, shelf)
    whole = sum(row.share for row in recipe.fats)
    by_weight = recipe.size.grams if isinstance(recipe.size, ByWeight) else None
    rows_weigh = tuple(row.share * by_weight for row in recipe.fats) if by_weight is not None else ()
    rows_weigh = rows_weigh if all(map(isfinite, rows_weigh)) else ()
    if faults:
        whole = whole if isfinite(whole) else 0.0
        return Weighing(whole=whole, sheet=None, faults=faults, fat_grams=rows_weigh)

    rows = [(row.share / whole, shelf.fats[row.fat]) for row in recipe.fats]
    uses = [(use, shelf.liquids[use.liquid]) for use in recipe.liquids]
    plain_share = 1 - sum(u.share for u, _ in uses)
    watery = plain_share + sum(u.share * q.water for u, q in uses)

    # A dose by weight of batter counts the batter before anything is dispersed into it.
    doses = _dosed(recipe, shelf, 0.0)
    lye = alkali.reckon(recipe, rows, [(d.grams, d.additive) for d in doses], ())
    base = 1 + lye.weighed + alkali.water_for(recipe, lye.pure) / watery
    doses = _dosed(recipe, shelf, base)
    oils = [(d.carrier, shelf.fats[d.dose.carrier.fat]) for d in doses if d.dose.carrier and d.dose.carrier.fat]
    wetting = sum(d.carrier for d in doses if d.dose.carrier and not d.dose.carrier.fat)
    counted = recipe.count_carriers
    if counted and oils:
        lye = alkali.reckon(recipe, rows, [(d.grams, d.additive) for d in doses], oils)

    water = alkali.water_for(recipe, lye.pure)
    soaked = sum(d.soaked for d in doses)
    liquid = (water - soaked - (wetting if counted else 0.0)) / watery
    plain = plain_share * liquid
    in_jug = plain + sum(u.share * q.water * liquid for u, q in uses if u.goes == "jug")
    in_jug += sum(d.soaked for d in doses if moment_of(d.dose, d.additive) == "before-lye")
    faults = tuple(alkali.check_dissolves(recipe, lye.pure, water, in_jug if recipe.stock is None else plain))
    faults = _too_wet(doses, counted) if liquid < 0 else faults
    if faults:
        return Weighing(whole=whole, sheet=None, faults=faults, fat_grams=rows_weigh)

    load = sum(s.load for s in recipe.scents) * recipe.scented_share
    dispersing = sum(d.carrier for d in doses)
    concentration = lye.pure / (lye.pure + water)
    room = _room(recipe, doses, load, [(u.share * liquid, q) for u, q in uses], oils) + (0.0 if counted else wetting)
    per_ml = mould.fats_per_millilitre(lye.weighed + water, concentration, recipe.pour_celsius, room)
    batter = 1 + lye.weighed + liquid + sum(d.grams for d in doses) + dispersing
    if isinstance(recipe.size, ByMoulds):
        fats = sum(mould.millilitres(m) for m in recipe.size.moulds) * (1 + recipe.size.spare) * per_ml
        bars = tuple(mould.bars(m, per_ml * (batter + load)) for m in recipe.size.moulds)
    else:
        fats, bars = recipe.size.grams, ()

    lines = tuple(_lines(recipe, shelf, rows, doses, lye, plain, liquid, fats))
    fatty: list[tuple[float, Liquid | Additive]] = [
        *((u.share * liquid, q) for u, q in uses),
        *((d.grams, d.additive) for d in doses),
    ]
    superfat = _superfat(recipe, rows, lye.for_fats - lye.taken, fatty, oils)
    by_portion = _superfats(
        recipe, rows, lye.for_fats - lye.taken, [(u.share * liquid, q) for u, q in uses], doses, shelf
    )
    scales = shelf.scales
    sheet = Sheet(
        lines=lines,
        fats=fats,
        naoh=lye.naoh_weighed * fats,
        koh=lye.koh_weighed * fats,
        water=water * fats,
        total=(batter + load) * fats,
        fats_shown=scales.sum(x.reading for x in lines if x.kind == "fat"),
        total_shown=scales.sum(x.reading for x in lines),
        saponification_value=sum(m * f.sv for m, f in rows),
        iodine_value=sum(m * f.iodine_value for m, f in rows),
        lye_concentration=concentration,
        water_per_lye=water / lye.pure,
        water_of_fats=water,
        superfat=superfat,
        limit=_limit(recipe, shelf, batter),
        doses=tuple(
            DoseOn(
                per_kg=1000 * d.on,
                percent=100 * d.on,
                tsp_lb=d.on * POUND / d.additive.spoon,
                tsp_lb_batter=d.on / base * POUND / d.additive.spoon,
            )
            for d in doses
        ),
        factors=_factors(recipe, rows, doses, [(u.share * liquid, q) for u, q in uses], concentration),
        bar=describe(rows, [(d.grams, d.additive) for d in doses], recipe.superfat, concentration),
        millilitres=fats / per_ml,
        fats_per_millilitre=per_ml,
        bars=bars,
        portions=tuple(_portions(recipe, shelf, lines, fats, superfat.with_liquids, by_portion)),
        dispersed=Dispersed(
            oil=sum(g for g, _ in oils) * fats,
            water=wetting * fats,
            lye_concentration=lye.pure / (lye.pure + water + (0.0 if counted else wetting)),
        )
        if dispersing
        else None,
    )
    told = cautions_of(recipe, shelf, sheet, [(d.grams, d.dose, d.additive) for d in doses])
    return Weighing(whole=whole, sheet=sheet, faults=(), cautions=tuple(told), fat_grams=rows_weigh)


def _too_wet(doses: Sequence[Dosed], counted: bool) -> tuple[Fault, ...]:
    wettest = max(doses, key=lambda d: d.soaked + (d.carrier if counted else 0.0))
    says = f"{wettest.additive.name} alone brings more water than this recipe has: take less of it, or more water."
    return (Fault(pointer=f"/additives/{wettest.row}/amount", says=says),)


def _room(
    recipe: Recipe,
    doses: Sequence[Dosed],
    load: float,
    liquids: Sequence[tuple[float, Liquid]],
    oils: Sequence[tuple[float, Fat]],
) -> float:
    """Millilitres that all but fats, lye and water take up, per gram of fats."""
    volume = sum((d.grams - d.soaked) / d.additive.density for d in doses) + load / mould.FRAGRANCE_DENSITY
    volume += sum(g * q.solids for g, q in liquids) / mould.SOLIDS_DENSITY
    return volume + sum(g for g, _ in oils) / mould.fat_density(recipe.pour_celsius)


def _superfats(
    recipe: Recipe,
    rows: Sequence[tuple[float, Fat]],
    for_fats: float,
    liquids: Sequence[tuple[float, Liquid]],
    doses: Sequence[Dosed],
    shelf: Shelf,
) -> list[Share]:
    """Superfat of every portion: its share of the lye against its share of the fats and what it gets alone."""

    def brings(d: Dosed) -> float:
        oil = shelf.fats[d.dose.carrier.fat] if d.dose.carrier and d.dose.carrier.fat else None
        return (d.grams * d.additive.fat * d.additive.fat_sv + (d.carrier * oil.sv if oil else 0.0)) / 1000 / KOH

    shared = sum(m * f.sv for m, f in rows if f.kind != "acid") / 1000 / KOH
    if shared == 0:
        return [recipe.superfat for _ in recipe.design.portions]
    shared += sum(g * q.fat * q.fat_sv for g, q in liquids) / 1000 / KOH
    shared += sum(brings(d) for d in doses if not d.dose.into)
    own = [sum(brings(d) for d in doses if d.dose.into == p.name) for p in recipe.design.portions]
    return [
        1 - p.share * for_fats / (p.share * shared + alone)
        for p, alone in zip(recipe.design.portions, own, strict=True)
    ]


def _portions(
    recipe: Recipe,
    shelf: Shelf,
    lines: Sequence[Line],
    fats: float,
    whole: Share,
    superfats: Sequence[Share],
) -> Iterator[PortionWeight]:
    """What each portion gets of the pot, and what goes into it alone."""
    after_split = recipe.design.scents_apart
    shared = [x for x in lines if not x.into and not (after_split and x.kind == "fragrance")]
    pot, jug, stir = (sum(x.grams for x in shared if x.vessel == v) for v in ("pot", "jug", "stir"))
    load = sum(s.load for s in recipe.scents) if after_split else 0.0
    for p, superfat in zip(recipe.design.portions, superfats, strict=True):
        fragrance = load * p.share * fats * p.scent
        shown = shelf.scales.shown
        yield PortionWeight(
            name=p.name,
            share=p.share,
            batter=p.share * (pot + jug + stir),
            fragrance=fragrance,
            from_pot=p.share * pot,
            from_jug=p.share * jug,
            stirred=p.share * stir,
            shown=PortionShown(
                batter=shown(p.share * (pot + jug + stir)),
                fragrance=shown(fragrance),
                from_pot=shown(p.share * pot),
                from_jug=shelf.scales.both(p.share * jug, down=True),
                stirred=shown(p.share * stir),
            ),
            superfat=superfat,
            uneven=abs(superfat - whole) > UNEVEN,
            own=tuple(x for x in lines if x.into == p.name),
        )


def _lines(
    recipe: Recipe,
    shelf: Shelf,
    rows: Sequence[tuple[float, Fat]],
    doses: Sequence[Dosed],
    lye: alkali.Alkali,
    plain: float,
    liquid: float,
    fats: float,
) -> Iterator[Line]:
    """Everything on the scale, in the order of work within each vessel."""
    shown = shelf.scales.shown

    def line(
        vessel: Vessel,
        kind: LineKind,
        key: str,
        name: str,
        share: float,
        note: str = "",
        item: str = "",
        moment: Moment | None = None,
        row: int | None = None,
    ) -> Line:
        grams, lye_like = share * fats, kind in ("alkali", "stock")
        return Line(
            vessel=vessel,
            kind=kind,
            key=key,
            name=name,
            grams=grams,
            share=share,
            reading=shelf.scales.reading(grams, down=lye_like),
            shown=shown(grams, down=lye_like),
            also=shelf.scales.in_grams(grams) if lye_like and shelf.scales.unit != "g" else "",
            note=note,
            item=item,
            moment=moment,
            row=row,
        )

    for i, (share, fat) in enumerate(rows):
        yield line("pot", "fat", f"fat:{fat.id}", fat.name, share, item=f"fat:{fat.id}", row=i)
    in_stock = alkali.water_in_stock(recipe.stock, lye.naoh_weighed) if recipe.stock else 0.0
    water = max(plain - in_stock, 0.0)
    yield line("jug", "water", "water", "Water", water * (1 - recipe.ice))
    if recipe.ice > 0:
        yield line("jug", "ice", "ice", "Ice", water * recipe.ice, "in the water before the lye")
    for i, use in enumerate(recipe.liquids):
        q = shelf.liquids[use.liquid]
        share = use.share * liquid
        brings = f"{shown(share * q.fat * fats)} fat, {shown(share * q.sugars * fats)} sugars"
        how = "frozen; " if use.frozen else ""
        where = {"jug": "", "pot": "into the fats; ", "stir": "at trace; "}[use.goes]
        note = f"{how}{where}brings {brings}"
        key = f"liquid:{q.id}:{i}"
        yield line(use.goes, "liquid", key, q.name, share, note, f"liquid:{q.id}", MOMENT_IN[use.goes], row=i)
    for d in doses:
        yield from _dose_lines(d, recipe, shelf, fats)
    never = "into the liquid, never the reverse"
    naoh, koh = "alkali:naoh", "alkali:koh"
    if recipe.stock is not None:
        holds = f"holds {shown(lye.naoh_weighed * fats)} of sodium hydroxide, {percent(recipe.naoh_purity)} pure"
        yield line(
            "jug", "stock", "stock", f"Stock lye {percent(recipe.stock, 4)}", lye.naoh_weighed / recipe.stock, holds
        )
    elif lye.naoh > 0:
        note = f"{percent(recipe.naoh_purity)} pure; {never}"
        yield line("jug", "alkali", naoh, "Sodium hydroxide", lye.naoh_weighed, note, naoh)
    if lye.koh > 0:
        wet = shown((lye.koh_weighed - lye.koh) * fats)
        rest = f", about {wet} of it water that comes on top" if recipe.koh_purity < 1 else ""
        note = f"{percent(recipe.koh_purity)} pure{rest}; {never}"
        yield line("jug", "alkali", koh, "Potassium hydroxide", lye.koh_weighed, note, koh)
    into = ", ".join(p.name for p in recipe.design.portions if p.scented) or "no portion"
    goes_into = {
        "fats": "the fats",
        "emulsion": "the whole pot at emulsion",
        "portions": into,
        "pour": f"{into}, each just before it is poured",
    }[recipe.design.scent_at]
    vessel: Vessel = "pot" if recipe.design.scent_at == "fats" else "stir"
    moment: Moment = "fats" if recipe.design.scent_at == "fats" else "trace"
    by = "by hand" if recipe.design.scent_by == "hand" else "with the stick"
    for i, scent in enumerate(recipe.scents):
        whole = shelf.fragrances[scent.fragrance]
        for load, part in shelf.poured([(scent.fragrance, scent.load)]):
            share = load * recipe.scented_share
            item = f"fragrance:{part.id}"
            apart = part.id != whole.id
            key = f"fragrance:{whole.id}:{part.id}" if apart else item
            note = f"for {whole.name}, mixed first, {shown(scent.load * recipe.scented_share * fats)} in all; "
            into_where = f"into {goes_into}, {by}"
            said = (note if apart else "") + into_where
            yield line(vessel, "fragrance", key, part.name, share, said, item, moment, row=i)


def _eats(d: Dosed, recipe: Recipe, shelf: Shelf, fats: Grams) -> str:
    """What alkali an acid takes up, in the alkali that is used."""
    takes = d.grams * d.additive.naoh * fats
    if not takes:
        return ""
    if recipe.koh_share == 1:
        return f"; takes up {shelf.scales.shown(takes * KOH / NAOH)} of potassium hydroxide"
    other = " or its like in potassium hydroxide" if recipe.koh_share > 0 else ""
    return f"; takes up {shelf.scales.shown(takes)} of sodium hydroxide{other}"


def _dose_lines(d: Dosed, recipe: Recipe, shelf: Shelf, fats: Grams) -> Iterator[Line]:
    """An additive, and what it is dispersed in."""
    scales = shelf.scales
    eats = _eats(d, recipe, shelf, fats)
    if d.soaked * fats >= 0.05:
        eats += f"; brings {scales.shown(d.soaked * fats)} of the water"
    into = f"into {d.dose.into}; " if d.dose.into else ""
    key = f"additive:{d.additive.id}:{d.row}"
    vessel, moment = vessel_of(d.dose, d.additive), moment_of(d.dose, d.additive)
    name = f"{d.additive.name}, {d.dose.called}" if d.dose.called else d.additive.name
    yield Line(
        vessel=vessel,
        kind="additive",
        key=key,
        name=name,
        grams=d.grams * fats,
        share=d.grams,
        reading=scales.reading(d.grams * fats),
        shown=scales.shown(d.grams * fats),
        note=into + words(d.dose, d.additive) + eats,
        item=f"additive:{d.additive.id}",
        moment=moment,
        into=d.dose.into or "",
        row=d.row,
    )
    if d.dose.carrier and d.carrier > 0:
        oil = shelf.fats[d.dose.carrier.fat] if d.dose.carrier.fat else None
        yield Line(
            vessel=vessel,
            kind="carrier",
            key=f"carrier:{d.additive.id}:{d.row}",
            name=oil.name if oil else "Water",
            grams=d.carrier * fats,
            share=d.carrier,
            reading=scales.reading(d.carrier * fats),
            shown=scales.shown(d.carrier * fats),
            note=f"{into}disperses {name}",
            item=f"fat:{oil.id}" if oil else "",
            moment=moment,
            into=d.dose.into or "",
            row=d.row,
        )


def _limit(recipe: Recipe, shelf: Shelf, batter: float) -> LimitUse | None:
    """Fragrance in a scented bar against what the certificates allow; the uses of a blend add up."""
    if not recipe.scents:
        return None
    load = sum(s.load for s in recipe.scents)
    fragrances = shelf.poured((s.fragrance, s.load) for s in recipe.scents)
    used = sum(part / (batter + load) / f.limit for part, f in fragrances if f.limit)
    unknown = tuple(f.name for _, f in fragrances if not f.limit)
    return LimitUse(wet=used, cured=used / CURED, unknown=unknown)


def _factors(
    recipe: Recipe,
    rows: Sequence[tuple[float, Fat]],
    doses: Sequence[Dosed],
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
        "salt": 1000 * sum(g * q.salt for g, q in liquids),
        "ethanol": 1000 * sum(g * q.alcohol for g, q in liquids),
    }
    for d in doses:
        if d.additive.factor:
            factors[d.additive.factor] += 1000 * d.grams * d.additive.active
    factors["salt"] = min(factors["salt"], SALT_TOLD)
    return factors
