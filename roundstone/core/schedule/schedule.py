"""A pour laid out: what was done and what is still to come as steps, and every batter of it as a lane with its looks.

The docked ribbon, the Forecast, the live pour, learning and the simulated batter all lay it out here, so all see one
batter.
"""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from math import exp
from typing import Literal

from ..batter import (
    SHORTEST,
    Cooling,
    CoolingPath,
    Knowledge,
    Known,
    Lane,
    Temperature,
    Term,
    Work,
    prior,
    sharing,
    temperature_step,
)
from ..pour import Look, PourState
from ..recipe import INTO_MOULD, Recipe
from ..sheet import Sheet
from ..shelf import Habit, Shelf, Technique
from .plan import Task
from .reconcile import SPLIT_AFTER, Placed, Reconciled, emulsions, reconcile
from .terms import terms_of, unchanged, windows

POT = "the pot"


@dataclass(frozen=True)
class Schedule:
    """`lanes` has one entry per portion, with the plan laid on; `bare` the same with only what has happened.

    `seen` is the bare lanes and the pot's, which `terms` index. `begins` is when lye meets the fats of each lane's
    batch, `emulsion` the median minutes from there to emulsion, `emulsified` whether that was seen. `planned` are the
    steps still to come at their planned minutes, before anything waits for the batter."""

    origin: float
    emulsion_sd: float
    lanes: tuple[Lane, ...]
    bare: tuple[Lane, ...]
    seen: tuple[Lane, ...]
    terms: tuple[Term, ...]
    known: tuple[Mapping[int, Known], ...]
    reconciled: Reconciled
    planned: tuple[Placed, ...]
    begins: tuple[float, ...]
    emulsified: tuple[bool, ...]
    percents: tuple[Mapping[str, float], ...]
    measured: bool
    technique: Technique
    shares: tuple[float, ...]
    state: PourState
    now: float
    to_come: tuple[str, ...]

    @property
    def pouring(self) -> float:
        """When the first step of the look begins, or began."""
        steps = [p for p in (*self.reconciled.done, *self.planned) if p.task.looks]
        return steps[0].start if steps else self.origin

    @property
    def plan_end(self) -> float:
        """When the last step is done by plan."""
        return max((p.end for p in (*self.reconciled.done, *self.planned)), default=self.origin)


def emulsion_minutes(knowledge: Knowledge, sheet: Sheet, celsius: float) -> tuple[float, float]:
    """Median minutes from combining to emulsion when blended in bursts, and the sd of its logarithm."""
    steps = [(sheet.factors[k] - f.reference) / f.step for k, f in prior.FACTORS.items()]
    names = [*(f"x:{k}" for k in prior.FACTORS), "E", "stick"]
    row = [*steps, temperature_step(celsius), 1.0]
    mean, cov = knowledge.part(names)
    eta = sum(r * m for r, m in zip(row, mean, strict=True))
    sd = (prior.EMULSION_WORK_SD**2 + cov[-1, -1] + knowledge.noise.batch**2) ** 0.5
    return prior.EMULSION_WORK / exp(eta) / prior.BLENDING_SHARE, float(sd)


def _first_origin(state: PourState, planned: float, now: float, told: float | None) -> float:
    """When the first batter's age began: as tapped, else before the first sign that it had, else still to come."""
    if state.emulsion is not None and told is not None:
        return told
    signs = [look.minute for _, look in state.looks] + [m for m in (state.split, state.pouring) if m is not None]
    if signs:
        return max(min(planned, min(signs) / 2, min(signs) - SHORTEST), 0.0)
    return max(planned, now)


