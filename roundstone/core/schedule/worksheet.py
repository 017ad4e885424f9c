"""The bench sheet: everything in the order of work, each weight with its moment, each caution at its step."""

from collections.abc import Iterator, Mapping, Sequence

from ..heat import HeatPlan
from ..heat import plan as heat_plan
from ..recipe import Recipe
from ..sheet import Line, Sheet
from ..shelf import Moment, Shelf
from ..text import C, Part, Text, say
from ..values import Caution, Minutes
from .ledger import ledger, pour_off
from .plan import plan
from .work_step import (
    BEFORE,
    COLOUR,
    COMBINE,
    COOL,
    CUPS,
    DRESS,
    HARD,
    HOT,
    JUG,
    KEPT,
    LYE,
    PUT_BY,
    RAW,
    SCENT,
    SOFT,
    SPLIT,
    WHOLE,
    Day,
    WorkStep,
    days_of,
    heed,
    put_by,
)
from .worksheet_pour import from_emulsion

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
    told[0] += [heed(say("Noted last time: ", n)) for n in noted]
    for caution in (*cautions, *heat.cautions):
        for place in _places(steps, sheet, caution):
            if all(c.message != caution.message for c in told[place]):
                told[place].append(caution)
    return tuple(s.model_copy(update={"cautions": tuple(t)}) for s, t in zip(steps, told, strict=True))


def _places(steps: Sequence[WorkStep], sheet: Sheet, caution: Caution) -> Iterator[int]:
    """Which steps a caution stands at."""
    place = _place(steps, sheet, caution.pointer)
    yield place
    if steps[place].title == CUPS and caution.danger:
        row = int(caution.pointer.split("/")[2])
        own = any(x.into for x in steps[place].lines if x.row == row)
        on = steps[place].day
        yield from (i for i, s in enumerate(steps) if s.title == (COLOUR if own else WHOLE) and s.day == on)


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


def _in_cups(recipe: Recipe, sheet: Sheet, day: Day) -> Iterator[WorkStep]:
    """What is stirred in at emulsion, in its cup before there is any lye: no hand is free for it later."""
    mine = [x for x in sheet.lines if x.vessel == "stir" and x.kind in ("additive", "carrier") and day.has(x)]
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
    tasks = plan(recipe, shelf, sheet.total)
    first, *later = days_of(recipe, tasks)

    def standing(*moments: Moment) -> tuple[Line, ...]:
        """Additives of the jug that go in then."""
        return tuple(x for x in lines if x.vessel == "jug" and x.kind == "additive" and x.moment in moments)

    def melts(x: Line) -> float:
        return shelf.fats[x.item.removeprefix("fat:")].melts or 0.0

    yield WorkStep(title=BEFORE, lines=(), does=f"{DRESS} Label every vessel.")
    yield from _in_cups(recipe, sheet, first)
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
            f" The day before: {PUT_BY}." if recipe.lye_stands == "ahead" else "",
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
    cups = ledger(recipe, shelf, sheet, tasks, {})
    yield from from_emulsion(recipe, shelf, sheet, in_pot, when, goal, first, cups)
    for day in later:
        cold = _cold(recipe, shelf, sheet, day)
        again = _again(recipe, shelf, sheet, day)
        on = (*again, *from_emulsion(recipe, shelf, sheet, in_pot, when, cold, day, cups))
        yield from (s.model_copy(update={"day": day.on + 1}) for s in on)


def _cold(recipe: Recipe, shelf: Shelf, sheet: Sheet, day: Day) -> Text:
    """How warm the fats are wanted where the lye has stood since the day before."""
    again, left = put_by(recipe, sheet, day.on)
    wanted = heat_plan(again, shelf, left.lines).wanted
    return say("Lye as it stood, fats at ", C(recipe.pour_celsius if wanted is None else wanted.pot, ".0f"))


def _again(recipe: Recipe, shelf: Shelf, sheet: Sheet, day: Day) -> Iterator[WorkStep]:
    """A later day begins: the same care, its own cups, and what was put by of the lye and the fats."""
    yield WorkStep(title=BEFORE, lines=(), does=f"{DRESS} Touch what is in the mould: nothing goes on what is soft.")
    yield from _in_cups(recipe, sheet, day)
    if not day.names:
        return
    mine = [p for q, p in zip(recipe.design.portions, sheet.portions, strict=True) if q.name in day.names]
    jug = shelf.scales.both(sum(p.from_jug for p in mine), down=True)
    does = say(
        say("What is left of the lye jug is ", jug, ". If it dried out and weighs less, put back as much water. ")
        if day.last
        else "",
        "Strain the lye and stir it; crystals in it go when the jug stands in hot water. Warm the fat pot until it is "
        "clear, and stir it well. ",
        _cold(recipe, shelf, sheet, day),
        ".",
    )
    yield WorkStep(title=KEPT, lines=(), does=does)
