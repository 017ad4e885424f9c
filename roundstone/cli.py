"""The one entry point: `python -m roundstone demo | serve | backup | restore | verify | archive | weigh | …`."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # the matrices are small: a second thread only costs

import argparse
import gc
import json
import sys
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

from .core.values import AppError

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator
    from typing import TextIO

    from .core.logbook import Taught
    from .core.recipe import Recipe
    from .core.shelf import Shelf
    from .core.simulate import Utility
    from .store import Workshop
    from .store.keeping import Hold


class _RefusedError(AppError):
    """It cannot be done; why was said in one sentence."""


def data_directory() -> Path:
    """The user's data directory on this kind of machine."""
    from platformdirs import user_data_path

    return user_data_path("roundstone", appauthor=False)


def _prepare_demo(workshop: "Workshop") -> None:
    from .demo.workshop import refresh_running, seed
    from .store.keeping import DEMO
    from .store.learned import Learned

    now = datetime.now(UTC)
    if workshop.recipe_count() or workshop.pour_count():
        refresh_running(workshop, now)
    else:
        print("Seeding the demo workshop ...", flush=True)
        workshop.keep_setting(DEMO, {"since": now.isoformat()})
        seed(workshop, now)
        Learned(workshop).record()  # what its pours taught is kept with them


def _opened(path: Path, demo: bool, fresh: bool) -> "Workshop":
    """The workshop in a data file that is held; _RefusedError says what to do when it cannot be used."""
    from pydantic import ValidationError
    from sqlalchemy.exc import SQLAlchemyError

    from .store import Workshop, keeping

    keeping.check(path)
    if demo and not keeping.is_demo(path):
        raise _RefusedError(f"{path} holds a workshop of your own, which the demo does not touch: use 'serve'.")
    if fresh:
        keeping.remove(path)
    try:
        workshop = Workshop(path)
        if demo:
            _prepare_demo(workshop)
    except (SQLAlchemyError, ValidationError, OSError) as error:
        hint = "Start the demo with --fresh." if demo else "Nothing in it was changed."
        raise _RefusedError(f"The data file {path} cannot be used: {error} {hint}") from error
    return workshop


def _serve(path: Path, options: argparse.Namespace, demo: bool) -> int:
    from .store import keeping

    with keeping.held(path) as hold:
        workshop = _opened(path, demo, demo and options.fresh)
        try:
            return _answer(workshop, hold, options)
        finally:
            workshop.close()


def _answer(workshop: "Workshop", hold: "Hold", options: argparse.Namespace) -> int:
    """Serve until told to end: by the keyboard, or by a signal, which ends it as cleanly."""
    import logging
    import signal

    from waitress.server import create_server

    from .store.keeper import Keeper
    from .web import create_app
    from .web.clock import steady_now

    now = steady_now()
    keeper = Keeper(workshop, now)
    sharing, made = (None, None)
    if options.share:
        from .web import network

        where = options.address, options.share_port, options.plain
        sharing, made = network.shared(workshop.path, *where, datetime.now(UTC))
    app = create_app(workshop, now, background=True, keeper=keeper, sharing=sharing)
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)  # a request that waits a moment is no news
    try:
        server = create_server(app, host="127.0.0.1", port=options.port, **LIMITS)
    except OSError as error:
        print(f"Port {options.port} on 127.0.0.1 cannot be used ({error.strerror}). Try --port.", file=sys.stderr)
        return 1
    endings: list[Callable[[], None]] = []  # of what runs beside it
    if sharing is not None:
        try:
            endings.append(network.serve(app, options.share_port, made))
        except OSError as error:
            print(f"Port {options.share_port} cannot be used ({error.strerror}). Try --share-port.", file=sys.stderr)
            server.close()
            return 1

    def end(*_: object) -> None:
        raise SystemExit

    for number in (signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, end)
    address = f"http://127.0.0.1:{server.effective_port}"
    hold.tell(address)
    print(f"Data file: {workshop.path}", flush=True)
    print(f"Round Stone is at {address}  (Ctrl-C ends it)", flush=True)
    if options.command == "demo":
        from .demo.practice import practise

        endings.append(practise(app))
    if sharing is not None:
        print(network.way_in(sharing, app.extensions["door"]), flush=True)
    keeper.start()
    gc.freeze()  # what stands now stands to the end: it need not be looked through between two taps
    try:
        server.run()
    except (KeyboardInterrupt, SystemExit):
        pass
    finally:
        keeper.stop()
        server.close()
        for end_it in endings:
            end_it()
    return 0


