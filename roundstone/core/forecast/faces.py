"""The cut face a plan leads to, from what it was played on."""

from collections.abc import Sequence

import numpy as np

from ..course import aged_tints, tint_of
from ..face import BARE, Face, FacePortion, Tint, coded, rounded
from ..recipe import INTO_MOULD, Recipe
from ..shelf import Shelf, Technique
from ..values import Value
from .run import Outcome

SEEDS = 97  # faces there are of one plan


class Faces(Value):
    """Codes of the face a plan leads to, as it is likeliest: wet in the mould, cut, and cured."""

    wet: str
    cut: str
    cured: str


def faces_of(recipe: Recipe, shelf: Shelf, technique: str, outcome: Outcome, seed: int) -> Faces:
    """The expected face at three ages."""
    ages = aged_tints(recipe, shelf)

    def at(tints: Sequence[Tint]) -> str:
        return coded(face_of(recipe, shelf, technique, outcome, seed, tints))

    return Faces(wet=at([a.wet for a in ages]), cut=at([a.cut for a in ages]), cured=at([a.cured for a in ages]))


def face_of(
    recipe: Recipe, shelf: Shelf, technique: str, outcome: Outcome, seed: int, tints: Sequence[Tint] | None = None
) -> Face:
    """What is cut when it goes as is likeliest: each portion at the middle level with which it goes in, in the order
    in which they do; `tints` instead of those that are meant."""
    portions = recipe.design.portions
    colours = tints or [tint_of(recipe, shelf, i) for i in range(len(portions))]
    levels: dict[int, list[tuple[float, float]]] = {}
    for played in outcome.steps:
        if played.stint.do in INTO_MOULD:
            for n, i in enumerate(played.stint.lanes):
                level = float(np.median(played.level[min(n, len(played.level) - 1)]))
                levels.setdefault(i, []).append((played.stint.wants.part, level))
    order = [*levels, *(i for i in range(len(portions)) if i not in levels)]
    grain = outcome.state.grain.mean(axis=1)
    faced = [
        FacePortion(
            share=max(min(portions[i].share, 1.0), 1e-3),
            tint=colours[i],
            level=float(np.clip(_mean(levels.get(i, [(1.0, 2.0)])), 1.0, 6.0)),
            grain=float(np.clip(grain[i], 0.0, 1.0)),
        )
        for i in order
    ]
    return rounded(Face(technique=technique, portions=tuple(faced), seed=seed % SEEDS))


def _mean(levels: Sequence[tuple[float, float]]) -> float:
    whole = sum(part for part, _ in levels)
    return sum(part * level for part, level in levels) / whole if whole > 0 else levels[0][1]


def meant(recipe: Recipe, shelf: Shelf, technique: Technique, seed: int) -> Face:
    """The face as its technique means it: every portion in the middle of what its steps want; a draft may have none."""
    bands = [s.band for s in technique.steps if s.do in INTO_MOULD] or [(0.0, 0.0, 4.0, 5.0)]
    level = float(np.mean([(max(b[1], 1.4) + min(b[2], 4.4)) / 2 for b in bands]))
    faced = [
        FacePortion(share=max(min(p.share, 1.0), 1e-3), tint=tint_of(recipe, shelf, i), level=level)
        for i, p in enumerate(recipe.design.portions)
    ] or [FacePortion(share=1.0, tint=BARE, level=level)]
    return rounded(Face(technique=technique.id, portions=tuple(faced), seed=seed % SEEDS))
