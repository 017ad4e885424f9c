"""Numbers that change whenever something was written that others rest on: asked before anything is reckoned again."""

from sqlalchemy import func, select

from .database import Database
from .tables import CustomRow, EvidenceRow, FragranceRow, LotRow, PourRow, RecipeRow, SettingRow

OTHERS = "others"  # the setting that counts changes to what other workshops told

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

# The shelf rests on these.
SHELF_STAMP = select(
    *(select(func.sum(table.revision)).scalar_subquery() for table in (FragranceRow, CustomRow)),
    *(select(func.count()).select_from(table).scalar_subquery() for table in (FragranceRow, CustomRow, EvidenceRow)),
    *(
        select(SettingRow.revision).where(SettingRow.name == n).scalar_subquery()
        for n in ("scales", "taps", "air", "units", OTHERS)
    ),
)


class Stamps:
    """Each tells by its numbers whether something of its kind was written."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def shelf(self) -> tuple[int, ...]:
        """Changes whenever the shelf does."""
        return self._database.stamp("shelf", SHELF_STAMP)

    def log(self) -> tuple[int, ...]:
        """Changes whenever a pour has ended or changed after its end, or a claim or an own ingredient was edited."""
        return self._database.stamp("log", LOG_STAMP)

    def poured(self) -> tuple[int, ...]:
        """Changes whenever a pour was begun, or taken out again."""
        return self._database.stamp("poured", POURED_STAMP)

    def stock(self) -> tuple[int, ...]:
        """Changes whenever a lot was edited or a pour begun."""
        return self._database.stamp("stock", STOCK_STAMP)

    def spent(self) -> tuple[int, ...]:
        """Changes whenever something was written of what finished pours took, and what that cost."""
        return self._database.stamp("spent", SPENT_STAMP)

    def year(self) -> tuple[int, ...]:
        """Changes whenever something was written of that, or of what is to be poured."""
        return self._database.stamp("year", YEAR_STAMP)
