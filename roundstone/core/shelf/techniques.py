"""Techniques: ways of pouring, as templates of steps that say what each wants of the batter.

A *level* is the number of a stage (1 emulsion … 5 set), fractions between; a stage s is s ≤ level < s + 1.
"""

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from ..values import Id, Minutes, Name, Share, Value

# What makes the look; what only prepares it (combine, blend, split, colour, scent, wait) wants no band of its own.
LookAct = Literal["pour", "layer", "drop", "pass", "spoon", "pipe", "top", "embed", "spare"]
Role = Literal["base", "accents", "each", "one", "all", "first", "others", "in", "rest", "frost"]
Family = Literal["fluid", "layer", "texture", "plain", "finish"]
Moment = Literal["pot", "split", "part", "stands", "full"]
Band = Annotated[tuple[float, ...], Field(min_length=4, max_length=4)]
ANY: Band = (0.0, 0.0, 9.0, 10.0)

# Ids of an earlier table, still in recipes and events.
_RENAMED = {"dilution-fade": "fade", "spooned-chunks": "chunks"}


def _today(value: object) -> object:
    return _RENAMED.get(value, value) if isinstance(value, str) else value


TechniqueId = Annotated[Id, BeforeValidator(_today)]


class Wants(Value):
    """What a step of the look wants and takes.

    `band` is (thin, lo, hi, thick): of no use at `thin` and below, as planned from `lo` to `hi`, of no use from `thick`
    on, straight between; a `lo` of 1 or less has no thin side. `minutes` are of a 1 kg loaf. `part` is the share of the
    portion it uses, `weight` how much of the look hangs on it, `keep` what is left of that when it is skipped (None:
    it cannot be). It `waits` so long for `lo`; with a `gate` it starts when what is below stands at that level. `to`:
    thickened on purpose to that level just before. `grain`: how much grains show. Steps of one `block` may change
    places.
    """

    band: Band = ANY
    minutes: Minutes = Field(default=1.0, ge=0, le=1440)
    part: Share = Field(default=1.0, ge=0, le=1)
    weight: float = Field(default=1.0, ge=0, le=20)
    keep: Share | None = Field(default=None, ge=0, le=1)
    wait: Minutes = Field(default=0.0, ge=0, le=2880)
    gate: float | None = Field(default=None, ge=1, le=6)
    to: float | None = Field(default=None, ge=1, le=5)
    grain: Share = Field(default=1.0, ge=0, le=1)
    block: str = Field(default="", max_length=40)


class TemplateStep(Wants):
    """A step of a technique: `who` is a role that the design's portions play."""

    do: LookAct
    who: Role


class Technique(Value):
    """A way of pouring. `pots` is the least number of portions, `most` the most (None: any); `tools` stand
    ready; it may be poured from the `ends` of the mould in turn.

    `turns` names what one changes to, nearest first, by what there is at that moment: `pot` nothing split, `split` pots
    and an empty mould, `part` some of it in the mould and fluid, `stands` what is in the mould stands, `full` all in.
    """

    id: Id
    name: Name
    short: Name
    how: str
    family: Family
    pots: int
    most: int | None = None
    steps: tuple[TemplateStep, ...]
    turns: Mapping[Moment, tuple[Id, ...]] = Field(default_factory=dict)
    tools: tuple[str, ...] = ()
    ends: bool = False
    source: str


LEVEL_WORDS = ("combined", "emulsion", "light", "medium", "thick", "set", "past set")


def band_words(band: Band) -> str:
    """What a band wants, in words of trace.

    >>> band_words((0, 1, 3.9, 4.8)), band_words((3.1, 3.6, 5.1, 5.8)), band_words((0, 1.8, 2.9, 4))
    ('emulsion to medium', 'late medium to thick', 'light')
    """
    _, lo, hi, _ = band
    first = max(lo, 1.0)
    low = LEVEL_WORDS[round(first)] if first % 1 < 0.5 or first % 1 >= 0.75 else f"late {LEVEL_WORDS[int(first)]}"
    high = LEVEL_WORDS[min(max(int(hi - 0.25), 1), 5)]
    if hi >= 6:
        return f"{low} or firmer"
    return low if low == high else f"{low} to {high}"
