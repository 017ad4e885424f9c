"""Takes the pictures in this folder from a freshly seeded demo workshop: `./bin/screenshots`."""

import json
import re
import sqlite3
import sys
import tempfile
from contextlib import closing
from datetime import date, timedelta
from pathlib import Path
from typing import Any
from urllib.request import Request, urlopen
from uuid import uuid4

from playwright.sync_api import Page, sync_playwright

from tests.browser.real import CHROMIUM, FLAGS, Server

HERE = Path(__file__).parent
RECIPE = "5107e000-0000-4000-8000-00010000000{}"
LAST = "5107e000-0000-4000-8000-000200000019"
RUNNING = "5107e000-0000-4000-8000-000000000026"


def settle(page: Page) -> None:
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(400)


def accelerate(page: Page) -> None:
    """Scent goes in, and the batter moves: light, then medium, some seconds later."""
    page.get_by_role("button", name=re.compile("^Scent is in")).click()
    for stage in ("light", "medium", "thick"):
        page.wait_for_timeout(4000)
        page.get_by_role("button", name=re.compile(f"^{stage}")).click()
        page.wait_for_timeout(700)
        if page.locator("[data-test=to-answer]").count():
            page.locator("[data-test=to-answer]").click()
            page.locator("[data-test=doubts]").get_by_role("button", name="Keep").first.click()
            page.wait_for_timeout(700)


PACE = (0.8, 2.4, 3.3, 4.0, 4.6, 5.3, 5.9, 6.4)  # minutes of a pour's first big keys, as hands come to them


def in_mid_pour(server: Server, recipe: str) -> str:
    """A pour some minutes old, its big key pressed at a real pour's pace; its address."""

    def call(method: str, path: str, body: object = None) -> dict[str, Any]:
        sent = None if body is None else json.dumps(body).encode()
        head = {"Content-Type": "application/json"}
        with urlopen(Request(f"{server.url}/api{path}", sent, head, method=method)) as said:
            told: dict[str, Any] = json.load(said)
            return told

    view = call("POST", "/pours", {"recipe_id": recipe, "sure": True})
    with closing(sqlite3.connect(server.data)) as file, file:
        back = f"-{round(60 * PACE[-1]) + 12} seconds"
        file.execute("UPDATE pour SET started = datetime(started, ?) WHERE id = ?", (back, view["id"]))
    for minute in PACE:
        event = view["bench"]["keys"][0]["event"] | {"id": str(uuid4()), "minute": minute}
        view = call("POST", f"/pours/{view['id']}/events", {"event": event})
    return f"/pours/{view['id']}"


def planned_days(server: Server) -> None:
    """Four pours planned for the days to come, two of them in one mould."""
    for recipe, days in ((0, 3), (2, 4), (3, 8), (8, 8)):
        on = (date.today() + timedelta(days=days)).isoformat()
        body = json.dumps({"nth": None, "was": "", "day": on}).encode()
        path = f"{server.url}/api/recipes/{RECIPE.format(recipe)}/days"
        urlopen(Request(path, body, {"Content-Type": "application/json"}, method="PUT")).close()


def ticked(page: Page) -> None:
    """The tools stand ready, and some of the colours are in their cups."""
    for stage, many in (("Tools", 11), ("Colours in cups", 4)):
        page.get_by_role("navigation", name="Stages").get_by_role("button", name=stage).click()
        for item in page.get_by_role("checkbox").all()[:many]:
            item.click()
            page.wait_for_timeout(150)


def practised(page: Page) -> None:
    """A fast batter, poured by the screen to its end."""
    page.get_by_role("radio", name=re.compile("^Fast")).click()
    page.get_by_label("ten times as fast").check()
    page.get_by_role("button", name="Lye meets fats").click()
    page.locator("[data-test=sight]").wait_for()
    words = ("oil still", "no trail", "a trail that sinks", "a trail that stands", "a ridge", "a peak")
    for _ in range(40):
        if page.locator("[data-test=debrief]").count():
            return
        said = " ".join(page.locator("[data-test=sight]").all_inner_texts())
        seen = next((i for i, w in enumerate(words) if w in said), 0)
        if seen:
            page.keyboard.press(str(seen))
            page.wait_for_timeout(500)
        if words[0] not in said:
            page.keyboard.press("n")
        page.wait_for_timeout(700)


def ghost(page: Page) -> None:
    """A warmer pour, tried on the knobs."""
    page.get_by_role("slider", name="pour at").fill("40")


def foretold(page: Page) -> None:
    page.get_by_text(re.compile("^Medium trace in")).wait_for(timeout=30_000)


def scored(page: Page) -> None:
    page.get_by_text(re.compile("^Tuned from")).wait_for(timeout=60_000)


def two_pours(page: Page) -> None:
    boxes = page.get_by_role("checkbox", name=re.compile("^Compare Millrace"))
    boxes.nth(0).check()
    boxes.nth(1).check()
    page.get_by_role("button", name="What differed?").click()


def tried(page: Page) -> None:
    """A fall-back stood ready, and the first lever tried."""
    page.get_by_role("button", name=re.compile("^Try: ")).first.click()


def main() -> int:
    with tempfile.TemporaryDirectory(prefix="round-stone-") as folder, sync_playwright() as playwright:
        server = Server("demo", Path(folder) / "demo.sqlite")
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)

        def take(name: str, path: str, size: tuple[int, int] = (1280, 800), act: object = None) -> None:
            page = browser.new_page(locale="en-GB", viewport={"width": size[0], "height": size[1]})
            page.goto(server.url + path)
            settle(page)
            if callable(act):
                act(page)
                settle(page)
            page.screenshot(path=HERE / f"{name}.png")
            page.close()
            print(f"{name}.png")

        try:
            take("score-card", "/score-card", act=scored)
            take("recipes", "/")
            take("others", "/others")
            planned_days(server)
            take("calendar", "/calendar")
            take("recipe", f"/recipes/{RECIPE.format(0)}", act=foretold)
            take("bench-sheet", f"/recipes/{RECIPE.format(8)}/bench-sheet", (1280, 1100))
            take("plan", f"/recipes/{RECIPE.format(8)}/plan", (1280, 1100), act=tried)
            take("forecast", f"/recipes/{RECIPE.format(0)}/forecast", (1280, 1180), act=ghost)
            take("shelf", "/shelf")
            take("fragrance", "/shelf/vanilla-smoke")
            take("colours", "/colours")
            take("logbook", "/pours")
            take("rest", f"/pours/{LAST}/rest")
            take("what-differed", "/pours", act=two_pours)
            take("pour-phone", f"/pours/{RUNNING}", (390, 844))
            take("ready", f"/recipes/{RECIPE.format(8)}/ready", act=ticked)
            take("pour", in_mid_pour(server, RECIPE.format(8)), act=lambda page: page.wait_for_timeout(2000))
            take("practice", "/practice", act=practised)
            take("pour-accelerated", f"/pours/{RUNNING}", act=accelerate)
        finally:
            browser.close()
            server.stop()
    return 0


if __name__ == "__main__":
    sys.exit(main())
