"""The one place where sentences are written out: figures, units and days as the reader's region writes them.

Babel writes numbers and days; what is English stays English.
"""

from datetime import date
from decimal import Decimal
from functools import lru_cache
from typing import Literal

from babel.dates import format_date
from babel.numbers import format_decimal

from .core.text import SPACE, Day, Figure, Quantity, Reading, Text
from .core.units import FLUID_OUNCE, INCH_MM, OUNCE, Units, fahrenheit

NUMBERS = {".": "en_GB", ",": "en_DE"}  # English, by the sign before decimals
DATES = {"dmy": ("en_GB", "d MMMM y", "d MMM y"), "mdy": ("en_US", "MMMM d, y", "MMM d, y")}
CENTIGRADE = ("°C", "by °C")


class Reader(Units):
    """Who reads it: their units, the sign their region writes before decimals, and the order of its days and months."""

    sign: Literal[".", ","] = "."
    dates: Literal["dmy", "mdy"] = "dmy"

    def __call__(self, text: Text) -> str:
        """A text written out for this reader.

        >>> from roundstone.core.text import C, G, MM, WARMER_BY, say
        >>> Reader(warmth="F")(say("Near ", C(85, both=True), ", within ", WARMER_BY(5)))
        'Near 185\\xa0°F (85\\xa0°C), within 9\\xa0°F'
        >>> Reader(weight="oz", length="in", sign=",")(say("A bar of ", G(130), ", ", MM(25.4), " thick"))
        'A bar of 4,59\\xa0oz, 1\\xa0in thick'
        """
        return "".join(x if isinstance(x, str) else self._value(x) for x in text.parts)

    def _value(self, value: Figure | Quantity | Reading | Day) -> str:
        match value:
            case Figure():
                return self._number(value.value, value.spec)
            case Reading():
                return value.told(self._number)
            case Day():
                return _day(value.iso, value.short, self.dates)
            case Quantity():
                metric = f"{self._number(value.value, value.spec)}{SPACE}{value.unit.removeprefix('by ')}"
                own = self._own(value)
                return metric if own is None else f"{own} ({metric})" if value.both else own

    def _number(self, value: float, spec: str) -> str:
        return _number(format(value, spec), self.sign)

    def _own(self, of: Quantity) -> str | None:
        """A quantity in the reader's unit, from what would be told of it in metric; None where that is metric."""
        metric = format(of.value, of.spec)
        value = float(metric)
        if of.unit in CENTIGRADE and self.warmth == "F":
            degrees = fahrenheit(value) if of.unit == "°C" else value * 9 / 5
            return self._short(degrees, 1 if "." in metric else 0, "°F")
        if of.unit in ("g", "kg") and self.weight != "g":
            many = value * (1000 if of.unit == "kg" else 1) / OUNCE
            return self._ounces(many, _places(many))
        if of.unit in ("mm", "cm") and self.length == "in":
            inches = value * (10 if of.unit == "cm" else 1) / INCH_MM
            return self._short(inches, 2 if inches < 20 else 1, "in")
        if of.unit == "mL" and self.volume == "fl oz":
            many = value / FLUID_OUNCE
            return self._short(many, _places(many), f"fl{SPACE}oz")
        return None

    def _ounces(self, many: float, places: int) -> str:
        pounds, rest = divmod(round(many, places), 16)
        if self.weight == "oz" or not pounds:
            return self._short(many, places, "oz")
        ounces = f" {self._short(rest, places, 'oz')}" if round(rest, places) else ""
        return f"{pounds:.0f}{SPACE}lb{ounces}"

    def _short(self, value: float, places: int, unit: str) -> str:
        """Rounded, with no zeros behind the point and no minus before nothing."""
        text = f"{value:.{places}f}"
        text = text.rstrip("0").rstrip(".") if "." in text else text
        return f"{_number('0' if text in ('-0', '') else text, self.sign)}{SPACE}{unit}"


METRIC = Reader()


def _places(value: float) -> int:
    return 3 if abs(value) < 0.1 else 2 if abs(value) < 10 else 1


@lru_cache(4096)
def _number(text: str, sign: str) -> str:
    """A number as Python wrote it, as the region does."""
    places = len(text.partition(".")[2])
    return format_decimal(Decimal(text), f"0.{'0' * places}" if places else "0", NUMBERS[sign])


@lru_cache(1024)
def _day(iso: str, short: bool, order: str) -> str:
    locale, whole, brief = DATES[order]
    return format_date(date.fromisoformat(iso), brief if short else whole, locale)
