"""What is on a screen as it opens? `python -m bench.glance` counts, place by place, on the demo workshop.

Words and controls that can be seen in a window of 1280 by 800, scrolled to its end; controls smaller than 44 px on a
phone; what moved after the first paint (cumulative layout shift, as browsers report it), when the largest thing was
painted, requests and kilobytes of a first opening. `--write` puts the table into the docs.
"""

import sys
import tempfile
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, sync_playwright

from bench.page import put, table
from tests.browser.real import CHROMIUM, FLAGS, QUIET, Server, demo_file, quiet

RECIPE = "/recipes/5107e000-0000-4000-8000-000100000008"
OF_RECIPE = ("", "/forecast", "/plan", "/ready")
PLACES = ("/", *(RECIPE + p for p in OF_RECIPE), "/pours", "/rest", "/shelf", "/ingredients", "/stock", "/colours",
          "/score-card", "/practice", "/workshop", "/words")  # fmt: skip
CONTROLS = "a[href], button, input:not([type=hidden]), select, textarea, [role=radio], summary"
WATCH = """
window.seen = { shift: 0, largest: 0 }
new PerformanceObserver((l) => l.getEntries().forEach((e) => { if (!e.hadRecentInput) seen.shift += e.value })).observe(
  { type: 'layout-shift', buffered: true })
new PerformanceObserver((l) => l.getEntries().forEach((e) => { seen.largest = e.startTime })).observe(
  { type: 'largest-contentful-paint', buffered: true })
"""
COUNT = """controls => {
  const shown = (e) => e.checkVisibility({ opacityProperty: true, visibilityProperty: true })
    && e.getClientRects().length && !e.closest('.sr-only')
  const all = [...document.querySelectorAll(controls)].filter(shown)
  const small = all.filter((e) => {
    const of = e.closest('label') ?? e
    const { width, height } = of.getBoundingClientRect()
    return Math.min(width, height) < 44
  })
  const sent = performance.getEntriesByType('resource').concat(performance.getEntriesByType('navigation'))
  return {
    words: document.body.innerText.split(/\\s+/).filter((w) => /[\\p{L}]/u.test(w)).length,
    controls: all.length, small: small.length, ...seen, requests: sent.length,
    script: sent.filter((e) => e.name.endsWith('.js')).reduce((n, e) => n + e.encodedBodySize, 0) / 1000,
  }
}"""


def looked_at(browser: Browser, url: str, place: str, width: int, height: int) -> dict[str, Any]:
    """What is there once the place has come to rest, in a browser that never was there."""
    context = browser.new_context(viewport={"width": width, "height": height}, locale="en-GB", service_workers="block")
    context.add_init_script(QUIET + WATCH)
    page = context.new_page()
    page.goto(url + place)
    quiet(page)
    page.wait_for_timeout(400)
    found: dict[str, Any] = page.evaluate(COUNT, CONTROLS)
    context.close()
    return found


def main() -> None:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        file = Path(folder) / "glance.sqlite"
        file.write_bytes(demo_file())
        server = Server("demo", file)
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        looked_at(browser, server.url, RECIPE, 1280, 800)  # the log is read by then
        rows = []
        for place in PLACES:
            wide = looked_at(browser, server.url, place, 1280, 800)
            phone = looked_at(browser, server.url, place, 390, 844)
            rows.append(
                (
                    place.replace(RECIPE, "recipe"),
                    str(wide["words"]),
                    str(wide["controls"]),
                    f"{phone['small']} of {phone['controls']}",
                    f"{max(wide['shift'], phone['shift']):.2f}",
                    f"{wide['largest']:.0f}",
                    str(wide["requests"]),
                    f"{wide['script']:.0f}",
                )
            )
        browser.close()
        server.stop()
    heads = (
        "place",
        "words",
        "controls",
        "under 44 px on a phone",
        "shift",
        "largest painted, ms",
        "requests",
        "script, kB",
    )
    told = table(heads, rows)
    print(told)
    if "--write" in sys.argv:
        put("glance", told, "reliability.md")


if __name__ == "__main__":
    main()
