"""What is lost when things fail? `python -m bench.faults [TIMES]` tries it, by hand; `--write` puts it into the docs.

A real server is killed, starved and misled, and the network is cut under a real browser, TIMES (100) times each.
"""

import os
import re
import shutil
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
from collections.abc import Callable
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
from playwright.sync_api import Page, expect, sync_playwright

from bench.load import Client
from bench.page import put, table
from roundstone.core.recipe import Recipe
from roundstone.demo.recipes import RECIPES, fragrances
from roundstone.store import Workshop, keeping
from tests.browser import test_outages as outages
from tests.browser.real import CHROMIUM, FLAGS, Server

ROOT = Path(__file__).parents[1]
ROOM = "6m"  # of the small disk that fills up
Row = tuple[str, str, str]


def rng_of(name: str) -> np.random.Generator:
    return np.random.Generator(np.random.PCG64(sum(map(ord, name))))


def asked(path: Path) -> tuple[Workshop, Recipe]:
    """A workshop with a recipe `r`."""
    recipe, workshop = RECIPES[0], Workshop(path)
    for fragrance in fragrances():
        workshop.ingredients.add_fragrance(fragrance)
    workshop.recipes.add("r", recipe, datetime.now(UTC))
    return workshop, recipe


class Hand(threading.Thread):
    """Taps and types as fast as it is answered, and knows what was acknowledged."""

    def __init__(self, port: int, pour: str, recipe: Recipe, revision: int) -> None:
        super().__init__(daemon=True)
        self.client, self.pour, self.recipe, self.revision = Client(port), pour, recipe, revision
        self.taps: list[str] = []
        self.typed = recipe.name
        self.on_its_way = recipe.name

    def run(self) -> None:
        n = 0
        while True:
            n += 1
            tap = {"id": str(uuid4()), "minute": n / 10_000, "sure": True, "kind": "seen", "stage": "light"}
            _, view = self.client.ask("POST", f"/api/pours/{self.pour}/events", {"event": tap})
            if "events" not in view:
                return
            self.taps.append(str(tap["id"]))
            self.on_its_way = f"Typed {uuid4()}"
            draft = self.recipe.model_copy(update={"name": self.on_its_way}).model_dump(mode="json")
            body = {"recipe": draft, "revision": self.revision}
            _, saved = self.client.ask("PUT", "/api/recipes/r", body)
            if "revision" not in saved:
                return
            self.revision, self.typed = saved["revision"], self.on_its_way


def kills(times: int, folder: Path) -> Row:
    """SIGKILL at any moment of tapping and typing."""
    path = folder / "kills.sqlite"
    workshop, recipe = asked(path)
    workshop.close()
    rng, server, lost, taps, saves = rng_of("kills"), Server("serve", path), 0, 0, 0
    for _ in range(times):
        client = Client(server.port)
        first = client.ask("GET", "/api/recipes/r")[1]["revision"]
        pour = client.ask("POST", "/api/pours", {"recipe_id": "r"})[1]["id"]
        hand = Hand(server.port, pour, recipe, first)
        hand.start()
        hand.join(float(rng.uniform(0.05, 0.6)))
        server.kill()
        hand.join(10)
        server.start()
        client = Client(server.port)
        there = {e["event"]["id"] for e in client.ask("GET", f"/api/pours/{pour}")[1]["events"]}
        lost += len(set(hand.taps) - there)
        # The last save was acknowledged, or was on its way: one of both is there, never anything else.
        stored = client.ask("GET", "/api/recipes/r")[1]["recipe"]["name"]
        lost += hand.revision > first and stored not in (hand.typed, hand.on_its_way)
        taps, saves = taps + len(hand.taps), saves + hand.revision - first
        end = {"id": str(uuid4()), "minute": 60.0, "sure": True, "kind": "ended"}
        client.ask("POST", f"/api/pours/{pour}/events", {"event": end})
    server.stop()
    raw = sqlite3.connect(path)
    whole = raw.execute("PRAGMA integrity_check").fetchone()[0]
    raw.close()
    said = f"{taps} taps and {saves} saves acknowledged, {lost} lost; integrity check: {whole}"
    return (f"killed while tapping and typing, {times} times", said, "nothing lost" if not lost else "LOST")


def browser(work: Callable[[Page, Server], str], folder: Path) -> str:
    server = Server("demo", folder / f"{uuid4()}.sqlite")
    try:
        with sync_playwright() as p:
            chromium = p.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            page = chromium.new_page(viewport={"width": 1024, "height": 768})
            page.set_default_timeout(10_000)
            said = work(page, server)
            chromium.close()
            return said
    finally:
        server.stop()


