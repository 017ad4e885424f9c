"""Numbers that change whenever something was written that others rest on: asked before anything is reckoned again."""

from sqlalchemy import func, select

from .shelved import OTHERS
from .tables import CustomRow, FragranceRow, LotRow, PourRow, RecipeRow, SettingRow

# What was learned rests on finished pours alone: a tap in a running one changes nothing of it.
LOG_PARTS = (
    select(func.count(PourRow.id)).where(PourRow.ended_minute.is_not(None)).scalar_subquery(),
    select(func.sum(PourRow.event_count)).where(PourRow.ended_minute.is_not(None)).scalar_subquery(),
    *(select(func.sum(table.revision)).scalar_subquery() for table in (FragranceRow, CustomRow)),
    select(SettingRow.revision).where(SettingRow.name == "noise").scalar_subquery(),
    select(SettingRow.revision).where(SettingRow.name == "taps").scalar_subquery(),
    *(select(SettingRow.revision).where(SettingRow.name == n).scalar_subquery() for n in ("air", OTHERS)),
)
LOG_STAMP = select(*LOG_PARTS)

# What is left of every lot rests on these.
POURED_PARTS = (
    select(func.count(PourRow.id)).scalar_subquery(),
    select(func.max(PourRow.started)).scalar_subquery(),  # one may be taken out and another begun
)
POURED_STAMP = select(*POURED_PARTS)
STOCK_PARTS = (
    *POURED_PARTS,
    select(func.sum(func.json_extract(LotRow.doc, "$.grams"))).scalar_subquery(),
    select(func.sum(LotRow.revision)).scalar_subquery(),
    select(func.count(LotRow.id)).where(LotRow.removed.is_(None)).scalar_subquery(),
    select(func.sum(CustomRow.revision)).scalar_subquery(),
)
STOCK_STAMP = select(*STOCK_PARTS)

# What was poured of what, and at what cost: all but taps of a pour that runs, which come every few seconds.
SPENT_PARTS = (
    *LOG_PARTS,
    *STOCK_PARTS,
    select(func.count(PourRow.batch)).scalar_subquery(),
    select(func.sum(SettingRow.revision)).scalar_subquery(),
)
SPENT_STAMP = select(*SPENT_PARTS)
# And what is to be poured.
YEAR_STAMP = select(
    *SPENT_PARTS,
    select(func.sum(RecipeRow.revision)).scalar_subquery(),
    *(
        select(func.count(table.id)).where(table.removed.is_(None)).scalar_subquery()
        for table in (RecipeRow, CustomRow)
    ),
)