# A connection that says nothing is closed after a while and never keeps another from being answered; a body larger
# than any page sends is refused at its first line, before it is written anywhere.
LIMITS: dict[str, Any] = {
    "threads": 8,
    "channel_timeout": 20,
    "cleanup_interval": 5,
    "connection_limit": 1000,
    "asyncore_use_poll": True,
    "max_request_body_size": 64 * 2**20,
}


def _backup(data: Path, to: Path | None) -> int:
    """A whole copy of a data file, also while it is in use."""
    from .store import keeping

    if keeping.check(data, write=False) is None:
        raise _RefusedError(f"{data}: there is no such data file.")
    if to is None:
        kept = keeping.Copies(data, data.parent / "copies", keep=10_000).make(datetime.now(UTC))
        made = kept.path
    else:
        made = keeping.copy(data, to / data.name if to.is_dir() else to)
    print(made)
    return 0


def _restore(copy: Path, data: Path) -> int:
    """Put a copy in the data file's place; what was there stays beside it."""
    from .store import keeping

    if keeping.check(copy, write=False) is None:
        raise _RefusedError(f"{copy}: there is no such copy.")
    aside = keeping.restore(copy, data, datetime.now(UTC))
    print(f"{data} is {copy} as it was." + (f" What was there before is {aside}." if aside else ""))
    return 0


def _verify(file: Path) -> int:
    """Whether a file is a whole data file of this program, and what is in it."""
    from .store import keeping

    revision = keeping.check(file, write=False)
    if revision is None:
        raise _RefusedError(f"{file}: there is no such data file.")
    print(f"{file} is whole (tables {revision}): " + ", ".join(f"{n} {w}" for w, n in keeping.counts(file).items()))
    return 0


def _archive(act: str, file: Path, data: Path) -> int:
    """Everything out to one zip, or in from one."""
    from .core.values import RuleError
    from .exchange import archive
    from .store import Workshop, keeping

    if act == "write" and keeping.check(data, write=False) is None:
        raise _RefusedError(f"{data}: there is no such data file.")
    with keeping.held(data):
        workshop = Workshop(data)
        try:
            if act == "write":
                if file.exists():
                    raise _RefusedError(f"{file} is there already: nothing was written over.")
                with file.open("xb") as out:
                    archive.write(workshop, out)
                print(file)
            else:
                with file.open("rb") as found:
                    _tell(archive.told(archive.read(workshop, found)))
        except RuleError as broken:
            raise _RefusedError(f"{file}: {broken}") from broken
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
        document = create_app(workshop, document=True).api_doc  # type: ignore[attr-defined]
        workshop.close()
    print(json.dumps(document, indent=1, sort_keys=True))
    return 0


class _UnreadError(AppError):
    """A file could not be read; why was said on standard error."""


def _tell(text: str, to: "TextIO | None" = None) -> None:
    """What core has worded, in metric; without a server there is nobody to have other units."""
    from .core.said import in_units

    print(in_units(text), file=to)


def _recipe(file: Path, shelf: "Shelf") -> "tuple[Recipe, Shelf]":
    """The recipe in a file, and the shelf with what the file brings of its own."""
    from .core.values import RuleError
    from .exchange import sheet_file

    try:
        text = sys.stdin.read() if str(file) == "-" else file.read_text(encoding="utf-8")
        found = sheet_file.read_either(text, file.stem, shelf)
        return found.recipe, found.uses.on(shelf) if found.uses else shelf
    except (OSError, UnicodeDecodeError) as error:
        print(f"{file} cannot be read: {error}", file=sys.stderr)
    except RuleError as broken:
        for fault in broken.faults:
            _tell(f"{fault.pointer or '/'}: {fault.message}", sys.stderr)
    raise _UnreadError


@contextmanager
def _workshop(data: Path) -> "Iterator[Workshop]":
    """The workshop in a data file that is there."""
    from .store import Workshop, keeping

    if keeping.check(data) is None:
        raise _RefusedError(f"{data}: there is no such data file.")
    workshop = Workshop(data)
    try:
        yield workshop
    finally:
        workshop.close()


