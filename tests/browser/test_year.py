"""A business week by hand: a drum with its certificate, a pour planned and moved, a year's costs, a recall."""

import re
from datetime import date, timedelta
from io import BytesIO

from openpyxl import load_workbook
from playwright.sync_api import FilePayload, expect

from tests.browser.real import RealBrowser, quiet

HOPPER = "5107e000-0000-4000-8000-000100000000"
PDF = FilePayload(name="drum 7.pdf", mimeType="application/pdf", buffer=b"%PDF-1.7 of a drum")


class Week(RealBrowser):
    command = "demo"

    def test_a_drum_of_another_value_changes_the_lye_and_stands_on_the_sheet(self) -> None:
        page = self.page
        self.open("/stock")
        page.get_by_placeholder("Find a lot").fill("olive")
        page.get_by_role("row", name=re.compile("^Olive")).get_by_role("button", name="edit stock").click()
        for label, typed in (
            ("lot, bottle or delivery", "drum 7"),
            ("supplier", "Quarry oils"),
            ("saponification value", "250"),
            ("sold by the pack of", "5 kg"),
        ):
            page.get_by_label(label).fill(typed)
        page.get_by_label("Add a certificate").set_input_files(PDF)
        self.accessible("A lot", always=True)
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("alert")).to_contain_text("250 is")
        page.get_by_label("saponification value").fill("186.5")
        page.get_by_role("button", name="Save", exact=True).click()
        row = page.get_by_role("row", name=re.compile("^Olive"))
        expect(row).to_contain_text("drum 7")
        row.get_by_role("button", name="edit stock").click()
        with page.expect_download() as saved:
            page.get_by_role("link", name="drum 7.pdf").click()
        self.assertEqual(saved.value.path().read_bytes(), PDF["buffer"])

        self.open(f"/recipes/{HOPPER}")
        lye = page.locator("section").filter(has=page.get_by_role("heading", name="Lye and water"))
        before = lye.inner_text()
        page.get_by_role("button", name="Reckon with 186.5").first.click()
        expect(page.get_by_role("button", name="as in the tables")).to_be_visible()
        quiet(page)
        self.assertNotEqual(
            lye.inner_text() if lye.count() else page.get_by_label("Lye and water").inner_text(), before
        )
        expect(page.get_by_text("saved", exact=True)).to_be_visible()
        page.get_by_role("button", name="Print sheet").or_(page.get_by_role("link", name="Print sheet")).click()
        expect(page.get_by_text("saponification value 186.5 by its certificate; lot: drum 7").first).to_be_visible()

    def test_a_pour_is_planned_and_moved_and_the_year_adds_up(self) -> None:
        page = self.page
        day = date.today().replace(day=28) + timedelta(days=7)
        self.open("/calendar")
        self.accessible("Calendar", always=True)
        page.get_by_role("button", name="The month after").click()
        quiet(page)
        self.pick("Plan a pour of", "orris", re.compile("^Orris"))
        page.get_by_role("button", name=re.compile(f"^Pour Orris .*\\b{day.day}\\b")).first.click()
        planned = page.get_by_role("button", name="Pour Orris")
        expect(planned).to_have_count(1)
        cell = page.locator("[data-test=calendar] > li").filter(has=planned)
        expect(cell).to_contain_text(str(day.day))
        other = page.locator("[data-test=calendar] > li").filter(has_text=re.compile(f"^{day.day + 6}(?!\\d)")).first
        planned.drag_to(other)
        expect(other.get_by_role("button", name="Pour Orris")).to_be_visible()
        expect(page.get_by_text("Orris: cut with")).to_have_count(1)
        planned.click()
        page.get_by_role("button", name="Take it off the calendar").click()
        expect(page.get_by_role("button", name="Pour Orris")).to_have_count(0)

        self.open("/workshop")
        page.get_by_label("packaging of a bar").fill("0.35")
        page.get_by_label("an hour of work").fill("lots")
        save = page.get_by_role("button", name="Save for labels and costs")
        save.click()
        expect(page.get_by_text("This is not an amount.")).to_be_visible()
        page.get_by_label("an hour of work").fill("14")
        save.click()
        expect(page.get_by_text("Saved.", exact=True)).to_be_visible()
        with page.expect_download() as saved:
            page.get_by_role("link", name="Download the spreadsheet").click()
        book = load_workbook(BytesIO(saved.value.path().read_bytes()))
        rows = {str(row[0].value): row for row in book["weights"].iter_rows(min_row=2)}
        self.assertIn(HOPPER, rows)
        again = FilePayload(name="t.xlsx", mimeType="application/x", buffer=saved.value.path().read_bytes())
        page.get_by_label("Read it back").set_input_files(again)
        expect(page.get_by_text("Nothing in it is new")).to_be_visible(timeout=30_000)
        grams = [c.value for c in book["weights"][1]].index("grams") + 1
        book["weights"].cell(2, grams).value = "plenty"
        out = BytesIO()
        book.save(out)
        wrong = FilePayload(name="t.xlsx", mimeType="application/x", buffer=out.getvalue())
        page.get_by_label("Read it back").set_input_files(wrong)
        expect(page.get_by_text("weights, row 2, grams: A weight in grams is expected.")).to_be_visible(timeout=30_000)

        self.open("/year")
        self.accessible("Costs and records", always=True)
        expect(page.get_by_role("row", name=re.compile(r"^\d{4} in all"))).to_contain_text("over")
        with page.expect_download() as saved:
            page.get_by_role("button", name="The year's records to print").click()
        self.assertTrue(saved.value.path().read_bytes().startswith(b"%PDF"))
        self.open("/stock")
        page.get_by_role("row", name=re.compile("^Olive")).get_by_role("button", name="in which batches").click()
        expect(page.get_by_role("heading", name=re.compile(r"^Olive.*: \d+ batch.*bars"))).to_be_visible()
