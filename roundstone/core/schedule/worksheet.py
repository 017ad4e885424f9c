"""The bench sheet: everything in the order of work, each weight with its moment, each caution at its step."""

from collections.abc import Iterable, Iterator, Mapping, Sequence

from ..heat import HeatPlan
from ..pour import OVEN_NEXT
from ..recipe import Recipe
from ..sheet import Line, Sheet, percent
from ..shelf import Moment, Shelf
from ..text import C, Part, Text, joined, say
from ..values import Caution, Minutes, Value
from .aid import TEST_A_BAR
from .cups import SheetCup, SheetPour, pours_of, raw_shares, scent_cups, split_cups
from .ledger import Ledger, ledger, pour_off
from .moulded import MouldFill, embeds_told, top_told
from .plan import Task, plan


class WorkStep(Value):
    """One step at the bench: what is weighed in it, what is done, and what to beware of."""

    title: str
    lines: tuple[Line, ...]
    does: Text
    cautions: tuple[Caution, ...] = ()
    cups: tuple[SheetCup, ...] = ()
    pours: tuple[SheetPour, ...] = ()


def _heed(message: Part, danger: bool = False) -> Caution:
    """A caution of a step, and of no field."""
    return Caution(pointer="", message=message, danger=danger)


def work_order(
    recipe: Recipe,
    shelf: Shelf,
    sheet: Sheet,
    heat: HeatPlan,
    cautions: Sequence[Caution],
    when: Mapping[str, Minutes] | None = None,
    noted: Sequence[Part] = (),
) -> tuple[WorkStep, ...]:
    """Steps in order. The order rules are common practice: sugar and acids before the lye, silk into hot lye,
    lactate below 43 °C, insoluble powders into the fats, scent last and by hand.

    `noted` is what was said last time for this time; `when` are the minutes of the plan's steps by their key, where
    they are forecast.
    Every caution stands at one step: that of the row it belongs to, else where it is to be heeded, else at the start.
    Where what is in a cup is dangerous, it stands again where the cup is stirred in.
    """
    steps = list(_steps(recipe, shelf, sheet, heat, when or {}))
    told = [list(s.cautions) for s in steps]
    told[0] += [_heed(say("Noted last time: ", n)) for n in noted]
    for caution in (*cautions, *heat.cautions):
        for place in _places(steps, sheet, caution):
            if all(c.message != caution.message for c in told[place]):
                told[place].append(caution)
    return tuple(s.model_copy(update={"cautions": tuple(t)}) for s, t in zip(steps, told, strict=True))


BEFORE, JUG, LYE, HOT, COOL = "Before anything", "Lye jug", "Lye", "While the lye is hot", "When the lye is cool"
HARD, SOFT, COMBINE, WHOLE, SPLIT = "Fat pot, hard", "Fat pot, liquid", "Combine", "Into the whole batter", "Split"
CUPS, RAW, COLOUR, SCENT, AFTER = "Colours in cups", "Shares of fats and lye", "Colour, then scent", "Scent", "After"
# Where a caution that belongs to no row is heeded, by the beginning of its pointer.
HEEDED = {
    "/superfat": LYE,
    "/water": LYE,
    "/koh_share": LYE,
    "/naoh_purity": LYE,
    "/koh_purity": LYE,
    "/feed_acids": LYE,
    "/pour_celsius": SOFT,
    "/design/portions": SPLIT,
    "/design/scent_at": COLOUR,
    "/size": BEFORE,
}
KINDS = {"fats": "fat", "liquids": "liquid", "additives": "additive", "scents": "fragrance"}


def _places(steps: Sequence[WorkStep], sheet: Sheet, caution: Caution) -> Iterator[int]:
    """Which steps a caution stands at."""
    place = _place(steps, sheet, caution.pointer)
    yield place
    if steps[place].title == CUPS and caution.danger:
        row = int(caution.pointer.split("/")[2])
        own = any(x.into for x in steps[place].lines if x.row == row)
        yield from (i for i, s in enumerate(steps) if s.title == (COLOUR if own else WHOLE))


def _place(steps: Sequence[WorkStep], sheet: Sheet, pointer: str) -> int:
    """The step where a caution's row is weighed, or where it is heeded."""
    parts = pointer.split("/")
    if parts[1] in KINDS and len(parts) > 2 and parts[2].isdigit():
        row = next((x for x in sheet.lines if x.kind == KINDS[parts[1]] and x.row == int(parts[2])), None)
        place = next((i for i, s in enumerate(steps) if row in s.lines), None)
        if place is not None:
            return place
    wanted = next((title for start, title in HEEDED.items() if pointer.startswith(start)), BEFORE)
    titles = [s.title for s in steps]
    if wanted == SPLIT and SPLIT not in titles:
        wanted = RAW if RAW in titles else COMBINE
    if wanted == COLOUR and COLOUR not in titles:
        wanted = next((t for t in (SCENT, WHOLE) if t in titles), SOFT)
    return titles.index(wanted) if wanted in titles else 0


def _named(lines: Iterable[Line]) -> str:
    names = list(dict.fromkeys("fats" if x.kind == "fat" else x.name.lower() for x in lines if x.kind != "carrier"))
    return ", ".join(names)


