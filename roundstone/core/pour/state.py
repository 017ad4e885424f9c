"""A pour so far: always replayed from its events, in order of time."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import get_args
from uuid import UUID

from ..recipe import Recipe
from ..shelf import STAGES
from .after import BarsCounted, Cut, Heeded, Rest
from .events import (
    CameOut,
    ColourSeen,
    Combined,
    Doubted,
    Ended,
    Event,
    Flagged,
    Folded,
    Judged,
    Kept,
    LayerTested,
    LeftOut,
    LeftUnscented,
    Look,
    Mended,
    Moved,
    NextTime,
    Note,
    NothingAmiss,
    Paused,
    PouringBegan,
    Remarked,
    ScentIn,
    ScentInTurn,
    Spared,
    Split,
    StageSeen,
    StepDone,
    StepSkipped,
    TechniqueChanged,
    TemperatureRead,
    Undone,
    Worked,
)


@dataclass
class PourState:
    """A pour so far. Portion None in `looks` and `work` is the pot, or all portions after the split; where there are
    several batches it is told of the portions of the batch in hand.

    `emulsions` and `combined` are by batch ("" is the pot), `done` and `skipped` by the step's key; what is not
    `taught` is left out of learning.

    `in_turn` is since when fragrances wait, each for its portion's turn. `tests` are the last layer test of a portion,
    `pauses` from when to when (None: still) hands were off the pour, `came` is how the maker judged it.

    `standing` are all taps not taken back, in order of time; `doubts` those of them that wait for an answer, by id.
    """

    standing: Sequence[Event] = field(default_factory=list)
    emulsion: float | None = None
    split: float | None = None
    pouring: float | None = None
    ended: float | None = None
    technique: str | None = None
    switches: list[tuple[float, str]] = field(default_factory=list)
    emulsions: dict[str, float] = field(default_factory=dict)
    combined: dict[str, float] = field(default_factory=dict)
    doses: dict[str | None, tuple[ScentIn, ...]] = field(default_factory=dict)
    done: dict[str, float] = field(default_factory=dict)
    skipped: dict[str, float] = field(default_factory=dict)
    folds: list[Folded] = field(default_factory=list)
    spared: dict[str | None, float] = field(default_factory=dict)
    taught: bool = True
    scents: dict[str | None, float] = field(default_factory=dict)
    in_turn: float | None = None
    left_out: set[str | None] = field(default_factory=set)
    looks: list[tuple[str | None, Look]] = field(default_factory=list)
    work: list[Worked] = field(default_factory=list)
    readings: list[tuple[float, float]] = field(default_factory=list)
    flags: list[Flagged] = field(default_factory=list)
    smooth: bool = False
    mended: list[Mended] = field(default_factory=list)
    tests: dict[str, LayerTested] = field(default_factory=dict)
    remarks: list[Remarked] = field(default_factory=list)
    pauses: list[tuple[float, float | None]] = field(default_factory=list)
    came: CameOut | None = None
    colours: list[ColourSeen] = field(default_factory=list)
    notes: list[NextTime] = field(default_factory=list)
    heeds: list[Heeded] = field(default_factory=list)
    doubts: dict[UUID, Doubted] = field(default_factory=dict)
    # By portion, once all is replayed.
    _looks_of: dict[str, list[Look]] | None = field(default=None, compare=False, repr=False)

    @property
    def over(self) -> float | None:
        """When pouring began, or it ended without: from then on nothing of the plan is still to come."""
        return self.pouring if self.pouring is not None else self.ended

    def looks_of(self, portion: str) -> list[Look]:
        """Looks at this portion's batter, those at the pot it came from included, in order of time."""
        if self._looks_of is not None and portion in self._looks_of:
            return self._looks_of[portion]
        looks = [look for name, look in self.looks if name in (None, portion)]
        if self._looks_of is not None:
            self._looks_of[portion] = looks
        return looks

    @property
    def pot_level(self) -> int:
        """Latest level seen of what was looked at as one."""
        return next((look.level for name, look in reversed(self.looks) if name is None), 0)

    def level(self, portion: str) -> int:
        """Latest level seen of a portion; 0 while only combined."""
        level = 0
        for look in self.looks_of(portion):
            level = {"": look.level, "least": max(level, look.level), "most": min(level, look.level)}[look.only]
        return level

    @property
    def paused(self) -> bool:
        """Whether hands are off the pour."""
        return bool(self.pauses) and self.pauses[-1][1] is None

    def mishap(self, portion: str | None = None) -> Flagged | None:
        """The latest of the mishaps in a portion (None: anywhere) that is not told to have ended since."""
        for flag in reversed(self.flags):
            over = any(
                (m.flag, m.portion) == (flag.flag, flag.portion) and m.minute >= flag.minute for m in self.mended
            )
            if not over and (portion is None or flag.portion in (None, portion)):
                return flag
        return None

    def flagged(self, flag: str, portion: str) -> bool:
        """Whether this was ever told of a portion, or of all of it."""
        return any(f.flag == flag and f.portion in (None, portion) for f in self.flags)

    def riced(self, portion: str) -> bool:
        """Whether there are grains in a portion: they were tapped, and not told to have come smooth since."""
        return any(
            f.flag == "ricing"
            and f.portion in (None, portion)
            and not any(m.how == "smooth" and m.flag == f.flag and m.portion in (None, portion) and m.minute >= f.minute
                        for m in self.mended)
            for f in self.flags
        )  # fmt: skip

    def waits_for_scent(self, portion: str) -> bool:
        """Neither in, nor said to be left out."""
        return self.scented_at(portion) is None and not self.left_out & {None, portion}

    def scented_at(self, portion: str) -> float | None:
        """When this portion got its fragrance."""
        return self.scents.get(portion, self.scents.get(None))


