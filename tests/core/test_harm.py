"""What must follow a batter for good: an overdose is reckoned where it lies, and is never forgotten."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.pour import Doubted, Ended, Event, Folded, Kept, ScentIn, StepDone, replay
from roundstone.core.recipe import ByWeight, Design, Portion, Scent
from roundstone.core.schedule import marked_for_good, overdoses
from roundstone.core.schedule.lanes_of import percents_of
from roundstone.core.sheet import weigh
from roundstone.core.shelf import Claim, Family, Fragrance
from roundstone.core.text import say
from tests.samples import SHELF, next_id, recipe

LIMIT = 0.025
STRICT = Fragrance(id="strict", name="Strict", family=Family.FLORAL, claim=Claim.NONE, limit=LIMIT)
STRICTER = SHELF.model_copy(update={"fragrances": {**SHELF.fragrances, "strict": STRICT}})
NAMES = ("Base", "White", "Pink")
OF = recipe(
    scents=(Scent(fragrance="strict", load=0.025),),
    size=ByWeight(grams=1000),
    design=Design(
        portions=tuple(Portion(name=n, share=s) for n, s in zip(NAMES, (0.5, 0.25, 0.25), strict=True)),
        technique="drop-swirl",
    ),
)


_sheet = weigh(OF, STRICTER).sheet
assert _sheet is not None
SHEET = _sheet


def told(*events: Event) -> dict[str, float]:
    return {o.portion: o.times for o in overdoses(OF, STRICTER, SHEET, replay(events, OF))}


def scent(minute: float, portion: str, grams: float | None = None) -> ScentIn:
    return ScentIn(id=next_id(), minute=minute, portion=portion, grams=grams)


class Overdosed(unittest.TestCase):
    def test_what_went_in_twice_is_twice_the_dose_once_a_hand_has_said_so(self) -> None:
        first, again = scent(4, "White", 5.0), scent(5, "White", 5.0)
        doubt = Doubted(id=next_id(), minute=5, target=again.id, says=say("Again?"), stands="waits")
        self.assertEqual(told(first, again, doubt), told(first))
        self.assertAlmostEqual(
            told(first, again, doubt, Kept(id=next_id(), minute=6, target=again.id))["White"],
            told(scent(4, "White", 10.0))["White"],
        )

    def test_what_goes_into_one_cup_again_comes_on_top_of_what_was_in_the_pot_or_the_fats(self) -> None:
        again = scent(5, "White", 5.0)
        whole = ScentIn(id=next_id(), minute=2)
        design = OF.design.model_copy(update={"scent_at": "fats"})
        for of, events in ((OF, [whole, again]), (OF.model_copy(update={"design": design}), [again])):
            sheet = weigh(of, STRICTER).sheet
            assert sheet is not None
            percents = percents_of(of, sheet, replay(events, of))
            more = 100 * 5.0 / (0.25 * sheet.fats)
            for got, wanted in zip(percents, (2.5, 2.5 + more, 2.5), strict=True):
                self.assertAlmostEqual(got["strict"], wanted)

    def test_reckoned_where_it_lies_and_kept(self) -> None:
        """By hand: grams of fragrance in grams of bar, cured to .89 of it, against the limit."""
        white, pink = SHEET.portions[1].batter, SHEET.portions[2].batter
        planned: list[Event] = [scent(4, n) for n in ("Base", "Pink")]
        strong: list[Event] = [*planned, scent(4, "White", 12.0)]
        times = 12.0 / (white + 12.0) / LIMIT / 0.89
        self.assertAlmostEqual(told(*strong)["White"], times, delta=1e-9)
        self.assertEqual(list(told(*strong)), ["White"])
        self.assertEqual(told(*strong, Ended(id=next_id(), minute=20)), told(*strong), "the end of a pour forgets none")
        folded: list[Event] = [*strong, Folded(id=next_id(), minute=6, portion="White", into=("Pink",))]
        dose = 0.025 * 0.25 * SHEET.fats
        both = (12.0 + dose) / (white + pink + 12.0 + dose) / LIMIT / 0.89
        self.assertEqual(told(*folded), {} if both <= 1 else {"Pink": both})
        much: list[Event] = [
            *planned,
            scent(4, "White", 30.0),
            Folded(id=next_id(), minute=6, portion="White", into=("Pink",)),
        ]
        self.assertEqual(list(told(*much)), ["Pink"], "it is Pink that holds it now")
        poured: list[Event] = [*much, StepDone(id=next_id(), minute=5, step="drop White")]
        self.assertEqual(set(told(*poured)), {"White", "Pink"}, "what was dropped before the fold lies in the mould")
        self.assertIn("not for skin", marked_for_good(overdoses(OF, STRICTER, SHEET, replay(much, OF))))

    @settings(max_examples=60, deadline=None)
    @given(st.floats(0, 60), st.permutations(NAMES), st.booleans())
    def test_folding_never_makes_it_stronger_than_it_was(self, grams: float, order: list[str], ended: bool) -> None:
        events: list[Event] = [scent(4, n) for n in NAMES if n != order[0]]
        events.append(scent(4.5, order[0], grams))
        before = told(*events)
        events.append(Folded(id=next_id(), minute=6, portion=order[0], into=(order[1],)))
        if ended:
            events.append(Ended(id=next_id(), minute=30))
        after = told(*events)
        self.assertLessEqual(max(after.values(), default=0), max(before.values(), default=0) + 1e-9)
        self.assertEqual(told(*events, *events), after, "told twice it is the same")


if __name__ == "__main__":
    unittest.main()
