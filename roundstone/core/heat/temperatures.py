"""When jug and pot are ready to meet before anything was measured, and what to do about it."""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from ..recipe import Recipe, moment_of
from ..sheet import Line, grams_of
from ..shelf import Shelf
from ..text import WARMER_BY, C, Text, say
from ..values import Caution, Celsius, Minutes, Span, Value, listed
from .lye import FROZEN_CELSIUS, Lye, MilkInJug, lye_peak, sets_at
from .sets import LIKE_TRACE, pot_sets
from .vessels import (
    COOLING_SD,
    FAT_CAPACITY,
    LONGEST,
    LYE_CAPACITY,
    Curve,
    combined,
    jug_curve,
    pot_curve,
)

PLASTIC_LIMIT = 95.0  # °C, above which thin plastic and glass can fail: common practice
MELTED = 61.0  # °C of the fat pot when the hard fats are clear: common practice
AT_ONCE = 3  # minutes of difference that are not worth telling [chosen]
ROOM_WARM = 3.0  # °C above the room at which lye is called as cool as it [chosen]
AN_EVENING = 240.0  # minutes of cooling from which it is told to begin the evening before [chosen]
NEAR = 1.0  # °C below the goal that a vessel may stand and still be called ready [chosen]
SCORCHES = 40.0  # °C from which milk and sugar brown in lye: common practice
TENTH = 1.2815515655  # normal quantile of the 80 % span
KOH_GIVE = 8.0  # °C that potassium lye's peak may be off [from memory]
HOTTEST_FATS = 60.0  # °C beyond which no advice warms fats that lye is poured on: common practice, they spit


class Vessel(Value):
    """When a vessel falls to the pour temperature, counted from when it was hot: middle and likely span.

    One that is cooler than that from the start must be warmed `to`: it never gets there by itself.
    """

    start: Celsius
    ready: Minutes
    likely: Span
    warm_to: Celsius | None


class Apart(Value):
    """How warm jug and pot are as they meet, where they are not wanted alike; together they `make` so much."""

    jug: Celsius
    pot: Celsius
    make: Celsius


class HeatPlan(Value):
    """The lye's peak, when jug and pot are ready, and what to do about it.

    `combined` is where the batter would stand if a vessel that is too cool were not warmed. `wanted` is how warm each
    is, where the lye stands cooler than the fats on purpose.
    """

    adiabatic: Celsius
    peak: Celsius
    jug: Vessel
    pot: Vessel
    combined: Celsius | None
    wanted: Apart | None
    advice: Text
    cautions: tuple[Caution, ...]


def _vessel(curve: Callable[[float], Curve], goal: float) -> Vessel:
    z = TENTH * COOLING_SD
    middle, quick, slow = (min(curve(s).until(goal), LONGEST) for s in (0.0, -z, z))
    begun = curve(0.0).start
    warm_to = goal if begun < goal - NEAR else None
    return Vessel(start=begun, ready=middle, likely=Span(low=quick, high=slow), warm_to=warm_to)


def _cold_advice(recipe: Recipe, jug: Vessel, pot: Vessel, begun: "Start", together: Celsius) -> Text:
    """What to do when a vessel stands below the pour temperature from the start."""
    goal = recipe.pour_celsius
    as_they_are = say("As they are they would meet near ", C(together, ".0f"), ", not ", C(goal), ".")
    fats = say("Warm the fats, which stand at ", C(pot.start, ".0f"), ", to ", C(min(goal, HOTTEST_FATS)))
    if jug.warm_to is None:
        span = f"{jug.likely.low:.0f} to {min(jug.likely.high, LONGEST):.0f}"
        return say(fats, " when the lye has come down to that, after ", span, " min by a thermometer. ", as_they_are)
    lye = _warm_lye(begun.jug, goal)
    if pot.warm_to is not None:
        return say(fats, ". ", lye, " ", as_they_are)
    warmer = goal + (goal - jug.start) * begun.jug_grams * LYE_CAPACITY / (begun.fats * FAT_CAPACITY)
    if warmer <= min(HOTTEST_FATS, pot.start):
        return say(lye, " Or combine it at once with fats at about ", C(warmer, ".0f"), ". ", as_they_are)
    return say(lye, " ", as_they_are)


def _warm_lye(jug: Curve, goal: Celsius) -> Text:
    """How a jug that is too cold comes to the pour temperature: by itself in a warmer room, else in warm water."""
    comes = say("The lye comes to no more than ", C(jug.start, ".0f"))
    minutes = jug.warm(goal)
    if minutes < LONGEST:
        return say(comes, ": let it warm to ", C(goal), f", about {minutes:.0f} min in this room, then combine.")
    if goal <= jug.room:
        return say(comes, ": let it warm to ", C(goal), ", then combine.")
    return say(comes, ": stand it in warm water until it reads ", C(goal), ", then combine.")


