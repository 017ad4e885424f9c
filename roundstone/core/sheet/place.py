"""What is put into a recipe, and where: each thing begins with its usual amount, vessel and moment, by the tables."""

from typing import Annotated, Literal

from pydantic import Field

from ..recipe import Carrier, Dose, LiquidUse, Recipe, Scent, moment_of
from ..shelf import MOMENT_IN, VESSEL, WHEN, Additive, AdditiveKind, Moment, Shelf, Vessel
from ..text import say
from ..values import Fault, Id, Name, RuleError, Value, listed

FIRST_LOAD, NEXT_LOAD = 0.03, 0.01  # of the fats, of the first fragrance and of each beside it: common practice
COLOURING: tuple[AdditiveKind, ...] = ("pigment", "clay", "powder")  # what colours a portion and is dispersed first
IN_OIL, IN_WATER = 3.0, 2.0  # parts to one of powder: common practice


class PlaceEdit(Value):
    """An edit of what is in a recipe, and where."""


class AddThing(PlaceEdit):
    """A liquid, a fragrance or an additive is put in as is usual for it; an additive into one portion, where named."""

    kind: Literal["add_thing"] = "add_thing"
    what: Literal["liquid", "scent", "additive"]
    item: Id
    into: Name | None = None


class TakeDose(PlaceEdit):
    """A portion gets no more of an additive; what no other portion gets is taken out."""

    kind: Literal["take_dose"] = "take_dose"
    row: int
    portion: Name


class MoveThing(PlaceEdit):
    """It stands in another vessel."""

    kind: Literal["move_thing"] = "move_thing"
    what: Literal["liquid", "scent", "additive"]
    row: int
    vessel: Vessel


class MoveDose(PlaceEdit):
    """An additive goes in at another moment."""

    kind: Literal["move_dose"] = "move_dose"
    row: int
    moment: Moment


class Disperse(PlaceEdit):
    """A powder is dispersed first: in water, in an oil of the shelf, or not at all."""

    kind: Literal["disperse"] = "disperse"
    row: int
    into: Id | Literal["no", "water"]


PlaceAct = Annotated[AddThing | TakeDose | MoveThing | MoveDose | Disperse, Field(discriminator="kind")]


def place(recipe: Recipe, act: PlaceAct, shelf: Shelf) -> Recipe:
    """The recipe after the act; RuleError where it cannot be done as asked without something else changing."""
    match act:
        case AddThing():
            return _added(recipe, act, shelf)
        case TakeDose():
            return _taken(recipe, act, shelf)
        case MoveThing():
            return _in_vessel(recipe, act, shelf)
        case MoveDose():
            return _moved(recipe, act, shelf)
        case Disperse():
            return _dispersed(recipe, act, shelf)


def _in_vessel(recipe: Recipe, act: MoveThing, shelf: Shelf) -> Recipe:
    if act.what == "scent":
        if act.vessel == "jug":
            raise RuleError(Fault(pointer="/design/scent_at", message="A fragrance goes into fats or batter."))
        at = "fats" if act.vessel == "pot" else "portions"
        return recipe.model_copy(update={"design": recipe.design.model_copy(update={"scent_at": at})})
    if act.what == "liquid":
        return _with_row(recipe, "liquids", act.row, goes=act.vessel)
    usual = _additive(recipe, act.row, shelf).moment
    moment = usual if VESSEL[usual] == act.vessel else MOMENT_IN[act.vessel]
    return _moved(recipe, MoveDose(row=act.row, moment=moment), shelf)


def _with_row(recipe: Recipe, rows: str, row: int, **changes: object) -> Recipe:
    there = list(getattr(recipe, rows))
    if not 0 <= row < len(there):
        raise RuleError(Fault(pointer="", message="There is no such row."))
    there[row] = there[row].model_copy(update=changes)
    return recipe.model_copy(update={rows: tuple(there)})


def _additive(recipe: Recipe, row: int, shelf: Shelf) -> Additive:
    if not 0 <= row < len(recipe.additives):
        raise RuleError(Fault(pointer="", message="There is no such row."))
    found = shelf.additives.get(recipe.additives[row].additive)
    if found is None:
        raise RuleError(Fault(pointer=f"/additives/{row}/additive", message="This is not on the shelf."))
    return found


