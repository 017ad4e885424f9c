"""Figures of weighing, heat and rest, over recipes as unlike as can be, held to what they were.

A pin says that a figure moved, not that it was right: sources and common practice do that elsewhere. What is meant to
move is written down anew with `python -m tests.core.test_pinned`, and read in the diff.
"""

import json
import unittest
from collections.abc import Iterator
from itertools import pairwise
from pathlib import Path
from typing import Any

from roundstone.core.advise import advise, bench_now
from roundstone.core.forecast import Job, project
from roundstone.core.heat import Reading, jug_curve, lye_peak, meet, mould_heat, plan, pot_curve, sets_at, start
from roundstone.core.heat.lye import Lye, MilkInJug, milk_content, solution_capacity, solution_heat
from roundstone.core.heat.vessels import combined, solid_share
from roundstone.core.pour import Event, replay
from roundstone.core.recipe import (
    Box,
    ByConcentration,
    ByMoulds,
    Cavities,
    Design,
    Dose,
    FatShare,
    LiquidUse,
    Portion,
    Recipe,
)
from roundstone.core.rest import WAYS, RestLearned, as_one, expected, rest_sections, typical
from roundstone.core.sheet import weigh
from roundstone.core.values import Span
from tests.core.test_rest import now, room, told
from tests.samples import SHELF, knows, next_id, recipe, weighed

PINS = Path(__file__).with_name("pinned.json")
HOUR = 60.0
DIGITS, ALIKE = 5, 1e-4


def wrapped(of: Recipe, wrap: str) -> Recipe:
    return of.model_copy(update={"design": of.design.model_copy(update={"wrap": wrap})})


def fats(**shares: float) -> tuple[FatShare, ...]:
    return tuple(FatShare(fat=f.replace("_", "-"), share=x) for f, x in shares.items())


BRINE = Dose(additive="salt", amount=90, moment="before-lye")
SALT = Dose(additive="coarse-salt", amount=500)
SLAB = ByMoulds(moulds=(Box(length=38, width=26, fill=3.2, cut=25),))
RECIPES: dict[str, Recipe] = {
    "usual": room(21),
    "cold room, open": room(14, "open", pour_celsius=28.0),
    "warm room, oven": room(28, "oven", pour_celsius=45.0, water=ByConcentration(share=0.4)),
    "slab": recipe(size=SLAB, water=ByConcentration(share=0.28)),
    "single moulds": recipe(size=ByMoulds(moulds=(Cavities(count=6, millilitres=95),)), superfat=0.08),
    "all olive": room(20, fats=fats(olive=1.0), superfat=0.03),
    "salt bar": room(21, fats=fats(coconut=1.0), superfat=0.2, additives=(Dose(additive="coarse-salt", amount=500),)),
    "milk and honey": wrapped(
        recipe(
            liquids=(LiquidUse(liquid="goat-milk", share=0.6, frozen=True),),
            additives=(Dose(additive="honey", amount=15), Dose(additive="sodium-lactate", amount=20)),
        ),
        "insulated",
    ),
    "hard and rich": room(23, fats=fats(palm=0.5, coconut=0.2, sunflower=0.3), superfat=0.15),
    "planks": recipe(size=ByMoulds(moulds=(Box(length=40, width=9, fill=7, cut=25, planks=3),)), superfat=0.06),
    "salt in the lye": room(20, water=ByConcentration(share=0.27), additives=(BRINE,)),
    "soft soap shares": room(21, koh_share=0.2, ice=0.3),
}
DAYS = (0.5, 14, 20, 27, 80, 24 * 9, 24 * 45, 24 * 85)  # hours from the pour


def rounded(value: Any) -> Any:
    """Figures to a few digits; words, kinds and counts as they are."""
    if isinstance(value, float):
        return float(f"{value:.{DIGITS}g}")
    if isinstance(value, dict):
        return {k: rounded(v) for k, v in value.items() if k not in ("event", "cells")}
    return [rounded(v) for v in value] if isinstance(value, list | tuple) else value


