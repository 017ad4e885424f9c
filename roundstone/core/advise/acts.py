"""Acts that could be done now: each a change of the steps to come, played on the same draws."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..account import Account
from ..batter import Array
from ..forecast.job import Job
from ..forecast.turns import turns
from ..recipe import INTO_MOULD
from ..schedule import LEAST_LEFT, Task, after_fold, in_turn
from ..shelf import Technique, Wants
from ..simulate import FETCH_MINUTES, FOLD_MINUTES, LOOSER, SimulationContext, State, levels_at
from ..values import listed

Kind = Literal["go", "hold", "wait", "burst", "loosen", "skip", "order", "switch", "fold", "spare"]
# Worth a change must gain at least, and what it costs: in value, between 0 and 1 [C].
MARGIN: dict[Kind, float] = {
    "hold": 0.02,
    "wait": 0.02,
    "loosen": 0.02,
    "order": 0.015,
    "skip": 0.035,
    "burst": 0.04,
    "fold": 0.04,
    "switch": 0.06,
    "spare": 0.10,
}
COST: dict[Kind, float] = {
    "hold": 0.004,
    "burst": 0.004,
    "loosen": 0.004,
    "switch": 0.004,
    "fold": 0.004,
    "order": 0.002,
    "spare": 0.02,
}
WAIT_COST = 0.002  # a minute
WAITS = (1.0, 3.0, 8.0)  # minutes
BURSTS = (5.0, 10.0, 20.0)  # seconds
LOOSEN_SECONDS = 15.0
SET = 4.8  # level from which nothing is stirred loose any more [C]
SKIPS = 3  # of the steps to come
APART = 0.4  # levels by which lanes of a block must differ for another order to matter
FOLDED_LOOK, SPARE_LOOK = 0.6, 0.15  # share of the look that a folded portion, and one in a spare mould, keeps
FOLD_INTO = 3  # of the largest sound portions
MOVED_WITHIN, MOVED_NATS = 3.0, 0.55  # minutes of its scent, and ln-rate above what was believed


@dataclass(frozen=True)
class Act:
    """An act as steps to play. `left` is of the first of them; `credit` is weight and share of the look that is kept of
    what falls away; `lanes` are those it is done to."""

    kind: Kind
    tasks: tuple[Task, ...]
    left: float = 1.0
    credit: tuple[float, float] = (0.0, 0.0)
    similarity: float = 1.0
    cost: float = 0.0
    lanes: tuple[int, ...] = ()
    minutes: float = 0.0
    technique: Technique | None = None
    step: Task | None = None
    sure: bool = True

    @property
    def margin(self) -> float:
        """What it must gain; twice that where what it is for was not seen as such."""
        return MARGIN.get(self.kind, 0.0) * (1 if self.sure else 2)

    def words(self, names: Sequence[str]) -> str:
        """The act as something done, in a few words."""
        who = listed([names[i] for i in self.lanes])
        step = self.step.label if self.step else ""
        said: dict[Kind, str] = {
            "go": "going on",
            "hold": "scenting each as it is poured",
            "wait": f"waiting {self.minutes:.0f} min",
            "burst": f"{60 * self.minutes:.0f} s with the stick in {who}",
            "loosen": f"stirring {who} loose",
            "skip": f"leaving out {step}",
            "order": f"{who} first",
            "switch": f"changing to {self.technique.name.lower()}" if self.technique else "",
            "fold": f"folding {names[self.lanes[0]] if self.lanes else ''} in",
            "spare": "the rest into a spare mould",
        }
        return said[self.kind]

    @property
    def name(self) -> str:
        """The same for the same act, whatever its minutes."""
        what = self.technique.id if self.technique else self.step.key if self.step else ",".join(map(str, self.lanes))
        return f"{self.kind} {what}"


def moved(context: SimulationContext, lane: int, ln_rate: Array | None) -> bool:
    """Whether the stick is out of the question: grains, or a batter that has jumped or runs away by itself.

    `ln_rate` is by how much its ln-rate with its scent is above what was believed before anything was seen.
    """
    schedule = context.schedule
    name = schedule.bare[lane].name
    if any(f.flag in ("ricing", "seizing") and f.portion in (None, name) for f in schedule.state.flags):
        return True
    scented = min((m for m, _ in schedule.bare[lane].added.values()), default=None)
    if scented is not None and _jumped(context, name, scented):
        return True
    return ln_rate is not None and float(ln_rate[lane]) > MOVED_NATS


def _jumped(context: SimulationContext, name: str, scented: float) -> bool:
    """A whole stage within minutes of its scent, with no blending logged between."""
    state = context.schedule.state
    looks = state.looks_of(name)
    was = next((k.level for k in reversed(looks) if k.minute <= scented), 1)
    for look in looks:
        if scented < look.minute <= scented + MOVED_WITHIN and look.level >= max(2, was) + 1:
            return not any(
                w.tool == "stick" and w.portion in (None, name) and scented < w.minute <= look.minute
                for w in state.work
            )
    return False


def _prefix(do: str, lanes: Sequence[int], minutes: float, by: str = "hand") -> Task:
    return Task(f"{do} {','.join(map(str, lanes))}", do, do, tuple(lanes), minutes, Wants(weight=0.0), by=by)


def _next_of(ahead: Sequence[Task], lane: int) -> Task | None:
    """The next step that pours something of a lane."""
    return next((s for s in ahead if s.looks and lane in s.lanes and s.do in INTO_MOULD), None)


def acts(
    context: SimulationContext,
    state: State,
    ahead: Sequence[Task],
    left: float,
    job: Job,
    now: Technique,
    ln_rate: Array | None = None,
    leave: bool = True,
    risky: bool = True,
    account: Account | None = None,
) -> Iterator[Act]:
    """Going on, then every change that is possible now; those that leave the design only where one may `leave` it, and
    fragrances held back only where the plan is `risky`. What is in the mould cannot be stirred or folded, and what was
    told of a portion (`account`) puts some acts out of the question."""

    def never(act: str, *lanes: int) -> bool:
        return account is not None and bool(account.never(act, lanes))

    steps = tuple(ahead)
    yield Act("go", steps, left)
    if not any(s.looks for s in steps):
        return
    if risky and may_hold(context, steps):
        yield Act("hold", in_turn(steps), cost=COST["hold"])
    lanes = range(len(context.shares))
    level = levels_at(context, state, list(lanes), state.t).mean(axis=1)
    first = next(s for s in steps if s.looks)
    apart = _in_own_pot(context, steps)
    # Waiting is of use to a step that can find its batter too thin, or that waits for what is below it.
    gains = first.wants.band[1] > 1 or first.wants.gate is not None
    thin = all(level[i] < first.wants.band[2] for i in first.lanes) and not never(first.do, *first.lanes)
    if steps[0].looks and left >= 1 and gains and thin:
        for minutes in WAITS:
            wait = _prefix("wait", (), minutes)
            yield Act("wait", (wait, *steps), cost=WAIT_COST * minutes, minutes=minutes, lanes=first.lanes)
    for i in apart:
        wanted = _next_of(steps, i)
        if wanted is None or i in state.in_mould:
            continue
        _, lo, hi, thick = wanted.wants.band
        still = moved(context, i, ln_rate) or never("stick", i)
        if level[i] < lo and wanted.wants.to is None and not still:
            for seconds in BURSTS:
                burst = _prefix("burst", (i,), seconds / 60 + FETCH_MINUTES, "stick")
                yield Act("burst", (burst, *steps), cost=COST["burst"], minutes=seconds / 60, lanes=(i,))
        if hi < level[i] < min(thick + LOOSER, SET) and not never("loosen", i):
            loose = _prefix("loosen", (i,), LOOSEN_SECONDS / 60)
            yield Act("loosen", (loose, *steps), cost=COST["loosen"], minutes=LOOSEN_SECONDS / 60, lanes=(i,))
    yield from _skips(steps, left)
    order = _thickest_first(steps, level, left)
    if order is not None and not never(order[0].do, *order[0].lanes):
        yield Act("order", order, cost=COST["order"], step=order[0], lanes=order[0].lanes)
    yield from _folds(context, state, steps, level)
    if leave:
        yield from _leaving(context, state, steps, left, job, now)


def may_hold(context: SimulationContext, steps: Sequence[Task]) -> bool:
    """Whether fragrances could wait, each for its portion's turn: they go into portions, and nobody said so yet."""
    scents = [s for s in steps if s.do == "scent"]
    apart = bool(scents) and all(len(s.lanes) == 1 for s in scents)
    return apart and context.schedule.state.in_turn is None and in_turn(steps) != tuple(steps)


