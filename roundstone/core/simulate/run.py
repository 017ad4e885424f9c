"""One forward pass over a plan: steps × draws, with one pair of hands.

A lane holds what has happened; the future is played on top of it. B(t) is the lane's own age, and in each draw

    τ(t) = A₀ + m·(B(t) − B₀)

    settle                    A₀ ← τ(t), B₀ ← B(t)
    stirred for d min         settle, A₀ += rate·m·(e^lnm − 1)·d
    a fragrance goes in       settle, m ← m·exp(Σ percent·e), and while it comes on and is stirred in
                              τ gains rate·C(t − t₀)
    thickened to a level      as long with the stick as the age lacks, at most THICKEN_MOST
    x folded into y           ln τ and ln m of y become means by weight

Everything that has odds is read off this: blocks of the ribbon, outcome, levers, fall-backs, the bench's advice.
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from ..batter import Array
from ..recipe import INTO_MOULD
from ..schedule import Task
from .actions import FETCH_MINUTES, RICED_FASTER, fold, scent_in, settle, stir, thicken
from .context import STEP_SD, SimulationContext, _seen_after
from .judge import amiss, judge_done, judged, levels_of, of_bar
from .state import Amiss, Outcome, Played, State
from .trajectory import LOOSE_FOR, at_ends, levels_at, stands_when, when

LEAST_OF_STEP = 0.25  # share of its minutes that a step under way still takes [C]


def below(state: State, task: Task) -> list[int]:
    """What a step of the look is poured on: what is in the mould, but for its own lanes."""
    return [i for i in state.in_mould if i not in task.lanes]


def play_step(context: SimulationContext, state: State, task: Task, left: float = 1.0, soft: bool = False) -> Played:
    """Play one step and move the state behind it. `left` is how much of it is still to do, `soft` whether the maker
    textures unasked what comes too thick."""
    wants, lanes = task.wants, list(task.lanes)
    begun = state.t.copy()
    start = state.t
    under = below(state, task) if wants.gate is not None and left >= 1 else []
    if left >= 1:
        start = _waited(context, state, task, under, start)
    waited = start - begun
    if task.looks and wants.to is not None and lanes:
        start = start + thicken(context, state, lanes, start, wants.to)
    # A planned wait is by the clock, whoever waits.
    noise = (
        np.exp(context.hands + STEP_SD * context.step_noise(task.key)) if task.do != "wait" else np.ones(context.draws)
    )
    least = 0.0 if task.do == "wait" else LEAST_OF_STEP
    minutes = task.minutes * noise * max(left, least if left < 1 else 1.0)
    if task.do == "combine":
        return _combine(context, state, task, start)
    end = start + minutes
    weigh = bool(lanes) and wants.weight > 0
    if task.looks and weigh:
        first, second = at_ends(context, state, lanes, start, end)
    else:
        first = levels_at(context, state, lanes, start) if weigh else np.ones((len(lanes), context.draws))
    if task.do in ("colour", "scent", "blend", "burst", "loosen", "fold"):
        _prepare(context, state, task, start, end, minutes)
        if task.do == "blend" and task.to is not None:
            end = start + thicken(context, state, lanes, start, task.to, apart=task.vessels > 1)
    if not task.looks:
        second = levels_at(context, state, lanes, end) if weigh else first
    elif not weigh:
        second = first
    fit, each, lost, late = judged(context, state, task, first, second, start, under, soft)
    wrong = amiss(context, task, first, each, late)
    if task.do in INTO_MOULD:
        state.used[lanes] = np.minimum(state.used[lanes] + wants.part, 1.0)
        state.in_mould = tuple(dict.fromkeys([*state.in_mould, *lanes]))
    state.t = end
    state.q = state.q + wants.weight * fit
    state.w += wants.weight
    state.lost = state.lost + lost
    return Played(task, start, end, fit, each, first, wrong, lost, waited, of_bar(context, task))


def _waited(context: SimulationContext, state: State, task: Task, under: Sequence[int], start: Array) -> Array:
    wants, lanes = task.wants, list(task.lanes)
    if task.do == "wait" and task.to is not None and lanes:
        ready = when(context, state, lanes, task.to).max(axis=0)
        return np.maximum(start, ready)
    if under and wants.gate is not None:
        stands = stands_when(context, state, under, wants.gate)
        start = np.maximum(start, np.minimum(stands, start + wants.wait))
    if task.looks and wants.wait > 0 and wants.band[1] > 1 and lanes and wants.gate is None:
        ready = when(context, state, lanes, wants.band[1]).max(axis=0)
        start = np.maximum(start, np.minimum(ready, start + wants.wait))
    return start


def _combine(context: SimulationContext, state: State, task: Task, start: Array) -> Played:
    """A batch is blended to emulsion: its lanes' clocks begin, in each draw at their own minute."""
    lanes = list(task.lanes)
    schedule = context.schedule
    if lanes and not schedule.emulsified[lanes[0]]:
        begun = schedule.begins[lanes[0]] <= schedule.now
        end = context.origin[lanes[0]] if begun else start + context.emulsion[lanes[0]]
        context.origin[lanes] = end
    else:
        end = start
    if task.to is not None and lanes:
        end = end + thicken(context, state, lanes, end, task.to)
    one = np.ones(context.draws)
    state.t = np.maximum(end, start)
    ones = np.ones((len(lanes), context.draws))
    return Played(task, start, state.t, one, ones, ones, Amiss(), 0 * one, 0 * one, 0.0)


