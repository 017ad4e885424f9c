"""Everything of one batch on paper, for who must keep records: what went in, what it did, what came of it."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..pour import (
    AshSeen,
    BarsCounted,
    BlockSeen,
    Cut,
    Flagged,
    Folded,
    GelSeen,
    LeftUnscented,
    Mended,
    NextTime,
    NothingAmiss,
    PourState,
    Remarked,
    Rest,
    ScentIn,
    Signed,
    Spared,
    StepSkipped,
    TechniqueChanged,
    TemperatureRead,
    Tested,
    Unmoulded,
    Weighed,
    clock_text,
    label,
)
from ..recipe import Recipe
from ..rest import RestNow
from ..sheet import Bottle, Label, OrderLine, Sheet, percent
from ..shelf import Shelf
from ..text import G, Part, Text, day, figure, joined, say
from ..values import Minutes, Value

LATER = 720.0  # minutes from which an event is told by its day
CAME = {"drawn": "as planned", "different": "sellable", "lost": "lost"}


NOTED = (
    TemperatureRead
    | TechniqueChanged
    | StepSkipped
    | Folded
    | Spared
    | LeftUnscented
    | ScentIn
    | Flagged
    | Mended
    | NothingAmiss
    | Remarked
)  # of the bench, what a short record tells: readings, and what was otherwise than planned
# And of what came later.
AFTER = Unmoulded | Cut | BarsCounted | BlockSeen | AshSeen | GelSeen | Weighed | Tested | Signed


class PaperSection(Value):
    """A part of a paper: rows of what it is and what is said of it, and a line below."""

    title: str
    rows: tuple[tuple[Text, Text], ...]
    message: Text = Text.NONE


@dataclass(frozen=True)
class Recorded:
    """A batch as it is recorded: the recipe it was poured by, its weights, and what was told of it. `poured` is its day
    in words, `when` tells the moment of a minute of its clock, `bottles` are the lots it took from by item; `harm` is
    what must be marked for good, `number` the batch's by the maker's own pattern.
    """

    recipe: Recipe
    version: int
    sheet: Sheet
    shelf: Shelf
    state: PourState
    poured: Part
    when: Callable[[Minutes], str]
    bottles: Mapping[str, tuple[Bottle, ...]]
    harm: Part = ""
    number: str = ""


def batch_record(of: Recorded, made: Label, rest: RestNow | None) -> tuple[PaperSection, ...]:
    """The parts of a batch's record; `rest` is how it stands now."""
    harm = of.harm
    return (
        PaperSection(title="Batch", rows=tuple(_head(of, of.number)), message=harm),
        PaperSection(title="What went in", rows=tuple(_weights(of.sheet, of.bottles))),
        PaperSection(title="At the bench", rows=tuple(_bench(of.state))),
        PaperSection(title="Since it was poured", rows=tuple(_since(of.state, of.when, rest))),
        PaperSection(
            title="Label draft",
            rows=(
                ("went in", ", ".join(made.went_in)),
                ("became", ", ".join(made.became)),
                ("allergens", ", ".join(made.allergens) or "none named"),
            ),
            message=say(harm, " ", made.note).strip(),
        ),
    )


def _head(of: Recorded, number: str) -> Iterator[tuple[Part, Part]]:
    recipe, sheet, state = of.recipe, of.sheet, of.state
    technique = of.shelf.techniques.get(state.technique or recipe.design.technique)
    if number:
        yield "batch", number
    yield "recipe", f"{recipe.name}, version {of.version}"
    yield "poured", joined(", ", filter(None, (of.poured, technique.name if technique else "")))
    yield "batter", say(sheet.total_shown, " from ", sheet.fats_shown, " of fats")
    likely = say(percent(sheet.superfat.likely.low), " to ", percent(sheet.superfat.likely.high))
    yield "superfat", say(percent(recipe.superfat), " set; likely ", likely)
    value = figure(sheet.saponification_value, ".1f")
    values = say("saponification value ", value, "; hydroxide ", percent(recipe.naoh_purity), " pure")
    yield "lye", say(percent(sheet.lye_concentration), " of lye and water, ", values)
    yield (
        "bars",
        joined("; ", (say(b.count, " of ", G(b.grams, ".0f"), " wet (", b.mould, ")") for b in sheet.bars))
        or "not sized by moulds",
    )
    if state.came:
        yield "came out", CAME.get(state.came, state.came)


def _weights(sheet: Sheet, bottles: Mapping[str, tuple[Bottle, ...]]) -> Iterator[tuple[Part, Part]]:
    for line in sheet.lines:
        lots = ", ".join(str(b) for b in bottles.get(line.item, ()))
        name = joined(", ", filter(None, (line.name, line.into and f"into {line.into}", line.also)))
        yield line.shown, say(name, f" ({lots})") if lots else name


