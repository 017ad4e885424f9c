"""A recipe from what was weighed: which superfat and which lye a batch sheet of plain weights means."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..recipe import ByRatio, ByWeight, Design, Dose, FatShare, LiquidUse, Portion, Recipe, Scent, vessel_of
from ..shelf import KOH, MOMENT_IN, NAOH, Moment, Shelf, Vessel, by_certificate
from ..text import figure, say
from ..values import Fault, Grams, RuleError, Share
from .alkali import LEAST_WATER, MOST_SUPERFAT, MOST_WATER, Demand, demand
from .checks import LEAST_GRAMS

ROUNDED = 0.002  # of the water: what rounded weights may be off in a small batch [chosen]
SLIP = 0.0005  # of the superfat, likewise [chosen]
ALL = Portion(name="All", share=1.0, scent=1.0)


@dataclass(frozen=True)
class Weighed:
    """One row: `item` as lots name it (fat:olive, alkali:naoh), or `water`, `ice`, or `stock` with its strength;
    a fat's `sv` as its certificate states it."""

    item: str
    grams: Grams
    vessel: Vessel | None = None
    strength: float = 0.0
    sv: float | None = None


def recipe_of(
    name: str, rows: Sequence[Weighed], shelf: Shelf, naoh_purity: float = 0.99, koh_purity: float = 0.90
) -> Recipe:
    """The recipe whose sheet these weights are, poured as one batter.

    What stands twice is put together; oils that powders were dispersed in count as fats, for they are. RuleError
    (pointers `/fats`, `/alkali`, `/water`) where the weights cannot be a soap.
    """
    fats, liquids, additives, scents = (_sum(rows, kind) for kind in ("fat", "liquid", "additive", "fragrance"))
    plain, ice = _total(rows, "water"), _total(rows, "ice")
    stock = _total(rows, "stock")
    in_stock = sum(r.grams * r.strength for r in rows if r.item == "stock")
    naoh = (_total(rows, "alkali:naoh") + in_stock) * naoh_purity
    koh = _total(rows, "alkali:koh") * koh_purity
    whole = sum(fats.values())
    if whole <= 0:
        raise RuleError(Fault(pointer="/fats", message="There is no fat among these weights."))
    if naoh + koh <= 0:
        raise RuleError(Fault(pointer="/alkali", message="There is no lye among these weights."))

    by_lot = {r.item.removeprefix("fat:"): r.sv for r in rows if r.sv is not None}
    of = {i: by_certificate(shelf.fats[i], by_lot[i]) if i in by_lot else shelf.fats[i] for i in fats}
    asked = demand(
        ((g, of[i]) for i, g in fats.items()),
        (
            *((g, shelf.additives[i].naoh) for i, g in additives.items()),
            *((g, shelf.liquids[i].naoh) for i, g in liquids.items()),
        ),
    )
    superfat, hungry = _superfat(asked, naoh / NAOH + koh / KOH)
    brought = sum(g * shelf.liquids[i].water for i, g in liquids.items())
    brought += sum(g * shelf.additives[i].water for i, g in additives.items())
    water = plain + ice + stock - in_stock + brought
    parts = _parts(water, naoh + koh)
    liquid = plain + ice + stock - in_stock + sum(liquids.values())
    return Recipe(
        name=name,
        fats=tuple(FatShare(fat=i, share=g / whole, sv=by_lot.get(i)) for i, g in fats.items()),
        superfat=min(max(superfat, 0.0), MOST_SUPERFAT),
        feed_acids=not hungry,
        koh_share=koh / (naoh + koh),
        naoh_purity=naoh_purity,
        koh_purity=koh_purity,
        water=ByRatio(parts=min(max(parts, LEAST_WATER), MOST_WATER)),
        ice=ice / (plain + ice) if ice > 0 else 0.0,
        stock=in_stock / stock if stock > 0 else None,
        liquids=tuple(
            LiquidUse(liquid=i, share=g / liquid, goes=_vessel(rows, f"liquid:{i}") or "jug")
            for i, g in liquids.items()
        ),
        additives=tuple(
            Dose(additive=i, amount=1000 * g / whole, moment=_moment(i, _vessel(rows, f"additive:{i}"), shelf))
            for i, g in additives.items()
        ),
        scents=tuple(Scent(fragrance=i, load=g / whole) for i, g in scents.items()),
        # Of the least that can be made, rounded weights may lack a hair.
        size=ByWeight(grams=max(whole, LEAST_GRAMS) if whole > LEAST_GRAMS * (1 - ROUNDED) else whole),
        design=Design(portions=(ALL,), technique="tamp"),
    )


def _superfat(asked: Demand, lye: float) -> tuple[Share, bool]:
    """The superfat that so many moles of lye leave, and whether acids were given none of their own."""
    left = lye - asked.acids - asked.free
    superfat = 1 - left / asked.fats if asked.fats > 0 else 0.0
    if superfat < -SLIP:
        message = say(
            "These weights have ",
            figure(-100 * superfat, ".1f"),
            " % more lye than the fats can take: lye heavy, and caustic. Check every weight; it is not read.",
        )
        raise RuleError(Fault(pointer="/alkali", message=message))
    hungry = superfat > MOST_SUPERFAT + SLIP and asked.acids > 0 and asked.fats > 0
    if hungry:  # the acids were given no lye of their own
        superfat = 1 - (left + asked.acids) / asked.fats
    if superfat > MOST_SUPERFAT + SLIP or superfat < -SLIP:
        message = say(f"These weights leave {100 * superfat:.0f} % of the fats without lye; up to 20 % is a soap.")
        raise RuleError(Fault(pointer="/alkali", message=message))
    return superfat, hungry


def _parts(water: Grams, alkali: Grams) -> float:
    """Parts of water to one of alkali."""
    parts = water / alkali
    if not LEAST_WATER * (1 - ROUNDED) <= parts <= MOST_WATER * (1 + ROUNDED):
        message = say("That is ", figure(parts, ".2f"), " parts water to one of alkali; from 1 to 4 is possible.")
        raise RuleError(Fault(pointer="/water", message=message))
    return parts


def _sum(rows: Sequence[Weighed], kind: str) -> dict[str, Grams]:
    out: dict[str, float] = {}
    for row in rows:
        of, _, name = row.item.partition(":")
        if of == kind and row.grams > 0:
            out[name] = out.get(name, 0.0) + row.grams
    return out


def _total(rows: Sequence[Weighed], item: str) -> Grams:
    return sum(r.grams for r in rows if r.item == item)


def _vessel(rows: Sequence[Weighed], item: str) -> Vessel | None:
    return next((r.vessel for r in rows if r.item == item), None)


def _moment(additive: str, vessel: Vessel | None, shelf: Shelf) -> Moment | None:
    """The moment a vessel means, where it is not the usual one."""
    usual = vessel_of(Dose(additive=additive, amount=0), shelf.additives[additive])
    return None if vessel is None or vessel == usual else MOMENT_IN[vessel]
