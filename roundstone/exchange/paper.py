"""A paper of few pages, A4 or Letter: letters that ship inside, and text that shrinks before another page is begun."""

from collections.abc import Callable
from importlib import resources
from typing import TYPE_CHECKING, Literal

from ..core.text import Part, say
from ..told import METRIC, Reader

if TYPE_CHECKING:
    from fpdf import FPDF

Format = Literal["A4", "Letter"]
SIZES = (10.0, 9.0, 8.0, 7.0, 6.0, 5.0)  # points; the largest that fits the pages is taken
READ_WELL = 8.0  # points [chosen]
MARGIN, TOP = 14.0, 12.0  # mm
FAMILY = "atkinson"
OTHERS = ("atkinson-latin-ext", "noto-vietnamese", "noto-greek", "noto-cyrillic")  # for letters the first lacks


class Paper:
    """One laying out at a size of letters."""

    def __init__(self, name: Part, points: float, paper: Format, reader: Reader = METRIC) -> None:
        self.pdf, self.points, self.line = _document(paper), points, points * 0.48  # mm of leading
        self.reader = reader
        known: set[int] = set().union(*(font.cmap for font in self.pdf.fonts.values()))  # type: ignore[union-attr]
        self.letters = known | {ord(c) for c in " \n"}
        self.missing: set[str] = set()
        self.pdf.set_title(reader(say(name)))

    def close(self) -> None:
        """The fonts' files, which the library leaves open."""
        for font in self.pdf.fonts.values():
            font.ttfont.close()  # type: ignore[union-attr] # all fonts here are files

    def readable(self, text: Part) -> str:
        """The text as its reader reads it; a question mark stands for what no font here has, and it is remembered."""
        told = self.reader(say(text))
        self.missing |= {c for c in told if ord(c) not in self.letters}
        return "".join(c if ord(c) in self.letters else "?" for c in told)

    def say(self, text: Part, bold: bool = False, size: float = 1.0, leading: float = 1.0) -> None:
        self.pdf.set_font(FAMILY, "B" if bold else "", self.points * size)
        self.pdf.multi_cell(0, self.line * leading, self.readable(text), new_x="LMARGIN", new_y="NEXT")

    def title(self, text: Part) -> None:
        """A rule over the whole width, and what stands below it."""
        page, line = self.pdf, self.line
        page.ln(line * 0.35)
        page.set_draw_color(150)
        page.line(MARGIN, page.get_y(), page.w - MARGIN, page.get_y())
        page.ln(line * 0.25)
        self.say(text, bold=True, size=1.15, leading=1.15)

    def row(self, left: Part, right: Part, width: float) -> None:
        """Two columns: what it is, in bold and so many mm wide, and what is said of it."""
        page = self.pdf
        page.set_font(FAMILY, "B", self.points)
        text, top = self.readable(left), page.get_y()
        page.multi_cell(width, self.line, text, new_x="LMARGIN", new_y="NEXT")
        after, begun = page.get_y(), page.page_no()
        if begun == self.pdf.page_no() and after > top:
            page.set_y(top)
        page.set_x(MARGIN + width)
        page.set_font(FAMILY, "", self.points)
        page.multi_cell(0, self.line, self.readable(right), new_x="LMARGIN", new_y="NEXT")
        if page.page_no() == begun:
            page.set_y(max(page.get_y(), after))

    def number_pages(self) -> None:
        """A number at the foot of every page from now on."""
        page = self.pdf

        def footer() -> None:
            page.set_y(-9)
            page.set_font(FAMILY, "", 7)
            page.cell(0, 4, str(page.page_no()), align="R")

        page.footer = footer  # type: ignore[method-assign]

    def name_missing(self) -> None:
        """Say which letters could not be printed."""
        if self.missing:
            codes = ", ".join(f"U+{ord(c):04X}" for c in sorted(self.missing))
            message = (
                f"! This paper has no letters for {codes}: a question mark stands for each. The screen shows them."
            )
            self.say(message, bold=True)


def printed(build_schedule: Callable[[float], Paper], pages: int) -> bytes:
    """The PDF's bytes at the largest letters that fit one page while they can be read well, else at the largest that
    fit the pages; at the smallest whatever it takes."""
    tries = [(p, 1) for p in SIZES if pages == 1 or p >= READ_WELL]
    tries += [(p, pages) for p in SIZES if pages > 1]
    for points, most in tries:
        paper = build_schedule(points)
        if paper.pdf.page_no() <= most or (points, most) == tries[-1]:
            break
        paper.close()
    try:
        return bytes(paper.pdf.output())
    finally:
        paper.close()


def _document(paper: Format) -> "FPDF":
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
