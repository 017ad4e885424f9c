"""Requests made up from the API's own document, as many as are asked for: none may end in a 5xx.

    python -m bench.fuzz 20000

The workshop they are sent to is one of its own, in a temporary folder. `requests_to` serves the check, which sends few.
"""

import logging
import sys
import tempfile
from collections import Counter
from contextlib import suppress
from datetime import UTC, datetime
from io import BytesIO
from pathlib import Path
from typing import Any

import schemathesis
from hypothesis import HealthCheck, Phase, given, seed, settings
from hypothesis.errors import Unsatisfiable
from schemathesis.core.result import Ok
from schemathesis.generation import GenerationMode

from roundstone.store import Workshop
from roundstone.web import create_app
from tests.samples import SHELF, quick_pour, recipe


def workshop_in(folder: Path) -> Workshop:
    """A workshop with something of most things in it."""
    workshop = Workshop(folder / "fuzzed.sqlite")
    now = datetime(2026, 5, 1, 9, tzinfo=UTC)
    for fragrance in SHELF.fragrances.values():
        workshop.ingredients.add_fragrance(fragrance)
    workshop.recipes.add("r", recipe(), now)
    workshop.pours.start("p", "r", now)
    workshop.pours.append("p", quick_pour(), now)
    return workshop


def requests_to(folder: Path, many: int, number: int = 1) -> tuple[Counter[int], list[str]]:
    """Send about `many` requests over all operations: how many ended with which status, and each 5xx."""
    logging.disable(logging.CRITICAL)
    workshop = workshop_in(folder)
    app = create_app(workshop, document=True)
    schema = schemathesis.openapi.from_dict(_sound(app.api_doc))  # type: ignore[attr-defined]
    client = app.test_client()
    statuses: Counter[int] = Counter()
    broken: list[str] = []
    operations = [found.ok() for found in schema.get_all_operations() if isinstance(found, Ok)]
    each = max(many // len(operations), 1)
    try:
        for operation in operations:
            for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE):
                _send(operation, mode, client, each // 2 or 1, number, statuses, broken)
    finally:
        workshop.close()
        logging.disable(logging.NOTSET)
    return statuses, broken


def _send(
    operation: Any,
    mode: GenerationMode,
    client: Any,
    many: int,
    number: int,
    statuses: Counter[int],
    broken: list[str],
) -> None:
    @seed(number)
    @settings(
        max_examples=many,
        deadline=None,
        database=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(operation.as_strategy(generation_mode=mode))
    def send(case: Any) -> None:
        arguments: dict[str, Any] = {"query_string": case.query or None, "headers": _plain(case.headers)}
        if case.media_type == "multipart/form-data":
            arguments["data"] = _form(case.body) if isinstance(case.body, dict) else b""
        elif isinstance(case.body, (dict, list, str, int, float, bool)):
            arguments["json"] = case.body
        path = case.formatted_path if isinstance(case.formatted_path, str) else case.path
        try:
            status = client.open(path, method=case.method, **arguments).status_code
        except (UnicodeError, ValueError, TypeError):
            return  # no request the client can send
        statuses[status] += 1
        if status >= 500 and len(broken) < 50:
            broken.append(f"{status} {case.method} {path} {str(case.body)[:200]}")

    with suppress(Unsatisfiable):  # an operation without a body has no wrong one
        send()


def _form(body: dict[str, Any]) -> dict[str, Any]:
    """A form's fields, files among them as a browser sends them."""
    out: dict[str, Any] = {}
    for name, value in body.items():
        data = getattr(value, "data", value)
        out[name] = (BytesIO(data), "sent.bin") if isinstance(data, bytes) else str(value)
    return out


def _sound(value: Any) -> Any:
    """The document without what is null in it, which the library that writes it leaves where nothing is."""
    if isinstance(value, dict):
        return {k: _sound(v) for k, v in value.items() if v is not None}
    return [_sound(v) for v in value] if isinstance(value, list) else value


def _plain(headers: Any) -> dict[str, str]:
    return {k: str(v) for k, v in (headers or {}).items() if str(v).isprintable()}


def main() -> int:
    many = int(sys.argv[1]) if len(sys.argv) > 1 else 20_000
    with tempfile.TemporaryDirectory() as folder:
        statuses, broken = requests_to(Path(folder), many)
    print(f"{sum(statuses.values())} requests:", dict(sorted(statuses.items())))
    for line in broken:
        print(line)
    return 1 if any(status >= 500 for status in statuses) else 0


if __name__ == "__main__":
    sys.exit(main())
