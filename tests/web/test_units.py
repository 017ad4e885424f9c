"""A maker's own units stand in words alone: every figure sent stays metric, and none of the words keep a gram."""

import re
from collections.abc import Iterator
from typing import Any

from roundstone.core.text import C, say
from roundstone.exchange.paper import Paper
from roundstone.told import Reader
from tests.samples import next_id
from tests.web.client import PLAIN, ApiTest

OWN = {"weight": "oz", "warmth": "F", "length": "in", "volume": "fl oz"}
METRIC_WORDS = re.compile(r"\d\s?(g|kg|°C|mm|cm|mL)(?![\w/]|\sper\b)")
BOTH = re.compile(r"\((about )?[\d.]+\xa0(g|°C)\)")
READ = {"reading", "until"}  # what a scale shows of a weight is another scale's figure
WEIGHED = "as_weighed"  # and so is what that makes of the superfat


def leaves(of: Any, key: str = "") -> Iterator[tuple[str, Any]]:
    if isinstance(of, dict):
        for name, value in of.items():
            yield from leaves(value, name) if name != WEIGHED else ()
    elif isinstance(of, list):
        for value in of:
            yield from leaves(value, key)
    else:
        yield key, of


class OwnUnits(ApiTest):
    def views(self, recipe_id: str, pour: str) -> list[Any]:
        box = {"shape": "box", "count": 1, "length": 24, "width": 8, "fill": 6, "cut": 25}
        of = PLAIN | {"size": {"kind": "moulds", "moulds": [box]}}
        asked = {"recipe": of, "seed": "x"}
        return [
            self.send("POST", "/weigh", {"recipe": of}),
            self.send("POST", "/forecast", asked),
            self.send("POST", "/plan", asked),
            self.send("POST", "/prospects", asked),
            self.send("GET", f"/recipes/{recipe_id}/worksheet"),
            self.send("GET", f"/pours/{pour}"),
            self.send("POST", "/weigh", {"recipe": of | {"pour_celsius": 90}}),
        ]

    def test_words_change_and_figures_do_not(self) -> None:
        pour = self.started()
        recipe_id = self.send("GET", "/recipes")["recipes"][0]["id"]
        self.tap(pour, 1, kind="temperature", celsius=40)
        before = self.views(recipe_id, pour)
        self.send("PUT", "/settings/units", OWN)
        after = self.views(recipe_id, pour)
        told = 0
        for a, b in zip(before, after, strict=True):
            for (key, x), (_, y) in zip(leaves(a), leaves(b), strict=True):
                if isinstance(x, str) and key != "also":
                    told += bool(METRIC_WORDS.search(x))
                    self.assertNotRegex(BOTH.sub("", y), METRIC_WORDS)
                elif key not in READ and isinstance(x, float):
                    self.assertAlmostEqual(x, y, places=6, msg=key)
        self.assertGreater(told, 20)

    def test_a_note_somebody_typed_is_not_rewritten(self) -> None:
        pour = self.started()
        self.send("PUT", "/settings/units", OWN)
        self.tap(pour, 2, kind="remark", what="words", says="5 g more at 40 °C, 3\u00a0cm up")
        said = [x for _, x in leaves(self.send("GET", f"/pours/{pour}")) if isinstance(x, str) and "more at" in x]
        self.assertTrue(said and all("5 g more at 40 °C, 3\u00a0cm up" in x for x in said), said)

    def test_a_page_names_what_its_region_writes_and_figures_stay(self) -> None:
        """A lot past its day: with comma and month first, and all else to the letter."""
        lot = {"item": "fat:olive", "grams": 9000, "counted": "2020-01-01", "expires": "2021-02-03"}
        self.send("PUT", f"/stock/{next_id()}", lot)
        asked = {"recipe": PLAIN}
        here = [self.send("POST", path, asked) for path in ("/weigh", "/forecast")]
        self.client.environ_base |= {"HTTP_X_DECIMAL_SIGN": ",", "HTTP_X_DATE_ORDER": "mdy"}
        there = [self.send("POST", path, asked) for path in ("/weigh", "/forecast")]
        days = 0
        for (key, x), (_, y) in zip(leaves(here), leaves(there), strict=True):
            if isinstance(x, str):
                days += "3 February 2021" in x and "February 3, 2021" in y
                said = x.replace("3 February 2021", "February 3, 2021")
                self.assertEqual(said.replace(".", ","), y.replace(".", ","), key)
                if re.search(r"\s", y):  # not the address of a face
                    self.assertNotRegex(y, r"\d\.\d")
            else:
                self.assertEqual(x, y, key)
        self.assertEqual(days, 1)

    def test_papers_read_as_the_screen_does(self) -> None:
        paper = Paper("Any", 10, "A4", Reader(**OWN))
        self.addCleanup(paper.close)
        self.assertEqual(paper.readable(say(C(85, both=True), " é")), "185\xa0°F (85\xa0°C) é")
        self.assertEqual(paper.missing, set())
        refused = self.send("PUT", "/settings/units", OWN | {"weight": "stone"}, 422)
        self.assertEqual(refused["errors"][0]["pointer"], "/weight")
