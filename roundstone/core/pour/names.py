"""Portions that were renamed at the bench: every event and the recipe in the names they carry last."""

from collections.abc import Mapping, Sequence

from ..recipe import Recipe
from ..sheet import Line, Sheet
from ..sheet.adjust import key_with, renamed
from .events import Event, Renamed
from .state import replay


def called(recipe: Recipe, events: Sequence[Event]) -> tuple[Recipe, tuple[Event, ...]]:
    """A recipe and its events by the last names of its portions; both as they are where nothing was renamed.

    A name belongs to one portion for the whole pour, so a tap under an old one, however late it comes, is understood.
    """
    now = last_names(events)
    if not now:
        return recipe, tuple(events)
    for row, portion in enumerate(recipe.design.portions):
        if portion.name in now:
            recipe = renamed(recipe, row, now[portion.name])
    return recipe, tuple(by_last_names(e, now) for e in events)


def sheet_called(sheet: Sheet, events: Sequence[Event]) -> Sheet:
    """A sheet as weighed, by the last names of its portions."""
    now = last_names(events)
    if not now:
        return sheet

    def named(line: Line) -> Line:
        if line.into not in now:
            return line
        into = now[line.into]
        return line.model_copy(update={"into": into, "note": line.note.renamed(f"into {line.into};", f"into {into};")})

    portions = tuple(
        p.model_copy(update={"name": now.get(p.name, p.name), "own": tuple(map(named, p.own))}) for p in sheet.portions
    )
    limit = (
        sheet.limit.model_copy(update={"portion": now.get(sheet.limit.portion, sheet.limit.portion)})
        if sheet.limit
        else None
    )
    return sheet.model_copy(update={"lines": tuple(map(named, sheet.lines)), "portions": portions, "limit": limit})


def last_names(events: Sequence[Event]) -> dict[str, str]:
    """What a portion is called now, by every name it had before."""
    if not any(isinstance(e, Renamed) for e in events):
        return {}
    state, now = replay(events), dict[str, str]()
    for e in state.standing:
        if isinstance(e, Renamed) and not (e.id in state.doubts and state.doubts[e.id].stands != "counts"):
            was = now.get(e.portion, e.portion)
            now = {k: e.to if v == was else v for k, v in now.items()} | {was: e.to}
    return now


def by_last_names(event: Event, now: Mapping[str, str]) -> Event:
    """An event with what it names called as it is now."""
    if isinstance(event, Renamed):
        return event
    changes: dict[str, object] = {}
    portion = getattr(event, "portion", None)
    if portion is not None and portion in now:
        changes["portion"] = now[portion]
    into = getattr(event, "into", ())
    if set(into) & set(now):
        changes["into"] = tuple(now.get(n, n) for n in into)
    step = getattr(event, "step", "")
    for was, name in now.items():
        if step and step != (step := key_with(step, was, name)):
            changes["step"] = step
    return event.model_copy(update=changes) if changes else event