def _added(recipe: Recipe, act: AddThing, shelf: Shelf) -> Recipe:
    if act.what == "scent":
        if act.item not in shelf.fragrances:
            raise RuleError(Fault(pointer="", message="This fragrance is not on the shelf."))
        new = Scent(fragrance=act.item, load=NEXT_LOAD if recipe.scents else FIRST_LOAD)
        return recipe.model_copy(update={"scents": (*recipe.scents, new)})
    if act.what == "liquid":
        liquid = shelf.liquids.get(act.item)
        if liquid is None or liquid.kind == "water":
            raise RuleError(Fault(pointer="", message="This liquid is not on the shelf."))
        left = max(0.0, 1 - sum(u.share for u in recipe.liquids))
        frozen = liquid.goes == "jug" and liquid.frozen_first
        use = LiquidUse(liquid=act.item, share=min(liquid.usual, round(left, 4)), goes=liquid.goes, frozen=frozen)
        return recipe.model_copy(update={"liquids": (*recipe.liquids, use)})
    additive = shelf.additives.get(act.item)
    if additive is None:
        raise RuleError(Fault(pointer="", message="This is not on the shelf."))
    into = act.into if any(p.name == act.into for p in recipe.design.portions) else None
    # What is for one portion goes in once there are portions.
    moment: Moment | None = "trace" if into is not None and additive.moment != "trace" else None
    dose = Dose(additive=act.item, amount=additive.usual, into=() if into is None else (into,), moment=moment)
    if additive.kind in COLOURING and "trace" in (moment, additive.moment):
        oily = additive.kind == "pigment" or "in oil" in additive.how
        carrier = Carrier(fat=_oil(recipe, shelf), parts=IN_OIL) if oily else Carrier(fat=None, parts=IN_WATER)
        dose = dose.model_copy(update={"carrier": carrier})
    return recipe.model_copy(update={"additives": (*recipe.additives, dose)})


def _taken(recipe: Recipe, act: TakeDose, shelf: Shelf) -> Recipe:
    _additive(recipe, act.row, shelf)
    left = recipe.additives[act.row].moved({act.portion: None})
    if left.into:
        return _with_row(recipe, "additives", act.row, into=left.into)
    rest = tuple(d for i, d in enumerate(recipe.additives) if i != act.row)
    return recipe.model_copy(update={"additives": rest})


def _oil(recipe: Recipe, shelf: Shelf) -> Id | None:
    """The most of the recipe's own liquid oils, in which powders are dispersed; None, for water, where it has none."""
    oils = {i for i, f in shelf.fats.items() if f.kind == "fat" and f.melts is None}
    liquid = [r for r in recipe.fats if r.fat in oils]
    return max(liquid, key=lambda r: r.share).fat if liquid else None


def _moved(recipe: Recipe, act: MoveDose, shelf: Shelf) -> Recipe:
    """What is for some portions alone is not put where it would reach all of them."""
    additive = _additive(recipe, act.row, shelf)
    dose = recipe.additives[act.row]
    own = {p.name for p in recipe.design.portions if recipe.design.alone(p)}
    if dose.into and act.moment != "trace" and not (act.moment == "fats" and own.issuperset(dose.into)):
        message = say(
            additive.name,
            " is for ",
            listed(dose.into),
            " alone; ",
            WHEN[act.moment],
            " it would reach every portion. Put it into all of the batter first, if that is meant.",
        )
        raise RuleError(Fault(pointer=f"/additives/{act.row}/into", message=message))
    carrier = dose.carrier if act.moment == "trace" else None
    moment = None if act.moment == additive.moment else act.moment
    return _with_row(recipe, "additives", act.row, moment=moment, carrier=carrier)


def _dispersed(recipe: Recipe, act: Disperse, shelf: Shelf) -> Recipe:
    additive, dose = _additive(recipe, act.row, shelf), recipe.additives[act.row]
    if act.into == "no":
        return _with_row(recipe, "additives", act.row, carrier=None)
    if moment_of(dose, additive) != "trace":
        message = "Only what goes in at emulsion is dispersed first."
        raise RuleError(Fault(pointer=f"/additives/{act.row}/carrier/parts", message=message))
    water = act.into == "water"
    kept = dose.carrier.parts if dose.carrier is not None else IN_WATER if water else IN_OIL
    return _with_row(recipe, "additives", act.row, carrier=Carrier(fat=None if water else act.into, parts=kept))
