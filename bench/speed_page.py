"""How long a hand waits for the page: keystrokes, knobs, steps and taps in a real browser."""

import json
import statistics
import tempfile
from pathlib import Path
from typing import Any, cast
from urllib.request import Request, urlopen
from uuid import uuid4

from playwright.sync_api import sync_playwright

from roundstone.core.recipe import Design, Portion
from roundstone.demo.recipes import RECIPES
from tests.browser.real import CHROMIUM, FLAGS, Server

KNOB = """value => new Promise(done => {
  const knob = document.querySelector('.knob input')
  const place = document.querySelector('[aria-label=Knobs]')
  const begun = performance.now()
  const watch = new MutationObserver(() => {
    if (!place.querySelector('[role=status]')?.textContent.includes('medium')) return
    watch.disconnect()
    requestAnimationFrame(() => done(performance.now() - begun))
  })
  watch.observe(place, { characterData: true, childList: true, subtree: true })
  knob.value = value
  knob.dispatchEvent(new Event('input'))
})"""
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
STEP = """([from, way]) => new Promise((done) => {
  const block = [...document.querySelectorAll('[data-row]')].find((b) => b.title.startsWith(from))
  const row = block.dataset.row, start = performance.now()
  const look = () => {
    const now = [...document.querySelectorAll('[data-row]')].find((b) => b.title.startsWith(from))
    if (now && now.dataset.row !== row) done(performance.now() - start)
    else requestAnimationFrame(look)
  }
  block.dispatchEvent(new KeyboardEvent('keydown', { key: way, altKey: true, bubbles: true }))
  requestAnimationFrame(look)
})"""


def in_the_browser() -> tuple[float, float, float]:
    """From a key in the superfat's field to a new lye weight painted, on the twelve-fat recipe, from a knob turned on
    its Forecast to the ghost's figures painted, and from a step moved in a plan of five colours to its block painted at
    its new place, in ms.
    """
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server("demo", Path(folder) / "bench.sqlite")
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        try:
            page = browser.new_page()
            page.goto(f"{server.url}/recipes/5107e000-0000-4000-8000-000100000007")
            page.wait_for_selector("[data-test=lye]")
            page.wait_for_load_state("networkidle")
            page.get_by_role("button", name="Change lye, water, superfat").click()
            key = statistics.median(page.evaluate(KEYSTROKE, f"{5 + n % 7}.{n % 9}") for n in range(1, 31))
            page.goto(f"{server.url}/recipes/5107e000-0000-4000-8000-000100000007/forecast")
            page.wait_for_selector(".knob input")
            page.wait_for_load_state("networkidle")
            spent = []
            for n in range(20):
                spent.append(page.evaluate(KNOB, str(25 + n)))
                page.get_by_role("button", name="Discard").click()
            page.goto(f"{server.url}/recipes/5107e000-0000-4000-8000-000100000008/plan")
            page.wait_for_selector("[title^='drop Fig,']")
            page.wait_for_load_state("networkidle")
            ways = ("ArrowLeft", "ArrowRight")
            moves = []
            for n in range(20):
                page.wait_for_timeout(900)  # at a hand's pace
                moves.append(page.evaluate(STEP, ["drop Fig,", ways[n % 2]]))
            return key, statistics.median(spent), statistics.median(moves)
        finally:
            browser.close()
            server.stop()


# Tap a stage; resolve with the ms until both the taps' count and what is said of the lane have changed on the screen.
TAP = """([portion, stage]) => new Promise((done) => {
  const lane = [...document.querySelectorAll('[role=radio]')].find((b) => b.title === portion)
  lane.click()
  setTimeout(() => {
    const key = [...document.querySelectorAll('button[aria-pressed]')].find((b) => b.innerText.startsWith(stage))
    const kept = () => [...document.querySelectorAll('[role=status]')].map((e) => e.innerText).join()
    const before = kept()
    const start = performance.now()
    const drawn = () => requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now() - start)))
    // Told of a change, not asking at every frame: what is measured must not be slowed by it.
    const watch = new MutationObserver(() => {
      const now = kept()
      if (now === before || !now.includes('all saved')) return
      watch.disconnect()
      drawn()
    })
    watch.observe(document.body, { subtree: true, childList: true, characterData: true })
    key.click()
  }, 60)
})"""
EIGHT = ("Husk", "Straw", "Ash", "Fig", "Clay", "Moss", "Ink", "Bone")


def eight_portions() -> float:
    """A pour of eight portions with 120 events behind it: ms from a tap to ribbon and sentence on screen, 95 in 100."""
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server("demo", Path(folder) / "bench.sqlite")
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        try:

            def call(method: str, path: str, body: object) -> dict[str, Any]:
                sent = json.dumps(body).encode()
                head = {"Content-Type": "application/json"}
                with urlopen(Request(f"{server.url}/api{path}", sent, head, method=method)) as said:
                    return cast(dict[str, Any], json.load(said))

            portions = tuple(Portion(name=n, share=0.125) for n in EIGHT)
            of = RECIPES[0].model_copy(
                update={"additives": (), "design": Design(portions=portions, technique="hanger-swirl")}
            )
            made = call("POST", "/recipes", {"copy_of": None, "name": "Eight"})
            call("PUT", f"/recipes/{made['id']}", {"revision": 1, "recipe": of.model_dump(mode="json")})
            pour = call("POST", "/pours", {"recipe_id": made["id"]})["id"]
            taps: list[dict[str, Any]] = [{"kind": "seen", "stage": "emulsion"}, {"kind": "split"}]
            taps += [{"kind": "scent", "portion": n} for n in EIGHT]
            kinds: list[dict[str, Any]] = [{"kind": "seen", "stage": "emulsion"}] * 9
            kinds += [{"kind": "work", "tool": "hand", "seconds": 2}, {"kind": "remark", "what": "air"}]
            taps += [{**kinds[n % len(kinds)], "portion": EIGHT[n % 8]} for n in range(110)]
            for n, tap in enumerate(taps):
                event = {"id": str(uuid4()), "minute": 0.01 + 0.002 * n, "sure": True, **tap}
                call("POST", f"/pours/{pour}/events", {"event": event})
            page = browser.new_page()
            page.goto(f"{server.url}/pours/{pour}")
            page.wait_for_selector("[data-test=recent]")
            page.wait_for_timeout(1500)
            spent = []
            for n in range(40):
                spent.append(page.evaluate(TAP, [EIGHT[n % 8], "emulsion"]))
                page.wait_for_timeout(700)  # at a hand's pace
            return sorted(spent)[int(0.95 * len(spent))]
        finally:
            browser.close()
            server.stop()
