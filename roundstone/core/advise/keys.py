"""The big key of the bench and those beside it: what each says, and the event it taps."""

from collections.abc import Iterator
from dataclasses import replace
from uuid import UUID

from pydantic import Field

from ..account import Account
from ..forecast.forecast import Projection
from ..pour import (
    BenchEvent,
    Combined,
    Ended,
    Folded,
    LayerTested,
    Mended,
    PouringBegan,
    Resumed,
    ScentIn,
    ScentInTurn,
    Spared,
    Split,
    StageSeen,
    StepDone,
    StepSkipped,
    TechniqueChanged,
    Worked,
)
from ..recipe import ON_MOULD
from ..schedule import Task, is_a_night
from ..shelf import STAGES
from ..values import Name, Value, listed
from .sentence import Advice, capitalised

OPEN = UUID(int=0)
DONE = {
    "pour": "poured", "drop": "dropped", "layer": "poured", "spoon": "spooned in", "pipe": "piped", "top": "on top",
}  # fmt: skip


class Key(Value):
    """What a key says, and what it taps; who taps it gives the event its id and its minute."""

    message: str = Field(max_length=240)
    event: BenchEvent


def keys_of(projection: Projection, advice: Advice, account: Account) -> tuple[Key, ...]:
    """The big key first: what is advised, then going on as planned where that is another thing."""
    if projection.state.ended is not None:
        return ()
    found: list[Key] = []
    for key in (*_advised(projection, advice, account), *_going(projection, advice, account)):
        if all(key.event != k.event for k in found):
            found.append(key)
    if projection.state.pouring is not None and len(found) == 1 and advice.go != "ended" and _may_end(account):
        found.append(Key(message="Mould is full", event=Ended(id=OPEN, minute=projection.now)))
    return tuple(found[:3])


def _may_end(account: Account) -> bool:
    """Whether a pour can end here with nothing left over: what is not told is likely in, or need not be."""
    left = [t for t in account.open if t not in account.assumed]
    return account.last_in_hand or all(t.wants.keep is not None or t.do in ON_MOULD for t in left if t.looks)


def _forbidden(account: Account, task: Task | None) -> bool:
    """Whether a step must not be done to what was told of its batter, and nothing is done in its place."""
    if task is None or not account.never(task.do, task.lanes):
        return False
    return not account.instead(task.do, task.lanes)


def past(task: Task, names: list[str], account: Account) -> str:
    """A step in the words of one who has done it, and which time, of a step that is done more than once."""
    if account.into_bowl(task):
        return f"{listed(names)} {'is' if len(names) == 1 else 'are'} in the bowl"
    time = account.round_of(task)
    return f"{_past(task, names)}, {time}" if time else _past(task, names)


def _past(task: Task, names: list[str]) -> str:  # noqa: PLR0911 - one return a kind of step
    if task.do == "pour" and task.wants.part <= 0:
        return "It is poured"
    if task.place:
        return f"{capitalised(task.place)} {'are' if task.place[:1].isdigit() else 'is'} poured"
    if task.do == "pass" and task.label == "wire":
        return "The wire is through"
    if task.do == "colour":
        return f"{listed(names)} {'is' if len(names) == 1 else 'are'} coloured"
    if is_a_night(task):
        return "The next day begins"
    if task.do not in DONE or not names:
        return f"Done: {task.label}"
    return f"{listed(names)} {'is' if len(names) == 1 else 'are'} {DONE[task.do]}"


