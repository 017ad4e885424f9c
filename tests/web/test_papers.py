"""Papers beside the bench sheet: two pages at most, every weight on them, both sizes."""

import re
import zlib
from datetime import timedelta
from typing import Any

from roundstone.core.recipe import Box, ByMoulds, Design, Portion, Topping
from tests.exchange.test_bench_pdf import full
from tests.samples import recipe
from tests.web.client import ApiTest

NAMES = tuple(f"Portion of clay number {n}" for n in range(1, 9))


class Papers(ApiTest):
    def paper(self, path: str, paper: str = "A4") -> bytes:
        answer = self.client.get(f"/api{path}?paper={paper}")
        self.assertEqual((answer.status_code, answer.content_type), (200, "application/pdf"), answer.get_data()[:300])
        return bytes(answer.get_data())

    def pages(self, body: bytes) -> int:
        return len(re.findall(rb"/Type /Page\b", body))

    def drawn(self, body: bytes) -> int:
        """Lines that are drawn on it."""
        streams = re.findall(rb"stream\r?\n(.*?)\r?\nendstream", body, re.S)
        plain = []
        for s in streams:
            try:
                plain.append(zlib.decompress(s))
            except zlib.error:
                continue
        return sum(len(re.findall(rb" l\b", s)) for s in plain)

    def made(self, of: Any) -> str:
        made = str(self.send("POST", "/recipes", {"copy_of": None, "name": "x"}, 201)["id"])
        self.send("PUT", f"/recipes/{made}", {"revision": 1, "recipe": of.model_dump(mode="json")})
        return made

    def test_the_record_of_the_fullest_batch_is_two_pages(self) -> None:
        pour = str(self.send("POST", "/pours", {"recipe_id": self.made(full())}, 201)["id"])
        self.tap(pour, 1.0, kind="seen", stage="emulsion")
        self.tap(pour, 1.2, kind="split", sure=True)
        for n in range(60):
            self.tap(
                pour,
                1.5 + n / 10,
                kind="remark",
                what="words",
                says=f"A remark of some length, the {n}th",
                sure=True,
            )
        running = self.paper(f"/pours/{pour}/record.pdf")
        self.assertLessEqual(self.pages(running), 2)
        self.tap(pour, 12.0, kind="ended", sure=True)
        self.now += timedelta(days=3)
        self.tap(pour, 4000.0, kind="cut", how="clean", bars=12, offcuts=31.0)
        for paper, box in (("Letter", b"612.00 792.00"), ("A4", b"595.28 841.89")):
            body = self.paper(f"/pours/{pour}/record.pdf", paper)
            self.assertIn(b"/MediaBox [0 0 " + box, body)
            self.assertLessEqual(self.pages(body), 2)
        self.assertGreater(len(body), len(running) // 2)

    def test_a_cut_plan_draws_every_wire_and_a_label_is_a_draft(self) -> None:
        portions = tuple(Portion(name=n, share=0.125) for n in NAMES)
        design = Design(portions=portions, technique="straight-layers", toppings=(Topping(name="Seed", a_bar=2),))

        def lines(**box: Any) -> int:
            size = ByMoulds(moulds=(Box(length=24, width=8, fill=6, **box),))
            made = self.made(recipe(design=design, size=size))
            body = self.paper(f"/recipes/{made}/cut-plan.pdf")
            self.assertEqual(self.pages(body), 1)
            return self.drawn(body)

        plain = lines(cut=28)
        self.assertEqual(lines(cut=28, planks=3) - plain, 2)
        self.assertEqual(plain - lines(cut=40), 9 - 5)
        uncut = self.made(recipe(design=design))
        self.send("GET", f"/recipes/{uncut}/cut-plan.pdf", status=422)
        self.assertEqual(self.pages(self.paper(f"/recipes/{uncut}/label.pdf", "Letter")), 1)