def _bench(state: PourState) -> Iterator[tuple[Part, Part]]:
    """Events of the bench, those of one minute together."""
    together: dict[str, list[Text]] = {}
    for e in state.standing:
        if not isinstance(e, Rest | NextTime):
            together.setdefault(clock_text(e.minute), []).append(label(e))
    yield from ((minute, joined("; ", words)) for minute, words in together.items())


def _since(state: PourState, when: Callable[[Minutes], str], rest: RestNow | None) -> Iterator[tuple[Part, Part]]:
    for e in state.standing:
        if isinstance(e, Rest | NextTime):
            yield (when(e.minute) if e.minute >= LATER else clock_text(e.minute)), label(e)
    if rest is not None:
        for bars in rest.bars:
            done = bars.curve.done
            name = f" from the {bars.name}" if len(rest.bars) > 1 else ""
            yield "water gone", f"{done.low:.0f} to {done.high:.0f} days after the cut{name}, by its curve"
        if rest.got:
            yield "cut", rest.got


def batch_short(of: Recorded) -> PaperSection:
    """A batch's record in few lines, for a year of them: what `batch_record` has, but for the label and the clock's
    account of the pour."""
    state = of.state
    rows = [r for r in _head(of, "") if r[0] != "recipe"]
    rows.append(("went in", joined("; ", (say(amount, " ", what) for amount, what in _weights(of.sheet, of.bottles)))))
    seen = [label(e) for e in state.standing if isinstance(e, NOTED)]
    rows.append(("noted", joined("; ", seen) or "nothing amiss was noted"))
    days: dict[str, list[Text]] = {}
    for e in state.standing:
        if isinstance(e, AFTER):
            days.setdefault(" ".join(of.when(e.minute).split()[:2]), []).append(label(e))
    after = [say(on, ": ", joined(", ", words)) for on, words in days.items()]
    rows.append(("afterwards", joined("; ", after) or "nothing noted"))
    title = ", ".join(filter(None, (of.number, of.recipe.name, f"version {of.version}")))
    return PaperSection(title=title, rows=tuple((say(a), say(b)) for a, b in rows), message=say(of.harm))


def label_paper(recipe: Recipe, made: Label) -> tuple[PaperSection, ...]:
    """The label's draft on paper."""
    return (
        PaperSection(title=f"{recipe.name}: as it went in", rows=(), message=", ".join(made.went_in)),
        PaperSection(title=f"{recipe.name}: as it became", rows=(), message=", ".join(made.became)),
        PaperSection(title="Allergens to declare", rows=(), message=", ".join(made.allergens) or "None is named."),
        PaperSection(title="Before it is printed", rows=(), message=made.note),
    )


def order_paper(lines: Sequence[OrderLine], money: str = "") -> tuple[PaperSection, ...]:
    """What to order, a part for each supplier it was bought from last; `money` is the code prices are in."""
    if not lines:
        return (PaperSection(title="Nothing", rows=(), message="Everything tracked is in stock."),)
    suppliers = sorted({x.supplier for x in lines}, key=lambda s: (not s, s.casefold()))
    return tuple(
        PaperSection(
            title=supplier or "Supplier not said",
            rows=tuple((_packs(x), _ordered(x)) for x in lines if x.supplier == supplier),
            message=_sum([x for x in lines if x.supplier == supplier], money),
        )
        for supplier in suppliers
    )


def _packs(line: OrderLine) -> Text:
    if line.packs and line.pack:
        return say(line.packs, " × ", G(line.pack, ".6g"))
    return say(G(line.wanted, ".0f"))


def _ordered(line: OrderLine) -> Text:
    grams = say(" (", G(line.wanted, ".0f"), " missing)") if line.packs else Text.NONE
    untold = "" if line.counted else ", not counted: look for yourself"
    return say(line.name, grams, untold, ", by ", day(line.by), ", for ", ", ".join(line.batches))


def _sum(lines: Sequence[OrderLine], money: str) -> Text:
    """What it costs by the prices paid last, as far as they are known."""
    known = [x.cost for x in lines if x.cost is not None]
    if not known:
        return Text.NONE
    less = f"; {len(lines) - len(known)} without a price" if len(known) < len(lines) else ""
    return say("About ", figure(sum(known), ".2f"), f" {money}" if money else "", " by the prices paid last", less, ".")


def cut_paper(message: Sequence[Text], toppings: Sequence[Text]) -> tuple[PaperSection, ...]:
    """What stands beside the drawing of a cut plan."""
    rows = tuple((Text.NONE, t) for t in toppings)
    return (PaperSection(title="Cut", rows=rows, message=joined(" ", message)),)
