"""The API from outside: a whole pour, and whatever anyone may send."""

import json
from datetime import timedelta
from typing import Any
from uuid import uuid4

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.samples import next_id
from tests.web.client import PLAIN, ApiTest


def places(value: Any, at: str = "") -> list[str]:
    """Every JSON pointer inside a value."""
    inside = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    return [at, *(p for k, v in inside for p in places(v, f"{at}/{k}"))]


def put(value: Any, pointer: str, new: Any) -> Any:
    if pointer == "":
        return new
    copy = json.loads(json.dumps(value))
    *way, last = pointer.split("/")[1:]
    at = copy
    for part in way:
        at = at[int(part)] if isinstance(at, list) else at[part]
    at[int(last) if isinstance(at, list) else last] = new
    return copy


def numbers(value: Any) -> list[float]:
    if isinstance(value, dict | list):
        return [n for v in (value.values() if isinstance(value, dict) else value) for n in numbers(v)]
    return [value] if isinstance(value, int | float) and not isinstance(value, bool) else []


ANYTHING = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-10, 10**30),
    st.floats(allow_nan=True, allow_infinity=True),
    st.sampled_from([0, -1, 1e-9, 0.5, 1, 1e9, 1e308, "", "1", "olive", "🧼", [], {}, [[]], {"a": 1}]),
    st.text(max_size=200),
)


