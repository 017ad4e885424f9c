"""Slatewick, an invented workshop, the same every time it is seeded."""

from datetime import datetime, timedelta
from io import BytesIO
from uuid import UUID
from zlib import crc32

import numpy as np
from PIL import Image, ImageDraw

from ..core.batter import scent_column, trade_knowledge
from ..core.forecast import Job, project, unlearned
from ..core.logbook import Selling, foretell
from ..core.pour import ColourSeen, Event, Flagged, NothingAmiss, PouringBegan, ScentIn, Shade
from ..core.recipe import (
    Recipe,
    Scent,
    pattern_of,
)
from ..core.sheet import Lot, MakeLot, made_lot, weigh
from ..core.shelf import (
    BlendPart,
    Claim,
    Family,
    Fragrance,
    IntoPremix,
    NewAdditive,
    NewFat,
    NewFragrance,
    NewInfusion,
    NewPremix,
    blended,
    make,
)
from ..standins.batter import SimulatedMaker, temperament
from ..store import Photo, Workshop
from ..store.settings import SELLING
from .heard import hear
from .recipes import _FRAGRANCES, _LOTS, RECIPES, _uuid, fragrances
from .rest import rest_events
from .story import PAUSED, PAUSED_FOR, tell, wanted

SEED = 20_261
PAST_POURS = 25


# Which recipe each past pour used, and the fragrance in place of its own, if any.
_PAST: tuple[tuple[int, str | None], ...] = (
    (1, None),
    (4, None),
    (3, None),
    (6, None),
    (1, "bay-lime"),
    (2, None),
    (5, None),
    (4, None),
    (0, "oat-straw"),
    (3, "walnut-husk"),
    (6, "vanilla-smoke"),
    (1, None),
    (5, "spearmint"),
    (2, "quince"),
    (4, None),
    (3, None),
    (6, "quince"),
    (1, None),
    (7, None),
    (0, "quince"),
    (5, None),
    (4, None),
    (2, None),
    (1, None),
    (0, "fig-vetiver"),
)
RUNNING = "5107e000-0000-4000-8000-000000000026"
RUNNING_FOR = timedelta(minutes=3, seconds=40)


def seed(workshop: Workshop, now: datetime) -> None:
    """Fill an empty data file: 10 recipes, 13 fragrances, 26 logged pours, one left until tomorrow, one in progress."""
    rng = np.random.Generator(np.random.PCG64(SEED))
    for fragrance in fragrances():
        workshop.ingredients.add_fragrance(fragrance)
    shelf = workshop.ingredients.shelf()
    hidden = {scent_column(f[0]): f[-1] for f in _FRAGRANCES}
    truth = temperament(trade_knowledge(shelf.fragrances.values()), rng, hidden)
    maker = SimulatedMaker(truth, shelf, rng)
    started = now - timedelta(days=3 * (PAST_POURS - 1), hours=20)  # the last one may be unmoulded today
    for n, recipe in enumerate(RECIPES):
        workshop.recipes.add(_uuid(n, 1), recipe, started)

    for n, (index, scent) in enumerate(_PAST):
        recipe = RECIPES[index]
        if scent is not None:
            recipe = recipe.model_copy(update={"scents": (Scent(fragrance=scent, load=recipe.scents[0].load),)})
        begun = started + timedelta(days=3 * n)
        _pour(workshop, maker, _uuid(index, 1), recipe, _uuid(n + 1, 2), begun)
        pour = workshop.pours.get(_uuid(n + 1, 2))
        sheet = weigh(pour.recipe, shelf).sheet
        if sheet is not None:
            age = (now - begun).total_seconds() / 60
            workshop.pours.write_down(pour.id, rest_events(pour.id, n, pour.recipe, sheet, list(pour.events), age), now)
    tell(workshop, (_uuid(2, 1), RECIPES[2]), (_uuid(9, 1), RECIPES[9]), now)
    for n, recipe in enumerate(RECIPES):
        _draft(workshop, _uuid(n, 1), wanted(recipe, now) if n == 8 else recipe, now - timedelta(days=n + 1))

    workshop.patterns.keep(pattern_of(RECIPES[8], "five-hung", "Five, hung"))
    _stock(workshop, now)
    _pictures(workshop)
    hear(workshop, now)
    sold = Selling(pattern="S{yy}{month}-{nn}", maker="Slatewick soap, 3 Kiln Yard, Slatewick", best_months=18)
    workshop.settings.keep(SELLING, sold.model_dump())

    recipe = RECIPES[6]
    sheet = weigh(recipe, shelf).sheet
    if sheet is None:
        raise ValueError("a demo recipe has a fault")
    begun = now - RUNNING_FOR
    foretold = foretell(project(Job(recipe, shelf, sheet), unlearned(shelf), SEED).forecast)
    workshop.pours.start(RUNNING, _uuid(6, 1), begun, foretold.model_dump())
    minutes = RUNNING_FOR.total_seconds() / 60
    tapped = maker.pour(recipe, sheet, until=minutes, finished=False)
    # Split, looked at, and the fragrances stand ready.
    upto = min((e.minute for e in tapped if isinstance(e, ScentIn | PouringBegan)), default=minutes)
    tapped = [e for e in tapped if e.minute < min(upto, minutes - 0.2)]
    workshop.pours.write_down(RUNNING, tapped, now)
    workshop.numbers.give(lambda moment: moment)


