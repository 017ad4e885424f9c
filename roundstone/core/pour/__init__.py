"""What happened: a pour is its events, replayed.

Events are only ever added; what is odd about one is asked, never refused.
"""

from .events import (
    CAME_OUT,
    EVENT,
    MENDED,
    BenchEvent,
    CameOut,
    ColourSeen,
    Combined,
    Doubted,
    Ended,
    Event,
    Flag,
    Flagged,
    Folded,
    Judged,
    Kept,
    LayerTested,
    LeftOut,
    LeftUnscented,
    Look,
    Mended,
    Moved,
    NextTime,
    Note,
    NothingAmiss,
    Paused,
    PouringBegan,
    Remark,
    Remarked,
    Renamed,
    Resumed,
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
from .names import by_last_names, called, last_names
from .rules import Doubt, check, doubt
from .state import MID_STAGE, PourState, replay
