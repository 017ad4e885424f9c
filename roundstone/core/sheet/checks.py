"""What is wrong with a draft, each fault at its place: everything that can be said before anything is weighed."""

from collections.abc import Iterator, Sequence

from ..recipe import ByMoulds, Carrier, Dose, Recipe, moment_of, mould
from ..recipe import check as check_design
from ..shelf import Additive, Shelf, refused_sv
from ..text import KG, C, G, Text, figure, say
from ..units import POUND
from ..values import Fault, Mend, listed
from . import alkali

MOST_LOAD = 0.10  # of the fats in a portion that fragrance may be: twice the usual, beyond it a slip [chosen]
LEAST_GRAMS = 10.0  # of fats: below it no scale and no blender is of use [chosen]
MOST_PIECES, MOST_PIECE = 500, 20_000.0  # embeds in one mould, and grams of one [chosen]
LEAST_FREE = 0.2  # of a mould that is left for batter: what holds the pieces together [chosen]
MOST_GRAMS = 200_000.0  # chosen: ten times a big workshop batch; beyond it a figure is a slip of the finger


def percent(share: float, digits: int = 1) -> Text:
    """A share in percent, with so many decimals or fewer.

    >>> str(percent(0.05)), str(percent(0.0525, 2))
    ('5 %', '5.25 %')
    """
    exactly = f"{share * 100:.{digits}f}".rstrip("0").partition(".")[2]
    return say(figure(share * 100, f".{len(exactly)}f"), " %")


def _check_fats(recipe: Recipe, shelf: Shelf) -> Iterator[Fault]:
    if not recipe.fats:
        yield Fault(pointer="/fats", message="Add an oil first: everything else follows from it.", open=True)
        return
    seen: set[str] = set()
    sound = True
    for i, row in enumerate(recipe.fats):
        at = f"/fats/{i}/share"
        if row.fat not in shelf.fats:
            yield Fault(pointer=f"/fats/{i}/fat", message="This fat is not on the shelf.")
        elif row.fat in seen:
            yield Fault(pointer=f"/fats/{i}/fat", message="This fat stands here twice. Put it in one row.")
        elif row.sv is not None and (why := refused_sv(shelf.fats[row.fat], row.sv)) != Text.NONE:
            yield Fault(pointer=f"/fats/{i}/sv", message=why)
        seen.add(row.fat)
        if row.share < 0:
            yield Fault(pointer=at, message="A share cannot be negative.")
        elif row.share == 0:
            yield Fault(pointer=at, message="Give this fat a share, or take it out.")
        elif row.share > 1:
            yield Fault(pointer=at, message="A share cannot be above 100 %.")
        sound = sound and 0 < row.share <= 1
    total = sum(row.share for row in recipe.fats)
    if sound and abs(total - 1) > 0.0005:
        short = 1 - total
        word = say(percent(short, 2), " is missing") if short > 0 else say(percent(-short, 2), " too much")
        yield Fault(
            pointer="/fats",
            message=say(
                "The fats add up to ", percent(total, 2), ": ", word, ". No lye is weighed until they make 100 %."
            ),
            mends=tuple(_balances(recipe, shelf, short)),
        )


def _balances(recipe: Recipe, shelf: Shelf, short: float) -> Iterator[Mend]:
    """The rows that could take up the whole difference, largest first."""
    rows = sorted(enumerate(recipe.fats), key=lambda r: -r[1].share)
    for i, row in rows[:3]:
        value = row.share + short
        if 0 < value <= 1 and row.fat in shelf.fats:
            label = say("make ", shelf.fats[row.fat].name, " ", percent(value, 2))
            yield Mend(label=label, pointer=f"/fats/{i}/share", value=round(value, 6))


def _twice(names: Sequence[str], pointer: str, field: str) -> Iterator[Fault]:
    for i, name in enumerate(names):
        if name in names[:i]:
            yield Fault(pointer=f"{pointer}/{i}/{field}", message="This stands here twice. Put it in one row.")


def _check_liquids(recipe: Recipe, shelf: Shelf) -> Iterator[Fault]:
    yield from _twice([u.liquid + u.goes for u in recipe.liquids], "/liquids", "liquid")
    for i, use in enumerate(recipe.liquids):
        liquid = shelf.liquids.get(use.liquid)
        if liquid is None or liquid.kind == "water":
            yield Fault(pointer=f"/liquids/{i}/liquid", message="This liquid is not on the shelf.")
        if not 0 <= use.share <= 1:
            message = say("A liquid can be from 0 to 100 % of all liquid.")
            yield Fault(pointer=f"/liquids/{i}/share", message=message)
    total = sum(u.share for u in recipe.liquids)
    if all(0 <= u.share <= 1 for u in recipe.liquids) and total > 1 + 1e-9:
        last = len(recipe.liquids) - 1
        message = say("The liquids add up to ", percent(total), ": more than all there is.")
        yield Fault(pointer=f"/liquids/{last}/share", message=message)


