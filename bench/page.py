"""Puts a benchmark's table where the docs keep it: between its two marks in a page of docs."""

from collections.abc import Sequence
from pathlib import Path

DOCS = Path(__file__).parent.parent / "docs"


def table(heads: Sequence[str], rows: Sequence[Sequence[str]]) -> str:
    """A table in Markdown."""
    lines = [f"| {' | '.join(line)} |" for line in (heads, *rows)]
    return "\n".join([lines[0], "|---" * len(heads) + "|", *lines[1:]])


def put(name: str, text: str, page: str = "model.md") -> None:
    """Replace what stands between the marks called `name`."""
    path = DOCS / page
    begin, end = f"<!-- {name}: begin -->", f"<!-- {name}: end -->"
    before, rest = path.read_text(encoding="utf-8").split(begin)
    after = rest.split(end)[1]
    path.write_text(f"{before}{begin}\n{text}\n{end}{after}", encoding="utf-8")
