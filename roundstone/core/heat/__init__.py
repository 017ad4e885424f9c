"""What gets hot: the lye, the vessels until they meet, and the block in its mould.

For the plan of temperatures before the pour, and for what gels or cracks after it.
"""

from .gravest import gravest
from .lye import Lye, MilkInJug, lye_peak, sets_at
from .meeting import READING_SD, START_SD, Meeting, Reading, VesselNow, check_band, meet, wanted_apart
from .mould import (
    CONDUCTIVITY,
    FASTER,
    RATE_SD,
    RATES,
    RING,
    WALLS,
    WEIGHTS,
    Batter,
    Block,
    Cases,
    batter_of,
    block_of,
    mould_heat,
    over_mean,
    over_rates,
    overheating,
    run,
    three_cases,
)
from .sets import own_solid, pot_sets, set_share
from .temperatures import Apart, HeatPlan, apart, plan, start
from .vessels import COOLING_SD, combined, jug_curve, pot_curve
