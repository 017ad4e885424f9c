"""What can hurt in one portion alone, and in batches of their own."""

import unittest

from roundstone.core.recipe import (
    MOST_PORTIONS,
    Carrier,
    Design,
    Dose,
    LiquidUse,
    Portion,
    Recipe,
)
from roundstone.core.schedule import ReadyState, ready_parts
from roundstone.core.schedule.ready_state import Tick
from roundstone.core.sheet import weigh
from tests.core.test_danger import HALVES, design, faults, steps_of
from tests.samples import SHELF, figure, recipe, weighed


class Portions(unittest.TestCase):
    def test_what_takes_lye_goes_into_all_or_nothing(self) -> None:
        """40 g/kg citric acid in half the batter would leave the other half at -4 %."""
        for batching in ("whole", "layers"):
            sour = recipe(
                design=design(batching=batching),
                additives=(Dose(additive="citric-acid", amount=40, into=("B",), moment="trace"),),
            )
            message = faults(sour)["/additives/0/into"]
            self.assertIn("leave the other portions lye heavy", message)
            self.assertIn("all of the batter", message)

    def test_oil_counted_for_one_portion_makes_the_other_lye_heavy(self) -> None:
        """Mica 5 g/kg in twenty parts of oil into half the batter: 50 g oil a kilogram, its lye spread over both."""
        dose = Dose(additive="mica", amount=5, into=("B",), carrier=Carrier(fat="olive", parts=20))
        of = recipe(design=design(), additives=(dose,), count_carriers=True, superfat=0.02, scents=())
        weighing = weigh(of, SHELF)
        assert weighing.sheet is not None
        a, b = weighing.sheet.portions
        fats, oil = weighing.sheet.saponification_value, 0.05 * 190
        lye = 0.98 * (fats + oil)
        self.assertAlmostEqual(a.superfat, 1 - lye / fats, delta=1e-6)
        self.assertAlmostEqual(b.superfat, 1 - lye / (fats + 2 * oil), delta=1e-6)
        danger = [c for c in weighing.cautions if c.pointer == "/design/portions/0/share"]
        self.assertTrue(danger and danger[0].danger and "A alone stands at" in danger[0].message)

    def test_oil_that_is_not_counted_makes_no_portion_lye_heavy(self) -> None:
        """It is only richer than the others: uneven, and no danger."""
        dose = Dose(additive="mica", amount=5, into=("B",), carrier=Carrier(fat="olive", parts=20))
        weighing = weigh(recipe(design=design(), additives=(dose,), superfat=0.08, scents=()), SHELF)
        assert weighing.sheet is not None
        self.assertEqual([(p.uneven, p.lye_heavy) for p in weighing.sheet.portions], [(True, False), (True, False)])
        self.assertEqual([c.message for c in weighing.cautions if c.danger], [])

    def test_a_raw_share_is_of_everything_in_the_vessel(self) -> None:
        """Milk, powder and clay stand in the pot: half of it is not half the fats."""
        of = recipe(
            design=design(batching="layers"),
            liquids=(LiquidUse(liquid="goat-milk", share=0.3, goes="pot"),),
            additives=(Dose(additive="goat-milk-powder", amount=40), Dose(additive="kaolin", amount=30)),
            scents=(),
        )
        sheet = weighed(of)
        pot = sum(x.grams for x in sheet.lines if x.vessel == "pot")
        self.assertGreater(pot, 1100)
        self.assertEqual([p.from_pot for p in sheet.portions], [pot / 2, pot / 2])
        raw = next(s for s in steps_of(of) if s.title == "Shares of fats and lye")
        self.assertEqual(next((c.vessel, figure(c.takes[0].shown)) for c in raw.cups), ("A", round(pot / 2, 1)))
        for name in ("fats", "goat milk", "kaolin clay"):
            self.assertIn(name, raw.does)

    def test_two_micas_and_a_layers_own_clay(self) -> None:
        two = [Dose(additive="mica", amount=3, into=("A",), called=c) for c in ("", "blue", "blue")]
        self.assertEqual(faults(recipe(design=design(), additives=tuple(two))), {})
        clay = Dose(additive="kaolin", amount=10, into=("A",))
        self.assertEqual(faults(recipe(design=design(batching="layers"), additives=(clay,))), {})
        self.assertIn("one fat pot", faults(recipe(design=design(), additives=(clay,)))["/additives/0/into"])
        layered = steps_of(recipe(design=design(batching="layers"), additives=(clay,)))
        (where,) = [s.title for s in layered for x in s.lines if x.item == "additive:kaolin"]
        self.assertEqual(where, "Shares of fats and lye")
        twice = recipe(additives=(Dose(additive="sugar", amount=5), Dose(additive="sugar", amount=5)))
        self.assertIn("/additives/1/additive", faults(twice))

    def test_many_portions(self) -> None:
        def split(n: int) -> Recipe:
            portions = tuple(Portion(name=f"P{i}", share=1 / n, scent=float(i % 2 == 0)) for i in range(n))
            return recipe(design=Design(portions=portions, technique="drop-swirl"))

        for n in (1, 5, 12, MOST_PORTIONS):
            self.assertEqual([f for f in faults(split(n)) if f.startswith("/design/portions")], [])


class Batches(unittest.TestCase):
    """A batch of its own beside a shared pot: the paper weighs it out of both, and the shares are all there is."""

    def test_what_is_ticked_has_room_for_every_name(self) -> None:
        """Twelve long names beside a batch of frosting: each share is an item that can be ticked and kept."""
        portions = (
            *(Portion(name=f"{i:02} {'long ' * 14}name", share=0.075) for i in range(12)),
            Portion(name="Frost", share=0.1, batch="frost"),
        )
        of = recipe(design=Design(portions=portions, technique="drop-swirl"))
        items = [i for p in ready_parts(of, steps_of(of), (), (), ReadyState(), SHELF) for i in p.items if i.line]
        self.assertEqual(len({i.key for i in items}), len(items))
        for item in items:
            Tick(key=item.key, message=str(item.message), line=item.line)

    def test_frosting_beside_a_pot_of_two(self) -> None:
        portions = (
            *(p.model_copy(update={"share": 0.45}) for p in HALVES),
            Portion(name="Frost", share=0.1, batch="frost"),
        )
        of = recipe(design=Design(portions=portions, technique="drop-swirl"))
        weighing = weigh(of, SHELF)
        assert weighing.sheet is not None
        steps = {s.title: s for s in steps_of(of)}
        told = [tuple(figure(t.shown) for t in c.takes) for c in steps["Shares of fats and lye"].cups]
        self.assertEqual(len(told), 2)
        for vessel, grams in (("pot", [t[0] for t in told]), ("jug", [t[1] for t in told])):
            whole = sum(x.grams for x in weighing.sheet.lines if x.vessel == vessel)
            self.assertAlmostEqual(sum(grams), whole, delta=0.25)
            self.assertAlmostEqual(grams[1] / sum(grams), 0.1, delta=0.001)
        cups = steps["Split"].cups
        self.assertEqual([c.vessel for c in cups], ["1 B", "2 A"], "frosting is never part of that pot")
        self.assertNotIn("Combine", steps)
        clay = Dose(additive="kaolin", amount=5, into=("Frost",), moment="fats")
        self.assertEqual(faults(of.model_copy(update={"additives": (clay,)})), {})
        wrong = of.model_copy(update={"additives": (clay.model_copy(update={"into": ("A",)}),)})
        self.assertIn("/additives/0/into", faults(wrong))
