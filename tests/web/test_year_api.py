"""A year of batches: what they cost, what is on record of them, tables both ways, and who may read them."""

import io
import json
from datetime import date, timedelta
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook
from PIL import Image

from roundstone.core.logbook import BatchCost, Selling, batch_cost, by_month, differed
from roundstone.core.rest import still_planned
from roundstone.exchange import tables
from tests.samples import quick_pour
from tests.web.client import PLAIN, ApiTest

SIZED = PLAIN | {
    "size": {"kind": "moulds", "moulds": [{"shape": "cavities", "count": 6, "millilitres": 110}], "spare": 0}
}
LOT = "5107e000-0000-4000-8000-0000000000{:02x}"
ITEMS = st.dictionaries(st.sampled_from(["fat:olive", "alkali:naoh", "fragrance:x"]), st.floats(1, 5000), min_size=1)


def cost(day: str, bars: int, taken: dict[str, float], price: float | None, **rates: float) -> BatchCost:
    rows = [(i, g, price) for i, g in taken.items()]
    pour = ("p" + day, "r", "R", "", day)
    return batch_cost(pour, bars, taken, rows, 30.0, Selling.model_validate(rates), {})


class Reckoned(ApiTest):
    @given(ITEMS, st.integers(1, 60), st.floats(0, 50), st.floats(0, 2), st.floats(0, 60), st.floats(0, 90))
    def test_a_batch_costs_what_its_parts_do(
        self, taken: dict[str, float], bars: int, price: float, packaging: float, hour: float, beside: float
    ) -> None:
        of = cost("2031-02-03", bars, taken, price, packaging=packaging, hour=hour, minutes_beside=beside)
        whole = sum(taken.values()) / 1000 * price + bars * packaging + (30 + beside) / 60 * hour
        self.assertAlmostEqual(of.total, whole, places=6)
        self.assertAlmostEqual(sum(of.parts.values()), of.total, places=6)
        self.assertAlmostEqual((of.bar or 0) * bars, of.total, places=6)
        self.assertEqual(of.unpriced, ())
        self.assertEqual(set(cost("2031-02-03", bars, taken, None).unpriced), set(taken))

    @given(st.lists(st.tuples(st.integers(1, 12), st.integers(1, 60), st.floats(1, 900)), max_size=12))
    def test_months_add_up_to_the_year(self, batches: list[tuple[int, int, float]]) -> None:
        of = [cost(f"2031-{m:02d}-{i + 1:02d}", b, {"fat:olive": g}, 8) for i, (m, b, g) in enumerate(batches)]
        told = by_month(of)
        self.assertEqual(bool(told), bool(of))
        for whole in told[-1:]:
            self.assertAlmostEqual(sum(m.total for m in told[:-1]), whole.total, places=6)
            self.assertEqual([sum(m.bars for m in told[:-1]), whole.bars], 2 * [sum(b.bars for b in of)])

    def test_what_differed_names_what_made_the_difference(self) -> None:
        before = cost("2031-01-01", 10, {"fat:olive": 1000, "alkali:naoh": 130}, 8)
        last = cost("2031-02-01", 10, {"fat:olive": 1000, "alkali:naoh": 130}, 8).model_copy(
            update={"items": {"fat:olive": 10.0, "alkali:naoh": 1.04}, "bar": 1.104}
        )
        (found,) = differed([last, before], {"fat:olive": "Olive oil"}, "EUR")
        self.assertEqual([str(w) for w in found.words], ["Olive oil +0.20 EUR a bar"])


