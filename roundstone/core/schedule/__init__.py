"""The plan on a clock: what is planned, and what happened in its place.

Before the pour everything is plan; at the bench events take its place and the rest moves behind them.
"""

from .aid import FIRST_AID, TEST_A_BAR
from .choices import STEP_WORDS, Asks, LevelWords, Vocabulary, asks_of
from .cups import SheetCup, SheetPour
from .edit import NEW_NIGHT, NEXT_DAY, StepAct, StepEdit, rearranged, spelled
from .harm import Overdose, as_poured, lines_as_poured, marked_for_good, overdoses
from .lanes_of import POT, emulsion_minutes
from .ledger import Ledger, aged_tints, ledger, pour_off, tint_of
from .moulded import MouldFill, embeds_told, how_laid, top_told
from .plan import LEAST_LEFT, Roles, in_turn, plan, preparation, turned
from .ready import ReadyPart, ReadyStage, Reweigh, ready_parts, stages, to_reweigh, weighed
from .ready_meet import Before, Cue, Meets, before, cues_of, meets, near
from .ready_state import ReadyAct, ReadyState, acted
from .reconcile import HALF, SPLIT_AFTER, Placed, Reconciled, after_fold, reconcile
from .schedule import Schedule, build_schedule, replanned
from .task import PREPARES, Task, is_a_night, tasks_on
from .terms import kept, windows
from .tools import NO_MISHAPS
from .work_step import PUT_BY, WorkStep, put_by
from .worksheet import work_order
