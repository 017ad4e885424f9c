"""The cut face: shares as poured, steady under small changes, and colours as a reference library mixes them."""

import unittest

import numpy as np
from coloraide import Color
from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.face import Face, FacePortion, aged, apart, coded, decoded, draw, mixed, oklab, shares_of
from roundstone.core.face.fields import LAY
from roundstone.core.values import RuleError
from tests.samples import SHELF, many

TINTS = ("#e8e0d0", "#3f5660", "#b3572f", "#7c8b46", "#6f3a55")
HEX = st.from_regex(r"\A#[0-9a-f]{6}\Z")


def face(technique: str, level: float, shares: tuple[float, ...] = (0.5, 0.28, 0.22), seed: int = 3) -> Face:
    portions = (FacePortion(share=s, tint=t, level=level) for s, t in zip(shares, TINTS, strict=False))
    return Face(technique=technique, portions=tuple(portions), seed=seed)


def changed(one: Face, other: Face, width: int = 120) -> float:
    """Share of the bar's pixels that a person would see change."""
    a, b = draw(one, width).astype(int), draw(other, width).astype(int)
    return float((np.abs(a - b).max(axis=2) > 40).sum() / (a[..., 3] > 128).sum())


class Shares(unittest.TestCase):
    def test_area_is_share_in_every_technique_at_every_size(self) -> None:
        """Within 3 points, counted on the grid; a fade has no areas of its own to count."""
        for technique in SHELF.techniques:
            for shares in ((0.5, 0.28, 0.22), (0.2, 0.2, 0.2, 0.2, 0.2), (0.88, 0.12)):
                for level in (1.3, 2.6, 4.6):
                    told = shares_of(face(technique, level, shares), 80)
                    for got, wanted in zip(told, shares, strict=True):
                        self.assertAlmostEqual(got, wanted, delta=0.03, msg=f"{technique} {level}")

    def test_every_technique_but_layers_has_a_way_of_its_own(self) -> None:
        self.assertLessEqual(set(LAY), set(SHELF.techniques))
        pictures = {t: draw(face(t, 2.4), 40).tobytes() for t in LAY if t not in ("tamp", "rough-diagonal")}
        self.assertEqual(len(set(pictures.values())), len(pictures))

    def test_what_is_seen_counts_as_its_share_too(self) -> None:
        """Thick colours do not run, so pixels nearest to a tint are its share, edges apart."""
        for technique in ("straight-layers", "drop-swirl", "chunks", "tilted-shells"):
            picture = draw(face(technique, 3.6), 240)
            body = picture[picture[..., 3] > 250][:, :3].astype(float)
            tints = np.array([[int(t[i : i + 2], 16) for i in (1, 3, 5)] for t in TINTS[:3]])
            nearest = np.argmin(((body[:, None] - tints) ** 2).sum(axis=2), axis=1)
            for i, share in enumerate((0.5, 0.28, 0.22)):
                self.assertAlmostEqual(float((nearest == i).mean()), share, delta=0.04, msg=technique)


class Steady(unittest.TestCase):
    def test_a_tenth_of_a_level_moves_little(self) -> None:
        """Under 2 % of the face, at any level."""
        for technique in list(SHELF.techniques)[:: many(4, 1)]:
            moves = [changed(face(technique, x), face(technique, x + 0.1)) for x in (1.4, 2.0, 2.6, 3.0, 3.8, 4.8)]
            self.assertLess(max(moves), 0.02, technique)

    def test_the_same_figures_are_the_same_picture_and_another_seed_another(self) -> None:
        one = face("hanger-swirl", 2.4)
        self.assertEqual(draw(one, 80).tobytes(), draw(one, 80).tobytes())
        self.assertGreater(changed(one, face("hanger-swirl", 2.4, seed=4)), 0.1)

    def test_trace_shows(self) -> None:
        for technique in ("hanger-swirl", "straight-layers", "bowl-stripes"):
            self.assertGreater(changed(face(technique, 1.2), face(technique, 2.6)), 0.05, technique)
            self.assertGreater(changed(face(technique, 2.6), face(technique, 4.8)), 0.03, technique)
        grains = face("plain", 2.6, (1.0,))
        riced = grains.model_copy(update={"portions": (grains.portions[0].model_copy(update={"grain": 1.0}),)})
        self.assertGreater(changed(grains, riced), 0.01)


class Codes(unittest.TestCase):
    @given(st.lists(st.tuples(st.floats(0.01, 1), st.floats(1, 6), HEX), min_size=1, max_size=12), st.integers(0, 96))
    @settings(max_examples=40)
    def test_there_and_back(self, of: list[tuple[float, float, str]], seed: int) -> None:
        portions = tuple(FacePortion(share=round(s, 3), level=round(x, 1), tint=t) for s, x, t in of)
        one = Face(technique="drop-swirl", portions=portions, seed=seed)
        self.assertEqual(decoded(coded(one)), one)

    def test_nonsense_is_refused(self) -> None:
        for code in ("", "plain", "plain.3", "plain.3.1000-24-0", "plain.x.1000-24-0-e6dcc3", "../x.1.1-1-1-000000"):
            with self.assertRaises(RuleError):
                decoded(code)


class Colours(unittest.TestCase):
    """Against `coloraide`, which has its own OKLab."""

    @given(HEX, HEX, st.floats(0, 1))
    def test_oklab_distances_and_mixtures(self, one: str, other: str, part: float) -> None:
        theirs = Color(one).convert("oklab")
        for mine, coordinate in zip(oklab(one), ("lightness", "a", "b"), strict=True):
            self.assertAlmostEqual(float(mine), theirs[coordinate], delta=2e-4)
        self.assertAlmostEqual(apart(one, other), Color(one).distance(other, space="oklab"), delta=5e-4)
        blend = Color(one).mix(other, part, space="oklab").convert("srgb").clip()
        for i, channel in enumerate(("r", "g", "b")):
            self.assertAlmostEqual(
                int(mixed(one, other, part)[1 + 2 * i : 3 + 2 * i], 16), 255 * blend[channel], delta=1.6
            )

    @given(HEX, st.floats(0, 1), st.floats(0, 0.1))
    def test_age_goes_one_way(self, tint: str, gelled: float, vanillin: float) -> None:
        """Wet batter is never darker than its soap but for rounding; vanillin only ever darkens."""
        plain, brown = aged(tint, gelled), aged(tint, gelled, vanillin)
        self.assertGreaterEqual(oklab(plain.wet)[0], oklab(plain.cured)[0] - 0.01)
        self.assertLessEqual(oklab(brown.cured)[0], oklab(plain.cured)[0] + 0.01)
        self.assertEqual(plain.wet, brown.wet)
