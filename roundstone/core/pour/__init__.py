"""What happened: a pour is its events, replayed.

Events are only ever added; what is odd about one is asked, never refused.
"""

from .events import (
    EVENT,
    BenchEvent,
    ColourSeen,
    Doubted,
    Ended,
    Event,
    Flag,
    Flagged,
    Kept,
    LeftUnscented,
    Look,
    Moved,
    Note,
    NothingAmiss,
    PouringBegan,
    ScentIn,
    Shade,
    Split,
    StageSeen,
    Stands,
    TechniqueChanged,
    TemperatureRead,
    Undone,
    Worked,
    clock_text,
    label,
)
from .rules import Doubt, check, doubt
from .state import PourState, replay
