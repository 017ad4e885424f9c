"""The sheet as CSV (RFC 4180), and a recipe from such a sheet or from anyone's list of weights."""

import csv
import io
import math
import re

from ..core.from_weights import Weighed, recipe_of
from ..core.recipe import Recipe
from ..core.sheet import Sheet
from ..core.shelf import Shelf, Vessel
from ..core.stock import item_names
from ..core.values import Fault, RuleBroken
from . import recipe_file
from .plain import plain, unplain

VESSELS: dict[str, Vessel | None] = {"": None, "pot": "pot", "jug": "jug", "stir": "stir"}
STOCK = re.compile(r"stock lye (\d+(?:\.\d+)?) ?%", re.IGNORECASE)


def write(sheet: Sheet) -> str:
    """Vessel, ingredient, grams, percent of fats, note."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(["vessel", "ingredient", "grams", "percent_of_fats", "note"])
    for line in sheet.lines:
        writer.writerow([line.vessel, plain(line.name), f"{line.grams:.2f}", f"{100 * line.share:.3f}", line.note])
    return out.getvalue()


def read(text: str, name: str, shelf: Shelf) -> Recipe:
    """The recipe these weights mean; only `ingredient` and `grams` are needed, other columns are passed over.

    RuleBroken names every fault by line and column, and nothing is half-read.
    """
    reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")))
    missing = [c for c in ("ingredient", "grams") if c not in (reader.fieldnames or ())]
    if missing:
        raise RuleBroken(
            Fault(
                pointer="/1", says=f"Neither a recipe file nor a sheet of weights, which needs {' and '.join(missing)}."
            )
        )
    items: dict[str, list[str]] = {"water": ["water"], "ice": ["ice"], "naoh": ["alkali:naoh"], "koh": ["alkali:koh"]}
    for known, called in item_names(shelf).items():
        items.setdefault(called.casefold(), []).append(known)
    rows: list[Weighed] = []
    faults: list[Fault] = []
    for line, cells in enumerate(reader, start=2):
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
        try:
            grams = float((cells["grams"] or "").strip().replace(",", "."))
        except ValueError:
            grams = math.nan
        if not 0 <= grams <= 1_000_000:
            faults.append(Fault(pointer=f"/{line}/grams", says="A weight in grams is expected."))
        if not faults:
            rows.append(Weighed(meant[0], grams, VESSELS[vessel], float(found[1]) / 100 if found else 0.0))
    if faults:
        raise RuleBroken(*faults)
    return recipe_of(name, rows, shelf)


def read_either(text: str, name: str, shelf: Shelf) -> Recipe:
    """A recipe file, which is one JSON object, or a sheet of weights; `name` is for the latter."""
    if text.lstrip("\ufeff \t\r\n").startswith("{"):
        return recipe_file.read(text)
    return read(text, name or "From a sheet", shelf)
