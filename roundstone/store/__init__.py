"""The workshop's data file: recipes, poured versions, pours and their events, fragrances."""

from ..core.values import Conflict, DataFileTrouble, Missing
from .records import Photo, PourRecord, RecipeRecord, Unreadable
from .workshop import Workshop

__all__ = ["Conflict", "DataFileTrouble", "Missing", "Photo", "PourRecord", "RecipeRecord", "Unreadable", "Workshop"]
