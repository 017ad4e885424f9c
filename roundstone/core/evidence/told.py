"""What one workshop tells of its fragrances: the contents of an evidence file."""

from collections.abc import Mapping
from functools import lru_cache
from hashlib import sha256
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..shelf import LEAST_TIMES, MOST_TIMES, Claim, Counted, Family, plain_words
from ..values import Name, Value

Load = Literal["low", "usual", "high"]
Warmth = Literal["cool", "middle", "warm"]
LOADS: dict[Load, tuple[float, float]] = {
    "low": (2.0, 1.5),
    "usual": (4.0, 3.0),
    "high": (1e9, 5.0),
}  # percent of fats: to, and about [chosen]
WARMTHS: dict[Warmth, tuple[float, float]] = {
    "cool": (30.0, 26.0),
    "middle": (38.0, 34.0),
    "warm": (1e9, 42.0),
}  # °C: to, and about [chosen]
MOST_TOLD = 2000  # fragrances in one file
Times = Annotated[float, Field(ge=LEAST_TIMES, le=MOST_TIMES)]
Key = tuple[str, str]
# Bins that what a workshop may tell falls into: of ln times, of ln sd, and of the logit that load and warmth add.
TimesBin = Annotated[int, Field(ge=-210, le=210)]
SpreadBin = Annotated[int, Field(ge=-24, le=16)]
HarderBin = Annotated[int, Field(ge=-120, le=120)]
Many = Annotated[int, Field(ge=0, le=1_000_000_000)]
Several = Annotated[int, Field(ge=1, le=10_000_000)]
Few = Annotated[int, Field(ge=0, le=10)]  # pours of one workshop, as they are counted


def load_of(percent: float) -> Load:
    """The class of a dose in percent of fats: up to 2, to 4, above."""
    return next(name for name, (most, _) in LOADS.items() if percent <= most)


def warmth_of(celsius: float) -> Warmth:
    """The class of a batter's temperature: up to 30 °C, to 38, above."""
    return next(name for name, (most, _) in WARMTHS.items() if celsius <= most)


class SpeedSeen(Value):
    """How many times as soon medium trace came with 3 % of it as without, in the middle, and 80 % of it from `low` to
    `high`, by what was seen alone, whatever is claimed; from so many `pours` and `looks` at the batter."""

    times: Times
    low: Times
    high: Times
    pours: int = Field(ge=1, le=100_000)
    looks: int = Field(ge=0, le=10_000_000)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if not self.low <= self.times <= self.high or self.low == self.high:
            raise ValueError("The middle stands between the low end and the high one.")
        return self


class Cell(Counted):
    """The same counted at a load and a temperature."""

    load: Load
    warmth: Warmth

    @model_validator(mode="after")
    def _no_more_seen(self) -> Self:
        if self.seen > self.asked:
            raise ValueError("More were seen than were asked about.")
        return self


Cells = Annotated[tuple[Cell, ...], Field(max_length=9)]


class ToldOf(Value):
    """What a workshop tells of one fragrance: its name and the supplier's code for it, as the maker chose to tell them,
    what is claimed, and what was seen. `held` are pours whose scent held, of those judged."""

    name: Name = Field(min_length=1)
    code: Name = ""
    family: Family = Family.OTHER
    claim: Claim = Claim.UNKNOWN
    speed: SpeedSeen | None = None
    riced: Cells = ()
    seized: Cells = ()
    separated: Cells = ()
    discoloured: Counted = Counted()
    held: Counted = Counted()

    @property
    def key(self) -> Key:
        """What it is found by."""
        return key_of(self.name, self.code)


@lru_cache(maxsize=4096)
def key_of(name: str, code: str = "") -> Key:
    """A fragrance's name and code as they are compared: small letters, no accents.

    >>> key_of("Fougère  No. 5", "AB-12")
    ('fougere no 5', 'ab 12')
    """
    return plain_words(name) or name.casefold().strip(), plain_words(code)


class Evidence(Value):
    """One workshop's evidence. `workshop` is made up for this alone and says nothing of who it is; a later `edition`
    takes the place of an earlier one. No recipe, no note and no day is in it."""

    format: Literal["roundstone.evidence/1"] = "roundstone.evidence/1"
    workshop: str = Field(pattern=r"^[0-9a-f]{16,40}$")
    edition: int = Field(ge=1, le=1_000_000)
    fragrances: tuple[ToldOf, ...] = Field(max_length=MOST_TOLD)

    @property
    def workshops(self) -> int:
        """How many it is of."""
        return 1

    @property
    def source(self) -> str:
        """Whose it is."""
        return self.workshop

    @property
    def members(self) -> tuple[str, ...]:
        """Who is in it, as a pool names them."""
        return (member(self.workshop),)

    @model_validator(mode="after")
    def _each_once(self) -> Self:
        keys = [f.key for f in self.fragrances]
        if len(set(keys)) < len(keys):
            raise ValueError("A fragrance stands in it twice.")
        return self


class PoolOf(Value):
    """What many workshops told of one fragrance, in bins: rows of ln times and ln sd with how many told so, rows of
    grains seen, asked and the logit that load and warmth add, and pours (seen, asked) of each thing that goes wrong."""

    name: Name = Field(min_length=1)
    code: Name = ""
    workshops: int = Field(ge=1, le=10_000_000)
    pours: int = Field(ge=0, le=1_000_000_000)
    speed: Annotated[tuple[tuple[TimesBin, SpreadBin, Several], ...], Field(max_length=20_000)] = ()
    riced: Annotated[tuple[tuple[Few, Few, HarderBin, Several], ...], Field(max_length=20_000)] = ()
    counts: Annotated[dict[str, tuple[Many, Many]], Field(max_length=8)] = Field(default_factory=dict)

    @property
    def key(self) -> Key:
        """What it is found by."""
        return key_of(self.name, self.code)


MOST_MEMBERS = 100_000  # of a pool that are named, so that nobody is counted twice [chosen]


def member(workshop: str) -> str:
    """How a pool names a workshop in it: a digest of its made-up name, which the name is not found from."""
    return sha256(workshop.encode()).hexdigest()[:16]


class Pool(Value):
    """Evidence of many workshops, added up; `made` is of what is in it, `members` who is, where they are not too many
    to be named."""

    format: Literal["roundstone.pool/1"] = "roundstone.pool/1"
    made: str = Field(pattern=r"^[0-9a-f]{16,40}$")
    fragrances: tuple[PoolOf, ...] = Field(max_length=200_000)
    members: tuple[Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")], ...] = Field(default=(), max_length=MOST_MEMBERS)

    @property
    def workshops(self) -> int:
        """How many it is of, at least."""
        return max((len(self.members), *(f.workshops for f in self.fragrances)))

    @property
    def source(self) -> str:
        """Whose it is."""
        return self.made

    @property
    def edition(self) -> int:
        """There is no later one of just these workshops."""
        return 1


def file_of(doc: Mapping[str, object]) -> Evidence | Pool:
    """A file of either kind; ValidationError where it is none."""
    return (Pool if doc.get("format") == "roundstone.pool/1" else Evidence).model_validate(doc)
