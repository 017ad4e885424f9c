"""The ledger of portions: what is weighed off adds up, whatever comes from where."""

import unittest
from uuid import UUID

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.heat import plan as heat_plan
from roundstone.core.pour import Ended, StepSkipped, replay
from roundstone.core.recipe import Box, ByMoulds, Design, Dose, Embed, Portion, Recipe, StandBy
from roundstone.core.schedule import as_poured, embeds_told, ledger, plan, pour_off, spelled, tint_of, work_order
from roundstone.core.schedule.ledger import Ledger
from roundstone.core.schedule.tools import tools
from roundstone.core.sheet import adjust, label, spoons, weigh
from roundstone.core.sheet.acts import MovePortion, PortionAmount, PortionScent, RenamePortion, TakePortion
from roundstone.core.sheet.label import SOAP_LIST
from tests.samples import SHELF, figure, plain, recipe, weighed

NAMES = ("Husk", "Clay", "Moss", "Fig", "Bone", "Loam")


def told(of: Recipe, bottle: float | None = None) -> Ledger:
    sheet = weighed(of)
    left = {} if bottle is None else {"fragrance:moderate": bottle}
    return ledger(of, SHELF, sheet, plan(of, SHELF, sheet.total), left)


@st.composite
def split(draw: st.DrawFn) -> Recipe:
    parts = draw(st.lists(st.integers(1, 9), min_size=1, max_size=6))
    shares = [p / sum(parts) for p in parts]
    shares[0] += 1 - sum(shares)
    portions = []
    for i, share in enumerate(shares):
        of = draw(st.sampled_from(["", *NAMES[:i]])) if i else ""
        portions.append(Portion(name=NAMES[i], share=share, scent=draw(st.sampled_from([0.0, 0.4, 1.0])), of=of))
    pot, residue = draw(st.floats(0, 3000)), draw(st.floats(0, 10))
    return recipe(design=Design(portions=tuple(portions), technique="plain", pot=pot, residue=residue))


class SetIn(unittest.TestCase):
    """A loaf of 24 × 8 × 6 cm, 1152 mL, with ten cubes of 25 g in it: 250 g of soap are 238 mL."""

    def test_what_is_set_in_is_not_poured_and_stands_on_every_paper(self) -> None:
        loaf = ByMoulds(moulds=(Box(count=2, length=24, width=8, fill=6, cut=24),))
        own = (Embed(name="blue cubes", count=10, grams=25, of="batch 41"),)
        bare, of = (recipe(size=loaf, embeds=e, scents=()) for e in ((), own))
        before, sheet = weighed(bare), weighed(of)
        left = 1 - 250 / 1.05 / 1152
        self.assertAlmostEqual(sheet.total / before.total, left)
        self.assertAlmostEqual(sheet.naoh / sheet.fats, before.naoh / before.fats, msg="their lye is their own")
        (bars,), (whole,) = sheet.bars, before.bars
        self.assertEqual((bars.count, bars.count * bars.grams), (20, 2 * 250 + left * whole.count * whole.grams))
        tasks = plan(of, SHELF, sheet.total)
        fill = ledger(of, SHELF, sheet, tasks, {}).mould
        assert fill is not None
        self.assertAlmostEqual(fill.height, 6.0, delta=0.01, msg="the mould is full with them in")
        words = "10 × blue cubes in each mould, 25.0 g each, 250.0 g in all, batch 41"
        self.assertEqual([str(t).replace("\xa0", " ") for t in embeds_told(of, SHELF)], [words])
        self.assertIn("blue cubes", str(dict(tools(of, SHELF, tasks, {}))["embed 0"]))
        does = [str(s.does) for s in work_order(of, SHELF, sheet, heat_plan(of, SHELF, sheet.lines), ())]
        self.assertEqual(sum("blue cubes" in d for d in does), 1)
        self.assertIn("Soap (its own list)", label(of, SHELF, sheet.lines).went_in)
        bare = of.model_copy(update={"embeds": (Embed(name="cubes"),)})
        self.assertEqual([c.pointer for c in weigh(bare, SHELF).cautions if "cubes" in str(c)], ["/embeds/0/grams"])
        told = [str(c.message) for c in weigh(of, SHELF).cautions if c.pointer == "/embeds"]
        self.assertEqual([t.split(":")[0] for t in told], ["Embeds", "No step of the plan sets the embeds"])
        set_in = of.model_copy(update={"design": of.design.model_copy(update={"technique": "sculpted"})})
        self.assertEqual(len([c for c in weigh(set_in, SHELF).cautions if c.pointer == "/embeds"]), 1)
        (step,) = [s.key for s in plan(set_in, SHELF, sheet.total) if s.do == "embed"]
        for left_out in (False, True):
            out = [StepSkipped(id=UUID(int=1), minute=9, step=step)] * left_out
            poured, went = as_poured(set_in, SHELF, sheet, replay((*out, Ended(id=UUID(int=2), minute=30)), set_in))
            self.assertEqual(SOAP_LIST in label(poured, SHELF, went.lines).went_in, not left_out)
            self.assertAlmostEqual(went.bars[0].grams, bars.grams - left_out * 25.0)


