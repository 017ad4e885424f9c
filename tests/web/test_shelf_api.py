"""The shelf through the API: blends kept, bottled and taken apart, and what is made here."""

import io
import zipfile
from datetime import timedelta
from typing import Any

from PIL import Image

from tests.samples import next_id, recipe
from tests.web.client import PLAIN, ApiTest

TWO_SCENTS = [{"fragrance": "none", "load": 0.02}, {"fragrance": "strong", "load": 0.01}]


class Blends(ApiTest):
    def kept(self) -> Any:
        return self.send("POST", "/blends", {"name": "Fig hearth", "scents": TWO_SCENTS}, 201)["fragrances"][0]

    def asked(self, path: str, **of: Any) -> Any:
        plain = recipe(design=recipe().design).model_dump(mode="json")
        return self.send("POST", path, {"recipe": plain | {"scents": TWO_SCENTS}} | of)

    def test_the_scents_of_a_recipe_become_one_thing_and_rows_again(self) -> None:
        before = self.asked("/weigh"), self.asked("/forecast")
        fragrance = self.kept()["fragrance"]
        self.assertEqual([round(p["share"], 6) for p in fragrance["parts"]], [0.666667, 0.333333])
        act = {"kind": "use_blend", "fragrance": fragrance["id"]}
        after = self.asked("/adjust", act=act)
        self.assertEqual([s["fragrance"] for s in after["recipe"]["scents"]], [fragrance["id"]])

        def weights(weighed: Any) -> Any:
            lines = weighed["weighing"]["sheet"]["lines"]
            return sorted((x["item"], x["shown"]) for x in lines)

        def times(told: Any) -> Any:
            return [s["time"]["q50"] for s in told["forecast"]["lanes"][0]["stages"]]

        self.assertEqual(weights(after["weighed"]), weights(before[0]))
        blended = self.send("POST", "/forecast", {"recipe": after["recipe"]})
        for one, two in zip(times(blended), times(before[1]), strict=True):
            self.assertAlmostEqual(one, two, delta=0.06 * two)
        back = {"recipe": after["recipe"], "act": {"kind": "blend_apart", "fragrance": fragrance["id"]}}
        rows = self.send("POST", "/adjust", back)["recipe"]["scents"]
        self.assertEqual([(s["fragrance"], round(s["load"], 9)) for s in rows], [("none", 0.02), ("strong", 0.01)])
        gone = {"recipe": recipe().model_dump(mode="json"), "act": act}
        self.assertEqual(self.send("POST", "/adjust", gone, 422)["errors"][0]["pointer"], "/act/fragrance")

    def test_once_poured_its_parts_stay_and_a_bottle_of_it_is_another_fragrance(self) -> None:
        fragrance = self.kept()["fragrance"]
        path = f"/fragrances/{fragrance['id']}"
        typed = {k: v for k, v in fragrance.items() if k != "id"}
        other = typed | {"parts": [p | {"share": 0.5} for p in typed["parts"]]}
        self.assertEqual(self.send("PUT", path, other)["fragrances"][0]["fragrance"]["parts"][0]["share"], 0.5)
        strong = dict(self.send("GET", "/fragrances/strong")["fragrances"][0]["fragrance"])
        strong.pop("id")
        self.send("PUT", "/fragrances/strong", strong | {"allergens": ["Eugenol"], "ricing": "yes"})
        told = self.send("GET", path)["fragrances"][0]["fragrance"]
        self.assertEqual((told["allergens"], told["ricing"]), (["Eugenol"], "yes"))
        made = self.send("POST", "/recipes", {"copy_of": None, "name": "Mine"}, 201)["id"]
        of = recipe().model_dump(mode="json") | {"scents": [{"fragrance": fragrance["id"], "load": 0.03}]}
        self.send("PUT", f"/recipes/{made}", {"revision": 1, "recipe": of})
        self.send("POST", "/pours", {"recipe_id": made}, 201)
        self.send("PUT", path, typed, 409)
        self.send("PUT", path, other | {"note": "lovely"})
        bottle = self.send("POST", f"{path}/bottle", {"name": "Fig hearth, ahead"}, 201)["fragrances"][0]
        self.assertEqual((bottle["fragrance"]["bottled"], bottle["fragrance"]["inherits"]), (True, fragrance["id"]))
        blend = self.send("GET", path)["fragrances"][0]["learned"]["mid"]
        self.assertAlmostEqual(bottle["learned"]["mid"] / blend, 1, delta=0.02)
        self.send("POST", f"{path}/bottle", {"name": "Fig hearth, ahead"}, 422)
        self.send("POST", f"/fragrances/{bottle['fragrance']['id']}/bottle", {"name": "Again"}, 409)


