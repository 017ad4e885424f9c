"""The shelf and what follows from it: a new bottle, liquids of one's own, a master batter, and why the ribbon moved."""

import json
import re

from playwright.sync_api import expect

from tests.browser.real import RealBrowser

HOPPER = "5107e000-0000-4000-8000-000100000000"


class Shelf(RealBrowser):
    command = "demo"

    def test_a_new_bottle_starts_from_what_the_old_one_taught(self) -> None:
        page = self.page
        self.open("/shelf")
        page.get_by_role("button", name="New fragrance").click()
        page.get_by_label("name", exact=True).fill("Iris root, bottle 2")
        page.get_by_label("vanillin, %").fill("lots")
        page.get_by_label("limit in the finished bar").fill("0")
        page.get_by_label("another bottle or supplier of").select_option(label="Iris root")
        page.get_by_label("who says so").fill("their leaflet")
        page.get_by_label("your note, shown whenever it is used").fill("smells of carrots when hot")
        save = page.get_by_role("button", name="Save")
        save.click()
        expect(page.get_by_text("This is not a number")).to_be_visible()
        page.get_by_label("vanillin, %").fill("0,4")
        save.click()
        expect(page.get_by_text("A limit is above 0 and at most 100 %.")).to_be_visible()
        page.get_by_label("limit in the finished bar").fill("6")
        self.accessible("New fragrance", always=True)
        save.click()
        expect(page.get_by_role("heading", name="Iris root, bottle 2")).to_be_visible()
        expect(page.get_by_text("their leaflet")).to_be_visible()
        new = page.url
        for _ in range(6):  # the noise of the log is tuned behind the pages meanwhile, and moves both
            told = []
            for place in (new, f"{self.server.url}/shelf/iris-root"):
                self.open(place.removeprefix(self.server.url))
                told.append(page.locator("[data-test=effect]").inner_text().split("\n")[0])
            if told[0] == told[1]:
                break
        self.assertEqual(*told)

        # Its note comes back where it is used.
        self.open(f"/recipes/{HOPPER}")
        self.pick("Add fragrance or colour", "bottle 2", re.compile("bottle 2"))
        expect(page.get_by_text("smells of carrots when hot")).to_be_visible()

    def test_what_other_workshops_saw_is_matched_by_hand_and_ones_own_told_word_for_word(self) -> None:
        page = self.page
        self.open("/others")
        heard = page.get_by_role("list", name="Fragrances others told of").get_by_role("listitem")
        row = heard.filter(has=page.locator("b", has_text="Iris root"))
        row.get_by_role("button", name="It is my Iris root").click()
        expect(row.get_by_role("combobox")).to_have_value("iris-root")
        told = {
            "name": "Rye field",
            "code": "R-9",
            "speed": {"times": 3, "low": 2, "high": 4.5, "pours": 6, "looks": 20},
        }
        file = {"format": "roundstone.evidence/1", "workshop": "cd" * 16, "edition": 1, "fragrances": [told]}
        choose = page.locator("input[type=file]")
        for text, words in (("no file", "not a JSON file"), (json.dumps(file), "Imported.")):
            choose.set_input_files({"name": "e.json", "mimeType": "application/json", "buffer": text.encode()})
            expect(page.get_by_text(words)).to_be_visible()
        new = heard.filter(has=page.locator("b", has_text="Rye field"))
        expect(new).to_contain_text("1 workshop, 6 pours: medium trace 3.0 times as soon")
        page.get_by_role("list", name="Files you imported").get_by_role("button").first.click()
        expect(new).to_have_count(0)

        mine = page.get_by_role("list", name="What could be told").get_by_role("listitem").filter(has_text="Clove bark")
        mine.get_by_role("checkbox").first.check()
        mine.get_by_label("told as").fill("Some clove")
        page.get_by_role("button", name="Show the file of 1").click()
        shown = page.get_by_label("The file, word for word")
        expect(shown).to_contain_text("Some clove")
        self.accessible("Other workshops", always=True)
        with page.expect_download() as saved:
            page.get_by_role("button", name="Save it as a file").click()
        self.assertEqual(saved.value.path().read_text(encoding="utf-8"), shown.inner_text())
        mine.get_by_label("told as").fill("Clove")
        expect(shown).to_have_count(0)  # what is shown is what is saved

        self.open("/shelf/iris-root")
        expect(page.get_by_text("Other makers")).to_be_visible()
        page.get_by_role("button", name="Edit the claim").click()
        page.get_by_label("no trouble").fill("9")
        page.get_by_label("seized", exact=True).fill("some")
        page.get_by_role("button", name="Save the claim").click()
        expect(page.get_by_text("Count reviews in whole numbers.")).to_be_visible()
        page.get_by_label("seized", exact=True).fill("1")
        page.get_by_role("button", name="Save the claim").click()
        expect(page.get_by_text("10 reviews")).to_be_visible()

    def test_a_liquid_of_ones_own_is_weighed(self) -> None:
        page = self.page
        self.open("/ingredients")
        page.get_by_role("button", name="Add your own").click()
        page.get_by_label("a liquid", exact=True).check()
        page.get_by_label("name, perhaps with its lot").fill("Hazelnut drink")
        page.get_by_label("water, g in 100 g").fill("120")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("alert").first).to_be_visible()
        page.get_by_label("water, g in 100 g").fill("96")
        for name, grams in (("fat", "1.5"), ("protein", "0.8"), ("sugars", "1")):
            page.get_by_label(f"{name}, g in 100 g").fill(grams)
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("in 100 g: 96 g water")).to_be_visible()
        self.open(f"/recipes/{HOPPER}")
        self.opened("lye")
        self.pick("Add milk, tea, sugar, acid or salt", "hazelnut dr", re.compile("Hazelnut drink"))
        expect(page.get_by_label("Hazelnut drink, percent of all liquid")).to_have_value("50")
        self.opened("more")
        page.get_by_text("label draft").click()
        expect(page.get_by_text(re.compile("^Went in .*Hazelnut drink"))).to_be_visible()

    def test_one_master_batter_for_two_moulds(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}")
        self.opened("size")
        page.get_by_role("button", name="Add a mould").click()
        page.get_by_role("button", name=re.compile("A portion for each")).click()
        expect(page.locator("[data-test=size]")).to_contain_text("2 moulds")
        page.get_by_role("link", name="Plan", exact=True).click()
        expect(page.get_by_role("button", name=re.compile("^Cavities 2"))).to_be_visible()
        page.get_by_role("link", name="Recipe", exact=True).click()
        expect(page.get_by_text("saved", exact=True)).to_be_visible()
        self.opened("more")
        with page.expect_download() as download:
            page.get_by_role("link", name="Recipe as a file").click()
        written = json.loads(download.value.path().read_text())
        self.assertAlmostEqual(sum(p["share"] for p in written["design"]["portions"]), 1, delta=1e-5)
        self.assertEqual([p["name"] for p in written["design"]["portions"]], ["Box 1", "Cavities 2"])
        page.get_by_role("button", name="Undo").click()
        page.get_by_role("link", name="Plan", exact=True).click()
        expect(page.get_by_role("button", name=re.compile("^Husk"))).to_be_visible()

    def test_each_row_says_by_how_much_it_hurries_the_batter(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}")
        why = page.locator("[data-test=why]")
        sugar = page.get_by_role("button", name=re.compile("^Sugar"))
        expect(sugar).to_contain_text(re.compile(r"−[\d.]+ min"))
        page.get_by_label("Sugar, g/kg").fill("0")
        expect(sugar).not_to_contain_text("−")  # less than usual of it slows, if anything
        before = why.inner_text()
        self.opened("more")
        page.get_by_label("pour at").fill("45")
        expect(why).to_contain_text("at 45")
        expect(why).not_to_have_text(before)
        before = why.inner_text()
        page.get_by_label("Fig & vetiver, percent of the fats").fill("1")
        expect(why).not_to_have_text(before)
        why.click()
        expect(page.get_by_role("heading", name=re.compile("^Why medium trace"))).to_be_visible()
        page.get_by_role("button", name="as a table").click()
        expect(page.get_by_role("rowheader", name="Husk, medium")).to_be_visible()

    def test_two_scents_become_a_blend_and_a_premix_is_made_here(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}")
        self.pick("Add fragrance or colour", "plum", re.compile("Plum stone"))
        page.get_by_role("button", name="save these as one blend").click()
        page.get_by_label("Name of the blend").fill("Oat and plum")
        page.get_by_role("button", name="Save the blend").click()
        parts = page.get_by_role("list", name="Parts of the blend")
        expect(parts).to_contain_text("Plum stone")
        self.opened("Oat and plum")
        page.get_by_role("link", name="what is known of it").click()
        expect(page.get_by_text("Its parts say")).to_be_visible()
        page.get_by_role("button", name="mix it ahead").click()
        page.get_by_role("button", name="Save the bottle").click()
        expect(page.get_by_role("heading", name="Oat and plum, mixed ahead")).to_be_visible()
        expect(page.get_by_text(re.compile("A bottle of the blend"))).to_be_visible()

        self.open("/ingredients")
        page.get_by_role("button", name="Made here").click()
        page.get_by_label("a colourant, stirred into something").check()
        page.get_by_label("name", exact=True).fill("Clay in olive")
        for n, (item, grams) in enumerate((("Kaolin", "30"), ("Olive", "x"))):
            self.pick("Stirred into, or with" if n else "Colourant or powder", item, re.compile(f"^{item}"))
            page.get_by_label(f"Grams of part {n + 1}").fill(grams)
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("This is not a number.")).to_be_visible()
        page.get_by_label("Grams of part 2").fill("70")
        self.accessible("Made here")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("own premix of 30 % Kaolin clay and 70 % Olive")).to_be_visible()
        self.open("/stock")
        page.get_by_role("button", name="Made here").click()
        page.get_by_label("what was made").select_option(label="Clay in olive")
        page.get_by_label("g of it").fill("100")
        page.get_by_role("button", name="It stands on the shelf").click()
        row = page.get_by_role("row", name=re.compile("Clay in olive"))
        expect(row).to_contain_text("100 g")
        row.get_by_role("button", name="undo making").click()
        page.get_by_role("button", name="Bring it back").click()
        expect(row).to_contain_text("100 g")
