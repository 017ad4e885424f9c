"""What the log taught, kept until something is logged or a claim changes; slow work is done in the background."""

from collections.abc import Callable
from dataclasses import dataclass
from threading import Lock, Thread
from typing import TypeVar

from ..core.clock import Noise
from ..core.learn import LEAST_POURS, tune
from ..core.record import Past, Record, read
from ..core.scorecard import ScoreCard, score
from .workshop import Workshop

RETUNE = 1.2  # times the pours that the noise was last tuned from
T = TypeVar("T")


@dataclass
class Job:
    """Something slow: its progress 0 to 1, None when it does not run; `failed` says why the last run ended."""

    progress: float | None = None
    failed: str = ""

    def tell(self, share: float) -> None:
        self.progress = share


class Learned:
    """`record()` is the workshop's record, refitted only when the log has changed.

    With `background` the noise is tuned by itself once there are pours enough; without it only when asked.
    """

    def __init__(self, workshop: Workshop, background: bool = False) -> None:
        self._workshop = workshop
        self._background = background
        self._lock = Lock()
        self._stamp: tuple[int, ...] | None = None
        self._asked: tuple[int, ...] | None = None  # the log for which it was last asked whether tuning is due
        self._record: Record | None = None
        self._card: tuple[tuple[int, ...], ScoreCard] | None = None
        self.tuning, self.scoring = Job(), Job()

    def record(self, start: bool = True) -> Record:
        """The record of the log as it stands; with `start` the noise is tuned behind it when that is due."""
        with self._lock:
            stamp = self._workshop.log_stamp()
            if self._record is None or stamp != self._stamp:
                pours = self._workshop.pours()
                finished = [Past(p.id, p.recipe, p.events, f"{p.started:%Y-%m}") for p in pours if p.ended]
                noise, _ = self.noise()
                self._record = read(self._workshop.shelf(), finished, noise, self._record)
                self._stamp = stamp
            record = self._record
            ask = start and self._background and self._asked != stamp
            if ask:
                self._asked = stamp
        if ask and self.due(record):
            self.tune()
        return record

    def noise(self) -> tuple[Noise, int]:
        """The noise in use, and the pours it was tuned from (0: the trade's)."""
        kept = self._workshop.setting("noise")
        if kept is None:
            return Noise(), 0
        return Noise(kept["batch"], kept["portion"], tuple(kept["stages"])), kept["pours"]

    def due(self, record: Record) -> bool:
        """Enough pours, and enough more than last time."""
        pours = record.knowledge.pours
        return pours >= LEAST_POURS and pours >= RETUNE * self.noise()[1]

    def tune(self, wait: bool = False) -> None:
        """Tune the noise to the log; at once with `wait`, else in the background unless it runs already."""
        self._start(self.tuning, self._tune, wait)

    def _tune(self) -> None:
        record = self.record(start=False)
        noise = tune(record.trade, {p.pour: p.course for p in record.logged}, self.tuning.tell)
        kept = {"batch": noise.batch, "portion": noise.portion, "stages": list(noise.stages)}
        self._workshop.keep_setting("noise", kept | {"pours": record.knowledge.pours})

    def card(self, wait: bool = False) -> ScoreCard | None:
        """The score card of the log as it stands; None while it is being made."""
        stamp = self._workshop.log_stamp()
        if self._card is None or self._card[0] != stamp:
            self._start(self.scoring, lambda: self._score(stamp), wait)
        return self._card[1] if self._card is not None and self._card[0] == stamp else None

    def _score(self, stamp: tuple[int, ...]) -> None:
        self._card = (stamp, score(self.record(start=False), self.scoring.tell))

    def _start(self, job: Job, work: Callable[[], None], wait: bool) -> None:
        with self._lock:
            if job.progress is not None:
                return
            job.progress, job.failed = 0.0, ""

        def run() -> None:
            try:
                work()
            except Exception as error:
                job.failed = str(error) or type(error).__name__
            finally:
                job.progress = None

        if wait:
            run()
        else:
            Thread(target=run, daemon=True).start()
