"""Patterns of a workshop: designs kept under a name."""

from datetime import datetime

from sqlalchemy import select

from ..core.recipe import Pattern
from ..core.values import NotFoundError
from .database import Database
from .tables import PatternRow


class Patterns:
    """Designs kept under a name."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def all(self) -> dict[str, Pattern]:
        """Those that are not removed, by id, in the order of their names."""
        with self._database.reading() as s:
            rows = s.scalars(select(PatternRow).where(PatternRow.removed.is_(None)))
            found = {r.id: Pattern.model_validate(r.doc) for r in rows}
        return dict(sorted(found.items(), key=lambda x: x[1].name.casefold()))

    def keep(self, pattern: Pattern) -> None:
        """Keep a pattern; one of the same id becomes this one."""
        with self._database.writing() as s:
            row = s.get(PatternRow, pattern.id)
            if row is None:
                s.add(PatternRow(id=pattern.id, doc=pattern.model_dump(mode="json"), removed=None))
            else:
                row.doc, row.removed = pattern.model_dump(mode="json"), None

    def remove(self, pattern_id: str, now: datetime | None) -> None:
        """Take a pattern out of the list, or with None put it back; recipes poured in it stay as they are."""
        with self._database.writing() as s:
            row = s.get(PatternRow, pattern_id)
            if row is None:
                raise NotFoundError("There is no such pattern.")
            row.removed = now
