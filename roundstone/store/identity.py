"""What makes a thing the same one in another file: its content and its origin, never its name or number alone."""

import json
from collections.abc import Mapping
from hashlib import sha256
from typing import Any


def digest(value: Any) -> str:
    """A short name of a plain JSON value, the same wherever it lies: 32 hexadecimal digits."""
    text = json.dumps(value, sort_keys=True, ensure_ascii=False, separators=(",", ":"))
    return sha256(text.encode()).hexdigest()[:32]


def version_uid(recipe_id: str, number: int, doc: Mapping[str, Any]) -> str:
    """The id of a poured version, in every file: two copies of a workshop that each pour a fourth one have two."""
    return digest([recipe_id, number, doc])
