"""What could stand in for a fragrance that is short, old or gone, or top it up: like in scent, like in behaviour."""

from collections.abc import Mapping
from math import log

from ..batter import five, times_as_soon
from ..shelf import Fragrance, Shelf
from ..text import Part, Text, figure, say
from ..values import Grams, Name, Value
from .record import Taught

USUAL_MEDIUM = 12.0  # minutes from scent to medium trace that a difference is told on [C]
KIN, SAME_FAMILY, LIKE_KIND = 3.0, 2.0, 0.5  # likeness of another bottle of it, of its family, of oil or not [C]
PER_LN, PER_VANILLIN = 1.2, 0.15  # likeness lost per ln of speed at the usual load, and per share of vanillin [C]
SAY_MINUTES, SAY_VANILLIN = 1.0, 0.01  # what is worth a word [C]
LIKE_ENOUGH = 0.2  # likeness from which it is worth naming [C]
MOST = 4


class StandIn(Value):
    """A fragrance in another's place: how many minutes later (sooner: below 0) medium trace would come of twelve, what
    else changes in words, and what is left of it (None: not counted)."""

    fragrance: str
    name: Name
    minutes: float
    message: tuple[Text, ...]
    left: Grams | None
    likeness: float


def stand_ins(taught: Taught, fragrance: str, left: Mapping[str, Grams]) -> tuple[StandIn, ...]:
    """The likest first, as far as any is like it. Nothing of which none is left is offered; `left` is by fragrance,
    where it is counted.

    What smells alike nobody can reckon: the family and the maker's nose tell.
    """
    shelf, known = taught.shelf, taught.knowledge
    short = shelf.fragrances[fragrance]
    here = five(times_as_soon(known, fragrance))[2]
    out = []
    for other in shelf.fragrances.values():
        if other.id == fragrance or left.get(other.id, 1.0) <= 0:
            continue
        there = five(times_as_soon(known, other.id))[2]
        browner = 100 * abs((other.vanillin or 0.0) - (short.vanillin or 0.0))
        likeness = _alike(short, other) - PER_LN * abs(log(there / here)) - PER_VANILLIN * browner
        minutes = USUAL_MEDIUM * (here / there - 1)
        message = tuple(_says(short, other, minutes))
        out.append(
            StandIn(
                fragrance=other.id,
                name=other.name,
                minutes=round(minutes, 1),
                message=message,
                left=left.get(other.id),
                likeness=round(likeness, 3),
            )
        )
    return tuple(sorted((s for s in out if s.likeness >= LIKE_ENOUGH), key=lambda s: -s.likeness)[:MOST])


def _alike(one: Fragrance, other: Fragrance) -> float:
    kin = other.inherits == one.id or one.inherits in (other.id, other.inherits or "-")
    return KIN * kin + SAME_FAMILY * (one.family == other.family) + LIKE_KIND * (one.essential == other.essential)


def _says(one: Fragrance, other: Fragrance, minutes: float) -> list[Part]:
    out: list[Part] = ["same family" if one.family == other.family else str(other.family)]
    if abs(minutes) >= SAY_MINUTES:
        out.append(f"medium about {abs(minutes):.0f} min {'sooner' if minutes < 0 else 'later'}")
    more = (other.vanillin or 0.0) - (one.vanillin or 0.0)
    if abs(more) >= SAY_VANILLIN:
        out.append("browns more" if more > 0 else "browns less")
    if other.limit is not None and one.limit is not None and other.limit < one.limit:
        out.append(say("limit ", figure(100 * other.limit, ".1f"), " % of the bar"))
    return out


def fragrances_left(shelf: Shelf, lots: Mapping[str, Grams]) -> dict[str, Grams]:
    """What is left by fragrance, from what is left by item."""
    return {i: lots[f"fragrance:{i}"] for i in shelf.fragrances if f"fragrance:{i}" in lots}
