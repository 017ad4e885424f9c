"""Two recipes side by side."""

import unittest

from roundstone.core.recipe import FatShare
from roundstone.core.sheet import compare
from tests.samples import SHELF, recipe, weighed


class Comparing(unittest.TestCase):
    def test_what_differs_and_nothing_else(self) -> None:
        one = recipe()
        fats = (FatShare(fat="olive", share=0.5), FatShare(fat="coconut", share=0.3), FatShare(fat="lard", share=0.2))
        two = recipe(fats=fats, superfat=0.07)
        told = compare((one, weighed(one)), (two, weighed(two)), SHELF)
        lines = {x.name: x for x in told.lines if x.differs}
        self.assertEqual({n for n in lines if n in ("Olive", "Lard", "Coconut", "Castor")}, {"Coconut", "Castor"})
        self.assertIsNone(lines["Castor"].right)
        self.assertIn(("5 %", "7 %"), [(s.left, s.right) for s in told.settings if s.name == "Superfat"])
        same = compare((one, weighed(one)), (one, weighed(one)), SHELF)
        self.assertFalse([x.name for x in same.lines if x.differs] + [x.name for x in same.settings if x.differs])
        back = compare((two, weighed(two)), (one, weighed(one)), SHELF)
        self.assertEqual({x.name for x in back.lines if x.differs}, {x.name for x in told.lines if x.differs})