def _shelf(data: Path | None) -> "Shelf":
    """What stands on the shelf: to weigh, nothing need be learned."""
    from .reference import shelf as reference_shelf

    if data is None:
        return reference_shelf()
    with _workshop(data) as workshop:
        return workshop.shelf()


def _known(data: Path | None) -> "tuple[Taught, Utility]":
    """What stands on the shelf of a data file, what its log taught, and what a pour is worth to its maker; without one,
    the tables and an empty log."""
    from .core.batter import Noise
    from .core.logbook import read
    from .core.simulate import Utility
    from .reference import shelf as reference_shelf

    if data is None:
        return read(reference_shelf(), (), Noise()).light, Utility()
    from .store.learned import Learned

    with _workshop(data) as workshop:
        return Learned(workshop).taught(), workshop.utility()


def _weigh(file: Path, data: Path | None, as_csv: bool) -> int:
    """Exit 0 with a sheet, 1 with faults (printed as JSON all the same)."""
    return _tell_weighing(*_recipe(file, _shelf(data)), as_csv)


def _tell_weighing(recipe: "Recipe", shelf: "Shelf", as_csv: bool = False) -> int:
    from .core.heat import plan
    from .core.schedule import work_order
    from .core.sheet import label, weigh
    from .exchange import sheet_file

    weighing = weigh(recipe, shelf)
    if as_csv and weighing.sheet is not None:
        print(sheet_file.write(weighing.sheet, recipe, shelf), end="")
        return 0
    told = weighing.model_dump(mode="json")
    if weighing.sheet is not None:
        heat = plan(recipe, shelf, weighing.sheet.lines)
        steps = work_order(recipe, shelf, weighing.sheet, heat, weighing.cautions)
        told["heat"] = heat.model_dump(mode="json")
        told["label"] = label(recipe, shelf, weighing.sheet.lines).model_dump(mode="json")
        told["work_order"] = [step.model_dump(mode="json") for step in steps]
    _tell(json.dumps(told, indent=2, ensure_ascii=False))
    return 0 if weighing.sheet is not None else 1


def _compare(left: Path, right: Path, data: Path | None) -> int:
    """Exit 1 when one of them cannot be weighed."""
    from .core.sheet import compare, weigh

    shelf = _shelf(data)
    sides = []
    for file in (left, right):
        recipe, shelf = _recipe(file, shelf)
        weighing = weigh(recipe, shelf)
        if weighing.sheet is None:
            _tell(f"{file}: {weighing.faults[0].pointer}: {weighing.faults[0].message}", sys.stderr)
            return 1
        sides.append((recipe, weighing.sheet))
    _tell(compare(sides[0], sides[1], shelf).model_dump_json(indent=2))
    return 0


def _plan(file: Path, data: Path | None, seed: str) -> int:
    """What a recipe's plan comes to before its pour, as JSON; exit 1 when it cannot be weighed."""
    from zlib import crc32

    from .core.advise import stood_ready
    from .core.forecast import Job, levers, project
    from .core.schedule import ledger, plan
    from .core.sheet import weigh

    taught, utility = _known(data)
    recipe, shelf = _recipe(file, taught.shelf)
    sheet = weigh(recipe, shelf).sheet
    if sheet is None:
        return _tell_weighing(recipe, shelf)
    knows = taught.on(shelf, taught.knowledge.noise).knows(utility)
    told = project(Job(recipe, shelf, sheet), knows, crc32(seed.encode()))
    out = {
        "outlook": told.forecast.outlook.model_dump(mode="json"),
        "weakest": told.forecast.weakest.model_dump(mode="json") if told.forecast.weakest else None,
        "steps": [s.model_dump(mode="json") for s in told.forecast.steps],
        "levers": [x.model_dump(mode="json") for x in levers(told).levers],
        "fall_backs": [b.model_dump(mode="json") for b in stood_ready(told)],
        "ledger": ledger(recipe, shelf, sheet, plan(recipe, shelf, sheet.total), {}).model_dump(mode="json"),
        "face": told.forecast.faces.cut,
        "standing": told.forecast.standing,
    }
    _tell(json.dumps(out, indent=2, ensure_ascii=False))
    return 0


