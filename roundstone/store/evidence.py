"""What other workshops told, as files that were read; and under which made-up name this one tells."""

import hashlib
from collections.abc import Callable
from datetime import datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.evidence import Evidence, Pool, file_of, member
from ..core.values import ConflictError, NotFoundError
from .database import Database
from .settings import Settings
from .stamps import OTHERS
from .tables import EvidenceRow

SHARING = "sharing"  # the setting: the made-up name, and the edition of what was told last


def _twice(s: Session, file: Evidence | Pool) -> list[str]:
    """Files that were read and hold somebody of this one, by their names; another edition of it is none."""
    mine = set(file.members)
    rows = s.execute(select(EvidenceRow.id, EvidenceRow.doc).where(EvidenceRow.id != file.source))
    return [str(i) for i, doc in rows if mine & set(file_of(doc).members)]


class EvidenceFiles:
    """Files of other workshops that were read, and what this one told."""

    def __init__(self, database: Database, settings: Settings) -> None:
        self._database, self._settings = database, settings

    def take_in(self, file: Evidence | Pool, now: datetime) -> bool:
        """Keep what another workshop told, in place of what it told before; whether something of it was there.

        ConflictError where it is of this workshop, or older than what is there.
        """
        name = file.source
        if name == (self._settings.get(SHARING) or {}).get("id"):
            raise ConflictError("This file is of your own workshop: what your pours saw counts already.")
        own = (self._settings.get(SHARING) or {}).get("id")
        if own and member(own) in file.members:
            raise ConflictError("Your own workshop is in this pool: what your pours saw counts already.")
        with self._database.writing() as s:
            row = s.get(EvidenceRow, name)
            if twice := _twice(s, file):
                listed = f"{', '.join(twice[:3])}{f' and {len(twice) - 3} more' if len(twice) > 3 else ''}"
                raise ConflictError(
                    f"Workshops of this file are in what you read already ({listed}): take that out first."
                )
            was = row is not None
            if row is not None:
                if file_of(row.doc).edition > file.edition:
                    raise ConflictError("A later file of the same workshop was read already.")
                row.doc, row.read = file.model_dump(mode="json"), now
            else:
                s.add(EvidenceRow(id=name, doc=file.model_dump(mode="json"), read=now))
        self._changed()
        return was

    def take_out(self, source: str) -> None:
        """Forget a file that was read: all that rested on it is as before."""
        with self._database.writing() as s:
            row = s.get(EvidenceRow, source)
            if row is None:
                raise NotFoundError("There is no such file among those you read.")
            s.delete(row)
        self._changed()

    def _changed(self) -> None:
        self._settings.change(OTHERS, lambda was: {"changes": (was or {}).get("changes", 0) + 1})

    def edition(self, told: Callable[[str, int], Evidence], saved: bool = True) -> Evidence:
        """What is told under this workshop's made-up name: the edition before, where it says just that, else the next;
        what is not `saved` is counted next time again."""

        def digest(evidence: Evidence) -> str:
            return hashlib.sha256(evidence.model_dump_json(exclude={"edition"}).encode()).hexdigest()[:32]

        def next_one(was: dict[str, Any] | None) -> dict[str, Any]:
            kept = dict(was or {"id": uuid4().hex[:32], "edition": 0, "digest": ""})
            said = digest(told(kept["id"], 1))
            return kept if said == kept["digest"] else {**kept, "edition": kept["edition"] + 1, "digest": said}

        def looked_at(was: dict[str, Any] | None) -> dict[str, Any]:
            return was or {**next_one(None), "edition": 0, "digest": ""}

        self._settings.change(SHARING, next_one if saved else looked_at)
        kept = next_one(self._settings.get(SHARING))
        return told(kept["id"], kept["edition"])
