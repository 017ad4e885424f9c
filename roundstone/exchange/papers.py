"""Papers of two pages at most, A4 or Letter: a batch's record, a label's draft, a cut plan."""

from collections.abc import Sequence
from io import BytesIO

from ..core.logbook import PaperSection
from ..core.recipe import Box, CutPlan, Placement
from ..core.text import MM, Part, joined, say
from ..told import METRIC, Reader
from .paper import MARGIN, TOP, Format, Paper, printed

PAGES = 2
LEFT_MM = 32.0  # column of what it is
DRAWN_MM = 60.0  # the most a drawing is high
PICTURE_MM = 46.0  # wide, of a picture beside a name
LONG_POINTS, ROOM_MM = 8.0, 34.0  # letters of a long paper; what a part of it needs below it on its page [chosen]


def write(
    name: Part,
    sections: Sequence[PaperSection],
    paper: Format = "A4",
    reader: Reader = METRIC,
    picture: bytes | None = None,
) -> bytes:
    """A paper of sections under its name, with a picture (JPEG or PNG) beside it."""
    return printed(lambda points: _Sections(name, sections, points, paper, reader, picture), PAGES)


def write_long(name: Part, sections: Sequence[PaperSection], paper: Format = "A4", reader: Reader = METRIC) -> bytes:
    """A paper of as many numbered pages as it takes, none of its sections begun at the foot of one."""
    laid = _Sections(name, sections, LONG_POINTS, paper, reader, numbered=True)
    try:
        return bytes(laid.pdf.output())
    finally:
        laid.close()


def write_cuts(
    name: Part,
    box: Box,
    cuts: CutPlan,
    toppings: Sequence[Placement],
    sections: Sequence[PaperSection],
    paper: Format = "A4",
    reader: Reader = METRIC,
) -> bytes:
    """A cut plan: the block from above, and from the side where it is cut level, to scale."""
    return printed(lambda points: _Cuts(name, box, cuts, toppings, sections, points, paper, reader), PAGES)


class _Sections(Paper):
    def __init__(
        self,
        name: Part,
        sections: Sequence[PaperSection],
        points: float,
        paper: Format,
        reader: Reader,
        picture: bytes | None = None,
        numbered: bool = False,
    ) -> None:
        super().__init__(name, points, paper, reader)
        if numbered:
            self.number_pages()
        if picture is not None:
            edge, high = self.pdf.w - MARGIN - PICTURE_MM, 0.75 * PICTURE_MM
            self.pdf.image(BytesIO(picture), edge, TOP, PICTURE_MM, high, keep_aspect_ratio=True)
        self.say(name, bold=True, size=1.7, leading=1.8)
        if picture is not None:
            self.pdf.set_y(max(self.pdf.get_y(), TOP + PICTURE_MM * 0.75))
        self._drawn()
        for section in sections:
            if numbered and self.pdf.get_y() > self.pdf.h - TOP - ROOM_MM:
                self.pdf.add_page()
            self.title(section.title)
            for left, right in section.rows:
                self.row(left, right, LEFT_MM)
            if section.message:
                self.say(section.message)
        self.name_missing()

    def _drawn(self) -> None:
        """What is drawn under the name."""


class _Cuts(_Sections):
    def __init__(
        self,
        name: Part,
        box: Box,
        cuts: CutPlan,
        toppings: Sequence[Placement],
        sections: Sequence[PaperSection],
        points: float,
        paper: Format,
        reader: Reader,
    ) -> None:
        self.box, self.cuts, self.toppings = box, cuts, toppings
        super().__init__(name, sections, points, paper, reader)

    def _drawn(self) -> None:
        page, box, cuts = self.pdf, self.box, self.cuts
        long, wide, high = 10 * box.length, 10 * box.width, 10 * box.fill
        scale = min((page.w - 2 * MARGIN) / long, DRAWN_MM / wide, 1.0)
        self.say(f"From above, 1 : {1 / scale:.3g}; measured from the left end.")
        top = page.get_y() + 1
        page.set_draw_color(0)
        page.rect(MARGIN, top, long * scale, wide * scale)
        page.set_dash_pattern(dash=1.2, gap=0.8)
        for wire in cuts.wires:
            front, back = wire * scale, (wire + cuts.lean) * scale
            page.line(MARGIN + front, top + wide * scale, MARGIN + back, top)
        for across in cuts.across:
            page.line(MARGIN, top + across * scale, MARGIN + long * scale, top + across * scale)
        page.set_dash_pattern()
        for topping in self.toppings:
            half = topping.wide * scale / 2
            for at in topping.at:
                page.ellipse(MARGIN + at.along * scale - half, top + at.across * scale - half, 2 * half, 2 * half)
        page.set_y(top + wide * scale + 1)
        self.say(say("Wires at ", joined(", ", (MM(w) for w in cuts.wires)), "."))
        if cuts.level:
            self.say(say("From the side: cut level first, at ", joined(", ", (MM(x) for x in cuts.level)), "."))
            side = page.get_y() + 1
            page.rect(MARGIN, side, long * scale, high * scale)
            page.set_dash_pattern(dash=1.2, gap=0.8)
            for level in cuts.level:
                page.line(MARGIN, side + (high - level) * scale, MARGIN + long * scale, side + (high - level) * scale)
            page.set_dash_pattern()
            page.set_y(side + high * scale + 1)
