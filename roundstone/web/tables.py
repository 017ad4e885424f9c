"""Everything as tables: a spreadsheet both ways, and the read-only address of the maker's own tools."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from http import HTTPStatus
from uuid import NAMESPACE_OID, UUID, uuid5

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.recipe import Recipe
from ..core.sheet import Lot, following, weigh
from ..core.shelf import Fragrance
from ..core.values import Fault, NotFoundError, RuleError
from ..exchange import pour_file, sheet_file, shelf_file, tables
from ..exchange.plain import number, rows, unplain
from ..exchange.tables import Table
from . import messages as m
from .context import AppContext, answer, attach, bytes_of, local
from .costs import costs_of
from .notebook import ReadPours, read_pours, take_in_pours
from .records import records_table
from .stock import orders_of, read_shelf

WEIGHED = ("grams", "percent_of_fats", "purity_percent", "saponification_value")
SHELVED = ("grams", "price_per_kg", "vanillin_percent", "limit_percent", "purity_percent", "saponification_value",
           "pack_grams")  # fmt: skip
SAME = 1e-4  # grams, and as a share: what a spreadsheet may round of a weight that nobody changed


def _recipes(context: AppContext) -> Table:
    columns = ("recipe_id", "recipe", "changed", "technique", "fats_grams", "superfat_percent", "bars", "wanted_by")
    shelf = context.workshop.ingredients.shelf()
    made = []
    for record in context.workshop.recipes.whole():
        recipe, sheet = record.recipe, weigh(record.recipe, shelf).sheet
        made.append(
            (
                record.id,
                recipe.name,
                record.changed,
                shelf.techniques[recipe.design.technique].name,
                sheet.fats if sheet else None,
                100 * recipe.superfat,
                sum(b.count for b in sheet.bars) if sheet else None,
                recipe.brief.due if recipe.brief else None,
            )
        )
    return Table("recipes", columns, made)


def _weights(context: AppContext) -> Table:
    """What every recipe weighs; of those that cannot be weighed nothing."""
    shelf, made = context.workshop.ingredients.shelf(), []
    for record in context.workshop.recipes.whole():
        sheet = weigh(record.recipe, shelf).sheet
        if sheet is not None:
            text = sheet_file.write(sheet, record.recipe, shelf)
            of = tables.from_csv("", text, WEIGHED)
            keys = (x.key for x in sheet.lines)
            made += [(record.id, record.recipe.name, key, *row) for key, row in zip(keys, of.rows, strict=True)]
    columns = ("recipe_id", "recipe", "line", *sheet_file.COLUMNS)
    return Table("weights", columns, made, frozenset({"grams"}))


def _shelf(context: AppContext) -> Table:
    text = shelf_file.write(context.workshop.ingredients.shelf(), context.stock.left(), context.now())
    edited = [c for c in shelf_file.COLUMNS if c not in ("kind", "name", "id")]
    return tables.from_csv("shelf", text, SHELVED, edited)


def _pours(context: AppContext) -> Table:
    return tables.from_csv("pours", pour_file.write(context.workshop.pours.page()), ("minute",))


def _orders(context: AppContext) -> Table:
    text = shelf_file.write_orders(orders_of(context).lines)
    return tables.from_csv("orders", text, ("grams", "pack_grams", "packs", "price_per_kg", "cost"))


def _year(context: AppContext) -> int:
    return local(context.now()).year


TABLES: Mapping[str, Callable[[AppContext], Table]] = {
    "recipes": _recipes,
    "weights": _weights,
    "shelf": _shelf,
    "pours": _pours,
    "orders": _orders,
    "costs": lambda context: tables.costs_table(costs_of(context, _year(context))),
    "batches": lambda context: records_table(context, _year(context)),
}


@dataclass
class _Read:
    """What a spreadsheet changes: nothing of it is kept before all of it was read."""

    lots: dict[str, Lot] = field(default_factory=dict)
    fragrances: list[Fragrance] = field(default_factory=list)
    pours: ReadPours = field(default_factory=lambda: ReadPours([], 0))
    drafts: list[tuple[str, Recipe, int]] = field(default_factory=list)  # of revision; 0 is a new one


def _read(context: AppContext, pages: Mapping[str, str], sure: bool) -> _Read:
    out, asked = _Read(), True
    faults: list[Fault] = []

    def of(page: str, reading: Callable[[str], None]) -> None:
        nonlocal asked
        if len(pages.get(page, "").splitlines()) > 1:  # more than its headings
            try:
                reading(pages[page])
            except RuleError as broken:
                asked = asked and broken.sure
                faults.extend(broken.under(f"/{page}").faults)

    def shelf(text: str) -> None:
        out.lots, out.fragrances = read_shelf(context, text, sure)
        left = {x.id: x for x in context.stock.left()}
        out.lots = {
            i: lot for i, lot in out.lots.items() if i not in left or _counted_anew(lot, left[i].lot, left[i].left)
        }

    def pours(text: str) -> None:
        out.pours = read_pours(context, text, sure)

    def weights(text: str) -> None:
        out.drafts = _drafts(context, text)

    of("shelf", shelf)
    of("weights", weights)
    of("pours", pours)
    if faults:
        raise RuleError(*faults, sure=asked)
    return out


def _counted_anew(lot: Lot, was: Lot, left: float) -> bool:
    """Whether a row says otherwise than the lot as it stands; what a spreadsheet rounded is no count."""
    same = abs(lot.grams - max(left, 0.0)) <= SAME + SAME * abs(left)
    kept = lot.model_copy(update={"grams": was.grams, "counted": was.counted, "earlier": was.earlier})
    return not same or kept != was


def _drafts(context: AppContext, text: str) -> list[tuple[str, Recipe, int]]:
    """Recipes whose weights were changed, and new ones; RuleError names every fault by its row."""
    columns, found, commas = rows(text)
    missing = [c for c in ("recipe_id", "recipe", "line", "ingredient", "grams") if c not in columns]
    if missing:
        raise RuleError(Fault(pointer="/1", message=f"Columns missing: {', '.join(missing)}."))
    by: dict[tuple[str, str], list[tuple[int, dict[str, str]]]] = {}
    for line, row in found:
        if any(row.values()):
            by.setdefault((row["recipe_id"].strip(), unplain(row["recipe"].strip())), []).append((line, row))
    known, taken = {r.id: r for r in context.workshop.recipes.whole()}, context.workshop.recipes.ids()
    out: list[tuple[str, Recipe, int]] = []
    faults: list[Fault] = []
    for (recipe_id, name), of in by.items():
        first = of[0][0]
        try:
            if recipe_id in known:
                record = known[recipe_id]
                changed = _reweighed(context, record.recipe, of, commas)
                out += [(recipe_id, changed, record.revision)] if changed is not None else []
            elif recipe_id in taken:
                message = "This recipe was taken out, or cannot be read: bring it back first."
                faults.append(Fault(pointer=f"/{first}/recipe_id", message=message))
            elif (made := _new_id(recipe_id, name, of)) not in taken:
                lines = {str(n + 2): line for n, (line, _) in enumerate(of)}
                recipe = _from_rows(context, name, of, lines)
                out.append((made, recipe, 0))
        except RuleError as broken:
            faults += [
                f if f.pointer[1:2].isdigit() else f.model_copy(update={"pointer": f"/{first}"}) for f in broken.faults
            ]
    if faults:
        raise RuleError(*faults)
    return out


def _new_id(recipe_id: str, name: str, of: list[tuple[int, dict[str, str]]]) -> str:
    """The id a new recipe has in the sheet, else one of its content: what is read twice is not there twice."""
    try:
        return str(UUID(recipe_id))
    except ValueError:
        return str(uuid5(NAMESPACE_OID, repr((name, [sorted(row.items()) for _, row in of]))))


def _reweighed(
    context: AppContext, recipe: Recipe, of: list[tuple[int, dict[str, str]]], commas: bool
) -> Recipe | None:
    """The recipe that follows the weights of its rows; None where nobody changed any."""
    shelf = context.workshop.ingredients.shelf()
    sheet = weigh(recipe, shelf).sheet
    if sheet is None:
        return None
    there = {x.key: x for x in sheet.lines}
    weighed, faults = {}, []
    for line, row in of:
        known = there.pop(row["line"].strip(), None)
        if known is None:
            message = "This line is not of this recipe, or stands here twice: add an ingredient in the recipe itself."
            faults.append(Fault(pointer=f"/{line}/line", message=message))
            continue
        grams = number(row["grams"], f"/{line}/grams", commas, "A weight in grams")
        if grams <= 0:
            faults.append(Fault(pointer=f"/{line}/grams", message="A weight is above nothing."))
        elif abs(grams - known.grams) > SAME + SAME * known.grams:
            weighed[known.key] = grams
    if there:
        message = f"{recipe.name} lacks a row ({next(iter(there.values())).name}): take it out in the recipe itself."
        faults.append(Fault(pointer=f"/{of[0][0]}", message=message))
    if faults:
        raise RuleError(*faults)
    return following(recipe, shelf, sheet, weighed) if weighed else None


def _from_rows(
    context: AppContext, name: str, of: list[tuple[int, dict[str, str]]], lines: Mapping[str, int]
) -> Recipe:
    """A new recipe of a sheet's rows."""
    columns = [c for c in sheet_file.COLUMNS if c in of[0][1]]
    text = tables.as_csv(Table("", tuple(columns), [tuple(unplain(row[c]) for c in columns) for _, row in of]))
    try:
        return sheet_file.read(text, name or "From a spreadsheet", context.workshop.ingredients.shelf())
    except RuleError as broken:
        raise RuleError(
            *(
                f.model_copy(update={"pointer": f"/{lines[parts[1]]}/{'/'.join(parts[2:])}"})
                if (parts := f.pointer.split("/"))[1:2] and parts[1] in lines
                else f
                for f in broken.faults
            )
        ) from broken