def _in_cups(recipe: Recipe, sheet: Sheet) -> Iterator[WorkStep]:
    """What is stirred in at emulsion, in its cup before there is any lye: no hand is free for it later."""
    mine = [x for x in sheet.lines if x.vessel == "stir" and x.kind in ("additive", "carrier")]
    place = {recipe.design.portions[i].name: n for n, i in enumerate(pour_off(recipe))}
    mine.sort(key=lambda x: place.get(x.into, -1))
    if not mine:
        return
    does = "Each in a cup of its own, stirred smooth"
    if any(x.kind == "carrier" for x in mine):
        does += "; the oil or water here is weighed besides that of pot and jug"
    yield WorkStep(title=CUPS, lines=tuple(mine), does=f"{does}. Mask on: dry powder floats.")


def _steps(
    recipe: Recipe, shelf: Shelf, sheet: Sheet, heat: HeatPlan, when: Mapping[str, Minutes]
) -> Iterator[WorkStep]:
    lines = sheet.lines
    layers = len(recipe.design.batches) > 1

    def standing(*moments: Moment) -> tuple[Line, ...]:
        """Additives of the jug that go in then."""
        return tuple(x for x in lines if x.vessel == "jug" and x.kind == "additive" and x.moment in moments)

    def melts(x: Line) -> float:
        return shelf.fats[x.item.removeprefix("fat:")].melts or 0.0

    yield WorkStep(
        title=BEFORE,
        lines=(),
        does="Goggles, gloves, sleeves; no aluminium. Window open, children and animals out, water at hand. Label "
        "every vessel.",
    )
    yield from _in_cups(recipe, sheet)
    liquids = tuple(x for x in lines if x.vessel == "jug" and x.kind in ("water", "ice", "liquid"))
    early = standing("before-lye")
    dissolve = "Dissolve sugar and acids in the liquid first: they will not dissolve once the lye is in."
    yield WorkStep(title=JUG, lines=(*liquids, *early), does=dissolve if early else "Weigh the liquid; keep it cold.")
    alkali = tuple(x for x in lines if x.kind in ("alkali", "stock"))
    yield WorkStep(
        title=LYE,
        lines=alkali,
        does=say(
            "Lye into the liquid in a steady pour, never the reverse; stir 2 min. Near ",
            C(heat.peak, ".0f", both=True),
            ".",
            " The day before: cover it, label it as lye, out of reach." if recipe.lye_stands == "ahead" else "",
        ),
    )
    hot, cool = standing("hot-lye"), standing("cool-lye")
    if hot:
        yield WorkStep(title=HOT, lines=hot, does="In while it is hot, and stirred until it is gone.")
    if cool:
        yield WorkStep(
            title=COOL, lines=cool, does=say("Wait until the lye reads below ", C(43, both=True), ", then stir it in.")
        )
    in_pot = [x for x in lines if x.vessel == "pot" and not (layers and x.into)]
    hard = tuple(x for x in in_pot if x.kind == "fat" and melts(x) > recipe.room_celsius)
    melt = "Melt these and let them cool" if hard else "No hard fats to melt"
    yield WorkStep(title=HARD, lines=hard, does=say(melt, ". ", heat.advice))
    scented = [x for x in in_pot if x.kind == "fragrance"]
    does = "Oils in; powders now, while there is no lye: you can blend all you like."
    does += " The scent last." if scented else ""
    yield WorkStep(title=SOFT, lines=tuple(x for x in in_pot if x not in hard), does=does)

    goal = say("At ", C(recipe.pour_celsius, ".0f"))
    if heat.wanted is not None:
        goal = say("Lye at ", C(heat.wanted.jug, ".0f"), ", fats at ", C(heat.wanted.pot, ".0f"))
    yield from _from_emulsion(recipe, shelf, sheet, in_pot, when, goal)


def _from_emulsion(
    recipe: Recipe, shelf: Shelf, sheet: Sheet, in_pot: Sequence[Line], when: Mapping[str, Minutes], goal: Text
) -> Iterator[WorkStep]:
    """From combining on, at its `goal` of warmth: `in_pot` is what stands in the pot by then."""
    lines, design = sheet.lines, recipe.design
    tasks = plan(recipe, shelf, sheet.total)
    cups = ledger(recipe, shelf, sheet, tasks, {})
    at_trace = [x for x in lines if x.vessel == "stir"]
    early_scent = design.scent_at == "emulsion"
    whole = tuple(x for x in at_trace if x.kind == "liquid" or (x.kind == "fragrance" and early_scent))
    cup = any(x.kind == "additive" and not x.into for x in at_trace)
    yield from _combined(recipe, shelf, sheet, in_pot, whole, cup, cups, goal)
    shared = [p for q, p in zip(design.portions, sheet.portions, strict=True) if not design.alone(q)]
    if len(shared) > 1:
        weight = " with its own weight." if design.pot else ", tared."
        alike = " ".join(("", *cups.alike))
        does = say(
            "The pot stands at ", cups.pot_shown, weight, " Pour off each cup until it reads what is beside it.", alike
        )
        yield WorkStep(title=SPLIT, lines=(), does=does, cups=tuple(split_cups(cups)))
    late = tuple(x for x in at_trace if x.kind == "fragrance" and not early_scent)
    if late or any(x.into for x in at_trace):
        yield _coloured(recipe, shelf, sheet, late)
    yield from _poured(recipe, shelf, sheet, cups.mould, tasks, tuple(pours_of(recipe, shelf, tasks, when, cups)))


