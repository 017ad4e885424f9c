"""Pours as CSV: whatever was logged goes out and comes back as it was, also through a spreadsheet's habits."""

import csv
import io
import unittest
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from uuid import UUID

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.pour import (
    ColourSeen,
    Combined,
    Ended,
    Event,
    Flagged,
    Folded,
    Judged,
    LayerTested,
    LeftOut,
    LeftUnscented,
    Mended,
    NothingAmiss,
    Paused,
    PouringBegan,
    Remarked,
    Renamed,
    Resumed,
    ScentIn,
    ScentInTurn,
    Spared,
    Split,
    StageSeen,
    StepDone,
    StepSkipped,
    TechniqueChanged,
    TemperatureRead,
    Undone,
    Worked,
    replay,
)
from roundstone.core.recipe import Recipe
from roundstone.core.values import RuleError
from roundstone.exchange import pour_file
from tests.samples import recipe

MINUTE = st.integers(0, 4000).map(lambda n: n / 100)
PORTION = st.sampled_from([None, "Base", "Bone", "=Bone", "Ash, pale", "-1"])
COMMON = {"id": st.uuids(), "minute": MINUTE}
EVENTS: st.SearchStrategy[Event] = st.one_of(
    st.builds(
        StageSeen,
        **COMMON,
        portion=PORTION,
        stage=st.sampled_from(["emulsion", "light", "medium", "thick", "set"]),
        turned=st.booleans(),
    ),
    st.builds(
        Worked,
        **COMMON,
        portion=PORTION,
        tool=st.sampled_from(["stick", "hand"]),
        seconds=st.integers(1, 1800),
        purpose=st.sampled_from(["mix", "thicken", "loosen"]),
    ),
    st.builds(ScentIn, **COMMON, portion=PORTION),
    st.builds(ScentIn, **COMMON, portion=PORTION, grams=st.integers(0, 90)),
    st.builds(ScentIn, **COMMON, portion=PORTION, share=st.sampled_from([0.0, 0.5, 2.5])),
    st.builds(Combined, **COMMON, batch=st.sampled_from(["Frost", "=Bone"])),
    st.builds(StepDone, **COMMON, step=st.sampled_from(["drop Ash", "pour -1 2"])),
    st.builds(StepSkipped, **COMMON, step=st.just("top")),
    st.builds(Folded, **COMMON, portion=st.just("Base"), into=st.sampled_from([("Bone",), ("=Bone", "Ash, pale")])),
    st.builds(Spared, **COMMON, portion=PORTION),
    st.builds(LeftOut, **COMMON),
    st.builds(LeftUnscented, **COMMON, portion=PORTION),
    st.builds(ScentInTurn, **COMMON),
    st.builds(TemperatureRead, **COMMON, celsius=st.integers(-5, 110)),
    st.builds(TechniqueChanged, **COMMON, technique=st.just("tamp")),
    st.builds(Flagged, **COMMON, portion=PORTION, flag=st.sampled_from(["ricing", "false-trace", "soup"])),
    st.builds(
        ColourSeen,
        **COMMON,
        portion=PORTION,
        days=st.integers(0, 1000),
        shade=st.sampled_from(["true", "tint", "tan", "brown", "odd"]),
    ),
    st.builds(StepDone, **COMMON, step=st.just("drop Ash"), changed=st.just(True)),
    st.builds(
        LayerTested,
        **COMMON,
        portion=st.sampled_from(["Base", "=Bone"]),
        how=st.sampled_from(["stands", "wet", "slumps"]),
    ),
    st.builds(Renamed, **COMMON, portion=st.just("Base"), to=st.sampled_from(["Dusk", "=Dusk", "-2"])),
    st.builds(
        Remarked,
        **COMMON,
        portion=PORTION,
        what=st.sampled_from(["words", "odd-colour"]),
        says=st.sampled_from(["", "too cool, = slow", "=x", "-1"]),
    ),
    st.builds(Mended, **COMMON, portion=PORTION, flag=st.sampled_from(["ricing", "false-trace"]), how=st.just("rough")),
    st.builds(Judged, **COMMON, came=st.sampled_from(["drawn", "different", "lost"])),
    *(st.builds(kind, **COMMON) for kind in (Split, PouringBegan, NothingAmiss, Ended, Paused, Resumed)),
)
EVENT_ID, OTHER_ID, THIRD_ID = (UUID(int=n) for n in (1, 2, 3))
NOON = datetime(2026, 5, 1, 12, tzinfo=UTC)


@dataclass(frozen=True)
class Poured:
    id: str
    recipe: Recipe
    started: datetime
    events: tuple[Event, ...]


def told(events: tuple[Event, ...]) -> list[dict[str, object]]:
    """Events without what a file does not carry."""
    ordered = sorted(events, key=lambda e: e.minute)
    return [e.model_dump(exclude={"id", "sure"}) for e in ordered]


class PourFile(unittest.TestCase):
    @settings(max_examples=80, deadline=None)
    @given(st.lists(st.lists(EVENTS, min_size=1, max_size=8).map(tuple), min_size=1, max_size=4))
    def test_what_goes_out_comes_back(self, logs: list[tuple[Event, ...]]) -> None:
        of = recipe(name="+ Odd, “name”")
        pours = [Poured(f"p{i}", of, NOON + timedelta(days=i), log) for i, log in enumerate(logs)]
        back = pour_file.read(pour_file.write(pours))
        self.assertEqual([w.recipe for w in back], [of.name] * len(logs))
        self.assertEqual([w.started for w in back], [p.started for p in pours])
        for written, log in zip(back, logs, strict=True):
            self.assertEqual(told(written.events), told(tuple(replay(log).standing)))

    def test_what_was_undone_stays_behind_and_nothing_is_a_formula(self) -> None:
        first = ScentIn(id=EVENT_ID, minute=1, portion="=Bone")
        log = (first, Undone(id=OTHER_ID, minute=2, target=first.id), Split(id=THIRD_ID, minute=3))
        rows = list(csv.DictReader(io.StringIO(pour_file.write([Poured("a", recipe(), NOON, log)]))))
        self.assertEqual([r["event"] for r in rows], ["split"])
        kept = pour_file.write([Poured("a", recipe(name="=1+1"), NOON, (first,))])
        for row in csv.reader(io.StringIO(kept)):
            self.assertFalse(any(cell[:1] in "=+@" and cell for cell in row), row)

    def test_a_spreadsheets_mark_and_missing_columns(self) -> None:
        (pour,) = pour_file.read("\ufeffpour,recipe,started,minute,event\na,Plain,2026-05-01,3,medium\n")
        self.assertEqual((pour.lines, pour.started.tzinfo), ((2,), UTC))
        self.assertTrue(getattr(pour.events[0], "turned", False))
        for text in ("pour,recipe,minute,event\na,Plain,3,medium\n", "pour,started,minute,event\n", "\n"):
            with self.assertRaises(RuleError):
                pour_file.read(text)


if __name__ == "__main__":
    unittest.main()
