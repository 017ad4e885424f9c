"""Recipes as JSON files with a published schema. See docs/formats.md."""

import json
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from pydantic import Field, ValidationError

from ..core.recipe import EARLIER, NOW, Recipe
from ..core.shelf import Additive, Fat, Fragrance, Liquid, Shelf
from ..core.values import Fault, RuleError, Value, pointer_to
from ..reference import shelf as reference_shelf


class Uses(Value):
    """What a recipe names that stands in no table of the program, whole, and the `workshop` it is of.

    An id says nothing elsewhere: what the file holds is what is weighed, whatever is called so where it is read.
    """

    workshop: str = Field(default="", max_length=60)
    fats: tuple[Fat, ...] = ()
    liquids: tuple[Liquid, ...] = ()
    additives: tuple[Additive, ...] = ()
    fragrances: tuple[Fragrance, ...] = ()

    def on(self, shelf: Shelf) -> Shelf:
        """A shelf with these on it, in the place of what is called so there."""
        return shelf.model_copy(
            update={
                "fats": dict(shelf.fats) | {x.id: x for x in self.fats},
                "liquids": dict(shelf.liquids) | {x.id: x for x in self.liquids},
                "additives": dict(shelf.additives) | {x.id: x for x in self.additives},
                "fragrances": dict(shelf.fragrances) | {x.id: x for x in self.fragrances},
            }
        )

    def rows(self) -> dict[str, list[dict[str, Any]]]:
        """The same as rows of an archive."""
        own: Iterable[tuple[str, Fat | Liquid | Additive]] = (
            *(("fat", x) for x in self.fats),
            *(("liquid", x) for x in self.liquids),
            *(("additive", x) for x in self.additives),
        )
        return {
            "own": [
                {"id": x.id, "kind": kind, "doc": x.model_dump(mode="json"), "revision": 1, "removed": None}
                for kind, x in own
            ],
            "fragrance": [{"id": f.id, "doc": f.model_dump(mode="json"), "revision": 1} for f in self.fragrances],
        }


class RecipeFile(Recipe):
    """A recipe as a file holds it."""

    uses: Uses | None = None


@dataclass(frozen=True)
class Read:
    """A recipe that was read, and what it brings; None where the file does not say what it names."""

    recipe: Recipe
    uses: Uses | None = None

    def named(self) -> set[str]:
        """Ids of everything the recipe names."""
        return set(_named(self.recipe))


def schema() -> dict[str, Any]:
    """JSON Schema (draft 2020-12) of a recipe file."""
    document = RecipeFile.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": f"urn:{NOW}", **document}


def read(text: str) -> Read:
    """A recipe from a file's text; RuleError names every fault by its JSON pointer, and nothing is half-read."""
    try:
        value = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise RuleError(Fault(pointer="", message=f"This is not a JSON file: {error}")) from error
    if not isinstance(value, dict):
        raise RuleError(Fault(pointer="", message="A recipe file holds one JSON object."))
    if value.get("format") not in (NOW, *EARLIER):
        message = f"This is not a recipe of this format: {NOW} is expected, or {' or '.join(EARLIER)}."
        raise RuleError(Fault(pointer="/format", message=message))
    try:
        uses = Uses.model_validate(value.pop("uses")) if value.get("uses") is not None else None
        value.pop("uses", None)
        return Read(Recipe.model_validate(value), uses)
    except ValidationError as error:
        raise RuleError(
            *(Fault(pointer=pointer_to(e["loc"], value, e["type"]), message=e["msg"]) for e in error.errors())
        ) from error


def write(recipe: Recipe, shelf: Shelf, workshop: str = "") -> str:
    """A recipe's file: indented, with a last line end, so that versions can be compared."""
    document = recipe.model_dump(mode="json")
    uses = used(recipe, shelf, workshop)
    if uses is not None:
        document["uses"] = uses.model_dump(mode="json")
    return json.dumps(document, indent=2, ensure_ascii=False) + "\n"


def _named(recipe: Recipe) -> Iterable[str]:
    yield from (r.fat for r in recipe.fats)
    yield from (u.liquid for u in recipe.liquids)
    yield from (s.fragrance for s in recipe.scents)
    for dose in recipe.additives:
        yield dose.additive
        if dose.carrier and dose.carrier.fat:
            yield dose.carrier.fat


def used(recipe: Recipe, shelf: Shelf, workshop: str = "") -> Uses | None:
    """What a recipe names that is of its workshop, and what that is made of; None where all is in the tables."""
    standard = reference_shelf()
    waiting, found = list(_named(recipe)), dict[str, Fat | Liquid | Additive | Fragrance]()
    for name in waiting:
        for of, tables in (
            (shelf.fats, standard.fats),
            (shelf.liquids, standard.liquids),
            (shelf.additives, standard.additives),
            (shelf.fragrances, {}),
        ):
            thing = of.get(name)
            if thing is None or thing.id in found or tables.get(name) == thing:
                continue
            found[thing.id] = thing
            if isinstance(thing, Fragrance):
                waiting += [*(p.fragrance for p in thing.parts), *([thing.inherits] if thing.inherits else [])]
            else:
                waiting += [p.item.partition(":")[2] for p in (thing.made.of if thing.made else ())]
    if not found:
        return None
    things = list(found.values())
    return Uses(
        workshop=workshop,
        fats=tuple(x for x in things if isinstance(x, Fat)),
        liquids=tuple(x for x in things if isinstance(x, Liquid)),
        additives=tuple(x for x in things if isinstance(x, Additive)),
        fragrances=tuple(x for x in things if isinstance(x, Fragrance)),
    )
