"""The network, the server and the device fail under the bench; every tap that was seen is stored, or stands open.

`bench.faults` does a hundred times here what the check does a few times.
"""

import json
import re
import urllib.request
from typing import Any

import numpy as np
from playwright.sync_api import Dialog, Page, Route, expect

from tests.browser.real import RealBrowser, combine

RECIPE = "5107e000-0000-4000-8000-000100000001"
STAGES = ("emulsion", "light", "medium", "thick")
NOT_SAVED = re.compile("not saved yet")
SAVED = re.compile("all saved|nothing logged yet")


def standing(url: str, pour: str) -> list[dict[str, Any]]:
    """What the server has of a pour, in order, what was taken back left out."""
    with urllib.request.urlopen(f"{url}/api/pours/{pour}") as answer:
        return [e["event"] for e in json.load(answer)["events"]]


def begin(page: Page, url: str) -> str:
    """A new pour at the bench; its id."""
    page.goto(f"{url}/recipes/{RECIPE}")
    page.get_by_role("button", name="Get ready to pour").click()
    combine(page)
    page.get_by_role("button", name="Lye meets fats").click()
    expect(page.get_by_role("button", name=re.compile("It is at emulsion"))).to_be_visible()
    return page.url.rsplit("/", 1)[1]


def cut_and_tap(page: Page, times: int, rng: np.random.Generator) -> list[str]:
    """Cut the network again and again, with taps and undos before, while and after; the stages that must stand."""
    stack: list[str] = []
    for _ in range(times):
        cut, back = sorted(rng.integers(0, 6, 2))
        for n in range(6):
            if n == cut:
                page.context.set_offline(True)
            if n == back:
                page.context.set_offline(False)
            if stack and rng.random() < 0.3:
                page.keyboard.press("u")
                stack.pop()
            else:
                at = int(rng.integers(0, len(STAGES)))
                page.keyboard.press(str(at + 1))
                stack.append(STAGES[at])
            page.wait_for_timeout(int(rng.integers(0, 120)))
        page.context.set_offline(False)
    return stack


