"""One line for someone with wet gloves: what to do now, and why."""

import numpy as np

from ..pour import clock_text
from ..recipe import Recipe
from ..shelf import STAGES, Shelf, Technique
from ..values import Id, Share, Value, listed
from .forecast import Forecast, Projection, StepForecast, TechniqueOdds

RISKY = 0.6  # below these odds a step is called in question [C]
FAR_FASTER, FASTER, SLOWER = (
    5.0,
    1.35,
    0.7,
)  # pace at which it is worth saying that the batter differs from the forecast [C]


class Advice(Value):
    """`do` names the act of the big key; `technique` is set when the advice is to change to it.

    `pace` is how many times as fast as forecast the leading portion moves; 1 while nothing was seen.
    """

    headline: str
    detail: str
    do: str
    technique: Id | None = None
    odds: Share | None = None
    pace: float
    caution: str = ""


def about(minutes: float) -> str:
    """Minutes as a maker says them."""
    if minutes < 0.75:
        return "under a minute"
    return f"about {minutes:.0f} min"


def in_ten(odds: float) -> str:
    """Odds as "8 times in 10"; never all or none of the ten."""
    n = min(max(round(odds * 10), 0), 9)
    if n == 0:
        return "less than 1 time in 10"
    return f"{n} time{'s' if n > 1 else ''} in 10"


def pace(projection: Projection) -> tuple[float, int]:
    """How many times as fast as forecast, and in which lane: the one furthest off, else the first to thicken."""
    course = projection.course
    best = 1.0
    lane = min(range(len(course.lanes)), key=lambda i: projection.forecast.lanes[i].stages[2].time.q50)
    for i, forecast in enumerate(projection.forecast.lanes):
        thick = forecast.stages[2]
        here = max(thick.time.q50 - course.origin, 0.1)
        ratio = max(thick.expected - course.origin, 0.1) / here
        if not SLOWER < ratio < FASTER and abs(np.log(ratio)) > abs(np.log(best)):
            best, lane = float(ratio), i
    return best, lane


def _why(projection: Projection, speed: float, lane: int) -> str:
    forecast, now = projection.forecast, projection.now
    part = forecast.lanes[lane]
    left = part.stages[2].time.q50 - now
    thick = f"{about(left)} to thick" if part.level < STAGES.index("thick") else "it is thick"
    who = part.portion
    if speed > FAR_FASTER:
        return f"{who} moves far faster than forecast: {thick}."
    if speed >= FASTER:
        times = "twice" if 1.8 <= speed < 2.25 else f"{speed:.1f} times"
        return f"{who} moves {times} as fast as forecast: {thick}."
    if speed <= SLOWER:
        return f"{who} moves slower than forecast: {thick}."
    return f"The batter moves as forecast: {part.portion} has {thick}."


def _instead(other: TechniqueOdds) -> str:
    burst = f" after a burst of the stick in {listed(other.thicken)}" if other.thicken else ""
    return f"{other.name.lower()}{burst}, {in_ten(other.odds)}: it wants {other.wants} batter"


def _pour_advice(projection: Projection, step: StepForecast, technique: Technique, speed: float, lane: int) -> Advice:
    forecast = projection.forecast
    why = _why(projection, speed, lane)
    fall_back = forecast.fall_back
    name = technique.name.lower()
    if step.odds < RISKY and fall_back is not None and not thin(step):
        return Advice(
            headline=f"Leave the {name}. {_capital(fall_back.name)} instead.",
            detail=(f"{why} The {name} would find it too thick, and work {in_ten(step.odds)}; {_instead(fall_back)}."),
            do="switch",
            technique=fall_back.technique,
            odds=fall_back.odds,
            pace=speed,
        )
    if step.odds < RISKY and not thin(step):
        return Advice(
            headline=f"Pour the {name} now, the hardest part first.",
            detail=f"{why} It works {in_ten(step.odds)}, and nothing else fits better. Whisk only, no more blending.",
            do="pouring",
            odds=step.odds,
            pace=speed,
        )
    if step.thicken:
        wait = max(forecast_time(forecast, i, technique.from_level) - projection.now for i in step.portions)
        who = f"{listed(step.thicken)} {'are' if len(step.thicken) > 1 else 'is'}"
        return Advice(
            headline=f"{who} still thin: wait {about(wait)}, or give it a burst.",
            detail=f"{why} The {name} wants {step.wants} batter. Then {technique.how}.",
            do="pouring",
            odds=step.odds,
            pace=speed,
        )
    if technique.stands and thin(step):
        ready = max(forecast_time(forecast, i, technique.from_level) for i in step.portions)
        return Advice(
            headline=f"It must stand by itself: look again in {about(max(ready - projection.now, 1.0))}.",
            detail=f"{why} The {name} wants {step.wants} batter, and waiting costs it nothing. Then {technique.how}.",
            do="pouring",
            odds=step.odds,
            pace=speed,
        )
    return Advice(
        headline=f"{_capital(name)}: pour now.",
        detail=f"{why} The {name} works {in_ten(step.odds)}: {technique.how}.",
        do="pouring",
        odds=step.odds,
        pace=speed,
    )


