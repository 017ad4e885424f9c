"""The cut face a plan leads to, from what it was played on."""

from collections.abc import Mapping, Sequence

import numpy as np

from ..face import BARE, Face, FacePortion, Tint, coded, rounded
from ..recipe import INTO_MOULD, Recipe
from ..schedule import aged_tints, tint_of
from ..shelf import Shelf, Technique
from ..simulate import Outcome
from ..values import Value

SEEDS = 97  # faces there are of one plan
Lying = tuple[int, float, float]  # a portion by its place, the level it goes in at, and how likely it shows grains


class Faces(Value):
    """Codes of the face a plan leads to, as it is likeliest: wet in the mould, cut, and cured."""

    wet: str
    cut: str
    cured: str


def faces_of(recipe: Recipe, shelf: Shelf, technique: str, outcome: Outcome, seed: int) -> Faces:
    """The expected face at three ages."""
    ages, lies = aged_tints(recipe, shelf), _lying(recipe, outcome)
    wet, cut, cured = (
        coded(_face(recipe, technique, lies, seed, tints))
        for tints in ([a.wet for a in ages], [a.cut for a in ages], [a.cured for a in ages])
    )
    return Faces(wet=wet, cut=cut, cured=cured)


def face_of(recipe: Recipe, shelf: Shelf, technique: str, outcome: Outcome, seed: int) -> Face:
    """What is cut when it goes as is likeliest: each portion at the middle level with which it goes in, in the order
    in which they do, in the colours that are meant."""
    tints = [tint_of(recipe, shelf, i) for i in range(len(recipe.design.portions))]
    return _face(recipe, technique, _lying(recipe, outcome), seed, tints)


def meant(
    recipe: Recipe, shelf: Shelf, technique: Technique, seed: int, seen: Mapping[str, float] | None = None
) -> Face:
    """The face as its technique means it: every portion in the middle of what its steps want, but for those that were
    `seen` at a level; a draft may have no portion yet."""
    seen = seen or {}
    bands = [s.band for s in technique.steps if s.do in INTO_MOULD] or [(0.0, 0.0, 4.0, 5.0)]
    level = float(np.mean([(max(b[1], 1.4) + min(b[2], 4.4)) / 2 for b in bands]))
    count = len(recipe.design.portions)
    if count == 0:
        return Face(technique=technique.id, portions=(FacePortion(share=1.0, tint=BARE, level=level),))
    tints = [tint_of(recipe, shelf, i) for i in range(count)]
    lies = [(i, seen.get(p.name) or level, 0.0) for i, p in enumerate(recipe.design.portions)]
    return _face(recipe, technique.id, lies, seed, tints)


def _face(recipe: Recipe, technique: str, lies: Sequence[Lying], seed: int, tints: Sequence[Tint]) -> Face:
    shares = [p.share for p in recipe.design.portions]
    faced = (
        FacePortion(
            share=float(np.clip(shares[i], 1e-3, 1.0)),
            tint=tints[i],
            level=float(np.clip(level, 1.0, 6.0)),
            grain=float(np.clip(grain, 0.0, 1.0)),
        )
        for i, level, grain in lies
    )
    return rounded(Face(technique=technique, portions=tuple(faced), seed=seed % SEEDS))


def _lying(recipe: Recipe, outcome: Outcome) -> list[Lying]:
    levels: dict[int, list[tuple[float, float]]] = {}
    for played in outcome.steps:
        if played.task.do in INTO_MOULD and played.task.lanes:
            middles = np.median(played.level, axis=1)
            for i, level in zip(played.task.lanes, middles, strict=True):
                levels.setdefault(i, []).append((played.task.wants.part, float(level)))
    order = [*levels, *(i for i in range(len(recipe.design.portions)) if i not in levels)]
    grain = outcome.state.grain.mean(axis=1)
    return [(i, _mean(levels.get(i, [(1.0, 2.0)])), float(grain[i])) for i in order]


def _mean(levels: Sequence[tuple[float, float]]) -> float:
    whole = sum(part for part, _ in levels)
    return sum(part * level for part, level in levels) / whole if whole > 0 else levels[0][1]
