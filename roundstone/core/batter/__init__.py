"""How batter moves: what is believed of its pace, and when each stage comes.

A joint Gaussian over rates, looks as interval censoring, and draws of what may be.
"""

from .belief import Belief, infer, newton
from .cooling import Array, Cooling, CoolingPath, Temperature, temperature_step
from .draws import (
    LEVELS,
    STREAM,
    THRESHOLD_LEVELS,
    Draws,
    Known,
    PosteriorSamples,
    ages,
    bisected,
    crossing_times,
    crossings,
    draw,
    five,
    normals,
    sample_posterior,
)
from .heard import conditioned
from .knowledge import NOISE, Knowledge, Noise, batch_sd, doubted, extended, inherit, trade_knowledge
from .lane import (
    FIXED_COLUMNS,
    THRESHOLD_COLUMNS,
    Lane,
    Work,
    effective_dose,
    factor_row,
    jump_column,
    scent_column,
    scent_columns,
    segment_ends,
    sharing,
)
from .looks import SHORTEST, Looks, Term, ln_difference
from .newton import Dense, climb, damping, with_prior
from .prior import CLAIM, CLAIM_LOAD, FACTORS, FAMILY, STICK, THRESHOLDS
from .scent import in_first_minutes, scent_draws, times_as_soon
