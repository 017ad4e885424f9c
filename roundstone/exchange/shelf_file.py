"""The shelf as CSV (RFC 4180), one row a lot, and fragrances with their claims. See docs/formats.md."""

import csv
import io
from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import datetime
from uuid import UUID

from pydantic import ValidationError

from ..core.sheet import Lot, LotEdit, LotLeft, OrderLine, check_lot, item_names, recount
from ..core.shelf import Claim, Family, Fragrance, Shelf
from ..core.text import G, Text, say
from ..core.values import Fault, Grams, RuleError
from .plain import number, plain, rows, unplain, written

COLUMNS = (
    "kind",
    "name",
    "lot",
    "grams",
    "counted",
    "expires",
    "bought",
    "opened",
    "price_per_kg",
    "family",
    "claim",
    "vanillin_percent",
    "limit_percent",
    "id",
    "supplier",
    "supplier_batch",
    "purity_percent",
    "saponification_value",
    "pack_grams",
)
COLUMN_OF = {"/purity": "/purity_percent", "/sv": "/saponification_value"}
DAYS = ("expires", "bought", "opened")
GREW = 10  # times what was left of a lot: a count so much larger is asked about [chosen]
KINDS = ("fat", "liquid", "additive", "fragrance", "alkali")


def write(shelf: Shelf, lots: Sequence[LotLeft], now: datetime) -> str:
    """Every lot with what is left of it now, and every fragrance, also those without a lot.

    A lot carries its id, so that reading it back is a count of that lot and not another one.
    """
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
            "grams": written(round(max(x.left, 0), 4), 12),
            "counted": now.isoformat(),
            **{f: day.isoformat() if (day := getattr(lot, f)) else "" for f in DAYS},
            "price_per_kg": "" if lot.price_per_kg is None else written(lot.price_per_kg),
            "supplier": plain(lot.supplier),
            "supplier_batch": plain(lot.code),
            "purity_percent": "" if lot.purity is None else written(100 * lot.purity),
            "saponification_value": "" if lot.sv is None else written(lot.sv),
            "pack_grams": "" if lot.pack is None else written(lot.pack),
            "id": x.id,
        }
        writer.writerow(row | _claims(shelf, lot.item))
    for fragrance in shelf.fragrances.values():
        item = f"fragrance:{fragrance.id}"
        if item not in held:
            writer.writerow({"kind": "fragrance", "name": plain(fragrance.name)} | _claims(shelf, item))
    return out.getvalue()


