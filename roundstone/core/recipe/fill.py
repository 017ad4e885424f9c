"""How batter stands in a mould: heights, a mould that leans, and where it is cut. Plain geometry, in cm and mm."""

from collections.abc import Sequence
from math import radians, sqrt, tan
from typing import Annotated

from pydantic import Field

from ..values import Share, Value
from .mould import THINNEST_BAR, millilitres
from .recipe import Box, Cavities, Mould, Topping, Tube

CLEAR = 3.0  # mm that a topping keeps from a cut, so that the wire does not drag it [C]
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
    """Where a box is cut, in mm: `wires` along its length from the left end, `across` over its width; `bar` is one bar
    (length × width × height), and `ends` what is left at each end.
    """

    wires: tuple[float, ...]
    across: tuple[float, ...]
    bar: Annotated[tuple[float, ...], Field(min_length=3, max_length=3)]
    bars: int
    ends: float
    says: str


def cut_plan(box: Box) -> CutPlan | None:
    """Wires of a box, or None while it stays whole. What does not make a bar is shared between both ends.

    >>> plan = cut_plan(Box(length=24, width=8, fill=6, cut=28))
    >>> plan.bars, plan.ends, plan.wires[0], plan.bar
    (8, 8.0, 8.0, (28.0, 80.0, 60.0))
    """
    long, wide = box.length * 10, box.width * 10
    if box.cut < THINNEST_BAR or box.cut > long - 2 * box.trim:
        return None
    along = int((long - 2 * box.trim) / box.cut + 1e-6)
    ends = (long - along * box.cut) / 2
    wires = tuple(round(ends + i * box.cut, 3) for i in range(along + 1))
    if ends < 1e-6:
        wires = wires[1:-1]
    crossed = THINNEST_BAR <= box.across <= wide
    rows, deep = (int(wide / box.across + 1e-6), box.across) if crossed else (1, wide)
    side = (wide - rows * deep) / 2
    across = tuple(round(side + i * deep, 3) for i in range(rows + 1)) if crossed else ()
    if side < 1e-6:
        across = across[1:-1]
    says = f"{along * rows} bars of {box.cut:g} × {deep:g} × {box.fill * 10:g} mm"
    says += f", {ends:.3g} mm left at each end" if ends >= EVEN_ENDS / 2 else ""
    says += f", {side:.3g} mm along each side" if side >= EVEN_ENDS / 2 else ""
    return CutPlan(
        wires=wires, across=across, bar=(box.cut, deep, box.fill * 10), bars=along * rows, ends=ends, says=says
    )


class Placement(Value):
    """Toppings of one kind along the bar lines: middles in mm from the left end; `says` what is against it."""

    name: str
    at: tuple[float, ...]
    wide: float
    says: str


def toppings_at(cuts: CutPlan, toppings: Sequence[Topping], cutter: float) -> tuple[Placement, ...]:
    """Each topping in the middle of its part of every bar, clear of the wires; `cutter` is the height a cutter lets
    pass over the mould's fill, in mm (0: any).
    """
    bar = cuts.bar[0]
    first = cuts.ends
    along = round((cuts.wires[-1] - cuts.wires[0]) / bar) if len(cuts.wires) > 1 else 1
    if cuts.ends < 1e-6:
        along, first = len(cuts.wires) + 1, 0.0
    out = []
    for t in toppings:
        room = bar / t.a_bar
        at = tuple(round(first + i * bar + (k + 0.5) * room, 2) for i in range(along) for k in range(t.a_bar))
        says = ""
        if t.wide > room - (2 * CLEAR if t.a_bar == 1 else CLEAR):
            says = f"{t.name} is {t.wide:g} mm wide: a wire will catch it, bars are {bar:g} mm."
        elif cutter > 0 and t.high > cutter:
            says = f"{t.name} stands {t.high:g} mm high: the cutter clears {cutter:g} mm. Set it on after the cut."
        out.append(Placement(name=t.name, at=at, wide=t.wide, says=says))
    return tuple(out)
