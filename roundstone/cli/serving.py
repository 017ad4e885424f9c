"""The app, served on this computer, and over the network where that is wanted."""

import gc
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from .common import RefusedError, data_file, with_data

if TYPE_CHECKING:
    from flask import Flask
    from waitress.server import BaseWSGIServer

    from ..share import Network, Sharing
    from ..store import Workshop
    from ..store.keeping import Hold

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


@dataclass(frozen=True)
class Options:
    """How it is served; `demo` is the invented workshop, which `fresh` seeds anew."""

    port: int
    share: bool
    share_port: int
    address: list[str] | None
    plain: bool
    demo: bool = False
    fresh: bool = False


def _prepare_demo(workshop: "Workshop") -> None:
    from ..demo.workshop import refresh_running, seed
    from ..store.keeping import DEMO
    from ..store.learned import Learned

    now = datetime.now(UTC)
    if workshop.recipes.count() or workshop.pours.count():
        refresh_running(workshop, now)
    else:
        click.echo("Seeding the demo workshop ...")
        workshop.settings.keep(DEMO, {"since": now.isoformat()})
        seed(workshop, now)
        # What its pours taught is kept with them, and how noisy they are: nothing is left to be reckoned as it opens.
        learned = Learned(workshop)
        if learned.due(learned.record().light):
            learned.tune(wait=True)
            learned.record()
        learned.card(wait=True)


def _opened(path: Path, demo: bool, fresh: bool) -> "Workshop":
    """The workshop in a data file that is held; RefusedError says what to do when it cannot be used."""
    from pydantic import ValidationError
    from sqlalchemy.exc import SQLAlchemyError

    from ..store import Workshop, keeping

    keeping.check(path)
    if demo and not keeping.is_demo(path):
        raise RefusedError(f"{path} holds a workshop of your own, which the demo does not touch: use 'serve'.")
    if fresh:
        keeping.remove(path)
    try:
        workshop = Workshop(path)
        if demo:
            _prepare_demo(workshop)
    except (SQLAlchemyError, ValidationError, OSError) as error:
        hint = "Start the demo with --fresh." if demo else "Nothing in it was changed."
        raise RefusedError(f"The data file {path} cannot be used: {error} {hint}") from error
    return workshop


def _serve(path: Path, options: Options) -> int:
    from ..store import keeping

    with keeping.held(path) as hold:
        workshop = _opened(path, options.demo, options.fresh)
        try:
            return _answer(workshop, hold, options)
        finally:
            workshop.close()


def _way_in(workshop: "Workshop", app: "Flask", way: "Network", options: Options) -> None:
    """How the network is let in, now or later: tell `way`. RefusedError where it was asked for and cannot be."""
    from ..core.values import AppError
    from ..web.door import SHARED

    def opened() -> tuple["Sharing", Callable[[], None]]:
        from ..web import network

        where = options.address, options.share_port, options.plain
        sharing, made = network.shared(workshop.path, *where, datetime.now(UTC))
        return sharing, network.serve(app, options.share_port, made)

    way.how = opened
    if not (options.share or (workshop.settings.get(SHARED) or {}).get("on")):
        return
    try:
        way.open()
    except (OSError, AppError) as error:
        why = error.strerror if isinstance(error, OSError) else str(error)
        message = f"Port {options.share_port} cannot be used for the network ({why}). Try --share-port."
        if options.share:
            raise RefusedError(message) from error
        click.echo(message, err=True)


def _end_on_signals() -> None:
    """A signal ends it as cleanly as the keyboard does, from before it says where it is."""
    import signal

    def end(*_: object) -> None:
        raise SystemExit

    for number in (signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, end)


def _run(server: "BaseWSGIServer") -> None:
    """Serve until told to end."""
    gc.freeze()  # what stands now stands to the end: it need not be looked through between two taps
    with suppress(KeyboardInterrupt, SystemExit):
        server.run()


def _answer(workshop: "Workshop", hold: "Hold", options: Options) -> int:
    """Serve a workshop until told to end."""
    import logging

    from waitress.server import create_server

    from ..share import Network
    from ..store.keeper import Keeper
    from ..web import create_app
    from ..web.clock import steady_now

    now = steady_now()
    keeper = Keeper(workshop, now)
    way = Network()
    app = create_app(workshop, now, background=True, keeper=keeper, network=way)
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)  # a request that waits a moment is no news
    try:
        server = create_server(app, host="127.0.0.1", port=options.port, **LIMITS)
    except OSError as error:
        click.echo(f"Port {options.port} on 127.0.0.1 cannot be used ({error.strerror}). Try --port.", err=True)
        return 1
    endings: list[Callable[[], None]] = [server.close, way.close]  # of what runs
    try:
        _end_on_signals()
        _way_in(workshop, app, way, options)
        address = f"http://127.0.0.1:{server.effective_port}"
        hold.tell(address)
        click.echo(f"Data file: {workshop.path}")
        click.echo(f"Round Stone is at {address}  (Ctrl-C ends it)")
        if options.demo:
            from ..demo.practice import practise

            endings.append(practise(app))
        if options.share and way.sharing is not None:
            from ..web.network import way_in

            click.echo(way_in(way.sharing, app.extensions["door"]))
        keeper.start()
        endings.append(keeper.stop)
        _run(server)
    finally:
        for end_it in reversed(endings):
            end_it()
    return 0


def _served(function: Callable[..., int]) -> Callable[..., int]:
    for option in (
        click.option("--plain", is_flag=True, help="share without TLS: anyone on the network reads along"),
        click.option("--address", multiple=True, metavar="IP", help="address on it; found if not said"),
        click.option("--share-port", type=int, default=8766, show_default=True, help="port for the network"),
        click.option("--share", is_flag=True, help="let paired devices in over the network, with TLS"),
        with_data("the data file"),
        click.option("--port", type=int, default=8765, show_default=True, help="port on 127.0.0.1; 0: a free one"),
    ):
        function = option(function)
    return function


@click.command()
@_served
@click.option("--fresh", is_flag=True, help="forget what was done and seed anew")
def demo(
    port: int, data: Path | None, share: bool, share_port: int, address: tuple[str, ...], plain: bool, fresh: bool
) -> int:
    """Serve the demo workshop on this computer."""
    options = Options(port, share, share_port, list(address) or None, plain, demo=True, fresh=fresh)
    return _serve(data_file(data, demo=True), options)


@click.command()
@_served
def serve(port: int, data: Path | None, share: bool, share_port: int, address: tuple[str, ...], plain: bool) -> int:
    """Serve your own workshop on this computer."""
    return _serve(data_file(data), Options(port, share, share_port, list(address) or None, plain))
