"""A plan played forward on draws of the batter: ages and levels by the minute, what hands do, how each step suits.

Nothing here knows what is advised or told; a forecast is read off what is played.
"""

from .actions import FETCH_MINUTES, FOLD_MINUTES
from .context import Hands, SimulationContext, Utility, simulation_context
from .judge import fit_of
from .run import Walk, begin, play
from .state import LOOK_FROM, LOOK_TO, Outcome, Played, State
from .trajectory import DAY, LOOSER, level_of, levels_at, middle, quantile, stands_when, when