def _temperature(
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
        share = portion.scent if recipe.design.scents_apart else 1.0
        dose = state.doses.get(portion.name, state.doses.get(None))
        if dose is not None and portion.name not in state.doses and not portion.scented:
            share = 1.0  # it went into all there was
        if dose is not None and share == 0:
            share = 1.0
        if dose is not None and dose.share is not None:
            share = dose.share
        elif dose is not None and dose.grams is not None and full > 0:
            fats = sheet.fats * (portion.share if dose.portion is not None else 1.0)
            share = dose.grams / (full * fats)
        out.append({s.fragrance: 100 * s.load * share for s in recipe.scents if s.load > 0})
    return tuple(out)


def _scent_minute(recipe: Recipe, state: PourState, i: int, done: Sequence[Placed]) -> float | None:
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
    return min(slot.start, state.over if state.over is not None else slot.start) if slot is not None else None


def _worked(state: PourState, name: str, origin: float) -> Iterator[Work]:
    for w in state.work:
        if w.portion in (None, name) and w.minute > origin:
            yield Work(max(w.minute - w.seconds / 60, origin), w.minute, w.tool)


def stirred_in(minute: float, task: Task | None, by: str, whole: bool) -> Work:
    """The whisking, or blending, of a fragrance."""
    tool = task.by if task is not None else by
    minutes = prior.SCENT_STICK_MINUTES if tool == "stick" else prior.SCENT_STIR_MINUTES * (2 if whole else 1)
    return Work(minute, minute + minutes, "stick" if tool == "stick" else "hand")


def _place(ahead: Sequence[Task], under: float, free: float, now: float, emulsion: float) -> tuple[Placed, ...]:
    """The steps to come on the clock, one after the other, none waiting for the batter."""
    out = []
    at = max(free, now)
    for i, task in enumerate(ahead):
        length = emulsion if task.do == "combine" else task.minutes * (under if i == 0 else 1.0)
        at += SPLIT_AFTER if task.do == "split" else 0.0
        out.append(Placed(task, at, at + length))
        at += length
    return tuple(out)


def build_schedule(
    recipe: Recipe,
    sheet: Sheet,
    knowledge: Knowledge,
    shelf: Shelf,
    state: PourState,
    now: float = 0.0,
) -> Schedule:
    """Lanes, looks and steps of a pour whose events are in `state`, `now` minutes after the lye met the fats."""
    design = recipe.design
    portions = design.portions
    emulsion, emulsion_sd = emulsion_minutes(knowledge, sheet, recipe.pour_celsius)
    told = emulsions(recipe, state)
    first = design.batches[0]
    origin = _first_origin(state, emulsion, now, told.get(first))
    if state.over is not None and len(design.batches) == 1:
        now = max(origin, min(now, state.over if state.ended is not None else now))
    reconciled = reconcile(recipe, shelf, sheet.total, state, now)
    # The first batch's emulsion is still to come: it is on the clock from the start.
    free = 0.0 if not reconciled.done else reconciled.free
    planned = _place(reconciled.ahead, reconciled.under, free if first not in told else max(free, 0.0), now, emulsion)
    if first not in told:
        planned = _shifted(planned, origin)
    placed = {p.task.key: p for p in (*reconciled.done, *planned)}
    batches = [design.batch_of(p) for p in portions]
    begins, origins = {first: 0.0}, {first: origin}
    for batch in design.batches[1:]:
        slot = next((p for p in placed.values() if p.task.do == "combine" and p.task.batch == batch), None)
        begins[batch] = state.combined.get(batch, slot.start if slot is not None else origin)
        if batch in told:
            begins[batch] = min(begins[batch], told[batch])
        origins[batch] = told.get(batch, max(begins[batch] + emulsion, begins[batch] + SHORTEST))
    several = len(design.batches) > 1
    percents = percents_of(recipe, sheet, state)
    grams = {
        b: sum(sheet.portions[i].batter for i, of in enumerate(batches) if of == b) or sheet.total for b in origins
    }
    splits = {b: _split_minute(b, batches, state, placed.values(), first) for b in origins}

    bare = []
    for i, portion in enumerate(portions):
        batch = batches[i]
        begun, split = origins[batch], splits[batch]
        lane = Lane(
            name=portion.name,
            origin=begun,
            factors=sheet.factors,
            temperature=_temperature(
                recipe, state, begins[batch], grams[batch] if several else sheet.total, sheet.portions[i].batter, split
            ),
            split=split,
            batch=batch or POT if several else "",
        )
        past = _with_scent(
            lane, recipe, percents[i], _scent_minute(recipe, state, i, reconciled.done), i, reconciled.done
        )
        colours = [p for p in reconciled.done if p.task.do == "colour" and i in p.task.lanes]
        under = [p for p in planned[:1] if p.task.do == "colour" and i in p.task.lanes and free < now]
        work = [Work(p.start, p.end, _tool(p.task)) for p in colours if p.end > p.start]
        work += [Work(free, now, _tool(p.task)) for p in under]
        past = replace(past, work=(*_worked(state, portion.name, begun), *work, *past.work))
        bare.append(past)

    looks = [_looks(state, reconciled, i, p.name, shelf.taps) for i, p in enumerate(portions)]
    known = tuple(windows(its, origins[batches[i]]) for i, its in enumerate(looks))
    pot_of, pots = _pots(recipe, sheet, state, bare, batches, splits, several)
    ends = {m for its in known for w in its.values() for m in (w.after, w.by) if m is not None}
    # Only what says something is an edge: a hundred looks that found nothing new cost nothing.
    seen = sharing([*bare, *pots], ends)
    lanes = _laid_on(recipe, seen[: len(bare)], planned, percents)
    looked_after = [
        any(name in (None, p.name) and look.minute > (splits[batches[i]] or 0.0) for name, look in state.looks)
        if splits[batches[i]] is not None
        else False
        for i, p in enumerate(portions)
    ]
    return Schedule(
        origin=origin,
        emulsion_sd=0.0 if state.emulsion is not None else emulsion_sd,
        lanes=tuple(lanes),
        bare=tuple(seen[: len(bare)]),
        seen=tuple(seen),
        terms=tuple(
            terms_of(
                [p.name for p in portions],
                known,
                [origins[b] for b in batches],
                pot_of,
                [splits[b] for b in batches],
                looked_after,
            )
        ),
        known=known,
        reconciled=reconciled,
        planned=planned,
        begins=tuple(begins[b] for b in batches),
        emulsified=tuple(b in told for b in batches),
        percents=percents,
        measured=bool(state.readings),
        technique=reconciled.technique,
        shares=tuple(p.share for p in portions),
        state=state,
        now=now,
        to_come=tuple(sorted(s.fragrance for s in recipe.scents if s.load > 0)),
    )


def _looks(state: PourState, reconciled: Reconciled, lane: int, name: str, habit: Habit) -> list[Look]:
    """A portion's looks; of who taps only when it turns also those that saw no change, until it is poured."""
    looks = state.looks_of(name)
    if habit == "looks":
        return looks
    poured = [p.start for p in reconciled.done if lane in p.task.lanes and p.task.do in INTO_MOULD and not p.skipped]
    return unchanged(looks, sorted({*poured, *([state.pouring] if state.pouring is not None else [])}))


def _tool(task: Task) -> Literal["hand", "stick"]:
    return "stick" if task.by == "stick" else "hand"


def _laid_on(
    recipe: Recipe, bare: Sequence[Lane], planned: Sequence[Placed], percents: Sequence[Mapping[str, float]]
) -> list[Lane]:
    """Lanes with what is planned for them laid on, sharing their segments."""
    whole = []
    for i, past in enumerate(bare):
        slot = next((p for p in planned if p.task.do == "scent" and i in p.task.lanes), None)
        lane = _with_scent(past, recipe, percents[i], slot.start, i, planned) if slot and not past.added else past
        colours = [p for p in planned if p.task.do == "colour" and i in p.task.lanes]
        stirring = [Work(p.start, p.end, _tool(p.task)) for p in colours if p.end > p.start]
        whole.append(replace(lane, work=(*stirring, *lane.work)) if stirring else lane)
    return list(bare) if all(x is y for x, y in zip(whole, bare, strict=True)) else sharing(whole)


def replanned(schedule: Schedule, recipe: Recipe, planned: Sequence[Placed]) -> Schedule:
    """The same course with the steps to come at other minutes."""
    lanes = _laid_on(recipe, schedule.bare, planned, schedule.percents)
    return replace(schedule, lanes=tuple(lanes), planned=tuple(planned))


def _shifted(planned: Sequence[Placed], origin: float) -> tuple[Placed, ...]:
    """A plan whose first batch comes to emulsion at `origin`."""
    if not planned:
        return ()
    by = origin - planned[0].end
    return (replace(planned[0], end=origin), *(replace(p, start=p.start + by, end=p.end + by) for p in planned[1:]))


def _split_minute(
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


def _with_scent(
    lane: Lane, recipe: Recipe, percents: Mapping[str, float], minute: float | None, i: int, placed: Sequence[Placed]
) -> Lane:
    """A lane with its fragrance in from `minute` on, and whisked."""
    if minute is None:
        return lane
    minute = max(minute, lane.origin)
    work = lane.work
    if not recipe.scent_in_fats:
        task = next((p.task for p in placed if p.task.do == "scent" and i in p.task.lanes), None)
        whole = recipe.design.scent_at == "emulsion" or len(recipe.design.portions) == 1
        work = (*work, stirred_in(minute, task, recipe.design.scent_by, whole))
    added = {f: (minute, percent) for f, percent in percents.items() if percent > 0}
    return replace(lane, added=added, work=work)


def _pots(
    recipe: Recipe,
    sheet: Sheet,
    state: PourState,
    bare: Sequence[Lane],
    batches: Sequence[str],
    splits: Mapping[str, float | None],
    several: bool,
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
            grams = (
                sum(sheet.portions[j].batter for j, b in enumerate(batches) if b == batch) if several else sheet.total
            )
            pot = replace(
                lane,
                name=POT,
                split=None,
                added={},
                work=tuple(_worked(state, POT, lane.origin)),
                temperature=_temperature(recipe, state, 0.0, grams, grams, None),
            )
            full = {s.fragrance: 100 * s.load for s in recipe.scents if s.load > 0}
            if minute is not None:
                pot = replace(pot, added={f: (max(minute, lane.origin), x) for f, x in full.items()})
            pots.append(pot)
    return [at[b] for b in batches], pots
