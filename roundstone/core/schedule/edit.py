"""The plan changed by hand: its steps spelled out as the maker's own, then moved, timed, taken out, put in, changed."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from ..recipe import (
    INTO_MOULD,
    MOST_STEPS,
    ON_MOULD,
    BlendStep,
    ColourStep,
    CombineStep,
    Design,
    DropStep,
    EmbedStep,
    LayerStep,
    LookStep,
    PassStep,
    PipeStep,
    PourStep,
    Recipe,
    ScentStep,
    SpareStep,
    SplitStep,
    SpoonStep,
    Step,
    TopStep,
    WaitStep,
)
from ..shelf import Shelf, TechniqueId
from ..values import Fault, Minutes, Name, RuleError, Value
from .choices import NewAct, band_between
from .plan import NO_LEVEL, own_steps, plan
from .task import Task, scaled

ACTS: dict[str, type[LookStep]] = {
    "pour": PourStep,
    "layer": LayerStep,
    "drop": DropStep,
    "pass": PassStep,
    "spoon": SpoonStep,
    "pipe": PipeStep,
    "top": TopStep,
    "embed": EmbedStep,
    "spare": SpareStep,
}
WANTED = ("band", "part", "weight", "keep", "wait", "gate", "to", "grain", "block")
STEP_MOST = 2880.0  # minutes
OWN = "my own step"
NEW_OWN = 2.0  # minutes of a step of one's own that is put in [chosen]
NEXT_DAY = "the next day"
NEW_WAIT, NEW_LEVEL = 5.0, 3.0  # minutes of a wait and the level of a thickening that is put in [chosen]
NEW_NIGHT = 1320.0  # minutes of a wait for the next day that is put in [chosen]


class StepEdit(Value):
    """An edit of the steps."""


class MoveStep(StepEdit):
    """A step goes to another place; `row` and `to` count the plan's steps as the forecast lists them."""

    kind: Literal["move_step"] = "move_step"
    row: int
    to: int


class TimeStep(StepEdit):
    """A step takes so many minutes, or so many `times` as long as it did."""

    kind: Literal["time_step"] = "time_step"
    row: int
    minutes: Minutes | None = None
    times: float | None = None


class TakeStep(StepEdit):
    """A step is taken out."""

    kind: Literal["take_step"] = "take_step"
    row: int


class ChangeStep(StepEdit):
    """A step becomes another."""

    kind: Literal["change_step"] = "change_step"
    row: int
    step: Step


class WantStages(StepEdit):
    """A step wants the batter from one stage to another; stages count from 1, emulsion."""

    kind: Literal["want_stages"] = "want_stages"
    row: int
    thinnest: int = Field(ge=1, le=5)
    thickest: int = Field(ge=1, le=5)


class PutNew(StepEdit):
    """A new step stands at `row` as it usually begins, of this portion where it is of one; those from there on move
    behind it. What its portion lacks is shared out anew."""

    kind: Literal["put_new"] = "put_new"
    row: int
    do: NewAct
    portion: Name


class AddFinish(StepEdit):
    """What a finishing technique does comes after all else."""

    kind: Literal["add_finish"] = "add_finish"
    technique: TechniqueId


class SpellSteps(StepEdit):
    """The technique's steps become the maker's own, as they are."""

    kind: Literal["spell_steps"] = "spell_steps"


StepAct = Annotated[
    MoveStep | TimeStep | TakeStep | PutNew | ChangeStep | WantStages | AddFinish | SpellSteps,
    Field(discriminator="kind"),
]


def spelled(recipe: Recipe, shelf: Shelf, grams: float) -> tuple[Step, ...]:
    """The plan's steps, each with all it wants, so that nothing is left to the technique: they plan to the same tasks.

    `grams` is the whole batter, which minutes go by.
    """
    tasks = plan(recipe, shelf, grams)
    textures = iter([s.texture for s in recipe.design.steps if isinstance(s, TopStep)])
    steps: list[Step] = [
        s.model_copy(update={"texture": next(textures, s.texture)}) if isinstance(s, TopStep) else s
        for s in _spelled(recipe, shelf, tasks)
    ]
    # A label that the step alone would not give is kept as its note.
    alone = own_steps(_with(recipe, steps).design, shelf, grams, scented=True)
    return tuple(
        step.model_copy(update={"note": task.label}) if bare.label != task.label else step
        for step, task, bare in zip(steps, tasks, alone, strict=True)
    )


