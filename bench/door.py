"""Who gets in, and what does it cost? `python -m bench.door` tries the door by hand; `--write` puts it into the docs.

A real server is shared on an address of this machine; strangers ask for everything, guess codes, make up cookies and
keep connections open, while somebody taps on the maker's own screen.
"""

import http.client
import json
import re
import secrets
import socket
import ssl
import statistics
import sys
import tempfile
import time
import warnings
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any

from bench.page import put, table
from roundstone.share import folder_beside
from roundstone.share.door import ALL_PER_MINUTE, CODE_LASTS, PER_MINUTE, TRIES
from tests.browser.real import OWN_ADDRESS, ROOT, Server
from tests.browser.test_network import free_port

Row = tuple[str, str, str]
HALF = f"POST /api/pair HTTP/1.1\r\nHost: {OWN_ADDRESS}:{{}}\r\nContent-Length: 99\r\n\r\n{{{{"
MADE_UP, HELD, TAPS = 2000, 200, 60


class Network:
    """One server that is shared, and ways to ask it."""

    def __init__(self, folder: Path) -> None:
        self.port, self.data = free_port(), folder / "w.sqlite"
        more = ("--share", "--share-port", str(self.port), "--address", OWN_ADDRESS)
        self.server = Server("serve", self.data, more=more)
        self.trusting = ssl.create_default_context(cafile=str(folder_beside(self.data) / "root.pem"))

    def wire(self) -> http.client.HTTPSConnection:
        return http.client.HTTPSConnection(OWN_ADDRESS, self.port, timeout=20, context=self.trusting)

    def ask(self, line: str, body: Any = None, cookie: str = "", **headers: str) -> tuple[int, bytes]:
        with closing(self.wire()) as wire:
            return asked(wire, line, body, cookie, **headers)

    def own(self, line: str, body: Any = None) -> tuple[int, bytes]:
        with closing(http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=20)) as wire:
            return asked(wire, line, body)

    def code(self, role: str = "bench") -> str:
        said = json.loads(self.own("POST /api/devices/invitation", {"role": role})[1])
        return str(said["invitation"]["code"])


def asked(
    wire: http.client.HTTPConnection, line: str, body: Any = None, cookie: str = "", **headers: str
) -> tuple[int, bytes]:
    method, path = line.split(maxsplit=1)
    sent = {"Cookie": cookie} if cookie else {}
    text = None if body is None else json.dumps(body)
    typed = {} if text is None else {"Content-Type": "application/json"}
    wire.request(method, path, text, {**sent, **typed, **headers})
    response = wire.getresponse()
    return response.status, response.read()


def lines() -> list[str]:
    """Every address of the contract, with ids that could be."""
    paths = json.loads((ROOT / "ui/openapi.json").read_text())["paths"]
    return [f"{m.upper()} {re.sub(r'{[^}]+}', '9', p)}" for p, methods in paths.items() for m in methods]


def strangers(net: Network) -> Row:
    told = [(line, *net.ask(line, {} if line.split()[0] in ("POST", "PUT") else None)) for line in lines()]
    open_to_all = {line for line, status, _ in told if status != 401}
    most = max((len(b) for line, s, b in told if s != 401 and "root" not in line), default=0)
    wanted = {"GET /api/me", "POST /api/pair", "GET /api/root.crt"}
    seen = f"{len(told)} addresses asked without a pairing: {len(told) - len(open_to_all)} answer 401; open are "
    return (
        "a stranger asks for everything",
        seen + ", ".join(sorted(open_to_all)),
        ("nothing seen" if open_to_all == wanted and most < 500 else "SEEN"),
    )


def made_up(net: Network) -> Row:
    got = 0
    with closing(net.wire()) as wire:
        for _ in range(MADE_UP):
            cookie = f"__Host-round-stone={secrets.token_urlsafe(60)}.{secrets.token_urlsafe(5)}"
            got += asked(wire, "GET /api/recipes", cookie=cookie)[0] != 401
    return "cookies made up", f"{MADE_UP} tried, {got} let in", "nothing seen" if got == 0 else "LET IN"


def guesses(net: Network) -> Row:
    code = net.code("maker")
    wrong = f"{(int(code) + 1) % 10**6:06}"
    said = [net.ask("POST /api/pair", {"code": wrong, "name": "x"})[0] for _ in range(PER_MINUTE + 3)]
    right = net.ask("POST /api/pair", {"code": code, "name": "x"})[0]
    odds = TRIES / 10**6
    seen = (
        f"of {len(said)} guesses within a second {said.count(422)} were looked at and {said.count(429)} turned away; "
        f"then the right one too ({right}). A code stands {TRIES} tries and {CODE_LASTS.seconds // 60} min, so a "
        f"guesser gets in at {odds:.0e} a code, at most {ALL_PER_MINUTE} tries a minute from all addresses"
    )
    ok = said.count(422) <= TRIES and right != 200
    return "codes guessed", seen, "stopped" if ok else "GUESSED"


