"""What every handler works with, and how it answers."""

import re
import unicodedata
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import date, datetime
from functools import cached_property
from http import HTTPStatus
from typing import Any, Literal
from uuid import uuid4
from zlib import crc32
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from flask import Response, request
from pydantic import BaseModel
from werkzeug.datastructures import FileStorage

from ..core.evidence import Key, Named
from ..core.face import coded
from ..core.forecast import Forecast, Job, Knows, Projection, hazards, may_go_wrong, meant, project
from ..core.logbook import Recalled, Taught, recalled
from ..core.pour import MID_STAGE, Event, Flag
from ..core.recipe import Recipe
from ..core.rest import RestNow, Typical
from ..core.schedule import Ledger, ledger, marked_for_good, overdoses, plan
from ..core.sheet import Sheet, retold, weigh
from ..core.shelf import Shelf
from ..core.text import Text
from ..core.values import Caution, Fault, RuleError
from ..share import Door, Network, Sharing
from ..standins.debrief import ToldThen
from ..standins.practice import Truth
from ..store import Photo, PourRecord, Workshop
from ..store.keeper import Keeper
from ..store.learned import Learned
from .pictures import small_jpeg
from .stocktaking import Stocktaking
from .telling import told_here

DECIMAL, DATES, ZONE = "X-Decimal-Sign", "X-Date-Order", "X-Time-Zone"  # the headers in which a page names its own
MOST_FACES = 5000  # of pours that are kept
MOST_ANSWERS = 60  # that are kept at hand
MOST_WORDS = 8  # that are looked for together


@dataclass
class Practice:
    """A practice pour: nowhere but here, and gone when the app ends. Its clock runs `speed` times as fast."""

    pour: PourRecord
    truth: Truth
    taught: Taught
    sheet: Sheet
    speed: float
    at: datetime
    minute: float = 0.0
    told: list[ToldThen] = field(default_factory=list)

    def now(self, wall: datetime) -> float:
        return max(0.0, self.minute + self.speed * (wall - self.at).total_seconds() / 60)


@dataclass(frozen=True)
class Rests:
    """A batch at rest as it was reckoned at a minute of its pour, of which events, by what was learned."""

    events: tuple[Event, ...]
    taught: Taught
    minute: float
    now: RestNow | None


@dataclass(frozen=True)
class Course:
    """A draft as it was weighed by what was learned, and how it sets and cures."""

    recipe: Recipe
    taught: Taught
    sheet: Sheet
    takes: Typical


