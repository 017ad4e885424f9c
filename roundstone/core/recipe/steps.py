"""Steps of a design, told apart by `do`: what is done, to which portions, and what it wants of the batter.

What a step of the look leaves open is a row of the shelf's acts. The first six prepare; the others make the look.
"""

from typing import Annotated, Literal

from pydantic import Field

from ..shelf import Band, LookAct
from ..values import Minutes, Name, Share, Value

By = Literal["hand", "stick"]
Who = Annotated[tuple[Name, ...], Field(max_length=24)]
Level = Annotated[float, Field(ge=1, le=5.5)]


class _Step(Value):
    minutes: Minutes | None = Field(default=None, ge=0, le=2880, description="None: the usual minutes")
    note: Name = ""


class CombineStep(_Step):
    """Lye meets the fats of a batch ("" is the pot), blended to emulsion, or on purpose to a further level."""

    do: Literal["combine"] = "combine"
    batch: Name = ""
    to: Level = 1.0


class BlendStep(_Step):
    """These portions are thickened with the stick, on purpose, to a level."""

    do: Literal["blend"] = "blend"
    who: Who
    to: Level


class SplitStep(_Step):
    """A pot is divided: all pots at once, or the one of a batch ("" is the first)."""

    do: Literal["split"] = "split"
    batch: Name | None = None


class ColourStep(_Step):
    do: Literal["colour"] = "colour"
    who: Who
    by: By = "hand"


class ScentStep(_Step):
    """The fragrance goes in: each portion's own share of it."""

    do: Literal["scent"] = "scent"
    who: Who
    by: By = "hand"


class WaitStep(_Step):
    """Nothing is done for so long, or until these portions come to a level: another mould, lunch, the next day."""

    do: Literal["wait"] = "wait"
    who: Who = ()
    until: Level | None = None


class _Look(_Step):
    """As `Wants`; what is None is as the act usually has it, a gate or `to` of 1 is none. Without `who` it is on what
    is in the mould."""

    who: Who = ()
    band: Band | None = None
    part: Share | None = Field(default=None, ge=0, le=1)
    weight: float | None = Field(default=None, ge=0, le=20)
    keep: Share | None = Field(default=None, ge=0, le=1)
    wait: Minutes | None = Field(default=None, ge=0, le=2880)
    gate: Level | None = None
    to: Level | None = None
    grain: Share | None = Field(default=None, ge=0, le=1)
    block: str | None = Field(default=None, max_length=40)
    skip: bool | None = Field(default=None, description="whether it may be skipped; None: as usual")


class PourStep(_Look):
    """`into` is which of several moulds is filled by it, in words; empty where it is all there is."""

    do: Literal["pour"] = "pour"
    into: Name = ""


class LayerStep(_Look):
    """Poured on what stands below."""

    do: Literal["layer"] = "layer"


class DropStep(_Look):
    do: Literal["drop"] = "drop"


class PassStep(_Look):
    """A tool goes through the mould."""

    do: Literal["pass"] = "pass"


class SpoonStep(_Look):
    do: Literal["spoon"] = "spoon"


class PipeStep(_Look):
    do: Literal["pipe"] = "pipe"


Texture = Literal[
    "as poured", "peaks", "spooned", "combed", "sculpted", "drawn line", "dots", "drizzle", "scrolls", "botanicals",
    "glitter", "mica line", "pressed flat",
]  # fmt: skip


class TopStep(_Look):
    """What is kept back goes on top; `texture` is what is made of it."""

    do: Literal["top"] = "top"
    texture: Texture = "as poured"


class EmbedStep(_Look):
    """Things are seated in what is in the mould."""

    do: Literal["embed"] = "embed"


class SpareStep(_Look):
    """What is left goes into a spare mould."""

    do: Literal["spare"] = "spare"


LookStep = PourStep | LayerStep | DropStep | PassStep | SpoonStep | PipeStep | TopStep | EmbedStep | SpareStep
Step = Annotated[
    CombineStep | BlendStep | SplitStep | ColourStep | ScentStep | WaitStep | LookStep, Field(discriminator="do")
]
ON_MOULD: tuple[LookAct, ...] = ("pass", "embed")  # of what is in the mould, not of a pot
INTO_MOULD: tuple[LookAct, ...] = ("pour", "layer", "drop", "spoon", "pipe", "top")
