"""What will happen, and why: odds are shares of the draws of the batter clock."""

from .faces import Faces, face_of, faces_of, meant
from .forecast import Projection, project
from .hazard_log import (
    HazardKnowledge,
    Told,
    claimed_hazards,
    discoloured,
    learn_hazards,
    mould_pace,
    ricing_odds,
    ricing_row,
)
from .hazards import SEIZES_WITHIN, Hazard, hazards, may_go_wrong
from .job import TRADE_USUAL, Job, Knows, Usual, unlearned
from .levers import Lever, Levers, levers, pulled, wetter
from .odds import Outlook, chance, outlook, told_of
from .offers import Offer, offers
from .reasons import DRAWS, LEAST, Reasons, explain, path, places_of
from .schools import School, schools
from .scout import Scouting, next_look, scout
from .surprise import likelihood_of, surprise, unlikely
from .turns import FallBack, TechniqueOutlook, fall_backs, moment, similarity, techniques, turns
from .views import Forecast
