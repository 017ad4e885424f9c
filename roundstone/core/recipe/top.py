"""What lies on the top, bar by bar: where each piece goes, clear of the wires, and how much of it there is."""

from collections.abc import Iterator, Sequence
from math import ceil

from ..face import Tint
from ..text import MM, G, Part, Text, joined, say
from ..values import Value
from .fill import CutPlan
from .mould import Grid, grid
from .recipe import Box, Cavities, Mould, Topping

CLEAR = 3.0  # mm that a topping keeps from a cut, so that the wire does not drag it [C]
BARS_NAMED = 6  # bars that are named one by one, before only their number is said [chosen]
BARS = {"all": "every bar", "left": "the left half", "right": "the right half", "alternate": "every second bar"}
ROWS = {"": "", "front": "in front", "middle": "in the middle", "back": "at the back"}
LAID = {"side": "side by side", "down": "one behind another", "scattered": "scattered"}
PRESSED = {"set": "set on", "pressed": "pressed in a little", "deep": "pressed in halfway", "dusted": "dusted over"}
# What can be chosen of a topping, in words, the usual first.
TOPPING_WORDS: dict[str, dict[str, str]] = {
    "bars": BARS,
    "row": {**ROWS, "": "anywhere"},
    "laid": LAID,
    "pressed": PRESSED,
}
Cell = tuple[int, int]  # a bar seen from above: its column from the left, its row from the back


class Spot(Value):
    """Millimetres `along` the mould from its left end, and `across` it from its back wall."""

    along: float
    across: float


class Placement(Value):
    """Toppings of one kind, seen from above: the middle of each, how `wide` each
    is, all of it `told` in words, and in `message` what is against it."""

    name: str
    tint: Tint
    at: tuple[Spot, ...]
    wide: float
    told: Text
    message: Text


def placed(mould: Mould, cuts: CutPlan | None, toppings: Sequence[Topping], cutter: float) -> tuple[Placement, ...]:
    """Each topping on the bars it is meant for; `cutter` is the height a cutter lets pass over the fill, in mm (0: any
    height). What is not cut has no places, only words."""
    box = mould if isinstance(mould, Box) and cuts is not None else None
    cut = grid(box) if box is not None else None
    out = []
    for t in toppings:
        cells = list(_cells(cut, t)) if cut is not None else []
        at = tuple(p for c in cells for p in _in_cell(box, cut, t, c)) if box is not None and cut is not None else ()
        bars = len(cells) * mould.count if cells else mould.count if isinstance(mould, Cavities) else 0
        against = _against(t, cut, cuts, cutter) if cut is not None and cuts is not None else Text.NONE
        out.append(
            Placement(name=t.name, tint=t.tint, at=at, wide=t.wide, told=_told(t, cells, cut, bars), message=against)
        )
    return tuple(out)


def _cells(cut: Grid, t: Topping) -> Iterator[Cell]:
    for column in range(cut.along):
        for row in range(cut.rows):
            wanted = {
                "all": True,
                "left": column < ceil(cut.along / 2),
                "right": column >= cut.along // 2,
                "alternate": (column + row) % 2 == 0,
            }
            if wanted[t.bars]:
                yield column, row


def _in_cell(box: Box, cut: Grid, t: Topping, cell: Cell) -> Iterator[Spot]:
    """Middles of the pieces on one bar; scattered ones lie where a low-discrepancy sequence puts them (Halton, bases 2
    and 3), so that the same bar always looks the same."""
    wide = box.width * 10
    deep = box.across if cut.rows > 1 else wide
    back = (wide - cut.rows * deep) / 2 + cell[1] * deep
    left = cut.ends + cell[0] * cut.step
    low, high = {"back": (0, 1 / 3), "front": (2 / 3, 1), "middle": (1 / 3, 2 / 3), "": (0.0, 1.0)}[t.row]
    room_y = max(deep * (high - low) - t.wide - CLEAR, 0.0)
    room_x = max(cut.step - t.wide - 2 * CLEAR, 0.0)
    for k in range(t.a_bar):
        across = back + deep * (low + high) / 2
        along = left + (k + 0.5) * cut.step / t.a_bar
        if t.laid == "down":
            across = back + deep * (low + (high - low) * (k + 0.5) / t.a_bar)
            along = left + cut.step / 2
        elif t.laid == "scattered":
            n = 1 + k + 5 * cell[0] + 7 * cell[1]
            across += room_y * (_halton(n, 3) - 0.5)
            along = left + cut.step / 2 + room_x * (_halton(n, 2) - 0.5)
        # The wires lean: further at the back than in front.
        yield Spot(along=round(along + cut.lean * (1 - across / wide), 2), across=round(across, 2))


def _halton(n: int, base: int) -> float:
    """The n-th number of the van der Corput sequence in this base.

    >>> [_halton(n, 2) for n in (1, 2, 3)]
    [0.5, 0.25, 0.75]
    """
    out, part = 0.0, 1.0
    while n:
        part /= base
        n, digit = divmod(n, base)
        out += part * digit
    return out


def _against(t: Topping, cut: Grid, cuts: CutPlan, cutter: float) -> Text:
    room = cut.step / t.a_bar if t.laid == "side" else cut.step
    if t.wide > room - (CLEAR if t.laid == "side" and t.a_bar > 1 else 2 * CLEAR):
        return say(t.name, " is ", MM(t.wide), " wide: a wire will catch it, bars are ", MM(round(cut.step, 1)), ".")
    if cuts.level:
        return say(t.name, " comes on the bars of the top plank alone.")
    if cutter > 0 and t.high > cutter:
        return say(
            t.name, " stands ", MM(t.high), " high: the cutter clears ", MM(cutter), ". Set it on after the cut."
        )
    return Text.NONE


def _told(t: Topping, cells: Sequence[Cell], cut: Grid | None, bars: int) -> Text:
    """One topping in words: how much a bar, on which, where on it, how it is pressed, and how much in all."""
    amount = say(G(t.grams), " a bar") if t.grams > 0 else say(t.a_bar, " a bar")
    columns = sorted({c for c, _ in cells})
    one_row = cut is None or cut.rows == 1
    which = BARS[t.bars]
    if t.bars != "all" and one_row and 0 < len(columns) <= BARS_NAMED:
        which = f"bars {', '.join(str(c + 1) for c in columns)}"
    how = [x for x in (ROWS[t.row], "scattered" if t.laid == "scattered" else "", PRESSED[t.pressed]) if x]
    whole = say(G(round(t.grams * bars, 1)), " in all") if t.grams > 0 else say(t.a_bar * bars, " in all")
    parts: list[Part] = [say(amount, " on ", which), *how, *([whole] if bars else [])]
    return say(t.name, ": ", joined(", ", parts))
