"""What every value of the job shares, and the one way a rule says that something is wrong."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Annotated, Any, Self

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from .text import Text, listing

Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,59}$")]
Name = Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)]


def listed(names: Sequence[str], most: int = 3) -> str:
    """Names as one says them; of many the first, and how many more.

    >>> listed(["A", "B"]), listed(["A", "B", "C", "D", "E"])
    ('A and B', 'A, B and 3 more')
    """
    return str(listing(names, most))


LONGEST = 200  # letters of a line that says where something is from


def shortened(text: str, most: int = LONGEST) -> str:
    """A text that is no longer than that: what is too much is left out at its end.

    >>> shortened("abcdef", 4), shortened("abc", 4)
    ('abc…', 'abc')
    """
    return text if len(text) <= most else text[: most - 1] + "…"


class Value(BaseModel):
    """A frozen value. NaN and infinity never get in, and neither does a field nobody declared."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """The same with other fields; words may stand where a sentence belongs, never a sentence among words."""
        if update:
            fields = type(self).model_fields
            for name, value in update.items():
                if isinstance(value, Text) and fields[name].annotation is str:
                    raise TypeError(f"{type(self).__name__}.{name} holds words, and this is a sentence: " + repr(value))
            update = {
                name: Text.read(value) if isinstance(value, str) and fields[name].annotation is Text else value
                for name, value in update.items()
            }
        return super().model_copy(update=update, deep=deep)


class Mend(Value):
    """One click that would put a fault right: write `value` at `pointer`, or these rows in place of those there."""

    label: Text
    pointer: str
    value: float | tuple[dict[str, float | str], ...]


class Fault(Value):
    """What is wrong, where (a JSON pointer into the value), and how to mend it.

    What is only not there yet is `open`, not wrong: said as the next thing to do.
    """

    pointer: str
    message: Text
    mends: tuple[Mend, ...] = ()
    open: bool = False


class Caution(Value):
    """Allowed, but someone or the batch can be hurt: said beside `pointer`, at the step in hand; `mends` are what would
    put it right."""

    pointer: str
    message: Text
    danger: bool = False
    mends: tuple[Mend, ...] = ()


class AppError(Exception):
    """Whatever can be told to the maker as it is; `status` is how HTTP calls it, `title` what heads it."""

    status = 500
    title = "Our mistake"


class RuleError(AppError):
    """Raised when an act needs a value without faults and got one with some."""

    status = 422
    title = "Cannot be done"

    def __init__(self, *faults: Fault, sure: bool = False) -> None:
        """`sure` marks a fault the maker may overrule by saying so."""
        super().__init__("; ".join(str(f.message) for f in faults))
        self.faults = faults
        self.sure = sure

    def under(self, pointer: str) -> "RuleError":
        """The same, of a value that stands at `pointer` in a larger one.

        >>> RuleError(Fault(pointer="/name", message="Needed.")).under("/events/3").faults[0].pointer
        '/events/3/name'
        """
        return RuleError(*(f.model_copy(update={"pointer": pointer + f.pointer}) for f in self.faults), sure=self.sure)


class NotFoundError(AppError):
    """There is no such recipe, pour or fragrance."""

    status = 404
    title = "Not found"


class ConflictError(AppError):
    """Someone else changed it first, or one id was used for two things."""

    status = 409
    title = "Changed meanwhile"


class DataFileError(AppError):
    """The data file cannot be used; the message says why and what to do. Nothing in it was changed."""

    status = 503
    title = "Not saved"


def pointer_to(location: Iterable[int | str], value: Any, kind: str) -> str:
    """JSON pointer of a validation error. Pydantic also names the member of a union, which is no place in the value."""
    way = list(location)
    parts: list[str] = []
    for i, part in enumerate(way):
        places: Any = range(len(value)) if isinstance(value, list) else value if isinstance(value, dict) else ()
        if part in places:
            value = value[part]
        elif not (kind == "missing" and i == len(way) - 1):
            continue
        parts.append(str(part).replace("~", "~0").replace("/", "~1"))
    return "".join(f"/{p}" for p in parts)


class Span(Value):
    """A low and a high end, in the unit of the field that holds it."""

    low: float
    high: float


class Quantiles(Value):
    """Times in minutes at which 10, 25, 50, 75 and 90 in 100 draws have happened."""

    q10: float
    q25: float
    q50: float
    q75: float
    q90: float


Share = Annotated[float, Field(description="a fraction, 0 to 1")]
Grams = Annotated[float, Field(description="grams")]
Minutes = Annotated[float, Field(description="minutes")]
Celsius = Annotated[float, Field(description="degrees Celsius")]
