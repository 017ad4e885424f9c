"""Edits that touch more than one figure: grams typed into a row, the rest balanced, fats and portions added."""

from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

from pydantic import Field

from .mould import millilitres
from .recipe import ByMoulds, ByWeight, FatShare, Portion, Recipe
from .sheet import Sheet
from .values import Fault, Grams, Id, RuleBroken, Value


class FatGrams(Value):
    """The row weighs this much; every other fat keeps its grams, and all shares follow."""

    kind: Literal["fat_grams"] = "fat_grams"
    row: int
    grams: Grams


class Balance(Value):
    """All fats make 100 % again: the kept rows stay, the others are scaled in proportion."""

    kind: Literal["balance"] = "balance"
    keep: tuple[int, ...] = ()


class AddFat(Value):
    """A new fat gets what is missing to 100 %, or where nothing is, a small share to start from."""

    kind: Literal["add_fat"] = "add_fat"
    fat: Id


class AddPortion(Value):
    """A new unscented portion is cut from the largest, so the whole stays whole."""

    kind: Literal["add_portion"] = "add_portion"


class TakePortion(Value):
    """A portion is taken out; the first of the others gets its share."""

    kind: Literal["take_portion"] = "take_portion"
    row: int


class PortionPerMould(Value):
    """One master batter for several moulds: a portion for each, by what it holds, with its own additions."""

    kind: Literal["portion_per_mould"] = "portion_per_mould"


Act = Annotated[
    FatGrams | Balance | AddFat | AddPortion | TakePortion | PortionPerMould,
    Field(discriminator="kind"),
]
NAMES = ("Accent", "Second accent", "Third", "Fourth", "Fifth", "Sixth")
FIRST_SHARE = 0.05  # of a fat added where nothing is missing [chosen]


def adjust(recipe: Recipe, act: Act, sheet: Sheet | None) -> Recipe:
    """The recipe after the act; RuleBroken where it cannot be done. `sheet` is the recipe weighed before it."""
    match act:
        case FatGrams():
            out = _fat_grams(recipe, act, sheet)
        case Balance():
            out = _balance(recipe, act.keep)
        case AddFat():
            missing = round(1 - sum(row.share for row in recipe.fats), 4)
            row = FatShare(fat=act.fat, share=missing if 0 < missing <= 1 else FIRST_SHARE)
            out = recipe.model_copy(update={"fats": (*recipe.fats, row)})
        case AddPortion():
            out = _with_portions(recipe, _cut(recipe.design.portions))
        case TakePortion():
            left = _with_portions(recipe, _without(recipe.design.portions, act.row))
            out = _moved(left, {recipe.design.portions[act.row].name: left.design.portions[0].name})
        case PortionPerMould():
            out = _per_mould(recipe)
    return out


def _moved(recipe: Recipe, names: Mapping[str, str]) -> Recipe:
    """Additions go where their portion went; two of one kind in one portion are for the maker to join."""
    doses = tuple(d.model_copy(update={"into": names.get(d.into or "", d.into)}) for d in recipe.additives)
    return recipe.model_copy(update={"additives": doses})


def _per_mould(recipe: Recipe) -> Recipe:
    size = recipe.size
    if not isinstance(size, ByMoulds) or not 2 <= len(size.moulds) <= len(NAMES):
        says = f"Size the recipe by 2 to {len(NAMES)} moulds first."
        raise RuleBroken(Fault(pointer="/size/moulds", says=says))
    volumes = [millilitres(m) for m in size.moulds]
    if min(volumes) <= 0:
        raise RuleBroken(Fault(pointer="/size/moulds", says="Every mould must hold something."))
    scented = any(p.scented for p in recipe.design.portions)
    names = [f"{m.shape.capitalize()} {i + 1}" for i, m in enumerate(size.moulds)]
    shares = _whole([v / sum(volumes) for v in volumes])
    portions = [Portion(name=n, share=s, scented=scented) for n, s in zip(names, shares, strict=True)]
    return _moved(_with_portions(recipe, portions), {p.name: names[0] for p in recipe.design.portions})