def of_lye() -> dict[str, Any]:
    """The lye by itself, in the jug: heats, capacities, what sets and what milk holds back."""
    shares = (0.1, 0.2, 0.26, 0.33, 0.38, 0.45, 0.5)
    return {
        "heat": [solution_heat(naoh, koh, 100) for naoh, koh in ((0, 0), (20, 0), (50, 0), (90, 0), (0, 40), (30, 30))],
        "no water": solution_heat(10, 0, 0),
        "capacity": [solution_capacity(naoh, koh, 100) for naoh, koh in ((10, 0), (50, 0), (0, 50), (80, 10))],
        "sets": [sets_at(s) for s in shares],
        "milk": [milk_content(c, w) for c in (-20, -5, -1, 0, 5, 20) for w in (0.875, 0.6)],
        "peaks": [lye_peak(Lye(naoh=s * 400), 400 * (1 - s) * (1 - i), 400 * (1 - s) * i, 20, 22)
                  for s in shares for i in (0, 0.4)],
        "milk peaks": [lye_peak(Lye(naoh=130), 60, ice, 20, 22, [MilkInJug(200, water, c)])
                       for ice in (0, 20, 60) for water in (0.875, 0.7) for c in (-25, -15, -3, -1, 0, 4, 18)],
        "milk peak": lye_peak(Lye(naoh=130), 60, 20, 20, 22, [MilkInJug(200, 0.875, -15), MilkInJug(50, 0.9, 4)]),
        "curves": [
            [*map(c.at, (0, 5, 30, 90, 600)), *map(c.until, (70, 45, 30)), c.warm(21)]
            for c in (jug_curve(85, 20, 450), pot_curve(60, 18, 1000, 0.2), pot_curve(12, 20, 800))
        ],
        "solid": [solid_share(c, ((24.0, 2.0, 0.5), (34.0, 3.0, 0.3))) for c in (15, 22, 24, 30, 36, 50)],
    }  # fmt: skip


def figures(name: str, of: Recipe) -> dict[str, Any]:
    """What is reckoned of a recipe from the scale to the shelf."""
    sheet = weighed(of)
    begun = start(of, SHELF, sheet.lines)
    masses = (begun.jug_grams, begun.fats)
    read = ([Reading(minute=25, celsius=58)], [Reading(minute=15, celsius=49), Reading(minute=40, celsius=41)])
    met = meet(begun.jug, begun.pot, Span(low=30, high=40), 6.0, masses, *read, 10.0, begun.melts)
    log = [told("wrap", 25, how="oven" if "oven" in name else "covered"), told("unmould", 20 + 20 * HOUR, how="clean"),
           told("cut", 20 + 26 * HOUR, how="clean", bars=9), told("weigh", 20 + 27 * HOUR, grams=130.0),
           told("weigh", 20 + 24 * 8 * HOUR, grams=121.0), told("gel", 20 + 26 * HOUR, how="full")]  # fmt: skip
    olive = now(RECIPES["all olive"], 13.0)
    days = {}
    for hours in DAYS:
        events = [e for e in log if e.minute <= 20 + hours * HOUR]
        rest = now(of, hours, *events)
        days[str(hours)] = rest.model_dump(mode="json", exclude={"keys", "others"})
    own = RestLearned()
    before, cured = typical(of, sheet, own, 0.65)
    return {
        "lines": {x.key: x.grams for x in sheet.lines},
        "superfat": sheet.superfat.model_dump(),
        "bar": sheet.bar.model_dump(mode="json"),
        "cautions": [c.model_dump() for c in weigh(of, SHELF).cautions],
        "temperatures": plan(of, SHELF, sheet.lines).model_dump(mode="json"),
        "combined": combined(begun.fats, of.pour_celsius, begun.jug_grams, of.pour_celsius - 8, begun.melts),
        "meeting": met.model_dump(mode="json", include={"odds", "best", "offset", "combined", "window", "message"}),
        "block": mould_heat(of, sheet).model_dump(mode="json"),
        "sections": [s.model_dump(mode="json", exclude={"cells"})
                     for s in rest_sections(of, sheet, replay([], of), own, WAYS)],
        "expected": [expected(sheet, pace, full)[0] for pace in (0.6, 1.0, 1.7) for full in (0.0, 0.5, 1.0)],
        "typical": [[w.model_dump(mode="json") for w in before], *cured],
        "days": days,
        "with another": as_one(now(of, 16.0), [olive]).model_dump(mode="json", include={"next"}),
    }  # fmt: skip


