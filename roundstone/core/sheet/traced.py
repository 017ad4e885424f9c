"""Which lots a batch took from, and which batches took from a lot."""

from dataclasses import dataclass

from ..values import Grams
from .allocation import MADE, Allocation


@dataclass(frozen=True)
class Bottle:
    """A lot as a pour found it: days since it was counted first, and whether it was past its date."""

    label: str
    days: int
    past: bool

    def __str__(self) -> str:
        return f"{self.label or 'a lot'}, counted {self.days} days before{', past its date' if self.past else ''}"


def bottles(of: Allocation, pour: str) -> dict[str, tuple[Bottle, ...]]:
    """By item, the lots this pour took from, as far as the counts tell; lots put away since are among them."""
    found: dict[str, dict[str, Bottle]] = {}
    for use, item, lot_id, _ in of.by_pour.get(pour, ()):
        lot = of.lots[lot_id]
        past = lot.expires is not None and lot.expires < use.at.date()
        found.setdefault(item, {})[lot_id] = Bottle(lot.named, (use.at - lot.counts[0].at).days, past)
    return {item: tuple(by_lot.values()) for item, by_lot in found.items()}


def taken_from(of: Allocation, lot: str) -> dict[str, Grams]:
    """Grams of a lot by the pours that took of it, as far as the counts tell; also through what was made here of it."""
    by_lot: dict[str, list[tuple[str, Grams]]] = {}
    for use, _, lot_id, grams in of.takings:
        by_lot.setdefault(lot_id, []).append((use.pour, grams))
    out: dict[str, Grams] = {}
    waiting = [(lot, 1.0)]
    for source, share in waiting:  # what was made of it goes on into pours, and into what is made of that
        for pour, grams in by_lot.get(source, ()):
            if not pour.startswith(MADE):
                out[pour] = out.get(pour, 0.0) + share * grams
            else:  # nothing is made of itself, so this comes to an end
                made = pour.removeprefix(MADE)
                whole = of.lots[made].grams
                waiting.append((made, share * grams / whole if whole else 0.0))
    return out
