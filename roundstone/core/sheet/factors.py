"""The covariates of the batter clock, off a sheet."""

from .amounts import Amounts

SALT_TOLD = 100.0  # g/kg of salt beyond which the clock's line is not carried on: a salt bar is another soap [chosen]


def factors_of(of: Amounts) -> dict[str, float]:
    """The covariates of the batter clock: acid shares as fractions, doses in g/kg fats."""
    liquids = of.liquids

    def acids(*names: str) -> float:
        return sum(m * f.acid_share(*names) for m, f in of.rows)

    factors = {
        "lauric": acids("12:0", "14:0"),
        "palmitic": acids("16:0", "18:0"),
        "ricinoleic": acids("ricinoleic"),
        "linoleic": acids("18:2", "18:3"),
        "lye": of.concentration,
        "superfat": of.recipe.superfat,
        "sugar": 1000 * sum(g * q.sugars for g, q in liquids if q.kind != "milk"),
        "milk": 1000 * sum(g * q.solids for g, q in liquids if q.kind == "milk"),
        "clay": 0.0,
        "lactate": 0.0,
        "salt": 1000 * sum(g * q.salt for g, q in liquids),
        "ethanol": 1000 * sum(g * q.alcohol for g, q in liquids),
    }
    for d in of.doses:
        if d.additive.factor:
            factors[d.additive.factor] += 1000 * d.grams * d.additive.active
    factors["salt"] = min(factors["salt"], SALT_TOLD)
    return factors