class MadeHere(ApiTest):
    def left(self) -> dict[str, float]:
        return {x["lot"]["item"]: round(x["left"], 3) for x in self.send("GET", "/stock")["lots"]}

    def own(self, status: int = 201, **ingredient: Any) -> Any:
        return self.send("POST", "/custom", {"ingredient": ingredient}, status)

    def test_made_once_however_often_it_is_told_and_taken_back(self) -> None:
        item = "fat:" + self.own(kind="infusion", name="Annatto olive", base="fat:olive", tint="#d08a2a")["fat"]["id"]
        self.send("PUT", f"/stock/{next_id()}", {"item": "fat:olive", "grams": 500, "counted": "2026-04-01"})
        made = f"/stock/{next_id()}/made"
        for _ in range(2):
            self.send("PUT", made, {"item": item, "grams": 200})
        self.assertEqual(self.left(), {"fat:olive": 300.0, item: 200.0})
        self.send("DELETE", made)
        self.assertEqual(self.left(), {"fat:olive": 500.0})
        self.send("POST", f"{made.removesuffix('/made')}/restore")
        self.assertEqual(self.left(), {"fat:olive": 300.0, item: 200.0})
        row = f"kind,name,grams,id\nfat,Annatto olive,150,{made.split('/')[2]}\n"
        self.send("POST", "/shelf/import", {"text": row}, 201)
        self.assertEqual(self.left(), {"fat:olive": 300.0, item: 150.0}, "counted anew, and still made")
        self.send("PUT", f"/stock/{next_id()}/made", {"item": "fat:olive", "grams": 1}, 422)
        kinds = {i["item"]: i["made"] for i in self.send("GET", "/stock")["items"]}
        self.assertTrue(kinds[item])
        self.assertFalse(kinds["fat:olive"])
        self.assertIn("Annatto olive", [c["name"] for c in self.send("GET", "/colours")["colours"]])

    def test_what_something_is_made_of_keeps_its_figures(self) -> None:
        lot = self.own(kind="fat", name="Lot 7", kin="olive", sv=188.0)["fat"]["id"]
        made = self.own(kind="infusion", name="Annatto lot 7", base=f"fat:{lot}")["fat"]
        self.assertEqual((made["sv"], made["kin"]), (188.0, "olive"))
        again = {"ingredient": {"kind": "fat", "name": "Lot 7", "kin": "olive", "sv": 191.0}}
        self.send("PUT", f"/custom/{lot}", again, 409)

    def test_offcuts_stand_on_the_shelf_until_the_cut_is_taken_back_or_they_are_counted(self) -> None:
        pour = self.started()
        self.tap(pour, 1.0, kind="seen", stage="emulsion")
        self.tap(pour, 12.0, kind="ended")
        self.now += timedelta(days=2)
        cuts = [str(next_id()) for _ in range(2)]
        for cut, grams in zip(cuts, (41.5, 20.0), strict=True):
            told = {"kind": "cut", "how": "clean", "tool": "wire", "bars": 12, "offcuts": grams}
            event = {"id": cut, "minute": 2000.0, "sure": True, **told}
            for _ in range(2):
                self.send("POST", f"/pours/{pour}/events", {"event": event})
        here = {x["id"]: x for x in self.send("GET", "/stock")["lots"]}
        self.assertEqual([here[c]["left"] for c in cuts], [41.5, 20.0])
        self.assertEqual(here[cuts[0]]["lot"]["item"], "additive:soap-offcuts")
        counted = {"item": "additive:soap-offcuts", "grams": 30, "label": "bag"}
        self.send("PUT", f"/stock/{cuts[0]}", counted)
        for cut in cuts:
            self.tap(pour, 2001.0, kind="undo", target=cut)
        self.assertEqual([x["id"] for x in self.send("GET", "/stock")["lots"]], [cuts[0]])


