"""Practice: a batter with a hidden temperament that does what a maker's taps make of it, and what could have been.

The truth is one draw of the clock's own equations, with coefficients nobody at the bench knows. What the maker taps as
seen does not move it; what was done (split, scent, stirring, folding, steps) does.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal
from uuid import UUID

import numpy as np

from ..core.batter import Knowledge, infer, jump_column, sample_posterior, scent_column
from ..core.face import Tint
from ..core.pour import (
    Event,
    Flagged,
    Folded,
    LayerTested,
    PouringBegan,
    ScentIn,
    Split,
    StageSeen,
    StepDone,
    Worked,
    replay,
)  # fmt: skip
from ..core.recipe import ByWeight, Design, FatShare, Portion, Recipe, Scent
from ..core.schedule import SPLIT_AFTER, Schedule, build_schedule, emulsion_minutes, reconcile
from ..core.sheet import Sheet
from ..core.shelf import Claim, Family, Fragrance, Shelf
from ..core.simulate import FOLD_MINUTES, SimulationContext, State, begin, levels_at, simulation_context
from ..core.text import WARMER_BY, Part, say
from ..core.values import Celsius, Minutes, Name, Value
from .batter import temperament

Temper = Literal["calm", "fast", "slow", "ricing", "rogue", "warm"]
TEMPERS: dict[Temper, Part] = {
    "calm": "A calm batter: it did what was forecast.",
    "fast": "A fast batter: twice the usual pace, and a fragrance that drives it on far more than it claims.",
    "slow": "A slow batter: half the usual pace.",
    "ricing": "A batter that rices as soon as the fragrance is in.",
    "rogue": "One rogue portion: it ran twice as fast as its neighbours.",
    "warm": say("A warm shed: the batter stood ", WARMER_BY(8), " warmer than was thought."),
}
PACE: dict[Temper, float] = {"fast": 0.7, "slow": -0.7}  # of the ln-rate [C]
FAST_SCENT, FAST_JUMP, ROGUE = 0.7, 0.4, 0.9  # ln-rates per 1 % of fragrance, and of the portion [C]
WARMER = 8.0  # °C [C]
CALMER = 0.15  # times the variance of what is believed, of which a practice truth is drawn [C]
BLENDED = 0.5  # of the pace, with which the time to emulsion goes [C]
LEAST_EMULSION = 0.3  # minutes [C]
NO_TINT = "#c8bfa8"  # of a portion without a colour of its own
SCENT = "practice-scent"


class Sight(Value):
    """What a maker would see of a portion: its stage, 0 before emulsion, and in words, grains and all."""

    portion: Name
    tint: Tint
    stage: int
    words: str


class Sights(Value):
    """What can be seen of every portion at a minute, and what a thermometer reads."""

    minute: Minutes
    celsius: Celsius
    seen: tuple[Sight, ...]


SEEN = (
    "oil still floats free",
    "no trail: it closes at once",
    "a trail that sinks",
    "a trail that stands for a moment",
    "a ridge that stays",
    "a peak: it does not pour",
)
FILM = (2.7, 3.1)  # levels from which what lies in the mould has a film, and stands [C]
LIES = ("it runs at a tilt", "a film, wet below", "it stands at a tilt")


def practice_recipe(shelf: Shelf) -> tuple[Recipe, Shelf]:
    """A loaf of three colours for a workshop that has no recipe yet, and a shelf with its fragrance."""
    fragrance = Fragrance(id=SCENT, name="Practice scent", family=Family.WOOD, claim=Claim.SLIGHT)
    fats = (("olive", 0.45), ("coconut", 0.25), ("palm", 0.25), ("castor", 0.05))
    portions = (
        Portion(name="Chalk", share=0.5, scent=1.0, tint="#e8e2d2"),
        Portion(name="Rust", share=0.25, scent=1.0, tint="#a8502f"),
        Portion(name="Lichen", share=0.25, scent=1.0, tint="#7d8f55"),
    )
    recipe = Recipe(
        name="Practice loaf",
        fats=tuple(FatShare(fat=f, share=s) for f, s in fats),
        scents=(Scent(fragrance=SCENT, load=0.03),),
        pour_celsius=34.0,
        size=ByWeight(grams=700.0),
        design=Design(portions=portions, technique="hanger-swirl"),
    )
    return recipe, shelf.model_copy(update={"fragrances": {**shelf.fragrances, SCENT: fragrance}})


@dataclass(frozen=True)
class Truth:
    """A batter's hidden nature: `temper` by name, its coefficients, and the dice of what no coefficient explains."""

    temper: Temper
    coefficients: Knowledge
    seed: int
    emulsion: float
    rogue: int = 0

    @classmethod
    def dealt(cls, temper: Temper, recipe: Recipe, sheet: Sheet, knowledge: Knowledge, seed: int) -> "Truth":
        """A truth drawn from what is believed, bent to a temperament."""
        rng = np.random.Generator(np.random.PCG64(seed))
        calm = replace(knowledge, cov=knowledge.cov * CALMER)
        truth = temperament(calm, rng, {})
        if temper == "fast":
            for scent in recipe.scents:
                truth.mean[truth.column[scent_column(scent.fragrance)]] += FAST_SCENT
                truth.mean[truth.column[jump_column(scent.fragrance)]] += FAST_JUMP
        median, _ = emulsion_minutes(knowledge, sheet, recipe.pour_celsius)
        pace = float(np.exp(-BLENDED * PACE.get(temper, 0.0)))
        rogue = int(rng.integers(len(recipe.design.portions)))
        return cls(temper, truth, seed, round(max(LEAST_EMULSION, median * pace), 3), rogue)

    def happened(self, recipe: Recipe, events: Sequence[Event], minute: float) -> list[Event]:
        """What was done until then, without what was merely seen; grains come where they truly do."""
        done: list[Event] = [e for e in events if not isinstance(e, StageSeen | LayerTested | Flagged)]
        if minute >= self.emulsion:
            done.append(StageSeen(id=UUID(int=1), minute=self.emulsion, stage="emulsion"))
        first, combined = recipe.design.batches[0], replay(events, recipe).combined
        for i, portion in enumerate(recipe.design.portions):
            batch = recipe.design.batch_of(portion)
            begun = combined.get(batch) if batch != first else None
            if begun is not None and minute >= begun + self.emulsion:
                at = begun + self.emulsion
                done.append(StageSeen(id=UUID(int=100 + i), minute=at, portion=portion.name, stage="emulsion"))
        if self.temper == "ricing":
            scents = [e for e in done if isinstance(e, ScentIn)]
            done += [
                Flagged(id=UUID(int=1000 + n), minute=e.minute, portion=e.portion, flag="ricing")
                for n, e in enumerate(scents)
            ]
        return sorted(done, key=lambda e: e.minute)


