"""A pour laid out: what was done and what is still to come as steps, and every batter of it as a lane with its looks.

The docked ribbon, the Forecast, the live pour, learning and the simulated batter all lay it out here, so all see one
batter.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from ..batter import (
    SHORTEST,
    Knowledge,
    Known,
    Lane,
    Term,
    Work,
    prior,
    sharing,
)
from ..pour import Look, PourState
from ..recipe import INTO_MOULD, Recipe
from ..sheet import Sheet
from ..shelf import Habit, Shelf, Technique
from .lanes_of import (
    POT,
    emulsion_minutes,
    laid_on,
    percents_of,
    pots_of,
    scent_minute,
    split_minute,
    stirring,
    temperature,
    tool,
    with_scent,
    worked,
)
from .reconcile import SPLIT_AFTER, Placed, Reconciled, emulsions, reconcile
from .task import Task
from .terms import scent_window, terms_of, unchanged, windows


@dataclass(frozen=True)
class Schedule:
    """`lanes` has one entry per portion, with the plan laid on; `bare` the same with only what has happened.

    `seen` is the bare lanes and the pot's, which `terms` index; `quiet` are terms that silence may
    say. `begins` is when lye meets the fats of each lane's
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
    quiet: tuple[Term, ...] = ()

    @property
    def pouring(self) -> float:
        """When the first step of the look begins, or began."""
        steps = [p for p in (*self.reconciled.done, *self.planned) if p.task.looks]
        return steps[0].start if steps else self.origin

    @property
    def poured_from(self) -> tuple[float, ...]:
        """When each lane first goes into the mould, by plan or as it did; with all the others where no step says."""
        first: dict[int, float] = {}
        for placed in (*self.reconciled.done, *self.planned):
            if placed.task.do in INTO_MOULD:
                for i in placed.task.lanes:
                    first.setdefault(i, placed.start)
        return tuple(first.get(i, self.pouring) for i in range(len(self.lanes)))

    @property
    def watched(self) -> frozenset[str]:
        """Fragrances whose batter was looked at after they met it: only these were seen at work."""
        return frozenset(
            f
            for lane in self.bare
            for f, (minute, _) in lane.added.items()
            if any(look.minute > lane.met(minute) for look in self.state.looks_of(lane.name))
        )

    @property
    def plan_end(self) -> float:
        """When the last step is done by plan."""
        return max((p.end for p in (*self.reconciled.done, *self.planned)), default=self.origin)


def _first_origin(state: PourState, planned: float, now: float, told: float | None) -> float:
    """When the first batter's age began: as tapped, else before the first sign that it had, else still to come."""
    if state.emulsion is not None and told is not None:
        return told
    signs = [look.minute for _, look in state.looks] + [m for m in (state.split, state.pouring) if m is not None]
    if signs:
        return max(min(planned, min(signs) / 2, min(signs) - SHORTEST), 0.0)
    return max(planned, now)


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


def _batch_minutes(
    recipe: Recipe,
    state: PourState,
    emulsion: float,
    origin: float,
    told: Mapping[str, float],
    placed: Mapping[str, Placed],
) -> tuple[dict[str, float], dict[str, float]]:
    """When the lye of each batch meets its fats, and when it is an emulsion; of the first that is `origin`."""
    first, *others = recipe.design.batches
    begins, origins = {first: 0.0}, {first: origin}
    for batch in others:
        slot = next((p for p in placed.values() if p.task.do == "combine" and p.task.batch == batch), None)
        begins[batch] = state.combined.get(batch, slot.start if slot is not None else origin)
        if batch in told:
            begins[batch] = min(begins[batch], told[batch])
        origins[batch] = told.get(batch, max(begins[batch] + emulsion, begins[batch] + SHORTEST))
    return begins, origins


def _bare_lane(
    recipe: Recipe, sheet: Sheet, state: PourState, i: int, begins: float, origin: float, split: float | None
) -> Lane:
    """The i-th portion's batter with nothing added to it yet."""
    design = recipe.design
    batch = design.batch_of(design.portions[i])
    several = len(design.batches) > 1
    grams = sheet.total
    if several:
        mine = (p.batter for p, q in zip(sheet.portions, design.portions, strict=True) if design.batch_of(q) == batch)
        grams = sum(mine) or sheet.total
    return Lane(
        name=design.portions[i].name,
        origin=origin,
        factors=sheet.shared,
        own_factors=sheet.portions[i].factors or None,
        temperature=temperature(recipe, state, begins, grams, sheet.portions[i].batter, split),
        split=split,
        batch=batch or POT if several else "",
    )