class Scales(ApiTest):
    def test_scales_are_read_however_often_they_are_set(self) -> None:
        shown = []
        for step in (0.1, 1.0, 5.0):
            self.send("PUT", "/settings/scales", {"scales": [{"step": step, "capacity": 10_000}]})
            asked = self.send("POST", "/weigh", {"recipe": recipe().model_dump(mode="json")})
            lines = asked["weighing"]["sheet"]["lines"]
            shown.append(next(x["shown"] for x in lines if x["kind"] == "alkali"))
        self.assertEqual(len(set(shown)), 3, shown)


class FoundAnywhere(ApiTest):
    def test_everything_is_found_by_its_name(self) -> None:
        made = self.send("POST", "/recipes", {"copy_of": None, "starter": "slow-olive", "name": "Sandbank"}, 201)["id"]
        pour = str(self.send("POST", "/pours", {"recipe_id": made}, 201)["id"])
        self.tap(pour, 1.0, kind="next", says="Less stirring of the sandbank", about="recipe")
        found = self.send("GET", "/find?words=sandb")["found"]
        self.assertEqual({(f["kind"], f["id"]) for f in found}, {("recipe", made), ("pour", pour), ("note", pour)})
        names = [f["name"] for f in self.send("GET", "/find?words=olive")["found"] if f["kind"] == "ingredient"]
        self.assertEqual(names[0], "Olive")
        self.assertEqual(self.send("GET", "/find?words=%20")["found"], [])
        self.assertEqual(self.send("GET", "/find?words=%25_zzz")["found"], [])


class FirstHour(ApiTest):
    def test_every_recipe_to_begin_with_is_weighed_and_forecast_as_it_teaches(self) -> None:
        """Slow Olive is slower than the Even Bar, a salt bar is never told to wait for the wire, milk rests open."""
        offered = self.send("GET", "/starters")["starters"]
        self.assertEqual(len(offered), 5)
        told = {}
        self.send("PUT", "/settings/usual", {"pour_celsius": 31.0, "room_celsius": 17.0})
        for s in offered:
            made = self.send("POST", "/recipes", {"copy_of": None, "starter": s["id"], "name": ""}, 201)["id"]
            recipe = self.send("GET", f"/recipes/{made}")["recipe"]
            self.assertEqual((recipe["name"], recipe["room_celsius"]), (s["name"], 17.0))
            reckoned = self.send("POST", "/forecast", {"recipe": recipe, "seed": "x"})
            weighing = self.send("POST", "/weigh", {"recipe": recipe})["weighing"]
            self.assertEqual(weighing["faults"], [])
            self.assertFalse(any(c["danger"] for c in weighing["cautions"]), s["id"])
            self.assertAlmostEqual(sum(f["share"] for f in recipe["fats"]), 1.0)
            told[s["id"]] = reckoned["forecast"]["lanes"][0]["stages"][1]["time"]["q50"]
        self.assertGreater(told["slow-olive"], 1.2 * told["even-bar"])
        blank = self.send("POST", "/recipes", {"copy_of": None, "name": ""}, 201)["id"]
        self.assertEqual(self.send("GET", f"/recipes/{blank}")["recipe"]["pour_celsius"], 31.0)
        self.send("PUT", "/settings/usual", {"pour_celsius": 200.0, "room_celsius": None}, 422)
        self.send("POST", "/recipes", {"copy_of": None, "starter": "gone", "name": ""}, 422)


