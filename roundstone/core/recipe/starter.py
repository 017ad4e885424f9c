"""A recipe to begin with, and a blank one, at the temperatures that are usual where it is poured."""

from ..values import Celsius, Id, Name, Value
from .recipe import ONE_PORTION, ByMoulds, Mould, Recipe


class Starter(Value):
    """A recipe for who has none yet, and what it teaches."""

    id: Id
    teaches: str
    recipe: Recipe


class UsualPour(Value):
    """What is usual in a workshop: the batter's temperature at the pour, and the room's. None: as the recipe says."""

    pour_celsius: Celsius | None = None
    room_celsius: Celsius | None = None


class MouldPreset(Value):
    """A mould most makers have, to begin with."""

    id: Id
    name: Name
    mould: Mould


POURED, POURED_F = 37.0, 100.0  # degrees Celsius and Fahrenheit of a new recipe: common practice, round in each


def blank(name: Name, mould: Mould, fahrenheit: bool = False) -> Recipe:
    """A new recipe: no fats yet, one portion, fully scented, poured plain into this mould."""
    celsius = (POURED_F - 32) * 5 / 9 if fahrenheit else POURED
    size = ByMoulds(moulds=(mould,))
    return Recipe(name=name or "New recipe", fats=(), size=size, design=ONE_PORTION, pour_celsius=celsius)


def as_usual(recipe: Recipe, usual: UsualPour, warmth: bool) -> Recipe:
    """A recipe in this workshop's room and, where `warmth` is not part of what it is, poured as warm as usual."""
    changes: dict[str, Celsius] = {}
    if usual.room_celsius is not None:
        changes["room_celsius"] = usual.room_celsius
    if warmth and usual.pour_celsius is not None:
        changes["pour_celsius"] = usual.pour_celsius
    return recipe.model_copy(update=changes)