class Workshop(ApiTest):
    def stock(self, n: int, item: str, grams: float, **more: Any) -> str:
        body = {"item": item, "grams": grams, "counted": "2026-04-01T00:00:00Z"} | more
        self.send("PUT", f"/stock/{LOT.format(n)}", body)
        return LOT.format(n)

    def poured(self, made: str) -> str:
        pour = str(self.send("POST", "/pours", {"recipe_id": made, "sure": True}, 201)["id"])
        for event in quick_pour():
            self.tap(pour, event.minute, **event.model_dump(mode="json", exclude={"id", "minute", "sure"}))
        return pour

    def made(self, **more: Any) -> str:
        made = self.send("POST", "/recipes", {"copy_of": None, "name": "Sized"}, 201)["id"]
        self.send("PUT", f"/recipes/{made}", {"revision": 1, "recipe": SIZED | {"name": "Sized"} | more})
        return str(made)

    def get(self, path: str, status: int = 200) -> Any:
        answer = self.client.get(f"/api{path}")
        self.assertEqual(answer.status_code, status, answer.get_data()[:300])
        return answer


class Year(Workshop):
    def test_costs_follow_the_lots_that_were_taken(self) -> None:
        made = self.made()
        sheet = self.send("POST", "/weigh", {"recipe": SIZED})["weighing"]["sheet"]
        olive = sum(x["grams"] for x in sheet["lines"] if x["item"] == "fat:olive")
        self.stock(1, "fat:olive", olive / 2, price_per_kg=10, expires="2026-09-01")
        self.stock(2, "fat:olive", 5 * olive, price_per_kg=20, expires="2027-09-01")
        self.poured(made)
        self.now += timedelta(days=40)
        self.poured(made)
        told = self.send("GET", "/costs?year=2026")
        last, first = told["batches"]
        self.assertAlmostEqual(first["parts"]["fats"], olive / 1000 * 15, places=4)
        self.assertAlmostEqual(last["parts"]["fats"], olive / 1000 * 20, places=4)
        self.assertEqual([m["month"] for m in told["months"]], ["2026-05", "2026-06", ""])
        self.assertIn("Sodium hydroxide", told["unpriced"])
        (by,) = told["differed"]
        self.assertIn("Olive +", by["words"][0])
        selling = {"packaging": 0.5, "hour": 12, "minutes_beside": 60}
        self.send("PUT", "/settings/selling", selling)
        again = self.send("GET", "/costs?year=2026")["batches"][1]
        self.assertAlmostEqual(again["parts"]["packaging"], 6 * 0.5)
        self.assertGreater(again["parts"]["work"], 12)
        self.assertIn("2026-05-01,,Sized,6,", self.get("/costs.csv?year=2026").get_data(as_text=True))
        self.assertEqual(self.send("GET", "/costs?year=2025")["months"], [])

    def test_bars_nobody_counted_are_in_no_figure_and_are_told(self) -> None:
        """Of a batch by weight alone nobody knows the bars until they are counted; a recall says so."""
        made = self.made(size={"kind": "fats", "grams": 1000})
        lot = self.stock(1, "fat:olive", 9000, price_per_kg=10)
        self.poured(made)
        self.now += timedelta(days=10)
        pour = self.poured(made)
        self.assertEqual(self.send("GET", "/costs?year=2026")["months"][-1]["bar"], None)
        self.tap(pour, 2000, kind="cut", how="clean")
        self.tap(pour, 2010, kind="bars", bars=9)
        self.tap(pour, 2020, kind="bars", bars=10)
        told = self.send("GET", "/costs?year=2026")
        (whole,) = (m for m in told["months"] if not m["month"])
        self.assertEqual((whole["bars"], whole["uncounted"], whole["batches"]), (10, 1, 2))
        self.assertAlmostEqual(whole["bar"], told["batches"][0]["total"] / 10)
        traced = self.send("GET", f"/stock/{lot}/batches")
        self.assertEqual((traced["bars"], traced["uncounted"], traced["all_batches"]), (10, 1, 2))
        self.assertEqual(self.send("GET", f"/pours/{pour}/rest")["now"]["counted"], 10)

    def test_a_year_on_record_names_lots_readings_and_who_signed(self) -> None:
        self.stock(1, "fat:olive", 9000, label="drum 7", supplier="Testing", code="A-1")
        self.send("PUT", "/settings/selling", {"pattern": "{yy}-{nn}"})
        pour = self.poured(self.made())
        self.tap(pour, 60, kind="sign", by="A. Tester")
        text = self.get("/records.csv?year=2026&zone=Pacific/Auckland").get_data(as_text=True)
        for part in ("26-01", "Sized", "2026-05-01T21:00:00+12:00", "Olive: drum 7, Testing A-1", "A. Tester"):
            self.assertIn(part, text)
        body = self.get("/records.pdf?year=2026").get_data()
        self.assertTrue(body.startswith(b"%PDF"))
        self.get("/records.pdf?year=2024", 422)
        photo = io.BytesIO()
        Image.new("RGB", (60, 40), "#446688").save(photo, "JPEG")
        bare = len(self.get(f"/pours/{pour}/record.pdf").get_data())
        photo.seek(0)
        form = {"file": (photo, "bar.jpg"), "days": "1", "note": ""}
        self.assertEqual(self.client.post(f"/api/pours/{pour}/photos", data=form).status_code, 201)
        self.assertNotEqual(len(self.get(f"/pours/{pour}/record.pdf").get_data()), bare, "the bar's picture is on it")

    def test_a_certificate_lies_beside_its_lot(self) -> None:
        lot = self.stock(1, "fat:olive", 900)

        def put(data: bytes, name: str) -> Any:
            return self.client.post(f"/api/stock/{lot}/documents", data={"file": (io.BytesIO(data), name)})

        self.assertEqual(put(b"MZ not a paper", "x.exe").status_code, 422)
        view = put(b"%PDF-1.7 olive", "analysis <1>.pdf").json
        ((document,),) = view["documents"].values()
        answer = self.get(f"/documents/{document['id']}")
        self.assertEqual((answer.get_data(), answer.content_type), (b"%PDF-1.7 olive", "application/pdf"))
        self.assertIn("attachment", answer.headers["Content-Disposition"])
        self.assertEqual(self.send("DELETE", f"/documents/{document['id']}")["documents"], {})
        self.get(f"/documents/{document['id']}", 404)
        self.assertTrue(self.send("POST", f"/documents/{document['id']}/restore")["documents"])

    def test_a_lot_of_another_value_changes_the_lye_by_one_click(self) -> None:
        made = self.made()
        self.stock(1, "fat:olive", 9000, sv=186.0, label="drum 7")
        told = self.send("POST", "/weigh", {"recipe": SIZED})
        (caution,) = told["supply"]["certificates"]
        (mend,) = caution["mends"]
        self.assertEqual((mend["pointer"], mend["value"]), ("/fats/0/sv", 186.0))
        mended = json.loads(json.dumps(SIZED))
        mended["fats"][0]["sv"] = 186.0
        after = self.send("POST", "/weigh", {"recipe": mended})
        self.assertEqual(after["supply"]["certificates"], [])
        self.assertLess(after["weighing"]["sheet"]["naoh"], told["weighing"]["sheet"]["naoh"])
        page = self.send("GET", f"/recipes/{made}/worksheet")
        self.assertIn("by its certificate", str([s["cautions"] for s in page["steps"]]))
        self.assertIn("lot: drum 7", str([x["note"] for s in page["steps"] for x in s["lines"]]))
        ready = self.send("GET", f"/recipes/{made}/ready")
        lots = {i["line"]: i["lot"] for s in ready["stages"] for p in s["parts"] for i in p["items"]}
        self.assertIn("drum 7", next(lot for line, lot in lots.items() if "olive" in line))


