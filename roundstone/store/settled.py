"""What follows from a pour's events and is kept so that lists can ask for it: its row, and the offcuts it left."""

from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.pour import Cut, Event, PourState
from ..core.rest import phase
from ..core.sheet import OFFCUTS, Lot
from .tables import LotRow, PourRow


def settle(row: PourRow, state: PourState, event_count: int) -> None:
    """Write down what follows from a pour's events: its end, how it came out, and whether it still waits."""
    row.ended_minute, row.event_count = state.ended, event_count
    row.verdict, row.phase = state.came, phase(state)


def keep_offcuts(s: Session, row: PourRow, name: str, events: Sequence[Event], state: PourState) -> None:
    """Offcuts that were weighed stand on the shelf as a lot under the cut's own id, and go when the cut is taken back.

    One that was counted or corrected since is the maker's, and stays.
    """
    standing = {str(e.id): e for e in state.standing if isinstance(e, Cut) and e.offcuts}
    told = {str(e.id) for e in events if isinstance(e, Cut)}
    if not told:
        return
    for lot in s.scalars(select(LotRow).where(LotRow.id.in_(told))):
        if lot.id in standing:
            del standing[lot.id]
        elif lot.revision == 1 and lot.doc["item"] == OFFCUTS:
            s.delete(lot)
    for cut_id, cut in standing.items():
        at = row.started + timedelta(minutes=cut.minute)
        made = Lot(item=OFFCUTS, label=name[:80], grams=cut.offcuts or 0.0, counted=at)
        s.add(LotRow(id=cut_id, doc=made.model_dump(mode="json"), removed=None, revision=1))
