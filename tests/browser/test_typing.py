"""What is typed is what stands: on screen, stored and weighed, however fast the hand and however late the answers.

`bench.typing` does in every field of every place, at many paces, what the check does in a few.
"""

import json
import re
import urllib.request
from collections.abc import Iterator
from typing import Any

from playwright.sync_api import ElementHandle, Page

from tests.browser.real import RealBrowser, quiet

RECIPE = "5107e000-0000-4000-8000-000100000001"
# Each answer comes so much later, half of it on the way there and half on the way back.
LATE = """late => {
  const asked = window.fetch
  const wait = () => new Promise((done) => setTimeout(done, late / 2))
  window.fetch = (...what) => wait().then(() => asked(...what)).then((answer) => wait().then(() => answer))
}"""
FIELDS = "main input:not([type]), main input[type=text], input.field:not([type])"
WHOLE = re.compile("how many|planks|to a bar|bars|days", re.IGNORECASE)  # figures that are whole numbers
# Told back as the scale or the clock shows them, not as they were typed.
ROUNDED = re.compile("weight|cups|minutes|fragrance", re.IGNORECASE)


def label(field: ElementHandle) -> str:
    told = field.evaluate("e => e.getAttribute('aria-label') || (e.labels && e.labels[0] ? e.labels[0].innerText : '')")
    return str(told).strip()


def fields(page: Page) -> Iterator[ElementHandle]:
    """Every field of a place that can be typed in, but for what only searches or picks."""
    for found in page.query_selector_all(FIELDS):
        if found.is_visible() and found.is_enabled() and found.get_attribute("role") != "combobox" and label(found):
            yield found


def another(field: ElementHandle) -> str:
    """Something else that can stand in a field."""
    was, name = field.input_value(), label(field)
    if not field.get_attribute("inputmode"):
        return f"Reed {name[-1]} by 40,25"
    value = float(was or 0)
    if WHOLE.search(name) or field.get_attribute("inputmode") == "numeric":
        return str(int(value) + 1)
    return f"{value * 0.97:.2f}" if value else "0.75"


def same(stands: str, typed: str, name: str) -> bool:
    if stands == typed:
        return True
    try:
        there, wanted = float(stands), float(typed)
    except ValueError:
        return False
    return there == wanted or (bool(ROUNDED.search(name)) and abs(there - wanted) <= max(0.051, wanted / 2000))


def stored(url: str, what: str = "") -> Any:
    with urllib.request.urlopen(f"{url}/api/recipes/{RECIPE}{what}") as answer:
        return json.load(answer)


def saved(page: Page) -> None:
    """Nothing is held, asked or unsaved any more."""
    page.wait_for_timeout(420)
    page.get_by_role("status").get_by_text("saved", exact=True).wait_for(timeout=15_000)
    quiet(page)
    page.get_by_role("status").get_by_text("saved", exact=True).wait_for(timeout=15_000)


def typed(page: Page, field: ElementHandle, keys: float) -> str:
    """Type another thing into a field at so many milliseconds a key, and leave it; what was typed."""
    text = another(field)
    field.click()
    field.evaluate("e => e.select()")
    page.keyboard.type(text, delay=keys)
    page.keyboard.press("Tab")
    return text


def field_of(page: Page, name: str) -> ElementHandle:
    return next(f for f in fields(page) if label(f) == name)


class Typing(RealBrowser):
    command = "demo"

    def unfolded(self, place: str) -> None:
        """Open what the fields stand in."""
        if place:
            folded = self.page.locator("section[aria-labelledby=portions] li > button[aria-expanded=false]")
            while folded.count():
                folded.first.click()
            return
        self.opened("lye")
        self.opened("Olive")

    def check(self, place: str, parts: tuple[str, ...], keys: float, late: float) -> None:
        page, told = self.page, {}
        self.open(f"/recipes/{RECIPE}{place}")
        page.evaluate(LATE, late)
        self.unfolded(place)
        for part in parts:
            name = next(label(f) for f in fields(page) if part in label(f))
            told[name] = typed(page, field_of(page, name), keys)
        saved(page)
        for moment in ("as typed", "stored"):
            for name, text in told.items():
                with self.subTest(name, keys=keys, late=late, moment=moment):
                    stands = field_of(page, name).input_value()
                    self.assertTrue(same(stands, text, name), f"{text}: {stands}")
            self.open(f"/recipes/{RECIPE}{place}")
            self.unfolded(place)

    def test_fields_hold_what_the_hand_typed(self) -> None:
        self.check("", ("Name of the recipe", "Castor, percent of fats", "superfat", "Olive, weight"), 80, 150)
        worksheet = stored(self.server.url, "/worksheet")
        lye = next(x["shown"] for s in worksheet["steps"] for x in s["lines"] if x["kind"] == "alkali")
        self.assertIn(lye.replace("\xa0", " "), self.page.inner_text("main").replace("\xa0", " "))
        self.assertAlmostEqual(sum(f["share"] for f in stored(self.server.url)["recipe"]["fats"]), 1.0, places=6)

    def test_names_of_portions_hold_what_the_hand_typed(self) -> None:
        self.check("/plan", ("Name of portion 1", "Name of portion 2"), 130, 60)