def cuts(times: int, folder: Path) -> Row:
    """The network of a real browser cut, with taps and undos before, while and after."""

    def work(page: Page, server: Server) -> str:
        pour = outages.begin(page, server.url)
        stack = outages.cut_and_tap(page, times, rng_of("cuts"))
        expect(page.get_by_text(outages.SAVED)).to_be_visible(timeout=60_000)
        there = [e["stage"] for e in outages.standing(server.url, pour)]
        return f"{len(there)} taps stand, {len(stack)} should; {'equal, in order' if there == stack else 'NOT EQUAL'}"

    said = browser(work, folder)
    return (f"network cut, {times} times with 6 taps or undos each", said, "LOST" if "NOT" in said else "nothing lost")


def sleep(_: int, folder: Path) -> Row:
    """A device that slept eight minutes."""

    def work(page: Page, server: Server) -> str:
        page.clock.install()
        pour = outages.begin(page, server.url)
        page.keyboard.press("1")
        page.clock.fast_forward("08:00")
        # The server did not sleep: for it the pour began eight minutes earlier by now.
        with closing(sqlite3.connect(server.data)) as file, file:
            file.execute("UPDATE pour SET started = datetime(started, '-8 minutes') WHERE id = ?", (pour,))
        page.keyboard.press("2")
        expect(page.locator("[data-test=recent]")).to_contain_text("light")
        page.clock.run_for(3000)
        expect(page.get_by_text(outages.SAVED)).to_be_visible()
        minutes = [e["minute"] for e in outages.standing(server.url, pour)]
        return f"two taps {minutes[-1] - minutes[0]:.2f} minutes apart" if len(minutes) == 2 else "NOT both there"

    said = browser(work, folder)
    return ("the device sleeps eight minutes between two taps", said, "LOST" if "NOT" in said else "nothing lost")


def clock_steps(_: int, folder: Path) -> Row:
    """The machine's clock set back an hour under a running server and then on three."""
    path = folder / "clock.sqlite"
    workshop, _recipe = asked(path)
    workshop.pours.start("p", "r", datetime.now(UTC))
    code = (
        "import sys; from datetime import datetime, timedelta; from pathlib import Path\n"
        "import roundstone.web.clock as c\n"
        "class Wall(datetime):\n"
        "    back = timedelta(0)\n"
        "    @classmethod\n"
        "    def now(cls, tz=None): return datetime.now(tz) - cls.back\n"
        "c.datetime = Wall\n"
        "from roundstone.store import Workshop; from roundstone.web.app import create_app\n"
        "client = create_app(Workshop(Path(sys.argv[1]))).test_client()\n"
        "ask = lambda: client.get('/api/pours/p').json['minute']\n"
        "before = ask(); Wall.back = timedelta(hours=1); back = ask(); Wall.back = -timedelta(hours=2)\n"
        "print(back - before, ask() - before)\n"
    )
    workshop.close()
    line = [sys.executable, "-c", code, str(path)]
    moved = [
        float(x) for x in subprocess.run(line, cwd=ROOT, capture_output=True, text=True, check=True).stdout.split()
    ]
    said = f"the pour's minute moved by {moved[0]:.3f} and {moved[1]:.3f}"
    return ("the server's clock set back 1 h, then on 3 h", said, "held" if max(map(abs, moved)) < 0.1 else "MOVED")


