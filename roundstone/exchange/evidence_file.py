"""Evidence files and pools of them as JSON with a published schema. See docs/formats.md."""

import json
from typing import Any

from pydantic import TypeAdapter, ValidationError

from ..core.evidence import Evidence, Pool, file_of, member
from ..core.values import Fault, RuleError, pointer_to

FORMATS = ("roundstone.evidence/1", "roundstone.pool/1")


def schema() -> dict[str, Any]:
    """JSON Schema (draft 2020-12) of both kinds of file."""
    document = TypeAdapter(Evidence | Pool).json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": f"urn:{FORMATS[0]}", **document}


def read(text: str) -> Evidence | Pool:
    """A file's contents; RuleError names every fault by its JSON pointer, and nothing is half-read."""
    try:
        value = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise RuleError(Fault(pointer="", message=f"This is not a JSON file: {error}")) from error
    if not isinstance(value, dict):
        raise RuleError(Fault(pointer="", message="An evidence file holds one JSON object."))
    if value.get("format") not in FORMATS:
        message = f"This is no evidence file: {' or '.join(FORMATS)} is expected."
        raise RuleError(Fault(pointer="/format", message=message))
    try:
        return file_of(value)
    except ValidationError as error:
        raise RuleError(
            *(Fault(pointer=pointer_to(e["loc"], value, e["type"]), message=e["msg"]) for e in error.errors()[:20])
        ) from error


def whose(text: str) -> tuple[str, int, tuple[str, ...]]:
    """The made-up name in a file, its edition, and who is in it as a pool names them; ("", 0, ()) of a file that may
    yet turn out to be none."""
    try:
        value = json.loads(text)
        name = value.get("workshop")
        who = (member(str(name)),) if name else tuple(map(str, value.get("members", ())))
        return str(name or value["made"]), int(value.get("edition", 1)), who
    except (ValueError, TypeError, AttributeError, KeyError, RecursionError):
        return "", 0, ()


def write(file: Evidence | Pool) -> str:
    """A file's text: indented, nothing in it that says nothing, with a last line end."""
    return (
        json.dumps(
            {"format": file.format} | file.model_dump(mode="json", exclude_defaults=True), indent=1, ensure_ascii=False
        )
        + "\n"
    )
