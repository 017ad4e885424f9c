"""The plan on a clock: what is planned, and what happened in its place.

Before the pour everything is plan; at the bench events take its place and the rest moves behind them.
"""

from .course import Course, Step, emulsion_minutes, lay_out, windows
from .worksheet import WorkStep, work_order
