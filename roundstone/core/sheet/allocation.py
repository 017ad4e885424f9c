"""Which pour took how much of what from which lot: those that expire first are taken from first."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from functools import cached_property
from typing import NamedTuple

from ..values import Grams
from .lots import Lot, LotLeft, used_by

MADE = "made here: "  # before a lot's id, where making it took something


@dataclass(frozen=True)
class Use:
    """Grams of each item that a pour took when it was begun, or the making of a lot."""

    at: datetime
    grams: Mapping[str, Grams]
    pour: str = ""


class Taking(NamedTuple):
    """How much of an item a use took from a lot."""

    use: Use
    item: str
    lot: str
    grams: Grams


Away = Mapping[str, datetime]  # when lots were put away, by id
NONE_AWAY: Away = {}


@dataclass(frozen=True)
class OfItem:
    """What was taken of one item: from its `lots`, with when they were put away, by `uses`; and what is `left`."""

    lots: tuple[tuple[str, Lot, datetime | None], ...]
    uses: tuple[Use, ...]
    takings: Sequence[Taking]
    left: Mapping[str, Grams]


@dataclass(frozen=True)
class Allocation:
    """Every lot there ever was, those put `away` since, and all that was taken from them."""

    lots: Mapping[str, Lot]
    away: Away
    items: Mapping[str, OfItem]

    @property
    def takings(self) -> Iterator[Taking]:
        return (t for of in self.items.values() for t in of.takings)

    @cached_property
    def by_pour(self) -> Mapping[str, list[Taking]]:
        found: dict[str, list[Taking]] = {}
        for t in self.takings:
            found.setdefault(t.use.pour, []).append(t)
        return found


def makings(lots: Mapping[str, Lot]) -> list[Use]:
    """What making these lots took, as pours take."""
    return [Use(at=x.made, grams=used_by(x), pour=f"{MADE}{i}") for i, x in lots.items() if x.made and not x.unmade]


def allocate(
    lots: Mapping[str, Lot], uses: Sequence[Use], away: Away = NONE_AWAY, known: Allocation | None = None
) -> Allocation:
    """Allocate all uses to lots (by id), those put `away` since among them. What is `known` already of an item whose
    lots and uses are the same is not reckoned anew."""
    of_item: dict[str, list[tuple[str, Lot, datetime | None]]] = {}
    for i, lot in in_order(lots):
        of_item.setdefault(lot.item, []).append((i, lot, away.get(i)))
    uses_of: dict[str, list[Use]] = {item: [] for item in of_item}
    for use in sorted(uses, key=lambda u: u.at):
        for item in use.grams:
            if item in uses_of:
                uses_of[item].append(use)
    items: dict[str, OfItem] = {}
    for item, found in of_item.items():
        there, took = tuple(found), tuple(uses_of[item])
        before = known.items.get(item) if known is not None else None
        same = before is not None and before.lots == there and before.uses == took
        items[item] = before if before is not None and same else _of_item(item, there, took)
    return Allocation(lots, away, items)


def _of_item(item: str, lots: tuple[tuple[str, Lot, datetime | None], ...], uses: tuple[Use, ...]) -> OfItem:
    takings = list(_takings(item, lots, uses))
    rest = {i: lot.grams for i, lot, _ in lots}
    counted = {i: lot.counted for i, lot, _ in lots}
    for use, _, lot_id, grams in takings:
        if use.at > counted[lot_id]:
            rest[lot_id] -= grams
    return OfItem(lots, uses, takings, rest)


def in_order(lots: Mapping[str, Lot]) -> list[tuple[str, Lot]]:
    """Lots by id, each item's in the order in which they are taken from."""
    return sorted(lots.items(), key=lambda x: (x[1].item, x[1].expires or date.max, x[1].counts[0].at, x[0]))


def _takings(item: str, lots: Sequence[tuple[str, Lot, datetime | None]], uses: Sequence[Use]) -> Iterator[Taking]:
    """The last lot gives what is there no more. A lot is there from its first count until it is put away, and holds
    what its last count before says, less what was taken since."""
    remaining = {i: 0.0 for i, _, _ in lots}
    counts = sorted(((c.at, i, c.grams) for i, lot, _ in lots for c in lot.counts), reverse=True)
    came = [(i, lot.counts[0].at, gone) for i, lot, gone in lots]
    for use in uses:
        while counts and counts[-1][0] < use.at:
            _, lot_id, there = counts.pop()
            remaining[lot_id] = there
        open_lots = [i for i, since, gone in came if since < use.at and (gone is None or use.at < gone)]
        need = use.grams[item]
        for i in open_lots:
            take = min(need, max(remaining[i], 0.0))
            if take > 0:
                remaining[i] -= take
                need -= take
                yield Taking(use, item, i, take)
        if need > 0 and open_lots:
            remaining[open_lots[-1]] -= need
            yield Taking(use, item, open_lots[-1], need)


def left(of: Allocation) -> tuple[LotLeft, ...]:
    """What is left of every lot, those that expire first standing first. Of the lots that were put away nothing is
    told; but what was taken from them until then was taken from no other."""
    rest = {i: grams for x in of.items.values() for i, grams in x.left.items()}
    return tuple(LotLeft(id=i, lot=lot, left=rest[i]) for i, lot in in_order(of.lots) if i not in of.away)
