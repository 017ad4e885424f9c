"""Every place on every screen, in units from abroad."""

from playwright.sync_api import expect

from roundstone.demo.story import PAUSED
from roundstone.demo.workshop import RUNNING
from tests.browser.real import RealBrowser
from tests.browser.test_places import HOPPER, POINTED, SIZES, TWELVE


class Abroad(RealBrowser):
    """Where decimals stand behind a comma."""

    command = "demo"
    locale = "de-DE"

    def test_every_place_fits_every_screen_and_reads_aloud(self) -> None:
        places = {
            "/": "Recipes",
            f"/recipes/{HOPPER}": "Oils",
            f"/recipes/{TWELVE}": "Lye and water",
            f"/recipes/{TWELVE}/forecast": "Why medium trace",
            f"/recipes/{TWELVE}/bench-sheet": "Twelve-Fat Trial",
            f"/recipes/{HOPPER}/plan": "Improve the odds",
            "/pours": "Logbook",
            "/rest": "At rest",
            "/colours": "Kaolin clay",
            f"/pours/{RUNNING}": "Charcoal Burner",
            "/shelf/iris-root": "Iris root",
            f"/recipes/{HOPPER}/compare": "Side by side",
            "/shelf/vanilla-smoke": "Vanilla & smoke",
            "/score-card": "Score card",
            "/pours/past": "From a notebook",
            "/workshop": "Units",
            f"/pours/{PAUSED}": "Hill Terrace",
            "/practice": "Practice",
            "/stock": "Stock and prices",
            "/ingredients": "Ingredients",
            "/nowhere/at/all": "There is nothing at this address",
        }
        for path, heading in places.items():
            self.open(path)
            for width, height in SIZES:
                with self.subTest(path, width=width):
                    self.page.set_viewport_size({"width": width, "height": height})
                    expect(self.page.get_by_role("heading", name=heading).first).to_be_visible()
                    over = self.page.evaluate("document.documentElement.scrollWidth - innerWidth")
                    self.assertLessEqual(over, 0, "runs off the screen")
            self.accessible(path, always=True)
            self.assertEqual(self.page.evaluate(POINTED), [], f"{path}: decimals stand behind the region's own sign")
