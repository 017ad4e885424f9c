"""Stated days, notes that come back, what differed."""

import unittest
from datetime import date, timedelta
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.logbook import recalled, subjects
from roundstone.core.pour import Heeded
from roundstone.core.recipe import Brief, ByConcentration, Dose
from roundstone.core.rest import (
    Ageing,
    RestLearned,
    belief,
    coming,
    count_back,
    early,
    expected,
    typical,
    windows,
)
from roundstone.core.sheet import times_to_pour
from roundstone.core.text import say
from tests.core.test_rest import now, room
from tests.samples import SHELF, next_id, recipe, weighed

TODAY = date(2031, 3, 10)


class Briefs(unittest.TestCase):
    def test_a_day_of_sale_alone_is_the_day_it_is_due(self) -> None:
        self.assertEqual(Brief(sale="2031-05-09").due, "2031-05-09")
        self.assertEqual(Brief(sale="2031-05-09", ready="2031-05-02").due, "2031-05-02")
        for sale, is_early in (("2031-05-08", True), ("2031-05-09", False), ("2031-05-10", False), (None, False)):
            self.assertEqual(bool(early(Brief(sale=sale, ready="2031-05-09"))), is_early)

    @settings(max_examples=40, deadline=None)
    @given(left=st.integers(-5, 160), build=st.integers(1, 4), embeds=st.integers(0, 9), short=st.booleans())
    def test_deadlines_hold_together(self, left: int, build: int, embeds: int, short: bool) -> None:
        of = room(20).model_copy(update={"brief": Brief(build_days=build, embeds_days=embeds)})
        found = count_back(of, weighed(of), RestLearned(), float(left), [say("Castor 30 g")] if short else [])
        days = [d.by for d in found.deadlines]
        self.assertEqual(days, sorted(days, reverse=True))
        self.assertEqual(found.deadlines[-1].by, 0.0)
        self.assertEqual(found.met == "met", left >= days[0])
        self.assertEqual(found.met == "late", left < found.soonest[0])
        self.assertEqual(sum(d.what in ("pour", "build") for d in found.deadlines), build)
        self.assertEqual(any(d.what == "order" for d in found.deadlines), short)

    @settings(max_examples=40, deadline=None)
    @given(st.lists(st.integers(-40, 90), max_size=6), st.integers(0, 12), st.integers(1, 90), st.integers(-9, 200))
    def test_every_pour_to_come_is_counted_once(self, days: list[int], poured: int, bars: int, left: int) -> None:
        """Dated, missed or on no day yet; what is ordered for them is there before the first of them."""
        planned = [(n, TODAY + timedelta(days=d)) for n, d in enumerate(sorted(days))]
        brief = Brief(bars=bars, ready=(TODAY + timedelta(days=left)).isoformat(), embeds_days=bars % 20)
        of = room(20).model_copy(update={"brief": brief})
        sheet = weighed(of)
        takes = typical(of, sheet, RestLearned())
        found = coming(of, sheet, takes, planned, poured, TODAY)
        self.assertEqual([*found.missed, *found.days], planned)
        wanted = max(times_to_pour(of, sheet) - poured, 0) if left >= 0 else 0
        self.assertEqual(found.times, max(wanted, len(found.days)))
        self.assertEqual(found.undated, max(wanted - len(planned), 0))
        first = [d for _, d in found.days]
        self.assertEqual(found.by is None, not found.times)
        if found.by is not None and first:
            self.assertLessEqual(found.by, min(first) - timedelta(days=7))
        if found.by is not None and wanted > len(first):
            short = count_back(of, sheet, RestLearned(), float(left), [say("Castor 30 g")])
            self.assertLessEqual(found.by, TODAY + timedelta(days=left - round(short.deadlines[0].by)))

    def test_a_pour_on_its_last_day_is_cured_in_time(self) -> None:
        of = room(20).model_copy(update={"brief": Brief()})
        pour = next(d for d in count_back(of, weighed(of), RestLearned(), 90.0).deadlines if d.what == "pour")
        self.assertLessEqual(now(of, 1).cured.high / 24, pour.by + 1.0)


class Notes(unittest.TestCase):
    class Note:
        def __init__(self, message: str, about: str, recipe_id: str = "here") -> None:
            self.id, self.message, self.about, self.recipe_id = next_id(), message, about, recipe_id
            self.pour, self.recipe = "p", "Some"

    def test_a_note_returns_where_it_matters_and_is_counted(self) -> None:
        of = recipe()
        own, other = self.Note("own", "recipe"), self.Note("other", "recipe", "elsewhere")
        scent, foreign = self.Note("scent", "fragrance:moderate", "elsewhere"), self.Note("x", "fragrance:slight")
        aside = self.Note("aside", "technique:drop-swirl")
        heeds = [Heeded(id=next_id(), minute=0, note=scent.id, how="heeded") for _ in range(3)]
        heeds += [Heeded(id=next_id(), minute=0, note=aside.id, how="aside")]
        ticked: Any = {str(own.id): "aside"}
        found = recalled([own, other, scent, foreign, aside], heeds, of, "here", SHELF, ticked)
        self.assertEqual(
            [(n.message, n.met, n.heeded, n.how) for n in found], [("own", 0, 0, "aside"), ("scent", 3, 3, "")]
        )
        self.assertEqual(found[1].of, "Test moderate")
        self.assertIn("technique:drop-swirl", subjects(of, SHELF))


class Expected(unittest.TestCase):
    def test_reasons_multiply_to_the_hours(self) -> None:
        of = room(20, water=ByConcentration(share=0.28), additives=(Dose(additive="sodium-lactate", amount=14),))
        ln_hours, why = expected(weighed(of), 0.5, full=1.0)
        product = float(np.prod([c.times for c in why]))
        self.assertAlmostEqual(np.exp(ln_hours) / 17.0, product, delta=0.12 * product)
        self.assertIn("sodium lactate", [c.message for c in why])
        weights = belief(ln_hours, 0.4, [])
        self.assertAlmostEqual(float(weights.sum()), 1.0)
        self.assertEqual(len(windows(ln_hours, weights, Ageing(0, [(0, "open")], 20), 0.0)), 5)
