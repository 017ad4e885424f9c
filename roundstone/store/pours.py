"""The log of a workshop: pours and their events, notes, batches in one mould."""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import replace
from datetime import datetime
from functools import partial
from typing import Any

import sqlalchemy as sa
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from ..core.pour import EVENT, Event, Heeded, NextTime, Renamed, bars_counted, replay, sheet_called
from ..core.sheet import Sheet
from ..core.values import ConflictError, NotFoundError
from .database import Database, kept
from .find import NAME_OF_VERSION, Find, narrowed
from .recipes import Recipes
from .records import Note, PourRecord
from .settled import keep_offcuts, settle
from .tables import (
    EventRow,
    PourRow,
    VersionRow,
)


def _renames(events: Iterable[Event]) -> bool:
    return any(isinstance(e, Renamed) for e in events)


BARS_FOLLOW_FROM = ("cut", "bars", "undo", "moved")  # kinds of events
COUNT = select(PourRow.event_count, PourRow.started).where(PourRow.id == sa.bindparam("pour"))


class Pours:
    """Pours, appended to and never changed."""

    def __init__(self, database: Database, recipes: Recipes) -> None:
        self._database, self._recipes = database, recipes
        self.forget()

    def forget(self) -> None:
        """Another workshop stands in the file."""
        # A pour's log up to a tap never changes, nor does an event: each is read once.
        self._pours: dict[tuple[str, int], PourRecord] = {}
        self._read: dict[str, Event] = {}
        self._bars: dict[tuple[str, int], int | None] = {}

    def start(
        self, pour_id: str, recipe_id: str, now: datetime, foretold: dict[str, Any] | None = None, beside: bool = False
    ) -> str:
        """Pin the draft as a version (the latest one again, when nothing changed since) and start its clock.

        One that is being poured already is not started twice but on purpose, `beside` it: else the id of the pour that
        runs. `foretold` is its forecast.
        """
        with self._database.writing() as s:
            running = self._running(s, recipe_id)
            if recipe_id in running and not beside:
                return running[recipe_id][-1]
            self._begin(s, pour_id, recipe_id, now).foretold = foretold
            return pour_id

    def running(self) -> dict[str, list[str]]:
        """Pours not yet ended, by recipe, each recipe's in the order in which they were begun."""
        with self._database.reading() as s:
            return self._running(s)

    @staticmethod
    def _running(s: Session, recipe_id: str | None = None) -> dict[str, list[str]]:
        query = (
            select(VersionRow.recipe_id, PourRow.id)
            .join(VersionRow, VersionRow.id == PourRow.version_id)
            .where(PourRow.ended_minute.is_(None))
            .order_by(PourRow.started)
        )
        if recipe_id is not None:
            query = query.where(VersionRow.recipe_id == recipe_id)
        out: dict[str, list[str]] = {}
        for recipe, pour in s.execute(query):
            out.setdefault(recipe, []).append(pour)
        return out

    def _begin(self, s: Session, pour_id: str, recipe_id: str, now: datetime) -> PourRow:
        version = self._recipes.pinned(s, recipe_id, now)
        pour = PourRow(id=pour_id, version_id=version.id, started=now, ended_minute=None, event_count=0, phase="poured")
        s.add(pour)
        return pour

    def page(
        self,
        find: Find = (),
        first: int = 0,
        most: int = 1_000_000,
        finished: bool = False,
        phases: Sequence[str] = (),
        came: str = "",
        since: datetime | None = None,
        of: Collection[str] | None = None,
    ) -> list[PourRecord]:
        """Pours, latest first. One page of those whose recipe is found, or only those that ended, in some phases, that
        came out so, were begun since then, or are `of` these."""
        with self._database.reading() as s:
            query = self._poured(find, phases, came, since).offset(first).limit(most)
            if of is not None:
                query = query.where(PourRow.id.in_(list(of)))
            if finished:
                query = query.where(PourRow.ended_minute.is_not(None))
            rows = s.execute(query).all()
            for p in rows:
                self._forget_moved(p.id, p.event_count, p.started)
            fresh = [p for p in rows if (p.id, p.event_count) not in self._pours]
            read = self._events(s, [p.id for p in fresh])
            recipes = self._recipes.of_versions(s, {p.row for p in fresh})
            out = []
            for p in rows:
                known = self._pours.get((p.id, p.event_count))
                if known is None and p.row in recipes:
                    fields = (p.id, p.recipe_id, p.number, p.row, p.started, recipes[p.row], read.get(p.id, ()))
                    known = kept(self._pours, (p.id, p.event_count), partial(PourRecord.of, *fields))
                out += [known] if known is not None else []
            return out

    def count(self, find: Find = (), phases: Sequence[str] = (), came: str = "", since: datetime | None = None) -> int:
        with self._database.reading() as s:
            found = narrowed(find, phases, came, since)  # every pour has its version: nothing to join
            return s.scalar(select(func.count(PourRow.id)).where(*found)) or 0

    @staticmethod
    def _poured(
        find: Find, phases: Sequence[str] = (), came: str = "", since: datetime | None = None
    ) -> sa.Select[Any]:
        # Without the recipes: most of them were read before.
        of = (PourRow.id, PourRow.event_count, PourRow.started, VersionRow.recipe_id, VersionRow.number)
        both: Any = select(*of, VersionRow.id.label("row"))
        query: sa.Select[Any] = both.join(VersionRow, VersionRow.id == PourRow.version_id).order_by(
            PourRow.started.desc(), PourRow.id.desc()
        )
        return query.where(*narrowed(find, phases, came, since))

    def foretold(self, pours: Collection[str]) -> dict[str, dict[str, Any]]:
        """What was forecast of these pours when they were begun, where that was kept."""
        with self._database.reading() as s:
            query = select(PourRow.id, PourRow.foretold).where(PourRow.id.in_(pours), PourRow.foretold.is_not(None))
            return {str(i): doc for i, doc in s.execute(query) if doc is not None}

    @staticmethod
    def _events(s: Session, pours: Sequence[str], kinds: Collection[str] = ()) -> dict[str, list[Event]]:
        """Events by pour, in the order they came; of some kinds alone."""
        out: dict[str, list[Event]] = {}
        for start in range(0, len(pours), 500):
            some = select(EventRow.pour_id, EventRow.doc).where(EventRow.pour_id.in_(pours[start : start + 500]))
            if kinds:
                some = some.where(EventRow.doc["kind"].as_string().in_(kinds))
            for pour, doc in s.execute(some.order_by(EventRow.seq)):
                out.setdefault(pour, []).append(EVENT.validate_python(doc))
        return out

    def bars_counted(self, pours: Collection[str]) -> dict[str, int]:
        """How many bars some pours gave, where that was counted; without reading all their taps."""
        with self._database.reading() as s:
            counts = {str(i): int(n) for i, n in s.execute(select(PourRow.id, PourRow.event_count)) if i in pours}
            new = [i for i, n in counts.items() if (i, n) not in self._bars]
            read = self._events(s, new, BARS_FOLLOW_FROM)
        for i in new:
            kept(self._bars, (i, counts[i]), partial(bars_counted, read.get(i, ())))
        found = {i: self._bars.get((i, n)) for i, n in counts.items()}
        return {i: bars for i, bars in found.items() if bars is not None}

    def poured(self, since: datetime | None = None) -> list[tuple[str, int, datetime]]:
        """The id, version row and start of every pour, or of those begun since then, oldest first."""
        query = select(PourRow.id, PourRow.version_id, PourRow.started).order_by(PourRow.started)
        with self._database.asking() as connection:
            rows = connection.execute(query if since is None else query.where(PourRow.started >= since))
            return [(i, version, started) for i, version, started in rows]

    def get(self, pour_id: str) -> PourRecord:
        # Asked at every tap: what is known needs no session.
        with self._database.asking() as connection:
            known = self._known(connection, pour_id)
        if known is not None:
            return known
        with self._database.reading() as s:
            return self._pour_in(s, pour_id)

    def last_of(self, recipe_id: str, most: int) -> list[PourRecord]:
        """The last pours of a recipe that ended, latest first."""
        with self._database.reading() as s:
            query = (
                select(PourRow.id)
                .join(VersionRow, PourRow.version_id == VersionRow.id)
                .where(VersionRow.recipe_id == recipe_id, PourRow.ended_minute.is_not(None))
                .order_by(PourRow.started.desc())
                .limit(most)
            )
            return [self._pour_in(s, str(i)) for i in s.scalars(query)]

    def notes(self) -> tuple[list[Note], list[Heeded]]:
        """All notes for next time that stand, latest first, and what became of them since."""
        with self._database.reading() as s:
            query = (
                select(EventRow.doc, EventRow.pour_id, PourRow.started, VersionRow.recipe_id, NAME_OF_VERSION)
                .join(PourRow, PourRow.id == EventRow.pour_id)
                .join(VersionRow, VersionRow.id == PourRow.version_id)
                .where(sa.text("json_extract(event.doc, '$.kind') IN ('next', 'heed', 'undo')"))
                .order_by(PourRow.started.desc(), EventRow.seq.desc())
            )
            rows = s.execute(query).all()
        undone = {doc["target"] for doc, *_ in rows if doc["kind"] == "undo"}
        found: list[Note] = []
        heeds: list[Heeded] = []
        for doc, pour, started, recipe_id, name in rows:
            if doc["kind"] == "undo" or doc["id"] in undone:
                continue
            event = kept(self._read, doc["id"], partial(EVENT.validate_python, doc))
            if isinstance(event, NextTime):
                found.append(Note(event.id, event.says, event.about, pour, recipe_id, name, started))
            elif isinstance(event, Heeded):
                heeds.append(event)
        return found, heeds

    def partners(self) -> dict[str, set[str]]:
        """Batches in one mould with others, by id, each with all of the others."""
        with self._database.reading() as s:
            query = select(EventRow.id, EventRow.pour_id, func.json_extract(EventRow.doc, "$.other"))
            joins = s.execute(query.where(sa.text("json_extract(event.doc, '$.kind') = 'join'"))).all()
            logs = {pour: {str(e.id) for e in self._pour_in(s, pour).state.standing} for _, pour, _ in joins}
            others = [other for _, _, other in joins]
            there = set(s.scalars(select(PourRow.id).where(PourRow.id.in_(others))))
        together: dict[str, set[str]] = {}
        for event, pour, other in joins:
            if event in logs[pour] and other in there:
                block = {pour, other} | together.get(pour, set()) | together.get(other, set())
                together |= dict.fromkeys(block, block)
        return {pour: block - {pour} for pour, block in together.items()}

    def append(self, pour_id: str, events: Sequence[Event], received: datetime) -> PourRecord:
        """Add a tap and what belongs to it, once: a repeated request changes nothing."""
        with self._database.writing() as s:
            row = s.get(PourRow, pour_id)
            if row is None:
                raise NotFoundError("There is no such pour.")
            new: list[Event] = []
            for event in events:
                doc = event.model_dump(mode="json")
                there = s.execute(select(EventRow.pour_id, EventRow.doc).where(EventRow.id == str(event.id))).first()
                if there is None:
                    s.add(EventRow(id=str(event.id), pour_id=pour_id, doc=doc, received=received))
                    new.append(event)
                elif there.pour_id != pour_id or there.doc != doc:
                    raise ConflictError("This event id was used for something else.")
            s.flush()
            known = self._pours.get((pour_id, row.event_count))
            if known is not None and known.started == row.started and not _renames((*known.events, *new)):
                pour = replace(known, events=(*known.events, *new))
            else:
                pour = self._read_pour(s, pour_id)
            self._pours.pop((pour_id, row.event_count), None)
            settle(row, pour.state, len(pour.events))
            kept(self._pours, (pour_id, row.event_count), lambda: pour)
            keep_offcuts(s, row, pour.recipe.name, pour.events, pour.state)
            return pour

    def withdraw(self, pour_id: str) -> str:
        """Take out a pour that was begun by a slip: nothing was tapped of it yet. The id of its recipe."""
        with self._database.writing() as s:
            row = s.get(PourRow, pour_id)
            if row is None:
                raise NotFoundError("There is no such pour.")
            if row.event_count or s.scalar(select(EventRow.id).where(EventRow.pour_id == pour_id).limit(1)):
                raise ConflictError("Something was tapped of this pour: take that back, or end the pour.")
            recipe_id = s.scalars(select(VersionRow.recipe_id).where(VersionRow.id == row.version_id)).one()
            s.delete(row)
            self._pours.pop((pour_id, 0), None)
            return recipe_id

    def write_down(self, pour_id: str, events: Sequence[Event], received: datetime) -> None:
        """Add a whole run of events that are known to follow one another, in one transaction."""
        self.append(pour_id, events, received)

    def add_past(self, pour_id: str, recipe_id: str, started: datetime, events: Sequence[Event]) -> None:
        """A pour from a notebook, with all its events."""
        self.add_pasts([(pour_id, recipe_id, started, events)])

    def add_pasts(self, pours: Sequence[tuple[str, str, datetime, Sequence[Event]]]) -> None:
        """Pours from a notebook (id, recipe, start, events), all or none."""
        with self._database.writing() as s:
            for pour_id, recipe_id, started, events in pours:
                row, state = self._begin(s, pour_id, recipe_id, started), replay(events)
                settle(row, state, len(events))
                s.flush()
                name = s.scalar(select(NAME_OF_VERSION).where(VersionRow.id == row.version_id))
                keep_offcuts(s, row, str(name or ""), events, state)
                s.add_all(
                    EventRow(id=str(e.id), pour_id=pour_id, doc=e.model_dump(mode="json"), received=started)
                    for e in events
                )

    def sheet_of(self, pour: PourRecord) -> Sheet | None:
        """The sheet a pour was weighed by, in the last names of its portions; None where it never could be weighed."""
        sheet = self._recipes.sheet(pour.row) if pour.row is not None else None
        return sheet_called(sheet, pour.events) if sheet is not None else None

    def restart_clock(self, pour_id: str, started: datetime) -> None:
        """Move a pour's start: only for showing a pour in progress whenever the demo workshop is opened."""
        with self._database.writing() as s:
            row = s.get(PourRow, pour_id)
            if row is None:
                raise NotFoundError("There is no such pour.")
            row.started = started

    def finished(self) -> int:
        """How many pours have ended."""
        with self._database.reading() as s:
            return s.scalar(select(func.count(PourRow.id)).where(PourRow.ended_minute.is_not(None))) or 0

    def _pour_in(self, s: Session, pour_id: str) -> PourRecord:
        """A pour as it stands; one read before is read again only when more was tapped."""
        known = self._known(s, pour_id)
        if known is not None:
            return known
        pour = self._read_pour(s, pour_id)
        return kept(self._pours, (pour_id, len(pour.events)), lambda: pour)

    def _known(self, s: Session | sa.Connection, pour_id: str) -> PourRecord | None:
        """A pour that was read before, where nothing was tapped since."""
        row = s.execute(COUNT, {"pour": pour_id}).first()
        if row is None:
            return None
        self._forget_moved(pour_id, row.event_count, row.started)
        return self._pours.get((pour_id, row.event_count))

    def _forget_moved(self, pour_id: str, taps: int, started: datetime) -> None:
        """A pour that was read before its start was moved is not what it was."""
        known = self._pours.get((pour_id, taps))
        if known is not None and known.started != started:
            self._pours.pop((pour_id, taps), None)

    def _read_pour(self, s: Session, pour_id: str) -> PourRecord:
        found = s.execute(
            select(PourRow, VersionRow)
            .join(VersionRow, VersionRow.id == PourRow.version_id)
            .where(PourRow.id == pour_id)
        ).first()
        if found is None:
            raise NotFoundError("There is no such pour.")
        pour, version = found
        rows = s.execute(select(EventRow.id, EventRow.doc).where(EventRow.pour_id == pour_id).order_by(EventRow.seq))
        # An event never changes: each is read once.
        events = [kept(self._read, i, partial(EVENT.validate_python, doc)) for i, doc in rows]
        recipe = self._recipes.of_version(version.id, version.doc)
        return PourRecord.of(pour.id, version.recipe_id, version.number, version.id, pour.started, recipe, events)
