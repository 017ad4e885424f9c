"""A recipe to begin with, and a blank one, at the temperatures that are usual where it is poured."""

from ..values import Celsius, Id, Name, Value
from .recipe import Design, Portion, Recipe


class Starter(Value):
    """A recipe for who has none yet, and what it teaches."""

    id: Id
    teaches: str
    recipe: Recipe


class UsualPour(Value):
    """What is usual in a workshop: the batter's temperature at the pour, and the room's. None: as the recipe says."""

    pour_celsius: Celsius | None = None
    room_celsius: Celsius | None = None


def blank(name: Name) -> Recipe:
    """A new recipe: no fats yet, two portions as most designs have."""
    portions = (Portion(name="Base", share=0.6, scent=1.0), Portion(name="Accent", share=0.4, scent=0.0))
    return Recipe(name=name or "New recipe", fats=(), design=Design(portions=portions, technique="drop-swirl"))


def as_usual(recipe: Recipe, usual: UsualPour, warmth: bool) -> Recipe:
    """A recipe in this workshop's room and, where `warmth` is not part of what it is, poured as warm as usual."""
    changes: dict[str, Celsius] = {}
    if usual.room_celsius is not None:
        changes["room_celsius"] = usual.room_celsius
    if warmth and usual.pour_celsius is not None:
        changes["pour_celsius"] = usual.pour_celsius
    return recipe.model_copy(update=changes)
