"""What the batches that are planned need against what stands on the shelf, as a list to order by."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil
from typing import Any, Literal

from ..recipe import Recipe
from ..shelf import Shelf
from ..values import Grams, Name, Value
from .lots import PRECISE, Lot, LotLeft, item_names, used
from .sheet import Sheet


@dataclass(frozen=True)
class Planned:
    """A batch that is planned: the recipe it is of, the ISO day by which what it lacks must be ordered, and how many
    times it is poured for the bars that are wanted."""

    recipe: str
    by: str
    sheet: Sheet
    times: int = 1


def times_to_pour(recipe: Recipe, sheet: Sheet) -> int:
    """How many pours give the bars a brief wants; one where it does not say."""
    bars, wanted = sum(b.count for b in sheet.bars), recipe.brief.bars if recipe.brief else None
    return -(-wanted // bars) if wanted and bars else 1


class OrderLine(Value):
    """Something to order: all that planned batches need of it, what is `there`, what is `missing`, for which of them,
    and by when the first needs it. `counted` is false where no lot of it is kept count of. `supplier`, `pack` [g] and
    `price` (of a kilogram) are those it was bought with last, `packs` how many of them hold what is
    `wanted`: what is missing, or all of it where nothing is counted. `cost` is in the maker's money, of whole packs."""

    item: str
    name: Name
    need: Grams
    there: Grams
    missing: Grams
    counted: bool
    batches: tuple[str, ...]
    by: str
    wanted: Grams
    supplier: Name = ""
    pack: Grams | None = None
    packs: int | None = None
    price: float | None = None
    cost: float | None = None


def _last(lots: Sequence[Lot], item: str, field: Literal["supplier", "pack", "price_per_kg"]) -> Any:
    """What the lot of an item that was counted last says of this, of those that say it."""
    of = [x for x in lots if x.item == item and getattr(x, field)]
    return getattr(max(of, key=lambda x: x.counted), field) if of else None


def to_order(
    planned: Sequence[Planned], lots: Sequence[LotLeft], shelf: Shelf, bought: Sequence[Lot] = ()
) -> tuple[OrderLine, ...]:
    """What is missing, the soonest first; batches take in the order of their days, so the last ones go short. `bought`
    are all lots there ever were."""
    names = item_names(shelf)
    there: dict[str, float] = {}
    for lot in lots:
        there[lot.lot.item] = there.get(lot.lot.item, 0.0) + max(lot.left, 0.0)
    need: dict[str, float] = {}
    late: dict[str, list[Planned]] = {}
    for batch in sorted(planned, key=lambda p: p.by):
        for item, grams in used(batch.sheet.lines).items():
            if grams <= 0 or item not in names:
                continue
            need[item] = need.get(item, 0.0) + batch.times * grams
            if need[item] > there.get(item, 0.0) + PRECISE:
                late.setdefault(item, []).append(batch)
    lines = []
    for item, batches in late.items():
        counted = item in there
        wanted = need[item] - there.get(item, 0.0) if counted else need[item]
        pack, price = _last(bought, item, "pack"), _last(bought, item, "price_per_kg")
        packs = ceil(round(wanted / pack, 6)) if pack else None
        line = OrderLine(
            item=item,
            name=names[item],
            need=need[item],
            there=there.get(item, 0.0),
            missing=need[item] - there.get(item, 0.0),
            wanted=wanted,
            counted=counted,
            batches=tuple(dict.fromkeys(b.recipe for b in batches)),
            by=batches[0].by,
            supplier=_last(bought, item, "supplier") or "",
            pack=pack,
            packs=packs,
            price=price,
            cost=None if price is None else price / 1000 * (pack * packs if pack and packs else wanted),
        )
        lines.append(line)
    return tuple(sorted(lines, key=lambda x: (not x.counted, x.by, x.name.casefold())))
