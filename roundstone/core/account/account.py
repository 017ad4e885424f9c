"""One account of a pour: what was told, what is only assumed because the plan's minutes have passed, what comes next.

Time alone tells nothing. A step counts as told when a hand tapped it, or tapped something that cannot be without it: a
later step of the look, the end of the pour. What the clock takes as done and nobody told is `assumed`: odds may rest on
it, keys and sentences may not.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ..forecast.forecast import Projection
from ..pour import Flag, LayerTested, PourState
from ..recipe import INTO_MOULD, ON_MOULD
from ..schedule import LEAST_LEFT, Placed, Task, is_a_night
from ..shelf import STAGES, Possible
from ..values import Minutes, Name, Share

Standing = Literal["told", "assumed", "left out", "to come"]
Where = Literal["raw", "pot", "mould", "folded", "spare"]


IMPLIED = ("split", "colour", "wait", "blend")


@dataclass(frozen=True)
class StepNow:
    """A step of the plan, and how its being done is known; `end` is when it was, or is taken to have been."""

    task: Task
    standing: Standing
    end: Minutes


ROUNDS = ("drop", "spoon", "pass", "pipe")  # acts that are done in rounds; of a pour it is said which part it is


@dataclass(frozen=True)
class GateNow:
    """What lies below a step that waits for it to stand: its lanes, and the last test since the top one was poured."""

    lanes: tuple[int, ...]
    test: LayerTested | None

    @property
    def open(self) -> bool:
        """Only a hand opens a gate: *stands* was the last thing told of what lies below."""
        return self.test is not None and self.test.how == "stands"


@dataclass(frozen=True)
class PortionNow:
    """A portion by its place, as told: where it is, the share of it that is not in the mould, its stage and mishap.

    `never` are acts that are out of the question for its batter, each with the row of the table that forbids it.
    """

    lane: int
    name: Name
    where: Where
    left: Share
    level: int
    flag: Flag | None
    never: dict[str, Possible]

    @property
    def outside(self) -> bool:
        """Whether some of it is in a cup or pot that nobody told to be empty."""
        return self.where in ("raw", "pot")


@dataclass(frozen=True)
class Account:
    """All of it at one minute. `open` are the steps nobody told, in order; `assumed` those of them that the clock takes
    as done; `mould` the lanes that are told to be in it, in the order they were poured."""

    steps: tuple[StepNow, ...]
    portions: tuple[PortionNow, ...]
    mould: tuple[int, ...]

    @property
    def open(self) -> tuple[Task, ...]:
        return tuple(s.task for s in self.steps if s.standing in ("assumed", "to come"))

    @property
    def assumed(self) -> tuple[Task, ...]:
        """Steps of the look that are likely done, and were not told."""
        return tuple(s.task for s in self.steps if s.standing == "assumed" and s.task.looks)

    @property
    def next_look(self) -> Task | None:
        return next((t for t in self.open if t.looks), None)

    @property
    def outside(self) -> tuple[PortionNow, ...]:
        """Portions with batter that nobody told to be in the mould, folded in, in a spare mould or left out."""
        return tuple(p for p in self.portions if p.outside)

    def into_bowl(self, task: Task) -> bool:
        """Whether what a step drops is gathered first, and poured in one stream by a later one."""
        tasks = [s.task for s in self.steps]
        later = tasks[tasks.index(task) + 1 :] if task in tasks else []
        return task.do == "drop" and any(t.do == "pour" and t.wants.part <= 0 for t in later)

    def round_of(self, task: Task) -> str:
        """Which time it is of a step that is done more than once to the same portions: "2 of 3"; else "". What was left
        out is no time."""
        stays = [s.task for s in self.steps if s.standing != "left out"]
        alike = [t.key for t in stays if (t.do, t.lanes) == (task.do, task.lanes)]
        if task.do not in ROUNDS or len(alike) < 2 or task.key not in alike:
            return ""
        return f"{alike.index(task.key) + 1} of {len(alike)}"

    def never(self, act: str, lanes: Sequence[int]) -> str:
        """The state that forbids an act on any of these lanes, or ""."""
        row = self._row(act, lanes)
        return row.told if row is not None else ""

    def instead(self, act: str, lanes: Sequence[int]) -> str:
        """What is done in place of an act that is forbidden on these lanes, or "": then it is not to be done at all."""
        row = self._row(act, lanes)
        return row.instead if row is not None else ""

    def _row(self, act: str, lanes: Sequence[int]) -> Possible | None:
        return next((row for i in lanes if (row := self.portions[i].never.get(act)) is not None), None)

    @property
    def last_in_hand(self) -> bool:
        """Whether one step of the look is left: a full mould says that it is done."""
        return sum(t.looks for t in self.open) == 1

    def task(self, key: str | None) -> Task | None:
        """A step that is still open, by its key."""
        return next((t for t in self.open if t.key == key), None)


def account_of(projection: Projection) -> Account:
    """The account of a pour as it was forecast at its minute."""
    state, reconciled = projection.state, projection.schedule.reconciled
    placed = [*reconciled.done, *(Placed(t, projection.now, projection.now) for t in reconciled.ahead)]
    plan = {key: n for n, key in enumerate(reconciled.order)}
    done = {p.task.key for p in reconciled.done}
    placed.sort(key=lambda p: plan[p.task.key])
    told = [_told(projection, p) for p in placed]
    # A tap says of all that it cannot be without that it was done: of a step of the look, all before it; of a colour or
    # a scent, which goes in last, what was prepared before it; of the first pour all that was prepared for it.
    last = max((n for n, p in enumerate(placed) if told[n] and p.task.looks), default=-1)
    late = ("colour", "scent")
    coloured = max((n for n, p in enumerate(placed) if told[n] and p.task.do in late and _tapped(p, state)), default=-1)
    first = next((n for n, p in enumerate(placed) if p.task.looks), 0) if state.pouring is not None else 0
    steps = []
    for n, p in enumerate(placed):
        before = n < max(last, 0 if p.task.looks else first) or (n < coloured and p.task.do in IMPLIED)
        if p.skipped:
            standing: Standing = "left out"
        elif told[n] or (before and p.task.do != "combine") or (p.task.key in done and state.ended is not None):
            standing = "told"
        else:
            standing = "assumed" if p.task.key in done else "to come"
        steps.append(StepNow(p.task, standing, p.end))
    mould = tuple(
        dict.fromkeys(i for s in steps if s.standing == "told" and s.task.do in INTO_MOULD for i in s.task.lanes)
    )
    left = _left(projection, steps)
    return Account(
        steps=tuple(steps),
        portions=tuple(_portion(projection, i, left[i], steps, mould) for i in range(len(projection.schedule.bare))),
        mould=mould,
    )


def gate_of(account: Account, projection: Projection, step: Task) -> GateNow | None:
    """What a step of the look waits on by the hand's own account; None where nothing below must stand."""
    below = tuple(i for i in account.mould if i not in step.lanes)
    if step.wants.gate is None or not below:
        return None
    tests = [t for i in below if (t := projection.state.tests.get(projection.schedule.bare[i].name)) is not None]
    # What was tried before another layer came on top says nothing of that one.
    poured = (
        s for s in account.steps if s.standing == "told" and s.task.do in INTO_MOULD and {*s.task.lanes} & {*below}
    )
    since = max((s.end for s in poured), default=0.0)
    return GateNow(below, max((t for t in tests if t.minute >= since), key=lambda t: t.minute, default=None))


