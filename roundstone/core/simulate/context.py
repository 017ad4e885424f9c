"""What a plan is played on: a pour as far as it has gone, in draws, and what its plan may still put in."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from math import log

import numpy as np

from ..batter import STREAM, Array, PosteriorSamples, effective_dose, jump_column, normals, prior, scent_column
from ..schedule import Schedule

BEFORE_LIGHT, AFTER_SET = log(3.3), log(2.3)  # ln-ages from the start of emulsion to light, and from set to its end [C]
HANDS_SD, STEP_SD = 0.20, 0.15  # of the logarithm of a step's minutes: of the maker, and of the step [C]
CALM_AFTER = 0.5  # minutes after its scent from which a look without a flag says there are no grains [C]
DICE_OF_HANDS, DICE_OF_GRAINS = 50, 51
# Minutes after it went in at which what a fragrance does changes: its own course, and the end of stirring it in.
COMING_ON = (0.0, prior.SCENT_STICK_MINUTES, prior.SCENT_STIR_MINUTES, prior.SCENT_ENTERS)


@dataclass(frozen=True)
class Utility:
    """What an outcome is worth to the maker: as planned, different but sellable, lost."""

    drawn: float = 1.0
    different: float = 0.6
    lost: float = 0.1

    def most(self, similarity: float) -> float:
        """What a technique that is so much like the drawn one can come to at best."""
        return max(self.different + max(self.drawn - self.different, 0.0) * similarity, self.lost)


@dataclass(frozen=True)
class Hands:
    """How long this maker's steps take against the plan's minutes: ln of the ratio, and its sd."""

    mean: float = 0.0
    sd: float = HANDS_SD


@dataclass(frozen=True)
class SimulationContext:
    """A pour as far as it has gone, in draws; arrays are (lanes × draws) unless said.

    `age` and `rate` are on the `grid` of minutes since `origin`; `levels` (6 × lanes × draws) are the ln-ages at which
    the levels 1 to 6 begin. `scent` is the ln-rate of what each lane is still to get, `unfold` the age that it gains
    while that is stirred in, in minutes of its rate. `grains` are 1 where a lane rices once its fragrance is in."""

    schedule: Schedule
    grid: Array
    age: Array
    rate: Array
    levels: Array
    origin: Array
    emulsion: Array
    scent: Array
    unfold: Array
    unfold_stick: Array
    hand: Array
    stick: Array
    grains: Array
    solid: Array
    riced: Array
    shares: Array
    hands: Array
    seed: int
    utility: Utility = field(default_factory=Utility)

    @property
    def draws(self) -> int:
        return int(self.age.shape[1])

    @cached_property
    def steps(self) -> tuple[Array, Array]:
        """The ln-age at which each step to the next level begins, and one over its length: (5 × lanes × draws) each."""
        return self.levels[:-1], np.asarray(1 / np.maximum(np.diff(self.levels, axis=0), 1e-6))

    @cached_property
    def flat(self) -> tuple[Array, Array, Array]:
        """Flat age and rate, and each lane's and draw's first place in the age."""
        lanes, draws, edges = self.age.shape
        first = np.arange(lanes * draws).reshape(lanes, draws) * edges
        rate = np.concatenate([self.rate, self.rate[:, :, -1:]], axis=2)
        return self.age.ravel(), rate.ravel(), first

    def step_noise(self, key: str) -> Array:
        """The luck of a step's minutes, the same whenever it is played."""
        return normals(self.seed + STREAM * (60 + sum(key.encode()) % 997), self.draws, 1)[:, 0]


def simulation_context(
    schedule: Schedule,
    samples: PosteriorSamples,
    ricing: Sequence[float],
    seed: int,
    hands: Hands = Hands(),
    utility: Utility = Utility(),
) -> SimulationContext:
    """A schedule played on: what has happened in `samples`, and what its plan may still put in.

    `ricing` are the odds that each portion rices once it is scented; one that was flagged has, one that was stirred
    and looked at since without a flag has not."""
    lanes, draws = len(schedule.bare), samples.params.shape[0]
    rate, age = samples.rate[:lanes], samples.age[:lanes]
    hand, stick = np.exp(samples.of("hand")), np.exp(samples.of("stick"))
    scent = np.zeros((lanes, draws))
    unfold = np.zeros((len(COMING_ON) - 1, lanes, draws))
    unfold_stick = np.zeros_like(unfold)
    for i, lane in enumerate(schedule.bare):
        if lane.added:
            continue
        jump = np.zeros(draws)
        for f, x in effective_dose(schedule.percents[i]).items():
            scent[i] += x * samples.of(scent_column(f))
            jump += x * samples.of(jump_column(f))
        unfold[:, i] = _unfolding(scent[i], jump, hand, prior.SCENT_STIR_MINUTES)
        unfold_stick[:, i] = _unfolding(scent[i], jump, stick, prior.SCENT_STICK_MINUTES)
    g = samples.ln_age[:lanes]
    levels = np.stack([g[..., 0] - BEFORE_LIGHT, *(g[..., s] for s in range(4)), g[..., 3] + AFTER_SET])
    rices, riced = _grains(schedule, ricing, seed, draws)
    hands_luck = hands.mean + hands.sd * normals(seed + STREAM * DICE_OF_HANDS, draws, 1)[:, 0]
    origin, emulsion = _origins(schedule, samples)
    return SimulationContext(
        schedule=schedule,
        grid=samples.grid,
        age=np.ascontiguousarray(age),
        rate=np.ascontiguousarray(rate),
        levels=levels,
        origin=origin,
        emulsion=emulsion,
        scent=scent,
        unfold=unfold,
        unfold_stick=unfold_stick,
        hand=hand,
        stick=stick,
        grains=rices,
        solid=np.array([_solid(schedule, lane.name) for lane in schedule.bare]),
        riced=riced,
        shares=np.array(schedule.shares),
        hands=hands_luck,
        seed=seed,
        utility=utility,
    )


