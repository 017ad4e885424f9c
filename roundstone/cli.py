"""The one entry point: `python -m roundstone demo | serve | weigh | compare | cool | schema | contract`."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # the matrices are small: a second thread only costs

import argparse
import json
import sys
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from .core.recipe import Recipe
    from .core.shelf import Shelf
    from .store import Workshop


def data_directory() -> Path:
    """The user's data directory, as the XDG base directory specification has it."""
    home = os.environ.get("XDG_DATA_HOME")
    return (Path(home) if home and Path(home).is_absolute() else Path.home() / ".local/share") / "roundstone"


def _prepare_demo(workshop: "Workshop") -> None:
    from .demo.workshop import refresh_running, seed

    now = datetime.now(UTC)
    if workshop.recipes() or workshop.pours():
        refresh_running(workshop, now)
    else:
        print("Seeding the demo workshop ...", flush=True)
        seed(workshop, now)


def _serve(path: Path, port: int, demo: bool, fresh: bool) -> int:
    from alembic.util import CommandError
    from pydantic import ValidationError
    from sqlalchemy.exc import SQLAlchemyError
    from waitress.server import create_server

    from .store import Workshop
    from .web import create_app

    if fresh:
        for file in path.parent.glob(f"{path.name}*"):
            file.unlink()
    try:
        workshop = Workshop(path)
        if demo:
            _prepare_demo(workshop)
    except (SQLAlchemyError, CommandError, ValidationError, OSError) as error:
        print(f"The data file {path} cannot be used: {error}", file=sys.stderr)
        print("Start the demo with --fresh." if demo else "Nothing in it was changed.", file=sys.stderr)
        return 1
    try:
        server = create_server(create_app(workshop, background=True), host="127.0.0.1", port=port, threads=8)
    except OSError as error:
        print(f"Port {port} on 127.0.0.1 cannot be used ({error.strerror}). Try --port.", file=sys.stderr)
        return 1
    print(f"Data file: {path}", flush=True)
    print(f"Round Stone is at http://127.0.0.1:{server.effective_port}  (Ctrl-C ends it)", flush=True)
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        workshop.close()
    return 0


def _contract() -> int:
    """Print the OpenAPI document that the front end's types are made from."""
    import tempfile

    from .store import Workshop
    from .web import create_app

    with tempfile.TemporaryDirectory() as folder:
        workshop = Workshop(Path(folder) / "contract.sqlite")
        document = create_app(workshop).api_doc  # type: ignore[attr-defined]
        workshop.close()
    print(json.dumps(document, indent=1, sort_keys=True))
    return 0


class _UnreadError(Exception):
    """A file could not be read; why was said on standard error."""


def _recipe(file: Path, shelf: "Shelf") -> "Recipe":
    from .core.values import RuleBroken
    from .exchange import sheet_file

    try:
        text = sys.stdin.read() if str(file) == "-" else file.read_text(encoding="utf-8")
        return sheet_file.read_either(text, file.stem, shelf)
    except (OSError, UnicodeDecodeError) as error:
        print(f"{file} cannot be read: {error}", file=sys.stderr)
    except RuleBroken as broken:
        for fault in broken.faults:
            print(f"{fault.pointer or '/'}: {fault.says}", file=sys.stderr)
    raise _UnreadError


def _shelf(data: Path | None) -> "Shelf":
    from .reference import shelf as reference_shelf

    if data is None:
        return reference_shelf()
    from .store import Workshop

    workshop = Workshop(data)
    try:
        return workshop.shelf()
    finally:
        workshop.close()


def _weigh(file: Path, data: Path | None, as_csv: bool) -> int:
    """Exit 0 with a sheet, 1 with faults (printed as JSON all the same)."""
    from .core.heat import plan
    from .core.label import label
    from .core.sheet import grams_by_key
    from .core.weigh import weigh
    from .core.worksheet import work_order
    from .exchange import sheet_file

    shelf = _shelf(data)
    recipe = _recipe(file, shelf)
    weighing = weigh(recipe, shelf)
    if as_csv and weighing.sheet is not None:
        print(sheet_file.write(weighing.sheet), end="")
        return 0
    told = weighing.model_dump(mode="json")
    if weighing.sheet is not None:
        heat = plan(recipe, shelf, grams_by_key(weighing.sheet.lines))
        steps = work_order(recipe, shelf, weighing.sheet, heat, weighing.cautions)
        told["heat"] = heat.model_dump(mode="json")
        told["label"] = label(recipe, shelf, weighing.sheet.lines).model_dump(mode="json")
        told["work_order"] = [step.model_dump(mode="json") for step in steps]
    print(json.dumps(told, indent=2, ensure_ascii=False))
    return 0 if weighing.sheet is not None else 1


