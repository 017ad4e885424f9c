"""What is odd about a tap by the account of the pour: asked afterwards, like every doubt."""

import numpy as np

from ..forecast.forecast import Projection
from ..forecast.surprise import RARE, surprise
from ..pour import Doubt, Ended, Event, LayerTested
from ..recipe import INTO_MOULD
from ..simulate import when
from ..text import say
from ..values import listed
from .account import account_of

AT_ONCE = 1.0  # minutes after its pour in which a layer that stands is asked about [C]
STANDS = 3.1  # level at which a layer stands where no step says [C]


def doubt_of(projection: Projection, event: Event) -> Doubt | None:
    """A doubt about a tap by the forecast and the account made before it."""
    match event:
        case Ended():
            return _left_over(projection)
        case LayerTested() if event.how == "stands":
            return _too_soon(projection, event)
    return surprise(projection, event)


def _left_over(projection: Projection) -> Doubt | None:
    """The mould is said to be full, and batter stands in its cups by all that was told, and by the clock too."""
    account = account_of(projection)
    if account.last_in_hand:
        return None
    coming = [s.task for s in account.steps if s.standing == "to come" and s.task.do in INTO_MOULD]
    lanes = {i for t in coming if t.wants.keep is None for i in t.lanes}
    names = [p.name for p in account.outside if p.lane in lanes]
    if projection.state.pouring is None or not names:
        return None
    are = "is" if len(names) == 1 else "are"
    return Doubt(
        "/kind", say(listed(names), " ", are, " not in the mould by what was tapped. Is all of it in?"), "waits"
    )


def _too_soon(projection: Projection, event: LayerTested) -> Doubt | None:
    """A layer is said to stand when hardly any of what is believed has it so."""
    lane = next((i for i, x in enumerate(projection.schedule.bare) if x.name == event.portion), None)
    if lane is None:
        return None
    account = account_of(projection)
    look = account.next_look
    gate = look.wants.gate if look is not None and look.wants.gate is not None else STANDS
    ready = when(projection.context, projection.at, [lane], gate)[0]
    poured = max(
        (s.end for s in account.steps
         if s.standing == "told" and lane in s.task.lanes and s.task.do in INTO_MOULD),
        default=None,
    )  # fmt: skip
    if poured is not None and event.minute - poured < AT_ONCE:
        return Doubt("/how", say(event.portion, " was poured less than a minute ago. Does it stand already?"), "waits")
    if float(np.mean(ready <= event.minute)) >= RARE:
        return None
    return Doubt(
        "/how",
        say("It is very unlikely that ", event.portion, " stands so soon: less than 1 %. Is it so?"),
        "waits",
    )