def _stock(workshop: Workshop, now: datetime) -> None:
    """Lots, a fat by its certificate, and an acid that is in no table."""
    today = now.date()
    lots = {
        _uuid(n, 3): Lot(
            item=item,
            label=label,
            grams=grams,
            counted=today - timedelta(days=counted),
            expires=None if days is None else today + timedelta(days=days),
            price_per_kg=price,
        )
        for n, (item, label, grams, counted, days, price) in enumerate(_LOTS, start=1)
    }
    workshop.lots.save_all(lots)
    shelf = workshop.ingredients.shelf()
    workshop.ingredients.add_custom(
        make(NewFat(name="Olive, spring drum", kin="olive", sv=188.6), "olive-spring-drum", shelf)
    )
    succinic = NewAdditive(
        name="Succinic acid",
        sort="acid",
        moment="before-lye",
        usual=8,
        most=30,
        molar_mass=118.09,
        valence=2,
        inci="Sodium Succinate",
    )
    workshop.ingredients.add_custom(make(succinic, "succinic-acid", shelf))
    _made_here(workshop, now)


def _made_here(workshop: Workshop, now: datetime) -> None:
    """A blend of two that were poured, a colourant dispersed ahead, and an infused oil that keeps for another while."""
    shelf = workshop.ingredients.shelf()
    parts = tuple(BlendPart(fragrance=f, share=s) for f, s in (("quince", 0.55), ("cedar-shaving", 0.45)))
    blend = blended(NewFragrance(name="Orchard shed", family=Family.OTHER, claim=Claim.UNKNOWN, parts=parts), shelf)
    workshop.ingredients.add_fragrance(Fragrance.model_validate(blend.model_dump() | {"id": "orchard-shed"}))
    infusion = NewInfusion(name="Annatto olive", base="fat:olive", steeped="annatto seed", tint="#d99a3a")
    black = (IntoPremix(item="additive:charcoal", grams=30), IntoPremix(item="fat:castor", grams=70))
    premix = NewPremix(name="Charcoal in castor", parts=black)
    workshop.ingredients.add_custom(make(infusion, "annatto-olive", shelf))
    workshop.ingredients.add_custom(make(premix, "charcoal-in-castor", shelf))
    shelf = workshop.ingredients.shelf()
    for n, (item, grams, days) in enumerate((("fat:annatto-olive", 400, 41), ("additive:charcoal-in-castor", 120, 12))):
        making = MakeLot(item=item, grams=grams, at=now - timedelta(days=days))
        workshop.lots.save_all({_uuid(n, 6): made_lot(making, shelf, (), now)})