def _twice_dosed(recipe: Recipe, shelf: Shelf) -> Iterator[Fault]:
    """Colours of one kind may stand beside each other; of anything else the second row is a slip, unless named."""
    seen: set[tuple[object, ...]] = set()
    for i, dose in enumerate(recipe.additives):
        additive = shelf.additives.get(dose.additive)
        rows = {(dose.additive, n, dose.moment, dose.called.casefold()) for n in dose.into or ("",)}
        if rows & seen and additive is not None and additive.kind != "pigment":
            message = "This stands here twice. Put it in one row, or give each a name of its own."
            yield Fault(pointer=f"/additives/{i}/additive", message=message)
        seen |= rows


def _check_additives(recipe: Recipe, shelf: Shelf) -> Iterator[Fault]:
    yield from _twice_dosed(recipe, shelf)
    for i, dose in enumerate(recipe.additives):
        additive = shelf.additives.get(dose.additive)
        at = f"/additives/{i}"
        if additive is None:
            yield Fault(pointer=f"{at}/additive", message="This is not on the shelf.")
            continue
        scale = {"g/kg": 1.0, "percent": 10.0}.get(dose.basis, 1000 * additive.spoon / POUND)
        if dose.amount < 0:
            yield Fault(pointer=f"{at}/amount", message="A dose cannot be negative.")
        elif dose.amount * scale > additive.refused_above * (1 + 1e-9):
            message = say(
                "More than ",
                figure(additive.refused_above),
                " g per kg of fats: is the decimal point in the right place?",
            )
            yield Fault(pointer=f"{at}/amount", message=message)
        if dose.basis == "tsp/lb batter" and additive.naoh:
            message = say("An acid is dosed by weight of fats: its own lye is part of the batter.")
            yield Fault(pointer=f"{at}/amount", message=message)
        yield from _check_into(recipe, dose, additive, at)
        if dose.carrier is not None:
            late = moment_of(dose, additive) == "trace"
            yield from _check_carrier(dose.carrier, late, shelf, f"{at}/carrier")


def _check_into(recipe: Recipe, dose: Dose, additive: Additive, at: str) -> Iterator[Fault]:
    """Whether it can go into some portions alone."""
    if not dose.into:
        return
    moment, portions = moment_of(dose, additive), {p.name: p for p in recipe.design.portions}
    unknown = next((n for n in dose.into if n not in portions), None)
    if unknown is not None:
        yield Fault(pointer=f"{at}/into", message=f"There is no portion called {unknown}.")
    elif len({*dose.into}) < len(dose.into):
        yield Fault(pointer=f"{at}/into", message="A portion stands here twice.")
    elif additive.naoh:
        message = (
            f"{additive.name} takes up lye, and the lye is weighed for the whole jug: in {listed(dose.into)} alone it "
            "would "
            "leave the other portions lye heavy. Put it into all of the batter, before the lye."
        )
        yield Fault(pointer=f"{at}/into", message=message)
    elif moment == "fats" and not all(recipe.design.alone(portions[n]) for n in dose.into):
        message = "These portions come from one fat pot: into some of them only what goes in at emulsion."
        yield Fault(pointer=f"{at}/into", message=message)
    elif moment not in ("trace", "fats"):
        message = (
            "All portions share one lye jug: into some of them only what goes in at emulsion, or into their own fats."
        )
        yield Fault(pointer=f"{at}/into", message=message)


def _check_carrier(carrier: Carrier, late: bool, shelf: Shelf, at: str) -> Iterator[Fault]:
    if not 0 <= carrier.parts <= 20:
        yield Fault(pointer=f"{at}/parts", message="A powder is dispersed in from 0 to 20 parts.")
    if not late:
        yield Fault(pointer=f"{at}/parts", message="Only what goes in at emulsion is dispersed first.")
    if carrier.fat is not None and carrier.fat not in shelf.fats:
        yield Fault(pointer=f"{at}/fat", message="This fat is not on the shelf.")


def _check_scents(recipe: Recipe, shelf: Shelf) -> Iterator[Fault]:
    yield from _twice([s.fragrance for s in recipe.scents], "/scents", "fragrance")
    for i, scent in enumerate(recipe.scents):
        if scent.fragrance not in shelf.fragrances:
            yield Fault(pointer=f"/scents/{i}/fragrance", message="This fragrance is not on the shelf.")
        if not 0 <= scent.load <= MOST_LOAD:
            message = say("Fragrance runs from 0 to 10 % of the fats it goes into.")
            yield Fault(pointer=f"/scents/{i}/load", message=message)
    if all(0 <= s.load <= MOST_LOAD for s in recipe.scents) and sum(s.load for s in recipe.scents) > MOST_LOAD + 1e-9:
        last = len(recipe.scents) - 1
        yield Fault(pointer=f"/scents/{last}/load", message="All fragrances together run to 10 % of the fats.")
        return
    whole = sum(s.load for s in recipe.scents)
    for i, portion in enumerate(recipe.design.portions if recipe.design.scents_apart else ()):
        if whole * portion.scent > MOST_LOAD + 1e-9 and portion.scent > 1:
            message = say(
                portion.name, " would get ", percent(whole * portion.scent), " of its fats in fragrance: up to 10 %."
            )
            yield Fault(pointer=f"/design/portions/{i}/scent", message=message)


