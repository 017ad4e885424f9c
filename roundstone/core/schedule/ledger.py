"""The ledger of portions: what each cup holds, how it is weighed off the pot, what goes into it, where it ends up."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any

from ..face import ALIKE, PALETTE, Aged, Tint, aged, apart
from ..recipe import (
    Portion,
    Recipe,
)
from ..recipe.mould import CUP
from ..sheet import GELS, Line, PortionWeight, Sheet, spoons, vanillin_in
from ..shelf import Shelf
from ..text import Text, figure, joined, say
from ..values import Grams, Value, listed
from .ledger_row import CupColour, LedgerRow
from .moulded import MouldFill, area_of, moulded
from .task import Task

OVERDOSED = 1.05  # times the limit's share, or the full dose, from which a cup is overdosed [C]
LEFT = 0.01  # share of a portion below which nothing of it is kept for the top


class Scenting(Value):
    """The fragrance over all cups against what is in the bottle; `says` when it does not reach."""

    shown: Text
    left: Text
    message: Text


class Ledger(Value):
    """Rows in pour-off order, batch by batch; `alike` says which look the same while they are wet, `scents_apart`
    whether each portion gets a share of the fragrance of its own."""

    rows: tuple[LedgerRow, ...]
    pot_shown: Text
    scenting: Scenting | None
    alike: tuple[str, ...]
    mould: MouldFill | None
    scents_apart: bool = False


def tint_of(recipe: Recipe, shelf: Shelf, i: int) -> Tint:
    """How a portion's soap shall look: as picked, else as its first colourant is known to, else by its place."""
    portion = recipe.design.portions[i]
    if portion.tint is not None:
        return portion.tint
    known = (shelf.additives.get(d.additive) for d in recipe.additives if portion.name in d.into)
    return next((a.tint for a in known if a is not None and a.tint), PALETTE[i % len(PALETTE)])


def aged_tints(recipe: Recipe, shelf: Shelf) -> tuple[Aged, ...]:
    """Every portion's tint wet, cut and cured, by how likely it gels and by the vanillin in its fragrance."""
    gelled = GELS[recipe.design.wrap]
    return tuple(
        aged(tint_of(recipe, shelf, i), gelled, vanillin_in(recipe, shelf, p))
        for i, p in enumerate(recipe.design.portions)
    )


def pour_off(recipe: Recipe) -> tuple[int, ...]:
    """Portions by their place in the order they are weighed off: of each pot the one that stays comes last, and what
    is taken from a portion right after that one.
    """
    portions = recipe.design.portions
    number = {p.name: i for i, p in enumerate(portions)}
    out: list[int] = []

    def with_taken(i: int) -> Iterator[int]:
        yield i
        for j, p in enumerate(portions):
            if p.of and number.get(p.of) == i:
                yield from with_taken(j)

    for batch in recipe.design.batches:
        mine = [i for i, p in enumerate(portions) if recipe.design.batch_of(p) == batch and not p.of]
        last = stays(portions, mine)
        for i in (*(i for i in mine if i != last), *((last,) if last is not None else ())):
            out += with_taken(i)
    return tuple(out)


def stays(portions: Sequence[Portion], mine: Sequence[int]) -> int | None:
    """Which portion stays in the pot: the one marked, else the largest."""
    marked = [i for i in mine if portions[i].rest]
    return marked[0] if marked else max(mine, key=lambda i: portions[i].share, default=None)


def ledger(
    recipe: Recipe,
    shelf: Shelf,
    sheet: Sheet,
    tasks: Iterable[Task],
    bottle: Mapping[str, Grams],
) -> Ledger:
    """The ledger of a weighed recipe whose plan is `tasks`; `bottle` what is left of each counted fragrance."""
    design, shown = recipe.design, shelf.scales.shown
    portions, tints = design.portions, aged_tints(recipe, shelf)
    tasks = tuple(tasks)
    order = pour_off(recipe)
    taken = {i: sum(sheet.portions[j].batter for j in _all_of(portions, i)) for i in range(len(portions))}
    number = {p.name: i for i, p in enumerate(portions)}
    pots = {b: sum(taken[i] for i in order if _from_pot(recipe, i, b)) for b in design.batches}
    # Only the first pot's own weight is known: a later batch stands in another vessel, tared.
    reads = {b: g + (design.pot if b == design.batches[0] else 0.0) for b, g in pots.items()} | {
        p.name: taken[number[p.name]] for p in portions
    }
    per_ml = sheet.total / sheet.millilitres
    kept = {i: sum(s.wants.part for s in tasks if s.do == "top" and i in s.lanes) for i in range(len(portions))}
    rows = []
    for n, i in enumerate(order):
        p, w = portions[i], sheet.portions[i]
        batch = design.batch_of(p)
        source = p.of or batch
        before = reads[source]
        mine = [j for j in range(len(portions)) if _from_pot(recipe, j, batch)]
        last = not p.of and i == stays(portions, mine)
        if not last:
            reads[source] = before - taken[i]
        rows.append(
            LedgerRow(
                portion=i,
                name=p.name,
                vessel=f"{n + 1} {p.name}",
                aged=tints[i],
                source=p.of,
                batch=batch if len(design.batches) > 1 else "",
                stays=last,
                reads=shown(before),
                until=shown(reads[source]),
                kept=shown(w.batter * kept[i]) if LEFT < kept[i] < 1 - LEFT else "",
                **_in_cup(recipe, shelf, sheet, i),
            )
        )
    return Ledger(
        rows=tuple(rows),
        pot_shown=shown(design.pot + pots[design.batches[0]]),
        scenting=_scenting(recipe, sheet, shelf, bottle),
        alike=tuple(_alike(rows)),
        mould=moulded(recipe, rows, per_ml, shelf, tasks),
        scents_apart=design.scents_apart,
    )


