"""The worked examples in docstrings are run, so that they stay true."""

import doctest
import importlib
import pkgutil
import re
import unittest
from pathlib import Path

import roundstone
from tests.core.test_figures import PAGE, figures, page

ROOT = Path(__file__).parents[1]


class Examples(unittest.TestCase):
    def test_every_worked_example_holds(self) -> None:
        tried = 0
        for found in pkgutil.walk_packages(roundstone.__path__, "roundstone."):
            if "migrations" in found.name or found.name.endswith("__main__"):
                continue
            for example in doctest.DocTestFinder().find(importlib.import_module(found.name)):
                told: list[str] = []
                result = doctest.DocTestRunner().run(example, out=told.append)
                self.assertEqual(result.failed, 0, "".join(told))
                tried += result.attempted
        self.assertGreater(tried, 5, "examples were found")


class Figures(unittest.TestCase):
    def test_the_page_of_figures_is_of_this_program(self) -> None:
        self.assertEqual(PAGE.read_text(encoding="utf-8"), page(list(figures())), "python -m tests.core.test_figures")


class Glossary(unittest.TestCase):
    def test_every_word_stands_in_its_file(self) -> None:
        text = (ROOT / "docs/glossary.md").read_text(encoding="utf-8")
        rows = re.findall(r"^\| `([^`]+)` \|.*\| `([^`]+)` \|$", text, re.MULTILINE)
        self.assertGreater(len(rows), 40)
        for word, file in rows:
            with self.subTest(word):
                path = ROOT / file
                if path.suffix == ".py":
                    found = re.search(
                        rf"^(?:class |def )?{re.escape(word)}\b", path.read_text(encoding="utf-8"), re.MULTILINE
                    )
                    self.assertIsNotNone(found, file)
                else:
                    self.assertEqual((path.name, path.exists()), (word, True))
