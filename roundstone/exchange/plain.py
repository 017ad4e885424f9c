"""Tables as CSV: read with any line ends, and cells a spreadsheet must not take for formulas."""

import csv
import io
from collections.abc import Iterator

from ..core.values import Fault, RuleBroken

RISKY = "=+-@\t\r"


def plain(name: str) -> str:
    """A name a spreadsheet does not take for a formula."""
    return f"'{name}" if name[:1] and name[0] in RISKY else name


def unplain(cell: str) -> str:
    """The name again."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] and cell[1] in RISKY else cell


def rows(text: str) -> tuple[list[str], Iterator[tuple[int, dict[str, str]]]]:
    """Columns and rows (by their line in the file) of a CSV text, whatever ends its lines; RuleBroken if it is none."""
    lines = text.removeprefix("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    reader = csv.DictReader(io.StringIO(lines))
    try:
        columns = list(reader.fieldnames or ())
        found = [(reader.line_num, {k: v or "" for k, v in row.items() if k is not None}) for row in reader]
    except csv.Error as error:
        says = f"This is not a table of cells: {error}."
        raise RuleBroken(Fault(pointer=f"/{reader.line_num}", says=says)) from error
    return columns, iter(found)
