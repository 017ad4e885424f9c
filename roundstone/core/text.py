"""Sentences as values: words, and figures with their units, which nobody has written out yet.

The job reckons and words in metric. A `Text` keeps each quantity, day and scale's reading as a value between its words,
so that the edge can write it as the reader does (`roundstone.told`). Words somebody typed are words and nothing else.

>>> str(say("Near ", C(85, ".0f"), ", within ", WARMER_BY(5), "."))
'Near 85\\xa0°C, within 5\\xa0°C.'
"""

from collections.abc import Callable, Iterable
from typing import Any, ClassVar, Literal, NamedTuple, Union, get_args

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import core_schema

SPACE = "\u00a0"  # between a figure and its unit
Unit = Literal["g", "kg", "mL", "mm", "cm", "°C", "by °C"]
Weight = Literal["g", "oz", "lb"]
OUNCES = 16  # in a pound


class Figure(NamedTuple):
    """A number without a unit; `spec` is how exactly it is told."""

    value: float
    spec: str = "g"

    def __str__(self) -> str:
        return format(self.value, self.spec)


class Quantity(NamedTuple):
    """A number of something, always metric here. With `both` it is told in metric too: a slip there is dangerous."""

    value: float
    unit: Unit
    spec: str = "g"
    both: bool = False

    def __str__(self) -> str:
        return f"{self.value:{self.spec}}{SPACE}{self.unit.removeprefix('by ')}"


class Reading(NamedTuple):
    """What a scale shows, in the scale's own unit and with its own decimals, whoever reads it. Of a pound or more in
    pounds and ounces, where the scale shows those.

    >>> [str(Reading(*of)) for of in ((20.25, 2, "oz"), (35.25, 2, "lb"), (31.999, 2, "lb"))]
    ['20.25\\xa0oz', '2\\xa0lb 3.25\\xa0oz', '2\\xa0lb 0.00\\xa0oz']
    """

    value: float
    places: int
    unit: Weight

    def told(self, number: Callable[[float, str], str]) -> str:
        """Written out, each of its figures by `number`."""
        rounded, spec = round(self.value, self.places), f".{self.places}f"
        if self.unit != "lb" or rounded < OUNCES:
            return f"{number(rounded, spec)}{SPACE}{'g' if self.unit == 'g' else 'oz'}"
        pounds, rest = divmod(rounded, OUNCES)
        return f"{pounds:.0f}{SPACE}lb {number(rest, spec)}{SPACE}oz"

    def __str__(self) -> str:
        return self.told(format)


MONTHS = (
    *("January", "February", "March", "April", "May", "June"),
    *("July", "August", "September", "October", "November", "December"),
)


class Day(NamedTuple):
    """A day, YYYY-MM-DD; `short` with its month in three letters."""

    iso: str
    short: bool = False

    def __str__(self) -> str:
        year, month, number = self.iso.split("-")
        return f"{int(number)} {MONTHS[int(month) - 1][: 3 if self.short else None]} {year}"


Value = Figure | Quantity | Reading | Day
Part = Union[str, int, Value, "Text"]
KINDS: dict[str, Callable[..., Value]] = {"figure": Figure, "quantity": Quantity, "reading": Reading, "day": Day}


def figure(value: float, spec: str = "g") -> Figure:
    return Figure(value, spec)


class Measured(NamedTuple):
    """A unit that makes quantities: `G(12.5, ".1f")`."""

    unit: Unit

    def __call__(self, value: float, spec: str = "g", both: bool = False) -> Quantity:
        return Quantity(value, self.unit, spec, both)


G, KG, ML, MM, CM, C = (Measured(unit) for unit in ("g", "kg", "mL", "mm", "cm", "°C"))
WARMER_BY = Measured("by °C")  # a difference of temperatures


def day(iso: str, short: bool = False) -> Day:
    """The day of a moment in ISO 8601: what stands behind its first ten letters is left out."""
    return Day(iso[:10], short)


