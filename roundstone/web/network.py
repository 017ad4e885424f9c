"""The second server: the same app for who is let in over the workshop's network, with TLS of its own."""

import resource
import socket
import ssl
from collections.abc import Callable, Sequence
from datetime import datetime
from io import StringIO
from pathlib import Path
from threading import Thread

import segno
from a2wsgi import WSGIMiddleware
from flask import Flask
from uvicorn import Config, Server

from ..core.values import Trouble
from ..share import Certificate, Door, Sharing, certified, folder_beside, own_addresses, own_name
from .door import FromNetwork

OPEN_FILES = 8192  # at most, for connections of the network: the data file and this machine's own screen need theirs


class NoNetworkError(Trouble):
    """This machine is on no network of its own."""

    status = 503
    title = "No network"


def shared(
    data: Path, addresses: Sequence[str] | None, port: int, plain: bool, now: datetime
) -> tuple[Sharing, Certificate | None]:
    """How the network is to reach the workshop in a data file, and the certificate for it unless it is `plain`.

    The addresses are found where none are given; NoNetworkError where there are none.
    """
    found = addresses or own_addresses()
    if not found:
        raise NoNetworkError("This machine has no address on a network of its own. Name one with --address.")
    names = (*found, own_name())
    if plain:
        return Sharing(f"http://{found[0]}:{port}", names, "", None), None
    made = certified(folder_beside(data), names, now)
    return Sharing(f"https://{found[0]}:{port}", names, made.fingerprint, made.root), made


def serve(app: Flask, port: int, made: Certificate | None) -> Callable[[], None]:
    """Serve the same app to who is let in, in a thread; returns what ends it. OSError when the port cannot be had.

    waitress, which serves this machine, speaks no TLS; and a stranger who says half a word must not keep the phone at
    the sink from being answered, so connections here wait in one loop and take a thread when they have asked.
    """
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    most = OPEN_FILES if hard == resource.RLIM_INFINITY else min(hard, OPEN_FILES)
    resource.setrlimit(resource.RLIMIT_NOFILE, (max(soft, most), hard))
    # With its protocol named, or asyncio leaves Nagle on and each answer waits 40 ms.
    heard = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    heard.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        heard.bind(("0.0.0.0", port))
        heard.listen(100)
    except OSError:
        heard.close()
        raise
    config = Config(
        WSGIMiddleware(FromNetwork(app), workers=8),  # type: ignore[arg-type] # two spellings of one interface
        log_config=None,
        access_log=False,
        lifespan="off",
        proxy_headers=False,
        server_header=False,
        timeout_keep_alive=20,
        timeout_graceful_shutdown=1,
        h11_max_incomplete_event_size=64 * 2**10,
        ssl_certfile=str(made.chain) if made else None,
        ssl_keyfile=str(made.key) if made else None,
    )
    config.load()
    if config.ssl is not None:
        config.ssl.minimum_version = ssl.TLSVersion.TLSv1_2
    server = Server(config)
    thread = Thread(target=lambda: server.run(sockets=[heard]), daemon=True, name="network")
    thread.start()

    def end() -> None:
        server.should_exit = True
        thread.join(5)
        heard.close()

    return end


def way_in(sharing: Sharing, door: Door) -> str:
    """The first device's way in, as it stands on the screen the server was started from."""
    given = door.invite("maker")
    link = f"{sharing.url}/pair#{given.code}"
    picture = StringIO()
    segno.make(link, error="l").terminal(picture, compact=True)
    told = [
        f"On your network it is at {sharing.url}; a phone or tablet is let in for all with code {given.code}",
        "within five minutes, or with this picture. More codes: Workshop, Phones and tablets.",
        link,
        picture.getvalue().rstrip(),
    ]
    if sharing.root is None:
        told.append("Without a certificate whoever listens on this network can read along and imitate.")
    else:
        told.append("Its certificate is this workshop's own, so a browser warns once. Compare its SHA-256 fingerprint:")
        told.append(sharing.fingerprint)
    return "\n".join(told)
