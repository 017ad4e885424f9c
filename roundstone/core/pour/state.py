"""A pour so far: always replayed from its events, in order of time."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from uuid import UUID

from .events import (
    ColourSeen,
    Doubted,
    Ended,
    Event,
    Flagged,
    Kept,
    LeftUnscented,
    Look,
    Moved,
    Note,
    NothingAmiss,
    PouringBegan,
    ScentIn,
    Split,
    StageSeen,
    TechniqueChanged,
    TemperatureRead,
    Undone,
    Worked,
)


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