def _advised(  # noqa: PLR0912 - one branch an act
    projection: Projection, advice: Advice, account: Account
) -> Iterator[Key]:
    names = [lane.name for lane in projection.schedule.bare]
    base = {"id": OPEN, "minute": projection.now}
    seconds = round(60 * (advice.minutes or 0.0), 1)
    named = advice.portion if advice.portion in names else None
    match advice.do:
        case "resume":
            yield Key(message="Hands on again", event=Resumed(**base))
        case "switch" if advice.technique:
            message = f"Change to {advice.technique_name.lower()}"
            yield Key(message=message, event=TechniqueChanged(**base, technique=advice.technique))
        case "hold":
            yield Key(message="Scent as each is poured", event=ScentInTurn(**base))
        case "skip" if advice.step:
            task = account.task(advice.step)
            yield Key(
                message=f"Leave it out: {task.label if task else advice.step}",
                event=StepSkipped(**base, step=advice.step),
            )
        case "fold" if named:
            message = f"Folded: {named} into {listed(advice.into)}"
            yield Key(message=message, event=Folded(**base, portion=named, into=advice.into))
        case "spare":
            yield Key(message="In a spare mould", event=Spared(**base))
        case "burst" if seconds > 0:
            message = f"Blended {advice.portion} {seconds:.0f} s"
            yield Key(message=message, event=Worked(**base, portion=named, tool="stick", seconds=seconds))
        case "loosen" if seconds > 0:
            event = Worked(**base, portion=named, tool="hand", seconds=seconds, purpose="loosen")
            yield Key(message=f"Stirred {advice.portion} loose", event=event)
        case "order" if advice.step:
            task = account.task(advice.step)
            if projection.state.pouring is not None and task is not None:
                message = past(task, [names[i] for i in task.lanes], account)
                yield Key(message=message, event=StepDone(**base, step=task.key))
        case "step" if advice.step and (advice.go, advice.go_step) != ("step", advice.step):
            yield from _step_keys(projection, account, advice.step)
        case "rescue" if (flag := projection.state.mishap()) is not None:
            about = {**base, "portion": flag.portion, "flag": flag.flag}
            ways = [("smooth", "It is smooth again")]
            if flag.flag == "ricing":  # grains can be used; what has not come together is never poured
                ways.append(("rough", "Still so: used as it is"))
            for how, message in ways:
                yield Key(message=message, event=Mended.model_validate({**about, "how": how}))
        case "gate" if named:
            for how, message in (("stands", f"{named} stands"), ("wet", "film, but wet")):
                yield Key(message=message, event=LayerTested.model_validate({**base, "portion": named, "how": how}))


def waits_for_scent(projection: Projection, account: Account) -> tuple[Name, ...]:
    """Portions whose fragrance is still to go in, in the plan's order."""
    names = [lane.name for lane in projection.schedule.bare]
    lanes = dict.fromkeys(i for t in account.open if t.do == "scent" for i in t.lanes)
    return tuple(names[i] for i in lanes if projection.state.waits_for_scent(names[i]))


def _going(projection: Projection, advice: Advice, account: Account) -> Iterator[Key]:
    """The plan's own next act."""
    names = [lane.name for lane in projection.schedule.bare]
    base = {"id": OPEN, "minute": projection.now}
    design = projection.recipe.design
    match advice.go:
        case "emulsion":
            step = next((s for s in account.open if s.do == "combine"), None)
            batch = step.batch if step is not None else ""
            if step is None or not batch or batch == design.batches[0]:
                yield Key(message="It is at emulsion", event=StageSeen(**base, stage=STAGES[1]))
            elif batch not in projection.state.combined:
                yield Key(message=f"{batch}: lye met fats", event=Combined(**base, batch=batch))
            else:
                name = names[step.lanes[0]]
                yield Key(message=f"{name} is an emulsion", event=StageSeen(**base, portion=name, stage=STAGES[1]))
        case "scent":
            whole = design.scent_at == "emulsion" or projection.state.split is None
            named = next(iter(waits_for_scent(projection, account)), None)
            into = None if whole and len(design.batches) < 2 else named
            message = f"Scent is in: {into}" if into else "Scent is in"
            yield Key(message=message, event=ScentIn(**base, portion=into))
        case "step" if advice.go_step:
            yield from _step_keys(projection, account, advice.go_step)
        case "split":
            yield Key(message="Batter is split", event=Split(**base))
        case "pouring" if not _forbidden(account, account.next_look):
            yield Key(message="Pouring now", event=PouringBegan(**base))
        case "ended":
            yield Key(message="Mould is full", event=Ended(**base))


def _step_keys(projection: Projection, account: Account, key: str) -> Iterator[Key]:
    """A step is done; and all that is likely done with it, where nobody told of several."""
    names = [lane.name for lane in projection.schedule.bare]
    base = {"id": OPEN, "minute": projection.now}
    task = account.task(key)
    if task is None or _forbidden(account, task):
        return
    lanes = task.lanes
    if task.do == "colour":  # with it all is told that was coloured before it
        before = account.open[: account.open.index(task) + 1]
        lanes = tuple(dict.fromkeys(i for t in before if t.do == "colour" for i in t.lanes))
    done = replace(task, do=account.instead(task.do, task.lanes) or task.do)
    yield Key(message=past(done, [names[i] for i in lanes], account), event=StepDone(**base, step=task.key))
    if len(account.assumed) > 1:
        last = account.assumed[-1]
        message = f"All done, up to: {last.label}"
        yield Key(message=message, event=StepDone(**base, step=last.key))
