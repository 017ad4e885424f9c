"""Which act is worth saying: every one that is possible is played on the same draws as going on.

A change is said only when it gains clearly and what was seen calls the design in question; of acts that gain nearly
alike the mildest."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..account import Account
from ..batter import Array
from ..forecast.forecast import Projection
from ..forecast.turns import RISKY, FallBack, fall_backs, similarity
from ..recipe import INTO_MOULD
from ..simulate import Outcome, levels_at, play
from .acts import MARGIN, Act, acts

NEARLY = 0.75  # of the best gain: of the acts that reach it the mildest is said [C]
HALVED = 0.5  # of its margin, for what was said before already: advice does not flicker [C]
WORSE = 0.10  # in value, below what was to be expected, before a design is called in question [C]


@dataclass(frozen=True)
class Weighed:
    """An act played out."""

    act: Act
    outcome: Outcome
    value: float


def faster_than_believed(projection: Projection) -> Array:
    """By how much each lane's ln-rate with its scent is believed to be above what it was before anything was seen."""
    belief = projection.belief
    place = belief.column

    def mean(name: str) -> float:
        return float(belief.mean[place[name]]) if name in place else 0.0

    out = []
    for lane in projection.schedule.bare:
        own = mean(lane.batch_effect) + mean(lane.portion_effect) + mean(lane.lye_in_effect or "-")
        scent = sum(
            x * (mean(f"e:{f}") - projection.knows.knowledge.value(f"e:{f}")) for f, x in lane.effective_dose.items()
        )
        out.append(own + scent)
    return np.array(out)


def stood_ready(projection: Projection) -> tuple[FallBack, ...]:
    """What stands ready under the risky steps of a plan."""
    p = projection
    ahead = p.schedule.reconciled.ahead
    return tuple(fall_backs(p.context, p.at, ahead, p.outcome, p.job, p.schedule.technique))


def weigh_acts(projection: Projection, account: Account | None = None) -> tuple[Weighed, list[Weighed]]:
    """Going on, and every other act that may be chosen and gain enough, each played out on the same draws."""
    schedule, context, at = projection.schedule, projection.context, projection.at
    reconciled, technique = schedule.reconciled, schedule.technique
    fast = faster_than_believed(projection)
    design = projection.recipe.design
    alike = 1.0 if reconciled.drawn else similarity(projection.shelf.techniques[design.technique], technique)
    value = float(projection.outcome.value(context.utility, alike).mean())
    # Nobody is told to leave a design before it is called in question.
    leave = in_question(projection, value)
    risky = float(projection.outcome.drawn.mean()) < RISKY
    steps = reconciled.ahead, reconciled.under
    found = acts(context, at, *steps, projection.job, technique, fast, leave, risky, account)
    going = Weighed(next(found), projection.outcome, value)
    others = []
    for act in found:
        if (
            context.utility.most(act.similarity if act.kind == "switch" else alike) - act.cost - going.value
            < act.margin * HALVED
        ):
            continue  # it could not gain so much
        outcome = play(context, at, act.tasks, act.left, act.credit, projection.done)
        comes_to = outcome.value(context.utility, act.similarity if act.kind == "switch" else alike)
        others.append(Weighed(act, outcome, float(comes_to.mean()) - act.cost))
    return going, others


def choose(going: Weighed, others: Sequence[Weighed], standing: str = "") -> Weighed:
    """A change that gains its margin; of near equals the mildest, and of these the nearest; else going on.

    Half the margin is enough for what was said before."""

    def margin(act: Act) -> float:
        return act.margin * (HALVED if standing and act.name == standing else 1.0)

    gaining = [o for o in others if o.value - going.value >= margin(o.act)]
    if not gaining:
        return going
    best = max(o.value for o in gaining) - going.value
    near = [o for o in gaining if o.value - going.value >= NEARLY * best]
    mildest = min(MARGIN.get(o.act.kind, 0.0) for o in near)
    return next(o for o in near if MARGIN.get(o.act.kind, 0.0) == mildest)


def in_question(projection: Projection, value: float) -> bool:
    """Whether what was seen calls the design in question: a portion seen nearly past what its next step takes, or a
    plan that does much worse, since the last fragrance went in, than by what was done alone. Until then the maker knew
    the odds before the pour, and stands warned.
    """
    state, blind, reconciled = projection.state, projection.blind, projection.schedule.reconciled
    for task in (s for s in reconciled.ahead if s.looks and s.do in INTO_MOULD):
        for i in task.lanes:
            if reconciled.left[i] > 0 and state.level(projection.schedule.bare[i].name) >= task.wants.band[2] - 0.5:
                return True
    last = max(state.scents.values(), default=0.0)
    all_in = not any(s.do == "scent" for s in reconciled.ahead)
    seen = all_in and any(look.minute > last for _, look in state.looks)
    return seen and blind is not None and value < float(blind.value(projection.context.utility).mean()) - WORSE


def level_now(projection: Projection) -> dict[str, float]:
    """Middle level of every portion now."""
    lanes = list(range(len(projection.schedule.bare)))
    level = np.median(levels_at(projection.context, projection.at, lanes, projection.at.t), axis=1)
    return {lane.name: float(x) for lane, x in zip(projection.schedule.bare, level, strict=True)}
