"""The one entry point: `python -m roundstone demo | serve | weigh | schema | contract`."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # the matrices are small: a second thread only costs

import argparse
import json
import sys
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
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
        server = create_server(create_app(workshop), host="127.0.0.1", port=port, threads=8)
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


def _weigh(file: Path, data: Path | None, as_csv: bool) -> int:
    """Exit 0 with a sheet, 1 with faults (printed as JSON all the same), 2 when the file cannot be read."""
    from .core.values import RuleBroken
    from .core.weigh import weigh
    from .exchange import recipe_file
    from .reference import shelf as reference_shelf

    try:
        text = sys.stdin.read() if str(file) == "-" else file.read_text(encoding="utf-8")
        recipe = recipe_file.read(text)
    except (OSError, UnicodeDecodeError) as error:
        print(f"{file} cannot be read: {error}", file=sys.stderr)
        return 2
    except RuleBroken as broken:
        for fault in broken.faults:
            print(f"{fault.pointer or '/'}: {fault.says}", file=sys.stderr)
        return 2
    shelf = reference_shelf()
    if data is not None:
        from .store import Workshop

        workshop = Workshop(data)
        shelf = workshop.shelf()
        workshop.close()
    weighing = weigh(recipe, shelf)
    if as_csv and weighing.sheet is not None:
        print(recipe_file.sheet_csv(weighing.sheet), end="")
    else:
        print(weighing.model_dump_json(indent=2))
    return 0 if weighing.sheet is not None else 1


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
    weighing.add_argument("--data", type=Path, default=None, metavar="FILE", help="data file to take fragrances from")
    weighing.add_argument("--csv", action="store_true", help="print the sheet as CSV instead of JSON")
    options = parser.parse_args(arguments)
    if options.command == "contract":
        return _contract()
    if options.command == "schema":
        from .exchange.recipe_file import schema

        print(json.dumps(schema(), indent=2))
        return 0
    if options.command == "weigh":
        return _weigh(options.file, options.data, options.csv)
    demo = options.command == "demo"
    path = options.data or data_directory() / ("demo.sqlite" if demo else "workshop.sqlite")
    return _serve(path.expanduser().absolute(), options.port, demo, demo and options.fresh)