def _cool(options: argparse.Namespace) -> int:
    """When jug and pot can meet; exit 1 when the recipe cannot be weighed."""
    from .core.heat import Reading, meet, start
    from .core.sheet import weigh
    from .core.values import Span

    recipe, shelf = _recipe(options.file, _shelf(options.data))
    sheet = weigh(recipe, shelf).sheet
    if sheet is None:
        return _tell_weighing(recipe, shelf)
    begun = start(recipe, shelf, sheet.lines)

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
    _tell(told.model_dump_json(indent=2))
    return 0


def main(arguments: list[str] | None = None) -> int:
    parser = argparse.ArgumentParser(prog="roundstone", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    for name, message in (("demo", "the demo workshop"), ("serve", "your own workshop")):
        command = commands.add_parser(name, help=f"serve {message} on this computer")
        command.add_argument("--port", type=int, default=8765, help="port on 127.0.0.1; 0 takes a free one")
        command.add_argument("--data", type=Path, default=None, metavar="FILE", help="the data file")
        command.add_argument("--share", action="store_true", help="let paired devices in over the network, with TLS")
        command.add_argument("--share-port", type=int, default=8766, help="port for the network")
        command.add_argument("--address", action="append", metavar="IP", help="address on it; found if not said")
        command.add_argument(
            "--plain", action="store_true", help="share without TLS: anyone on the network reads along"
        )
        if name == "demo":
            command.add_argument("--fresh", action="store_true", help="forget what was done and seed anew")
    commands.add_parser("contract", help="print the OpenAPI document")
    commands.add_parser("schema", help="print the JSON Schema of a recipe file")
    weighing = commands.add_parser("weigh", help="weigh a recipe file, without a server")
    weighing.add_argument("file", type=Path, help="recipe as JSON; - reads standard input")
    weighing.add_argument("--csv", action="store_true", help="print the sheet as CSV instead of JSON")
    planning = commands.add_parser("plan", help="what a recipe's plan comes to: outcomes, weakest step, levers")
    planning.add_argument("file", type=Path, help="recipe as JSON; - reads standard input")
    planning.add_argument("--seed", default="", help="the id of a recipe of the data file, to play on its dice")
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
    backing = commands.add_parser("backup", help="a whole copy of a data file, also while it is in use")
    backing.add_argument(
        "to", type=Path, nargs="?", default=None, help="file or folder; 'copies' beside it if not said"
    )
    restoring = commands.add_parser("restore", help="put a copy in the data file's place; nothing is written over")
    restoring.add_argument("copy", type=Path)
    verifying = commands.add_parser("verify", help="whether a file is a whole data file, and what is in it")
    verifying.add_argument("file", type=Path)
    archiving = commands.add_parser("archive", help="everything as one zip of JSON, CSV and pictures, out or in")
    archiving.add_argument("act", choices=("write", "read"))
    archiving.add_argument("file", type=Path)
    for command in (backing, restoring, archiving):
        command.add_argument("--data", type=Path, default=None, metavar="FILE", help="the data file")
    for command in (weighing, planning, comparing, cooling):
        command.add_argument(
            "--data", type=Path, default=None, metavar="FILE", help="data file whose shelf and log count"
        )
    options = parser.parse_args(arguments)
    try:
        return _run(options)
    except _UnreadError:
        return 2
    except (AppError, FileExistsError, FileNotFoundError) as refused:
        print(refused, file=sys.stderr)
        return 2


def _data(options: argparse.Namespace, demo: bool = False) -> Path:
    path: Path = options.data or data_directory() / ("demo.sqlite" if demo else "workshop.sqlite")
    return path.expanduser().absolute()


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
        case "plan":
            code = _plan(options.file, options.data, options.seed)
        case "compare":
            code = _compare(options.left, options.right, options.data)
        case "cool":
            code = _cool(options)
        case "backup":
            code = _backup(_data(options), options.to)
        case "restore":
            code = _restore(options.copy, _data(options))
        case "verify":
            code = _verify(options.file)
        case "archive":
            code = _archive(options.act, options.file, _data(options))
        case command:
            demo = command == "demo"
            code = _serve(_data(options, demo), options, demo)
    return code
