"""What the bench shows at this minute: lanes folded to what matters now, clocks and cues."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Literal

import numpy as np

from ..account import Account, Where, account_of
from ..batter import LEVELS, Array, Draws
from ..face import Tint
from ..forecast.forecast import Projection
from ..forecast.odds import clamped
from ..forecast.turns import RISKY
from ..forecast.views import quantiles
from ..pour import Flag, Split
from ..recipe import INTO_MOULD, ON_MOULD, build_of
from ..schedule import Cue, Task, tasks_on, tint_of
from ..simulate import DAY, Played, middle, quantile, stands_when
from ..values import Minutes, Name, Quantiles, Share, Value, listed
from .acts import may_hold
from .keys import Key, keys_of, waits_for_scent
from .rescue import Rescue, rescue_of
from .sentence import Advice

LEAST_HORIZON, MOST_HORIZON = 8.0, 60.0  # minutes from now that the lanes show [C]
BEFORE_CLOSING = 1.0  # minutes of warning before a step's time is up in the middle of what is believed [C]
STANDS = 3.1  # level at which a layer stands where its step does not say [C]
REACTS = 3.0  # minutes in which a portion that got its fragrance is the one to look at [C]
COMING = 4  # steps to come that stand ready to be tapped as done, left out or done otherwise [chosen]
SHADES = 25  # even steps of a lane's shade from now to its horizon [chosen]
BEYOND = 1.25  # times the rest of the plan that the lanes show [C]
# When one is called to a gate: the share of the draws in which it stands, and in which words.
CALLS = ((0.1, "may stand already"), (0.5, "stands, likely as not"), (0.9, "should stand by now"))


class LaneNow(Value):
    """A portion now. `left` are the middle minutes until it is too thick for its next step, `span` the minutes on the
    pour's clock at which it is, None where that does not matter; `shade` its mean level at even steps from now to the
    horizon; `assumed`: by the clock some of it is likely in the mould, which nobody told. What is only poured on a
    later `day` of the build has no odds and no minutes left here."""

    portion: Name
    tint: Tint
    level: int
    seen: Minutes | None
    where: Where
    assumed: bool
    day: int | None
    does: str
    step: str
    odds: Share | None
    start: Minutes
    risky: bool
    thin: bool
    left: Minutes | None
    span: Quantiles | None
    shade: tuple[float, ...]
    scent: Literal["in", "waits", "none"]
    scented: Minutes | None
    grams: float
    flagged: Flag | None


class ClockNow(Value):
    """Something that has begun, and when."""

    name: str
    since: Minutes


class StepComing(Value):
    """A step of the look that is still to come."""

    key: str
    label: str


class BenchNow(Value):
    """`horizon` is how many minutes from now the lanes show; `choose` the portion a hand is likely to be at next.

    `keys` are the big key and those beside it. `batch` is the next one whose lye has not met its fats; `below` the
    portion that a layer test is of, `grams` the fragrance that all who wait for it get, `scents` those by name, in the
    plan's order. `about` are the subjects whose
    notes for next time belong to the step in hand. `may_hold`: fragrances could wait for their portions' turns.
    """

    keys: tuple[Key, ...]
    lanes: tuple[LaneNow, ...]
    horizon: Minutes
    choose: Name | None
    batches: tuple[ClockNow, ...]
    scent: ClockNow | None
    grams: float
    scents: tuple[Name, ...]
    step: ClockNow | None
    about: tuple[str, ...]
    cues: tuple[Cue, ...]
    rescue: Rescue | None
    coming: tuple[StepComing, ...]
    batch: Name | None
    below: Name | None
    paused: bool
    may_hold: bool


def crossing(draws: Draws, lane: int, level: float) -> Array:
    """When a lane comes to any level from light (2) to set (5), straight between the ones that are drawn (draws)."""
    at = float(np.clip(level, LEVELS[0], LEVELS[-1]))
    high = int(np.searchsorted(LEVELS, at))
    low = max(high - 1, 0)
    times = draws.times[lane]
    part = 0.0 if high == low else (at - LEVELS[low]) / (LEVELS[high] - LEVELS[low])
    return np.asarray(times[:, low] + part * (times[:, high] - times[:, low]))


def bench_now(
    projection: Projection,
    advice: Advice,
    mishaps: Mapping[str, Mapping[str, int]],
) -> BenchNow:
    """What the bench shows. `mishaps` are from the maker's own log: pours told of, seen in, and how each ended."""
    schedule, state, now = projection.schedule, projection.state, projection.now
    account = account_of(projection)
    ahead = [p for p in projection.outcome.steps if not p.done]
    on = tasks_on(p.task for p in ahead)
    before = build_of(projection.recipe.design).many - max(on, default=0)  # of days, today one of them
    later = {p.task.key: before + d for p, d in zip(ahead, on, strict=True) if d}
    last = max((middle(p.end) for p in ahead if p.task.looks and p.task.key not in later), default=now)
    horizon = float(np.ceil(np.clip(BEYOND * (last - now), LEAST_HORIZON, MOST_HORIZON)))
    lanes = tuple(_lane(projection, account, i, horizon, ahead, later) for i in range(len(schedule.bare)))
    steps = [s.end for s in account.steps if s.standing == "told" and s.end <= now]
    first = account.open[0] if account.open else None
    nxt = next((p for p in ahead if p.task.looks), None)
    under = [i for i in account.mould if nxt is not None and i not in nxt.task.lanes]
    gate = nxt.task.wants.gate if nxt is not None and nxt.task.wants.gate is not None else STANDS
    batches = [
        ClockNow(name=b, since=min(schedule.begins[i] for i, p in enumerate(projection.recipe.design.portions)
                                   if projection.recipe.design.batch_of(p) == b))
        for b in projection.recipe.design.batches
        if not b or _combined(projection, b)
    ]  # fmt: skip
    scents = [m for m in state.scents.values() if m > 0]
    design = projection.recipe.design
    return BenchNow(
        keys=keys_of(projection, advice, account),
        lanes=lanes,
        horizon=horizon,
        choose=_choose(projection, advice, account),
        batches=tuple(batches),
        scent=ClockNow(name="scent in", since=_scent_in_hand(projection, first) or max(scents)) if scents else None,
        grams=sum(lane.grams for lane in lanes if lane.scent == "waits"),
        scents=waits_for_scent(projection, account),
        step=ClockNow(name=first.label, since=max(steps)) if first is not None and steps else None,
        about=_about(projection, first) if first is not None else (),
        cues=tuple(sorted(_cues(projection, lanes, under, nxt), key=lambda c: c.minute)),
        rescue=rescue_of(state, mishaps, advice),
        coming=tuple(
            StepComing(key=t.key, label=t.label) for t in account.open if t.looks
        )[:COMING],
        batch=next((b for b in design.batches if b and not _combined(projection, b)), None),
        below=schedule.bare[max(under, key=lambda i: _stands(projection, i, gate))].name if under else None,
        paused=state.paused,
        may_hold=may_hold(projection.context, schedule.reconciled.ahead),
    )  # fmt: skip


