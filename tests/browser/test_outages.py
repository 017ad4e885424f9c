"""The network, the server and the device fail under the bench; every tap that was seen is stored, or stands open.

`bench.faults` does a hundred times here what the check does a few times.
"""

import json
import re
import urllib.request
from typing import Any

import numpy as np
from playwright.sync_api import Dialog, Page, expect

from tests.browser.real import RealBrowser

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
    page.get_by_role("button", name="Start the pour").click()
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
        other.set_default_timeout(8000)
        return other

    def test_a_bench_opened_while_the_server_is_away_says_so_and_recovers(self) -> None:
        page = self.page
        pour = begin(page, self.server.url)
        page.route("**/api/**", lambda route: route.fulfill(status=500, body="{}"))
        page.goto(f"{self.server.url}/pours/{pour}")
        expect(page.get_by_role("main")).to_contain_text(re.compile("not answering|does not answer|away", re.I))
        page.unroute("**/api/**")
        expect(page.get_by_role("button", name=re.compile("It is at emulsion"))).to_be_visible(timeout=15_000)

    def test_a_device_that_slept_taps_by_the_wall(self) -> None:
        page = self.page
        page.clock.install()
        pour = begin(page, self.server.url)
        page.keyboard.press("1")
        expect(page.locator("[data-test=recent]")).to_contain_text("emulsion")
        page.clock.fast_forward("08:00")
        page.keyboard.press("2")
        expect(page.locator("[data-test=recent]")).to_contain_text("light")
        page.clock.run_for(2000)
        expect(page.get_by_text(SAVED)).to_be_visible(timeout=15_000)
        first, second = standing(self.server.url, pour)
        self.assertAlmostEqual(second["minute"] - first["minute"], 8, delta=0.5)