@dataclass(frozen=True)
class Moment:
    """A pour in truth at one minute."""

    recipe: Recipe
    shelf: Shelf
    schedule: Schedule
    context: SimulationContext
    at: State

    def levels(self) -> list[float]:
        """True level of every portion now; 0 before its batter is an emulsion."""
        found = levels_at(self.context, self.at, list(range(len(self.schedule.bare))), self.at.t)[:, 0]
        return [float(x) if self.schedule.emulsified[i] else 0.0 for i, x in enumerate(found)]


def at_minute(
    truth: Truth, recipe: Recipe, sheet: Sheet, shelf: Shelf, events: Sequence[Event], minute: float
) -> Moment:
    """The truth of a pour after these events, `minute` minutes after the lye met the fats."""
    known = truth.coefficients
    before = [e for e in events if e.minute <= minute]
    thought = recipe
    if truth.temper == "warm":
        warm = {"pour_celsius": recipe.pour_celsius + WARMER, "room_celsius": recipe.room_celsius + WARMER}
        thought = recipe.model_copy(update=warm)
        before = [e for e in before if e.kind != "temperature"]
    state = replay(truth.happened(recipe, before, minute), recipe)
    schedule = build_schedule(thought, sheet, known, shelf, state, minute)
    belief = infer(known, schedule.seen, (), measured=True, scents=schedule.to_come)
    samples = sample_posterior(belief, schedule.bare, [{} for _ in schedule.bare], truth.seed, draws=2)
    pace = np.full((len(schedule.bare), 1, 1), PACE.get(truth.temper, 0.0))
    if truth.temper == "rogue" and len(schedule.bare) > 1:
        pace[truth.rogue] += ROGUE
    faster = np.exp(pace)
    samples = replace(samples, rate=samples.rate * faster, age=samples.age * faster)
    rices = [1.0 if truth.temper == "ricing" else 0.0] * len(schedule.bare)
    here = simulation_context(schedule, samples, rices, truth.seed)
    at, _ = begin(here)
    return Moment(recipe, shelf, schedule, here, at)


def sights(truth: Truth, moment: Moment) -> Sights:
    """What can be seen of every portion at that moment."""
    schedule = moment.schedule
    seen = []
    for i, level in enumerate(moment.levels()):
        portion = moment.recipe.design.portions[i]
        stage = min(int(level), 5)
        words = SEEN[stage]
        if i in moment.at.in_mould and stage:
            words = LIES[sum(level >= x for x in FILM)]
        if truth.temper == "ricing" and schedule.bare[i].added and stage:
            words = f"grains in it; {words}"
        seen.append(Sight(portion=portion.name, tint=portion.tint or NO_TINT, stage=stage, words=words))
    lane = next((k for i, k in enumerate(schedule.bare) if i not in moment.at.in_mould), schedule.bare[0])
    return Sights(minute=schedule.now, celsius=round(float(lane.temperature(schedule.now)), 1), seen=tuple(seen))


HANDS = ("split", "scent", "step", "pouring", "work", "fold", "combined", "switch")  # what occupies the hands


def when_done(recipe: Recipe, sheet: Sheet, shelf: Shelf, events: Sequence[Event], event: Event, now: float) -> Minutes:
    """The minute at which what was tapped is truly done: practised hands are no quicker than the plan's.

    Whoever taps sooner sees the clock go on to it."""
    state = replay(events, recipe)
    free = max((e.minute for e in state.standing if e.kind in HANDS or (e.kind == "seen" and e.stage == "emulsion")),
               default=0.0)  # fmt: skip
    ahead = reconcile(recipe, shelf, sheet.total, state, now).ahead
    wanted: list[float] = []
    match event:
        case StepDone():
            wanted = [s.minutes for s in ahead if s.key == event.step]
        case ScentIn():
            names = [p.name for p in recipe.design.portions]
            lanes = {i for i, n in enumerate(names) if event.portion in (None, n)}
            wanted = [s.minutes for s in ahead if s.do in ("scent", "colour") and lanes & set(s.lanes)]
        case Split():
            wanted = [s.minutes + SPLIT_AFTER for s in ahead if s.do == "split"][:1]
        case PouringBegan():
            wanted = [s.minutes for s in ahead if s.do == "colour"]
        case Worked():
            wanted = [event.seconds / 60]
        case Folded():
            wanted = [FOLD_MINUTES]
    return max(event.minute, free + sum(wanted))
