"""Recipes as somebody wrote them down: one thing a line, in any unit and order, read line by line and shown as read.

Nothing is guessed in silence: what a line names is found by its exact name, or is left open for the maker to choose.
"""

import re
from collections.abc import Mapping, Sequence

from pydantic import Field

from ..core.recipe import (
    ONE_PORTION,
    PLAIN,
    ByConcentration,
    ByFats,
    ByMoulds,
    ByWeight,
    Dose,
    FatShare,
    Recipe,
    Scent,
)
from ..core.recipe.recipe import Mould
from ..core.sheet import Weighed, recipe_of
from ..core.shelf import Additive, Fat, Fragrance, Liquid, Shelf
from ..core.text import G, Text, figure, say
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
# Words of five languages for what a line names or says: from memory.
LYE = {"lye": "alkali:naoh", "naoh": "alkali:naoh", "sodium hydroxide": "alkali:naoh", "caustic soda": "alkali:naoh",
       "soude": "alkali:naoh", "soude caustique": "alkali:naoh", "ätznatron": "alkali:naoh",
       "natriumhydroxid": "alkali:naoh", "sosa cáustica": "alkali:naoh", "soda caustica": "alkali:naoh",
       "koh": "alkali:koh", "potassium hydroxide": "alkali:koh", "water": "water", "distilled water": "water",
       "wasser": "water", "eau": "water", "agua": "water", "acqua": "water", "ice": "ice"}  # fmt: skip
SUPERFAT, STRENGTH, FATS = "superfat", "concentration", "fats"  # what a line may say of the whole
SAID = {"superfat": SUPERFAT, "super fat": SUPERFAT, "lye discount": SUPERFAT, "überfettung": SUPERFAT,
        "surgras": SUPERFAT, "surgraissage": SUPERFAT, "sobreengrasado": SUPERFAT, "sovragrasso": SUPERFAT,
        "sconto soda": SUPERFAT, "lye concentration": STRENGTH, "lye strength": STRENGTH, "concentration": STRENGTH,
        "laugenkonzentration": STRENGTH, "concentration de soude": STRENGTH, "concentration de la lessive": STRENGTH,
        "concentración de sosa": STRENGTH, "concentración de lejía": STRENGTH, "concentrazione di soda": STRENGTH,
        "concentrazione della soda": STRENGTH, "total oils": FATS, "total fats": FATS, "oils": FATS, "fats": FATS,
        "all oils": FATS, "oil weight": FATS, "total oil weight": FATS, "gesamtfett": FATS,
        "fett gesamt": FATS, "total des huiles": FATS, "poids des huiles": FATS, "total de aceites": FATS,
        "peso de aceites": FATS, "totale oli": FATS, "totale grassi": FATS, "peso degli oli": FATS}  # fmt: skip
# What a line can be beside what stands on the shelf, as it is offered.
CHOICES = {"alkali:naoh": "Sodium hydroxide", "alkali:koh": "Potassium hydroxide", "water": "Water", "ice": "Ice",
           SUPERFAT: "Superfat", STRENGTH: "Lye concentration", FATS: "All fats together"}  # fmt: skip
RATIO = re.compile(r"(\d+(?:[.,]\d+)?)\s*(?::|to)\s*(\d+(?:[.,]\d+)?)", re.IGNORECASE)
# Lines that part a recipe, and are the name of none.
PARTS = {"oil", "oils", "fats", "butters", "oils and butters", "hard oils", "soft oils", "lye", "lye solution",
         "lye water", "liquid", "liquids", "water", "fragrance", "fragrances", "scent", "additives", "extras",
         "colours", "colors", "ingredients", "recipe", "öle", "fette", "lauge", "duft", "zutaten", "huiles", "soude",
         "ingrédients", "aceites", "sosa", "fragancia", "ingredientes", "oli", "grassi", "soda", "profumo",
         "ingredienti"}  # fmt: skip
# By how much what is said of the whole may differ from what the weights give: other saponification values and another
# purity of the lye move the superfat by so much [chosen].
CLOSE = {SUPERFAT: 0.02, STRENGTH: 0.01, FATS: 0.01}
MOST_LINES = 600
MOST_RECIPES = 60