class Copies(ApiTest):
    def test_merging_says_what_stands_there_otherwise(self) -> None:
        made = self.send("POST", "/recipes", {"copy_of": None, "starter": "even-bar", "name": "Kept"}, 201)["id"]
        packed = self.client.get("/api/workshop.zip").get_data()

        def merged() -> str:
            form = {"file": (io.BytesIO(packed), "workshop.zip")}
            return str((self.client.post("/api/archive", data=form).json or {})["message"])

        self.assertNotIn("Otherwise", merged())
        recipe = self.send("GET", f"/recipes/{made}")["recipe"] | {"name": "Kept, and changed"}
        self.send("PUT", f"/recipes/{made}", {"revision": 1, "recipe": recipe})
        self.send("PUT", "/settings/air", {"humidity": 0.7})
        told = merged()
        self.assertIn("Beside what is called so here: recipe Kept as Kept (2).", told)
        self.assertEqual(self.send("GET", f"/recipes/{made}")["recipe"]["name"], "Kept, and changed")

    def test_all_pictures_lie_in_a_folder_for_each_batch(self) -> None:
        pour, picture = self.started(), io.BytesIO()
        Image.new("RGB", (40, 30), "#27406e").save(picture, "PNG")
        for note in ("top / side", "top / side", ""):
            form = {"file": (io.BytesIO(picture.getvalue()), "a.png"), "days": "3", "note": note}
            self.assertEqual(self.client.post(f"/api/pours/{pour}/photos", data=form).status_code, 201)
        packed = zipfile.ZipFile(io.BytesIO(self.client.get("/api/pictures.zip").get_data()))
        of = f"{self.now:%Y-%m-%d} {PLAIN['name']}"
        wanted = {f"{of}/day 003.jpg", f"{of}/day 003 top side.jpg", f"{of}/day 003 top side 2.jpg"}
        self.assertEqual(set(packed.namelist()), wanted)
        for name in packed.namelist():
            self.assertEqual(Image.open(io.BytesIO(packed.read(name))).size, (40, 30))

    def test_one_goes_back_to_a_copy_and_back_from_it(self) -> None:
        first = self.send("POST", "/recipes", {"copy_of": None, "starter": "even-bar", "name": "First"}, 201)["id"]
        pour = str(self.send("POST", "/pours", {"recipe_id": first}, 201)["id"])
        self.tap(pour, 1.0, kind="seen", stage="emulsion")
        self.send("POST", "/copies", None, 201)
        self.now += timedelta(hours=1)
        self.tap(pour, 9.0, kind="ended", sure=True)
        self.send("PUT", "/settings/air", {"humidity": 0.7})
        self.send("POST", "/recipes", {"copy_of": None, "name": "Second"}, 201)
        (copy,) = self.send("GET", "/settings")["copies"]["copies"]
        self.assertEqual(self.send("POST", "/copies/back", {"name": copy["name"]})["humidity"], 0.5)
        self.assertEqual([r["name"] for r in self.send("GET", "/recipes")["recipes"]], ["First"])
        self.assertIsNone(self.send("GET", f"/pours/{pour}")["ended"])
        self.tap(pour, 70.0, kind="remark", what="air", sure=True)
        self.now += timedelta(hours=1)
        before = next(c["name"] for c in self.send("GET", "/settings")["copies"]["copies"] if "before" in c["name"])
        self.send("POST", "/copies/back", {"name": before})
        self.assertEqual(len(self.send("GET", "/recipes")["recipes"]), 2)
        self.assertEqual(self.send("GET", f"/pours/{pour}")["ended"], 9.0)
        self.send("POST", "/copies/back", {"name": "../../etc/passwd"}, 404)
        # Fewer are kept from now on: the oldest is still there to go back to.
        self.send("PUT", "/settings/copies", {"folder": None, "keep": 1})
        self.now += timedelta(hours=1)
        self.send("POST", "/copies/back", {"name": copy["name"]})
        self.assertIn(copy["name"], [c["name"] for c in self.send("GET", "/settings")["copies"]["copies"]])
