"""The bench sheet from combining on: emulsion, the split, colours and scent, the mould, and what comes after."""

from collections.abc import Iterable, Iterator, Mapping, Sequence

from ..pour import OVEN_NEXT
from ..recipe import Recipe
from ..sheet import Line, Sheet, percent
from ..shelf import Shelf
from ..text import Text, joined, say
from ..values import Minutes
from .aid import TEST_A_BAR
from .cups import SheetCup, SheetPour, pours_of, raw_shares, scent_cups, split_cups
from .ledger import Ledger
from .moulded import MouldFill, embeds_told, top_told
from .work_step import AFTER, COLOUR, COMBINE, PUT_BY, RAW, SCENT, SPLIT, WHOLE, Day, WorkStep, heed, named


def from_emulsion(
    recipe: Recipe,
    shelf: Shelf,
    sheet: Sheet,
    in_pot: Sequence[Line],
    when: Mapping[str, Minutes],
    goal: Text,
    day: Day,
    cups: Ledger,
) -> Iterator[WorkStep]:
    """From combining on, at its `goal` of warmth, what is done on a day: `in_pot` is what stands in the pot by then."""
    lines, design = [x for x in sheet.lines if day.has(x)], recipe.design
    morning = when.get(day.tasks[0].key, 0.0) if day.on and day.tasks else 0.0
    since = {key: minute - morning for key, minute in when.items()}
    at_trace = [x for x in lines if x.vessel == "stir"]
    early_scent = design.scent_at == "emulsion"
    whole = tuple(x for x in at_trace if x.kind == "liquid" or (x.kind == "fragrance" and early_scent))
    cup = any(x.kind == "additive" and not x.into for x in at_trace)
    if day.names:
        yield from _combined(recipe, shelf, sheet, in_pot, whole, cup, cups, goal, day)
    shared = [p for p in design.portions if not design.alone(p) and p.name in day.names]
    if len(shared) > 1:
        rows = [r for r in cups.rows if r.name in day.names and not r.raw and not r.source]
        pots = {r.batch: r.reads for r in reversed(rows)}
        stands = joined(
            "; ",
            (say(f"{b[:1].upper()}{b[1:]}" or "The pot", " stands at ", reads) for b, reads in reversed(pots.items())),
        )
        weight = " with its own weight." if design.pot else ", tared."
        alike = " ".join(("", *cups.alike))
        does = say(stands, weight, " Pour off each cup until it reads what is beside it.", alike)
        yield WorkStep(title=SPLIT, lines=(), does=does, cups=_of_day(split_cups(cups), day))
    late = tuple(x for x in at_trace if x.kind == "fragrance" and not early_scent)
    if late or any(x.into for x in at_trace) or any(c.portion in day.names for c in scent_cups(recipe, shelf, sheet)):
        yield _coloured(recipe, shelf, sheet, late, day)
    yield from _poured(recipe, shelf, sheet, cups.mould, day, tuple(pours_of(recipe, shelf, day.tasks, since, cups)))


def _of_day(cups: Iterable[SheetCup], day: Day) -> tuple[SheetCup, ...]:
    """Those of a day's portions."""
    return tuple(c for c in cups if c.portion in day.names)


def _combined(
    recipe: Recipe,
    shelf: Shelf,
    sheet: Sheet,
    in_pot: Sequence[Line],
    whole: tuple[Line, ...],
    cup: bool,
    cups: Ledger,
    goal: Text,
    day: Day,
) -> Iterator[WorkStep]:
    """Lye and fats to emulsion, in one pot or each layer by itself, and what goes into all of it: `whole` is weighed
    then, and with `cup` there is a cup that stands ready."""
    design = recipe.design
    if len(design.batches) > 1:
        own = tuple(x for x in sheet.lines if x.vessel == "pot" and x.into in day.names)
        jug = named(x for x in sheet.lines if x.vessel == "jug")
        does = say(
            "Combine each by itself when it is wanted. ",
            goal,
            ", both vessels stirred first. The pot is all that is in it (",
            named(in_pot),
            "), the jug likewise (",
            jug,
            ").",
        )
        yield WorkStep(title=RAW, lines=own, does=does, cups=_raw_of_day(recipe, shelf, sheet, cups, day))
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


def _raw_of_day(recipe: Recipe, shelf: Shelf, sheet: Sheet, cups: Ledger, day: Day) -> tuple[SheetCup, ...]:
    """Raw shares of the batches that are combined on a day."""
    design = recipe.design
    on = {b for b in design.batches if any(design.batch_of(p) == b for p in design.portions if p.name in day.names)}
    told = zip(design.batches, raw_shares(design, shelf.scales, sheet, cups), strict=True)
    return tuple(cup for batch, cup in told if batch in on)


def _coloured(recipe: Recipe, shelf: Shelf, sheet: Sheet, late: tuple[Line, ...], day: Day) -> WorkStep:
    """Colours, then the scent."""
    design = recipe.design
    cups = _of_day(scent_cups(recipe, shelf, sheet), day)
    notes = [shelf.fragrances[f].note for f in recipe.fragrances if shelf.fragrances[f].note]
    scent_when = "each just before it is poured" if design.scent_at == "pour" else "last"
    by = "whisked by hand" if design.scent_by == "hand" else "with the stick"
    mine = [x for x in sheet.lines if day.has(x)]
    first = "Each its own colour first" if any(x.into for x in mine) else "First what colour there is"
    scented = late or cups
    return WorkStep(
        title=COLOUR if any(x.vessel == "stir" and x.into for x in mine) else SCENT,
        lines=late,
        does=f"{first}. Scent {scent_when}, {by}." if scented else "Each its own colour, by hand.",
        cautions=tuple(heed(f"Your note: {n}") for n in notes),
        cups=cups if scented else (),
    )


def _poured(
    recipe: Recipe,
    shelf: Shelf,
    sheet: Sheet,
    mould: MouldFill | None,
    day: Day,
    pours: tuple[SheetPour, ...],
) -> Iterator[WorkStep]:
    """Into the mould, and what comes after."""
    design, tasks = recipe.design, day.tasks
    technique = shelf.techniques[design.technique]
    does = say(f"{technique.how[:1].upper()}{technique.how[1:]}. Bang out the air.")
    pieces = embeds_told(recipe, shelf)
    if pieces and (day.last or any(t.do == "embed" for t in tasks)):
        does += say(" Embeds: ", joined("; ", pieces), ".")
    on_top = top_told(recipe)
    if on_top and day.last and all(t.do != "top" for t in tasks):
        does += say(" On top: ", joined("; ", on_top), ".")
    told = joined(" ", [*(mould.message if mould else ()), *([mould.ends] if mould and mould.ends else [])])
    yield WorkStep(title=technique.name, lines=(), does=say(does, " ", told).strip(), pours=pours)
    if not day.last:
        apart = day.build.after[day.on + 1] - day.build.after[day.on]
        then = "tomorrow" if apart == 1 else f"in {apart} days"
        until = (
            f"Cover the mould. The rest of the lye: {PUT_BY}. Fats and cups under a lid. Day {day.on + 2} is {then}."
        )
        yield WorkStep(title=f"Until day {day.on + 2}", lines=(), does=until)
        return
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
        cautions=(heed(OVEN_NEXT, danger=True),) if design.wrap == "oven" else (),
    )
