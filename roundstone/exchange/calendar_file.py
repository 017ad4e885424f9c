"""Next touches as a calendar file (RFC 5545), to be read by whatever calendar the maker keeps."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from icalendar import Alarm, Calendar, Event

from ..core.text import Text
from ..told import METRIC, Reader

LONG = timedelta(hours=20)  # from which an entry is of whole days


@dataclass(frozen=True)
class Touch:
    """One thing to do with one pour, between two moments by the clock on the reader's wall.

    Of one that is `open` nothing is spoiled by being later: it stands on the day from which it can be done.
    """

    pour: str
    what: str
    title: Text
    begins: datetime
    ends: datetime
    message: Text
    open: bool = False


def write(touches: Iterable[Touch], now: datetime, reader: Reader = METRIC) -> str:
    """All touches; one is known by its pour and what it is, so that a newer file moves it and adds no second."""
    calendar = Calendar()
    calendar.add("prodid", "-//Round Stone//rest and cure//EN")
    calendar.add("version", "2.0")
    for touch in touches:
        event = Event()
        event.add("uid", f"{touch.what}-{touch.pour}@round-stone")
        event.add("dtstamp", now)
        long = touch.ends - touch.begins >= LONG
        last = touch.begins if touch.open else touch.ends
        event.add("dtstart", touch.begins.date() if long else touch.begins.astimezone(UTC))
        event.add("dtend", last.date() + timedelta(days=1) if long else touch.ends.astimezone(UTC))
        event.add("summary", reader(touch.title))
        event.add("description", reader(touch.message))
        event.add("transp", "TRANSPARENT")
        if not long:
            alarm = Alarm()
            alarm.add("action", "DISPLAY")
            alarm.add("description", reader(touch.title))
            alarm.add("trigger", timedelta(0))
            event.add_component(alarm)
        calendar.add_component(event)
    return calendar.to_ical().decode()
