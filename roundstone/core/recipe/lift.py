"""Recipes of earlier formats, lifted to today's before they are read."""

from collections.abc import Mapping
from typing import Any

FIRST = "roundstone.recipe/1"


def lifted(value: Any) -> Any:
    """A recipe document as format 2; anything else, and format 2, as it is.

    Format 1 said of a portion only whether it is `scented`.

    >>> old = {"format": "roundstone.recipe/1", "design": {"portions": [{"name": "All", "scented": False}]}}
    >>> lifted(old)["design"]["portions"]
    [{'name': 'All', 'scent': 0.0}]
    """
    if not isinstance(value, Mapping) or value.get("format") != FIRST:
        return value
    design = value.get("design")
    out = {**value, "format": "roundstone.recipe/2"}
    if isinstance(design, Mapping) and isinstance(design.get("portions"), list | tuple):
        out["design"] = {**design, "portions": [_portion(p) for p in design["portions"]]}
    return out


def _portion(value: Any) -> Any:
    if not isinstance(value, Mapping) or not isinstance(value.get("scented"), bool):
        return value
    return {**{k: v for k, v in value.items() if k != "scented"}, "scent": float(value["scented"])}
