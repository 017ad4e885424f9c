"""The worked examples in docstrings are run, so that they stay true."""

import doctest
import importlib
import pkgutil
import unittest

import roundstone


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
