"""The recipes, fragrances and lots of the invented workshop."""

from uuid import UUID

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
)
from ..core.shelf import (
    Claim,
    Family,
    Fragrance,
)
from .story import over_two_days

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
        Dose(additive=a, amount=g, into=(p,), carrier=Carrier(fat=fat, parts=3 if fat else 2))
        for a, g, p, fat in colours
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
