"""Notes for next time: each returns where what it is about is planned, weighed and poured again, and is counted."""

from collections.abc import Iterable, Sequence
from typing import Literal, Protocol
from uuid import UUID

from ..pour import Heeded
from ..recipe import Recipe
from ..shelf import Shelf
from ..values import Name, Value

MOST = 6  # that are brought back at once [C]


class Noted(Protocol):
    """A note as the store keeps it."""

    @property
    def id(self) -> UUID: ...
    @property
    def message(self) -> str: ...
    @property
    def about(self) -> str: ...
    @property
    def pour(self) -> str: ...
    @property
    def recipe_id(self) -> str: ...
    @property
    def recipe(self) -> str: ...


class Recalled(Value):
    """A note that is met again: what it is `about` in words, the recipe and pour it was made at, and how often it was
    `heeded` of the times it was `met`."""

    id: UUID
    message: str
    about: str
    of: str
    recipe: Name
    pour: str
    met: int
    heeded: int
    how: Literal["", "heeded", "aside"] = ""


def subjects(recipe: Recipe, shelf: Shelf) -> dict[str, str]:
    """What a note of this recipe can be about, with its words: itself, its mould, fragrances, technique, colourants."""
    out = {"recipe": "this recipe", "mould": "this mould"}
    for f in recipe.fragrances:
        out[f"fragrance:{f}"] = shelf.fragrances[f].name if f in shelf.fragrances else f
    technique = recipe.design.technique
    out[f"technique:{technique}"] = shelf.techniques[technique].name if technique in shelf.techniques else technique
    for dose in recipe.additives:
        known = shelf.additives.get(dose.additive)
        if known is not None and known.tint:
            out[f"colour:{dose.additive}"] = known.name
    return out


def recalled(
    notes: Iterable[Noted],
    heeds: Sequence[Heeded],
    recipe: Recipe,
    recipe_id: str,
    shelf: Shelf,
    ticked: dict[str, Literal["heeded", "aside"]] | None = None,
) -> tuple[Recalled, ...]:
    """Notes that matter to a recipe, latest first. What was set aside at an earlier pour does not come back.

    `ticked` is what was said of them for the pour that is being made ready, by id."""
    about = subjects(recipe, shelf)
    out: list[Recalled] = []
    for note in notes:
        own = note.about in ("recipe", "mould")
        if note.about not in about or (own and note.recipe_id != recipe_id):
            continue
        met = [h for h in heeds if h.note == note.id]
        if any(h.how == "aside" for h in met):
            continue
        out.append(
            Recalled(
                id=note.id,
                message=note.message,
                about=note.about,
                of=about[note.about],
                recipe=note.recipe,
                pour=note.pour,
                met=len(met),
                heeded=sum(h.how == "heeded" for h in met),
                how=(ticked or {}).get(str(note.id), ""),
            )
        )
        if len(out) == MOST:
            break
    return tuple(out)
