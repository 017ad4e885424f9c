"""What own pours saw of each fragrance, apart from what is claimed of it and from what others told: to be told on."""

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from math import exp, log

import numpy as np

from ..batter import Array, times_as_soon, trade_knowledge
from ..evidence import EIGHT_IN_TEN, Cell, Load, SpeedSeen, ToldOf, Warmth, load_of, warmth_of
from ..forecast import discoloured
from ..pour import Answered
from ..shelf import LEAST_TIMES, MOST_TIMES, Claim, Counted, Family, Fragrance
from .learn import fit
from .past import Logged
from .record import Record

OPEN = (0.4, 1.5)  # ln-rate at 3 % and its sd: what is believed where nothing is claimed at all [chosen]
SAYS = 0.8  # of that doubt must be gone before a figure is worth telling [chosen]
HALF = EIGHT_IN_TEN / 2


def saw(record: Record) -> dict[str, ToldOf]:
    """By id, what finished pours saw of each fragrance that is a bottle: of a blend its parts are told.

    The clock is fitted anew to all pours with no claim, no likeness and nobody else's word, and what it believed of the
    fragrance before any pour is taken out again, so that a reader may put it beside any claim.
    """
    bottles = [_bare(f) for f in record.shelf.fragrances.values()]
    before = trade_knowledge(bottles, record.trade.noise, claimed=lambda _: OPEN)
    after = fit(before, record.schedules).knowledge
    of: dict[str, list[Logged]] = {}
    for pour in record.logged:
        for fragrance in pour.scents:
            of.setdefault(fragrance, []).append(pour)
    out = {}
    for i, bottle in record.shelf.fragrances.items():
        if i not in of or (bottle.parts and not bottle.bottled):
            continue
        watched = [p for p in of[i] if i in p.schedule.watched]
        looks = sum(len(known) for p in watched for known in _known(p, i))
        speed = _speed(times_as_soon(before, i), times_as_soon(after, i), len(watched), looks) if watched else None
        out[i] = ToldOf(
            name=bottle.name,
            code=bottle.code,
            family=bottle.family,
            claim=bottle.claim,
            speed=speed,
            discoloured=_counted(_colours(of[i], i)),
            held=_counted(_holds(of[i], i)),
            **{key: _cells(of[i], i, flag) for key, flag in FLAGS.items()},
        )
    return out


FLAGS = {"riced": "ricing", "seized": "seizing", "separated": "separation"}


def _bare(fragrance: Fragrance) -> Fragrance:
    """Without what it is like and what is claimed of it: a blend that is weighed from its parts stays as they are."""
    parts = () if fragrance.bottled else fragrance.parts
    claimed = {"claim": Claim.UNKNOWN, "family": Family.OTHER}
    return fragrance.model_copy(update={"inherits": None, "parts": parts, **claimed})


def _known(logged: Logged, fragrance: str) -> Iterator[Mapping[int, object]]:
    for lane, known in zip(logged.schedule.lanes, logged.schedule.known, strict=True):
        if fragrance in lane.added:
            yield known


def _speed(before: Array, after: Array, pours: int, looks: int) -> SpeedSeen | None:
    """Likelihood of the pours alone, both taken as normal in the ln; None where they say next to nothing."""
    (m0, s0), (m1, s1) = (_normal(np.log(x)) for x in (before, after))
    if s1 >= SAYS * s0:
        return None
    gained = 1 / s1**2 - 1 / s0**2
    mean, sd = (m1 / s1**2 - m0 / s0**2) / gained, gained**-0.5
    low, mid, high = (round(min(max(exp(mean + z * sd), LEAST_TIMES), MOST_TIMES), 3) for z in (-HALF, 0.0, HALF))
    return SpeedSeen(times=mid, low=low, high=high, pours=pours, looks=looks) if low < high else None


def _normal(draws: Array) -> tuple[float, float]:
    low, mid, high = np.quantile(draws, (0.1, 0.5, 0.9))
    return float(mid), max(float(high - low) / EIGHT_IN_TEN, log(1.01))


def _cells(pours: Sequence[Logged], fragrance: str, flag: str) -> tuple[Cell, ...]:
    """How often it was flagged where it was asked about, by dose and warmth of the portion that had most of it."""
    asked: Counter[tuple[Load, Warmth]] = Counter()
    seen: Counter[tuple[Load, Warmth]] = Counter()
    for pour in pours:
        lanes = [lane for lane in pour.schedule.lanes if fragrance in lane.added]
        flagged = {f.portion for f in pour.state.flags if f.flag == flag}
        if not lanes or not (pour.state.smooth or flagged):
            continue
        most = max(lanes, key=lambda lane: lane.added[fragrance][1])
        minute, percent = most.added[fragrance]
        at = load_of(percent), warmth_of(most.temperature(minute))
        asked[at] += 1
        seen[at] += bool(flagged & {None, *(lane.name for lane in lanes)})
    return tuple(Cell(load=x, warmth=w, seen=seen[x, w], asked=n) for (x, w), n in sorted(asked.items()))


def _colours(pours: Sequence[Logged], fragrance: str) -> Iterator[bool]:
    for pour in pours:
        turned = discoloured(pour.state, pour.schedule, fragrance)
        if turned is not None:
            yield turned


def _holds(pours: Sequence[Logged], fragrance: str) -> Iterator[bool]:
    """Whether the scent held, as last judged a week after or cured."""
    for pour in pours:
        names = {None, *(lane.name for lane in pour.schedule.lanes if fragrance in lane.added)}
        told = [
            e
            for e in pour.state.standing
            if isinstance(e, Answered) and e.ask == "scent" and e.at != "cut" and e.portion in names
        ]
        if told:
            yield told[-1].says == "yes"


def _counted(seen: Iterator[bool]) -> Counted:
    each = list(seen)
    return Counted(seen=sum(each), asked=len(each))
