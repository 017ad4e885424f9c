"""From a stated day to a note that comes back, with one thumb on a phone, and with the server away for a while."""

import json
import re
import sqlite3
import urllib.request
from contextlib import closing
from datetime import UTC, datetime, timedelta
from io import BytesIO
from typing import Any
from uuid import uuid4

from PIL import Image
from playwright.sync_api import FilePayload, expect

from tests.browser.real import RealBrowser, combine


class RestAndCure(RealBrowser):
    command = "demo"

    def call(self, method: str, path: str, body: Any = None) -> Any:
        sent = None if body is None else json.dumps(body).encode()
        head = {"Content-Type": "application/json"}
        with urllib.request.urlopen(
            urllib.request.Request(f"{self.server.url}/api{path}", sent, head, method=method)
        ) as said:
            return json.load(said)

    def ended(self, name: str) -> tuple[str, str]:
        """A recipe of the demo, poured and in its mould a moment ago."""
        recipe = next(r["id"] for r in self.call("GET", "/recipes")["recipes"] if r["name"] == name)
        pour = str(self.call("POST", "/pours", {"recipe_id": recipe})["id"])
        for minute, event in ((0.01, {"kind": "seen", "stage": "emulsion"}), (0.02, {"kind": "ended"})):
            tap = {"id": str(uuid4()), "minute": minute, "sure": True, **event}
            self.call("POST", f"/pours/{pour}/events", {"event": tap})
        return recipe, pour

    def poured_ago(self, pour: str, hours: float) -> None:
        begun = (datetime.now(UTC) - timedelta(hours=hours)).replace(tzinfo=None).isoformat(sep=" ")
        with closing(sqlite3.connect(self.server.data)) as file, file:
            file.execute("UPDATE pour SET started = ? WHERE id = ?", (begun, pour))

    def test_from_a_stated_day_to_a_note_that_comes_back(self) -> None:
        page = self.page
        recipe, pour = self.ended("Orris")
        self.open(f"/recipes/{recipe}")
        self.opened("more")
        page.get_by_role("button", name="Brief").click()
        brief = page.locator("[data-test=brief]")
        brief.get_by_label("ready on").fill((datetime.now(UTC) + timedelta(days=9)).date().isoformat())
        page.keyboard.press("Tab")
        expect(page.locator("[data-test=dated]")).to_contain_text("It cannot be met")
        brief.get_by_label("ready on").fill((datetime.now(UTC) + timedelta(days=200)).date().isoformat())
        page.keyboard.press("Tab")
        expect(page.locator("[data-test=dated]")).to_contain_text("It can be met")
        self.accessible("Brief")

        page.set_viewport_size({"width": 390, "height": 844})
        self.open(f"/pours/{pour}")
        page.locator("[data-test=to-rest]").click()
        head, keys = page.locator("[data-test=headline]"), page.locator("[data-test=keys] button")
        expect(head).to_contain_text("Cover it")
        self.assertEqual(page.evaluate("document.documentElement.scrollWidth - innerWidth"), 0)
        for key in keys.all():
            box = key.bounding_box()
            assert box is not None
            self.assertGreaterEqual(box["height"], 56)
            self.assertLess(box["y"] + box["height"], 844, "the keys are in reach of a thumb")
        expect(page.get_by_role("button", name=re.compile("Warm oven"))).to_be_visible()
        page.get_by_role("button", name=re.compile("^Towel")).click()
        expect(page.get_by_role("button", name=re.compile("^Towel"))).to_have_attribute("aria-pressed", "true")
        expect(head).to_contain_text("Unmould")

        self.poured_ago(pour, 40)
        page.reload()
        expect(keys.first).to_have_text("Unmoulded")
        self.expected = re.compile("ERR_CONNECTION_REFUSED")
        self.server.stop()
        keys.first.click()
        expect(page.get_by_text("1 not saved yet").first).to_be_visible()
        self.server.start()
        expect(head).to_contain_text("Cut with the wire")
        keys.filter(has_text="It dragged").click()
        expect(head).to_contain_text("Look at the section")
        keys.filter(has_text="A ring").click()
        expect(head).to_contain_text("Judge it at the cut")
        self.accessible("Rest", always=True)
        for _ in range(3):
            question = page.locator("[data-test=question]").first
            message = question.locator("span").first.inner_text()
            question.get_by_role("button", name="yes").click()
            expect(page.locator("[data-test=question]").filter(has_text=message)).to_have_count(0)
        expect(head).to_contain_text("weigh", ignore_case=True)
        page.get_by_role("button", name="Weigh it in").click()
        expect(page.get_by_text("Grams are a number over 0.")).to_be_visible()
        page.get_by_label("Weight of the bar, g").fill("128,5")
        page.get_by_role("button", name="Weigh it in").click()
        expect(page.get_by_text("bar 1 weighs 128.5 g")).to_be_visible()
        page.get_by_label("Colour of Bone, at the cut").fill("#e9dcc0")
        expect(page.get_by_text("Bone: colour #e9dcc0 (cut)")).to_be_visible()
        page.get_by_label("What you would do otherwise next time").fill("Half the dose in summer")
        page.get_by_label("about").select_option("fragrance:iris-root")
        page.get_by_role("button", name="Note it").click()
        expect(page.get_by_text("Half the dose in summer").first).to_be_visible()

        self.open(f"/recipes/{recipe}/ready")
        note = page.locator("[data-test=note]").filter(has_text="Half the dose in summer")
        expect(note).to_contain_text("Iris root")
        note.get_by_role("button", name="heed it").click()
        expect(note.get_by_role("button", name="heed it")).to_have_attribute("aria-pressed", "true")
        combine(page)
        page.get_by_role("button", name="Lye meets fats").click()
        page.wait_for_url(re.compile("/pours/"))
        self.open(f"/recipes/{recipe}")
        expect(page.locator("[data-test=noted]")).to_contain_text("1 of 1 heeded")

    def test_everything_that_waits_stands_in_one_list_and_in_the_logbook(self) -> None:
        page = self.page
        self.open("/rest")
        page.get_by_role("heading", name="At rest").wait_for()
        rows = page.locator("ol a")
        expect(rows.first).to_be_visible()
        self.accessible("At rest")
        with page.expect_download() as got:
            page.get_by_role("link", name="All as a calendar file").click()
        self.assertIn("BEGIN:VEVENT", got.value.path().read_text())
        rows.first.click()
        expect(page.locator("[data-test=headline]")).to_be_visible()
        self.open("/pours")
        expect(page.get_by_role("heading", name="Logbook")).to_be_visible()
        page.get_by_role("button", name="lost").click()
        expect(page.get_by_text("as planned", exact=True)).to_have_count(1)
        page.get_by_role("button", name="all", exact=True).click()
        page.get_by_placeholder("Find a recipe").fill("orris")
        expect(page.locator("ol li")).to_have_count(4)
        self.accessible("Logbook")
        page.get_by_role("button", name="more on a page").click()
        expect(page.locator("ol li [role=img]")).to_have_count(0)

    def test_batches_are_numbered_and_their_bars_get_labels(self) -> None:
        page = self.page
        self.open("/workshop")
        number = page.get_by_label("batch numbers, such as")
        number.fill("{batch}")
        save = page.get_by_role("button", name="Save for labels")
        save.click()
        expect(page.get_by_text("Only {year}, {yy}, {month}, {day} and {n}")).to_be_visible()
        number.fill("K{yy}/{nn}")
        page.get_by_label("best before, months").fill("12")
        page.get_by_label("who made it").fill("Quay Lane soap")
        save.click()
        expect(page.get_by_text("the twelfth batch of this year: K")).to_be_visible()
        _, pour = self.ended("Orris")
        self.poured_ago(pour, 40)
        self.open(f"/pours/{pour}/rest")
        expect(page.locator("main")).to_contain_text(re.compile(r"batch K\d\d/\d\d"))
        page.get_by_role("button", name="Labels").click()
        page.get_by_label("size").select_option("small")
        with page.expect_download() as saved:
            page.get_by_role("button", name="Labels to print").click()
        self.assertTrue(saved.value.path().read_bytes().startswith(b"%PDF"))
        self.assertRegex(saved.value.suggested_filename, r"labels-orris-k\d\d-\d\d\.pdf")

    def test_a_colour_is_taken_off_a_picture_on_a_phone(self) -> None:
        _, pour = self.ended("Hopper Oat")
        self.poured_ago(pour, 50)
        page = self.page
        page.set_viewport_size({"width": 390, "height": 844})
        picture, body = Image.new("RGB", (300, 200), "#27406e"), BytesIO()
        picture.save(body, "PNG")
        self.open(f"/pours/{pour}/rest")
        bar = FilePayload(name="bar.png", mimeType="image/png", buffer=body.getvalue())
        page.get_by_text("add one").locator("input").set_input_files(bar)
        page.get_by_role("button", name="Take a colour from the picture").click()
        page.locator("[data-test=pick]").get_by_role("img").click()
        expect(page.locator("[data-test=pick]")).to_contain_text("blue")
        page.get_by_label("Seen", exact=True).select_option("cut")
        page.get_by_role("button", name="Save this colour").click()
        expect(page.get_by_text(re.compile(r"colour #[0-9a-f]{6} \(cut\)")).first).to_be_visible()
