"""The real app: the server as a process of its own, and Debian's Chromium with no way out of this machine."""

import atexit
import multiprocessing
import os
import re
import sqlite3
import subprocess
import sys
import tempfile
import time
import unittest
from contextlib import closing, suppress
from functools import cache
from hashlib import sha256
from multiprocessing.connection import Connection
from pathlib import Path
from typing import IO, ClassVar, Literal

from playwright.sync_api import Browser, ConsoleMessage, Page, ViewportSize, expect, sync_playwright
from playwright.sync_api import TimeoutError as NotInTime

from roundstone.share import own_addresses

ROOT = Path(__file__).parents[2]
expect.set_options(timeout=20_000)  # two processes of browsers on two processors, and others beside them
# Debian's Chromium: the one without a window where it is there, which is a third quicker, else the whole one.
SHELL, WHOLE = "/usr/bin/chromium-headless-shell", "/usr/bin/chromium"
CHROMIUM = SHELL if Path(SHELL).exists() else WHOLE
# This machine as others on its network see it; without a network, a second address of its own.
OWN_ADDRESS = next(iter(own_addresses()), "127.0.0.2")
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    f"--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE {OWN_ADDRESS}",
]


# Whether a page has come to rest: it is mounted, and nothing was fetched or loaded a moment ago.
QUIET = """(() => {
  let open = 0, last = performance.now()
  const seen = () => (last = performance.now())
  const fetched = window.fetch
  window.fetch = (...what) => {
    open++
    return fetched(...what).finally(() => (open--, seen()))
  }
  new PerformanceObserver(seen).observe({ type: 'resource', buffered: true })
  window.__quiet = () =>
    document.readyState === 'complete' && open === 0 &&
    performance.now() - last > (document.querySelector('h1') ? 90 : 1500)
})()"""


def combine(page: Page) -> None:
    """Turn to the last stage of the ready check."""
    page.get_by_role("navigation", name="Stages").get_by_role("button", name="Cool, then combine").click()


# What a server imports, imported once: a server forked from there is up in a quarter of the time.
NURSERY = multiprocessing.get_context("forkserver")
# The last four are else imported late, where they are asked for.
LATE = ["scipy.optimize", "scipy.ndimage", "scipy.sparse.csgraph", "fpdf"]
NURSERY.set_forkserver_preload(
    ["roundstone.cli", "roundstone.web", "roundstone.demo.workshop", "tests.browser.born", *LATE]
)


def _born(line: list[str], message: Connection) -> None:
    """`python -m roundstone` in a process that has imported it."""
    from roundstone.cli import main

    os.dup2(message.fileno(), 1)
    sys.exit(main(line))


class Server:
    """`python -m roundstone` on a free port; `stop` and `start` again keep data file and port.

    `forked` servers are born of a process that has imported all they need, and are otherwise the same.
    """

    def __init__(
        self, command: str, data: Path, wait: bool = True, more: tuple[str, ...] = (), forked: bool = False
    ) -> None:
        self.command, self.data, self.port, self.more, self.forked = command, data, 0, more, forked
        self.begin()
        if wait:
            self.ready()

    def start(self) -> None:
        self.begin()
        self.ready()

    process: subprocess.Popen[str] | multiprocessing.process.BaseProcess
    said: IO[str]

    def begin(self) -> None:
        line = [self.command, "--data", str(self.data), "--port", str(self.port), *self.more]
        if self.forked:
            heard, message = NURSERY.Pipe(duplex=False)
            with heard, message:
                born = NURSERY.Process(target=_born, args=(line, message))
                born.start()
                self.process, self.said = born, os.fdopen(os.dup(heard.fileno()))
            return
        whole = [sys.executable, "-m", "roundstone", *line]
        self.process = subprocess.Popen(whole, cwd=ROOT, stdout=subprocess.PIPE, text=True, env={**os.environ})
        assert self.process.stdout is not None
        self.said = self.process.stdout

    def ready(self) -> None:
        """Wait until it says where it is."""
        for said in self.said:
            found = re.search(r"http://127\.0\.0\.1:(\d+)", said)
            if found:
                self.port = int(found[1])
                return
        raise RuntimeError("the server did not start")

    def stop(self) -> None:
        self.process.terminate()
        self._gone()

    def kill(self) -> None:
        """End it as a power cut does."""
        self.process.kill()
        self._gone()

    def _gone(self) -> None:
        if isinstance(self.process, subprocess.Popen):
            self.process.wait(10)
        else:
            self.process.join(10)
        self.said.close()

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"


def quiet(page: Page, within: float = 30.0) -> None:
    """Wait until nothing is fetched any more. Asked from here: its policy forbids the page to evaluate words."""
    end = time.monotonic() + within
    while not page.evaluate("!!window.__quiet && window.__quiet()"):
        if time.monotonic() > end:
            raise TimeoutError(f"{page.url} does not come to rest")
        page.wait_for_timeout(20)


@cache
def chromium() -> Browser:
    """One browser for all tests of a process; each opens a context of its own."""
    playwright = sync_playwright().start()
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
    atexit.register(playwright.stop)
    atexit.register(browser.close)  # registered last, done first
    return browser


@cache
def demo_file() -> bytes:
    """The demo workshop's data file, seeded once for the program as it stands; each test gets a copy of its own."""
    program = sha256()
    for path in sorted((ROOT / "roundstone").rglob("*")):
        if path.suffix in (".py", ".csv", ".toml"):
            program.update(path.read_bytes())
    kept = ROOT / ".stamps" / f"demo-{program.hexdigest()[:16]}.sqlite"
    if not kept.exists():
        seeded = _seeded()
        kept.parent.mkdir(exist_ok=True)
        for old in kept.parent.glob("demo-*.sqlite"):
            old.unlink(missing_ok=True)
        part = kept.with_suffix(f".{os.getpid()}")
        part.write_bytes(seeded)
        part.rename(kept)  # two processes may seed it at once
        return seeded
    return kept.read_bytes()


