"""What a maker makes ahead: oils and liquids infused, colourants dispersed, with how long they keep."""

from collections.abc import Sequence
from typing import Literal

from pydantic import Field

from ..face import Tint, mixed
from ..text import joined
from ..values import Fault, Grams, Name, RuleError, Share, Value, listed
from .shelf import Additive, Fat, Liquid, Made, MadePart, Shelf

OIL_KEEPS, WATERY_KEEPS = 180, 3  # days an infused oil keeps, and anything with water in it: common practice
MOST_DAYS = 1500
DISPERSED = ("pigment", "clay", "powder", "other")  # what is made into a premix; all else is weighed by itself
CARRIER_SPOON = 4.9  # g of a level teaspoon of what a powder is stirred into [chosen]
CARRIER_DENSITY = 1.0  # g/mL of it, near enough [chosen]


class NewInfusion(Value):
    """An oil or a liquid in which something was steeped and strained out: weighed, and lyed, as what it is made of.

    `base` is `fat:` or `liquid:` and its id. `tint` is how soap made with it looks. None of `keeps` days is as usual.
    """

    kind: Literal["infusion"] = "infusion"
    name: Name = Field(min_length=1)
    base: str = Field(pattern=r"^(fat|liquid):[a-z0-9][a-z0-9-]{0,59}$")
    steeped: Name = ""
    tint: Tint | Literal[""] = ""
    keeps: int | None = Field(default=None, ge=1, le=MOST_DAYS)


class IntoPremix(Value):
    """So many grams of an item into a premix."""

    item: str = Field(pattern=r"^(fat|liquid|additive):[a-z0-9][a-z0-9-]{0,59}$")
    grams: Grams = Field(gt=0, le=100_000)


class NewPremix(Value):
    """Colourants or powders stirred into an oil or a liquid ahead, by weight, to be dosed as one."""

    kind: Literal["premix"] = "premix"
    name: Name = Field(min_length=1)
    parts: tuple[IntoPremix, ...] = Field(min_length=2, max_length=8)
    keeps: int | None = Field(default=None, ge=1, le=MOST_DAYS)


def infused(new: NewInfusion, custom_id: str, shelf: Shelf) -> Fat | Liquid:
    """The infusion as the rules need it; RuleError where its base is not there."""
    kind, _, name = new.base.partition(":")
    base = shelf.fats.get(name) if kind == "fat" else shelf.liquids.get(name)
    if base is None:
        raise RuleError(Fault(pointer="/base", message="This is not on the shelf."))
    usual = OIL_KEEPS if kind == "fat" else WATERY_KEEPS
    made = Made(of=(MadePart(item=new.base, share=1.0),), keeps=new.keeps or usual)
    with_what = f" with {new.steeped}" if new.steeped else ""
    facts = {"id": custom_id, "name": new.name, "made": made, "tint": new.tint}
    facts["source"] = f"own infusion{with_what}; as {base.name}"
    if isinstance(base, Fat):
        return base.model_copy(update=facts | {"kin": base.kin or base.id})
    return base.model_copy(update=facts | ({"kind": "other"} if base.kind == "water" else {}))


def premixed(new: NewPremix, custom_id: str, shelf: Shelf) -> Additive:
    """The premix as the rules need it: its oil and water are known to the lye. RuleError names the part at fault."""
    whole = sum(p.grams for p in new.parts)
    powders: list[tuple[Share, Additive]] = []
    oils: list[tuple[Share, float]] = []
    wet, names, told = 0.0, list[tuple[Share, str]](), list[str]()
    for i, part in enumerate(new.parts):
        kind, _, name = part.item.partition(":")
        found = {"fat": shelf.fats, "liquid": shelf.liquids, "additive": shelf.additives}[kind].get(name)
        share = part.grams / whole
        match found:
            case Fat():
                oils.append((share, found.sv))
            case Liquid():
                wet += share * found.water
                oils.append((share * found.fat, found.fat_sv))
            case Additive() if found.kind in DISPERSED and not found.naoh:
                powders.append((share, found))
                oils.append((share * found.fat, found.fat_sv))
                wet += share * found.water
            case _:
                message = "Sugars, salts, milks and acids are weighed by themselves." if found else "This is not there."
                raise RuleError(Fault(pointer=f"/parts/{i}/item", message=message))
        names.append((share, found.inci))
        told.append(f"{100 * share:.3g} % {found.name}")
    if not powders:
        raise RuleError(Fault(pointer="/parts", message="A premix has a colourant or a powder in it."))
    if sum(share for share, _ in powders) > 1 - 1e-9 and len(powders) == 1:
        raise RuleError(Fault(pointer="/parts", message="Say what it is stirred into too."))
    fat = sum(share for share, _ in oils)
    solid = sum(share for share, _ in powders)
    first = max(powders, key=lambda x: x[0])[1]
    factors = {a.factor for _, a in powders if a.factor}
    thick = sum(share / a.density for share, a in powders) + (1 - solid) / CARRIER_DENSITY
    return Additive(
        id=custom_id,
        name=new.name,
        kind=first.kind,
        moment=first.moment,
        how="stirred up, then in",
        factor=factors.pop() if len(factors) == 1 else None,
        active=sum(share * a.active for share, a in powders if a.factor or not factors),
        naoh=0.0,
        density=1 / thick,
        spoon=sum(share * a.spoon for share, a in powders) + (1 - solid) * CARRIER_SPOON,
        inci=", ".join(dict.fromkeys(n for _, n in sorted(names, key=lambda x: -x[0]))),
        danger=joined(" ", dict.fromkeys(a.danger for _, a in powders if a.danger)),
        usual=round(min(a.usual / share for share, a in powders), 1),
        most=round(min(a.most / share for share, a in powders), 1),
        source="own premix of " + listed(told, most=len(told)),
        fat=fat,
        fat_sv=sum(share * sv for share, sv in oils) / fat if fat else 0.0,
        tint=_tint(powders),
        wet=wet,
        made=Made(of=_shares(new.parts, whole), keeps=new.keeps or (WATERY_KEEPS if wet else OIL_KEEPS)),
    )


def _shares(parts: Sequence[IntoPremix], whole: Grams) -> tuple[MadePart, ...]:
    return tuple(MadePart(item=p.item, share=p.grams / whole) for p in parts)


def _tint(powders: Sequence[tuple[Share, Additive]]) -> Tint | Literal[""]:
    """Their tints mixed by weight over what a usual dose of each is."""
    told = [(share / a.usual if a.usual else share, a.tint) for share, a in powders if a.tint]
    if not told:
        return ""
    weight, tint = told[0]
    for more, other in told[1:]:
        weight += more
        tint = mixed(tint, other, more / weight)
    return tint