def _grains(schedule: Schedule, ricing: Sequence[float], seed: int, draws: int) -> tuple[Array, Array]:
    """Where a lane rices once its fragrance is in, and where it has: 1 or 0, (lanes × draws) each."""
    lanes = len(schedule.bare)
    dice = normals(seed + STREAM * DICE_OF_GRAINS, draws, max(lanes, 1)).T[:lanes]
    from scipy.special import ndtr

    rices = (ndtr(dice) < np.array(ricing).reshape(-1, 1)).astype(float)
    riced = np.zeros((lanes, draws))
    for i, lane in enumerate(schedule.bare):
        flagged = schedule.state.riced(lane.name)
        scented = min((m for m, _ in lane.added.values()), default=None)
        mended = any(f.flag == "ricing" and f.portion in (None, lane.name) for f in schedule.state.flags)
        calm = scented is not None and (mended or _seen_after(schedule, i, scented + CALM_AFTER))
        if not schedule.percents[i] or calm:
            rices[i] = 0.0
        if flagged:
            rices[i] = riced[i] = 1.0
        elif scented is not None:
            riced[i] = rices[i]
    return rices, riced


def _solid(schedule: Schedule, name: str) -> bool:
    """Whether a portion is told to have seized, and not to have come smooth since."""
    flag = schedule.state.mishap(name)
    return flag is not None and flag.flag == "seizing"


def _seen_after(schedule: Schedule, lane: int, minute: float) -> bool:
    """Whether a lane was looked at from then on: who saw grains would have said so."""
    name = schedule.bare[lane].name
    return any(who in (None, name) and look.minute >= minute for who, look in schedule.state.looks)


def _origins(schedule: Schedule, samples: PosteriorSamples) -> tuple[Array, Array]:
    """When each lane's batch comes to emulsion, by draw, and the minutes its blending takes where that is still to
    come.
    """
    draws = samples.params.shape[0]
    origin = np.empty((len(schedule.bare), draws))
    minutes = np.empty_like(origin)
    z = _emulsion_dice(samples)
    for i, lane in enumerate(schedule.bare):
        # The first stretch of its rate, blended: a fast batter is an emulsion sooner too.
        pace = np.exp(np.log(samples.rate[i][:, 0] / np.median(samples.rate[i][:, 0])))
        minutes[i] = max(lane.origin - schedule.begins[i], 0.05) / pace * np.exp(prior.EMULSION_WORK_SD * z)
        origin[i] = lane.origin if schedule.emulsified[i] else schedule.begins[i] + minutes[i]
        if not schedule.emulsified[i]:
            origin[i] = np.maximum(origin[i], schedule.now if schedule.begins[i] <= schedule.now else 0.0)
    return origin, minutes


def _emulsion_dice(samples: PosteriorSamples) -> Array:
    """Normals of the blending that an emulsion takes: antithetic like all dice, and nobody else's."""
    return normals(STREAM * 53, samples.params.shape[0], 1)[:, 0]


def _unfolding(scent: Array, jump: Array, stirring: Array, minutes: float) -> Array:
    """What a lane gains beyond its new pace while a fragrance comes on, jumps and is stirred in for so many minutes.

    (stretches × draws): the slope of each stretch between the COMING_ON minutes, in its own rate before the fragrance.
    """
    after = np.exp(scent)
    out = []
    for start in COMING_ON[:-1]:
        acts = next(times for begun, times in reversed(prior.SCENT_COURSE) if start >= begun)
        out.append(np.exp(acts * scent + jump) * (stirring if start < minutes else 1.0) - after)
    return np.array(out)
