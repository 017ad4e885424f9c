"""Every place at every size, and what people do there beside the main walk."""

import re

from playwright.sync_api import expect

from tests.browser.real import RealBrowser

SIZES = ((1280, 800), (1024, 768), (390, 844))
HOPPER, TWELVE = "5107e000-0000-4000-8000-000100000000", "5107e000-0000-4000-8000-000100000007"


# Figures with a decimal point: in the words, in fields, in what is read aloud.
POINTED = r"""() => {
  const found = []
  const words = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
  while (words.nextNode()) found.push(words.currentNode.textContent)
  for (const e of document.querySelectorAll('input:not([type=range]), [aria-label], [title], [placeholder]'))
    found.push(e.value, ...['aria-label', 'title', 'placeholder'].map((name) => e.getAttribute(name)))
  return found.filter((text) => /\d\.\d/.test(text ?? ''))
}"""


class Places(RealBrowser):
    command = "demo"

    def test_a_place_opened_while_the_server_is_away_says_so_and_fills_by_itself(self) -> None:
        places = {
            f"/recipes/{HOPPER}": "Kaolin clay",
            f"/recipes/{HOPPER}/compare": "Husk",
            "/rest": "Hopper Oat",
            "/stock": "Beef tallow",
            "/score-card": "By month",
        }
        context = self.page.context
        context.route("**/api/**", lambda route: route.abort())
        tabs = {path: context.new_page() for path in places}
        for path, tab in tabs.items():
            tab.goto(self.server.url + path)
            expect(tab.get_by_role("main")).to_contain_text("Round Stone does not answer", timeout=15_000)
        context.unroute("**/api/**")
        for path, words in places.items():
            expect(tabs[path].get_by_role("main")).to_contain_text(words, timeout=15_000)
            expect(tabs[path].get_by_role("main")).not_to_contain_text("does not answer")

    def test_list_find_copy_remove_and_bring_back(self) -> None:
        page = self.page
        self.open("/")
        rows = page.get_by_role("listitem")
        expect(rows).to_have_count(10)
        page.get_by_placeholder("Find by name").fill("tallow hanger")
        expect(rows).to_have_count(1)
        expect(page.get_by_role("link", name="Copper Kettle", exact=True)).to_be_visible()
        page.get_by_placeholder("Find by name").fill("no such thing")
        expect(page.get_by_text("Nothing like")).to_be_visible()
        page.get_by_role("button", name="Show all").click()
        page.get_by_role("button", name="Copy Orris").click()
        expect(page.get_by_label("Name of the recipe")).to_have_value("Orris, copy")
        page.get_by_role("link", name="Recipes", exact=True).click()
        expect(rows).to_have_count(11)
        page.get_by_role("button", name="Remove Orris, copy").click()
        expect(rows).to_have_count(10)
        page.get_by_role("button", name="Bring it back").click()
        expect(rows).to_have_count(11)
        page.get_by_role("button", name="Remove Charcoal Burner").click()
        expect(page.get_by_role("alert")).to_contain_text("is running")
        expect(rows).to_have_count(11)

    def test_keys_in_a_field(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}")
        self.opened("lye")
        field = page.get_by_role("textbox", name="superfat")
        lye = page.locator("[data-test=lye]")
        first = lye.inner_text()
        field.focus()
        for key, value in (("ArrowUp", "5.5"), ("ArrowUp", "6"), ("Shift+ArrowDown", "1"), ("Escape", "5")):
            page.keyboard.press(key)
            expect(field).to_have_value(value)
        expect(lye).to_have_text(first)
        field.fill("7,5")
        page.keyboard.press("Enter")
        expect(field).not_to_be_focused()
        expect(lye).not_to_have_text(first)
        page.keyboard.press("Control+z")
        expect(field).to_have_value("5")
        page.keyboard.press("Control+Shift+z")
        expect(field).to_have_value("7.5")
        for text, message in (
            ("", "A number is needed"),
            ("1e3", "not a number"),
            ("--2", "not a number"),
            ("NaN", "not a number"),
        ):
            field.fill(text)
            expect(page.get_by_text(message)).to_be_visible()
            expect(lye).to_contain_text("—")
        # A complaint goes with its field, and stays with it when rows move.
        page.get_by_label("Shea butter, percent of fats").fill("plenty")
        self.opened("Olive")
        self.opened("Shea butter")
        page.get_by_role("button", name="Take out Olive").click()
        expect(lye).to_contain_text("—")
        page.get_by_role("button", name="Take out Shea butter").click()
        page.get_by_role("button", name="Undo").click()
        page.get_by_role("button", name="Undo").click()
        field.fill("6")
        expect(lye).not_to_contain_text("—")
        field.fill("99")
        expect(page.get_by_text("Superfat runs from 0 to 20 %")).to_be_visible()
        page.reload()
        self.opened("lye")
        expect(field).to_have_value("99")
        expect(lye).to_contain_text("—")

    def test_mould_and_weight_say_the_same(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}")
        lye = page.locator("[data-test=lye]")
        expect(lye).to_contain_text(re.compile(r"111\.[67]"))
        self.opened("size")
        page.get_by_role("radio", name="by weight of oils").check()
        expect(page.get_by_label("all oils")).to_have_value("797.9")
        expect(lye).to_contain_text(re.compile(r"111\.[67]"))
        page.get_by_label("all oils").fill("1605")
        expect(lye).to_contain_text("224.5")
        self.opened("Castor")
        page.get_by_role("button", name="Take out Castor").click()
        expect(page.get_by_text("95 %: 5 % is missing")).to_be_visible()
        page.get_by_role("button", name="Make Olive 50 %").click()
        expect(page.get_by_label("Olive, percent of fats")).to_have_value("50")

    def test_the_forecasts_own_fields_complain_beside_themselves(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}/forecast")
        water = page.get_by_label("lye concentration", exact=True)
        water.fill("thin")
        expect(page.get_by_text("This is not a number.")).to_be_visible()
        expect(water).to_have_value("thin")
        water.fill("55")
        batter = page.get_by_role("region", name="The batter")
        expect(batter.get_by_text("Above 50 % the lye does not dissolve")).to_be_visible()
        water.fill("33")
        expect(page.get_by_role("heading", name=re.compile("^Why medium trace"))).to_be_visible()

    def test_a_school_of_temperature_is_chosen(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}/forecast")
        heading = page.get_by_role("heading", name="Why medium trace")
        expect(heading).to_be_visible()
        before = heading.inner_text()
        page.get_by_role("button", name=re.compile("^warm")).click()
        expect(page.get_by_role("textbox", name="pour at")).to_have_value("43")
        expect(heading).not_to_have_text(before)

    def test_two_windows_do_not_overwrite_each_other(self) -> None:
        self.expected = re.compile("status of 409")
        self.open(f"/recipes/{HOPPER}")
        other = self.page.context.new_page()
        other.goto(f"{self.server.url}/recipes/{HOPPER}")
        self.opened("lye")
        other.get_by_role("button", name="Change lye, water, superfat").click()
        other.get_by_role("textbox", name="superfat").fill("9")
        expect(other.get_by_text("saved", exact=True)).to_be_visible()
        self.page.get_by_role("textbox", name="superfat").fill("3")
        expect(self.page.get_by_text("changed in another window")).to_be_visible()
        self.page.get_by_role("button", name="Side by side").click()
        expect(self.page.get_by_role("row", name="Superfat 3 % 9 %")).to_be_visible()
        self.page.get_by_role("button", name="Keep theirs").click()
        expect(self.page.get_by_role("textbox", name="superfat")).to_have_value("9")
        self.page.get_by_role("button", name="Undo").click()
        expect(self.page.get_by_role("textbox", name="superfat")).to_have_value("3")
        expect(self.page.get_by_text("saved", exact=True)).to_be_visible()
        other.close()

    def test_ingredients_of_ones_own(self) -> None:
        page = self.page
        self.open("/ingredients")
        page.get_by_label("Find an ingredient").fill("no such thing")
        expect(page.get_by_text("Add it as your own")).to_be_visible()
        page.get_by_label("Find an ingredient").fill("lot 7")
        page.get_by_role("button", name="Add your own").click()
        page.get_by_label("name, perhaps with its lot").fill("Olive, lot 7")
        page.get_by_label("saponification value").fill("1885")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("Choose the fat it is")).to_be_visible()
        self.pick("Kin of the fat", "oliv", re.compile("^Olive SV"))
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("Olive has 184 to 196")).to_be_visible()
        page.get_by_label("saponification value").fill("188,5")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("own certificate; acids as Olive")).to_be_visible()
        page.get_by_role("button", name="Add your own").click()
        page.get_by_label("an acid or additive").check()
        page.get_by_label("name, perhaps with its lot").fill("Fumaric acid, lot 7")
        page.get_by_label("usual dose").fill("6")
        page.get_by_label("the most").fill("20")
        page.get_by_label("molar mass").fill("116.07")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("A number is needed here")).to_be_visible()
        page.get_by_label("how many times an acid").fill("2")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("takes 0.689 g sodium hydroxide a gram")).to_be_visible()
        self.accessible("Ingredients")
        self.open(f"/recipes/{HOPPER}")
        self.pick("Add an oil, butter or clay", "lot 7", re.compile("lot 7"))
        expect(page.get_by_label("Olive, lot 7, percent of fats")).to_be_visible()

    def test_things_move_between_vessels_and_into_portions(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}")
        jug = page.get_by_role("region", name="Lye and water")
        stir = page.get_by_role("region", name="Fragrance and colour")
        where = re.compile("^Sugar")
        jug.get_by_role("button", name=where).press("Alt+ArrowRight")
        expect(stir.get_by_role("button", name=where)).to_be_visible()
        expect(stir.get_by_text("Dissolve it first in its own weight")).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        jug.get_by_role("button", name=where).drag_to(page.get_by_role("heading", name="Oils"))
        expect(page.get_by_text("It does not dissolve in fats")).to_be_visible()
        self.opened("Iron oxide")
        portions = page.get_by_role("group", name="Which portions Iron oxide goes into")
        portions.get_by_role("button", name="Bone").click()
        expect(stir.get_by_text(re.compile(r"into Bone"))).to_be_visible()
        others = [b for b in portions.get_by_role("button").all() if b.get_attribute("aria-pressed") == "true"]
        self.assertEqual(len(others), 2, "the one it was for, and this one")
        self.opened("lye")
        page.get_by_label("count what powders are dispersed in").check()
        expect(page.get_by_text("are part of the recipe")).to_be_visible()
        self.opened("Castor")
        page.get_by_role("button", name="Lock Castor").click()
        page.get_by_label("Olive, percent of fats").fill("40")
        expect(page.get_by_label("Castor, percent of fats")).to_have_value("5")
        expect(page.get_by_label("Olive, percent of fats")).to_have_value("40")

    def test_stock_shortage_and_side_by_side(self) -> None:
        page = self.page
        self.open("/stock")
        page.get_by_role("row", name=re.compile("Fig & vetiver")).get_by_role("button", name="edit stock").click()
        page.get_by_label("counted anew, g").fill("nine")
        page.get_by_role("button", name="Save the count").click()
        expect(page.get_by_text("This is not a number")).to_be_visible()
        page.get_by_label("counted anew, g").fill("9")
        page.get_by_role("button", name="Save the count").click()
        self.accessible("Stock")
        reader = page.get_by_label("Import CSV")
        wrong = b"kind,name,grams,counted\nfat,Moonlight,5,2031-01-01"
        reader.set_input_files({"name": "s.csv", "mimeType": "text/csv", "buffer": wrong})
        expect(page.get_by_text("line 2, name: There is no fat called Moonlight")).to_be_visible()
        self.open(f"/recipes/{HOPPER}")
        expect(page.get_by_text(re.compile(r"9.0\sg left: enough for a batch of"))).to_be_visible()
        self.opened("lye")
        page.get_by_role("textbox", name="superfat").fill("8")
        self.opened("more")
        page.get_by_text("When jug and pot can meet").click()
        expect(page.get_by_text("A thermometer decides")).to_be_visible()
        expect(page.get_by_text("saved", exact=True)).to_be_visible()
        page.get_by_role("link", name="Compare").click()
        left = page.get_by_label("Left side")
        left.select_option(left.locator("option", has_text="version 3").get_attribute("value"))
        expect(page.get_by_role("row", name="Superfat 5 % 8 %")).to_be_visible()
        self.accessible("Compare")

    def test_a_changed_claim_moves_the_file(self) -> None:
        page = self.page
        self.open("/shelf/plum-stone")
        effect = page.locator("[data-test=effect]")
        before = effect.inner_text()
        page.get_by_role("button", name="Edit the claim").click()
        page.get_by_label("the supplier says of trace").select_option("strong")
        page.get_by_label("name", exact=True).fill("Iris root")
        page.get_by_role("button", name="Save the claim").click()
        expect(page.get_by_text("Another fragrance has this name")).to_be_visible()
        page.get_by_label("name", exact=True).fill("Plum stone")
        page.get_by_role("button", name="Save the claim").click()
        expect(effect).not_to_have_text(before, timeout=30_000)  # the log is learned anew meanwhile
        expect(page.get_by_text("strong acceleration")).to_be_visible()

    def test_the_bench_sheet_prints_on_one_page(self) -> None:
        self.open(f"/recipes/{TWELVE}/bench-sheet")
        expect(self.page.get_by_text("Sodium hydroxide").first).to_be_visible()
        printed = self.page.pdf(prefer_css_page_size=True)
        self.assertEqual(len(re.findall(rb"/Type\s*/Page\b", printed)), 1)

    def test_a_recipe_leaves_and_comes_back(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}")
        self.opened("more")
        with page.expect_download() as download:
            page.get_by_role("link", name="Recipe as a file").click()
        self.assertEqual(download.value.suggested_filename, "hopper-oat.json")
        text = download.value.path().read_text()
        self.open("/")
        reader = page.get_by_label("Import recipes")
        broken = text.replace('"superfat": 0.05', '"superfat": "some"')
        reader.set_input_files({"name": "r.json", "mimeType": "application/json", "buffer": broken.encode()})
        expect(page.get_by_role("alert")).to_contain_text("/superfat")
        expect(page.get_by_role("listitem")).to_have_count(10)
        reader.set_input_files({"name": "r.json", "mimeType": "application/json", "buffer": text.encode()})
        expect(page.get_by_label("Name of the recipe")).to_have_value("Hopper Oat")
        expect(page.locator("[data-test=lye]")).to_contain_text(re.compile(r"111\.[67]"))
        self.opened("more")
        with page.expect_download() as sheet:
            page.get_by_role("link", name="Weights as CSV").click()
        weights = sheet.value.path().read_text()
        self.open("/")
        heavy = re.sub(r"Sodium hydroxide,,[\d.]+", "Sodium hydroxide,,125", weights)
        reader.set_input_files({"name": "heavy.csv", "mimeType": "text/csv", "buffer": heavy.encode()})
        expect(page.get_by_role("alert")).to_contain_text("lye heavy, and caustic")
        reader.set_input_files({"name": "Old notes.csv", "mimeType": "text/csv", "buffer": weights.encode()})
        expect(page.get_by_label("Name of the recipe")).to_have_value("Old notes")
        expect(page.locator("[data-test=lye]")).to_contain_text(re.compile(r"111\.[67]"))

    def test_alkali_water_liquids_and_blend(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}")
        lye = page.locator("[data-test=lye]")
        self.opened("lye")
        page.get_by_label("How water is set").select_option("ratio")
        expect(page.get_by_label("parts of water to one of lye")).to_have_value("2.03")
        expect(lye).to_contain_text(re.compile(r"111\.[67]"))
        page.get_by_label("parts of water to one of lye").fill("0.8")
        expect(page.get_by_text("Below 1 the lye does not dissolve")).to_be_visible()
        page.get_by_label("parts of water to one of lye").fill("2.5")
        expect(lye).to_contain_text(re.compile(r"\d\.\d"))  # it is weighed again: nothing moves under the next click
        page.get_by_text("ice, stock lye, potassium hydroxide").click()
        page.get_by_label("potassium, of alkali").fill("100")
        expect(page.locator("[data-test=koh]")).to_be_visible()
        expect(page.get_by_text("Potassium hydroxide", exact=True)).to_be_visible()
        page.get_by_label("potassium, of alkali").fill("0")
        page.get_by_label("water as ice").fill("40")
        expect(page.get_by_text("Ice", exact=True)).to_be_visible()
        self.opened("Goat milk")
        page.get_by_label("Where Goat milk goes").select_option("pot")
        self.opened("Goat milk")
        expect(page.get_by_text("brings 5.9 g fat")).to_be_visible()
        page.get_by_label("Goat milk, percent of all liquid").fill("70")
        expect(page.get_by_text("it would not dissolve")).to_be_visible()
        page.get_by_label("Goat milk, percent of all liquid").fill("30")
        self.pick("Add fragrance or colour", "clove", re.compile("Clove bark"))
        page.get_by_label("Clove bark, percent of the fats").fill("3")
        expect(page.get_by_text("times the fragrance its certificates allow").first).to_be_visible()
        self.opened("Sugar")
        page.get_by_label("How Sugar is dosed").select_option("tsp/lb")
        expect(page.get_by_label("Sugar, tsp/lb")).to_have_value(re.compile(r"^0\.8"))
        # What shall lie on the scale or in the spoon is typed where the dose stands.
        sugar = page.locator("li.row").filter(has=page.get_by_label("How Sugar is dosed"))
        for typed, shown in (("9 g", "9.0\xa0g"), ("1.5 tsp", "6.3\xa0g"), ("0.5 oz", "14.2\xa0g")):
            page.get_by_label("Sugar, tsp/lb").fill(typed)
            page.keyboard.press("Enter")
            expect(sugar).to_contain_text(shown)
            expect(page.get_by_label("Sugar, tsp/lb")).to_have_value(re.compile(r"^\d\.\d+$"))
        page.get_by_label("Sugar, tsp/lb").fill("2 %")
        page.keyboard.press("Enter")
        expect(page.get_by_label("Sugar, % of fats")).to_have_value("2")
        page.get_by_label("Clove bark, percent of the fats").fill("2 tsp")
        page.keyboard.press("Enter")
        expect(page.get_by_text("its density is not known")).to_be_visible()
        expect(page.get_by_label("Clove bark, percent of the fats")).to_have_value("2 tsp")
        expect(page.locator("[data-test=lye]")).to_contain_text("—")

    def test_grams_and_percent_are_both_editable(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}")
        self.opened("size")
        page.get_by_role("radio", name="by weight of oils").check()
        expect(page.get_by_label("all oils")).to_have_value("797.9")
        self.opened("Olive")
        self.opened("Coconut")
        olive = page.get_by_label("Olive, weight")
        expect(olive).to_have_value("359.1")
        olive.fill("459.1")
        page.keyboard.press("Enter")
        expect(page.get_by_label("all oils")).to_have_value(re.compile(r"^897\."))
        expect(page.get_by_label("Coconut, weight")).to_have_value("199.5")
        expect(page.get_by_label("Olive, percent of fats")).to_have_value(re.compile(r"^51\.1"))
        olive.fill("many")
        expect(page.get_by_text("This is not a number.")).to_be_visible()
        expect(olive).to_have_value("many")
        expect(page.locator("[data-test=lye]")).to_contain_text("—")
        olive.fill("459.1")
        expect(page.get_by_text("This is not a number.")).to_have_count(0)
        olive.fill("-3")
        page.keyboard.press("Enter")
        expect(page.get_by_text("A weight must be more than nothing")).to_be_visible()
        page.get_by_role("button", name="Undo").click()
        expect(olive).to_have_value("359.1")
        page.get_by_label("Olive, percent of fats").fill("60")
        expect(page.get_by_label("Coconut, percent of fats")).to_have_value(re.compile(r"^18\.18"))
        expect(page.get_by_text("too much")).to_have_count(0)
