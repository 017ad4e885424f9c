"""What a step may ask for, in words: from which stage to which, what has to stand below it, how far it is thickened."""

from typing import Literal, get_args

from pydantic import Field

from ..recipe import LYE_STANDS, TOPPING_WORDS, LyeStands, Step
from ..recipe.steps import By, Texture
from ..shelf import STAGES, Band
from ..values import Value

SOFT_BELOW, SOFT_ABOVE, WHOLE = 0.7, 0.9, 0.9  # levels: how softly a wanted stage begins and ends [chosen]
HIGHEST = 6.2  # the level at which any band ends [chosen]
WANTABLE = STAGES[1:]
NewAct = Literal[
    "pour", "layer", "drop", "spoon", "top", "pass", "embed", "pipe", "wait", "night", "blend", "colour", "scent",
    "spare", "own",
]  # fmt: skip


class LevelWords(Value):
    """A level of the batter that can be chosen, in words."""

    level: float
    words: str


class Asks(Value):
    """What a step asks for now, as the choices that come nearest: stages count from 1, emulsion."""

    thinnest: int = Field(ge=1, le=5)
    thickest: int = Field(ge=1, le=5)
    gate: float
    thickened: float


class Vocabulary(Value):
    """What can be asked of a step, in words, so that no page has a list of its own; of the `new` ones those that go
    `last`, where no place is said; what can be chosen of a `topping`, by its fields; how the `lye` stands as it meets
    the fats."""

    stages: tuple[str, ...] = WANTABLE
    gates: tuple[LevelWords, ...]
    thickened: tuple[LevelWords, ...]
    textures: tuple[str, ...] = get_args(Texture)
    tools: dict[str, str]
    stirred: dict[By, str]
    new: dict[NewAct, str]
    last: tuple[NewAct, ...]
    topping: dict[str, dict[str, str]] = TOPPING_WORDS
    lye: dict[LyeStands, str] = LYE_STANDS


# Levels and words by common practice: what lies below stands, stands turned upside down, or is firm.
STEP_WORDS = Vocabulary(
    gates=(
        LevelWords(level=1.0, words="at once"),
        LevelWords(level=3.1, words="once it stands"),
        LevelWords(level=3.6, words="once it stands turned"),
        LevelWords(level=4.0, words="once it is firm"),
    ),
    thickened=(
        LevelWords(level=1.0, words="as it is"),
        LevelWords(level=2.4, words="to light, with the stick"),
        LevelWords(level=3.3, words="to medium, with the stick"),
        LevelWords(level=4.0, words="to thick, with the stick"),
    ),
    tools={
        "": "wire",
        "comb": "comb",
        "skewer": "skewer",
        "spatula": "spatula",
        "stick through": "stick",
        "tapped level": "tapped level",
    },
    stirred={"hand": "by hand", "stick": "with the stick"},
    new={
        "pour": "pour",
        "layer": "layer",
        "drop": "drop",
        "spoon": "spoon",
        "top": "top",
        "pass": "tool",
        "embed": "embeds",
        "pipe": "pipe",
        "wait": "wait",
        "night": "wait for the next day",
        "blend": "thicken",
        "colour": "colour",
        "scent": "scent",
        "spare": "spare mould",
        "own": "a step of my own",
    },
    last=("top", "spare"),
)


def band_between(thinnest: int, thickest: int) -> Band:
    """The band from one stage to the end of another, with the usual soft ends.

    >>> band_between(2, 3)
    (1.3, 2.0, 3.9, 4.8)
    >>> band_between(1, 5)[:2]
    (0.0, 0.0)
    """
    high = max(thickest, thinnest) + WHOLE
    low = (0.0, 0.0) if thinnest <= 1 else (thinnest - SOFT_BELOW, float(thinnest))
    return (*low, high, min(round(high + SOFT_ABOVE, 2), HIGHEST))


def asks_of(step: Step) -> Asks | None:
    """What a step asks for; None for one that asks nothing of the batter."""
    band = getattr(step, "band", None)
    if band is None:
        return None
    gate, to = getattr(step, "gate", None), getattr(step, "to", None)
    return Asks(
        thinnest=min(max(round(band[1]), 1), 5),
        thickest=min(max(-int(-(band[2] - WHOLE - 0.099) // 1), 1), 5),
        gate=nearest(STEP_WORDS.gates, gate),
        thickened=nearest(STEP_WORDS.thickened, to),
    )


def nearest(choices: tuple[LevelWords, ...], level: float | None) -> float:
    """The choice whose level comes nearest; nothing asked is the first.

    >>> [nearest(STEP_WORDS.gates, level) for level in (None, 3.3, 5.0)]
    [1.0, 3.1, 4.0]
    """
    asked = choices[0].level if level is None else level
    return min((c.level for c in choices), key=lambda x: abs(x - asked))
