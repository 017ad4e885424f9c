"""A recipe as somebody wrote it down: one thing a line, in any unit and order, read line by line and shown as read.

Nothing is guessed in silence: what a line names is found by its exact name, or is left open for the maker to choose.
"""

import re
from collections.abc import Mapping, Sequence

from pydantic import Field

from ..core.recipe import ONE_PORTION, PLAIN, ByMoulds, ByWeight, Dose, FatShare, Recipe, Scent
from ..core.recipe.recipe import Mould
from ..core.sheet import Weighed, recipe_of
from ..core.shelf import Additive, Fat, Fragrance, Liquid, Shelf
from ..core.text import Text, say
from ..core.units import OUNCE, POUND
from ..core.values import Fault, Grams, Name, RuleError, Share, Value
from .plain import number

GRAMS = {"g": 1.0, "kg": 1000.0, "mg": 0.001, "oz": OUNCE, "lb": POUND}
UNITS = {"gr": "g", "gram": "g", "grams": "g", "gramm": "g", "kilo": "kg", "kilos": "kg", "ounce": "oz", "ounces": "oz",
         "lbs": "lb", "pound": "lb", "pounds": "lb", "#": "lb"}  # fmt: skip
FRACTIONS = {"½": ".5", "¼": ".25", "¾": ".75", "⅓": ".3333", "⅔": ".6667", "⅛": ".125"}
AMOUNT = re.compile(
    r"(?<![\w.])(?<!\d,)(\d[\d.,]*(?:\s+\d+/\d+)?|\d+/\d+)\s*"
    r"(kilos?|kg|mg|grams?|gramm|gr|g|ounces?|oz|pounds?|lbs?|lb|#|%)?(?![\w/])",
    re.IGNORECASE,
)
LYE = {"lye": "alkali:naoh", "naoh": "alkali:naoh", "sodium hydroxide": "alkali:naoh", "caustic soda": "alkali:naoh",
       "soude": "alkali:naoh", "soude caustique": "alkali:naoh", "ätznatron": "alkali:naoh",
       "natriumhydroxid": "alkali:naoh", "sosa cáustica": "alkali:naoh", "soda caustica": "alkali:naoh",
       "koh": "alkali:koh", "potassium hydroxide": "alkali:koh", "water": "water", "distilled water": "water",
       "wasser": "water", "eau": "water", "agua": "water", "acqua": "water", "ice": "ice"}  # fmt: skip
MOST_LINES = 200


class PastedLine(Value):
    """One line as it was read: its `item` as lots name it, or "" where the name is not known; its weight, or its share
    of the fats; and what could not be understood."""

    text: str
    name: Name
    item: str = ""
    grams: Grams | None = None
    share: Share | None = None
    message: Text = Text.NONE


class PastedRow(Value):
    """A line as the maker settled it."""

    item: str = Field(max_length=120)
    grams: Grams | None = Field(default=None, ge=0, le=10_000_000)
    share: Share | None = Field(default=None, ge=0, le=1)


def _amount(text: str) -> float:
    whole, _, part = text.strip().rpartition(" ")
    if "/" in part:
        over, under = part.split("/")
        if int(under) == 0:
            raise RuleError(Fault(pointer="", message="A fraction has something below its line."))
        return (float(whole) if whole else 0.0) + int(over) / int(under)
    return number(text, "")


def _key(name: str) -> str:
    """A name without its case and signs."""
    return " ".join(re.findall(r"[^\W_]+", name.casefold()))


def _tables(shelf: Shelf) -> dict[str, Mapping[str, Fat | Liquid | Additive | Fragrance]]:
    return {"fat": shelf.fats, "liquid": shelf.liquids, "additive": shelf.additives, "fragrance": shelf.fragrances}


def _names(shelf: Shelf, also: Mapping[str, Sequence[str]]) -> dict[str, str]:
    """Items by every name they are asked for, in lower case."""
    out: dict[str, str] = {}
    for kind, table in _tables(shelf).items():
        for key, thing in table.items():
            for name in (*also.get(key, ()), key.replace("-", " "), thing.name):
                out[_key(name)] = f"{kind}:{key}"
            if kind == "fat":
                out[_key(f"{thing.name} oil")] = f"{kind}:{key}"
    return out | {_key(name): item for name, item in LYE.items()}


