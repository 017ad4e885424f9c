"""Tables as CSV, as spreadsheets of every region write them: read with any line ends, delimiter and decimal sign.

A number is never written with just three decimals: where a point stands between thousands, 176.672 would be read as a
thousand times as much.
"""

import csv
import io
import re
from collections.abc import Iterator

from ..core.values import Fault, RuleError

RISKY = "=+-@\t\r'"
DELIMITERS = ",;\t"
THOUSANDS = re.compile(r"[+-]?[1-9]\d{0,2}([.,'\u2019 \u00a0]\d{3})+")


def plain(name: str) -> str:
    """A name a spreadsheet does not take for a formula.

    >>> [unplain(plain(n)) == n for n in ("=1+1", "'=1+1", "'s Oil", "Oil")]
    [True, True, True, True]
    """
    return f"'{name}" if name[:1] and name[0] in RISKY else name


def unplain(cell: str) -> str:
    """The name again."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] and cell[1] in RISKY else cell


def written(value: float, digits: int = 10) -> str:
    """A number with a decimal point, never with three decimals alone.

    >>> written(176.672), written(12.5), written(3.0), written(1234567.891, 12)
    ('176.6720', '12.5', '3', '1234567.8910')
    """
    text = f"{value:.{digits}g}"
    if "e" in text:
        text = f"{value:.12f}".rstrip("0").rstrip(".")
    return f"{text}0" if re.search(r"\.\d{3}$", text) else text


def number(cell: str, at: str, commas: bool = False, what: str = "A number") -> float:
    """A number as a spreadsheet writes it, with a decimal point or comma; RuleError (at `at`) asks where it could be
    either, and says when it is none. In a table of `commas` (its cells stand between semicolons) a comma is decimal.

    >>> number("12,5", "/2/grams"), number("1234.5", "/2/grams"), number("176,672", "/2/grams", commas=True)
    (12.5, 1234.5, 176.672)
    """
    text = cell.strip().replace("\u2212", "-")
    groups = THOUSANDS.fullmatch(text)
    if groups and not (commas and text.count(",") == 1 and "." not in text):
        bare = re.sub(r"[^\d+-]", "", text)
        last = re.sub(r"[.,'\u2019 \u00a0](?=\d{3}$)", ".", text, count=1)
        message = f"Write {bare}, or {last}0: it could be either."
        raise RuleError(Fault(pointer=at, message=message))
    try:
        if text.count(",") + text.count(".") > 1:
            raise ValueError
        return float(text.replace(",", "."))
    except ValueError as error:
        raise RuleError(Fault(pointer=at, message=f"{what} is expected.")) from error


def _delimiter(text: str) -> str:
    """What stands between cells, by the line of headings."""
    heading = re.sub(r'"[^"]*"', "", text.lstrip("\r\n").split("\n", 1)[0])
    return max(DELIMITERS, key=lambda d: (heading.count(d), d == ","))


def rows(text: str) -> tuple[list[str], Iterator[tuple[int, dict[str, str]]], bool]:
    """Columns, rows (by their line in the file), and whether cells stand between semicolons, of a CSV text whatever
    ends its lines; RuleError if it is none.
    """
    bare = text.removeprefix("\ufeff")
    if "\n" not in bare:
        bare = bare.replace("\r", "\n")  # line ends of an old program
    delimiter = _delimiter(bare)
    reader = csv.DictReader(io.StringIO(bare, newline=""), delimiter=delimiter)
    try:
        columns = [(c or "").strip() for c in reader.fieldnames or ()]
        reader.fieldnames = columns
        found = [(reader.line_num, {k: v or "" for k, v in row.items() if k is not None}) for row in reader]
    except csv.Error as error:
        message = f"This is not a table of cells: {error}."
        raise RuleError(Fault(pointer=f"/{reader.line_num}", message=message)) from error
    return columns, iter(found), delimiter == ";"
