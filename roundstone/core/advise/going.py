"""The plan's own next act, in a sentence."""

from typing import Any

import numpy as np

from ..account import gate_of
from ..forecast.odds import Outlook
from ..forecast.turns import RISKY
from ..pour import PourState, mist_and_oven
from ..recipe import INTO_MOULD
from ..schedule import PUT_BY, Task, how_laid, is_a_night, tasks_on, top_told
from ..shelf import STAGES
from ..simulate import fit_of, levels_at, middle, quantile, stands_when, when
from ..text import Text, joined, say
from ..values import Span, listed
from .sentence import Advice, Bench, Do, about, between, capitalised, told_to

UNSURE = 0.03  # of the look that hangs on what a portion is like, before it is worth a look at it [C]
FITS, WAITS_SAID = 0.5, 2.0  # fit below which a step is waited for, and minutes of it that are worth saying [C]
LOOK_FIRST = 1.5  # level from which a step wants more than an emulsion, and a look before it is poured [C]


def nothing_seen(state: PourState) -> bool:
    """Before anything was seen at the bench nothing speaks against the plan but what spoke against it before."""
    return state.emulsion is None and not state.looks and state.split is None


def next_act(bench: Bench, told: Outlook) -> Advice:  # noqa: PLR0911 - one return an act
    """The plan's own next act, by what a hand has told: the first step that nobody tapped, however late it is."""
    state, ahead = bench.state, bench.ahead
    base: dict[str, Any] = {"pace": bench.speed, "going_on": told}
    if nothing_seen(state):
        return Advice(
            headline="Blend in short bursts to emulsion.",
            detail=say(_raw(bench, bench.recipe.design.batches[0]), FILM, "" if bench.schedule.measured else READ_ONCE),
            do="emulsion",
            go="emulsion",
            caution="Raw batter burns: goggles and gloves on.",
            **base | {"pace": 1.0},
        )
    solid = state.mishap()
    if solid is not None and solid.flag == "seizing" and solid.portion is None and bench.account.next_look is not None:
        return _pouring(bench, bench.account.next_look, told)  # there is nothing left to prepare
    first = ahead[0] if ahead else None
    if first is None:
        words = "All in. Bang out the air and cover it."
        topped = any(s.task.do == "top" for s in bench.account.steps)
        on_top = "" if topped else joined("; ", top_told(bench.recipe))
        detail = say(say("On top: ", on_top, ". ") if on_top else "", bench.why)
        return Advice(headline=words, detail=detail, do="ended", go="ended", **base)
    match first.do:
        case "combine":
            return _combining(bench, first, told)
        case "split":
            weights = bench.projection.job.sheet.portions
            parts = joined(", ", (say(weights[i].shown.batter, " ", bench.names[i]) for i in first.lanes))
            return Advice(headline="Split now.", detail=say(parts, ". ", bench.why), do="split", go="split", **base)
        case "colour" | "scent":
            return _colouring(bench, told)
        case "wait" | "blend":
            return _own_step(bench, first, told)
    return _pouring(bench, first, told)


READ_ONCE = " Read the temperature once, now."
FILM = "No oil streaks on the surface, and a film on the blender: then tap emulsion."


def _raw(bench: Bench, batch: str) -> Text:
    """What a batch takes of pot and jug, where there are several."""
    design, scales = bench.recipe.design, bench.shelf.scales
    if len(design.batches) < 2:
        return Text.NONE
    weighed = bench.projection.job.sheet.portions
    mine = [w for p, w in zip(design.portions, weighed, strict=True) if design.batch_of(p) == batch]
    pot, jug = sum(w.from_pot for w in mine), sum(w.from_jug for w in mine)
    return say(scales.shown(pot), " of the fat pot, ", scales.both(jug, down=True), " of the lye jug. ")


