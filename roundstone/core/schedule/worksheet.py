"""The bench sheet: everything in the order of work, each weight with its moment, each caution at its step."""

from collections.abc import Iterable, Iterator, Mapping, Sequence

from ..face import Tint
from ..heat import HeatPlan
from ..pour import OVEN_NEXT
from ..recipe import INTO_MOULD, Design, Recipe
from ..sheet import Line, Sheet, percent
from ..shelf import Moment, Scales, Shelf, band_words
from ..text import C, Part, Text, joined, say
from ..values import Caution, Grams, Minutes, Value, listed
from .aid import TEST_A_BAR
from .ledger import Ledger, ledger, pour_off, tint_of
from .ledger_row import LedgerRow
from .moulded import MouldFill, top_told
from .plan import Task, plan


class CupTake(Value):
    """What a cup takes: so much, as the scale `shown` it and in grams (`reading`), `of` what; `line` is the sheet's key
    of what is weighed so."""

    of: str
    shown: Text
    reading: Grams
    line: str = ""


class SheetCup(Value):
    """A vessel: what to write on it, whose it is and its colour, what it takes, and what is read on the pot then."""

    vessel: str
    portion: str
    tint: Tint
    takes: tuple[CupTake, ...]
    reads: Text = Text.NONE


class SheetPour(Value):
    """A step of the plan: when it comes (minutes from lye in; None where that is not forecast), of which colours, how
    much of each (`shown`), on what it waits, and what is stood ready should it fail.
    """

    label: str
    tints: tuple[Tint, ...]
    shown: Text
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
CUPS, RAW, COLOUR, SCENT, AFTER = "Colours in cups", "Raw shares", "Colour, then scent", "Scent", "After"
POT_SHARE, JUG_SHARE = "pot share:", "jug share:"  # begin the keys of a batch's raw shares
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


def _raw_shares(design: Design, scales: Scales, sheet: Sheet, told: Ledger) -> Iterator[SheetCup]:
    """What to weigh out of pot and jug for each batch: a share of everything that is in them."""
    tints = {row.name: row.tint for row in told.rows}
    for batch in design.batches:
        mine = [p for q, p in zip(design.portions, sheet.portions, strict=True) if design.batch_of(q) == batch]
        name = batch or listed([p.name for p in mine])
        pot, jug = sum(p.from_pot for p in mine), sum(p.from_jug for p in mine)
        of_pot = CupTake(
            of="of the fat pot", shown=scales.shown(pot), reading=scales.reading(pot), line=f"{POT_SHARE}{name}"
        )
        of_jug = CupTake(
            of="of the lye jug",
            shown=scales.both(jug, down=True),
            reading=scales.reading(jug, down=True),
            line=f"{JUG_SHARE}{name}",
        )
        yield SheetCup(vessel=name, portion=name, tint=tints[mine[0].name], takes=(of_pot, of_jug))


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


def _scent_cups(recipe: Recipe, shelf: Shelf, sheet: Sheet) -> Iterator[SheetCup]:
    """The fragrance of each portion, where they get it apart; of a blend what is mixed first."""
    if not recipe.design.scents_apart or len(sheet.portions) < 2:
        return
    scales, keys = shelf.scales, {x.key for x in sheet.lines}
    for n, i in enumerate(pour_off(recipe)):
        p, dose = sheet.portions[i], recipe.design.portions[i].share * recipe.design.portions[i].scent * sheet.fats
        takes = tuple(
            CupTake(
                of=shelf.fragrances[s.fragrance].name,
                shown=scales.shown(s.load * dose),
                reading=scales.reading(s.load * dose),
                line=key if (key := f"fragrance:{s.fragrance}") in keys else "",
            )
            for s in recipe.scents
        )
        if p.fragrance > 0:
            yield SheetCup(vessel=f"{n + 1} {p.name}", portion=p.name, tint=tint_of(recipe, shelf, i), takes=takes)


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
        yield WorkStep(title=SPLIT, lines=(), does=does, cups=tuple(_cups(cups)))
    late = tuple(x for x in at_trace if x.kind == "fragrance" and not early_scent)
    if late or any(x.into for x in at_trace):
        yield _coloured(recipe, shelf, sheet, late)
    yield from _poured(recipe, shelf, sheet, cups.mould, tasks, tuple(_pours(recipe, shelf, tasks, when, cups)))


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
        yield WorkStep(title=RAW, lines=own, does=does, cups=tuple(_raw_shares(design, shelf.scales, sheet, cups)))
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
        cups=tuple(_scent_cups(recipe, shelf, sheet)) if late else (),
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


def _cups(told: Ledger) -> Iterator[SheetCup]:
    """Vessels in the order they are poured off; those combined by themselves are weighed raw instead."""
    for row in told.rows:
        if row.raw:
            continue
        yield SheetCup(
            vessel=row.vessel,
            portion=row.name,
            tint=row.tint,
            takes=(CupTake(of="", shown=row.shown, reading=row.batter),),
            reads=_reads(row),
        )


def _reads(row: LedgerRow) -> Text:
    pot = row.source or row.batch or "the pot"
    reads = say("stays in the pot") if row.stays else say("until ", pot, " reads ", row.until)
    return say(reads, "; keep ", row.kept, " for the top") if row.kept else reads


def _pours(
    recipe: Recipe, shelf: Shelf, tasks: Sequence[Task], when: Mapping[str, Minutes], cups: Ledger
) -> Iterator[SheetPour]:
    """What makes the look, and the waits, in order; what is stood ready beside its step."""
    below: set[int] = set()
    rows = {row.portion: row for row in cups.rows}
    several = len(rows) > 1
    last_top = next((t for t in reversed(tasks) if t.do == "top"), None)
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
        notes: list[Part] = []
        if task.wants.to is not None:
            notes.append("thicken it on purpose first")
        if task.wants.gate is not None and below - set(task.lanes):
            notes.append("once what is below stands")
        if task.wants.keep is not None:
            notes.append("may be left out")
        if task is last_top:
            notes += top_told(recipe)
        below |= set(task.lanes)
        yield SheetPour(
            label=task.label,
            tints=tuple(tint_of(recipe, shelf, i) for i in task.lanes),
            shown=joined(
                ", ",
                (
                    say(f"{rows[i].name} " if len(task.lanes) > 1 else "", shelf.scales.shown(grams))
                    for i in task.lanes
                    if (grams := rows[i].in_mould * task.wants.part) > 0 and task.do in INTO_MOULD
                ),
            )
            if several
            else "",
            minute=when.get(task.key),
            wants=band_words(task.wants.band) if task.looks else "",
            note=joined("; ", notes),
            ready="; ".join(named),
        )