def _scent_in_hand(projection: Projection, step: Task | None) -> float | None:
    """When the portion in hand got its fragrance."""
    names = [projection.schedule.bare[i].name for i in step.lanes] if step is not None else []
    return next((m for n in names if (m := projection.state.scents.get(n))), None)


def _about(projection: Projection, step: Task) -> tuple[str, ...]:
    """What a note would be about that belongs to a step: its colourants, its scent, or its mould and technique."""
    recipe = projection.recipe
    match step.do:
        case "colour":
            names = [projection.schedule.bare[i].name for i in step.lanes]
            return tuple(f"colour:{d.additive}" for d in recipe.additives if any(map(d.reaches, names)))
        case "scent":
            return tuple(f"fragrance:{f}" for f in recipe.fragrances)
        case do if do in INTO_MOULD:
            return ("mould", f"technique:{projection.schedule.technique.id}")
        case do if do in ON_MOULD:
            return (f"technique:{projection.schedule.technique.id}",)
    return ()


def _stands(projection: Projection, lane: int, gate: float) -> float:
    """Middle minute at which a lane stands."""
    return middle(stands_when(projection.context, projection.at, [lane], gate))


def _combined(projection: Projection, batch: str) -> bool:
    design = projection.recipe.design
    if batch == design.batches[0] or batch in projection.state.combined:
        return True
    return any(projection.schedule.emulsified[i] for i, p in enumerate(design.portions) if design.batch_of(p) == batch)


def _next(ahead: list[Played], lane: int, where: Where) -> Played | None:
    """The next step of the look that is done to a lane: pouring it, while it is in its pot."""
    its = [p for p in ahead if lane in p.task.lanes and p.task.looks]
    poured = [p for p in its if p.task.do in INTO_MOULD]
    return next(iter(poured if where in ("pot", "raw") and poured else its), None)


