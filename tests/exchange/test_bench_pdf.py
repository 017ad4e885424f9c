"""The bench sheet as a PDF: one page whatever stands on it, readable letters, every weight."""

import re
import unittest
import zlib
from datetime import date

from roundstone.core.heat import plan
from roundstone.core.recipe import Carrier, Design, Dose, FatShare, LiquidUse, Portion, Recipe, StandBy
from roundstone.core.schedule import WorkStep, work_order
from roundstone.core.sheet import Sheet, weigh
from roundstone.exchange.bench_pdf import write
from roundstone.exchange.face_png import png
from tests.samples import SHELF, recipe


def steps_of(of: Recipe) -> tuple[Sheet, tuple[WorkStep, ...]]:
    weighing = weigh(of, SHELF)
    assert weighing.sheet is not None, weighing.faults
    heat = plan(of, SHELF, weighing.sheet.lines)
    return weighing.sheet, work_order(of, SHELF, weighing.sheet, heat, weighing.cautions)


def full() -> Recipe:
    """Twelve fats, five liquids, ten additives, a blend of two, six portions."""
    fats = sorted(f for f in SHELF.fats if SHELF.fats[f].kind == "fat")[:12]
    liquids = [q for q in sorted(SHELF.liquids) if SHELF.liquids[q].water > 0.5 and q != "water"][:5]
    names = ("Marl", "Chert", "Flint", "Loam", "Peat", "Silt")
    return recipe(
        name="Everything that may stand on a sheet, and a long name besides",
        fats=tuple(FatShare(fat=f, share=1 / 12) for f in fats),
        liquids=tuple(LiquidUse(liquid=q, share=0.1, frozen=True) for q in liquids),
        additives=(
            *(
                Dose(additive=a, amount=4)
                for a in ("sugar", "citric-acid", "salt", "sodium-lactate", "kaolin", "rose-clay")
            ),
            *(Dose(additive="mica", amount=3, into=(n,), carrier=Carrier(fat=fats[0], parts=3)) for n in names[:4]),
        ),
        design=Design(portions=tuple(Portion(name=n, share=1 / 6, scent=1.0) for n in names), technique="drop-swirl"),
    )


class BenchSheet(unittest.TestCase):
    def test_one_page_however_full(self) -> None:
        for of in (recipe(), full()):
            sheet, steps = steps_of(of)
            with self.assertNoLogs("fpdf"):  # a mark of a figure that was left in is a letter no font has
                body = write(of.name, sheet, steps, date(2031, 5, 1))
            self.assertEqual(len(re.findall(rb"/Type /Page\b", body)), 1)
            self.assertIn(b"/FontFile2", body, "the letters ship inside")

    def test_letter_paper_and_the_face_on_it(self) -> None:
        """ANSI Letter is 8.5 × 11 inches, 612 × 792 points; ISO 216 A4 is 210 × 297 mm."""
        sheet, steps = steps_of(full())
        face = png("plain.3.1000-24-0-e6dcc3", 240)
        for paper, box in (("Letter", b"612.00 792.00"), ("A4", b"595.28 841.89")):
            body = write("Sized", sheet, steps, date(2031, 5, 1), paper, face=face)  # type: ignore[arg-type] # words of a loop
            self.assertIn(b"/MediaBox [0 0 " + box, body)
            self.assertEqual(len(re.findall(rb"/Subtype /Image", body)), 2, "the face and its mask")
            self.assertEqual(len(re.findall(rb"/Type /Page\b", body)), 1)

    def test_cups_and_pours_stand_in_order_with_what_stands_ready(self) -> None:
        ready = (StandBy(step="drop Bone", technique="chunks", trigger="if Bone is thick"),)
        design = Design(portions=recipe().design.portions, technique="drop-swirl", ready=ready, pot=1000)
        _, steps = steps_of(recipe(design=design))
        split = next(s for s in steps if s.title == "Split")
        self.assertEqual([c.vessel for c in split.cups], ["1 Bone", "2 Base"])
        self.assertTrue(split.cups[1].reads.startswith("stays in the pot; keep "), "some of it is for the top")
        pours = next(s for s in steps if s.pours).pours
        self.assertEqual([p.label for p in pours], ["pour Base", "drop Bone", "pour Base", "top"])
        self.assertTrue(pours[1].ready.startswith("Spooned chunks, if Bone is thick: "))
        self.assertEqual([p.ready for p in pours if p.label != "drop Bone"], ["", "", ""])

    def test_every_weight_has_its_step_once(self) -> None:
        sheet, steps = steps_of(full())
        told = [line.key for step in steps for line in step.lines]
        self.assertEqual(sorted(told), sorted(line.key for line in sheet.lines))

    def test_what_was_moved_stands_at_its_new_step(self) -> None:
        moved = recipe(additives=(Dose(additive="sugar", amount=8, moment="trace"), Dose(additive="silk", amount=1)))
        _, steps = steps_of(moved)
        where = {line.item.partition(":")[2]: step.title for step in steps for line in step.lines}
        self.assertEqual(where["sugar"], "Colours in cups")
        self.assertEqual(where["silk"], "While the lye is hot")
        layers = recipe(design=Design(portions=recipe().design.portions, technique="drop-swirl", batching="layers"))
        titles = [s.title for s in steps_of(layers)[1]]
        self.assertIn("Shares of fats and lye", titles)
        self.assertNotIn("Split", titles)

    def test_letters_beyond_latin_one_are_printed_and_others_named(self) -> None:
        """Read back through the map from glyphs to letters that the page carries."""
        for name, printed in (("Žďár, Ærø & Łódź", True), ("Ελιά, Оливка, Dừa", True), ("石鹸", False)):
            sheet, steps = steps_of(recipe())
            body = write(name, sheet, steps, date(2031, 5, 1))
            streams = [s.strip(b"\r\n") for s in re.findall(rb"stream\r?\n(.*?)endstream", body, re.S)]
            plain = [zlib.decompress(s) if s[:1] == b"x" else s for s in streams]
            maps = b"".join(s for s in plain if b"beginbfchar" in s).upper()
            there = {c for c in name if f"<{ord(c):04X}>".encode() in maps}
            self.assertEqual({c for c in name if not c.isspace()} <= there, printed, name)
