"""What a fragrance does to the minutes a maker sees, from what is believed of its pace and of its jump."""

import numpy as np

from .cooling import Array
from .draws import normals
from .entering import COMING_ON, minutes_after
from .knowledge import Knowledge
from .lane import jump_column, scent_column
from .prior import CLAIM_LOAD, SCENT_ENTERS, THRESHOLD_MINUTES

DRAWS, DICE = 400, 41
FIRST_MINUTES = 2.0  # after its tap, in which a batter that seizes seizes [C]


def in_first_minutes(effect: Array, jump: Array) -> Array:
    """Mean ln-rate of the first two minutes after its tap."""
    share = SCENT_ENTERS / FIRST_MINUTES
    return np.asarray(share * (COMING_ON * effect + jump) + (1 - share) * effect)


def scent_draws(knowledge: Knowledge, fragrance: str) -> tuple[Array, Array]:
    """Draws of a fragrance's ln-rate and of its jump, at CLAIM_LOAD."""
    mean, cov = knowledge.part([scent_column(fragrance), jump_column(fragrance)])
    root = np.linalg.cholesky(cov + 1e-12 * np.eye(2))
    effect, jump = CLAIM_LOAD * (mean[:, None] + root @ normals(DICE, DRAWS, 2).T)
    return effect, jump


def times_as_soon(knowledge: Knowledge, fragrance: str) -> Array:
    """How many times as soon medium trace comes with CLAIM_LOAD of it, stirred in at emulsion, as without: draws,
    rising."""
    medium = THRESHOLD_MINUTES["medium"]
    return np.sort(medium / minutes_after(medium, *scent_draws(knowledge, fragrance)))
