"""Lanes of a pour's batter: each with its factors, temperatures, stirring and fragrances by the minute."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from math import exp
from typing import Literal

from ..batter import (
    Cooling,
    CoolingPath,
    Knowledge,
    Lane,
    Temperature,
    Work,
    prior,
    sharing,
    temperature_step,
)
from ..pour import PourState
from ..recipe import Recipe
from ..sheet import Sheet
from .reconcile import Placed
from .task import Task

POT = "the pot"


def emulsion_minutes(knowledge: Knowledge, sheet: Sheet, celsius: float) -> tuple[float, float]:
    """Median minutes from combining to emulsion when blended in bursts, and the sd of its logarithm."""
    steps = [(sheet.combined[k] - f.reference) / f.step for k, f in prior.FACTORS.items()]
    names = [*(f"x:{k}" for k in prior.FACTORS), "E", "stick"]
    row = [*steps, temperature_step(celsius), 1.0]
    mean, cov = knowledge.part(names)
    eta = sum(r * m for r, m in zip(row, mean, strict=True))
    sd = (prior.EMULSION_WORK_SD**2 + cov[-1, -1] + knowledge.noise.batch**2) ** 0.5
    return max(prior.EMULSION_WORK / exp(eta) / prior.BLENDING_SHARE, prior.LEAST_EMULSION), float(sd)


def temperature(
    recipe: Recipe, state: PourState, begun: float, pot: float, grams: float, split: float | None
) -> Temperature:
    """Temperature of a portion of `grams`: its pot's until the split, then its own; every reading starts anew."""
    path = CoolingPath(((begun, Cooling(recipe.pour_celsius, recipe.room_celsius, pot)),))
    marks: list[tuple[float, float | None]] = [(m, c) for m, c in state.readings if m >= begun]
    marks += [(split, None)] if split is not None else []
    for minute, celsius in sorted(marks, key=lambda m: m[0]):
        mass = grams if split is not None and minute >= split else pot
        start = float(path(minute)) if celsius is None else celsius
        path = CoolingPath((*path.legs, (minute, Cooling(start, recipe.room_celsius, mass))))
    return path


def percents_of(recipe: Recipe, sheet: Sheet, state: PourState) -> tuple[dict[str, float], ...]:
    """What of each fragrance a portion gets, in percent of its fats: as was said when it went in, else as planned."""
    out = []
    full = sum(s.load for s in recipe.scents)
    for portion in recipe.design.portions:
        planned = portion.scent if recipe.design.scents_apart else 1.0
        doses = (*state.doses.get(None, ()), *state.doses.get(portion.name, ()))
        if doses and (planned == 0 or (portion.name not in state.doses and not portion.scented)):
            planned = 1.0  # it went into all there was
        # What went in again, by a hand's own word, comes on top of what was in the pot or the fats.
        share = 0.0 if doses and not recipe.scent_in_fats else planned
        for dose in doses:
            if dose.share is not None:
                share += dose.share
            elif dose.grams is not None and full > 0:
                share += dose.grams / (full * sheet.fats * (portion.share if dose.portion is not None else 1.0))
            else:
                share += planned
        out.append({s.fragrance: 100 * s.load * share for s in recipe.scents if s.load > 0})
    return tuple(out)


def scent_minute(recipe: Recipe, state: PourState, i: int, done: Sequence[Placed]) -> float | None:
    """When a portion got its fragrance: as logged, else as planned.

    Once poured, a portion passed over while others were logged had none; where no tap was made at all, a tap was
    forgotten, not the fragrance.
    """
    name = recipe.design.portions[i].name
    logged = state.scented_at(name)
    if logged is not None or not recipe.scents:
        return logged
    if state.left_out & {None, name} or (state.over is not None and state.scents):
        return None
    slot = next((p for p in done if p.task.do == "scent" and i in p.task.lanes), None)
    if slot is None:
        return None
    begun, _ = turn_of(slot, i)
    return begun if state.over is None else min(begun, state.over)


def worked(state: PourState, name: str, origin: float) -> Iterator[Work]:
    for w in state.work:
        if w.portion in (None, name) and w.minute > origin:
            yield Work(max(w.minute - w.seconds / 60, origin), w.minute, w.tool)


def stirred_in(minute: float, task: Task | None, by: str, whole: bool) -> Work:
    """The whisking, or blending, of a fragrance."""
    tool = task.by if task is not None else by
    minutes = prior.SCENT_STICK_MINUTES if tool == "stick" else prior.SCENT_STIR_MINUTES * (2 if whole else 1)
    return Work(minute, minute + minutes, "stick" if tool == "stick" else "hand")


