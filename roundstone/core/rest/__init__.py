"""After the pour: what gels, when it is touched next, what it weighs as it cures, and what its maker made of it."""

from .brief import Counted, Deadline, Typical, count_back, days_at_bench, early, typical
from .coming import Coming, coming, outstanding, waiting
from .cure import BETA, CureOwn, Curve, curve, done_after, learn_cure, prior, remaining
from .days import Day, Entry, Held, a_day, days_before, days_of, held_by, of_build, of_plan, still_planned
from .facts import Phase, Rested, gel_wrap, phase, rested, shown_pace
from .gel import WAYS, GelOwn, Section, learn_gel, sections
from .learned import RestLearned, RestLog, learn_rest
from .rest_keys import Next
from .touches import QUESTIONS, RestNow, as_one, rest_now, rest_sections
from .windows import Ageing, CutOwn, Window, belief, expected, learn_cuts, windows
