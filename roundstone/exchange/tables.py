"""Tables of the workshop for other programs: the same rows as CSV (RFC 4180), as a spreadsheet, and as JSON.

Figures are metric; a moment carries its zone where the file's kind can hold one.
"""

import csv
import io
import zipfile
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time
from typing import Any

from ..core.logbook import COST_PARTS, BatchCost
from ..core.values import Fault, RuleError
from .plain import plain, unplain, written
from .plain import rows as csv_rows

Cell = str | float | int | date | datetime | None
DIGITS = 12  # of a figure that was reckoned
WIDEST = 60  # letters of a spreadsheet's column
MOST_BYTES = 100 * 2**20  # of a spreadsheet that is read, unpacked [chosen]
MOST_ROWS, MOST_COLUMNS = 200_000, 40  # of a sheet that are read [chosen]


@dataclass(frozen=True)
class Table:
    """Rows under named columns; `edited` are columns that are read back."""

    name: str
    columns: tuple[str, ...]
    rows: Sequence[tuple[Cell, ...]]
    edited: frozenset[str] = frozenset()


def as_csv(table: Table) -> str:
    """The table as text."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(table.columns)
    writer.writerows([_text(c) for c in row] for row in table.rows)
    return out.getvalue()


def _text(cell: Cell) -> str:
    if cell is None:
        return ""
    if isinstance(cell, datetime | date):
        return cell.isoformat()
    return plain(cell) if isinstance(cell, str) else written(cell, DIGITS)


def as_json(table: Table) -> list[dict[str, str | float | int | None]]:
    """The table as objects."""
    plainly = [[c.isoformat() if isinstance(c, datetime | date) else c for c in row] for row in table.rows]
    return [dict(zip(table.columns, row, strict=True)) for row in plainly]


def as_xlsx(tables: Iterable[Table]) -> bytes:
    """The tables as sheets of one spreadsheet; what somebody typed is never a formula in it."""
    from openpyxl import Workbook  # slow to import
    from openpyxl.cell import WriteOnlyCell
    from openpyxl.styles import Alignment, Font, PatternFill

    book = Workbook(write_only=True)
    bold, mine = Font(bold=True), PatternFill("solid", fgColor="FFF4D6")
    for table in tables:
        page = book.create_sheet(table.name)
        page.freeze_panes = "A2"
        for i, column in enumerate(table.columns):
            lengths = [len(_text(row[i])) for row in table.rows[:200]]
            letter = _letter(i)
            page.column_dimensions[letter].width = min(max([len(column), *lengths]) + 2, WIDEST)
        head = []
        for column in table.columns:
            cell = WriteOnlyCell(page, column)
            cell.font, cell.alignment = bold, Alignment(vertical="top")
            if column in table.edited:
                cell.fill = mine
            head.append(cell)
        page.append(head)
        for row in table.rows:
            page.append([_word(page, value) if _formula(value) else _bare(value) for value in row])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _formula(cell: Cell) -> bool:
    """Whether a spreadsheet would take it for one."""
    return isinstance(cell, str) and cell.startswith("=")


def _word(page: Any, words: Cell) -> Any:
    """Words that begin with an equals sign and are no formula."""
    from openpyxl.cell import WriteOnlyCell

    cell = WriteOnlyCell(page, _bare(words))
    cell.data_type = "s"
    return cell


def _bare(cell: Cell) -> Any:
    """What a spreadsheet holds of it. It keeps no zone: a moment stands in its ISO words, to the second."""
    return cell.isoformat(timespec="seconds") if isinstance(cell, datetime) else cell


def from_xlsx(data: bytes) -> dict[str, str]:
    """The sheets of a spreadsheet by their names, each as CSV; RuleError when it is none.

    What a formula came to is read, as the program that saved it last reckoned it.
    """
    from openpyxl import load_workbook

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(i.file_size for i in packed.infolist()) > MOST_BYTES:
                raise RuleError(Fault(pointer="/file", message="This spreadsheet is larger than 100 MB unpacked."))
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        return {page.title: _page(page) for page in book.worksheets}
    except RuleError:
        raise
    except Exception as error:  # a damaged file fails in whatever way its bytes please
        message = "This is no spreadsheet that can be read: .xlsx is expected."
        raise RuleError(Fault(pointer="/file", message=message)) from error


def _page(page: Any) -> str:
    """A sheet's cells as CSV, without the empty ones behind and below."""
    out = io.StringIO()
    writer = csv.writer(out)
    rows = [[_typed(c) for c in row[:MOST_COLUMNS]] for row in page.iter_rows(values_only=True, max_row=MOST_ROWS)]
    while rows and not any(rows[-1]):
        rows.pop()
    width = max((i + 1 for row in rows[:1] for i, c in enumerate(row) if c), default=0)
    writer.writerows(row[:width] for row in rows)
    return out.getvalue()


def _typed(cell: Any) -> str:
    """A cell as the CSV readers take it: a day without its midnight, a number with a point."""
    if cell is None:
        return ""
    if isinstance(cell, datetime):
        return cell.date().isoformat() if cell.time() == time() else cell.isoformat()
    if isinstance(cell, bool):
        return str(cell).lower()
    if isinstance(cell, int | float):
        return written(float(cell), DIGITS)
    return cell.isoformat() if isinstance(cell, date) else plain(str(cell))


def from_csv(name: str, text: str, figures: Collection[str], edited: Collection[str] = ()) -> Table:
    """A table of this workshop's own CSV, the cells of some columns as figures."""
    columns, rows, _ = csv_rows(text)
    made = [
        tuple(float(c) if k in figures and c else unplain(c) for k, c in ((k, row.get(k, "")) for k in columns))
        for _, row in rows
    ]
    return Table(name, tuple(columns), made, frozenset(edited))


def _letter(column: int) -> str:
    """A column's name: 0 is A.

    >>> _letter(0), _letter(27)
    ('A', 'AB')
    """
    head, last = divmod(column, 26)
    return (_letter(head - 1) if head else "") + chr(ord("A") + last)


def costs_table(batches: Iterable[BatchCost]) -> Table:
    """What batches cost, a row each."""
    columns = ("day", "batch", "recipe", "bars", *COST_PARTS, "total", "bar", "without_a_price")
    rows = [
        (
            date.fromisoformat(b.day),
            b.number,
            b.recipe,
            b.bars,
            *(b.parts.get(p, 0.0) for p in COST_PARTS),
            b.total,
            b.bar,
            ", ".join(b.unpriced),
        )
        for b in batches
    ]
    return Table("costs", columns, rows)
