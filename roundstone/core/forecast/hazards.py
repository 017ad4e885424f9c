"""What else can go wrong, with odds: seizing, ricing, separation, false trace, overheating, discolouring.

Seizing comes from the clock's own draws and overheating from the heat in the mould; the rest is told by what was
learned (`hazard_log`). Discolouring joins vanillin, the claim and the maker's own record.
"""

from collections.abc import Iterable, Sequence
from math import exp, log
from typing import Literal, get_args

import numpy as np
from scipy.special import expit

from ..batter import (
    Array,
    Draws,
    Lane,
    PosteriorSamples,
    effective_dose,
    in_first_minutes,
    jump_column,
    scent_column,
)
from ..heat import mould_heat
from ..pour import Flag
from ..recipe import Recipe
from ..schedule import Schedule
from ..shelf import Discolours, Family, Shelf
from ..text import WARMER_BY, C, Part, Text, say
from ..values import Share, Span, Value
from .hazard_log import HazardKnowledge, false_trace_row, heat_row, mould_pace, ricing_row, separation_row
from .job import Job, Knows
from .odds import MOST_SURE

SEIZES_WITHIN = 2.0  # minutes from scent to thick
UNKNOWN_SEIZES_MORE = 1.5  # odds times this for a fragrance never poured: the clock under-warns then
LEAST = 0.01  # odds are never told below this
HazardKey = Literal["seizing", "ricing", "separation", "false-trace", "overheating", "gel", "discolouring"]


class Hazard(Value):
    """Odds of a hazard in words and figures, how often it was seen, and what would lower it; `span` is where the odds
    are believed to be 8 times in 10, where what was seen moves them.

    What does no `harm` is told beside the others because it comes from the same cause; what is likely to cost the batch
    is a `danger`.
    """

    key: HazardKey
    name: str
    odds: Share
    span: Span | None = None
    words: str
    seen: int
    asked: int
    message: Text
    lower: tuple[Text, ...]
    harm: bool = True
    danger: bool = False


def _words(odds: float) -> str:
    words = ((0.05, "very unlikely"), (0.15, "unlikely"), (0.35, "possible"), (0.65, "about even"))
    return next((w for most, w in words if odds < most), "likely")


DANGER = 0.35  # odds from which what may cost the batch is told in red [chosen]
STOOD_READY = 0.1  # odds from which one stands ready for what may go wrong [chosen]


def may_go_wrong(found: Iterable[Hazard]) -> dict[Flag, Share]:
    """What is worth standing ready for, by how it is tapped when it comes, with its odds; the likeliest first."""
    flags: dict[str, Flag] = {flag: flag for flag in get_args(Flag)}
    likely = sorted((h for h in found if h.key in flags and h.odds >= STOOD_READY), key=lambda h: -h.odds)
    return {flags[h.key]: h.odds for h in likely}


def hazards(job: Job, knows: Knows, schedule: Schedule, draws: Draws, samples: PosteriorSamples) -> tuple[Hazard, ...]:
    """All hazards of a recipe before its pour, the likeliest first."""
    found = [
        *_seizing(job, knows, schedule, draws, samples),
        *_ricing(job, knows.hazards, schedule),
        _false_trace(job, knows.hazards),
        _separation(knows, schedule),
        *_heat_in_mould(job, knows),
        *_discolouring(job.recipe, job.shelf, knows.hazards),
    ]
    return tuple(sorted(found, key=lambda h: (not h.harm, -h.odds)))


def _made(
    key: HazardKey,
    name: str,
    odds: float,
    count: tuple[int, int],
    message: Part,
    lower: Sequence[Text] = (),
    span: Span | None = None,
) -> Hazard:
    told = min(max(odds, LEAST), MOST_SURE)
    seen, asked = count
    return Hazard(
        key=key,
        name=name,
        odds=told,
        span=span,
        words=_words(told),
        seen=seen,
        asked=asked,
        message=message,
        lower=tuple(lower),
        danger=told >= DANGER and key != "discolouring",
    )


def _less(words: Part, now: float, then: float) -> list[Text]:
    """A way to lower odds, when it is worth saying."""
    low = max(then, LEAST)
    worth = now > 0.04 and then < 0.9 * now and round(100 * low) < round(100 * now)
    return [say(words, f": {100 * low:.0f} %")] if worth else []


