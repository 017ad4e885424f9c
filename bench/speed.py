"""How fast the things a maker waits for are. `python -m bench.speed`; ratios and medians within one run."""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import gzip
import http.client
import json
import re
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from playwright.sync_api import sync_playwright

from roundstone.core.clock import believe, draw
from roundstone.core.course import lay_out
from roundstone.core.learn import learn
from roundstone.core.pour import Event, ScentIn, Split, replay
from roundstone.core.recipe import Design, Dose, Portion
from roundstone.core.weigh import weigh
from roundstone.demo.workshop import RECIPES
from roundstone.store import Workshop
from roundstone.web import create_app
from roundstone.web.app import STATIC
from tests.browser.real import CHROMIUM, FLAGS, Server
from tests.samples import SHELF, TRADE, next_id, quick_pour, recipe, seen, weighed


def median_ms(act: Callable[[], object], times: int) -> float:
    act()
    spent = []
    for _ in range(times):
        start = time.perf_counter()
        act()
        spent.append((time.perf_counter() - start) * 1000)
    return statistics.median(spent)


def tap_to_quantiles() -> float:
    """Five portions, 400 draws, a dozen taps: from the events to every stage's quantiles."""
    names = ("Base", "Bone", "Slate", "Moss", "Clay")
    portions = tuple(Portion(name=n, share=0.2, scented=i % 2 == 0) for i, n in enumerate(names))
    of = recipe(design=Design(portions=portions, technique="drop-swirl"))
    sheet = weighed(of)
    events: list[Event] = [seen(0.5, "emulsion"), Split(id=next_id(), minute=1.5)]
    events += [ScentIn(id=next_id(), minute=3.0, portion=p.name) for p in portions if p.scented]
    events += [seen(3.5 + 0.3 * i, "light", p.name) for i, p in enumerate(portions)]
    events += [seen(6.0, "medium", "Base"), seen(6.5, "light", "Bone")]

    def act() -> None:
        course = lay_out(of, sheet, TRADE, SHELF, replay(events), 7.0)
        belief = believe(TRADE, course.seen, course.terms, course.measured)
        draws = draw(belief, course.lanes, course.known, seed=1)
        for i in range(len(portions)):
            for level in (2.0, 3.0, 4.0, 5.0):
                draws.quantiles(i, level)

    return median_ms(act, 60)


def weighing() -> float:
    additives = tuple(Dose(additive=a, amount=2) for a in sorted(SHELF.additives)[:10])
    of = RECIPES[7].model_copy(update={"scents": (), "additives": additives})
    if weigh(of, SHELF).sheet is None:
        raise RuntimeError("the bench's own recipe has a fault")
    return median_ms(lambda: weigh(of, SHELF), 200)


def refit(pours: int) -> float:
    of, sheet = recipe(), weighed(recipe())
    state = replay(quick_pour())
    courses = [lay_out(of, sheet, TRADE, SHELF, state, 8.0) for _ in range(pours)]
    return median_ms(lambda: learn(TRADE, courses), 3)


def requests() -> tuple[float, float]:
    """Round trips in ms, one server, one connection: a POST that is only read and answered, and a forecast."""
    with tempfile.TemporaryDirectory() as folder:
        server = Server("demo", Path(folder) / "bench.sqlite")
        try:
            connection = http.client.HTTPConnection("127.0.0.1", server.port)

            def ask(method: str, path: str, body: str) -> None:
                connection.request(method, path, body, {"Content-Type": "application/json"})
                answer = connection.getresponse()
                answer.read()
                if answer.status != (422 if body == "{}" else 200):
                    raise RuntimeError(f"{path}: {answer.status}")

            forecast = json.dumps({"recipe": RECIPES[0].model_dump(mode="json"), "seed": "bench"})
            spent: dict[str, list[float]] = {"{}": [], forecast: []}
            # By turns, so that both see the same moods of the machine.
            for _ in range(200):
                for body, times in spent.items():
                    start = time.perf_counter()
                    ask("POST", "/api/forecast", body)
                    times.append((time.perf_counter() - start) * 1000)
            return statistics.median(spent["{}"]), statistics.median(spent[forecast])
        finally:
            server.stop()


KEYSTROKE = """value => new Promise(done => {
  const lye = document.querySelector('[data-test=lye]')
  const field = document.querySelector('[data-pointer="/superfat"]')
  const begun = performance.now()
  new MutationObserver((_, watch) => {
    watch.disconnect()
    requestAnimationFrame(() => done(performance.now() - begun))
  }).observe(lye, { characterData: true, childList: true, subtree: true })
  field.value = value
  field.dispatchEvent(new Event('input'))
})"""


def keystroke() -> float:
    """From a key in the superfat's field to a new lye weight painted, on the twelve-fat recipe, in ms."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server("demo", Path(folder) / "bench.sqlite")
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        try:
            page = browser.new_page()
            page.goto(f"{server.url}/recipes/5107e000-0000-4000-8000-000100000007")
            page.wait_for_selector("[data-test=lye]")
            page.wait_for_load_state("networkidle")
            return statistics.median(page.evaluate(KEYSTROKE, f"{5 + n % 7}.{n % 9}") for n in range(1, 31))
        finally:
            browser.close()
            server.stop()


def five_hundred_recipes() -> float:
    """The list of 500 recipes, through the API, in ms; searching it is done in the page."""
    with tempfile.TemporaryDirectory() as folder:
        workshop = Workshop(Path(folder) / "bench.sqlite")
        for n in range(500):
            workshop.add_recipe(f"r{n}", RECIPES[n % len(RECIPES)], datetime.now(UTC))
        client = create_app(workshop).test_client()
        spent = median_ms(lambda: client.get("/api/recipes"), 15)
        workshop.close()
        return spent


def main_bundle_kb() -> float:
    """What a first visit must load before it can draw: the entry script, gzipped."""
    page = (STATIC / "index.html").read_text()
    return (
        sum(len(gzip.compress((STATIC / s).read_bytes())) for s in re.findall(r'src="/(assets/[^"]+\.js)"', page))
        / 1000
    )


def main() -> int:
    trivial, forecast = requests()
    rows = [
        ("tap to quantiles, 5 portions, 400 draws", tap_to_quantiles(), 10.0, "ms"),
        ("weighing 12 fats and 10 additives", weighing(), 3.0, "ms"),
        ("forecast request ÷ trivial request", forecast / trivial, 10.0, "×"),
        ("refit of 100 pours", refit(100), 300.0, "ms"),
        ("keystroke to new figures on screen", keystroke(), 100.0, "ms"),
        ("500 recipes listed", five_hundred_recipes(), 50.0, "ms"),
        ("main bundle, gzipped", main_bundle_kb(), 150.0, "kB"),
    ]
    print(f"trivial request {trivial:.2f} ms, forecast request {forecast:.2f} ms")
    for name, found, target, unit in rows:
        print(f"{'ok  ' if found < target else 'OVER'} {name}: {found:.2f} {unit} (target under {target:g})")
    return 0 if all(found < target for _, found, target, _ in rows) else 1


if __name__ == "__main__":
    sys.exit(main())
