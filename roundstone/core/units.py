"""The units a maker reads, and what they come to in metric."""

from typing import Literal

from .text import Weight
from .values import Value

# Exact by definition: NIST Special Publication 811, appendix B.
OUNCE, POUND, INCH_MM, FLUID_OUNCE = 28.349523125, 453.59237, 25.4, 29.5735295625


class Units(Value):
    """The units a maker reads. Weights in pounds are told in pounds and ounces."""

    weight: Weight = "g"
    warmth: Literal["C", "F"] = "C"
    length: Literal["cm", "in"] = "cm"
    volume: Literal["mL", "fl oz"] = "mL"


def fahrenheit(celsius: float) -> float:
    """Degrees Fahrenheit: exact by definition."""
    return celsius * 9 / 5 + 32
