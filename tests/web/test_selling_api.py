"""Batch numbers and labels: given once, in order, and no bar says more than it weighs."""

import io
import re
import zipfile
from datetime import timedelta
from math import floor
from typing import Any
from unittest.mock import patch
from uuid import UUID

from hypothesis import given
from hypothesis import strategies as st

from roundstone.core.logbook import check_pattern, net_weight, next_number
from roundstone.core.pour import Ended, Event, LeftUnscented, ScentIn, replay
from roundstone.core.recipe import Recipe
from roundstone.core.schedule import lines_as_poured
from roundstone.core.sheet import label, weigh
from roundstone.core.text import Weight
from roundstone.core.units import OUNCE
from roundstone.core.values import RuleError
from roundstone.exchange import labels
from roundstone.told import Reader
from tests.samples import quick_pour
from tests.web.client import PLAIN, ApiTest

PATTERNS = ("{year}/{n}", "S{yy}{month}-{nn}", "{n}", "{day}.{month}.{yy} no {nnn}")


class Numbers(ApiTest):
    def poured(self, pour: str = "") -> str:
        pour = pour or self.started()
        for event in quick_pour():
            self.tap(pour, event.minute, **event.model_dump(mode="json", exclude={"id", "minute", "sure"}))
        return pour

    def set(self, pattern: str, status: int = 200, **more: Any) -> Any:
        return self.send("PUT", "/settings/selling", {"pattern": pattern} | more, status)

    def numbers(self) -> list[str]:
        return [p["batch"] for p in reversed(self.send("GET", "/pours")["pours"])]

    @given(
        st.sampled_from(PATTERNS), st.lists(st.tuples(st.integers(2020, 2023), st.integers(1, 12), st.integers(1, 28)))
    )
    def test_no_two_batches_have_one_number(self, pattern: str, days: list[tuple[int, int, int]]) -> None:
        check_pattern(pattern)
        taken: set[str] = set()
        for year, month, day in days:
            number = next_number(pattern, (year, month, day), 0, taken)
            self.assertNotIn(number, taken)
            taken.add(number)

    def test_numbers_follow_the_days_and_are_given_once(self) -> None:
        self.poured()
        self.assertEqual(self.numbers(), [""])
        self.set("S{yy}{month}-{nn}")
        self.now += timedelta(days=40)
        self.poured()
        self.assertEqual(self.numbers(), ["S2605-01", "S2606-02"])
        # One from the notebook, begun before both, takes nobody's number.
        made = self.send("GET", "/recipes")["recipes"][0]["id"]
        events = [{"kind": "seen", "stage": "medium", "minute": 9, "portion": None}]
        past = {"recipe_id": made, "started": "2026-04-02T09:00:00Z", "events": events, "sure": True}
        events[0]["id"] = "5107e000-0000-4000-8000-0000000000aa"
        self.send("POST", "/pours/past", past, 201)
        self.assertEqual(self.numbers(), ["S2604-03", "S2605-01", "S2606-02"])
        self.set("{year}/{n}")
        self.assertEqual(self.numbers(), ["S2604-03", "S2605-01", "S2606-02"], "what is stamped on bars stays")
        found = self.send("GET", "/pours?find=S2605-01")["pours"]
        self.assertEqual([p["batch"] for p in found], ["S2605-01"])
        packed = self.client.get("/api/workshop.zip").get_data()
        self.assertIn(b"S2605-01", zipfile.ZipFile(io.BytesIO(packed)).read("pour.json"))

    def test_a_pattern_that_numbers_nothing_is_refused(self) -> None:
        self.poured()
        self.poured()
        self.set("   ")
        self.assertEqual(self.numbers(), ["", ""], "blank is none, and never the same number looked for without end")
        for pattern in ("batch", "{number}", "{n", "{n}" * 12):
            self.assertEqual(self.set(pattern, 422)["errors"][0]["pointer"], "/pattern")
            with self.assertRaises(RuleError):
                check_pattern(pattern)

    def test_a_label_says_no_more_than_the_bars_will_weigh_and_fits(self) -> None:
        blank = self.client.get(f"/api/pours/{self.poured()}/labels.pdf")
        self.assertEqual(blank.status_code, 200, "a bar of unknown weight leaves room to write it")
        made = self.send("POST", "/recipes", {"copy_of": None, "name": "Sized"}, 201)["id"]
        sized = {"kind": "moulds", "moulds": [{"shape": "cavities", "count": 6, "millilitres": 110}], "spare": 0}
        self.send("PUT", f"/recipes/{made}", {"revision": 1, "recipe": PLAIN | {"size": sized}})
        pour = self.poured(str(self.send("POST", "/pours", {"recipe_id": made}, 201)["id"]))
        self.set("T-{n}", maker="Testing soap, 1 Quay", best_months=18)
        rest = self.send("GET", f"/pours/{pour}/rest")
        written: list[str] = []
        line = labels._Labels._line

        def heard(paper: Any, words: Any, *rest: Any, **named: Any) -> None:
            written.append(paper.readable(words))
            line(paper, words, *rest, **named)

        with patch.object(labels._Labels, "_line", heard):
            for size, (across, down) in labels.GRIDS.items():
                written.clear()
                answer = self.client.get(f"/api/pours/{pour}/labels.pdf?size={size}&names=went_in")
                body = answer.get_data()
                self.assertEqual((answer.status_code, len(re.findall(rb"/Type /Page\b", body))), (200, 1), body[:300])
                many = across * down
                for part in (
                    "Ingredients: Olea",
                    "Sodium Hydroxide",
                    "Batch T-2",
                    "Best before",
                    "2027",
                    "Testing soap",
                ):
                    self.assertGreaterEqual(sum(part in w for w in written), many, part)
                bars = rest["now"]["bars"]
                least = min(b["grams"] * (1 - b["curve"]["loss"]["high"]) for b in bars)
                self.assertIn(f"Net {floor(least)}\u00a0g", written)
        self.set("T-{n}", maker="石鹸 workshop", best_months=1)
        lost = self.client.get(f"/api/pours/{pour}/labels.pdf?size=large")
        self.assertIn("U+77F3", lost.get_data(as_text=True), "no letter falls out of a label unsaid")
        self.set("T-{n}", maker="x" * 399, best_months=1)
        long = self.client.get(f"/api/pours/{pour}/labels.pdf?size=small")
        self.assertEqual(long.status_code, 422)
        self.assertIn("medium", long.get_data(as_text=True))

    def test_a_label_names_what_was_poured_and_not_what_was_planned(self) -> None:
        """Fragrance that was left out stands on no label; nothing tapped of it counts as planned."""
        shelf = self.workshop.ingredients.shelf()
        of = Recipe.model_validate(PLAIN)
        sheet = weigh(of, shelf).sheet
        assert sheet is not None

        def parfum(*events: Event) -> float:
            lines = lines_as_poured(of, sheet, replay((*events, Ended(id=UUID(int=9), minute=30)), of))
            self.assertEqual(
                [x for x in lines if x.kind != "fragrance"], [x for x in sheet.lines if x.kind != "fragrance"]
            )
            self.assertEqual("Parfum" in label(of, shelf, lines).became, any(x.kind == "fragrance" for x in lines))
            return sum(x.grams for x in lines if x.kind == "fragrance") / sum(
                x.grams for x in sheet.lines if x.kind == "fragrance"
            )

        self.assertAlmostEqual(parfum(), 1.0)
        self.assertEqual(parfum(LeftUnscented(id=UUID(int=1), minute=8)), 0.0)
        for share in (0.25, 1.0, 2.0):
            self.assertAlmostEqual(parfum(ScentIn(id=UUID(int=1), minute=8, share=share)), share / of.scented_share)

    @given(st.floats(60, 200), st.sampled_from(["g", "oz", "lb"]))
    def test_no_label_rounds_a_weight_up(self, least: float, unit: Weight) -> None:
        told = Reader(weight=unit)(net_weight(least, unit)).replace("\u00a0", " ")
        number, behind = told.split(" ")
        self.assertEqual(behind, "g" if unit == "g" else "oz")
        grams = float(number) * (1 if unit == "g" else OUNCE)
        self.assertLessEqual(grams, least + 1e-9)
        self.assertGreater(grams, least - (1 if unit == "g" else OUNCE / 10) - 1e-9)

    def test_bars_that_are_marked_for_good_get_no_label(self) -> None:
        bottle = dict(self.send("GET", "/fragrances/moderate")["fragrances"][0]["fragrance"]) | {"limit": 0.02}
        bottle.pop("id")
        self.send("PUT", "/fragrances/moderate", bottle)
        pour = self.started()
        for event in quick_pour():
            told = event.model_dump(mode="json", exclude={"id", "minute", "sure"})
            if told["kind"] == "scent":
                told |= {"share": 9.0}
            self.tap(pour, event.minute, **told)
        harm = self.send("GET", f"/pours/{pour}/rest")["harm"]
        answer = self.client.get(f"/api/pours/{pour}/labels.pdf")
        self.assertEqual(answer.status_code, 422 if harm else 200)
        self.assertTrue(harm, "nine times the dose is beyond what certificates allow")