def full_disk(_: int, folder: Path) -> Row:
    """A disk of a few megabytes that fills up in mid-pour, then has room again; needs a name space of its own."""
    name = f"a disk of {ROOM}B fills up in mid-pour"
    seed, disk = folder / "seed.sqlite", folder / "disk"
    workshop, _recipe = asked(seed)
    workshop.pours.start("p", "r", datetime.now(UTC))
    workshop.close()
    disk.mkdir()
    serve = f"{sys.executable} -m roundstone serve --data {disk}/w.sqlite --port 0"
    mount = f"mount -t tmpfs -o size={ROOM} tmpfs {disk} && cp {seed} {disk}/w.sqlite && exec {serve}"
    if shutil.which("unshare") is None:
        return (name, "this machine cannot make a small disk", "not tried")
    line = ["unshare", "-Urm", "sh", "-c", mount]
    process = subprocess.Popen(line, cwd=ROOT, stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    port = next((int(f[1]) for said in process.stdout if (f := re.search(r"127\.0\.0\.1:(\d+)", said))), 0)
    if not port:
        return (name, "this machine cannot make a small disk", "not tried")
    inside = Path(f"/proc/{process.pid}/root{disk}")
    client, taken, statuses = Client(port), [], []

    def tap(n: int, event_id: str) -> Any:
        event = {"id": event_id, "minute": n / 10_000, "sure": True, "kind": "seen", "stage": "light"}
        return client.ask("POST", "/api/pours/p/events", {"event": event})[1]

    ballast = inside / "ballast"
    for n in range(300):
        if n == 20:
            with ballast.open("wb", buffering=0) as full:
                try:
                    while full.write(b"\0" * 65536):
                        pass
                except OSError:
                    pass
        one = str(uuid4())
        view = tap(n, one)
        if "events" in view:
            taken.append(one)
        else:
            statuses.append((view.get("status"), view.get("detail", "")))
            break
    ballast.unlink()
    refused, again = one, tap(301, one)
    there = {e["event"]["id"] for e in client.ask("GET", "/api/pours/p")[1]["events"]}
    process.send_signal(signal.SIGTERM)
    process.wait(20)
    lost = len(set(taken) - there) + (refused not in there) + ("events" not in again)
    said = (
        f"{len(taken)} taps taken, then: {statuses[0] if statuses else 'never full'}; with room again the tap is taken"
    )
    return (name, said, "nothing lost" if not lost and statuses else "LOST")


def read_only(_: int, folder: Path) -> Row:
    """A file on a disk that cannot be written to; needs a name space of its own."""
    name, seed, disk = "a disk that is read-only", folder / "sound.sqlite", folder / "sealed"
    asked(seed)[0].close()
    disk.mkdir()
    serve = f"{sys.executable} -m roundstone serve --data {disk}/w.sqlite --port 0"
    mount = f"mount -t tmpfs -o size={ROOM} tmpfs {disk} && cp {seed} {disk}/w.sqlite && mount -o remount,ro {disk}"
    if shutil.which("unshare") is None:
        return (name, "this machine cannot make one", "not tried")
    line = ["unshare", "-Urm", "sh", "-c", f"{mount} && exec {serve}"]
    run = subprocess.run(line, cwd=ROOT, capture_output=True, text=True, timeout=60, check=False)
    said = run.stderr.strip().splitlines()[-1] if run.stderr.strip() else "nothing"
    known = "read-only" in said and run.returncode != 0
    return (name, said.replace(str(folder) + os.sep, ""), "said as that" if known else "NOT SAID")


def at_the_start(_: int, folder: Path) -> list[Row]:
    """Files that cannot be served: what is said, and that they are left as they were."""
    good = folder / "good.sqlite"
    workshop, _recipe = asked(good)
    workshop.close()
    whole = good.read_bytes()
    rows = []

    def told(name: str, path: Path, ready: Callable[[], None] = lambda: None) -> None:
        ready()
        before = path.read_bytes()
        line = [sys.executable, "-m", "roundstone", "serve", "--data", str(path), "--port", "0"]
        run = subprocess.run(line, cwd=ROOT, capture_output=True, text=True, timeout=60, check=False)
        said = run.stderr.strip().splitlines()[-1] if run.stderr.strip() else "nothing"
        left = path.read_bytes() == before and run.returncode != 0
        rows.append((name, said.replace(str(folder) + os.sep, ""), "left as it was" if left else "CHANGED"))

    torn = folder / "torn.sqlite"
    torn.write_bytes(whole[:8192] + b"\0" * 8192 + whole[16384:])
    told("a damaged file", torn)
    for name, sql in (
        ("a newer file", "UPDATE alembic_version SET version_num = '9999'"),
        ("another program's file", "DROP TABLE alembic_version"),
    ):
        path = folder / f"{name.replace(' ', '-')}.sqlite"
        path.write_bytes(whole)
        raw = sqlite3.connect(path)
        raw.execute(sql)
        raw.commit()
        raw.close()
        told(name, path)
    server = Server("serve", good)
    told("a second server", good)
    server.stop()
    keeping.copy(good, folder / "copy.sqlite")
    rows.append(
        ("a copy of it", "is read back", "whole" if keeping.counts(folder / "copy.sqlite")["recipes"] else "LOST")
    )
    return rows


def main() -> None:
    """Try everything, in turn."""
    times = next((int(a) for a in sys.argv[1:] if a.isdigit()), 100)
    rows: list[Row] = []
    with tempfile.TemporaryDirectory() as name:
        for trial in (at_the_start, read_only, clock_steps, full_disk, sleep, cuts, kills):
            found = trial(times, Path(name))
            for row in found if isinstance(found, list) else [found]:
                print(": ".join(row), flush=True)
                rows.append(row)
    if "--write" in sys.argv:
        put("faults", table(("what fails", "what was seen", "outcome"), rows), "reliability.md")
    if any(outcome.isupper() for *_, outcome in rows):
        sys.exit(1)


if __name__ == "__main__":
    main()
