"""What may follow what: a tap that can hardly be is doubted, stored all the same, and asked about."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..recipe import Recipe
from ..sheet import weigh
from ..shelf import STAGES, Shelf
from ..text import G, Text, say
from ..values import Fault, RuleError
from .after import Cut, Heeded, Misted, Rest, Unmoulded, Weighed, Wrapped
from .events import (
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
    NextTime,
    Note,
    NothingAmiss,
    PouringBegan,
    Remarked,
    Renamed,
    ScentIn,
    ScentInTurn,
    Split,
    StageSeen,
    Stands,
    TechniqueChanged,
    clock_text,
)
from .state import PourState, replay

# What may be told once the pour has ended, at whatever minute.
AFTER = Flagged | NothingAmiss | ColourSeen | LeftOut | NextTime | Mended | Judged | Remarked | Renamed | Rest | Heeded
WARM = 8 * 60.0  # minutes that an oven turned off may still be warm enough to light vapour [C]


@dataclass(frozen=True)
class Doubt:
    """What is odd about a tap after those before it: beside which of its fields, in words, and how it stands."""

    pointer: str
    message: Text
    stands: Stands


def check(event: Event, events: Sequence[Event], recipe: Recipe, shelf: Shelf) -> None:
    """Raise RuleError when a written event cannot follow the ones before it.

    A fault marked `sure` is a question: the same event with `sure` set is taken.
    """
    found = doubt(event, events, recipe, shelf)
    if found is not None and not (event.sure and found.stands != "cannot"):
        raise RuleError(Fault(pointer=found.pointer, message=found.message), sure=found.stands != "cannot")


def doubt(  # noqa: PLR0911, PLR0912
    event: Event, events: Sequence[Event], recipe: Recipe, shelf: Shelf, state: PourState | None = None
) -> Doubt | None:
    """What is odd about an event after those before it, if anything; `state`, what those come to, saves time."""
    if isinstance(event, Note):
        return _doubt_of_note(event, events)
    state = replay(events, recipe) if state is None else state
    after = isinstance(event, AFTER)
    if isinstance(event, ColourSeen | Judged) and state.ended is None:
        what = "Colour is judged" if isinstance(event, ColourSeen) else "How it came out is asked"
        return Doubt("/kind", say(what, " once it is in the mould: end the pour first."), "cannot")
    if isinstance(event, Rest) and state.ended is None:
        return Doubt("/kind", say("It rests once it is in the mould: end the pour first."), "cannot")
    if isinstance(event, Rest) and event.minute < (state.ended or 0.0):
        return Doubt("/minute", say("This pour ended at ", clock_text(state.ended or 0.0), ", after this."), "waits")
    if isinstance(event, Renamed):
        return _doubt_of_name(event, events, recipe)
    until = state
    if state.ended is not None and not after:
        # What was forgotten may be written in later, at its own minute.
        if isinstance(event, Ended):
            return Doubt("/kind", say("This pour ended at ", clock_text(state.ended), " already."), "cannot")
        if event.minute > state.ended:
            message = f"This pour ended at {clock_text(state.ended)}, before this tap."
            return Doubt("/kind", say(message), "waits")
        until = replay([e for e in events if isinstance(e, Note) or e.minute <= event.minute], recipe)
    portion = getattr(event, "portion", None)
    if portion is not None and portion not in {p.name for p in recipe.design.portions}:
        return Doubt("/portion", say("There is no portion called ", portion, "."), "cannot")
    if isinstance(event, Folded):
        odd = _doubt_of_fold(event, recipe)
        if odd is not None:
            return odd
    alone = any(p.name == portion and recipe.design.alone(p) for p in recipe.design.portions)
    if portion is not None and state.split is None and not after and not alone:
        return Doubt("/portion", say("The split was not tapped before this: tap it, or move this."), "counts")
    match event:
        case Misted() if (why := mist_and_oven(state, recipe, event.minute)) is not None:
            return Doubt("/kind", say(why), "counts")
        case Cut() | Unmoulded() if done := next((e for e in state.standing if e.kind == event.kind), None):
            return Doubt("/kind", say("It was ", _day(done.minute), " already: is this a second time?"), "counts")
        case Weighed():
            return _doubt_of_weight(event, state, recipe, shelf)
        case LayerTested() if not state.over:
            return Doubt("/kind", say("Pouring was not tapped before this: nothing is in the mould yet."), "counts")
        case Mended() if not any(f.flag == event.flag for f in state.flags):
            return Doubt("/flag", say("No ", event.flag.replace("-", " "), " was tapped before this."), "counts")
        case Combined() if event.batch not in recipe.design.batches:
            return Doubt("/batch", say("There is no batch called ", event.batch, "."), "cannot")
        case StageSeen():
            return _doubt_of_stage(event, until, recipe)
        case Split() if state.split is not None:
            return Doubt("/kind", say("Already split at ", clock_text(state.split), "."), "cannot")
        case Split() if not _to_split(recipe):
            return Doubt("/kind", say("There is no batch of several portions: nothing to split."), "cannot")
        case ScentIn() | LeftUnscented():
            return _doubt_of_scent(event, state, recipe)
        case ScentInTurn() if recipe.design.scent_at != "portions":
            return Doubt(
                "/kind", say("By this plan no portion waits for a scent of its own after the split."), "cannot"
            )
        case ScentInTurn() if state.in_turn is not None:
            return Doubt("/kind", say("Each waits for its portion's turn already."), "cannot")
        case ScentInTurn() if not any(p.scented and state.waits_for_scent(p.name) for p in recipe.design.portions):
            return Doubt("/kind", say("Nothing waits for its scent any more."), "cannot")
        case TechniqueChanged() if event.technique not in shelf.techniques:
            return Doubt("/technique", say("This technique is not known."), "cannot")
        case PouringBegan() if state.pouring is not None:
            return Doubt("/kind", say("Pouring began at ", clock_text(state.pouring), "."), "cannot")
        case PouringBegan() if state.split is None and _to_split(recipe):
            return Doubt("/kind", say("The batter was not split before it was poured. Poured as one?"), "counts")
        case PouringBegan() if _forgotten(recipe, state):
            message = (
                "The fragrance was not tapped: it counts as in, as planned. If it stays out, say so under ricing … (R)."
            )
            return Doubt("/kind", say(message), "counts")
        case PouringBegan() | Ended() if not state.looks:
            return Doubt("/kind", say("Nothing was seen of this batter, so nothing can be learned from it."), "counts")
    return None


def _day(minute: float) -> str:
    return f"on day {minute / 1440:.0f}" if minute >= 720 else f"at {clock_text(minute)}"


OVEN_NEXT = "A warm oven is next: alcohol vapour can light in it. Leave the mist out, or the oven."


def mist_and_oven(state: PourState, recipe: Recipe, minute: float) -> str | None:
    """Why no alcohol may be misted then: its vapour lights. None where no warm oven is on, cooling or next."""
    wraps = [e for e in state.standing if isinstance(e, Wrapped) and e.minute <= minute]
    last = wraps[-1] if wraps else None
    if last is None:
        return OVEN_NEXT if recipe.design.wrap == "oven" else None
    if last.how == "oven":
        return "The oven is on: alcohol vapour can light in it. Leave the mist out."
    if last.how == "oven-off" and minute - last.minute < WARM:
        return "The oven may still be warm: alcohol vapour can light in it. Leave the mist out."
    return None


GAINS, LOSES = 1.03, 0.75  # a bar's weight against the one before: beyond these a figure was mistyped [chosen]
LIGHTEST, HEAVIEST = 0.6, 1.25  # and against what its mould gives, for its first [chosen]


def _doubt_of_weight(event: Weighed, state: PourState, recipe: Recipe, shelf: Shelf) -> Doubt | None:
    """A bar only loses water, and begins as what was cut: what is far off bends its curve."""
    of = [e for e in state.standing if isinstance(e, Weighed) and (e.mould, e.bar) == (event.mould, event.bar)]
    before = [e for e in of if e.id != event.id and e.minute <= event.minute and e.id not in state.doubts]
    if before:
        was = max(before, key=lambda e: e.minute)
        if not LOSES * was.grams <= event.grams <= GAINS * was.grams:
            message = say(
                "Bar ", event.bar, " weighed ", G(was.grams), " ", _day(was.minute), ": ", G(event.grams), " now?"
            )
            return Doubt("/grams", message, "waits")
        return None
    sheet = weigh(recipe, shelf).sheet
    of_mould = sheet.bars[event.mould : event.mould + 1] if sheet is not None else ()
    for bars in of_mould:
        if not LIGHTEST * bars.grams <= event.grams <= HEAVIEST * bars.grams:
            message = say(
                "A bar of the ", bars.mould, " was to weigh about ", G(bars.grams, ".0f"), " wet: ", G(event.grams), "?"
            )
            return Doubt("/grams", message, "waits")
    return None


def _to_split(recipe: Recipe) -> bool:
    """Whether any batch is of several portions."""
    of = [recipe.design.batch_of(p) for p in recipe.design.portions]
    return len(of) > len(set(of))


def _doubt_of_fold(event: Folded, recipe: Recipe) -> Doubt | None:
    names = {p.name for p in recipe.design.portions}
    unknown = next((n for n in event.into if n not in names), None)
    if unknown is not None:
        return Doubt("/into", say("There is no portion called ", unknown, "."), "cannot")
    if event.portion in event.into:
        return Doubt("/into", say("A portion cannot be folded into itself."), "cannot")
    return None


def _doubt_of_name(event: Renamed, events: Sequence[Event], recipe: Recipe) -> Doubt | None:
    before = [e for e in events if isinstance(e, Renamed)]
    ever = {p.name for p in recipe.design.portions} | {n for e in before for n in (e.portion, e.to)}
    if event.portion not in ever:
        return Doubt("/portion", say("There is no portion called ", event.portion, "."), "cannot")
    if event.to in ever:
        return Doubt("/to", say(event.to, " is, or was, the name of a portion of this pour: take another."), "cannot")
    return None


def _forgotten(recipe: Recipe, state: PourState) -> bool:
    """Whether a fragrance was to go in before the first pour and nothing at all was said of it."""
    if recipe.design.scent_at == "pour" or state.in_turn is not None:
        return False  # whose turn comes later is not forgotten
    wanted = [p.name for p in recipe.design.portions if p.scented or recipe.design.scent_at == "emulsion"]
    return bool(recipe.scents) and not state.scents and any(map(state.waits_for_scent, wanted))


def _doubt_of_note(event: Note, events: Sequence[Event]) -> Doubt | None:
    """A note is about a tap that stands; about any other it says nothing."""
    if any(e.id == event.target for e in replay(events).standing):
        return None
    return Doubt("/target", say("There is no such tap, or it was taken back already."), "cannot")


def _doubt_of_stage(event: StageSeen, state: PourState, recipe: Recipe) -> Doubt | None:
    level = STAGES.index(event.stage)
    portions = [p.name for p in recipe.design.portions] if event.portion is None else [event.portion]
    back = [p for p in portions if state.level(p) > level]
    if not back:
        return None
    was = STAGES[state.level(back[0])]
    where = back[0] if state.split is not None else "The pot"
    message = (
        f"{where} was already at {was}; {event.stage} goes back. If it is so, the earlier tap will not be counted."
    )
    return Doubt("/stage", say(message), "waits")


def _doubt_of_scent(event: ScentIn | LeftUnscented, state: PourState, recipe: Recipe) -> Doubt | None:
    if not recipe.scents:
        return Doubt("/kind", say("This recipe has no fragrance."), "cannot")
    portions = [p for p in recipe.design.portions if event.portion in (None, p.name)]
    for p in portions:
        at = state.scented_at(p.name)
        already = say("The fragrance went into ", p.name, " at ", clock_text(at or 0.0), " already.")
        if at is not None and isinstance(event, ScentIn):
            return Doubt("/portion", say(already, " Keep it if it went in twice."), "waits")
        if at is not None and event.portion is not None:
            return Doubt("/portion", already, "cannot")
    plain = [p.name for p in portions if not p.scented]
    if plain and isinstance(event, ScentIn):
        return Doubt("/portion", say(plain[0], " was meant to stay unscented."), "counts")
    return None