def _tapped(placed: Placed, state: PourState) -> bool:
    """Whether a colour or a scent was tapped as in, rather than taken as in from the start."""
    return placed.task.key in state.done or (placed.task.do == "scent" and bool(state.scents or state.left_out))


def _told(projection: Projection, placed: Placed) -> bool:  # noqa: PLR0911 - one return a kind of step
    """Whether a hand told that a step was done, by its own tap or one that says the same."""
    state, task = projection.state, placed.task
    names = [projection.schedule.bare[i].name for i in task.lanes]
    if task.key in state.done or placed.skipped:
        return True
    match task.do:
        case "combine":
            return bool(task.lanes) and projection.schedule.emulsified[task.lanes[0]]
        case "split":
            return state.split is not None
        case "scent":
            return all(not state.waits_for_scent(n) for n in names)
        case "colour":
            # Colour goes in before the scent: who told the scent of a portion told its colour.
            apart = projection.recipe.design.scents_apart
            if not any({*d.into} & {*names} for d in projection.recipe.additives):
                return True  # the plan gives it its minutes, but there is nothing of its own to put in, or to tap
            return apart and all(state.scented_at(n) is not None for n in names)
        case "wait" if is_a_night(task):
            # Only what a hand told of its day ends a night.
            return any(p.task.key == task.key for p in projection.schedule.reconciled.done)
        case "blend":
            # What is seen at its level needs no thickening any more, and grains never meet the stick.
            there = all(state.level(n) >= (task.to or 1.0) or state.riced(n) for n in names)
            return there or any(w.purpose == "thicken" and w.portion in (None, *names) for w in state.work)
    return False


def _left(projection: Projection, steps: Sequence[StepNow]) -> dict[int, float]:
    """Share of each portion that is outside the mould, by what was told."""
    state = projection.state
    names = [lane.name for lane in projection.schedule.bare]
    left = dict.fromkeys(range(len(names)), 1.0)
    for s in steps:
        if s.standing == "told" and s.task.do in INTO_MOULD:
            for i in s.task.lanes:
                left[i] = max(left[i] - s.task.wants.part, 0.0)
    for fold in state.folds:
        left[names.index(fold.portion)] = 0.0
    for i, name in enumerate(names):
        if name in state.spared or (None in state.spared):
            left[i] = 0.0
    return left


def _portion(projection: Projection, i: int, left: float, steps: Sequence[StepNow], mould: Sequence[int]) -> PortionNow:
    state, schedule = projection.state, projection.schedule
    name = schedule.bare[i].name
    flag = state.mishap(name)
    level = state.level(name)
    # Grains that were used as they are stay grains.
    states = {STAGES[level], flag.flag if flag is not None else "", "ricing" if state.riced(name) else ""}
    rows = [row for row in projection.shelf.possible if row.told in states]
    never = {act: row for row in reversed(rows) for act in row.never}
    open_ = [s.task for s in steps if s.standing in ("assumed", "to come") and i in s.task.lanes]
    poured = any(s.standing == "told" and i in s.task.lanes and s.task.do in INTO_MOULD for s in steps)
    # What is kept of a portion for the top, once all else of it is in, lies in the mould for who asks where it is.
    to_pour = [t for t in open_ if t.do in INTO_MOULD and not (poured and t.do == "top")]
    if any(f.portion == name for f in state.folds):
        where: Where = "folded"
    elif state.ended is not None or i in mould:
        where = "mould" if state.ended is not None or not to_pour or left <= LEAST_LEFT else "pot"
    elif name in state.spared or None in state.spared:
        where = "spare"
    elif not to_pour and any(t.do in ON_MOULD for t in open_):
        where = "mould"
    else:
        where = "pot" if schedule.begins[i] <= projection.now and schedule.emulsified[i] else "raw"
    return PortionNow(i, name, where, left, level, flag.flag if flag is not None else None, never)