class PastedLine(Value):
    """One line as it was read: its `item` as lots name it, or "" where the name is not known; its weight, or its share
    of the fats; and what could not be understood."""

    text: str
    name: Name
    item: str = ""
    grams: Grams | None = None
    share: Share | None = None
    message: Text = Text.NONE


class PastedBlock(Value):
    """One of the recipes that were pasted: its name, where a line says it, and its lines."""

    name: Name = ""
    lines: tuple[PastedLine, ...]


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
    return out | {_key(name): item for name, item in (*LYE.items(), *SAID.items())}


def _strength(line: str) -> float | None:
    """Lye's share of lye and water together, where a line gives their ratio: "water to lye 2:1"."""
    found, words = RATIO.search(line), _key(line)
    first, second = words.find("water"), words.find("lye")
    if found is None or -1 in (first, second):
        return None
    water, lye = (float(x.replace(",", ".")) for x in found.groups()[:: 1 if first < second else -1])
    return lye / (lye + water) if lye and water else None


def read_recipes(
    text: str, shelf: Shelf, also: Mapping[str, Sequence[str]], unit: str = "g"
) -> tuple[PastedBlock, ...]:
    """Every recipe of a text: a line without an amount behind an empty one is the name of the next, if fats follow.

    RuleError where there are more than can be read at once.
    """
    for sign, figures in FRACTIONS.items():
        text = re.sub(rf"(\d)\s*{sign}", rf"\g<1>{figures}", text).replace(sign, f"0{figures}")
    if len(text.splitlines()) > MOST_LINES:
        raise RuleError(Fault(pointer="/text", message=f"At most {MOST_LINES} lines at once: paste it in parts."))
    blocks: list[tuple[str, list[str]]] = [("", [])]
    gap = False
    for line in text.splitlines():
        words = _key(line)
        title = "" if words in PARTS or AMOUNT.search(line) else line.strip(" \t#*:;,-–—=")[:80]
        if title and gap and blocks[-1][1]:
            blocks.append((title, []))
        elif title and not blocks[-1][0] and not blocks[-1][1]:
            blocks[-1] = (title, [])
        elif words:
            blocks[-1][1].append(line)
        gap = not words
    names, out = _names(shelf, also), list[PastedBlock]()
    for name, lines in blocks:
        found = _lines(lines, names, unit)
        if out and not any(x.item.startswith("fat:") for x in found):
            out[-1] = out[-1].model_copy(update={"lines": out[-1].lines + found})
        elif found:
            out.append(PastedBlock(name=name, lines=found))
    if len(out) > MOST_RECIPES:
        raise RuleError(Fault(pointer="/text", message=f"At most {MOST_RECIPES} recipes at once: paste them in parts."))
    return tuple(out)


