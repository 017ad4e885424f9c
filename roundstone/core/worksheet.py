"""The bench sheet: everything in the order of work, each weight with its moment, each caution at its step."""

from collections.abc import Iterator, Sequence

from .checks import percent
from .heat import HeatPlan
from .recipe import Recipe
from .sheet import Line, Sheet
from .shelf import Shelf
from .values import Caution, Value


class WorkStep(Value):
    """One step at the bench: what is weighed in it, what is done, and what to beware of."""

    title: str
    lines: tuple[Line, ...]
    does: str
    cautions: tuple[str, ...] = ()


def work_order(
    recipe: Recipe, shelf: Shelf, sheet: Sheet, heat: HeatPlan, cautions: Sequence[Caution]
) -> tuple[WorkStep, ...]:
    """Steps in order. The order rules are common practice: sugar and acids before the lye, silk into hot lye,
    lactate below 43 °C, insoluble powders into the fats, scent last and by hand.
    """
    return tuple(_steps(recipe, shelf, sheet, heat, cautions))


def _steps(
    recipe: Recipe, shelf: Shelf, sheet: Sheet, heat: HeatPlan, cautions: Sequence[Caution]
) -> Iterator[WorkStep]:
    lines = sheet.lines
    alkali = [x for x in lines if x.key in ("naoh", "koh", "stock")]
    late = [x for x in lines if x.vessel == "jug" and x.moment in ("hot-lye", "cool-lye")]
    first = [x for x in lines if x.vessel == "jug" and x not in alkali and x not in late]
    hard = [x for x in lines if x.key in shelf.fats and (shelf.fats[x.key].melts or 0) > recipe.room_celsius]
    soft = [x for x in lines if x.key in shelf.fats and x not in hard]
    pot = [x for x in lines if x.vessel == "pot" and x.key not in shelf.fats]

    def said(*pointers: str) -> tuple[str, ...]:
        every = [*cautions, *heat.cautions]
        return tuple(dict.fromkeys(c.says for c in every if c.pointer.startswith(pointers)))

    yield WorkStep(
        title="Before anything",
        lines=(),
        does="Goggles, gloves, sleeves. Window open, children and animals out, water at hand. Label every vessel.",
    )
    yield WorkStep(
        title="Lye jug",
        lines=tuple(first),
        does="Dissolve sugar and acids in the liquid first: they will not dissolve once the lye is in.",
        cautions=said("/liquids"),
    )
    yield WorkStep(
        title="Lye",
        lines=tuple(alkali + late),
        does=f"Lye into the liquid in a steady pour, never the reverse; stir 2 min. Near {heat.peak:.0f} °C.",
        cautions=said("/water", "/koh_share", "/superfat"),
    )
    melt = "Melt these and let them cool" if hard else "No hard fats to melt"
    yield WorkStep(title="Fat pot, hard", lines=tuple(hard), does=f"{melt}. {heat.advice}")
    yield WorkStep(
        title="Fat pot, liquid",
        lines=tuple(soft + pot),
        does="Oils in; powders now, while there is no lye: you can blend all you like.",
        cautions=said("/pour_celsius"),
    )
    into = [x for x in lines if x.item.startswith("liquid:") and x.vessel == "stir"]
    yield WorkStep(
        title="Combine",
        lines=tuple(into),
        does=f"At {recipe.pour_celsius:g} °C, strained, in short bursts to emulsion: a film holds, no free oil.",
    )
    parts = ", ".join(f"{p.name} {p.batter:.0f} g" for p in sheet.portions)
    if len(sheet.portions) > 1 and recipe.design.batching == "layers":
        raw = "; ".join(f"{p.name} {p.fats:.0f} g fats and {p.lye:.0f} g lye" for p in sheet.portions)
        yield WorkStep(title="Raw shares", lines=(), does=f"Combine each layer by itself when it is wanted: {raw}.")
    elif len(sheet.portions) > 1:
        yield WorkStep(title="Split", lines=(), does=f"Pot minus tare: {parts}.")
    stir = [x for x in lines if x.vessel == "stir" and x not in into]
    notes = [shelf.fragrances[f].note for f in recipe.fragrances if shelf.fragrances[f].note]
    scent = ", ".join(f"{p.fragrance:.1f} g into {p.name}" for p in sheet.portions if p.fragrance)
    yield WorkStep(
        title="Colour, then scent",
        lines=tuple(stir),
        does=f"Colour first. Scent last, whisked by hand: {scent}." if scent else "Colour by hand.",
        cautions=(*said("/scents"), *(f"Your note: {n}" for n in notes)),
    )
    technique = shelf.techniques[recipe.design.technique]
    yield WorkStep(
        title=technique.name, lines=(), does=f"{technique.how[:1].upper()}{technique.how[1:]}. Bang out the air."
    )
    yield WorkStep(
        title="After",
        lines=(),
        does=(
            f"Cover; gloves stay on until it is covered. {sheet.bar.cutting[:1].upper()}{sheet.bar.cutting[1:]}. "
            f"Superfat {percent(recipe.superfat)}, by nature {percent(sheet.superfat.likely.low)} to "
            f"{percent(sheet.superfat.likely.high)}. Cure four to six weeks and test a bar before anyone uses it."
        ),
        cautions=("Alcohol mist is flammable: never straight into a warm oven.",),
    )
