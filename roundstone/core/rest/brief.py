"""Dates counted back from the day a batch must be ready: what is done by when, and what gives if it cannot be."""

from collections.abc import Sequence
from typing import Literal, NamedTuple

from ..recipe import Brief, Recipe, build_of
from ..sheet import Sheet
from ..shelf import USUAL_HUMIDITY
from ..text import Text, joined, say
from ..values import Value, listed
from .cure import curve, prior
from .facts import in_single_moulds
from .learned import RestLearned
from .windows import BATCH_SD, Ageing, Window, belief, expected, windows

ORDER_DAYS = 7.0  # that stock takes to come [C]
DISPERSE_DAYS = 1.0  # before the pour at which colourants are dispersed [common practice: ahead]
NEXT_DAY = 1.0  # between two days of one build

Step = Literal["order", "embeds", "disperse", "pour", "build", "cut", "bevel", "stamp", "cured"]


class Deadline(Value):
    """One step, in days before the batch must be ready: done by `by`; with luck it may still be at `latest`."""

    what: Step
    message: Text
    by: float
    latest: float


class Counted(Value):
    """`spare` is the days left before the first of them falls due (negative: late); `soonest` in how many days a pour
    of today would be ready, in 8 of 10."""

    deadlines: tuple[Deadline, ...]
    met: Literal["met", "tight", "late"]
    message: Text
    spare: float
    soonest: tuple[float, float]


class Typical(NamedTuple):
    """Windows of a recipe that was not poured yet, and days from its last pour to cured in 8 of 10."""

    windows: tuple[Window, ...]
    cured: tuple[float, float]


def typical(recipe: Recipe, sheet: Sheet, own: RestLearned, humidity: float = USUAL_HUMIDITY) -> Typical:
    """How a recipe sets and cures, before any pour of it."""
    full = 0.5 if recipe.design.wrap in ("insulated", "oven") else 0.0
    mean = expected(sheet, 1.0, full)[0] + own.cuts.shift
    weights = belief(mean, (BATCH_SD**2 + own.cuts.sd**2) ** 0.5, ())
    ageing = Ageing(0.0, [(0.0, recipe.design.wrap)], recipe.room_celsius)
    found = windows(mean, weights, ageing, sheet.factors["lactate"], salt=sheet.bar.salt)
    cut = next(w for w in found if w.what == "cut" and w.tool == own.tool).sure / 24
    loss, tau = prior(recipe, sheet, humidity)
    done = curve(loss + own.cure.loss, tau + own.cure.tau).done
    return Typical(found, (cut + done.low, cut + done.high))


def early(brief: Brief) -> str:
    """Why its day of sale cannot be; empty where it can. Days in ISO order as their dates do."""
    before = brief.sale is not None and brief.ready is not None and brief.sale < brief.ready
    return "It is on sale before it is ready." if before else ""


def order_ahead(brief: Brief) -> float:
    """Days before the first pour by which what a batch lacks is ordered."""
    return max(ORDER_DAYS, brief.embeds_days)


class BenchDay(NamedTuple):
    """A day at the bench, so many days after the first, and what is poured on it, in words."""

    after: float
    message: str


def days_at_bench(recipe: Recipe) -> tuple[BenchDay, ...]:
    """The days of one build: those of the plan where nights are among its steps, else as many as the brief says."""
    build = build_of(recipe.design)
    if build.many > 1:
        named = [listed([n for n, on in build.of.items() if on == d]) for d in range(build.many)]
        words = (f"Pour, day {d + 1}{f': {names}' if names else ''}" for d, names in enumerate(named))
        return tuple(map(BenchDay, build.after, words))
    many = recipe.brief.build_days if recipe.brief else 1
    return tuple(BenchDay(d * NEXT_DAY, f"Pour, day {d + 1}" if many > 1 else "Pour") for d in range(many))


def order_by(recipe: Recipe, cured: float) -> float:
    """Days before the day a batch must be ready by which what it lacks is ordered; it takes so long to be `cured`."""
    return cured + days_at_bench(recipe)[-1].after + order_ahead(recipe.brief or Brief())


def count_back(
    recipe: Recipe,
    sheet: Sheet,
    own: RestLearned,
    days_left: float,
    short: Sequence[Text] = (),
    humidity: float = USUAL_HUMIDITY,
) -> Counted:
    """Deadlines of a recipe that must be ready in `days_left` days; `short` is what must be ordered first."""
    brief = recipe.brief
    bench = days_at_bench(recipe)
    build = bench[-1].after
    embeds = brief.embeds_days if brief else 0
    found, cure = typical(recipe, sheet, own, humidity)
    # The last day of a build begins the cure: days before it are added to all that comes before.
    last_pour, samples = cure[1], cure[0]
    out = []
    if short:
        what = say("Order: ", joined("; ", short))
        by, latest = (order_by(recipe, days) for days in (last_pour, samples))
        out.append(Deadline(what="order", message=what, by=by, latest=latest))
    if embeds:
        ahead = build + embeds
        out.append(Deadline(what="embeds", message="Make the embeds", by=last_pour + ahead, latest=samples + ahead))
    if any(d.carrier is not None for d in recipe.additives):
        ahead = build + DISPERSE_DAYS
        out.append(
            Deadline(what="disperse", message="Disperse the colourants", by=last_pour + ahead, latest=samples + ahead)
        )
    for day in bench:
        rest = build - day.after
        kind: Step = "build" if day.after else "pour"
        out.append(Deadline(what=kind, message=day.message, by=last_pour + rest, latest=samples + rest))
    for w in found:
        if w.tool in ("", own.tool) and _done(w.what, own) and not (w.what == "cut" and in_single_moulds(recipe)):
            words = {"cut": f"Cut with the {own.tool}", "bevel": "Bevel", "stamp": "Stamp"}[w.what]
            at = w.sure / 24
            out.append(Deadline(what=w.what, message=words, by=last_pour - at, latest=samples - at))
    out.append(Deadline(what="cured", message="Cured", by=0.0, latest=0.0))
    out.sort(key=lambda d: -d.by)
    first = out[0]
    soonest = (cure[0] + build, cure[1] + build)
    spare = days_left - first.by
    met, message = _verdict(days_left, first, soonest)
    return Counted(deadlines=tuple(out), met=met, message=message, spare=spare, soonest=soonest)


def _done(what: str, own: RestLearned) -> bool:
    """Bars are cut by all, bevelled and stamped by those who do."""
    return what == "cut" or {"bevel": "bevelled", "stamp": "stamped"}.get(what, "") in own.habits


def _verdict(
    days_left: float, first: Deadline, soonest: tuple[float, float]
) -> tuple[Literal["met", "tight", "late"], Text]:
    if days_left >= first.by:
        days = days_left - first.by
        return "met", say(f"It can be met: {_days(days)} to spare before the first step.")
    if days_left >= soonest[1]:
        return "tight", say("It can be met if it is begun at once: ", first.message.small(), ".")
    if days_left >= soonest[0]:
        message = (
            f"Tight: poured today it is cured in {soonest[0]:.0f} to {soonest[1]:.0f} days. The cure gives first: "
        )
        return "tight", say(message, "less water, thinner bars and a dry, airy shelf shorten it.")
    return "late", say(
        f"It cannot be met: poured today it is cured in {soonest[0]:.0f} to {soonest[1]:.0f} days, "
        f"{_days(soonest[0] - days_left)} too late at best. Move the day, or sell it later."
    )


def _days(days: float) -> str:
    return "a day" if round(days) == 1 else f"{days:.0f} days"
