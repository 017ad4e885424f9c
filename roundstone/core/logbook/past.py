"""A finished pour as it is learned from: weighed, replayed and laid out."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from ..batter import Knowledge
from ..forecast import mould_pace
from ..heat import mould_heat
from ..pour import Event, PourState, replay
from ..recipe import Recipe
from ..rest import RestLog, rested, shown_pace
from ..schedule import Schedule, build_schedule
from ..sheet import Sheet, weigh
from ..shelf import USUAL_HUMIDITY, Shelf
from ..values import Share


@dataclass(frozen=True)
class Past:
    """A pour as the store keeps it; `month` is the year and month it was begun in, as 2031-05, `sheet` what it was
    weighed by, where that was kept.
    """

    pour: str
    recipe: Recipe
    events: Sequence[Event]
    month: str = ""
    sheet: Sheet | None = None


@dataclass(frozen=True)
class Logged:
    """A finished pour, weighed and laid out."""

    past: Past
    sheet: Sheet
    state: PourState
    schedule: Schedule
    claimed_pace: float = 1.0
    humidity: Share = USUAL_HUMIDITY

    @property
    def pour(self) -> str:
        return self.past.pour

    @property
    def recipe(self) -> Recipe:
        return self.past.recipe

    @cached_property
    def heat(self) -> float:
        """Odds of overheating in its mould, by what its fragrance is claimed to do."""
        return mould_heat(self.recipe, self.sheet, self.claimed_pace).overheats

    @cached_property
    def rested(self) -> RestLog | None:
        """What its rest teaches."""
        rest = rested(self.state, self.recipe)
        return None if rest is None else RestLog(self.recipe, self.sheet, rest, shown_pace(self.state), self.humidity)

    @property
    def told_of_heat(self) -> bool:
        """The maker said whether it overheated."""
        return self.state.smooth or any(f.flag == "overheating" for f in self.state.flags)

    @property
    def scents(self) -> set[str]:
        """The fragrances that did go in."""
        return {s for lane in self.schedule.seen for s in lane.added}


def laid_out(past: Past, shelf: Shelf, trade: Knowledge) -> Logged | None:
    """A pour as it is learned from; None while it has not ended, or where it is kept out of what is learned.

    ValueError where its recipe can be weighed no more.
    """
    sheet = past.sheet or weigh(past.recipe, shelf).sheet
    if sheet is None:
        raise ValueError(past.pour)
    state = replay(past.events, past.recipe)
    if state.ended is None or not state.taught:
        return None
    schedule = build_schedule(past.recipe, sheet, trade, shelf, state, state.ended)
    return Logged(past, sheet, state, schedule, mould_pace(past.recipe, trade), shelf.humidity)
