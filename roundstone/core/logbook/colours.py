"""The record of a maker's colourants: what each looked like wet, cut and cured, gelled or not, and what to beware of.

Colours are compared in OKLab. Where the record is silent, what is expected is the tint as `face/colour` ages it, and
that is said.
"""

from collections.abc import Iterable, Mapping, Sequence
from math import atan2, degrees, hypot
from typing import Literal

from ..face.colour import Aged, Tint, aged, apart, oklab
from ..pour import Gelled, Moment, SwatchSeen
from ..rest import rested
from ..sheet import item_names, per_gram
from ..shelf import Additive, Fat, Made, Shelf
from ..text import Text, figure, listing, say
from ..values import Grams, Name, Value
from .past import Logged

SHOWN = 60  # latest swatches of a colourant that are kept at hand [chosen]
GREY = 0.03  # OKLab chroma below which a colour has no hue [C]
BROWN_DARKER = 0.62  # lightness below which orange is called brown [C]
WHITE, BLACK = 0.88, 0.36  # lightness of a white and a black without hue [C]
MOVED = 0.12  # OKLab distance from which a colour is said to have changed, where its name stayed the same [C]
CUP, BATTER = 236.588, 0.97  # mL of a cup; g/mL of batter at the pour, near enough for a spoon [C]
FATS_IN_BATTER = 0.66  # g of fats in a gram of batter at 33 % lye, for a dose without a recipe [C]
# Ends of OKLab's hues, in degrees, and what they are called. [C]
HUES = ((15, "pink"), (42, "red"), (75, "orange"), (112, "yellow"), (165, "green"), (215, "teal"), (285, "blue"))
UNTIL: tuple[tuple[float, Moment], ...] = ((5.0, "cut"), (21.0, "week"))  # days a bar looks so [C]
SEEN: tuple[Moment, ...] = ("wet", "scented", "cut", "week", "cured")


def colour_name(tint: Tint) -> str:
    """What a maker would call a colour.

    >>> [colour_name(t) for t in ("#27406e", "#a3302a", "#74883f", "#efe6d4", "#35363a", "#6b4a36")]
    ['blue', 'red', 'green', 'white', 'black', 'brown']
    """
    light, a, b = (float(x) for x in oklab(tint))
    if hypot(a, b) < GREY:
        return "white" if light > WHITE else "black" if light < BLACK else "grey"
    hue = degrees(atan2(b, a)) % 360
    if hue >= 345:
        return "pink"
    name = next((n for end, n in HUES if hue < end), "violet")
    if name == "pink" and light < BROWN_DARKER:
        return "red"
    return "brown" if name in ("orange", "yellow") and light < BROWN_DARKER else name


def moment_at(days: float) -> Moment:
    """The moment a picture of that many days after the pour most likely shows.

    >>> [moment_at(d) for d in (1, 8, 40)]
    ['cut', 'week', 'cured']
    """
    return next((m for until, m in UNTIL if days < until), "cured")


class SwatchKept(Value):
    """A colour that was seen, with what it was seen in: `dose` in g per kg of that portion's fats, what else coloured
    it, its scent, and whether the block gelled."""

    pour: str
    recipe: Name
    portion: Name
    at: Moment
    tint: Tint
    dose: float
    beside: tuple[str, ...]
    scents: tuple[str, ...]
    gelled: Gelled | None


class DoseSaid(Value):
    """One dose in every way it is measured: g per kg of fats and of batter, g and level teaspoons to a cup."""

    fats: Grams
    batter: Grams
    cup: Grams
    spoons: float


class ColourFile(Value):
    """A colourant: how its maker's table tints it, that tint `expected` at each age where nothing was seen, usual doses
    low and high, what it is `made` of here, every swatch, latest pour first, and warnings out of the own record."""

    additive: str
    name: Name
    tint: Tint | Literal[""]
    expected: Aged | None
    expected_gelled: Aged | None
    doses: tuple[DoseSaid, ...]
    made: Text
    swatches: tuple[SwatchKept, ...]
    warnings: tuple[str, ...]


def dose_said(additive: Additive, per_kg: float) -> DoseSaid:
    """A dose of g per kg of fats, said in every way; a cup is of batter at 33 % lye."""
    batter = per_kg * FATS_IN_BATTER
    cup = batter / 1000 * CUP * BATTER
    return DoseSaid(fats=per_kg, batter=batter, cup=cup, spoons=cup / additive.spoon if additive.spoon else 0.0)


def coloured(logged: Logged, portion: str, shelf: Shelf) -> list[tuple[str, float]]:
    """What colours a portion: colourants (id, g per kg of fats), its own, the pot's, infused oils."""
    out = [
        (row.fat, 1000 * row.share)
        for row in logged.recipe.fats
        if (fat := shelf.fats.get(row.fat)) is not None and fat.tint
    ]
    for dose in logged.recipe.additives:
        known = shelf.additives.get(dose.additive)
        if known is not None and known.tint and dose.reaches(portion):
            out.append((dose.additive, 1000 * per_gram(dose, known, logged.sheet.total / logged.sheet.fats)))
    return out


