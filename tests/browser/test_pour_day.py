"""A day at the bench: ready check, eight portions on every screen, gates, a fold, two days, and practice."""

import json
import re
import sqlite3
import urllib.request
from contextlib import closing
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

from playwright.sync_api import expect

from tests.browser.real import RealBrowser, combine
from tests.samples import many as examples

SIZES = ((1280, 800), (1024, 768), (390, 844))
TINTS = ("#c79a5b", "#6d3552", "#74883f", "#27406e", "#efe6d4", "#b85f3c", "#85898c", "#e3c04a")
NAMES = ("Husk", "Fig", "Moss", "Ink", "Bone", "Clay", "Ash", "Straw, the palest of them all")


class PourDay(RealBrowser):
    command = "demo"

    def call(self, method: str, path: str, body: Any = None) -> Any:
        request = urllib.request.Request(
            f"{self.server.url}/api{path}",
            method=method,
            data=None if body is None else json.dumps(body).encode(),
            headers={"Content-Type": "application/json"},
        )
        with urllib.request.urlopen(request) as answer:
            return json.load(answer)

    def recipe(self, many: int, technique: str, batches: bool = False, **changes: Any) -> str:
        """A recipe of the demo with so many portions, the first and last of them scented."""
        rows = self.call("GET", "/recipes")["recipes"]
        source = next(r["id"] for r in rows if r["name"] == "Hopper Oat")
        made = str(self.call("POST", "/recipes", {"copy_of": source, "name": f"Day of {many}"})["id"])
        kept = self.call("GET", f"/recipes/{made}")
        recipe = kept["recipe"] | changes
        portions: list[dict[str, Any]] = [
            {"name": NAMES[i], "share": 1 / many, "scent": float(i in (0, many - 1)), "tint": TINTS[i]}
            | ({"batch": f"Layer {i + 1}"} if batches and i else {})
            for i in range(many)
        ]
        portions[-1]["share"] = 1 - sum(float(p["share"]) for p in portions[:-1])
        recipe["additives"] = [a for a in recipe["additives"] if not a.get("into")]
        recipe["design"] |= {"portions": portions, "technique": technique, "steps": []}
        self.call("PUT", f"/recipes/{made}", {"revision": kept["revision"], "recipe": recipe})
        return made

    def started(self, recipe: str) -> str:
        pour = str(self.call("POST", "/pours", {"recipe_id": recipe})["id"])
        self.page.goto(f"{self.server.url}/pours/{pour}")
        return pour

    def big(self) -> str:
        """Press the big key once it is awake; what it said."""
        key = self.page.locator(".bench-main").first
        expect(key).to_be_enabled()
        message = key.inner_text().split("\n")[0]
        logged = self.page.get_by_text(re.compile(r"^\d+ events?, all saved|nothing logged yet")).inner_text()
        key.click()
        expect(self.page.get_by_text(logged, exact=True)).to_have_count(0)
        expect(self.page.get_by_text(re.compile("saving …"))).to_have_count(0)
        return message.strip()

    def fits(self) -> None:
        """Nothing scrolls, nothing is cut off, no key is too small for gloves."""
        over = self.page.evaluate(
            "[document.documentElement.scrollHeight - innerHeight, document.documentElement.scrollWidth - innerWidth]"
        )
        self.assertEqual(over, [0, 0])
        size = self.page.viewport_size or {"width": 0, "height": 0}
        for key in self.page.locator(".bench-key, .bench-main, [role=radiogroup][aria-label=Portion] button").all():
            box = key.bounding_box()
            assert box is not None
            message = key.inner_text().replace("\n", " ")
            self.assertLessEqual(box["y"] + box["height"], size["height"] + 0.5, message)
            self.assertLessEqual(box["x"] + box["width"], size["width"] + 0.5, message)
            self.assertGreaterEqual(box["height"], 56, message)
        for stage in ("emulsion", "light", "medium", "thick", "set"):
            box = self.page.get_by_role("button", name=re.compile(f"^{stage}")).bounding_box()
            assert box is not None
            self.assertGreaterEqual(min(box["height"], box["width"]), 64)

    def test_two_five_and_eight_portions_fit_on_every_screen(self) -> None:
        page = self.page
        for many in (2, 5, 8)[-examples(1, 3) :]:
            self.started(self.recipe(many, "hanger-swirl"))
            for _ in range(3):
                self.big()
            for width, height in SIZES:
                with self.subTest(many=many, width=width):
                    page.set_viewport_size({"width": width, "height": height})
                    page.wait_for_timeout(150)
                    self.fits()
            page.set_viewport_size({"width": 1280, "height": 800})
            last = page.get_by_role("radio", name=re.compile(f"^{NAMES[many - 1]}"))
            last.click()
            expect(last).to_have_attribute("aria-checked", "true")
            page.get_by_role("radio", name=re.compile("^all")).click()
            expect(last).to_have_attribute("aria-checked", "false")
        self.accessible("Bench of eight", always=True)

    def test_ready_check_and_a_calm_pour_to_its_verdict(self) -> None:
        page = self.page
        self.call("PUT", "/instruments", {"simulated": True})
        recipe = self.recipe(2, "drop-swirl")
        self.open(f"/recipes/{recipe}")
        page.get_by_role("button", name="Get ready to pour").click()
        item = page.get_by_role("checkbox", name="goggles and gloves on")
        item.click()
        expect(item).to_be_checked()
        self.accessible("Tools of the ready check", always=True)
        page.get_by_role("button", name=re.compile("^Go on: ")).click()
        expect(page.get_by_role("checkbox", name=re.compile("goggles"))).to_have_count(0)
        combine(page)
        page.get_by_role("button", name=re.compile("^log$")).first.click()
        expect(page.get_by_text("Degrees are a number.")).to_be_visible()
        page.get_by_role("button", name="read").first.click()
        field = page.get_by_label("Reading of the fat pot, °C")
        expect(field).not_to_have_value("")
        page.get_by_role("button", name=re.compile("^log$")).first.click()
        expect(page.get_by_text("Tap first that the fats are melted.")).to_be_visible()
        expect(field).not_to_have_value("")
        page.get_by_role("button", name="Fats are melted").click()
        page.get_by_role("button", name="Lye is mixed").click()
        expect(page.get_by_text(re.compile("ago, about")).first).to_be_visible()
        page.get_by_role("button", name=re.compile("^log$")).first.click()
        expect(field).to_have_value("")
        self.accessible("Ready check", always=True)
        other = page.context.new_page()
        other.goto(page.url)
        expect(other.get_by_role("checkbox", name="goggles and gloves on")).to_be_checked()
        other.close()

        page.get_by_role("button", name="Lye meets fats").click()
        said = [self.big() for _ in range(3)]
        self.assertEqual(said, ["It is at emulsion", "Batter is split", "Scent is in: Husk"])
        page.keyboard.press("m")
        dialog = page.get_by_role("dialog")
        self.accessible("More")
        dialog.get_by_role("button", name="odd colour").click()
        expect(page.locator("[data-test=recent]")).to_contain_text("an odd colour")
        page.keyboard.press("m")
        dialog.get_by_label("Another name for").fill("Dusk")
        dialog.get_by_role("button", name="call it so").click()
        expect(page.get_by_role("radio", name=re.compile("^Dusk"))).to_be_visible()
        page.keyboard.press("m")
        dialog.get_by_role("button", name="all that was logged").click()
        dialog.get_by_role("button", name=re.compile("^Take back .*odd colour")).click()
        expect(dialog.get_by_role("listitem").filter(has_text="an odd colour")).to_have_count(0)
        page.keyboard.press("Escape")
        for _ in range(14):
            if self.page.locator("[data-test=close]").count():
                break
            self.big()
        page.get_by_role("button", name="as planned", exact=True).click()
        expect(page.get_by_role("button", name="as planned", exact=True)).to_have_attribute("aria-pressed", "true")
        expect(page.locator("[data-test=close]")).to_contain_text("Now it rests")
        self.accessible("Close", always=True)

    def test_a_riced_portion_is_folded(self) -> None:
        page = self.page
        self.started(self.recipe(5, "hanger-swirl"))
        for _ in range(3):
            self.big()
        page.get_by_role("radio", name="Husk").click()
        page.keyboard.press("r")
        page.get_by_role("dialog").get_by_role("button", name="ricing").click()
        page.get_by_role("dialog").get_by_role("button", name="back to the bench").click()
        page.get_by_role("radio", name="Husk").click()
        page.keyboard.press("m")
        fold = page.get_by_role("region", name="Fold")
        fold.get_by_role("button", name="Moss").click()
        fold.get_by_role("button", name="folded").click()
        expect(page.locator("[data-test=recent]")).to_contain_text("Husk: folded into Moss")
        expect(page.get_by_role("radio", name=re.compile("Husk.*folded in"))).to_be_visible()

    def test_a_strong_scent_is_held_for_each_cups_turn(self) -> None:
        """Chosen by hand behind "more …", taken back, then by the big key: each cup is scented, then poured."""
        page = self.page
        scents = [{"fragrance": "clove-bark", "load": 0.03}]
        made = self.recipe(3, "hanger-swirl", pour_celsius=42.0, scents=scents)
        pour = self.started(made)
        self.assertEqual(self.big(), "It is at emulsion")
        expect(page.locator(".bench-main").first).to_contain_text("Scent as each is poured")
        self.fits()
        page.keyboard.press("m")
        page.get_by_role("button", name="scent as each is poured").click()
        expect(page.locator(".bench-main").first).to_contain_text("Batter is split")
        page.keyboard.press("m")
        expect(page.get_by_role("button", name="hands off, back later")).to_be_visible()
        expect(page.get_by_role("button", name="scent as each is poured")).to_have_count(0)
        page.keyboard.press("Escape")
        page.get_by_role("button", name=re.compile("^undo")).click()
        expect(page.locator(".bench-main").first).to_contain_text("Scent as each is poured")
        said = [self.big() for _ in range(4)]
        wanted = ["Scent as each is poured", "Batter is split", f"Scent is in: {NAMES[2]}", "Pouring now"]
        self.assertEqual(said, wanted)
        lanes = self.call("GET", f"/pours/{pour}")["bench"]["lanes"]
        self.assertEqual(
            [x["scent"] for x in lanes], ["waits", "none", "in"], "pouring has begun, and the first still waits"
        )

    def test_layers_over_two_days_and_two_devices(self) -> None:
        """A gate, hands off, the app ended for the night, and the second layer combined from a phone next day."""
        page = self.page
        pour = self.started(self.recipe(2, "straight-layers", batches=True))
        for _ in range(4):
            said = self.big()
            if page.get_by_role("button", name="film, but wet").count():
                break
        self.assertNotEqual(said, "")
        expect(page.locator("[data-test=advice]")).to_contain_text(re.compile("again in about|next: what is below"))
        page.keyboard.press("m")
        page.get_by_role("dialog").get_by_role("button", name="slumps").click()
        expect(page.locator("[data-test=recent]")).to_contain_text("slumps")
        page.keyboard.press("m")
        page.get_by_role("dialog").get_by_role("button", name="hands off, back later").click()
        expect(page.locator("[data-test=advice]")).to_contain_text("Hands off")

        self.expected = re.compile("ERR_CONNECTION_REFUSED|status of 5")
        self.server.stop()
        with closing(sqlite3.connect(self.server.data)) as file, file:
            (begun,) = file.execute("SELECT started FROM pour WHERE id = ?", (pour,)).fetchone()
            earlier = datetime.fromisoformat(str(begun)) - timedelta(hours=22)
            file.execute("UPDATE pour SET started = ? WHERE id = ?", (earlier.isoformat(sep=" "), pour))
        page.close()
        self.server.start()
        phone = self._browser.new_context(viewport={"width": 390, "height": 844}).new_page()
        self.addCleanup(phone.context.close)
        phone.set_default_timeout(20_000)
        phone.goto(f"{self.server.url}/pours/{pour}")
        expect(phone.get_by_role("timer")).to_contain_text("22:")
        phone.get_by_role("button", name="Hands on again").click()
        phone.get_by_role("button", name=re.compile("^more")).click()
        phone.get_by_role("dialog").get_by_role("button", name="stands", exact=True).click()
        phone.get_by_role("button", name="Layer 2: lye met fats").click()
        phone.get_by_role("button", name="Fig is an emulsion").click()
        expect(phone.locator("[data-test=recent]")).to_contain_text("Fig: emulsion")
        view = self.call("GET", f"/pours/{pour}")
        self.assertEqual([b["name"] for b in view["bench"]["batches"]], ["", "Layer 2"])
        self.assertGreater(view["bench"]["batches"][1]["since"], 22 * 60)
        self.page = phone

    def test_practice_deals_a_fast_batter_and_the_screen_leads_to_a_change(self) -> None:
        page = self.page
        pours = self.call("GET", "/pours")["total"]
        made = self.call("POST", "/practice", {"temper": "fast", "seed": 3, "speed": 10})
        self.open(f"/practice/{made['id']}")
        words = ("oil still", "no trail", "a trail that sinks", "a trail that stands", "a ridge", "a peak")
        stages = ("", "emulsion", "light", "medium", "thick", "set")
        for _ in range(40):
            if page.locator("[data-test=debrief]").count():
                break
            sight = " ".join(page.locator("[data-test=sight]").all_inner_texts())
            seen = next((i for i, w in enumerate(words) if w in sight), None)
            if seen:
                key = page.get_by_role("button", name=re.compile(f"^{stages[seen]}"))
                # At ten times the pace another stage may be seen by then, or the tap is asked about.
                if key.get_attribute("aria-pressed") == "false":
                    key.click()
                    page.wait_for_timeout(400)
            if seen != 0:
                page.keyboard.press("n")
            page.wait_for_timeout(300)
            if page.get_by_role("dialog").count():
                page.keyboard.press("Escape")
        debrief = page.locator("[data-test=debrief]")
        expect(debrief).to_contain_text("A fast batter")
        # Which change it is depends on the second at which the batter was looked at.
        expect(debrief).to_contain_text(re.compile("drawn as hanger swirl|scent as each is poured"))
        expect(debrief.get_by_role("img")).to_be_visible()
        self.assertEqual(self.call("GET", "/pours")["total"], pours, "practice leaves no pour")
        self.accessible("Debrief")

    def test_who_taps_late_and_twice_is_understood(self) -> None:
        pour = self.started(self.recipe(2, "drop-swirl"))
        event = {"id": str(uuid4()), "kind": "seen", "minute": 0.01, "stage": "emulsion"}
        for _ in range(2):
            self.call("POST", f"/pours/{pour}/events", {"event": event})
        expect(self.page.get_by_text("1 event, all saved")).to_be_visible(timeout=12_000)
        self.page.keyboard.press("m")
        self.page.get_by_role("dialog").get_by_role("button", name="all that was logged").click()
        self.page.get_by_label("What was seen or done").select_option("split")
        self.page.get_by_role("textbox", name="Minute").fill("0:01")
        self.page.get_by_role("button", name="Write it in").click()
        self.page.keyboard.press("Escape")
        expect(self.page.locator("[data-test=recent]")).to_contain_text("split")
