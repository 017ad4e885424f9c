"""Recipes as JSON files with a published schema. See docs/formats.md."""

import json
from typing import Any

from pydantic import ValidationError

from ..core.recipe import Recipe
from ..core.values import Fault, RuleBroken, pointer_to

SCHEMA_ID, EARLIER = "roundstone.recipe/2", "roundstone.recipe/1"


def schema() -> dict[str, Any]:
    """JSON Schema (draft 2020-12) of a recipe file."""
    document = Recipe.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": f"urn:{SCHEMA_ID}", **document}


def read(text: str) -> Recipe:
    """A recipe from a file's text; RuleBroken names every fault by its JSON pointer, and nothing is half-read."""
    try:
        value = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise RuleBroken(Fault(pointer="", says=f"This is not a JSON file: {error}")) from error
    if not isinstance(value, dict):
        raise RuleBroken(Fault(pointer="", says="A recipe file holds one JSON object."))
    if value.get("format") not in (SCHEMA_ID, EARLIER):
        says = f"This is not a recipe of this format: {SCHEMA_ID} is expected, or {EARLIER}."
        raise RuleBroken(Fault(pointer="/format", says=says))
    try:
        return Recipe.model_validate(value)
    except ValidationError as error:
        raise RuleBroken(
            *(Fault(pointer=pointer_to(e["loc"], value, e["type"]), says=e["msg"]) for e in error.errors())
        ) from error


def write(recipe: Recipe) -> str:
    """A recipe's file: indented, with a last line end, so that versions can be compared."""
    return recipe.model_dump_json(indent=2) + "\n"