def _leaving(
    context: SimulationContext, state: State, steps: tuple[Task, ...], left: float, job: Job, now: Technique
) -> Iterator[Act]:
    """What leaves the design: the rest into a spare mould, or another technique."""
    left_of = context.schedule.reconciled.left
    rest = [i for i in range(len(context.shares)) if left_of[i] > LEAST_LEFT and _next_of(steps, i) is not None]
    weight = sum(s.wants.weight for s in steps if s.looks)
    if rest and state.in_mould and left >= 1:
        spare = Task("spare", "spare", "spare mould", tuple(rest), 1.0, Wants(band=(0, 0, 4.6, 5.6), weight=0.0))
        yield Act("spare", (spare,), credit=(weight, SPARE_LOOK), cost=COST["spare"], lanes=tuple(rest))
    for turn in turns(context, state, steps, job, now):
        if left < 0.5 and steps[0].looks:
            continue  # nothing of a step more than half done is dropped
        yield Act("switch", turn.tasks, similarity=turn.similarity, cost=COST["switch"], technique=turn.technique)


def _in_own_pot(context: SimulationContext, steps: Sequence[Task]) -> list[int]:
    """Lanes that stand in a pot of their own and are combined."""
    shared = {i for s in steps if s.do == "split" for i in s.lanes}
    raw = {i for s in steps if s.do == "combine" for i in s.lanes}
    left = context.schedule.reconciled.left
    return [i for i in range(len(context.shares)) if i not in shared | raw and left[i] > LEAST_LEFT]


