"""What was ticked and read so far while a batch was made ready, and each act that changes it."""

from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import AliasChoices, Field, field_validator

from ..heat import Reading, check_band
from ..values import Celsius, Fault, Grams, Minutes, RuleError, Span, Value

FORMERLY = AliasChoices("message", "says")  # as it was called when some of what is still kept was written
MOST_TICKED = 400
READINGS = 6  # of each vessel, at most [chosen]
AGAIN = 1.0  # minutes within which a second reading corrects the first [C]
BAND, GAP = 3.0, 6.0  # °C either side of the pour's, and between jug and pot, unless the maker says otherwise [C]


class Ticked(Value):
    """What was ticked, as it was read: its words, and grams where it is weighed, on which line of the sheet."""

    message: str = Field(default="", validation_alias=FORMERLY)
    grams: Grams | None = None
    line: str = ""


class ReadyState(Value):
    """What the maker has ticked and read so far. All minutes are on the ready check's own clock, which begins with its
    first act: when the fats were `melted`, the lye `mixed`, and each reading taken. `notes` are those for next time
    that were heeded or set aside, by id."""

    ticked: dict[str, Ticked] = Field(default={}, max_length=400)
    melted: Minutes | None = None
    mixed: Minutes | None = None
    jug: tuple[Reading, ...] = Field(default=(), max_length=READINGS)
    pot: tuple[Reading, ...] = Field(default=(), max_length=READINGS)
    band: Span | None = None
    lye: Span | None = None
    gap: float = Field(default=GAP, ge=0.5, le=100)
    notes: dict[str, Literal["heeded", "aside"]] = Field(default={}, max_length=100)

    @field_validator("ticked", mode="before")
    @classmethod
    def _as_read(cls, value: Any) -> Any:
        # Of an older program: it did not keep what was read, so nothing that is weighed stands.
        return {key: {} for key in value} if isinstance(value, list | tuple) else value


class Tick(Value):
    """A thing stands ready, or does not after all; of what is weighed so many `grams`, as the hand read them."""

    kind: Literal["tick"] = "tick"
    key: str = Field(max_length=200)
    on: bool = True
    grams: Grams | None = Field(default=None, ge=0, le=1_000_000)
    message: str = Field(default="", max_length=200, validation_alias=FORMERLY)
    line: str = Field(default="", max_length=200)


class HotNow(Value):
    """The fats are melted, or the lye is mixed, at this moment; or that was a slip."""

    kind: Literal["hot"] = "hot"
    what: Literal["melted", "mixed"]
    on: bool = True


class ReadingTaken(Value):
    """A thermometer's reading of a vessel at this moment."""

    kind: Literal["reading"] = "reading"
    vessel: Literal["jug", "pot"]
    celsius: Celsius = Field(ge=-5, le=120)


class WantedTogether(Value):
    """Between which °C jug and pot are wanted (None: about the recipe's own), and how near each other; or the jug
    alone, where the `lye` is wanted between others."""

    kind: Literal["wanted"] = "wanted"
    band: Span | None = None
    lye: Span | None = None
    gap: float = Field(default=GAP, ge=0.5, le=100)


class NoteMet(Value):
    """A note for next time is heeded, or set aside; or that was a slip."""

    kind: Literal["note"] = "note"
    note: UUID
    how: Literal["", "heeded", "aside"]


ReadyAct = Annotated[Tick | HotNow | ReadingTaken | WantedTogether | NoteMet, Field(discriminator="kind")]


def acted(state: ReadyState, act: ReadyAct, minute: Minutes) -> ReadyState:
    """The ready check after an act at that minute of it. RuleError for a reading of a vessel that is not hot yet, and
    for a band that is none."""
    match act:
        case Tick():
            ticked = {k: v for k, v in state.ticked.items() if k != act.key}
            if act.on and len(ticked) < MOST_TICKED:
                ticked[act.key] = Ticked(message=act.message, grams=act.grams, line=act.line)
            return state.model_copy(update={"ticked": ticked})
        case HotNow():
            return state.model_copy(update={act.what: minute if act.on else None})
        case ReadingTaken():
            if (state.mixed if act.vessel == "jug" else state.melted) is None:
                what = "the lye is mixed" if act.vessel == "jug" else "the fats are melted"
                raise RuleError(Fault(pointer="/celsius", message=f"Tap first that {what}."))
            # Readings of one moment correct each other.
            rest = [r for r in getattr(state, act.vessel) if abs(r.minute - minute) >= AGAIN]
            taken = (*rest, Reading(minute=minute, celsius=act.celsius))
            return state.model_copy(update={act.vessel: taken[-READINGS:]})
        case NoteMet():
            notes = {k: v for k, v in state.notes.items() if k != str(act.note)}
            if act.how:
                notes[str(act.note)] = act.how
            return state.model_copy(update={"notes": notes})
        case WantedTogether():
            for pointer, band in (("/band", act.band), ("/lye", act.lye)):
                if band is not None:
                    check_band(band, pointer)
            return state.model_copy(update={"band": act.band, "lye": act.lye, "gap": act.gap})