def _take_in(context: AppContext, read: _Read) -> str:
    workshop = context.workshop
    new = 0
    # Drafts first: one that another window changed meanwhile is refused before anything else is taken in.
    for recipe_id, recipe, revision in read.drafts:
        if revision:
            workshop.recipes.save(recipe_id, recipe, revision, context.now())
        else:
            workshop.recipes.add(recipe_id, recipe, context.now())
            new += 1
    workshop.lots.take_in(read.fragrances, read.lots)
    pours = take_in_pours(context, read.pours)
    counts = (
        (len(read.lots), "lots"),
        (len(read.fragrances), "new fragrances"),
        (len(read.drafts) - new, "recipes with other weights"),
        (new, "new recipes"),
        (pours.pours, "pours"),
    )
    found = ", ".join(f"{n} {what}" for n, what in counts if n)
    return f"Taken in: {found}." if found else "Nothing in it is new: everything stays as it was."


def _table(context: AppContext, name: str) -> Table:
    if name not in TABLES:
        raise NotFoundError(f"There is no such table: {', '.join(TABLES)}.")
    return TABLES[name](context)


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of tables."""

    @api.get("/tables.xlsx")
    def get_spreadsheet() -> Response:
        """Everything as one spreadsheet, a sheet for each table; what is tinted in its first row is read back."""
        body = tables.as_xlsx(TABLES[name](context) for name in TABLES)
        kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
        return attach(body, kind, f"roundstone-{local(context.now()):%Y%m%d}.xlsx")

    @api.post("/tables", responses={201: m.ArchiveRead})
    def post_spreadsheet(form: m.NewTables) -> Response:
        """Take in what a spreadsheet of these tables says otherwise, all or nothing."""
        read = _read(context, tables.from_xlsx(bytes_of(form.file)), form.sure)
        return answer(m.ArchiveRead(message=_take_in(context, read)), HTTPStatus.CREATED)

    @api.get("/data", responses={200: m.DataTables})
    def get_data() -> Response:
        """The tables there are, for tools of the maker's own."""
        return answer(m.DataTables(tables=[m.DataTable(name=n, address=f"/api/data/{n}") for n in TABLES]))

    @api.get("/data/<name>", responses={200: m.DataRows})
    def get_table(path: m.DataPath, query: m.DataQuery) -> Response:
        """One table, its rows in order from `first`: as JSON, or as CSV."""
        table = _table(context, path.name)
        part = Table(table.name, table.columns, table.rows[query.first : query.first + query.most])
        if query.format == "csv":
            return attach(tables.as_csv(part), "text/csv; charset=utf-8", f"{path.name}.csv")
        return answer(
            m.DataRows(name=path.name, columns=list(table.columns), all=len(table.rows), rows=tables.as_json(part))
        )
