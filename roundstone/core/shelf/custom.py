"""Ingredients of the maker's own: fats by certificate, liquids by composition, additives and acids by molar mass."""

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field

from ..face import Tint
from ..text import Text, figure, say
from ..values import Caution, Fault, Id, Name, RuleError, Share, Span, Value
from .chemistry import ACID_MASS, NAOH, acid_value, saponification_value
from .made import NewInfusion, NewPremix, infused, premixed
from .moments import WHEN
from .shelf import Additive, AdditiveKind, Fat, Liquid, Moment, Shelf

REPEATS_WITHIN = 0.007  # of its value, two determinations of one lot: from memory of AOCS Cd 3-25
BY_ACIDS_WITHIN = 0.015  # of the value reckoned from an acid profile [chosen]
UNUSUAL = 0.02  # off what its acids give, a figure is doubtful; off its kin's range, at once [chosen]
FAR = 0.04  # off what its acids give or beyond its kin's range, it is not this fat's: nearly a superfat of 5 % [chosen]
LEAST_EQUIVALENT = 30.0  # g an acid weighs per mole of lye it takes; the lightest, phosphoric, has 33
FACTOR_OF: dict[AdditiveKind, str] = {
    "sugar": "sugar",
    "salt": "salt",
    "lactate": "lactate",
    "clay": "clay",
    "milk": "milk",
    "alcohol": "ethanol",
}


class NewFat(Value):
    """A fat by its certificate: saponification value in mg KOH/g, or fatty acids in weight percent, or both.

    What is not given is taken from its `kin`, the fat it is or is most like.
    """

    kind: Literal["fat"] = "fat"
    name: Name = Field(min_length=1)
    kin: Id
    sv: float | None = None
    acids: dict[str, float] | None = None


class NewLiquid(Value):
    """A liquid by its composition, fractions by weight; `acid` is how much of it is what it is sour by."""

    kind: Literal["liquid"] = "liquid"
    name: Name = Field(min_length=1)
    milk: bool = False
    water: Share = Field(ge=0, le=1)
    fat: Share = Field(default=0.0, ge=0, le=1)
    protein: Share = Field(default=0.0, ge=0, le=1)
    sugars: Share = Field(default=0.0, ge=0, le=1)
    alcohol: Share = Field(default=0.0, ge=0, le=1)
    acid: Share = Field(default=0.0, ge=0, le=0.5)
    acid_of: Literal["citric", "acetic", "lactic", "malic", "tartaric"] = "citric"
    inci: Name = ""


class NewAdditive(Value):
    """Anything else that is weighed. An acid has a molar mass [g/mol], a valence, and a salt it becomes.

    `active` is its strength, `fat` its share of fat, as of a milk powder.
    """

    kind: Literal["additive"] = "additive"
    name: Name = Field(min_length=1)
    sort: AdditiveKind
    moment: Moment
    usual: float = Field(gt=0, le=1000, description="g per kg of fats")
    most: float = Field(gt=0, le=1000, description="g per kg of fats")
    spoon: float = Field(default=4.0, gt=0, le=30, description="grams of a level teaspoon")
    density: float = Field(default=1.3, gt=0.1, le=10, description="g/mL")
    active: Share = Field(default=1.0, gt=0, le=1)
    molar_mass: float | None = Field(default=None, gt=20, le=2000)
    valence: int | None = Field(default=None, ge=1, le=6)
    fat: Share = Field(default=0.0, ge=0, le=0.6)
    inci: Name = ""
    salt: Name = Field(default="", description="name on a label of what an acid becomes, without its cation")
    tint: Tint | Literal[""] = Field(default="", description="how soap coloured with it looks")


class NewLike(Value):
    """A fat or an additive that is weighed as another one of the shelf: the maker's own bag of it."""

    kind: Literal["like"] = "like"
    name: Name = Field(min_length=1)
    like: Id


New = NewLike | NewFat | NewLiquid | NewAdditive | NewInfusion | NewPremix
NewIngredient = Annotated[New, Field(discriminator="kind")]
Ingredient = Fat | Liquid | Additive


def make(new: New, ingredient_id: str, shelf: Shelf) -> Ingredient:
    """The ingredient as the rules need it; RuleError where its figures cannot be, or its name says it is lye."""
    _check_name(new, shelf)
    match new:
        case NewLike():
            return _like(new, ingredient_id, shelf)
        case NewFat():
            return _fat(new, ingredient_id, shelf.fats)
        case NewInfusion():
            return infused(new, ingredient_id, shelf)
        case NewPremix():
            return premixed(new, ingredient_id, shelf)
        case NewLiquid():
            return _liquid(new, ingredient_id)
        case NewAdditive():
            return _additive(new, ingredient_id)


