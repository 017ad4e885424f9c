"""A pour as a log of events. Nothing is ever changed: undo is an event, and the state is always replayed.

At the bench every tap is taken. One that can hardly be is doubted: the doubt is an event too, listed until the maker
keeps the tap, moves it, or takes it back.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field, TypeAdapter

from ..recipe import Recipe
from ..shelf import STAGES, Shelf, Stage
from ..values import Celsius, Fault, Id, Minutes, Name, RuleBroken, Value

LONGEST = 10 * 366 * 24 * 60.0  # minutes; a pour lasts as long as it lasts, this only keeps nonsense out [chosen]


class _Event(Value):
    """`minute` is on the pour's clock, 0 when the lye met the fats. `sure` overrules a question the app asked."""

    id: UUID
    minute: Minutes = Field(ge=0, le=LONGEST)
    sure: bool = False


# Half the width of "it came to medium about then": minutes, and share of the minute where that is more. [C]
TURNED = (0.5, 0.1)


class StageSeen(_Event):
    """The batter of a portion (None: the pot, or every portion) was looked at and is at `stage`.

    With `turned` it came to that stage about then, as notebooks have it; else since when it was there is open.
    """

    kind: Literal["seen"] = "seen"
    portion: Name | None = None
    stage: Stage
    turned: bool = False

    @property
    def looks(self) -> tuple["Look", ...]:
        """What this says of the batter: its level then, or before and after it turned."""
        level = STAGES.index(self.stage)
        if not self.turned or level == 1:
            return (Look(self.minute, level),)
        give = max(TURNED[0], TURNED[1] * self.minute)
        return Look(max(self.minute - give, 0.0), level - 1), Look(self.minute + give, level)


class Worked(_Event):
    """A stretch of blending or whisking that ended at `minute`."""

    kind: Literal["work"] = "work"
    portion: Name | None = None
    tool: Literal["stick", "hand"] = "stick"
    seconds: float = Field(gt=0, le=1800)


class Split(_Event):
    """The batter was divided into the design's portions."""

    kind: Literal["split"] = "split"


class ScentIn(_Event):
    """The fragrance went in: into one portion, or (None) the whole pot."""

    kind: Literal["scent"] = "scent"
    portion: Name | None = None


class LeftUnscented(_Event):
    """The fragrance was left out on purpose: of one portion, or (None) of all that had none yet."""

    kind: Literal["unscented"] = "unscented"
    portion: Name | None = None


class TemperatureRead(_Event):
    kind: Literal["temperature"] = "temperature"
    celsius: Celsius = Field(ge=-5, le=110)


class TechniqueChanged(_Event):
    kind: Literal["switch"] = "switch"
    technique: Id


class PouringBegan(_Event):
    kind: Literal["pouring"] = "pouring"


Flag = Literal["ricing", "seizing", "separation", "false-trace", "overheating", "soup"]
Shade = Literal["true", "tint", "tan", "brown", "odd"]


class Flagged(_Event):
    """Something went wrong with a portion (None: with all of it)."""

    kind: Literal["flag"] = "flag"
    portion: Name | None = None
    flag: Flag


class NothingAmiss(_Event):
    """The maker says that nothing else went wrong: an answer, where silence is none."""

    kind: Literal["smooth"] = "smooth"


class ColourSeen(_Event):
    """The colour of a portion some days after the pour, against the one it was meant to have."""

    kind: Literal["colour"] = "colour"
    portion: Name | None = None
    days: float = Field(ge=0, le=1000)
    shade: Shade


class Ended(_Event):
    """The mould is full; this pour can be learned from."""

    kind: Literal["ended"] = "ended"


class Undone(_Event):
    kind: Literal["undo"] = "undo"
    target: UUID


class Kept(_Event):
    """The maker stands by a tap that was doubted."""

    kind: Literal["kept"] = "kept"
    target: UUID


class Moved(_Event):
    """The maker says that a tap was made at another minute."""

    kind: Literal["moved"] = "moved"
    target: UUID
    to: Minutes = Field(ge=0, le=LONGEST)


# A doubted tap counts meanwhile, waits until it is kept, or cannot count where it is.
Stands = Literal["counts", "waits", "cannot"]


