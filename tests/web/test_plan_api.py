"""The plan over HTTP: acts answered with their reckoning, patterns, pictures of faces, every technique as a face."""

import struct
import zipfile
from io import BytesIO
from typing import Any

from roundstone.core.recipe import Box, ByMoulds, Design, Portion
from roundstone.exchange.pour_file import read
from tests.samples import SHELF, recipe
from tests.web.client import ApiTest

NAMES = ("Husk", "Clay", "Moss", "Fig", "Bone")
FIVE = recipe(
    size=ByMoulds(moulds=(Box(length=24, width=8, fill=6, cut=28),)),
    design=Design(portions=tuple(Portion(name=n, share=0.2, scent=1.0) for n in NAMES), technique="hanger-swirl"),
).model_dump(mode="json")


class Acts(ApiTest):
    def adjust(self, act: dict[str, Any], status: int = 200, of: Any = FIVE) -> Any:
        return self.send("POST", "/adjust", {"recipe": of, "act": act}, status)

    def test_an_act_is_answered_with_what_comes_of_it(self) -> None:
        labels = [
            s["label"] for s in self.send("POST", "/forecast", {"recipe": FIVE, "seed": "x"})["forecast"]["steps"]
        ]
        row = labels.index("drop Fig")
        got = self.adjust({"kind": "move_step", "row": row, "to": labels.index("drop Clay")})
        told = self.send("POST", "/forecast", {"recipe": got["recipe"], "seed": "x"})
        steps = told["forecast"]["steps"]
        self.assertEqual([s["label"] for s in steps].index("drop Fig"), labels.index("drop Clay"))
        self.assertEqual(len(told["steps"]), len(steps), "spelled out beside the forecast, row by row")
        self.assertEqual(got["recipe"]["design"]["steps"], told["steps"])
        self.assertEqual(got["weighed"], self.send("POST", "/weigh", {"recipe": got["recipe"]}))
        self.adjust({"kind": "take_step", "row": 0}, 422)
        self.adjust({"kind": "move_step", "row": 99, "to": 1}, 422)
        self.adjust({"kind": "no_such_act"}, 422)

    def test_a_lever_is_pulled_on_the_recipe_as_it_stands(self) -> None:
        hot = FIVE | {"pour_celsius": 42.0, "scents": [{"fragrance": "strong", "load": 0.03}]}
        levers = self.send("POST", "/plan", {"recipe": hot, "seed": "x"})["levers"]["levers"]
        self.assertTrue(levers)
        mine = hot | {"name": "Renamed since"}
        got = self.adjust({"kind": "pull_lever", "key": levers[0]["key"]}, of=mine)["recipe"]
        self.assertEqual(got, levers[0]["recipe"] | {"name": "Renamed since"})
        self.adjust({"kind": "pull_lever", "key": "nonsense"}, 422)

    def test_a_fall_back_stands_ready_whatever_its_portions_are_called(self) -> None:
        names = [f"{'A long name ' * 6}{i}" for i in range(2)]
        portions = tuple(Portion(name=n, share=0.5) for n in names)
        of = recipe(pour_celsius=40.0, design=Design(portions=portions, technique="diagonal")).model_dump(mode="json")
        of["scents"] = [{"fragrance": "strong", "load": 0.03}]
        backs = self.send("POST", "/plan", {"recipe": of, "seed": "x"})["fall_backs"]
        self.assertTrue(backs)
        of["design"]["ready"] = [{k: b[k] for k in ("step", "technique", "trigger")} for b in backs]
        made = self.send("POST", "/recipes", {"copy_of": None, "name": "Long"}, 201)["id"]
        self.send("PUT", f"/recipes/{made}", {"revision": 1, "recipe": of})

    def test_a_portion_no_step_uses_is_said(self) -> None:
        own = self.adjust({"kind": "spell_steps"})["recipe"]
        got = self.adjust({"kind": "add_portion"}, of=own)["weighed"]["weighing"]
        self.assertIn("Accent is in no step of the plan", next(c["message"] for c in got["cautions"]))