def _check_name(new: New, shelf: Shelf) -> None:
    """What a name gives away must not be weighed as something else."""
    told = shelf.told_by(new.name)
    if told is not None and told.kind == "lye":
        raise RuleError(Fault(pointer="/name", message=told.message))
    if told is not None and told.kind == "acid":
        if isinstance(new, NewLiquid) and not new.acid:
            raise RuleError(Fault(pointer="/acid", message=told.message))
        if isinstance(new, NewAdditive) and new.sort != "acid":
            raise RuleError(Fault(pointer="/sort", message=f"{told.message} Choose acid as what it is."))


def _like(new: NewLike, ingredient_id: str, shelf: Shelf) -> Ingredient:
    kin = shelf.fats.get(new.like) or shelf.additives.get(new.like)
    if kin is None:
        raise RuleError(Fault(pointer="/like", message="There is no such thing on the shelf to be like."))
    return kin.model_copy(update={"id": ingredient_id, "name": new.name, "source": f"as {kin.name}, not looked up"})


def _fat(new: NewFat, fat_id: str, fats: Mapping[str, Fat]) -> Fat:
    kin = fats.get(new.kin)
    if kin is None:
        raise RuleError(Fault(pointer="/kin", message="This fat is not on the shelf."))
    if new.sv is None and not new.acids:
        raise RuleError(Fault(pointer="/sv", message="Give its saponification value, or its fatty acids."))
    acids = dict(kin.acids) if not new.acids else _acids(new.acids)
    within = REPEATS_WITHIN
    sv = new.sv
    if sv is None:
        within = BY_ACIDS_WITHIN
        sv = _by_acids(acids, kin)
    elif (off := _off(sv, _expected(acids, kin))) > FAR:
        raise RuleError(Fault(pointer="/sv", message=_too_far(sv, acids, kin, off)))
    if not LEAST_SV <= sv <= MOST_SV:
        raise RuleError(Fault(pointer="/sv", message=SV_RUNS))
    by = "own certificate" if new.sv is not None else "own fatty acids"
    return kin.model_copy(
        update={
            "id": fat_id,
            "name": new.name,
            "sv": sv,
            "sv_low": sv * (1 - within),
            "sv_high": sv * (1 + within),
            "acids": acids,
            "kin": kin.id,
            "iodine": None if new.acids else kin.iodine,
            "source": f"{by}; {'the rest' if new.acids else 'acids'} as {kin.name}",
        }
    )


SV_RUNS = "A saponification value runs from 40 to 700 mg KOH per g."
LEAST_SV, MOST_SV = 40.0, 700.0  # mg KOH/g; beyond it a figure is a slip [chosen]


def by_certificate(fat: Fat, sv: float) -> Fat:
    """The same fat with the saponification value [mg KOH/g] that a certificate states."""
    span = {"sv_low": sv * (1 - REPEATS_WITHIN), "sv_high": sv * (1 + REPEATS_WITHIN)}
    return fat.model_copy(update={"sv": sv, **span, "kin": fat.kin or fat.id, "source": "own certificate"})


def refused_sv(fat: Fat, sv: float) -> Text:
    """Why a certificate's saponification value is not believed of this fat; empty where it may be."""
    if not LEAST_SV <= sv <= MOST_SV:
        return say(SV_RUNS)
    off = _off(sv, _expected(fat.acids, fat))
    return _too_far(sv, fat.acids, fat, off) if off > FAR else Text.NONE


def _by_acids(acids: Mapping[str, float], kin: Fat) -> float:
    """Saponification value that these acids give a fat of this kind."""
    return acid_value(acids) if kin.kind == "acid" else saponification_value(acids, kin.unsaponifiable)


def _expected(acids: Mapping[str, float], kin: Fat) -> Span:
    """Where a fat's value lies: its kin's range, or about what acids of its own give.

    What the kin's figure has beyond its tabled acids, as butterfat's shortest ones, may be in this one too.
    """
    if kin.kind == "wax" or dict(acids) == dict(kin.acids):
        return Span(low=kin.sv_low, high=kin.sv_high)
    plain = _by_acids(acids, kin)
    alike = plain * kin.sv / _by_acids(kin.acids, kin)
    return Span(low=min(plain, alike), high=max(plain, alike))


def _off(sv: float, span: Span) -> float:
    """How far a value lies outside a span, as a share of the span's nearer end."""
    return max(span.low / sv - 1 if sv < span.low else 0.0, sv / span.high - 1, 0.0)


def _lye_off(sv: float, right: float) -> str:
    more = "more" if sv > right else "less"
    return f"{100 * abs(sv / right - 1):.0f} % {more} lye"


def _where(acids: Mapping[str, float], kin: Fat) -> Text:
    span = _expected(acids, kin)
    by_kin = kin.kind == "wax" or dict(acids) == dict(kin.acids)
    return say(
        say(kin.name, " has ", figure(span.low), " to ", figure(span.high))
        if by_kin
        else f"its acids give {_middle(span):.0f}"
    )


def _middle(span: Span) -> float:
    return (span.low + span.high) / 2


def _too_far(sv: float, acids: Mapping[str, float], kin: Fat, off: float) -> Text:
    return say(
        figure(sv),
        f" is {100 * off:.0f} % off: ",
        _where(acids, kin),
        ". It would be given ",
        _lye_off(sv, _middle(_expected(acids, kin))),
        ". Check the figure (mg KOH per g), its acids, or choose the fat it is most like.",
    )


