"""What stands on bars that are given away or sold: a batch's number by the maker's pattern, and a label's contents."""

import re
from collections.abc import Collection
from math import floor
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..recipe import Recipe
from ..rest import RestNow
from ..sheet import Label
from ..text import G, Text, Weight, say
from ..units import OUNCE
from ..values import Fault, Grams, Minutes, RuleError, Value

TOKEN = re.compile(r"\{(year|yy|month|day|n+)\}")
LONGEST_NUMBER = 30  # letters that a bar has room for [chosen]
Convention = Literal["went_in", "became"]


class Selling(Value):
    """What a workshop sets once for what it sells: the pattern of batch numbers (empty: batches have none), what of the
    maker stands on a label, and the months a bar is best within (0: nothing is said). Tokens of the pattern are
    {year}, {yy}, {month}, {day} and {n}, the batch's place in its year, with as many n as it has figures. In the
    maker's money `packaging` is what a bar's costs and `hour` an hour of work; `minutes_beside` is the work of a batch
    beside its pour: weighing, cutting, wrapping."""

    pattern: Annotated[str, StringConstraints(strip_whitespace=True)] = Field(default="", max_length=60)
    maker: str = Field(default="", max_length=400)
    best_months: int = Field(default=0, ge=0, le=120)
    packaging: float = Field(default=0.0, ge=0, le=1_000_000)
    hour: float = Field(default=0.0, ge=0, le=1_000_000)
    minutes_beside: Minutes = Field(default=0.0, ge=0, le=10_000)


def check_pattern(pattern: str) -> None:
    """RuleError where a pattern cannot number batches."""
    if not pattern:
        return
    left = TOKEN.sub("", pattern)
    if "{" in left or "}" in left:
        message = "Only {year}, {yy}, {month}, {day} and {n} are filled in."
        raise RuleError(Fault(pointer="/pattern", message=message))
    if not re.search(r"\{n+\}", pattern):
        raise RuleError(Fault(pointer="/pattern", message="Put {n} in it, so that no two batches have one number."))
    if len(numbered(pattern, (2026, 12, 31), 9999)) > LONGEST_NUMBER:
        message = f"A number has at most {LONGEST_NUMBER} letters and figures."
        raise RuleError(Fault(pointer="/pattern", message=message))


def numbered(pattern: str, day: tuple[int, int, int], n: int) -> str:
    """The number of the n-th batch of its year, begun on that day (year, month, day).

    >>> numbered("RS-{yy}{month}-{nn}", (2031, 5, 7), 4)
    'RS-3105-04'
    """
    year, month, of_month = day
    words = {"year": f"{year:04d}", "yy": f"{year % 100:02d}", "month": f"{month:02d}", "day": f"{of_month:02d}"}
    return TOKEN.sub(lambda m: words.get(m[1]) or f"{n:0{len(m[1])}d}", pattern).strip()


def next_number(pattern: str, day: tuple[int, int, int], before: int, taken: Collection[str]) -> str:
    """The number of a batch with so many of its year before it; none that another batch has."""
    n = before + 1
    while (number := numbered(pattern, day, n)) in taken:
        n += 1
    return number


class BarLabel(Value):
    """A label of a bar: everything on it in words, `net` empty where a bar's weight is not known."""

    name: str
    ingredients: str
    allergens: str
    net: Text
    number: str
    best_before: Text
    maker: str


def bar_label(
    recipe: Recipe,
    made: Label,
    convention: Convention,
    rest: RestNow | None,
    number: str,
    best: Text,
    maker: str,
    unit: Weight = "g",
) -> BarLabel:
    """A draft of what stands on each bar. Its weight is what nine in ten of its slowest kind weigh at least once they
    are cured, rounded down to a gram, or to a tenth of an ounce where those are read: a bar must not weigh less than it
    says."""
    parts = made.went_in if convention == "went_in" else made.became
    grams = [_least(rest, i) for i in range(len(rest.bars))] if rest is not None else []
    known = [g for g in grams if g is not None]
    return BarLabel(
        name=recipe.name,
        ingredients=", ".join(parts),
        allergens=", ".join(made.allergens),
        net=net_weight(min(known), unit) if known and len(known) == len(grams) else Text.NONE,
        number=number,
        best_before=best,
        maker=maker,
    )


def net_weight(least: Grams, unit: Weight) -> Text:
    """What a bar weighs at least, in words: whole grams, or tenths of an ounce where those are read."""
    step = 1.0 if unit == "g" else OUNCE / 10
    return say(G(step * floor(least / step)))


def _least(rest: RestNow, mould: int) -> Grams | None:
    kind = rest.bars[mould]
    wet = kind.curve.first or kind.grams
    return None if wet is None else wet * (1 - kind.curve.loss.high)