def _combining(bench: Bench, step: Task, told: Outlook) -> Advice:
    """Another batch: not before what is below it stands, if its layer waits for that."""
    layer = bench.account.next_look
    gate = gate_of(bench.account, bench.projection, layer) if layer is not None else None
    if layer is not None and gate is not None and gate.test is not None and not gate.open:
        base = {"go": "emulsion", "pace": bench.speed, "going_on": told}
        found = _gated(bench, layer, base)  # it was tried, and did not stand
        if found is not None:
            return found
    wait, again = _gate_minutes(bench, layer)
    blend = say("Combine ", step.batch, " and blend it to emulsion.")
    detail = say(_raw(bench, step.batch), "In short bursts: then tap emulsion on it.")
    if wait > 1:
        blend = say(capitalised(step.batch), " next: what is below stands in ", about(wait), ".")
        detail = say("Combine it then, not before: nothing has to wait. ", detail)
    below = bench.named([_slowest(bench, layer)]) if wait > 1 and layer is not None else bench.names[step.lanes[0]]
    return Advice(
        headline=blend, detail=detail, do="gate" if wait > 1 else "emulsion", go="emulsion", portion=below,
        minutes=wait if wait > 1 else None, again=again if wait > 1 else None, pace=bench.speed, going_on=told,
    )  # fmt: skip


def _colouring(bench: Bench, told: Outlook) -> Advice:
    recipe, shelf = bench.recipe, bench.shelf
    # Only the batch in hand: what comes to prepare before the next step of the look.
    upto = next((n for n, s in enumerate(bench.ahead) if s.looks), len(bench.ahead))
    now = bench.ahead[:upto]
    waiting = [bench.names[i] for s in now if s.do == "scent" for i in s.lanes]
    colours = [bench.names[i] for s in now if s.do == "colour" for i in s.lanes]
    blend = shelf.blend_name(recipe.fragrances)
    if recipe.design.scent_at == "emulsion" and waiting and bench.state.split is None:
        by = "By hand, now that it is an emulsion." if recipe.design.scent_by == "hand" else "In one short burst."
        return Advice(
            headline=f"{'Whisk' if recipe.design.scent_by == 'hand' else 'Blend'} {blend} into the whole pot.",
            detail=say(by, " ", bench.why),
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
            amount=_scent_of(bench, waiting[0]),
            detail=say("By hand: the stick would cost minutes. ", bench.why).strip(),
            do="scent",
            go="scent",
            portion=waiting[0],
            pace=bench.speed,
            going_on=told,
            caution=f"Your note: {' '.join(notes)}" if notes else "",
        )
    look = bench.account.next_look
    after = _pouring(bench, look, told) if look is not None else None
    return Advice(
        headline=f"Colour {listed(colours)}.",
        detail=say("By hand, no more than it takes. ", bench.why).strip(),
        do="step",
        go=after.go if after is not None else "ended",
        step=[t for t in now if t.do == "colour"][-1].key,
        go_step=after.go_step if after is not None else None,
        pace=bench.speed,
        going_on=told,
    )


def _scent_of(bench: Bench, name: str) -> Text:
    """Grams of fragrance that the portion in hand gets."""
    shown = bench.projection.job.sheet.portions[bench.names.index(name)]
    return say(shown.shown.fragrance, " into ", name) if shown.fragrance else Text.NONE


def _own_step(bench: Bench, step: Task, told: Outlook) -> Advice:
    headline = say(told_to(bench, step), ".")
    minutes: float | None = None
    detail = bench.why
    if is_a_night(step):
        return _overnight(bench, step, told)
    if step.do == "wait":
        end = when(bench.projection.context, bench.projection.at, list(step.lanes), step.to) if step.to else None
        # What stands there already is not waited for.
        minutes = max(middle(end.max(axis=0)) - bench.projection.now, 0.0) if end is not None else _left(bench, step)
        headline = say(capitalised(step.label), ": ", about(minutes), ".")
    elif step.to is not None:
        detail = say("With the stick, on purpose, to ", STAGES[min(int(step.to), 5)], ". ", bench.why)
    return Advice(
        headline=headline, detail=detail, do="step", go="step", step=step.key, go_step=step.key, minutes=minutes,
        pace=bench.speed, going_on=told,
    )  # fmt: skip


def _left(bench: Bench, wait: Task) -> float:
    """Minutes of a wait that are still to come."""
    first = bench.ahead[0] if bench.ahead else None
    return wait.minutes * (bench.schedule.reconciled.under if first is not None and first.key == wait.key else 1.0)


