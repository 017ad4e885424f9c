"""What a maker's verdicts teach: how thick a technique may be for them, and what comes out different is worth.

A verdict is one answer about a whole pour, so it teaches slowly: each technique has one shift of its thick side, normal
about none, and the odds of "as planned" follow from how the steps that were seen then fit.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from ..pour import MID_STAGE, PourState
from ..recipe import INTO_MOULD
from ..schedule import Schedule
from ..shelf import STAGES, Band, Shelf, Technique
from ..simulate import LOOK_FROM, LOOK_TO, Utility, fit_of
from ..text import Text, figure, say

SHIFT_SD = 0.35  # levels, of one maker's technique about the table's [C]
SHIFTS = np.linspace(-1.2, 1.2, 49)  # levels that are tried [C]
LEAST_BAND = 0.2  # levels between the ends of a band, however far it is shifted [C]
SEEN_BY = 0.5  # minutes after a step began up to which a look is of what went in [C]
SURE = 0.9  # odds of "as planned" where everything fits; one less that where nothing does [C]
SELLS = 20.0  # pours that came out different and would have sold, which are believed before any is seen [C]
WORTH_SAYING = 0.2  # levels of a shift [C]
ANYTHING = 6.0  # level from which a band has no thick side


@dataclass(frozen=True)
class Verdicts:
    """`bands` is the shift of each technique's thick side in levels, and from how many verdicts; of pours that did not
    come out as planned `sold` would have sold and `lost` were lost."""

    bands: Mapping[str, tuple[float, int]] = field(default_factory=dict)
    sold: int = 0
    lost: int = 0

    def utility(self, stated: Utility) -> Utility:
        """What different is worth, where a share of it turned out to be lost."""
        sells = (SELLS + self.sold) / (SELLS + self.sold + self.lost)
        return replace(stated, different=sells * stated.different + (1 - sells) * stated.lost)

    def on(self, shelf: Shelf) -> Shelf:
        """A shelf whose techniques take batter as thick as this maker was seen to pour it."""
        moved = {i: shifted(shelf.techniques[i], s) for i, (s, _) in self.bands.items() if i in shelf.techniques}
        return shelf.model_copy(update={"techniques": {**shelf.techniques, **moved}}) if moved else shelf

    def message(self, shelf: Shelf, technique: str) -> Text:
        """What is known of a technique by verdicts, in one sentence; empty where that is the table's."""
        shift, pours = self.bands.get(technique, (0.0, 0))
        if abs(shift) < WORTH_SAYING or technique not in shelf.techniques:
            return Text.NONE
        name = shelf.techniques[technique].name.lower()
        times = f"{pours} verdict{'s' if pours > 1 else ''}"
        if shift > 0:
            by = say("about ", figure(shift, ".1f"), " of a stage thicker")
            return say("Your ", name, " still works ", by, " than the table has it (", times, ").")
        return say(
            "Your ",
            name,
            " fails about ",
            figure(-shift, ".1f"),
            " of a stage sooner than the table has it (",
            times,
            ").",
        )


def shifted(technique: Technique, by: float) -> Technique:
    """A technique whose steps into the mould take batter thicker by so many levels; no band is turned over."""
    steps = []
    for step in technique.steps:
        moves = step.do in INTO_MOULD and step.weight > 0 and step.band[2] < ANYTHING
        steps.append(step.model_copy(update={"band": thicker(step.band, by)}) if moves else step)
    return technique.model_copy(update={"steps": tuple(steps)})


def thicker(band: Band, by: float) -> Band:
    """A band whose thick side is so many levels further on; its ends stay in order.

    >>> thicker((0.0, 1.0, 3.5, 4.5), 0.5), thicker((2.0, 3.0, 3.5, 4.0), -1.0)
    ((0.0, 1.0, 4.0, 5.0), (2.0, 3.0, 3.2, 3.4000000000000004))
    """
    thin, lo, hi, thick = band
    high = max(hi + by, lo + LEAST_BAND)
    return thin, lo, high, max(thick + by, high + LEAST_BAND)


def _fits(schedule: Schedule, state: PourState) -> tuple[np.ndarray, np.ndarray]:
    """By step that was done and seen: its weight, and its fit at every shift (steps × SHIFTS)."""
    weights, fits = [], []
    for placed in schedule.reconciled.done:
        wants = placed.task.wants
        if placed.skipped or placed.task.do not in INTO_MOULD or wants.weight <= 0:
            continue
        seen = [
            looks[-1].level
            for i in placed.task.lanes
            if (looks := [k for k in state.looks_of(schedule.bare[i].name) if k.minute <= placed.start + SEEN_BY])
        ]
        if not seen:
            continue
        level = np.array([max(seen) + (MID_STAGE if max(seen) < len(STAGES) - 1 else 0.0)])
        weights.append(wants.weight)
        fits.append([float(fit_of(thicker(wants.band, s), level)[0]) for s in SHIFTS])
    return np.array(weights), np.array(fits)


def learn_verdicts(pours: Iterable[tuple[Schedule, PourState]]) -> Verdicts:
    """Posterior means on a grid, technique by technique; a pour that changed its technique tells of the last one.

    >>> learn_verdicts([])
    Verdicts(bands={}, sold=0, lost=0)
    """
    logs: dict[str, np.ndarray] = {}
    counts: dict[str, int] = {}
    sold = lost = 0
    for schedule, state in pours:
        if state.came is None:
            continue
        sold += state.came == "different"
        lost += state.came == "lost"
        weights, fits = _fits(schedule, state)
        blamed = state.came != "drawn" and state.flags  # what went wrong was told, and is not the technique's fault
        if not len(weights) or blamed:
            continue
        kept = np.clip((weights @ fits / weights.sum() - LOOK_FROM) / (LOOK_TO - LOOK_FROM), 0, 1)
        drawn = (1 - SURE) + (2 * SURE - 1) * kept
        technique = schedule.technique.id
        logs.setdefault(technique, -0.5 * (SHIFTS / SHIFT_SD) ** 2)
        logs[technique] = logs[technique] + np.log(drawn if state.came == "drawn" else 1 - drawn)
        counts[technique] = counts.get(technique, 0) + 1
    bands = {}
    for technique, log in logs.items():
        weight = np.exp(log - log.max())
        bands[technique] = (round(float(weight @ SHIFTS / weight.sum()), 3), counts[technique])
    return Verdicts(bands, sold, lost)
