"""Cells a spreadsheet must not take for formulas."""

RISKY = "=+-@\t\r"


def plain(name: str) -> str:
    """A name a spreadsheet does not take for a formula."""
    return f"'{name}" if name[:1] and name[0] in RISKY else name


def unplain(cell: str) -> str:
    """The name again."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] and cell[1] in RISKY else cell