def write_orders(lines: Iterable[OrderLine]) -> str:
    """A list to order by: name, grams, the ISO day by which, the batches it is for, and as it was bought last."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(("name", "grams", "by", "for", "supplier", "pack_grams", "packs", "price_per_kg", "cost"))
    for x in lines:
        last = [written(v, 12) if v is not None else "" for v in (x.pack, x.packs, x.price, x.cost)]
        batches = plain(", ".join(x.batches))
        writer.writerow((plain(x.name), written(round(x.wanted, 4), 12), x.by, batches, plain(x.supplier), *last))
    return out.getvalue()


def _claims(shelf: Shelf, item: str) -> dict[str, str]:
    fragrance = shelf.fragrances.get(item.removeprefix("fragrance:")) if item.startswith("fragrance:") else None
    if fragrance is None:
        return {}
    return {
        "family": fragrance.family.value,
        "claim": fragrance.claim.value,
        "vanillin_percent": "" if fragrance.vanillin is None else written(100 * fragrance.vanillin),
        "limit_percent": "" if fragrance.limit is None else written(100 * fragrance.limit),
    }


def read(
    text: str,
    shelf: Shelf,
    name_id: Callable[[str, set[str]], str],
    now: datetime,
    there: Mapping[str, Grams] = {},
    sure: bool = False,
) -> tuple[list[tuple[str, Lot]], list[Fragrance]]:
    """Lots with their ids ("" for new ones), and fragrances that are not on the shelf yet.

    RuleError names every fault by line and column, and nothing is half-read. `name_id` makes an id of a new
    fragrance's name that is not among those taken. `there` is what is left of each lot: one that has grown GREW times
    is asked about, unless that is `sure`, for a spreadsheet of another region may have moved its decimal sign.
    """
    columns, found_rows, commas = rows(text)
    missing = [c for c in ("kind", "name") if c not in columns]
    unknown = [c for c in columns if c not in COLUMNS]
    if missing or unknown:
        message = f"Columns missing: {', '.join(missing)}." if missing else f"Columns not known: {', '.join(unknown)}."
        raise RuleError(Fault(pointer="/1", message=message))
    items = {(i.partition(":")[0], n.casefold()): i for i, n in item_names(shelf).items()}
    faults: list[Fault] = []
    grown: list[Fault] = []
    lots: list[tuple[str, Lot]] = []
    fragrances: dict[str, Fragrance] = {}
    for line, row in found_rows:
        kind = (row.get("kind") or "").strip()
        name = unplain((row.get("name") or "").strip())
        item = items.get((kind, name.casefold()))
        try:
            if kind not in KINDS:
                raise RuleError(Fault(pointer="/kind", message=f"One of {', '.join(KINDS)} is expected."))
            if item is None and kind == "fragrance" and name:
                taken = {*shelf.fragrances, *(f.id for f in fragrances.values())}
                fragrance = _fragrance(row, name, name_id(name, taken), commas)
                fragrances[fragrance.id] = fragrance
                item = items[kind, name.casefold()] = f"fragrance:{fragrance.id}"
            if item is None:
                raise RuleError(Fault(pointer="/name", message=f"There is no {kind} called {name} on the shelf."))
            if (row.get("grams") or "").strip():
                lots.append((_lot_id(row), lot := _lot(row, item, now, commas)))
                _check(lot, shelf)
                was = there.get(lots[-1][0], 0.0)
                if was > 0 and lot.grams >= GREW * was and not sure:
                    grown.append(Fault(pointer=f"/{line}/grams", message=_grew(name, was, lot.grams)))
        except RuleError as broken:
            faults += broken.under(f"/{line}").faults
    if faults or grown:
        raise RuleError(*faults, *grown, sure=not faults)
    return lots, list(fragrances.values())


def _lot_id(row: dict[str, str]) -> str:
    typed = (row.get("id") or "").strip()
    try:
        return str(UUID(typed)) if typed else ""
    except ValueError as error:
        raise RuleError(
            Fault(pointer="/id", message="This is no id of a lot: leave it empty for a new one.")
        ) from error


def _grew(name: str, was: Grams, now: Grams) -> Text:
    return say(
        name,
        ": ",
        G(was, ".6g"),
        " were left of this lot, ",
        G(now, ".6g"),
        " stand here. Is the decimal sign in the right place?",
    )


def _lot(row: dict[str, str], item: str, now: datetime, commas: bool) -> Lot:
    cells: dict[str, object] = {f: v.strip() for f in ("counted", *DAYS) if (v := row.get(f)) and v.strip()}
    for column, field, what in (
        ("grams", "grams", "A weight in grams"),
        ("price_per_kg", "price_per_kg", "A price"),
        ("saponification_value", "sv", "A saponification value"),
        ("pack_grams", "pack", "A weight in grams"),
    ):
        if (row.get(column) or "").strip():
            cells[field] = number(row[column], f"/{column}", commas, what)
    if (row.get("purity_percent") or "").strip():
        cells["purity"] = number(row["purity_percent"], "/purity_percent", commas, "A purity in percent") / 100
    cells |= {"supplier": unplain((row.get("supplier") or "").strip())}
    cells |= {"code": unplain((row.get("supplier_batch") or "").strip())}
    try:
        typed = LotEdit.model_validate(cells | {"item": item, "label": unplain((row.get("lot") or "").strip())})
    except ValidationError as error:
        raise RuleError(*_named(error.errors())) from error
    return recount(None, typed, now)


def _check(lot: Lot, shelf: Shelf) -> None:
    try:
        check_lot(lot, shelf)
    except RuleError as broken:
        raise RuleError(*(f.model_copy(update={"pointer": COLUMN_OF[f.pointer]}) for f in broken.faults)) from broken


def _fragrance(row: dict[str, str], name: str, fragrance_id: str, commas: bool) -> Fragrance:
    cells: dict[str, object] = {"id": fragrance_id, "name": name}
    cells["family"] = (row.get("family") or "").strip() or Family.OTHER
    cells["claim"] = (row.get("claim") or "").strip() or Claim.UNKNOWN
    for column, field in (("vanillin_percent", "vanillin"), ("limit_percent", "limit")):
        typed = (row.get(column) or "").strip()
        if typed:
            cells[field] = number(typed, f"/{column}", commas) / 100
    try:
        return Fragrance.model_validate(cells)
    except ValidationError as error:
        raise RuleError(*_named(error.errors())) from error


def _named(errors: Iterable[object]) -> list[Fault]:
    found = [e for e in errors if isinstance(e, dict)]
    return [Fault(pointer=f"/{e['loc'][0] if e['loc'] else ''}", message=str(e["msg"])) for e in found]
