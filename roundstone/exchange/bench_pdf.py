"""The bench sheet as a PDF of one A4 page: steps in the order of work, a box to tick beside each weight."""

from collections.abc import Sequence
from datetime import date
from importlib import resources
from typing import TYPE_CHECKING

from ..core.course import WorkStep
from ..core.sheet import Sheet

if TYPE_CHECKING:
    from fpdf import FPDF

SIZES = (10.0, 9.0, 8.0, 7.0, 6.0, 5.0)  # points; the largest that fits one page is taken
MARGIN, TOP = 14.0, 12.0  # mm
GRAMS_MM, NAME_MM = 22.0, 62.0  # columns of a weight and of its name
FAMILY = "atkinson"
OTHERS = ("atkinson-latin-ext", "noto-vietnamese", "noto-greek", "noto-cyrillic")  # for letters the first lacks


def write(name: str, sheet: Sheet, steps: Sequence[WorkStep], today: date) -> bytes:
    """The PDF's bytes. Text shrinks before a second page is begun; letters it cannot print are named on it."""
    for points in SIZES:
        page = _Paper(name, sheet, steps, today, points)
        if page.pdf.page_no() == 1 or points == SIZES[-1]:
            break
        page.close()
    try:
        return bytes(page.pdf.output())
    finally:
        page.close()


class _Paper:
    """One laying out of the sheet at a size of letters."""

    def __init__(self, name: str, sheet: Sheet, steps: Sequence[WorkStep], today: date, points: float) -> None:
        self.pdf, self.points, self.line = _document(), points, points * 0.48  # mm of leading
        known: set[int] = set().union(*(font.cmap for font in self.pdf.fonts.values()))  # type: ignore[union-attr]
        self.letters = known | {ord(c) for c in " \n"}
        self.missing: set[str] = set()
        self._lay_out(name, sheet, steps, today)

    def close(self) -> None:
        """The fonts' files, which the library leaves open."""
        for font in self.pdf.fonts.values():
            font.ttfont.close()  # type: ignore[union-attr] # all fonts here are files

    def _readable(self, text: str) -> str:
        """The text with a question mark for every letter no font here has; those are remembered."""
        self.missing |= {c for c in text if ord(c) not in self.letters}
        return "".join(c if ord(c) in self.letters else "?" for c in text)

    def _say(self, text: str, bold: bool = False, size: float = 1.0, leading: float = 1.0) -> None:
        self.pdf.set_font(FAMILY, "B" if bold else "", self.points * size)
        self.pdf.multi_cell(0, self.line * leading, self._readable(text), new_x="LMARGIN", new_y="NEXT")

    def _lay_out(self, name: str, sheet: Sheet, steps: Sequence[WorkStep], today: date) -> None:
        page, line = self.pdf, self.line
        page.set_title(name)
        self._say(name, bold=True, size=1.7, leading=1.8)
        total = f"{sheet.total_shown} g batter, {sheet.fats_shown} g fats, lye {100 * sheet.lye_concentration:.1f} %"
        self._say(f"{total}. Printed {today.day} {today:%B %Y}. Date poured ____________")
        for number, step in enumerate(steps, start=1):
            page.ln(line * 0.35)
            page.set_draw_color(150)
            page.line(MARGIN, page.get_y(), page.w - MARGIN, page.get_y())
            page.ln(line * 0.25)
            self._say(f"{number}  {step.title}", bold=True, size=1.15, leading=1.15)
            for item in step.lines:
                self._weight(item.name, item.shown, item.note)
            self._say(step.does)
            for caution in step.cautions:
                self._say(f"! {caution}", bold=True)
        if self.missing:
            codes = ", ".join(f"U+{ord(c):04X}" for c in sorted(self.missing))
            says = f"! This paper has no letters for {codes}: a question mark stands for each. The screen shows them."
            self._say(says, bold=True)

    def _weight(self, name: str, grams: str, note: str) -> None:
        page, line = self.pdf, self.line
        box = line * 0.72
        page.set_draw_color(0)
        page.rect(MARGIN, page.get_y() + line * 0.14, box, box)
        page.set_x(MARGIN + box + 2)
        page.set_font(FAMILY, "B", self.points)
        page.cell(GRAMS_MM, line, f"{grams} g", align="R")
        page.cell(2, line, "")
        page.set_font(FAMILY, "", self.points)
        name = self._readable(name)
        if page.get_string_width(name) < NAME_MM - 2:
            page.cell(NAME_MM, line, name)
        else:
            left = page.get_x()
            page.multi_cell(0, line, name, new_x="LMARGIN", new_y="NEXT")
            page.set_x(left)
        page.set_font(FAMILY, "", self.points * 0.85)
        page.multi_cell(0, line, self._readable(note), new_x="LMARGIN", new_y="NEXT")


def _document() -> "FPDF":
    from fpdf import FPDF  # slow to import

    page = FPDF(format="A4")
    page.set_margins(MARGIN, TOP)
    page.set_auto_page_break(True, TOP)
    fonts = resources.files(__package__).joinpath("fonts")
    for family in (FAMILY, *OTHERS):
        for style, weight in (("", "regular"), ("B", "bold")):
            file = "atkinson-latin" if family == FAMILY else family
            with resources.as_file(fonts.joinpath(f"{file}-{weight}.ttf")) as path:
                page.add_font(family, style, path)
    page.set_fallback_fonts(list(OTHERS))
    page.add_page()
    return page
