"""Words of the trade: each once, in plain sentences, with a drawing that is there."""

import re
import unittest
from pathlib import Path

from roundstone.core.shelf import STAGES, VESSEL
from roundstone.reference import shelf, words

PAGE = Path(__file__).parents[2] / "ui" / "src" / "find" / "WordPicture.vue"
LONGEST = 40  # words of an explanation that is read at a glance [chosen]


class Words(unittest.TestCase):
    def test_no_word_means_two_things(self) -> None:
        names = [w.word.casefold() for w in words()]
        self.assertEqual(len(names), len(set(names)))
        self.assertGreaterEqual(len(names), 40)

    def test_each_is_short_and_ends(self) -> None:
        for w in words():
            self.assertLessEqual(len(str(w.text).split()), LONGEST, w.id)
            self.assertRegex(str(w.text), r"^[A-Z].*[.]$", w.id)

    def test_each_has_a_drawing(self) -> None:
        drawn = set(re.findall(r"^  (\w+): \[", PAGE.read_text(encoding="utf-8"), re.MULTILINE))
        for w in words():
            kind, _, of = w.picture.partition(":")
            there = {
                "face": of in shelf().techniques,
                "trace": of in map(str, range(1, len(STAGES))),
                "vessel": of in drawn and of in VESSEL.values(),
            }
            self.assertTrue(there.get(kind, kind in drawn), w.id)
