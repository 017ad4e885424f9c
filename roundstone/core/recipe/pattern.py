"""Patterns: a design with its colours, kept under a name and used on another recipe."""

from ..values import Id, Name, Value
from .recipe import Design, Dose, Recipe


class Pattern(Value):
    """A design, and the doses that go into one of its portions."""

    id: Id
    name: Name
    design: Design
    doses: tuple[Dose, ...] = ()


def pattern_of(recipe: Recipe, pattern_id: Id, name: Name) -> Pattern:
    """The pattern of a recipe: everything that is not its batter."""
    doses = tuple(d for d in recipe.additives if d.into)
    return Pattern(id=pattern_id, name=name, design=recipe.design, doses=doses)


def with_pattern(recipe: Recipe, pattern: Pattern) -> Recipe:
    """The recipe poured in a pattern; what went into one portion of the old design gives way to the pattern's own."""
    shared = tuple(d for d in recipe.additives if not d.into)
    return recipe.model_copy(update={"design": pattern.design, "additives": (*shared, *pattern.doses)})
