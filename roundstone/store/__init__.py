"""The workshop's data file: recipes, poured versions, pours and their events, fragrances."""

from .workshop import Conflict, Missing, PourRecord, RecipeRecord, Workshop

__all__ = ["Conflict", "Missing", "PourRecord", "RecipeRecord", "Workshop"]
