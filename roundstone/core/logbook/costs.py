"""What batches cost: by the lots they took from, packaging and work; and what differed from the batch before."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Literal

from ..sheet import PRECISE
from ..text import Text, figure, say
from ..values import Grams, Minutes, Name, Value
from .selling import Selling

Part = Literal["fats", "lye", "liquids", "additives", "scent", "packaging", "work"]
PARTS: Mapping[str, Part] = {
    "fat": "fats",
    "alkali": "lye",
    "liquid": "liquids",
    "additive": "additives",
    "fragrance": "scent",
}
ORDER: tuple[Part, ...] = ("fats", "lye", "liquids", "additives", "scent", "packaging", "work")
TOLD = 0.01  # of a bar's cost, below which a difference is not worth a word [chosen]
MOST_TOLD = 3  # differences of one batch that are told
Takings = Iterable[tuple[str, Grams, float | None]]  # item, grams taken, and the lot's price of a kilogram


class BatchCost(Value):
    """What one batch cost in the maker's own money: `parts` of it, and `items` by what the shelf calls them. `unpriced`
    names what has no price, and is not in it. `day` is ISO."""

    pour: str
    recipe_id: str
    recipe: Name
    number: str
    day: str
    bars: int
    parts: dict[Part, float]
    items: dict[str, float]
    unpriced: tuple[str, ...]
    total: float
    bar: float | None


class MonthCost(Value):
    """What the batches of a month (YYYY-MM), or of all months (""), came to; `short` of them lack a price somewhere, so
    that it is more. Of `uncounted` ones nobody knows how many bars they gave: what a `bar` costs is of the others."""

    month: str
    batches: int
    short: int
    uncounted: int
    bars: int
    parts: dict[Part, float]
    total: float
    bar: float | None


class Differed(Value):
    """A recipe's last batch against the one before it, by the bar, and what made most of the difference."""

    recipe_id: str
    recipe: Name
    last: BatchCost
    before: BatchCost
    words: tuple[Text, ...]


def batch_cost(
    pour: tuple[str, str, Name, str, str],
    bars: int,
    need: Mapping[str, Grams],
    taken: Takings,
    minutes: Minutes,
    rates: Selling,
    names: Mapping[str, str],
) -> BatchCost:
    """The cost of a pour (id, recipe's id and name, batch number, ISO day) that needed so much of each item and took it
    from lots; `minutes` are those at the bench."""
    items: dict[str, float] = {}
    priced: dict[str, float] = {}
    for item, grams, price in taken:
        if price is not None:
            items[item] = items.get(item, 0.0) + grams / 1000 * price
            priced[item] = priced.get(item, 0.0) + grams
    unpriced = tuple(names.get(i, i) for i, g in need.items() if g - priced.get(i, 0.0) > PRECISE)
    parts: dict[Part, float] = {}
    for item, cost in items.items():
        part = PARTS[item.partition(":")[0]]
        parts[part] = parts.get(part, 0.0) + cost
    if rates.packaging:
        parts["packaging"] = bars * rates.packaging
    if rates.hour:
        parts["work"] = (minutes + rates.minutes_beside) / 60 * rates.hour
    total = sum(parts.values())
    return BatchCost(
        pour=pour[0],
        recipe_id=pour[1],
        recipe=pour[2],
        number=pour[3],
        day=pour[4],
        bars=bars,
        parts=parts,
        items=items,
        unpriced=unpriced,
        total=total,
        bar=total / bars if bars else None,
    )


def by_month(batches: Sequence[BatchCost]) -> tuple[MonthCost, ...]:
    """Months in order, then all of them together; none where there is no batch."""
    months: dict[str, list[BatchCost]] = {}
    for b in sorted(batches, key=lambda b: b.day):
        months.setdefault(b.day[:7], []).append(b)
    return tuple(_month(m, of) for m, of in months.items()) + ((_month("", batches),) if batches else ())


def _month(month: str, of: Sequence[BatchCost]) -> MonthCost:
    parts: dict[Part, float] = {p: s for p in ORDER if (s := sum(b.parts.get(p, 0.0) for b in of))}
    bars = sum(b.bars for b in of)
    return MonthCost(
        month=month,
        batches=len(of),
        short=sum(bool(b.unpriced) for b in of),
        uncounted=sum(not b.bars for b in of),
        bars=bars,
        parts=parts,
        total=sum(b.total for b in of),
        bar=sum(b.total for b in of if b.bars) / bars if bars else None,
    )


def differed(batches: Sequence[BatchCost], names: Mapping[str, str], money: str = "") -> tuple[Differed, ...]:
    """Of each recipe poured twice, its last batch against the one before, those that differ most first; none where one
    of them lacks a price that the other has."""
    by: dict[str, list[BatchCost]] = {}
    for b in sorted(batches, key=lambda b: b.day):
        if b.bar is not None:
            by.setdefault(b.recipe_id, []).append(b)
    pairs = [(of[-1], of[-2]) for of in by.values() if len(of) > 1 and set(of[-1].unpriced) == set(of[-2].unpriced)]
    pairs.sort(key=lambda p: -abs((p[0].bar or 0.0) - (p[1].bar or 0.0)))
    return tuple(
        Differed(
            recipe_id=last.recipe_id,
            recipe=last.recipe,
            last=last,
            before=before,
            words=tuple(_words(last, before, names, money)),
        )
        for last, before in pairs
    )


def _by_bar(of: BatchCost) -> dict[str, float]:
    alone: tuple[Part, ...] = ("packaging", "work")
    costs = [*of.items.items(), *((p, of.parts.get(p, 0.0)) for p in alone)]
    return {what: cost / of.bars for what, cost in costs}


def _words(last: BatchCost, before: BatchCost, names: Mapping[str, str], money: str) -> Iterable[Text]:
    a, b = _by_bar(last), _by_bar(before)
    changes = {k: a.get(k, 0.0) - b.get(k, 0.0) for k in {**a, **b}}
    least = TOLD * (before.bar or 0.0)
    for item, by in sorted(changes.items(), key=lambda c: (-abs(c[1]), c[0]))[:MOST_TOLD]:
        if abs(by) > least:
            sign = "+" if by > 0 else "−"
            yield say(names.get(item, item), f" {sign}", figure(abs(by), ".2f"), f" {money}" if money else "", " a bar")
