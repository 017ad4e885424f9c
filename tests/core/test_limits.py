"""Limits of fragrance: each bar against its own weight, through blends in bottles, and no dose beyond what can be."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.recipe import ByWeight, Design, Dose, Portion, Recipe, Scent
from roundstone.core.sheet import weigh
from roundstone.core.shelf import BlendPart, Claim, Family, Fragrance, Shelf, blended, in_a_bottle
from tests.samples import SHELF, recipe

CURED = 0.89  # common practice: 8 to 15 % is lost


def bottle(custom_id: str, limit: float | None, **more: object) -> Fragrance:
    facts = {
        "id": custom_id,
        "name": custom_id,
        "family": Family.SPICE,
        "claim": Claim.NONE,
        "limit": limit,
        "essential": True,
    }
    return Fragrance.model_validate(facts | {"limit": limit} | more)


def with_scents(*more: Fragrance) -> Shelf:
    return SHELF.model_copy(update={"fragrances": {**SHELF.fragrances, **{f.id: f for f in more}}})


PARTS = (bottle("clove", 0.005), bottle("orange", 0.05), bottle("rose", None))
BASE = with_scents(*PARTS)


def blend_of(parts: tuple[tuple[str, float], ...]) -> tuple[Fragrance, Fragrance]:
    """A blend, and the same in a bottle of its own."""
    new = bottle("mix", None, parts=tuple(BlendPart(fragrance=f, share=s) for f, s in parts))
    loose = Fragrance.model_validate(blended(new, BASE).model_dump() | {"id": "mix"})
    return loose, Fragrance.model_validate(in_a_bottle(loose, "bottled").model_dump() | {"id": "bottled"})


class Limits(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.floats(0.05, 0.95), st.sampled_from(["orange", "rose"]), st.floats(0.005, 0.06))
    def test_a_bottle_forgets_nothing_of_what_is_in_it(self, share: float, other: str, load: float) -> None:
        loose, bottled = blend_of((("clove", share), (other, 1 - share)))
        shelf = with_scents(*PARTS, loose, bottled)
        told = []
        for name in ("mix", "bottled"):
            weighing = weigh(recipe(scents=(Scent(fragrance=name, load=load),)), shelf)
            assert weighing.sheet is not None and weighing.sheet.limit is not None
            told.append((weighing.sheet.limit, [c for c in weighing.cautions if c.pointer.startswith("/scents")]))
        self.assertAlmostEqual(told[0][0].cured, told[1][0].cured, delta=1e-9)
        self.assertEqual(told[0][0].unknown, told[1][0].unknown)
        self.assertEqual({c.message for c in told[0][1]}, {c.message for c in told[1][1]})
        self.assertTrue(any("sensitisers" in c.message for c in told[1][1]))

    def test_the_certificate_of_the_bottle_counts_where_it_is_stricter(self) -> None:
        loose, bottled = blend_of((("orange", 0.5), ("clove", 0.5)))
        for limit, stricter in ((0.001, True), (0.5, False)):
            own = bottled.model_copy(update={"limit": limit})
            sheets = [
                weigh(recipe(scents=(Scent(fragrance=i, load=0.02),)), with_scents(*PARTS, loose, own)).sheet
                for i in ("mix", "bottled")
            ]
            uses = [s.limit.cured for s in sheets if s is not None and s.limit is not None]
            self.assertEqual(uses[1] > uses[0] * 1.01, stricter)
            self.assertGreaterEqual(uses[1], uses[0] - 1e-12)

    @settings(max_examples=60, deadline=None)
    @given(
        st.floats(0, 800),
        st.floats(0.2, 0.8),
        st.floats(0.1, 3),
        st.sampled_from(["portions", "pour", "emulsion", "fats"]),
    )
    def test_each_bar_against_its_own_weight(self, salt: float, share: float, scent: float, scent_at: str) -> None:
        """Salt of another portion thins nothing here; by hand from the grams that lie in a portion."""
        load = 0.02
        of = recipe(
            scents=(Scent(fragrance="clove", load=load),),
            additives=(Dose(additive="coarse-salt", amount=salt, into=("B",)),),
            size=ByWeight(grams=1000),
            design=Design(
                portions=(Portion(name="A", share=share, scent=scent), Portion(name="B", share=1 - share, scent=0.0)),
                technique="drop-swirl",
                scent_at=scent_at,
            ),
        )
        sheet = weigh(of, BASE).sheet
        assert sheet is not None and sheet.limit is not None
        strongest = 0.0
        for portion, weighed in zip(of.design.portions, sheet.portions, strict=True):
            apart = scent_at in ("portions", "pour")
            fragrance = load * portion.share * 1000 * (portion.scent if apart else 1.0)
            bar = weighed.batter + sum(x.grams for x in weighed.own) + (fragrance if apart else 0.0)
            self.assertAlmostEqual(weighed.limit_use, fragrance / bar / 0.005 / CURED, delta=1e-9)
            strongest = max(strongest, weighed.limit_use)
        self.assertAlmostEqual(sheet.limit.cured, strongest, delta=1e-12)
        dangers = [c for c in weigh(of, BASE).cautions if c.danger and "allow" in c.message]
        self.assertEqual(bool(dangers), strongest > 1)

    def test_a_portions_dose_has_the_limits_of_a_recipes(self) -> None:
        """Not more than 10 % of a portion's fats, and a word above 6 %, however it comes about."""

        def of(load: float, times: float) -> Recipe:
            portions = (Portion(name="A", share=0.5, scent=times), Portion(name="B", share=0.5, scent=0.0))
            design = Design(portions=portions, technique="drop-swirl")
            return recipe(scents=(Scent(fragrance="moderate", load=load),), design=design)

        for load, times, refused in ((0.06, 3.0, True), (0.10, 3.0, True), (0.0333, 3.0, False), (0.05, 2.01, True)):
            faults = [f.pointer for f in weigh(of(load, times), SHELF).faults]
            self.assertEqual(faults, ["/design/portions/0/scent"] if refused else [], (load, times))
        for load, times, told in ((0.03, 2.5, True), (0.03, 1.9, False), (0.02, 3.0, False)):
            at = [c.pointer for c in weigh(of(load, times), SHELF).cautions if "above 6 %" in c.message]
            self.assertEqual(bool(at), told, (load, times))

    def test_a_mild_herb_is_not_called_a_mint(self) -> None:
        for name, told in (("Lavender 40", False), ("Lavandin", False), ("Peppermint", True), ("Eucalyptus", True)):
            herb = bottle("herb", 0.05, name=name, family=Family.MINT)
            of = recipe(scents=(Scent(fragrance="herb", load=0.02),))
            message = [c.message for c in weigh(of, with_scents(herb)).cautions if "sting eyes" in c.message]
            self.assertEqual(bool(message), told, name)


class Names(unittest.TestCase):
    def test_lye_by_any_name_and_what_does_harm(self) -> None:
        kinds = {
            "lye": ("Sodium hydroxide", "NaOH", "caustic SODA", "Natriumhydroxid-Perlen", "Ätznatron",
                    "Soude caustique", "Hidróxido de sodio", "Idrossido di sodio", "Kalilauge 45 %", "E524"),
            "acid": ("Lemon juice", "Zitronensaft", "Vinaigre blanc", "Essigessenz", "Jugo de limón"),
            "harm": ("Bleach", "Ammonia water", "Aluminium flakes", "Borax", "Baking soda", "Eau de toilette"),
            None: ("Olive", "Sodium lactate", "Kaolin", "Clay of Lyeford", "Parfum de figue", "Soda ash look-alike"),
        }  # fmt: skip
        for kind, names in kinds.items():
            for name in names:
                found = SHELF.told_by(name)
                self.assertEqual(found.kind if found else None, kind, name)


if __name__ == "__main__":
    unittest.main()
