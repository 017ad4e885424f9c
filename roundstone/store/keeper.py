"""What is done for the data file while nobody asks: the log merged when it is quiet, a copy a day, pictures gone."""

import contextlib
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from threading import Event, Thread

from ..core.values import DataFileError, NotFoundError
from .keeping import KEEP, Copies, Kept
from .workshop import Workshop

EVERY = 30.0  # seconds between looks
DAY = timedelta(days=1)
SETTING = "copies"


class Keeper:
    """Looks after one workshop. `trouble` says why the last copy could not be made."""

    def __init__(self, workshop: Workshop, now: Callable[[], datetime]) -> None:
        self._workshop, self._now = workshop, now
        self._seen = self._merged = self._copied = workshop.database.changes
        self._stop = Event()
        self.trouble = ""

    def copies(self) -> Copies:
        """Where copies of this workshop lie and how many are kept, as set or as usual."""
        kept = self._workshop.settings.get(SETTING) or {}
        folder = Path(kept["folder"]) if kept.get("folder") else self._workshop.path.parent / "copies"
        return Copies(self._workshop.path, folder, int(kept.get("keep") or KEEP))

    def set(self, folder: Path | None, keep: int) -> None:
        """Choose folder and number; DataFileTrouble when nothing can be written there."""
        if folder is not None:
            try:
                folder.mkdir(parents=True, exist_ok=True)
                probe = folder / ".roundstone"
                probe.touch()
                probe.unlink()
            except OSError as error:
                raise DataFileError(f"Nothing can be written into {folder}: {error.strerror}.") from error
        self._workshop.settings.keep(SETTING, {"folder": str(folder) if folder else None, "keep": keep})

    def copy(self, why: str = "") -> Kept:
        """One more copy now; DataFileTrouble when it cannot be made."""
        try:
            made = self.copies().make(self._now(), why)
        except DataFileError as trouble:
            self.trouble = str(trouble)
            raise
        except OSError as error:
            self.trouble = f"No copy could be made: {error.strerror or error}."
            raise DataFileError(self.trouble) from error
        self.trouble = ""
        self._copied = self._workshop.database.changes
        return made

    def back(self, name: str) -> None:
        """Go back to a copy made here; what stands now is copied first. DataFileTrouble when either cannot be."""
        copies = self.copies()
        found = next((k for k in copies.all() if k.path.name == name), None)
        if found is None:
            raise NotFoundError("There is no such copy any more.")
        try:
            copies.make(self._now(), "before-going-back")
        except OSError as error:
            raise DataFileError(f"What stands now could not be copied first: {error.strerror or error}.") from error
        self._workshop.become(found.path)

    def tick(self) -> None:
        """One look: merge when nothing was written since the last look, copy when the last copy is a day old."""
        changes = self._workshop.database.changes
        quiet, self._seen = changes == self._seen, changes
        if quiet and changes != self._merged:
            self._workshop.database.merge()
            self._merged = changes
        if changes != self._copied:
            newest = next(iter(self.copies().all()), None)
            if newest is None or self._now() - newest.made >= DAY:
                with contextlib.suppress(DataFileError):
                    self.copy()
            self._workshop.pictures.forget(self._now() - DAY)

    def start(self) -> None:
        """Look again and again, behind the requests, until `stop`."""

        def run() -> None:
            while not self._stop.wait(EVERY):
                try:
                    self.tick()
                except Exception as error:  # whatever it is, the next look comes
                    self.trouble = str(error)

        Thread(target=run, daemon=True).start()

    def stop(self) -> None:
        self._stop.set()
