"""What one changes to when a plan will not do: other techniques, from what physically exists at that moment."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from ..batter import Array
from ..face import coded
from ..recipe import Recipe
from ..schedule import LEAST_LEFT, Task, in_turn, plan, turned
from ..shelf import DesignMoment, Shelf, Technique
from ..simulate import Outcome, Played, SimulationContext, State, Walk, levels_at, middle, play
from ..values import Name, Share, Value
from .faces import face_of, meant
from .job import Job
from .odds import Outlook, hundred, outlook

STANDS = 3.4  # level at which what is in the mould stands [C]
RISKY = 0.7  # of the draws: a step that fits less often wants a fall-back [C]
FAILS = 0.5  # of the fit: below it a step has failed in a draw [C]
SELDOM = 0.05  # share of the draws in which a step must fail for a fall-back to be worth a word [C]
LEAST_GAIN = 0.06  # in value, of a fall-back over going on [C]
SAME, DEFAULT = 0.65, 0.4  # how much like the drawn technique another is: of its own family, and of one not named below
KIN: dict[tuple[str, str], float] = {  # [C]
    ("layer", "texture"): 0.55,
    ("texture", "layer"): 0.5,
    ("fluid", "layer"): 0.4,
    ("layer", "fluid"): 0.4,
    ("fluid", "texture"): 0.35,
}
PLAIN_KIN = 0.1  # to or from one colour [C]
ONE_COLOUR = ("plain", "tamp")  # never offered once colours are in pots


class FallBack(Value):
    """A technique stood ready under a risky step: its trigger, and both outlooks in the batters that pull it."""

    step: str
    label: str
    portion: Name
    trigger: str
    technique: str
    name: str
    how: str
    often: Share
    going_on: Outlook
    instead: Outlook


class TechniqueOutlook(Value):
    """How a technique would come out in this batter, poured by these portions from the start: None where they do not
    suit it, and then `needs` says why. `face` is the code of its cut face."""

    technique: str
    name: str
    family: str
    how: str
    outlook: Outlook | None
    needs: str
    face: str


@dataclass(frozen=True)
class Turn:
    """Another technique for what is left, as steps whose weights are those of the steps it takes the place of."""

    technique: Technique
    tasks: tuple[Task, ...]
    similarity: float


def similarity(drawn: Technique, other: Technique) -> float:
    """How much of "as planned" there is in a change of technique, 0 to 1."""
    if drawn.id == other.id:
        return 1.0
    if "plain" in (drawn.family, other.family) or other.id == "tamp":
        return PLAIN_KIN
    if drawn.family == other.family:
        return SAME
    return KIN.get((drawn.family, other.family), DEFAULT)


def moment(context: SimulationContext, state: State, ahead: Sequence[Task], recipe: Recipe) -> DesignMoment:
    """What there is: nothing split, pots and an empty mould, some of it in the mould (fluid or standing), or all in."""
    left = _left(context, state, ahead)
    in_mould = list(state.in_mould)
    if not left and in_mould:
        return "full"
    if in_mould:
        standing = middle(levels_at(context, state, in_mould, state.t).min(axis=0))
        return "stands" if standing >= STANDS else "part"
    design = recipe.design
    first = [i for i, p in enumerate(design.portions) if design.batch_of(p) == design.batches[0]]
    to_split = any(s.do == "split" and set(s.lanes) & set(first) for s in ahead)
    return "pot" if to_split or len(design.portions) == 1 else "split"


def _left(context: SimulationContext, state: State, ahead: Sequence[Task]) -> dict[int, float]:
    """Share of each lane that is left for the steps to come."""
    wanted = {i for s in ahead if s.looks for i in s.lanes}
    return {
        i: float(1 - state.used[i])
        for i in range(len(context.shares))
        if 1 - state.used[i] > LEAST_LEFT and (i in wanted or i not in state.in_mould)
    }


def turns(
    context: SimulationContext, state: State, ahead: Sequence[Task], job: Job, now: Technique
) -> tuple[Turn, ...]:
    """What the technique in hand turns to at this moment, nearest first."""
    recipe, shelf = job.recipe, job.shelf
    there = moment(context, state, ahead, recipe)
    if there == "full":
        return ()  # only tool and top are left: a skip is the act
    design = recipe.design
    left = _left(context, state, ahead)
    drawn = shelf.techniques[design.technique]
    coloured = len(design.portions) > 1 and (there != "pot" or design.batching == "layers")
    out = []
    for name in now.turns.get(there, ()):
        other = shelf.techniques.get(name)
        if other is None or other.id == now.id or (coloured and other.id in ONE_COLOUR):
            continue
        if other.most is not None and len(design.portions) > other.most and len(left) > other.most:
            continue
        if len(left) + (1 if state.in_mould else 0) < max(other.pots, 1) or not left:
            continue
        tasks = turned(recipe, other, job.grams, left, state.in_mould, ahead, ())
        tasks = in_turn(tasks) if context.schedule.state.in_turn is not None else tasks
        if not any(s.wants.weight > 0 for s in tasks if s.looks):
            continue
        out.append(Turn(other, tasks, similarity(drawn, other)))
    return tuple(out)


def techniques(context: SimulationContext, state: State, job: Job) -> tuple[TechniqueOutlook, ...]:
    """All techniques, the likeliest to come as planned first, then those that these portions do not suit."""
    recipe, shelf = job.recipe, job.shelf
    portions = recipe.design.portions
    out = []
    begun: dict[tuple[Task, ...], State] = {}
    for other in shelf.techniques.values():
        needs = _needs(other, len(portions))
        if needs:
            out.append(_unplayed(recipe, shelf, other, needs, context.seed))
            continue
        design = recipe.design.model_copy(update={"technique": other.id, "steps": ()})
        tasks = plan(recipe.model_copy(update={"design": design}), shelf, job.grams)
        # What is prepared is the same for all of them, and played once.
        first = next((n for n, s in enumerate(tasks) if s.looks), 0)
        ready = tasks[:first]
        if ready not in begun:
            begun[ready] = play(context, state, ready).state
        outcome = play(context, begun[ready], tasks[first:])
        value = float(outcome.value(context.utility).mean())
        out.append(
            TechniqueOutlook(
                technique=other.id,
                name=other.name,
                family=other.family,
                how=other.how,
                outlook=outlook(outcome, value),
                needs="",
                face=coded(face_of(recipe, shelf, other.id, outcome, context.seed)),
            )
        )
    several = len(portions) > 1

    def rank(x: TechniqueOutlook) -> tuple[bool, float]:
        # One colour is no answer to several: it stands after all that keep them apart.
        return several and x.technique in ONE_COLOUR, -x.outlook.value if x.outlook is not None else 1.0

    return tuple(sorted(out, key=rank))


def _needs(technique: Technique, portions: int) -> str:
    if technique.pots == 0:
        return "goes on top of another"
    if portions < technique.pots:
        return f"needs {technique.pots} portions"
    return f"at most {technique.most} portions" if technique.most is not None and portions > technique.most else ""


def _unplayed(recipe: Recipe, shelf: Shelf, technique: Technique, needs: str, seed: int) -> TechniqueOutlook:
    return TechniqueOutlook(
        technique=technique.id,
        name=technique.name,
        family=technique.family,
        how=technique.how,
        outlook=None,
        needs=needs,
        face=coded(meant(recipe, shelf, technique, seed)),
    )


def amiss_at(played: Played) -> Array:
    """Where a step has failed, by draw."""
    return np.asarray(played.fit < FAILS)


def fall_backs(
    context: SimulationContext,
    state: State,
    ahead: Sequence[Task],
    planned: Outcome,
    job: Job,
    now: Technique,
    most: int = 3,
) -> Iterable[FallBack]:
    """For each risky step to come, the nearest technique that does better in the batters in which it fails."""
    walk, walked = Walk(context, state, ahead), 0
    utility = planned.value(context.utility)
    told = 0
    for n, played in enumerate(planned.steps[len(planned.steps) - len(ahead) :]):
        if not played.task.looks or played.odds >= RISKY or told >= most:
            continue
        failing = amiss_at(played)
        often = float(np.mean(failing))
        if often < SELDOM:
            continue
        for step in range(walked, n):
            walk.step(ahead[step], context.schedule.reconciled.under if step == 0 else 1.0)
        walked = n
        going = float(utility[failing].mean())
        for turn in turns(walk.context, walk.state, ahead[n:], job, now):
            if context.utility.most(turn.similarity) < going + LEAST_GAIN:
                continue
            other = play(walk.context, walk.state, turn.tasks)
            value = other.value(context.utility, turn.similarity)[failing].mean()
            if value < going + LEAST_GAIN:
                continue
            worst = int(np.argmin(played.each.mean(axis=1)))
            portion = job.recipe.design.portions[played.task.lanes[worst]].name
            yield FallBack(
                step=played.task.key,
                label=played.task.label,
                portion=portion,
                trigger=trigger(played, portion),
                technique=turn.technique.id,
                name=turn.technique.name,
                how=turn.technique.how,
                often=often,
                going_on=outlook(planned, float(going), failing),
                instead=outlook(other, float(value), failing),
            )
            told += 1
            break


def trigger(played: Played, portion: str) -> str:
    """When a fall-back is due, in words one can see at the pot."""
    _, lo, hi, thick = played.task.wants.band
    if played.amiss.late > max(played.amiss.thick, played.amiss.thin):
        return f"if what lies below does not stand when it comes to {played.task.label}"
    if played.amiss.thick >= played.amiss.thin:
        return f"if {portion} {_is(hi + (thick - hi) / 2)} when it comes to {played.task.label}"
    return f"if {portion} is still thinner than {_stage(lo)} when it comes to {played.task.label}"


def _is(level: float) -> str:
    return f"is past {_stage(level)}" if level % 1 >= 0.5 else f"is at {_stage(level)} or beyond"


def _stage(level: float) -> str:
    return ("emulsion", "emulsion", "light", "medium", "thick", "set")[min(int(level), 5)]


# What a step is to the batter, after "too thick" or "too thin".
FOR = {"pour": "to pour", "layer": "to pour", "drop": "to drop", "spoon": "to spoon", "pipe": "to pipe"}


def message(played: Played, names: Sequence[str]) -> str:
    """A step that may fail, in one sentence: "40 % chance Ash is too thick to drop"."""
    wrong, task = played.amiss, played.task
    if wrong.late > max(wrong.thick, wrong.thin):
        return f"{hundred(wrong.late)} % chance that what lies below does not stand yet for {task.label}"
    worst = int(np.argmin(played.each.mean(axis=1))) if len(names) > 1 else 0
    who = names[worst] if names else "the batter"
    thin = task.lanes[worst] in played.too_thin_in if names else wrong.thin > wrong.thick
    odds = float(1 - played.each[worst].mean()) if names else max(wrong.thick, wrong.thin)
    what = FOR.get(task.do, f"for the {task.label}")
    return f"{hundred(odds)} % chance {who} is too {'thin' if thin else 'thick'} {what}"
