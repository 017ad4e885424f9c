"""Recipe, plan and what happened, laid out as lanes and looks for the clock.

Before the pour everything is plan; at the bench what happened takes its place and the rest of the plan moves
behind it. Learning lays out a finished pour the same way, so all three see one batter.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from math import exp

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
    temperature_step,
)
from ..pour import Look, PourState
from ..recipe import Recipe
from ..sheet import Sheet
from ..shelf import STAGES, Shelf, Technique

SPLIT_AFTER = 0.25  # minutes from emulsion to the first cup [C]
POT = "the pot"


@dataclass(frozen=True)
class Step:
    """A step of the design on the pour's clock, with the band of trace it wants (levels).

    With `stick` what is too thin may be thickened with it first.
    """

    key: str
    label: str
    start: float
    end: float
    portions: tuple[int, ...]
    from_level: float
    to_level: float
    done: bool
    may_wait: bool
    stick: bool = True


@dataclass(frozen=True)
class Course:
    """`lanes` has one entry per portion; `seen` is those lanes and the pot's, which `terms` index."""

    origin: float
    emulsion_sd: float
    lanes: tuple[Lane, ...]
    seen: tuple[Lane, ...]
    terms: tuple[Term, ...]
    known: tuple[Mapping[int, Known], ...]
    steps: tuple[Step, ...]
    measured: bool
    technique: Technique


def kept(looks: Sequence[Look]) -> list[Look]:
    """Drop every look whose level exceeds a later one's: a later tap overrides."""
    out: list[Look] = []
    least = len(STAGES)
    for look in reversed(looks):
        if look.level <= least:
            out.append(look)
            least = look.level
    return out[::-1]


def windows(looks: Sequence[Look]) -> dict[int, Known]:
    """For each threshold (0 light … 3 set): the last look below it and the first at or above it."""
    # A look at the very first moment is a glance after it: a batter has no age at minute 0.
    good = kept([Look(max(k.minute, SHORTEST), k.level) for k in looks])
    out = {}
    for s in range(len(prior.THRESHOLDS)):
        after = max((k.minute for k in good if k.level < s + 2), default=None)
        by = min((k.minute for k in good if k.level >= s + 2), default=None)
        if by is not None and after is not None:
            by = max(by, after + SHORTEST)
        if after is not None or by is not None:
            out[s] = Known(after, by)
    return out


def emulsion_minutes(knowledge: Knowledge, sheet: Sheet, celsius: float) -> tuple[float, float]:
    """Median minutes from combining to emulsion when blended in bursts, and the sd of its logarithm."""
    steps = [(sheet.factors[k] - f.reference) / f.step for k, f in prior.FACTORS.items()]
    names = [*(f"x:{k}" for k in prior.FACTORS), "E", "stick"]
    row = [*steps, temperature_step(celsius), 1.0]
    mean, cov = knowledge.part(names)
    eta = sum(r * m for r, m in zip(row, mean, strict=True))
    sd = (prior.EMULSION_WORK_SD**2 + cov[-1, -1] + knowledge.noise.batch**2) ** 0.5
    return prior.EMULSION_WORK / exp(eta) / prior.BLENDING_SHARE, float(sd)


def _origin(state: PourState, planned: float, now: float) -> float:
    """When the batter's age began: as tapped, else before the first sign that it had, else still to come."""
    if state.emulsion is not None:
        return state.emulsion
    signs = [look.minute for _, look in state.looks] + [m for m in (state.split, state.pouring) if m is not None]
    if signs:
        return max(min(planned, min(signs) / 2, min(signs) - SHORTEST), 0.0)
    return max(planned, now)


def _temperature(recipe: Recipe, state: PourState, pot: float, grams: float, split: float | None) -> Temperature:
    """Temperature of a portion of `grams`: the pot's until the split, then its own; every reading starts anew."""
    path = CoolingPath(((0.0, Cooling(recipe.pour_celsius, recipe.room_celsius, pot)),))
    marks = [(m, c) for m, c in state.readings] + ([(split, None)] if split is not None else [])
    for minute, celsius in sorted(marks, key=lambda m: m[0]):
        mass = grams if split is not None and minute >= split else pot
        begun = float(path(minute)) if celsius is None else celsius
        path = CoolingPath((*path.legs, (minute, Cooling(begun, recipe.room_celsius, mass))))
    return path


