"""The ledger of portions: what each cup holds, how it is weighed off the pot, what goes into it, where it ends up."""

from collections.abc import Iterable, Iterator, Mapping, Sequence

from ..face import ALIKE, PALETTE, Aged, Tint, aged, apart
from ..recipe import (
    INTO_MOULD,
    Box,
    ByMoulds,
    CutPlan,
    Placement,
    Portion,
    Recipe,
    Wrap,
    cut_plan,
    leaning,
    millilitres,
    steepest,
    toppings_at,
)
from ..recipe import stands as standing
from ..recipe.mould import CUP
from ..said import CM, MM, figure
from ..sheet import Line, PortionWeight, Sheet
from ..shelf import Shelf
from ..values import Grams, Share, Value, listed
from .plan import Task

RAW = "{} of the fats and {} of the lye jug"
EIGHTHS = ("", "⅛", "¼", "⅜", "½", "⅝", "¾", "⅞")
OVERDOSED = 1.05  # times the limit's share, or the full dose, from which a cup is overdosed [C]
LEFT = 0.01  # share of a portion below which nothing of it is kept for the top
SPILT = 0.001  # share of a portion that may run over unsaid [C]
LONG = 15.0  # cm of mould from which colours begin at both ends in turn [C]
CUTTER = 25.0  # mm above the block that a wire cutter lets pass [C]
# How likely a bar gels by the way its mould rests, for its colours alone [C].
GELS: dict[Wrap, float] = {"open": 0.15, "covered": 0.4, "insulated": 0.9, "oven": 0.95, "cold": 0.05}
SURFACE, SURFACE_BASE = ("dots-hearts", "bottle-drops"), 0.55  # a surface design wants more base than that: 60 % usual


class CupColour(Value):
    """A colourant of one cup: grams, level teaspoons in words, and grams to a cup of batter."""

    name: str
    grams: Grams
    shown: str
    spoons: str
    a_cup: str
    tiny: bool
    row: int


class LedgerRow(Value):
    """A portion, by its place `portion` in the design; `vessel` is what to write on its cup.

    It is poured off `source` ("" the pot) until that reads `until`, having read `reads`; who `stays` is what is left.
    One combined by itself is `raw` shares of pot and jug. `in_mould` is what gets there, `kept` what of it is kept for
    the top. `height` is its layer in the mould, cm, and `a_percent` what one percent more would add to that.
    """

    portion: int
    name: str
    vessel: str
    tint: Tint
    aged: Aged
    share: Share
    batter: Grams
    shown: str
    cups: float
    source: str
    batch: str
    stays: bool
    reads: str
    until: str
    raw: str
    scent: Grams
    scent_shown: str
    scent_share: Share
    scent_says: str
    colours: tuple[CupColour, ...]
    in_mould: Grams
    kept: str
    superfat: Share
    uneven: bool
    height: float | None
    a_percent: float | None


class Scenting(Value):
    """The fragrance over all cups against what is in the bottle; `says` when it does not reach."""

    shown: str
    left: str
    message: str


class MouldFill(Value):
    """How the mould fills: the height of all batter against its own, in cm, at its lean, and where it is cut."""

    height: float
    holds: float
    message: tuple[str, ...]
    cuts: CutPlan | None
    toppings: tuple[Placement, ...]
    ends: str


class Ledger(Value):
    """Rows in pour-off order, batch by batch; `alike` says which look the same while they are wet."""

    rows: tuple[LedgerRow, ...]
    pot_shown: str
    scenting: Scenting | None
    alike: tuple[str, ...]
    mould: MouldFill | None


def spoons(teaspoons: float) -> str:
    """Level teaspoons as a set of spoons measures them.

    >>> spoons(1.76), spoons(0.5), spoons(0.04), spoons(3.99)
    ('1¾ tsp', '½ tsp', 'under ⅛ tsp', '4 tsp')
    """
    eighths = round(teaspoons * 8)
    if eighths == 0:
        return "under ⅛ tsp"
    whole, part = divmod(eighths, 8)
    return f"{whole or ''}{EIGHTHS[part]} tsp"


