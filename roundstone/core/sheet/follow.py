"""A recipe that follows what was weighed: its shares, lye and water become those of the scale."""

from collections.abc import Iterator, Mapping

from ..recipe import ByRatio, ByWeight, Dose, Recipe, Scent
from ..shelf import KOH, NAOH, Shelf
from ..text import figure, say
from ..values import Fault, Grams, RuleError
from .alkali import LEAST_WATER, MOST_SUPERFAT, MOST_WATER, demand
from .certified import certified
from .sheet import Line, Sheet

ALIKE = 0.002  # of a dose, what portions may differ that share a row [chosen]
SLIP = 0.0005  # of the superfat, what weights read on a scale may be off [chosen]


def following(recipe: Recipe, shelf: Shelf, sheet: Sheet, weighed: Mapping[str, Grams]) -> Recipe:
    """The recipe whose sheet has these grams on the lines of those keys, and on every other line what it has now.

    It is sized by its fats from then on. RuleError where the weights cannot be a soap: then the jug is made anew.
    """
    grams = {x.key: weighed.get(x.key, x.grams) for x in sheet.lines}
    fats = {x.row: grams[x.key] for x in sheet.lines if x.kind == "fat"}
    whole = sum(fats.values())
    naoh = sum(grams[x.key] for x in sheet.lines if x.item == "alkali:naoh")
    stock = sum(grams[x.key] for x in sheet.lines if x.kind == "stock")
    naoh = (naoh + stock * (recipe.stock or 0.0)) * recipe.naoh_purity
    koh = sum(grams[x.key] for x in sheet.lines if x.item == "alkali:koh") * recipe.koh_purity
    if whole <= 0 or naoh + koh <= 0:
        raise RuleError(Fault(pointer="/fats", message="Without fats or lye there is nothing to follow."))
    superfat = _superfat(recipe, certified(recipe, shelf), sheet, grams, naoh / NAOH + koh / KOH)
    if superfat < -SLIP:
        message = say(
            "With these weights there is ",
            figure(-100 * superfat, ".1f"),
            " % more lye than the fats can take. Make the jug anew; put the old solution away safely, as local rules "
            "say.",
        )
        raise RuleError(Fault(pointer="/superfat", message=message))
    if superfat > MOST_SUPERFAT + SLIP:
        message = say(f"With these weights {100 * superfat:.0f} % of the fats get no lye; up to 20 % is a soap. ")
        message += "Weigh the jug anew."
        raise RuleError(Fault(pointer="/superfat", message=message))
    liquid, water = _wet(recipe, shelf, sheet, grams, stock)
    parts = water / (naoh + koh)
    if not LEAST_WATER <= parts <= MOST_WATER:
        message = say(
            "That is ",
            figure(parts, ".2f"),
            " parts water to one of alkali; from 1 to 4 is possible. Weigh the jug anew.",
        )
        raise RuleError(Fault(pointer="/water", message=message))
    plain = sum(grams[x.key] for x in sheet.lines if x.kind in ("water", "ice"))
    ice = sum(grams[x.key] for x in sheet.lines if x.kind == "ice")
    return recipe.model_copy(
        update={
            "fats": tuple(r.model_copy(update={"share": fats[i] / whole}) for i, r in enumerate(recipe.fats)),
            "size": ByWeight(grams=whole),
            "superfat": min(max(superfat, 0.0), MOST_SUPERFAT),
            "koh_share": koh / (naoh + koh),
            "water": ByRatio(parts=parts),
            "ice": ice / plain if plain > 0 else recipe.ice,
            "liquids": tuple(
                use.model_copy(update={"share": _of(sheet, grams, "liquid", i) / liquid})
                for i, use in enumerate(recipe.liquids)
            ),
            "additives": tuple(_doses(recipe, sheet, grams, whole)),
            "scents": tuple(_scents(recipe, sheet, grams, whole)),
        }
    )


def _of(sheet: Sheet, grams: Mapping[str, Grams], kind: str, row: int) -> Grams:
    return sum(grams[x.key] for x in sheet.lines if x.kind == kind and x.row == row)


def _superfat(recipe: Recipe, shelf: Shelf, sheet: Sheet, grams: Mapping[str, Grams], alkali: float) -> float:
    """What the lye was meant to leave, of the fats it was given for."""

    def counts(line: Line) -> bool:
        return line.kind == "fat" or (line.kind == "carrier" and bool(line.item) and recipe.count_carriers)

    of = [(grams[x.key], shelf.fats[x.item.removeprefix("fat:")]) for x in sheet.lines if counts(x)]
    sour = [(grams[x.key], x.item.partition(":")) for x in sheet.lines if x.kind in ("additive", "liquid")]
    acids = [(g, (shelf.additives if k == "additive" else shelf.liquids)[i].naoh) for g, (k, _, i) in sour]
    asked = demand(of, acids)
    if asked.fats <= 0:
        return recipe.superfat
    return 1 - (alkali - asked.free - (asked.acids if recipe.feed_acids else 0.0)) / asked.fats


def _wet(recipe: Recipe, shelf: Shelf, sheet: Sheet, grams: Mapping[str, Grams], stock: Grams) -> tuple[Grams, Grams]:
    """All liquid, and all water that the water rule counts."""
    plain = sum(grams[x.key] for x in sheet.lines if x.kind in ("water", "ice")) + stock * (1 - (recipe.stock or 0.0))
    liquid, water = plain, plain
    for line in sheet.lines:
        kind, _, name = line.item.partition(":")
        if line.kind == "liquid":
            liquid += grams[line.key]
            water += grams[line.key] * shelf.liquids[name].water
        elif kind == "additive":
            water += grams[line.key] * shelf.additives[name].water
        elif line.kind == "carrier" and not line.item and recipe.count_carriers:
            water += grams[line.key]
    return liquid, water


def _doses(recipe: Recipe, sheet: Sheet, grams: Mapping[str, Grams], whole: Grams) -> Iterator[Dose]:
    """Doses in their rows; where portions that share a row got unlike doses, each has a row, the later ones last."""
    shares = {p.name: p.share for p in recipe.design.portions}
    apart = []
    for i, dose in enumerate(recipe.additives):
        mine = [x for x in sheet.lines if x.row == i and x.kind in ("additive", "carrier")]
        doses: dict[tuple[float, float], list[str]] = {}
        for name in dose.into or ("",):
            got, carried = (
                sum(grams[x.key] for x in mine if x.kind == kind and x.into == name) for kind in ("additive", "carrier")
            )
            on = 1000 * got / (whole * shares.get(name, 1.0))
            key = next((k for k in doses if abs(k[0] - on) <= ALIKE * on), (on, carried / got if got > 0 else 0.0))
            doses.setdefault(key, []).append(name)
        first, *others = (
            dose.model_copy(
                update={
                    "amount": on,
                    "basis": "g/kg",
                    "into": tuple(filter(None, names)),
                    "carrier": dose.carrier and dose.carrier.model_copy(update={"parts": parts} if parts else {}),
                }
            )
            for (on, parts), names in doses.items()
        )
        yield first
        apart += others
    yield from apart


def _scents(recipe: Recipe, sheet: Sheet, grams: Mapping[str, Grams], whole: Grams) -> Iterator[Scent]:
    for i, scent in enumerate(recipe.scents):
        of = whole * recipe.scented_share
        yield scent.model_copy(update={"load": _of(sheet, grams, "fragrance", i) / of}) if of > 0 else scent
