"""Colours as the eye compares them: hex to OKLab and back, mixtures, and how soap changes a tint.

OKLab as published by B. Ottosson (2020); sRGB as in IEC 61966-2-1. How far a tint moves wet, cut and cured is chosen.
"""

from functools import lru_cache
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import StringConstraints

from ..values import Share, Value

Tint = Annotated[str, StringConstraints(pattern=r"^#[0-9a-f]{6}$")]
Array = NDArray[np.floating[Any]]
_TO_LMS = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)
ALIKE = 0.055  # OKLab distance below which two batters are taken for one another at the bench [C]
BARE: Tint = "#e6dcc3"  # cured soap without a colourant [C]
# For portions nobody gave a colour, in turn, far enough apart to be told wet [C].
PALETTE: tuple[Tint, ...] = (
    "#c99a5b", "#44596b", "#7c8b46", "#efe6d3", "#6f3a55", "#b85f3c",
    "#9aa7a0", "#2f2f33", "#d9a79a", "#5f8f8c", "#8a5a3c", "#a98fb5",
)  # fmt: skip
Age = Literal["wet", "cut", "cured"]
LIGHTER_WET, PALER_WET = 0.05, 0.80  # batter is lighter and paler than its soap [C]
LIGHTER_CUT = 0.015  # and freshly cut soap a little [C]
GEL_CHROMA, GEL_DARKER = 1.12, 0.02  # gel deepens colours [C]
BROWN = np.array([0.42, 0.045, 0.055])  # OKLab of what vanillin turns to [C]
VANILLIN_HALF, VANILLIN_POWER = 0.03, 1.5  # of vanillin in the fragrance at which the way to brown is half gone, and
# how steeply: half a percent barely tans, two are tan, five brown [common practice]
YOUNG_BROWN = {"wet": 0.0, "cut": 0.3, "cured": 1.0}  # of that browning at each age [C]


def linear(tint: Tint) -> Array:
    """Linear light (3) of a hex colour.

    >>> [round(float(x), 4) for x in linear("#ff8000")]
    [1.0, 0.2159, 0.0]
    """
    srgb = np.array([int(tint[i : i + 2], 16) for i in (1, 3, 5)]) / 255
    return np.where(srgb <= 0.04045, srgb / 12.92, ((srgb + 0.055) / 1.055) ** 2.4)


def oklab(tint: Tint) -> Array:
    """OKLab (3) of a hex colour.

    >>> [round(float(x), 3) + 0.0 for x in oklab("#ffffff")]
    [1.0, 0.0, 0.0]
    """
    return np.asarray(_TO_LAB @ np.cbrt(_TO_LMS @ linear(tint)))


def hexed(lab: Array) -> Tint:
    """The nearest hex colour of an OKLab value; what no screen can show is clipped."""
    light = np.linalg.solve(_TO_LMS, np.linalg.solve(_TO_LAB, lab) ** 3).clip(0.0, 1.0)
    srgb = np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)
    return "#" + "".join(f"{round(float(x) * 255):02x}" for x in srgb)


def mixed(one: Tint, other: Tint, part: Share) -> Tint:
    """Both mixed in OKLab, `part` of the second.

    >>> mixed("#000000", "#ffffff", 0.5)
    '#636363'
    """
    return hexed((1 - part) * oklab(one) + part * oklab(other))


def apart(one: Tint, other: Tint) -> float:
    """Distance in OKLab: 0 the same, about .02 just told apart side by side, 1 from black to white."""
    return float(np.linalg.norm(oklab(one) - oklab(other)))


class Aged(Value):
    """A tint wet in its cup, cut the day after, and cured."""

    wet: Tint
    cut: Tint
    cured: Tint


@lru_cache(maxsize=2000)
def aged(tint: Tint, gelled: Share = 0.0, vanillin: Share = 0.0) -> Aged:
    """How a portion's tint looks at three ages; `gelled` is how likely it gels, `vanillin` the share of it in the
    fragrance that is in this portion. `tint` is what the maker means: cured, without either.
    """
    lab = oklab(tint)

    def at(age: Age) -> Tint:
        seen = lab.copy()
        if age == "wet":
            seen = seen * (1, PALER_WET, PALER_WET) + (LIGHTER_WET * (1 - seen[0]), 0, 0)
        else:
            chroma = 1 + gelled * (GEL_CHROMA - 1)
            lighter = LIGHTER_CUT * (1 - seen[0]) if age == "cut" else 0.0
            seen = seen * (1, chroma, chroma) + (lighter - gelled * GEL_DARKER, 0, 0)
        turned = (vanillin / VANILLIN_HALF) ** VANILLIN_POWER if vanillin > 0 else 0.0
        brown = YOUNG_BROWN[age] * turned / (1 + turned)
        return hexed((1 - brown) * seen + brown * np.minimum(BROWN, [seen[0], 1, 1]))

    return Aged(wet=at("wet"), cut=at("cut"), cured=at("cured"))
