"""The second server: the same app for who is let in over the workshop's network, with TLS of its own."""

import asyncio
import contextlib
import logging
import resource
import socket
import ssl
from collections.abc import Awaitable, Callable, Sequence
from datetime import datetime
from io import StringIO
from pathlib import Path
from threading import Thread
from typing import Any

import segno
from a2wsgi import WSGIMiddleware
from flask import Flask
from uvicorn import Config
from werkzeug.http import parse_cookie

from ..core.values import AppError
from ..share import Certificate, Door, Sharing, certified, folder_beside, own_addresses, own_name
from .door import COOKIES, FromNetwork
from .gate import GatedServer

OPEN_FILES = 8192  # at most [C]; connections of the network must leave the data file and this screen theirs
STRANGERS_SAY = 4096  # bytes at most: a code and a name [C]
# Seconds for all of that, between two pieces of what a known device sends, and for the whole of it [C].
STRANGERS_TAKE, PAUSE, WHOLE = 5.0, 20.0, 180.0
Message = dict[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]


class Patient:
    """Hears what is sent before a thread is given to it: a stranger's little at once or not at all.

    Else a few connections that say half a word would hold every thread.
    """

    def __init__(self, app: Callable[[Message, Receive, Send], Awaitable[None]], door: Door) -> None:
        self.app, self.door = app, door

    async def __call__(self, scope: Message, receive: Receive, send: Send) -> None:
        if self._known(scope):
            until = asyncio.get_running_loop().time() + WHOLE

            async def in_time() -> Message:
                left = until - asyncio.get_running_loop().time()
                return await asyncio.wait_for(receive(), max(min(PAUSE, left), 0.0))

            with contextlib.suppress(TimeoutError):
                await self.app(scope, in_time, send)
            return
        try:
            body = await asyncio.wait_for(_little(receive), STRANGERS_TAKE)
        except (TimeoutError, ValueError):
            await send({"type": "http.response.start", "status": 408, "headers": [(b"connection", b"close")]})
            await send({"type": "http.response.body", "body": b""})
            return

        async def heard() -> Message:
            return {"type": "http.request", "body": body, "more_body": False}

        await self.app(scope, heard, send)

    def _known(self, scope: Message) -> bool:
        sent = b"; ".join(value for name, value in scope["headers"] if name == b"cookie").decode("latin-1")
        return any(self.door.known(value) for name, value in parse_cookie(sent).items() if name in COOKIES)


async def _little(receive: Receive) -> bytes:
    """A whole body; ValueError when it is more than a stranger has to say, or breaks off."""
    body = b""
    while True:
        message = await receive()
        if message["type"] != "http.request":
            raise ValueError
        body += message.get("body", b"")
        if len(body) > STRANGERS_SAY:
            raise ValueError
        if not message.get("more_body"):
            return body


class NoNetworkError(AppError):
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
    wsgi: Any = FromNetwork(app)  # each library types WSGI and ASGI in its own way
    asgi: Any = WSGIMiddleware(wsgi, workers=8)
    config = Config(
        Patient(asgi, app.extensions["door"]),
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
    # That a phone was still connected when the app ended is no news.
    logging.getLogger("uvicorn.error").addFilter(lambda told: not told.getMessage().startswith("Cancel "))
    server = GatedServer(config)
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
