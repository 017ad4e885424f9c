"""The workshop's data file: recipes, poured versions, pours and their events, fragrances."""

from ..core.values import Conflict, DataFileTrouble, Missing
from .workshop import Photo, PourRecord, RecipeRecord, Unreadable, Workshop

__all__ = ["Conflict", "DataFileTrouble", "Missing", "Photo", "PourRecord", "RecipeRecord", "Unreadable", "Workshop"]
