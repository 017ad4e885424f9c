"""A pour as a log of events. Nothing is ever changed: undo is an event, and the state is always replayed."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field, TypeAdapter

from .prior import STAGES
from .recipe import Recipe
from .shelf import Shelf
from .values import Celsius, Fault, Id, Minutes, Name, RuleBroken, Value

Stage = Literal["emulsion", "light", "medium", "thick", "set"]
LONGEST = 24 * 60.0


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
    | Undone,
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
    """A pour so far. Portion None in `looks` and `work` is the pot, or all portions after the split."""

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


def replay(events: Iterable[Event], in_fats: bool = False) -> PourState:  # noqa: PLR0912 - one branch a kind
    """State after these events, in order of time; what was undone has no effect.

    With `in_fats` the fragrance stood in the fats from the start.
    """
    events = list(events)
    undone = {e.target for e in events if isinstance(e, Undone)}
    standing = [e for e in events if e.id not in undone and not isinstance(e, Undone)]
    standing.sort(key=lambda e: e.minute)
    state = PourState(standing=standing, scents={None: 0.0} if in_fats else {})
    for e in standing:
        match e:
            case StageSeen():
                state.looks += ((e.portion, look) for look in e.looks)
                if e.stage == "emulsion" and state.emulsion is None:
                    state.emulsion = e.minute
            case Worked():
                state.work.append(e)
            case Split():
                state.split = e.minute
            case ScentIn():
                state.scents[e.portion] = e.minute
            case LeftUnscented():
                state.left_out.add(e.portion)
            case TemperatureRead():
                state.readings.append((e.minute, e.celsius))
            case TechniqueChanged():
                state.technique = e.technique
            case PouringBegan():
                state.pouring = e.minute
            case Flagged():
                state.flags.append(e)
            case NothingAmiss():
                state.smooth = True
            case ColourSeen():
                state.colours.append(e)
            case Ended():
                state.ended = e.minute
    state.looks.sort(key=lambda seen: seen[1].minute)
    return state


def clock_text(minute: float) -> str:
    """Minutes as the bench clock shows them, m:ss."""
    seconds = round(minute * 60)
    return f"{seconds // 60}:{seconds % 60:02d}"


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
        case Undone():
            words = "undone"
        case Split() | PouringBegan() | Ended():
            words = event.kind
    return f"{where}: {words}" if where else words


def check(event: Event, events: Sequence[Event], recipe: Recipe, shelf: Shelf) -> None:  # noqa: PLR0912
    """Raise RuleBroken when the event cannot follow the ones before it.

    A fault marked `sure` is a question: the same event with `sure` set is taken.
    """
    if isinstance(event, Undone):
        return _check_undo(event, events)
    state = replay(events, recipe.scent_in_fats)
    after = isinstance(event, Flagged | NothingAmiss | ColourSeen)
    if isinstance(event, ColourSeen) and state.ended is None:
        raise RuleBroken(Fault(pointer="/kind", says="Colour is judged once it is in the mould: end the pour first."))
    if state.ended is not None and not after:
        # What was forgotten may be written in later, at its own minute.
        if isinstance(event, Ended) or event.minute > state.ended:
            says = f"This pour ended at {clock_text(state.ended)}. Undo that first."
            raise RuleBroken(Fault(pointer="/kind", says=says))
        until = replay([e for e in events if isinstance(e, Undone) or e.minute <= event.minute])
    else:
        until = state
    portion = getattr(event, "portion", None)
    names = {p.name for p in recipe.design.portions}
    if portion is not None and portion not in names:
        raise RuleBroken(Fault(pointer="/portion", says=f"There is no portion called {portion}."))
    if portion is not None and state.split is None and not after:
        raise RuleBroken(Fault(pointer="/portion", says="The batter is still in one pot: tap the split first."))
    match event:
        case StageSeen():
            _check_stage(event, until, recipe)
        case Split() if state.split is not None:
            raise RuleBroken(Fault(pointer="/kind", says=f"Already split at {clock_text(state.split)}."))
        case Split() if len(recipe.design.portions) < 2:
            raise RuleBroken(Fault(pointer="/kind", says="This design has one portion: nothing to split."))
        case ScentIn() | LeftUnscented():
            _check_scent(event, state, recipe)
        case TechniqueChanged() if event.technique not in shelf.techniques:
            raise RuleBroken(Fault(pointer="/technique", says="This technique is not known."))
        case PouringBegan() if state.pouring is not None:
            raise RuleBroken(Fault(pointer="/kind", says=f"Pouring began at {clock_text(state.pouring)}."))
        case PouringBegan() if not event.sure and state.split is None and len(recipe.design.portions) > 1:
            says = "The batter is not split yet. Pour it as one?"
            raise RuleBroken(Fault(pointer="/kind", says=says), sure=True)
        case PouringBegan() if not event.sure and _forgotten(recipe, state):
            says = (
                "The fragrance was not tapped. Go on, and it counts as in, as planned; "
                "if it stays out, say so first, under ricing … (R). Go on?"
            )
            raise RuleBroken(Fault(pointer="/kind", says=says), sure=True)
        case PouringBegan() | Ended() if not event.sure and not state.looks:
            says = "Nothing was seen of this batter yet, so nothing can be learned. Go on all the same?"
            raise RuleBroken(Fault(pointer="/kind", says=says), sure=True)
    return None


def _forgotten(recipe: Recipe, state: PourState) -> bool:
    """Whether a fragrance was to go in and nothing at all was said of it."""
    wanted = [p.name for p in recipe.design.portions if p.scented or recipe.design.scent_at == "emulsion"]
    return bool(recipe.scents) and not state.scents and any(map(state.waits_for_scent, wanted))


def _check_undo(event: Undone, events: Sequence[Event]) -> None:
    standing = replay(events).standing
    if not standing:
        raise RuleBroken(Fault(pointer="/target", says="There is nothing to undo."))
    # At the bench only the latest tap; of a pour that has ended, any one can be put right.
    allowed = {e.id for e in standing} if any(isinstance(e, Ended) for e in standing) else {standing[-1].id}
    if event.target not in allowed:
        raise RuleBroken(Fault(pointer="/target", says="Only the latest tap can be undone; it may be undone already."))


def _check_stage(event: StageSeen, state: PourState, recipe: Recipe) -> None:
    level = STAGES.index(event.stage)
    portions = [p.name for p in recipe.design.portions] if event.portion is None else [event.portion]
    back = [p for p in portions if state.level(p) > level]
    if back and not event.sure:
        was = STAGES[state.level(back[0])]
        where = back[0] if state.split is not None else "The pot"
        says = (
            f"{where} was already at {was}; {event.stage} would go back. "
            "Say so only if the earlier tap was wrong: it will not be counted."
        )
        raise RuleBroken(Fault(pointer="/stage", says=says), sure=True)


def _check_scent(event: ScentIn | LeftUnscented, state: PourState, recipe: Recipe) -> None:
    if not recipe.scents:
        raise RuleBroken(Fault(pointer="/kind", says="This recipe has no fragrance."))
    portions = [p for p in recipe.design.portions if event.portion in (None, p.name)]
    for p in portions:
        at = state.scented_at(p.name)
        if at is not None and (isinstance(event, ScentIn) or event.portion is not None):
            says = f"The fragrance went into {p.name} at {clock_text(at)} already."
            raise RuleBroken(Fault(pointer="/portion", says=says))
    plain = [p.name for p in portions if not p.scented]
    if plain and not event.sure and isinstance(event, ScentIn):
        says = f"{plain[0]} was meant to stay unscented. Scent it all the same?"
        raise RuleBroken(Fault(pointer="/portion", says=says), sure=True)
