"""What is written as CSV is read back as it was, also by way of a spreadsheet of a region with decimal commas."""

import csv
import io
import re
import unittest
from datetime import UTC, datetime
from uuid import UUID

from hypothesis import given, settings
from hypothesis import strategies as st

from roundstone.core.pour import Ended, Event, Remarked, ScentIn, TemperatureRead, Worked
from roundstone.core.recipe import Recipe
from roundstone.core.sheet import Lot, LotLeft, weigh
from roundstone.core.shelf import Fragrance, NewAdditive, NewFat, make
from roundstone.core.values import RuleError
from roundstone.exchange import pour_file, sheet_file, shelf_file
from tests.core.test_weigh import recipes
from tests.samples import SHELF, many, next_id, recipe

NOW = datetime(2026, 6, 1, 12, tzinfo=UTC)
# Letters that tables trip over, but none that an app cannot show.
NAMES = st.text(st.sampled_from("aÄ=+-@'\"´,;\t.5 "), min_size=1, max_size=12).map(str.strip).filter(bool)


def comma_region(text: str) -> str:
    """The file opened and saved in a region of decimal commas and points between thousands."""
    out = io.StringIO()
    writer = csv.writer(out, delimiter=";")
    for row in csv.reader(io.StringIO(text, newline="")):
        cells = []
        for cell in row:
            if re.fullmatch(r"-?\d{1,3}(\.\d{3})+", cell):
                cells.append(cell.replace(".", ""))  # read as thousands
            elif re.fullmatch(r"-?\d+\.\d+", cell):
                cells.append(f"{float(cell):.10g}".replace(".", ","))
            else:
                cells.append(cell)
        writer.writerow(cells)
    return "\ufeff" + out.getvalue()


class Shelves(unittest.TestCase):
    @settings(max_examples=many(80, 2000), deadline=None)
    @given(
        st.lists(NAMES, min_size=1, max_size=4, unique_by=str.casefold),
        st.floats(0.001, 9999),
        st.none() | st.floats(0.01, 999),
        st.booleans(),
    )
    def test_a_lot_weighs_what_it_weighed(
        self, names: list[str], grams: float, price: float | None, region: bool
    ) -> None:
        fragrances = [
            Fragrance.model_validate(
                SHELF.fragrances["none"].model_dump() | {"id": f"f{i}", "name": n, "limit": 0.0123}
            )
            for i, n in enumerate(names)
        ]
        shelf = SHELF.model_copy(update={"fragrances": {f.id: f for f in fragrances}})
        lots = [
            LotLeft(
                id=str(UUID(int=i + 1)),
                lot=Lot(item=f"fragrance:{f.id}", label=f.name, grams=grams, counted=NOW, price_per_kg=price),
                left=grams,
            )
            for i, f in enumerate(fragrances)
        ]
        text = shelf_file.write(shelf, lots, NOW)
        read, new = shelf_file.read(comma_region(text) if region else text, shelf, lambda n, _: n, NOW)
        self.assertEqual(new, [])
        for (lot_id, lot), was in zip(read, lots, strict=True):
            self.assertEqual((lot_id, lot.item, lot.label), (was.id, was.lot.item, was.lot.label))
            self.assertAlmostEqual(lot.grams, grams, delta=6e-5)
            if price is not None and lot.price_per_kg is not None:
                self.assertAlmostEqual(lot.price_per_kg, price, delta=1e-8 * price)

    def test_what_grew_tenfold_is_asked(self) -> None:
        lot = str(UUID(int=7))
        text = f"kind,name,grams,id\nfat,Olive,176672,{lot}\n"
        with self.assertRaises(RuleError) as asked:
            shelf_file.read(text, SHELF, lambda n, _: n, NOW, {lot: 176.672})
        self.assertTrue(asked.exception.sure, "a question, not a fault")
        read, _ = shelf_file.read(text, SHELF, lambda n, _: n, NOW, {lot: 176.672}, sure=True)
        self.assertEqual(read[0][1].grams, 176672)
        for cell, fault in (("176,672", True), ("1.234,5", True), ("12,5", False), ("176.6720", False)):
            try:
                shelf_file.read(f'kind,name,grams\nfat,Olive,"{cell}"\n', SHELF, lambda n, _: n, NOW)
                self.assertFalse(fault, cell)
            except RuleError:
                self.assertTrue(fault, cell)