def tint_of(recipe: Recipe, shelf: Shelf, i: int) -> Tint:
    """How a portion's soap shall look: as picked, else as its first colourant is known to, else by its place."""
    portion = recipe.design.portions[i]
    if portion.tint is not None:
        return portion.tint
    known = (shelf.additives.get(d.additive) for d in recipe.additives if d.into == portion.name)
    return next((a.tint for a in known if a is not None and a.tint), PALETTE[i % len(PALETTE)])


def aged_tints(recipe: Recipe, shelf: Shelf) -> tuple[Aged, ...]:
    """Every portion's tint wet, cut and cured, by how likely it gels and by the vanillin in its fragrance."""
    gelled = GELS[recipe.design.wrap]
    load = sum(s.load for s in recipe.scents)
    known = shelf.poured((s.fragrance, s.load) for s in recipe.scents)
    vanillin = sum(x * (f.vanillin or 0.0) for x, f in known) / load if load else 0.0
    out = []
    for i, p in enumerate(recipe.design.portions):
        share = p.scent if recipe.design.scents_apart else 1.0
        out.append(aged(tint_of(recipe, shelf, i), gelled, vanillin * min(share, 1.0)))
    return tuple(out)


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
    area = _area(recipe)
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
        share = p.scent if design.scents_apart else 1.0
        scent = w.fragrance if design.scents_apart else 0.0
        in_mould = max(w.batter + scent + sum(x.grams for x in w.own) - design.residue, 0.0)
        rows.append(
            LedgerRow(
                portion=i,
                name=p.name,
                vessel=f"{n + 1} {p.name}",
                tint=tint_of(recipe, shelf, i),
                aged=tints[i],
                share=p.share,
                batter=w.batter,
                shown=w.shown.batter,
                cups=round(w.batter / per_ml / CUP, 2),
                source=p.of,
                batch=batch if len(design.batches) > 1 else "",
                stays=last,
                reads=shown(before),
                until=shown(reads[source]),
                raw=f"{w.shown.from_pot} of the fats and {w.shown.from_jug} of the lye jug" if design.alone(p) else "",
                scent=scent,
                scent_shown=shown(scent) if scent else "none",
                scent_share=share,
                scent_says=_scent_says(w, share) if recipe.scents else "",
                colours=tuple(_colours(w.own, recipe, shelf, w.batter / per_ml / CUP)),
                in_mould=in_mould,
                kept=shown(w.batter * kept[i]) if LEFT < kept[i] < 1 - LEFT else "",
                superfat=w.superfat,
                uneven=w.uneven,
                height=round(in_mould / per_ml / area, 2) if area else None,
                a_percent=round(sheet.total / 100 / per_ml / area, 3) if area else None,
            )
        )
    return Ledger(
        rows=tuple(rows),
        pot_shown=shown(design.pot + pots[design.batches[0]]),
        scenting=_scenting(recipe, sheet, shelf, bottle),
        alike=tuple(_alike(rows)),
        mould=_mould(recipe, rows, per_ml, shelf, tasks),
    )


def _all_of(portions: Sequence[Portion], i: int) -> Iterator[int]:
    """A portion and all that is taken from it."""
    yield i
    for j, p in enumerate(portions):
        if p.of == portions[i].name and j != i:
            yield from _all_of(portions, j)


def _from_pot(recipe: Recipe, i: int, batch: str) -> bool:
    portion = recipe.design.portions[i]
    return not portion.of and recipe.design.batch_of(portion) == batch


def _scent_says(portion: PortionWeight, share: float) -> str:
    if portion.limit_use > 1:
        return f"{100 * portion.limit_use:.0f} % of what is allowed in a bar of it"
    return f"{figure(share, '.2g')} times the full dose: grains are likelier" if share > OVERDOSED else ""


def _colours(own: Iterable[Line], recipe: Recipe, shelf: Shelf, cups: float) -> Iterator[CupColour]:
    for line in own:
        if line.kind != "additive" or line.row is None:
            continue
        additive = shelf.additives[recipe.additives[line.row].additive]
        yield CupColour(
            name=line.name,
            grams=line.grams,
            shown=line.shown,
            spoons=spoons(line.grams / additive.spoon),
            a_cup=spoons(line.grams / additive.spoon / cups) if cups > 0 else "",
            tiny=line.grams < shelf.scales.finest,
            row=line.row,
        )


