"""The units a maker reads, and what they come to in metric."""

from typing import Annotated, Literal

from pydantic import StringConstraints

from .text import Weight
from .values import Value

# Exact by definition: NIST Special Publication 811, appendix B.
OUNCE, POUND, INCH_MM, FLUID_OUNCE = 28.349523125, 453.59237, 25.4, 29.5735295625


class Units(Value):
    """The units a maker reads. Weights in pounds are told in pounds and ounces. `money` is what prices are in, an ISO
    4217 code; "" where it was never said, and each browser's region has its own."""

    weight: Weight = "g"
    warmth: Literal["C", "F"] = "C"
    length: Literal["cm", "in"] = "cm"
    volume: Literal["mL", "fl oz"] = "mL"
    money: Annotated[str, StringConstraints(pattern=r"^([A-Z]{3})?$")] = ""


def fahrenheit(celsius: float) -> float:
    """Degrees Fahrenheit: exact by definition."""
    return celsius * 9 / 5 + 32
