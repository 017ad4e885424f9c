"""What will happen, why, and what to do about it.

Odds are shares of the draws of the batter clock; advice is what plays out best among them.
"""

from .advice import Advice, about, advise, faster_than_believed, job_of, level_now, pace, weigh_acts
from .forecast import Forecast, Projection, School, likelihood_of, project, schools, surprise, unlikely
from .hazards import (
    SEIZES_WITHIN,
    Hazard,
    HazardKnowledge,
    Told,
    claimed_hazards,
    hazards,
    learn_hazards,
    mould_pace,
    ricing_odds,
)
from .levers import Lever, Levers, levers, wetter
from .odds import Outlook, band_words, in_ten, outlook, told_of
from .reasons import DRAWS, LEAST, TRADE_USUAL, Reasons, Usual, explain, path
from .run import Hands, Outcome, State, World, Worth, begin, fit_of, level_of, levels_at, play, world
from .scout import Scouting, next_look, scout
from .turns import FallBack, Job, TechniqueOutlook, fall_backs, kin, moment, techniques, turns
