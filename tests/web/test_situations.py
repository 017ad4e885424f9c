"""Everyday situations at the bench, through the API, the clock standing at every tap: what is advised, what never.

All invented. Advice is an order to someone with wet gloves: who goes on as planned is told nothing else, who should
change is told at that tap, and nobody is told to put the stick into batter that has just moved.
"""

from datetime import timedelta
from typing import Any

from roundstone.core.recipe import Design, Dose, LayerStep, Portion, PourStep, Scent
from tests.samples import many, next_id, recipe
from tests.web.client import ApiTest

NAMES = ("Base", "Ash", "Rust", "Sea", "Moss", "Clay")
ON = {"emulsion", "split", "scent", "pouring", "step", "gate", "ended", "done"}  # the plan's own acts
Tap = dict[str, Any]


def seen(minute: float, stage: str, portion: str | None = None) -> Tap:
    return {"kind": "seen", "minute": minute, "stage": stage, "portion": portion, "turned": False}


def tap(kind: str, minute: float, **fields: Any) -> Tap:
    return {"kind": kind, "minute": minute, **fields}


def scented(begin: float, many: int, every: float = 0.5) -> list[Tap]:
    return [tap("scent", begin + every * i, portion=NAMES[i]) for i in range(many)]


def design(many: int, technique: str, **changes: Any) -> Design:
    shares = [1.0] if many == 1 else [0.5, *([0.5 / (many - 1)] * (many - 1))]
    portions = tuple(Portion(name=n, share=s) for n, s in zip(NAMES, shares, strict=False))
    return Design(portions=portions, technique=technique, **changes)


START = [seen(0.6, "emulsion"), tap("split", 1.6)]
CALM_HANGER = [
    *START, *scented(2.5, 3), seen(4.2, "emulsion", "Base"), tap("pouring", 4.4), seen(5.5, "light", "Ash"),
    seen(7.0, "light", "Base"), tap("ended", 9.0),
]  # fmt: skip
BOWL_STRIPES = [
    *START, *scented(2.0, 5, 0.3), seen(4.0, "light", "Base"), seen(4.1, "medium", "Ash"), tap("pouring", 4.3),
    seen(6.0, "medium", "Base"), tap("ended", 10.0),
]  # fmt: skip
TWO_LAYERS = [
    seen(0.6, "emulsion", "Base"), tap("scent", 1.5, portion="Base"), tap("pouring", 2.2),
    tap("step", 3.4, step="layer Base"), seen(9.0, "medium", "Base"), tap("combined", 15.0, batch="Ash"),
    seen(15.8, "emulsion", "Ash"), tap("scent", 16.5, portion="Ash"), seen(17.0, "light", "Ash"),
    tap("step", 18.5, step="layer Ash"), tap("ended", 19.0),
]  # fmt: skip
BURSTS = [
    *START, *scented(2.2, 4, 0.3), tap("work", 4.0, seconds=5, portion="Base", tool="stick"),
    seen(4.2, "light", "Base"), tap("work", 4.6, seconds=5, portion="Ash", tool="stick"),
    seen(4.8, "light", "Ash"), tap("pouring", 5.2), seen(7.0, "light", "Base"), tap("ended", 9.0),
]  # fmt: skip
PLAIN = [
    seen(0.6, "emulsion"), tap("scent", 1.5), seen(2.0, "light"), seen(2.5, "medium"), tap("pouring", 2.8),
    tap("ended", 5.0),
]  # fmt: skip