def _spelled(recipe: Recipe, shelf: Shelf, tasks: tuple[Task, ...]) -> Iterator[Step]:
    portions = recipe.design.portions
    used = dict.fromkeys(range(len(portions)), 0.0)
    for s in tasks:
        who = tuple(portions[i].name for i in s.lanes)
        by: Literal["hand", "stick"] = "stick" if s.by == "stick" else "hand"
        match s.do:
            case "combine":
                yield CombineStep(batch=s.batch, to=s.to or 1.0, minutes=s.minutes or None)
            case "split":
                whole = len(s.lanes) == len(portions)
                yield SplitStep(
                    minutes=s.minutes, batch=None if whole else recipe.design.batch_of(portions[s.lanes[0]])
                )
            case "blend":
                yield BlendStep(who=who, to=s.to or 1.0, minutes=s.minutes)
            case "colour":
                yield ColourStep(who=who, by=by, minutes=s.minutes)
            case "scent":
                yield ScentStep(who=who, by=by, minutes=s.minutes)
            case "wait":
                yield WaitStep(who=who, until=s.to, minutes=s.minutes)
            case _:
                in_pots = s.do in INTO_MOULD
                # More than there is of it comes from the bowl, or the mould: it is on what lies there.
                lies = s.do in ON_MOULD or (in_pots and all(used[i] + s.wants.part > 1 + 1e-6 for i in s.lanes))
                wants = {k: getattr(s.wants, k) for k in WANTED}
                usual = shelf.acts[s.do]
                wants |= {k: NO_LEVEL for k in ("gate", "to") if wants[k] is None and getattr(usual, k) is not None}
                into = {"into": s.place} if s.place else {}
                skip = s.wants.keep is not None
                yield ACTS[s.do](who=() if lies else who, minutes=s.minutes, **wants, **into, skip=skip)
                for i in s.lanes if in_pots and not lies else ():
                    used[i] += s.wants.part


def _new(act: PutNew, poured: bool) -> Step:
    """The step as it is put in; one's own is on what is in the mould, once something is `poured`."""
    who: tuple[str, ...] = (act.portion,)
    if act.do == "own":
        new = PassStep(weight=0.0, skip=True) if poured else WaitStep()
        return new.model_copy(update={"note": OWN, "minutes": NEW_OWN})
    match act.do:
        case "wait" | "night":
            night = act.do == "night"
            return WaitStep(minutes=NEW_NIGHT if night else NEW_WAIT, note=NEXT_DAY if night else "")
        case "blend":
            return BlendStep(who=who, to=NEW_LEVEL)
        case "colour":
            return ColourStep(who=who)
        case "scent":
            return ScentStep(who=who)
    return ACTS[act.do](who=() if act.do in ON_MOULD else who)


def _wanting(step: Step, act: WantStages) -> Step:
    if not isinstance(step, LookStep):
        message = "This step asks nothing of the batter."
        raise RuleError(Fault(pointer=f"/design/steps/{act.row}", message=message))
    return step.model_copy(update={"band": band_between(act.thinnest, act.thickest)})


def _put(steps: list[Step], row: int, new: Step) -> list[Step]:
    """A new step that does not say how much it uses takes half of the largest share its portion has elsewhere."""
    out = list(steps)
    if isinstance(new, LookStep) and new.do in INTO_MOULD and new.part is None and len(new.who) == 1:
        mine = [
            (s.part, i)
            for i, s in enumerate(out)
            if isinstance(s, LookStep) and s.do in INTO_MOULD and s.who == new.who and s.part
        ]
        part = 0.0
        if mine:
            most, i = max(mine)
            part = round(most / 2, 4)
            out[i] = out[i].model_copy(update={"part": round(most - part, 4)})
        new = new.model_copy(update={"part": part})
    out.insert(row, new)
    return out


def _timed(step: Step, act: TimeStep) -> Step:
    at = f"/design/steps/{act.row}/minutes"
    if isinstance(step, CombineStep):
        message = "How long it is blended to emulsion follows from the batter."
        raise RuleError(Fault(pointer=at, message=message))
    minutes = (step.minutes or 0.0) * (act.times or 1.0) if act.minutes is None else act.minutes
    if not 0 <= minutes <= STEP_MOST:
        raise RuleError(Fault(pointer=at, message="A step takes from 0 minutes to two days."))
    return step.model_copy(update={"minutes": round(minutes, 2)})


