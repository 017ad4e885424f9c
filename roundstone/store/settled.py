"""What a pour's row says of its events, so that lists can ask for it."""

from ..core.pour import PourState
from ..core.rest import phase
from .tables import PourRow


def settle(row: PourRow, state: PourState, taps: int) -> None:
    """Write down what follows from a pour's events: its end, how it came out, and whether it still waits."""
    row.ended, row.taps = state.ended, taps
    row.came, row.phase = state.came, phase(state)
