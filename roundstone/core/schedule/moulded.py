"""What the ledger tells of the mould: how full, how it is cut, and what lies on it."""

from collections.abc import Sequence

from ..face import Tint
from ..recipe import (
    INTO_MOULD,
    SOAP_DENSITY,
    Box,
    ByMoulds,
    CutPlan,
    Placement,
    Recipe,
    TopStep,
    cut_plan,
    free,
    leaning,
    placed,
    steepest,
)
from ..recipe import stands as standing
from ..shelf import Shelf
from ..text import CM, MM, Part, Text, figure, say
from ..values import Value, listed
from .ledger_row import LedgerRow
from .plan import AS_POURED
from .task import Task

SPILT = 0.001  # share of a portion that may run over unsaid [C]
LONG = 15.0  # cm of mould from which colours begin at both ends in turn [C]
CUTTER = 25.0  # mm above the block that a wire cutter lets pass [C]
SURFACE, SURFACE_BASE = ("dots-hearts", "bottle-drops"), 0.55  # a surface design wants more base than that: 60 % usual


class MouldFill(Value):
    """How the mould fills: the height of all batter against its own, in cm, at its lean, and where it is cut."""

    height: float
    holds: float
    message: tuple[Text, ...]
    cuts: CutPlan | None
    toppings: tuple[Placement, ...]
    ends: Text
    top: "FromAbove"


class FromAbove(Value):
    """The top seen from above, in mm: what is made of it, and in which colours, the ground first."""

    long: float
    wide: float
    texture: str
    tints: tuple[Tint, ...]


def top_told(recipe: Recipe) -> tuple[Text, ...]:
    """What goes on the top, each in words."""
    moulds = recipe.size.moulds if isinstance(recipe.size, ByMoulds) else ()
    if not moulds:
        return tuple(say(t.name, ": ", t.a_bar, " a bar") for t in recipe.design.toppings)
    told = []
    for n, mould in enumerate(moulds, start=1):
        cuts = cut_plan(mould) if isinstance(mould, Box) else None
        where = f"mould {n}, " if len(moulds) > 1 else ""
        told += [say(where, p.told) for p in placed(mould, cuts, recipe.design.toppings, CUTTER)]
    return tuple(told)


def embeds_told(recipe: Recipe, shelf: Shelf) -> tuple[Text, ...]:
    """What is set into each mould, each kind in words: "12 × blue cubes of 25 g (300 g), batch 41"."""
    shown, each = shelf.scales.shown, " in each mould" if recipe.moulds > 1 else ""
    return tuple(
        say(
            f"{e.count} × {e.name}{each}",
            say(", ", shown(e.grams)) if e.grams else "",
            say(" each, ", shown(e.count * e.grams), " in all") if e.grams and e.count > 1 else "",
            f", {e.of}" if e.of else "",
        )
        for e in recipe.embeds
    )


def how_laid(recipe: Recipe, tasks: Sequence[Task], task: Task, mist: bool) -> tuple[Text, ...]:
    """How a layer is laid on the one below it, and how the mould stands: common practice, no source. Nothing of a step
    that is no layer; alcohol only where it may be misted."""
    layers = [t for t in tasks if t.do == "layer"]
    at = next((n for n, t in enumerate(layers) if t.key == task.key), None)
    if at is None or len(layers) < 2:
        return ()
    told: list[Part] = []
    if recipe.design.tilt > 0:
        closes = at == len(layers) - 1
        again = "lay the mould level first: it closes the top" if closes else "turn the mould for the next slant"
        told.append(again if at else say("lean the mould at ", figure(recipe.design.tilt), "° first"))
    if at:
        if task.wants.gate is not None and mist:
            told.append("mist a dry film with alcohol, no flame near, so that the layers hold")
        told.append("over a spatula held low, so that it does not dig in")
    return tuple(say(t) for t in told)