def thin(step: StepForecast) -> bool:
    """Whether what speaks against a step is batter that is still too thin, which time mends."""
    return step.too_thin > step.too_thick


def forecast_time(forecast: Forecast, lane: int, level: float) -> float:
    """Median minute at which a lane reaches a level; the stage below a half level stands for it."""
    if level < 2:
        return forecast.emulsion.q50
    return forecast.lanes[lane].stages[int(level) - 2].time.q50


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def advise(recipe: Recipe, shelf: Shelf, projection: Projection) -> Advice:  # noqa: PLR0911 - one return a rule
    """What to do at this minute of the pour."""
    state, forecast = projection.state, projection.forecast
    technique = projection.course.technique
    speed, lane = pace(projection)
    step = forecast.steps[-1]

    if state.ended is not None:
        detail = "What this batter did is now part of every forecast."
        guessed = [lane for lane in projection.course.lanes if lane.added and state.scented_at(lane.name) is None]
        if guessed:
            minute = max(m for m, _ in guessed[0].added.values())
            detail = (
                f"The fragrance was not tapped: it counts as in at {clock_text(minute)}, as planned. "
                "Write in when it was, or that it was left out."
            )
        return Advice(
            headline="Poured. Cover it, and gloves stay on until it is.",
            detail=detail,
            do="done",
            pace=speed,
        )
    if state.emulsion is None and not state.looks and state.split is None:
        return Advice(
            headline="Blend in short bursts to emulsion.",
            detail="A film holds on the blender bell and no oil floats free: then tap emulsion.",
            do="emulsion",
            pace=1.0,
            caution="Raw batter burns: goggles and gloves on.",
        )
    if state.pouring is not None:
        advice = _pour_advice(projection, step, technique, speed, lane)
        if advice.do == "switch":
            return advice
        return advice.model_copy(
            update={
                "headline": f"Pouring: {technique.how}.",
                "detail": f"{_why(projection, speed, lane)} Keep some back for the top, then bang out the air.",
                "do": "ended",
            }
        )
    danger = step.odds < RISKY and forecast.fall_back is not None and bool(projection.course.terms) and not thin(step)
    if danger:
        return _pour_advice(projection, step, technique, speed, lane)
    if recipe.scents and recipe.design.scent_at == "emulsion" and state.split is None and not state.scents:
        return Advice(
            headline=f"Whisk {shelf.blend_name(recipe.fragrances)} into the whole pot.",
            detail=f"By hand, now that it is an emulsion. {_why(projection, speed, lane)}",
            do="scent",
            odds=step.odds,
            pace=speed,
        )
    if state.split is None and len(recipe.design.portions) > 1:
        parts = ", ".join(f"{100 * p.share:.0f} % {p.name}" for p in recipe.design.portions)
        return Advice(
            headline="Split now.",
            detail=f"{parts}. {_why(projection, speed, lane)}",
            do="split",
            odds=step.odds,
            pace=speed,
        )
    waiting = [p.name for p in recipe.design.portions if p.scented and state.waits_for_scent(p.name)]
    if recipe.scents and waiting:
        notes = [n for f in recipe.fragrances if (n := shelf.fragrances[f].note)]
        return Advice(
            headline=f"Colour, then whisk {shelf.blend_name(recipe.fragrances)} into {listed(waiting)} last.",
            detail=f"By hand: the stick would cost minutes. {_why(projection, speed, lane)}",
            do="scent",
            odds=step.odds,
            pace=speed,
            caution=f"Your note: {' '.join(notes)}" if notes else "",
        )
    return _pour_advice(projection, step, technique, speed, lane)
