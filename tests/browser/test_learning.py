"""Knobs, hazards, the score card, what differed, and a pour's log put right afterwards: in the real app."""

import re

from playwright.sync_api import expect

from tests.browser.real import RealBrowser

HOPPER = "5107e000-0000-4000-8000-000100000000"
LAST = "5107e000-0000-4000-8000-000200000019"
PIXEL = (
    b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR\0\0\0\1\0\0\0\1\x08\2\0\0\0\x90wS\xde"
    b"\0\0\0\x0cIDATx\x9cc\xf8\xff\xff?\0\5\xfe\2\xfe\r\xefF\xb8\0\0\0\0IEND\xaeB`\x82"
)


class Learning(RealBrowser):
    command = "demo"

    def test_a_knob_moves_a_ghost_and_is_kept_or_let_go(self) -> None:
        page = self.page
        self.open(f"/recipes/{HOPPER}/forecast")
        expect(page.get_by_role("heading", name="What else can go wrong")).to_be_visible()
        expect(page.get_by_text("Scout cup of today's batter")).to_be_visible()
        knob = page.get_by_role("slider", name="pour at")
        knob.fill("42")
        expect(page.get_by_text("with this change").first).to_be_attached()
        status = page.get_by_role("region", name="Knobs").get_by_role("status")
        expect(status).to_contain_text("Husk: medium")
        self.accessible("Forecast with a ghost")
        page.get_by_role("button", name="Discard").click()
        expect(page.get_by_text("with this change")).to_have_count(0)
        expect(page.get_by_label("pour at", exact=True)).to_have_value("31")
        page.get_by_label("What if the scent was stirred in").select_option("stick")
        page.get_by_label("What if one fat was another: which").select_option(label="Coconut 25 %")
        page.get_by_label("What if one fat was another: for which").select_option(label="Babassu")
        page.get_by_role("button", name="Use this").click()
        stirred = page.get_by_label("What if the scent was stirred in")
        expect(page.get_by_text("with this change")).to_have_count(0)
        expect(stirred).to_have_value("stick")
        page.get_by_role("button", name="Undo").click()
        expect(stirred).to_have_value("hand")

    def test_score_card_and_what_differed(self) -> None:
        page = self.page
        self.open("/pours")
        page.get_by_role("link", name="How good were the forecasts?").click()
        expect(page.get_by_text(re.compile(r"in \d+ of 26 pours"))).to_be_visible(timeout=20_000)
        expect(page.get_by_text(re.compile("Tuned from 26 pours"))).to_be_visible(timeout=20_000)
        self.accessible("Score card")
        self.open("/pours")
        boxes = page.get_by_role("checkbox", name=re.compile("^Compare Millrace"))
        boxes.nth(0).check()
        boxes.nth(1).check()
        page.get_by_role("button", name="What differed?").click()
        expect(page.get_by_text("By all the clock knows")).to_be_visible()
        expect(page.get_by_text("unexplained: a batch's own luck")).to_be_visible()
        self.accessible("What differed")

    def test_put_right_afterwards(self) -> None:
        """Answers, a colour, a picture, a forgotten look and one taken back: each changes what was learned."""
        page = self.page
        self.open(f"/pours/{LAST}")
        page.get_by_role("button", name="false trace", exact=True).click()
        expect(page.get_by_role("button", name="false trace", exact=True)).to_be_disabled()
        page.get_by_label("Colour against the one that was meant").select_option("tint")
        page.get_by_role("button", name="Note the colour").click()
        expect(page.get_by_text("colour tint, day")).to_be_visible()
        picture = page.get_by_label("Add a picture")
        picture.set_input_files({"name": "no.png", "mimeType": "image/png", "buffer": b"no picture"})
        expect(page.get_by_text("not a picture that can be read")).to_be_visible()
        picture.set_input_files({"name": "bar.png", "mimeType": "image/png", "buffer": PIXEL})
        expect(page.get_by_role("button", name=re.compile("^Put away"))).to_be_visible()
        page.get_by_label("Minute").fill("soon")
        page.get_by_role("button", name="Write it in").click()
        expect(page.get_by_text("A time is m:ss, or minutes.")).to_be_visible()
        page.get_by_label("Minute").fill("0:50")
        page.get_by_label("What was seen or done").select_option("stick")
        page.get_by_label("Figure").fill("6")
        page.get_by_role("button", name="Write it in").click()
        line = page.get_by_role("button", name="Take back blended 6 s at 0:50")
        expect(line).to_be_visible()
        self.accessible("After the pour", always=True)
        line.click()
        expect(line).to_have_count(0)

    def test_from_a_notebook_by_hand_and_by_file(self) -> None:
        page = self.page
        self.open("/pours/past")
        page.get_by_label("recipe, as it stands now").select_option(label="Salt Pan")
        minutes = page.get_by_label("Minute")
        minutes.nth(1).fill("x")
        page.get_by_role("button", name="Learn from it").click()
        expect(page.get_by_text("A time is m:ss, or minutes.")).to_be_visible()
        minutes.nth(1).fill("2:30")
        minutes.nth(2).fill("6")
        self.accessible("From a notebook")
        page.get_by_role("button", name="Learn from it").click()
        expect(page.get_by_text("the forecast gives that less than 1 %")).to_be_visible()
        page.get_by_role("button", name="It is so").click()
        expect(page.get_by_text("What this batter did is now part of every forecast")).to_be_visible()
        self.open("/pours")
        expect(page.get_by_role("listitem")).to_have_count(29)
        reader = page.get_by_label("Import CSV")
        rows = "a,Salt Pan,2026-03-01,0.8,emulsion\na,,,7,medium\nb,Millrace,2026-03-02,1,emulsion"
        text = "pour,recipe,started,minute,event\n" + rows
        wrong = text.replace("7,medium", "7,lumpy").encode()
        reader.set_input_files({"name": "p.csv", "mimeType": "text/csv", "buffer": wrong})
        expect(page.get_by_text(re.compile("line 3, event: One of emulsion"))).to_be_visible()
        reader.set_input_files({"name": "p.csv", "mimeType": "text/csv", "buffer": text.encode()})
        expect(page.get_by_text("2 pours with 5 events were taken in")).to_be_visible()
        expect(page.get_by_role("listitem")).to_have_count(31)

    def test_something_goes_wrong_at_the_bench(self) -> None:
        page = self.page
        self.open("/pours/5107e000-0000-4000-8000-000000000026")
        page.keyboard.press("r")
        self.accessible("What went wrong")
        page.get_by_role("dialog").get_by_role("button", name="ricing").click()
        card = page.get_by_role("dialog", name="Grains: Char")
        expect(card).to_contain_text("No stick")
        expect(card).to_contain_text("In your log")
        self.accessible("What to do")
        card.get_by_role("button", name="back to the bench").click()
        expect(page.locator("[data-test=recent]")).to_contain_text("Char: ricing")
        page.get_by_role("button", name="Grains: Char").click()
        card.get_by_role("button", name="came smooth").click()
        expect(page.locator("[data-test=recent]")).to_contain_text("ricing ended: came smooth again")
        expect(page.get_by_role("button", name="Grains: Char")).to_have_count(0)
        page.get_by_role("button", name=re.compile("^scent in …")).click()
        page.get_by_role("dialog").get_by_role("button", name="It stays out").click()
        expect(page.locator("[data-test=recent]")).to_contain_text("left unscented")
        expect(page.get_by_role("button", name=re.compile("^Scent is in"))).to_have_count(0)
