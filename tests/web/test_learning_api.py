"""What the log teaches, from outside: done-when of the clock, hazards, score card, notebook, pictures."""

import io
import time
from datetime import timedelta
from typing import Any
from unittest.mock import patch
from uuid import UUID, uuid4

from PIL import Image

from roundstone.core.batter import Noise
from roundstone.core.logbook import LEAST_POURS
from roundstone.core.recipe import Recipe
from roundstone.standins.batter import SimulatedMaker, temperament
from roundstone.store.learned import Learned
from tests.samples import SHELF, TRADE, next_id, recipe, weighed
from tests.web.client import PLAIN, ApiTest

FLORAL = {"name": "Bog violet", "family": "floral", "claim": "unknown", "claim_words": "", "note": ""}


def event(minute: float, kind: str, **rest: Any) -> dict[str, Any]:
    return {"id": str(next_id()), "minute": minute, "kind": kind, "sure": True, **rest}


QUICK = [
    event(0.5, "seen", stage="emulsion"),
    event(1.5, "split"),
    event(3.0, "scent", portion="Base"),
    event(3.3, "seen", portion="Base", stage="light"),
    event(3.6, "seen", portion="Base", stage="medium"),
    event(4.0, "seen", portion="Base", stage="thick"),
    event(5.0, "seen", portion="Bone", stage="emulsion"),
]


