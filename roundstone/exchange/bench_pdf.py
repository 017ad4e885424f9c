"""The bench sheet as a PDF of one A4 page: steps in the order of work, a box to tick beside each weight."""

from collections.abc import Sequence
from datetime import date
from importlib import resources
from typing import TYPE_CHECKING

from ..core.sheet import Sheet
from ..core.worksheet import WorkStep

if TYPE_CHECKING:
    from fpdf import FPDF

SIZES = (10.0, 9.0, 8.0, 7.0, 6.0, 5.0)  # points; the largest that fits one page is taken
MARGIN, TOP = 14.0, 12.0  # mm
FAMILY = "atkinson"


def write(name: str, sheet: Sheet, steps: Sequence[WorkStep], today: date) -> bytes:
    """The PDF's bytes. Text shrinks before a second page is begun."""
    for points in SIZES:
        page = _lay_out(name, sheet, steps, today, points)
        if page.page_no() == 1 or points == SIZES[-1]:
            break
        _close(page)
    try:
        return bytes(page.output())
    finally:
        _close(page)


def _close(page: "FPDF") -> None:
    """The fonts' files, which the library leaves open."""
    for font in page.fonts.values():
        font.ttfont.close()  # type: ignore[union-attr] # all fonts here are files


def _document() -> "FPDF":
    from fpdf import FPDF  # slow to import

    page = FPDF(format="A4")
    page.set_margins(MARGIN, TOP)
    page.set_auto_page_break(True, TOP)
    fonts = resources.files(__package__).joinpath("fonts")
    for family, part in ((FAMILY, "latin"), (f"{FAMILY}-ext", "latin-ext")):
        for style, weight in (("", "regular"), ("B", "bold")):
            with resources.as_file(fonts.joinpath(f"atkinson-{part}-{weight}.ttf")) as path:
                page.add_font(family, style, path)
    page.set_fallback_fonts([f"{FAMILY}-ext"])
    page.add_page()
    return page


def _lay_out(name: str, sheet: Sheet, steps: Sequence[WorkStep], today: date, points: float) -> "FPDF":
    page = _document()
    page.set_title(name)
    line = points * 0.48  # mm of leading
    page.set_font(FAMILY, "B", points * 1.7)
    page.multi_cell(0, line * 1.8, name, new_x="LMARGIN", new_y="NEXT")
    page.set_font(FAMILY, "", points)
    total = f"{sheet.total:.0f} g batter, {sheet.fats:.0f} g fats, lye {100 * sheet.lye_concentration:.1f} %"
    page.cell(
        0, line, f"{total}. Printed {today.day} {today:%B %Y}. Date poured ____________", new_x="LMARGIN", new_y="NEXT"
    )
    for number, step in enumerate(steps, start=1):
        page.ln(line * 0.35)
        page.set_draw_color(150)
        page.line(MARGIN, page.get_y(), page.w - MARGIN, page.get_y())
        page.ln(line * 0.25)
        page.set_font(FAMILY, "B", points * 1.15)
        page.cell(0, line * 1.15, f"{number}  {step.title}", new_x="LMARGIN", new_y="NEXT")
        for item in step.lines:
            _weight(page, item.name, item.grams, item.note, points, line)
        page.set_font(FAMILY, "", points)
        page.multi_cell(0, line, step.does, new_x="LMARGIN", new_y="NEXT")
        for caution in step.cautions:
            page.set_font(FAMILY, "B", points)
            page.multi_cell(0, line, f"! {caution}", new_x="LMARGIN", new_y="NEXT")
    return page


def _weight(page: "FPDF", name: str, grams: float, note: str, points: float, line: float) -> None:
    box = line * 0.72
    page.set_draw_color(0)
    page.rect(MARGIN, page.get_y() + line * 0.14, box, box)
    page.set_x(MARGIN + box + 2)
    page.set_font(FAMILY, "B", points)
    page.cell(22, line, f"{grams:.1f} g", align="R")
    page.cell(2, line, "")
    page.set_font(FAMILY, "", points)
    page.cell(62, line, name[:48])
    page.set_font(FAMILY, "", points * 0.85)
    page.cell(0, line, note[:80], new_x="LMARGIN", new_y="NEXT")
