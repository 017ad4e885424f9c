"""What was done to a batch since it was poured, from its events."""

from collections.abc import Collection
from dataclasses import dataclass, field
from math import exp, log
from typing import Literal

from ..pour import (
    Answered,
    Ask,
    BarsCounted,
    Cover,
    Cut,
    Event,
    Finished,
    Gelled,
    GelSeen,
    Misted,
    PourState,
    Touched,
    Unmoulded,
    Weighed,
    Work,
    Wrapped,
)
from ..recipe import ByMoulds, Cavities, Recipe, Wrap

# Minutes from emulsion by which a usual batter is at light, medium and thick trace [C].
USUAL = {2: 5.0, 3: 12.0, 4: 25.0}
SHOWN, SHOWN_AT_MOST = 0.5, log(3.0)  # of what the bench showed that is believed of the days after, and its most [C]
SOONEST = 0.5  # minutes from emulsion that are told apart at the bench [C]


@dataclass
class Rested:
    """What says something of its block; minutes are on the pour's clock. `covers` is how it rests and since when, the
    first being since it ended; `bars` were counted last, `weighings` are of each mould's marked bar (minute, g), `done`
    when each hand was last laid on the bars, `misted` when alcohol was misted on."""

    ended: float
    covers: list[tuple[float, Cover]]
    told: bool = False
    touched: list[Touched] = field(default_factory=list)
    unmoulded: Unmoulded | None = None
    cut: Cut | None = None
    bars: int | None = None
    done: dict[Work, Finished] = field(default_factory=dict)
    gel: Gelled | None = None
    weighings: dict[tuple[int, str], list[tuple[float, float]]] = field(default_factory=dict)
    misted: list[float] = field(default_factory=list)
    answers: list[Answered] = field(default_factory=list)

    @property
    def cover(self) -> Cover:
        return self.covers[-1][1]

    def answered(self, at: str, portions: Collection[str]) -> set[str]:
        """Questions of a moment that were answered: of all of it, or of each of its portions."""
        told = {(a.ask, a.portion) for a in self.answers if a.at == at}
        return {ask for ask, _ in told if (ask, None) in told or all((ask, p) in told for p in portions)}

    def told_of(self, at: str, ask: Ask) -> set[str | None]:
        """Of which portions a question of a moment was answered; None: of all of it."""
        return {a.portion for a in self.answers if (a.at, a.ask) == (at, ask)}


def rested(state: PourState, recipe: Recipe) -> Rested | None:
    """How a pour that ended rests; None while it is being poured.

    Taps that wait for an answer to a doubt do not count yet.
    """
    if state.ended is None:
        return None
    out = Rested(state.ended, [(state.ended, recipe.design.wrap)])
    for e in state.standing:
        if e.id not in state.doubts or state.doubts[e.id].stands == "counts":
            _take(out, e)
    return out


def _take(out: Rested, e: Event) -> None:
    match e:
        case Wrapped():
            out.covers.append((max(e.minute, out.ended), e.how))
            out.told = True
        case Touched():
            out.touched.append(e)
        case Unmoulded():
            out.unmoulded = out.unmoulded or e
        case Cut():
            out.cut = out.cut or e
            out.bars = e.bars or out.bars
        case BarsCounted():
            out.bars = e.bars
        case Finished():
            out.done[e.what] = e
        case GelSeen():
            out.gel = e.how
        case Weighed():
            out.weighings.setdefault((e.mould, e.bar), []).append((e.minute, e.grams))
        case Misted():
            out.misted.append(max(e.minute, out.ended))
        case Answered():
            out.answers.append(e)


def mould_wrap(cover: Cover) -> Wrap:
    """The way to rest that the heat of the mould is reckoned for."""
    return "oven" if cover in ("oven", "oven-off") else cover  # type: ignore[return-value] # the rest are the same words


def gel_wrap(rest: Rested) -> Wrap:
    """How it rested while it could gel: the warmest of its first hours."""
    rank: dict[Wrap, int] = {"cold": 0, "open": 1, "covered": 2, "insulated": 3, "oven": 4}
    early = [mould_wrap(c) for at, c in rest.covers if at - rest.ended < EARLY]
    told = early[1:] if rest.told and len(early) > 1 else early
    return max(told, key=lambda w: rank[w])


def in_single_moulds(recipe: Recipe) -> bool:
    """Poured into single moulds: nothing is cut."""
    return isinstance(recipe.size, ByMoulds) and all(isinstance(m, Cavities) for m in recipe.size.moulds)


EARLY = 6 * 60.0  # minutes after the pour in which a block may begin to gel [C]


def shown_pace(state: PourState) -> float:
    """How many times as fast as usual the batter went at the bench, as far as that says something of its rest.

    >>> shown_pace(PourState())
    1.0
    """
    if state.emulsion is None:
        return 1.0
    firsts: dict[int, float] = {}
    for _, look in state.looks:
        if not look.only and look.level in USUAL:
            firsts[look.level] = min(look.minute, firsts.get(look.level, look.minute))
    seen = [log(USUAL[level] / max(at - state.emulsion, SOONEST)) for level, at in firsts.items()]
    if not seen:
        return 1.0
    return exp(SHOWN * max(-SHOWN_AT_MOST, min(SHOWN_AT_MOST, sum(seen) / len(seen))))


Phase = Literal["poured", "rests", "cures", "done"]
LAST_QUESTIONS: tuple[Ask, ...] = ("scent", "sell", "again")


def phase(state: PourState) -> Phase:
    """How far a batch is: being poured, at rest, cut and curing, or done: judged when cured, or lost.

    >>> phase(PourState())
    'poured'
    """
    if state.ended is None:
        return "poured"
    kinds = {e.kind for e in state.standing}
    asked = {e.ask for e in state.standing if isinstance(e, Answered) and e.at == "cured"}
    if state.came == "lost" or asked >= set(LAST_QUESTIONS):
        return "done"
    return "cures" if kinds & {"cut", "unmould"} else "rests"
