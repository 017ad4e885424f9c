"""Ready check, instruments and practice through the API, and what verdicts change."""

from datetime import timedelta
from typing import Any

from tests.samples import next_id, recipe
from tests.web.client import ApiTest, items


class Ready(ApiTest):
    def setUp(self) -> None:
        super().setUp()
        self.recipe = self.send("POST", "/recipes", {"copy_of": None, "name": "Mine"}, 201)["id"]
        body = {"revision": 1, "recipe": recipe().model_dump(mode="json")}
        self.send("PUT", f"/recipes/{self.recipe}", body)

    def act(self, status: int = 200, **act: Any) -> Any:
        return self.send("POST", f"/recipes/{self.recipe}/ready", {"act": act}, status)

    def test_two_devices_tick_and_none_writes_over_the_other(self) -> None:
        keys = [i["key"] for i in items(self.send("GET", f"/recipes/{self.recipe}/ready"))]
        for key in (keys[0], keys[3], keys[0]):
            self.act(kind="tick", key=key)
        self.assertEqual(
            sorted(self.act(kind="tick", key=keys[1])["state"]["ticked"]), sorted({keys[i] for i in (0, 1, 3)})
        )
        self.assertNotIn(keys[3], self.act(kind="tick", key=keys[3], on=False)["state"]["ticked"])

    def test_the_countdown_runs_and_follows_the_thermometer(self) -> None:
        self.assertIsNone(self.act(kind="hot", what="melted")["meets"]["opens"])
        self.assertEqual(
            self.act(422, kind="reading", vessel="jug", celsius=50)["errors"][0]["pointer"], "/act/celsius"
        )
        first = self.act(kind="hot", what="mixed")
        self.now += timedelta(minutes=10)
        view = self.send("GET", f"/recipes/{self.recipe}/ready")
        self.assertAlmostEqual(view["minute"] - first["minute"], 10.0, places=6)
        self.assertEqual(view["meets"]["opens"], first["meets"]["opens"], "it comes nearer by the clock alone")
        pot = view["meets"]["pot"]
        cooler = self.act(kind="reading", vessel="pot", celsius=round(pot - 8, 1))["meets"]
        self.assertLess(cooler["pot"], pot)
        any_gap = self.act(kind="wanted", band={"low": 25, "high": 60}, gap=100)["meets"]
        assert any_gap["opens"] is not None
        self.assertLess(any_gap["opens"], any_gap["closes"])
        cool = {"low": 20, "high": 24}
        for lye in (cool, {"low": 25, "high": 60}):
            own = self.act(kind="wanted", band={"low": 25, "high": 60}, lye=lye, gap=100)["meets"]
            self.assertEqual([own["jug_band"], own["pot_band"]], [lye, {"low": 25, "high": 60}])
            self.assertEqual(own["gaps"], lye != cool, "alike they are one band")
        self.assertEqual(self.act(422, kind="wanted", lye={"low": 24, "high": 20})["errors"][0]["pointer"], "/act/lye")
        turned = self.act(422, kind="wanted", band={"low": 60, "high": 25}, gap=6)
        self.assertEqual(turned["errors"][0]["pointer"], "/act/band")

    def test_a_slip_about_when_it_was_hot_costs_no_reading(self) -> None:
        """Readings are of their own moment: whoever taps "melted" again, later, finds them counted from there."""
        for what in ("melted", "mixed"):
            self.act(kind="hot", what=what)
        self.now += timedelta(minutes=20)
        first = self.act(kind="reading", vessel="pot", celsius=44)["meets"]["pot"]
        self.assertAlmostEqual(first, 44, delta=2)
        self.act(kind="hot", what="melted", on=False)
        again = self.act(kind="hot", what="melted")
        self.assertEqual(len(again["state"]["pot"]), 1)
        self.assertGreater(again["meets"]["pot"], first, "what was read before it was hot says nothing")
        self.act(422, kind="wanted", band={"low": 5, "high": 40}, gap=6)
        self.assertEqual(self.act(kind="reading", vessel="pot", celsius=45)["state"]["pot"][-1]["celsius"], 45)

    def test_a_pour_begins_it_anew_and_so_does_another_day(self) -> None:
        self.act(kind="tick", key="x")
        self.send("POST", "/pours", {"recipe_id": self.recipe}, 201)
        self.assertEqual(self.send("GET", f"/recipes/{self.recipe}/ready")["state"]["ticked"], {})
        self.act(kind="tick", key="y")
        self.now += timedelta(hours=13)
        self.assertEqual(self.send("GET", f"/recipes/{self.recipe}/ready")["state"]["ticked"], {})

    def test_last_time_is_told(self) -> None:
        pour = self.send("POST", "/pours", {"recipe_id": self.recipe}, 201)["id"]
        taps: list[tuple[float, str, dict[str, Any]]] = [
            (0.6, "seen", {"stage": "emulsion"}), (1.0, "split", {}), (1.5, "scent", {"portion": "Base"}),
            (2.0, "seen", {"stage": "thick", "portion": "Base"}), (2.1, "flag", {"flag": "ricing", "portion": "Base"}),
            (3.0, "pouring", {}), (5.0, "ended", {}), (5.0, "verdict", {"came": "different"}),
            (5.0, "next", {"says": "pour cooler"}),
        ]  # fmt: skip
        for minute, kind, more in taps:
            self.tap(pour, minute, kind=kind, **{"sure": True, **more})
        view = self.send("GET", f"/recipes/{self.recipe}/ready")
        self.assertEqual([n["message"] for n in view["noted"]], ["pour cooler"])
        told = " ".join(b["message"] for b in view["before"])
        self.assertIn("came out sellable; ricing", told)
        self.assertIn("in 1 of your pours", told)

    def test_several_pours_of_one_recipe_run_each_by_its_own_clock_when_that_is_meant(self) -> None:
        first = self.send("POST", "/pours", {"recipe_id": self.recipe}, 201)["id"]
        self.send("POST", "/pours", {"recipe_id": self.recipe}, 422)
        self.now += timedelta(minutes=7)
        second = self.send("POST", "/pours", {"recipe_id": self.recipe, "again": True}, 201)["id"]
        self.tap(second, 0.5, kind="seen", stage="emulsion", portion=None, turned=False)
        self.assertEqual([len(self.send("GET", f"/pours/{p}")["events"]) for p in (first, second)], [0, 1])
        running = self.send("GET", "/recipes")["running"]
        self.assertEqual([p["id"] for p in running], [first, second])
        self.assertEqual(len({p["name"] for p in running}), 2)
        self.assertEqual(self.send("GET", f"/recipes/{self.recipe}")["running"], second)


