"""The scents of a recipe as one blend, and a blend taken apart into its scents."""

from collections.abc import Sequence

from ..shelf import BlendPart, Claim, Family, Fragrance, NewFragrance
from ..values import Fault, Name, RuleError
from .recipe import MOST_SCENTS, Recipe, Scent

LEAST = 1e-6  # of the fats: less is nothing [chosen]
SAME = 0.005  # of a blend's share: as near as scales and percentages tell [chosen]


def blend_of(name: Name, scents: Sequence[Scent]) -> NewFragrance:
    """The blend these scents make, by their loads; RuleError with fewer than two of any load."""
    _sound(scents, "/scents")
    there = [s for s in scents if s.load > LEAST]
    if len(there) < 2:
        raise RuleError(Fault(pointer="/scents", message="A blend has two fragrances at least."))
    whole = sum(s.load for s in there)
    parts = tuple(BlendPart(fragrance=s.fragrance, share=s.load / whole) for s in there)
    return NewFragrance(name=name, family=Family.OTHER, claim=Claim.UNKNOWN, parts=parts)


def with_blend(recipe: Recipe, blend: Fragrance) -> Recipe:
    """The recipe with its parts' rows as the one row of the blend, at their load together.

    RuleError where they do not stand there in the blend's shares: another scent would be weighed.
    """
    _sound(recipe.scents, "/recipe/scents")
    loads = {s.fragrance: s.load for s in recipe.scents}
    whole = sum(loads.get(p.fragrance, 0.0) for p in blend.parts)
    if not whole or any(abs(loads.get(p.fragrance, 0.0) / whole - p.share) > SAME for p in blend.parts):
        raise RuleError(Fault(pointer="/act/fragrance", message=f"The scents here are not the parts of {blend.name}."))
    names = {p.fragrance for p in blend.parts}
    rest = tuple(s for s in recipe.scents if s.fragrance not in names)
    return recipe.model_copy(update={"scents": (Scent(fragrance=blend.id, load=whole), *rest)})


def taken_apart(recipe: Recipe, blend: Fragrance) -> Recipe:
    """The recipe with the parts of a blend as rows of their own; what stands there already gets more.

    RuleError when there is no room for them."""
    _sound(recipe.scents, "/recipe/scents")
    loads: dict[str, float] = {}
    for scent in recipe.scents:
        here = {p.fragrance: p.share for p in blend.parts} if scent.fragrance == blend.id else {scent.fragrance: 1.0}
        for name, share in here.items():
            loads[name] = loads.get(name, 0.0) + share * scent.load
    if len(loads) > MOST_SCENTS:
        message = f"A recipe has room for {MOST_SCENTS} fragrances; taken apart these are {len(loads)}."
        raise RuleError(Fault(pointer="/act/fragrance", message=message))
    return recipe.model_copy(update={"scents": tuple(Scent(fragrance=f, load=x) for f, x in loads.items())})


def _sound(scents: Sequence[Scent], pointer: str) -> None:
    """Loads that can be: a draft may hold anything."""
    wrong = [i for i, s in enumerate(scents) if not 0 <= s.load <= 1]
    if wrong:
        raise RuleError(*(Fault(pointer=f"{pointer}/{i}/load", message="A load runs from 0 to 100 %.") for i in wrong))
