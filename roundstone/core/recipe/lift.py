"""Recipes of earlier formats, lifted to today's before they are read."""

from collections.abc import Mapping
from typing import Any

FIRST, SECOND, NOW = "roundstone.recipe/1", "roundstone.recipe/2", "roundstone.recipe/3"
EARLIER = (FIRST, SECOND)


def lifted(value: Any) -> Any:
    """A recipe document as format 3; anything else, and format 3, as it is.

    Format 1 said of a portion only whether it is `scented`. Up to format 2 a dose went into one portion at most, which
    a dose reads by itself.

    >>> old = {"format": "roundstone.recipe/1", "design": {"portions": [{"name": "All", "scented": False}]}}
    >>> lifted(old)["design"]["portions"]
    [{'name': 'All', 'scent': 0.0}]
    """
    if not isinstance(value, Mapping) or value.get("format") not in EARLIER:
        return value
    out = {**value, "format": NOW}
    design = value.get("design")
    if value["format"] == FIRST and isinstance(design, Mapping) and isinstance(design.get("portions"), list | tuple):
        out["design"] = {**design, "portions": [_portion(p) for p in design["portions"]]}
    return out


def one_or_more(value: Any) -> Any:
    """Names of portions, where up to format 2 there was one, or none for all of the batter."""
    return ([value] if value else []) if isinstance(value, str | None) else value


def _portion(value: Any) -> Any:
    if not isinstance(value, Mapping) or not isinstance(value.get("scented"), bool):
        return value
    return {**{k: v for k, v in value.items() if k != "scented"}, "scent": float(value["scented"])}
