"""What others saw, in a sentence."""

from collections.abc import Mapping
from math import exp

from ..shelf import Counted, Others
from ..text import Text, figure, joined, say
from .pool import EIGHT_IN_TEN, counted
from .told import ToldOf

WRONG_WITH = {"riced": "riced", "seized": "seized", "separated": "separated", "discoloured": "changed the colour"}


def times_of(others: Others) -> tuple[float, float, float] | None:
    """How many times as soon, in the middle and over 80 % of workshops that did not tell yet; None where unknown."""
    if others.speed is None:
        return None
    half = EIGHT_IN_TEN / 2 * others.speed.sd
    return exp(others.speed.mean - half), exp(others.speed.mean), exp(others.speed.mean + half)


def heard_words(others: Others) -> Text:
    """Who told, how much it sped trace, and what went wrong how often.

    >>> str(heard_words(Others(workshops=2, pours=9, riced=Counted(seen=1, asked=8))))
    '2 workshops, 9 pours: riced in 1 of 8.'
    """
    who = [
        say(n, f" {word}" if n == 1 else f" {word}s")
        for n, word in ((others.workshops, "workshop"), (others.pours, "pour"), (others.reviews, "review"))
        if n
    ]
    told = []
    times = times_of(others)
    if times is not None:
        low, mid, high = (figure(x, ".1f") for x in times)
        told.append(say("medium trace ", mid, " times as soon (for you likely ", low, " to ", high, ")"))
    told += _counts({key: getattr(others, key) for key in WRONG_WITH}, others.held)
    return say(joined(", ", who), ": ", joined("; ", told), ".") if told else say(joined(", ", who), ".")


def told_words(told: ToldOf) -> Text:
    """What one workshop tells, in one line."""
    speed, out = told.speed, []
    if speed is not None:
        low, mid, high = (figure(x, ".1f") for x in (speed.low, speed.times, speed.high))
        pours = say(speed.pours, " pour" if speed.pours == 1 else " pours")
        out.append(say("medium trace ", mid, " times as soon (", low, " to ", high, "), ", pours))
    return joined("; ", [*out, *_counts({key: counted(told, key) for key in WRONG_WITH}, told.held)])


def _counts(wrong: Mapping[str, Counted], held: Counted) -> list[Text]:
    """What went wrong how often, or that nothing did, and whether the scent held."""
    seen = [_count(WRONG_WITH[key], n) for key, n in wrong.items() if n.seen]
    asked = max((n.asked for n in wrong.values()), default=0)
    if not seen and asked:
        seen = [say("nothing went wrong in ", asked)]
    return [*seen, _count("scent held", held)] if held.asked else seen


def _count(words: str, count: Counted) -> Text:
    return say(words, " in ", count.seen, " of ", count.asked)