def turn_of(placed: Placed, lane: int) -> tuple[float, float]:
    """From when to when a step is at a lane: where its portions stand apart, each has its turn."""
    place = placed.task.lanes.index(lane) if placed.task.vessels > 1 else 0
    each = (placed.end - placed.start) / placed.task.vessels
    return placed.start + place * each, placed.start + (place + 1) * each


def stirring(steps: Iterable[Placed], lane: int) -> list[Work]:
    """The stirring of colours into a lane."""
    mine = [p for p in steps if p.task.do == "colour" and lane in p.task.lanes and p.end > p.start]
    return [Work(*turn_of(p, lane), tool(p.task)) for p in mine]


def tool(task: Task) -> Literal["hand", "stick"]:
    return "stick" if task.by == "stick" else "hand"


def laid_on(
    recipe: Recipe, bare: Sequence[Lane], planned: Sequence[Placed], percents: Sequence[Mapping[str, float]]
) -> list[Lane]:
    """Lanes with what is planned for them laid on, sharing their segments."""
    whole = []
    for i, past in enumerate(bare):
        slot = next((p for p in planned if p.task.do == "scent" and i in p.task.lanes), None)
        at = turn_of(slot, i)[0] if slot is not None else None
        lane = with_scent(past, recipe, percents[i], at, i, planned) if not past.added else past
        stirred = stirring(planned, i)
        whole.append(replace(lane, work=(*stirred, *lane.work)) if stirred else lane)
    return list(bare) if all(x is y for x, y in zip(whole, bare, strict=True)) else sharing(whole)


def split_minute(
    batch: str, batches: Sequence[str], state: PourState, placed: Iterable[Placed], first: str
) -> float | None:
    """When a batch of several portions is divided; None for a batch that is one portion, or was poured whole."""
    if batches.count(batch) < 2:
        return None
    if batch == first and state.split is not None:
        return state.split
    if batch == first and state.pouring is not None:
        return None  # poured without one, it is one batter
    lanes = [i for i, b in enumerate(batches) if b == batch]
    slot = next((p for p in placed if p.task.do == "split" and set(lanes) & set(p.task.lanes)), None)
    return slot.end if slot is not None else None


def with_scent(
    lane: Lane,
    recipe: Recipe,
    percents: Mapping[str, float],
    minute: float | None,
    i: int,
    placed: Sequence[Placed],
    tapped: bool = False,
) -> Lane:
    """A lane with its fragrance in from `minute` on, as a hand `tapped` or as planned, and whisked."""
    if minute is None:
        return lane
    minute = max(minute, lane.origin)
    work = lane.work
    if not recipe.scent_in_fats:
        task = next((p.task for p in placed if p.task.do == "scent" and i in p.task.lanes), None)
        whole = recipe.design.scent_at == "emulsion" or len(recipe.design.portions) == 1
        work = (*work, stirred_in(minute, task, recipe.design.scent_by, whole))
    added = {f: (minute, percent) for f, percent in percents.items() if percent > 0}
    return replace(lane, added=added, work=work, tapped=tapped)


def pots_of(
    recipe: Recipe,
    sheet: Sheet,
    state: PourState,
    bare: Sequence[Lane],
    batches: Sequence[str],
    splits: Mapping[str, float | None],
) -> tuple[list[int], list[Lane]]:
    """The lane of each portion's pot, and those lanes. A batch of one portion has none of its own.

    What a pot is stirred with, and the fragrance it got whole, is its own.
    """
    pots: list[Lane] = []
    at: dict[str, int] = {}
    for i, batch in enumerate(batches):
        if batches.count(batch) < 2:
            at[batch] = i
        elif batch not in at:
            at[batch] = len(bare) + len(pots)
            lane = bare[i]
            minute = state.scents.get(None)
            if minute is None and splits[batch] is None and state.over is not None:
                minute = min((m for b in bare for m, _ in b.added.values()), default=None)
            mine = (sheet.portions[j].batter for j, b in enumerate(batches) if b == batch)
            grams = sum(mine) if len(recipe.design.batches) > 1 else sheet.total
            pot = replace(
                lane,
                name=POT,
                split=None,
                added={},
                work=tuple(worked(state, POT, lane.origin)),
                temperature=temperature(recipe, state, 0.0, grams, grams, None),
            )
            full = {s.fragrance: 100 * s.load for s in recipe.scents if s.load > 0}
            if minute is not None:
                added = {f: (max(minute, lane.origin), x) for f, x in full.items()}
                pot = replace(pot, added=added, tapped=None in state.scents)
            pots.append(pot)
    return [at[b] for b in batches], pots
