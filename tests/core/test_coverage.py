"""A small version of the benchmark that writes the coverage table of docs/model.md."""

import unittest

import numpy as np

from bench.coverage import measure
from roundstone.core.logbook import inside, mean_scores
from tests.samples import statistics

# Pours learned from, makers, and how often spans of 50, 80 and 95 % may hold. Few makers: the bounds allow for luck.
CASES = (
    (0, 24, (0.42, 0.58), (0.73, 0.87), (0.91, 0.99)),
    (5, 20, (0.42, 0.58), (0.73, 0.87), (0.91, 0.99)),
    (20, 12, (0.42, 0.60), (0.72, 0.88), (0.90, 0.99)),
    (100, 3, (0.36, 0.68), (0.66, 0.95), (0.86, 1.0)),
)


@statistics
class Coverage(unittest.TestCase):
    def test_spans_hold_as_often_as_they_say(self) -> None:
        ratios = []
        for count, makers, *bounds in CASES:
            judged, spans = measure(count, makers)
            self.assertGreater(len(judged), 10 * makers)
            for share, (low, high) in zip((0.5, 0.8, 0.95), bounds, strict=True):
                held = inside(judged, share) or 0.0
                self.assertTrue(low <= held <= high, f"{count} pours: {share} held {held:.2f}")
            scores = mean_scores(judged)
            self.assertGreater(scores.clock, scores.rule)
            ratios.append(float(np.median(spans)))
        self.assertEqual(ratios, sorted(ratios, reverse=True), "the more pours, the narrower")

    def test_a_maker_unlike_the_prior_is_served_worse_but_not_misled(self) -> None:
        judged, spans = measure(20, 12, misled=True)
        held = inside(judged, 0.8) or 0.0
        self.assertTrue(0.60 <= held <= 0.84, f"held {held:.2f}")
        scores = mean_scores(judged)
        self.assertGreater(scores.clock, scores.rule, "still better than the rule of thumb")
        self.assertGreater(float(np.median(spans)), 1)
