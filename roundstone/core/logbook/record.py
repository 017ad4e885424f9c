"""The log of past pours as the clock reads it: what was learned, and the pours it was learned from."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np

from ..batter import Noise, trade_knowledge
from ..forecast import TRADE_USUAL, Told, Usual, learn_hazards
from ..pour import PourState
from ..rest import learn_rest
from ..schedule import Schedule
from ..shelf import Shelf
from .colours import colour_logs
from .files import fragrance_logs
from .hands import learn_hands
from .learn import Fit, fit
from .past import Logged, Past, laid_out
from .taught import Taught
from .verdicts import learn_verdicts

HEATED = 40  # latest pours whose mould is reckoned to learn from: each takes some 20 ms, once [chosen]


def courses_of(latest_first: Sequence[Logged]) -> dict[str, Schedule]:
    """Courses by pour, oldest first: what is believed is of the pace that the latest have."""
    return {p.pour: p.schedule for p in reversed(latest_first)}


@dataclass(frozen=True)
class Record(Taught):
    """What was taught, with the finished pours themselves, `logged` latest first, and their fit."""

    fitted: Fit = Fit(trade_knowledge(()), {}, 0.0)  # noqa: RUF009 - a value nobody changes
    logged: tuple[Logged, ...] = ()

    def pour(self, pour: str) -> Logged | None:
        return next((p for p in self.logged if p.pour == pour), None)

    @property
    def schedules(self) -> dict[str, Schedule]:
        """Their courses by id, as they are learned from."""
        return courses_of(self.logged)

    @property
    def light(self) -> Taught:
        """Without the pours."""
        return Taught(**{f.name: getattr(self, f.name) for f in fields(Taught)})


def read(shelf: Shelf, pours: Sequence[Past], noise: Noise = Noise(), before: Record | None = None) -> Record:  # noqa: B008
    """Learn from finished pours. `before`, the record until now, only saves time."""
    trade = trade_knowledge(shelf.fragrances.values(), noise, shelf.others)
    # Scales change what is read of a weight, not what was poured.
    same = before is not None and before.shelf == shelf.model_copy(update={"scales": before.shelf.scales})
    known = {p.pour: p for p in before.logged} if before is not None and same else {}
    logged: list[Logged] = []
    left_out = []
    for past in pours:
        old = known.get(past.pour)
        if old is not None and old.past == past:
            logged.append(old)
            continue
        try:
            found = laid_out(past, shelf, trade)
        except ValueError:
            left_out.append(past.pour)
            continue
        logged += [found] if found is not None else []
    usual = TRADE_USUAL
    if logged:
        factors = {k: float(np.mean([p.sheet.factors[k] for p in logged])) for k in TRADE_USUAL.factors}
        usual = Usual(
            pours=len(logged), factors=factors, celsius=float(np.mean([p.recipe.pour_celsius for p in logged]))
        )
    fitted = fit(trade, courses_of(logged), before.fitted if before is not None else None)
    answered = {p.pour for p in [p for p in logged if p.told_of_heat][:HEATED]}
    told = [Told(p.recipe, p.schedule, p.state, p.sheet, p.heat if p.pour in answered else None) for p in logged]
    flags = learn_hazards(shelf, told, fitted.knowledge)
    poured = dict(Counter(f for p in logged for f in p.schedule.watched))
    return Record(
        shelf,
        fitted.knowledge,
        trade,
        usual,
        flags,
        poured,
        tuple(left_out),
        hands=learn_hands(p.schedule for p in logged),
        mishaps=mishaps([p.state for p in logged]),
        verdicts=learn_verdicts((p.schedule, p.state) for p in logged),
        rest=learn_rest(p.rested for p in logged if p.rested is not None),
        fragrances=fragrance_logs(logged),
        colours=colour_logs(shelf, logged),
        fitted=fitted,
        logged=tuple(logged),
    )


def mishaps(states: Sequence[PourState]) -> dict[str, dict[str, int]]:
    """By mishap: pours that were `told` of, those in which it was `seen`, and how it ended in them."""
    told = sum(bool(s.smooth or s.flags) for s in states)
    out: dict[str, dict[str, int]] = {}
    for state in states:
        for flag in {f.flag for f in state.flags}:
            out.setdefault(flag, {"seen": 0})["seen"] += 1
        for ended in state.mended:
            ways = out.setdefault(ended.flag, {"seen": 1})
            ways[ended.how] = ways.get(ended.how, 0) + 1
    return {flag: {"told": told, **ways} for flag, ways in out.items()}
