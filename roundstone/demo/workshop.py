"""Slatewick, an invented workshop, the same every time it is seeded."""

from datetime import datetime, timedelta
from io import BytesIO
from uuid import UUID
from zlib import crc32

import numpy as np
from PIL import Image, ImageDraw

from ..core.batter import scent_column, trade_knowledge
from ..core.forecast import Job, project, unlearned
from ..core.logbook import foretell
from ..core.pour import ColourSeen, Event, Flagged, NothingAmiss, PouringBegan, Shade
from ..core.recipe import (
    Box,
    ByConcentration,
    ByMoulds,
    ByWeight,
    Carrier,
    Design,
    Dose,
    FatShare,
    LiquidUse,
    Portion,
    Recipe,
    Scent,
    Size,
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
from ..store.patterns import keep_pattern
from .rest import rest_events
from .story import PAUSED, PAUSED_FOR, over_two_days, tell, wanted

SEED = 20_261
PAST_POURS = 25

# id, name, family, claim, the supplier's words, vanillin share, note, limit in the bar, hidden ln-rate per 1 % of fats
_FRAGRANCES = (
    ("fig-vetiver", "Fig & vetiver", "fruity", "slight", "slight acceleration", 0.0, "", 0.041, 0.30),
    ("walnut-husk", "Walnut husk", "wood", "none", "behaves well", 0.004, "", 0.06, 0.02),
    ("quince", "Quince paste", "fruity", "moderate", "some acceleration, work cool", 0.002, "", 0.05, 0.12),
    (
        "iris-root",
        "Iris root",
        "floral",
        "strong",
        "accelerates",
        0.0,
        "whisk only; it went stiff in the jug once",
        0.032,
        0.62,
    ),
    ("clove-bark", "Clove bark", "spice", "seizes", "may seize", 0.0, "", 0.017, 0.80),
    ("bay-lime", "Bay & lime", "citrus", "none", "no acceleration", 0.0, "", 0.028, -0.03),
    ("cedar-shaving", "Cedar shaving", "wood", "slight", "mild", 0.0, "", 0.05, 0.06),
    ("oat-straw", "Oat straw", "sweet", "unknown", "", 0.009, "supplier says nothing about trace", 0.065, 0.20),
    ("plum-stone", "Plum stone", "musk", "unknown", "", 0.0, "", 0.045, 0.15),
    ("spearmint", "Spearmint", "mint", "slows", "slows trace a little", 0.0, "", 0.055, -0.06),
    ("green-tomato", "Green tomato leaf", "fresh", "none", "no trouble reported", 0.0, "", 0.05, 0.33),
    ("vanilla-smoke", "Vanilla & smoke", "sweet", "moderate", "discolours to brown", 0.08, "", 0.07, 0.25),
)

_LOAF = ByMoulds(moulds=(Box(length=24, width=8, fill=6.1, cut=28),))
_SMALL = ByMoulds(moulds=(Box(length=20, width=7, fill=6, cut=25),))


def _recipe(
    name: str,
    fats: dict[str, float],
    scent: tuple[str, float] | None,
    technique: str,
    portions: tuple[tuple[str, float, bool], ...],
    celsius: float,
    lye: float = 0.33,
    superfat: float = 0.05,
    milk: tuple[str, float] | None = None,
    extra: dict[str, float] | None = None,
    size: Size = _LOAF,
    colours: tuple[tuple[str, float, str, str | None], ...] = (),
) -> Recipe:
    """`colours` are (additive, g per kg of the portion's fats, portion, fat it is dispersed in or None for water)."""
    dispersed = tuple(
        Dose(additive=a, amount=g, into=p, carrier=Carrier(fat=fat, parts=3 if fat else 2)) for a, g, p, fat in colours
    )
    return Recipe(
        name=name,
        fats=tuple(FatShare(fat=f, share=s) for f, s in fats.items()),
        superfat=superfat,
        water=ByConcentration(share=lye),
        liquids=(LiquidUse(liquid=milk[0], share=milk[1], frozen=True),) if milk else (),
        additives=(*(Dose(additive=a, amount=g) for a, g in (extra or {}).items()), *dispersed),
        scents=(Scent(fragrance=scent[0], load=scent[1]),) if scent else (),
        pour_celsius=celsius,
        room_celsius=19,
        size=size,
        design=Design(
            portions=tuple(
                Portion(name=n, share=s, scent=float(sc), colour=n.lower(), tint=_TINTS.get(n)) for n, s, sc in portions
            ),
            technique=technique,
        ),
    )


# How each portion's soap shall look, by its name.
_TINTS = {
    "Husk": "#c79a5b",
    "Bone": "#efe6d4",
    "Weir": "#5f8f8c",
    "Foam": "#eef0ea",
    "Copper": "#a8623c",
    "Cream": "#f0e3c4",
    "Bark": "#6b4a36",
    "Sap": "#dcc27a",
    "Slate": "#44596b",
    "Pan": "#c9cfd0",
    "Brine": "#7fa3a8",
    "Char": "#35363a",
    "Ash": "#d8d6cd",
    "Walnut, the darkest of the fade": "#4d3527",
    "Pale": "#e9d8b8",
    "Clay": "#b85f3c",
    "Moss": "#74883f",
    "Fig": "#6d3552",
}
_TWO = (("Slate", 0.6, True), ("Bone", 0.4, False))
RECIPES = (
    _recipe(
        "Hopper Oat",
        {"olive": 0.45, "coconut": 0.25, "shea": 0.15, "sunflower-oleic": 0.10, "castor": 0.05},
        ("fig-vetiver", 0.032),
        "drop-swirl",
        (("Husk", 0.6, True), ("Bone", 0.4, False)),
        31,
        milk=("goat-milk", 0.5),
        extra={"sugar": 8, "kaolin": 12},
        colours=(("iron-oxide", 1.5, "Husk", "olive"), ("titanium-dioxide", 6, "Bone", None)),
    ),
    _recipe(
        "Millrace",
        {"olive": 0.62, "coconut": 0.22, "rapeseed": 0.10, "castor": 0.06},
        ("green-tomato", 0.03),
        "drop-swirl",
        (("Weir", 0.55, True), ("Foam", 0.45, False)),
        29,
        lye=0.30,
    ),
    _recipe(
        "Copper Kettle",
        {"olive": 0.35, "coconut": 0.25, "tallow": 0.30, "castor": 0.10},
        ("clove-bark", 0.02),
        "hanger-swirl",
        (("Copper", 0.5, True), ("Cream", 0.5, False)),
        36,
        extra={"sugar": 10, "sodium-lactate": 14},
    ),
    _recipe(
        "Long Barrow",
        {"lard": 0.45, "olive": 0.30, "coconut": 0.20, "castor": 0.05},
        ("cedar-shaving", 0.03),
        "straight-layers",
        (("Bark", 0.5, True), ("Sap", 0.5, False)),
        34,
        superfat=0.06,
        size=_SMALL,
    ),
    _recipe(
        "Orris",
        {"olive": 0.40, "coconut": 0.20, "cocoa-butter": 0.12, "rice-bran": 0.20, "castor": 0.08},
        ("iris-root", 0.025),
        "pot-swirl",
        _TWO,
        27,
        lye=0.29,
    ),
    _recipe(
        "Salt Pan",
        {"coconut": 0.55, "olive": 0.35, "castor": 0.10},
        ("bay-lime", 0.035),
        "wall-veins",
        (("Pan", 0.7, True), ("Brine", 0.3, False)),
        38,
        superfat=0.10,
        extra={"salt": 20},
        size=ByWeight(grams=900),
    ),
    _recipe(
        "Charcoal Burner",
        {"olive": 0.50, "palm": 0.20, "coconut": 0.22, "castor": 0.08},
        ("vanilla-smoke", 0.03),
        "hanger-swirl",
        (("Char", 0.65, True), ("Ash", 0.35, False)),
        32,
        colours=(("charcoal", 4, "Char", "olive"), ("titanium-dioxide", 5, "Ash", None)),
    ),
    _recipe(
        "Twelve-Fat Trial",
        {
            "olive": 0.20,
            "coconut": 0.18,
            "palm": 0.10,
            "shea": 0.08,
            "cocoa-butter": 0.06,
            "sunflower-oleic": 0.10,
            "rice-bran": 0.08,
            "avocado": 0.05,
            "almond": 0.05,
            "hemp": 0.03,
            "mango": 0.02,
            "castor": 0.05,
        },
        ("walnut-husk", 0.04),
        "dilution-fade",
        (("Walnut, the darkest of the fade", 0.5, True), ("Pale", 0.5, False)),
        24,
        milk=("coconut-milk", 0.3),
        extra={"sugar": 6, "citric-acid": 8, "kaolin": 10, "sodium-lactate": 12},
    ),
    _recipe(
        "Kiln Row",
        {"olive": 0.45, "coconut": 0.25, "shea": 0.15, "sunflower-oleic": 0.10, "castor": 0.05},
        ("vanilla-smoke", 0.042),
        "hanger-swirl",
        (("Husk", 0.4, True), ("Clay", 0.15, True), ("Moss", 0.15, False), ("Fig", 0.15, True), ("Bone", 0.15, False)),
        40,
        extra={"sugar": 8},
        colours=(
            ("iron-oxide", 2, "Clay", "olive"),
            ("mica", 6, "Moss", "olive"),
            ("ultramarine", 4, "Fig", "olive"),
            ("titanium-dioxide", 6, "Bone", None),
        ),
    ),
    over_two_days(
        _recipe(
            "Hill Terrace",
            {"lard": 0.40, "olive": 0.32, "coconut": 0.22, "castor": 0.06},
            ("cedar-shaving", 0.028),
            "straight-layers",
            (("Bark", 0.4, True), ("Clay", 0.3, False), ("Sap", 0.3, False)),
            34,
            colours=(("iron-oxide", 2, "Clay", "olive"),),
        )
    ),
)

# item, lot, grams, days since they were counted, days until it expires (or None), price of a kilogram
_LOTS: tuple[tuple[str, str, float, int, int | None, float | None], ...] = (
    ("fat:olive", "drum, spring", 9400, 10, 300, 7.4),
    ("fat:coconut", "pail", 5200, 10, 420, 5.2),
    ("fat:castor", "", 1900, 10, 200, 9.8),
    ("fat:shea", "sack, unrefined", 1200, 10, 20, 14.5),
    ("fat:tallow", "rendered here", 2500, 10, 150, 4.0),
    ("alkali:naoh", "tub 3", 4100, 10, None, 4.6),
    ("liquid:goat-milk", "frozen in trays", 1500, 10, 45, 3.2),
    ("additive:titanium-dioxide", "", 180, 10, None, 22.0),
    ("fragrance:fig-vetiver", "bottle 2", 260, 10, 240, 88.0),
    ("fragrance:iris-root", "bottle 1, nearly out", 31, 10, 60, 132.0),
    ("fragrance:clove-bark", "", 140, 10, 500, 61.0),
    ("fragrance:green-tomato", "bottle 1", 45, 60, 100, 79.0),
    ("fragrance:green-tomato", "bottle 2", 210, 10, 330, 84.0),
)

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


def _uuid(n: int, kind: int) -> str:
    return str(UUID(int=(0x5107E000 << 96) | (4 << 76) | (8 << 60) | (kind << 32) | n))


def fragrances() -> tuple[Fragrance, ...]:
    return tuple(
        Fragrance(
            id=i,
            name=n,
            family=Family(f),
            claim=Claim(c),
            claim_words=words,
            vanillin=vanillin,
            note=note,
            limit=limit,
            essential=i == "spearmint",
        )
        for i, n, f, c, words, vanillin, note, limit, _ in _FRAGRANCES
    )


def seed(workshop: Workshop, now: datetime) -> None:
    """Fill an empty data file: 10 recipes, 13 fragrances, 26 logged pours, one left until tomorrow, one in progress."""
    rng = np.random.Generator(np.random.PCG64(SEED))
    for fragrance in fragrances():
        workshop.add_fragrance(fragrance)
    shelf = workshop.shelf()
    hidden = {scent_column(f[0]): f[-1] for f in _FRAGRANCES}
    truth = temperament(trade_knowledge(shelf.fragrances.values()), rng, hidden)
    maker = SimulatedMaker(truth, shelf, rng)
    started = now - timedelta(days=3 * (PAST_POURS - 1), hours=20)  # the last one may be unmoulded today
    for n, recipe in enumerate(RECIPES):
        workshop.add_recipe(_uuid(n, 1), recipe, started)

    for n, (index, scent) in enumerate(_PAST):
        recipe = RECIPES[index]
        if scent is not None:
            recipe = recipe.model_copy(update={"scents": (Scent(fragrance=scent, load=recipe.scents[0].load),)})
        begun = started + timedelta(days=3 * n)
        _pour(workshop, maker, _uuid(index, 1), recipe, _uuid(n + 1, 2), begun)
        pour = workshop.pour(_uuid(n + 1, 2))
        sheet = weigh(pour.recipe, shelf).sheet
        if sheet is not None:
            age = (now - begun).total_seconds() / 60
            workshop.write_down(pour.id, rest_events(pour.id, n, pour.recipe, sheet, list(pour.events), age), now)
    tell(workshop, (_uuid(2, 1), RECIPES[2]), (_uuid(9, 1), RECIPES[9]), now)
    for n, recipe in enumerate(RECIPES):
        _draft(workshop, _uuid(n, 1), wanted(recipe, now) if n == 8 else recipe, now - timedelta(days=n + 1))

    keep_pattern(workshop, pattern_of(RECIPES[8], "five-hung", "Five, hung"))
    _stock(workshop, now)
    _pictures(workshop)

    recipe = RECIPES[6]
    sheet = weigh(recipe, shelf).sheet
    if sheet is None:
        raise ValueError("a demo recipe has a fault")
    begun = now - RUNNING_FOR
    foretold = foretell(project(Job(recipe, shelf, sheet), unlearned(shelf), SEED).forecast)
    workshop.start_pour(RUNNING, _uuid(6, 1), begun, foretold.model_dump())
    minutes = RUNNING_FOR.total_seconds() / 60
    tapped = maker.pour(recipe, sheet, until=minutes, finished=False)
    tapped = [e for e in tapped if e.minute < minutes - 0.2 and not isinstance(e, PouringBegan)]
    workshop.write_down(RUNNING, tapped, now)


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
    workshop.save_lots(lots)
    shelf = workshop.shelf()
    workshop.add_custom(make(NewFat(name="Olive, spring drum", kin="olive", sv=188.6), "olive-spring-drum", shelf))
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
    workshop.add_custom(make(succinic, "succinic-acid", shelf))
    _made_here(workshop, now)


def _made_here(workshop: Workshop, now: datetime) -> None:
    """A blend of two that were poured, a colourant dispersed ahead, and an infused oil that keeps for another while."""
    shelf = workshop.shelf()
    parts = tuple(BlendPart(fragrance=f, share=s) for f, s in (("quince", 0.55), ("cedar-shaving", 0.45)))
    blend = blended(NewFragrance(name="Orchard shed", family=Family.OTHER, claim=Claim.UNKNOWN, parts=parts), shelf)
    workshop.add_fragrance(Fragrance.model_validate(blend.model_dump() | {"id": "orchard-shed"}))
    infusion = NewInfusion(name="Annatto olive", base="fat:olive", steeped="annatto seed", tint="#d99a3a")
    black = (IntoPremix(item="additive:charcoal", grams=30), IntoPremix(item="fat:castor", grams=70))
    premix = NewPremix(name="Charcoal in castor", parts=black)
    workshop.add_custom(make(infusion, "annatto-olive", shelf))
    workshop.add_custom(make(premix, "charcoal-in-castor", shelf))
    shelf = workshop.shelf()
    for n, (item, grams, days) in enumerate((("fat:annatto-olive", 400, 41), ("additive:charcoal-in-castor", 120, 12))):
        making = MakeLot(item=item, grams=grams, at=now - timedelta(days=days))
        workshop.save_lots({_uuid(n, 6): made_lot(making, shelf, (), now)})


def _draft(workshop: Workshop, recipe_id: str, recipe: Recipe, now: datetime) -> None:
    workshop.save_draft(recipe_id, recipe, workshop.recipe(recipe_id).revision, now)


def _pour(
    workshop: Workshop, maker: SimulatedMaker, recipe_id: str, recipe: Recipe, pour_id: str, started: datetime
) -> None:
    sheet = weigh(recipe, maker.shelf).sheet
    if sheet is None:
        raise ValueError(f"a demo recipe has a fault: {recipe.name}")
    _draft(workshop, recipe_id, recipe, started)
    job, knows = Job(recipe, maker.shelf, sheet), unlearned(maker.shelf)
    foretold = foretell(project(job, knows, crc32(recipe_id.encode())).forecast)
    workshop.start_pour(pour_id, recipe_id, started, foretold.model_dump())
    events = maker.pour(recipe, sheet)
    workshop.write_down(pour_id, [*events, *_afterwards(recipe, pour_id, events[-1].minute)], started)


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
        workshop.add_photo(Photo(_uuid(n, 5), pour_id, days, note), out.getvalue())


def refresh_running(workshop: Workshop, now: datetime) -> None:
    """Let the pours in progress have begun a few minutes ago and yesterday, unless someone has gone on with them."""
    for running, since in ((RUNNING, RUNNING_FOR), (PAUSED, PAUSED_FOR)):
        pour = workshop.pour(running)
        if all(e.minute <= since.total_seconds() / 60 for e in pour.events) and not pour.ended:
            workshop.restart_clock(running, now - since)
