"""When the batter of a recipe will move, before the pour and during it, and how its design fits.

One function, `project`, serves the docked ribbon, the Forecast place and the live pour.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import exp

import numpy as np

from ..batter import LEVELS, STICK, THRESHOLD_LEVELS, Array, Draws, Knowledge, Known, ages, believe, crossings, draw
from ..course import Course, Step, emulsion_minutes, lay_out
from ..pour import Doubt, Event, PourState, StageSeen, clock_text, replay
from ..recipe import Recipe
from ..sheet import Sheet
from ..shelf import STAGES, Shelf, Technique
from ..values import Celsius, Minutes, Quantiles, Share, Value

THICKEN_MINUTES = 0.25  # to fetch the stick and knock it off [C]
LAST_MINUTES = 0.5  # what is left of a technique that is nearly poured [C]
RARE = 0.01  # below this a tap is doubted
PATIENCE = 10.0  # minutes a maker waits for a batter that is still too thin before giving a technique up [C]
MOST_SURE = 0.95  # no odds are ever told above this, nor below its complement
SHADE_POINTS = 97
SHORTEST_AXIS = 12.0  # minutes
LONGEST_AXIS = 240.0  # minutes: a pour that stands for days is not drawn to the end
PLAN_FILLS = 2.8  # the axis is at most this many times the plan


class StageTime(Value):
    """When a lane reaches a stage. `expected` is the median before anything was seen at the bench."""

    stage: str
    time: Quantiles
    expected: Minutes
    seen: Minutes | None


class LaneForecast(Value):
    """`shade` is the mean level of the batter (1 emulsion … 5 set) at even steps of the axis from its start."""

    portion: str
    share: Share
    scented: bool
    level: int
    stages: tuple[StageTime, ...]
    shade: tuple[float, ...]


class StepForecast(Value):
    """A step of the design and its odds of finding the batter it wants; never told above 95 in 100.

    `odds` are for all portions at once, `each` for every portion by itself; `too_thick` and `too_thin` are the rest.
    The pour may thicken a portion with the stick first: `thicken` names those that will most likely need it.
    """

    key: str
    label: str
    start: Minutes
    end: Minutes
    portions: tuple[int, ...]
    wants: str
    odds: Share
    each: tuple[Share, ...]
    too_thick: Share
    too_thin: Share
    thicken: tuple[str, ...]
    done: bool


class TechniqueOdds(Value):
    """Odds of a technique from now on, when portions still too thin are thickened with the stick first."""

    technique: str
    name: str
    odds: Share
    wants: str
    how: str
    thicken: tuple[str, ...]


class School(Value):
    """A custom of pour temperature, and when medium trace would come by it in the middle of what is believed."""

    name: str
    celsius: Celsius
    medium: Minutes


class Forecast(Value):
    """Everything the ribbon draws. Times are minutes from when the lye meets the fats; `axis` is their end."""

    axis: Minutes
    emulsion: Quantiles
    emulsion_seen: bool
    lanes: tuple[LaneForecast, ...]
    steps: tuple[StepForecast, ...]
    techniques: tuple[TechniqueOdds, ...]
    fall_back: TechniqueOdds | None
    pours: int
    standing: str


@dataclass(frozen=True)
class Projection:
    """A forecast with what it was made from, for those who go on reckoning with it."""

    forecast: Forecast
    course: Course
    draws: Draws
    state: PourState
    now: float


LEVEL_WORDS = {1.0: "emulsion", 2.0: "light", 3.0: "medium", 3.5: "early thick", 4.0: "thick", 4.5: "firm", 5.0: "set"}


def band_words(low: float, high: float) -> str:
    """A technique's band of trace in words."""
    if high > LEVELS[-1]:
        return f"{LEVEL_WORDS[low]} or firmer"
    if low == 3.5:
        return "late medium to thick"
    # The band ends as its upper stage begins, so what it wants is the stage below.
    top = {3.0: "light", 3.5: "early medium", 4.0: "medium", 4.5: "thick", 5.0: "thick"}[high]
    return LEVEL_WORDS[low] if top == LEVEL_WORDS[low] else f"{LEVEL_WORDS[low]} to {top}"


