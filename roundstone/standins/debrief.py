"""What a practice pour is told about afterwards: the truth, the best act, one lesson."""

from collections.abc import Iterator, Sequence

from ..core.advise import acts
from ..core.forecast import Faces, Job, faces_of, similarity
from ..core.pour import (
    Event,
    clock_text,
    label,
    replay,
)  # fmt: skip
from ..core.recipe import Recipe
from ..core.sheet import Sheet
from ..core.shelf import Shelf
from ..core.simulate import Outcome, begin, play
from ..core.text import Text, say
from ..core.values import Minutes, Share, Value
from .practice import TEMPERS, Moment, Temper, Truth, at_minute

JUST_AFTER = 0.05  # minutes after a tap at which every act is tried [C]
BEST_AT = 10  # moments at which every act is tried afterwards [chosen]
WORTH_SAYING = 0.03  # in value: what would have kept less more is not a lesson [C]


class Choice(Value):
    """An act that was possible at a minute, and what it would have kept."""

    minute: Minutes
    does: str
    value: Share


class ToldThen(Value):
    """What the forecast said at a minute, after what."""

    minute: Minutes
    after: Text
    drawn: Share
    headline: Text


class Debrief(Value):
    """What it was; what came of it and of never changing; what the forecast said when; the change that keeps most.

    Values are of the look and the batter, from 0 to 1, as the advice counts them."""

    temper: Temper
    message: Text
    kept: Share
    drawn: Share
    lost: Share
    never: Share
    best: Choice | None
    told: tuple[ToldThen, ...]
    technique: str
    meant: str
    faces: Faces
    lesson: str


def _value(moment: Moment, drawn: str) -> tuple[float, float, float, Outcome]:
    """Value, share as planned and share lost of a pour played to its end from a moment."""
    _, done = begin(moment.context)
    reconciled = moment.schedule.reconciled
    outcome = play(moment.context, moment.at, reconciled.ahead, reconciled.under, done=done)
    alike = 1.0 if reconciled.drawn else similarity(moment.shelf.techniques[drawn], reconciled.technique)
    value = float(outcome.value(moment.context.utility, alike)[0])
    return value, float(outcome.drawn[0]) * (1.0 if reconciled.drawn else alike), float(outcome.lost[0]), outcome


def _choices(moment: Moment, sheet: Sheet) -> Iterator[Choice]:
    """Every change that was possible at a moment, played out in truth."""
    reconciled, technique = moment.schedule.reconciled, moment.schedule.technique
    recipe, shelf = moment.recipe, moment.shelf
    _, done = begin(moment.context)
    drawn = shelf.techniques[recipe.design.technique]
    alike = 1.0 if reconciled.drawn else similarity(drawn, technique)
    names = [lane.name for lane in moment.schedule.bare]
    job = Job(recipe, shelf, sheet)
    for act in acts(moment.context, moment.at, reconciled.ahead, reconciled.under, job, technique):
        if act.kind == "go":
            continue
        outcome = play(moment.context, moment.at, act.tasks, act.left, act.credit, done)
        value = (
            float(outcome.value(moment.context.utility, act.similarity if act.kind == "switch" else alike)[0])
            - act.cost
        )
        yield Choice(minute=moment.schedule.now, does=act.words(names), value=min(max(value, 0.0), 1.0))


CHANGES = ("switch", "skip", "fold", "spare")


def debrief(
    truth: Truth,
    recipe: Recipe,
    sheet: Sheet,
    shelf: Shelf,
    events: Sequence[Event],
    told: Sequence[ToldThen],
    meant: str,
    search: bool = True,
) -> Debrief:
    """What came of a practice pour that has ended; with `search` also which choice would have kept more."""
    drawn = recipe.design.technique
    state = replay(events, recipe)
    end = state.ended or max((e.minute for e in events), default=0.0)
    moment = at_minute(truth, recipe, sheet, shelf, events, end)
    kept, as_drawn, lost, outcome = _value(moment, drawn)
    changes = [e for e in state.standing if e.kind in CHANGES]
    never = kept
    if changes:
        before = [e for e in events if e.minute < changes[0].minute]
        never = _value(at_minute(truth, recipe, sheet, shelf, before, changes[0].minute), drawn)[0]
    best: Choice | None = None
    moments = [e.minute for e in state.standing if e.kind in ("split", "scent", "seen", "pouring")]
    for minute in sorted(set(moments))[-BEST_AT:] if search else ():
        before = [e for e in events if e.minute <= minute]
        for choice in _choices(at_minute(truth, recipe, sheet, shelf, before, minute + JUST_AFTER), sheet):
            if best is None or choice.value > best.value + 1e-9:
                best = choice
    if best is not None and best.value < kept + WORTH_SAYING:
        best = None
    return Debrief(
        temper=truth.temper,
        message=TEMPERS[truth.temper],
        kept=min(max(kept, 0.0), 1.0),
        drawn=min(max(as_drawn, 0.0), 1.0),
        lost=min(max(lost, 0.0), 1.0),
        never=min(max(never, 0.0), 1.0),
        best=best,
        told=tuple(told),
        technique=moment.schedule.technique.name,
        meant=meant,
        faces=faces_of(recipe, shelf, moment.schedule.technique.id, outcome, truth.seed),
        lesson=_lesson(kept, never, bool(changes), best),
    )


def _lesson(kept: float, never: float, changed: bool, best: Choice | None) -> str:
    """What is to be taken from it, in one sentence or two."""
    words = f"You kept {100 * kept:.0f} % of what it was worth."
    if changed and kept > never + WORTH_SAYING:
        words += f" Staying with the drawn design would have kept {100 * never:.0f}: the change was right."
    elif changed and kept < never - WORTH_SAYING:
        words += f" Staying with the drawn design would have kept {100 * never:.0f}."
    if best is not None:
        words += f" Most would have been kept at {clock_text(best.minute)}: {best.does}, {100 * best.value:.0f}."
    elif not changed:
        words += " No other choice would have kept clearly more."
    return words


def after(events: Sequence[Event]) -> Text:
    """The last thing tapped, in words."""
    return say(label(events[-1]) if events else "lye met fats")
