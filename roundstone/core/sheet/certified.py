"""Fats as the certificates of the lots in hand say, which the lye follows."""

from ..recipe import Recipe
from ..shelf import Shelf, by_certificate


def certified(recipe: Recipe, shelf: Shelf) -> Shelf:
    """The shelf on which each fat has the saponification value its row of the recipe states; the same shelf where none
    does. All that reckons with a recipe's fats asks here."""
    own = {
        row.fat: by_certificate(shelf.fats[row.fat], row.sv)
        for row in recipe.fats
        if row.sv is not None and row.fat in shelf.fats
    }
    return shelf.model_copy(update={"fats": {**shelf.fats, **own}}) if own else shelf
