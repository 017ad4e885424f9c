"""The one entry point: `python -m roundstone demo | serve | contract`."""

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
    options = parser.parse_args(arguments)
    if options.command == "contract":
        return _contract()
    demo = options.command == "demo"
    path = options.data or data_directory() / ("demo.sqlite" if demo else "workshop.sqlite")
    return _serve(path.expanduser().absolute(), options.port, demo, demo and options.fresh)
