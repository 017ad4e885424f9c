"""Quantities in sentences: the job reckons and words in metric, and at the edge they are told in the maker's units.

A sentence marks its quantities: `f"{20.5:g}{C}"`. `in_units` turns what is so marked, and nothing else, into the
maker's own, so that a note somebody typed is never rewritten. The mark is a word joiner (U+2060) before a no-break
space; twice for a difference of temperatures, and once more behind the unit where both units are told because a slip
is dangerous. A figure that is no such quantity marks its decimal point: `f"{figure(2.5)} times"`; a day is marked as a
whole. At the edge they become what the reader's region writes.
"""

import re
from typing import Any, Literal

from .values import Value

MARK, SPACE = "\u2060", "\u00a0"
POINT = f"{MARK}."  # before decimals
G, KG, ML, MM, CM = (f"{MARK}{SPACE}{unit}" for unit in ("g", "kg", "mL", "mm", "cm"))
C = f"{MARK}{SPACE}°C"
WARMER_BY = f"{MARK}{MARK}{SPACE}°C"  # a difference
C_BOTH = C + MARK

# Exact by definition: NIST Special Publication 811, appendix B.
OUNCE, POUND, INCH_MM, FLUID_OUNCE = 28.349523125, 453.59237, 25.4, 29.5735295625
OUNCES = 16  # in a pound
MONTHS = (
    *("January", "February", "March", "April", "May", "June"),
    *("July", "August", "September", "October", "November", "December"),
)

Weight = Literal["g", "oz", "lb"]


class Units(Value):
    """The units a maker reads. Weights in pounds are told in pounds and ounces."""

    weight: Weight = "g"
    warmth: Literal["C", "F"] = "C"
    length: Literal["cm", "in"] = "cm"
    volume: Literal["mL", "fl oz"] = "mL"


class Reader(Units):
    """Who reads it: their units, the sign their region writes before decimals, and the order of its days and months."""

    sign: Literal[".", ","] = "."
    dates: Literal["dmy", "mdy"] = "dmy"


METRIC = Reader()
# Each begins with the mark: an answer is mostly figures that nobody reads, and is searched for marks alone.
_MARKED = re.compile(rf"{MARK}+{SPACE}(g|kg|mL|mm|cm|°C)({MARK}?)")
_POINTS = re.compile(rf"{MARK}\.(?=\d)")
_DAYS = re.compile(rf"({MARK}+)(\d{{4}})-(\d\d)-(\d\d)(?!\d)")
_BEFORE, LONGEST = re.compile(rf"-?\d+(?:{MARK}?\.\d+)?$"), 24  # the figure before a mark, and its letters


def figure(value: float, spec: str = "g") -> str:
    """A figure as it stands in a sentence, formatted by `spec`, its decimal point marked.

    >>> in_units(f"{figure(2.5)} times, pH {figure(9.25, '.1f')}", Reader(sign=","))
    '2,5 times, pH 9,2'
    """
    return pointed(format(value, spec))


def day(iso: str, short: bool = False) -> str:
    """A day (YYYY-MM-DD, whatever follows it) as it stands in a sentence.

    >>> in_units(day("2031-05-01")), in_units(day("2031-05-01T09:30", short=True), Reader(dates="mdy"))
    ('1 May 2031', 'May 1, 2031')
    """
    return MARK * (2 if short else 1) + iso[:10]


def pointed(text: str) -> str:
    """A text with its decimal points marked."""
    return re.sub(r"(?<=\d)\.(?=\d)", POINT, text)


def marked(text: str) -> str:
    """A fact's words with their quantities marked, as they stand in a table: "below 43 °C".

    >>> in_units(marked("stir it in below 40 °C"), Reader(warmth="F"))
    'stir it in below 104\\xa0°F'
    """
    return re.sub(r"(?<=\d) (g|mL|mm|cm|°C)(?![\w/])(?! per\b)", rf"{MARK}{SPACE}\1", pointed(text))


def fahrenheit(celsius: float) -> float:
    """Degrees Fahrenheit: exact by definition."""
    return celsius * 9 / 5 + 32


def ounces(value: float, weight: Weight, places: int) -> str:
    """Ounces as they are told: of a pound or more in pounds and ounces, where those are asked for.

    >>> [in_units(ounces(*of, 2)) for of in ((20.25, "oz"), (35.25, "lb"), (31.999, "lb"))]
    ['20.25\\xa0oz', '2\\xa0lb 3.25\\xa0oz', '2\\xa0lb 0.00\\xa0oz']
    """
    rounded = round(value, places)
    if weight == "oz" or rounded < OUNCES:
        return f"{figure(rounded, f'.{places}f')}{SPACE}oz"
    whole, rest = divmod(rounded, OUNCES)
    return f"{whole:.0f}{SPACE}lb {figure(rest, f'.{places}f')}{SPACE}oz"