def _overnight(bench: Bench, step: Task, told: Outlook) -> Advice:
    """The day's work is done: what stays is covered, and only a hand begins the next."""
    tasks = [s.task for s in bench.account.steps]
    day = next(on for t, on in zip(tasks, tasks_on(tasks), strict=True) if t.key == step.key) + 2
    left = _left(bench, step)
    when_due = say("By plan in ", about(left), ". ") if left > 1 else "The time for it has come. "
    detail = say(when_due, f"Cover the mould, gloves on until it is. Lye that is left: {PUT_BY}; lids on the fats.")
    return Advice(
        headline=f"Day {day} comes next.", detail=detail, do="step", go="step", step=step.key, go_step=step.key,
        minutes=left, pace=bench.speed, going_on=told, day=day,
    )  # fmt: skip


def _gate_minutes(bench: Bench, step: Task | None) -> tuple[float, Span]:
    """Middle minutes until what is below a step stands, and what 8 in 10 wait; 0 when it does, or nothing waits."""
    context, at = bench.projection.context, bench.projection.at
    under = [] if step is None else _below(bench, step)
    if step is None or step.wants.gate is None or not under:
        return 0.0, Span(low=0.0, high=0.0)
    ready = stands_when(context, at, under, step.wants.gate) - bench.projection.now
    return max(middle(ready), 0.0), Span(low=max(quantile(ready, 0.1), 0.0), high=max(quantile(ready, 0.9), 0.0))


def _below(bench: Bench, step: Task) -> list[int]:
    """What a step is poured on, by what was told to be in the mould."""
    return [i for i in bench.account.mould if i not in step.lanes]


def _slowest(bench: Bench, step: Task) -> int:
    """Of what a step is poured on, the lane that will stand last."""
    under = _below(bench, step)
    gate = step.wants.gate or 1.0
    ready = [stands_when(bench.projection.context, bench.projection.at, [i], gate) for i in under]
    return under[int(np.argmax([middle(x) for x in ready]))]


def _gated(bench: Bench, step: Task, base: dict[str, Any]) -> Advice | None:
    """Wait for what lies below, and look at it: only a hand opens a gate. None where it is open, or nothing waits."""
    gate = gate_of(bench.account, bench.projection, step)
    if gate is None or gate.open:
        return None
    wait, again = _gate_minutes(bench, step)
    below = bench.named([_slowest(bench, step)])
    raw = all(bench.account.portions[i].where == "raw" for i in step.lanes)
    meanwhile = "waiting costs it nothing" if raw else f"{bench.named(step.lanes)} thickens meanwhile"
    look = "Tilt it: nothing may run. Touch the film: no wet finger."
    then = f"Then: {told_to(bench, step)}; {meanwhile}."
    if wait > 1:
        headline, detail = (
            say(below, " must stand: look again in ", about(wait), "."),
            say(between(again), " ", look, " ", then),
        )
    else:
        headline, detail = say(f"Look at {below}: does it stand?"), say(look, " ", then)
    return Advice(
        headline=headline, detail=detail, do="gate", portion=below, step=step.key, minutes=wait, again=again, **base
    )