class Outages(RealBrowser):
    command = "demo"

    def setUp(self) -> None:
        super().setUp()
        self.expected = re.compile("ERR_INTERNET_DISCONNECTED|ERR_CONNECTION_REFUSED|ERR_EMPTY_RESPONSE|status of 5")

    def stages(self, pour: str) -> list[str]:
        return [e["stage"] for e in standing(self.server.url, pour)]

    def test_the_network_comes_and_goes_under_taps_and_undos(self) -> None:
        page = self.page
        pour = begin(page, self.server.url)
        stack = cut_and_tap(page, 4, np.random.Generator(np.random.PCG64(9)))
        expect(page.get_by_text(SAVED)).to_be_visible(timeout=15_000)
        self.assertEqual(self.stages(pour), stack)

    def test_taps_of_a_page_that_was_closed_are_sent_from_any_other(self) -> None:
        page = self.page
        pour = begin(page, self.server.url)
        self.server.stop()
        for key in ("1", "2", "2", "u"):
            page.keyboard.press(key)
        page.get_by_role("button", name="Batter is split").click()
        expect(page.get_by_role("radio", name="Weir")).to_be_visible()
        expect(page.get_by_text(NOT_SAVED)).to_contain_text("5")
        asked: list[str] = []

        def leave(dialog: Dialog) -> None:
            asked.append(dialog.type)
            dialog.accept()

        page.once("dialog", leave)
        with page.expect_event("close"):
            page.close(run_before_unload=True)
        self.assertEqual(asked, ["beforeunload"])
        self.server.start()
        other = self._browser_page(page)
        other.goto(f"{self.server.url}/ingredients")
        wanted = [("seen", "emulsion"), ("seen", "light"), ("split", None)]
        kinds: list[tuple[str, str | None]] = []
        for _ in range(60):  # one after the other, each when the last was answered
            kinds = [(e["kind"], e.get("stage")) for e in standing(self.server.url, pour)]
            if kinds == wanted:
                break
            other.wait_for_timeout(250)
        self.assertEqual(kinds, wanted)
        expect(other.get_by_text(NOT_SAVED)).to_have_count(0)

    @staticmethod
    def _browser_page(page: Page) -> Page:
        other = page.context.new_page()
        other.set_default_timeout(20_000)
        return other

    def test_a_bench_opened_while_the_server_is_away_says_so_and_recovers(self) -> None:
        page = self.page
        pour = begin(page, self.server.url)
        page.route("**/api/**", lambda route: route.fulfill(status=500, body="{}"))
        page.goto(f"{self.server.url}/pours/{pour}")
        expect(page.get_by_text("no answer: taps are kept here")).to_be_visible()
        page.unroute("**/api/**")
        expect(page.get_by_role("button", name=re.compile("It is at emulsion"))).to_be_visible(timeout=15_000)

    def test_a_device_whose_clock_is_set_taps_by_its_running_time(self) -> None:
        page = self.page
        pour = begin(page, self.server.url)
        page.keyboard.press("1")
        expect(page.locator("[data-test=recent]")).to_contain_text("emulsion")
        page.evaluate("(() => { const now = Date.now; Date.now = () => now() + 66 * 60000 })()")
        page.keyboard.press("2")
        expect(page.locator("[data-test=recent]")).to_contain_text("light")
        expect(page.get_by_text(SAVED)).to_be_visible(timeout=15_000)
        first, second = standing(self.server.url, pour)
        self.assertAlmostEqual(second["minute"] - first["minute"], 0, delta=0.5)

    def test_pages_open_where_the_browser_keeps_nothing_and_names_no_language(self) -> None:
        nothing = "{ get() { throw new DOMException('kept nowhere', 'SecurityError') } }"
        for what in ("localStorage", "sessionStorage", "indexedDB"):
            self.page.add_init_script(f"Object.defineProperty(window, '{what}', {nothing})")
        self.page.add_init_script("Object.defineProperty(navigator, 'language', { get: () => 'en-US@posix' })")
        for path, words in (("/", "Recipes"), ("/pours", "Logbook"), ("/workshop", "Workshop"), ("/stock", "New lot")):
            self.open(path)
            self.assertIn(words, self.page.inner_text("main"))
        self.open(f"/recipes/{RECIPE}")
        self.assertRegex(self.page.inner_text("main"), r"NaOH|Sodium hydroxide")

    def test_a_tab_that_an_update_left_behind_opens_the_new_page(self) -> None:
        page = self.page
        self.expected = re.compile("status of 404|Failed to fetch dynamically")
        self.open("/")
        gone = {"times": 0}

        def first(route: Route) -> None:
            gone["times"] += 1
            if gone["times"] == 1:
                route.fulfill(status=404, body="")
            else:
                route.continue_()

        page.route(re.compile(r"assets/PracticeView-.*\.js"), first)
        page.get_by_role("link", name="Practice").click()
        expect(page.get_by_role("heading", name="Practice")).to_be_visible()
        self.assertGreaterEqual(gone["times"], 2)


class Reloaded(RealBrowser):
    command = "demo"
    workers = "allow"

    def test_a_bench_loaded_anew_without_a_network_takes_taps(self) -> None:
        page = self.page
        self.expected = re.compile("ERR_CONNECTION_REFUSED|ERR_INTERNET_DISCONNECTED|Failed to load")
        pour = begin(page, self.server.url)
        page.keyboard.press("1")
        expect(page.get_by_text(SAVED)).to_be_visible(timeout=15_000)
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.wait_for_function("async () => (await (await caches.open('shell')).keys()).length > 20")
        page.wait_for_timeout(3200)  # what the bench shows is kept every few seconds
        self.server.stop()
        page.reload()
        expect(page.locator("[data-test=recent]")).to_contain_text("emulsion", timeout=20_000)
        page.keyboard.press("2")
        expect(page.get_by_text(NOT_SAVED)).to_be_visible()
        self.server.start()
        expect(page.get_by_text(SAVED)).to_be_visible(timeout=20_000)
        self.assertEqual([e["stage"] for e in standing(self.server.url, pour)], ["emulsion", "light"])
