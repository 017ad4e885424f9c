"""Batches with a story: one riced and was folded, one is left until its second day, one is only planned."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID, uuid5
from zlib import crc32

from ..core.forecast import Job, project, unlearned
from ..core.logbook import foretell
from ..core.pour import EVENT, Event
from ..core.recipe import (
    Brief,
    ColourStep,
    CombineStep,
    LayerStep,
    Portion,
    Recipe,
    ScentStep,
    SplitStep,
    Step,
    WaitStep,
)
from ..core.schedule import NEW_NIGHT, NEXT_DAY
from ..core.sheet import weigh
from ..store import Workshop
from .rest import rest_events

STORY = UUID("5107e000-0000-4000-8000-000800000000")
RICED = "5107e000-0000-4000-8000-000800000001"
PAUSED = "5107e000-0000-4000-8000-000800000002"
RICED_AS = 26  # which rests of the demo it had
DAY_TWO = "second day"  # the batch of its later layers
PAUSED_FOR, RICED_AGO = timedelta(hours=21, minutes=40), timedelta(days=13, hours=3)

# What was tapped, by minute: clove in the copper half rices, and is folded into the cream.
_RICED: tuple[tuple[float, dict[str, Any]], ...] = (
    (0.9, {"kind": "seen", "stage": "emulsion"}),
    (1.0, {"kind": "temperature", "celsius": 37.5}),
    (2.3, {"kind": "split"}),
    (4.1, {"kind": "seen", "stage": "light", "portion": "Cream"}),
    (4.6, {"kind": "scent", "portion": "Copper"}),
    (5.0, {"kind": "flag", "flag": "ricing", "portion": "Copper"}),
    (5.2, {"kind": "seen", "stage": "medium", "portion": "Copper"}),
    (5.9, {"kind": "work", "tool": "stick", "seconds": 12, "portion": "Copper"}),
    (7.0, {"kind": "fold", "portion": "Copper", "into": ["Cream"]}),
    (7.2, {"kind": "pouring"}),
    (8.1, {"kind": "seen", "stage": "medium", "portion": "Cream"}),
    (9.6, {"kind": "ended"}),
)
# The first layer stands since yesterday; the second day's lye has not met its fats.
_PAUSED: tuple[tuple[float, dict[str, Any]], ...] = (
    (1.1, {"kind": "seen", "stage": "emulsion"}),
    (1.4, {"kind": "temperature", "celsius": 33.5}),
    (3.2, {"kind": "scent", "portion": "Bark"}),
    (5.5, {"kind": "seen", "stage": "light", "portion": "Bark"}),
    (6.1, {"kind": "pouring"}),
    (8.4, {"kind": "seen", "stage": "medium", "portion": "Bark"}),
    (8.8, {"kind": "step", "step": "layer Bark"}),
)


def over_two_days(layers: Recipe) -> Recipe:
    """A layered recipe whose later layers are combined by themselves, another day."""
    first, *rest = layers.design.portions
    later: list[Portion] = [p.model_copy(update={"batch": DAY_TWO}) for p in rest]
    coloured = {n for d in layers.additives for n in d.into}

    def made(*portions: Portion) -> list[Step]:
        dyed = tuple(p.name for p in portions if p.name in coloured)
        scented = tuple(p.name for p in portions if p.scented) if layers.scents else ()
        both = ((dyed, ColourStep(who=dyed)), (scented, ScentStep(who=scented)))
        return [step for names, step in both if names]

    steps: list[Step] = [CombineStep(), *made(first), LayerStep(who=(first.name,))]
    steps += [WaitStep(minutes=NEW_NIGHT, note=NEXT_DAY), CombineStep(batch=DAY_TWO), SplitStep(batch=DAY_TWO)]
    steps += [*made(*later), *(LayerStep(who=(p.name,)) for p in later)]
    design = layers.design.model_copy(update={"portions": (first, *later), "steps": tuple(steps)})
    return layers.model_copy(update={"design": design, "brief": Brief(scent="cedar in the dark layer")})


def wanted(recipe: Recipe, now: datetime) -> Recipe:
    """The same with a day by which it must be ready."""
    ready = (now + timedelta(days=66)).date().isoformat()
    brief = Brief(scent="warm and smoky", palette="husk, clay, moss, fig", top="low peaks", bars=24, ready=ready)
    return recipe.model_copy(update={"brief": brief})


def tell(
    workshop: Workshop,
    riced: tuple[str, Recipe],
    paused: tuple[str, Recipe],
    now: datetime,
) -> None:
    """Log both, and how the one that ended has rested."""
    log = _begun(workshop, RICED, *riced, now - RICED_AGO, _RICED)
    sheet = weigh(riced[1], workshop.ingredients.shelf()).sheet
    if sheet is not None:
        age = RICED_AGO.total_seconds() / 60
        rested = rest_events(RICED, RICED_AS, riced[1], sheet, log, age)
        after = [e for e in rested if e.kind not in ("verdict", "smooth")]
        told = (
            {"kind": "mended", "flag": "ricing", "how": "smooth"},
            {
                "kind": "next",
                "says": "Clove last, and never the stick",
                "about": "fragrance:clove-bark",
            },
            {"kind": "verdict", "came": "different"},
        )
        after += [_event(RICED, 100 + n, 10 + n / 10, fields) for n, fields in enumerate(told)]
        workshop.pours.write_down(RICED, sorted(after, key=lambda e: e.minute), now)
    _begun(workshop, PAUSED, *paused, now - PAUSED_FOR, _PAUSED)


def _begun(
    workshop: Workshop,
    pour: str,
    recipe_id: str,
    recipe: Recipe,
    started: datetime,
    tapped: Sequence[tuple[float, dict[str, Any]]],
) -> list[Event]:
    shelf = workshop.ingredients.shelf()
    sheet = weigh(recipe, shelf).sheet
    if sheet is None:
        raise ValueError(f"a demo recipe has a fault: {recipe.name}")
    told = foretell(project(Job(recipe, shelf, sheet), unlearned(shelf), crc32(recipe_id.encode())).forecast)
    workshop.pours.start(pour, recipe_id, started, told.model_dump())
    events = [_event(pour, n, minute, fields) for n, (minute, fields) in enumerate(tapped)]
    workshop.pours.write_down(pour, events, started)
    return events


def _event(pour: str, n: int, minute: float, fields: dict[str, Any]) -> Event:
    return EVENT.validate_python({"id": uuid5(STORY, f"{pour} {n}"), "minute": minute, "sure": True, **fields})
