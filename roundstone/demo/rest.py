"""How Slatewick's batches rested: covered, cut, weighed and judged, as far as each has got by today."""

from collections.abc import Iterator
from uuid import UUID, uuid5

from ..core.pour import EVENT, Event, NothingAmiss, replay
from ..core.recipe import Recipe
from ..core.rest import RestLearned, rest_now
from ..core.sheet import Sheet

REST = UUID("5107e000-0000-4000-8000-000700000000")
DAY = 1440.0
LOSS, WEEKS = 0.128, (0.0, 7.0, 14.0, 28.0)  # of a bar's weight in the end, and when it was weighed
LATE = 1.15  # times as long as reckoned that this maker's blocks take
ANSWERS = {"definition": "yes", "colour": "partly", "rivers": "yes", "ricing": "yes", "scent": "yes", "sell": "yes"}
NOTES = {
    5: ("Whisk it in cold, never the stick", "fragrance:iris-root"),
    9: ("Tap the mould after every layer", "recipe"),
    14: ("Pour the dark side first", "technique:pot-swirl"),
    20: ("Half the clay: it grips", "fragrance:fig-vetiver"),
}


def rest_events(pour: str, number: int, recipe: Recipe, sheet: Sheet, events: list[Event], age: float) -> list[Event]:
    """What was tapped after pour `number`, whose clock shows `age` minutes today."""
    state = replay(events, recipe)
    if state.ended is None:
        return []
    told = sorted(_story(number, recipe, sheet, events, state.ended), key=lambda x: x[0])
    out = []
    for n, (minute, fields) in enumerate(told):
        if minute < age - 30:
            event = {"id": uuid5(REST, f"{pour} {n}"), "minute": round(minute, 1), "sure": True, **fields}
            out.append(EVENT.validate_python(event))
    return out


def _story(
    number: int, recipe: Recipe, sheet: Sheet, events: list[Event], ended: float
) -> Iterator[tuple[float, dict[str, object]]]:
    state = replay([*events, NothingAmiss(id=REST, minute=ended)], recipe)
    now = rest_now(recipe, sheet, state, ended + DAY, RestLearned())
    if now is None:
        return
    wrap = ("covered", "insulated", "open")[number % 3]
    yield ended + 4, {"kind": "wrap", "how": wrap}
    wire = next(w for w in now.windows if w.what == "cut" and w.tool == "wire")
    cut = ended + 60 * LATE * (wire.sure + (number % 4) * 2.0)
    yield cut - 90, {"kind": "unmould", "how": "stuck" if number % 7 == 3 else "clean"}
    felt = ("drags", "clean", "clean", "clean")[number % 4]
    yield cut, {"kind": "cut", "how": felt, "bars": sum(b.count for b in sheet.bars) or None}
    yield (
        cut + 1,
        {"kind": "gel", "how": {"insulated": "full", "covered": "ring" if number % 2 else "none"}.get(wrap, "none")},
    )
    yield cut + 2, {"kind": "ash", "how": "some" if number % 5 == 0 else "none"}
    first = next((b.grams for b in sheet.bars), 110.0)
    for days in WEEKS if number % 2 else WEEKS[:2]:
        left = 1 - LOSS * (1 - 2.718281828 ** -((days / 12.0) ** 0.8))
        yield cut + 5 + days * DAY, {"kind": "weigh", "bar": "1", "grams": round(first * left, 1)}
    for at, asks, days in (
        ("cut", ("definition", "colour", "rivers"), 0.01),
        ("week", ("colour", "scent", "ricing"), 7.2),
        ("cured", ("scent", "sell", "again"), 38.0),
    ):
        for ask in asks:
            message = ANSWERS.get(ask, "yes" if number % 4 else "no")
            yield cut + days * DAY + 8, {"kind": "answer", "at": at, "ask": ask, "says": message}
    for portion in recipe.design.portions:
        if portion.tint:
            yield cut + 9, {"kind": "swatch", "portion": portion.name, "at": "cut", "tint": portion.tint}
    if number in NOTES:
        message, about = NOTES[number]
        yield cut + 20, {"kind": "next", "says": message, "about": about}
    yield cut + 25, {"kind": "verdict", "came": ("drawn", "drawn", "different", "drawn", "drawn", "lost")[number % 6]}