MID_STAGE = 0.4  # of a level: where in its stage batter is that was seen in it [C]
# What comes first of taps of one moment, whatever order they arrived in.
FIRST = {
    **{"combined": 0, "seen": 0, "split": 1, "scent": 2, "unscented": 2, "pouring": 4, "step": 5, "ended": 9},
    **dict.fromkeys(("smooth", "colour", "verdict", "next", "unlearned"), 10),
    **dict.fromkeys((get_args(k.model_fields["kind"].annotation)[0] for k in get_args(Rest)), 11),
}


def _order(event: Event) -> tuple[float, int, int]:
    stage = STAGES.index(event.stage) if isinstance(event, StageSeen) else 0
    return event.minute, FIRST.get(event.kind, 3), stage


def bars_counted(events: Iterable[Event]) -> int | None:
    """How many bars a batch was counted to have last, at the cut or later; None where nobody counted."""
    standing, _ = _standing([e for e in events if isinstance(e, Cut | BarsCounted | Undone | Moved)])
    return next((e.bars for e in reversed(standing) if isinstance(e, Cut | BarsCounted) and e.bars), None)


def _standing(events: Sequence[Event]) -> tuple[list[Event], dict[UUID, Doubted]]:
    """Taps not taken back, each at the minute it was last moved to, and the doubts about them nobody answered.

    The same events, in whatever order and however often they arrive, come to the same; only of two of one kind at one
    moment, such as two verdicts, the one that arrived later counts.
    """
    told = sorted({e.id: e for e in events}.values(), key=_order)
    undone = {e.target for e in told if isinstance(e, Undone)}
    moves = {e.target: e for e in told if isinstance(e, Moved) and e.id not in undone}
    taps = [e for e in told if e.id not in undone and not isinstance(e, Note)]
    standing: list[Event] = [e.model_copy(update={"minute": moves[e.id].to}) if e.id in moves else e for e in taps]
    standing.sort(key=_order)
    at = {e.id: e.minute for e in standing}
    # A doubt is of a tap where it stood; who moved the tap since answered it.
    doubts = {e.target: e for e in told if isinstance(e, Doubted) and at.get(e.target) == e.minute}
    for e in told:
        if not isinstance(e, Kept) or e.id in undone or e.target not in doubts:
            continue
        since = moves[e.target].minute <= e.minute if e.target in moves else True
        if since and doubts[e.target].stands != "cannot":
            del doubts[e.target]
    return standing, doubts


