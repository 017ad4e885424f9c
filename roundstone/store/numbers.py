"""Batch numbers: given once, by the order in which batches were begun, and never changed."""

from collections import Counter
from collections.abc import Callable, Iterable
from datetime import datetime

from sqlalchemy import select

from ..core.logbook import next_number
from .database import Database
from .settings import Settings
from .tables import PourRow


class BatchNumbers:
    """Numbers of batches, by the pattern that was set."""

    def __init__(self, database: Database, settings: Settings) -> None:
        self._database, self._settings = database, settings

    def give(self, local: Callable[[datetime], datetime]) -> None:
        """Give every batch that has none its number, the earliest first; `local` tells the day it was begun on."""
        pattern = self._settings.selling().pattern
        if not pattern:
            return
        with self._database.reading() as s:
            if s.scalar(select(PourRow.id).where(PourRow.batch.is_(None)).limit(1)) is None:
                return
        with self._database.writing() as s:
            rows = s.scalars(select(PourRow).order_by(PourRow.started, PourRow.id)).all()
            taken = {r.batch for r in rows if r.batch is not None}
            of_year: Counter[int] = Counter(local(r.started).year for r in rows if r.batch is not None)
            for row in rows:
                if row.batch is None:
                    day = local(row.started)
                    row.batch = next_number(pattern, (day.year, day.month, day.day), of_year[day.year], taken)
                    taken.add(row.batch)
                    of_year[day.year] += 1

    def of(self, pours: Iterable[str]) -> dict[str, str]:
        """Numbers of these pours, by id; those without one are left out."""
        with self._database.reading() as s:
            rows = s.execute(
                select(PourRow.id, PourRow.batch).where(PourRow.id.in_(list(pours)), PourRow.batch.is_not(None))
            )
            return {str(pour): str(batch) for pour, batch in rows}