def _advice(recipe: Recipe, jug: Vessel, pot: Vessel) -> Text:
    goal, room = recipe.pour_celsius, recipe.room_celsius
    if max(jug.ready, pot.ready) >= LONGEST:
        return say("A room of ", C(room), " will not cool them to ", C(goal), ": stand the vessels in cold water.")
    early = round(jug.ready - pot.ready)
    if abs(early) < AT_ONCE:
        when = "Mix the lye as the fats are melted"
    else:
        when = f"Mix the lye about {abs(early)} min {'before' if early > 0 else 'after'} the fats are melted"
    if early > AN_EVENING:
        return say("Mix the lye the evening before, or stand the jug in cold water: both then meet at ", C(goal), ".")
    span = f"{jug.likely.low:.0f} to {min(jug.likely.high, LONGEST):.0f}"
    return say(when, ": both then meet at ", C(goal), ". The jug takes ", span, " min, so look at a thermometer.")


def _sets(recipe: Recipe, lines: Sequence[Line], coldest: Celsius) -> Iterator[Caution]:
    """Sodium lye that turns solid at the temperature it will stand at."""
    if recipe.koh_share > 0:
        return
    strength = recipe.stock
    if strength is not None and (sets := sets_at(strength * recipe.naoh_purity)) > recipe.room_celsius:
        message = say(
            "A stock lye of this strength sets solid below ",
            C(sets, ".0f"),
            ": stand it in warm water until it is clear, then weigh it.",
        )
        yield Caution(pointer="/stock", message=message)
    naoh = grams_of(lines, "alkali") + grams_of(lines, "stock") * (strength or 0.0)
    water = grams_of(lines, "water") + grams_of(lines, "ice") + grams_of(lines, "stock") * (1 - (strength or 0.0))
    water += sum(x.grams for x in lines if x.kind == "liquid" and x.vessel == "jug")
    if (sets := sets_at(naoh / (naoh + water))) > coldest:
        message = say(
            "This lye sets below ",
            C(sets, ".0f"),
            ": keep the jug warmer than that, and look for crystals on its floor.",
        )
        yield Caution(pointer="/water", message=message)


@dataclass(frozen=True)
class Start:
    """Jug and pot when they are hot: °C and grams. `melts` are (share, softens, clear) of the fats that can set."""

    adiabatic: Celsius
    jug: Curve
    jug_grams: float
    pot: Curve
    fats: float
    melts: tuple[tuple[float, float, float], ...]


def start(recipe: Recipe, shelf: Shelf, lines: Sequence[Line]) -> Start:
    """Where cooling begins, from a sheet's lines."""
    room, ice = recipe.room_celsius, grams_of(lines, "ice")
    # What acids and sugars bring of it is in the jug before the lye, like the plain water.
    water = grams_of(lines, "water")
    for x in lines:
        if x.kind == "additive" and x.row is not None:
            dose = recipe.additives[x.row]
            additive = shelf.additives[dose.additive]
            if not dose.into and moment_of(dose, additive) == "before-lye":
                water += x.grams * additive.water
    liquids = [(recipe.liquids[x.row], x) for x in lines if x.kind == "liquid" and x.row is not None]
    jugged = [(u, shelf.liquids[u.liquid], x.grams) for u, x in liquids if u.goes == "jug"]
    milk = [MilkInJug(g, q.water, FROZEN_CELSIUS if u.frozen else room) for u, q, g in jugged]
    stock, flakes = grams_of(lines, "stock"), grams_of(lines, "alkali", "alkali:koh")
    strength = recipe.stock or 0.0
    lye = Lye(
        naoh=grams_of(lines, "alkali", "alkali:naoh") * recipe.naoh_purity,
        koh=flakes * recipe.koh_purity,
        flake_water=flakes * (1 - recipe.koh_purity),
        held=stock * strength * recipe.naoh_purity,
        stock_water=stock * (1 - strength),
    )
    adiabatic, peak = lye_peak(lye, water, ice, room, room, milk)
    jug_grams = water + ice + stock + grams_of(lines, "alkali") + sum(g for _, _, g in jugged)
    fats = grams_of(lines, "fat")
    melts = tuple(
        (row.share, f.melts_from if f.melts_from is not None else f.melts - 5, f.melts)
        for row in recipe.fats
        if (f := shelf.fats[row.fat]).melts is not None
    )
    hard = any(clear > room for _, _, clear in melts)
    hot = max([MELTED, *(clear + 5 for _, _, clear in melts)]) if hard else room
    return Start(adiabatic, jug_curve(peak, room, jug_grams), jug_grams, pot_curve(hot, room, fats), fats, melts)


