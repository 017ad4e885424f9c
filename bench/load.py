"""As quick in year ten as on day one? `python -m bench.load [SECONDS]` writes the table of docs/reliability.md.

A real server on a file with 1,000 recipes and 26, 300 and 3,000 finished pours, in turn. Targets are ratios within one
run, since machines differ.
"""

import http.client
import json
import re
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import UUID, uuid4

import numpy as np

from bench.page import put, table
from roundstone.core.batter import trade_knowledge
from roundstone.core.pour import Event
from roundstone.core.recipe import Brief
from roundstone.core.sheet import Lot, item_names, weigh
from roundstone.demo.recipes import RECIPES, fragrances
from roundstone.standins.batter import SimulatedMaker, temperament
from roundstone.store import Workshop
from roundstone.store.learned import Learned

ROOT = Path(__file__).parents[1]
LISTS = {
    "recipe list": "/recipes",
    "logbook": "/pours",
    "rest": "/rest",
    "fragrances": "/fragrances",
    "colours": "/colours",
    "stock": "/stock",
    "found": "/pours?find=olive",
    "order list": "/stock/order",
    "calendar": f"/calendar?first={datetime.now(UTC).date().replace(day=1)}",
    "costs of a year": f"/costs?year={datetime.now(UTC).year - 1}",
    "which batches have a lot": f"/stock/{UUID(int=1)}/batches",
}
YEAR = ("order list", "calendar", "costs of a year", "which batches have a lot")  # put together anew after an edit
RECIPE_COUNT, POUR_COUNTS = 1000, (26, 300, 3000)
LOT_COUNT, PLANNED = 60, 12  # lots counted, and recipes with days to be poured on
CLIENTS = 8
TAPS = 120  # by one client
PAUSE = 0.05  # seconds between the taps of one of eight: far quicker than a hand


