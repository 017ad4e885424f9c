"""How batter moves: what is believed of its pace, and when each stage comes.

A joint Gaussian over rates, looks as interval censoring, and draws of what may be.
"""

from .clock import (
    LEVELS,
    NOISE,
    THRESHOLD_LEVELS,
    Belief,
    Draws,
    Knowledge,
    Known,
    Noise,
    ages,
    batch_sd,
    believe,
    crossings,
    draw,
    extended,
    newton,
    normals,
    trade_knowledge,
)
from .lane import (
    FIXED_COLUMNS,
    THRESHOLD_COLUMNS,
    Array,
    Cooling,
    CoolingPath,
    Lane,
    Temperature,
    Work,
    scent_column,
    temperature_step,
)
from .looks import LARGEST_STEP, SHORTEST, Looks, Term, ln_difference
from .prior import CLAIM, CLAIM_LOAD, FACTORS, FAMILY, STICK, THRESHOLDS