class Patterns(ApiTest):
    def test_kept_used_replaced_removed_and_carried_in_the_archive(self) -> None:
        kept = self.send("POST", "/patterns", {"name": "Five, hung", "recipe": FIVE}, 201)["patterns"]
        self.assertEqual([p["portions"] for p in kept], [5])
        own = kept[0]["id"]
        refused = self.send("POST", "/patterns", {"name": "five, HUNG", "recipe": FIVE}, 422)
        self.assertTrue(refused["sure"])
        self.send("POST", "/patterns", {"name": "five, HUNG", "recipe": FIVE, "replace": True}, 201)
        self.send("POST", "/patterns", {"name": " ", "recipe": FIVE}, 422)
        act = {"kind": "use_pattern", "pattern": own}
        plain = recipe().model_dump(mode="json")
        used = self.send("POST", "/adjust", {"recipe": plain, "act": act})["recipe"]
        self.assertEqual(used["design"], FIVE["design"])
        self.assertEqual(used["fats"], plain["fats"])

        archive = self.client.get("/api/workshop.zip").data
        self.assertEqual(self.send("DELETE", f"/patterns/{own}")["patterns"], [])
        self.send("POST", "/adjust", {"recipe": plain, "act": act}, 422)
        self.assertEqual(len(self.send("POST", f"/patterns/{own}/restore")["patterns"]), 1)
        self.send("DELETE", "/patterns/nowhere", status=404)
        self.assertIn(b"five, HUNG", zipfile.ZipFile(BytesIO(archive)).read("pattern.json"))


class NextTime(ApiTest):
    def test_what_was_noted_stands_on_the_next_plan_its_sheet_and_in_files(self) -> None:
        pour = self.started()
        recipe_id = self.send("GET", f"/pours/{pour}")["recipe_id"]
        self.tap(pour, 1, kind="seen", stage="emulsion")
        self.tap(pour, 9, kind="ended")
        self.tap(pour, 9, kind="next", says="pour Bone first, and 2 °C cooler")
        noted = self.send("GET", f"/recipes/{recipe_id}")["noted"]
        self.assertEqual([n["message"] for n in noted], ["pour Bone first, and 2 °C cooler"])
        sheet = self.send("GET", f"/recipes/{recipe_id}/worksheet")
        self.assertIn(
            "Noted last time: pour Bone first, and 2 °C cooler", [c["message"] for c in sheet["steps"][0]["cautions"]]
        )
        text = self.client.get("/api/pours.csv").get_data(as_text=True)
        self.assertIn("pour Bone first", text)
        events = read(text)[0].events
        self.assertEqual(events[-1].model_dump()["says"], "pour Bone first, and 2 °C cooler")
        self.tap(pour, 9, 422, kind="next", says="")


class Faces(ApiTest):
    def test_every_technique_is_a_picture(self) -> None:
        told = self.send("POST", "/plan", {"recipe": FIVE, "seed": "x"})["techniques"]
        self.assertEqual({t["technique"] for t in told}, set(SHELF.techniques))
        odds = [t["outlook"]["value"] for t in told if t["outlook"] and t["technique"] != "plain"]
        self.assertEqual(odds, sorted(odds, reverse=True))
        self.assertTrue(all(t["needs"] for t in told if t["outlook"] is None))
        for t in told:
            answer = self.client.get(f"/api/faces/{t['face']}/40.png")
            self.assertEqual((answer.status_code, answer.content_type), (200, "image/png"), t["technique"])
            self.assertEqual(struct.unpack(">I", answer.data[16:20]), (40,))
            self.assertIn("immutable", answer.headers["Cache-Control"])

    def test_what_is_no_face_is_refused(self) -> None:
        for path in ("plain.3.1000-24-0-e6dcc3/41.png", "nonsense/40.png", f"{'x' * 1300}/40.png"):
            self.send("GET", f"/faces/{path}", status=422)

    def test_lists_show_them(self) -> None:
        self.started()
        line = self.send("GET", "/recipes")["recipes"][0]
        self.assertEqual(self.client.get(f"/api/faces/{line['face']}/80.png").status_code, 200)
        self.assertTrue(self.send("GET", "/pours")["pours"][0]["face"].startswith("drop-swirl."))