def apart(recipe: Recipe, begun: Start) -> Apart | None:
    """How warm each vessel is as they meet, so that they make the pour temperature; None where both are as warm."""
    if recipe.lye_stands == "warm":
        return None
    room, goal = recipe.room_celsius, recipe.pour_celsius
    pot = goal + (goal - room) * begun.jug_grams * LYE_CAPACITY / (begun.fats * FAT_CAPACITY)
    pot = min(max(pot, room), HOTTEST_FATS)
    return Apart(jug=room, pot=pot, make=combined(begun.fats, pot, begun.jug_grams, room)[0])


def _apart_advice(recipe: Recipe, wanted: Apart, jug: Vessel) -> Text:
    """What to do where the lye is cool on purpose."""
    room = say("the room's ", C(recipe.room_celsius, ".0f"))
    if recipe.lye_stands == "ahead":
        lye = say("Lye of the day before, at ", room, ", strained. ")
    elif jug.ready > AN_EVENING:
        lye = say("Mix the lye the evening before: it takes hours to ", room, ". ")
    else:
        lye = say("Let the lye come down to ", room, f", about {jug.ready:.0f} min. ")
    fats = say("Fats at about ", C(wanted.pot, ".0f"), ": together they make ", C(wanted.make, ".0f"), ".")
    if abs(wanted.make - recipe.pour_celsius) > NEAR:
        why = "fats hotter than that spit" if wanted.make < recipe.pour_celsius else "the room is warmer"
        fats += say(" Not ", C(recipe.pour_celsius), f": {why}.")
    return say(lye, fats)


def plan(recipe: Recipe, shelf: Shelf, lines: Sequence[Line]) -> HeatPlan:
    """Heat of a weighed recipe, from its sheet's lines."""
    begun = start(recipe, shelf, lines)
    room, adiabatic, peak = recipe.room_celsius, begun.adiabatic, begun.jug.start
    goal, wanted = recipe.pour_celsius, apart(recipe, begun)
    jug_goal, pot_goal = (goal, goal) if wanted is None else (wanted.jug + ROOM_WARM, wanted.pot)
    jug = _vessel(lambda s: jug_curve(peak, room, begun.jug_grams, s), jug_goal)
    pot = _vessel(lambda s: pot_curve(begun.pot.start, room, begun.fats, s), pot_goal)
    cautions = []
    if adiabatic > PLASTIC_LIMIT:
        hot = say("The lye can reach ", C(adiabatic, ".0f", both=True), " where it dissolves")
        message = say(hot, ": no glass, no thin plastic, steam; add it slowly.")
        cautions.append(Caution(pointer="/water", message=message, danger=True))
    for i, use in enumerate(recipe.liquids):
        q = shelf.liquids[use.liquid]
        if use.goes == "jug" and peak > SCORCHES and q.browns:
            message = say(
                "The jug comes to about ",
                C(peak, ".0f"),
                ": ",
                q.name.lower(),
                " browns and smells from ",
                C(SCORCHES, ".0f"),
                " on.",
            )
            cautions.append(Caution(pointer=f"/liquids/{i}/share", message=message))
    if recipe.koh_share > 0:
        give = say("give or take ", WARMER_BY(8))
        message = say("How hot potassium lye gets is known only roughly, ", give, "; it can boil. Add it slowly.")
        cautions.append(Caution(pointer="/koh_share", message=message, danger=peak > PLASTIC_LIMIT - KOH_GIVE))
    cautions += _sets(recipe, lines, min(room, peak))
    if pot_sets(recipe, shelf, goal) > LIKE_TRACE:
        names = [shelf.fats[r.fat].name for r in recipe.fats if (shelf.fats[r.fat].melts or 0) > goal]
        warm = next((t for t in range(round(goal), 100) if pot_sets(recipe, shelf, t) <= LIKE_TRACE), 100)
        message = say(
            listed(names), " can set in the pot below ", C(warm, ".0f"), " and look like trace: keep it stirred."
        )
        cautions.append(Caution(pointer="/pour_celsius", message=message))
    together = None
    if wanted is not None:
        together, advice = wanted.make, _apart_advice(recipe, wanted, jug)
    elif jug.warm_to is None and pot.warm_to is None:
        advice = _advice(recipe, jug, pot)
    else:
        fats_at, lye_at = (min(v.start, goal) for v in (pot, jug))
        together, _ = combined(begun.fats, fats_at, begun.jug_grams, lye_at)
        advice = _cold_advice(recipe, jug, pot, begun, together)
    return HeatPlan(
        adiabatic=adiabatic,
        peak=peak,
        jug=jug,
        pot=pot,
        combined=together,
        wanted=wanted,
        advice=advice,
        cautions=tuple(cautions),
    )
