"""A stranger's first hour: an empty workshop, two clicks to a forecast, own units typed, anything found by its name."""

import re

from playwright.sync_api import expect

from tests.browser.real import RealBrowser


class FirstHour(RealBrowser):
    command = "serve"

    def test_from_nothing_to_a_first_forecast_and_back(self) -> None:
        page = self.page
        self.open("/")
        page.get_by_label("the room, °C").fill("64 F")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("Saved: new recipes begin so.")).to_be_visible()
        expect(page.get_by_role("list", name="Starter recipes").get_by_role("listitem")).to_have_count(5)
        self.accessible("Begin", always=True)
        page.get_by_role("button", name=re.compile("Slow Olive")).click()
        expect(page.get_by_label("Name of the recipe")).to_have_value("Slow Olive")
        expect(page.locator("[data-test=why]")).to_contain_text("Medium trace in")
        self.opened("more")
        expect(page.get_by_label("room", exact=True)).to_have_value(re.compile("^17.77"))

        # A length in inches and a pour in Fahrenheit are read as such, and stand in the field's own unit.
        self.opened("size")
        length = page.get_by_label("length", exact=True)
        length.fill("9 1/2 in")
        length.press("Enter")
        expect(length).to_have_value("24.13")
        self.opened("more")
        warm = page.get_by_label("pour at", exact=True)
        warm.fill("100 F")
        warm.press("Enter")
        expect(warm).to_have_value(re.compile("^37.77"))
        warm.fill("warm")
        expect(page.get_by_text("This is not a number.")).to_be_visible()
        warm.press("Escape")

        with page.expect_download() as label:
            page.get_by_role("link", name="Label to print").click()
        self.assertEqual(label.value.path().read_bytes()[:5], b"%PDF-")

        page.keyboard.press("Control+k")
        find = page.get_by_role("combobox", name="Find or go")
        find.fill("slow ol")
        expect(page.get_by_role("option", name=re.compile("Slow Olive")).first).to_be_visible()
        self.accessible("Find", always=True)
        find.fill("trace")
        page.get_by_role("option", name=re.compile("^False trace")).click()
        expect(page.locator("#false-trace")).to_be_in_viewport()
        self.accessible("Words", always=True)
        page.go_back()
        page.keyboard.press("Control+k")
        find.fill("stock")
        page.get_by_role("option", name=re.compile("Stock and prices")).click()
        expect(page.get_by_text("No lots yet.")).to_be_visible()
        page.go_back()
        expect(page.get_by_label("Name of the recipe")).to_have_value("Slow Olive")
        page.locator("body").press("?")
        expect(page.get_by_role("dialog")).to_contain_text("undo")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)

    def test_one_goes_back_to_a_copy(self) -> None:
        page = self.page
        self.open("/")
        page.get_by_role("button", name=re.compile("^Even Bar")).click()
        expect(page.get_by_label("Name of the recipe")).to_have_value("Even Bar")
        self.open("/workshop")
        page.get_by_role("button", name="Make a copy now").click()
        expect(page.get_by_role("button", name="go back to it")).to_have_count(1)
        page.get_by_label("relative humidity, %").fill("70")
        page.get_by_role("button", name="Save humidity", exact=True).click()
        page.get_by_role("button", name="go back to it").click()
        page.get_by_role("button", name="Go back", exact=True).click()
        expect(page.get_by_text("It is as it was then.")).to_be_visible()
        expect(page.get_by_label("relative humidity, %")).to_have_value("50")
        self.accessible("Workshop")