def _draft(workshop: Workshop, recipe_id: str, recipe: Recipe, now: datetime) -> None:
    workshop.recipes.save(recipe_id, recipe, workshop.recipes.get(recipe_id).revision, now)


def _pour(
    workshop: Workshop, maker: SimulatedMaker, recipe_id: str, recipe: Recipe, pour_id: str, started: datetime
) -> None:
    sheet = weigh(recipe, maker.shelf).sheet
    if sheet is None:
        raise ValueError(f"a demo recipe has a fault: {recipe.name}")
    _draft(workshop, recipe_id, recipe, started)
    job, knows = Job(recipe, maker.shelf, sheet), unlearned(maker.shelf)
    foretold = foretell(project(job, knows, crc32(recipe_id.encode())).forecast)
    workshop.pours.start(pour_id, recipe_id, started, foretold.model_dump())
    events = maker.pour(recipe, sheet)
    workshop.pours.write_down(pour_id, [*events, *_afterwards(recipe, pour_id, events[-1].minute)], started)


def _afterwards(recipe: Recipe, pour_id: str, ended: float) -> list[Event]:
    """What the maker noted once it was poured: clove rices, vanilla browns, most is smooth and some is never said."""
    number = UUID(pour_id).int & 0xFFFF
    ids = (UUID(_uuid(10 * number + n, 4)) for n in range(5))
    scents = recipe.fragrances
    out: list[Event] = []
    if "clove-bark" in scents and number % 2:
        out.append(Flagged(id=next(ids), minute=ended, flag="ricing", portion="Copper"))
    if number % 5:
        out.append(NothingAmiss(id=next(ids), minute=ended))
    scented = next((p.name for p in recipe.design.portions if p.scented), None)
    if "vanilla-smoke" in scents:
        for days, shade in _BROWNING:
            out.append(ColourSeen(id=next(ids), minute=ended, portion=scented, days=days, shade=shade))
    elif scents and number % 3 == 0:
        out.append(ColourSeen(id=next(ids), minute=ended, portion=scented, days=30, shade="true"))
    return out


_BROWNING: tuple[tuple[float, Shade], ...] = ((0, "true"), (7, "tan"), (35, "brown"))
_BARS = ((0.0, "", (221, 208, 180)), (7.0, "", (186, 150, 104)), (35.0, "full brown", (112, 74, 44)))


def _pictures(workshop: Workshop) -> None:
    """Drawn bars of the vanilla pour as it browned; no camera was there."""
    pour_id = _uuid(_PAST.index((6, "vanilla-smoke")) + 1, 2)
    for n, (days, note, colour) in enumerate(_BARS, start=1):
        picture = Image.new("RGB", (640, 440), (205, 211, 205))
        draw = ImageDraw.Draw(picture)
        draw.rounded_rectangle((90, 70, 550, 370), 22, fill=colour)
        for x in range(150, 540, 92):
            draw.line([(x + 14 * ((y // 20) % 3 - 1), y) for y in range(84, 357, 20)], fill=(238, 235, 226), width=15)
        out = BytesIO()
        picture.save(out, "JPEG", quality=80)
        workshop.pictures.add(Photo(_uuid(n, 5), pour_id, days, note), out.getvalue())


def refresh_running(workshop: Workshop, now: datetime) -> None:
    """Let the pours in progress have begun a few minutes ago and yesterday, unless someone has gone on with them."""
    for running, since in ((RUNNING, RUNNING_FOR), (PAUSED, PAUSED_FOR)):
        pour = workshop.pours.get(running)
        if all(e.minute <= since.total_seconds() / 60 for e in pour.events) and not pour.ended:
            workshop.pours.restart_clock(running, now - since)
