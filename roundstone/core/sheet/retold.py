"""A sheet of an earlier day, told to who reads other units by now: what was weighed stays."""

from ..text import G, Part, Reading, Text, Value, Weight
from .sheet import Line, Sheet


def retold(sheet: Sheet, unit: Weight) -> Sheet:
    """The same sheet, its readings in grams told as quantities where its reader's scales show something else by now."""
    if unit == "g" or not any(isinstance(x, Reading) and x.unit == "g" for x in sheet.total_shown.parts):
        return sheet

    def quantity(x: Value) -> Part:
        return G(x.value, f".{x.places}f") if isinstance(x, Reading) and x.unit == "g" else x

    def told(text: Text) -> Text:
        return text.each(quantity)

    def line(x: Line) -> Line:
        also = x.shown if x.kind in ("alkali", "stock") else x.also
        return x.model_copy(update={"shown": told(x.shown), "also": also, "note": told(x.note)})

    portions = tuple(
        p.model_copy(
            update={
                "shown": p.shown.model_copy(update={k: told(v) for k, v in p.shown}),
                "own": tuple(map(line, p.own)),
            }
        )
        for p in sheet.portions
    )
    doses = tuple(d.model_copy(update={"shown": told(d.shown), "told": told(d.told)}) for d in sheet.doses)
    totals = {"doses": doses, "fats_shown": told(sheet.fats_shown), "total_shown": told(sheet.total_shown)}
    return sheet.model_copy(update={"lines": tuple(map(line, sheet.lines)), "portions": portions, **totals})