class Doubted(_Event):
    """The rules doubt a tap: why, and how it stands until the maker has answered."""

    kind: Literal["doubted"] = "doubted"
    target: UUID
    says: str = Field(max_length=400)
    stands: Stands


Note = Undone | Kept | Moved | Doubted  # of other events, not of the batter
BenchEvent = Annotated[
    StageSeen
    | Worked
    | Split
    | ScentIn
    | LeftUnscented
    | TemperatureRead
    | TechniqueChanged
    | PouringBegan
    | Flagged
    | NothingAmiss
    | ColourSeen
    | Ended
    | Undone
    | Kept
    | Moved,
    Field(discriminator="kind"),
]
Event = Annotated[
    StageSeen
    | Worked
    | Split
    | ScentIn
    | LeftUnscented
    | TemperatureRead
    | TechniqueChanged
    | PouringBegan
    | Flagged
    | NothingAmiss
    | ColourSeen
    | Ended
    | Undone
    | Kept
    | Moved
    | Doubted,
    Field(discriminator="kind"),
]
EVENT: TypeAdapter[Event] = TypeAdapter(Event)


@dataclass(frozen=True)
class Look:
    """What was seen and when; `level` counts stages as techniques do."""

    minute: float
    level: int


@dataclass
class PourState:
    """A pour so far. Portion None in `looks` and `work` is the pot, or all portions after the split.

    `standing` are all taps not taken back, in order of time; `doubts` those of them that wait for an answer, by id.
    """

    standing: Sequence[Event] = field(default_factory=list)
    emulsion: float | None = None
    split: float | None = None
    pouring: float | None = None
    ended: float | None = None
    technique: str | None = None
    scents: dict[str | None, float] = field(default_factory=dict)
    left_out: set[str | None] = field(default_factory=set)
    looks: list[tuple[str | None, Look]] = field(default_factory=list)
    work: list[Worked] = field(default_factory=list)
    readings: list[tuple[float, float]] = field(default_factory=list)
    flags: list[Flagged] = field(default_factory=list)
    smooth: bool = False
    colours: list[ColourSeen] = field(default_factory=list)
    doubts: dict[UUID, Doubted] = field(default_factory=dict)

    @property
    def over(self) -> float | None:
        """When pouring began, or it ended without: from then on nothing of the plan is still to come."""
        return self.pouring if self.pouring is not None else self.ended

    def looks_of(self, portion: str) -> list[Look]:
        """Looks at this portion's batter, those at the pot it came from included, in order of time."""
        return [look for name, look in self.looks if name in (None, portion)]

    def level(self, portion: str) -> int:
        """Latest level seen of a portion; 0 while only combined."""
        seen = self.looks_of(portion)
        return seen[-1].level if seen else 0

    def waits_for_scent(self, portion: str) -> bool:
        """Neither in, nor said to be left out."""
        return self.scented_at(portion) is None and not self.left_out & {None, portion}

    def scented_at(self, portion: str) -> float | None:
        """When this portion got its fragrance."""
        return self.scents.get(portion, self.scents.get(None))


def _standing(events: Sequence[Event]) -> tuple[list[Event], dict[UUID, Doubted]]:
    """Taps not taken back, each at the minute it was last moved to, and the doubts about them nobody answered."""
    undone = {e.target for e in events if isinstance(e, Undone)}
    minutes: dict[UUID, float] = {}
    doubts: dict[UUID, Doubted] = {}
    for e in events:
        match e:
            case Doubted():
                doubts[e.target] = e
            case Moved() if e.id not in undone:
                minutes[e.target] = e.to
                doubts.pop(e.target, None)
            case Kept() if e.id not in undone and e.target in doubts and doubts[e.target].stands != "cannot":
                del doubts[e.target]
    taps = [e for e in events if e.id not in undone and not isinstance(e, Note)]
    standing: list[Event] = [e.model_copy(update={"minute": minutes[e.id]}) if e.id in minutes else e for e in taps]
    standing.sort(key=lambda e: e.minute)
    ids = {e.id for e in standing}
    return standing, {i: d for i, d in doubts.items() if i in ids}