def _pouring(bench: Bench, step: Task, told: Outlook) -> Advice:
    """The next step of the look: poured now, waited for, or looked at first."""
    state, technique, why = bench.state, bench.technique, bench.why
    poured = state.pouring is not None
    go: Do = "step" if poured else "pouring"
    base = {"go": go, "go_step": step.key if poured else None, "pace": bench.speed, "going_on": told}
    who = bench.named(step.lanes) if step.lanes else "it"
    gated = _gated(bench, step, base)
    if gated is not None:
        return gated
    if bench.account.instead(step.do, step.lanes) == "spoon":
        return Advice(
            headline=f"Stop stirring. Spoon {who} in and press it down.",
            amount=_amount(bench, step),
            detail=say(_each(bench, step), "Bang out the air: what was poured thin closes its gaps. ", why).strip(),
            do="step", step=step.key, **base | {"go": "step", "go_step": step.key},
        )  # fmt: skip
    thin = _too_thin(bench, step) if poured else None
    if thin is not None:
        wanted = STAGES[min(int(step.wants.band[1]), 5)]
        return Advice(
            headline=say("Too thin yet: look again in ", about(thin), "."),
            detail=say("Then: ", told_to(bench, step), ". It is wanted at ", wanted, ". ", why).strip(),
            do="wait", step=step.key, minutes=thin, **base,
        )  # fmt: skip
    lo = step.wants.band[1]
    if step.do in INTO_MOULD and lo >= LOOK_FIRST and step.wants.to is None and bench.seen(step.lanes) < int(lo):
        return Advice(
            headline=f"Look at {who}: {STAGES[min(int(lo), 5)]} is wanted.",
            detail=say("Tap what you see. Then: ", told_to(bench, step), ". ", why).strip(),
            do="look", step=step.key, portion=bench.names[step.lanes[0]] if step.lanes else None, **base,
        )  # fmt: skip
    unseen = _unseen(bench, told) if not poured else None
    if unseen is not None:
        name = bench.names[unseen]
        return Advice(
            headline=f"Look at {name} before you pour.",
            detail=say("It was not looked at since its scent went in, and much hangs on it: tap what you see. ", why),
            do="look", step=step.key, portion=name, **base,
        )  # fmt: skip
    to = step.wants.to
    lacks = to is not None and bench.seen(step.lanes) < int(to) and not bench.account.never("stick", step.lanes)
    thicken = f"Thicken {who} with the stick, to {STAGES[min(round(to or 1), 5)]}." if lacks else ""
    if not poured:
        headline = thicken or f"{capitalised(technique.short)}: pour now."
        how = say(capitalised(f"then {technique.how}" if lacks else technique.how), ". ")
        detail = say(how, why).strip()
    else:
        does = told_to(bench, step)
        headline = thicken or f"{does}."
        on_top = joined("; ", top_told(bench.recipe)) if step.do == "top" else ""
        told_top = say(on_top, ". ") if on_top else ""
        mist = mist_and_oven(bench.state, bench.recipe, bench.projection.now) is None
        laid = joined("; ", how_laid(bench.recipe, [s.task for s in bench.account.steps], step, mist))
        laid = say(laid.capital(), ". ") if laid else Text.NONE
        then = f"Then {does[:1].lower()}{does[1:]}. " if lacks else ""
        detail = say(then, _each(bench, step), laid, told_top, _asked(bench), why).strip()
    amount = _amount(bench, step) if poured and not lacks else Text.NONE
    return Advice(headline=headline, amount=amount, detail=detail, do=go, step=step.key, **base)


def _too_thin(bench: Bench, step: Task) -> float | None:
    """Middle minutes until batter is thick enough for a step of which little would come now; None where it is."""
    context, at, lanes = bench.projection.context, bench.projection.at, list(step.lanes)
    thick = step.wants.band[1]
    if not lanes or thick <= 1 or step.wants.to is not None:
        return None
    if float(fit_of(step.wants.band, levels_at(context, at, lanes, at.t)).mean()) >= FITS:
        return None
    minutes = middle(when(context, at, lanes, thick).max(axis=0)) - bench.projection.now
    return minutes if minutes > WAITS_SAID else None


ONE_LINE = 2  # portions whose grams stand beside a headline; more are told below it [chosen]


def _amount(bench: Bench, step: Task) -> Text:
    """Grams of a step, as they stand beside its headline."""
    return bench.amount(step) if len(step.lanes) <= ONE_LINE else Text.NONE


def _each(bench: Bench, step: Task) -> Text:
    """Grams of a step of many portions, as a sentence."""
    grams = bench.amount(step) if len(step.lanes) > ONE_LINE else Text.NONE
    return say(say(grams, ". ") if grams else "")


def _asked(bench: Bench) -> Text:
    """What is likely done by the clock, which nobody tapped: it is asked for, never taken as done."""
    assumed = bench.account.assumed
    return say(
        say("Tap what is in: nothing was tapped for ", about(bench.projection.now - _since(bench)), ". ")
        if assumed
        else ""
    )


def _since(bench: Bench) -> float:
    """The last minute at which a step of the look was told, or pouring began."""
    told = [s.end for s in bench.account.steps if s.standing == "told" and s.task.looks]
    return max([bench.state.pouring or 0.0, *told])


def _unseen(bench: Bench, told: Outlook) -> int | None:
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
            if i not in bench.matters:
                continue
            name = bench.names[i]
            scented = state.scented_at(name)
            seen = state.mishap(name) or any(k.minute > (scented or 0.0) for k in state.looks_of(name))
            if scented is not None and not seen:
                hangs[i] = hangs.get(i, 0.0) + float(fit.std()) * played.task.wants.weight / len(played.task.lanes)
    whole = sum(s.wants.weight for s in bench.ahead if s.looks)
    most = max(hangs, key=lambda i: hangs[i], default=None)
    return most if most is not None and hangs[most] > UNSURE * whole else None
