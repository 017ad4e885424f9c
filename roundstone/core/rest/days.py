"""A calendar of batches: what is planned, poured, at rest and ready by the day, and what is scarce on it."""

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Literal

from ..recipe import ByMoulds, Recipe
from ..recipe.recipe import Mould
from ..text import Text, day, say
from ..values import Minutes, Name, Value, listed
from .brief import DISPERSE_DAYS, Typical, days_at_bench
from .learned import RestLearned

NEAR = 3  # days about a planned one in which a pour counts as that one [chosen]
LONG_DAY = 8 * 60.0  # minutes of work on one day, beyond which it is told [chosen]
What = Literal["pour", "build", "poured", "embeds", "disperse", "touch", "cut", "cured", "ready", "sale"]
ORDER: tuple[What, ...] = ("sale", "ready", "pour", "build", "poured", "embeds", "disperse", "touch", "cut", "cured")


class Entry(Value):
    """Something on a day. A pour still to come is the `nth` planned of its recipe and can be moved; `missed` was
    planned and not poured. What is reckoned from a plan is not `firm`."""

    what: What
    recipe: Name
    message: Text
    recipe_id: str = ""
    pour: str = ""
    nth: int | None = None
    missed: bool = False
    firm: bool = False
    minutes: Minutes = 0.0


class Day(Value):
    """A day (ISO), what is on it, the minutes of work its pours take, and what there is too little of."""

    day: str
    entries: tuple[Entry, ...] = ()
    minutes: Minutes = 0.0
    scarce: tuple[Text, ...] = ()


class Held(Value):
    """A mould that holds a batch from one day to another, and one that wants the oven on the first."""

    recipe: Name
    moulds: tuple[Mould, ...]
    since: date
    until: date
    oven: bool
    planned: bool


def days_before(day: date, days: float) -> date:
    """The day that lies so many days before one; parts of a day are rounded."""
    return day - timedelta(days=round(days))


def a_day(iso: str) -> date | None:
    """A day as a file names it; None where there is no such day."""
    try:
        return date.fromisoformat(iso)
    except ValueError:
        return None


def still_planned(days: Sequence[str], poured: Sequence[date]) -> list[tuple[int, date]]:
    """Of the planned days (ISO), by their place, those that no pour came near; each pour is of one of them.

    >>> still_planned(("2031-05-03", "2031-05-10"), (date(2031, 5, 4),))
    [(1, datetime.date(2031, 5, 10))]
    """
    waiting = [(i, on) for i, d in enumerate(days) if (on := a_day(d)) is not None]
    for p in sorted(poured):
        near = min(waiting, key=lambda w: (abs((w[1] - p).days), w[1]), default=None)
        if near is not None and abs((near[1] - p).days) <= NEAR:
            waiting.remove(near)
    return waiting


def of_plan(
    recipe: Recipe,
    recipe_id: str,
    takes: Typical,
    own: RestLearned,
    at: tuple[int, date],
    minutes: Minutes,
) -> tuple[list[tuple[date, Entry]], Held]:
    """What a pour planned as the nth on a day, that sets and cures as it `takes`, brings with it, and the mould it
    holds."""
    nth, on = at
    cut = next((w.sure for w in takes.windows if w.what == "cut" and w.tool == own.tool), 24.0) / 24
    brief = recipe.brief
    name = recipe.name

    def entry(what: What, message: Text, **more: object) -> Entry:
        return Entry.model_validate({"what": what, "recipe": name, "message": message, "recipe_id": recipe_id, **more})

    more = days_at_bench(recipe)[1:]
    each, end = minutes / (1 + len(more)), on + timedelta(days=more[-1].after if more else 0)
    found = [(on, entry("pour", say("Day 1 of" if more else "Pour"), nth=nth, firm=True, minutes=each))]
    found += [(on + timedelta(days=d.after), entry("build", say(d.message), minutes=each)) for d in more]
    if any(d.carrier is not None for d in recipe.additives):
        found.append((on - timedelta(days=DISPERSE_DAYS), entry("disperse", say("Disperse the colourants"))))
    if brief is not None and brief.embeds_days:
        found.append((on - timedelta(days=brief.embeds_days), entry("embeds", say("Make the embeds"))))
    found.append((end + timedelta(days=round(cut)), entry("cut", say(f"Cut with the {own.tool}"))))
    low, high = (end + timedelta(days=round(c)) for c in takes.cured)
    found.append((high, entry("cured", say("Cured, from ", day(low.isoformat(), short=True), " at best"))))
    held = held_by(recipe, on, end + timedelta(days=max(round(cut), 1)), True)
    return found, held


def of_build(recipe: Recipe, pour: str, on: date, today: date) -> list[tuple[date, Entry]]:
    """The later days of a build whose pour was begun on a day and has not ended; what went by is due today."""
    return [
        (
            max(on + timedelta(days=d.after), today),
            Entry(what="build", recipe=recipe.name, message=d.message, pour=pour, firm=True),
        )
        for d in days_at_bench(recipe)[1:]
    ]


def held_by(recipe: Recipe, since: date, until: date, planned: bool) -> Held:
    """The moulds a batch holds between two days."""
    moulds = recipe.size.moulds if isinstance(recipe.size, ByMoulds) else ()
    oven = recipe.design.wrap == "oven"
    return Held(recipe=recipe.name, moulds=moulds, since=since, until=until, oven=oven, planned=planned)


def _kind(mould: Mould) -> tuple[object, ...]:
    """What makes two moulds the same: all but how full they are, how they are cut, and how many."""
    return tuple(sorted(mould.model_dump(include={"shape", "length", "width", "diameter", "millilitres"}).items()))


def scarce(on: date, held: Sequence[Held], minutes: Minutes, oven_words: str = "the oven") -> tuple[Text, ...]:
    """What there is too little of on a day: a mould that another batch holds, the oven, hands."""
    begun = [h for h in held if h.planned and h.since == on]
    out: list[Text] = []
    for i, h in enumerate(begun):
        others = [x for x in held if x is not h and x not in begun[:i] and x.since <= on < x.until]
        kinds = {_kind(m) for m in h.moulds}
        same = [x for x in others if kinds & {_kind(m) for m in x.moulds}]
        if same:
            last = max(x.until for x in same)
            names = listed(list(dict.fromkeys(x.recipe for x in same)))
            out.append(
                say(
                    f"{h.recipe} wants a mould like the one of {names}, in use until ",
                    day(last.isoformat(), short=True),
                )
            )
    baked = [h.recipe for h in held if h.oven and h.since == on]
    if len(baked) > 1:
        out.append(say(f"{listed(list(dict.fromkeys(baked)))} want {oven_words} on one day"))
    if minutes > LONG_DAY:
        out.append(say(f"About {minutes / 60:.0f} hours of work"))
    return tuple(out)


def days_of(first: date, many: int, entries: Sequence[tuple[date, Entry]], held: Sequence[Held]) -> tuple[Day, ...]:
    """So many days in a row, with what is on each."""
    by: dict[date, list[Entry]] = {}
    for on, entry in entries:
        by.setdefault(on, []).append(entry)
    out = []
    for on in (first + timedelta(days=i) for i in range(many)):
        of = sorted(by.get(on, ()), key=lambda e: (ORDER.index(e.what), e.recipe.casefold()))
        minutes = sum(e.minutes for e in of)
        out.append(Day(day=on.isoformat(), entries=tuple(of), minutes=minutes, scarce=scarce(on, held, minutes)))
    return tuple(out)