def _seizing(job: Job, knows: Knows, schedule: Schedule, draws: Draws, samples: PosteriorSamples) -> list[Hazard]:
    recipe, shelf, known, knowledge = job.recipe, job.shelf, knows.hazards, knows.knowledge
    lanes = schedule.lanes
    if not any(lane.added for lane in lanes):
        return []
    worst, wait, scented = 0.0, np.zeros(1), lanes[0]
    for i, lane in enumerate(lanes):
        if lane.added:
            since = draws.crossing(i, 4.0) - max(m for m, _ in lane.added.values())
            odds = float(np.mean(since < SEIZES_WITHIN))
            if odds >= worst:
                worst, wait, scented = odds, since, lane
    untried = all(known.counts.get(f"ricing:{f}", (0, 0))[1] == 0 for f in recipe.fragrances)

    def told(slower: float | Array) -> float:
        p = float(np.mean(wait * slower < SEIZES_WITHIN))
        odds = p / max(1 - p, 1e-9) * (UNKNOWN_SEIZES_MORE if untried else 1.0)
        return odds / (1 + odds)

    now = told(1.0)
    lower = _less(say(WARMER_BY(5), " cooler"), now, told(exp(0.5 * knowledge.value("E"))))
    lower += _less("1 % less of it", now, told(_with_less(scented, samples)))
    if recipe.design.scent_by == "stick":
        lower.append(say("whisk it in by hand"))
    message = f"thick within {SEIZES_WITHIN:g} min of {shelf.blend_name(recipe.fragrances)}"
    return [_made("seizing", "Seizing", now, known.counts.get("seizing", (0, 0)), message, lower)]


def _with_less(lane: Lane, samples: PosteriorSamples) -> Array:
    """How many times as long a scented lane's first minutes last with 1 % less of fragrance in it, by draw."""
    whole = {f: percent for f, (_, percent) in lane.added.items()}
    part = max(sum(whole.values()) - 1, 0.1) / sum(whole.values())
    less = effective_dose({f: percent * part for f, percent in whole.items()})
    drop = {f: x - less[f] for f, x in lane.effective_dose.items()}
    effect, jump = (sum(x * samples.of(column(f)) for f, x in drop.items()) for column in (scent_column, jump_column))
    return np.exp(np.maximum(in_first_minutes(np.asarray(effect), np.asarray(jump)), 0.0))


def _ricing(job: Job, known: HazardKnowledge, schedule: Schedule) -> list[Hazard]:
    """Of the portion that is likeliest to."""
    recipe, sheet, shelf = job.recipe, job.sheet, job.shelf
    doses = [percent for percent in schedule.percents if sum(percent.values()) > 0]
    if not doses or not recipe.scented_share:
        return []

    def row(cooler: float = 0.0, less: float = 0.0, softer: float = 0.0) -> dict[str, float]:
        at = recipe.pour_celsius - cooler
        return max((ricing_row(percent, at, sheet, less, softer) for percent in doses), key=known.odds)

    def odds(cooler: float = 0.0, less: float = 0.0, softer: float = 0.0) -> float:
        return known.odds(row(cooler, less, softer))

    now = odds()
    lower = _less(say(WARMER_BY(5), " cooler"), now, odds(cooler=5)) + _less("1 % less of it", now, odds(less=1))
    lower += _less("5 points less hard fats", now, odds(softer=0.05))
    counts = [known.counts.get(f"ricing:{f}", (0, 0)) for f in recipe.fragrances]
    count = (sum(c[0] for c in counts), sum(c[1] for c in counts))
    message = f"grains where {shelf.blend_name(recipe.fragrances)} goes in"
    return [_made("ricing", "Ricing", now, count, message, lower, known.span(row()))]


def _false_trace(job: Job, known: HazardKnowledge) -> Hazard:
    recipe, shelf = job.recipe, job.shelf
    row = false_trace_row(recipe, shelf, recipe.pour_celsius)
    now = known.odds(row)
    warm = known.odds(false_trace_row(recipe, shelf, recipe.pour_celsius + 5))
    lower = _less(say(WARMER_BY(5), " warmer"), now, warm)
    message = "thick from hard fats that set, not from soap: it melts back when stirred warm"
    return _made(
        "false-trace", "False trace", now, known.counts.get("false-trace", (0, 0)), message, lower, known.span(row)
    )


