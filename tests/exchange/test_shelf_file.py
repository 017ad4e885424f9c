"""The shelf's file goes out and comes in; a wrong cell is named and nothing is half-read."""

import unittest
from datetime import UTC, date, datetime
from uuid import UUID

from roundstone.core.sheet import Lot, LotLeft
from roundstone.core.values import RuleError
from roundstone.exchange.shelf_file import COLUMNS, read, write
from tests.samples import SHELF

COUNTED, NOW = datetime(2031, 1, 2, tzinfo=UTC), datetime(2031, 3, 1, 12, tzinfo=UTC)
IDS = [str(UUID(int=n)) for n in (1, 2)]
LOTS = (
    Lot(item="fat:olive", label="=L 7", grams=5000, counted=COUNTED, expires=date(2032, 1, 1), price_per_kg=6.5),
    Lot(item="alkali:naoh", grams=100, counted=COUNTED, supplier="=Testing", code="L-3", purity=0.985),
)


def new_id(_: str, taken: set[str]) -> str:
    return f"f{len(taken)}"


class ShelfFile(unittest.TestCase):
    def test_round_trip(self) -> None:
        held = [LotLeft(id=i, lot=x, left=x.grams - 50) for i, x in zip(IDS, LOTS, strict=True)]
        text = write(SHELF, held, NOW)
        self.assertIn("'=L 7", text, "no cell a spreadsheet would take for a formula")
        lots, fragrances = read(text, SHELF, new_id, NOW)
        self.assertEqual(fragrances, [])
        wanted = [x.model_copy(update={"grams": x.grams - 50, "counted": NOW}) for x in LOTS]
        self.assertEqual(lots, list(zip(IDS, wanted, strict=True)), "its id goes with it, so nothing doubles")
        without = SHELF.model_copy(update={"fragrances": {}})
        _, back = read(text, without, new_id, NOW)
        self.assertEqual({f.name for f in back}, {f.name for f in SHELF.fragrances.values()})
        self.assertEqual({f.claim for f in back}, {f.claim for f in SHELF.fragrances.values()})

    def test_every_fault_by_line_and_column(self) -> None:
        rows = [
            "fat,Olive,a,100,2031-01-02,,,,,,,",
            "fat,No such,a,100,2031-01-02,,,,,,,",
            "fat,Olive,a,minus,2031-01-02,,,,,,,",
            "stone,Olive,a,100,2031-01-02,,,,,,,",
            "fat,Olive,a,100,yesterday,,,,,,,",
            "fat,Olive,a,100,2999-01-02,,,,,,,",
            "fat,Olive,a,100,2031-01-02,,,,,,,,,seven",
            "fragrance,New one,,,,,,,,floral,loud,,,",
        ]
        with self.assertRaises(RuleError) as refused:
            read("\r\n".join([",".join(COLUMNS), *rows]), SHELF, new_id, NOW)
        pointers = [f.pointer for f in refused.exception.faults]
        self.assertEqual(pointers, ["/3/name", "/4/grams", "/5/kind", "/6/counted", "/7/counted", "/8/id", "/9/claim"])
        for text in ("", "a,b\n1,2", "kind,name,colour\nfat,Olive,red"):
            with self.assertRaises(RuleError):
                read(text, SHELF, new_id, NOW)
