"""What the batches that are planned need against what stands on the shelf, as a list to order by."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..recipe import Recipe
from ..shelf import Shelf
from ..values import Grams, Name, Value
from .lots import PRECISE, LotLeft, item_names, used
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
    and by when the first needs it. `counted` is false where no lot of it is kept count of."""

    item: str
    name: Name
    need: Grams
    there: Grams
    missing: Grams
    counted: bool
    batches: tuple[str, ...]
    by: str


def to_order(planned: Sequence[Planned], lots: Sequence[LotLeft], shelf: Shelf) -> tuple[OrderLine, ...]:
    """What is missing, the soonest first; batches take in the order of their days, so the last ones go short."""
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
    lines = [
        OrderLine(
            item=item,
            name=names[item],
            need=need[item],
            there=there.get(item, 0.0),
            missing=need[item] - there.get(item, 0.0),
            counted=item in there,
            batches=tuple(dict.fromkeys(b.recipe for b in batches)),
            by=batches[0].by,
        )
        for item, batches in late.items()
    ]
    return tuple(sorted(lines, key=lambda x: (not x.counted, x.by, x.name.casefold())))