@dataclass(frozen=True)
class AppContext:
    """What every handler works with."""

    workshop: Workshop
    learned: Learned
    now: Callable[[], datetime]
    keeper: Keeper
    door: Door
    network: Network = field(default_factory=Network)
    said: dict[str, str] = field(default_factory=dict)
    shown: dict[str, tuple[PourRecord, Taught, Projection]] = field(default_factory=dict)
    practices: dict[str, Practice] = field(default_factory=dict)
    faces: dict[tuple[str, int], tuple[Shelf, str]] = field(default_factory=dict)
    wrong: dict[str, tuple[Recipe, Taught, Mapping[Flag, float]]] = field(default_factory=dict)
    harms: dict[tuple[str, int], tuple[Shelf, Text]] = field(default_factory=dict)
    rests: dict[str, Rests] = field(default_factory=dict)
    pooled: list[tuple[tuple[tuple[str, datetime], ...], dict[Key, Named]]] = field(default_factory=list)
    courses: dict[str, Course] = field(default_factory=dict)
    answers: dict[tuple[str, ...], tuple[tuple[object, ...], bytes]] = field(default_factory=dict)

    @property
    def sharing(self) -> Sharing | None:
        """How the network reaches the workshop, while it does."""
        return self.network.sharing

    @cached_property
    def stock(self) -> Stocktaking:
        return Stocktaking(self.workshop)

    def forget(self) -> None:
        """Another workshop stands in the file: everything that was reckoned is of the one before."""
        self.learned.forget()
        self.stock.forget()
        for kept in (
            self.said,
            self.shown,
            self.faces,
            self.harms,
            self.wrong,
            self.rests,
            self.pooled,
            self.courses,
            self.answers,
        ):
            kept.clear()

    def keep_photo(self, pour_id: str, data: bytes, days: float, note: str) -> Photo:
        """A picture made small, upright and free of what a camera writes into it; RuleError when it is none."""
        photo = Photo(str(uuid4()), pour_id, days, note)
        self.workshop.pictures.add(photo, small_jpeg(data))
        return photo

    def meaning(self, find: str) -> list[tuple[str, list[str]]]:
        """What was typed to find something: each word, with the ids of what is called like it."""
        shelf = self.workshop.ingredients.shelf()
        named = [(i, x.name) for i, x in shelf.fats.items()] + [(i, x.name) for i, x in shelf.fragrances.items()]
        named += [(i, x.name) for i, x in shelf.techniques.items()] + [(i, x.name) for i, x in shelf.additives.items()]
        words = find.split()[:MOST_WORDS]
        return [(word, [i for i, name in named if word.casefold() in name.casefold()]) for word in words]

    def recalled(
        self, recipe: Recipe, recipe_id: str, ticked: dict[str, Literal["heeded", "aside"]] | None = None
    ) -> list[Recalled]:
        """Notes for next time that matter to a recipe."""
        notes, heeds = self.workshop.pours.notes()
        return list(recalled(notes, heeds, recipe, recipe_id, self.workshop.ingredients.shelf(), ticked))

    def face(self, pour: PourRecord, shelf: Shelf) -> str:
        """Code of a pour's cut face, by the trace that was seen; empty where its technique is not known.

        A log up to a tap never changes, so it is made once for each shelf.
        """
        key = (pour.id, len(pour.events))
        known = self.faces.get(key)
        if known is None or known[0] is not shelf:
            if len(self.faces) >= MOST_FACES:
                self.faces.clear()
            known = self.faces[key] = (shelf, self._face(pour, shelf))
        return known[1]

    @staticmethod
    def _face(pour: PourRecord, shelf: Shelf) -> str:
        state = pour.state
        technique = shelf.techniques.get(state.technique or pour.recipe.design.technique)
        seen = {p.name: level + MID_STAGE for p in pour.recipe.design.portions if (level := state.level(p.name)) >= 1}
        return coded(meant(pour.recipe, shelf, technique, crc32(pour.recipe_id.encode()), seen)) if technique else ""

    def harm(self, pour: PourRecord, shelf: Shelf) -> Text:
        """What must be marked on a pour's bars for good; reckoned once for each log up to a tap, and shelf."""
        key = (pour.id, len(pour.events))
        known = self.harms.get(key)
        if known is None or known[0] is not shelf:
            if len(self.harms) >= MOST_FACES:
                self.harms.clear()
            sheet = self.poured_sheet(pour, shelf) if pour.recipe.scents else None
            found = overdoses(pour.recipe, shelf, sheet, pour.state) if sheet is not None else ()
            known = self.harms[key] = (shelf, marked_for_good(found))
        return known[1]

    def minute(self, pour: PourRecord) -> float:
        """The pour's clock now: never before what was tapped, whatever the server's own clock says. A tap that waits to
        be answered moves nobody's clock."""
        state = pour.state
        waits = {i for i, d in state.doubts.items() if d.stands != "counts"}
        tapped = max((e.minute for e in state.standing if e.id not in waits), default=0.0)
        return max(tapped, (self.now() - pour.started).total_seconds() / 60)

    def poured_sheet(self, pour: PourRecord, shelf: Shelf) -> Sheet | None:
        """The sheet a pour was weighed by, whatever the shelf became since; None where it never could be weighed."""
        if pour.row is None:
            return weigh(pour.recipe, shelf).sheet
        sheet = self.workshop.pours.sheet_of(pour)
        return retold(sheet, shelf.scales.unit) if sheet is not None else None

    def sheet(self, recipe: Recipe) -> tuple[Sheet, tuple[Caution, ...]]:
        """A recipe weighed, with its cautions; RuleError while it has faults."""
        weighing = weigh(recipe, self.workshop.ingredients.shelf())
        if weighing.sheet is None:
            raise RuleError(*weighing.faults)
        return weighing.sheet, weighing.cautions

    def ledger(self, recipe: Recipe, sheet: Sheet, shelf: Shelf) -> Ledger:
        """The ledger of portions, with what is counted of each fragrance."""
        bottle: dict[str, float] = {}
        for x in self.stock.left():
            if x.lot.item.startswith("fragrance:"):
                bottle[x.lot.item] = bottle.get(x.lot.item, 0.0) + x.left
        return ledger(recipe, shelf, sheet, plan(recipe, shelf, sheet.total), bottle)

    def knows(self, taught: Taught | None = None) -> Knows:
        """What forecasts are made from: what the log taught, or what was `taught`."""
        return (taught or self.learned.taught()).knows(self.workshop.settings.utility())

    def planned(self, recipe: Recipe, seed: str) -> Projection | None:
        """A recipe before it is poured, on the dice of `seed`; None while it cannot be weighed."""
        taught = self.learned.taught()
        sheet = weigh(recipe, taught.shelf).sheet
        if sheet is None:
            return None
        return project(Job(recipe, taught.shelf, sheet), self.knows(taught), crc32(seed.encode()))

    def mishaps(self, recipe: Recipe, recipe_id: str) -> Mapping[Flag, float]:
        """How likely what may go wrong is in a recipe's next pour; reckoned once for a recipe as it is and what is
        known."""
        taught = self.learned.taught()
        known = self.wrong.get(recipe_id)
        if known is None or known[0] != recipe or known[1] is not taught:
            if len(self.wrong) >= MOST_FACES:
                self.wrong.clear()
            told = self.planned(recipe, recipe_id)
            found = hazards(told.job, told.knows, told.schedule, told.draws, told.samples) if told is not None else ()
            known = self.wrong[recipe_id] = (recipe, taught, may_go_wrong(found))
        return known[2]

    def forecast(self, recipe: Recipe, sheet: Sheet, seed: str) -> Forecast:
        """A weighed recipe's forecast before it is poured, on the dice of `seed`."""
        taught = self.learned.taught()
        return project(Job(recipe, taught.shelf, sheet), self.knows(taught), crc32(seed.encode())).forecast

    def projection(
        self, pour: PourRecord, minute: float | None = None, taught: Taught | None = None
    ) -> tuple[Sheet, Projection]:
        """A pour weighed and forecast at a `minute`, or at its clock's, by what was `taught`, or the log teaches."""
        taught = taught or self.learned.taught()
        sheet = self.poured_sheet(pour, taught.shelf)
        if sheet is None:
            raise RuleError(*weigh(pour.recipe, taught.shelf).faults)
        projection = project(
            Job(pour.recipe, taught.shelf, sheet),
            self.knows(taught),
            crc32(pour.recipe_id.encode()),  # the same dice as before it began: it opens with the odds that were told
            events=pour.events,
            now=self.minute(pour) if minute is None else minute,
            state=pour.state,
            last=self.shown[pour.id][2] if pour.id in self.shown else None,
        )
        return sheet, projection