def replay(events: Iterable[Event], in_fats: bool = False) -> PourState:  # noqa: PLR0912 - one branch a kind
    """State after these events, in order of time; what was undone has no effect.

    With `in_fats` the fragrance stood in the fats from the start.
    """
    standing, doubts = _standing(list(events))
    state = PourState(standing=standing, scents={None: 0.0} if in_fats else {}, doubts=doubts)
    for e in standing:
        if e.id in doubts and doubts[e.id].stands != "counts":
            continue
        match e:
            case StageSeen():
                state.looks += ((e.portion, look) for look in e.looks)
                if e.stage == "emulsion" and state.emulsion is None:
                    state.emulsion = e.minute
            case Worked():
                state.work.append(e)
            case Split() if state.split is None:
                state.split = e.minute
            case ScentIn():
                state.scents.setdefault(e.portion, e.minute)
            case LeftUnscented():
                state.left_out.add(e.portion)
            case TemperatureRead():
                state.readings.append((e.minute, e.celsius))
            case TechniqueChanged():
                state.technique = e.technique
            case PouringBegan() if state.pouring is None:
                state.pouring = e.minute
            case Flagged():
                state.flags.append(e)
            case NothingAmiss():
                state.smooth = True
            case ColourSeen():
                state.colours.append(e)
            case Ended() if state.ended is None:
                state.ended = e.minute
    state.looks.sort(key=lambda seen: seen[1].minute)
    return state


def clock_text(minute: float) -> str:
    """Minutes as the bench clock shows them, m:ss, with hours before them where there are any.

    >>> clock_text(4.175), clock_text(1500.5)
    ('4:10', '25:00:30')
    """
    hours, seconds = divmod(round(minute * 60), 3600)
    rest = f"{seconds // 60}:{seconds % 60:02d}"
    return f"{hours}:{rest:0>5}" if hours else rest


def label(event: Event) -> str:
    """An event in the words of the bench."""
    where = getattr(event, "portion", None)
    match event:
        case StageSeen():
            words = f"came to {event.stage}" if event.turned else str(event.stage)
        case Worked():
            words = f"{'blended' if event.tool == 'stick' else 'stirred'} {event.seconds:.0f} s"
        case ScentIn():
            words = "scent in"
        case LeftUnscented():
            words = "left unscented"
        case TemperatureRead():
            words = f"{event.celsius:g} °C"
        case TechniqueChanged():
            words = f"changed to {event.technique.replace('-', ' ')}"
        case Flagged():
            words = event.flag.replace("-", " ")
        case NothingAmiss():
            words = "nothing else went wrong"
        case ColourSeen():
            words = f"colour {event.shade}, day {event.days:g}"
        case Undone() | Kept() | Moved() | Doubted():
            words = event.kind
        case Split() | PouringBegan() | Ended():
            words = event.kind
    return f"{where}: {words}" if where else words


@dataclass(frozen=True)
class Doubt:
    """What is odd about a tap after those before it: beside which of its fields, in words, and how it stands."""

    pointer: str
    says: str
    stands: Stands


def check(event: Event, events: Sequence[Event], recipe: Recipe, shelf: Shelf) -> None:
    """Raise RuleBroken when a written event cannot follow the ones before it.

    A fault marked `sure` is a question: the same event with `sure` set is taken.
    """
    found = doubt(event, events, recipe, shelf)
    if found is not None and not (event.sure and found.stands != "cannot"):
        raise RuleBroken(Fault(pointer=found.pointer, says=found.says), sure=found.stands != "cannot")


