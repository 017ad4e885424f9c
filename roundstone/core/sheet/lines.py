"""The lines of a sheet: everything on the scale, in the order of work within each vessel."""

from collections.abc import Iterator
from dataclasses import replace

from ..recipe import Recipe, moment_of, vessel_of, words
from ..shelf import KOH, MOMENT_IN, NAOH, Moment, Shelf, Vessel
from ..text import Part, Text, figure, say
from ..values import Grams
from . import alkali
from .amounts import Amounts
from .checks import percent
from .doses import MOST_SPOONS, Dosed, spoons
from .sheet import Line, LineKind


class _Weighing:
    """What a line is made with: so many grams of fats, and the scales they are read on."""

    def __init__(self, shelf: Shelf, fats: Grams) -> None:
        self.scales, self.fats = shelf.scales, fats

    def shown(self, share: float) -> Text:
        """So much per gram of fats, as the scales show it."""
        return self.scales.shown(share * self.fats)

    def line(
        self,
        vessel: Vessel,
        kind: LineKind,
        key: str,
        name: str,
        share: float,
        note: Part = "",
        item: str = "",
        moment: Moment | None = None,
        row: int | None = None,
    ) -> Line:
        """A line of so much per gram of fats; lye is never rounded up."""
        grams, lye_like = share * self.fats, kind in ("alkali", "stock")
        return Line(
            vessel=vessel,
            kind=kind,
            key=key,
            name=name,
            grams=grams,
            share=share,
            reading=self.scales.reading(grams, down=lye_like),
            shown=self.scales.shown(grams, down=lye_like),
            also=self.scales.in_grams(grams) if lye_like and self.scales.unit != "g" else "",
            note=note,
            item=item,
            moment=moment,
            row=row,
        )


def lines_of(of: Amounts, shelf: Shelf, fats: Grams) -> Iterator[Line]:
    """Everything that is weighed for so many grams of fats."""
    on = _Weighing(shelf, fats)
    for i, (share, fat) in enumerate(of.rows):
        sv = of.recipe.fats[i].sv
        note = say("saponification value ", figure(sv), " by its certificate") if sv is not None else ""
        yield on.line("pot", "fat", f"fat:{fat.id}", fat.name, share, note, item=f"fat:{fat.id}", row=i)
    yield from _liquid_lines(of, shelf, on)
    for d in of.doses:
        yield from _dose_lines(d, of.recipe, shelf, fats)
    yield from _alkali_lines(of, on)
    yield from _scent_lines(of.recipe, shelf, on)


def _liquid_lines(of: Amounts, shelf: Shelf, on: _Weighing) -> Iterator[Line]:
    """Water, ice, and what stands in for water."""
    recipe, lye = of.recipe, of.lye
    in_stock = alkali.water_in_stock(recipe.stock, lye.naoh_weighed) if recipe.stock else 0.0
    water = max(of.plain - in_stock, 0.0)
    yield on.line("jug", "water", "water", "Water", water * (1 - recipe.ice))
    if recipe.ice > 0:
        yield on.line("jug", "ice", "ice", "Ice", water * recipe.ice, "in the water before the lye")
    for i, use in enumerate(recipe.liquids):
        q = shelf.liquids[use.liquid]
        share = use.share * of.liquid
        brings = say(on.shown(share * q.fat), " fat, ", on.shown(share * q.sugars), " sugars")
        how = "frozen; " if use.frozen else ""
        where = {"jug": "", "pot": "into the fats; ", "stir": "at trace; "}[use.goes]
        note = say(how, where, "brings ", brings)
        key = f"liquid:{q.id}:{i}"
        yield on.line(use.goes, "liquid", key, q.name, share, note, f"liquid:{q.id}", MOMENT_IN[use.goes], row=i)


