"""Ticks of the ready check: each is of the weight it was given for, for both devices, whatever the recipe becomes."""

import unittest
from typing import Any

from hypothesis import Phase, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule, run_state_machine_as_test

from roundstone.core.recipe import ByWeight, Design, Dose
from roundstone.core.sheet import following, weigh
from roundstone.core.values import RuleError
from tests.core.test_build import build
from tests.samples import SHELF, TWO, many, recipe, weighed
from tests.web.client import ApiTest, items

MICA = Dose(additive="mica", amount=4, into=("Base",))
EDITS: tuple[dict[str, Any], ...] = (
    {"superfat": 0.0}, {"superfat": 0.051}, {"superfat": 0.18}, {"koh_share": 0.4}, {"stock": 0.5},
    {"size": {"kind": "fats", "grams": 990.0}}, {"size": {"kind": "fats", "grams": 1000.2}}, {"ice": 0.5},
    {"naoh_purity": 0.9}, {"water": {"by": "ratio", "parts": 1.6}}, {"additives": []},
    {"additives": [MICA.model_copy(update={"into": ("Bone",)}).model_dump(mode="json")]},
    {"additives": [MICA.model_copy(update={"amount": 5}).model_dump(mode="json")]},
    {"fats": [{"fat": "lard", "share": 0.7}, {"fat": "coconut", "share": 0.3}]},
    {"fats": [{"fat": "coconut", "share": 0.7}, {"fat": "lard", "share": 0.3}]},
)  # fmt: skip
PLAIN = recipe(additives=(MICA,), size=ByWeight(grams=1000)).model_dump(mode="json")


class Kitchen(ApiTest):
    """One recipe, with what is in both hands and both screens."""

    def setUp(self) -> None:
        super().setUp()
        self.recipe = self.send("POST", "/recipes", {"copy_of": None, "name": "Mine"}, 201)["id"]
        self.revision = 1
        self.edit({})
        self.there: dict[str, tuple[str, str]] = {}  # what lies weighed, by key: what it was read as

    def edit(self, change: dict[str, Any]) -> None:
        kept = self.send("PUT", f"/recipes/{self.recipe}", {"revision": self.revision, "recipe": PLAIN | change})
        self.revision = kept["revision"]

    def view(self, day: int = 1) -> Any:
        return self.send("GET", f"/recipes/{self.recipe}/ready?day={day}")

    def tick(self, item: Any, on: bool = True, day: int = 1) -> Any:
        act = {"kind": "tick", "key": item["key"], "on": on}
        read = {"grams": item["reading"], "message": item["message"], "line": item["line"]}
        return self.send("POST", f"/recipes/{self.recipe}/ready?day={day}", {"act": act | read})


def read(shown: str) -> float:
    """Grams, whatever step the scale shows them with; what is not weighed has none."""
    return float(shown.removesuffix("\xa0g") or 0)


class Ticks(RuleBasedStateMachine):
    def __init__(self) -> None:
        super().__init__()
        self.kitchen = Kitchen("setUp")
        self.kitchen.setUp()
        self.step = 0.0
        self.another_scale(0.1)
        self.screens = [self.kitchen.view(), self.kitchen.view()]

    def teardown(self) -> None:
        self.kitchen.doCleanups()

    @rule(change=st.sampled_from(EDITS))
    def edits(self, change: dict[str, Any]) -> None:
        self.kitchen.edit(change)

    @rule(step=st.sampled_from((0.01, 0.1, 5.0)))
    def another_scale(self, step: float) -> None:
        self.step = step
        scales = {"scales": [{"step": step, "capacity": 5000.0}]}
        self.kitchen.workshop.settings.keep("scales", scales)

    @rule(device=st.sampled_from((0, 1)))
    def looks(self, device: int) -> None:
        self.screens[device] = self.kitchen.view()

    @rule(device=st.sampled_from((0, 1)), place=st.floats(0, 0.999), on=st.booleans())
    def taps(self, device: int, place: float, on: bool) -> None:
        """On what this device shows, which may be of before the last edit."""
        shown = items(self.screens[device])
        item = shown[int(place * len(shown))]
        self.screens[device] = self.kitchen.tick(item, on)
        self.kitchen.there.pop(item["key"], None)
        if on:
            self.kitchen.there[item["key"]] = (item["message"], item["shown"])

    def reads_alike(self, was: float, now: float) -> bool:
        """Whether what was weighed reads so on today's scale too, and is so within what changing units may cost."""
        return abs(was - now) <= min(self.step / 2, 0.0025 * now) + 1e-9

    @invariant()
    def no_tick_is_for_another_weight(self) -> None:
        view = self.kitchen.view()
        stand = {i["key"] for i in items(view) if i["ticked"]}
        asked = {r["key"] for r in view["reweigh"]}
        assert not stand & asked
        for item in items(view):
            was = self.kitchen.there.get(item["key"])
            same = was is not None and was[0] == item["message"] and self.reads_alike(read(was[1]), read(item["shown"]))
            assert item["ticked"] == same, (item, was)
        weighed_ = {key for key, (_, shown) in self.kitchen.there.items() if shown}
        assert weighed_ <= stand | asked, "what lies weighed is ticked, or told to be wrong"
        lye = [r for r in view["reweigh"] if r["lye"]]
        assert all("local rules" in r["does"] for r in lye)


