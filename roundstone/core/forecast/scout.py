"""What to try next: small tests ranked by how much they would narrow the forecast, and what missing figures cost.

All is linear about the middle forecast: ln T ≈ a - Σ w z θ, with the segments' shares w of the age. A test observes
such a combination G with noise R; it takes cᵀΣGᵀ(GΣGᵀ+R)⁻¹GΣc from the variance of the target, and its information
is ½ ln(V/(V - ΔV)). See docs/model.md.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log, sqrt

import numpy as np

from ..batter import THRESHOLD_COLUMNS, Array, Belief, Knowledge, Lane, ages, batch_sd, infer, prior
from ..recipe import Recipe
from ..schedule import Schedule
from ..shelf import Claim, Shelf
from ..text import WARMER_BY, C, G, Text, say
from ..values import Minutes, Value
from .forecast import Projection

SPREAD = 2 * 1.2815515655  # of a normal, from the 10 to the 90 % quantile
LEAST_NARROWING = 1.03  # a test that narrows less is not worth naming
LOAD_BY_EYE = 0.15  # sd of ln load when a fragrance is poured by eye [chosen]
STATED_CLAIM_SD = 0.30  # of the ln-rate at 3 % with a claim that can be trusted [chosen]


class Try(Value):
    """A small test: how far apart the ends of the 80 % span would be after it, as a ratio, against `now`."""

    key: str
    name: str
    message: Text
    now: float
    then: float
    information: float


class Missing(Value):
    """A figure that is not known and how much wider it makes the 80 % span, as a factor (1 is not at all)."""

    key: str
    message: Text
    widens: float


class Scouting(Value):
    """For the stage and portion the reasons speak of."""

    stage: str
    portion: str
    tries: tuple[Try, ...]
    missing: tuple[Missing, ...]


@dataclass(frozen=True)
class _Target:
    """ln of a threshold's time, linear in the parameters: its gradient, the belief, and the threshold's own noise."""

    belief: Belief
    gradient: Array
    noise: float

    @property
    def variance(self) -> float:
        return float(self.gradient @ self.belief.cov @ self.gradient) + self.noise**2

    def after(self, seen: Array, noise: float) -> float:
        """Variance of the target once `seen` was observed with this variance of noise."""
        both = float(self.gradient @ self.belief.cov @ seen)
        return self.variance - both**2 / (float(seen @ self.belief.cov @ seen) + noise)


def _gradient(lane: Lane, belief: Belief, stage: int) -> Array:
    """∂ ln T of a threshold by every parameter, at the middle of what is believed."""
    rate, age = ages([lane], belief.column, belief.mean[None, :])
    goal = exp(float(belief.mean[belief.column[THRESHOLD_COLUMNS[stage]]]))
    last = min(int(np.searchsorted(age[0, 0, 1:], goal)), len(rate[0, 0]) - 1)
    spent = np.diff(np.minimum(age[0, 0], goal))
    spent[last + 1 :] = 0.0
    weight = spent / max(spent.sum(), 1e-12)
    gradient = -(weight @ lane.rows(belief.column))
    gradient[belief.column[THRESHOLD_COLUMNS[stage]]] += 1
    # From age to time: what a change of ln age is worth in ln T depends on the rate at the crossing.
    time = lane.edges[last] - lane.origin + (goal - age[0, 0, last]) / rate[0, 0, last]
    return np.asarray(gradient * goal / (rate[0, 0, last] * max(time, 1e-9)))


def scout(projection: Projection, stage: int = 1) -> Scouting:
    """Tests worth making before this pour, the most telling first, and what is missing."""
    recipe, shelf = projection.recipe, projection.shelf
    schedule, knowledge = projection.schedule, projection.knows.knowledge
    lead = next((i for i, lane in enumerate(schedule.lanes) if lane.added), 0)
    lane = schedule.lanes[lead]
    belief = infer(knowledge, schedule.lanes, (), schedule.measured)
    target = _Target(belief, _gradient(lane, belief, stage), knowledge.noise.stages[stage])
    return Scouting(
        stage=prior.THRESHOLDS[stage],
        portion=lane.name,
        tries=tuple(_tries(recipe, shelf, schedule, lane, target, knowledge)),
        missing=tuple(_missing(recipe, shelf, schedule, target, knowledge)),
    )


def _tries(
    recipe: Recipe, shelf: Shelf, schedule: Schedule, lane: Lane, target: _Target, knowledge: Knowledge
) -> Sequence[Try]:
    column = target.belief.column
    own = target.gradient.copy()
    if lane.portion_effect in column:
        own[column[lane.portion_effect]] = 0.0  # a cup is a portion of its own
    another = own.copy()
    another[column[lane.batch_effect]] = 0.0
    plain = own.copy()
    for name in column:
        if name.startswith(("e:", "J:")):
            plain[column[name]] = 0.0
    cup = knowledge.noise.portion**2 + target.noise**2
    now = exp(SPREAD * sqrt(target.variance))
    tests: list[tuple[str, str, Text, float]] = []
    if recipe.scents:
        blend = shelf.blend_name(recipe.fragrances)
        message = say(
            G(100), " of this batter with ", blend, " in, a few minutes before the rest: watch when it turns."
        )
        tests.append(("cup", "Scout cup of today's batter", message, target.after(own, cup)))
        message = say("The same on another day: a cup with ", blend, ", at ", C(recipe.pour_celsius), ".")
        tests.append(
            (
                "another",
                "A cup another day",
                message,
                target.after(another, cup + batch_sd(knowledge, measured=True) ** 2),
            )
        )
        message = say("Tap its stages too: it tells the batch's own pace from the fragrance's.")
        tests.append(("plain", "An unscented portion", message, target.after(plain, cup)))
    if not schedule.measured:
        saved = batch_sd(knowledge, measured=False) ** 2 - batch_sd(knowledge, measured=True) ** 2
        share = float(target.gradient[column[lane.batch_effect]]) ** 2
        message = say("Read the thermometer as lye and fats meet.")
        tests.append(("thermometer", "A reading", message, target.variance - saved * share))
    out = []
    for key, name, message, left in tests:
        then = exp(SPREAD * sqrt(max(left, 1e-9)))
        if log(now) / max(log(then), 1e-9) >= LEAST_NARROWING:
            information = 0.5 * log(target.variance / left)
            out.append(Try(key=key, name=name, message=message, now=now, then=then, information=information))
    return sorted(out, key=lambda t: -t.information)


def _missing(
    recipe: Recipe, shelf: Shelf, schedule: Schedule, target: _Target, knowledge: Knowledge
) -> Sequence[Missing]:
    """Unknown inputs and their price in width."""
    column, gradient = target.belief.column, target.gradient

    def widens(without: float) -> float:
        return exp(SPREAD * (sqrt(target.variance) - sqrt(max(without, 1e-9))))

    out = []
    if not schedule.measured:
        name = schedule.lanes[0].batch_effect
        saved = batch_sd(knowledge, measured=False) ** 2 - batch_sd(knowledge, measured=True) ** 2
        message = say("The temperature is stated, not measured: believed to ", WARMER_BY(prior.STATED_CELSIUS_SD), ".")
        factor = widens(target.variance - saved * float(gradient[column[name]]) ** 2)
        out.append(Missing(key="temperature", message=message, widens=factor))
    for scent in recipe.scents:
        fragrance = shelf.fragrances[scent.fragrance]
        place = column.get(f"e:{scent.fragrance}")
        if place is None:
            continue
        sd = float(np.sqrt(target.belief.cov[place, place]))
        stated = STATED_CLAIM_SD / prior.CLAIM_LOAD
        if fragrance.claim is Claim.UNKNOWN and not (fragrance.inherits or fragrance.parts) and sd > stated:
            less = float(gradient[place]) ** 2 * (sd**2 - stated**2)
            message = say("Nothing is claimed of ", fragrance.name, ": its kind of scent is all there is to go by.")
            out.append(Missing(key=f"claim:{fragrance.id}", message=message, widens=widens(target.variance - less)))
        effect = float(target.belief.mean[place]) * float(gradient[place]) * LOAD_BY_EYE
        factor = exp(SPREAD * (sqrt(target.variance + effect**2) - sqrt(target.variance)))
        if factor > 1.01:
            message = say("If ", fragrance.name, f" is poured by eye, give or take {100 * LOAD_BY_EYE:.0f} %.")
            out.append(Missing(key=f"load:{fragrance.id}", message=message, widens=factor))
    return sorted(out, key=lambda m: -m.widens)


def next_look(projection: Projection) -> tuple[str, Minutes] | None:
    """The portion and minute of the most telling look: the next stage is then as likely reached as not."""
    if projection.state.ended is not None or not projection.state.looks:
        return None
    coming: dict[str, float] = {}
    for lane in projection.forecast.lanes:
        medians = [s.time.q50 for s in lane.stages if s.seen is None and s.time.q50 > projection.now]
        if medians:
            coming[lane.portion] = min(medians)
    if not coming:
        return None
    first = min(coming, key=lambda p: coming[p])
    return first, coming[first]
