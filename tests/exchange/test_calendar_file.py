"""The calendar file, read back by the `icalendar` package and held against RFC 5545's own rules of lines."""

import unittest
from datetime import UTC, date, datetime, timedelta

from hypothesis import given, settings
from hypothesis import strategies as st
from icalendar import Calendar

from roundstone.core.text import say
from roundstone.exchange.calendar_file import LONG, Touch, write

NOW = datetime(2026, 6, 1, 12, tzinfo=UTC)
WORDS = st.text(st.characters(exclude_categories=["C"]), min_size=1, max_size=90)


def touch(title: str, begins: float, lasts: float, pour: str = "p", what: str = "cut") -> Touch:
    at = NOW + timedelta(hours=begins)
    return Touch(pour, what, say(title), at, at + timedelta(hours=lasts), say("says; so, \\ and\nso"))


class CalendarFile(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.tuples(WORDS, st.floats(-500, 5000), st.floats(0.25, 400)), max_size=5))
    def test_any_name_and_time_comes_back_as_it_was(self, rows: list[tuple[str, float, float]]) -> None:
        touches = [touch(title, begins, lasts, f"pour{n}") for n, (title, begins, lasts) in enumerate(rows)]
        text = write(touches, NOW)
        for line in text.encode().split(b"\r\n"):
            self.assertLessEqual(len(line), 75, "RFC 5545 3.1: lines are folded")
        found = {str(e["uid"]): e for e in Calendar.from_ical(text).walk("VEVENT")}
        self.assertEqual(len(found), len(touches))
        for t in touches:
            event = found[f"{t.what}-{t.pour}@round-stone"]
            self.assertEqual(str(event["summary"]), t.title)
            self.assertEqual(str(event["description"]), t.message)
            starts, ends = event.decoded("dtstart"), event.decoded("dtend")
            self.assertLess(starts, ends, "an event ends after it begins")
            long = t.ends - t.begins >= LONG
            self.assertEqual(type(starts), date if long else datetime)
            self.assertEqual(len(event.walk("VALARM")), 0 if long else 1)
            if long:
                self.assertEqual((starts, ends), (t.begins.date(), t.ends.date() + timedelta(days=1)))
            else:
                self.assertLess(abs(starts - t.begins), timedelta(seconds=1))

    def test_a_newer_file_moves_an_entry_and_adds_none(self) -> None:
        first, later = (write([touch("Cut", h, 5)], NOW) for h in (10, 20))
        uids = [str(e["uid"]) for text in (first, later) for e in Calendar.from_ical(text).walk("VEVENT")]
        self.assertEqual(len(set(uids)), 1)

    def test_nothing_to_do_is_a_calendar_too(self) -> None:
        self.assertEqual(len(Calendar.from_ical(write([], NOW)).walk("VEVENT")), 0)


if __name__ == "__main__":
    unittest.main()
