"""Puts a benchmark's table where the docs keep it: between its two marks in docs/model.md."""

from collections.abc import Sequence
from pathlib import Path

MODEL = Path(__file__).parent.parent / "docs/model.md"


def table(heads: Sequence[str], rows: Sequence[Sequence[str]]) -> str:
    """A table in Markdown."""
    lines = [f"| {' | '.join(line)} |" for line in (heads, *rows)]
    return "\n".join([lines[0], "|---" * len(heads) + "|", *lines[1:]])


def put(name: str, text: str) -> None:
    """Replace what stands between the marks called `name`."""
    begin, end = f"<!-- {name}: begin -->", f"<!-- {name}: end -->"
    before, rest = MODEL.read_text(encoding="utf-8").split(begin)
    after = rest.split(end)[1]
    MODEL.write_text(f"{before}{begin}\n{text}\n{end}{after}", encoding="utf-8")