class BegunBySlip(ApiTest):
    def test_a_pour_of_which_nothing_was_tapped_is_taken_back_whole(self) -> None:
        made = self.send("POST", "/recipes", {"copy_of": None, "name": "Mine"}, 201)["id"]
        self.send("PUT", f"/recipes/{made}", {"revision": 1, "recipe": recipe().model_dump(mode="json")})
        item = items(self.send("GET", f"/recipes/{made}/ready"))[0]
        tick = {"act": {"kind": "tick", "key": item["key"], "message": item["message"]}}
        self.send("POST", f"/recipes/{made}/ready", tick)
        before = self.send("GET", "/stock")
        pour = self.send("POST", "/pours", {"recipe_id": made, "sure": True}, 201)["id"]
        self.assertEqual(self.client.delete(f"/api/pours/{pour}").status_code, 204)
        self.assertEqual(self.send("GET", "/stock"), before, "nothing was taken from the shelf")
        ready = self.send("GET", f"/recipes/{made}/ready")
        self.assertTrue(items(ready)[0]["ticked"], "it stands ready still")
        self.assertIsNone(ready["running"])
        again = self.send("POST", "/pours", {"recipe_id": made, "sure": True}, 201)["id"]
        self.tap(again, 0.5, kind="seen", stage="emulsion", portion=None, turned=False)
        self.assertEqual(self.client.delete(f"/api/pours/{again}").status_code, 409, "a log is never taken out")