def _scenting(recipe: Recipe, sheet: Sheet, shelf: Shelf, bottle: Mapping[str, Grams]) -> Scenting | None:
    if not recipe.scents:
        return None
    shown = shelf.scales.shown
    lines = [x for x in sheet.lines if x.kind == "fragrance"]
    counted = [x for x in lines if x.item in bottle]
    short = [x for x in counted if x.grams > bottle[x.item]]
    message = "; ".join(f"{x.name}: {shown(bottle[x.item])} left, {x.shown} wanted" for x in short)
    left = shown(sum(bottle[x.item] for x in counted)) if counted else ""
    return Scenting(shown=shown(sum(x.grams for x in lines)), left=left, message=message)


def _alike(rows: Sequence[LedgerRow]) -> Iterator[str]:
    told: set[str] = set()
    for n, one in enumerate(rows):
        like = [o.name for o in rows[n + 1 :] if o.name not in told and apart(one.aged.wet, o.aged.wet) < ALIKE]
        if like and one.name not in told:
            told.update((one.name, *like))
            yield f"{listed([one.name, *like])} look alike while wet: label them."


def _area(recipe: Recipe) -> float:
    """Floor of all boxes, cm²; 0 where the moulds are not boxes alone."""
    if not isinstance(recipe.size, ByMoulds) or not all(isinstance(m, Box) for m in recipe.size.moulds):
        return 0.0
    return sum(m.count * m.length * m.width for m in recipe.size.moulds if isinstance(m, Box))


def _mould(
    recipe: Recipe, rows: Sequence[LedgerRow], per_ml: float, shelf: Shelf, tasks: Sequence[Task]
) -> MouldFill | None:
    if not isinstance(recipe.size, ByMoulds) or len(recipe.size.moulds) == 0:
        return None
    box = recipe.size.moulds[0]
    if not isinstance(box, Box):
        return None
    volume = sum(r.in_mould for r in rows) / per_ml * _part(recipe, box)
    height = standing(box, volume)
    message = []
    if height < box.fill - 0.1:
        short = "left in the cups" if recipe.design.residue else "missing"
        message.append(f"The bars come out {10 * (box.fill - height):.0f}{MM} lower than meant: it is {short}.")
    if height > box.fill + 0.1:
        over = shelf.scales.shown((height - box.fill) * box.count * box.length * box.width * per_ml)
        message.append(f"{over} more than the mould takes: have a spare one at hand.")
    tilt = recipe.design.tilt
    poured = next((s.lanes[0] for s in tasks if s.do in INTO_MOULD and s.lanes), None)
    first = next((r for r in rows if r.portion == poured), None)
    if tilt > 0 and first is not None:
        area = first.in_mould / per_ml / (box.count * box.length)
        lies = leaning(box.width, box.fill, tilt, area)
        foot = f"covers {lies.foot:.1f}{CM} of {box.width:g}{CM}"
        where = f"{first.name} stands {lies.high:.1f}{CM} up the low wall and {foot}"
        most = steepest(box.width, box.fill, area)
        over = f"{first.name} runs over the edge: lean it {figure(most)}° at most"
        message.append(f"At {figure(tilt)}° {where if lies.over < SPILT else over}.")
    if recipe.design.technique in SURFACE and max(p.share for p in recipe.design.portions) < SURFACE_BASE:
        message.append("A design on the surface wants about 60 % of base under it, or the bars come out thin.")
    if box.width > 1.5 * box.length / 2 and box.cut > 0 and box.across <= 0:
        message.append(f"A slab cut one way gives bars {10 * box.width:.0f}{MM} long: say how it is cut across.")
    cuts = cut_plan(box)
    ends = ""
    if len(rows) > 1 and box.length >= LONG:
        sides = [f"{r.name} at the {'left' if n % 2 == 0 else 'right'} end" for n, r in enumerate(rows)]
        ends = f"Begin {listed(sides)}: no end stays pale."
    toppings = toppings_at(cuts, recipe.design.toppings, CUTTER) if cuts is not None else ()
    return MouldFill(
        height=round(height, 2), holds=box.fill, message=tuple(message), cuts=cuts, toppings=toppings, ends=ends
    )


def _part(recipe: Recipe, box: Box) -> float:
    """Share of all batter that goes into the first kind of mould."""
    assert isinstance(recipe.size, ByMoulds)
    return millilitres(box) / sum(millilitres(m) for m in recipe.size.moulds)