class Situations(ApiTest):
    def poured(self, taps: list[Tap], claim: str, of: Design, pace: float = 1.0, **changes: Any) -> list[Any]:
        """The pour's view after every tap; minutes `pace` times as long."""
        whole = recipe(scents=(Scent(fragrance=claim, load=0.03),), design=of, **changes)
        made = self.send("POST", "/recipes", {"copy_of": None, "name": "Mine"}, 201)["id"]
        self.send("PUT", f"/recipes/{made}", {"revision": 1, "recipe": whole.model_dump(mode="json")})
        started = self.now
        pour = self.send("POST", "/pours", {"recipe_id": made}, 201)["id"]
        views = []
        for one in taps:
            self.now = started + timedelta(minutes=one["minute"] * pace, seconds=1)
            event = {**one, "id": str(next_id()), "minute": one["minute"] * pace, "sure": False}
            views.append(self.send("POST", f"/pours/{pour}/events", {"event": event}))
        self.now = started + timedelta(days=1)
        return views

    def before(self, claim: str, of: Design, **changes: Any) -> tuple[Any, Any]:
        """Forecast and plan of a recipe before its pour."""
        whole = recipe(scents=(Scent(fragrance=claim, load=0.03),), design=of, **changes).model_dump(mode="json")
        body = {"recipe": whole, "seed": ""}
        return self.send("POST", "/forecast", body)["forecast"], self.send("POST", "/plan", body)

    def goes_on(self, views: list[Any]) -> None:
        told = [v["advice"] for v in views]
        self.assertLessEqual({a["do"] for a in told}, ON, [a["headline"] for a in told])
        self.assertEqual([a["warning"] for a in told if a["warning"]], [])
        self.assertEqual([d["message"] for v in views for d in v["doubts"]], [])

    def test_who_pours_as_drawn_is_told_nothing_else(self) -> None:
        """A calm hanger, five stripes a little thick, raw layers, bursts at light, one colour with a strong scent."""
        for pace in (1.0, 0.7, 1.4)[: many(1, 3)]:
            with self.subTest(pace=pace):
                self.goes_on(self.poured(CALM_HANGER, "none", design(3, "hanger-swirl"), pace))
                self.goes_on(self.poured(BOWL_STRIPES, "slight", design(5, "bowl-stripes"), pace))
                self.goes_on(self.poured(BURSTS, "none", design(4, "fade"), pace))
                plain = [v["advice"]["do"] for v in self.poured(PLAIN, "strong", design(1, "plain"), pace)]
                self.assertEqual(plain, ["scent", "pouring", "pouring", "pouring", "step", "done"], "pour now")
                layers = design(2, "straight-layers", batching="layers")
                self.goes_on(self.poured(TWO_LAYERS, "none", layers, pace))

    def test_an_accent_thickened_on_purpose_alarms_nobody(self) -> None:
        purpose = tap("work", 4.4, seconds=20, portion="Ash", tool="stick", purpose="thicken")
        taps = [*START, *scented(2.5, 2), tap("pouring", 3.8), purpose, seen(4.5, "medium", "Ash"),
                seen(4.6, "emulsion", "Base"), tap("ended", 7.0)]  # fmt: skip
        self.goes_on(self.poured(taps, "none", design(2, "thick-line")))

    def test_thick_before_the_scent_is_whisked_and_poured(self) -> None:
        sugary = (Dose(additive="sugar", amount=25),)
        taps = [seen(0.5, "emulsion"), seen(1.2, "light"), tap("split", 1.6), seen(2.2, "medium", "Base"),
                *scented(2.5, 2), tap("pouring", 3.4), seen(3.6, "medium", "Ash"), tap("ended", 6.0)]  # fmt: skip
        views = self.poured(taps, "slight", design(2, "drop-swirl"), additives=sugary)
        self.assertLessEqual({v["advice"]["do"] for v in views}, ON | {"loosen", "look"})
        self.assertTrue(any("Whisk only" in v["advice"]["caution"] for v in views))

    def test_slow_layers_wait_by_their_gate_and_are_told_so(self) -> None:
        of = design(6, "straight-layers")
        forecast, _ = self.before("slows", of, pour_celsius=26)
        self.assertGreater(sum(s["waits"] for s in forecast["steps"]), 20, "told in advance")
        taps = [seen(1.0, "emulsion"), tap("split", 2.5), *scented(3.0, 6, 0.4), tap("pouring", 5.6),
                tap("step", 6.6, step="layer Base"), seen(10, "emulsion", "Base"), seen(14, "light", "Base"),
                seen(25, "medium", "Base"), tap("step", 27, step="layer Ash")]  # fmt: skip
        views = self.poured(taps, "slows", of, pour_celsius=26)
        self.assertLessEqual({v["advice"]["do"] for v in views}, ON)
        self.assertIn("must stand", views[-2]["advice"]["headline"])
        self.assertGreater(views[-3]["advice"]["minutes"], 1)

    def test_a_smooth_diagonal_with_a_strong_floral(self) -> None:
        of = design(2, "diagonal")
        forecast, plan = self.before("strong", of, pour_celsius=38)
        self.assertLess(forecast["outlook"]["drawn"], 0.5)
        self.assertIn("too thick", forecast["weakest"]["message"])
        self.assertIn("rough-diagonal", {b["technique"] for b in plan["fall_backs"]})
        self.assertTrue(plan["levers"]["levers"], "something buys it back")
        views = self.poured([*START, *scented(2.2, 2), seen(4.2, "thick", "Base")], "strong", of, pour_celsius=38)
        self.assertLessEqual({v["advice"]["do"] for v in views[:-1]}, ON | {"look", "hold"}, "not before it was seen")
        asked = views[-2]["advice"]
        self.assertEqual((asked["do"], asked["go"], asked["portion"]), ("look", "pouring", "Base"), "much hangs on it")
        last = views[-1]["advice"]
        self.assertEqual((last["do"], last["technique"]), ("switch", "rough-diagonal"))
        self.assertIn("Whisk only", last["caution"])
        self.assertGreater(last["instead"]["value"], last["going_on"]["value"])

    def test_a_scent_that_may_seize_into_five_cups_waits_for_each_ones_turn(self) -> None:
        """Told at emulsion, taken by one key; then every cup is scented, looked at and poured before the next."""
        of = design(5, "hanger-swirl")
        forecast, plan = self.before("seizes", of, pour_celsius=40)
        lever = next(x for x in plan["levers"]["levers"] if x["key"] == "turn")
        self.assertGreater(lever["outlook"]["drawn"], forecast["outlook"]["drawn"] + 0.1)
        told = self.poured(START, "seizes", of, pour_celsius=40)[-1]
        advice, big = told["advice"], told["bench"]["keys"][0]
        self.assertEqual((advice["do"], big["event"]["kind"]), ("hold", "in-turn"))
        taps = [*START, tap("in-turn", 1.8), tap("scent", 3.6, portion="Base"), seen(4.1, "light", "Base"),
                tap("pouring", 4.3), tap("step", 5.0, step="pour Base"), tap("scent", 5.1, portion="Ash"),
                seen(5.6, "light", "Ash"), tap("step", 6.0, step="drop Ash"),
                tap("scent", 6.1, portion="Rust")]  # fmt: skip
        views = self.poured(taps, "seizes", of, pour_celsius=40)
        self.assertAlmostEqual(views[2]["advice"]["going_on"]["drawn"], advice["instead"]["drawn"], delta=0.1)
        self.assertFalse(views[2]["bench"]["may_hold"])
        self.assertEqual([d["message"] for v in views for d in v["doubts"]], [])
        asked = [(v["advice"]["do"], v["advice"]["portion"]) for v in views]
        self.assertEqual(asked[2], ("scent", "Base"))
        self.assertEqual((asked[6], asked[9]), (("scent", "Ash"), ("scent", "Rust")))
        self.assertEqual(views[-1]["bench"]["lanes"][1]["where"], "mould")
        self.assertEqual([x["scent"] for x in views[-1]["bench"]["lanes"]], ["in", "in", "in", "waits", "waits"])

    def test_what_sped_a_pour_is_offered_to_be_done_otherwise_and_one_tap_does_it(self) -> None:
        """Five cups at medium as their scents went in: next time cooler, or scented in turn; what is taken can be taken
        back, and a calm pour is left alone."""
        of = design(5, "hanger-swirl")
        cups = [t for i in range(5) for t in (tap("scent", 4.0 + i, portion=NAMES[i]),
                                              seen(4.3 + i, "medium", NAMES[i]))]  # fmt: skip
        views = self.poured([*START, *cups, tap("pouring", 9.3), tap("ended", 12.0)], "none", of, pour_celsius=40)
        pour = views[-1]["id"]
        for doubt in views[-1]["doubts"]:  # less than 1 %: is it so?
            kept = {"id": str(next_id()), "minute": 12.0, "kind": "kept", "target": doubt["target"]}
            self.send("POST", f"/pours/{pour}/events", {"event": kept})
        path = f"/pours/{pour}/offers"
        told = self.send("GET", path)
        self.assertTrue(told["fresh"] and told["offers"], told)
        before = self.send("GET", f"/recipes/{told['recipe_id']}")
        drawn = self.send("POST", "/forecast", {"recipe": before["recipe"], "seed": told["recipe_id"]})
        offer = told["offers"][0]
        self.assertGreater(offer["then"], drawn["forecast"]["outlook"]["drawn"])
        self.assertRegex(offer["message"], r"as planned \d+ %, not \d+ %")
        self.send("POST", path, {"key": "nothing of the kind", "revision": told["revision"]}, 422)
        taken = self.send("POST", path, {"key": offer["key"], "revision": told["revision"]})
        self.send("POST", path, {"key": "less", "revision": told["revision"]}, 409)  # offered for what it was before
        after = self.send("GET", f"/recipes/{told['recipe_id']}")
        self.assertNotEqual(after["recipe"], before["recipe"])
        then = self.send("POST", "/forecast", {"recipe": after["recipe"], "seed": told["recipe_id"]})
        self.assertAlmostEqual(then["forecast"]["outlook"]["drawn"], offer["then"], places=6, msg="one question")
        back = {"recipe": taken["before"], "revision": taken["revision"]}
        self.send("PUT", f"/recipes/{told['recipe_id']}", back)
        self.assertEqual(self.send("GET", f"/recipes/{told['recipe_id']}")["recipe"], before["recipe"])

    def test_a_calm_pour_offers_nothing(self) -> None:
        self.poured(CALM_HANGER, "none", design(3, "hanger-swirl"))
        (line,) = self.send("GET", "/pours")["pours"]
        self.assertEqual(self.send("GET", f"/pours/{line['id']}/offers")["offers"], [])

    def test_one_cup_riced_among_five(self) -> None:
        scents = [tap("scent", 2.2 + 0.3 * i, portion=NAMES[i], **({"share": 2.5} if i == 1 else {})) for i in range(5)]
        taps = [*START, *scents, tap("flag", 3.9, portion="Ash", flag="ricing"), seen(4.2, "medium", "Ash"),
                seen(4.3, "emulsion", "Base"), tap("pouring", 4.6), tap("ended", 9.0)]  # fmt: skip
        views = self.poured(taps, "none", design(5, "hanger-swirl"))
        self.assertLessEqual({v["advice"]["do"] for v in views}, ON | {"fold", "rescue"})
        flagged = views[len(START) + len(scents)]
        self.assertIn(flagged["advice"]["do"], ("fold", "rescue"))
        self.assertIn("Ash", flagged["advice"]["headline"], "the sentence is of the cup the card is of")

    def test_seized_while_colouring(self) -> None:
        taps = [seen(0.6, "emulsion"), tap("scent", 0.9), tap("split", 1.8), tap("flag", 2.3, flag="seizing")]
        last = self.poured(taps, "moderate", design(3, "hanger-swirl", scent_at="emulsion"))[-1]["advice"]
        self.assertEqual(last["do"], "step")
        self.assertTrue(last["headline"].startswith("Stop stirring. Spoon"), last["headline"])

    def test_the_third_mould_of_one_batter(self) -> None:
        """It is told thicker before the pour, and the hardest design is to be poured first."""
        easy = {"band": (0, 0, 4.6, 5.4), "block": "moulds", "minutes": 4.0}
        hard = {"band": (0, 1, 2.9, 3.7), "block": "moulds", "minutes": 4.0}
        steps = (
            PourStep(who=("Base",), **easy),
            PourStep(who=("Ash",), **easy),
            PourStep(who=("Rust",), **hard),
        )
        of = design(3, "plain", steps=steps)
        forecast, plan = self.before("moderate", of)
        looks = [s for s in forecast["steps"] if s["weight"]]
        self.assertGreater(looks[2]["too_thick"], looks[0]["too_thick"])
        self.assertIn("Rust", forecast["weakest"]["message"])
        first = next(x for x in plan["levers"]["levers"] if x["key"] == "order")
        self.assertEqual(first["recipe"]["design"]["steps"][0]["who"], ["Rust"])

    def test_layers_of_a_day_apart(self) -> None:
        """A build that goes on tomorrow: the second lye-in is its own batch with its own clock."""
        of = design(2, "straight-layers", batching="layers", steps=(
            {"do": "combine", "batch": "Base"}, {"do": "layer", "who": ["Base"]}, {"do": "wait", "minutes": 1440},
            {"do": "combine", "batch": "Ash"}, LayerStep(who=("Ash",)),
        ))  # fmt: skip
        forecast, _ = self.before("none", of)
        ash = next(x for x in forecast["lanes"] if x["portion"] == "Ash")
        self.assertGreater(ash["emulsion"]["q50"], 1440)
        self.assertGreater(forecast["outlook"]["drawn"], 0.9)