def _skips(steps: Sequence[Task], left: float) -> Iterator[Act]:
    looks = [s for s in steps if s.looks][:SKIPS]
    for task in looks:
        if task.wants.keep is None or (task is steps[0] and left < 0.5):
            continue
        rest = tuple(s for s in steps if s is not task)
        credit = (task.wants.weight, task.wants.keep)
        yield Act("skip", rest, left if rest and rest[0] is steps[0] else 1.0, credit, step=task, lanes=task.lanes)


def _thickest_first(steps: Sequence[Task], level: Array, left: float) -> tuple[Task, ...] | None:
    """The steps with the next block's thickest first, where they differ enough and stand in another order."""
    block = next((s.wants.block for s in steps if s.looks and s.wants.block), "")
    at = [n for n, s in enumerate(steps) if s.wants.block == block and s.looks and not (n == 0 and left < 1)]
    if not block or len(at) < 2:
        return None
    by = [float(np.mean(level[list(steps[n].lanes)])) for n in at]
    order = sorted(range(len(at)), key=lambda k: -by[k])
    if order == list(range(len(at))) or by[order[0]] - by[0] < APART:
        return None
    out = list(steps)
    for place, k in zip(at, order, strict=True):
        out[place] = steps[at[k]]
    return tuple(out)


def _folds(context: SimulationContext, state: State, steps: Sequence[Task], level: Array) -> Iterator[Act]:
    """A riced portion, or one past what its step takes, into one of the largest sound ones, where two are left."""
    apart = [i for i in _in_own_pot(context, steps) if i not in state.in_mould and _next_of(steps, i) is not None]
    riced = {i for i in apart if context.schedule.state.riced(context.schedule.bare[i].name)}
    past = {i for i in apart if (s := _next_of(steps, i)) is not None and level[i] > s.wants.band[3]}
    told = {i for i in apart if context.schedule.state.mishap(context.schedule.bare[i].name)}
    sound = sorted((i for i in apart if i not in riced | past | told), key=lambda i: -context.shares[i])[:FOLD_INTO]
    if len(sound) < 2:
        return  # one colour would be left
    for x in sorted(riced | past):
        base = context.shares[x] > max(context.shares[y] for y in sound)
        for y in (y for y in sound if base or context.shares[y] >= context.shares[x]):
            rest = after_fold(steps, x, (y,), list(context.shares))
            kept = sum(s.wants.weight for s in rest if s.looks)
            weight = max(sum(s.wants.weight for s in steps if s.looks) - kept, 0.0)
            fold = _prefix("fold", (x, y), FOLD_MINUTES)
            yield Act(
                "fold", (fold, *rest), credit=(weight, FOLDED_LOOK), cost=COST["fold"], lanes=(x, y), sure=x in riced
            )
