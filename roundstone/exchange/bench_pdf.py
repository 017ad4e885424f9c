"""The bench sheet as a PDF of one page, A4 or Letter: steps in the order of work, a box to tick beside each weight."""

from collections.abc import Sequence
from datetime import date
from importlib import resources
from io import BytesIO
from typing import TYPE_CHECKING, Literal

from ..core.course import SheetCup, SheetPour, WorkStep
from ..core.sheet import Sheet

if TYPE_CHECKING:
    from fpdf import FPDF

SIZES = (10.0, 9.0, 8.0, 7.0, 6.0, 5.0)  # points; the largest that fits one page is taken
MARGIN, TOP = 14.0, 12.0  # mm
FACE_MM = 15.0  # the cut face, at the upper right
GRAMS_MM, NAME_MM = 22.0, 62.0  # columns of a weight and of its name
FAMILY = "atkinson"
OTHERS = ("atkinson-latin-ext", "noto-vietnamese", "noto-greek", "noto-cyrillic")  # for letters the first lacks


def write(
    name: str,
    sheet: Sheet,
    steps: Sequence[WorkStep],
    today: date,
    paper: Literal["A4", "Letter"] = "A4",
    face: bytes | None = None,
) -> bytes:
    """The PDF's bytes, with a PNG of the `face`.

    Text shrinks before a second page is begun; letters it cannot print are named on it."""
    for points in SIZES:
        page = _Paper(name, sheet, steps, today, points, paper, face)
        if page.pdf.page_no() == 1 or points == SIZES[-1]:
            break
        page.close()
    try:
        return bytes(page.pdf.output())
    finally:
        page.close()


class _Paper:
    """One laying out of the sheet at a size of letters."""

    def __init__(
        self,
        name: str,
        sheet: Sheet,
        steps: Sequence[WorkStep],
        today: date,
        points: float,
        paper: Literal["A4", "Letter"],
        face: bytes | None,
    ) -> None:
        self.pdf, self.points, self.line = _document(paper), points, points * 0.48  # mm of leading
        known: set[int] = set().union(*(font.cmap for font in self.pdf.fonts.values()))  # type: ignore[union-attr]
        self.letters = known | {ord(c) for c in " \n"}
        self.missing: set[str] = set()
        if face is not None:
            right = self.pdf.w - MARGIN - FACE_MM
            self.pdf.image(BytesIO(face), x=right, y=TOP - 3, w=FACE_MM, alt_text="the cut face that is expected")
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
            for cup in step.cups:
                self._cup(cup)
            for place, pour in enumerate(step.pours, start=1):
                self._pour(place, pour)
            for caution in step.cautions:
                self._say(f"! {caution}", bold=True)
        if self.missing:
            codes = ", ".join(f"U+{ord(c):04X}" for c in sorted(self.missing))
            says = f"! This paper has no letters for {codes}: a question mark stands for each. The screen shows them."
            self._say(says, bold=True)

    def _swatch(self, tint: str, at: float, wide: float = 4.2) -> None:
        self.pdf.set_draw_color(0)
        self.pdf.set_fill_color(*(int(tint[i : i + 2], 16) for i in (1, 3, 5)))
        self.pdf.ellipse(at, self.pdf.get_y() + self.line * 0.16, wide, self.line * 0.68, style="DF")

    def _cup(self, cup: SheetCup) -> None:
        """A box to tick, its colour, what is poured off, and what the pot reads then."""
        page, line = self.pdf, self.line
        box = line * 0.72
        page.set_draw_color(0)
        page.rect(MARGIN, page.get_y() + line * 0.14, box, box)
        self._swatch(cup.tint, MARGIN + box + 2)
        page.set_x(MARGIN + box + 8)
        page.set_font(FAMILY, "B", self.points)
        reads = f"until {cup.source or 'the pot'} reads {cup.until} g" if cup.until else "stays in the pot"
        text = self._readable(f"{cup.vessel}: {cup.shown} g, {reads}")
        page.multi_cell(0, line, text, new_x="LMARGIN", new_y="NEXT")

    def _pour(self, place: int, pour: SheetPour) -> None:
        page, line = self.pdf, self.line
        for n, tint in enumerate(pour.tints[:3]):
            self._swatch(tint, MARGIN + 2.4 * n, 3.4)
        page.set_x(MARGIN + 10)
        minute = f", about minute {pour.minute:.0f}" if pour.minute is not None else ""
        wants = f", at {pour.wants}" if pour.wants else ""
        note = f" ({pour.note})" if pour.note else ""
        page.set_font(FAMILY, "", self.points)
        text = self._readable(f"{place}. {pour.label}{minute}{wants}{note}")
        page.multi_cell(0, line, text, new_x="LMARGIN", new_y="NEXT")
        if pour.ready:
            page.set_x(MARGIN + 14)
            page.set_font(FAMILY, "B", self.points)
            page.multi_cell(0, line, self._readable(f"else {pour.ready}"), new_x="LMARGIN", new_y="NEXT")

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


def _document(paper: Literal["A4", "Letter"]) -> "FPDF":
    from fpdf import FPDF  # slow to import

    page = FPDF(format=paper)
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
