"""Where and when each additive of a recipe goes in, and what the order rules say against it."""

from ..shelf import MISPLACED, VESSEL, WHEN, Additive, Misplaced, Moment, Vessel
from ..text import Text, say
from .recipe import Dose


def moment_of(dose: Dose, additive: Additive) -> Moment:
    return dose.moment or additive.moment


def vessel_of(dose: Dose, additive: Additive) -> Vessel:
    return VESSEL[moment_of(dose, additive)]


def words(dose: Dose, additive: Additive) -> Text:
    """Where and when it goes in: the table's own words, unless the maker moved it."""
    moment = moment_of(dose, additive)
    return say(additive.how if moment == additive.moment else WHEN[moment])


def misplaced(dose: Dose, additive: Additive) -> Misplaced | None:
    """What the order rules say against the chosen moment, if anything."""
    return MISPLACED[additive.kind].get(moment_of(dose, additive))