def doubt(event: Event, events: Sequence[Event], recipe: Recipe, shelf: Shelf) -> Doubt | None:  # noqa: PLR0911, PLR0912
    """What is odd about an event after those before it, if anything."""
    if isinstance(event, Note):
        return _doubt_of_note(event, events)
    state = replay(events, recipe.scent_in_fats)
    after = isinstance(event, Flagged | NothingAmiss | ColourSeen)
    if isinstance(event, ColourSeen) and state.ended is None:
        return Doubt("/kind", "Colour is judged once it is in the mould: end the pour first.", "cannot")
    until = state
    if state.ended is not None and not after:
        # What was forgotten may be written in later, at its own minute.
        if isinstance(event, Ended):
            return Doubt("/kind", f"This pour ended at {clock_text(state.ended)} already.", "cannot")
        if event.minute > state.ended:
            says = f"This pour ended at {clock_text(state.ended)}, before this tap."
            return Doubt("/kind", says, "waits")
        until = replay([e for e in events if isinstance(e, Note) or e.minute <= event.minute], recipe.scent_in_fats)
    portion = getattr(event, "portion", None)
    if portion is not None and portion not in {p.name for p in recipe.design.portions}:
        return Doubt("/portion", f"There is no portion called {portion}.", "cannot")
    if portion is not None and state.split is None and not after:
        return Doubt("/portion", "The split was not tapped before this: tap it, or move this.", "counts")
    match event:
        case StageSeen():
            return _doubt_of_stage(event, until, recipe)
        case Split() if state.split is not None:
            return Doubt("/kind", f"Already split at {clock_text(state.split)}.", "cannot")
        case Split() if len(recipe.design.portions) < 2:
            return Doubt("/kind", "This design has one portion: nothing to split.", "cannot")
        case ScentIn() | LeftUnscented():
            return _doubt_of_scent(event, state, recipe)
        case TechniqueChanged() if event.technique not in shelf.techniques:
            return Doubt("/technique", "This technique is not known.", "cannot")
        case PouringBegan() if state.pouring is not None:
            return Doubt("/kind", f"Pouring began at {clock_text(state.pouring)}.", "cannot")
        case PouringBegan() if state.split is None and len(recipe.design.portions) > 1:
            return Doubt("/kind", "The batter was not split before it was poured. Poured as one?", "counts")
        case PouringBegan() if _forgotten(recipe, state):
            says = (
                "The fragrance was not tapped: it counts as in, as planned. If it stays out, say so under ricing … (R)."
            )
            return Doubt("/kind", says, "counts")
        case PouringBegan() | Ended() if not state.looks:
            return Doubt("/kind", "Nothing was seen of this batter, so nothing can be learned from it.", "counts")
    return None


def _forgotten(recipe: Recipe, state: PourState) -> bool:
    """Whether a fragrance was to go in and nothing at all was said of it."""
    wanted = [p.name for p in recipe.design.portions if p.scented or recipe.design.scent_at == "emulsion"]
    return bool(recipe.scents) and not state.scents and any(map(state.waits_for_scent, wanted))


def _doubt_of_note(event: Note, events: Sequence[Event]) -> Doubt | None:
    """A note is about a tap that stands; about any other it says nothing."""
    if any(e.id == event.target for e in replay(events).standing):
        return None
    return Doubt("/target", "There is no such tap, or it was taken back already.", "cannot")


def _doubt_of_stage(event: StageSeen, state: PourState, recipe: Recipe) -> Doubt | None:
    level = STAGES.index(event.stage)
    portions = [p.name for p in recipe.design.portions] if event.portion is None else [event.portion]
    back = [p for p in portions if state.level(p) > level]
    if not back:
        return None
    was = STAGES[state.level(back[0])]
    where = back[0] if state.split is not None else "The pot"
    says = f"{where} was already at {was}; {event.stage} goes back. If it is so, the earlier tap will not be counted."
    return Doubt("/stage", says, "waits")


def _doubt_of_scent(event: ScentIn | LeftUnscented, state: PourState, recipe: Recipe) -> Doubt | None:
    if not recipe.scents:
        return Doubt("/kind", "This recipe has no fragrance.", "cannot")
    portions = [p for p in recipe.design.portions if event.portion in (None, p.name)]
    for p in portions:
        at = state.scented_at(p.name)
        if at is not None and (isinstance(event, ScentIn) or event.portion is not None):
            return Doubt("/portion", f"The fragrance went into {p.name} at {clock_text(at)} already.", "cannot")
    plain = [p.name for p in portions if not p.scented]
    if plain and isinstance(event, ScentIn):
        return Doubt("/portion", f"{plain[0]} was meant to stay unscented.", "counts")
    return None
