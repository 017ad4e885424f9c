"""A sheet of an earlier day, told to who reads other units by now: what was weighed stays."""

import re

from ..said import MARK, SPACE, Weight
from .sheet import Line, Sheet

_GRAMS = re.compile(rf"(?<=\d){SPACE}g(?!\w)")


def retold(sheet: Sheet, unit: Weight) -> Sheet:
    """The same sheet, its grams marked as quantities where its reader's scales show something else by now."""
    if unit == "g" or not sheet.total_shown.endswith(f"{SPACE}g"):
        return sheet

    def told(text: str) -> str:
        return _GRAMS.sub(f"{MARK}{SPACE}g", text)

    def line(x: Line) -> Line:
        also = x.shown if x.kind in ("alkali", "stock") else x.also
        return x.model_copy(update={"shown": told(x.shown), "also": also, "note": told(x.note)})

    portions = tuple(
        p.model_copy(
            update={
                "shown": p.shown.model_copy(update={k: told(v) for k, v in p.shown.model_dump().items()}),
                "own": tuple(map(line, p.own)),
            }
        )
        for p in sheet.portions
    )
    totals = {"fats_shown": told(sheet.fats_shown), "total_shown": told(sheet.total_shown)}
    return sheet.model_copy(update={"lines": tuple(map(line, sheet.lines)), "portions": portions, **totals})
