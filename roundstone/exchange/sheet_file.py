"""The sheet as CSV (RFC 4180), and a recipe from such a sheet or from anyone's list of weights."""

import csv
import io
import re
from collections.abc import Callable
from typing import ParamSpec, TypeVar

from ..core.recipe import Recipe
from ..core.sheet import Sheet, Weighed, item_names, recipe_of
from ..core.shelf import Shelf, Vessel, refused_sv
from ..core.text import Text, say
from ..core.values import Fault, RuleError
from . import recipe_file
from .plain import number, plain, rows, unplain, written

COLUMNS = (
    "vessel",
    "ingredient",
    "called",
    "grams",
    "percent_of_fats",
    "purity_percent",
    "into",
    "note",
    "item",
    "saponification_value",
)
USUAL_PURITY = {"naoh": 0.99, "koh": 0.90}  # where a sheet does not say: common practice
VESSELS: dict[str, Vessel | None] = {"": None, "pot": "pot", "jug": "jug", "stir": "stir"}
STOCK = re.compile(r"stock lye (\d+(?:[.,]\d+)?) ?%", re.IGNORECASE)
OWN_WORDS = ("water", "ice")  # what a sheet calls by words of its own, and no item of the shelf
MOST_GRAMS = 1_000_000


def write(sheet: Sheet, recipe: Recipe, shelf: Shelf) -> str:
    """Vessel, ingredient, its own name if it has one, grams, percent of fats, purity of an alkali, portion, note, item,
    and the saponification value of a fat's lot."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    names = item_names(shelf)
    purity = {"alkali:naoh": recipe.naoh_purity, "alkali:koh": recipe.koh_purity, "": recipe.naoh_purity}
    for line in sheet.lines:
        called = recipe.additives[line.row].called if line.kind == "additive" and line.row is not None else ""
        pure = written(100 * purity[line.item]) if line.kind in ("alkali", "stock") else ""
        # Four decimals, finer than any scale: what is read back must be the same lye.
        weights = [f"{line.grams:.4f}", f"{100 * line.share:.4f}"]
        # A file is in metric, its decimals behind a point.
        name, note = (plain(str(words)) for words in (names.get(line.item, line.name), line.note))
        sv = recipe.fats[line.row].sv if line.kind == "fat" and line.row is not None else None
        by_lot = "" if sv is None else written(sv)
        writer.writerow([line.vessel, name, plain(called), *weights, pure, plain(line.into), note, line.item, by_lot])
    return out.getvalue()


T = TypeVar("T")
P = ParamSpec("P")


def _told(wrong: list[Fault], instead: T, read_it: Callable[P, T], *cells: P.args, **more: P.kwargs) -> T:
    """What cells say; what is wrong with them is put down, and something stands in their place."""
    try:
        return read_it(*cells, **more)
    except RuleError as broken:
        wrong += broken.faults
        return instead


def _vessel(cells: dict[str, str]) -> Vessel | None:
    vessel = (cells.get("vessel") or "").strip()
    if vessel not in VESSELS:
        raise RuleError(Fault(pointer="/vessel", message="A vessel is pot, jug or stir, or empty."))
    return VESSELS[vessel]


def _grams(cells: dict[str, str], commas: bool) -> float:
    grams = number(cells["grams"] or "", "/grams", commas, "A weight in grams")
    if not 0 <= grams <= MOST_GRAMS:
        raise RuleError(Fault(pointer="/grams", message="A weight in grams is expected."))
    return grams


def _purity(cells: dict[str, str], was: float | None, commas: bool) -> float | None:
    """The purity stated beside an alkali, as a share; what two rows say must agree."""
    at = "/purity_percent"
    text = (cells.get("purity_percent") or "").strip()
    if not text:
        return was
    share = number(text, at, commas, "A purity") / 100
    if not 0.8 <= share <= 1:
        raise RuleError(Fault(pointer=at, message="Purity runs from 80 to 100 %."))
    if was is not None and abs(was - share) > 1e-9:
        raise RuleError(Fault(pointer=at, message="Two rows of one alkali state different purities."))
    return share


def _sv(cells: dict[str, str], item: str, shelf: Shelf, commas: bool) -> float | None:
    """What a certificate states of a fat, mg KOH/g."""
    at, text = "/saponification_value", (cells.get("saponification_value") or "").strip()
    if not text:
        return None
    fat, sv = shelf.fats.get(item.removeprefix("fat:")), number(text, at, commas, "A saponification value")
    why = refused_sv(fat, sv) if fat is not None and item.startswith("fat:") else say("Only a fat has one.")
    if why != Text.NONE:
        raise RuleError(Fault(pointer=at, message=why))
    return sv


def _meant(cells: dict[str, str], items: dict[str, list[str]]) -> tuple[str, float]:
    """The item a row means, and the strength of a stock lye; RuleError where it is nothing, or several things."""
    words = unplain((cells["ingredient"] or "").strip())
    stock = STOCK.fullmatch(words)
    found = ["stock"] if stock else items.get(words.casefold(), [])
    if len(found) > 1 and "item" in cells:  # of one name the one that the sheet was written of
        item = (cells["item"] or "").strip()
        found = [i for i in found if i == item] or [i for i in found if not item and i in OWN_WORDS] or found
    if len(found) != 1:
        kinds = " and a ".join(m.partition(":")[0] for m in found)
        message = (
            f"{words} is a {kinds} on the shelf: give one of them another name."
            if found
            else f"There is nothing called {words or '(empty)'} on the shelf: add it there first."
        )
        raise RuleError(Fault(pointer="/ingredient", message=message))
    return found[0], float(stock[1].replace(",", ".")) / 100 if stock else 0.0


def read(text: str, name: str, shelf: Shelf) -> Recipe:
    """The recipe these weights mean; `ingredient` and `grams` are needed, `vessel` and `purity_percent` are heeded.

    RuleError names every fault by line and column, and nothing is half-read.
    """
    columns, found_rows, commas = rows(text)
    missing = [c for c in ("ingredient", "grams") if c not in columns]
    if missing:
        message = f"Neither a recipe file nor a sheet of weights, which needs {' and '.join(missing)}."
        raise RuleError(Fault(pointer="/1", message=message))
    items: dict[str, list[str]] = {"water": ["water"], "ice": ["ice"], "naoh": ["alkali:naoh"], "koh": ["alkali:koh"]}
    for known, called in item_names(shelf).items():
        items.setdefault(called.casefold(), []).append(known)
    weighed: list[Weighed] = []
    faults: list[Fault] = []
    purity: dict[str, float | None] = {"naoh": None, "koh": None}
    for line, cells in found_rows:
        wrong: list[Fault] = []
        item, strength = _told(wrong, ("", 0.0), _meant, cells, items)
        vessel = _told(wrong, None, _vessel, cells)
        grams = _told(wrong, 0.0, _grams, cells, commas)
        of = {"alkali:koh": "koh", "alkali:naoh": "naoh", "stock": "naoh"}.get(item)
        if of is not None:
            purity[of] = _told(wrong, None, _purity, cells, purity[of], commas)
        sv = _told(wrong, None, _sv, cells, item, shelf, commas)
        faults += RuleError(*wrong).under(f"/{line}").faults
        weighed.append(Weighed(item, grams, vessel, strength, sv))
    if faults:
        raise RuleError(*faults)
    naoh, koh = (USUAL_PURITY[k] if (p := purity[k]) is None else p for k in ("naoh", "koh"))
    return recipe_of(name, weighed, shelf, naoh, koh)


def read_either(text: str, name: str, shelf: Shelf) -> recipe_file.Read:
    """A recipe file, which is one JSON object, or a sheet of weights; `name` is for the latter."""
    if text.lstrip("\ufeff \t\r\n").startswith("{"):
        return recipe_file.read(text.lstrip("\ufeff"))
    return recipe_file.Read(read(text, name or "From a sheet", shelf), recipe_file.Uses())