def filled(path: Path, pours: int) -> list[str]:
    """A workshop of that age; ids of CLIENTS recipes that are poured in the measurement."""
    workshop = Workshop(path)
    begun = datetime.now(UTC) - timedelta(days=3650)
    for fragrance in fragrances():
        workshop.ingredients.add_fragrance(fragrance)
    recipes = []
    for n in range(RECIPE_COUNT):
        of = RECIPES[n % len(RECIPES)]
        recipes.append(f"r{n}")
        workshop.recipes.add(recipes[-1], of.model_copy(update={"name": f"{of.name} {n}"}), begun)
    shelf, rng = workshop.ingredients.shelf(), np.random.Generator(np.random.PCG64(3))
    maker = SimulatedMaker(temperament(trade_knowledge(shelf.fragrances.values()), rng, {}), shelf, rng)
    logs: list[list[Event]] = []
    for of in RECIPES:
        sheet = weigh(of, shelf).sheet
        assert sheet is not None
        logs += [maker.pour(of, sheet) for _ in range(4)]
    made = []
    for n in range(pours):
        kind = n % len(RECIPES)
        log = [e.model_copy(update={"id": uuid4()}) for e in logs[4 * kind + n // len(RECIPES) % 4]]
        # Poured ever and again from the same few drafts of each kind, as makers do.
        recipe = f"r{kind + len(RECIPES) * (n % 30)}"
        made.append((str(UUID(int=n + 1)), recipe, begun + timedelta(days=3600 * n / pours), log))
    workshop.pours.add_pasts(made)
    workshop.lots.save_all(
        {
            str(UUID(int=n + 1)): Lot(item=item, grams=1e6, counted=begun, price_per_kg=8.0, label=f"lot {n}")
            for n, item in enumerate(list(item_names(shelf))[:LOT_COUNT])
        }
    )
    for n, recipe in enumerate(recipes[:PLANNED]):
        record, on = workshop.recipes.get(recipe), datetime.now(UTC).date() + timedelta(days=n)
        brief = Brief(bars=40, ready=(on + timedelta(days=60)).isoformat(), days=(on.isoformat(),))
        workshop.recipes.save(recipe, record.recipe.model_copy(update={"brief": brief}), record.revision, begun)
    Learned(workshop).record()
    workshop.close()
    return recipes[-CLIENTS:]


@dataclass
class Served:
    """A server process of its own."""

    data: Path
    seconds: float = 0.0
    port: int = 0
    process: Any = field(default=None)

    def __enter__(self) -> "Served":
        start = time.perf_counter()
        line = [sys.executable, "-m", "roundstone", "serve", "--data", str(self.data), "--port", "0"]
        self.process = subprocess.Popen(line, cwd=ROOT, stdout=subprocess.PIPE, text=True)
        for said in self.process.stdout:
            if found := re.search(r"http://127\.0\.0\.1:(\d+)", said):
                self.port = int(found[1])
                break
        Client(self.port).ask("GET", "/api/settings")
        self.seconds = time.perf_counter() - start
        return self

    def __exit__(self, *_: object) -> None:
        self.process.terminate()
        self.process.wait(20)
        self.process.stdout.close()

    @property
    def megabytes(self) -> float:
        status = Path(f"/proc/{self.process.pid}/status").read_text()
        return int(re.search(r"VmRSS:\s+(\d+)", status)[1]) / 1024  # type: ignore[index]


class Client:
    """One connection that is kept open; it counts what was not answered as it should."""

    def __init__(self, port: int) -> None:
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
        self.errors = 0

    def ask(self, method: str, path: str, body: Any = None) -> tuple[float, Any]:
        """Milliseconds until the answer, and the answer."""
        start = time.perf_counter()
        try:
            data = None if body is None else json.dumps(body)
            self.connection.request(method, path, data, {"Content-Type": "application/json"} if data else {})
            answer = self.connection.getresponse()
            text = answer.read()
            if answer.status >= 400:
                self.errors += 1
            return (time.perf_counter() - start) * 1000, json.loads(text)
        except (OSError, http.client.HTTPException, ValueError):
            self.errors += 1
            self.connection.close()
            return (time.perf_counter() - start) * 1000, {}

    def tap(self, pour: str, n: int) -> float:
        """One tap of a pour that runs: mostly looks, now and then another thing."""
        event: dict[str, Any] = {"id": str(uuid4()), "minute": 0.5 + n / 600, "sure": True}
        if n % 10 == 9:
            event |= {"kind": "work", "tool": "hand", "seconds": 5, "portion": None}
        else:
            event |= {"kind": "seen", "stage": "emulsion" if n < 40 else "light", "portion": None, "turned": False}
        return self.ask("POST", f"/api/pours/{pour}/events", {"event": event})[0]


def measured(path: Path, recipes: list[str], seconds: float) -> dict[str, float]:
    with Served(path) as server:
        client = Client(server.port)
        out = {"start, s": server.seconds}
        draft = client.ask("GET", f"/api/recipes/{recipes[0]}")[1]["recipe"]
        out["first forecast, ms"] = client.ask("POST", "/api/forecast", {"recipe": draft, "seed": "s"})[0]

        def median(method: str, where: str, body: Any = None) -> float:
            return statistics.median(client.ask(method, where, body)[0] for _ in range(15))

        trivial = median("GET", "/api/photos/00000000-0000-4000-8000-000000000000")
        client.errors = 0
        out["trivial request, ms"] = trivial
        firsts = [client.ask("GET", f"/api{page}")[0] for page in LISTS.values()]
        for name, page in LISTS.items():
            out[f"{name}, ms"] = median("GET", f"/api{page}")
        out["slowest first answer, ms"] = max(firsts)
        for name in YEAR:
            spent = []
            for n in range(5):
                lot = client.ask("GET", "/api/stock")[1]["lots"][n]
                edit = {"item": lot["lot"]["item"], "label": f"after {name} {n}", "revision": lot["revision"]}
                client.ask("PUT", f"/api/stock/{lot['id']}", edit)
                spent.append(client.ask("GET", f"/api{LISTS[name]}")[0])
            out[f"{name} after a lot was edited, ms"] = statistics.median(spent)
        out["forecast, ms"] = median("POST", "/api/forecast", {"recipe": draft, "seed": "s"})
        pours = [client.ask("POST", "/api/pours", {"recipe_id": r})[1]["id"] for r in recipes]
        one = sorted(client.tap(pours[0], n) for n in range(TAPS))
        out["tap p50, ms"], out["tap p99, ms"] = one[len(one) // 2], one[int(0.99 * len(one))]
        eight, errors = together(server.port, pours, seconds)
        out["of eight: p50, ms"], out["of eight: p99, ms"] = eight[len(eight) // 2], eight[int(0.99 * len(eight))]
        out["of eight: taps"] = len(eight)
        out["memory, MB"] = server.megabytes
        out["errors"] = client.errors + errors
    return out


def together(port: int, pours: list[str], seconds: float) -> tuple[list[float], int]:
    """Eight clients, each at a pour of its own, and now and then a look at a list."""
    spent: list[float] = []
    clients = [Client(port) for _ in pours]
    until = time.monotonic() + seconds

    def go(client: Client, pour: str) -> None:
        n = TAPS
        while time.monotonic() < until:
            spent.append(client.tap(pour, n % 100))
            if n % 20 == 0:
                client.ask("GET", "/api/pours")
            n += 1
            time.sleep(PAUSE)

    threads = [threading.Thread(target=go, args=pair) for pair in zip(clients, pours, strict=True)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return sorted(spent), sum(c.errors for c in clients)


def main() -> None:
    seconds = next((float(a) for a in sys.argv[1:] if not a.startswith("-")), 60.0)
    found: dict[int, dict[str, float]] = {}
    for pours in POUR_COUNTS:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "w.sqlite"
            recipes = filled(path, pours)
            found[pours] = measured(path, recipes, seconds)
            print(pours, {k: round(v, 2) for k, v in found[pours].items()}, flush=True)
    names = list(found[POUR_COUNTS[0]])
    head = ("", *(f"{p:,} pours" for p in POUR_COUNTS))
    rows = [(name, *(f"{found[p][name]:.3g}" for p in POUR_COUNTS)) for name in names]
    old, young = found[POUR_COUNTS[-1]], found[POUR_COUNTS[0]]
    lists = max(f[f"{k}, ms"] / f["trivial request, ms"] for f in found.values() for k in LISTS)
    said = (
        f"Tap p50 at 3,000 pours against 26: {old['tap p50, ms'] / young['tap p50, ms']:.2f} (wanted under 1.3). "
        f"p99 of eight clients against their p50: "
        f"{max(f['of eight: p99, ms'] / f['of eight: p50, ms'] for f in found.values()):.1f} (under 10). "
        f"First page of a list against a trivial request: {lists:.1f} (under 10). "
        f"Slowest first answer: {max(f['slowest first answer, ms'] for f in found.values()):.0f} ms (under 1,000). "
        f"Memory: {max(f['memory, MB'] for f in found.values()):.0f} MB (under 300). "
        f"Errors: {sum(f['errors'] for f in found.values()):.0f}."
    )
    if "--write" in sys.argv:
        put("load", f"{table(head, rows)}\n\n{said}", "reliability.md")
    print(said)


if __name__ == "__main__":
    main()
