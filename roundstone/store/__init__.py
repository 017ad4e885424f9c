"""The workshop's data file: recipes, poured versions, pours and their events, fragrances."""

from .workshop import Conflict, Missing, Photo, PourRecord, RecipeRecord, Workshop

__all__ = ["Conflict", "Missing", "Photo", "PourRecord", "RecipeRecord", "Workshop"]
