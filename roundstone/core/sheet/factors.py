"""The covariates of the batter clock, off a sheet."""

from collections.abc import Iterable

from ..recipe import moment_of
from .amounts import Amounts
from .doses import Dosed

# g/kg beyond which the clock's line is not carried on [chosen]: a salt bar is another soap, and of free acids, told as
# stearic acid, no more is needed to set a pot at once.
CARRIED = {"salt": 100.0, "acid": 80.0}


def factors_of(of: Amounts) -> dict[str, float]:
    """The covariates of the batter clock, all of it taken together: acid shares as fractions, doses in g/kg fats.

    Of milk the fat does not count: its sugar and protein hasten, its fat is one more soft fat."""
    return _factors(of, ((d, 1.0) for d in of.doses))


def combined_factors(of: Amounts) -> dict[str, float]:
    """The same of what stands in jug and pot as they meet."""
    return _factors(of, ((d, 1.0) for d in of.doses if not d.dose.into and moment_of(d.dose, d.additive) != "trace"))


def portion_factors(of: Amounts, name: str = "") -> dict[str, float]:
    """The same of a portion with all that is stirred into it; without a name of what every portion has."""
    own = ((d, d.on / d.grams) for d in of.doses if name and name in d.dose.into and d.grams > 0)
    return _factors(of, [*((d, 1.0) for d in of.doses if not d.dose.into), *own])


def _factors(of: Amounts, doses: Iterable[tuple[Dosed, float]]) -> dict[str, float]:
    """With these doses, each so many times."""
    factors = dict(of.undosed)
    for d, times in doses:
        if d.additive.factor:
            fat = d.additive.fat if d.additive.factor == "milk" else 0.0
            factors[d.additive.factor] += 1000 * d.grams * times * max(d.additive.active - fat, 0.0)
    return factors | {k: min(factors[k], most) for k, most in CARRIED.items()}