def _compare(left: Path, right: Path, data: Path | None) -> int:
    """Exit 1 when one of them cannot be weighed."""
    from .core.compare import compare
    from .core.weigh import weigh

    shelf = _shelf(data)
    sides = []
    for file in (left, right):
        recipe = _recipe(file, shelf)
        weighing = weigh(recipe, shelf)
        if weighing.sheet is None:
            print(f"{file}: {weighing.faults[0].pointer}: {weighing.faults[0].says}", file=sys.stderr)
            return 1
        sides.append((recipe, weighing.sheet))
    print(compare(sides[0], sides[1], shelf).model_dump_json(indent=2))
    return 0


def _cool(options: argparse.Namespace) -> int:
    """When jug and pot can meet; exit 1 when the recipe cannot be weighed."""
    from .core.cooling import Reading, meet
    from .core.heat import start
    from .core.sheet import grams_by_key
    from .core.values import Span
    from .core.weigh import weigh

    shelf = _shelf(options.data)
    recipe = _recipe(options.file, shelf)
    sheet = weigh(recipe, shelf).sheet
    if sheet is None:
        return _weigh(options.file, options.data, as_csv=False)
    begun = start(recipe, shelf, grams_by_key(sheet.lines))

    def readings(typed: list[str]) -> list[Reading]:
        pairs = [t.split(":", 1) for t in typed]
        return [Reading(minute=float(minute), celsius=float(celsius)) for minute, celsius in pairs]

    try:
        jug, pot = readings(options.jug), readings(options.pot)
    except ValueError:
        print("A reading is minutes:celsius, such as 30:52.", file=sys.stderr)
        return 2
    low, high = sorted(options.band)
    masses = (begun.jug_grams, begun.fats)
    told = meet(
        begun.jug, begun.pot, Span(low=low, high=high), options.gap, masses, jug, pot, options.after, begun.melts
    )
    print(told.model_dump_json(indent=2))
    return 0


def main(arguments: list[str] | None = None) -> int:
    parser = argparse.ArgumentParser(prog="roundstone", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    for name, says in (("demo", "the demo workshop"), ("serve", "your own workshop")):
        command = commands.add_parser(name, help=f"serve {says} on this computer")
        command.add_argument("--port", type=int, default=8765, help="port on 127.0.0.1; 0 takes a free one")
        command.add_argument("--data", type=Path, default=None, metavar="FILE", help="the data file")
        if name == "demo":
            command.add_argument("--fresh", action="store_true", help="forget what was done and seed anew")
    commands.add_parser("contract", help="print the OpenAPI document")
    commands.add_parser("schema", help="print the JSON Schema of a recipe file")
    weighing = commands.add_parser("weigh", help="weigh a recipe file, without a server")
    weighing.add_argument("file", type=Path, help="recipe as JSON; - reads standard input")
    weighing.add_argument("--csv", action="store_true", help="print the sheet as CSV instead of JSON")
    comparing = commands.add_parser("compare", help="two recipe files side by side")
    comparing.add_argument("left", type=Path)
    comparing.add_argument("right", type=Path)
    cooling = commands.add_parser("cool", help="when lye jug and fat pot can meet")
    cooling.add_argument("file", type=Path, help="recipe as JSON; - reads standard input")
    cooling.add_argument("--band", type=float, nargs=2, default=(28.0, 38.0), metavar="CELSIUS")
    cooling.add_argument("--gap", type=float, default=6.0, help="widest difference in kelvin; 100 for any")
    cooling.add_argument("--after", type=float, default=0.0, help="minutes the lye was mixed after the fats melted")
    for vessel in ("jug", "pot"):
        cooling.add_argument(
            f"--{vessel}", nargs="*", default=[], metavar="MIN:CELSIUS", help=f"readings of the {vessel}"
        )
    for command in (weighing, comparing, cooling):
        command.add_argument("--data", type=Path, default=None, metavar="FILE", help="data file with own ingredients")
    options = parser.parse_args(arguments)
    try:
        return _run(options)
    except _UnreadError:
        return 2


def _run(options: argparse.Namespace) -> int:
    match options.command:
        case "contract":
            code = _contract()
        case "schema":
            from .exchange.recipe_file import schema

            print(json.dumps(schema(), indent=2))
            code = 0
        case "weigh":
            code = _weigh(options.file, options.data, options.csv)
        case "compare":
            code = _compare(options.left, options.right, options.data)
        case "cool":
            code = _cool(options)
        case command:
            demo = command == "demo"
            path = options.data or data_directory() / ("demo.sqlite" if demo else "workshop.sqlite")
            code = _serve(path.expanduser().absolute(), options.port, demo, demo and options.fresh)
    return code
