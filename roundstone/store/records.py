"""What a workshop gives back: drafts, pours, notes, pictures."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from uuid import UUID

from ..core.pour import Event, PourState, called, replay
from ..core.recipe import Recipe


@dataclass(frozen=True)
class RecipeRecord:
    """A draft with its history: `versions` were poured `pours` times."""

    id: str
    recipe: Recipe
    revision: int
    changed: datetime
    versions: int
    pours: int


@dataclass(frozen=True)
class Unreadable:
    """A draft this program cannot read: its raw JSON, and why."""

    id: str
    name: str
    raw: str
    why: str
    changed: datetime


@dataclass(frozen=True)
class Photo:
    """A picture of a pour's bar, `days` after it was poured."""

    id: str
    pour: str
    days: float
    note: str


@dataclass(frozen=True)
class Note:
    """What was noted for next time, about what, and at which pour of which recipe."""

    id: UUID
    message: str
    about: str
    pour: str
    recipe_id: str
    recipe: str
    started: datetime


@dataclass(frozen=True)
class PourRecord:
    """A pour with the recipe version it pins and its events in the order they came.

    `version` is its number, `row` where its weights are kept; a practice pour has none.
    """

    id: str
    recipe_id: str
    version: int
    row: int | None
    recipe: Recipe
    started: datetime
    events: tuple[Event, ...]

    @classmethod
    def of(
        cls,
        pour: str,
        recipe_id: str,
        version: int,
        row: int | None,
        started: datetime,
        recipe: Recipe,
        events: Sequence[Event],
    ) -> "PourRecord":
        """As it is kept, in the names its portions carry last."""
        recipe, named = called(recipe, events)
        return cls(pour, recipe_id, version, row, recipe, started, named)

    @cached_property
    def state(self) -> PourState:
        """What the events come to."""
        return replay(self.events, self.recipe)

    @property
    def ended(self) -> bool:
        return self.state.ended is not None


@dataclass(frozen=True)
class Document:
    """A file of a lot; `media` is application/pdf or image/jpeg."""

    id: str
    lot: str
    name: str
    media: str