def _told(odds: float) -> float:
    return float(np.clip(odds, 1 - MOST_SURE, MOST_SURE))


def _reached(draws: Draws, lane: int, level: float) -> Array:
    """Crossing time of any level; thick-and-a-half is half-way from thick to set, like medium-and-a-half."""
    if level == 4.5:
        return np.sqrt(np.maximum(draws.crossing(lane, 4.0), 1e-9) * np.maximum(draws.crossing(lane, 5.0), 1e-9))
    return draws.crossing(lane, level)


@dataclass(frozen=True)
class Odds:
    """Shares of the draws in which a step fits, finds the batter too thick, or too thin."""

    fits: float
    too_thick: float
    too_thin: float


def step_odds(draws: Draws, step: Step, minutes: float, thicken: bool = False) -> Odds:
    """Odds that every portion stays inside the step's band for all its `minutes`.

    Where the maker may wait, the step starts when the last portion has reached the band, at most PATIENCE late.
    With `thicken` a portion that is too thin gets the stick instead: its age then runs STICK times as fast until
    it reaches the band, and all that follows comes earlier by what that saved.
    """
    ready = np.array([_reached(draws, i, step.from_level) for i in step.portions])
    gone = np.array([_reached(draws, i, step.to_level) for i in step.portions])
    if thicken:
        saved = np.maximum((ready - step.start) * (1 - exp(-STICK)) - THICKEN_MINUTES, 0.0)
        ready, gone = ready - saved, gone - saved
    last_ready, first_gone = ready.max(axis=0), gone.min(axis=0)
    begins = np.maximum(last_ready, step.start) if step.may_wait else step.start
    thin = last_ready > step.start + (PATIENCE if step.may_wait else 0.0)
    thick = ~thin & (first_gone < begins + minutes)
    draws_made = len(thin)
    thins, thicks = int(np.count_nonzero(thin)), int(np.count_nonzero(thick))
    return Odds((draws_made - thins - thicks) / draws_made, thicks / draws_made, thins / draws_made)


def _needs_the_stick(draws: Draws, recipe: Recipe, step: Step) -> tuple[str, ...]:
    """Portions more likely than not too thin for a step when it should start."""
    latest = step.start + 1.0
    thin = [i for i in step.portions if step.from_level > 1 and draws.median(i, step.from_level) > latest]
    return tuple(recipe.design.portions[i].name for i in thin)


def _step_forecast(draws: Draws, recipe: Recipe, step: Step) -> StepForecast:
    minutes, stick = step.end - step.start, step.may_wait and step.stick
    odds = step_odds(draws, step, minutes, thicken=stick)
    return StepForecast(
        key=step.key,
        label=step.label,
        start=step.start,
        end=step.end,
        portions=step.portions,
        wants=band_words(step.from_level, step.to_level),
        odds=_told(odds.fits),
        each=tuple(
            _told(step_odds(draws, replace(step, portions=(i,)), minutes, thicken=stick).fits) for i in step.portions
        ),
        too_thick=odds.too_thick,
        too_thin=odds.too_thin,
        thicken=_needs_the_stick(draws, recipe, step) if stick else (),
        done=step.done,
    )


def technique_odds(draws: Draws, recipe: Recipe, shelf: Shelf, pour: Step, now: float) -> list[TechniqueOdds]:
    """Odds of every technique this design's portions allow, for the pour step's remaining time."""
    start = pour.start if pour.may_wait else max(pour.start, now)
    out = []
    for t in shelf.techniques.values():
        if t.portions > len(recipe.design.portions):
            continue
        step = replace(
            pour, start=start, from_level=t.from_level, to_level=t.to_level, may_wait=True, stick=not t.stands
        )
        odds = step_odds(draws, step, max(t.minutes - (start - pour.start), LAST_MINUTES), thicken=step.stick)
        out.append(
            TechniqueOdds(
                technique=t.id,
                name=t.name,
                odds=_told(odds.fits),
                wants=band_words(t.from_level, t.to_level),
                how=t.how,
                thicken=_needs_the_stick(draws, recipe, step) if step.stick else (),
            )
        )
    return out


