"""The bench sheet: everything in the order of work, each weight with its moment, each caution at its step."""

from collections.abc import Iterable, Iterator, Mapping, Sequence

from ..face import Tint
from ..heat import HeatPlan
from ..pour import OVEN_NEXT
from ..recipe import Design, Recipe
from ..sheet import Line, Sheet, percent
from ..shelf import Moment, Scales, Shelf, band_words
from ..text import C, Part, Text, joined, say
from ..values import Caution, Minutes, Value, listed
from .aid import TEST_A_BAR
from .ledger import Ledger, ledger, tint_of
from .moulded import MouldFill
from .plan import Task, plan


class SheetCup(Value):
    """A vessel: what to write on it, its colour, its grams, and what the pot it comes from reads then. One that is
    combined by itself takes `shown` of the fat pot and `jug` of the lye instead. Colourants and fragrance are weighed
    at their own step.
    """

    vessel: str
    tint: Tint
    shown: Text
    source: str = ""
    until: Text = Text.NONE
    jug: Text = Text.NONE


class SheetPour(Value):
    """A step of the plan: when it comes (minutes from lye in; None where that is not forecast), of which colours, on
    what it waits, and what is stood ready should it fail.
    """

    label: str
    tints: tuple[Tint, ...]
    minute: Minutes | None
    wants: str
    note: Text
    ready: str


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
    """
    steps = list(_steps(recipe, shelf, sheet, heat, when or {}))
    told = [list(s.cautions) for s in steps]
    told[0] += [_heed(say("Noted last time: ", n)) for n in noted]
    for caution in (*cautions, *heat.cautions):
        place = _place(steps, sheet, caution.pointer)
        if all(c.message != caution.message for c in told[place]):
            told[place].append(caution)
    return tuple(s.model_copy(update={"cautions": tuple(t)}) for s, t in zip(steps, told, strict=True))


BEFORE, JUG, LYE, HOT, COOL = "Before anything", "Lye jug", "Lye", "While the lye is hot", "When the lye is cool"
HARD, SOFT, COMBINE, WHOLE, SPLIT = "Fat pot, hard", "Fat pot, liquid", "Combine", "Into the whole batter", "Split"
RAW, COLOUR, AFTER = "Raw shares", "Colour, then scent", "After"
# Where a caution that belongs to no row is heeded, by the beginning of its pointer.
HEEDED = {
    "/superfat": LYE,
    "/water": LYE,
    "/koh_share": LYE,
    "/feed_acids": LYE,
    "/pour_celsius": SOFT,
    "/design/portions": SPLIT,
    "/design/scent_at": COLOUR,
    "/size": BEFORE,
}
KINDS = {"fats": "fat", "liquids": "liquid", "additives": "additive", "scents": "fragrance"}


def _place(steps: Sequence[WorkStep], sheet: Sheet, pointer: str) -> int:
    """Which step a caution stands at."""
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
        wanted = WHOLE if WHOLE in titles else SOFT
    return titles.index(wanted) if wanted in titles else 0


def _named(lines: Iterable[Line]) -> str:
    names = list(dict.fromkeys("fats" if x.kind == "fat" else x.name.lower() for x in lines if x.kind != "carrier"))
    return ", ".join(names)


def _raw_shares(design: Design, scales: Scales, sheet: Sheet, told: Ledger) -> Iterator[SheetCup]:
    """What to weigh out of pot and jug for each batch: a share of everything that is in them."""
    tints = {row.name: row.tint for row in told.rows}
    for batch in design.batches:
        mine = [p for q, p in zip(design.portions, sheet.portions, strict=True) if design.batch_of(q) == batch]
        yield SheetCup(
            vessel=batch or listed([p.name for p in mine]),
            tint=tints[mine[0].name],
            shown=scales.shown(sum(p.from_pot for p in mine)),
            jug=scales.both(sum(p.from_jug for p in mine), down=True),
        )


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

    yield from _from_emulsion(recipe, shelf, sheet, in_pot, when)


def _from_emulsion(
    recipe: Recipe, shelf: Shelf, sheet: Sheet, in_pot: Sequence[Line], when: Mapping[str, Minutes]
) -> Iterator[WorkStep]:
    """From combining on: `in_pot` is what stands in the pot by then."""
    lines, design = sheet.lines, recipe.design
    tasks = plan(recipe, shelf, sheet.total)
    cups = ledger(recipe, shelf, sheet, tasks, {})
    at_trace = [x for x in lines if x.vessel == "stir"]
    early_scent = design.scent_at == "emulsion"
    whole = tuple(x for x in at_trace if not x.into and (x.kind != "fragrance" or early_scent))
    yield from _combined(recipe, shelf, sheet, in_pot, whole, cups)
    shared = [p for q, p in zip(design.portions, sheet.portions, strict=True) if not design.alone(q)]
    if len(shared) > 1:
        weight = " with its own weight." if design.pot else ", tared."
        alike = " ".join(("", *cups.alike))
        does = say(
            "The pot stands at ", cups.pot_shown, weight, " Pour off each cup until it reads what is beside it.", alike
        )
        yield WorkStep(title=SPLIT, lines=(), does=does, cups=tuple(_cups(cups)))
    yield _coloured(recipe, shelf, sheet, tuple(x for x in at_trace if x not in whole))
    yield from _poured(recipe, shelf, sheet, cups.mould, tuple(_pours(recipe, shelf, tasks, when)))


def _combined(
    recipe: Recipe, shelf: Shelf, sheet: Sheet, in_pot: Sequence[Line], whole: tuple[Line, ...], cups: Ledger
) -> Iterator[WorkStep]:
    """Lye and fats to emulsion, in one pot or each layer by itself, and what goes into all of it."""
    lines, design = sheet.lines, recipe.design
    goal = say(C(recipe.pour_celsius, both=True))
    if len(design.batches) > 1:
        own = tuple(x for x in lines if x.vessel == "pot" and x.into)
        jug = _named(x for x in lines if x.vessel == "jug")
        does = say(
            "Combine each by itself when it is wanted, at ",
            goal,
            ", both vessels stirred first. The pot is all that is in it (",
            _named(in_pot),
            "), the jug likewise (",
            jug,
            ").",
        )
        yield WorkStep(title=RAW, lines=own, does=does, cups=tuple(_raw_shares(design, shelf.scales, sheet, cups)))
        if whole:
            shares = joined("; ", (say(p.name, " ", p.shown.stirred) for p in sheet.portions))
            does = say(
                "Mixed together these are for all layers, each by its share as it comes to emulsion: ", shares, "."
            )
            yield WorkStep(title=WHOLE, lines=whole, does=does)
    else:
        yield WorkStep(
            title=COMBINE,
            lines=(),
            does=say("At ", goal, ", strained, in short bursts to emulsion: no oil streaks on the surface."),
        )
        if whole:
            scent = any(x.kind == "fragrance" for x in whole)
            does = say("Into all of it, at emulsion" + (", the scent last and by hand." if scent else "."))
            yield WorkStep(title=WHOLE, lines=whole, does=does)


def _coloured(recipe: Recipe, shelf: Shelf, sheet: Sheet, late: tuple[Line, ...]) -> WorkStep:
    """Colours, then the scent."""
    design = recipe.design
    notes = [shelf.fragrances[f].note for f in recipe.fragrances if shelf.fragrances[f].note]
    scent_into = joined(", ", (say(p.shown.fragrance, " into ", p.name) for p in sheet.portions if p.fragrance))
    scent_when = "each just before it is poured" if design.scent_at == "pour" else "last"
    by = "whisked by hand" if design.scent_by == "hand" else "with the stick"
    return WorkStep(
        title=COLOUR,
        lines=late,
        does=say(f"Colour first. Scent {scent_when}, {by}: ", scent_into, ".") if scent_into else "Colour by hand.",
        cautions=tuple(_heed(f"Your note: {n}") for n in notes),
    )


def _poured(
    recipe: Recipe, shelf: Shelf, sheet: Sheet, mould: MouldFill | None, pours: tuple[SheetPour, ...]
) -> Iterator[WorkStep]:
    """Into the mould, and what comes after."""
    design = recipe.design
    technique = shelf.techniques[design.technique]
    does = f"{technique.how[:1].upper()}{technique.how[1:]}. Bang out the air."
    told = joined(" ", [*(mould.message if mould else ()), *([mould.ends] if mould and mould.ends else [])])
    yield WorkStep(title=technique.name, lines=(), does=say(does, " ", told).strip(), pours=pours)
    cut = say(mould.cuts.message, ". ") if mould and mould.cuts else ""
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


def _cups(told: Ledger) -> Iterator[SheetCup]:
    """Vessels in the order they are poured off; those combined by themselves are weighed raw instead."""
    for row in told.rows:
        if row.raw:
            continue
        yield SheetCup(
            vessel=row.vessel,
            tint=row.tint,
            shown=row.shown,
            source=row.source or row.batch,
            until="" if row.stays else row.until,
        )


def _pours(recipe: Recipe, shelf: Shelf, tasks: Sequence[Task], when: Mapping[str, Minutes]) -> Iterator[SheetPour]:
    """What makes the look, and the waits, in order; what is stood ready beside its step."""
    below: set[int] = set()
    for task in tasks:
        if not task.looks and task.do != "wait":
            continue
        ready = [r for r in recipe.design.ready if r.step == task.key]
        named = (
            f"{shelf.techniques[r.technique].name}{f', {r.trigger}' if r.trigger else ''}: "
            f"{shelf.techniques[r.technique].how}"
            for r in ready
            if r.technique in shelf.techniques
        )
        notes = []
        if task.wants.to is not None:
            notes.append("thicken it on purpose first")
        if task.wants.gate is not None and below - set(task.lanes):
            notes.append("once what is below stands")
        if task.wants.keep is not None:
            notes.append("may be left out")
        below |= set(task.lanes)
        yield SheetPour(
            label=task.label,
            tints=tuple(tint_of(recipe, shelf, i) for i in task.lanes),
            minute=when.get(task.key),
            wants=band_words(task.wants.band) if task.looks else "",
            note=", ".join(notes),
            ready="; ".join(named),
        )
