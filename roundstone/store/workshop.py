"""One workshop in one SQLite file. Every write is one transaction; ids and times are passed in."""

from .logged import Logged
from .pictured import Pictured
from .stocked import Stocked


class Workshop(Stocked, Logged, Pictured):
    """Everything a maker keeps: opened (and migrated) from one data file."""
