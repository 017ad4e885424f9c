"""What will happen, why, and what to do about it.

Odds are shares of the draws of the batter clock; advice is what plays out best among them.
"""

from .acts import Act, acts
from .advice import Advice, about, advise, pace
from .choose import choose, faster_than_believed, level_now, stood_ready, weigh_acts
from .context import Hands, SimulationContext, Utility, context
from .faces import Faces, face_of, faces_of, meant
from .forecast import Forecast, Projection, School, likelihood_of, project, schools, surprise, unlikely
from .hazard_log import HazardKnowledge, Told, claimed_hazards, learn_hazards, mould_pace, ricing_odds
from .hazards import SEIZES_WITHIN, Hazard, hazards
from .job import TRADE_USUAL, Job, Knows, Usual, unlearned
from .levers import Lever, Levers, levers, pulled, wetter
from .now import BenchNow, bench_now
from .odds import Outlook, in_ten, outlook, told_of
from .reasons import DRAWS, LEAST, Reasons, explain, path
from .run import FOLD_MINUTES, LOOK_FROM, LOOK_TO, Outcome, State, begin, fit_of, level_of, levels_at, play
from .scout import Scouting, next_look, scout
from .turns import FallBack, TechniqueOutlook, fall_backs, moment, similarity, techniques, turns