class Tables(Workshop):
    def book(self) -> Any:
        return load_workbook(io.BytesIO(self.get("/tables.xlsx").get_data()))

    def read(self, book: Any, status: int = 201, sure: bool = False) -> Any:
        out = io.BytesIO()
        book.save(out)
        form = {"file": (io.BytesIO(out.getvalue()), "tables.xlsx"), "sure": str(sure)}
        answer = self.client.post("/api/tables", data=form)
        self.assertEqual(answer.status_code, status, answer.get_data())
        return answer.json

    @staticmethod
    def cell(page: Any, column: str, row: int) -> Any:
        return page.cell(row, [c.value for c in page[1]].index(column) + 1)

    def test_a_spreadsheet_read_back_changes_nothing(self) -> None:
        self.stock(1, "fat:olive", 1234.567, label="=1+1", purity=None, sv=188.25, pack=5000)
        self.poured(self.made())
        before = {name: self.workshop.database.dump()[name] for name in ("recipe", "lot", "pour", "event", "fragrance")}
        told = self.read(self.book())
        self.assertIn("Nothing in it is new", told["message"])
        self.assertEqual({name: self.workshop.database.dump()[name] for name in before}, before)
        self.assertEqual(self.cell(self.book()["shelf"], "lot", 2).data_type, "s", "no formula")

    def test_what_was_changed_in_it_is_taken_in_once(self) -> None:
        lot, made = self.stock(1, "fat:olive", 900), self.made()
        book = self.book()
        shelf, weights = book["shelf"], book["weights"]
        self.cell(shelf, "grams", 2).value = 700
        rows = {weights.cell(r, 3).value: r for r in range(2, weights.max_row + 1)}
        olive = self.cell(weights, "grams", rows["fat:olive"])
        olive.value = olive.value * 1.02
        new = {"recipe": "From a table", "ingredient": "Olive", "grams": 500}
        for ingredient, grams in (("Olive", 500), ("Water", 130), ("Sodium hydroxide", 64)):
            line = new | {"ingredient": ingredient, "grams": grams}
            weights.append([line.get(c.value) for c in weights[1]])
        drum = {"kind": "fat", "name": "Coconut", "lot": "drum 9", "grams": 5000, "price_per_kg": 4.5}
        for _ in range(2):  # two alike are two
            shelf.append([drum.get(c.value) for c in shelf[1]])
        out = self.read(book)["message"]
        for part in ("3 lots", "1 recipes with other weights", "1 new recipes"):
            self.assertIn(part, out)
        left = {x["id"]: x["left"] for x in self.send("GET", "/stock")["lots"]}
        self.assertEqual(left[lot], 700)
        changed = self.send("GET", f"/recipes/{made}")["recipe"]
        self.assertEqual(changed["size"]["kind"], "fats")
        self.assertLess(changed["fats"][1]["share"], 0.25, "the other fats weigh what they did")
        names = [r["name"] for r in self.send("GET", "/recipes")["recipes"]]
        self.assertEqual(names.count("From a table"), 1)
        self.now += timedelta(hours=2)
        self.read(book)
        self.assertEqual(len(self.send("GET", "/stock")["lots"]), 3)
        self.assertEqual([r["name"] for r in self.send("GET", "/recipes")["recipes"]].count("From a table"), 1)

    def test_nothing_is_half_read_and_every_fault_names_its_cell(self) -> None:
        self.stock(1, "fat:olive", 900)
        self.made()
        book = self.book()
        self.cell(book["shelf"], "grams", 2).value = 700
        self.cell(book["weights"], "grams", 2).value = "much"
        errors = self.read(book, 422)["errors"]
        self.assertEqual([e["pointer"] for e in errors], ["/weights/2/grams"])
        self.assertEqual(self.send("GET", "/stock")["lots"][0]["left"], 900)
        book = self.book()
        naoh = next(r for r in range(2, 30) if book["weights"].cell(r, 3).value == "alkali:naoh")
        self.cell(book["weights"], "grams", naoh).value *= 1.3
        self.assertIn("more lye than the fats can take", str(self.read(book, 422)["errors"]))
        for junk in (b"PK no book", b"\x00" * 40):
            answer = self.client.post("/api/tables", data={"file": (io.BytesIO(junk), "t.xlsx")})
            self.assertEqual(answer.status_code, 422)

    def test_the_data_address_has_the_same_rows(self) -> None:
        self.stock(1, "fat:olive", 900)
        self.poured(self.made())
        for table in self.send("GET", "/data")["tables"]:
            rows = self.send("GET", table["address"].removeprefix("/api"))
            page = self.book()[rows["name"] if rows["name"] != "batches" else "batches 2026"]
            self.assertEqual([c.value for c in page[1]], rows["columns"])
            self.assertEqual(page.max_row - 1, rows["all"])
        part = self.send("GET", "/data/shelf?first=1&most=1")
        self.assertEqual(len(part["rows"]), 1)
        self.assertIn("kind,name", self.get("/data/shelf?format=csv").get_data(as_text=True))
        self.get("/data/secrets", 404)

    @given(st.text(max_size=30), st.floats(-1e9, 1e9, allow_nan=False))
    def test_what_is_written_is_read(self, words: str, figure: float) -> None:
        kept = "".join(c for c in words if c.isprintable()).strip()
        table = tables.Table("t", ("words", "figure"), [("end", 1.0), (kept, figure)])
        text = tables.from_xlsx(tables.as_xlsx([table]))["t"]
        back = tables.from_csv("t", text, ("figure",))
        if kept:
            self.assertEqual(back.rows[1][0], kept)
        self.assertAlmostEqual(float(str(back.rows[1][1] or 0)), figure, delta=1e-9 * max(1.0, abs(figure)))


