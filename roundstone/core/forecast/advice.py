"""One line for someone with wet gloves: what to do now, and why."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from ..pour import PourState, clock_text
from ..recipe import INTO_MOULD
from ..said import figure
from ..schedule import Task, marked_for_good, overdoses
from ..shelf import STAGES
from ..values import Id, Minutes, Name, Span, Value, listed
from .acts import moved
from .choose import Weighed, choose, faster_than_believed, weigh_acts
from .forecast import Projection
from .odds import Outlook, in_ten, outlook, told_of
from .run import middle, quantile, stands_when, when
from .turns import RISKY, FallBack, fall_backs

FAR_FASTER, FASTER, SLOWER = (
    5.0,
    1.35,
    0.7,
)  # pace at which it is worth saying that the batter is unlike the forecast [C]
UNSURE = 0.03  # of the look that hangs on what a portion is like, before it is worth a look at it [C]
LOOK_FIRST = 1.5  # level from which a step wants more than an emulsion, and a look before it is poured [C]

Do = Literal[
    "emulsion", "split", "scent", "pouring", "step", "ended", "done", "look",
    "hold", "wait", "burst", "loosen", "skip", "order", "switch", "fold", "spare", "gate", "resume",
]  # fmt: skip


class Advice(Value):
    """`do` names the act of the big key; what it needs stands beside it: a `portion` (and those it goes `into`), a
    `technique`, a `step` of the plan by its key, `minutes`; `again` is the span of 8 in 10 of these at a gate.

    `going_on` is the outlook of the plan as it stands and `go` the plan's own next act; `instead` is the outlook of
    what is advised, where that is a change. `warning` is said while the plan may still hold. `pace` is how many times
    as fast as forecast the leading portion moves; 1 while nothing was seen. `standing` names the change, so that it
    need not flicker."""

    headline: str
    detail: str
    do: Do
    go: Do
    portion: Name | None = None
    into: tuple[Name, ...] = ()
    technique: Id | None = None
    technique_name: str = ""
    step: str | None = None
    go_step: str | None = None
    minutes: Minutes | None = None
    again: Span | None = None
    going_on: Outlook | None = None
    instead: Outlook | None = None
    fall_back: FallBack | None = None
    pace: float
    caution: str = ""
    warning: str = ""
    standing: str = ""


def about(minutes: float) -> str:
    """Minutes as a maker says them."""
    if minutes < 0.75:
        return "under a minute"
    return f"about {minutes:.0f} min" if minutes < 120 else f"about {figure(minutes / 60, '.1f')} h"


def between(span: Span) -> str:
    """Between which minutes 8 in 10 come, as a sentence.

    >>> between(Span(low=12.2, high=95.0))
    '8 in 10 stand in 12 to 95 min.'
    """
    if span.high >= 120:
        return f"8 in 10 stand in {figure(span.low / 60, '.1f')} to {figure(span.high / 60, '.1f')} h."
    return f"8 in 10 stand in {span.low:.0f} to {span.high:.0f} min."


def pace(projection: Projection) -> tuple[float, int]:
    """How many times as fast as forecast, and in which lane: the one furthest off, else the first to thicken."""
    best = 1.0
    lane = min(range(len(projection.schedule.lanes)), key=lambda i: projection.forecast.lanes[i].stages[2].time.q50)
    for i, forecast in enumerate(projection.forecast.lanes):
        origin = projection.schedule.lanes[i].origin
        thick = forecast.stages[2]
        here = max(thick.time.q50 - origin, 0.1)
        ratio = max(thick.expected - origin, 0.1) / here
        if not SLOWER < ratio < FASTER and abs(np.log(ratio)) > abs(np.log(best)):
            best, lane = float(ratio), i
    return best, lane


def _why(projection: Projection, speed: float, lane: int) -> str:
    part = projection.forecast.lanes[lane]
    left = part.stages[2].time.q50 - projection.now
    thick = f"{about(left)} to thick" if part.level < STAGES.index("thick") else "it is thick"
    who = part.portion
    if speed > FAR_FASTER:
        return f"{who} moves far faster than forecast: {thick}."
    if speed >= FASTER:
        times = "twice" if 1.8 <= speed < 2.25 else f"{figure(speed, '.1f')} times"
        return f"{who} moves {times} as fast as forecast: {thick}."
    if speed <= SLOWER:
        return f"{who} moves slower than forecast: {thick}."
    return f"The batter moves as forecast: {part.portion} has {thick}."


class _Bench:
    """What a sentence is made of."""

    def __init__(self, projection: Projection) -> None:
        self.recipe, self.shelf, self.projection = projection.recipe, projection.shelf, projection
        self.schedule, self.state = projection.schedule, projection.state
        self.technique = projection.schedule.technique
        self.speed, lane = pace(projection)
        self.why = _why(projection, self.speed, lane)
        self.ahead = projection.schedule.reconciled.ahead
        self.names = [p.name for p in projection.recipe.design.portions]

    def named(self, lanes: Sequence[int]) -> str:
        return listed([self.names[i] for i in lanes])

    def seen(self, lanes: Sequence[int]) -> int:
        """Lowest stage that was last seen of these lanes."""
        return min((self.state.level(self.names[i]) for i in lanes), default=0)


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def advise(projection: Projection, standing: str = "") -> Advice:
    """What to do at this minute of the pour. `standing` is what the advice before this one was."""
    bench = _Bench(projection)
    if projection.state.ended is not None:
        return _after(bench)
    going, others = weigh_acts(projection)
    told = outlook(going.outcome, going.value)
    chosen = choose(going, others, standing)
    go = _go(bench, told)
    if projection.state.paused:
        return go.model_copy(
            update={"headline": f"Hands off. Then: {go.headline}", "do": "resume", "standing": standing}
        )
    if chosen.act.kind == "go" or _nothing_seen(projection.state):
        return _warned(bench, go, told)
    return _change(bench, go, told, chosen)


def _nothing_seen(state: PourState) -> bool:
    """Before anything was seen at the bench nothing speaks against the plan but what spoke against it before."""
    return state.emulsion is None and not state.looks and state.split is None


def _after(bench: _Bench) -> Advice:
    detail = "What this batter did is now part of every forecast."
    if not bench.state.taught:
        detail = "This pour is left out of learning."
    guessed = [lane for lane in bench.schedule.lanes if lane.added and bench.state.scented_at(lane.name) is None]
    if guessed:
        minute = max(m for m, _ in guessed[0].added.values())
        detail = (
            f"The fragrance was not tapped: it counts as in at {clock_text(minute)}, as planned. "
            "Write in when it was, or that it was left out."
        )
    headline = "Poured. Cover it, and gloves stay on until it is."
    return Advice(headline=headline, detail=detail, do="done", go="done", pace=bench.speed)


def _go(bench: _Bench, told: Outlook) -> Advice:  # noqa: PLR0911 - one return an act
    """The plan's own next act."""
    state, ahead, speed = bench.state, bench.ahead, bench.speed
    if _nothing_seen(state):
        return Advice(
            headline="Blend in short bursts to emulsion.",
            detail="A film holds on the blender bell and no oil floats free: then tap emulsion.",
            do="emulsion",
            go="emulsion",
            pace=1.0,
            going_on=told,
            caution="Raw batter burns: goggles and gloves on.",
        )
    first = ahead[0] if ahead else None
    if first is None:
        return Advice(
            headline="All in. Bang out the air and cover it.",
            detail=bench.why,
            do="ended",
            go="ended",
            pace=speed,
            going_on=told,
        )
    match first.do:
        case "combine":
            return _combining(bench, first, told)
        case "split":
            parts = ", ".join(
                f"{100 * bench.recipe.design.portions[i].share:.0f} % {bench.names[i]}" for i in first.lanes
            )
            return Advice(
                headline="Split now.", detail=f"{parts}. {bench.why}", do="split", go="split", pace=speed, going_on=told
            )
        case "colour" | "scent":
            return _colouring(bench, told)
        case "wait" | "blend":
            return _own_step(bench, first, told)
    return _pouring(bench, first, told)


