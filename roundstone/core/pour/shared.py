"""Several batches in one mould are one block: what is done to it, is done to all of them."""

from uuid import UUID, uuid5

from ..values import Minutes
from .after import AshSeen, BlockSeen, Cut, Finished, GelSeen, Misted, Unmoulded, Wrapped
from .events import Event, Undone

COPIES = UUID("5a8e0000-0000-4000-8000-00000000b10c")
BLOCK = Wrapped | Misted | Unmoulded | Cut | Finished | GelSeen | AshSeen | BlockSeen


def copy_id(event: UUID, pour: str) -> UUID:
    """The id that an event of one batch has in the log of another: told again it is the same."""
    return uuid5(COPIES, f"{event} {pour}")


def shared(event: Event, pour: str, later: Minutes) -> Event | None:
    """What an event says of another batch in the same mould, whose clock began so many minutes `later`; None: nothing.

    Bars and offcuts are counted once, where they were told.
    """
    minute = max(event.minute - later, 0.0)
    if isinstance(event, Undone):
        return event.model_copy(
            update={"id": copy_id(event.id, pour), "target": copy_id(event.target, pour), "minute": minute}
        )
    if not isinstance(event, BLOCK):
        return None
    once = {"bars": None, "offcuts": None} if isinstance(event, Cut) else {}
    return event.model_copy(update={"id": copy_id(event.id, pour), "minute": minute, "sure": True} | once)
