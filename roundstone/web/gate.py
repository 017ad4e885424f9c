"""Who may hold a connection of the network's server, and for how long without saying anything.

A connection costs a quarter of a megabyte once TLS begins, and nobody has been asked who they are by then. So they are
counted, of one address and of all; TLS begins when the first bytes are there; and headings and bodies come in time.
"""

import asyncio
import contextlib
import socket
from collections import Counter
from typing import Any

from uvicorn import Config, Server
from uvicorn.protocols.http.h11_impl import H11Protocol

MOST_OPEN, MOST_EACH = 128, 32  # connections of all, and of one address [C]
FIRST_BYTES, HANDSHAKE, HEADING = 5.0, 5.0, 10.0  # seconds for each [C]
AGAIN = 1.0  # seconds until one is accepted again when the machine has no file to spare


class Gate:
    """The listening socket of a server: takes who may come in, and hands them on."""

    def __init__(self, server: "GatedServer", heard: socket.socket) -> None:
        self.server, self.heard = server, heard
        self.held: Counter[str] = Counter()
        self.waiting: set[asyncio.Task[None]] = set()

    async def open(self) -> None:
        """Accept for as long as the server runs."""
        loop = asyncio.get_running_loop()
        self.heard.setblocking(False)
        while True:
            try:
                connection, address = await loop.sock_accept(self.heard)
            except OSError:
                await asyncio.sleep(AGAIN)
                continue
            who = str(address[0])
            if self.held.total() >= MOST_OPEN or self.held[who] >= MOST_EACH:
                connection.close()
                continue
            self.held[who] += 1
            task = loop.create_task(self._admit(connection, who))
            self.waiting.add(task)
            task.add_done_callback(self.waiting.discard)

    async def _admit(self, connection: socket.socket, who: str) -> None:
        """TLS and HTTP for who says something at once."""
        loop = asyncio.get_running_loop()
        connection.setblocking(False)
        try:
            await asyncio.wait_for(_speaks(loop, connection), FIRST_BYTES)
            tls = self.server.config.ssl
            timed: dict[str, Any] = (
                {"ssl_handshake_timeout": HANDSHAKE, "ssl_shutdown_timeout": HANDSHAKE} if tls else {}
            )
            await loop.connect_accepted_socket(lambda: self._protocol(who), connection, ssl=tls, **timed)
        except (Exception, asyncio.CancelledError):  # whatever ended it: it is closed, and counts no more
            connection.close()
            self._let_go(who)

    def _protocol(self, who: str) -> "Timed":
        server = self.server
        return Timed(server.config, server.server_state, server.lifespan.state, lambda: self._let_go(who))

    def _let_go(self, who: str) -> None:
        self.held[who] -= 1
        if self.held[who] <= 0:
            del self.held[who]

    def close(self) -> None:
        """Take nobody any more."""
        for task in self.waiting:
            task.cancel()


async def _speaks(loop: asyncio.AbstractEventLoop, connection: socket.socket) -> None:
    """Wait until there is something to read."""
    ready = asyncio.Event()
    loop.add_reader(connection, ready.set)
    try:
        await ready.wait()
    finally:
        loop.remove_reader(connection)


class Timed(H11Protocol):
    """HTTP/1.1 whose headings come in time, also those of a second request; `gone` is told when it ends."""

    def __init__(self, config: Config, state: Any, app_state: dict[str, Any], gone: Any) -> None:
        super().__init__(config, state, app_state)
        self._gone, self._late = gone, None
        self._asked = False

    _late: asyncio.TimerHandle | None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        self._wait()

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
        if self.cycle is not None and not self.cycle.response_complete:
            self._heard()
        elif self._late is None:
            self._wait()

    def connection_lost(self, exc: Exception | None) -> None:
        self._heard()
        super().connection_lost(exc)
        self._gone()

    def _wait(self) -> None:
        self._late = self.loop.call_later(HEADING, self._too_late)

    def _heard(self) -> None:
        if self._late is not None:
            self._late.cancel()
            self._late = None

    def _too_late(self) -> None:
        self._late = None
        if self.cycle is None or self.cycle.response_complete:
            self.transport.abort()


class GatedServer(Server):
    """A server whose connections come in by a gate."""

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await self.lifespan.startup()
        self.servers = []
        self.gates = [Gate(self, heard) for heard in sockets or ()]
        self.opened = [asyncio.create_task(gate.open()) for gate in self.gates]
        self.started = True

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        for gate, task in zip(self.gates, self.opened, strict=True):
            gate.close()
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task
        await super().shutdown(sockets)
