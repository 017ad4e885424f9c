"""The shelf as CSV (RFC 4180), one row a lot, and fragrances with their claims. See docs/formats.md."""

import csv
import io
from collections.abc import Callable, Iterable, Sequence
from datetime import date

from pydantic import ValidationError

from ..core.shelf import Claim, Family, Fragrance, Shelf
from ..core.stock import Lot, LotLeft, item_names
from ..core.values import Fault, RuleBroken
from .plain import plain, unplain

COLUMNS = (
    "kind",
    "name",
    "lot",
    "grams",
    "counted",
    "expires",
    "price_per_kg",
    "family",
    "claim",
    "vanillin_percent",
    "limit_percent",
)
KINDS = ("fat", "liquid", "additive", "fragrance", "alkali")


def write(shelf: Shelf, lots: Sequence[LotLeft], today: date) -> str:
    """Every lot with what is left of it today, and every fragrance, also those without a lot."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS)
    writer.writeheader()
    names = item_names(shelf)
    held = {x.lot.item for x in lots}
    for x in lots:
        lot = x.lot
        row = {
            "kind": lot.item.partition(":")[0],
            "name": plain(names.get(lot.item, lot.item)),
            "lot": plain(lot.label),
            "grams": f"{max(x.left, 0):.1f}",
            "counted": today.isoformat(),
            "expires": lot.expires.isoformat() if lot.expires else "",
            "price_per_kg": "" if lot.price_per_kg is None else f"{lot.price_per_kg:g}",
        }
        writer.writerow(row | _claims(shelf, lot.item))
    for fragrance in shelf.fragrances.values():
        item = f"fragrance:{fragrance.id}"
        if item not in held:
            writer.writerow({"kind": "fragrance", "name": plain(fragrance.name)} | _claims(shelf, item))
    return out.getvalue()


def _claims(shelf: Shelf, item: str) -> dict[str, str]:
    fragrance = shelf.fragrances.get(item.removeprefix("fragrance:")) if item.startswith("fragrance:") else None
    if fragrance is None:
        return {}
    return {
        "family": fragrance.family.value,
        "claim": fragrance.claim.value,
        "vanillin_percent": "" if fragrance.vanillin is None else f"{100 * fragrance.vanillin:g}",
        "limit_percent": "" if fragrance.limit is None else f"{100 * fragrance.limit:g}",
    }


def read(text: str, shelf: Shelf, name_id: Callable[[str, set[str]], str]) -> tuple[list[Lot], list[Fragrance]]:
    """Lots, and fragrances that are not on the shelf yet; RuleBroken names every fault by line and column.

    Nothing is half-read. `name_id` makes an id of a new fragrance's name that is not among those taken.
    """
    reader = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")))
    missing = [c for c in ("kind", "name") if c not in (reader.fieldnames or ())]
    unknown = [c for c in reader.fieldnames or () if c not in COLUMNS]
    if missing or unknown:
        says = f"Columns missing: {', '.join(missing)}." if missing else f"Columns not known: {', '.join(unknown)}."
        raise RuleBroken(Fault(pointer="/1", says=says))
    items = {(i.partition(":")[0], n.casefold()): i for i, n in item_names(shelf).items()}
    faults: list[Fault] = []
    lots: list[Lot] = []
    fragrances: dict[str, Fragrance] = {}
    for line, row in enumerate(reader, start=2):
        kind = (row.get("kind") or "").strip()
        name = unplain((row.get("name") or "").strip())
        item = items.get((kind, name.casefold()))
        try:
            if kind not in KINDS:
                raise RuleBroken(Fault(pointer="/kind", says=f"One of {', '.join(KINDS)} is expected."))
            if item is None and kind == "fragrance" and name:
                taken = {*shelf.fragrances, *(f.id for f in fragrances.values())}
                fragrance = _fragrance(row, name, name_id(name, taken))
                fragrances[fragrance.id] = fragrance
                item = items[kind, name.casefold()] = f"fragrance:{fragrance.id}"
            if item is None:
                raise RuleBroken(Fault(pointer="/name", says=f"There is no {kind} called {name} on the shelf."))
            if (row.get("grams") or "").strip():
                lots.append(_lot(row, item))
        except RuleBroken as broken:
            faults += (f.model_copy(update={"pointer": f"/{line}{f.pointer}"}) for f in broken.faults)
    if faults:
        raise RuleBroken(*faults)
    return lots, list(fragrances.values())


def _lot(row: dict[str, str], item: str) -> Lot:
    fields = {"grams": row.get("grams"), "counted": row.get("counted"), "expires": row.get("expires")}
    cells = {k: v.strip() for k, v in (fields | {"price_per_kg": row.get("price_per_kg")}).items() if v and v.strip()}
    try:
        return Lot.model_validate(cells | {"item": item, "label": unplain((row.get("lot") or "").strip())})
    except ValidationError as error:
        raise RuleBroken(*_named(error.errors())) from error


def _fragrance(row: dict[str, str], name: str, fragrance_id: str) -> Fragrance:
    cells: dict[str, object] = {"id": fragrance_id, "name": name}
    cells["family"] = (row.get("family") or "").strip() or Family.OTHER
    cells["claim"] = (row.get("claim") or "").strip() or Claim.UNKNOWN
    for column, field in (("vanillin_percent", "vanillin"), ("limit_percent", "limit")):
        typed = (row.get(column) or "").strip()
        if typed:
            try:
                cells[field] = float(typed) / 100
            except ValueError as error:
                raise RuleBroken(Fault(pointer=f"/{column}", says="This is not a number.")) from error
    try:
        return Fragrance.model_validate(cells)
    except ValidationError as error:
        raise RuleBroken(*_named(error.errors())) from error


def _named(errors: Iterable[object]) -> list[Fault]:
    found = [e for e in errors if isinstance(e, dict)]
    return [Fault(pointer=f"/{e['loc'][0] if e['loc'] else ''}", says=str(e["msg"])) for e in found]