def _acids(acids: Mapping[str, float]) -> dict[str, float]:
    for name, percent in acids.items():
        if name not in ACID_MASS or not 0 <= percent <= 100:
            raise RuleError(Fault(pointer=f"/acids/{name}", message="A fatty acid runs from 0 to 100 %."))
    total = sum(acids.values())
    if not 90 <= total <= 101:
        adds = figure(total, ".4g")
        message = say("The acids add up to ", adds, " %. Between 90 and 101 is believable; what is missing is others.")
        raise RuleError(Fault(pointer="/acids", message=message))
    return {k: v for k, v in acids.items() if v > 0}


def _fat_sv(milk: bool) -> float:
    """Saponification value of butterfat, or of common seed oils: from memory."""
    return 230.0 if milk else 195.0


def _liquid(new: NewLiquid, liquid_id: str) -> Liquid:
    total = new.water + new.fat + new.protein + new.sugars + new.alcohol + new.acid
    if total > 1.0005:
        raise RuleError(Fault(pointer="/water", message=say("These make ", figure(100 * total, ".4g"), " g in 100 g.")))
    if new.water < 0.2:
        raise RuleError(Fault(pointer="/water", message="Below 20 % water it is no liquid: add it as an additive."))
    return Liquid(
        id=liquid_id,
        name=new.name,
        kind="milk" if new.milk else "other",
        water=new.water,
        fat=new.fat,
        protein=new.protein,
        sugars=new.sugars,
        alcohol=new.alcohol,
        acid=new.acid,
        acid_of=new.acid_of if new.acid else "",
        fat_sv=_fat_sv(new.milk),
        inci=new.inci or new.name,
        source="own figures",
    )


def _additive(new: NewAdditive, additive_id: str) -> Additive:
    acid = new.sort == "acid"
    if acid and (new.molar_mass is None or new.valence is None):
        at = "/molar_mass" if new.molar_mass is None else "/valence"
        raise RuleError(
            Fault(pointer=at, message="An acid takes lye: give its molar mass and how many times it is one.")
        )
    if not acid and new.valence is not None:
        raise RuleError(Fault(pointer="/valence", message="Only an acid has one. Choose acid as what it is."))
    if new.most < new.usual:
        raise RuleError(Fault(pointer="/most", message="The most cannot be less than the usual."))
    if new.valence and new.molar_mass and new.molar_mass / new.valence < LEAST_EQUIVALENT:
        message = say(
            "No acid takes up lye so often for its weight: ",
            figure(new.molar_mass),
            " g per mole, ",
            new.valence,
            " times.",
        )
        raise RuleError(Fault(pointer="/valence", message=message))
    naoh = new.valence * NAOH / new.molar_mass * new.active if new.valence and new.molar_mass else 0.0
    return Additive(
        id=additive_id,
        name=new.name,
        kind=new.sort,
        moment=new.moment,
        how=WHEN[new.moment],
        tint=new.tint,
        factor=FACTOR_OF.get(new.sort),
        active=new.active,
        naoh=naoh,
        density=new.density,
        spoon=new.spoon,
        inci=new.inci or new.name,
        danger="",
        usual=new.usual,
        most=new.most,
        source="own figures",
        salt=new.salt if acid else "",
        fat=new.fat,
        fat_sv=_fat_sv(new.sort == "milk"),
    )


def warned_by_name(thing: Ingredient, shelf: Shelf) -> tuple[Caution, ...]:
    """What the name of something of the maker's own warns of."""
    told = shelf.told_by(thing.name)
    return (
        (Caution(pointer="/name", message=f"{thing.name}: {told.message}", danger=True),)
        if told and told.kind == "harm"
        else ()
    )


def consistency(fat: Fat, fats: Mapping[str, Fat]) -> tuple[Caution, ...]:
    """What is doubtful about the figures of one of the maker's own fats: said wherever it is used."""
    # One kept before its kin was is held against its own acids alone.
    kin = fats.get(fat.kin or "", fat)
    if not fat.own or (kin is fat and fat.kind == "wax"):
        return ()
    by_kin = kin is not fat and (kin.kind == "wax" or dict(fat.acids) == dict(kin.acids))
    span = _expected(fat.acids, kin) if kin is not fat else Span(low=(v := _by_acids(fat.acids, fat)), high=v)
    if _off(fat.sv, span) <= (0.0 if by_kin else UNUSUAL):
        return ()
    where = _where(fat.acids, kin) if kin is not fat else f"its acids give {_middle(span):.0f}"
    message = say(
        fat.name,
        ": its certificate says ",
        figure(fat.sv),
        ", ",
        where,
        ". The lye follows the certificate, ",
        _lye_off(fat.sv, _middle(span)),
        " than usual: be sure of it, and test the bar before it is used.",
    )
    return (Caution(pointer="/sv", message=message, danger=True),)
