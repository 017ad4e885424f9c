"""A batter that is not the clock's, and one that is: what `bench.world` pours.

Progress grows by itself (the more there is, the faster), with gamma noise from moment to moment; the reaction warms the
batter; stirring lasts on after it stops; a fragrance comes on by and by, and more of it does less and less; tempers
differ by heavy tails, and suppliers claim what is wrong. Every number here is chosen."""

from copy import deepcopy
from dataclasses import dataclass, field
from itertools import pairwise
from math import exp, log

import numpy as np

from roundstone.core.batter import (
    THRESHOLD_COLUMNS,
    Knowledge,
    Noise,
    batch_sd,
    effective_dose,
    factor_row,
    jump_column,
    prior,
    scent_column,
    temperature_step,
)
from roundstone.core.recipe import Recipe
from roundstone.core.sheet import Sheet

STEP = 0.1  # minutes of one step of the integration
GRAINY = 16.0  # shape of a minute's gamma noise
SELF = 0.35  # how much faster at thick than at the start
WARMS = 3.0  # °C by thick
STIR_LASTS = 0.7  # minutes for the effect of stirring to fade by e
FULL_DOSE = 8.0  # percent at which its effect is half of what the first drops promise
USUAL = (4.0, 12.0, 28.0, 65.0)  # progress at light, medium, thick, set
CLAIMED = {"slows": -0.3, "none": 0.05, "slight": 0.35, "moderate": 0.85, "strong": 1.6, "seizes": 2.8, "unknown": 0.4}


@dataclass
class Temper:
    """What is hidden of a batch: its pace, what the fragrance truly does (ln-rate at 3 %), the hand, and what the
    formula truly does (ln-rate)."""

    pace: float
    scent: float
    hand: float
    rices: float
    minutes: float
    formula: float = 0.0
    wrong: float = 0.02
    late: float = 0.1
    onset: float = 0.4  # minutes for a fragrance to come on

    @classmethod
    def drawn(cls, rng: np.random.Generator, claim: str, wrong_claim: float = 0.25, pace: float = 1.0) -> "Temper":
        told = CLAIMED[claim]
        off = rng.normal(0, 0.9) if rng.random() < wrong_claim else rng.normal(0, 0.3)
        return cls(
            pace=pace * exp(float(np.clip(0.36 * rng.standard_t(3), -2.0, 2.0))),
            scent=told + float(off),
            hand=exp(rng.normal(log(2.3), 0.3)),
            rices=0.25 if told > 1 else 0.04,
            minutes=exp(rng.normal(0, 0.25)),
        )


@dataclass
class Batter:
    """One lot of batter. `progress` is 0 at emulsion; `doses` are (age of the dose, percent)."""

    temper: Temper
    celsius: float
    room: float
    grams: float
    rng: np.random.Generator
    own: float = 1.0
    progress: float = 0.0
    stirring: float = 0.0
    dose: float = 0.0
    since: float = 0.0
    riced: bool = False
    loose: float = 0.0
    marks: tuple[float, ...] = USUAL
    age: float = 0.0
    crossed: list[float] = field(default_factory=list)

    def part(self, grams: float) -> "Batter":
        """A cup of it, with luck of its own from now on."""
        cup = deepcopy(self)
        cup.rng = self.rng
        cup.grams, cup.own = grams, self.own * exp(self.rng.normal(0, 0.18))
        cup.marks = tuple(m * exp(self.rng.normal(0, s)) for m, s in zip(self.marks, (0.3, 0.2, 0.2, 0.2), strict=True))
        cup.marks = tuple(np.maximum.accumulate(cup.marks).tolist())
        return cup

    def blended(self) -> float:
        """Minutes of blending until it is an emulsion."""
        return max(0.3, 0.5 * exp(self.rng.normal(0, 0.35)) / self.temper.pace**0.5)

    def advance(self, minutes: float, tool: str = "") -> None:
        left = minutes
        while left > 1e-9:
            dt = min(STEP, left)
            left -= dt
            self.celsius += (self.room - self.celsius) * dt / (37 * (self.grams / 100) ** (1 / 3))
            self.since += dt if self.dose else 0.0
            self.progress += self.gain(dt, tool)
            self.age += dt
            while len(self.crossed) < len(self.marks) and self.progress >= self.marks[len(self.crossed)]:
                self.crossed.append(self.age)
            self.loose = max(self.loose - dt, 0.0)

    def gain(self, dt: float, tool: str) -> float:
        """Progress of a step of the integration."""
        goal = {"": 0.0, "hand": log(self.temper.hand), "stick": log(28.0)}[tool]
        self.stirring = goal if goal else self.stirring * exp(-dt / STIR_LASTS)
        on = 1 - exp(-self.since / max(self.temper.onset, 1e-3)) if self.dose else 0.0
        strength = self.dose / (1 + self.dose / FULL_DOSE) * (1 + 3 / FULL_DOSE) / 3
        warm = self.celsius + WARMS * min(self.progress / 28, 1.5)
        rate = self.temper.pace * exp(self.temper.formula) * self.own * 2 ** ((warm - 37) / 10)
        rate *= exp(self.stirring + self.temper.scent * strength * on) * (1 + SELF * min(self.progress / 28, 1.5))
        rate *= 1.6 if self.riced else 1.0
        return rate * dt * float(self.rng.gamma(GRAINY * dt)) / (GRAINY * dt)

    def level(self) -> float:
        """1 emulsion … 6 past set, straight in the logarithm of the progress."""
        at = (self.marks[0] / 3.3, *self.marks, self.marks[-1] * 2.3)
        x = log(max(self.progress, 1e-6))
        level = 1.0
        for low, high in pairwise(at):
            level += min(max((x - log(low)) / max(log(high) - log(low), 1e-6), 0.0), 1.0)
        return level - (0.3 if self.loose > 0 else 0.0)