def _combining(bench: _Bench, step: Task, told: Outlook) -> Advice:
    """Another batch: not before what is below it stands, if its layer waits for that."""
    layer = next((s for s in bench.ahead if s.looks), None)
    wait, again = _gate_minutes(bench, layer)
    blend = f"Combine {step.batch} and blend it to emulsion."
    detail = "Its own lye and fats, in short bursts: then tap emulsion on it."
    if wait > 1:
        blend = f"{_capital(step.batch)} next: what is below stands in {about(wait)}."
        detail = f"Combine it then, not before: nothing has to wait. {detail}"
    below = bench.named([_slowest(bench, layer)]) if wait > 1 and layer is not None else bench.names[step.lanes[0]]
    return Advice(
        headline=blend, detail=detail, do="gate" if wait > 1 else "emulsion", go="emulsion", portion=below,
        minutes=wait if wait > 1 else None, again=again if wait > 1 else None, pace=bench.speed, going_on=told,
    )  # fmt: skip


def _colouring(bench: _Bench, told: Outlook) -> Advice:
    recipe, shelf = bench.recipe, bench.shelf
    waiting = [bench.names[i] for s in bench.ahead if s.do == "scent" for i in s.lanes]
    # Only the batch in hand: what comes to prepare before the next step of the look.
    upto = next((n for n, s in enumerate(bench.ahead) if s.looks), len(bench.ahead))
    now = bench.ahead[:upto]
    waiting = [n for s in now if s.do == "scent" for i in s.lanes for n in [bench.names[i]] if n in waiting]
    colours = [bench.names[i] for s in now if s.do == "colour" for i in s.lanes]
    blend = shelf.blend_name(recipe.fragrances)
    if recipe.design.scent_at == "emulsion" and waiting and bench.state.split is None:
        by = "By hand, now that it is an emulsion." if recipe.design.scent_by == "hand" else "In one short burst."
        return Advice(
            headline=f"{'Whisk' if recipe.design.scent_by == 'hand' else 'Blend'} {blend} into the whole pot.",
            detail=f"{by} {bench.why}",
            do="scent",
            go="scent",
            pace=bench.speed,
            going_on=told,
        )
    if waiting:
        notes = [n for f in recipe.fragrances if (n := shelf.fragrances[f].note)]
        first = "Colour, then whisk" if colours else "Whisk"
        return Advice(
            headline=f"{first} {blend} into {listed(waiting)}{' last' if colours else ''}.",
            detail=f"By hand: the stick would cost minutes. {bench.why}",
            do="scent",
            go="scent",
            portion=waiting[0],
            pace=bench.speed,
            going_on=told,
            caution=f"Your note: {' '.join(notes)}" if notes else "",
        )
    look = bench.projection.schedule.reconciled.next_look
    after = _pouring(bench, look, told) if look is not None else None
    go: Do = after.go if after is not None else "ended"
    return Advice(
        headline=f"Colour {listed(colours)}.",
        detail=f"By hand, no more than it takes. {bench.why}",
        do=go,
        go=go,
        step=after.step if after is not None else None,
        go_step=after.go_step if after is not None else None,
        pace=bench.speed,
        going_on=told,
    )