def _with_portions(recipe: Recipe, portions: Sequence[Portion]) -> Recipe:
    return recipe.model_copy(update={"design": recipe.design.model_copy(update={"portions": tuple(portions)})})


def _cut(portions: Sequence[Portion]) -> list[Portion]:
    if not 1 <= len(portions) < len(NAMES):
        raise RuleBroken(Fault(pointer="/design/portions", says=f"A batter has from 1 to {len(NAMES)} portions."))
    largest = max(range(len(portions)), key=lambda i: portions[i].share)
    half = round(portions[largest].share / 2, 4)
    taken = {p.name for p in portions}
    out = list(portions)
    out[largest] = out[largest].model_copy(update={"share": round(out[largest].share - half, 6)})
    return [*out, Portion(name=next(n for n in NAMES if n not in taken), share=half, scented=False)]


def _without(portions: Sequence[Portion], row: int) -> list[Portion]:
    if not 0 <= row < len(portions) or len(portions) < 2:
        raise RuleBroken(Fault(pointer="/design/portions", says="One portion must be left."))
    out = [p for i, p in enumerate(portions) if i != row]
    out[0] = out[0].model_copy(update={"share": round(out[0].share + portions[row].share, 6)})
    return out


def _fat_grams(recipe: Recipe, act: FatGrams, sheet: Sheet | None) -> Recipe:
    at = f"/fats/{act.row}/share"
    if sheet is None:
        raise RuleBroken(Fault(pointer=at, says="Grams can be typed once the recipe is weighed: mend it first."))
    if not 0 <= act.row < len(recipe.fats):
        raise RuleBroken(Fault(pointer="/fats", says="There is no such row."))
    grams = [row.share / sum(r.share for r in recipe.fats) * sheet.fats for row in recipe.fats]
    grams[act.row] = act.grams
    total = sum(grams)
    if act.grams <= 0 or total <= 0:
        raise RuleBroken(Fault(pointer=at, says="A weight must be more than nothing."))
    shares = _whole([g / total for g in grams])
    fats = tuple(row.model_copy(update={"share": s}) for row, s in zip(recipe.fats, shares, strict=True))
    # Sized by weight the pot grows; sized by moulds it still has to fit, so only the proportions change.
    size = ByWeight(grams=round(total, 4)) if isinstance(recipe.size, ByWeight) else recipe.size
    return recipe.model_copy(update={"fats": fats, "size": size})


def _balance(recipe: Recipe, keep: Sequence[int]) -> Recipe:
    kept = sum(recipe.fats[i].share for i in set(keep) if 0 <= i < len(recipe.fats))
    free = [i for i in range(len(recipe.fats)) if i not in keep]
    loose = sum(recipe.fats[i].share for i in free)
    if not free or loose <= 0 or kept >= 1:
        says = "The rows that are kept leave nothing for the others."
        raise RuleBroken(Fault(pointer="/fats", says=says))
    scale = (1 - kept) / loose
    shares = _whole([row.share * (scale if i in free else 1) for i, row in enumerate(recipe.fats)], keep)
    fats = tuple(row.model_copy(update={"share": s}) for row, s in zip(recipe.fats, shares, strict=True))
    return recipe.model_copy(update={"fats": fats})


def _whole(shares: Sequence[float], keep: Sequence[int] = ()) -> list[float]:
    """Shares rounded to a thousandth of a percent that still make exactly one: the largest takes the rest."""
    rounded = [round(s, 5) for s in shares]
    free = [i for i in range(len(rounded)) if i not in keep]
    largest = max(free, key=lambda i: rounded[i])
    rounded[largest] = round(rounded[largest] + 1 - sum(rounded), 5)
    return rounded