class Api(ApiTest):
    def test_reasons_of_any_portion_and_of_none_that_is_not_there(self) -> None:
        ask = {"recipe": PLAIN, "seed": "s"}
        lead = self.send("POST", "/forecast", ask)["reasons"]
        self.assertEqual(self.send("POST", "/reasons", ask | {"portion": "Base"})["reasons"], lead)
        other = self.send("POST", "/reasons", ask | {"portion": "Bone"})["reasons"]
        self.assertEqual(other["portion"], "Bone")
        self.assertNotIn("e:moderate", [r["key"] for r in other["reasons"]], "it is not scented")
        told = sum(r["minutes"] for r in other["reasons"])
        self.assertAlmostEqual(told, other["here"] - other["usual"], delta=0.06)
        self.assertEqual(
            self.send("POST", "/reasons", ask | {"portion": "Nobody"}, 422)["errors"][0]["pointer"], "/portion"
        )

    def test_a_pour_teaches_the_next_forecast(self) -> None:
        ask = {"recipe": PLAIN, "seed": "s"}
        first = self.send("POST", "/forecast", ask)["forecast"]
        self.assertIn("not your log", first["standing"])
        pour = self.started()
        self.now += timedelta(minutes=12)
        self.tap(pour, 0.5, kind="seen", stage="emulsion")
        self.tap(pour, 1.5, kind="split")
        self.tap(pour, 3.0, kind="scent", portion="Base")
        self.tap(pour, 5.5, kind="seen", portion="Base", stage="medium")
        self.tap(pour, 9.0, kind="seen", portion="Base", stage="thick")
        self.tap(pour, 9.5, kind="seen", portion="Bone", stage="emulsion")
        view = self.tap(pour, 10.0, kind="ended")
        self.assertEqual((view["ended"], view["advice"]["do"]), (10.0, "done"))
        second = self.send("POST", "/forecast", ask)["forecast"]
        self.assertIn("1 of your pours, 1 of them with Test moderate", second["standing"])
        thick = [f["lanes"][0]["stages"][2]["time"] for f in (first, second)]
        self.assertLess(thick[1]["q50"], thick[0]["q50"])
        self.assertLess(thick[1]["q90"] / thick[1]["q10"], thick[0]["q90"] / thick[0]["q10"])
        file = self.send("GET", "/fragrances/moderate")["fragrances"][0]
        self.assertGreater(file["evidence"], 0)
        self.assertEqual(file["pours"][0]["stages"][0]["stage"], "light")

    def test_a_restart_loses_nothing(self) -> None:
        pour = self.started()
        self.now += timedelta(minutes=3)
        before = self.tap(pour, 1.0, kind="seen", stage="emulsion")
        self.workshop.close()
        self.open()
        after = self.send("GET", f"/pours/{pour}")
        self.assertEqual(after, before)

    def test_every_tap_is_taken_and_what_is_odd_is_asked(self) -> None:
        pour = self.started()
        self.now += timedelta(minutes=2)
        asked = self.tap(pour, 1, kind="seen", portion="Base", stage="light")["doubts"]
        self.assertIn("split was not tapped", asked[0]["message"])
        event = {"id": str(next_id()), "minute": 66, "sure": False, "kind": "seen", "stage": "light"}
        ahead = self.send("POST", f"/pours/{pour}/events", {"event": event})
        self.assertIn("the pour's clock shows 2:00", ahead["doubts"][1]["message"])
        self.assertEqual(ahead["doubts"][1]["stands"], "waits")
        self.assertEqual((len(ahead["events"]), ahead["minute"]), (2, 2.0), "nobody's clock is moved by it")
        self.tap(pour, 3, kind="undo", target=event["id"])
        self.now -= timedelta(seconds=100)
        back = self.send("POST", f"/pours/{pour}/events", {"event": event | {"id": str(next_id()), "minute": 3}})
        self.assertEqual(len(back["events"]), 2, "a server clock that steps back drops nothing")
        self.assertEqual(back["minute"], 3.0, "and goes on from the latest tap")
        target = asked[0]["target"]
        self.assertEqual(len(self.tap(pour, 9.6, kind="kept", target=target)["doubts"]), len(back["doubts"]) - 1)
        wrong = self.tap(pour, -1, 422, kind="seen", stage="cheese")
        self.assertEqual({e["pointer"] for e in wrong["errors"]}, {"/event/minute", "/event/stage"})
        self.tap(pour, 1, 422, kind="doubted", target=target, says="x", stands="counts")
        self.send("GET", "/pours/nothing", status=404)
        self.tap("nothing", 1, 404, kind="split")

    def test_a_surprising_tap_counts_and_is_asked_about(self) -> None:
        pour = self.started()
        self.now += timedelta(minutes=2)
        view = self.tap(pour, 0.2, kind="seen", stage="set")
        (asked,) = view["doubts"]
        self.assertEqual((asked["stands"], view["forecast"]["lanes"][0]["level"]), ("counts", 5))
        moved = self.tap(pour, 1, kind="moved", target=asked["target"], to=0.3)
        self.assertEqual([d["minute"] for d in moved["doubts"]], [0.3], "moved, it is looked at anew")
        kept = self.tap(pour, 1, kind="kept", target=asked["target"])
        self.assertEqual(kept["doubts"], [])
        gone = self.tap(pour, 1, kind="undo", target=asked["target"])
        self.assertEqual(([e["label"] for e in gone["events"]], gone["forecast"]["lanes"][0]["level"]), ([], 0))
        self.tap(pour, 1, kind="undo", target=asked["target"])

    def test_a_pour_ended_elsewhere_still_takes_what_was_tapped_here(self) -> None:
        pour = self.started()
        self.now += timedelta(minutes=9)
        self.tap(pour, 1, kind="seen", stage="emulsion")
        self.tap(pour, 5, kind="ended")
        late = [self.tap(pour, m, kind="seen", stage=s) for m, s in ((4, "light"), (6, "medium"), (7, "thick"))][-1]
        self.assertEqual(len(late["events"]), 5)
        self.assertEqual([d["stands"] for d in late["doubts"]], ["waits", "waits"])
        self.assertEqual(late["forecast"]["lanes"][0]["level"], 2)

    def test_problems_of_the_protocol(self) -> None:
        for body, kind, status in (
            ("{", "application/json", 400),
            ("[]", "application/json", 422),
            ("{}", "text/plain", 415),
        ):
            answer = self.client.post("/api/forecast", data=body, content_type=kind)
            self.assertEqual((answer.status_code, answer.content_type), (status, "application/problem+json"))
        huge = self.client.post("/api/forecast", data=b"x" * 4_000_000, content_type="application/json")
        self.assertEqual((huge.status_code, huge.content_type), (413, "application/problem+json"))
        answer = self.client.delete("/api/pours")
        self.assertEqual(answer.status_code, 405)
        self.assertIn("POST", answer.headers["Allow"])
        foreign = self.client.post("/api/recipes", json={}, headers={"Origin": "http://elsewhere.example"})
        self.assertEqual(foreign.status_code, 403)
        self.assertIn("default-src 'self'", self.client.get("/api/shelf").headers["Content-Security-Policy"])

    def test_two_windows_on_one_draft(self) -> None:
        made = self.send("POST", "/recipes", {"copy_of": None, "name": "Mine"}, 201)
        path = f"/recipes/{made['id']}"
        self.send("PUT", path, {"revision": 1, "recipe": PLAIN})
        self.send("PUT", path, {"revision": 1, "recipe": PLAIN | {"superfat": 0.2}}, 409)
        again = self.send("PUT", path, {"revision": 1, "recipe": PLAIN})
        self.assertEqual(again["revision"], 2, "saving what is stored already is no conflict: its answer was lost")
        self.assertEqual(self.send("GET", path)["recipe"], PLAIN)
        self.assertEqual(self.client.delete(f"/api{path}").status_code, 204)
        self.send("GET", path, status=404)
        self.assertEqual(self.send("POST", f"{path}/restore")["recipe"], PLAIN)

    def test_a_faulty_draft_is_kept_but_not_poured(self) -> None:
        made = self.send("POST", "/recipes", {"copy_of": None, "name": "Mine"}, 201)
        faulty = PLAIN | {"superfat": -0.5}
        self.send("PUT", f"/recipes/{made['id']}", {"revision": 1, "recipe": faulty})
        self.assertEqual(self.send("GET", f"/recipes/{made['id']}")["recipe"], faulty)
        problem = self.send("POST", "/pours", {"recipe_id": made["id"]}, 422)
        self.assertEqual(problem["errors"][0]["pointer"], "/superfat")

    def test_a_claim_is_kept_apart(self) -> None:
        new = {
            "name": "Heather",
            "family": "floral",
            "claim": "unknown",
            "claim_words": "",
            "vanillin": None,
            "note": "",
        }
        file = self.send("POST", "/fragrances", new, 201)["fragrances"][0]
        own = file["fragrance"]["id"]
        self.assertRegex(own, "^heather-[0-9a-f]{6}$", "a name, and what no other workshop gives to it")
        self.send("POST", "/fragrances", new, 422)
        changed = self.send("PUT", f"/fragrances/{own}", new | {"claim": "none"})["fragrances"][0]
        self.assertLess(changed["claimed"]["high"], file["claimed"]["high"])
        self.assertEqual(self.send("PUT", "/fragrances/gone", new | {"name": "Gone"}, 404)["title"], "Not found")

    def test_own_ingredients_are_added_changed_and_hidden_but_never_lost(self) -> None:
        new = {"ingredient": {"kind": "fat", "name": "Olive, lot 7", "kin": "olive", "sv": 188.5}}
        fat = self.send("POST", "/custom", new, 201)["fat"]
        own = fat["id"]
        self.assertEqual(fat["sv"], 188.5)
        self.assertEqual(self.send("POST", "/custom", new, 422)["errors"][0]["pointer"], "/ingredient/name")
        far = self.send("POST", "/custom", {"ingredient": new["ingredient"] | {"name": "Other", "sv": 1885}}, 422)
        self.assertEqual(far["errors"][0]["pointer"], "/ingredient/sv")
        self.send("PUT", f"/custom/{own}", {"ingredient": new["ingredient"] | {"sv": 189.0}})
        draft = PLAIN | {"fats": [{"fat": own, "share": 1.0}]}
        body = {"recipe": draft}
        lye = self.send("POST", "/weigh", body)["weighing"]["sheet"]["naoh"]
        self.assertEqual(self.client.delete(f"/api/custom/{own}").status_code, 204)
        self.assertEqual(self.send("GET", "/custom")["custom"], [])
        self.assertEqual(self.send("GET", "/shelf")["hidden"], [own])
        self.assertEqual(self.send("POST", "/weigh", body)["weighing"]["sheet"]["naoh"], lye)
        self.client.post(f"/api/custom/{own}/restore")
        self.assertEqual(len(self.send("GET", "/custom")["custom"]), 1)
        self.assertEqual(self.client.delete("/api/custom/olive").status_code, 404)
        made = self.send("POST", "/recipes", {}, 201)
        self.send("PUT", f"/recipes/{made['id']}", {"revision": 1, "recipe": draft})
        self.send("POST", "/pours", {"recipe_id": made["id"]}, 201)
        self.send("PUT", f"/custom/{own}", {"ingredient": new["ingredient"]}, 409)

    def test_stock_goes_down_with_pours_and_comes_in_by_file(self) -> None:
        lot = {"item": "fat:olive", "grams": 2000, "counted": "2026-05-01", "price_per_kg": 8}
        lot_id = str(uuid4())
        stock = self.send("PUT", f"/stock/{lot_id}", lot)
        self.assertEqual([x["left"] for x in stock["lots"]], [2000])
        made = self.send("POST", "/recipes", {}, 201)
        self.send("PUT", f"/recipes/{made['id']}", {"revision": 1, "recipe": PLAIN})
        lines = self.send("POST", "/weigh", {"recipe": PLAIN})["weighing"]["sheet"]["lines"]
        need = sum(line["grams"] for line in lines if line["item"] == "fat:olive")
        self.send("POST", "/pours", {"recipe_id": made["id"]}, 201)
        self.assertAlmostEqual(self.send("GET", "/stock")["lots"][0]["left"], 2000 - need)
        cost = self.send("POST", "/weigh", {"recipe": PLAIN})["supply"]["cost"]
        self.assertAlmostEqual(cost["batch"], need * 8 / 1000)
        text = self.client.get("/api/shelf.csv").get_data(as_text=True)
        self.assertEqual(self.send("POST", "/shelf/import", {"text": text}, 201)["lots"], 1)
        self.send("POST", "/shelf/import", {"text": text.replace("Olive", "Nothing")}, 422)
        (back,) = self.send("GET", "/stock")["lots"]
        self.assertAlmostEqual(back["left"], 2000 - need, delta=0.001, msg="the shelf read back is the shelf")
        # Another price on the day of a pour is no count: what was poured is not taken again.
        corrected = {"item": "fat:olive", "label": "now named", "price_per_kg": 9}
        for _ in range(2):
            (same,) = self.send("PUT", f"/stock/{lot_id}", corrected)["lots"]
            self.assertAlmostEqual(same["left"], 2000 - need, delta=0.001)
        self.now += timedelta(minutes=5)
        (counted,) = self.send("PUT", f"/stock/{lot_id}", corrected | {"grams": 990})["lots"]
        self.assertEqual(counted["left"], 990, "counted now, after the pour of today")
        self.send("PUT", f"/stock/{uuid4()}", corrected, 422)
        self.send("PUT", f"/stock/{uuid4()}", corrected | {"grams": 5, "counted": "2999-01-01"}, 422)
        self.client.delete(f"/api/stock/{lot_id}")
        self.assertEqual(self.send("GET", "/stock")["lots"], [])
        self.send("PUT", f"/stock/{uuid4()}", lot | {"item": "fat:none"}, 422)
        self.send("PUT", f"/stock/{uuid4()}", lot | {"grams": -1}, 422)

    def test_versions_side_by_side(self) -> None:
        made = self.send("POST", "/recipes", {}, 201)
        self.send("PUT", f"/recipes/{made['id']}", {"revision": 1, "recipe": PLAIN})
        self.send("POST", "/pours", {"recipe_id": made["id"]}, 201)
        self.send("PUT", f"/recipes/{made['id']}", {"revision": 2, "recipe": PLAIN | {"superfat": 0.08}})
        numbers = [v["number"] for v in self.send("GET", f"/recipes/{made['id']}/versions")["versions"]]
        self.assertEqual(numbers, [1])
        refs = {"left": {"recipe_id": made["id"], "version": 1}, "right": {"recipe_id": made["id"]}}
        told = self.send("POST", "/compare", refs)
        changed = [s["name"] for s in told["comparison"]["settings"] if s["differs"]]
        self.assertIn("Superfat", changed)
        self.assertNotIn("Technique", changed)
        refs["left"]["version"] = 9
        self.assertEqual(self.send("POST", "/compare", refs, 422)["errors"][0]["pointer"], "/left/version")

    def test_cooling_and_the_printed_sheet(self) -> None:
        ask = {"recipe": PLAIN, "band": {"low": 30, "high": 38}, "gap": 6, "jug": [{"minute": 20, "celsius": 60}]}
        self.assertIn("message", self.send("POST", "/cooling", ask))
        self.send("POST", "/cooling", ask | {"band": {"low": 40, "high": 30}}, 422)
        made = self.send("POST", "/recipes", {}, 201)
        self.send("PUT", f"/recipes/{made['id']}", {"revision": 1, "recipe": PLAIN | {"name": "Ærlig Žena"}})
        page = self.client.get(f"/api/recipes/{made['id']}/bench-sheet.pdf")
        self.assertEqual((page.status_code, page.content_type), (200, "application/pdf"))
        self.assertTrue(page.data.startswith(b"%PDF") and page.data.count(b"/Type /Page\n") == 1)

    def test_no_input_breaks_it(self) -> None:
        """Anything anywhere in a recipe is weighed to sound figures or refused with a pointer: never a 500."""

        @settings(max_examples=250, deadline=None)
        @given(st.sampled_from(places(PLAIN)), ANYTHING, st.sampled_from(places(PLAIN)), ANYTHING)
        def attack(first: str, one: Any, second: str, two: Any) -> None:
            body = {"recipe": put(PLAIN, first, one)}
            if not first.startswith(second) and not second.startswith(first):
                body["recipe"] = put(body["recipe"], second, two)
            answer = self.client.post("/api/weigh", data=json.dumps(body), content_type="application/json")
            self.assertIn(answer.status_code, (200, 422), answer.get_data(as_text=True))
            told = answer.json or {}
            if answer.status_code == 422:
                self.assertTrue(
                    told["errors"] and all(e["pointer"].startswith("/recipe") for e in told["errors"]), told
                )
            elif told["weighing"]["sheet"] is None:
                self.assertTrue(told["weighing"]["faults"])
                foretold = self.send("POST", "/forecast", body)
                self.assertEqual((foretold["forecast"], foretold["faults"]), (None, told["weighing"]["faults"]))
            else:
                self.assertTrue(all(abs(n) < 1e9 for n in numbers(told["weighing"])), told["weighing"])
                self.assertTrue(all(line["grams"] >= 0 for line in told["weighing"]["sheet"]["lines"]))
                self.send("POST", "/forecast", body)

        attack()
