"""The network's server holds few connections, none that is silent or slow, and answers others meanwhile."""

import http.client
import resource
import socket
import time
import unittest
from contextlib import ExitStack, closing
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock

from PIL import Image

from roundstone.core.values import RuleError
from roundstone.share import Sharing
from roundstone.store import Workshop
from roundstone.web import create_app, gate, network, pictures
from tests.browser.real import OWN_ADDRESS
from tests.browser.test_network import free_port

HALF = b"GET /api/me HTTP/1.1\r\nHost: "


class TheGate(unittest.TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        workshop = Workshop(Path(folder.name) / "w.sqlite")
        self.addCleanup(workshop.close)
        self.port = free_port()
        names = (OWN_ADDRESS, "127.0.0.1")
        app = create_app(workshop, sharing=Sharing(f"http://{OWN_ADDRESS}:{self.port}", names, "", None))
        for name, seconds in (("FIRST_BYTES", 0.4), ("HEADING", 0.4)):
            patched = mock.patch.object(gate, name, seconds)
            patched.start()
            self.addCleanup(patched.stop)
        self.addCleanup(network.serve(app, self.port, None))

    def connect(self, source: str = "127.0.0.1") -> socket.socket:
        return socket.create_connection((OWN_ADDRESS, self.port), 5, (source, 0))

    def answered(self, source: str = "127.0.0.1") -> int:
        with closing(http.client.HTTPConnection(OWN_ADDRESS, self.port, 5, source_address=(source, 0))) as wire:
            wire.request("GET", "/api/me")
            return wire.getresponse().status

    @staticmethod
    def closed(connection: socket.socket) -> bool:
        connection.settimeout(3)
        try:
            return connection.recv(9) == b""
        except ConnectionError:
            return True
        except TimeoutError:
            return False

    def test_silent_and_slow_ones_are_let_go_and_nobody_waits_for_them(self) -> None:
        with ExitStack() as held:
            silent = [held.enter_context(self.connect()) for _ in range(3)]
            slow = [held.enter_context(self.connect()) for _ in range(3)]
            for connection in slow:
                connection.sendall(HALF)
            self.assertEqual(self.answered(), 200)
            for connection in slow:
                connection.sendall(b"x")  # a letter more now and then keeps none open
                time.sleep(0.05)
            self.assertTrue(all(map(self.closed, (*silent, *slow))))

    def test_one_address_has_only_so_many(self) -> None:
        with ExitStack() as held:
            for name in ("FIRST_BYTES", "HEADING"):
                held.enter_context(mock.patch.object(gate, name, 9.0))
            wires = [held.enter_context(self.connect()) for _ in range(gate.MOST_EACH + 8)]
            for connection in wires:
                try:
                    connection.sendall(HALF)
                except ConnectionError:
                    continue
            time.sleep(0.3)
            refused = 0
            for connection in wires:
                connection.setblocking(False)
                try:
                    refused += connection.recv(9) == b""
                except BlockingIOError:
                    continue
                except ConnectionError:
                    refused += 1
            self.assertEqual(refused, 8)
            self.assertEqual(self.answered("127.0.0.3"), 200, "who is somewhere else is answered")
        time.sleep(0.1)
        self.assertEqual(self.answered(), 200, "and so is who let them go")


class PicturesInBounds(unittest.TestCase):
    def test_what_would_fill_the_memory_is_refused_before_it_is_decoded(self) -> None:
        """A few kilobytes of one colour are a gigabyte once they are pixels."""
        out = BytesIO()
        Image.new("1", (7700, 7700)).save(out, "PNG")
        for mode, size, refused in (("RGBA", (6000, 6000), True), ("RGB", (3000, 4000), False)):
            body = BytesIO()
            Image.new(mode, size, (10,) * len(mode)).save(body, "PNG")
            before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
            try:
                pictures.small_jpeg(body.getvalue())
                self.assertFalse(refused, mode)
            except RuleError:
                self.assertTrue(refused, mode)
                grown = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before
                self.assertLess(grown, 20_000, "kilobytes")
        self.assertLess(len(pictures.small_jpeg(out.getvalue())), 200_000)


if __name__ == "__main__":
    unittest.main()
