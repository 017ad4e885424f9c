"""A batch as one small ribbon: what was foretold of it when it was begun, and what was seen."""

from ..forecast import Forecast
from ..pour import PourState
from ..recipe import INTO_MOULD
from ..values import Minutes, Span, Value


class Foretold(Value):
    """Of the portion that was to thicken first: when it would come to light, medium, thick and set, half of the odds
    within each span; and between which minutes it was to be poured."""

    middles: tuple[Minutes, ...]
    spans: tuple[Span, ...]
    pour: Span | None
    drawn: float


class SeenAt(Value):
    """A look: its minute, and the level that was seen, 1 to 5."""

    minute: Minutes
    level: int


class SeenStrip(Value):
    """Looks in order of time, and between which minutes it was poured."""

    looks: tuple[SeenAt, ...]
    pour: Span | None
    end: Minutes


def foretell(forecast: Forecast) -> Foretold:
    """What a forecast says, in short."""
    lane = min(forecast.lanes, key=lambda x: x.stages[2].time.q50)
    poured = [s for s in forecast.steps if s.do in INTO_MOULD]
    return Foretold(
        middles=tuple(round(s.time.q50, 2) for s in lane.stages),
        spans=tuple(Span(low=round(s.time.q25, 2), high=round(s.time.q75, 2)) for s in lane.stages),
        pour=Span(low=min(s.start for s in poured), high=max(s.end for s in poured)) if poured else None,
        drawn=forecast.outlook.drawn,
    )


def seen_strip(state: PourState) -> SeenStrip:
    """What was seen of a pour, of whatever portion."""
    looks = tuple(SeenAt(minute=look.minute, level=look.level) for _, look in state.looks if not look.only)
    end = state.ended if state.ended is not None else max((x.minute for x in looks), default=0.0)
    pour = Span(low=state.pouring, high=max(end, state.pouring)) if state.pouring is not None else None
    return SeenStrip(looks=looks, pour=pour, end=end)