def _own_step(bench: _Bench, step: Task, told: Outlook) -> Advice:
    headline = f"{_capital(step.label)}."
    minutes: float | None = None
    detail = bench.why
    if step.do == "wait":
        end = when(bench.projection.context, bench.projection.at, list(step.lanes), step.to) if step.to else None
        # What stands there already is not waited for.
        minutes = max(middle(end.max(axis=0)) - bench.projection.now, 0.0) if end is not None else step.minutes
        headline = f"{_capital(step.label)}: {about(minutes)}."
    elif step.to is not None:
        detail = f"With the stick, on purpose, to {STAGES[min(int(step.to), 5)]}. {bench.why}"
    return Advice(
        headline=headline, detail=detail, do="step", go="step", step=step.key, go_step=step.key, minutes=minutes,
        pace=bench.speed, going_on=told,
    )  # fmt: skip


def _gate_minutes(bench: _Bench, step: Task | None) -> tuple[float, Span]:
    """Middle minutes until what is below a step stands, and what 8 in 10 wait; 0 when it does, or nothing waits."""
    context, at = bench.projection.context, bench.projection.at
    under = [i for i in at.in_mould if step is not None and i not in step.lanes]
    if step is None or step.wants.gate is None or not under:
        return 0.0, Span(low=0.0, high=0.0)
    ready = stands_when(context, at, under, step.wants.gate) - bench.projection.now
    return max(middle(ready), 0.0), Span(low=max(quantile(ready, 0.1), 0.0), high=max(quantile(ready, 0.9), 0.0))


def _slowest(bench: _Bench, step: Task) -> int:
    """Of what a step is poured on, the lane that will stand last."""
    under = [i for i in bench.projection.at.in_mould if i not in step.lanes]
    gate = step.wants.gate or 1.0
    ready = [stands_when(bench.projection.context, bench.projection.at, [i], gate) for i in under]
    return under[int(np.argmax([middle(x) for x in ready]))]