def _seeded() -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        file, whole = Path(folder) / "demo.sqlite", Path(folder) / "whole.sqlite"
        Server("demo", file).stop()
        with closing(sqlite3.connect(file)) as seeded, closing(sqlite3.connect(whole)) as copy:
            seeded.backup(copy)
        return whole.read_bytes()


class RealBrowser(unittest.TestCase):
    """One server and one page; any error the page reports fails the test."""

    command = "serve"
    size = (1280, 800)
    locale = "en-GB"
    workers: Literal["allow", "block"] = "block"  # a service worker hides requests from whoever watches them
    _browser: Browser
    _next: ClassVar[list[tuple[tempfile.TemporaryDirectory[str], Server]]] = []

    @classmethod
    def setUpClass(cls) -> None:
        cls._browser = chromium()

    @classmethod
    def tearDownClass(cls) -> None:
        for folder, server in cls._next:
            server.stop()
            folder.cleanup()
        cls._next.clear()

    @classmethod
    def _prepared(cls) -> tuple["tempfile.TemporaryDirectory[str]", Server]:
        """A server on a file of its own that was begun while the test before ran; the next one is begun."""

        def begun() -> tuple["tempfile.TemporaryDirectory[str]", Server]:
            folder = tempfile.TemporaryDirectory()
            file = Path(folder.name) / "workshop.sqlite"
            if cls.command == "demo":
                file.write_bytes(demo_file())
                file.chmod(0o600)
            return folder, Server(cls.command, file, wait=False, forked=True)

        mine = cls._next.pop() if cls._next else begun()
        mine[1].ready()
        cls._next.append(begun())
        return mine

    def setUp(self) -> None:
        folder, self.server = self._prepared()
        self.addCleanup(folder.cleanup)
        self.addCleanup(lambda: self.server.stop())  # noqa: PLW0108 - a restarted server is another one
        viewport: ViewportSize = {"width": self.size[0], "height": self.size[1]}
        context = self._browser.new_context(viewport=viewport, service_workers=self.workers, locale=self.locale)
        self.addCleanup(context.close)
        context.add_init_script(QUIET)
        self.page: Page = context.new_page()
        self.page.set_default_timeout(20_000)
        self.troubles: list[str] = []
        self.expected = re.compile("status of 422")
        self.page.on("console", self._heard)
        self.page.on("pageerror", lambda error: self.troubles.append(str(error)))
        self.page.on("request", self._asked)

    def lye_in(self) -> None:
        """From a recipe through the ready check to the bench."""
        self.page.get_by_role("button", name="Get ready to pour").click()
        combine(self.page)
        self.page.get_by_role("button", name="Lye meets fats").click()

    def pick(self, name: str, typed: str, option: str | re.Pattern[str]) -> None:
        """Find one in a list by typing. The list gives the focus back a frame later: no field is typed in before."""
        self.page.get_by_role("combobox", name=name).fill(typed)
        self.page.get_by_role("option", name=option).first.click()
        expect(self.page.locator("[role=listbox]")).to_have_count(0)
        self.page.evaluate("new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")

    def opened(self, what: str) -> None:
        """Open a part of the recipe that is folded: its lye, size, or all else ("more"); or a row, by its name."""
        buttons = {
            "lye": self.page.get_by_role("button", name="Change lye, water, superfat"),
            "size": self.page.locator("[data-test=size]"),
            "more": self.page.get_by_role("button", name=re.compile("^More")),
        }
        button = buttons.get(what) or self.page.get_by_role("button", name=re.compile(f"^{re.escape(what)}( |$)")).first
        if button.get_attribute("aria-expanded") != "true":
            quiet(self.page)  # a caution that comes in between moves the rows below it
            button.click()

    def answer(self, words: str) -> None:
        """Answer the first question that stands open."""
        self.page.locator("[data-test=to-answer]").click()
        self.page.locator("[data-test=doubts] li").first.get_by_role("button", name=words).click()
        later = self.page.get_by_role("button", name="Later")
        self.page.wait_for_timeout(400)  # the last answer closes it by itself
        if later.count():
            with suppress(NotInTime):  # on a busy machine it closes while the hand is on its way
                later.click(timeout=2000)

    def open(self, path: str, page: Page | None = None) -> None:
        """Go to a place and wait until it stands: its parts are loaded, and nothing it asked for is on its way."""
        page = page or self.page
        page.goto(self.server.url + path)
        quiet(page)

    def _heard(self, message: ConsoleMessage) -> None:
        if message.type == "error" and not self.expected.search(message.text):
            self.troubles.append(message.text)

    def _asked(self, request: object) -> None:
        url = str(getattr(request, "url", ""))
        if not url.startswith(self.server.url):
            self.troubles.append(f"asked the network for {url}")

    def tearDown(self) -> None:
        self.assertEqual(self.troubles, [])

    def accessible(self, place: str, always: bool = False) -> None:
        """No violation of WCAG 2.2 A or AA that axe can find. It takes seconds: in the check that one waits for every
        place is looked at once (`always`), its other states in the long one.
        """
        if not always and not os.environ.get("ROUNDSTONE_LONG"):
            return
        self.page.evaluate((ROOT / "ui/node_modules/axe-core/axe.min.js").read_text())
        tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
        only = {"runOnly": tags, "resultTypes": ["violations"]}
        found = self.page.evaluate("only => axe.run(only)", only)["violations"]
        told = [f"{v['id']}: {v['nodes'][0]['html'][:160]} {v['nodes'][0]['failureSummary'][:200]}" for v in found]
        self.assertEqual(told, [], place)