@dataclass
class Own(Batter):
    """The clock's own batter: what is hidden of it is drawn from what is believed with an empty log.

    `truth` are coefficients by name, `base` the ln-rate of its formula and of this batch."""

    truth: dict[str, float] = field(default_factory=dict)
    base: float = 0.0
    scent: str = ""

    @classmethod
    def drawn(cls, recipe: Recipe, sheet: Sheet, known: Knowledge, temper: Temper, rng: np.random.Generator) -> "Own":
        truth = dict(zip(known.names, rng.multivariate_normal(known.mean, known.cov).tolist(), strict=True))
        base = sum(x * truth[k] for k, x in factor_row(sheet.factors).items())
        base += float(rng.normal(0, batch_sd(known, measured=False)))
        scent = recipe.scents[0].fragrance
        new = cls(
            temper, recipe.pour_celsius, recipe.room_celsius, sheet.total, rng, truth=truth, base=base, scent=scent
        )
        new.marks = new.thresholds(0)
        return new

    def thresholds(self, kept: int) -> tuple[float, ...]:
        """Ages at which the stages come by its own luck, but for those that are `kept`."""
        fresh = [
            exp(self.truth[c] + float(self.rng.normal(0, s)))
            for c, s in zip(THRESHOLD_COLUMNS, Noise().stages, strict=True)
        ]
        return tuple(np.maximum.accumulate([*self.marks[:kept], *fresh[kept:]]).tolist())

    def part(self, grams: float) -> Batter:
        cup = super().part(grams)
        assert isinstance(cup, Own)
        cup.marks = self.thresholds(len(self.crossed))
        return cup

    def _rate(self) -> float:
        return self.own * exp(self.base + self.truth["E"] * float(temperature_step(self.celsius)))

    def blended(self) -> float:
        work = prior.EMULSION_WORK / prior.BLENDING_SHARE * exp(self.rng.normal(0, prior.EMULSION_WORK_SD))
        return max(work / self._rate() / exp(self.truth["stick"]), 0.1)

    def gain(self, dt: float, tool: str) -> float:
        acts = [times for after, times in prior.SCENT_COURSE if self.since > after] if self.dose else [0.0]
        dose = sum(effective_dose({self.scent: self.dose}).values())
        scented = dose * acts[-1] * self.truth[scent_column(self.scent)]
        scented += dose * self.truth[jump_column(self.scent)] * (self.since < prior.SCENT_ENTERS)
        stirring = self.truth[tool] if tool else 0.0
        return self._rate() * exp(stirring + scented) * (1.5 if self.riced else 1.0) * dt