def _lines(lines: Sequence[str], names: Mapping[str, str], unit: str) -> tuple[PastedLine, ...]:
    """Every line that holds an amount. A number without a unit is in `unit`: g, oz or lb."""
    out = []
    for line in lines:
        if (strength := _strength(line)) is not None:
            out.append(PastedLine(text=line.strip()[:200], name=CHOICES[STRENGTH], item=STRENGTH, share=strength))
            continue
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

    Beside weighed fats a fragrance or an additive may be so much of them; liquids count only where lye is weighed, and
    water beside fats.
    """
    for i, row in enumerate(rows):
        kind = row.item.partition(":")[0]
        if row.item in (SUPERFAT, STRENGTH):
            message = "Give it in percent, or leave it out." if not row.share else ""
        elif row.item == FATS:
            message = "Give the weight of all fats, or leave it out." if not row.grams else ""
        elif not lye and kind in ("liquid", "ice"):
            message = ""
        elif (lye or (by_grams and kind == "fat")) and not row.grams:
            message = "Other lines are weights: give the weight of this one too, or leave it out."
        elif not by_grams and kind != "water" and not row.share:
            message = "Other lines are percent: give the percent of this one too, or leave it out."
        elif not by_grams and kind == "water" and not row.share:
            message = "Fats are in percent: give water in percent of them too, or leave it out."
        elif not row.grams and not row.share:
            message = "How much of it is not said: give it, or leave it out."
        else:
            message = ""
        if message:
            raise RuleError(Fault(pointer=f"/rows/{i}", message=message))


def _check_said(rows: Sequence[PastedRow], is_so: Mapping[str, float]) -> None:
    """What a line says of the whole must be what the weights give, by item: RuleError at a line that says otherwise."""
    for i, row in enumerate(rows):
        weighed = is_so.get(row.item)
        if weighed is None:
            continue
        told = (row.grams if row.item == FATS else row.share) or 0.0
        if abs(told - weighed) > CLOSE[row.item] * (weighed if row.item == FATS else 1.0):
            found = say(G(weighed, ".0f")) if row.item == FATS else say(figure(100 * weighed, ".1f"), " %")
            message = say("The weights give ", found, ": leave out this line, or correct the weights.")
            raise RuleError(Fault(pointer=f"/rows/{i}", message=message))


def _once(rows: Sequence[PastedRow]) -> None:
    """What is said of the whole is said once, the strength of the lye in one way: RuleError at the second line."""
    seen: set[str] = set()
    for i, row in enumerate(rows):
        what = STRENGTH if row.item == "water" else row.item
        if what in (SUPERFAT, STRENGTH, FATS) and what in seen:
            raise RuleError(Fault(pointer=f"/rows/{i}", message="This is said twice: leave one of the lines out."))
        seen.add(what)


def recipe_from(name: str, rows: Sequence[PastedRow], shelf: Shelf, mould: Mould) -> Recipe:
    """The recipe of these rows: as weighed, where lye is among them; else the fats as they are, with the lye that is
    said, or the usual one.

    By shares alone it fills the usual mould. RuleError where the weights cannot be a soap, a line says otherwise than
    they, or an item is not there.
    """
    known = {f"{kind}:{key}" for kind, table in _tables(shelf).items() for key in table} | set(CHOICES)
    for i, row in enumerate(rows):
        if row.item not in known:
            raise RuleError(Fault(pointer=f"/rows/{i}/item", message="This is not on the shelf."))
    fats = [r for r in rows if r.item.startswith("fat:")]
    lye = any(r.item.startswith("alkali:") for r in rows)
    by_grams = lye or any(r.grams for r in fats)
    _check_amounts(rows, lye, by_grams)
    amounts = [(r.item[4:], (r.grams if by_grams else r.share) or 0.0) for r in fats]
    whole = sum(a for _, a in amounts)
    if lye:
        weighed = [Weighed(item=r.item, grams=r.grams or 0.0) for r in rows if r.item not in (SUPERFAT, STRENGTH, FATS)]
        recipe = recipe_of(name, weighed, shelf)
        water = sum(r.grams or 0.0 for r in rows if r.item == "water")
        alkali = sum(r.grams or 0.0 for r in rows if r.item.startswith("alkali:"))
        strength = {STRENGTH: alkali / (alkali + water)} if water and not recipe.liquids else {}
        _check_said(rows, {SUPERFAT: recipe.superfat, FATS: whole, **strength})
        return recipe.model_copy(update={"design": recipe.design.model_copy(update={"technique": PLAIN})})
    if whole <= 0:
        raise RuleError(Fault(pointer="/rows", message="There is no fat with an amount among these lines."))
    _once(rows)
    if by_grams:
        _check_said(rows, {FATS: whole})

    def share_of(row: PastedRow) -> float:
        return row.grams / whole if row.grams and by_grams else row.share or 0.0

    said = {r.item: share_of(r) for r in rows if r.item in (SUPERFAT, STRENGTH, "water")}
    total = next((r.grams for r in rows if r.item == FATS), None)
    usual: dict[str, object] = {"superfat": said[SUPERFAT]} if SUPERFAT in said else {}
    if STRENGTH in said:
        usual["water"] = ByConcentration(share=said[STRENGTH])
    elif "water" in said:
        usual["water"] = ByFats(share=said["water"])
    return Recipe(
        name=name,
        fats=tuple(FatShare(fat=i, share=a / whole if by_grams else a) for i, a in amounts),
        scents=tuple(Scent(fragrance=r.item[10:], load=share_of(r)) for r in rows if r.item.startswith("fragrance:")),
        additives=tuple(
            Dose(additive=r.item[9:], amount=1000 * share_of(r)) for r in rows if r.item.startswith("additive:")
        ),
        size=ByWeight(grams=whole if by_grams else total) if by_grams or total else ByMoulds(moulds=(mould,)),
        design=ONE_PORTION,
    ).model_copy(update=usual)