def _on_what_there_is(step: LookStep, recipe: Recipe, steps: list[Step]) -> LookStep:
    """A finish is made of what the largest portion keeps back, a tenth of it, or on what is in the mould."""
    if step.do in ON_MOULD:
        return step
    poured = {n for s in steps if isinstance(s, LookStep) for n in s.who}
    free = [p.name for p in recipe.design.portions if p.name not in poured]
    largest = max(recipe.design.portions, key=lambda p: p.share).name
    return step.model_copy(update={"who": tuple(free) or (largest,), "part": 1.0 if free else 0.0})


def _with(recipe: Recipe, steps: list[Step]) -> Recipe:
    return recipe.model_copy(update={"design": recipe.design.model_copy(update={"steps": tuple(steps)})})


def _moved(steps: list[Step], row: int, to: int, design: Design) -> list[Step]:
    """The step at its new place. The first that is poured of a later batch takes what makes that batch along: its lye
    meets its fats just before it, wherever it is poured."""
    step, of = steps[row], {p.name: design.batch_of(p) for p in design.portions}

    def batches(s: Step) -> set[str]:
        if isinstance(s, CombineStep):
            return {s.batch}
        if isinstance(s, SplitStep):
            return {design.batches[0] if s.batch is None else s.batch}
        return {of[n] for n in s.who if n in of}

    mine = batches(step) - {design.batches[0]}
    pours = isinstance(step, LookStep) and step.do in INTO_MOULD
    first = not any(isinstance(s, LookStep) and batches(s) & mine for s in steps[:row])
    along = [
        i
        for i, s in enumerate(steps)
        if i == row or (pours and first and not isinstance(s, LookStep) and mine and batches(s) and batches(s) <= mine)
    ]
    others = [s for i, s in enumerate(steps) if i != row]
    before = others[: min(max(to, 0), len(others))]
    place = sum(all(s is not steps[i] for i in along) for s in before)
    rest = [s for i, s in enumerate(steps) if i not in along]
    return [*rest[:place], *(steps[i] for i in along), *rest[place:]]


def _done(steps: list[Step], act: StepAct, design: Design) -> list[Step]:
    """The steps after an act on one of them."""
    match act:
        case MoveStep():
            steps = _moved(steps, act.row, act.to, design)
        case TimeStep():
            steps[act.row] = _timed(steps[act.row], act)
        case TakeStep():
            if isinstance(steps[act.row], CombineStep):
                message = "Without combining there is no batter: this step stays."
                raise RuleError(Fault(pointer=f"/design/steps/{act.row}", message=message))
            del steps[act.row]
        case PutNew():
            if len(steps) >= MOST_STEPS:
                raise RuleError(Fault(pointer="/design/steps", message=f"A plan has {MOST_STEPS} steps at most."))
            poured = any(isinstance(s, LookStep) and s.do in INTO_MOULD for s in steps[: act.row])
            steps = _put(steps, act.row, _new(act, poured))
        case ChangeStep():
            steps[act.row] = act.step
        case WantStages():
            steps[act.row] = _wanting(steps[act.row], act)
    return steps


def rearranged(recipe: Recipe, act: StepAct, shelf: Shelf, grams: float) -> Recipe:
    """The recipe with its steps spelled out and the act done; RuleError where there is no such step."""
    steps = list(spelled(recipe, shelf, grams))
    if isinstance(act, SpellSteps):
        return _with(recipe, steps)
    if isinstance(act, AddFinish):
        technique = shelf.techniques.get(act.technique)
        if technique is None or technique.family not in ("finish", "texture"):
            raise RuleError(Fault(pointer="/design/technique", message="This is no finish for another design."))
        finish = [
            ACTS[s.do](**{k: getattr(s, k) for k in WANTED}, minutes=scaled(s.minutes, grams)) for s in technique.steps
        ]
        return _with(recipe, [*steps, *(_on_what_there_is(s, recipe, steps) for s in finish)])
    last = len(steps) if isinstance(act, PutNew) else len(steps) - 1
    if not 0 <= act.row <= last:
        raise RuleError(Fault(pointer="/design/steps", message="There is no such step any more."))
    steps = _done(steps, act, recipe.design)
    if not isinstance(steps[0], CombineStep):
        message = "Lye has to meet the fats first: nothing of the plan comes before that."
        raise RuleError(Fault(pointer="/design/steps/0", message=message))
    return _with(recipe, steps)
