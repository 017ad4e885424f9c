"""The maker's scales: what a weight reads on them, which are too fine for them, and how sums are told."""

from collections.abc import Iterable
from math import ceil, floor, log10

from pydantic import Field

from ..values import Grams, Value

NEARLY = 1e-9  # of a step: what binary fractions are off


class Scale(Value):
    """A scale that reads in steps of `step` grams, up to `capacity` grams with the vessel tared away."""

    step: Grams = Field(ge=0.001, le=10)
    capacity: Grams = Field(ge=1, le=500_000)


class Scales(Value):
    """All scales of a workshop; each weight is read on the finest that can hold it."""

    scales: tuple[Scale, ...] = Field(
        default=(Scale(step=0.1, capacity=1000), Scale(step=1.0, capacity=20_000)), min_length=1, max_length=6
    )

    @property
    def capacity(self) -> Grams:
        """The most that can be weighed at once."""
        return max(s.capacity for s in self.scales)

    @property
    def finest(self) -> Grams:
        return min(s.step for s in self.scales)

    def step(self, grams: Grams) -> Grams:
        """Step of the scale this weight is read on; of the largest scale where none can hold it.

        >>> Scales().step(12.0), Scales().step(1500.0)
        (0.1, 1.0)
        """
        fit = [s.step for s in self.scales if s.capacity >= grams]
        return min(fit) if fit else max(self.scales, key=lambda s: s.capacity).step

    def reading(self, grams: Grams, down: bool = False) -> Grams:
        """What the scale shows for this weight, never nothing for something; `down` never rounds up, as for lye.

        >>> Scales().reading(12.37), Scales().reading(12.37, down=True), Scales().reading(0.014)
        (12.4, 12.3, 0.014)
        """
        step = self.step(grams)
        if 0 < grams < step:
            return grams
        steps = grams / step
        whole = floor(steps + NEARLY) if down else floor(steps + 0.5 + NEARLY)
        return round(whole * step, decimals(step))

    def shown(self, grams: Grams, down: bool = False) -> str:
        """The reading as it is printed, with the scale's own decimals; what is below a step keeps two digits.

        >>> Scales().shown(12.37), Scales().shown(1412.6), Scales().shown(0.0144)
        ('12.4', '1413', '0.014')
        """
        step = self.step(grams)
        if 0 < grams < step:
            places = 1 - floor(log10(grams))
            return f"{grams:.{places}f}"
        return f"{self.reading(grams, down):.{decimals(step)}f}"

    def sum(self, readings: Iterable[Grams]) -> str:
        """A sum of readings, told no finer than the scale that would hold it all."""
        return self.shown(sum(readings))


def decimals(step: Grams) -> int:
    """Decimals a scale of this step shows.

    >>> [decimals(s) for s in (10.0, 1.0, 0.5, 0.1, 0.05, 0.01)]
    [0, 0, 1, 1, 2, 2]
    """
    return max(0, ceil(-log10(step) - NEARLY))