def _lane(
    projection: Projection, account: Account, i: int, horizon: float, ahead: list[Played], later: Mapping[str, int]
) -> LaneNow:
    schedule, state, now = projection.schedule, projection.state, projection.now
    name = schedule.bare[i].name
    where = account.portions[i].where
    batch = projection.recipe.design.batch_of(projection.recipe.design.portions[i])
    step = _next(ahead, i, where)
    left, span = None, None
    if step is not None and where in ("pot", "raw") and step.task.wants.weight > 0:
        hi = step.task.wants.band[2]
        if hi < LEVELS[-1]:
            at = crossing(projection.draws, i, hi)
            span = quantiles(np.clip(at, -DAY, DAY))
            left = span.q50 - now
    assumed = next((t for t in account.assumed if i in t.lanes and t.do in INTO_MOULD), None)
    if assumed is not None:  # until a hand tells it, it is still to be done, and its odds are of no more use
        step, left, span = None, None, None
    day = later.get(step.task.key) if step is not None else None
    if day is not None:
        step, left, span = None, None, None
    odds = clamped(float(step.each[step.task.lanes.index(i)].mean())) if step is not None and len(step.each) else None
    forecast = projection.forecast.lanes[i]
    looks = state.looks_of(name)
    flag = state.mishap(name)
    scented = state.scented_at(name)
    waits = projection.recipe.design.portions[i].scented and state.waits_for_scent(name)
    axis = projection.forecast.axis
    grid = np.linspace(now, now + horizon, SHADES)
    points = np.linspace(0, axis, len(forecast.shade))
    weighs = step is not None and step.task.wants.weight > 0
    return LaneNow(
        portion=name,
        tint=tint_of(projection.recipe, projection.shelf, i),
        level=state.level(name),
        seen=looks[-1].minute if looks else None,
        where="pot" if where == "raw" and _combined(projection, batch) else where,
        assumed=assumed is not None,
        day=day,
        does=assumed.do if assumed is not None else step.task.do if step is not None else "",
        step=assumed.label if assumed is not None else step.task.label if step is not None else "",
        odds=odds if weighs else None,
        start=max(middle(step.start), now) if step is not None else now,
        risky=odds is not None and weighs and odds < RISKY,
        thin=step is not None and i in step.too_thin_in,
        left=left,
        span=span,
        shade=tuple(np.round(np.interp(grid, points, forecast.shade), 2).tolist()),
        scent="in" if scented is not None else "waits" if waits and projection.recipe.scents else "none",
        scented=scented,
        grams=sum(schedule.percents[i].values()) / 100 * projection.job.sheet.fats * schedule.shares[i],
        flagged=flag.flag if flag is not None else None,
    )


def _choose(projection: Projection, advice: Advice, account: Account) -> Name | None:
    """The portion a hand is likely to be at next; None for the pot, or all of it."""
    names = [lane.name for lane in projection.schedule.bare]
    state = projection.state
    design = projection.recipe.design
    if not any(isinstance(e, Split) for e in state.standing) and state.pouring is None:
        return None
    last, at = max(((n, m) for n, m in state.scents.items() if n in names), key=lambda x: x[1], default=(None, 0.0))
    looked = last is not None and any(k.minute > at for k in state.looks_of(last))
    if (
        last is not None
        and not looked
        and state.pouring is None
        and projection.now - at < REACTS
        and names.index(last) not in account.mould
    ):
        return last  # what it does to it is to be looked at first
    if advice.portion in names:
        return advice.portion
    first = next((t for t in account.open if t.lanes), None)
    if first is None or (len(first.lanes) > 1 and len(first.lanes) == len(design.portions)):
        return None
    return names[first.lanes[0]]


def _cues(projection: Projection, lanes: Sequence[LaneNow], under: Sequence[int], nxt: Played | None) -> Iterator[Cue]:
    now = projection.now
    if projection.state.ended is not None:
        return
    for lane in lanes:
        if lane.left is not None and lane.where == "pot" and lane.level >= 1 and lane.left > 0:
            message = f"{lane.portion} has about a minute left to {lane.does}"
            yield Cue(minute=max(now, now + lane.left - BEFORE_CLOSING), kind="closing", message=message)
    if nxt is not None and under and nxt.task.wants.gate is not None:
        ready = stands_when(projection.context, projection.at, under, nxt.task.wants.gate)
        names = listed([projection.schedule.bare[i].name for i in under])
        for share, words in CALLS:
            at = quantile(ready, share)
            if at > now:
                yield Cue(minute=at, kind="gate", message=f"Look at {names}: it {words}")
    first = projection.schedule.reconciled.ahead[0] if projection.schedule.reconciled.ahead else None
    if first is not None and first.do == "wait":
        end = next((middle(p.end) for p in projection.outcome.steps if p.task.key == first.key), now)
        yield Cue(minute=end, kind="countdown", message=f"{first.label[:1].upper()}{first.label[1:]}: time is up")
