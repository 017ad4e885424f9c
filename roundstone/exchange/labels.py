"""Labels of a batch's bars, several to a sheet, cut along dotted lines."""

from typing import Literal

from ..core.logbook import BarLabel
from ..core.text import Part, Text, say
from ..core.values import Fault, RuleError
from ..told import METRIC, Reader
from .paper import FAMILY, Format, Paper

LabelSize = Literal["small", "medium", "large"]
GRIDS: dict[LabelSize, tuple[int, int]] = {"small": (3, 8), "medium": (2, 6), "large": (2, 3)}
LETTERS = (9.0, 8.5, 8.0, 7.5, 7.0, 6.5, 6.0, 5.5, 5.0)  # points; below 5 nobody reads it [chosen]
EDGE, PAD, QR_MM = 8.0, 3.0, 14.0  # mm
DRAFT = (
    "A draft. Names, order, allergens, warnings, net weight and who must be named are set by the rules of the country "
    "it is sold in. Weigh a cured bar before you print its weight."
)


def write(label: BarLabel, size: LabelSize, paper: Format = "A4", reader: Reader = METRIC) -> bytes:
    """A sheet of one label as often as it fits; RuleError where it does not fit one that small."""
    for points in LETTERS:
        sheet = _Labels(label, size, points, paper, reader)
        try:
            if sheet.missing:
                codes = ", ".join(f"U+{ord(c):04X}" for c in sorted(sheet.missing))
                message = f"Labels have no letters for {codes}: write it otherwise."
                raise RuleError(Fault(pointer="/name", message=message))
            if sheet.fits:
                return bytes(sheet.pdf.output())
        finally:
            sheet.close()
    larger = {"small": "medium", "medium": "large"}.get(size)
    message = f"It does not fit a {size} label in letters one can read{f': choose a {larger} one' if larger else ''}."
    raise RuleError(Fault(pointer="/size", message=message))


class _Labels(Paper):
    def __init__(self, label: BarLabel, size: LabelSize, points: float, paper: Format, reader: Reader) -> None:
        super().__init__(say(label.name), points, paper, reader)
        self.line = points * 0.42
        self.pdf.set_auto_page_break(False)
        across, down = GRIDS[size]
        page = self.pdf
        wide, high = (page.w - 2 * EDGE) / across, (page.h - 2 * EDGE - 8) / down
        page.set_draw_color(150)
        page.set_dash_pattern(dash=0.4, gap=1.4)
        for i in range(across + 1):
            page.line(EDGE + i * wide, EDGE, EDGE + i * wide, EDGE + down * high)
        for j in range(down + 1):
            page.line(EDGE, EDGE + j * high, EDGE + across * wide, EDGE + j * high)
        page.set_dash_pattern()
        self.fits = all(
            self._label(label, EDGE + i * wide, EDGE + j * high, wide, high) for j in range(down) for i in range(across)
        )
        page.set_font(FAMILY, "", 7)
        page.set_xy(EDGE, page.h - EDGE - 7)
        page.multi_cell(page.w - 2 * EDGE, 3.2, self.readable(DRAFT))

    def _label(self, label: BarLabel, left: float, top: float, wide: float, high: float) -> bool:
        """One label; whether it stayed within its lines."""
        page, code = self.pdf, bool(label.number)
        inner = wide - 2 * PAD
        page.set_xy(left + PAD, top + PAD)
        self._line(label.name, inner, bold=True, size=1.35)
        self._line(f"Ingredients: {label.ingredients}.", inner)
        if label.allergens:
            self._line(f"Contains: {label.allergens}.", inner)
        beside = inner - (QR_MM + 2 if code else 0)
        foot: list[tuple[Part, bool]] = [
            (say("Net ", label.net or "________"), True),
            (f"Batch {label.number}" if label.number else "", False),
            (say("Best before ", label.best_before) if label.best_before != Text.NONE else "", False),
            (label.maker, False),
        ]
        begun = page.get_y() + 0.6
        page.set_y(begun)
        for words, bold in foot:
            if str(words):
                page.set_x(left + PAD)
                self._line(words, beside, bold=bold)
        ended = page.get_y()
        if code:
            self._code(label.number, left + wide - PAD - QR_MM, max(begun, top + high - PAD - QR_MM))
            ended = max(ended, begun + QR_MM)
        return ended <= top + high - PAD + 0.5

    def _line(self, words: Part, wide: float, bold: bool = False, size: float = 1.0) -> None:
        page, x = self.pdf, self.pdf.get_x()
        page.set_font(FAMILY, "B" if bold else "", self.points * size)
        page.multi_cell(wide, self.line * size, self.readable(words), new_x="LEFT", new_y="NEXT", align="L")
        page.set_x(x)

    def _code(self, words: str, left: float, top: float) -> None:
        """The batch's number as a QR code."""
        import segno

        rows = [bytes(row) for row in segno.make(words, micro=False, error="m").matrix]
        side = QR_MM / len(rows)
        self.pdf.set_fill_color(0)
        for y, row in enumerate(rows):
            for x, dark in enumerate(row):
                if dark:
                    self.pdf.rect(left + x * side, top + y * side, side, side, style="F")