def _in_cup(recipe: Recipe, shelf: Shelf, sheet: Sheet, i: int) -> dict[str, Any]:
    """What the i-th portion's cup holds, and where that stands in the mould."""
    design, shown, per_ml = recipe.design, shelf.scales.shown, sheet.total / sheet.millilitres
    p, w, area = design.portions[i], sheet.portions[i], area_of(recipe)
    share = p.scent if design.scents_apart else 1.0
    scent = w.fragrance if design.scents_apart else 0.0
    in_mould = max(w.batter + scent + sum(x.grams for x in w.own) - design.residue, 0.0)
    return {
        "tint": tint_of(recipe, shelf, i),
        "share": p.share,
        "batter": w.batter,
        "shown": w.shown.batter,
        "cups": round(w.batter / per_ml / CUP, 2),
        "raw": say(w.shown.from_pot, " of the fats and ", w.shown.from_jug, " of the lye jug")
        if design.alone(p)
        else "",
        "scent": scent,
        "scent_shown": shown(scent) if scent else "none",
        "scent_share": share,
        "scent_says": _scent_says(w, share) if recipe.scents else "",
        "colours": tuple(_colours(w.own, recipe, shelf, w.batter / per_ml / CUP)),
        "in_mould": in_mould,
        "superfat": w.superfat,
        "uneven": w.uneven,
        "height": round(in_mould / per_ml / area, 2) if area else None,
        "a_percent": round(sheet.total / 100 / per_ml / area, 3) if area else None,
    }


def _all_of(portions: Sequence[Portion], i: int) -> Iterator[int]:
    """A portion and all that is taken from it."""
    yield i
    for j, p in enumerate(portions):
        if p.of == portions[i].name and j != i:
            yield from _all_of(portions, j)


def _from_pot(recipe: Recipe, i: int, batch: str) -> bool:
    portion = recipe.design.portions[i]
    return not portion.of and recipe.design.batch_of(portion) == batch


def _scent_says(portion: PortionWeight, share: float) -> Text:
    if portion.limit_use > 1:
        return say(f"{100 * portion.limit_use:.0f} % of what is allowed in a bar of it")
    return say(say(figure(share, ".2g"), " times the full dose: grains are likelier") if share > OVERDOSED else "")


def _colours(own: Iterable[Line], recipe: Recipe, shelf: Shelf, cups: float) -> Iterator[CupColour]:
    for line in own:
        if line.kind != "additive" or line.row is None:
            continue
        additive = shelf.additives[recipe.additives[line.row].additive]
        yield CupColour(
            name=line.name,
            grams=line.grams,
            shown=line.shown,
            spoons=line.spoons,
            a_cup=spoons(line.grams / additive.spoon / cups) if cups > 0 else "",
            tiny=line.grams < shelf.scales.finest,
            row=line.row,
            others=tuple(n for n in recipe.additives[line.row].into if n != line.into),
        )


def _scenting(recipe: Recipe, sheet: Sheet, shelf: Shelf, bottle: Mapping[str, Grams]) -> Scenting | None:
    if not recipe.scents:
        return None
    shown = shelf.scales.shown
    lines = [x for x in sheet.lines if x.kind == "fragrance"]
    counted = [x for x in lines if x.item in bottle]
    short = [x for x in counted if x.grams > bottle[x.item]]
    message = joined("; ", (say(x.name, ": ", shown(bottle[x.item]), " left, ", x.shown, " wanted") for x in short))
    left = shown(sum(bottle[x.item] for x in counted)) if counted else ""
    return Scenting(shown=shown(sum(x.grams for x in lines)), left=left, message=message)


def _alike(rows: Sequence[LedgerRow]) -> Iterator[str]:
    told: set[str] = set()
    for n, one in enumerate(rows):
        like = [o.name for o in rows[n + 1 :] if o.name not in told and apart(one.aged.wet, o.aged.wet) < ALIKE]
        if like and one.name not in told:
            told.update((one.name, *like))
            yield f"{listed([one.name, *like])} look alike while wet: label them."
