"""The bench sheet as a PDF, one page a day at the bench, A4 or Letter: steps in the order of work, a box to tick beside
each weight."""

from collections.abc import Sequence
from datetime import date
from io import BytesIO

from ..core.schedule import FIRST_AID, SheetCup, SheetPour, WorkStep
from ..core.sheet import Sheet, percent
from ..core.text import Part, day, joined, say
from ..told import METRIC, Reader
from .paper import FAMILY, MARGIN, TOP, Format, Paper, printed

FACE_MM = 15.0  # the cut face, at the upper right
WEIGHT_MM, NAME_MM = 24.0, 62.0  # columns of a weight and of its name


def write(
    name: str,
    sheet: Sheet,
    steps: Sequence[WorkStep],
    today: date,
    paper: Format = "A4",
    reader: Reader = METRIC,
    face: bytes | None = None,
) -> bytes:
    """The PDF's bytes, with a PNG of the `face`.

    Text shrinks before another page is begun; letters it cannot print are named on it."""
    return printed(lambda points: _BenchSheet(name, sheet, steps, today, points, paper, reader, face), steps[-1].day)


class _BenchSheet(Paper):
    def __init__(
        self,
        name: str,
        sheet: Sheet,
        steps: Sequence[WorkStep],
        today: date,
        points: float,
        paper: Format,
        reader: Reader,
        face: bytes | None,
    ) -> None:
        super().__init__(name, points, paper, reader)
        if face is not None:
            right = self.pdf.w - MARGIN - FACE_MM
            self.pdf.image(BytesIO(face), x=right, y=TOP - 3, w=FACE_MM, alt_text="the cut face that is expected")
        self._lay_out(name, sheet, steps, today)

    def _lay_out(self, name: str, sheet: Sheet, steps: Sequence[WorkStep], today: date) -> None:
        self.say(name, bold=True, size=1.7, leading=1.8)
        total = say(sheet.total_shown, " batter, ", sheet.fats_shown, " fats, lye ", percent(sheet.lye_concentration))
        self.say(say(total, ". Printed ", day(today.isoformat()), ". Date poured ____________"))
        several, on = steps[-1].day > 1, 0
        for number, step in enumerate(steps, start=1):
            if several and step.day != on:
                if on:
                    self.pdf.add_page()
                self.say(f"Day {step.day}", bold=True, size=1.4, leading=1.8)
                on = step.day
            self.title(f"{number}  {step.title}")
            for item in step.lines:
                self._weight(item.name, item.shown, joined("; ", filter(None, (item.also or item.spoons, item.note))))
            self.say(step.does)
            for cup in step.cups:
                self._cup(cup)
            for place, pour in enumerate(step.pours, start=1):
                self._pour(place, pour)
            for caution in step.cautions:
                self.say(say("! " if caution.danger else "", caution.message), bold=caution.danger)
        self.title("First aid")
        for message in FIRST_AID:
            self.say(message)
        self.name_missing()

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
        takes = joined(" and ", (say(t.shown, " ", t.of).strip() for t in cup.takes))
        text = self.readable(joined(", ", filter(None, (say(cup.vessel, ": ", takes), cup.reads))))
        page.multi_cell(0, line, text, new_x="LMARGIN", new_y="NEXT")

    def _pour(self, place: int, pour: SheetPour) -> None:
        page, line = self.pdf, self.line
        for n, tint in enumerate(pour.tints[:3]):
            self._swatch(tint, MARGIN + 2.4 * n, 3.4)
        page.set_x(MARGIN + 10)
        minute = f", about minute {pour.minute:.0f}" if pour.minute is not None else ""
        wants = f", at {pour.wants}" if pour.wants else ""
        note = say(" (", pour.note, ")") if pour.note else ""
        page.set_font(FAMILY, "", self.points)
        shown = say(" ", pour.shown) if pour.shown else ""
        text = self.readable(say(f"{place}. {pour.label}", shown, f"{minute}{wants}", note))
        page.multi_cell(0, line, text, new_x="LMARGIN", new_y="NEXT")
        if pour.ready:
            page.set_x(MARGIN + 14)
            page.set_font(FAMILY, "B", self.points)
            page.multi_cell(0, line, self.readable(f"else {pour.ready}"), new_x="LMARGIN", new_y="NEXT")

    def _weight(self, name: str, weight: Part, note: Part) -> None:
        page, line = self.pdf, self.line
        box = line * 0.72
        page.set_draw_color(0)
        page.rect(MARGIN, page.get_y() + line * 0.14, box, box)
        page.set_x(MARGIN + box + 2)
        page.set_font(FAMILY, "B", self.points)
        page.cell(WEIGHT_MM, line, self.readable(weight), align="R")
        page.cell(2, line, "")
        page.set_font(FAMILY, "", self.points)
        name = self.readable(name)
        if page.get_string_width(name) < NAME_MM - 2:
            page.cell(NAME_MM, line, name)
        else:
            left = page.get_x()
            page.multi_cell(0, line, name, new_x="LMARGIN", new_y="NEXT")
            page.set_x(left)
        page.set_font(FAMILY, "", self.points * 0.85)
        page.multi_cell(0, line, self.readable(note), new_x="LMARGIN", new_y="NEXT")