def _from_above(box: Box, recipe: Recipe, rows: Sequence[LedgerRow], tasks: Sequence[Task]) -> FromAbove:
    """What is on the top when all is poured: the last that was poured, and what the top is made of."""
    tints = {r.portion: r.tint for r in rows}
    last = next((s for s in reversed(tasks) if s.do in INTO_MOULD and s.do != "top" and s.lanes), None)
    top = next((s for s in reversed(tasks) if s.do == "top"), None)
    lanes = [*(last.lanes if last else ()), *(top.lanes if top else ())]
    texture = next((s.texture for s in reversed(recipe.design.steps) if isinstance(s, TopStep)), AS_POURED)
    shown = tuple(dict.fromkeys(tints[i] for i in lanes if i in tints)) or tuple(tints.values())[:1]
    return FromAbove(long=10 * box.length, wide=10 * box.width, texture=texture, tints=shown)


def area_of(recipe: Recipe) -> float:
    """Floor of all boxes, cm²; 0 where the moulds are not boxes alone."""
    if not isinstance(recipe.size, ByMoulds) or not all(isinstance(m, Box) for m in recipe.size.moulds):
        return 0.0
    return sum(m.count * m.length * m.width for m in recipe.size.moulds if isinstance(m, Box))


def moulded(
    recipe: Recipe, rows: Sequence[LedgerRow], per_ml: float, shelf: Shelf, tasks: Sequence[Task]
) -> MouldFill | None:
    if not isinstance(recipe.size, ByMoulds) or len(recipe.size.moulds) == 0:
        return None
    box = recipe.size.moulds[0]
    if not isinstance(box, Box):
        return None
    volume = sum(r.in_mould for r in rows) / per_ml * _part(recipe, box)
    volume += box.count * recipe.embedded / SOAP_DENSITY
    height = standing(box, volume)
    message = []
    if height < box.fill - 0.1:
        short = "left in the cups" if recipe.design.residue else "missing"
        message.append(
            say("The bars come out ", MM(10 * (box.fill - height), ".0f"), " lower than meant: it is ", short, ".")
        )
    if height > box.fill + 0.1:
        over = say(shelf.scales.shown((height - box.fill) * box.count * box.length * box.width * per_ml))
        message.append(say(over, " more than the mould takes: have a spare one at hand."))
    tilt = recipe.design.tilt
    poured = next((s.lanes[0] for s in tasks if s.do in INTO_MOULD and s.lanes), None)
    first = next((r for r in rows if r.portion == poured), None)
    if tilt > 0 and first is not None:
        area = first.in_mould / per_ml / (box.count * box.length)
        lies = leaning(box.width, box.fill, tilt, area)
        foot = say("covers ", CM(lies.foot, ".1f"), " of ", CM(box.width))
        where = say(first.name, " stands ", CM(lies.high, ".1f"), " up the low wall and ", foot)
        most = steepest(box.width, box.fill, area)
        over = say(first.name, " runs over the edge: lean it ", figure(most), "° at most")
        message.append(say("At ", figure(tilt), "° ", where if lies.over < SPILT else over, "."))
    if recipe.design.technique in SURFACE and max(p.share for p in recipe.design.portions) < SURFACE_BASE:
        message.append(say("A design on the surface wants about 60 % of base under it, or the bars come out thin."))
    if box.width > 1.5 * box.length / 2 and box.cut > 0 and box.across <= 0:
        message.append(
            say("A slab cut one way gives bars ", MM(10 * box.width, ".0f"), " long: say how it is cut across.")
        )
    cuts = cut_plan(box)
    ends = Text.NONE
    if len(rows) > 1 and box.length >= LONG and _from_ends(recipe, shelf):
        sides = [f"{r.name} at the {'left' if n % 2 == 0 else 'right'} end" for n, r in enumerate(rows)]
        ends = say(f"Begin {listed(sides)}: no end stays pale.")
    return MouldFill(
        height=round(height, 2),
        holds=box.fill,
        message=tuple(message),
        cuts=cuts,
        toppings=placed(box, cuts, recipe.design.toppings, CUTTER),
        ends=ends,
        top=_from_above(box, recipe, rows, tasks),
    )


def _from_ends(recipe: Recipe, shelf: Shelf) -> bool:
    """Whether its pour begins at an end of the mould."""
    technique = shelf.techniques.get(recipe.design.technique)
    return technique is not None and technique.ends


def _part(recipe: Recipe, box: Box) -> float:
    """Share of all batter that goes into the first kind of mould."""
    assert isinstance(recipe.size, ByMoulds)
    into = recipe.embedded
    return free(box, into) / sum(free(m, into) for m in recipe.size.moulds)
