"""Does what is typed stand? `python -m bench.typing` types into every field of every place of a draft, by hand.

Each field is typed in at four paces, each under another lateness of the answers, so that all sixteen pairs come up; it
must stand on screen as typed, and again when the place is opened anew. `--write` puts the count into the docs.
"""

import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from bench.page import put, table
from tests.browser import test_typing as hand
from tests.browser.real import CHROMIUM, FLAGS, QUIET, Server, demo_file, quiet

PACES, LATE = (15, 60, 130, 300), (0, 60, 150, 400)  # ms a key, ms until an answer is there
PLACES = ("", "/plan", "/forecast")
BY_KEY = "Name of the pattern"  # kept by its own key alone


def opened(page: Page, url: str, place: str, late: float) -> None:
    page.goto(f"{url}/recipes/{hand.RECIPE}{place}")
    quiet(page)
    for more in page.locator("main button[aria-expanded=false]:not([aria-haspopup])").all():
        if more.is_visible():
            more.click()
    page.evaluate(hand.LATE, late)


def stands(page: Page, name: str) -> str | None:
    return next((f.input_value() for f in hand.fields(page) if hand.label(f) == name), None)


def tried(page: Page, url: str, place: str) -> tuple[int, list[str]]:
    """How often was typed in a place, and what did not stand."""
    opened(page, url, place, 0)
    names = [n for n in dict.fromkeys(hand.label(f) for f in hand.fields(page)) if not n.startswith(BY_KEY)]
    wrong, times = [], 0
    for n, name in enumerate(names):
        for pace, keys in enumerate(PACES):
            late = LATE[(n + pace) % len(LATE)]
            opened(page, url, place, late)
            field = next((f for f in hand.fields(page) if hand.label(f) == name), None)
            if field is None:
                continue  # what was typed before took its row away
            text = hand.typed(page, field, keys)
            hand.saved(page)
            here = stands(page, name)
            opened(page, url, place, 0)
            there = stands(page, name)
            times += 1
            if not all(s is None or hand.same(s, text, name) for s in (here, there)):
                wrong.append(f"{place or '/'} {name}, {keys} ms a key, answers {late} ms late: {text}, {here}, {there}")
                print(wrong[-1])
    return times, wrong


def main() -> None:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        file = Path(folder) / "typed.sqlite"
        file.write_bytes(demo_file())
        server = Server("demo", file)
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        context = browser.new_context(viewport={"width": 1280, "height": 1600}, locale="en-GB")
        context.add_init_script(QUIET)
        page = context.new_page()
        rows = []
        for place in PLACES:
            times, wrong = tried(page, server.url, place)
            rows.append((place or "/", str(times), str(len(wrong))))
        browser.close()
        server.stop()
    told = table(("place", "times typed", "did not stand"), rows)
    print(told)
    if "--write" in sys.argv:
        put("typing", told, "reliability.md")


if __name__ == "__main__":
    main()
