"""Evidence through the API and the command line: told word for word, matched by hand, taken out without a trace."""

import json
import tempfile
from contextlib import redirect_stdout
from io import StringIO
from pathlib import Path
from typing import Any

from roundstone.cli import main
from tests.samples import quick_pour
from tests.web.client import ApiTest

OTHER = {
    "format": "roundstone.evidence/1",
    "workshop": "ab" * 16,
    "edition": 2,
    "fragrances": [
        {
            "name": "test None",
            "code": "N-1",
            "claim": "none",
            "speed": {"times": 4.0, "low": 3.0, "high": 5.3, "pours": 9, "looks": 40},
            "riced": [{"load": "usual", "warmth": "middle", "seen": 4, "asked": 9}],
        }
    ],
}


class Told(ApiTest):
    def file(self, status: int = 201, **changes: Any) -> Any:
        return self.send("POST", "/evidence", {"text": json.dumps(OTHER | changes)}, status)

    def believed(self) -> Any:
        file = self.send("GET", "/fragrances/none")["fragrances"][0]
        return file["learned"], file["claimed"], file["heard"], file["others"]

    def test_what_another_workshop_saw_counts_once_the_maker_says_it_is_the_same(self) -> None:
        before = self.believed()
        view = self.file()
        (heard,) = view["heard"]
        self.assertEqual((heard["fragrance"], heard["like"]), (None, "none"))
        self.assertEqual(self.believed(), before, "a name alike is asked about, never taken")
        match = {"name": heard["name"], "code": heard["code"]}
        self.send("PUT", "/evidence/match", match | {"fragrance": "none"})
        learned, claimed, told, words = self.believed()
        self.assertEqual(claimed, before[1], "what the supplier claims is not moved by anybody")
        self.assertGreater(learned["mid"], before[0]["mid"] * 1.15, "one workshop beside a firm claim")
        self.assertAlmostEqual(told["mid"], 4.0, delta=0.1)
        self.assertIn("riced in 4 of 9", words)
        self.send("PUT", "/evidence/match", match | {"fragrance": "slight"})
        self.assertEqual(self.believed(), before, "it is meant by one fragrance at most")
        self.send("PUT", "/evidence/match", match | {"fragrance": "none"})
        view = self.send("DELETE", f"/evidence/{OTHER['workshop']}")
        self.assertEqual((view["sources"], view["heard"]), ([], []))
        self.assertEqual(self.believed(), before, "taken out again, nothing of it is left")
        self.send("DELETE", f"/evidence/{OTHER['workshop']}", status=404)

    def test_a_later_file_takes_the_place_and_an_earlier_one_is_refused(self) -> None:
        self.file()
        self.assertEqual(len(self.file(edition=3)["sources"]), 1)
        self.assertIn("later file", self.file(409, edition=1)["detail"])
        for text, pointer in (("{}", "/format"), ("no", ""), (json.dumps(OTHER | {"edition": "x"}), "/edition")):
            errors = self.send("POST", "/evidence", {"text": text}, 422)["errors"]
            self.assertEqual(errors[0]["pointer"], pointer)

    def test_only_what_is_ticked_leaves_and_it_is_shown_word_for_word(self) -> None:
        pour = self.started()
        for event in quick_pour():
            self.tap(pour, event.minute, **event.model_dump(mode="json", exclude={"id", "minute", "sure"}))
        self.tap(pour, 31, kind="next", says="my secret note")
        (row,) = self.send("GET", "/evidence")["sharable"]
        self.assertEqual(row["fragrance"], "moderate")
        tell = {"fragrance": "moderate", "name": "Something", "code": "X", "claim": False}
        looked_at = self.send("POST", "/evidence/told", {"fragrances": [tell | {"code": "Z"}]})["text"]
        shown = self.send("POST", "/evidence/told", {"fragrances": [tell], "saved": True})["text"]
        self.assertEqual(json.loads(looked_at)["edition"], json.loads(shown)["edition"], "looking counts as no edition")
        file = json.loads(shown)
        self.assertEqual(set(file), {"format", "workshop", "edition", "fragrances"})
        self.assertEqual({"name", "code"}, set(file["fragrances"][0]) - {"speed", "riced", "seized", "separated"})
        for private in ("Mine", "Plain", "secret", "2026", "Test moderate", "olive", pour):
            self.assertNotIn(private, shown)
        again = self.send("POST", "/evidence/told", {"fragrances": [tell]})["text"]
        self.assertEqual(again, shown, "the same is no later edition")
        other = json.loads(self.send("POST", "/evidence/told", {"fragrances": [tell | {"code": "Y"}]})["text"])
        self.assertEqual((other["workshop"], other["edition"]), (file["workshop"], file["edition"] + 1))
        self.assertIn("your own", self.send("POST", "/evidence", {"text": shown}, 409)["detail"])
        twice = [tell, tell | {"fragrance": "none", "name": "something"}]
        errors = self.send("POST", "/evidence/told", {"fragrances": twice}, 422)["errors"]
        self.assertEqual(errors[0]["pointer"], "/fragrances/1/fragrance")
        printed = self.command("out", "--data", str(self.path))
        self.assertEqual(json.loads(printed)["fragrances"][0]["name"], "Test moderate")

    def command(self, *line: str) -> str:
        said = StringIO()
        with redirect_stdout(said):
            self.assertEqual(main(["evidence", *line]), 0)
        return said.getvalue()

    def test_a_folder_is_pooled_here_as_on_many_machines_and_read_as_one(self) -> None:
        from dask.distributed import LocalCluster

        from roundstone.exchange import pooling

        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            for n in range(12):
                file = OTHER | {"workshop": f"{n % 10:032x}", "edition": 1 + n // 10}
                (folder / f"{n}.json").write_text(json.dumps(file))
            part, pooling.PART = pooling.PART, 3
            try:
                here = pooling.pooled_folder(folder)
                with LocalCluster(n_workers=2, processes=False, dashboard_address=None) as cluster:  # type: ignore[no-untyped-call]
                    self.assertEqual(pooling.pooled_folder(folder, cluster.scheduler_address), here)
            finally:
                pooling.PART = part
            (tally,) = (t for _, _, t in here.told.values())
            self.assertEqual(tally.workshops, 10, "each workshop once, by its latest edition")
            text = self.command("pool", name)
            self.assertIn("10 workshops", self.command("pool", name, "--words"))
        view = self.send("POST", "/evidence", {"text": text}, 201)
        self.assertEqual(view["sources"][0]["workshops"], 10)
        refused = self.send("POST", "/evidence", {"text": json.dumps(OTHER | {"workshop": f"{3:032x}"})}, 409)
        self.assertIn("in what you read already", refused["detail"])