def names(net: Network) -> Row:
    foreign = ("evil.example", f"192.0.2.99:{net.port}", "localhost.evil.example")
    told = [net.ask("GET /api/me", Host=h)[0] for h in foreign]
    plain: list[str] = []
    try:
        with closing(socket.create_connection((OWN_ADDRESS, net.port), 10)) as wire:
            wire.sendall(b"GET /api/me HTTP/1.1\r\nHost: x\r\n\r\n")
            plain.append(wire.recv(200).split(b"\r\n")[0].decode("latin-1") or "closed")
    except ConnectionResetError:
        plain.append("closed")
    old = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
    old.check_hostname, old.verify_mode = False, ssl.CERT_NONE
    warnings.simplefilter("ignore", DeprecationWarning)  # of the old version that is asked for
    old.maximum_version = ssl.TLSVersion.TLSv1_1
    try:
        with closing(socket.create_connection((OWN_ADDRESS, net.port), 10)) as wire:
            plain.append(str(old.wrap_socket(wire).version()))
    except OSError:
        plain.append("TLS 1.1 refused")
    seen = f"foreign names: {told}; without TLS: {plain[0]}; {plain[1]}"
    ok = set(told) == {421} and "200" not in plain[0] and "refused" in plain[1]
    return "other names, no TLS, old TLS", seen, "refused" if ok else "ANSWERED"


def bench_only(net: Network) -> Row:
    with closing(net.wire()) as wire:
        body = json.dumps({"code": net.code("bench"), "name": "Sink"})
        wire.request("POST", "/api/pair", body, {"Content-Type": "application/json"})
        response = wire.getresponse()
        response.read()
        cookie = (response.headers["Set-Cookie"] or "").split(";")[0]
        told = [asked(wire, line, {} if line.split()[0] in ("POST", "PUT") else None, cookie)[0] for line in lines()]
    shut = told.count(403)
    for device in json.loads(net.own("GET /api/devices")[1])["devices"]:
        net.own(f"DELETE /api/devices/{device['id']}")
    after = net.ask("GET /api/pours", cookie=cookie)[0]
    seen = f"{shut} of {len(told)} addresses are shut to it; once it is sent away its next request gets {after}"
    return "a device of the bench", seen, "held" if shut > 50 and after == 401 else "LET IN"


def timed(what: Callable[[], Any]) -> float:
    begun = time.perf_counter()
    what()
    return 1000 * (time.perf_counter() - begun)


def held_open(net: Network) -> Row:
    """Connections that say half a word each, and the maker's own screen meanwhile."""
    before = [timed(lambda: net.own("GET /api/recipes")) for _ in range(TAPS)]
    quiet = [timed(lambda: net.ask("GET /api/me")) for _ in range(20)]
    wires, away = [], 0
    for n in range(HELD):
        # From another address than the phone's: each has only so many connections.
        wire = socket.create_connection(("127.0.0.1", net.port), 10, source_address=("127.0.0.9", 0))
        try:
            if n % 2:
                wire = net.trusting.wrap_socket(wire, server_hostname=OWN_ADDRESS)
            wire.sendall(HALF.format(net.port).encode() if n % 2 else b"\x16\x03\x01")
        except OSError:  # closed by the server
            away += 1
        wires.append(wire)
    during = [timed(lambda: net.own("GET /api/recipes")) for _ in range(TAPS)]
    amid = [timed(lambda: net.ask("GET /api/me")) for _ in range(20)]
    for wire in wires:
        wire.close()
    a, b, c, d = (statistics.median(x) for x in (before, during, quiet, amid))
    seen = (
        f"{HELD} begun, half of them left in mid-handshake and half in mid-body, {away} turned away: the maker's own "
        "screen answers in "
        f"{b:.1f} ms (median of {TAPS}; {a:.1f} before), a phone "
        f"with a new handshake each time in {d:.0f} ms ({c:.0f} before)"
    )
    return "connections that say half a word", seen, "not slowed" if b < 3 * a + 5 and d < 3 * c + 20 else "SLOWED"


def main() -> None:
    """Try everything, in turn."""
    rows: list[Row] = []
    with tempfile.TemporaryDirectory() as name:
        net = Network(Path(name))
        try:
            for trial in (strangers, made_up, names, bench_only, guesses, held_open):
                rows.append(trial(net))
                print(": ".join(rows[-1]), flush=True)
        finally:
            net.server.stop()
    if "--write" in sys.argv:
        put("door", table(("what is tried", "what was seen", "outcome"), rows), "reliability.md")
    if any(outcome.isupper() for *_, outcome in rows):
        sys.exit(1)


if __name__ == "__main__":
    main()