def _prepare(context: SimulationContext, state: State, task: Task, start: Array, end: Array, minutes: Array) -> None:
    lanes = list(task.lanes)
    match task.do:
        case "colour":
            stir(context, state, lanes, end, minutes / task.vessels, task.by)
        case "scent":
            scent_in(context, state, lanes, start, task.by)
        case "burst":
            stir(context, state, lanes, end, np.maximum(minutes - FETCH_MINUTES, 0.0) / task.vessels, "stick")
        case "loosen":
            stir(context, state, lanes, end, minutes, "hand")
            state.loose[lanes] = end + LOOSE_FOR
        case "fold":
            fold(context, state, lanes[0], lanes[1:], start)


def begin(context: SimulationContext) -> tuple[State, tuple[Played, ...]]:
    """Where the pour stands now, with the steps that are done judged."""
    state = State(context)
    for flag in context.schedule.state.flags:
        for i, lane in enumerate(context.schedule.bare):
            if (
                flag.flag != "ricing"
                or flag.portion not in (None, lane.name)
                or _seen_after(context.schedule, i, flag.minute)
            ):
                continue
            settle(context, state, [i], np.full(context.draws, min(flag.minute, context.schedule.now)))
            state.ln_m[i] += RICED_FASTER
    for work in context.schedule.state.work:
        lanes = [i for i, lane in enumerate(context.schedule.bare) if work.portion in (None, lane.name)]
        if work.purpose == "loosen":
            state.loose[lanes] = work.minute + LOOSE_FOR
    done: list[Played] = []
    in_mould: list[int] = []
    reconciled = context.schedule.reconciled.done
    for placed, levels in zip(reconciled, levels_of(context, state, reconciled), strict=True):
        task = placed.task
        under = [i for i in in_mould if i not in task.lanes] if task.wants.gate is not None else []
        played = judge_done(context, state, placed, under, levels)
        done.append(played)
        if task.do in INTO_MOULD and not placed.skipped:
            in_mould = list(dict.fromkeys([*in_mould, *task.lanes]))
        state.q = state.q + task.wants.weight * played.fit
        state.w += task.wants.weight
        state.lost = state.lost + played.lost
    state.t = np.maximum(state.t, context.schedule.reconciled.free if context.schedule.reconciled.done else 0.0)
    return state, tuple(done)


class Walk:
    """Steps played one after the other, from a state that stays as it was."""

    def __init__(self, context: SimulationContext, state: State, tasks: Sequence[Task]) -> None:
        self.state = state.copy()
        combines = any(s.do == "combine" for s in tasks)
        self.context = replace(context, origin=context.origin.copy()) if combines else context
        self._looks = 0

    def step(self, task: Task, left: float = 1.0) -> Played:
        """Play the next step, or what is `left` of it."""
        played = play_step(self.context, self.state, task, left, soft=self._looks > 1)
        self._looks += task.looks
        return played


def play(
    context: SimulationContext,
    state: State,
    tasks: Sequence[Task],
    left: float = 1.0,
    credit: tuple[float, float] = (0.0, 0.0),
    done: Sequence[Played] = (),
) -> Outcome:
    """Play steps from a state, which stays as it was. `left` is of the first step; `credit` a weight of the look and
    the share of it that is kept, for what is left out of the steps.
    """
    walk = Walk(context, state, tasks)
    now = walk.state
    now.q, now.w = now.q + credit[0] * credit[1], now.w + credit[0]
    steps = [walk.step(task, left if n == 0 else 1.0) for n, task in enumerate(tasks)]
    kept = now.q / now.w if now.w > 0 else np.ones(context.draws)
    return Outcome(np.asarray(kept), np.clip(now.lost, 0.0, 1.0), (*done, *steps), now)
