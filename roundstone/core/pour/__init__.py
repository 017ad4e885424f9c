"""What happened: a pour is its events, replayed.

Events are only ever added; what is odd about one is asked, never refused.
"""

from .pour import (
    EVENT,
    BenchEvent,
    ColourSeen,
    Doubt,
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
    PourState,
    ScentIn,
    Shade,
    Split,
    Stage,
    StageSeen,
    Stands,
    TechniqueChanged,
    TemperatureRead,
    Undone,
    Worked,
    check,
    clock_text,
    doubt,
    label,
    replay,
)
