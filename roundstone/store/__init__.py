"""The workshop's data file: recipes, poured versions, pours and their events, fragrances."""

from ..core.values import ConflictError, DataFileError, NotFoundError
from .records import Photo, PourRecord, RecipeRecord, Unreadable
from .workshop import Workshop

__all__ = [
    "ConflictError",
    "DataFileError",
    "NotFoundError",
    "Photo",
    "PourRecord",
    "RecipeRecord",
    "Unreadable",
    "Workshop",
]
