"""Edits that touch more than one figure: grams typed into a row, the rest balanced, fats and portions added."""

import re
from collections.abc import Sequence

from ..recipe import (
    MOST_PORTIONS,
    ByMoulds,
    ByWeight,
    CombineStep,
    FatShare,
    Portion,
    Recipe,
    SplitStep,
    free,
)
from ..recipe.mould import CUP
from ..values import Fault, RuleError
from .acts import (
    Act,
    AddFat,
    AddPortion,
    Balance,
    FatGrams,
    FatTyped,
    MovePortion,
    PortionAmount,
    PortionPerMould,
    PortionScent,
    RenamePortion,
    TakePortion,
)
from .sheet import Sheet

NAMES = ("Accent", "Second accent", *(f"Portion {i}" for i in range(3, MOST_PORTIONS + 2)))
FIRST_SHARE = 0.05  # of a fat added where nothing is missing [chosen]


def adjust(recipe: Recipe, act: Act, sheet: Sheet | None) -> Recipe:
    """The recipe after the act; RuleError where it cannot be done. `sheet` is the recipe weighed before it."""
    match act:
        case FatGrams():
            out = _fat_grams(recipe, act, sheet)
        case Balance():
            out = _balance(recipe, act.keep)
        case FatTyped():
            out = _fat_typed(recipe, act)
        case AddFat():
            out = _add_fat(recipe, act)
        case AddPortion():
            out = _with_portions(recipe, _cut(recipe.design.portions))
        case TakePortion():
            left = _with_portions(recipe, _without(recipe.design.portions, act.row))
            gone = recipe.design.portions[act.row].name
            out = _moved(_unnamed(left, gone), gone, left.design.portions[0].name)
        case PortionPerMould():
            out = _per_mould(recipe)
        case PortionAmount():
            out = _portion_amount(recipe, act, sheet)
        case PortionScent():
            out = _portion_scent(recipe, act, sheet)
        case RenamePortion():
            row = _portion_row(recipe, act.row)
            if any(p.name.casefold() == act.name.casefold() for i, p in enumerate(recipe.design.portions) if i != row):
                # What goes into either could not be told apart any more.
                raise RuleError(Fault(pointer=f"/design/portions/{row}/name", message="Two portions have this name."))
            out = renamed(recipe, row, act.name)
        case MovePortion():
            portions = list(recipe.design.portions)
            portions.insert(act.to, portions.pop(_portion_row(recipe, act.row)))
            out = _with_portions(recipe, portions)
    return out


def renamed(recipe: Recipe, row: int, name: str) -> Recipe:
    """A recipe one of whose portions is called otherwise, wherever it is named."""
    portions = list(recipe.design.portions)
    was = portions[row].name

    def called(n: str) -> str:
        return name if n == was else n

    portions = [p.model_copy(update={"of": called(p.of)}) if p.of else p for p in portions]
    portions[row] = portions[row].model_copy(update={"name": name})
    steps = tuple(
        s if isinstance(s, CombineStep | SplitStep) else s.model_copy(update={"who": tuple(map(called, s.who))})
        for s in recipe.design.steps
    )
    ready = tuple(r.model_copy(update={"step": key_with(r.step, was, name)}) for r in recipe.design.ready)
    design = recipe.design.model_copy(update={"portions": tuple(portions), "steps": steps, "ready": ready})
    doses = tuple(d.moved({was: name}) for d in recipe.additives)
    return recipe.model_copy(update={"design": design, "additives": doses})


def key_with(key: str, was: str, name: str) -> str:
    """A step's key with a portion renamed.

    >>> key_with("drop Fig and Ash 2", "Fig", "Plum")
    'drop Plum and Ash 2'
    """
    verb, space, rest = key.partition(" ")
    if not was:
        return key
    return verb + space + re.sub(rf"(?<!\w){re.escape(was)}(?!\w)", lambda _: name, rest)


def _unnamed(recipe: Recipe, gone: str) -> Recipe:
    """The maker's own steps without a portion that is no more; a step that was for it alone goes with it."""
    steps = []
    for step in recipe.design.steps:
        who = getattr(step, "who", ())
        left = tuple(n for n in who if n != gone)
        if who and not left:
            continue
        steps.append(step.model_copy(update={"who": left}) if left != who else step)
    taken = tuple(p.model_copy(update={"of": ""}) if p.of == gone else p for p in recipe.design.portions)
    design = recipe.design.model_copy(update={"steps": tuple(steps), "portions": taken})
    return recipe.model_copy(update={"design": design})


def _portion_row(recipe: Recipe, row: int) -> int:
    if not 0 <= row < len(recipe.design.portions):
        raise RuleError(Fault(pointer="/design/portions", message="There is no such portion."))
    return row


