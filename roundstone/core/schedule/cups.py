"""The vessels of the bench sheet and its pours: what each cup takes, what the pot reads then, how much goes in when."""

from collections.abc import Iterator, Mapping, Sequence

from ..face import Tint
from ..pour import PourState, mist_and_oven
from ..recipe import INTO_MOULD, Design, Recipe
from ..sheet import Sheet
from ..shelf import Scales, Shelf, band_words
from ..text import Part, Text, joined, say
from ..values import Grams, Minutes, Value
from .ledger import Ledger, pour_off, tint_of
from .ledger_row import LedgerRow
from .moulded import how_laid, top_told
from .task import Task

SHARED = "the shared pot"  # what several portions come from, beside batches of their own
POT_SHARE, JUG_SHARE = "pot share:", "jug share:"  # begin the keys of a batch's raw shares


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


def raw_shares(design: Design, scales: Scales, sheet: Sheet, told: Ledger) -> Iterator[SheetCup]:
    """What to weigh out of pot and jug for each batch: a share of everything that is in them."""
    tints = {row.name: row.tint for row in told.rows}
    for batch in design.batches:
        mine = [p for q, p in zip(design.portions, sheet.portions, strict=True) if design.batch_of(q) == batch]
        name = batch or (mine[0].name if len(mine) == 1 else SHARED)
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


def scent_cups(recipe: Recipe, shelf: Shelf, sheet: Sheet) -> Iterator[SheetCup]:
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


def split_cups(told: Ledger) -> Iterator[SheetCup]:
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


def pours_of(
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
        notes += how_laid(recipe, tasks, task, mist=mist_and_oven(PourState(), recipe, 0.0) is None)
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