class Text:
    """A sentence, or some words of one. Compared, sorted and searched as it reads in metric.

    It takes no part in an f-string, where its figures would be written out too early (the type check refuses that):
    `say` and `joined` put texts together.
    """

    __slots__ = ("_plain", "parts")
    parts: tuple[str | Value, ...]
    NONE: ClassVar["Text"]

    def __init__(self, *parts: Part) -> None:
        out: list[str | Value] = []
        for part in parts:
            for x in part.parts if isinstance(part, Text) else (part,):
                word = str(x) if isinstance(x, int) else x
                if isinstance(word, str) and out and isinstance(out[-1], str):
                    out[-1] += word
                elif word != "":
                    out.append(word)
        self.parts = tuple(out)
        self._plain: str | None = None

    def __str__(self) -> str:
        if self._plain is None:
            self._plain = "".join(map(str, self.parts))
        return self._plain

    def __repr__(self) -> str:
        return "say" + repr(self.parts)

    def __eq__(self, other: object) -> bool:
        return str(self) == str(other) if isinstance(other, Text | str) else NotImplemented

    def __hash__(self) -> int:
        return hash(str(self))

    def __lt__(self, other: "Text | str") -> bool:
        return str(self) < str(other)

    def __bool__(self) -> bool:
        return bool(self.parts)

    def __len__(self) -> int:
        return len(str(self))

    def __contains__(self, words: object) -> bool:
        return str(words) in str(self)

    def __add__(self, other: Part) -> "Text":
        return Text(self, other)

    def __radd__(self, other: str) -> "Text":
        return Text(other, self)

    def startswith(self, words: str | tuple[str, ...]) -> bool:
        return str(self).startswith(words)

    def endswith(self, words: str | tuple[str, ...]) -> bool:
        return str(self).endswith(words)

    def capital(self) -> "Text":
        """With a large first letter."""
        first = self.parts[0] if self.parts else ""
        return Text(first[:1].upper() + first[1:], *self.parts[1:]) if isinstance(first, str) else self

    def small(self) -> "Text":
        """With a small first letter."""
        first = self.parts[0] if self.parts else ""
        return Text(first[:1].lower() + first[1:], *self.parts[1:]) if isinstance(first, str) else self

    def strip(self) -> "Text":
        """Without spaces at its ends."""
        parts = list(self.parts)
        if parts and isinstance(parts[0], str):
            parts[0] = parts[0].lstrip()
        if parts and isinstance(parts[-1], str):
            parts[-1] = parts[-1].rstrip()
        return Text(*parts)

    def renamed(self, was: str, now: str) -> "Text":
        """With other words in place of some of its own."""
        return Text(*(x.replace(was, now) if isinstance(x, str) else x for x in self.parts))

    def each(self, change: Callable[[Value], Part]) -> "Text":
        """The same with every value in it changed."""
        return Text(*(x if isinstance(x, str) else change(x) for x in self.parts))

    @classmethod
    def read(cls, value: Any) -> "Text":
        """A text, plain words, or a text as `plain` gave it; ValueError for anything else."""
        if isinstance(value, Text):
            return value
        if isinstance(value, str):
            return Text(value)
        if isinstance(value, get_args(Value)):
            return Text(value)
        if not isinstance(value, list | tuple):
            raise ValueError("Input should be a valid string")
        try:
            return Text(*(x if isinstance(x, str) else KINDS[x["kind"]](*x["of"]) for x in value))
        except (KeyError, TypeError) as error:
            raise ValueError("Input should be a valid string") from error

    def plain(self) -> str | list[Any]:
        """As it is kept: words, or words and values in a list.

        >>> say("Near ", C(85)).plain()
        ['Near ', {'kind': 'quantity', 'of': [85, '°C', 'g', False]}]
        """
        if all(isinstance(x, str) for x in self.parts):
            return str(self)
        return [x if isinstance(x, str) else {"kind": type(x).__name__.lower(), "of": list(x)} for x in self.parts]

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: GetCoreSchemaHandler) -> core_schema.CoreSchema:
        def written(text: "Text", info: core_schema.SerializationInfo) -> Any:
            return info.context(text) if callable(info.context) else text.plain()

        return core_schema.no_info_plain_validator_function(
            cls.read, serialization=core_schema.plain_serializer_function_ser_schema(written, info_arg=True)
        )

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: core_schema.CoreSchema, handler: GetJsonSchemaHandler) -> Any:
        return {"type": "string"}


Text.NONE = Text()


def say(*parts: Part) -> Text:
    """Words and values put together as they come."""
    return Text(*parts)


def joined(between: str, texts: Iterable[Part]) -> Text:
    """Texts one after another, with `between` between them.

    >>> str(joined(", ", [G(5), "a pinch"]))
    '5\\xa0g, a pinch'
    """
    parts: list[Part] = []
    for text in texts:
        parts += [between, text] if parts else [text]
    return Text(*parts)


def listing(texts: Iterable[Part], most: int = 3) -> Text:
    """Texts as one says them: "A and B"; of many the first, and how many more."""
    every = list(texts)
    if len(every) > most:
        return say(joined(", ", every[: most - 1]), f" and {len(every) - most + 1} more")
    return joined(" and ", [*([joined(", ", every[:-1])] if every[:-1] else []), *every[-1:]])