def _check_size(recipe: Recipe) -> Iterator[Fault]:
    size = recipe.size
    if isinstance(size, ByMoulds):
        if not size.moulds:
            yield Fault(pointer="/size/moulds", message="Add a mould, or size by weight of fats.")
        faults = [f for i, m in enumerate(size.moulds) for f in mould.check(m, f"/size/moulds/{i}")]
        yield from faults
        if not faults and sum(mould.millilitres(m) for m in size.moulds) > mould.MOST_MILLILITRES:
            yield Fault(pointer="/size/moulds", message="These moulds hold more than 200 litres: check the measures.")
        if not 0 <= size.spare <= 1:
            yield Fault(pointer="/size/spare", message="A spare runs from 0 to 100 %.")
    elif not LEAST_GRAMS <= size.grams <= MOST_GRAMS:
        yield Fault(
            pointer="/size/grams", message=say("Fats run from ", G(LEAST_GRAMS), " to ", KG(MOST_GRAMS / 1000), ".")
        )


def _check_embeds(recipe: Recipe) -> Iterator[Fault]:
    faults = []
    for i, embed in enumerate(recipe.embeds):
        if not embed.name:
            faults.append(Fault(pointer=f"/embeds/{i}/name", message="Say what these pieces are called."))
        if not 1 <= embed.count <= MOST_PIECES:
            many = f"From 1 to {MOST_PIECES} pieces in each mould."
            faults.append(Fault(pointer=f"/embeds/{i}/count", message=many))
        if not 0 <= embed.grams <= MOST_PIECE:
            message = say("A piece weighs up to ", KG(MOST_PIECE / 1000), ", and not less than nothing.")
            faults.append(Fault(pointer=f"/embeds/{i}/grams", message=message))
    yield from faults
    if faults or not recipe.embeds or not isinstance(recipe.size, ByMoulds):
        return
    if any(f for i, m in enumerate(recipe.size.moulds) for f in mould.check(m, f"/size/moulds/{i}")):
        return
    left = min((mould.free(m, recipe.embedded) / mould.millilitres(m) for m in recipe.size.moulds), default=1.0)
    if left < LEAST_FREE:
        largest = max(range(len(recipe.embeds)), key=lambda i: recipe.embeds[i].count * recipe.embeds[i].grams)
        most = percent(1 - LEAST_FREE)
        message = say("The embeds take up ", percent(round(1 - left, 2)), " of a mould: at most ", most, ".")
        yield Fault(pointer=f"/embeds/{largest}/count", message=message)


def _check_temperature(recipe: Recipe) -> Iterator[Fault]:
    if not 10 <= recipe.pour_celsius <= 75:
        yield Fault(pointer="/pour_celsius", message=say("Pour temperature runs from ", C(10), " to ", C(75), "."))
    if not 0 <= recipe.room_celsius <= 45:
        yield Fault(pointer="/room_celsius", message=say("The room runs from ", C(0), " to ", C(45), "."))


def _check_names(recipe: Recipe, shelf: Shelf) -> Iterator[Fault]:
    """Lye under another name, as it could be added before names were looked at."""
    fats = ((f"/fats/{i}/fat", shelf.fats.get(r.fat)) for i, r in enumerate(recipe.fats))
    liquids = ((f"/liquids/{i}/liquid", shelf.liquids.get(u.liquid)) for i, u in enumerate(recipe.liquids))
    doses = ((f"/additives/{i}/additive", shelf.additives.get(d.additive)) for i, d in enumerate(recipe.additives))
    for at, thing in (*fats, *liquids, *doses):
        told = shelf.told_by(thing.name) if thing is not None else None
        if told is not None and told.kind == "lye":
            yield Fault(pointer=at, message=told.message)


def faults_of(recipe: Recipe, shelf: Shelf) -> tuple[Fault, ...]:
    name = () if recipe.name else (Fault(pointer="/name", message="Give the recipe a name to find it by."),)
    return (
        *name,
        *_check_fats(recipe, shelf),
        *_check_names(recipe, shelf),
        *alkali.check(recipe),
        *_check_liquids(recipe, shelf),
        *_check_additives(recipe, shelf),
        *_check_scents(recipe, shelf),
        *_check_size(recipe),
        *_check_embeds(recipe),
        *_check_temperature(recipe),
        *check_design(recipe, shelf),
    )