def _pouring(bench: _Bench, step: Task, told: Outlook) -> Advice:
    """The next step of the look: poured now, waited for, or looked at first."""
    state, technique, why = bench.state, bench.technique, bench.why
    poured = state.pouring is not None
    go: Do = "step" if poured else "pouring"
    base = {"go": go, "go_step": step.key if poured else None, "pace": bench.speed, "going_on": told}
    who = bench.named(step.lanes) if step.lanes else "it"
    wait, again = _gate_minutes(bench, step)
    if wait > 1:
        below = bench.named([_slowest(bench, step)])
        return Advice(
            headline=f"It must stand by itself: look at {below} again in {about(wait)}.",
            detail=f"{between(again)} Tilt it: nothing may run. Touch the film: no wet finger. "
            f"{_capital(step.label)} then goes on; waiting costs it nothing.",
            do="gate", portion=below, step=step.key, minutes=wait, again=again, **base,
        )  # fmt: skip
    wanted = step.wants.band[1]
    if (
        step.do in INTO_MOULD
        and wanted >= LOOK_FIRST
        and step.wants.to is None
        and bench.seen(step.lanes) < int(wanted)
    ):
        return Advice(
            headline=f"Look at {who}: {_capital(step.label)} wants {STAGES[min(int(wanted), 5)]}.",
            detail=f"Tap what you see. {why}",
            do="look", step=step.key, portion=bench.names[step.lanes[0]] if step.lanes else None, **base,
        )  # fmt: skip
    unseen = _unseen(bench, told) if not poured else None
    if unseen is not None:
        name = bench.names[unseen]
        return Advice(
            headline=f"Look at {name} before you pour.",
            detail=f"It was not looked at since its scent went in, and much hangs on it: tap what you see. {why}",
            do="look", step=step.key, portion=name, **base,
        )  # fmt: skip
    thicken = f" Thicken {who} on purpose first, with the stick." if step.wants.to is not None else ""
    if not poured:
        headline = f"{_capital(technique.short)}: pour now."
        detail = f"{_capital(technique.how)}.{thicken} {why}"
    else:
        headline = f"{_capital(step.label)}."
        detail = f"{thicken} {why}".strip()
    return Advice(headline=headline, detail=detail, do=go, step=step.key, **base)


def _unseen(bench: _Bench, told: Outlook) -> int | None:
    """Where the plan may well fail: of the portions that nobody looked at since their fragrance went in the one on
    which most hangs, if it is more than `UNSURE`."""
    state = bench.state
    if told.drawn >= RISKY:
        return None
    hangs: dict[int, float] = {}
    for played in bench.projection.outcome.steps:
        if played.done or not played.task.looks:
            continue
        for i, fit in zip(played.task.lanes, played.each, strict=True):
            name = bench.names[i]
            scented = state.scented_at(name)
            seen = state.mishap(name) or any(k.minute > (scented or 0.0) for k in state.looks_of(name))
            if scented is not None and not seen:
                hangs[i] = hangs.get(i, 0.0) + float(fit.std()) * played.task.wants.weight / len(played.task.lanes)
    whole = sum(s.wants.weight for s in bench.ahead if s.looks)
    most = max(hangs, key=lambda i: hangs[i], default=None)
    return most if most is not None and hangs[most] > UNSURE * whole else None


def _warned(bench: _Bench, go: Advice, told: Outlook) -> Advice:
    """Going on, with a word of what may go wrong and the first fall-back while there is time for it."""
    weakest = bench.projection.forecast.weakest
    quiet = _whisk_only(bench) if any(s.do in ("colour", "scent") for s in bench.ahead) else ""
    go = go.model_copy(update={"caution": " ".join(filter(None, [_overdosed(bench), go.caution or quiet]))})
    if told.drawn >= RISKY or weakest is None or bench.state.ended is not None:
        return go
    projection = bench.projection
    found = list(
        fall_backs(
            projection.context,
            projection.at,
            bench.ahead,
            projection.outcome,
            projection.job,
            bench.technique,
            most=1,
        )
    )
    words = f"{_capital(weakest.message)}."
    if found:
        back = found[0]
        words += f" Ready {back.trigger}: {back.name.lower()}, {in_ten(back.instead.drawn)}."
    return go.model_copy(update={"warning": words, "fall_back": found[0] if found else None})


