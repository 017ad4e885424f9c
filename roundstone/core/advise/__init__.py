"""What to do about it: acts that are possible, weighed on the draws of the forecast; what the bench says and shows."""

from .acts import Act, acts
from .advice import advise
from .choose import choose, faster_than_believed, level_now, stood_ready, weigh_acts
from .now import BenchNow, bench_now
from .rescue import Mishap, mishaps_of
from .sentence import Advice, about, pace