class Sheets(unittest.TestCase):
    @settings(max_examples=many(80, 2000), deadline=None)
    @given(recipes(), NAMES, st.booleans(), st.booleans())
    def test_a_sheet_is_the_same_lye_again(self, of: Recipe, name: str, region: bool, fed: bool) -> None:
        """Also where a fragrance and an additive of one's own have one name, and acids got no lye of their own."""
        thing = make(NewAdditive(name=f"x{name}", sort="other", moment="trace", usual=5, most=50), "thing", SHELF)
        fat = make(NewFat(name=f"Water {name}", kin="olive", sv=190.0), "odd", SHELF)
        scent = Fragrance.model_validate(SHELF.fragrances["none"].model_dump() | {"name": f"x{name}"})
        shelf = SHELF.model_copy(
            update={
                "additives": dict(SHELF.additives) | {"thing": thing},
                "fats": dict(SHELF.fats) | {"odd": fat},
                "fragrances": dict(SHELF.fragrances) | {"none": scent},
            }
        )
        rows = (*(r.model_copy(update={"share": r.share * 0.9}) for r in of.fats), {"fat": "odd", "share": 0.1})
        of = Recipe.model_validate(
            of.model_dump() | {"fats": rows, "feed_acids": fed, "additives": ({"additive": "thing", "amount": 3.0},)}
        )
        sheet = weigh(of, shelf).sheet
        if sheet is None:
            return
        text = sheet_file.write(sheet, of, shelf)
        again = sheet_file.read(comma_region(text) if region else text, "Again", shelf)
        weighed = weigh(again, shelf).sheet
        assert weighed is not None
        self.assertAlmostEqual(weighed.naoh, sheet.naoh, delta=max(2e-3 * sheet.naoh, 0.01))
        self.assertAlmostEqual(weighed.koh, sheet.koh, delta=max(2e-3 * sheet.koh, 0.01))

    def test_acids_that_got_no_lye_come_back_so(self) -> None:
        of = recipe(additives=({"additive": "citric-acid", "amount": 150.0},), feed_acids=False, superfat=0.15)
        sheet = weigh(of, SHELF).sheet
        assert sheet is not None
        again = sheet_file.read(sheet_file.write(sheet, of, SHELF), "Again", SHELF)
        self.assertFalse(again.feed_acids)
        self.assertAlmostEqual(again.superfat, 0.15, delta=1e-4)


class Pours(unittest.TestCase):
    @settings(max_examples=many(60, 1000), deadline=None)
    @given(NAMES, st.floats(0, 2000), st.floats(0.5, 99), st.booleans())
    def test_every_tap_comes_back(self, words: str, minute: float, amount: float, region: bool) -> None:
        minute = round(minute, 4)
        events: list[Event] = [
            TemperatureRead(id=next_id(), minute=minute, celsius=round(amount, 3)),
            Worked(id=next_id(), minute=minute, tool="stick", seconds=round(amount, 3)),
            ScentIn(id=next_id(), minute=minute, portion="Base", grams=round(amount, 3)),
            Remarked(id=next_id(), minute=minute, what="words", says=words),
            Ended(id=next_id(), minute=minute),
        ]

        class Poured:
            id = str(next_id())
            recipe = globals()["recipe"]()
            started = NOW

        pour = Poured()
        pour.events = tuple(events)  # type: ignore[attr-defined]
        text = pour_file.write([pour])  # type: ignore[list-item]
        (read,) = pour_file.read(comma_region(text) if region else text)
        by_id = {e.id: e for e in read.events}
        for event in events:
            again = by_id[event.id]
            self.assertAlmostEqual(again.minute, event.minute, delta=1e-7 * max(1, minute))
            for field in ("celsius", "seconds", "grams"):
                if (was := getattr(event, field, None)) is not None:
                    self.assertAlmostEqual(getattr(again, field), was, delta=1e-7 * was)
            if isinstance(event, Remarked):
                self.assertEqual(getattr(again, "says", ""), words)


if __name__ == "__main__":
    unittest.main()