def bytes_of(file: Any) -> bytes:
    """What a form's file holds; RuleError when something else was sent in its place."""
    if not isinstance(file, FileStorage):
        raise RuleError(Fault(pointer="/file", message="A file is expected here."))
    return file.read()


def answer(value: BaseModel, status: HTTPStatus = HTTPStatus.OK) -> Response:
    """A value as JSON, its sentences written out for whoever asked."""
    return Response(value.model_dump_json(context=told_here), status=status, content_type="application/json")


def while_unchanged(context: AppContext, stamp: tuple[object, ...], make: Callable[[], BaseModel]) -> Response:
    """The answer to this question as it was given before, as long as the `stamp` of all it rests on is the same; for
    what takes long to put together."""
    asked = (request.full_path, *(request.headers.get(h, "") for h in (DECIMAL, DATES, ZONE)))
    known = context.answers.get(asked)
    if known is None or known[0] != stamp:
        if len(context.answers) >= MOST_ANSWERS:
            context.answers.clear()
        known = context.answers[asked] = (stamp, answer(make()).get_data())
    return Response(known[1], content_type="application/json")


def today(context: AppContext) -> date:
    """The day it is for the reader."""
    return local(context.now()).date()


def local(moment: datetime) -> datetime:
    """A moment by the clock on the reader's wall: in the zone its page or link names, else the server's."""
    name = request.args.get("zone") or request.headers.get(ZONE)
    try:
        return moment.astimezone(ZoneInfo(name) if name else None)
    except (ZoneInfoNotFoundError, ValueError, OSError):  # unknown, not a name at all, or a folder of names
        return moment.astimezone()


def attach(body: str | bytes, kind: str, name: str) -> Response:
    """A file to keep."""
    return Response(body, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


def slug(name: str, taken: set[str]) -> str:
    """An id a person can read, not taken yet."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:50] or "unnamed"
    return next(i for n in range(1, 10_000) if (i := base if n == 1 else f"{base}-{n}") not in taken)


def new_id(name: str, taken: set[str]) -> str:
    """An id a person can read, that no other workshop gives to something it calls the same."""
    stem = slug(name, set())
    return next(i for _ in range(10_000) if (i := f"{stem}-{uuid4().hex[:6]}") not in taken)