def _emulsion(course: Course) -> Quantiles:
    z = np.array([-1.2815515655, -0.6744897502, 0.0, 0.6744897502, 1.2815515655])
    return _quantiles(course.origin * np.exp(course.emulsion_sd * z))


def _quantiles(values: Array) -> Quantiles:
    q10, q25, q50, q75, q90 = (round(float(v), 3) for v in values)
    return Quantiles(q10=q10, q25=q25, q50=q50, q75=q75, q90=q90)


def _axis(draws: Draws, steps: Sequence[Step], now: float) -> float:
    """An end of the axis, on an even tick, that shows the batter's way to thick but never dwarfs the plan."""
    thick = max(float(draws.median(i, 4.0)) for i in range(draws.times.shape[0]))
    plan = steps[-1].end
    want = max(min(1.15 * thick, PLAN_FILLS * plan), 1.2 * plan, now + 6, SHORTEST_AXIS)
    want = min(want, LONGEST_AXIS)
    tick = next((t for t in (2.0, 4.0, 5.0, 10.0) if t * 9 >= want), 20.0)
    return float(np.ceil(want / tick) * tick)


def _shade(draws: Draws, lane: int, origin: float, axis: float) -> tuple[float, ...]:
    grid = np.linspace(0, axis, SHADE_POINTS)
    level = np.where(grid >= origin, 1.0, np.clip(grid / max(origin, 1e-9), 0, 1))
    for stage_level in THRESHOLD_LEVELS:
        crossed = draws.ordered[lane, :, LEVELS.index(stage_level)]
        level = level + np.searchsorted(crossed, grid, side="right") / len(crossed)
    return tuple(round(float(v), 3) for v in level)


def _fall_back(techniques: Sequence[TechniqueOdds], chosen: Technique) -> TechniqueOdds | None:
    """The nearest kin that fits well, else the best of all, and only if it is clearly better than the plan."""
    by_id = {t.technique: t for t in techniques}
    now = by_id[chosen.id].odds
    if now >= 0.6:
        return None
    kin = [by_id[k] for k in chosen.falls_back_to if k in by_id]
    good = [k for k in kin if k.odds >= 0.7 and k.odds > now + 0.15]
    best = max(techniques, key=lambda t: t.odds)
    return good[0] if good else best if best.odds > now + 0.1 else None


OLDER = " What was logged last is still being learned from."


def _standing(knowledge: Knowledge, recipe: Recipe, shelf: Shelf, scent_pours: Mapping[str, int]) -> str:
    if knowledge.pours == 0:
        return "A starting guess from trade experience, not your log."
    log = f"Learned from {knowledge.pours} of your pours"
    if not recipe.scents:
        return f"{log}."
    known = [f"{n} of them with {shelf.fragrances[f].name}" for f, n in scent_pours.items() if n]
    new = [f for f, n in scent_pours.items() if not n]
    if not new:
        return f"{log}, {', '.join(known)}."
    claim = f"what {shelf.blend_name(new)} does is the supplier's claim"
    return f"{', '.join([log, *known])}; {claim}."