def _alkali_lines(of: Amounts, on: _Weighing) -> Iterator[Line]:
    """Hydroxides, or a stock lye in place of one."""
    recipe, lye = of.recipe, of.lye
    never = "into the liquid, never the reverse"
    naoh, koh = "alkali:naoh", "alkali:koh"
    if recipe.stock is not None:
        holds = say(
            "holds ", on.shown(lye.naoh_weighed), " of sodium hydroxide, ", percent(recipe.naoh_purity), " pure"
        )
        yield on.line(
            "jug",
            "stock",
            "stock",
            "Stock lye " + str(percent(recipe.stock, 4)),
            lye.naoh_weighed / recipe.stock,
            holds,
        )
    elif lye.naoh > 0:
        note = say(percent(recipe.naoh_purity), " pure; ", never)
        yield on.line("jug", "alkali", naoh, "Sodium hydroxide", lye.naoh_weighed, note, naoh)
    if lye.koh > 0:
        wet = on.shown(lye.koh_weighed - lye.koh)
        rest = say(", about ", wet, " of it water that comes on top") if recipe.koh_purity < 1 else ""
        note = say(percent(recipe.koh_purity), " pure", rest, "; ", never)
        yield on.line("jug", "alkali", koh, "Potassium hydroxide", lye.koh_weighed, note, koh)


def _scent_lines(recipe: Recipe, shelf: Shelf, on: _Weighing) -> Iterator[Line]:
    """Every bottle that is taken in hand; of a blend its parts."""
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
            note = say("for ", whole.name, ", mixed first, ", on.shown(scent.load * recipe.scented_share), " in all; ")
            into_where = f"into {goes_into}, {by}"
            said = say(note if apart else "", into_where)
            yield on.line(vessel, "fragrance", key, part.name, share, said, item, moment, row=i)


def _eats(d: Dosed, recipe: Recipe, shelf: Shelf, fats: Grams) -> Text:
    """What alkali an acid takes up, in the alkali that is used."""
    takes = d.grams * d.additive.naoh * fats
    if not takes:
        return Text.NONE
    if recipe.koh_share == 1:
        return say("; takes up ", shelf.scales.shown(takes * KOH / NAOH), " of potassium hydroxide")
    other = " or its like in potassium hydroxide" if recipe.koh_share > 0 else ""
    return say("; takes up ", shelf.scales.shown(takes), " of sodium hydroxide", other)


def _dose_lines(d: Dosed, recipe: Recipe, shelf: Shelf, fats: Grams) -> Iterator[Line]:
    """An additive, and what it is dispersed in; of what some portions get a line for each."""
    if len(d.dose.into) < 2:
        yield from _dose_line(d, recipe, shelf, fats)
        return
    shares = {p.name: p.share for p in recipe.design.portions}
    for name in d.dose.into:
        one = replace(d, dose=d.dose.model_copy(update={"into": (name,)}), grams=d.on * shares[name])
        yield from _dose_line(one, recipe, shelf, fats, f":{name}")


def _dose_line(d: Dosed, recipe: Recipe, shelf: Shelf, fats: Grams, apart: str = "") -> Iterator[Line]:
    scales, portion = shelf.scales, "".join(d.dose.into)
    eats = say(_eats(d, recipe, shelf, fats))
    if d.soaked * fats >= 0.05:
        eats += say("; brings ", scales.shown(d.soaked * fats), " of the water")
    into = f"into {portion}; " if portion else ""
    key = f"additive:{d.additive.id}:{d.row}{apart}"
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
        spoons=spoons(teaspoons) if (teaspoons := d.grams * fats / d.additive.spoon) < MOST_SPOONS else "",
        note=into + words(d.dose, d.additive) + eats,
        item=f"additive:{d.additive.id}",
        moment=moment,
        into=portion,
        row=d.row,
    )
    if d.dose.carrier and d.carrier > 0:
        oil = shelf.fats[d.dose.carrier.fat] if d.dose.carrier.fat else None
        yield Line(
            vessel=vessel,
            kind="carrier",
            key=f"carrier:{d.additive.id}:{d.row}{apart}",
            name=oil.name if oil else "Water",
            grams=d.carrier * fats,
            share=d.carrier,
            reading=scales.reading(d.carrier * fats),
            shown=scales.shown(d.carrier * fats),
            note=f"{into}disperses {name}",
            item=f"fat:{oil.id}" if oil else "",
            moment=moment,
            into=portion,
            row=d.row,
        )