def _steps(
    recipe: Recipe, technique: Technique, state: PourState, origin: float, now: float
) -> tuple[list[Step], float | None]:
    """The design's steps, and the minute of the split."""
    design = recipe.design
    everyone = tuple(range(len(design.portions)))
    steps: list[Step] = []
    at = origin + SPLIT_AFTER
    split: float | None = None
    if len(everyone) > 1:
        start = max(at, now) if state.split is None else max(state.split - design.split_minutes, 0.0)
        end = start + design.split_minutes if state.split is None else state.split
        # Poured without a split, it is one batter.
        split = end if state.split is not None or state.pouring is None else None
        done = state.split is not None or state.pouring is not None
        steps.append(Step("split", "split", start, end, everyone, 1, 3, done, may_wait=False))
        at = end
    after_split = recipe.scents and design.scent_at == "portions"
    wanted = [p.name for p in design.portions if p.scented] if after_split else []
    scented = [n for n in wanted if state.scented_at(n) is not None or state.waits_for_scent(n)]
    scent_done = bool(scented) and all(state.scented_at(name) is not None for name in scented)
    done = scent_done or state.pouring is not None
    end = at + design.colour_minutes
    if scent_done:
        end = max(m for name in scented if (m := state.scented_at(name)) is not None)
    elif scented and state.split is not None:
        end = max(end, now + min(design.colour_minutes, prior.SCENT_STIR_MINUTES))
    if design.colour_minutes > 0:
        label = "colour, scent last" if scented else "colour"
        steps.append(Step("colour", label, at, max(end, at), everyone, 1, 3, done, may_wait=False))
        at = max(end, at)
    if state.pouring is not None:
        steps = [replace(s, start=min(s.start, state.pouring), end=min(s.end, state.pouring)) for s in steps]
    start = state.pouring if state.pouring is not None else max(at, now)
    end = state.ended if state.ended is not None else start + technique.minutes
    steps.append(
        Step(
            "pour",
            technique.short,
            start,
            max(end, start + SHORTEST),
            everyone,
            technique.from_level,
            technique.to_level,
            state.ended is not None,
            may_wait=state.pouring is None,
            stick=not technique.stands,
        )
    )
    return steps, split


def _scent_minute(recipe: Recipe, state: PourState, name: str, scented: bool, slot_end: float) -> float | None:
    """When a portion gets its fragrance: as logged, else at the end of its colouring.

    Once poured, a portion passed over while others were logged had none; where no tap was made at all, a tap was
    forgotten, not the fragrance.
    """
    logged = state.scented_at(name)
    if logged is not None or not recipe.scents:
        return logged
    if not scented or state.left_out & {None, name} or (state.over is not None and state.scents):
        return None
    return slot_end if state.over is None else min(slot_end, state.over)


def _added(recipe: Recipe, minute: float | None, origin: float) -> dict[str, tuple[float, float]]:
    """The blend as it went in: each fragrance's minute and percent of fats."""
    if minute is None:
        return {}
    return {s.fragrance: (max(minute, origin), 100 * s.load) for s in recipe.scents if s.load > 0}


def _work(state: PourState, name: str, origin: float) -> Iterator[Work]:
    for w in state.work:
        start = w.minute - w.seconds / 60
        if w.portion in (None, name) and w.minute > origin:
            yield Work(max(start, origin), w.minute, w.tool)