def _combined(
    recipe: Recipe,
    shelf: Shelf,
    sheet: Sheet,
    in_pot: Sequence[Line],
    whole: tuple[Line, ...],
    cup: bool,
    cups: Ledger,
    goal: Text,
) -> Iterator[WorkStep]:
    """Lye and fats to emulsion, in one pot or each layer by itself, and what goes into all of it: `whole` is weighed
    then, and with `cup` there is a cup that stands ready."""
    lines, design = sheet.lines, recipe.design
    if len(design.batches) > 1:
        own = tuple(x for x in lines if x.vessel == "pot" and x.into)
        jug = _named(x for x in lines if x.vessel == "jug")
        does = say(
            "Combine each by itself when it is wanted. ",
            goal,
            ", both vessels stirred first. The pot is all that is in it (",
            _named(in_pot),
            "), the jug likewise (",
            jug,
            ").",
        )
        yield WorkStep(title=RAW, lines=own, does=does, cups=tuple(raw_shares(design, shelf.scales, sheet, cups)))
        if whole or cup:
            shares = joined("; ", (say(p.name, " ", p.shown.stirred) for p in sheet.portions))
            does = say(
                "Mixed together these are for all layers, each by its share as it comes to emulsion: ", shares, "."
            )
            yield WorkStep(title=WHOLE, lines=whole, does=does)
    else:
        yield WorkStep(
            title=COMBINE,
            lines=(),
            does=say(goal, ", strained, in short bursts to emulsion: no oil streaks on the surface."),
        )
        if whole or cup:
            scent = any(x.kind == "fragrance" for x in whole)
            what = "The cup for all of the batter" if cup else "Into all of it"
            does = say(f"{what}, at emulsion" + (", the scent last and by hand." if scent else "."))
            yield WorkStep(title=WHOLE, lines=whole, does=does)


def _coloured(recipe: Recipe, shelf: Shelf, sheet: Sheet, late: tuple[Line, ...]) -> WorkStep:
    """Colours, then the scent."""
    design = recipe.design
    notes = [shelf.fragrances[f].note for f in recipe.fragrances if shelf.fragrances[f].note]
    scent_when = "each just before it is poured" if design.scent_at == "pour" else "last"
    by = "whisked by hand" if design.scent_by == "hand" else "with the stick"
    first = "Each its own colour first" if any(x.into for x in sheet.lines) else "First what colour there is"
    return WorkStep(
        title=COLOUR if any(x.vessel == "stir" and x.into for x in sheet.lines) else SCENT,
        lines=late,
        does=f"{first}. Scent {scent_when}, {by}." if late else "Each its own colour, by hand.",
        cautions=tuple(_heed(f"Your note: {n}") for n in notes),
        cups=tuple(scent_cups(recipe, shelf, sheet)) if late else (),
    )


def _poured(
    recipe: Recipe,
    shelf: Shelf,
    sheet: Sheet,
    mould: MouldFill | None,
    tasks: Sequence[Task],
    pours: tuple[SheetPour, ...],
) -> Iterator[WorkStep]:
    """Into the mould, and what comes after."""
    design = recipe.design
    technique = shelf.techniques[design.technique]
    does = say(f"{technique.how[:1].upper()}{technique.how[1:]}. Bang out the air.")
    pieces = embeds_told(recipe, shelf)
    if pieces:
        does += say(" Embeds: ", joined("; ", pieces), ".")
    on_top = top_told(recipe)
    if on_top and all(t.do != "top" for t in tasks):
        does += say(" On top: ", joined("; ", on_top), ".")
    told = joined(" ", [*(mould.message if mould else ()), *([mould.ends] if mould and mould.ends else [])])
    yield WorkStep(title=technique.name, lines=(), does=say(does, " ", told).strip(), pours=pours)
    cut = say(mould.cuts.message, ". ") if mould and mould.cuts else ""
    bars = sum(b.count for b in sheet.bars)
    if mould and mould.cuts and bars > mould.cuts.bars:
        cut = say(cut, f"{bars} bars of all moulds. ")
    yield WorkStep(
        title=AFTER,
        lines=(),
        does=(
            say(
                "Cover; gloves stay on until it is covered. ",
                cut,
                sheet.bar.cutting[:1].upper(),
                sheet.bar.cutting[1:],
                ". Superfat ",
                percent(recipe.superfat),
                ", likely ",
                percent(sheet.superfat.likely.low),
                " to ",
                percent(sheet.superfat.likely.high),
                ". Cure four to six weeks and test a bar before anyone uses it. ",
                TEST_A_BAR,
            )
        ),
        cautions=(_heed(OVEN_NEXT, danger=True),) if design.wrap == "oven" else (),
    )
