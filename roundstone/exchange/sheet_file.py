"""The sheet as CSV (RFC 4180), and a recipe from such a sheet or from anyone's list of weights."""

import csv
import io
import math
import re

from ..core.recipe import Recipe
from ..core.said import in_units
from ..core.sheet import Sheet, Weighed, item_names, recipe_of
from ..core.shelf import Shelf, Vessel
from ..core.values import Fault, RuleBroken
from . import recipe_file
from .plain import plain, rows, unplain

COLUMNS = ("vessel", "ingredient", "called", "grams", "percent_of_fats", "purity_percent", "into", "note")
USUAL_PURITY = {"naoh": 0.99, "koh": 0.90}  # where a sheet does not say: common practice
VESSELS: dict[str, Vessel | None] = {"": None, "pot": "pot", "jug": "jug", "stir": "stir"}
STOCK = re.compile(r"stock lye (\d+(?:\.\d+)?) ?%", re.IGNORECASE)
THOUSANDS = re.compile(r"[1-9]\d{0,2},\d{3}")  # "1,200": a comma before decimals, or between thousands


def write(sheet: Sheet, recipe: Recipe, shelf: Shelf) -> str:
    """Vessel, ingredient, its own name if it has one, grams, percent of fats, purity of an alkali, portion, note."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    names = item_names(shelf)
    purity = {"alkali:naoh": recipe.naoh_purity, "alkali:koh": recipe.koh_purity, "": recipe.naoh_purity}
    for line in sheet.lines:
        called = recipe.additives[line.row].called if line.kind == "additive" and line.row is not None else ""
        pure = f"{100 * purity[line.item]:.10g}" if line.kind in ("alkali", "stock") else ""
        # Four decimals, finer than any scale: what is read back must be the same lye.
        weights = [f"{line.grams:.4f}", f"{100 * line.share:.4f}"]
        # A file is in metric, its decimals behind a point.
        name, note = (plain(in_units(words)) for words in (names.get(line.item, line.name), line.note))
        writer.writerow([line.vessel, name, plain(called), *weights, pure, plain(line.into), note])
    return out.getvalue()


def _purities(text: str, was: float | None, at: str) -> float | None:
    """The purity stated beside an alkali, as a share; what two rows say must agree."""
    if not text:
        return was
    try:
        share = float(text.replace(",", ".")) / 100
    except ValueError:
        share = math.nan
    if not 0.8 <= share <= 1:
        raise RuleBroken(Fault(pointer=at, says="Purity runs from 80 to 100 %."))
    if was is not None and abs(was - share) > 1e-9:
        raise RuleBroken(Fault(pointer=at, says="Two rows of one alkali state different purities."))
    return share


def read(text: str, name: str, shelf: Shelf) -> Recipe:
    """The recipe these weights mean; `ingredient` and `grams` are needed, `vessel` and `purity_percent` are heeded.

    RuleBroken names every fault by line and column, and nothing is half-read.
    """
    columns, found_rows = rows(text)
    missing = [c for c in ("ingredient", "grams") if c not in columns]
    if missing:
        raise RuleBroken(
            Fault(
                pointer="/1", says=f"Neither a recipe file nor a sheet of weights, which needs {' and '.join(missing)}."
            )
        )
    items: dict[str, list[str]] = {"water": ["water"], "ice": ["ice"], "naoh": ["alkali:naoh"], "koh": ["alkali:koh"]}
    for known, called in item_names(shelf).items():
        items.setdefault(called.casefold(), []).append(known)
    weighed: list[Weighed] = []
    faults: list[Fault] = []
    purity: dict[str, float | None] = {"naoh": None, "koh": None}
    for line, cells in found_rows:
        words = unplain((cells["ingredient"] or "").strip())
        vessel = (cells.get("vessel") or "").strip()
        found = STOCK.fullmatch(words)
        meant = ["stock"] if found else items.get(words.casefold(), [])
        if len(meant) != 1:
            kinds = " and a ".join(m.partition(":")[0] for m in meant)
            says = (
                f"{words} is a {kinds} on the shelf: give one of them another name."
                if meant
                else f"There is nothing called {words or '(empty)'} on the shelf: add it there first."
            )
            faults.append(Fault(pointer=f"/{line}/ingredient", says=says))
        if vessel not in VESSELS:
            faults.append(Fault(pointer=f"/{line}/vessel", says="A vessel is pot, jug or stir, or empty."))
        weight = (cells["grams"] or "").strip()
        try:
            grams = float(weight.replace(",", "."))
        except ValueError:
            grams = math.nan
        if THOUSANDS.fullmatch(weight):
            whole, rest = weight.split(",")
            says = f"Write {whole}{rest}, or {whole}.{rest}: it could be either."
            faults.append(Fault(pointer=f"/{line}/grams", says=says))
        elif not 0 <= grams <= 1_000_000:
            faults.append(Fault(pointer=f"/{line}/grams", says="A weight in grams is expected."))
        of = "koh" if meant == ["alkali:koh"] else "naoh" if meant in (["alkali:naoh"], ["stock"]) else None
        if of is not None:
            try:
                stated = (cells.get("purity_percent") or "").strip()
                purity[of] = _purities(stated, purity[of], f"/{line}/purity_percent")
            except RuleBroken as broken:
                faults += broken.faults
        if not faults:
            weighed.append(Weighed(meant[0], grams, VESSELS[vessel], float(found[1]) / 100 if found else 0.0))
    if faults:
        raise RuleBroken(*faults)
    naoh, koh = (USUAL_PURITY[k] if (p := purity[k]) is None else p for k in ("naoh", "koh"))
    return recipe_of(name, weighed, shelf, naoh, koh)


def read_either(text: str, name: str, shelf: Shelf) -> Recipe:
    """A recipe file, which is one JSON object, or a sheet of weights; `name` is for the latter."""
    if text.lstrip("\ufeff \t\r\n").startswith("{"):
        return recipe_file.read(text)
    return read(text, name or "From a sheet", shelf)