def read_lines(text: str, shelf: Shelf, also: Mapping[str, Sequence[str]], unit: str = "g") -> tuple[PastedLine, ...]:
    """Every line that holds an amount. A number without a unit is in `unit`: g, oz or lb."""
    names = _names(shelf, also)
    for sign, written in FRACTIONS.items():
        text = re.sub(rf"(\d)\s*{sign}", rf"\g<1>{written}", text).replace(sign, f"0{written}")
    out = []
    for line in text.splitlines()[:MOST_LINES]:
        found = list(AMOUNT.finditer(line))
        if not found:
            continue
        name = re.sub(r"\s+", " ", AMOUNT.sub(" ", line).replace("\t", " ")).strip(" ,;:|-–=()\"'*•·")[:80]
        grams, share, message = 0.0, None, Text.NONE
        for amount in found:
            measure = (amount[2] or "").casefold()
            measure = UNITS.get(measure, measure)
            try:
                value = _amount(amount[1])
            except RuleError as wrong:
                message = wrong.faults[0].message
                continue
            if measure == "%":
                share = value / 100
            elif measure or len(found) == 1:
                grams += value * GRAMS[measure or unit]
        item = names.get(_key(name)) or names.get(_key(re.sub(r"\(.*?\)", "", name))) or ""
        if not item and not message:
            message = say("Choose what this is, or leave it out.")
        weight = grams or None
        out.append(
            PastedLine(text=line.strip()[:200], name=name, item=item, grams=weight, share=share, message=message)
        )
    return tuple(out)


def _check_amounts(rows: Sequence[PastedRow], lye: bool, by_grams: bool) -> None:
    """Weights and shares do not mix where that would leave a line out: RuleError at the line that is of the other kind.

    Beside weighed fats a fragrance or an additive may be so much of them; liquids count only where lye is weighed.
    """
    for i, row in enumerate(rows):
        kind = row.item.partition(":")[0]
        if not lye and kind in ("liquid", "water", "ice"):
            continue
        if (lye or (by_grams and kind == "fat")) and not row.grams:
            message = "Other lines are weights: give the weight of this one too, or leave it out."
        elif not by_grams and not row.share:
            message = "Other lines are percent: give the percent of this one too, or leave it out."
        elif not row.grams and not row.share:
            message = "How much of it is not said: give it, or leave it out."
        else:
            continue
        raise RuleError(Fault(pointer=f"/rows/{i}", message=message))


def recipe_from(name: str, rows: Sequence[PastedRow], shelf: Shelf, mould: Mould) -> Recipe:
    """The recipe of these rows: as weighed, where lye is among them; else the fats as they are, with the usual lye.

    By shares alone it fills the usual mould. RuleError where the weights cannot be a soap, or an item is not there.
    """
    known = {f"{kind}:{key}" for kind, table in _tables(shelf).items() for key in table}
    for i, row in enumerate(rows):
        if row.item not in known and row.item not in LYE.values():
            raise RuleError(Fault(pointer=f"/rows/{i}/item", message="This is not on the shelf."))
    fats = [r for r in rows if r.item.startswith("fat:")]
    lye = any(r.item.startswith("alkali:") for r in rows)
    by_grams = lye or any(r.grams for r in fats)
    _check_amounts(rows, lye, by_grams)
    if lye:
        recipe = recipe_of(name, [Weighed(item=r.item, grams=r.grams or 0.0) for r in rows], shelf)
        return recipe.model_copy(update={"design": recipe.design.model_copy(update={"technique": PLAIN})})
    amounts = [(r.item[4:], (r.grams if by_grams else r.share) or 0.0) for r in fats]
    whole = sum(a for _, a in amounts)
    if whole <= 0:
        raise RuleError(Fault(pointer="/rows", message="There is no fat with an amount among these lines."))

    def share_of(row: PastedRow) -> float:
        return row.grams / whole if row.grams and by_grams else row.share or 0.0

    return Recipe(
        name=name,
        fats=tuple(FatShare(fat=i, share=a / whole if by_grams else a) for i, a in amounts),
        scents=tuple(Scent(fragrance=r.item[10:], load=share_of(r)) for r in rows if r.item.startswith("fragrance:")),
        additives=tuple(
            Dose(additive=r.item[9:], amount=1000 * share_of(r)) for r in rows if r.item.startswith("additive:")
        ),
        size=ByWeight(grams=whole) if by_grams else ByMoulds(moulds=(mould,)),
        design=ONE_PORTION,
    )
