"""What is said beside a lye weight: all that can hurt someone, else what it is made of, else the rule."""

from collections.abc import Sequence

from ..values import Caution
from .temperatures import HeatPlan

RULE = Caution(pointer="/lye", message="Goggles and gloves on. Lye into water, never water into lye.")
NEAR_LYE = ("/superfat", "/water", "/koh_share", "/liquids", "/ice", "/stock", "/naoh_purity", "/koh_purity")


def gravest(cautions: Sequence[Caution], heat: HeatPlan | None) -> tuple[Caution, ...]:
    """Of all that is said of a recipe: every danger, else a caution about its lye or liquids (the lye's
    own first), else the rule of lye.

    >>> [str(c.message) for c in gravest([], None)]
    ['Goggles and gloves on. Lye into water, never water into lye.']
    """
    # That lye gets hot is true of nearly every recipe: it stands with the jug, and is no news beside the weight.
    said = [*cautions, *(c for c in (heat.cautions if heat is not None else ()) if c.pointer != "/water")]
    dangers = tuple(c for c in said if c.danger)
    near = sorted((c for c in said if c.pointer.startswith(NEAR_LYE)), key=lambda c: not c.pointer.endswith("_purity"))
    return dangers or tuple(near[:1]) or (RULE,)
