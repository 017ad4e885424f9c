"""Recipe files: round trips, faults by path, the published schema, CSV, and the command that needs no server."""

import contextlib
import csv
import io
import json
import tempfile
import unittest
from pathlib import Path

from hypothesis import given, settings

from roundstone.cli import main
from roundstone.core.heat import plan
from roundstone.core.recipe import Dose, FatShare, LiquidUse, Recipe, Scent
from roundstone.core.schedule import work_order
from roundstone.core.sheet import weigh
from roundstone.core.shelf import NewFat, make
from roundstone.core.values import RuleError
from roundstone.exchange import evidence_file, sheet_file
from roundstone.exchange.recipe_file import read, schema, write
from roundstone.store import Workshop
from tests.browser.real import ROOT
from tests.core.test_weigh import recipes
from tests.samples import SHELF, recipe, weighed


def pointers(text: str) -> list[str]:
    try:
        read(text)
    except RuleError as broken:
        return [f.pointer for f in broken.faults]
    return []


class Files(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(recipes())
    def test_what_goes_out_comes_back(self, any_recipe: Recipe) -> None:
        self.assertEqual(read(write(any_recipe, SHELF)).recipe, any_recipe)

    def test_a_file_is_weighed_with_what_it_holds_whatever_is_called_so_here(self) -> None:
        """Two workshops with a fat of one id: each file weighs as where it came from."""
        for sv in (190.0, 200.0):
            tallow = make(NewFat(name="My tallow", kin="tallow", sv=sv), "my-tallow", SHELF)
            there = SHELF.model_copy(update={"fats": dict(SHELF.fats) | {"my-tallow": tallow}})
            of = recipe(fats=(FatShare(fat="my-tallow", share=1.0),), scents=())
            found = read(write(of, there, "elsewhere"))
            assert found.uses is not None
            other = make(NewFat(name="My tallow", kin="tallow", sv=195.0), "my-tallow", SHELF)
            here = SHELF.model_copy(update={"fats": dict(SHELF.fats) | {"my-tallow": other}})
            weighed_there, weighed_here = (weigh(of, s).sheet for s in (there, found.uses.on(here)))
            assert weighed_there is not None and weighed_here is not None
            self.assertEqual(weighed_here.naoh, weighed_there.naoh)

    def test_every_fault_is_named_by_its_path(self) -> None:
        value = json.loads(write(recipe(), SHELF))
        value["fats"][1]["share"] = "much"
        value["superfat"] = None
        value["size"] = {"kind": "moulds", "moulds": [{"shape": "box", "length": 1, "width": 2}], "spare": 0}
        value["sparkle"] = 3
        del value["uses"]
        del value["design"]
        found = pointers(json.dumps(value))
        expected = {"/fats/1/share", "/superfat", "/size/moulds/0/fill", "/sparkle", "/design"}
        self.assertLessEqual(expected - {"/sparkle"}, set(found))
        self.assertEqual(len(found), len(expected))

    def test_what_is_no_recipe_file(self) -> None:
        self.assertEqual(pointers("{"), [""])
        self.assertEqual(pointers("[1]"), [""])
        self.assertEqual(pointers('{"format": "roundstone.recipe/99"}'), ["/format"])
        self.assertEqual(pointers("[" * 100_000), [""])
        self.assertEqual(pointers(write(recipe(), SHELF).replace('"superfat": 0.05', '"superfat": NaN')), ["/superfat"])

    def test_the_published_schema_is_the_programs(self) -> None:
        for name, program in (("recipe", schema), ("evidence", evidence_file.schema)):
            self.assertEqual(json.loads((ROOT / f"docs/{name}.schema.json").read_text()), program())

    def test_csv_reads_back_to_the_gram(self) -> None:
        of = recipe(additives=(Dose(additive="sugar", amount=10), Dose(additive="sodium-lactate", amount=10)))
        sheet = weighed(of)
        rows = list(csv.DictReader(io.StringIO(sheet_file.write(sheet, of, SHELF))))
        self.assertTrue(any("43\u00a0°C" in r["note"] for r in rows), "told in metric, without a mark")
        self.assertEqual(len(rows), len(sheet.lines))
        self.assertAlmostEqual(sum(float(r["grams"]) for r in rows), sheet.total, delta=0.05)
        trap = sheet.model_copy(update={"lines": (sheet.lines[0].model_copy(update={"name": "=1+1", "item": ""}),)})
        self.assertIn("'=1+1", sheet_file.write(trap, of, SHELF))


class Command(unittest.TestCase):
    def run_on(self, text: str, *arguments: str) -> tuple[int, str, str]:
        out, complaint = io.StringIO(), io.StringIO()
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "recipe.json"
            file.write_text(text)
            with contextlib.redirect_stdout(out), contextlib.redirect_stderr(complaint):
                code = main(["weigh", str(file), *arguments])
        return code, out.getvalue(), complaint.getvalue()

    def test_weighs_without_a_server(self) -> None:
        unscented = recipe(scents=())
        code, out, _ = self.run_on(write(unscented, SHELF))
        self.assertEqual(code, 0)
        sheet = weigh(unscented, SHELF).sheet
        assert sheet is not None
        self.assertEqual(json.loads(out)["sheet"]["naoh"], sheet.naoh)
        code, out, _ = self.run_on(write(unscented, SHELF), "--csv")
        self.assertEqual(
            (code, out.splitlines()[0]),
            (0, "vessel,ingredient,called,grams,percent_of_fats,purity_percent,into,note,item,saponification_value"),
        )

    def test_takes_fragrances_from_the_file_else_from_a_data_file(self) -> None:
        bare = json.loads(write(recipe(), SHELF))
        del bare["uses"]
        with tempfile.TemporaryDirectory() as folder:
            data = Path(folder) / "w.sqlite"
            workshop = Workshop(data)
            workshop.ingredients.add_fragrance(SHELF.fragrances["moderate"])
            workshop.close()
            self.assertEqual(self.run_on(write(recipe(), SHELF))[0], 0)
            self.assertEqual(self.run_on(json.dumps(bare))[0], 1, "not on the bare shelf")
            code, out, _ = self.run_on(json.dumps(bare), "--data", str(data))
        self.assertEqual(code, 0)
        self.assertIn("fragrance:moderate", [line["key"] for line in json.loads(out)["sheet"]["lines"]])

    def test_says_what_is_wrong(self) -> None:
        code, out, _ = self.run_on(write(recipe(superfat=0.5), SHELF))
        self.assertEqual(code, 1)
        told = json.loads(out)
        self.assertIsNone(told["sheet"])
        self.assertIn("/superfat", [f["pointer"] for f in told["faults"]])
        code, out, complaint = self.run_on('{"format": "roundstone.recipe/1", "name": 3}')
        self.assertEqual((code, out), (2, ""))
        self.assertIn("/design", complaint)
        with contextlib.redirect_stderr(io.StringIO()) as complaint_of_none:
            self.assertEqual(main(["weigh", "/no/such/file.json"]), 2)
        self.assertIn("cannot be read", complaint_of_none.getvalue())


class BenchSheet(unittest.TestCase):
    def test_everything_once_in_the_order_of_work(self) -> None:
        """Common practice: sugar and acids before the lye, silk in hot lye, powders in the fats, colours
        dispersed before there is any lye, scent last."""
        of = recipe(
            additives=tuple(
                Dose(additive=a, amount=SHELF.additives[a].usual)
                for a in ("sugar", "citric-acid", "silk", "sodium-lactate", "kaolin", "mica")
            ),
            liquids=(LiquidUse(liquid="goat-milk", share=0.3), LiquidUse(liquid="aloe", share=0.1, goes="stir")),
            scents=(Scent(fragrance="slight", load=0.02), Scent(fragrance="none", load=0.01)),
        )
        weighing = weigh(of, SHELF)
        sheet = weighing.sheet
        assert sheet is not None
        heat = plan(of, SHELF, sheet.lines)
        steps = work_order(of, SHELF, sheet, heat, weighing.cautions)
        keys = [line.key for step in steps for line in step.lines]
        order = [line.item.partition(":")[2] or line.kind for step in steps for line in step.lines]
        self.assertEqual(sorted(keys), sorted(line.key for line in sheet.lines), "nothing twice, nothing forgotten")
        for before, after in (
            ("sugar", "naoh"),
            ("citric-acid", "naoh"),
            ("goat-milk", "naoh"),
            ("naoh", "silk"),
            ("silk", "sodium-lactate"),
            ("kaolin", "aloe"),
            ("mica", "naoh"),
            ("aloe", "slight"),
        ):
            self.assertLess(order.index(before), order.index(after), f"{before} before {after}")
        jug = next(s for s in steps if s.title == "Lye jug")
        self.assertTrue(any("scorch" in c.message for c in jug.cautions), "the caution stands at its step")
        self.assertTrue(all(s.does for s in steps))
