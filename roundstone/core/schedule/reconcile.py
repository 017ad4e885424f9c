"""What happened takes the place of the plan: which steps are done, which is under way, what is still to come."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import inf

from ..pour import PourState, replay
from ..recipe import INTO_MOULD, Recipe
from ..shelf import Shelf, Technique
from .plan import LEAST_LEFT, in_turn, plan, turned
from .task import Task, is_a_night

SPLIT_AFTER = 0.25  # minutes from emulsion to the first cup [C]
AT_MOST = 1.5  # times its minutes that a step is taken to have been done [C]
HALF = 0.5  # of its minutes: what is further along is not dropped


@dataclass(frozen=True)
class Placed:
    """A step that was done, or is under way, between two minutes; `skipped` if it was left out."""

    task: Task
    start: float
    end: float
    skipped: bool = False


@dataclass(frozen=True)
class Reconciled:
    """A plan as far as it went. `under` is how much of the first step of `ahead` is still to do, 1 if it is not begun.

    `free` is when the hands were free for it. `in_mould` and `left` (share of each lane) say where the batter is;
    `technique` is the one that is being poured, `drawn` whether that is still the one the design was drawn in; `order`
    are the keys of all steps as they follow one another by plan.
    """

    done: tuple[Placed, ...]
    ahead: tuple[Task, ...]
    under: float
    free: float
    in_mould: tuple[int, ...]
    left: dict[int, float]
    technique: Technique
    drawn: bool
    order: tuple[str, ...]

    @property
    def next_look(self) -> Task | None:
        """The next step of the look."""
        return next((s for s in self.ahead if s.looks), None)


def emulsions(recipe: Recipe, state: PourState) -> dict[str, float]:
    """When each batch came to emulsion, as far as it was told: by its tap, or before the first sign that it had."""
    of = {p.name: recipe.design.batch_of(p) for p in recipe.design.portions}
    first = recipe.design.batches[0]
    out = dict(state.emulsions)
    if "" in out and first:
        out.setdefault(first, out.pop(""))
    for batch in recipe.design.batches:
        if batch in out:
            continue
        signs = [k.minute for name, k in state.looks if (of.get(name) if name else first) == batch]
        if batch == first:
            signs += [m for m in (state.split, state.pouring) if m is not None]
        if signs:
            begun = state.combined.get(batch, 0.0)
            out[batch] = max(begun, begun + (min(signs) - begun) / 2)
    return out


class _Walk:
    """One pass over the steps in their order, with the hands' own clock, `cursor`.

    `under` is how much of the first step `ahead` is still to do; `looking` since when the look is being made.
    """

    def __init__(
        self, tasks: Sequence[Task], recipe: Recipe, state: PourState, now: float, fixed: Sequence[Placed]
    ) -> None:
        # Hands that are off the pour do nothing by the clock; what is waited for goes on.
        self.clock = now
        now = min(now, state.pauses[-1][0]) if state.paused else now
        self.recipe, self.state, self.now, self.tasks = recipe, state, now, _as_done(tasks, state)
        tasks = self.tasks
        self.names = [p.name for p in recipe.design.portions]
        self.begun = emulsions(recipe, state)
        self.over = state.ended is not None
        self.poured: set[int] = set()
        self.made = False  # whether a step of the look came before, in the order of the steps
        self.done: list[Placed] = []
        self.ahead: list[Task] = []
        self.under, self.cursor, self.looking = 1.0, 0.0, state.pouring
        # What comes before a step that was done was done too.
        self.last = max((i for i, s in enumerate(tasks) if s.key in state.done and s.looks), default=-1)
        # Of a colour that was told so was what was prepared before it.
        self.coloured = max((i for i, s in enumerate(tasks) if s.key in state.done and s.do == "colour"), default=-1)
        was = {p.task.key: p for p in fixed}
        for i, task in enumerate(tasks):
            if task.key in was:
                self._was(was[task.key])
            elif task.key in state.skipped:
                minute = state.skipped[task.key]
                self.done.append(Placed(task, minute, minute, skipped=True))
            elif task.looks:
                self._look(i, task)
                self.made = True
            else:
                self._prepare(i, task)

    def _was(self, placed: Placed) -> None:
        self.done.append(placed)
        self.cursor = max(self.cursor, placed.end)
        if placed.task.looks:
            self.looking, self.made = self.cursor, True

    def _prepare(self, i: int, task: Task) -> None:
        state, now, start = self.state, self.now, self.cursor
        fetched = SPLIT_AFTER if task.do == "split" and state.split is None else 0.0
        end = self.prepared(task, start + fetched)
        if end is None and is_a_night(task):  # the lye of a later day met its fats: it is that day
            end = min((m for t in self.tasks[i:] if (m := self.met(t)) is not None), default=None)
        if end is None and (i < self.last or (i < self.coloured and task.do in ("split", "colour", "wait", "blend"))):
            end = start
        if end is None:
            by_clock = task.do == "wait" or (task.do == "colour" and state.split is not None)
            now = self.clock if task.do == "wait" else now
            if not self.ahead and by_clock and start < now:
                self.under = min(max((start + task.minutes - now) / max(task.minutes, 1e-9), 0.0), 1.0)
            self.ahead.append(task)
            return
        end = min(end, max(now, start))
        takes = end if task.do == "combine" else task.minutes
        self.done.append(Placed(task, max(min(start, end), end - takes, 0.0), end))
        self.cursor = max(start, end)
        if self.made and self.looking is not None:  # the hands that made the look were at this meanwhile
            self.looking = max(self.looking, self.cursor)

    def _look(self, i: int, task: Task) -> None:
        state, length = self.state, task.minutes
        start = self.cursor if self.looking is None else max(self.looking, 0.0)
        start = max([start, *(until for _, until in state.pauses if until is not None and start < until <= self.now)])
        if task.key in state.done:
            end = state.done[task.key]
            start = max(start, end - AT_MOST * length)  # before that it waited for the batter
        elif i < self.last:
            end = min(start + length, *(m for s in self.tasks[i:] if (m := state.done.get(s.key)) is not None))
        elif self.over:
            end = max(start, min(start + length, state.ended or self.now))
        else:
            end = start + length
            by_clock = self.looking is not None and not self.ahead and not (_gated(task) and self.poured)
            if not by_clock or end > self.now:
                if by_clock and self.now > start:
                    self.under = (end - self.now) / max(length, 1e-9)
                self.cursor = start if by_clock else self.cursor
                self.ahead.append(task)
                return
        self.done.append(Placed(task, min(start, end), end))
        self.looking = self.cursor = max(self.cursor, end)
        if task.do in INTO_MOULD:
            self.poured |= set(task.lanes)

    def prepared(self, task: Task, cursor: float) -> float | None:  # noqa: PLR0911 - one rule a kind of step
        """When a step that prepares was done; None when it was not."""
        state, names = self.state, [self.names[i] for i in task.lanes]
        if task.key in state.done:
            return state.done[task.key]
        poured = state.over is not None and (self.over or not self._later_batch(task))
        by_plan = max(cursor, min(cursor + task.minutes, state.over or 0.0))  # nothing said: as planned
        match task.do:
            case "combine":
                return self.begun.get(task.batch)
            case "split":
                if not self._later_batch(task) and state.split is not None:
                    return state.split
                # Poured without a split, it is one batter.
                if self._later_batch(task):
                    return by_plan if poured else self._passed(task, cursor)
                return by_plan if poured else None
            case "scent":
                told = [state.scented_at(n) for n in names if state.waits_for_scent(n) is False]
                if len(told) == len(names):
                    return max([cursor, *(m + task.minutes / task.vessels for m in told if m is not None)])
                # What is to go in between two pours is not in because the first of them was made.
                return by_plan if poured and (self.over or not self.made) else None
            case "colour":
                scented = [m for n in names if (m := state.scented_at(n)) is not None and not self.recipe.scent_in_fats]
                whole = self.recipe.design.scent_at == "emulsion"
                if scented and not whole:
                    return min(cursor + task.minutes, max(scented))
                return by_plan if poured else self._passed(task, cursor)
            case "blend":
                on_purpose = [w.minute for w in state.work if w.purpose == "thicken" and w.portion in (None, *names)]
                return max(on_purpose) if on_purpose else cursor if poured else None
        if is_a_night(task) and not self.over:
            return None  # only a hand begins a day
        return cursor if self.over else self._passed(task, cursor)

    def met(self, task: Task) -> float | None:
        """When the lye of a batch met its fats, as it was told; None of any other step."""
        if task.do != "combine":
            return None
        return self.state.combined.get(task.batch, self.begun.get(task.batch))

    def _later_batch(self, task: Task) -> bool:
        design = self.recipe.design
        return design.batch_of(design.portions[task.lanes[0]]) != design.batches[0] if task.lanes else False

    def _passed(self, task: Task, cursor: float) -> float | None:
        """Done by the clock alone: nothing else would tell."""
        design = self.recipe.design
        ready = self.begun.get(design.batch_of(design.portions[task.lanes[0]])) if task.lanes else 0.0
        split = self.state.split is not None or len(design.portions) < 2 or self._later_batch(task)
        if ready is None or not split or task.to is not None:
            return None
        end = cursor + task.minutes
        return end if end <= self.now else None


def _as_done(tasks: Sequence[Task], state: PourState) -> Sequence[Task]:
    """Steps with those of one block that were done before the rest of it: they may change places."""
    out = list(tasks)
    for block in {s.wants.block for s in tasks if s.looks and s.wants.block}:
        at = [i for i, s in enumerate(out) if s.looks and s.wants.block == block]
        order = sorted(at, key=lambda i: state.done.get(out[i].key, inf))
        for place, task in zip(at, [out[i] for i in order], strict=True):
            out[place] = task
    return out


def _gated(task: Task) -> bool:
    """A step that waits for the batter cannot be taken as begun by the clock alone."""
    return task.wants.gate is not None or task.wants.wait > 0


def _where(
    done: Sequence[Placed], portions: int, state: PourState, names: Sequence[str]
) -> tuple[list[int], dict[int, float]]:
    """What is in the mould, and what is left of each lane."""
    left = dict.fromkeys(range(portions), 1.0)
    in_mould: list[int] = []
    for placed in done:
        if placed.task.do in INTO_MOULD and not placed.skipped:
            in_mould += [i for i in placed.task.lanes if i not in in_mould]
            for i in placed.task.lanes:
                left[i] = max(left[i] - placed.task.wants.part, 0.0)
    for fold in state.folds:
        left[names.index(fold.portion)] = 0.0
    for name in state.spared:
        for i in range(portions):
            if name in (None, names[i]):
                left[i] = 0.0
    return in_mould, left


def after_fold(tasks: Sequence[Task], x: int, into: Sequence[int], shares: Sequence[float]) -> tuple[Task, ...]:
    """Steps to come once lane x was folded into others. What an accent would have done falls away; where x was the
    base, poured on its own and larger than what it went into, the largest of those is the base from then on.
    """
    heir = max(into, key=lambda i: shares[i], default=None)
    if heir is None or shares[x] <= shares[heir]:
        return tuple(replace(t, lanes=tuple(i for i in t.lanes if i != x)) for t in tasks if set(t.lanes) != {x})
    out = []
    for task in tasks:
        if task.do in INTO_MOULD and x not in task.lanes and heir in task.lanes:
            if len(task.lanes) > 1:  # what it was to do as an accent falls away: it is the base now
                out.append(replace(task, lanes=tuple(i for i in task.lanes if i != heir)))
            continue
        lanes = tuple(dict.fromkeys(heir if i == x else i for i in task.lanes)) if task.looks else task.lanes
        if not task.looks and set(lanes) == {x}:
            continue
        out.append(replace(task, lanes=lanes))
    return tuple(out)


def _folded(tasks: Sequence[Task], recipe: Recipe, state: PourState) -> tuple[Task, ...]:
    """The steps with every base that was folded before any of it was poured handed on to what it went into."""
    names = [p.name for p in recipe.design.portions]
    shares = [p.share for p in recipe.design.portions]
    out = tuple(tasks)
    for fold in state.folds:
        x, into = names.index(fold.portion), [names.index(n) for n in fold.into if n in names]
        first = min((i for i, t in enumerate(out) if t.looks and x in t.lanes and t.do in INTO_MOULD), default=None)
        poured = any(t.key in state.done for t in out[first:]) if first is not None else True
        if into and not poured and shares[x] > max(shares[i] for i in into):
            out = after_fold(out, x, into, shares)
    return out


def _spared(tasks: tuple[Task, ...], recipe: Recipe, state: PourState) -> tuple[Task, ...]:
    """The steps without those of portions whose rest a hand put into a spare mould, behind the last step that was
    tapped: nobody told of them, and there is nothing to do them with."""
    gone = {i for i, p in enumerate(recipe.design.portions) if {None, p.name} & state.spared.keys()}
    last = max((n for n, t in enumerate(tasks) if t.looks and t.key in state.done), default=-1)
    return tuple(
        t
        for n, t in enumerate(tasks)
        if n <= last or not ((t.do in INTO_MOULD or t.do in ("scent", "colour")) and t.lanes and {*t.lanes} <= gone)
    )


def _held(tasks: tuple[Task, ...], recipe: Recipe, state: PourState) -> tuple[Task, ...]:
    """The steps with every fragrance that was not in by then just before its portion, once that was decided on."""
    if state.in_turn is None:
        return tasks
    names = [p.name for p in recipe.design.portions]
    minutes = {s.key: [state.scented_at(names[i]) for i in s.lanes] for s in tasks if s.do == "scent"}
    stay = [key for key, its in minutes.items() if all(m is not None and m <= state.in_turn for m in its)]
    return in_turn(tasks, stay)


def reconcile(recipe: Recipe, shelf: Shelf, grams: float, state: PourState, now: float) -> Reconciled:
    """The plan of a pour `now`, every change of technique so far included."""
    tasks: tuple[Task, ...] = _held(plan(recipe, shelf, grams), recipe, state)
    names = [p.name for p in recipe.design.portions]
    technique = shelf.techniques[recipe.design.technique]
    fixed: tuple[Placed, ...] = ()
    drawn = technique.id
    for minute, to in state.switches:
        if to not in shelf.techniques:
            continue
        until = replay([e for e in state.standing if e.minute <= minute], recipe)
        until.switches.clear()
        walk = _Walk(tasks, recipe, until, minute, fixed)
        done, ahead, under = walk.done, walk.ahead, walk.under
        if ahead and ahead[0].looks and under < HALF:
            # Nothing of a step more than half done is dropped.
            done.append(Placed(ahead[0], minute - (1 - under) * ahead[0].minutes, minute + under * ahead[0].minutes))
            ahead = ahead[1:]
        fixed = tuple(done)
        in_mould, left = _where(done, len(names), until, names)
        technique = shelf.techniques[to]
        rest = turned(recipe, technique, grams, left, in_mould, ahead, [p.task.key for p in done])
        rest = _held(rest, recipe, state)
        tasks = (*(p.task for p in done), *rest)
    walk = _Walk(_spared(_folded(tasks, recipe, state), recipe, state), recipe, state, now, fixed)
    done, ahead, under, free = walk.done, walk.ahead, walk.under, walk.cursor
    in_mould, left = _where(done, len(names), state, names)
    gone = {i for i, x in left.items() if x <= LEAST_LEFT}
    kept = [s for s in ahead if not (s.do in INTO_MOULD and set(s.lanes) <= gone)]
    done.sort(key=lambda p: p.start)
    where, order = tuple(in_mould), tuple(t.key for t in walk.tasks)
    return Reconciled(tuple(done), tuple(kept), under, free, where, left, technique, technique.id == drawn, order)
