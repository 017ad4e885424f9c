"""Who sped the batter: what turned while a fragrance was stirred in is the fragrance's; what silence says."""

import unittest

import numpy as np

from roundstone.core.advise import advise
from roundstone.core.batter import in_first_minutes, scent_draws, times_as_soon
from roundstone.core.forecast import hazards, project
from roundstone.core.logbook import Past, Record, fragrance_file, read
from roundstone.core.pour import Ended, Event, PouringBegan, ScentIn, Split
from roundstone.core.recipe import Design, Portion, Recipe, Scent
from tests.samples import SHELF, UNLEARNED, job, knows, next_id, recipe, seen

CUPS = ("A", "B", "C", "D", "E")
AFTER = (0.03, 0.4, 0.7, 1.0, 1.33)  # minutes from a cup's scent to its medium


def five_cups() -> Recipe:
    portions = tuple(Portion(name=n, share=0.2, scent=1.0) for n in CUPS)
    design = Design(portions=portions, technique="bowl-stripes")
    return recipe(scents=(Scent(fragrance="none", load=0.03),), pour_celsius=34.0, design=design)


def poured(after: tuple[float, ...] = AFTER, before: float | None = None) -> list[Event]:
    """Five cups scented one after the other, each at medium so soon after; or all of them `before` any scent."""
    events: list[Event] = [seen(1.2, "emulsion"), Split(id=next_id(), minute=1.8)]
    for n, name in enumerate(CUPS):
        at = 4.0 + 0.6 * n
        events += [seen(before, "medium", name)] if before is not None else []
        events.append(ScentIn(id=next_id(), minute=at, portion=name))
        events += [seen(at + after[n], "medium", name)] if n < len(after) else []
    ends = (PouringBegan(id=next_id(), minute=8.0), Ended(id=next_id(), minute=12.0))
    return sorted([*events, *ends], key=lambda e: e.minute)


def taught(events: list[Event]) -> Record:
    return read(SHELF, [Past("p", five_cups(), events)])


class Credit(unittest.TestCase):
    def test_five_cups_at_medium_as_their_scents_went_in(self) -> None:
        """Of a fragrance that is said to do nothing, the next forecast warns; the batch is not blamed."""
        record = taught(poured())
        first = np.exp(in_first_minutes(*scent_draws(record.knowledge, "none")))
        self.assertGreater(float(np.median(first)), 2.5)
        self.assertGreater(float(np.mean(first > 1.5)), 0.8)
        self.assertLess(abs(record.fitted.effects[("p", "")]), 0.2)
        of = job(five_cups())
        calm, warned = (project(of, knows(k), 7) for k in (UNLEARNED.knowledge, record.knowledge))
        self.assertLess(warned.forecast.outlook.drawn, calm.forecast.outlook.drawn - 0.1)
        p = warned
        found = {h.key: h.odds for h in hazards(p.job, p.knows, p.schedule, p.draws, p.samples)}
        self.assertGreater(found["seizing"], 0.2)
        medium = [x.forecast.lanes[0].stages[1].time for x in (calm, warned)]
        self.assertLess(medium[1].q50, medium[0].q50 / 3)

    def test_a_batch_that_was_fast_before_any_scent_is_the_batchs(self) -> None:
        for events in (poured(after=(), before=3.0), [*poured(), seen(1.3, "light")]):
            record = taught(events)
            self.assertGreater(record.fitted.effects[("p", "")], 0.8)
            first = np.exp(in_first_minutes(*scent_draws(record.knowledge, "none")))
            self.assertLess(float(np.median(first)), 1.5)

    def test_what_pours_show_again_and_again_is_told_as_it_is(self) -> None:
        """Twenty times as soon, five pours long: within a factor of two."""
        batches = [Past(str(i), five_cups(), poured()) for i in range(5)]
        record = read(SHELF, batches)
        soon = times_as_soon(record.knowledge, "none")
        self.assertGreater(float(np.median(soon)), 10)
        file = fragrance_file(record, SHELF.fragrances["none"])
        self.assertAlmostEqual(file.learned.medium * file.learned.mid, file.learned.without)
        self.assertLess(file.learned.medium, 1.5)


class Silence(unittest.TestCase):
    def test_a_pour_not_looked_at_after_its_scent_says_nothing_of_it_and_says_so(self) -> None:
        for taps in ("looks", "turns"):
            shelf = SHELF.model_copy(update={"taps": taps})
            record = read(shelf, [Past(str(i), five_cups(), poured(after=())) for i in range(6)])
            file = fragrance_file(record, SHELF.fragrances["none"])
            self.assertEqual((file.poured, file.unseen, file.pours != ()), (0, 6, True))
            self.assertAlmostEqual(file.learned.mid / file.claimed.mid, 1, delta=0.02)
            # Nor does a pot that nobody tapped teach that all pots are slow: it was 28 min to medium instead of 17.
            plain = job(recipe(scents=()))
            calm, after = (project(plain, knows(k), 7) for k in (UNLEARNED.knowledge, record.knowledge))
            medium = [x.forecast.lanes[0].stages[1].time.q50 for x in (calm, after)]
            self.assertLess(medium[1] / medium[0], 1.25)
        told = advise(project(job(five_cups()), knows(), 7, events=poured(after=()), now=12.0))
        self.assertIn("this pour says nothing of it", told.detail)
        told = advise(project(job(five_cups()), knows(), 7, events=poured(), now=12.0))
        self.assertIn("now part of every forecast", told.detail)


if __name__ == "__main__":
    unittest.main()