def unmarked(value: Any) -> Any:
    """What somebody typed or sent, without any mark: marks are the program's own. Plain JSON values, to any depth.

    >>> unmarked({"name": f"Ash {MARK}2026-13-45"})
    {'name': 'Ash 2026-13-45'}
    """
    if isinstance(value, str):
        return value.replace(MARK, "")
    if isinstance(value, dict):
        return {unmarked(k): unmarked(v) for k, v in value.items()}
    return [unmarked(v) for v in value] if isinstance(value, list) else value


def in_units(text: str, reader: Reader = METRIC) -> str:
    """The text with its marked figures in the reader's units and decimal sign, and no mark left.

    >>> in_units(f"Near {85:.0f}{C_BOTH}, within {5:g}{WARMER_BY}", Reader(warmth="F"))
    'Near 185\\xa0°F (85\\xa0°C), within 9\\xa0°F'
    >>> in_units(f"A bar of {130:.0f}{G}, {25.4:g}{MM} thick", Reader(weight="oz", length="in"))
    'A bar of 4.59\\xa0oz, 1\\xa0in thick'
    >>> in_units(f"Near {85:.0f}{C_BOTH}"), in_units("my 5 g, 40 °C", Reader(weight="oz", warmth="F"))
    ('Near 85\\xa0°C', 'my 5 g, 40 °C')
    """
    if MARK not in text:
        return text
    out: list[str] = []
    at = 0
    for found in _MARKED.finditer(text):
        before = _BEFORE.search(text[max(at, found.start() - LONGEST) : found.start()])
        if before is not None:
            out += text[at : found.start() - len(before[0])], _quantity(before[0].replace(MARK, ""), found, reader)
            at = found.end()
    days = _DAYS.sub(lambda found: _day(found, reader), "".join([*out, text[at:]]))
    return _POINTS.sub(reader.sign, days).replace(MARK, "")


def _day(found: re.Match[str], reader: Reader) -> str:
    marks, year, month, number = found.groups()
    if not 1 <= int(month) <= len(MONTHS):
        return found[0].replace(MARK, "")  # no day: left as the text it is
    name = MONTHS[int(month) - 1][: 3 if len(marks) > 1 else None]
    return f"{name} {int(number)}, {year}" if reader.dates == "mdy" else f"{int(number)} {name} {year}"


def _quantity(figure: str, found: re.Match[str], units: Units) -> str:
    """A figure in front of a mark, in these units."""
    (unit, both), value = found.groups(), float(figure)
    words: str | None = None
    if unit == "°C" and units.warmth == "F":
        places = 1 if "." in figure else 0
        degrees = value * 9 / 5 if found[0][1] == MARK else fahrenheit(value)
        words = f"{_plain(degrees, places)}{SPACE}°F"
    elif unit in ("g", "kg") and units.weight != "g":
        many = value * (1000 if unit == "kg" else 1) / OUNCE
        words = _trimmed(ounces(many, units.weight, _places(many)).replace(MARK, ""))
    elif unit in ("mm", "cm") and units.length == "in":
        inches = value * (10 if unit == "cm" else 1) / INCH_MM
        words = f"{_plain(inches, 2 if inches < 20 else 1)}{SPACE}in"
    elif unit == "mL" and units.volume == "fl oz":
        many = value / FLUID_OUNCE
        words = f"{_plain(many, _places(many))}{SPACE}fl{SPACE}oz"
    metric = f"{figure}{SPACE}{unit}"
    return pointed(metric if words is None else f"{words} ({metric})" if both else words)


def _places(value: float) -> int:
    return 3 if abs(value) < 0.1 else 2 if abs(value) < 10 else 1


def _plain(value: float, places: int) -> str:
    """Rounded, with no zeros behind the point and no minus before nothing."""
    text = f"{value:.{places}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return "0" if text in ("-0", "") else text


def _trimmed(told: str) -> str:
    """The same with no zeros behind a point, and without ounces that are none."""
    return re.sub(rf"(\.\d*?)0+(?={SPACE})", r"\1", told).replace(f".{SPACE}", SPACE).replace(f" 0{SPACE}oz", "")