DATES = st.dates(date(2031, 1, 1), date(2031, 3, 1))


class Days(Workshop):
    @given(st.lists(DATES, max_size=6), st.lists(DATES, max_size=6))
    def test_each_pour_is_of_one_planned_day_at_most(self, planned: list[date], poured: list[date]) -> None:
        left = still_planned([d.isoformat() for d in planned], poured)
        self.assertLessEqual(len(planned) - len(left), len(poured))
        self.assertEqual([d for _, d in left], [planned[i] for i, _ in left])
        for _, day in left:
            self.assertLessEqual(sum(abs((day - p).days) <= 3 for p in poured), len(planned) - len(left))
        self.assertEqual(still_planned([d.isoformat() for d in planned], ()), list(enumerate(planned)))

    def plan(self, recipe: str, day: str | None, nth: int | None = None, was: str = "", status: int = 200) -> Any:
        return self.send("PUT", f"/recipes/{recipe}/days", {"day": day, "nth": nth, "was": was}, status)

    def nth(self, day: str) -> int:
        return int(self.on("pour")[day][0]["nth"])

    def on(self, what: str, first: str = "2026-04-27") -> dict[str, list[Any]]:
        days = self.send("GET", f"/calendar?first={first}&many=60")["days"]
        self.assertEqual(len(days), 60)
        found = {d["day"]: [e for e in d["entries"] if e["what"] == what] for d in days}
        return {day: of for day, of in found.items() if of}

    def test_a_pour_is_planned_moved_poured_and_what_follows_moves_with_it(self) -> None:
        box = {"shape": "box", "length": 20, "width": 8, "fill": 6, "cut": 25}
        mould = {"kind": "moulds", "moulds": [box], "spare": 0}
        brief = {"bars": 16, "ready": "2026-08-01", "sale": "2026-08-03", "whom": "a stall"}
        made = self.made(size=mould, brief=brief)
        (waits,) = self.send("GET", "/calendar?first=2026-05-01")["undated"]
        self.assertIn("2 pours", waits["message"])
        self.assertEqual(self.send("GET", "/stock/order")["planned"], 2)
        self.plan(made, "2026-05-04")
        self.plan(made, "2026-05-04")
        self.assertEqual(self.send("GET", "/calendar?first=2026-05-01")["undated"], [])
        self.assertEqual(self.send("GET", "/stock/order")["planned"], 2, "dated or not, each is counted once")
        days = {d["day"]: d for d in self.send("GET", "/calendar?first=2026-05-01")["days"]}
        self.assertIn("wants a mould like the one of Sized", str(days["2026-05-04"]["scarce"]))
        cut = min(self.on("cut"))
        self.plan(made, "2026-05-11", 1, "2026-05-04")
        self.plan(made, "2026-05-12", 1, "2026-05-04", 404)
        self.assertEqual(list(self.on("pour")), ["2026-05-04", "2026-05-11"])
        self.assertEqual(len(self.on("cut")), 2)
        self.assertEqual(min(self.on("cut")), cut)
        self.assertEqual(list(self.on("ready", "2026-07-01")), ["2026-08-01"])
        days = {d["day"]: d for d in self.send("GET", "/calendar?first=2026-05-01")["days"]}
        self.assertEqual(days["2026-05-04"]["scarce"], [])
        self.now = self.now.replace(day=5)
        self.poured(made)
        self.plan(made, "2026-05-13")
        self.plan(made, None, self.nth("2026-05-13"), "2026-05-13")
        self.plan(made, "2026-05-12", self.nth("2026-05-11"), "2026-05-11")
        self.plan(made, "2026-05-11", self.nth("2026-05-12"), "2026-05-12")
        self.now = self.now.replace(hour=23)
        self.poured(made)
        self.plan(made, "2026-05-06")
        self.assertEqual(list(self.on("pour")), ["2026-05-06", "2026-05-11"], "a pour before it was planned is not it")
        self.plan(made, None, self.nth("2026-05-06"), "2026-05-06")
        versions = {p["version"] for p in self.send("GET", "/pours")["pours"]}
        self.assertEqual(versions, {1}, "another day is no other recipe")
        self.assertEqual((list(self.on("poured")), list(self.on("pour"))), (["2026-05-05"], ["2026-05-11"]))
        self.now = self.now.replace(day=20)
        (missed,) = (u for u in self.send("GET", "/calendar?first=2026-05-01")["undated"] if u["nth"] is not None)
        self.assertIn("planned for 11 May", missed["message"])
        self.plan(made, None, missed["nth"], missed["was"])
        self.assertNotIn("not poured", str(self.send("GET", "/calendar?first=2026-05-01")["undated"]))
        self.assertEqual(list(self.on("ready", "2026-07-01")), ["2026-08-01"], "promised also when all is poured")
        self.assertEqual([e["message"] for e in self.on("sale", "2026-07-01")["2026-08-03"]], ["On sale, for a stall"])
        self.plan(made, None, status=422)
        self.plan(made, "9999-12-31", status=422)
        self.send("GET", "/calendar?first=0001-01-01", None, 422)
        # A file may name days there are none of.
        odd = {"ready": "2031-02-31", "days": ["2031-02-30", "2026-06-01"], "planned": "once"}
        revision = self.send("GET", f"/recipes/{made}")["revision"]
        of = self.send("GET", f"/recipes/{made}")["recipe"] | {"brief": odd}
        self.send("PUT", f"/recipes/{made}", {"revision": revision, "recipe": of})
        self.assertEqual(list(self.on("pour")), ["2026-06-01"])

    def test_two_batches_for_one_oven_and_a_long_day_are_told(self) -> None:
        self.send("PUT", "/settings/selling", {"minutes_beside": 240})
        design = SIZED["design"] | {"wrap": "oven"}
        for _ in range(2):
            self.plan(self.made(design=design), "2026-05-09")
        (day,) = (d for d in self.send("GET", "/calendar?first=2026-05-01")["days"] if d["day"] == "2026-05-09")
        self.assertIn("want the oven on one day", str(day["scarce"]))
        self.assertIn("hours of work", str(day["scarce"]))
        self.assertEqual(day["minutes"], sum(e["minutes"] for e in day["entries"]))
