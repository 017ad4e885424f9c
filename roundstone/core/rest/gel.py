"""What gels: a section through the block for each way to rest it, as odds, and what was seen teaches.

The heat is that of `heat/mould`; a maker's own blocks shift its rate.
"""

from collections.abc import Iterable, Sequence

import numpy as np

from ..batter import Array
from ..heat import RATE_SD, RATES, RING, WEIGHTS, Cases, over_mean, over_rates, overheating, three_cases
from ..pour import Gelled
from ..recipe import Recipe, Wrap
from ..sheet import Sheet
from ..text import C, Text, say
from ..values import Celsius, Share, Value

WAYS: tuple[Wrap, ...] = ("cold", "open", "covered", "insulated", "oven")
OWN_SD = 0.35  # of the ln-rate, of one maker's blocks about the model [C]
SHIFTS = np.linspace(-1.5, 1.5, 61)  # of the ln-rate that are tried
BLURS = (0.012, 0.04)  # share of the section by which none, and full, may be told otherwise than reckoned [C]
PALE = 0.80  # lightness from which a colour shows a ring, and is whiter without gel [C]


class Section(Value):
    """One way to rest: the half section as odds of gel by cell, columns from the middle outwards, each from the bottom
    up; odds of no gel, a ring and full gel; the middle's peak; odds that it cracks or rises; in words, with what it
    does to the colours."""

    wrap: Wrap
    cells: tuple[tuple[Share, ...], ...]
    none: Share
    ring: Share
    full: Share
    peak: Celsius
    overheats: Share
    message: Text
    colours: str


def shares_at(found: Cases, rates: Array) -> Array:
    """Share of the section that gels, at every ln-rate."""
    return np.asarray((over_rates(found.margins, rates) >= 0).mean(axis=(0, 1)))


def odds(shares: Array) -> dict[Gelled, Array]:
    """How a share of the section gelled is told, soft at the edges of the ring."""
    from scipy.special import ndtr

    none, full = ndtr((RING[0] - shares) / BLURS[0]), ndtr((shares - RING[1]) / BLURS[1])
    return {"none": none, "ring": np.clip(1 - none - full, 0.0, 1.0), "full": full}


def sections(
    recipe: Recipe, sheet: Sheet, wraps: Sequence[Wrap], pace: float = 1.0, own: float = 0.0
) -> tuple[Section, ...]:
    """A recipe's block in each way to rest. `pace` is how much faster than usual its batter is, `own` the shift of the
    ln-rate that the maker's blocks have taught."""
    found = three_cases(recipe, sheet, wraps, pace * float(np.exp(own)))
    return tuple(_section(recipe, sheet, wrap, cases) for wrap, cases in zip(wraps, found, strict=True))


def _section(recipe: Recipe, sheet: Sheet, wrap: Wrap, found: Cases) -> Section:
    cells = (over_rates(found.margins) >= 0) @ WEIGHTS
    told = {k: over_mean(v) for k, v in odds(shares_at(found, RATES)).items()}
    whole = sum(told.values())
    told = {k: v / whole for k, v in told.items()}
    limit, overheats = overheating(recipe, sheet, found.peaks)
    return Section(
        wrap=wrap,
        cells=tuple(tuple(round(float(x), 2) for x in column) for column in cells),
        **told,
        peak=float(found.peaks[1]),
        overheats=overheats,
        message=_says(told, overheats, limit),
        colours=_colours(recipe, told),
    )


def _says(told: dict[Gelled, float], overheats: float, limit: float) -> Text:
    likely = max(told, key=lambda k: told[k])
    words = {"none": "no gel", "ring": "a ring", "full": "gels through"}[likely]
    message = f"{words}, {max(1, min(99, round(100 * told[likely])))} % likely"
    return say(message + (say("; may crack: it can pass ", C(limit, ".0f")) if overheats >= 0.1 else ""))


def _lightness(tint: str) -> float:
    """Luminance of a colour as typed, 0 to 1: enough to tell pale from dark."""
    r, g, b = (int(tint[i : i + 2], 16) / 255 for i in (1, 3, 5))
    return 0.2126 * r + 0.7152 * g + 0.0722 * b


def _colours(recipe: Recipe, told: dict[Gelled, float]) -> str:
    """What it does to the colours of this recipe: common practice, no source."""
    tinted = [(p.name, _lightness(p.tint)) for p in recipe.design.portions if p.tint]
    pale = max(tinted, key=lambda x: x[1], default=("", 0.0))
    deep = min(tinted, key=lambda x: x[1], default=("", 1.0))
    likely = max(told, key=lambda k: told[k])
    if likely == "ring":
        return f"the ring shows most in {pale[0]}" if pale[1] >= PALE else "the ring may show as a darker middle"
    if likely == "full":
        return f"{deep[0]} deepens, whites turn creamy" if pale[1] >= PALE and deep[0] else "colours deepen"
    return f"{pale[0]} stays whiter, colours softer" if pale[1] >= PALE else "colours stay soft and matt"


class GelOwn(Value):
    """What a maker's own blocks taught of the rate: shift of its logarithm ± sd, from how many blocks."""

    shift: float = 0.0
    sd: float = OWN_SD
    blocks: int = 0


def learn_gel(seen: Iterable[tuple[Cases, Gelled]]) -> GelOwn:
    """Posterior of the shift on a grid, from blocks whose gel was looked at.

    >>> learn_gel([])
    GelOwn(shift=0.0, sd=0.35, blocks=0)
    """
    log = -0.5 * (SHIFTS / OWN_SD) ** 2
    blocks = 0
    # Every shift is a window on one line of rates, so each block is laid out once.
    spread = np.linspace(-2.5, 2.5, 11)
    weights = np.exp(-0.5 * spread**2)
    for found, how in seen:
        rates = SHIFTS[:, None] + RATE_SD * spread
        told = odds(shares_at(found, rates.ravel()))[how].reshape(rates.shape)
        log = log + np.log(told @ weights / weights.sum() + 1e-3)
        blocks += 1
    if not blocks:
        return GelOwn()
    weight = np.exp(log - log.max())
    weight /= weight.sum()
    shift = float(weight @ SHIFTS)
    return GelOwn(shift=round(shift, 3), sd=round(float(np.sqrt(weight @ (SHIFTS - shift) ** 2)), 3), blocks=blocks)
