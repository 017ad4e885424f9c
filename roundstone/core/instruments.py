"""What a thermometer or a scale offers, whoever made it: one reading when it is asked."""

from typing import Literal, Protocol

from .values import Value

InstrumentKind = Literal["thermometer", "scale"]


class Shown(Value):
    """What an instrument shows, in its unit: °C or g."""

    value: float
    unit: str
    instrument: str


class Instrument(Protocol):
    """Anything that can be read; `read` raises OSError where it does not answer."""

    @property
    def unit(self) -> str: ...

    def read(self) -> Shown: ...