class Tare(unittest.TestCase):
    @given(split())
    @settings(max_examples=60)
    def test_every_reading_follows_from_the_one_before_and_nothing_is_lost(self, of: Recipe) -> None:
        """Mass is conserved: what leaves a vessel is what its reading falls by, and the last of a pot stays in it."""
        sheet, rows = weighed(of), told(of).rows
        self.assertAlmostEqual(sum(r.batter for r in rows), sum(p.batter for p in sheet.portions), places=6)
        self.assertEqual(sorted(r.portion for r in rows), list(range(len(rows))))
        weight = {r.name: r.batter for r in rows}

        def whole(name: str) -> float:
            return weight[name] + sum(whole(r.name) for r in rows if r.source == name)

        stands = {"": of.design.pot + sum(whole(r.name) for r in rows if not r.source)}
        stands |= {r.name: whole(r.name) for r in rows}
        shown = SHELF.scales.shown
        for r in rows:
            self.assertEqual(r.reads, shown(stands[r.source]))
            if not r.stays:
                stands[r.source] -= whole(r.name)
            self.assertEqual(r.until, shown(stands[r.source]))
        last = next(r for r in rows if r.stays)
        self.assertAlmostEqual(stands[""] - of.design.pot, whole(last.name), places=6)
        poured = sum(r.batter + r.scent for r in rows)
        self.assertLessEqual(sum(r.in_mould for r in rows), poured + 1e-9)
        self.assertGreaterEqual(sum(r.in_mould for r in rows), poured - len(rows) * of.design.residue - 1e-9)

    def test_what_is_taken_from_a_cup_is_poured_off_right_after_it(self) -> None:
        portions = (
            Portion(name="Husk", share=0.5, rest=True),
            Portion(name="Fig", share=0.3),
            Portion(name="Bone", share=0.2, of="Fig"),
        )
        of = recipe(design=Design(portions=portions, technique="plain"))
        self.assertEqual(pour_off(of), (1, 2, 0))

    def test_a_second_pot_is_tared_and_named(self) -> None:
        """The empty pot's weight is that of the first pot alone."""
        portions = (
            Portion(name="A", share=0.3),
            Portion(name="B", share=0.2),
            Portion(name="C", share=0.3, batch="Late"),
            Portion(name="D", share=0.2, batch="Late"),
        )
        full = told(recipe(design=Design(portions=portions, technique="straight-layers", pot=1000)))
        rows = {r.name: r for r in full.rows}
        self.assertAlmostEqual(figure(rows["B"].reads), 1000 + rows["A"].batter + rows["B"].batter, delta=0.6)
        self.assertAlmostEqual(figure(rows["D"].reads), rows["C"].batter + rows["D"].batter, delta=0.6)
        self.assertEqual((rows["B"].batch, rows["D"].batch), ("", "Late"))

    def test_layers_are_weighed_raw_instead(self) -> None:
        of = recipe(design=Design(portions=recipe().design.portions, technique="straight-layers", batching="layers"))
        sheet = weighed(of)
        for row, portion in zip(told(of).rows, sheet.portions, strict=True):
            self.assertIn(portion.shown.from_jug, row.raw)
            self.assertIn(portion.shown.from_pot, row.raw)


class Cups(unittest.TestCase):
    def test_colours_scent_and_the_bottle(self) -> None:
        of = recipe(
            additives=(
                Dose(additive="charcoal", amount=5, into=("Bone",)),
                Dose(additive="mica", amount=0.1, into=("Base",)),
            )
        )
        full = told(of, bottle=10.0)
        rows = {r.name: r for r in full.rows}
        sheet = weighed(of)
        self.assertAlmostEqual(rows["Bone"].colours[0].grams, 5 * 0.4 * sheet.fats / 1000)
        self.assertTrue(rows["Base"].colours[0].tiny, "under a tenth of a gram")
        self.assertEqual(tint_of(of, SHELF, 1), SHELF.additives["charcoal"].tint)
        assert full.scenting is not None
        self.assertIn("10.0 g left", plain(full.scenting.message))
        enough = told(of, bottle=500.0).scenting
        self.assertEqual(enough and enough.message, "")
        over = adjust(of, PortionScent(row=0, grams=2 * 0.03 * 0.6 * sheet.fats), sheet)
        self.assertAlmostEqual(over.design.portions[0].scent, 2.0, places=3)
        self.assertIn("2 times the full dose", told(over).rows[-1].scent_says)

    def test_two_that_look_alike_wet_are_said_once(self) -> None:
        portions = tuple(
            Portion(name=n, share=0.25, tint=t)
            for n, t in zip(NAMES, ("#b85f3c", "#b8603d", "#44596b", "#efe6d4"), strict=False)
        )
        self.assertEqual(
            told(recipe(design=Design(portions=portions, technique="plain"))).alike,
            ("Clay and Husk look alike while wet: label them.",),
        )

    def test_spoons_as_common_sets_have_them(self) -> None:
        """Common practice: eighths of a teaspoon."""
        for amount, words in ((0.125, "⅛ tsp"), (1.0, "1 tsp"), (2.3, "2¼ tsp"), (0.01, "under ⅛ tsp")):
            self.assertEqual(spoons(amount), words)