def _separation(knows: Knows, schedule: Schedule) -> Hazard:
    known, lanes = knows.hazards, zip(schedule.lanes, schedule.poured_from, strict=True)
    slowest = min((separation_row(knows.knowledge, *of) for of in lanes), key=lambda row: row["separation:age"])
    now = known.odds(slowest)
    later = known.odds(slowest | {"separation:age": slowest["separation:age"] + log(2)})
    lower = _less("pour it at twice the age, nearer light trace", now, later)
    message = "oil weeps from batter poured before it holds"
    return _made(
        "separation", "Separation", now, known.counts.get("separation", (0, 0)), message, lower, known.span(slowest)
    )


def _heat_in_mould(job: Job, knows: Knows) -> list[Hazard]:
    """Cracking or rising, moved by what the maker saw; and apart from it whether it gels through."""
    recipe, sheet, known = job.recipe, job.sheet, knows.hazards
    pace = mould_pace(recipe, knows.knowledge)

    def odds(of: Recipe) -> float:
        return known.odds(heat_row(mould_heat(of, sheet, pace).overheats))

    heat = mould_heat(recipe, sheet, pace)
    now = known.odds(heat_row(heat.overheats))
    message = say(
        "it cracks or rises out of the mould; the middle comes to ", C(heat.slow, ".0f"), " to ", C(heat.fast, ".0f")
    )
    lower = []
    if now > 0.04:
        lower = _less(
            say("pour ", WARMER_BY(6), " cooler"),
            now,
            odds(recipe.model_copy(update={"pour_celsius": recipe.pour_celsius - 6})),
        )
        if recipe.design.wrap in ("insulated", "oven", "covered"):
            bare = recipe.model_copy(update={"design": recipe.design.model_copy(update={"wrap": "open"})})
            lower += _less("leave it uncovered", now, odds(bare))
    count = known.counts.get("overheating", (0, 0))
    told = min(max(heat.gels, LEAST), MOST_SURE)
    through = Hazard(
        key="gel",
        name="Gels through",
        odds=told,
        words=_words(told),
        seen=0,
        asked=0,
        message=f"{heat.gel} likeliest; full gel deepens colours and spares ash, whites stay whiter without",
        lower=(),
        harm=False,
    )
    return [_made("overheating", "Cracks or volcano", now, count, message, lower), through]


# Vanillin in the scented fats and the colour it turns to: common practice at about 3 % of fragrance.
SHADES = ((0.0, "stays true"), (0.00008, "a tint"), (0.0002, "light brown"), (0.0006, "caramel"), (0.002, "dark brown"))


def _discolouring(recipe: Recipe, shelf: Shelf, known: HazardKnowledge) -> list[Hazard]:
    scents = shelf.poured((s.fragrance, s.load) for s in recipe.scents if s.load > 0)
    if not scents or not recipe.scented_share:
        return []
    vanillin = sum(load * (f.vanillin or 0.0) for load, f in scents)
    odds = float(expit(2.5 * log(max(vanillin, 1e-7) / 0.0002)))
    for _, f in scents:
        hint = {Discolours.NO: 0.03, Discolours.TINT: 0.5, Discolours.BROWN: 0.9}.get(f.discolours)
        if hint is None and vanillin < 0.0002:
            # Declared none may still tint: sweet and musky ones carry ethyl vanillin and the like.
            hint = 0.25 if f.family in (Family.SWEET, Family.MUSK) else 0.05
        odds = max(odds, hint or 0.0)
    counts = [known.counts.get(f"discolouring:{f}", (0, 0)) for f in recipe.fragrances]
    seen, asked = sum(c[0] for c in counts), sum(c[1] for c in counts)
    odds = (2 * odds + seen) / (2 + asked)
    shade = next(words for least, words in reversed(SHADES) if vanillin >= least)
    stated = any(f.vanillin for _, f in scents)
    message = (
        f"true at the cut; by its vanillin {shade} within a week, full when cured"
        if stated
        else "no vanillin is stated; sweet and musky notes may tint all the same"
    )
    plain = [p.name for p in recipe.design.portions if not p.scented]
    lower = [say(", ".join(plain), " stays true")] if plain and recipe.design.scents_apart else []
    return [_made("discolouring", "Discolouring", odds, (seen, asked), message, lower)]
