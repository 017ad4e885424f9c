"""What was learned: the log of finished pours, what it teaches, and how well it foretold.

Learning lays out a pour as the forecast does, so both see one batter.
"""

from .batch import CAME, NOTED, PaperSection, Recorded, batch_record, batch_short, cut_paper, label_paper, order_paper
from .colours import ColourFile, colour_files, colour_name, moment_at
from .costs import ORDER as COST_PARTS
from .costs import BatchCost, Differed, MonthCost, batch_cost, by_month, differed
from .differ import PourDifference, differ
from .files import FragranceFile, fragrance_file
from .hands import learn_hands
from .learn import fit, learn
from .notes import Recalled, recalled, subjects
from .past import Logged, Past, laid_out
from .record import Record, read
from .saw import saw
from .scorecard import Judged, ScoreCard, drift_of, inside, judge, luck_of, mean_scores, score
from .selling import BarLabel, Convention, Selling, bar_label, check_pattern, net_weight, next_number, numbered
from .standins import StandIn, fragrances_left, stand_ins
from .strip import Foretold, SeenStrip, foretell, seen_strip
from .taught import Taught, unpacked
from .tune import LEAST_POURS, tune
from .verdicts import Verdicts, learn_verdicts
