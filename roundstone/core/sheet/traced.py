"""Which lots a batch took from, and which batches took from a lot."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..values import Grams
from .lots import NONE_AWAY, Away, Lot, Use, in_order, takings, used_by

MADE = "made here: "


@dataclass(frozen=True)
class Bottle:
    """A lot as a pour found it: days since it was counted first, and whether it was past its date."""

    label: str
    days: int
    past: bool

    def __str__(self) -> str:
        return f"{self.label or 'a lot'}, counted {self.days} days before{', past its date' if self.past else ''}"


def bottles(
    lots: Mapping[str, Lot], uses: Sequence[Use], pour: str, away: Away = NONE_AWAY
) -> dict[str, tuple[Bottle, ...]]:
    """By item, the lots this pour took from, as far as the counts tell; lots put `away` since are among them."""
    return bottles_of(lots, uses, away).get(pour, {})


def bottles_of(
    lots: Mapping[str, Lot], uses: Sequence[Use], away: Away = NONE_AWAY
) -> dict[str, dict[str, tuple[Bottle, ...]]]:
    """By pour and item, the lots they took from."""
    found: dict[str, dict[str, dict[str, Bottle]]] = {}
    for use, item, lot_id, _ in takings(in_order(lots), uses, away):
        lot = lots[lot_id]
        past = lot.expires is not None and lot.expires < use.at.date()
        bottle = Bottle(lot.named, (use.at - lot.counts[0].at).days, past)
        found.setdefault(use.pour, {}).setdefault(item, {})[lot_id] = bottle
    return {pour: {item: tuple(by_lot.values()) for item, by_lot in items.items()} for pour, items in found.items()}


def taken_from(lots: Mapping[str, Lot], pours: Sequence[Use], lot: str, away: Away = NONE_AWAY) -> dict[str, Grams]:
    """Grams of a lot by the pours that took of it, as far as the counts tell; also through what was made here of it."""
    made = {i: x for i, x in lots.items() if x.made and not x.unmade}
    uses = [u for u in pours if u.pour]
    uses += [Use(at=x.made, grams=used_by(x), pour=MADE + i) for i, x in made.items() if x.made]
    rows = [(use.pour, lot_id, grams) for use, _, lot_id, grams in takings(in_order(lots), uses, away)]
    out: dict[str, Grams] = {}
    waiting = [(lot, 1.0)]
    for source, share in waiting:  # what was made of it goes on into pours, and into what is made of that
        for pour, of, grams in rows:
            if of != source:
                continue
            if not pour.startswith(MADE):
                out[pour] = out.get(pour, 0.0) + share * grams
            else:  # nothing is made of itself, so this comes to an end
                whole = made[pour.removeprefix(MADE)].grams
                waiting.append((pour.removeprefix(MADE), share * grams / whole if whole else 0.0))
    return out