def _kept(logged: Logged, event: SwatchSeen, shelf: Shelf) -> list[tuple[str, SwatchKept]]:
    rest = rested(logged.state, logged.recipe)
    out = []
    for portion in logged.recipe.design.portions:
        if event.portion not in (None, portion.name):
            continue
        of = coloured(logged, portion.name, shelf)
        scents = logged.recipe.scents if portion.scent > 0 else ()
        for additive, dose in of:
            swatch = SwatchKept(
                pour=logged.pour,
                recipe=logged.recipe.name,
                portion=portion.name,
                at=event.at,
                tint=event.tint,
                dose=dose,
                beside=tuple(_known(shelf, a).name for a, _ in of if a != additive),
                scents=tuple(shelf.fragrances[s.fragrance].name for s in scents if s.fragrance in shelf.fragrances),
                gelled=rest.gel if rest is not None else None,
            )
            out.append((additive, swatch))
    return out


def warnings(swatches: Sequence[SwatchKept]) -> tuple[str, ...]:
    """What the own record warns of: a colour that was another one when cured, or when gelled.

    Only where the colourant stood alone: of a mixture nobody knows which of them it was.
    """
    alone = [s for s in swatches if not s.beside]
    out = []
    for first in (s for s in alone if s.at in ("wet", "scented")):
        same = [s for s in alone if (s.pour, s.portion) == (first.pour, first.portion)]
        after = [s for s in same if s.at not in ("wet", "scented")]
        if not after:
            continue
        last = max(after, key=lambda s: SEEN.index(s.at))
        was, became = colour_name(first.tint), colour_name(last.tint)
        how = f" in {first.scents[0]}" if first.scents else ""
        if was != became:
            out.append(f"{was} turned {became} ({last.at}) in {last.recipe}{how}")
        elif apart(first.tint, last.tint) > MOVED:
            lighter = oklab(last.tint)[0] > oklab(first.tint)[0]
            out.append(f"{was} went {'paler' if lighter else 'darker'} ({last.at}) in {last.recipe}{how}")
    late = [s for s in alone if s.at in ("cut", "week", "cured")]
    full = [s for s in late if s.gelled == "full"]
    none = [s for s in late if s.gelled == "none"]
    for one in full:
        other = next((s for s in none if s.at == one.at and colour_name(s.tint) != colour_name(one.tint)), None)
        if other is not None:
            out.append(f"{colour_name(other.tint)} read {colour_name(one.tint)} when gelled ({one.recipe})")
    return tuple(dict.fromkeys(out))


class ColourLog(Value):
    """What was seen of a colourant, the latest pours first, and in how many portions it was `used`."""

    swatches: tuple[SwatchKept, ...] = ()
    used: int = 0


def colour_logs(shelf: Shelf, logged: Iterable[Logged]) -> dict[str, ColourLog]:
    """What was seen of each colourant."""
    kept: dict[str, list[SwatchKept]] = {}
    used: dict[str, int] = {}
    for pour in logged:
        for portion in pour.recipe.design.portions:
            for additive, _ in coloured(pour, portion.name, shelf):
                used[additive] = used.get(additive, 0) + 1
        for event in pour.state.standing:
            if isinstance(event, SwatchSeen):
                for additive, swatch in _kept(pour, event, shelf):
                    kept.setdefault(additive, []).append(swatch)
    return {i: ColourLog(swatches=tuple(kept.get(i, ())[:SHOWN]), used=n) for i, n in used.items()}


def colour_files(shelf: Shelf, logs: Mapping[str, ColourLog]) -> tuple[ColourFile, ...]:
    """Every colourant that was used or is the maker's to use, those with the longest record first."""
    out = []
    known_ones: list[Additive | Fat] = [*shelf.additives.values(), *shelf.fats.values()]
    for known in known_ones:
        if not known.tint:
            continue
        swatches = logs.get(known.id, ColourLog()).swatches
        doses = (known.usual or known.most / 4, known.most) if isinstance(known, Additive) else ()
        out.append(
            ColourFile(
                additive=known.id,
                name=known.name,
                tint=known.tint,
                expected=aged(known.tint),
                expected_gelled=aged(known.tint, 1.0),
                doses=tuple(dose_said(known, d) for d in dict.fromkeys(doses) if d > 0 and isinstance(known, Additive)),
                made=made_words(known.made, shelf),
                swatches=swatches,
                warnings=warnings(swatches),
            )
        )
    return tuple(sorted(out, key=lambda c: (-len(c.swatches), -logs.get(c.additive, ColourLog()).used, c.name)))


def _known(shelf: Shelf, colourant: str) -> Additive | Fat:
    return shelf.additives.get(colourant) or shelf.fats[colourant]


def made_words(made: Made | None, shelf: Shelf) -> Text:
    """What something made here is made of, and how long it keeps; empty for what is bought."""
    if made is None:
        return Text.NONE
    names = item_names(shelf)
    if len(made.of) == 1:
        return say(f"infused in {names.get(made.of[0].item, 'water')}; keeps {made.keeps} days")
    of = [say(figure(100 * p.share, ".3g"), " % ", names.get(p.item, "water")) for p in made.of]
    return say("of ", listing(of, most=len(of)), f"; keeps {made.keeps} days")