class Taught(ApiTest):
    def poured(self, came: str) -> Any:
        pour = self.started()
        for minute, kind, more in (
            (0.6, "seen", {"stage": "emulsion"}), (1.0, "split", {}), (1.5, "scent", {"portion": "Base"}),
            (3.8, "seen", {"stage": "thick", "portion": "Base"}), (3.9, "seen", {"stage": "thick", "portion": "Bone"}),
            (4.0, "pouring", {}), (7.0, "ended", {}), (7.0, "verdict", {"came": came}),
        ):  # fmt: skip
            self.tap(pour, minute, kind=kind, **{"sure": True, **more})  # type: ignore[arg-type]
            self.now += timedelta(seconds=30)
        return self.send("GET", f"/pours/{pour}")

    def outlook(self) -> float:
        body = {"recipe": recipe(pour_celsius=44.0).model_dump(mode="json"), "seed": "x"}
        return float(self.send("POST", "/forecast", body)["forecast"]["outlook"]["drawn"])

    def test_a_verdict_moves_what_a_technique_is_thought_to_take(self) -> None:
        for _ in range(4):
            view = self.poured("drawn")
        self.assertIn("Your drop swirl still works about", view["taught"])
        thick = self.outlook()
        taken_back = [e["event"]["id"] for e in view["events"] if e["event"]["kind"] == "verdict"]
        self.tap(view["id"], 7.0, kind="undo", target=taken_back[0])
        again = self.send("GET", f"/pours/{view['id']}")
        self.assertNotEqual(again["taught"], view["taught"], "a verdict taken back teaches nothing")
        for _ in range(8):
            view = self.poured("lost")
        self.assertNotIn("still works", view["taught"])
        self.assertLess(self.outlook(), thick)

    def test_a_renamed_portion_through_taps_files_and_the_list(self) -> None:
        pour = self.started()
        for minute, kind, more in (
            (0.6, "seen", {"stage": "emulsion"}), (1.0, "split", {}),
            (1.2, "rename", {"portion": "Bone", "to": "Ivory"}),
            (1.4, "seen", {"stage": "light", "portion": "Bone"}),
            (1.5, "seen", {"stage": "medium", "portion": "Ivory"}),
        ):  # fmt: skip
            view = self.tap(pour, minute, kind=kind, **{"sure": True, **more})  # type: ignore[arg-type]
            self.now += timedelta(seconds=10)
        self.assertEqual([x["portion"] for x in view["bench"]["lanes"]], ["Base", "Ivory"])
        self.assertEqual(view["bench"]["lanes"][1]["level"], 3)
        self.assertEqual(view["doubts"], [])
        self.assertIn("Bone: now called Ivory", [e["label"] for e in view["events"]])
        self.assertIn(",rename,Bone,Ivory,", self.client.get("/api/pours.csv").get_data(as_text=True))
        self.assertEqual(self.send("GET", "/pours")["total"], 1)
        kept = self.send("GET", f"/recipes/{view['recipe_id']}")["recipe"]["design"]["portions"]
        self.assertEqual([p["name"] for p in kept], ["Base", "Bone"], "the recipe keeps its own")


class Instruments(ApiTest):
    def test_a_reading_is_there_only_when_one_is_connected(self) -> None:
        self.assertEqual(self.send("GET", "/instruments"), {"thermometer": False, "scale": False})
        self.send("GET", "/instruments/thermometer", status=404)
        self.send("PUT", "/instruments", {"simulated": True})
        warm = self.send("GET", "/instruments/thermometer")
        self.now += timedelta(minutes=30)
        cooler = self.send("GET", "/instruments/thermometer")
        self.assertEqual((warm["unit"], cooler["unit"]), ("°C", "°C"))
        self.assertGreater(warm["value"], cooler["value"] + 5)
        self.assertEqual(self.send("GET", "/instruments/scale")["unit"], "g")
        self.send("GET", "/instruments/nose", status=422)


class Practice(ApiTest):
    def test_a_practice_pour_runs_teaches_nothing_and_is_told_of(self) -> None:
        stamp = self.workshop.stamps.log()
        made = self.send("POST", "/practice", {"temper": "calm", "seed": 4, "speed": 10}, 201)
        path = f"/practice/{made['id']}"
        self.send("GET", f"{path}/debrief", status=404)
        self.now += timedelta(seconds=12)
        self.assertAlmostEqual(self.send("GET", f"{path}/sights")["minute"], 2.0, places=6)
        for _ in range(30):
            view = self.send("GET", path)
            if view["ended"] is not None:
                break
            key = view["bench"]["keys"][0]["event"] | {"id": str(next_id()), "minute": view["minute"]}
            view = self.send("POST", f"{path}/events", {"event": key})
            self.now += timedelta(seconds=3)
        told = self.send("GET", f"{path}/debrief")
        self.assertEqual(told["temper"], "calm")
        minutes = [t["minute"] for t in told["told"]]
        self.assertEqual(sorted(minutes), minutes)
        self.assertGreater(told["kept"], 0.5)
        self.assertEqual((self.send("GET", "/pours")["total"], self.workshop.stamps.log()), (0, stamp))

    def test_the_clock_is_set_without_a_jump_and_a_lost_practice_says_so(self) -> None:
        made = self.send("POST", "/practice", {"temper": "slow", "seed": 4, "speed": 1}, 201)
        self.now += timedelta(minutes=1)
        faster = self.send("PUT", f"/practice/{made['id']}/speed", {"speed": 10})
        self.assertAlmostEqual(faster["minute"], 1.0, places=6)
        self.now += timedelta(seconds=6)
        self.assertAlmostEqual(self.send("GET", f"/practice/{made['id']}")["minute"], 2.0, places=6)
        self.send("PUT", f"/practice/{made['id']}/speed", {"speed": 0}, 422)
        self.close()
        self.open()
        self.assertIn("over", self.send("GET", f"/practice/{made['id']}", status=404)["detail"])
