"""At the bench: keys alone, a phone, an ended pour, long names, and a questioning app."""

import re

from playwright.sync_api import expect

from roundstone.demo.workshop import RUNNING
from tests.browser.real import RealBrowser, combine

LONG = "5107e000-0000-4000-8000-000100000007"


class Bench(RealBrowser):
    command = "demo"

    def setUp(self) -> None:
        super().setUp()
        self.advice = self.page.locator("[data-test=advice]")

    def start(self, recipe: str) -> None:
        self.page.goto(f"{self.server.url}/recipes/{recipe}")
        self.lye_in()
        expect(self.advice).to_contain_text("Blend in short bursts")

    def logged(self, text: str) -> None:
        expect(self.page.locator("[data-test=recent]")).to_contain_text(text)

    def test_a_whole_pour_by_keys_alone(self) -> None:
        page = self.page
        self.start("5107e000-0000-4000-8000-000100000001")
        for key, message in (("1", "emulsion"), ("n", "split"), ("f", "Weir: scent in")):
            page.keyboard.press(key)
            self.logged(message)
        expect(page.get_by_role("radio", name="Weir")).to_have_attribute("aria-checked", "true")
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("radio", name="Foam")).to_have_attribute("aria-checked", "true")
        page.keyboard.press("1")
        self.logged("Foam: emulsion")
        page.keyboard.press("t")
        field = page.get_by_label("Degrees Celsius")
        expect(field).to_be_visible()
        field.fill("29,5")
        page.keyboard.press("Enter")
        self.logged("29.5 °C")
        for key, message in (("b", "Foam: blended 1 s"), ("w", "Foam: stirred 1 s")):
            page.keyboard.press(key)
            page.wait_for_timeout(1100)
            page.keyboard.press(key)
            self.logged(message)
        page.keyboard.press("u")
        expect(page.locator("[data-test=recent]")).not_to_contain_text("stirred")
        page.keyboard.press("u")
        expect(page.locator("[data-test=recent]")).not_to_contain_text("blended")
        page.get_by_role("radio", name=re.compile("^Weir")).click()
        page.get_by_role("button", name=re.compile("^scent in")).click()
        page.get_by_role("button", name="half of it").click()
        self.logged("Weir: scent in, 50 %")
        page.keyboard.press("u")
        expect(page.locator("[data-test=recent]")).not_to_contain_text("50 %")
        page.keyboard.press("n")
        self.logged("pouring")
        for step, message in (
            ("pour Weir", "Weir is poured"), ("drop Foam", "Foam is dropped"), ("pour Weir 2", "Weir is poured"),
            ("top", "Weir and Foam are on top"),
        ):  # fmt: skip
            expect(page.get_by_role("button", name=message)).to_be_visible()
            page.keyboard.press("n")
            self.logged(f"done: {step}")
        page.keyboard.press("n")
        expect(self.advice).to_contain_text("Poured.")

    def test_a_pour_begun_by_a_slip_is_taken_back(self) -> None:
        page = self.page
        self.start("5107e000-0000-4000-8000-000100000003")
        page.get_by_role("button", name=re.compile("^undo lye has not met fats")).click()
        page.wait_for_url(re.compile("000100000003/ready$"))
        combine(page)
        expect(page.get_by_role("button", name=re.compile("Lye meets fats")).first).to_be_visible()
        page.goto(f"{self.server.url}/pours")
        expect(page.get_by_role("link", name=re.compile("Long Barrow")).filter(has_text="running")).to_have_count(0)

    def test_an_ended_pour_can_be_looked_at_and_opened_again(self) -> None:
        page = self.page
        page.goto(f"{self.server.url}/pours")
        page.get_by_role("link", name=re.compile("Orris")).first.click()
        expect(self.advice).to_contain_text("Poured.")
        clock = page.get_by_role("timer")
        shown = clock.inner_text()
        page.wait_for_timeout(1200)
        expect(clock).to_have_text(shown)
        expect(page.get_by_role("button", name=re.compile("^emulsion"))).to_have_count(0)
        page.get_by_role("button", name="Undo the end").click()
        expect(page.get_by_role("button", name=re.compile("^emulsion"))).to_be_visible()

    def test_going_back_is_a_question(self) -> None:
        page = self.page
        page.goto(f"{self.server.url}/pours/{RUNNING}")
        page.get_by_role("radio", name="all").click()
        key = {s: page.get_by_role("button", name=re.compile(f"^{s}")) for s in ("light", "emulsion")}
        key["light"].click()
        expect(key["light"]).to_have_attribute("aria-pressed", "true")
        key["emulsion"].click()
        page.locator("[data-test=to-answer]").click()
        question = page.locator("[data-test=doubts] li")
        expect(question).to_contain_text("goes back")
        expect(question).to_contain_text("It does not count yet")
        question.get_by_role("button", name="Take back").click()
        expect(question).to_have_count(0)
        expect(key["light"]).to_have_attribute("aria-pressed", "true")
        key["emulsion"].click()
        self.answer("Keep")
        expect(key["emulsion"]).to_have_attribute("aria-pressed", "true")

    def test_long_names_on_a_phone(self) -> None:
        page = self.page
        page.set_viewport_size({"width": 390, "height": 844})
        self.start(LONG)
        page.get_by_role("button", name=re.compile("It is at emulsion")).click()
        self.logged("emulsion")
        page.get_by_role("button", name=re.compile("Batter is split")).click()
        expect(page.get_by_role("radio", name=re.compile("Walnut, the darkest"))).to_be_visible()
        over = page.evaluate("document.documentElement.scrollWidth - innerWidth")
        self.assertLessEqual(over, 0)
        # The stage keys and undo are on the first screen: no scrolling with gloves on.
        for name in ("emulsion", "set", "undo"):
            box = page.get_by_role("button", name=re.compile(name)).last.bounding_box()
            assert box is not None
            self.assertLessEqual(box["y"] + box["height"], 900, f"{name} is below the first screen")

    def test_two_people_at_one_pour(self) -> None:
        """A tablet and a phone on the same pour see each other's taps."""
        page = self.page
        page.goto(f"{self.server.url}/pours/{RUNNING}")
        other = page.context.new_page()
        other.goto(f"{self.server.url}/pours/{RUNNING}")
        expect(other.get_by_role("button", name=re.compile("Scent is in"))).to_be_visible()
        page.get_by_role("button", name=re.compile("Scent is in")).click()
        self.logged("Char: scent in")
        expect(other.locator("[data-test=recent]")).to_contain_text("Char: scent in", timeout=12_000)
        other.keyboard.press("f")
        expect(other.locator("[data-test=to-answer]")).to_be_visible()
        other.close()