def _needs(sheet: Sheet | None, pointer: str) -> Sheet:
    if sheet is None:
        message = "Grams and cups can be typed once the recipe is weighed: mend it first."
        raise RuleError(Fault(pointer=pointer, message=message))
    return sheet


def _portion_amount(recipe: Recipe, act: PortionAmount, sheet: Sheet | None) -> Recipe:
    portions = list(recipe.design.portions)
    row = _portion_row(recipe, act.row)
    at = f"/design/portions/{row}/share"
    if act.unit == "%":
        share = act.amount / 100
    else:
        weighed = _needs(sheet, at)
        batter = sum(p.batter for p in weighed.portions)
        grams = act.amount if act.unit == "g" else act.amount * CUP * weighed.total / weighed.millilitres
        share = grams / batter
    others = [i for i in range(len(portions)) if i != row]
    marked = [i for i in others if portions[i].rest]
    free = [i for i in others if i not in act.keep] or others
    takes = marked[0] if marked else max(free, key=lambda i: portions[i].share, default=None)
    portions[row] = portions[row].model_copy(update={"share": round(share, 6)})
    if takes is not None:
        left = 1 - portions[row].share - sum(portions[i].share for i in others if i != takes)
        if left > 0:
            portions[takes] = portions[takes].model_copy(update={"share": round(left, 6)})
    return _with_portions(recipe, portions)


def _portion_scent(recipe: Recipe, act: PortionScent, sheet: Sheet | None) -> Recipe:
    portions = list(recipe.design.portions)
    row = _portion_row(recipe, act.row)
    at = f"/design/portions/{row}/scent"
    weighed = _needs(sheet, at)
    full = sum(s.load for s in recipe.scents) * portions[row].share * weighed.fats
    if full <= 0:
        raise RuleError(Fault(pointer=at, message="There is no fragrance in this recipe yet."))
    portions[row] = portions[row].model_copy(update={"scent": round(max(act.grams, 0.0) / full, 4)})
    return _with_portions(recipe, portions)


def _moved(recipe: Recipe, gone: str, now: str) -> Recipe:
    """What went into that portion alone goes where it went; two of one kind in one portion are for the maker to join.
    What other portions get too stays theirs."""
    doses = tuple(d.moved({gone: now if d.into == (gone,) else None}) for d in recipe.additives)
    return recipe.model_copy(update={"additives": doses})


def _per_mould(recipe: Recipe) -> Recipe:
    size = recipe.size
    if not isinstance(size, ByMoulds) or not 2 <= len(size.moulds) <= MOST_PORTIONS:
        message = f"Size the recipe by 2 to {MOST_PORTIONS} moulds first."
        raise RuleError(Fault(pointer="/size/moulds", message=message))
    volumes = [free(m, recipe.embedded) for m in size.moulds]
    if min(volumes) <= 0:
        raise RuleError(Fault(pointer="/size/moulds", message="Every mould must hold something."))
    scent = float(any(p.scented for p in recipe.design.portions))
    names = [f"{m.shape.capitalize()} {i + 1}" for i, m in enumerate(size.moulds)]
    shares = _whole([v / sum(volumes) for v in volumes])
    portions = [Portion(name=n, share=s, scent=scent) for n, s in zip(names, shares, strict=True)]
    moved = {p.name: names[0] for p in recipe.design.portions}
    doses = tuple(d.moved(moved) for d in recipe.additives)
    return _with_portions(recipe, portions).model_copy(update={"additives": doses})


def _with_portions(recipe: Recipe, portions: Sequence[Portion]) -> Recipe:
    return recipe.model_copy(update={"design": recipe.design.model_copy(update={"portions": tuple(portions)})})


def _cut(portions: Sequence[Portion]) -> list[Portion]:
    if not 1 <= len(portions) < MOST_PORTIONS:
        raise RuleError(Fault(pointer="/design/portions", message=f"A batter has from 1 to {MOST_PORTIONS} portions."))
    largest = max(range(len(portions)), key=lambda i: portions[i].share)
    half = round(portions[largest].share / 2, 4)
    taken = {p.name for p in portions}
    out = list(portions)
    out[largest] = out[largest].model_copy(update={"share": round(out[largest].share - half, 6)})
    return [*out, Portion(name=next(n for n in NAMES if n not in taken), share=half)]


def _without(portions: Sequence[Portion], row: int) -> list[Portion]:
    if not 0 <= row < len(portions) or len(portions) < 2:
        raise RuleError(Fault(pointer="/design/portions", message="One portion must be left."))
    out = [p for i, p in enumerate(portions) if i != row]
    out[0] = out[0].model_copy(update={"share": round(out[0].share + portions[row].share, 6)})
    return out


def _with_shares(recipe: Recipe, shares: Sequence[float]) -> Recipe:
    fats = tuple(row.model_copy(update={"share": s}) for row, s in zip(recipe.fats, shares, strict=True))
    return recipe.model_copy(update={"fats": fats})


