"""From a stated day to a judged bar, through the API; the calendar read back, the lists narrowed, the file complete."""

import csv
import io
from datetime import datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from icalendar import Calendar
from PIL import Image

from roundstone.core.pour import EVENT
from roundstone.core.recipe import Box, ByMoulds, Cavities
from roundstone.exchange import pour_file
from tests.samples import next_id, plain, recipe
from tests.web.client import PLAIN, ApiTest

AFTERWARDS: tuple[dict[str, Any], ...] = (
    {"kind": "join", "other": "another"},
    {"kind": "wrap", "how": "oven", "celsius": 65.0},
    {"kind": "mist"},
    {"kind": "touch", "how": "gives"},
    {"kind": "unmould", "how": "stuck"},
    {"kind": "cut", "how": "drags", "tool": "knife", "bars": 12, "offcuts": 41.5},
    {"kind": "finish", "what": "stamped", "how": "soft"},
    {"kind": "gel", "how": "ring"},
    {"kind": "ash", "how": "much"},
    {"kind": "block", "what": "seeping"},
    {"kind": "weigh", "bar": "B; 2", "grams": 130.4},
    {"kind": "test", "zaps": False, "ph": 9.5},
    {"kind": "swatch", "portion": "Bone", "at": "week", "tint": "#efe6d4"},
    {"kind": "answer", "portion": None, "at": "cured", "ask": "again", "says": "partly"},
    {"kind": "next", "says": "=less | of it", "about": "fragrance:moderate"},
    {"kind": "next", "says": "plainly", "about": "recipe"},
    {"kind": "heed", "note": "5107e000-0000-4000-8000-000000000001", "how": "aside"},
)


