"""What the ready check tells beside its list: when jug and pot can meet, and how it went before."""

from collections.abc import Mapping
from typing import Literal

from ..heat import Apart, VesselNow, apart, meet, start, wanted_apart
from ..pour import CAME_OUT, PourState
from ..recipe import Recipe
from ..sheet import Sheet
from ..shelf import Shelf
from ..text import C, Part, Text, say
from ..values import Celsius, Minutes, Span, Value
from .ready_state import BAND, ReadyState

WARNED = 2.0  # minutes before jug and pot can meet no longer [C]


APART = 5.0  # °C either side of each vessel's own: three of the batter they make [chosen]
A_NIGHT = 600.0  # minutes that lye made ahead has stood [chosen]


def near(celsius: Celsius) -> Span:
    """The band about a temperature that is wanted, where the other vessel has one of its own."""
    return Span(low=celsius - APART, high=celsius + APART)


def bands(recipe: Recipe, state: ReadyState, cool: Apart | None) -> tuple[Span | None, Span]:
    """The °C between which the jug is wanted (None: as the pot) and the pot: the maker's own, else those of the recipe,
    in which the lye may be `cool` on purpose."""
    if cool is not None:
        return state.lye or near(cool.jug), state.band or near(cool.pot)
    band = state.band or Span(low=recipe.pour_celsius - BAND, high=recipe.pour_celsius + BAND)
    return None if state.lye == band else state.lye, band


class Before(Value):
    """What happened last time: with this recipe, this fragrance, this technique."""

    of: str
    message: Text


class Meets(Value):
    """When jug and pot can meet, on the ready check's clock: `opens` to `closes`, None while it is not known. `wanted`
    is how warm they shall be, `jug_band` and `pot_band` the same in figures; with `gaps` it may be said how near each
    other. `lye` is what is tapped of the jug."""

    opens: Minutes | None
    closes: Minutes | None
    jug: Celsius | None
    pot: Celsius | None
    combined: Celsius | None
    wanted: Text
    jug_band: Span
    pot_band: Span
    gaps: bool
    message: Text
    lye: str


def meets(recipe: Recipe, sheet: Sheet, shelf: Shelf, state: ReadyState, minute: Minutes) -> Meets:
    """When the vessels can meet, asked of their curves once both are hot; `jug` and `pot` are what they are at now."""
    begun = start(recipe, shelf, sheet.lines)
    lye, band = bands(recipe, state, apart(recipe, begun))
    wanted = say(C(band.low, ".0f"), " to ", C(band.high, ".0f")) if lye is None else wanted_apart(lye, band)
    of = {"wanted": wanted, "jug_band": lye or band, "pot_band": band, "gaps": lye is None}
    mixed, lye_key = state.mixed, "Lye stands ready" if recipe.lye_stands == "ahead" else "Lye is mixed"
    known = ("the lye is mixed",) if recipe.lye_stands == "ahead" else ()
    if recipe.lye_stands == "ahead" and state.melted is not None:
        mixed = state.melted - A_NIGHT  # also where a tap says so now: it stood since the day before
    if state.melted is None or mixed is None:
        told = (("the fats are melted", state.melted), ("the lye is mixed", mixed))
        waits = " and when ".join(what for what, at in told if at is None and what not in known)
        message = f"Tap when {waits}: then the time counts down."
        none = {"opens": None, "closes": None, "jug": None, "pot": None, "combined": None}
        return Meets(**none, **of, message=message, lye=lye_key)
    jug, pot = (
        [r.model_copy(update={"minute": r.minute - hot}) for r in readings if r.minute >= hot]
        for readings, hot in ((state.jug, mixed), (state.pot, state.melted))
    )
    masses, after = (begun.jug_grams, begun.fats), mixed - state.melted
    found = meet(begun.jug, begun.pot, band, state.gap, masses, jug, pot, after, begun.melts, lye)
    since = minute - state.melted

    def now_at(vessel: VesselNow) -> Celsius | None:
        place = round(since / vessel.every)
        return vessel.middle[place] if 0 <= place < len(vessel.middle) else None

    return Meets(
        opens=state.melted + found.window.low if found.window else None,
        closes=state.melted + found.window.high if found.window else None,
        jug=now_at(found.jug),
        pot=now_at(found.pot),
        combined=found.combined,
        **of,
        message=found.message,
        lye=lye_key,
    )


class Cue(Value):
    """When a word is due by itself, and which: a window about to close, a gate that may open, a countdown that ends."""

    minute: Minutes
    kind: Literal["closing", "gate", "countdown"]
    message: Text


def cues_of(meets: Meets) -> tuple[Cue, ...]:
    """When a word is due: jug and pot are ready to meet, and soon will not be any more."""
    if meets.opens is None or meets.closes is None:
        return ()
    out = [Cue(minute=meets.opens, kind="countdown", message="Jug and pot are ready to meet: read both.")]
    if meets.closes - meets.opens > 2 * WARNED:
        message = f"{WARNED:.0f} minutes, then one of them is too cool."
        out.append(Cue(minute=meets.closes - WARNED, kind="closing", message=message))
    return tuple(out)


def before(
    recipe: Recipe, shelf: Shelf, last: tuple[Part, PourState] | None, poured: Mapping[str, int], technique: Text
) -> tuple[Before, ...]:
    """What happened last time: `last` is the day and the state of this recipe's latest pour, `poured` counts pours by
    fragrance, `technique` is what verdicts say of its technique."""
    out = []
    if last is not None:
        day, state = last
        flags = dict.fromkeys(f.flag.replace("-", " ") for f in state.flags)
        came = f", came out {CAME_OUT[state.came]}" if state.came else ""
        changed = f", changed to {state.technique.replace('-', ' ')}" if state.technique else ""
        wrong = f"; {', '.join(flags)}" if flags else ""
        out.append(Before(of="This recipe", message=say("poured ", day, changed, came, wrong, ".")))
    for fragrance in recipe.fragrances:
        count, known = poured.get(fragrance, 0), shelf.fragrances[fragrance]
        message = f"in {count} of your pours." if count else "not seen at work yet: believe the claim with care."
        out.append(Before(of=known.name, message=f"{message} {known.note}".strip()))
    if technique:
        out.append(Before(of=shelf.techniques[recipe.design.technique].name, message=technique))
    return tuple(out)
