"""The maker's scales: what a weight reads on them, which are too fine for them, and how sums are told."""

from collections.abc import Iterable
from functools import cache
from math import ceil, floor, log10

from pydantic import Field

from ..text import Reading, Text, Weight, say
from ..units import OUNCE
from ..values import Grams, Value

NEARLY = 1e-9  # of a step: what binary fractions are off
ODD, ODD_TO = 2, 1e-4  # more decimals for a step that is odd in its unit, until it is told to this share [C]


class Scale(Value):
    """A scale that reads in steps of `step` grams, up to `capacity` grams with the vessel tared away."""

    step: Grams = Field(ge=0.001, le=50)
    capacity: Grams = Field(ge=1, le=500_000)


class Scales(Value):
    """All scales of a workshop; each weight is read on the finest that can hold it, in the unit they show."""

    scales: tuple[Scale, ...] = Field(
        default=(Scale(step=0.1, capacity=1000), Scale(step=1.0, capacity=20_000)), min_length=1, max_length=6
    )
    unit: Weight = "g"

    @property
    def capacity(self) -> Grams:
        """The most that can be weighed at once."""
        return max(s.capacity for s in self.scales)

    @property
    def finest(self) -> Grams:
        return min(s.step for s in self.scales)

    @property
    def counts(self) -> Grams:
        """Grams of what the figures count: grams themselves, or ounces."""
        return 1.0 if self.unit == "g" else OUNCE

    def step(self, grams: Grams) -> Grams:
        """Step of the scale this weight is read on; of the largest scale where none can hold it.

        >>> Scales().step(12.0), Scales().step(1500.0)
        (0.1, 1.0)
        """
        fit = [s.step for s in self.scales if s.capacity >= grams]
        return min(fit) if fit else max(self.scales, key=lambda s: s.capacity).step

    def figure(self, grams: Grams, down: bool = False) -> tuple[float, int]:
        """What the scale shows for this weight, in its own unit, and with how many decimals.

        Never nothing for something: what is below a step is told to two digits. `down` never rounds up, as for lye.
        """
        step, counts = self.step(grams), self.counts
        if 0 < grams < step:
            return grams / counts, 1 - floor(log10(grams / counts))
        steps = grams / step
        whole = floor(steps + NEARLY) if down else floor(steps + 0.5 + NEARLY)
        places = decimals(step / counts)
        read = whole * step / counts
        return floor(read * 10**places + 1e-6) / 10**places if down else round(read, places), places

    def reading(self, grams: Grams, down: bool = False) -> Grams:
        """Grams of what the scale shows for this weight.

        >>> Scales().reading(12.37), Scales().reading(12.37, down=True), Scales().reading(0.014)
        (12.4, 12.3, 0.014)
        """
        return self.figure(grams, down)[0] * self.counts

    def shown(self, grams: Grams, down: bool = False) -> Text:
        """The reading as it is printed with its unit, and with the scale's own decimals.

        >>> [str(Scales().shown(grams)) for grams in (12.37, 1412.6, 0.0144)]
        ['12.4\\xa0g', '1413\\xa0g', '0.014\\xa0g']
        >>> str(Scales(scales=(Scale(step=0.05 * OUNCE, capacity=5000),), unit="lb").shown(1000))
        '2\\xa0lb 3.25\\xa0oz'
        """
        value, places = self.figure(grams, down)
        return say(Reading(value, places, self.unit))

    def in_grams(self, grams: Grams) -> Text:
        """The same reading in grams, to the tenth below a lye weight's: beside it where a slip is dangerous."""
        return say(Reading(floor(self.reading(grams, down=True) * 10 + NEARLY) / 10, 1, "g"))

    def both(self, grams: Grams, down: bool = False) -> Text:
        """As printed, with grams beside it where the scales show something else."""
        shown = self.shown(grams, down)
        return shown if self.unit == "g" else say(shown, " (", self.in_grams(grams), ")")

    def sum(self, readings: Iterable[Grams]) -> Text:
        """A sum of readings, told no finer than the scale that would hold it all."""
        return self.shown(sum(readings))


@cache
def decimals(step: float) -> int:
    """Decimals a scale of this step shows, both in one unit; of a step that is odd in it as many as it takes.

    >>> [decimals(s) for s in (10.0, 1.0, 0.5, 0.1, 0.05, 0.01, 1 / OUNCE)]
    [0, 0, 1, 1, 2, 2, 4]
    """
    least = max(0, ceil(-log10(step) - NEARLY))
    return next((p for p in range(least, least + ODD) if abs(round(step, p) - step) < ODD_TO * step), least + ODD)


# What stands on a bench where nothing was said of scales [C].
USUAL_SCALES: dict[Weight, Scales] = {
    "g": Scales(),
    "oz": Scales(
        scales=tuple(Scale(step=a * OUNCE, capacity=b * OUNCE) for a, b in ((0.01, 32), (0.1, 700))), unit="oz"
    ),
}
USUAL_SCALES["lb"] = USUAL_SCALES["oz"].model_copy(update={"unit": "lb"})
