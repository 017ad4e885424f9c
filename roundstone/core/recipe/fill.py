"""How batter stands in a mould: heights, a mould that leans, and where it is cut. Plain geometry, in cm and mm."""

from math import radians, sqrt, tan
from typing import Annotated

from pydantic import Field

from ..text import MM, Text, figure, say
from ..values import Share, Value
from .mould import THINNEST_BAR, grid, millilitres
from .recipe import Box, Cavities, Mould, Tube

EVEN_ENDS = 2.0  # mm of difference between ends that are worth no word [C]


class Leaning(Value):
    """A leaning box filled in part: heights of the batter at its low wall and its high one, cm along the walls.

    `over` is what runs over the edge, as a share of the batter; `foot` how much of the width is covered, cm.
    """

    low: float
    high: float
    foot: float
    over: Share


def leaning(width: float, height: float, degrees: float, area: float) -> Leaning:
    """Where `area` cm² of batter stands in a section `width` × `height` cm that leans about its lower edge.

    The surface stays level, so against the floor it slopes by the lean. Less than a full foot lies as a triangle in
    the lower corner. Nothing stands above the lower wall's edge: the rest is over.

    >>> leaning(8.0, 6.0, 0.0, 24.0).high
    3.0
    >>> round(leaning(8.0, 6.0, 45.0, 8.0).foot, 6)
    4.0
    """
    slope = tan(radians(degrees))
    if slope == 0:
        stands = min(area / width, height)
        return Leaning(low=stands, high=stands, foot=width, over=_over(area, stands * width))
    full = height * height / slope / 2 if height < width * slope else width * height - width * width * slope / 2
    held = min(area, full)
    foot = sqrt(2 * held / slope)
    if foot <= width:
        return Leaning(low=0.0, high=foot * slope, foot=foot, over=_over(area, held))
    middle = held / width
    return Leaning(low=middle - width * slope / 2, high=middle + width * slope / 2, foot=width, over=_over(area, held))


def _over(area: float, held: float) -> float:
    return max(1 - held / area, 0.0) if area > 0 else 0.0


def steepest(width: float, height: float, area: float) -> float:
    """The most degrees (whole, up to 60) that a section may lean with so much batter in it, nothing running over."""
    fits = [d for d in range(61) if leaning(width, height, float(d), area).over <= 1e-9]
    return float(max(fits, default=0))


def stands(mould: Mould, volume: float) -> float:
    """Height in cm at which `volume` mL stand in all moulds of this kind; of cavities the share that is filled."""
    match mould:
        case Box():
            return volume / (mould.count * mould.length * mould.width)
        case Tube():
            return volume / millilitres(mould) * mould.fill
        case Cavities():
            return volume / millilitres(mould)


class CutPlan(Value):
    """Where a box is cut, in mm: `wires` along its length from the left end, one every `step`, each `lean` further at
    the back than in front; `across` over its width, `level` up its height; `bar` is one bar (length × width × height),
    and `ends` what is left at each end.
    """

    wires: tuple[float, ...]
    step: float
    lean: float
    across: tuple[float, ...]
    level: tuple[float, ...]
    bar: Annotated[tuple[float, ...], Field(min_length=3, max_length=3)]
    bars: int
    ends: float
    message: Text


def cut_plan(box: Box) -> CutPlan | None:
    """Wires of a box, or None while it stays whole. What does not make a bar is shared between both ends.

    >>> plan = cut_plan(Box(length=24, width=8, fill=6, cut=28))
    >>> plan.bars, plan.ends, plan.wires[0], plan.bar
    (8, 8.0, 8.0, (28.0, 80.0, 60.0))
    """
    cut, wide, high = grid(box), box.width * 10, box.fill * 10
    if not cut.along:
        return None
    wires = tuple(round(cut.ends + i * cut.step, 3) for i in range(cut.along + 1))
    if cut.ends < 1e-6 and not cut.lean:
        wires = wires[1:-1]
    crossed = THINNEST_BAR <= box.across <= wide
    side = (wide - cut.rows * cut.deep) / 2 if crossed else 0.0
    across = tuple(round(side + i * cut.deep, 3) for i in range(cut.rows + 1)) if crossed else ()
    if side < 1e-6:
        across = across[1:-1]
    thick = high / box.planks
    bars = cut.along * cut.rows * box.planks
    message = say(bars, " bars of ", MM(box.cut), " × ", MM(round(cut.deep, 1)), " × ", MM(round(thick, 1)))
    message += f", in {box.planks} horizontal layers, cut level first" if box.planks > 1 else ""
    message += say(", wires at ", figure(box.slant), "° from square") if cut.lean else ""
    left = cut.ends + cut.lean / 2
    message += (
        say(", ", MM(left, ".3g"), " left at each end") + (" in the middle" if cut.lean else "")
        if left >= EVEN_ENDS / 2
        else ""
    )
    message += say(", ", MM(side, ".3g"), " along each side") if side >= EVEN_ENDS / 2 else ""
    return CutPlan(
        wires=wires,
        step=cut.step,
        lean=cut.lean,
        across=across,
        level=tuple(round(thick * i, 3) for i in range(1, box.planks)),
        bar=(box.cut, cut.deep, thick),
        bars=bars,
        ends=cut.ends,
        message=message,
    )