def again(events: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return [e | {"id": str(uuid4())} for e in events]


def picture(size: tuple[int, int] = (2400, 1200)) -> bytes:
    out = io.BytesIO()
    image = Image.new("RGB", size, (180, 140, 90))
    exif = image.getexif()
    exif[0x010F] = "Camera of a stranger"
    image.save(out, "JPEG", exif=exif, comment=b"taken at home")
    return out.getvalue()


class Learning(ApiTest):
    def own_recipe(self, draft: dict[str, Any]) -> str:
        made = self.send("POST", "/recipes", {}, 201)
        self.send("PUT", f"/recipes/{made['id']}", {"revision": 1, "recipe": draft})
        return str(made["id"])

    def past(self, recipe_id: str, events: list[dict[str, Any]], day: int = 1, status: int = 201) -> Any:
        body = {"recipe_id": recipe_id, "started": f"2026-04-{day:02}T10:00:00Z", "events": events, "sure": True}
        return self.send("POST", "/pours/past", body, status)

    def medium(self, draft: dict[str, Any]) -> dict[str, float]:
        lanes = self.send("POST", "/forecast", {"recipe": draft, "seed": "x"})["forecast"]["lanes"]
        return dict(lanes[0]["stages"][1]["time"])

    def test_an_unknown_floral_before_and_after_five_pours(self) -> None:
        """Empty log: wide and plainly worded. Five tapped pours that thickened at once: narrower, and sooner."""
        own = self.send("POST", "/fragrances", FLORAL, 201)["fragrances"][0]["fragrance"]["id"]
        draft = PLAIN | {"scents": [{"fragrance": own, "load": 0.03}]}
        before = self.medium(draft)
        standing = self.send("POST", "/forecast", {"recipe": draft})["forecast"]["standing"]
        self.assertIn("starting guess from trade experience, not your log", standing)
        self.assertGreater(before["q90"] / before["q10"], 4)
        recipe_id = self.own_recipe(draft)
        made = [self.past(recipe_id, again(QUICK), day)["id"] for day in range(1, 6)]
        after = self.medium(draft)
        self.assertLess(after["q90"] / after["q10"], 0.8 * before["q90"] / before["q10"])
        self.assertLess(after["q50"], before["q50"])
        file = self.send("GET", f"/fragrances/{own}")["fragrances"][0]
        self.assertGreater(file["learned"]["mid"], file["claimed"]["mid"])

        # One tap taken back and another written in: the next forecast is learned from what stands.
        view = self.send("GET", f"/pours/{made[0]}")
        thick = next(e["event"]["id"] for e in view["events"] if e["label"] == "Base: thick")
        self.tap(made[0], 6.0, kind="undo", target=thick)
        changed = self.medium(draft)
        self.assertNotEqual(changed, after)
        self.tap(made[0], 4.0, kind="seen", portion="Base", stage="thick", sure=True)
        again_after = self.medium(draft)
        self.assertAlmostEqual(again_after["q50"], after["q50"], places=2)

    def test_why_todays_batch_is_faster_than_last_weeks(self) -> None:
        cool = self.own_recipe(PLAIN | {"pour_celsius": 26})
        warm = self.own_recipe(PLAIN | {"pour_celsius": 40})
        pours = [self.past(r, again(QUICK))["id"] for r in (cool, warm)]
        told = self.send("POST", "/differ", {"pours": pours})
        (other,) = told["others"]
        self.assertEqual(told["pours"][0]["id"], pours[1])
        largest = other["differences"][0]
        self.assertEqual(largest["key"], "E")
        self.assertLess(largest["minutes"], 0)
        self.assertIn("warmer", largest["label"])
        running = self.started()
        refused = self.send("POST", "/differ", {"pours": [pours[0], running]}, 422)
        self.assertEqual(refused["errors"][0]["pointer"], "/pours/1")

    def test_prospects_follow_the_recipe_and_its_answers(self) -> None:
        calm = self.send("POST", "/prospects", {"recipe": PLAIN})
        self.assertEqual(
            {h["key"] for h in calm["hazards"]},
            {"seizing", "ricing", "separation", "false-trace", "overheating", "gel", "discolouring"},
        )
        self.assertEqual(calm["scouting"]["tries"][0]["key"], "cup")
        wild = PLAIN | {"scents": [{"fragrance": "seizes", "load": 0.04}], "pour_celsius": 45}
        self.assertEqual(self.send("POST", "/prospects", {"recipe": wild})["hazards"][0]["key"], "seizing")
        self.assertEqual(self.send("POST", "/prospects", {"recipe": PLAIN | {"superfat": 3}})["hazards"], [])
        recipe_id = self.own_recipe(PLAIN)
        riced = event(4.2, "flag", portion="Base", flag="ricing")
        self.past(recipe_id, again([*QUICK, riced]))
        self.past(recipe_id, again([*QUICK, event(5.2, "smooth")]))
        after = {h["key"]: h for h in self.send("POST", "/prospects", {"recipe": PLAIN})["hazards"]}
        self.assertEqual((after["ricing"]["seen"], after["ricing"]["asked"]), (1, 2))
        file = self.send("GET", "/fragrances/moderate")["fragrances"][0]
        self.assertEqual(file["riced"], {"seen": 1, "asked": 2})

    def test_a_new_bottle_inherits_and_the_claim_moves(self) -> None:
        recipe_id = self.own_recipe(PLAIN)
        for day in (1, 2, 3):
            self.past(recipe_id, again(QUICK), day)
        old = self.send("GET", "/fragrances/moderate")["fragrances"][0]["learned"]["mid"]
        heir = FLORAL | {"name": "Test moderate, new bottle", "inherits": "moderate", "claim": "none"}
        told = self.send("POST", "/fragrances", heir, 201)["fragrances"][0]
        self.assertAlmostEqual(told["learned"]["mid"] / old, 1, delta=0.02)
        alone = self.send("PUT", f"/fragrances/{told['fragrance']['id']}", heir | {"inherits": None})["fragrances"][0]
        self.assertLess(alone["learned"]["mid"], old)
        self.assertEqual(self.send("GET", "/fragrances/moderate")["fragrances"][0]["kin"], [])

    def test_a_notebook_with_gaps_teaches_and_mistakes_are_named(self) -> None:
        recipe_id = self.own_recipe(PLAIN)
        made = self.past(recipe_id, again([QUICK[0], event(9.0, "seen", stage="thick")]))
        view = self.send("GET", f"/pours/{made['id']}")
        self.assertEqual(view["ended"], 9.0, "it ends with the last thing noted")
        self.assertIn("was not tapped: it counts as in at", view["advice"]["detail"])
        self.tap(made["id"], 9.0, kind="unscented", sure=True)
        self.assertIn("now part of every forecast", self.send("GET", f"/pours/{made['id']}")["advice"]["detail"])
        wrong = again([QUICK[0], event(2.0, "seen", portion="Nowhere", stage="light")])
        self.assertEqual(self.past(recipe_id, wrong, status=422)["errors"][0]["pointer"], "/events/1/portion")
        late = {"recipe_id": recipe_id, "started": "2031-01-01T00:00:00Z", "events": again(QUICK)}
        self.assertEqual(self.send("POST", "/pours/past", late, 422)["errors"][0]["pointer"], "/started")
        self.past(self.own_recipe(PLAIN | {"superfat": 4}), again(QUICK), status=422)
        self.assertEqual(len(self.send("GET", "/pours")["pours"]), 1)

    def test_what_the_forecast_hardly_gives_is_asked_once(self) -> None:
        recipe_id = self.own_recipe(PLAIN)
        slip = again([QUICK[0], event(0.8, "split"), event(1.0, "seen", portion="Bone", stage="set")])
        body = {"recipe_id": recipe_id, "started": "2026-02-01T10:00:00Z", "events": slip}
        asked = self.send("POST", "/pours/past", body, 422)
        self.assertTrue(asked["sure"])
        self.assertEqual(asked["errors"][0]["pointer"], "/events/2/stage")
        self.assertIn("Is it so?", asked["errors"][0]["message"])
        self.assertEqual(self.send("GET", "/pours")["total"], 0, "nothing was stored")
        self.send("POST", "/pours/past", body | {"sure": True}, 201)
        name = self.send("GET", f"/recipes/{recipe_id}")["recipe"]["name"]
        rows = ["pour,recipe,started,minute,event,portion,value", f"a,{name},2026-02-01T10:00,0.5,emulsion,,seen",
                "a,,,0.8,split,,", "a,,,1.0,set,Bone,seen"]  # fmt: skip
        file = {"text": "\n".join(rows)}
        asked = self.send("POST", "/pours/import", file, 422)
        self.assertTrue(asked["sure"] and "Is it so?" in asked["errors"][0]["message"])
        self.assertEqual(self.send("POST", "/pours/import", file | {"sure": True}, 201)["pours"], 1)

    def test_how_a_maker_taps_is_asked_once_and_learned_by(self) -> None:
        self.assertEqual(self.send("GET", "/settings")["taps"], "looks")
        recipe_id = self.own_recipe(PLAIN)
        for day in (1, 2, 3):
            self.past(recipe_id, again(QUICK), day)
        before = self.send("GET", "/fragrances/moderate")["fragrances"][0]["learned"]["mid"]
        self.assertEqual(self.send("PUT", "/settings/taps", {"taps": "turns"})["taps"], "turns")
        after = self.send("GET", "/fragrances/moderate")["fragrances"][0]["learned"]["mid"]
        self.assertNotEqual(before, after, "silence counts now")
        self.send("PUT", "/settings/taps", {"taps": "never"}, 422)

    def test_what_an_outcome_is_worth_is_the_makers_own(self) -> None:
        usual = {"drawn": 1.0, "different": 0.6, "lost": 0.1}
        self.assertEqual(self.send("GET", "/settings")["utility"], usual)
        ask = {"recipe": PLAIN, "seed": ""}
        before = self.send("POST", "/forecast", ask)["forecast"]["outlook"]
        self.send("PUT", "/settings/utility", usual | {"different": 0.9})
        after = self.send("POST", "/forecast", ask)["forecast"]["outlook"]
        self.assertEqual(before["drawn"], after["drawn"])
        self.assertGreater(after["value"], before["value"])
        wrong = self.send("PUT", "/settings/utility", usual | {"lost": 0.7}, 422)
        self.assertEqual(wrong["errors"][0]["pointer"], "/different")

    def test_pours_go_out_and_come_in_by_file(self) -> None:
        name = self.send("GET", f"/recipes/{self.own_recipe(PLAIN)}")["recipe"]["name"]
        rows = [
            "a,{},2026-02-01T10:00,0.6,emulsion,,",
            "a,,,1.4,split,,",
            "a,,,2.5,scent,Base,",
            "a,,,2.6,stick,Base,4",
            "a,,,3.1,temperature,,33",
            "a,,,5,medium,Base,",
            "a,,,5.8,medium,Bone,seen",
            "a,,,6,ricing,Base,",
            "a,,,6.5,ended,,",
            "a,,,6.5,colour,Base,tint 30",
            "b,{},2026-02-09,1,emulsion,,",
        ]
        text = "pour,recipe,started,minute,event,portion,value\n" + "\n".join(r.format(name) for r in rows)
        for change, at in (
            (("5,medium,Base", "5,medium,Elsewhere"), "/7/portion"),
            ((f"b,{name}", "b,No such"), "/12/recipe"),
            (("stick,Base,4", "stick,Base,long"), "/5/value"),
            (("medium,Base,", "medium,Base,about"), "/7/value"),
            (("2026-02-09", "some day"), "/12/started"),
            (("6.5,ended", "x,ended"), "/10/minute"),
        ):
            refused = self.send("POST", "/pours/import", {"text": text.replace(*change)}, 422)
            self.assertEqual([e["pointer"] for e in refused["errors"]], [at])
        self.assertEqual(self.send("GET", "/pours")["pours"], [], "nothing half-read")
        self.assertEqual(self.taken_in(text), (2, 12, 0))
        self.assertEqual(self.taken_in(text), (0, 0, 2), "a notebook read twice doubles nothing")
        out = self.client.get("/api/pours.csv").get_data(as_text=True)
        self.assertIn(",5,medium,Base,,", out)
        self.assertIn(",5.8,medium,Bone,seen,", out)
        self.assertEqual(self.taken_in(out), (0, 0, 2), "nor does one's own log")
        self.assertEqual(self.taken_in(out.replace("\r\n", "\r")), (0, 0, 2), "whatever ends its lines")
        self.assertEqual(self.client.get("/api/pours.csv").get_data(as_text=True), out)
        self.send("POST", "/pours/import", {"text": out.replace("medium", "m" * 140_000)}, 422)
        far = text.replace("2026-02-09", "2999-02-09").replace("a,", "c,").replace("b,", "d,")
        self.assertIn("still to come", self.send("POST", "/pours/import", {"text": far}, 422)["detail"])
        self.send("POST", "/recipes", {"name": name}, 201)
        new = text.replace("\na,", "\nc,").replace("\nb,", "\nd,")
        self.assertIn("2 recipes are called", self.send("POST", "/pours/import", {"text": new}, 422)["detail"])
        for wrong in ("", "pour,minute\n1,2", "pour,minute,event,shoe\n1,2,light,3"):
            self.send("POST", "/pours/import", {"text": wrong}, 422)

    def taken_in(self, text: str) -> tuple[int, int, int]:
        told = self.send("POST", "/pours/import", {"text": text}, 201)
        return told["pours"], told["events"], told["there"]

    def picture(self, pour: str, data: bytes, status: int = 201, days: str = "7") -> Any:
        form = {"file": (io.BytesIO(data), "p.png"), "days": days, "note": "a week"}
        answer = self.client.post(f"/api/pours/{pour}/photos", data=form)
        self.assertEqual(answer.status_code, status, answer.get_data(as_text=True))
        return answer.json

    def test_pictures_are_made_small_and_keep_no_camera(self) -> None:
        pour = self.past(self.own_recipe(PLAIN), again(QUICK))["id"]
        kept = self.picture(pour, picture())
        raw = self.client.get(f"/api/photos/{kept['id']}")
        self.assertEqual(raw.content_type, "image/jpeg")
        with Image.open(io.BytesIO(raw.data)) as image:
            self.assertEqual(image.size, (1600, 800))
            self.assertNotIn(0x010F, image.getexif())
            self.assertNotIn("comment", image.info)
        self.assertEqual(self.send("GET", f"/pours/{pour}")["photos"][0]["note"], "a week")
        self.assertEqual(len(self.send("GET", "/fragrances/moderate")["photos"]), 1)
        self.client.delete(f"/api/photos/{kept['id']}")
        self.assertEqual(self.send("GET", f"/pours/{pour}")["photos"], [])
        self.assertEqual(self.client.get(f"/api/photos/{kept['id']}").status_code, 404)
        self.client.post(f"/api/photos/{kept['id']}/restore")
        self.assertEqual(len(self.send("GET", f"/pours/{pour}")["photos"]), 1)
        self.picture(str(uuid4()), picture((8, 8)), 404)
        self.picture(pour, picture((8, 8)), 422, days="-1")
        self.assertEqual(self.client.get(f"/api/photos/{uuid4()}").status_code, 404)

    def test_what_is_no_picture_is_refused_before_it_is_opened(self) -> None:
        """Other formats, damaged ones, and a small file that would be a gigabyte of pixels."""
        pour = self.past(self.own_recipe(PLAIN), again(QUICK))["id"]
        with io.BytesIO() as out:
            Image.new("1", (20_000, 20_000)).save(out, "PNG")
            bomb = out.getvalue()
        others = []
        for kind in ("GIF", "BMP", "TIFF", "ICNS", "PPM"):
            with io.BytesIO() as out:
                Image.new("RGB", (16, 16)).save(out, kind)
                others.append(out.getvalue())
        for data in (b"", b"BLP2" + b"\xff" * 64, picture()[:300], bomb, *others):
            refused = self.picture(pour, data, 422)
            self.assertEqual(refused["errors"][0]["pointer"], "/file")

    def simulated(self, count: int) -> None:
        import numpy as np

        rng = np.random.Generator(np.random.PCG64(8))
        maker = SimulatedMaker(temperament(TRADE, rng, {}), SHELF, rng)
        of: Recipe = recipe()
        self.workshop.recipes.add("sim", of, self.now)
        for n in range(count):
            started = self.now - timedelta(days=40 - n)
            events = maker.pour(of, weighed(of))
            self.workshop.pours.add_past(str(UUID(int=n + 1)), "sim", started, events)

    def test_score_card_is_made_in_the_background_and_made_anew(self) -> None:
        self.simulated(6)

        def card() -> Any:
            for _ in range(200):
                told = self.send("GET", "/learning")
                if told["card"] is not None:
                    return told
                time.sleep(0.05)
            return self.fail("no score card came")

        told = card()
        self.assertEqual((told["card"]["pours"], told["noise"], told["due"]), (6, told["trade"], False))
        self.assertIn("too few", told["card"]["message"])
        self.past(self.own_recipe(PLAIN), again(QUICK))
        self.assertEqual(card()["card"]["pours"], 7)

    def test_noise_is_tuned_once_there_are_pours_enough_and_is_kept(self) -> None:
        self.simulated(LEAST_POURS)
        learned = Learned(self.workshop)
        self.assertTrue(learned.due(learned.record()))
        before = learned.record().knowledge
        learned.tune(wait=True)
        noise, pours = learned.noise()
        self.assertEqual(pours, LEAST_POURS)
        self.assertNotEqual(noise, Noise())
        self.assertEqual(learned.record().knowledge.noise, noise)
        self.assertNotEqual(learned.record().knowledge.mean.tolist(), before.mean.tolist())
        self.assertFalse(learned.due(learned.record()))
        self.assertEqual(Learned(self.workshop).noise()[0], noise, "kept in the file")
        self.assertEqual(self.send("GET", "/learning")["noise"]["pours"], LEAST_POURS)

    def test_what_was_learned_is_kept_and_serves_every_page_without_a_refit(self) -> None:
        self.simulated(4)
        pages = ("/fragrances", "/fragrances/moderate", "/colours", "/rest", "/pours")
        before = [self.send("GET", page) for page in pages]
        self.assertGreater(before[1]["fragrances"][0]["poured"], 0)
        self.close()
        self.open()
        with patch.object(Learned, "read", side_effect=AssertionError("learned anew")):
            self.assertEqual([self.send("GET", page) for page in pages], before)

    def test_a_failure_in_the_background_is_told(self) -> None:
        self.simulated(2)
        learned = Learned(self.workshop)
        self.workshop.close()
        learned.tune(wait=True)
        self.assertTrue(learned.tuning.failed)
        self.assertIsNone(learned.tuning.progress)