def poured(technique: str, flag: str, stage: str) -> list[Any]:
    """A pour by the big key alone, with one mishap and one look in it: what was told after every tap."""
    one = SHELF.techniques[technique].most == 1
    names = ("Base",) if one else ("Base", "Ash", "Rust")
    portions = tuple(Portion(name=n, share=s) for n, s in zip(names, (1.0,) if one else (0.5, 0.25, 0.25), strict=True))
    of = recipe(design=Design(portions=portions, technique=technique))
    job, events, minute, out = Job(of, SHELF, weighed(of)), list[Event](), 0.6, list[Any]()
    for n in range(16):
        found = project(job, knows(), 1, events=events, now=minute)
        if found.state.ended is not None:
            break
        advice = advise(found)
        shown = bench_now(found, advice, {})
        steps = [[s.odds, s.start, s.lost] for s in found.forecast.steps]
        said = [advice.headline, advice.warning, [k.message for k in shown.keys]]
        out.append([*said, found.forecast.outlook.model_dump(), steps, [x.left for x in shown.lanes]])
        event: Any = shown.keys[0].event.model_copy(update={"id": next_id(), "minute": minute})
        if n == 4 and flag:
            event = told("flag", minute, flag=flag, portion=None if one else "Rust")
        if n == 5:
            event = told("seen", minute, stage=stage, portion=None if one else "Base")
        events.append(event)
        minute += 12.0 if event.kind == "layer" else 0.7
    return out


POURS = (
    ("hanger-swirl", "ricing", "light"), ("drop-swirl", "seizing", "medium"), ("straight-layers", "", "thick"),
    ("bowl-stripes", "", "medium"), ("tamp", "", "emulsion"), ("pot-swirl", "separation", "thick"),
    ("chunks", "", "light"),
)  # fmt: skip


def pinned() -> dict[str, Any]:
    of = {name: figures(name, of) for name, of in RECIPES.items()}
    return dict(rounded({"lye": of_lye(), "pours": {" ".join(p): poured(*p) for p in POURS}} | of))


def moved(was: Any, now_: Any, at: str = "") -> Iterator[str]:
    """Where figures differ by more than machines do, and words at all."""
    if isinstance(was, dict) and isinstance(now_, dict) and was.keys() == now_.keys():
        for key in was:
            yield from moved(was[key], now_[key], f"{at}/{key}")
    elif isinstance(was, list) and isinstance(now_, list) and len(was) == len(now_):
        for n, (a, b) in enumerate(zip(was, now_, strict=True)):
            yield from moved(a, b, f"{at}/{n}")
    elif isinstance(was, float) and isinstance(now_, float | int):
        if abs(was - now_) > ALIKE * max(abs(was), ALIKE):
            yield f"{at}: {was} is {now_} now"
    elif was != now_:
        yield f"{at}: {was!r} is {now_!r} now"


class Pinned(unittest.TestCase):
    maxDiff = 2000

    def test_no_figure_moves_unseen(self) -> None:
        was, is_now = json.loads(PINS.read_text(encoding="utf-8")), json.loads(json.dumps(pinned(), default=str))
        self.assertEqual(list(moved(was, is_now)), [])

    def test_the_pins_are_of_recipes_that_differ(self) -> None:
        peaks = sorted(json.loads(PINS.read_text(encoding="utf-8"))[n]["block"]["middle"] for n in RECIPES)
        self.assertGreater(peaks[-1] - peaks[0], 15, "cool blocks and hot ones")
        self.assertTrue(any(b - a > 1 for a, b in pairwise(peaks)))


if __name__ == "__main__":
    PINS.write_text(json.dumps(pinned(), default=str, indent=0, sort_keys=True) + "\n", encoding="utf-8")
