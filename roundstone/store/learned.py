"""What the log taught, kept until something is logged or a claim changes."""

from threading import Lock

from ..core.record import Record, read
from .workshop import Workshop


class Learned:
    """`record()` is the workshop's record, refitted only when the log has changed."""

    def __init__(self, workshop: Workshop) -> None:
        self._workshop = workshop
        self._lock = Lock()
        self._stamp: tuple[int, int, int] | None = None
        self._record: Record | None = None

    def record(self) -> Record:
        with self._lock:
            stamp = self._workshop.log_stamp()
            if self._record is None or stamp != self._stamp:
                finished = [(p.id, p.recipe, p.events) for p in self._workshop.pours() if p.ended]
                self._record, self._stamp = read(self._workshop.shelf(), finished), stamp
            return self._record
