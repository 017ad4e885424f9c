"""Sentences as older programs kept them: strings with marks in them, lifted into words and values."""

import re
from typing import Annotated, Any

from pydantic import BeforeValidator

from .text import SPACE, Figure, Part, Quantity, Reading, Text, say

MARK = "\u2060"  # stood before a decimal point that the reader's region writes, and before a quantity's space and unit
VALUE = re.compile(rf"(-?\d+(?:{MARK}\.\d+)?)(?:({MARK}*){SPACE}(kg|g|mL|mm|cm|°C|oz)({MARK}?))?")


def _value(found: re.Match[str]) -> Part:
    number, mark, both = found[1], found[2], found[4]
    unit: Any = found[3]
    bare = number.replace(MARK, "")
    places = len(bare.partition(".")[2])
    if unit is None:
        return Figure(float(bare), f".{places}f") if MARK in number else found[0]
    if not mark:
        return Reading(float(bare), places, unit) if unit in ("g", "oz") else found[0]
    difference = len(mark) > 1 and unit == "°C"
    return Quantity(float(bare), "by °C" if difference else unit, f".{places}f", bool(both))


def sentence(text: str) -> Text:
    """A sentence with marks, as words and values.

    >>> sentence(f"Near 85{MARK}{SPACE}°C of 12{MARK}.4{SPACE}g").parts[1:]
    (Quantity(value=85.0, unit='°C', spec='.0f', both=False), ' of ', Reading(value=12.4, places=1, unit='g'))
    """
    parts: list[Part] = []
    at = 0
    for found in VALUE.finditer(text):
        parts += [text[at : found.start()], _value(found)]
        at = found.end()
    return say(*(x.replace(MARK, "") if isinstance(x, str) else x for x in [*parts, text[at:]]))


def lifted(value: Any) -> Any:
    """Plain JSON values, to any depth, with every marked string in them lifted."""
    if isinstance(value, str):
        return sentence(value).plain() if MARK in value else value
    if isinstance(value, dict):
        return {k: lifted(v) for k, v in value.items()}
    return [lifted(v) for v in value] if isinstance(value, list) else value


LONGEST = 400  # letters of a sentence that is kept with a tap


def _kept(value: object) -> Text:
    text = sentence(value) if isinstance(value, str) and MARK in value else Text.read(value)
    if len(text) > LONGEST:
        raise ValueError(f"String should have at most {LONGEST} characters")
    return text


KeptText = Annotated[Text, BeforeValidator(_kept)]  # a sentence as this program kept it, or an older one
