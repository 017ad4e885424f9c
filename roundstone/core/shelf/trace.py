"""Words for how far the batter has come: a *level* is the number of a stage, everywhere."""

from typing import Literal

STAGES = ("combined", "emulsion", "light", "medium", "thick", "set")
Stage = Literal["emulsion", "light", "medium", "thick", "set"]