def _change(bench: _Bench, go: Advice, told: Outlook, chosen: Weighed) -> Advice:  # noqa: PLR0911 - one an act
    """A change of the plan, with the odds of both."""
    act = chosen.act
    instead = outlook(chosen.outcome, chosen.value)
    who = bench.named(act.lanes)
    quiet = _whisk_only(bench)
    both = f"{_furthest(bench)} Going on: {told_of(told)}."
    base = go.model_copy(
        update={
            "instead": instead,
            "standing": act.name,
            "caution": " ".join(filter(None, [_overdosed(bench), quiet or go.caution])),
            "warning": "",
        }
    )
    name = bench.technique.name.lower()
    match act.kind:
        case "switch":
            other = act.technique
            assert other is not None
            return base.model_copy(update={
                "headline": f"Leave the {name}. {other.name} instead.",
                "detail": f"{both} {other.name}: {in_ten(instead.drawn)}; {other.how}.",
                "do": "switch", "technique": other.id, "technique_name": other.name,
            })  # fmt: skip
        case "skip":
            step = act.step
            assert step is not None
            return base.model_copy(update={
                "headline": f"Leave out: {step.label}.",
                "detail": f"{both} Without it: {told_of(instead)}.",
                "do": "skip", "step": step.key,
            })  # fmt: skip
        case "fold":
            x, *into = (bench.names[i] for i in act.lanes)
            return base.model_copy(update={
                "headline": f"Fold {x} into {listed(into)}.",
                "detail": f"By hand, no stick. {both} Folded: {told_of(instead)}.",
                "do": "fold", "portion": x, "into": tuple(into),
            })  # fmt: skip
        case "spare":
            return base.model_copy(update={
                "headline": "The rest into a spare mould.",
                "detail": f"{both} What is in the mould stays as it is.",
                "do": "spare", "portion": None,
            })  # fmt: skip
        case "hold":
            return base.model_copy(update={
                "headline": "Scent each just before it is poured.",
                "detail": f"Pour the first before the next gets its scent. {both} So: {told_of(instead)}.",
                "do": "hold", "portion": None,
            })  # fmt: skip
        case "burst":
            seconds = 60 * act.minutes
            return base.model_copy(update={
                "headline": f"{who} is thin: {seconds:.0f} s with the stick.",
                "detail": f"In bursts, and look between them. {both} Then: {told_of(instead)}.",
                "do": "burst", "portion": who, "minutes": act.minutes,
            })  # fmt: skip
        case "loosen":
            return base.model_copy(update={
                "headline": f"Stir {who} loose, then pour it at once.",
                "detail": f"By hand, {60 * act.minutes:.0f} s. {both} Then: {told_of(instead)}.",
                "do": "loosen", "portion": who, "minutes": act.minutes,
            })  # fmt: skip
        case "order":
            return base.model_copy(update={
                "headline": f"{who} first: it is the thickest.",
                "detail": f"{both} In this order: {told_of(instead)}.",
                "do": "order", "portion": who, "step": act.step.key if act.step is not None else None,
            })  # fmt: skip
    return base.model_copy(update={
        "headline": f"Still thin: wait {about(act.minutes)}, then look.",
        "detail": f"{both} Then: {told_of(instead)}.",
        "do": "wait", "minutes": act.minutes,
    })  # fmt: skip


def _furthest(bench: _Bench) -> str:
    """The portion still to come that was seen furthest along, or how the batter moves."""
    left = bench.schedule.reconciled.left
    coming = {i for s in bench.ahead if s.looks and s.do in INTO_MOULD for i in s.lanes if left[i] > 0}
    level, name = max(((bench.state.level(bench.names[i]), bench.names[i]) for i in sorted(coming)), default=(0, ""))
    if level < STAGES.index("medium"):
        return bench.why
    lane = bench.names.index(name)
    thick = bench.projection.forecast.lanes[lane].stages[2]
    fast = thick.expected - bench.schedule.lanes[lane].origin > FASTER * (
        thick.time.q50 - bench.schedule.lanes[lane].origin
    )
    return f"{name} is at {STAGES[level]} already{', faster than forecast' if fast else ''}."


def _overdosed(bench: _Bench) -> str:
    """Said of a portion that got more fragrance than its certificates allow in the bar."""
    of = bench.projection
    return marked_for_good(overdoses(of.recipe, of.shelf, of.job.sheet, of.state))


def _whisk_only(bench: _Bench) -> str:
    """Said of batter that has moved by itself."""
    fast = faster_than_believed(bench.projection)
    context = bench.projection.context
    still = [i for i in range(len(bench.names)) if moved(context, i, fast) and i not in bench.projection.at.in_mould]
    return f"Whisk only, no stick: {bench.named(still)}." if still else ""
