"""What will happen, why, and what to do about it.

Odds are shares of the draws of the batter clock; advice is what plays out best among them.
"""

from .advice import Advice, about, advise, in_ten, pace
from .forecast import (
    Forecast,
    Projection,
    School,
    band_words,
    likelihood_of,
    project,
    schools,
    step_odds,
    surprise,
    technique_odds,
)
from .hazards import SEIZES_WITHIN, Hazard, HazardKnowledge, Told, claimed_hazards, hazards, learn_hazards, mould_pace
from .reasons import DRAWS, LEAST, TRADE_USUAL, Reasons, Usual, explain, path
from .scout import Scouting, next_look, scout
