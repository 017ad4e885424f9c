"""The Plan place: a five-colour hanger from its odds to its paper, steps by hand and keys, portions in any number."""

import re
from typing import Any

from playwright.sync_api import Locator, expect

from tests.browser.real import RealBrowser
from tests.browser.test_places import HOPPER, SIZES

COLOURS = {"Husk": "#c79a5b", "Clay": "#b85f3c", "Moss": "#74883f", "Fig": "#6d3552", "Bone": "#efe6d4"}


class Plan(RealBrowser):
    command = "demo"

    def recipe(self, **design: Any) -> str:
        """A copy of a recipe with another design and a fragrance claimed moderate, hot and full of it."""
        api, own = self.page.request, {"Origin": self.server.url}
        new = {"copy_of": HOPPER, "name": "Kiln Five"}
        made = api.post(f"{self.server.url}/api/recipes", data=new, headers=own).json()["id"]
        view = api.get(f"{self.server.url}/api/recipes/{made}").json()
        recipe = view["recipe"]
        recipe["design"] |= design
        recipe["scents"] = [{"fragrance": "vanilla-smoke", "load": 0.045}]
        recipe["additives"] = [a for a in recipe["additives"] if not a.get("into")]
        recipe["pour_celsius"] = 42
        draft = {"revision": view["revision"], "recipe": recipe}
        saved = api.put(f"{self.server.url}/api/recipes/{made}", data=draft, headers=own)
        self.assertEqual(saved.status, 200, saved.text())
        return str(made)

    def five(self) -> str:
        shares = dict(zip(COLOURS, (0.4, 0.15, 0.15, 0.15, 0.15), strict=True))
        portions = [{"name": n, "share": shares[n], "scent": 1, "tint": t} for n, t in COLOURS.items()]
        return self.recipe(portions=portions, technique="hanger-swirl", pot=1220)

    def step(self, label: str) -> Locator:
        return self.page.locator(f"[title^='{label}, minute']").first

    def settled(self) -> None:
        expect(self.page.locator(".stale")).to_have_count(0)

    def order(self) -> list[str]:
        self.settled()
        blocks = self.page.locator("[data-row]").all()
        return [re.sub(", minute.*", "", block.get_attribute("title") or "") for block in blocks]

    def test_five_colours_from_the_odds_to_the_paper(self) -> None:
        page = self.page
        five = self.five()
        self.open(f"/recipes/{five}/plan")
        ribbon = page.get_by_role("region", name="Plan on the ribbon")
        expect(ribbon).to_be_visible()
        expect(page.get_by_text(re.compile(r"^[3-9]\d % chance .* is too thick"))).to_be_visible()
        face = page.get_by_alt_text("The bar as it is likeliest")
        before = face.get_attribute("src")
        keep = page.get_by_role("button", name=re.compile("^Use: ")).first
        expect(keep).to_be_visible(timeout=15_000)
        self.settled()
        self.accessible("Plan")
        page.get_by_role("button", name=re.compile("^Try: ")).first.click()
        expect(page.get_by_text("as tried")).to_be_visible()
        expect(face).not_to_have_attribute("src", before or "")
        page.get_by_role("button", name=re.compile("^Keep as backup: ")).first.click()
        expect(page.get_by_role("button", name=re.compile("^Kept as backup: "), pressed=True)).to_have_count(1)
        keep.click()
        expect(page.get_by_text("expected", exact=True)).to_be_visible()
        expect(face).not_to_have_attribute("src", before or "")

        page.get_by_role("button", name=re.compile("^Hanger swirl")).click()
        page.get_by_label("Name of the pattern").fill("Five, hung")
        page.get_by_role("button", name="Save the pattern").click()
        expect(page.get_by_role("button", name=re.compile("^Five, hung"))).to_be_visible()
        expect(page.get_by_role("listitem").filter(has_text="Surface dots")).to_be_visible()
        self.settled()
        self.accessible("Techniques")
        expect(page.get_by_text("saved", exact=True)).to_be_visible()

        page.get_by_role("link", name="Print sheet").click()
        # Plans that were asked for meanwhile are still being reckoned on two processors.
        expect(page.get_by_text("The pot stands at")).to_be_visible(timeout=30_000)
        expect(page.get_by_text(re.compile("^else "))).to_be_visible()
        expect(page.get_by_text(re.compile(r"until the pot reads"))).to_have_count(4)
        for paper in ("A4", "Letter"):
            body = page.request.get(f"{self.server.url}/api/recipes/{five}/bench-sheet.pdf?paper={paper}")
            self.assertEqual(body.body()[:5], b"%PDF-")

        # On another recipe the whole design is two clicks.
        self.open(f"/recipes/{HOPPER}/plan")
        page.get_by_role("button", name=re.compile("^Drop swirl")).click()
        page.get_by_role("button", name=re.compile("^Five, hung")).click()
        self.opened("Fig")
        expect(page.get_by_label("Name of portion 4")).to_have_value("Fig")
        self.assertIn("wire", self.order())
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_label("Name of portion 4")).to_have_count(0)

    def test_steps_by_hand_and_by_keys(self) -> None:
        page = self.page
        self.open(f"/recipes/{self.five()}/plan")
        fig, clay = self.step("drop Fig"), self.step("drop Clay")
        expect(fig).to_be_visible()
        first = self.order()
        box, to = fig.bounding_box(), clay.bounding_box()
        assert box is not None and to is not None
        page.mouse.move(box["x"] + 5, box["y"] + 8)
        page.mouse.down()
        page.mouse.move(to["x"] - 30, to["y"] + 8, steps=8)
        page.mouse.up()
        expect(page.get_by_role("button", name=re.compile("changed"))).to_be_visible()
        self.assertLess(self.order().index("drop Fig"), self.order().index("drop Clay"))
        self.step("drop Fig").focus()
        page.keyboard.press("Alt+ArrowRight")
        expect(self.step("drop Clay")).to_have_attribute("data-row", str(first.index("drop Clay")))
        expect(self.step("drop Fig")).to_be_focused()
        width = (self.step("drop Fig").bounding_box() or {"width": 0})["width"]
        for _ in range(3):
            page.keyboard.press("+")
        expect(self.step("drop Moss")).to_be_visible()
        wider = 0.0
        for _ in range(20):
            page.wait_for_timeout(100)
            wider = (self.step("drop Fig").bounding_box() or {"width": 0})["width"]
            if wider > 1.2 * width:
                break
        self.assertGreater(wider, 1.2 * width)
        page.keyboard.press("Delete")
        expect(self.step("drop Fig")).to_have_count(0)
        page.keyboard.press("Control+z")
        expect(self.step("drop Fig")).to_be_visible()
        # A word is dragged in, and a block dragged away.
        page.get_by_role("button", name="Add a step").click()
        self.settled()
        word = page.get_by_role("group", name="Add a step").get_by_role("button", name="spoon").bounding_box()
        bone = self.step("drop Bone").bounding_box()
        assert word is not None and bone is not None
        page.mouse.move(word["x"] + 5, word["y"] + 5)
        page.mouse.down()
        page.mouse.move(bone["x"] + bone["width"] + 4, bone["y"] + 10, steps=8)
        page.mouse.up()
        spoon = page.get_by_role("region", name="Step: spoon Bone")
        expect(spoon).to_be_visible()
        expect(spoon.get_by_label("Share of the portion it uses")).to_have_value("45")
        self.settled()
        block = self.step("spoon Bone").bounding_box()
        assert block is not None
        page.mouse.move(block["x"] + 5, block["y"] + 10)
        page.mouse.down()
        page.mouse.move(block["x"] + 5, 780, steps=8)
        page.mouse.up()
        expect(self.step("spoon Bone")).to_have_count(0)

        self.step("drop Moss").click()
        panel = page.get_by_role("region", name="Step: drop Moss")
        panel.get_by_label("Thickened on purpose").select_option(label="to medium, with the stick")
        panel.get_by_label("may be left out").check()
        panel.get_by_label("minutes").fill("2")
        page.keyboard.press("Enter")
        self.settled()
        self.accessible("Plan with a step open", always=True)
        page.get_by_role("group", name="Add a step").get_by_role("button", name="wait", exact=True).click()
        expect(page.get_by_role("region", name="Step: wait")).to_be_visible()
        page.get_by_role("button", name="Take out", exact=True).click()
        expect(page.get_by_text("saved", exact=True)).to_be_visible()
        page.reload()
        expect(self.step("drop Moss")).to_be_visible()
        for _ in range(2):
            page.get_by_role("button", name=re.compile("changed")).click()
        page.get_by_role("button", name=re.compile("changed")).click()
        page.get_by_role("button", name="Back to the technique").click()
        expect(page.get_by_role("button", name="Hanger swirl ▾")).to_be_visible()

    def test_portions_in_the_ledger(self) -> None:
        page = self.page
        self.open(f"/recipes/{self.five()}/plan")
        expect(page.get_by_text("pot reads")).to_be_visible()
        for name in ("Fig", "Husk", "Moss", "Clay", "Bone"):
            self.opened(name)
        fig = page.get_by_label("Fig, percent of the batter")
        fig.fill("20")
        page.keyboard.press("Enter")
        expect(page.get_by_label("Husk, percent of the batter")).to_have_value("35")
        page.get_by_label("Moss, weight of batter").fill("100")
        page.keyboard.press("Enter")
        expect(page.get_by_label("Moss, weight of batter")).to_have_value("100")
        page.get_by_label("Scent of Clay").select_option(label="no scent")
        self.pick("Add a colour to Bone", "titan", "Titanium dioxide")
        expect(page.get_by_text(re.compile("Titanium dioxide")).first).to_be_visible()
        bone = page.locator("li.row").filter(has=page.get_by_label("Bone, percent of the batter"))
        bone.get_by_label("Where it is taken from").select_option(label="from Fig")
        expect(page.get_by_text(re.compile(r"^Fig [\d.]+\sg →"))).to_be_visible()
        page.get_by_role("button", name="Colour of Moss").click()
        page.get_by_label("Pick the colour of Moss").fill("#6d3553")
        expect(page.get_by_text("Moss and Fig look alike while wet")).to_be_visible()
        page.get_by_role("button", name="Done").click()
        page.get_by_label("Name of portion 2").fill("Husk")
        expect(page.get_by_text("Two portions have this name").first).to_be_visible()
        page.get_by_label("Name of portion 2").fill("Clay")
        expect(page.get_by_text("Two portions have this name")).to_have_count(0)
        page.get_by_label("Clay, percent of the batter").fill("96")
        page.keyboard.press("Enter")
        expect(page.get_by_text("No forecast while something is wrong")).to_be_visible()
        expect(page.get_by_text(re.compile("The portions add up to")).first).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_text("No forecast while something is wrong")).to_have_count(0)
        page.get_by_role("button", name="Top and cuts").click()
        page.get_by_label("cut across").fill("40")
        expect(page.get_by_text("16 bars of 28 mm × 40 mm × 61 mm")).to_be_visible()
        page.get_by_role("button", name="Add a topping").click()
        page.get_by_label("Topping, width").fill("27")
        expect(page.get_by_text("a wire will catch it")).to_be_visible()

    def test_twelve_portions_and_three_batches_fit_every_screen(self) -> None:
        twelve = [{"name": f"Portion number {i + 1}", "share": 1 / 12, "scent": i % 2} for i in range(12)]
        batches = [
            {"name": "Foot", "share": 0.4, "scent": 1},
            {"name": "Middle", "share": 0.35, "scent": 0, "batch": "Middle"},
            {"name": "Frost", "share": 0.25, "scent": 0, "batch": "Frost"},
        ]
        for portions, technique, message in (
            (twelve, "drop-swirl", "pot reads"),
            (batches, "straight-layers", "g of the lye jug"),
        ):
            made = self.recipe(portions=portions, technique=technique)
            self.open(f"/recipes/{made}/plan")
            for width, height in SIZES:
                self.page.set_viewport_size({"width": width, "height": height})
                expect(self.page.get_by_text(message).first).to_be_visible()
                over = self.page.evaluate("document.documentElement.scrollWidth - innerWidth")
                self.assertLessEqual(over, 0, f"{technique} at {width} runs off the screen")
            self.assertEqual(len(set(self.order())) > len(portions), True)