class Amounts(unittest.TestCase):
    @given(st.floats(1, 99), st.sampled_from(["%", "g", "cup"]))
    def test_typed_in_any_unit_the_rest_takes_what_is_left(self, percent: float, unit: str) -> None:
        of = recipe()
        sheet = weighed(of)
        batter = sum(p.batter for p in sheet.portions)
        amount = {"%": percent, "g": percent / 100 * batter}.get(
            unit, percent / 100 * batter / (236.588 * sheet.total / sheet.millilitres)
        )
        act = PortionAmount.model_validate({"row": 1, "amount": amount, "unit": unit})
        shares = [p.share for p in adjust(of, act, sheet).design.portions]
        self.assertAlmostEqual(shares[1], percent / 100, places=5)
        self.assertAlmostEqual(sum(shares), 1, places=9)

    def test_the_marked_rest_gives_and_too_much_stands_as_typed(self) -> None:
        portions = (Portion(name="A", share=0.5), Portion(name="B", share=0.3, rest=True), Portion(name="C", share=0.2))
        of = recipe(design=Design(portions=portions, technique="plain"))
        after = adjust(of, PortionAmount(row=0, amount=60), None).design.portions
        self.assertEqual([round(p.share, 6) for p in after], [0.6, 0.2, 0.2])
        stuck = adjust(of, PortionAmount(row=0, amount=90), None).design.portions
        self.assertEqual([p.share for p in stuck], [0.9, 0.3, 0.2])
        moved = adjust(of, MovePortion(row=2, to=0), None).design.portions
        self.assertEqual([p.name for p in moved], ["C", "A", "B"])

    def test_a_portion_taken_out_leaves_no_step_and_no_cup_behind(self) -> None:
        portions = (Portion(name="A", share=0.6), Portion(name="B", share=0.3), Portion(name="C", share=0.1, of="B"))
        of = recipe(design=Design(portions=portions, technique="drop-swirl"))
        own = of.model_copy(update={"design": of.design.model_copy(update={"steps": spelled(of, SHELF, 1000)})})
        left = adjust(own, TakePortion(row=1), weighed(own))
        weighed(left)
        self.assertFalse(any("B" in getattr(s, "who", ()) for s in left.design.steps))
        self.assertEqual(left.design.portions[1].of, "")

    def test_another_name_goes_wherever_it_is_named(self) -> None:
        portions = (Portion(name="A", share=0.6), Portion(name="B", share=0.3), Portion(name="C", share=0.1, of="B"))
        ready = (StandBy(step="drop B 2", technique="chunks"), StandBy(step="drop Bee", technique="chunks"))
        of = recipe(
            design=Design(portions=portions, technique="drop-swirl", ready=ready),
            additives=(Dose(additive="mica", amount=4, into=("B",)),),
        )
        own = of.model_copy(update={"design": of.design.model_copy(update={"steps": spelled(of, SHELF, 1000)})})
        after = adjust(own, RenamePortion(row=1, name="Plum"), None)
        self.assertEqual([r.step for r in after.design.ready], ["drop Plum 2", "drop Bee"])
        self.assertEqual((after.additives[0].into, after.design.portions[2].of), (("Plum",), "Plum"))
        self.assertNotIn('"B"', after.model_dump_json())
        weighed(after)
        self.assertEqual(adjust(after, RenamePortion(row=1, name="B"), None), own)


class Moulds(unittest.TestCase):
    def test_layers_fill_the_mould_and_what_stays_in_cups_is_missing(self) -> None:
        size = ByMoulds(moulds=(Box(length=24, width=8, fill=6, cut=28),))
        full = told(recipe(size=size))
        assert full.mould is not None
        self.assertAlmostEqual(sum(r.height or 0 for r in full.rows), 6.0, delta=0.02)
        self.assertAlmostEqual(full.mould.height, 6.0, delta=0.02)
        design = recipe().design.model_copy(update={"residue": 40.0})
        short = told(recipe(size=size, design=design)).mould
        assert short is not None
        self.assertIn("left in the cups", short.message[0])