def project(
    recipe: Recipe,
    sheet: Sheet,
    shelf: Shelf,
    knowledge: Knowledge,
    seed: int,
    *,
    events: Sequence[Event] = (),
    now: float = 0.0,
    scent_pours: Mapping[str, int] | None = None,
    fresh: bool = True,
) -> Projection:
    """Forecast a recipe's batter from all its looks so far; with no events this is the forecast before the pour."""
    state = replay(events, recipe.scent_in_fats)
    now = state.ended if state.ended is not None else now
    course = lay_out(recipe, sheet, knowledge, shelf, state, now)
    blank: list[dict[int, Known]] = [{} for _ in course.lanes]
    draws = draw(believe(knowledge, course.seen, course.terms, course.measured), course.lanes, course.known, seed)
    before = draws
    if course.terms:
        before = draw(believe(knowledge, course.seen, (), course.measured), course.lanes, blank, seed)
    axis = _axis(draws, course.steps, now)

    lanes = []
    for i, portion in enumerate(recipe.design.portions):
        stages = []
        for s, level in enumerate(THRESHOLD_LEVELS):
            window = course.known[i].get(s)
            stages.append(
                StageTime(
                    stage=STAGES[int(level)],
                    time=_quantiles(draws.quantiles(i, level)),
                    expected=round(float(before.median(i, level)), 3),
                    seen=window.by if window else None,
                )
            )
        lanes.append(
            LaneForecast(
                portion=portion.name,
                share=portion.share,
                scented=portion.scented,
                level=state.level(portion.name),
                stages=tuple(stages),
                shade=_shade(draws, i, course.origin, axis),
            )
        )

    steps = [_step_forecast(draws, recipe, step) for step in course.steps]
    techniques = technique_odds(draws, recipe, shelf, course.steps[-1], now)

    forecast = Forecast(
        axis=axis,
        emulsion=_emulsion(course),
        emulsion_seen=state.emulsion is not None,
        lanes=tuple(lanes),
        steps=tuple(steps),
        techniques=tuple(techniques),
        fall_back=_fall_back(techniques, course.technique),
        pours=knowledge.pours,
        standing=_standing(knowledge, recipe, shelf, scent_pours or {}) + ("" if fresh else OLDER),
    )
    return Projection(forecast, course, draws, state, now)


SCHOOLS = {"cool": 25.0, "middle": 33.0, "warm": 43.0}  # °C, common practice


def schools(recipe: Recipe, sheet: Sheet, course: Course, knowledge: Knowledge) -> tuple[School, ...]:
    """What each custom of temperature costs in minutes, in the first scented portion (else the first).

    The batter of `course` is poured the same way, but warmer or cooler: cooling toward the room is linear in what
    it starts above it, and emulsion comes sooner or later.
    """
    lane = next((x for x in course.lanes if x.added), course.lanes[0])
    room, poured = recipe.room_celsius, recipe.pour_celsius
    belief = believe(knowledge, [lane], (), course.measured)
    needed = np.exp(belief.mean[[belief.column["a:medium"]]])
    out = []
    for name, celsius in SCHOOLS.items():
        part = (celsius - room) / (poured - room) if poured != room else None

        def at(minute: float, part: float | None = part, celsius: float = celsius) -> float:
            return celsius if part is None else room + (lane.temperature(minute) - room) * part

        other = replace(lane, temperature=at)
        rate, age = ages([other], belief.column, belief.mean[None, :])
        medium = float(crossings(other.edges, rate[0, 0], age[0, 0], needed)[0])
        emulsion, _ = emulsion_minutes(knowledge, sheet, celsius)
        out.append(School(name=name, celsius=celsius, medium=medium - course.origin + emulsion))
    return tuple(out)


def likelihood_of(projection: Projection, portion: str | None, level: int, minute: float) -> float:
    """How often the draws have this portion (None: any) at `level` or beyond, and not yet past it, by `minute`.

    The smaller of "got there by now" and "has not gone past by now": near 0 either way, the tap surprises.
    """
    lanes = projection.forecast.lanes
    chosen = [i for i, lane in enumerate(lanes) if portion in (None, lane.portion)]
    there, not_past = 0.0, 0.0
    for i in chosen:
        there = max(there, float(np.mean(projection.draws.crossing(i, float(level)) <= minute)))
        beyond = projection.draws.crossing(i, float(level + 1))
        not_past = max(not_past, float(np.mean(beyond > minute)))
    return min(there, not_past)


def surprise(projection: Projection, event: Event) -> Doubt | None:
    """A doubt when a stage tap is rarer than RARE by the forecast made before it."""
    if not isinstance(event, StageSeen):
        return None
    if likelihood_of(projection, event.portion, STAGES.index(event.stage), event.minute) >= RARE:
        return None
    what = f"{event.stage.capitalize()} at {clock_text(event.minute)}"
    return Doubt("/stage", f"{what}: the forecast gives that less than 1 in 100. Is it so?", "counts")
