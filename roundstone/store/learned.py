"""What the log taught, kept until a pour ends or a claim changes; slow work is done behind the requests.

Nothing that a tap, a look or an edit needs waits for a refit: what was learned is kept in the file beside the stamp of
the log it was learned from, and while a newer one is made, the last one serves and says so.
"""

import json
from collections.abc import Callable
from dataclasses import dataclass, replace
from threading import Lock, Thread
from typing import Any

from pydantic import ValidationError

from ..core.batter import Noise
from ..core.evidence import ToldOf
from ..core.logbook import LEAST_POURS, Past, Record, ScoreCard, Taught, read, saw, score, tune, unpacked
from ..core.shelf import Shelf
from .apart import ask
from .workshop import Workshop

RETUNE = 1.2  # times the pours that the noise was last tuned from
AT_ONCE = 0.4  # seconds a request waits for a refit, so that small logs are never seen to lag
TAUGHT, CARD = "taught", "card"  # kept in the file
LEARNS = "2"  # how it is learned: another number makes what a program before this one kept an older log's
FEW = 100  # finished pours that are learned from in a moment, and so within this process
Stamp = tuple[int, ...]


def _of(kept: str) -> Stamp:
    """The log that something kept is of; no log at all, where it was learned in another way."""
    learns, *stamp = json.loads(kept)
    return tuple(stamp) if learns == LEARNS else ()


@dataclass
class Job:
    """Something slow: its progress 0 to 1, None when it does not run; `failed` says why the last run ended.

    What failed for a log is not begun again for the same one: `of` is the log's stamp it last ran for.
    """

    progress: float | None = None
    failed: str = ""
    of: Stamp | None = None
    thread: Thread | None = None

    def tell(self, share: float) -> None:
        self.progress = share


