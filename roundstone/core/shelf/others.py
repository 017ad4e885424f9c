"""What other workshops saw of a fragrance, as it stands beside its claim."""

from pydantic import Field

from ..values import Name, Value

LEAST_TIMES, MOST_TIMES = 0.05, 60.0  # as soon: beyond these a figure is a slip [chosen]


class Normal(Value):
    """A mean and a standard deviation."""

    mean: float
    sd: float = Field(gt=0)


class Counted(Value):
    """Pours in which it was seen, of those in which it was asked."""

    seen: int = Field(default=0, ge=0, le=10_000_000)
    asked: int = Field(default=0, ge=0, le=10_000_000)


class KnownAs(Value):
    """What others call a fragrance, and the supplier's code they tell: the same one, as the maker said."""

    name: Name = Field(min_length=1)
    code: Name = ""


class Reviews(Value):
    """What makers wrote of a fragrance, counted by hand: how many saw no trouble, saw it speed trace,
    rice, seize."""

    calm: int = Field(default=0, ge=0, le=10_000)
    faster: int = Field(default=0, ge=0, le=10_000)
    riced: int = Field(default=0, ge=0, le=10_000)
    seized: int = Field(default=0, ge=0, le=10_000)

    @property
    def all(self) -> int:
        """How many were counted."""
        return self.calm + self.faster + self.riced + self.seized


class Others(Value):
    """What other workshops saw of one fragrance, pooled over `workshops` and their `pours`, and over `reviews`.

    `speed` is the ln of how many times as soon medium trace comes with 3 % of it as without, in a workshop that did not
    tell yet: so its sd holds how far workshops are `apart`. `rices` is the logit of grains at 3 % and 37 °C, likewise.
    The counts are what was told.
    """

    workshops: int = 0
    pours: int = 0
    reviews: int = 0
    speed: Normal | None = None
    apart: float = 0.0
    rices: Normal | None = None
    riced: Counted = Counted()
    seized: Counted = Counted()
    separated: Counted = Counted()
    discoloured: Counted = Counted()
    held: Counted = Counted()