def _row(recipe: Recipe, row: int) -> None:
    if not 0 <= row < len(recipe.fats):
        raise RuleError(Fault(pointer="/fats", message="There is no such row."))


def _fat_typed(recipe: Recipe, act: FatTyped) -> Recipe:
    _row(recipe, act.row)
    typed = _with_shares(recipe, [act.share if i == act.row else r.share for i, r in enumerate(recipe.fats)])
    keep = {act.row, *act.keep}
    free = [i for i in range(len(recipe.fats)) if i not in keep]
    left = 1 - sum(r.share for i, r in enumerate(typed.fats) if i in keep)
    if not free or left <= 0 or any(r.share < 0 for r in typed.fats):
        return typed
    loose = sum(recipe.fats[i].share for i in free)
    shares = [r.share for r in typed.fats]
    for i in free:
        shares[i] = left * (recipe.fats[i].share / loose if loose > 0 else 1 / len(free))
    return _with_shares(typed, _whole(shares, sorted(keep)))


def _add_fat(recipe: Recipe, act: AddFat) -> Recipe:
    shares = [row.share for row in recipe.fats]
    total = sum(shares)
    new = FatShare(fat=act.fat, share=1.0)
    grown = recipe.model_copy(update={"fats": (*recipe.fats, new)})
    missing = round(1 - total, 5)
    if missing > 0 or not shares or min(shares) < 0:
        return _with_shares(grown, [*shares, missing if 0 < missing <= 1 else FIRST_SHARE])
    taken = FIRST_SHARE
    if act.on_top and isinstance(recipe.size, ByWeight):
        size = ByWeight(grams=round(recipe.size.grams * total / (1 - taken), 4))
        return _with_shares(grown, _whole([*(s / total * (1 - taken) for s in shares), taken])).model_copy(
            update={"size": size}
        )
    # From those that may give it: all but the kept ones, or all where they have too little.
    free = [i for i in range(len(shares)) if i not in act.keep]
    loose = sum(shares[i] for i in free)
    kept = total - loose
    if loose <= taken or kept + taken >= 1:
        free, loose, kept = list(range(len(shares))), total, 0.0
    scale = (1 - taken - kept) / loose
    after = [s * scale if i in free else s for i, s in enumerate(shares)]
    return _with_shares(grown, _whole([*after, taken], [i for i in range(len(shares)) if i not in free]))


def _fat_grams(recipe: Recipe, act: FatGrams, sheet: Sheet | None) -> Recipe:
    at = f"/fats/{act.row}/share"
    _row(recipe, act.row)
    if not isinstance(recipe.size, ByWeight):
        raise RuleError(Fault(pointer=at, message="A full mould is weighed anew for this: type it in the recipe."))
    # A list of weights needs no lye yet: what stands in the rows is a share of the weight that is set.
    shares = [max(row.share, 0.0) for row in recipe.fats]
    whole = sum(shares) if sheet is not None else 1.0
    grams = [s / whole * recipe.size.grams for s in shares]
    grams[act.row] = act.grams
    total = sum(grams)
    if act.grams <= 0 or total <= 0:
        raise RuleError(Fault(pointer=at, message="A weight must be more than nothing."))
    size = ByWeight(grams=round(total, 4))
    return _with_shares(recipe, _whole([g / total for g in grams])).model_copy(update={"size": size})


def _balance(recipe: Recipe, keep: Sequence[int]) -> Recipe:
    wrong = next((i for i, row in enumerate(recipe.fats) if row.share < 0), None)
    if wrong is not None:
        raise RuleError(Fault(pointer=f"/fats/{wrong}/share", message="A share cannot be negative: mend it first."))
    kept = sum(recipe.fats[i].share for i in set(keep) if 0 <= i < len(recipe.fats))
    free = [i for i in range(len(recipe.fats)) if i not in keep]
    loose = sum(recipe.fats[i].share for i in free)
    if not free or loose <= 0 or kept >= 1:
        message = "The rows that are kept leave nothing for the others."
        raise RuleError(Fault(pointer="/fats", message=message))
    scale = (1 - kept) / loose
    shares = [row.share * (scale if i in free else 1) for i, row in enumerate(recipe.fats)]
    return _with_shares(recipe, _whole(shares, keep))


def _whole(shares: Sequence[float], keep: Sequence[int] = ()) -> list[float]:
    """Shares rounded to a thousandth of a percent, but for those kept, that make one: the largest takes the rest."""
    rounded = [s if i in keep else round(s, 5) for i, s in enumerate(shares)]
    free = [i for i in range(len(rounded)) if i not in keep]
    largest = max(free, key=lambda i: rounded[i])
    rounded[largest] += 1 - sum(rounded)
    return rounded