class Rest(ApiTest):
    def pour(self, name: str = "Mine", **changes: Any) -> tuple[str, str]:
        made = self.send("POST", "/recipes", {"copy_of": None, "name": name}, 201)["id"]
        of = recipe(**({"name": name} | changes)).model_dump(mode="json")
        self.send("PUT", f"/recipes/{made}", {"revision": 1, "recipe": of})
        return made, str(self.send("POST", "/pours", {"recipe_id": made}, 201)["id"])

    def ended(self, name: str = "Mine", **changes: Any) -> tuple[str, str]:
        made, pour = self.pour(name, **changes)
        self.tap(pour, 1.0, kind="seen", stage="emulsion")
        self.tap(pour, 12.0, kind="ended")
        self.now += timedelta(minutes=13)
        return made, pour

    def minute(self, pour: str) -> float:
        return float(self.send("GET", f"/pours/{pour}/rest")["minute"])

    def rest(self, pour: str, **event: Any) -> Any:
        self.tap(pour, self.minute(pour), **event)
        return self.send("GET", f"/pours/{pour}/rest")

    def test_a_day_is_stated_and_everything_is_counted_back_from_it(self) -> None:
        def dated(ready: str | None, **more: Any) -> Any:
            brief = {"ready": ready, "bars": 500, **more}
            return self.send("POST", "/forecast", {"recipe": PLAIN | {"brief": brief}, "seed": "x"})["dated"]

        self.assertIsNone(dated(None))
        met = dated("2026-09-30", build_days=2)
        self.assertEqual(met["met"], "met")
        days = [d["by"] for d in met["deadlines"]]
        self.assertEqual(days, sorted(days))
        self.assertEqual(days[-1], "2026-09-30")
        self.assertIn("disperse", [d["what"] for d in met["deadlines"]])
        late = dated("2026-05-09")
        self.assertEqual(late["met"], "late")
        self.assertTrue(late["deadlines"][0]["late"])
        self.assertEqual(dated("2026-02-30")["message"], "There is no such day.")
        bad = PLAIN | {"brief": {"ready": "soon"}}
        refused = self.send("POST", "/forecast", {"recipe": bad, "seed": "x"}, 422)
        self.assertEqual(refused["errors"][0]["pointer"], "/recipe/brief/ready")

    def test_from_the_mould_to_a_judged_bar(self) -> None:
        _, pour = self.pour()
        self.send("GET", f"/pours/{pour}/rest", status=422)
        self.tap(pour, 1.0, kind="seen", stage="emulsion")
        self.tap(pour, 12.0, kind="ended")
        self.now += timedelta(minutes=13)
        view = self.send("GET", f"/pours/{pour}/rest")
        self.assertEqual(view["now"]["next"][0]["what"], "cover")
        self.assertEqual(len(self.send("GET", f"/pours/{pour}/sections")["sections"]), 5)
        view = self.rest(pour, **view["now"]["keys"][0]["event"])
        self.assertTrue(view["now"]["cover_told"])
        self.assertEqual(view["now"]["next"][0]["what"], "unmould")
        self.now += timedelta(hours=26)
        self.rest(pour, kind="unmould", how="clean")
        view = self.rest(pour, kind="cut", how="drags", tool="wire", bars=9)
        self.assertEqual([n["what"] for n in view["now"]["next"][:3]], ["gel", "judge-cut", "weigh"])
        self.rest(pour, kind="gel", how="none")
        first = self.rest(pour, kind="weigh", grams=130.0)["now"]["bars"][0]["curve"]
        self.now += timedelta(days=7)
        second = self.rest(pour, kind="weigh", grams=121.0)["now"]["bars"][0]["curve"]
        self.assertEqual(second["weighings"], 2)
        self.assertNotEqual(first["done"], second["done"])
        asked = self.send("GET", f"/pours/{pour}/rest")["now"]["questions"]
        self.assertEqual({q["at"] for q in asked}, {"week"})
        self.assertEqual(len(asked), 3)
        for q in asked:
            view = self.rest(pour, kind="answer", at=q["at"], ask=q["ask"], says="yes")
        self.assertEqual(view["now"]["questions"], [])
        self.now += timedelta(days=45)
        for ask in ("scent", "sell", "again"):
            view = self.rest(pour, kind="answer", at="cured", ask=ask, says="partly")
        self.assertEqual(view["now"]["next"], [])
        self.assertEqual(self.send("GET", "/rest")["lines"], [])
        self.assertEqual(self.send("GET", "/pours?only=waits")["total"], 0)

    def test_a_mist_before_a_warm_oven_is_kept_and_asked_about(self) -> None:
        _, pour = self.ended()
        self.rest(pour, kind="wrap", how="oven", celsius=70)
        view = self.rest(pour, kind="mist")
        self.assertIn("alcohol vapour", view["doubts"][0]["message"])
        self.assertEqual([e["event"]["kind"] for e in view["events"]], ["wrap", "mist"])

    def test_a_note_about_a_fragrance_is_met_again_and_counted(self) -> None:
        _, pour = self.ended()
        note = str(next_id())
        event = {"id": note, "kind": "next", "says": "Whisk it", "about": "fragrance:moderate", "minute": 20.0}
        self.send("POST", f"/pours/{pour}/events", {"event": event})
        other = self.send("POST", "/recipes", {"copy_of": None, "name": "Other"}, 201)["id"]
        body = {"revision": 1, "recipe": recipe(name="Other").model_dump(mode="json")}
        self.send("PUT", f"/recipes/{other}", body)
        self.assertEqual([n["message"] for n in self.send("GET", f"/recipes/{other}")["noted"]], ["Whisk it"])
        for how in ("heeded", "heeded"):
            act = {"kind": "note", "note": note, "how": how}
            ready = self.send("POST", f"/recipes/{other}/ready", {"act": act})
            self.assertEqual(ready["noted"][0]["how"], how)
            made = self.send("POST", "/pours", {"recipe_id": other}, 201)["id"]
            self.tap(made, 9.0, kind="seen", stage="emulsion")
            self.tap(made, 10.0, kind="ended")
        counted = self.send("GET", f"/recipes/{other}")["noted"][0]
        self.assertEqual((counted["met"], counted["heeded"]), (2, 2))
        self.send("POST", f"/recipes/{other}/ready", {"act": {"kind": "note", "note": note, "how": "aside"}})
        self.send("POST", "/pours", {"recipe_id": other}, 201)
        self.assertEqual(self.send("GET", f"/recipes/{other}")["noted"], [], "what was set aside does not come back")
        self.tap(pour, 30.0, kind="undo", target=note)
        self.assertEqual(self.workshop.pours.notes()[0], [])

    def test_the_calendar_is_read_by_another_and_says_the_same(self) -> None:
        _, first = self.ended("A; name, with signs")
        self.rest(first, kind="wrap", how="covered")
        self.ended("Second")
        answer = self.client.get("/api/rest.ics")
        self.assertEqual(answer.content_type, "text/calendar; charset=utf-8")
        events = list(Calendar.from_ical(answer.get_data(as_text=True)).walk("VEVENT"))
        self.assertEqual(len({str(e["uid"]) for e in events}), len(events))
        view = self.send("GET", f"/pours/{first}/rest")
        began = datetime.fromisoformat(view["ended_at"])
        cut = next(n for n in view["now"]["next"] if n["what"] == "cut")
        mine = next(e for e in events if str(e["uid"]).startswith(f"cut-{first}"))
        self.assertEqual(str(mine["summary"]), "Cut with the wire: A; name, with signs")
        starts = mine.decoded("dtstart")
        want = began + timedelta(hours=cut["sure"])
        self.assertEqual(starts if not isinstance(starts, datetime) else starts.date(), want.date())
        possible = began + timedelta(hours=cut["first"])
        for zone, at in (
            ("Asia/Tokyo", possible.astimezone(ZoneInfo("Asia/Tokyo"))),
            ("No/Such", possible.astimezone()),
        ):
            told = Calendar.from_ical(self.client.get(f"/api/rest.ics?zone={zone}").get_data(as_text=True))
            same = next(e for e in told.walk("VEVENT") if e["uid"] == mine["uid"])
            self.assertIn(f"{at.day} {at:%B %Y, %H:%M %Z}", str(same["description"]), "by the clock on the wall")
        one = Calendar.from_ical(self.client.get(f"/api/pours/{first}/rest.ics").get_data(as_text=True))
        self.assertTrue(all(str(e["uid"]).endswith(f"{first}@round-stone") for e in one.walk("VEVENT")))

    def test_the_logbook_is_narrowed_and_shows_what_was_foretold(self) -> None:
        pours = [self.ended(f"R{n}")[1] for n in range(4)]
        for pour, came in zip(pours, ("drawn", "different", "lost"), strict=False):
            self.tap(pour, 13.0, kind="verdict", came=came)
        for only, many in (("", 4), ("waits", 3), ("drawn", 1), ("different", 1), ("lost", 1)):
            found = self.send("GET", f"/pours?only={only}")
            self.assertEqual((found["total"], len(found["pours"])), (many, many), only)
            self.assertEqual(found["waiting"], 3)
        line = self.send("GET", "/pours?only=drawn")["pours"][0]
        self.assertEqual(line["foretold"]["middles"], sorted(line["foretold"]["middles"]))
        self.assertEqual([(x["minute"], x["level"]) for x in line["seen"]["looks"]], [(1.0, 1)])
        self.assertEqual(line["next"]["what"], "cover")
        undo = next(e for e in self.send("GET", f"/pours/{pours[2]}")["events"] if e["event"]["kind"] == "verdict")
        self.tap(pours[2], 14.0, kind="undo", target=undo["event"]["id"])
        self.assertEqual(self.send("GET", "/pours?only=lost")["total"], 0)

    def test_everything_of_the_days_after_goes_out_as_csv_and_comes_back(self) -> None:
        _, pour = self.ended()
        for n, event in enumerate(AFTERWARDS):
            self.tap(pour, 20.0 + n, **{**event, "sure": True})
        text = self.client.get("/api/pours.csv").get_data(as_text=True)
        back = pour_file.read(text)[0].events
        sent = [EVENT.validate_python({"id": next_id(), "minute": 20.0 + n, **e}) for n, e in enumerate(AFTERWARDS)]
        plain = {"id", "sure"}
        got = [e.model_dump(exclude=plain) for e in back if e.minute >= 20]
        self.assertEqual(got, [e.model_dump(exclude=plain) for e in sent])
        rows = list(csv.DictReader(io.StringIO(text)))
        rows[-4]["value"] = '{"how": "hard", "id": "x"}'
        out = io.StringIO()
        writer = csv.DictWriter(out, rows[0].keys())
        writer.writeheader()
        writer.writerows(rows)
        refused = self.send("POST", "/pours/import", {"text": out.getvalue(), "sure": False}, 422)
        self.assertTrue(refused["errors"][0]["pointer"].endswith("/value"), refused["errors"])

    def test_own_blocks_shift_the_next_ones(self) -> None:
        before = None
        for n in range(4):
            _, pour = self.ended(f"Slow {n}")
            self.rest(pour, kind="wrap", how="covered")
            self.now += timedelta(hours=50)
            wire = next(w for w in self.send("GET", f"/pours/{pour}/rest")["now"]["windows"] if w["tool"] == "wire")
            before = before or wire
            self.rest(pour, kind="cut", how="drags")
        _, pour = self.ended("Next")
        view = self.rest(pour, kind="wrap", how="covered")
        after = next(w for w in view["now"]["windows"] if w["tool"] == "wire")
        assert before is not None
        self.assertGreater(after["sure"], before["sure"] + 6)
        self.assertIn("Your blocks take", view["now"]["learned"])

    def test_planned_batches_tell_what_to_order_and_what_could_stand_in(self) -> None:
        self.assertEqual(self.send("GET", "/stock/order"), {"planned": 0, "lines": []})
        lot = {"item": "fragrance:moderate", "grams": 3.0}
        self.send("PUT", f"/stock/{next_id()}", lot)
        made = self.send("POST", "/recipes", {"copy_of": None, "name": "Planned"}, 201)["id"]
        of = recipe(name="Planned").model_dump(mode="json") | {"brief": {"ready": "2026-09-01"}}
        self.send("PUT", f"/recipes/{made}", {"revision": 1, "recipe": of})
        orders = self.send("GET", "/stock/order")
        line = next(x for x in orders["lines"] if x["item"] == "fragrance:moderate")
        self.assertAlmostEqual(line["missing"], line["need"] - 3.0)
        self.assertTrue(line["instead"])
        dated = self.send("POST", "/forecast", {"recipe": of, "seed": "x"})["dated"]
        self.assertEqual(dated["deadlines"][0]["what"], "order")
        self.assertEqual(line["by"], dated["deadlines"][0]["by"])
        self.now += timedelta(minutes=1)
        self.send("POST", "/pours", {"recipe_id": made}, 201)
        self.assertEqual(self.send("GET", "/stock/order")["planned"], 0, "what is poured needs nothing more")
        # Bars for three pours: two are still to come, and all they need is ordered.
        sized = {"kind": "moulds", "moulds": [{"shape": "cavities", "count": 6, "millilitres": 110}], "spare": 0}
        many = of | {"size": sized, "brief": {"ready": "2026-09-02", "bars": 17}}
        revision = self.send("GET", f"/recipes/{made}")["revision"]
        self.send("PUT", f"/recipes/{made}", {"revision": revision, "recipe": many})
        orders = self.send("GET", "/stock/order")
        self.assertEqual(orders["planned"], 3)
        listed = self.client.get("/api/stock/order.csv").get_data(as_text=True).splitlines()
        self.assertEqual(listed[0], "name,grams,by,for,supplier,pack_grams,packs,price_per_kg,cost")
        one = self.send("POST", "/weigh", {"recipe": many})["weighing"]["sheet"]["lines"]
        olive = sum(x["grams"] for x in one if x["item"] == "fat:olive")
        line = next(x for x in orders["lines"] if x["item"] == "fat:olive")
        self.assertAlmostEqual(line["need"], 3 * olive)

    def test_colours_of_the_log(self) -> None:
        _, pour = self.ended(additives=[{"additive": "charcoal", "amount": 4, "into": "Base"}])
        self.rest(pour, kind="swatch", portion="Base", at="cut", tint="#a08060")
        found = next(c for c in self.send("GET", "/colours")["colours"] if c["additive"] == "charcoal")
        self.assertEqual([(s["at"], s["tint"]) for s in found["swatches"]], [("cut", "#a08060")])

    def test_a_batch_is_found_by_a_word_of_its_note_or_by_its_month(self) -> None:
        _, first = self.ended("Early")
        self.tap(first, 20.0, kind="next", says="Mind the Zephyr lamp", about="mould")
        self.now += timedelta(days=70)
        self.ended("Late")
        for find, names in (
            ("zephyr", ["Early"]),
            ("may", ["Early"]),
            ("jul", ["Late"]),
            ("2026-07", ["Late"]),
            ("2026 early", ["Early"]),
            ("100%", []),
        ):
            found = self.client.get("/api/pours", query_string={"find": find}).json or {}
            self.assertEqual([p["recipe"] for p in found["pours"]], names, find)
            self.assertEqual(found["total"], len(names), find)

    def test_a_colour_is_taken_off_a_picture(self) -> None:
        """Left half of a known blue, right half cream, with a speck of dirt where it is tapped."""
        _, pour = self.ended()
        picture = Image.new("RGB", (400, 200), "#efe6d4")
        picture.paste("#27406e", (0, 0, 200, 200))
        picture.paste("#ffffff", (99, 99, 102, 102))
        body = io.BytesIO()
        picture.save(body, "PNG")
        form = {"file": (io.BytesIO(body.getvalue()), "cut.png"), "days": "9", "note": ""}
        photo = (self.client.post(f"/api/pours/{pour}/photos", data=form).json or {})["id"]
        for x, name, tint in ((0.25, "blue", "#27406e"), (0.9, "white", "#efe6d4"), (1, "white", "#efe6d4")):
            told = self.send("GET", f"/photos/{photo}/colour?x={x}&y=0.5&days=9")
            self.assertEqual((told["name"], told["at"]), (name, "week"))
            for a, b in zip((1, 3, 5), (3, 5, 7), strict=True):
                self.assertAlmostEqual(int(told["tint"][a:b], 16), int(tint[a:b], 16), delta=3)
        self.send("GET", f"/photos/{photo}/colour?x=1.2&y=0.5&days=9", status=422)

    def test_a_weight_that_can_hardly_be_is_asked_about_and_bends_nothing_meanwhile(self) -> None:
        loaf = ByMoulds(moulds=(Box(length=24, width=8, fill=6, cut=24), Cavities(count=6, millilitres=90)))
        _, pour = self.ended(size=loaf.model_dump(mode="json"))
        self.now += timedelta(days=2)
        self.rest(pour, kind="cut", how="clean", tool="wire", bars=9, offcuts=41.5)
        first = self.rest(pour, kind="weigh", grams=120.0)
        self.assertEqual(first["doubts"], [])
        self.assertEqual(plain(first["now"]["got"]), "9 of 16 bars, 41.5 g offcuts on the shelf")
        self.now += timedelta(days=7)
        odd = self.rest(pour, kind="weigh", grams=12.0)
        self.assertIn("weighed 120 g", plain(odd["doubts"][0]["message"]))
        self.assertEqual(odd["now"]["bars"][0]["curve"]["weighings"], 1)
        self.tap(pour, self.minute(pour), kind="undo", target=odd["doubts"][0]["target"])
        small = self.rest(pour, kind="weigh", mould=1, grams=85.0)["now"]["bars"]
        self.assertEqual([b["curve"]["weighings"] for b in small], [1, 1])
        self.assertEqual([b["name"] for b in small], ["loaf", "cavity"])
        self.assertLess(small[1]["curve"]["done"]["high"], 365)
        light = self.rest(pour, kind="weigh", bar="9", grams=20.0)
        self.assertIn("A bar of the loaf was to weigh about", light["doubts"][0]["message"])

    def test_damp_air_dries_slower_each_time_it_is_set(self) -> None:
        _, pour = self.ended()
        self.now += timedelta(days=2)
        self.rest(pour, kind="cut", how="clean", tool="wire")
        done = []
        for humidity in (0.4, 0.55, 0.75):
            self.send("PUT", "/settings/air", {"humidity": humidity})
            done.append(self.send("GET", f"/pours/{pour}/rest")["now"]["bars"][0]["curve"]["done"]["low"])
        self.assertEqual(done, sorted(set(done)))

    def test_two_pots_in_one_mould_are_one_block(self) -> None:
        _, first = self.ended("Base")
        self.now += timedelta(hours=5)
        _, second = self.ended("Top")
        alone = {n["what"]: n for n in self.send("GET", f"/pours/{first}/rest")["now"]["next"]}
        joined = self.rest(second, kind="join", other=first)
        self.assertEqual([t["recipe"] for t in joined["together"]], ["Base"])
        both = self.send("GET", f"/pours/{first}/rest")
        self.assertEqual([t["recipe"] for t in both["together"]], ["Top"])
        now = {n["what"]: n for n in both["now"]["next"]}
        self.assertGreater(now["cut"]["first"], alone["cut"]["first"] + 4, "the younger layer is waited for")
        self.now += timedelta(days=2)
        cut = str(next_id())
        told: dict[str, Any] = {"kind": "cut", "how": "clean", "bars": 12, "offcuts": 30.0, "sure": True}
        event: dict[str, Any] = {"id": cut, "minute": self.minute(second), **told}
        for _ in range(2):
            self.send("POST", f"/pours/{second}/events", {"event": event})
        base = self.send("GET", f"/pours/{first}/rest")
        self.assertEqual([e["event"]["kind"] for e in base["events"]], ["cut"])
        apart = (self.began[second] - self.began[first]).total_seconds() / 60
        self.assertAlmostEqual(base["events"][0]["event"]["minute"], event["minute"] + apart, delta=1)
        self.assertIsNone(base["events"][0]["event"]["bars"], "bars are counted once")
        self.assertEqual(len(self.send("GET", "/stock")["lots"]), 1)
        rows = {p["recipe"]: [t["recipe"] for t in p["together"]] for p in self.send("GET", "/pours")["pours"]}
        self.assertEqual(rows, {"Base": ["Top"], "Top": ["Base"]})
        self.rest(second, kind="undo", target=cut)
        self.assertIsNone(self.send("GET", f"/pours/{first}/rest")["now"]["cut_at"])
        join = next(e["event"]["id"] for e in joined["events"] if e["event"]["kind"] == "join")
        self.rest(second, kind="undo", target=join)
        self.assertEqual(self.send("GET", f"/pours/{first}/rest")["together"], [])
        self.rest(second, kind="join", other="no-such-pour")