class Learned:
    """`taught()` is what a forecast needs, at once; `record()` also has the pours, and may take its time.

    With `background` refits are made behind the requests and the noise is tuned by itself once there are pours
    enough; without it a refit is made when it is asked for, and tuning only when it is.
    """

    def __init__(self, workshop: Workshop, background: bool = False) -> None:
        self._workshop = workshop
        self._background = background
        self._lock = Lock()  # of what is kept here
        self._reading = Lock()  # one refit at a time
        self._asked: Stamp | None = None  # the log for which it was last asked whether tuning is due
        self._record: tuple[Stamp, Record] | None = None
        self._taught: tuple[Stamp, Taught] | None = None
        self._own: tuple[Taught, Shelf, Taught] | None = None
        self._card: tuple[Stamp, ScoreCard] | None = None
        self._saw: tuple[Stamp, dict[str, ToldOf]] | None = None
        self.tuning, self.scoring, self.fitting, self.telling = Job(), Job(), Job(), Job()

    def forget(self) -> None:
        """Another workshop stands in the file: what is known here is of the one before."""
        with self._lock:
            self._record = self._taught = self._own = self._card = self._saw = self._asked = None

    def taught(self) -> Taught:
        """What was learned of the log, on a shelf whose techniques take what this maker was seen to pour."""
        raw, now = self._raw(), self._workshop.ingredients.shelf()
        if self._own is None or self._own[0] is not raw or self._own[1] is not now:
            # Scales and air are not learned from, and count as they are set now.
            shelf = raw.shelf.model_copy(update={"scales": now.scales, "humidity": now.humidity})
            self._own = (raw, now, replace(raw, shelf=raw.verdicts.on(shelf)))
        return self._own[2]

    def _raw(self) -> Taught:
        """What was learned of the log as it stands, or for a moment of one a little older."""
        stamp = self._workshop.stamps.log()
        last = self._taught
        if last is None:
            last = self._kept(stamp)
        if last is not None and last[0] == stamp:
            self._ask_for_tuning(stamp, last[1])
            return last[1]
        if not self._background:
            return self.record().light
        if self.fitting.failed and self.fitting.of == stamp:
            pass  # it would fail again: what is known serves until the log changes
        elif self._start(self.fitting, self._refit, wait=False, of=stamp):
            thread = self.fitting.thread
            if thread is not None and self._workshop.pours.finished() <= FEW:
                thread.join(AT_ONCE)
        with self._lock:
            last = self._taught or last
        if last is not None and last[0] == stamp:
            return last[1]
        noise, _ = self.noise()
        shelf = self._workshop.ingredients.shelf()
        taught = last[1] if last is not None else read(shelf, (), noise).light
        return replace(taught.on(shelf, noise), fresh=False)

    def _kept(self, stamp: Stamp) -> tuple[Stamp, Taught] | None:
        """What is kept in the file, of whatever log it is."""
        found = self._workshop.database.learned(TAUGHT)
        if found is None:
            return None
        try:
            of = _of(found[0])
            taught = unpacked(found[1], self._workshop.ingredients.shelf(), self.noise()[0])
        except (ValueError, KeyError, TypeError):
            return None  # of another version of the program: learned anew
        with self._lock:
            self._taught = (of, taught)
        return (of, taught) if of == stamp else (of, replace(taught, fresh=False))

    def read(self) -> tuple[Stamp, Record]:
        """The log as it stands, read and learned from; what was read before is not read again."""
        stamp = self._workshop.stamps.log()
        before = self._record
        if before is not None and before[0] == stamp:
            return before
        pours = self._workshop.pours.page(finished=True)
        finished = [
            Past(p.id, p.recipe, p.events, f"{p.started:%Y-%m}", self._workshop.pours.sheet_of(p)) for p in pours
        ]
        noise, _ = self.noise()
        return stamp, read(
            self._workshop.ingredients.shelf(), finished, noise, before[1] if before is not None else None
        )

    def record(self) -> Record:
        """The record of the log as it stands, with its pours."""
        with self._reading:
            found = self.read()
            if self._record is None or self._record[0] != found[0]:
                self._record = found
                self._keep(found[0], found[1].light, found[1].packed())
            return found[1]

    def _keep(self, stamp: Stamp, taught: Taught, packed: dict[str, Any]) -> None:
        with self._lock:
            self._taught = (stamp, taught)
        self._workshop.database.keep_learned(TAUGHT, json.dumps((LEARNS, *stamp)), packed)

    def _refit(self) -> None:
        """Learn from the log as it stands: here while it is small, else in a process of its own."""
        if self._workshop.pours.finished() <= FEW:
            self.record()
            return
        told = ask("taught", self._workshop.path, self.fitting.tell)
        shelf, noise = self._workshop.ingredients.shelf(), self.noise()[0]
        self._keep(tuple(told["stamp"]), unpacked(told["taught"], shelf, noise), told["taught"])

    def noise(self) -> tuple[Noise, int]:
        """The noise in use, and the pours it was tuned from (0: the trade's)."""
        kept = self._workshop.settings.get("noise")
        if kept is None:
            return Noise(), 0
        return Noise(kept["batch"], kept["portion"], tuple(kept["stages"])), kept["pours"]

    def due(self, taught: Taught) -> bool:
        """Enough pours, and enough more than last time."""
        pours = taught.knowledge.pours
        return pours >= LEAST_POURS and pours >= RETUNE * self.noise()[1]

    def _ask_for_tuning(self, stamp: Stamp, taught: Taught) -> None:
        with self._lock:
            ask = self._background and self._asked != stamp
            self._asked = stamp
        if ask and self.due(taught):
            self.tune()

    def tune(self, wait: bool = False) -> None:
        """Tune the noise to the log; at once with `wait`, else in the background unless it runs already."""
        self._start(self.tuning, self._tune, wait)

    def _tune(self) -> None:
        if self._background and self._workshop.pours.finished() > FEW:
            told = ask("noise", self._workshop.path, self.tuning.tell)
            self._workshop.settings.keep("noise", {k: told[k] for k in ("batch", "portion", "stages", "pours")})
            return
        record = self.record()
        noise = tune(record.trade, record.schedules, self.tuning.tell)
        kept = {"batch": noise.batch, "portion": noise.portion, "stages": list(noise.stages)}
        self._workshop.settings.keep("noise", kept | {"pours": record.knowledge.pours})

    def card(self, wait: bool = False) -> ScoreCard | None:
        """The score card of the log as it stands; None while it is being made."""
        stamp = self._workshop.stamps.log()
        made = self._card is not None and self._card[0] == stamp
        if not made and not self._kept_card(stamp) and not (self.scoring.failed and self.scoring.of == stamp):
            self._start(self.scoring, lambda: self._score(stamp), wait, of=stamp)
        return self._card[1] if self._card is not None and self._card[0] == stamp else None

    def _kept_card(self, stamp: Stamp) -> bool:
        """Whether the score card of this log is kept in the file; it is taken up."""
        found = self._workshop.database.learned(CARD)
        if found is None or _of(found[0]) != stamp:
            return False
        try:
            self._card = (stamp, ScoreCard.model_validate(found[1]))
        except ValidationError:
            return False  # of another version of the program: made anew
        return True

    def _score(self, stamp: Stamp) -> None:
        if self._background and self._workshop.pours.finished() > FEW:
            told = ask("card", self._workshop.path, self.scoring.tell)
            self._card = (tuple(told["stamp"]), ScoreCard.model_validate(told["card"]))
        else:
            self._card = (stamp, score(self.record(), self.scoring.tell))
        self._workshop.database.keep_learned(
            CARD, json.dumps((LEARNS, *self._card[0])), self._card[1].model_dump(mode="json")
        )

    def saw(self, wait: bool = False) -> tuple[dict[str, ToldOf] | None, Job]:
        """By fragrance, what the pours saw of each, to be told on; None while that is being reckoned by the job."""
        stamp = self._workshop.stamps.log()
        made = self._saw is not None and self._saw[0] == stamp
        if not made and not (self.telling.failed and self.telling.of == stamp):
            wait = wait or self._workshop.pours.finished() <= FEW
            self._start(self.telling, lambda: self._tell(stamp), wait, of=stamp)
        return self._saw[1] if self._saw is not None and self._saw[0] == stamp else None, self.telling

    def _tell(self, stamp: Stamp) -> None:
        if self._background and self._workshop.pours.finished() > FEW:
            told = ask("saw", self._workshop.path, self.telling.tell)
            self._saw = (tuple(told["stamp"]), {i: ToldOf.model_validate(x) for i, x in told["saw"].items()})
            return
        self._saw = (stamp, saw(self.record()))

    def _start(self, job: Job, work: Callable[[], None], wait: bool, of: Stamp | None = None) -> bool:
        """Begin a job unless it runs already; whether it runs now."""

        def run() -> None:
            try:
                work()
            except Exception as error:
                job.failed = str(error) or type(error).__name__
            finally:
                job.progress = None

        with self._lock:
            if job.progress is not None:
                return True
            job.progress, job.failed, job.of = 0.0, "", of
            job.thread = None if wait else Thread(target=run, daemon=True)
            if job.thread is not None:
                job.thread.start()  # within the lock: who finds the job running may wait for it
                return True
        run()
        return False
