"""Recipes in files, reckoned without a server: weighed, planned, compared, cooled."""

import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING

import click

from ..core.text import say
from ..told import METRIC
from .common import FILE, recipe_of, shelf_of, tell, with_data, workshop_of

if TYPE_CHECKING:
    from ..core.logbook import Taught
    from ..core.recipe import Recipe
    from ..core.shelf import Shelf
    from ..core.simulate import Utility

LOG = "data file whose shelf and log count"


def _known(data: Path | None) -> "tuple[Taught, Utility]":
    """What stands on the shelf of a data file, what its log taught, and what a pour is worth to its maker; without one,
    the tables and an empty log."""
    from ..core.batter import Noise
    from ..core.logbook import read
    from ..core.simulate import Utility
    from ..reference import shelf as reference_shelf

    if data is None:
        return read(reference_shelf(), (), Noise()).light, Utility()
    from ..store.learned import Learned

    with workshop_of(data) as workshop:
        return Learned(workshop).taught(), workshop.settings.utility()


@click.command()
@click.argument("file", type=FILE)
@click.option("--csv", "as_csv", is_flag=True, help="print the sheet as CSV instead of JSON")
@with_data(LOG)
def weigh(file: Path, as_csv: bool, data: Path | None) -> int:
    """Weigh a recipe FILE (JSON; - reads standard input), without a server: exit 0 with a sheet, 1 with faults."""
    return _tell_weighing(*recipe_of(file, shelf_of(data)), as_csv)


def _tell_weighing(recipe: "Recipe", shelf: "Shelf", as_csv: bool = False) -> int:
    from ..core.heat import plan
    from ..core.schedule import work_order
    from ..core.sheet import label
    from ..core.sheet import weigh as weighed
    from ..exchange import sheet_file

    weighing = weighed(recipe, shelf)
    if as_csv and weighing.sheet is not None:
        click.echo(sheet_file.write(weighing.sheet, recipe, shelf), nl=False)
        return 0
    told = weighing.model_dump(mode="json", context=METRIC)
    if weighing.sheet is not None:
        heat = plan(recipe, shelf, weighing.sheet.lines)
        steps = work_order(recipe, shelf, weighing.sheet, heat, weighing.cautions)
        told["heat"] = heat.model_dump(mode="json", context=METRIC)
        told["label"] = label(recipe, shelf, weighing.sheet.lines).model_dump(mode="json", context=METRIC)
        told["work_order"] = [step.model_dump(mode="json", context=METRIC) for step in steps]
    tell(json.dumps(told, indent=2, ensure_ascii=False))
    return 0 if weighing.sheet is not None else 1


@click.command()
@click.argument("left", type=FILE)
@click.argument("right", type=FILE)
@with_data(LOG)
def compare(left: Path, right: Path, data: Path | None) -> int:
    """Two recipe files side by side; exit 1 when one of them cannot be weighed."""
    from ..core.sheet import compare as compared
    from ..core.sheet import weigh as weighed

    shelf = shelf_of(data)
    sides = []
    for file in (left, right):
        recipe, shelf = recipe_of(file, shelf)
        weighing = weighed(recipe, shelf)
        if weighing.sheet is None:
            tell(say(str(file), ": ", weighing.faults[0].pointer, ": ", weighing.faults[0].message), sys.stderr)
            return 1
        sides.append((recipe, weighing.sheet))
    tell(compared(sides[0], sides[1], shelf).model_dump_json(indent=2, context=METRIC))
    return 0


@click.command()
@click.argument("file", type=FILE)
@click.option("--seed", default="", help="the id of a recipe of the data file, to play on its dice")
@with_data(LOG)
def plan(file: Path, seed: str, data: Path | None) -> int:
    """What a recipe's plan comes to: outcomes, weakest step, levers; exit 1 when it cannot be weighed."""
    from zlib import crc32

    from ..core.advise import stood_ready
    from ..core.forecast import Job, levers, project
    from ..core.schedule import ledger
    from ..core.schedule import plan as planned
    from ..core.sheet import weigh as weighed

    taught, utility = _known(data)
    recipe, shelf = recipe_of(file, taught.shelf)
    sheet = weighed(recipe, shelf).sheet
    if sheet is None:
        return _tell_weighing(recipe, shelf)
    knows = taught.on(shelf, taught.knowledge.noise).knows(utility)
    told = project(Job(recipe, shelf, sheet), knows, crc32(seed.encode()))
    out = {
        "outlook": told.forecast.outlook.model_dump(mode="json", context=METRIC),
        "weakest": told.forecast.weakest.model_dump(mode="json", context=METRIC) if told.forecast.weakest else None,
        "steps": [s.model_dump(mode="json", context=METRIC) for s in told.forecast.steps],
        "levers": [x.model_dump(mode="json", context=METRIC) for x in levers(told).levers],
        "fall_backs": [b.model_dump(mode="json", context=METRIC) for b in stood_ready(told)],
        "ledger": ledger(recipe, shelf, sheet, planned(recipe, shelf, sheet.total), {}).model_dump(
            mode="json", context=METRIC
        ),
        "face": told.forecast.faces.cut,
        "standing": told.forecast.standing,
    }
    tell(json.dumps(out, indent=2, ensure_ascii=False))
    return 0


READING = "MIN:CELSIUS"


@click.command()
@click.argument("file", type=FILE)
@click.option("--band", type=(float, float), default=(28.0, 38.0), metavar="LOW HIGH", help="in °C")
@click.option("--gap", type=float, default=6.0, show_default=True, help="widest difference in kelvin; 100 for any")
@click.option("--after", type=float, default=0.0, help="minutes the lye was mixed after the fats melted")
@click.option("--jug", multiple=True, metavar=READING, help="a reading of the jug; as often as there are")
@click.option("--pot", multiple=True, metavar=READING, help="a reading of the pot; as often as there are")
@with_data(LOG)
def cool(
    file: Path,
    band: tuple[float, float],
    gap: float,
    after: float,
    jug: tuple[str, ...],
    pot: tuple[str, ...],
    data: Path | None,
) -> int:
    """When lye jug and fat pot can meet; exit 1 when the recipe cannot be weighed."""
    from ..core.heat import Reading, apart, meet, start
    from ..core.schedule import near
    from ..core.sheet import weigh as weighed
    from ..core.values import Span

    recipe, shelf = recipe_of(file, shelf_of(data))
    sheet = weighed(recipe, shelf).sheet
    if sheet is None:
        return _tell_weighing(recipe, shelf)
    begun = start(recipe, shelf, sheet.lines)

    def readings(typed: tuple[str, ...]) -> list[Reading]:
        pairs = [t.split(":", 1) for t in typed]
        return [Reading(minute=float(minute), celsius=float(celsius)) for minute, celsius in pairs]

    try:
        read = readings(jug), readings(pot)
    except ValueError:
        click.echo("A reading is minutes:celsius, such as 30:52.", err=True)
        return 2
    low, high = sorted(band)
    masses = (begun.jug_grams, begun.fats)
    cool = apart(recipe, begun)
    lye = None if cool is None else near(cool.jug)
    told = meet(begun.jug, begun.pot, Span(low=low, high=high), gap, masses, *read, after, begun.melts, lye)
    tell(told.model_dump_json(indent=2, context=METRIC))
    return 0
