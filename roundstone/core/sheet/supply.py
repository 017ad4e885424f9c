"""What the shelf says of a weighed recipe: what it is short of, what would still fit, what is old, what it costs."""

from collections.abc import Iterable, Sequence
from datetime import date, timedelta

from ..recipe import MOST_SCENTS, Recipe, Scent
from ..shelf import Claim, Family, Fragrance, Shelf
from ..text import G, Text, day, figure, say
from ..values import Caution, Grams, Mend, Value
from .certificates import certificates
from .lots import PRECISE, LotLeft, item_names, used
from .sheet import Sheet

MOST_PARTNERS = 2  # fragrances offered to stretch a short bottle [chosen]
QUICK = (Claim.STRONG, Claim.SEIZES)  # claims of fragrances that are offered to stretch none
OLD = timedelta(days=365)  # since it was opened or bought, worth a word [chosen]
SOON = timedelta(days=30)  # an expiry worth telling [chosen]


class Cost(Value):
    """Cost of a batch in the maker's own money; `unpriced` names what has no price and is not in it."""

    batch: float
    bar: float | None
    unpriced: tuple[str, ...]


class Supply(Value):
    """What the shelf says of a weighed recipe; `order` is what is missing of it, with how much, and `certificates` what
    lots in hand state otherwise than the lye is reckoned."""

    short: tuple[Caution, ...]
    certificates: tuple[Caution, ...] = ()
    order: tuple[Text, ...] = ()
    cost: Cost | None


def _old(lots: Iterable[LotLeft], today: date) -> str:
    """How long the lot that is used first has stood open, where that is long enough to smell at it."""
    for x in lots:
        since = x.lot.opened or x.lot.bought
        if since is not None and today - since > OLD:
            months = round((today - since).days / 30.4)
            what = "was opened" if x.lot.opened else "was bought"
            return f"{f' ({x.lot.label})' if x.lot.label else ''} {what} {months} months ago: smell it first."
        return ""
    return ""


def _pointer(recipe: Recipe, sheet: Sheet, item: str) -> str:
    """Where in the recipe this ingredient stands; a part of a blend stands where the blend does."""
    kind, _, name = item.partition(":")
    if kind == "fragrance":
        return f"/scents/{next((x.row or 0 for x in sheet.lines if x.item == item), 0)}/load"
    rows: dict[str, tuple[str, list[str], str]] = {
        "fat": ("fats", [r.fat for r in recipe.fats], "share"),
        "liquid": ("liquids", [r.liquid for r in recipe.liquids], "share"),
        "additive": ("additives", [r.additive for r in recipe.additives], "amount"),
    }
    if kind in rows and name in rows[kind][1]:
        field, names, leaf = rows[kind]
        return f"/{field}/{names.index(name)}/{leaf}"
    return "/superfat" if kind == "alkali" else "/fats"


def _fits(recipe: Recipe, sheet: Sheet, item: str, share: float) -> Text:
    """What would still fit, when only this share of what is needed is there."""
    fats = say("a batch of ", G(sheet.fats * share, ".0f"), " fats")
    kind, _, name = item.partition(":")
    load = next((s.load for s in recipe.scents if kind == "fragrance" and s.fragrance == name), None)
    return say(fats, ", or ", figure(100 * load * share, ".2g"), " % of it") if load else fats


def _partners(
    recipe: Recipe, shelf: Shelf, item: str, there: Grams, need: Grams, spare: dict[str, Grams]
) -> tuple[Mend, ...]:
    """Fragrances of the same family that have enough left, each to take the place of what a short bottle lacks; those
    with the most left first. A part of a blend is stretched by none."""
    kind, _, name = item.partition(":")
    row = next((i for i, s in enumerate(recipe.scents) if kind == "fragrance" and s.fragrance == name), None)
    if row is None or not 0 < there < need or len(recipe.scents) >= MOST_SCENTS:
        return ()
    short, lacks = shelf.fragrances[name], need - there

    def fits(other: Fragrance) -> bool:
        new = other.id not in recipe.fragrances and not other.parts and other.claim not in QUICK
        return new and other.family is short.family and spare.get(f"fragrance:{other.id}", 0.0) >= lacks

    others = [] if short.family is Family.OTHER else [f for f in shelf.fragrances.values() if fits(f)]
    others.sort(key=lambda f: -spare[f"fragrance:{f.id}"])
    load, out = recipe.scents[row].load, []
    for other in others[:MOST_PARTNERS]:
        of = (there / need * load, lacks / need * load)
        rows = list(recipe.scents)
        rows[row : row + 1] = [Scent(fragrance=name, load=of[0]), Scent(fragrance=other.id, load=of[1])]
        label = say("add ", G(lacks, ".1f"), " of ", other.name)
        out.append(Mend(label=label, pointer="/scents", value=tuple(s.model_dump() for s in rows)))
    return tuple(out)


def supply(recipe: Recipe, sheet: Sheet, shelf: Shelf, lots: Sequence[LotLeft], today: date, times: int = 1) -> Supply:
    """Shortages, expiries and cost of a weighed recipe; `lots` with what is left of them. What is to be ordered is for
    so many `times` of it."""
    names = item_names(shelf)
    by_item: dict[str, list[LotLeft]] = {}
    for lot in lots:
        by_item.setdefault(lot.lot.item, []).append(lot)
    spare = {item: sum(max(x.left, 0.0) for x in of) for item, of in by_item.items()}
    short: list[Caution] = []
    order: list[Text] = []
    batch, priced, unpriced = 0.0, False, []
    for item, need in used(sheet.lines).items():
        if need <= 0:
            continue
        have = [x for x in by_item.get(item, []) if x.left > 0]
        price = next(
            (x.lot.price_per_kg for x in [*have, *by_item.get(item, [])] if x.lot.price_per_kg is not None), None
        )
        if price is None:
            unpriced.append(names.get(item, item))
        else:
            priced = True
            batch += need / 1000 * price
        if item not in by_item:
            continue
        there = sum(x.left for x in have)
        at = _pointer(recipe, sheet, item)
        if there < need - PRECISE:
            fit = say(": enough for ", _fits(recipe, sheet, item, there / need), ".") if there > PRECISE else "."
            message = say(names.get(item, item), ": ", G(need, ".1f"), " needed, ", G(there, ".1f"), " left", fit)
            mends = _partners(recipe, shelf, item, there, need, spare)
            short.append(Caution(pointer=at, message=message, mends=mends))
        if there < times * need - PRECISE:
            order.append(say(names.get(item, item), " ", G(times * need - there, ".0f")))
        for x in have:
            if x.lot.expires is not None and x.lot.expires <= today + SOON:
                past = "went past its date on" if x.lot.expires < today else "is good until"
                which = f" ({x.lot.label})" if x.lot.label else ""
                message = say(names.get(item, item), which, " ", past, " ", day(x.lot.expires.isoformat()), ".")
                short.append(Caution(pointer=at, message=message))
                break
        if item.startswith(("fragrance:", "fat:")) and (old := _old(have, today)):
            short.append(Caution(pointer=at, message=f"{names.get(item, item)}{old}"))
    bars = sum(b.count for b in sheet.bars)
    cost = Cost(batch=batch, bar=batch / bars if bars else None, unpriced=tuple(unpriced)) if priced else None
    stated = certificates(recipe, sheet, shelf, by_item)
    return Supply(short=tuple(short), certificates=tuple(stated), order=tuple(order), cost=cost)
