"""What workshops tell each other of fragrances: read, counted, pooled; nothing of it is learned as one's own."""

from .meta import Pooled, contaminated, random_effects
from .pool import (
    EIGHT_IN_TEN,
    RICES_LOADED,
    RICES_WARM,
    Named,
    Tally,
    heard,
    merged,
    others_of,
    pool_of,
    pooled_names,
    reviewed,
    tally_of,
    told_by,
    total,
)
from .told import (
    Cell,
    Evidence,
    Key,
    Load,
    Pool,
    PoolOf,
    SpeedSeen,
    ToldOf,
    Warmth,
    file_of,
    key_of,
    load_of,
    member,
    warmth_of,
)
from .words import heard_words, times_of, told_words