def _in_hand(recipe: Recipe | None, standing: Sequence[Event], minute: float) -> tuple[str, tuple[str | None, ...]]:
    """The batch that was combined last by then, and whom a tap without a portion is of: (None,) where there is one."""
    if recipe is None:
        return "", (None,)
    design = recipe.design
    of = {p.name: design.batch_of(p) for p in design.portions}
    begun = {design.batches[0]: 0.0}
    for e in standing:
        batch = e.batch if isinstance(e, Combined) else None
        if isinstance(e, StageSeen) and e.stage == "emulsion" and e.portion in of:
            batch = of[e.portion]
        if batch is not None and e.minute <= minute:
            begun.setdefault(batch, e.minute)
    last = max(begun, key=lambda b: begun[b])
    return last, tuple(p for p, b in of.items() if b == last)


def replay(  # noqa: PLR0912, PLR0915 - one branch a kind
    events: Iterable[Event], recipe: Recipe | None = None
) -> PourState:
    """State after these events, in order of time; what was undone has no effect.

    The recipe tells what its portions are parts of, and whether the fragrance stood in the fats from the start.
    """
    standing, doubts = _standing(list(events))
    in_fats = recipe is not None and recipe.scent_in_fats
    of = {p.name: recipe.design.batch_of(p) for p in recipe.design.portions} if recipe is not None else {}
    several = recipe if recipe is not None and len(recipe.design.batches) > 1 else None
    state = PourState(standing=standing, scents={None: 0.0} if in_fats else {}, doubts=doubts)
    for e in standing:
        if e.id in doubts and doubts[e.id].stands != "counts":
            continue
        if state.paused and not isinstance(e, Remarked | NextTime):
            state.pauses[-1] = (state.pauses[-1][0], e.minute)
        match e:
            case StageSeen():
                batch, whom = _in_hand(several, standing, e.minute)
                named = whom if e.portion is None else (e.portion,)
                state.looks += ((name, look) for name in named for look in e.looks)
                if e.stage == "emulsion":
                    state.emulsions.setdefault(of.get(e.portion, "") if e.portion is not None else batch, e.minute)
                    if state.emulsion is None:
                        state.emulsion = e.minute
            case Worked():
                _, whom = _in_hand(several, standing, e.minute)
                named = whom if e.portion is None else (e.portion,)
                state.work += (e.model_copy(update={"portion": name}) for name in named)
            case Combined():
                state.combined.setdefault(e.batch, e.minute)
            case StepDone():
                state.done.setdefault(e.step, e.minute)
            case StepSkipped():
                state.skipped.setdefault(e.step, e.minute)
            case Folded():
                state.folds.append(e)
            case Spared():
                state.spared.setdefault(e.portion, e.minute)
            case LayerTested():
                state.tests[e.portion] = e
                state.looks.append((e.portion, e.look))
            case Paused():
                state.pauses.append((e.minute, None))
            case Remarked():
                state.remarks.append(e)
            case Mended():
                state.mended.append(e)
            case Judged():
                state.came = e.came
            case LeftOut():
                state.taught = False
            case Split() if state.split is None:
                state.split = e.minute
            case ScentIn():
                _, whom = _in_hand(several, standing, e.minute)
                for name in whom if e.portion is None else (e.portion,):
                    state.scents.setdefault(name, e.minute)
                    state.doses[name] = (*state.doses.get(name, ()), e)
            case LeftUnscented():
                state.left_out.add(e.portion)
            case ScentInTurn() if state.in_turn is None:
                state.in_turn = e.minute
            case TemperatureRead():
                state.readings.append((e.minute, e.celsius))
            case TechniqueChanged():
                state.technique = e.technique
                state.switches.append((e.minute, e.technique))
            case PouringBegan() if state.pouring is None:
                state.pouring = e.minute
            case Flagged():
                state.flags.append(e)
                if e.flag == "seizing":  # solid in seconds: thick, or past it
                    state.looks.append((e.portion, Look(e.minute, STAGES.index("thick"), "least")))
            case NothingAmiss():
                state.smooth = True
            case ColourSeen():
                state.colours.append(e)
            case NextTime():
                state.notes.append(e)
            case Heeded():
                state.heeds.append(e)
            case Ended() if state.ended is None:
                state.ended = e.minute
    state.looks.sort(key=lambda seen: seen[1].minute)
    state._looks_of = {}
    return state