class TicksStand(unittest.TestCase):
    def test_no_tick_is_ever_for_another_weight(self) -> None:
        how = settings(max_examples=many(6, 100), stateful_step_count=25, phases=[Phase.generate])
        run_state_machine_as_test(Ticks, settings=how)


class Following(Kitchen):
    def test_lye_weighed_for_another_recipe_is_told_asked_and_can_be_followed(self) -> None:
        lye = next(i for i in items(self.view()) if i["line"].startswith("alkali:"))
        for item in items(self.view()):
            if item["reading"] is not None:
                self.tick(item)
        self.edit({"superfat": 0.15})
        view = self.view()
        told = view["reweigh"][0]
        self.assertTrue(told["lye"])
        self.assertIn(lye["shown"].replace("\xa0", " "), told["message"].replace("\xa0", " "))
        refused = self.send("POST", "/pours", {"recipe_id": self.recipe}, 422)
        self.assertTrue(refused["sure"])
        self.assertIn("Make the jug anew", refused["errors"][-1]["message"])
        after = self.send("POST", f"/recipes/{self.recipe}/ready/follow")
        self.assertEqual(after["reweigh"], [])
        now = next(i for i in items(after) if i["line"] == lye["line"])
        self.assertEqual((now["shown"], now["ticked"]), (lye["shown"], True))
        kept = self.send("GET", f"/recipes/{self.recipe}")["recipe"]
        self.assertAlmostEqual(kept["superfat"], 0.05, delta=0.0015)
        self.send("POST", "/pours", {"recipe_id": self.recipe}, 201)

    def test_too_much_lye_is_never_followed(self) -> None:
        lye = next(i for i in items(self.view()) if i["line"].startswith("alkali:"))
        self.tick(lye)
        self.edit({"size": {"kind": "fats", "grams": 800.0}})
        message = self.send("POST", f"/recipes/{self.recipe}/ready/follow", status=422)["errors"][0]["message"]
        self.assertIn("more lye than the fats can take", message)
        self.assertTrue(any(r["lye"] for r in self.view()["reweigh"]), "it stands open still")
        self.send("POST", "/pours", {"recipe_id": self.recipe, "sure": True}, 201)

    def test_a_later_day_is_ticked_apart_and_is_the_running_pours(self) -> None:
        self.send("GET", f"/recipes/{self.recipe}/ready?day=2", status=404)
        two = build((1320.0,)).model_dump(mode="json")
        self.edit(two)
        scents = [i for d in (1, 2) for i in items(self.view(d)) if i["line"] == "fragrance:moderate"]
        self.assertEqual([i["cup"] for i in scents], ["Husk", "Clay"])
        self.tick(scents[0])
        self.send("POST", f"/recipes/{self.recipe}/ready/follow")
        self.assertEqual(self.send("GET", f"/recipes/{self.recipe}")["recipe"]["scents"], two["scents"])
        self.revision += 1
        self.tick(scents[1], day=2)
        ticked = [[i["cup"] for i in items(self.view(d)) if i["ticked"]] for d in (1, 2)]
        self.assertEqual(ticked, [["Husk"], ["Clay"]])
        self.send("POST", "/pours", {"recipe_id": self.recipe, "sure": True}, 201)
        self.edit({"size": {"kind": "fats", "grams": 500.0}})
        self.assertEqual([i["cup"] for i in items(self.view(2)) if i["ticked"]], ["Clay"], "as it was poured")
        self.assertEqual(self.view(2)["days"], 2)

    def test_a_recipe_that_follows_has_the_weights_it_follows(self) -> None:
        """Whatever was weighed on whichever lines: the sheet of what follows shows it, and leaves the rest."""
        for seed in range(many(40, 400)):
            of = recipe(
                additives=(MICA, Dose(additive="citric-acid", amount=8)), size=ByWeight(grams=900 + seed),
                koh_share=(seed % 3) * 0.2, design=Design(portions=TWO, technique="drop-swirl"),
            )  # fmt: skip
            sheet = weighed(of)
            read = {x.key: x.grams * (1 + ((i * 7 + seed) % 5 - 2) / 200) for i, x in enumerate(sheet.lines)}
            read = {key: grams for i, (key, grams) in enumerate(read.items()) if (i + seed) % 3}
            try:
                reconciled = following(of, SHELF, sheet, read)
            except RuleError:
                continue
            again = weigh(reconciled, SHELF)
            assert again.sheet is not None, again.faults
            for was, now in zip(sheet.lines, again.sheet.lines, strict=True):
                self.assertEqual(was.key, now.key)
                self.assertAlmostEqual(now.grams, read.get(was.key, was.grams), delta=1e-4 * was.grams + 1e-6)


if __name__ == "__main__":
    unittest.main()
