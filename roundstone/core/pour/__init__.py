"""What happened: a pour is its events, replayed.

Events are only ever added; what is odd about one is asked, never refused.
"""

from .events import (
    EVENT,
    BenchEvent,
    ColourSeen,
    Combined,
    Doubted,
    Ended,
    Event,
    Flag,
    Flagged,
    Folded,
    Kept,
    LeftOut,
    LeftUnscented,
    Look,
    Moved,
    NextTime,
    Note,
    NothingAmiss,
    PouringBegan,
    ScentIn,
    Shade,
    Spared,
    Split,
    StageSeen,
    Stands,
    StepDone,
    StepSkipped,
    TechniqueChanged,
    TemperatureRead,
    Undone,
    Worked,
    clock_text,
    label,
)
from .rules import Doubt, check, doubt
from .state import PourState, replay