def lay_out(
    recipe: Recipe,
    sheet: Sheet,
    knowledge: Knowledge,
    shelf: Shelf,
    state: PourState,
    now: float = 0.0,
) -> Course:
    """Lanes, looks and steps of a pour whose events are in `state`, `now` minutes after the lye met the fats."""
    technique = shelf.techniques[state.technique or recipe.design.technique]
    planned, emulsion_sd = emulsion_minutes(knowledge, sheet, recipe.pour_celsius)
    origin = _origin(state, planned, now)
    if state.over is not None:
        now = origin  # what was not logged is taken to have gone as planned, not to be still to come
    steps, split = _steps(recipe, technique, state, origin, now)
    colour = next((s for s in steps if s.key == "colour"), None)
    portions = recipe.design.portions
    # Unscented portions are coloured first, so the fragrance waits as short as it can.
    order = sorted(range(len(portions)), key=lambda i: portions[i].scented)

    lanes = []
    for i, portion in enumerate(portions):
        work = list(_work(state, portion.name, origin))
        slot_end = split if split is not None else origin + SPLIT_AFTER
        if colour is not None:
            slot = recipe.design.colour_minutes / len(portions)
            slot_start = colour.start + order.index(i) * slot
            slot_end = slot_start + slot if state.split is None else max(slot_start + slot, min(now, colour.end))
            if state.pouring is None or slot_start + slot <= state.pouring:
                work.append(Work(slot_start, slot_start + slot, "hand"))
        if recipe.design.scent_at == "emulsion" and state.split is None:
            # Whisked into the whole pot before the split.
            scent = _scent_minute(recipe, state, portion.name, True, max(origin, min(now, slot_end)))
        else:
            scent = _scent_minute(recipe, state, portion.name, portion.scented, slot_end)
        if scent is not None and recipe.design.scent_at != "fats":
            by = recipe.design.scent_by
            minutes = prior.SCENT_STIR_MINUTES if by == "hand" else prior.SCENT_STICK_MINUTES
            work.append(Work(scent, scent + minutes, by))
        lanes.append(
            Lane(
                name=portion.name,
                origin=origin,
                factors=sheet.factors,
                temperature=_temperature(recipe, state, sheet.total, sheet.portions[i].batter, split),
                work=tuple(work),
                added=_added(recipe, scent, origin),
                split=split,
            )
        )
    pot_scent = state.scents.get(None)
    if pot_scent is None and split is None and state.over is not None:
        pot_scent = min((m for lane in lanes for m, _ in lane.added.values()), default=None)
    pot = Lane(
        name=POT,
        origin=origin,
        factors=sheet.factors,
        temperature=_temperature(recipe, state, sheet.total, sheet.total, None),
        work=tuple(_work(state, POT, origin)),
        added=_added(recipe, pot_scent, origin),
    )
    known = tuple(windows(state.looks_of(p.name)) for p in portions)
    marks = {m for seen in known for w in seen.values() for m in (w.after, w.by) if m is not None}
    marks = marks.union(*(lane.own_marks for lane in (*lanes, pot)))
    lanes = [replace(lane, marks=marks) for lane in lanes]
    pot = replace(pot, marks=marks)
    return Course(
        origin=origin,
        emulsion_sd=0.0 if state.emulsion is not None else emulsion_sd,
        lanes=tuple(lanes),
        seen=(*lanes, pot),
        terms=tuple(_terms(state, split, [p.name for p in portions], known, origin)),
        known=known,
        steps=tuple(steps),
        measured=bool(state.readings),
        technique=technique,
    )


def _terms(
    state: PourState, split: float | None, names: Sequence[str], known: Sequence[Mapping[int, Known]], origin: float
) -> Iterator[Term]:
    """One term per threshold and batter: what happened in the pot is said once, not once per portion."""
    split = split if split is not None else float("inf")
    looked_after = {name for name, look in state.looks if look.minute > split}
    pot = len(names)
    said: set[Term] = set()
    for i, (name, seen) in enumerate(zip(names, known, strict=True)):
        own = bool(looked_after & {None, name})
        for s, window in seen.items():
            after = window.after if window.after is not None and window.after > origin else None
            in_pot = window.by is not None and window.by <= split
            lane = i if own and not in_pot else pot
            by = window.by if lane == i or in_pot else None
            term = Term(lane, s, after, by)
            if (after is not None or by is not None) and term not in said:
                said.add(term)
                yield term