def _stirred(
    lane: Lane, i: int, state: PourState, done: Sequence[Placed], under: Sequence[Placed], free: float, now: float
) -> Lane:
    """A lane with the stirring that it got: what was tapped, colours that are in, the one `under` way since `free`."""
    work = [*stirring(done, i), *(Work(free, now, tool(p.task)) for p in under)]
    return replace(lane, work=(*worked(state, lane.name, lane.origin), *work, *lane.work))


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
    begins, origins = _batch_minutes(recipe, state, emulsion, origin, told, placed)
    percents = percents_of(recipe, sheet, state)
    splits = {b: split_minute(b, batches, state, placed.values(), first) for b in origins}

    under = [p for p in planned[:1] if p.task.do == "colour" and free < now]

    def bare_lane(i: int, batch: str) -> Lane:
        lane = _bare_lane(recipe, sheet, state, i, begins[batch], origins[batch], splits[batch])
        minute, tapped = scent_minute(recipe, state, i, reconciled.done), state.scented_at(lane.name) is not None
        lane = with_scent(lane, recipe, percents[i], minute, i, reconciled.done, tapped)
        return _stirred(lane, i, state, reconciled.done, [p for p in under if i in p.task.lanes], free, now)

    bare = [bare_lane(i, batch) for i, batch in enumerate(batches)]

    looks = [_looks(state, lane, shelf.taps) for lane in bare]
    known = tuple(windows(its, lane.origin, scent_window(lane)) for its, lane in zip(looks, bare, strict=True))
    quiet: list[Term] = []
    if shelf.taps == "turns" and state.ended is not None and any(look.level > 1 for _, look in state.looks):
        quiet = [t for i, p in enumerate(portions) for t in _quiet(state, reconciled, i, p.name, known[i])]
    pot_of, pots = pots_of(recipe, sheet, state, bare, batches, splits)
    ends = {m for its in known for w in its.values() for m in (w.after, w.by) if m is not None}
    ends.update(t.after for t in quiet if t.after is not None)
    # Only what says something is an edge: a hundred looks that found nothing new cost nothing.
    seen = sharing([*bare, *pots], ends)
    lanes = laid_on(recipe, seen[: len(bare)], planned, percents)
    apart = [splits[b] for b in batches]
    looked_after = [_looked_after(state, p.name, split) for p, split in zip(portions, apart, strict=True)]
    return Schedule(
        origin=origin,
        emulsion_sd=0.0 if state.emulsion is not None else emulsion_sd,
        lanes=tuple(lanes),
        bare=tuple(seen[: len(bare)]),
        seen=tuple(seen),
        terms=tuple(
            terms_of([p.name for p in portions], known, [origins[b] for b in batches], pot_of, apart, looked_after)
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
        quiet=tuple(quiet),
    )


def _looked_after(state: PourState, name: str, split: float | None) -> bool:
    """Whether a portion was looked at since the batter was split."""
    return split is not None and any(of in (None, name) and look.minute > split for of, look in state.looks)


def _looks(state: PourState, lane: Lane, habit: Habit) -> list[Look]:
    """A portion's looks; of who taps only when it turns also those that saw no change: at the split, and as its
    fragrance met it, where anything at all was tapped; else as the first fragrance met its portion. Later hands are
    full, and silence is hardly a look: see `_quiet`."""
    looks = state.looks_of(lane.name)
    if habit == "looks":
        return looks
    met, first = scent_window(lane), min(state.scents.values(), default=None)
    turned = any(look.level > 1 for _, look in state.looks)
    quiet = {lane.split, met[0] if met is not None and (turned or met[1] == first) else None}
    return unchanged(looks, sorted(m for m in quiet if m is not None))


def _quiet(state: PourState, reconciled: Reconciled, i: int, name: str, known: Mapping[int, Known]) -> Iterator[Term]:
    """What the silence of who taps only what turns may say of a portion as it was poured: not yet at the next stage."""
    poured = [p.start for p in reconciled.done if i in p.task.lanes and p.task.do in INTO_MOULD and not p.skipped]
    level = max((look.level for look in state.looks_of(name)), default=1)
    stage = max(level, 1) - 1
    if poured and stage < len(prior.THRESHOLDS) and known.get(stage, Known()).by is None:
        yield Term(i, stage, max(poured), None)


def replanned(schedule: Schedule, recipe: Recipe, planned: Sequence[Placed]) -> Schedule:
    """The same schedule with the steps to come at other minutes."""
    lanes = laid_on(recipe, schedule.bare, planned, schedule.percents)
    return replace(schedule, lanes=tuple(lanes), planned=tuple(planned))


def _shifted(planned: Sequence[Placed], origin: float) -> tuple[Placed, ...]:
    """A plan whose first batch comes to emulsion at `origin`."""
    if not planned:
        return ()
    by = origin - planned[0].end
    return (replace(planned[0], end=origin), *(replace(p, start=p.start + by, end=p.end + by) for p in planned[1:]))
