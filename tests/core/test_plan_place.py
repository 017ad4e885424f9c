"""What the Plan place shows of a forecast: faces by trace, what each step puts into the mould, waits, levers by key."""

import unittest
from typing import get_args

from roundstone.core.face import decoded
from roundstone.core.forecast import Projection, levers, meant, project, pulled
from roundstone.core.recipe import Design, LyeStands, Portion, Recipe, Topping
from roundstone.core.schedule import STEP_WORDS, rearranged
from roundstone.core.schedule.edit import MoveStep, PutNew
from roundstone.core.shelf import band_words
from roundstone.core.simulate import Hands
from roundstone.core.values import RuleError
from tests.samples import SHELF, job, knows, recipe

FIVE = tuple(
    Portion(name=n, share=0.2, scent=float(n in "AC"), tint=f"#{i}0{i}0{i}0")
    for i, n in enumerate(("A", "B", "C", "D", "E"), start=1)
)


def hanger(**changes: object) -> Recipe:
    return recipe(design=Design(portions=FIVE, technique="hanger-swirl"), **changes)


def told(of: Recipe, hands: Hands = Hands()) -> Projection:  # noqa: B008 - a value
    return project(job(of), knows(hands=hands), 7)


class Faces(unittest.TestCase):
    def test_a_faster_batter_is_drawn_thicker(self) -> None:
        """The levels are those with which the portions go in, in the order in which they do."""
        calm, quick = (
            decoded(told(hanger(pour_celsius=c, scents=s)).forecast.faces.cured)
            for c, s in ((24.0, ()), (42.0, recipe(scents=({"fragrance": "strong", "load": 0.03},)).scents))
        )
        self.assertEqual(len(calm.portions), 5)
        for slow, fast in zip(calm.portions, quick.portions, strict=True):
            self.assertGreater(fast.level, slow.level)
        self.assertEqual(calm.technique, "hanger-swirl")
        self.assertEqual({p.share for p in calm.portions}, {0.2})

    def test_ages_differ_only_in_colour(self) -> None:
        faces = told(hanger()).forecast.faces
        wet, cut, cured = (decoded(code) for code in (faces.wet, faces.cut, faces.cured))
        for a, b, c in zip(wet.portions, cut.portions, cured.portions, strict=True):
            self.assertEqual((a.level, a.share), (c.level, c.share))
            self.assertEqual((b.level, b.share), (c.level, c.share))
        self.assertEqual(len({faces.wet, faces.cut, faces.cured}), 3)

    def test_layers_are_drawn_in_the_order_in_which_they_are_poured(self) -> None:
        of = recipe(design=Design(portions=FIVE, technique="straight-layers"))
        labels = [s.label for s in told(of).forecast.steps]
        turned = rearranged(of, MoveStep(row=labels.index("layer E"), to=labels.index("layer A")), SHELF, 1000)
        first = decoded(told(turned).forecast.faces.cured).portions[0]
        self.assertEqual(first.tint, decoded(told(of).forecast.faces.cured).portions[-1].tint)

    def test_what_was_seen_goes_before_what_was_meant(self) -> None:
        drawn = meant(hanger(), SHELF, SHELF.techniques["hanger-swirl"], 3, {"C": 4.4})
        self.assertEqual([p.level == 4.4 for p in drawn.portions], [False, False, True, False, False])
        empty = recipe(design=Design(portions=(), technique="plain"))
        self.assertEqual(len(meant(empty, SHELF, SHELF.techniques["plain"], 0).portions), 1)


class Steps(unittest.TestCase):
    def test_all_batter_goes_into_the_mould_once(self) -> None:
        for technique in SHELF.techniques.values():
            if technique.pots == 0 or technique.most is not None:
                continue
            of = recipe(design=Design(portions=FIVE, technique=technique.id))
            put = sum(x for s in told(of).forecast.steps if s.do != "pour" or s.label != "pour" for x in s.puts)
            whole = sum(x for s in told(of).forecast.steps for x in s.puts)
            self.assertGreater(whole, 0.9, technique.id)
            self.assertLessEqual(min(put, whole), 1.05, technique.id)

    def test_a_planned_wait_is_by_the_clock_whoever_waits(self) -> None:
        of = rearranged(hanger(), PutNew(row=8, do="wait", portion=""), SHELF, 1000)
        for mean in (-0.7, 0.0, 0.7):
            wait = next(s for s in told(of, Hands(mean=mean, sd=0.1)).forecast.steps if s.do == "wait")
            self.assertAlmostEqual(wait.takes.q50, 5.0)
            self.assertAlmostEqual(wait.takes.q90, 5.0)
        slow, usual = (
            next(s for s in told(of, Hands(mean=m, sd=0.1)).forecast.steps if s.label == "drop B").takes.q50
            for m in (0.7, 0.0)
        )
        self.assertGreater(slow, 1.7 * usual)

    def test_gates_tell_how_long_they_wait(self) -> None:
        of = recipe(scents=(), pour_celsius=26.0, design=Design(portions=FIVE, technique="straight-layers"))
        second = next(s for s in told(of).forecast.steps if s.label == "layer B")
        self.assertGreater(second.waits, 0)
        self.assertLessEqual(second.waits_span.low, second.waits)
        self.assertLessEqual(second.waits, second.waits_span.high)

    def test_words_of_a_band(self) -> None:
        self.assertEqual(band_words((0, 0, 9, 10)), "emulsion or firmer")


class Pulled(unittest.TestCase):
    def test_every_lever_is_pulled_by_its_key_to_the_same_recipe(self) -> None:
        of = hanger(pour_celsius=42.0, scents=recipe(scents=({"fragrance": "strong", "load": 0.03},)).scents)
        found = levers(told(of)).levers
        self.assertTrue(found)
        for lever in found:
            self.assertEqual(pulled(of, SHELF, lever.key), lever.recipe)
        with self.assertRaises(RuleError):
            pulled(of, SHELF, "no such lever")


class Words(unittest.TestCase):
    def test_every_choice_the_page_offers_is_one_that_is_kept_and_the_other_way_round(self) -> None:
        for field, words in STEP_WORDS.topping.items():
            self.assertEqual(set(words), set(get_args(Topping.model_fields[field].annotation)), field)
            self.assertTrue(all(words.values()))
        self.assertEqual(set(STEP_WORDS.lye), set(get_args(LyeStands)))
