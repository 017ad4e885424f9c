"""How fast the things a maker waits for are. `python -m bench.speed` writes the table of docs/model.md.

Medians and ratios within one run.
"""

import os

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import gzip
import http.client
import json
import re
import statistics
import subprocess
import sys
import tempfile
import time
import warnings
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from uuid import uuid4

import numpy as np

from bench.page import put, table
from bench.pours import many_courses
from bench.speed_page import eight_portions, in_the_browser
from roundstone.core.batter import FIXED_COLUMNS, Looks, Term, draw, infer, newton, prior
from roundstone.core.face import Face, FacePortion
from roundstone.core.face import draw as draw_face
from roundstone.core.logbook import fit, learn
from roundstone.core.pour import Event, ScentIn, Split, replay
from roundstone.core.recipe import Design, Dose, Portion
from roundstone.core.rest import WAYS, sections
from roundstone.core.schedule import build_schedule
from roundstone.core.sheet import weigh
from roundstone.demo.recipes import RECIPES
from roundstone.standins.batter import SimulatedMaker, temperament
from roundstone.store import Workshop
from roundstone.web import create_app
from roundstone.web.app import STATIC
from tests.browser.real import Server
from tests.samples import SHELF, TRADE, lane, next_id, quick_pour, recipe, seen, weighed


def median_ms(act: Callable[[], object], times: int) -> float:
    act()
    spent = []
    for _ in range(times):
        start = time.perf_counter()
        act()
        spent.append((time.perf_counter() - start) * 1000)
    return statistics.median(spent)


def tap_to_quantiles() -> float:
    """Five portions, 400 draws, a dozen taps: from the events to every stage's quantiles."""
    names = ("Base", "Bone", "Slate", "Moss", "Clay")
    portions = tuple(Portion(name=n, share=0.2, scent=float(i % 2 == 0)) for i, n in enumerate(names))
    of = recipe(design=Design(portions=portions, technique="drop-swirl"))
    sheet = weighed(of)
    events: list[Event] = [seen(0.5, "emulsion"), Split(id=next_id(), minute=1.5)]
    events += [ScentIn(id=next_id(), minute=3.0, portion=p.name) for p in portions if p.scented]
    events += [seen(3.5 + 0.3 * i, "light", p.name) for i, p in enumerate(portions)]
    events += [seen(6.0, "medium", "Base"), seen(6.5, "light", "Bone")]

    def act() -> None:
        schedule = build_schedule(of, sheet, TRADE, SHELF, replay(events), 7.0)
        belief = infer(TRADE, schedule.seen, schedule.terms, schedule.measured)
        draws = draw(belief, schedule.lanes, schedule.known, seed=1)
        for i in range(len(portions)):
            for level in (2.0, 3.0, 4.0, 5.0):
                draws.quantiles(i, level)

    return median_ms(act, 60)


def weighing() -> float:
    additives = tuple(Dose(additive=a, amount=2) for a in sorted(SHELF.additives)[:10])
    of = RECIPES[7].model_copy(update={"scents": (), "additives": additives})
    if weigh(of, SHELF).sheet is None:
        raise RuntimeError("the bench's own recipe has a fault")
    return median_ms(lambda: weigh(of, SHELF), 200)


def refit(pours: int) -> float:
    of, sheet = recipe(), weighed(recipe())
    state = replay(quick_pour())
    schedules = [build_schedule(of, sheet, TRADE, SHELF, state, 8.0) for _ in range(pours)]
    return median_ms(lambda: learn(TRADE, schedules), 3)


def refit_many(count: int) -> tuple[float, float]:
    """Seconds for a refit with 200 fragrances, cold, and warm after one more pour."""
    trade, schedules = many_courses(count, 200)
    start = time.perf_counter()
    found = fit(trade, schedules)
    cold = time.perf_counter() - start
    start = time.perf_counter()
    fit(trade, schedules | {"one more": schedules["0"]}, found)
    return cold, time.perf_counter() - start


def memory_mb(count: int) -> float:
    """Peak memory of a process that refits `count` pours with 200 fragrances."""
    code = (
        "import resource; from bench.pours import many_courses; from roundstone.core.logbook import fit; "
        f"fit(*many_courses({count}, 200)); "
        "print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    return float(done.stdout)


def against_lifelines() -> float:
    """How many times as long `lifelines` takes to fit the same interval-censored rows: 1000, with two covariates."""
    warnings.simplefilter("ignore")
    import pandas as pd
    from lifelines import LogNormalAFTFitter

    rng = np.random.default_rng(3)
    x, y = rng.normal(size=(2, 1000))
    times = np.exp(2.4 + 0.5 * x - 0.3 * y + 0.4 * rng.standard_normal(1000))
    low, high = np.maximum(times - 1, 1e-3), times + 1
    frame = pd.DataFrame({"low": low, "high": high, "x": x, "y": y})

    def theirs() -> None:
        LogNormalAFTFitter().fit_interval_censoring(frame, "low", "high")

    steps = {k: prior.FACTORS[k] for k in ("superfat", "lye")}
    columns = {n: i for i, n in enumerate(FIXED_COLUMNS)}
    lanes = [
        lane(
            factors={
                "superfat": steps["superfat"].reference - steps["superfat"].step * a,
                "lye": steps["lye"].reference - steps["lye"].step * b,
            },
            marks=[c, d],
        )
        for a, b, c, d in zip(x, y, low, high, strict=True)
    ]
    terms = [Term(i, 1, float(a), float(b)) for i, (a, b) in enumerate(zip(low, high, strict=True))]

    def ours() -> None:
        looks = Looks.of(lanes, terms, columns, [0.4] * 4)
        newton(looks, TRADE.mean[: len(columns)], 1e-9 * np.eye(len(columns)))

    return median_ms(theirs, 3) / median_ms(ours, 5)


def requests() -> tuple[float, float]:
    """Round trips in ms, one server, one connection: a POST that is only read and answered, and a forecast."""
    with tempfile.TemporaryDirectory() as folder:
        server = Server("demo", Path(folder) / "bench.sqlite")
        try:
            connection = http.client.HTTPConnection("127.0.0.1", server.port)

            def ask(method: str, path: str, body: str) -> None:
                connection.request(method, path, body, {"Content-Type": "application/json"})
                answer = connection.getresponse()
                answer.read()
                if answer.status != (422 if body == "{}" else 200):
                    raise RuntimeError(f"{path}: {answer.status}")

            forecast = json.dumps({"recipe": RECIPES[0].model_dump(mode="json"), "seed": "bench"})
            spent: dict[str, list[float]] = {"{}": [], forecast: []}
            # By turns, so that both see the same moods of the machine.
            for _ in range(200):
                for body, times in spent.items():
                    start = time.perf_counter()
                    ask("POST", "/api/forecast", body)
                    times.append((time.perf_counter() - start) * 1000)
            return statistics.median(spent["{}"]), statistics.median(spent[forecast])
        finally:
            server.stop()


def faces(width: int) -> float:
    """One face of three portions, drawn anew, over all techniques: mean of the medians in ms."""
    spent = []
    for technique in SHELF.techniques:
        tints = ("#e8e0d0", "#3f5660", "#b3572f")
        portions = tuple(FacePortion(share=s, tint=t, level=2.4) for s, t in zip((0.5, 0.3, 0.2), tints, strict=True))
        face = Face(technique=technique, portions=portions, seed=3)
        spent.append(median_ms(lambda face=face: draw_face(face, width), 5))  # type: ignore[misc] # bound each round
    return statistics.mean(spent)


def five_hundred_recipes() -> float:
    """The first page of 500 recipes, through the API, in ms."""
    with tempfile.TemporaryDirectory() as folder:
        workshop = Workshop(Path(folder) / "bench.sqlite")
        for n in range(500):
            workshop.recipes.add(f"r{n}", RECIPES[n % len(RECIPES)], datetime.now(UTC))
        client = create_app(workshop).test_client()
        spent = median_ms(lambda: client.get("/api/recipes"), 15)
        workshop.close()
        return spent


def three_thousand_batches() -> tuple[float, float]:
    """The logbook of 3,000 batches: its first page by a program that was just started, and a search, in ms."""
    rng = np.random.Generator(np.random.PCG64(5))
    maker = SimulatedMaker(temperament(TRADE, rng, {}), SHELF, rng)
    told = [maker.pour(of, weighed(of)) for of in [recipe()] * 40]
    now = datetime.now(UTC)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "bench.sqlite"
        workshop = Workshop(path)
        for fragrance in SHELF.fragrances.values():
            workshop.ingredients.add_fragrance(fragrance)
        for n in range(60):
            workshop.recipes.add(f"r{n}", recipe(name=f"Batch of kind {n}"), now)
        pours = []
        for n in range(3000):
            begun = now - timedelta(hours=9 * n)
            events = [e.model_copy(update={"id": uuid4()}) for e in told[n % 40]]
            pours.append((str(uuid4()), f"r{n % 60}", begun, events))
        workshop.pours.add_pasts(pours)
        create_app(workshop).test_client().get("/api/pours")  # learns of them, once
        opened = []
        for _ in range(3):
            client = create_app(Workshop(path)).test_client()
            client.get("/api/settings")
            begun_at = time.perf_counter()
            client.get("/api/pours?most=50")
            opened.append((time.perf_counter() - begun_at) * 1000)
        searched = median_ms(lambda: client.get("/api/pours?find=kind+59&most=50"), 9)
    return statistics.median(opened), searched


def five_sections() -> float:
    """What gels, for five ways to rest a loaf, in ms."""
    of = recipe()
    sheet = weighed(of)
    return median_ms(lambda: sections(of, sheet, WAYS), 15)


def main_bundle_kb() -> float:
    """What a first visit must load before it can draw: the entry script, gzipped."""
    page = (STATIC / "index.html").read_text()
    return (
        sum(len(gzip.compress((STATIC / s).read_bytes())) for s in re.findall(r'src="/(assets/[^"]+\.js)"', page))
        / 1000
    )


def main() -> int:
    trivial, forecast = requests()
    key, knob, moved = in_the_browser()
    thousand, warm = refit_many(1000)
    rows: list[tuple[str, float, float, str]] = [
        ("tap to quantiles, 5 portions, 400 draws", tap_to_quantiles(), 10.0, "ms"),
        ("weighing 12 fats and 10 additives", weighing(), 3.0, "ms"),
        ("forecast request ÷ trivial request", forecast / trivial, 10.0, "×"),
        ("refit of 100 pours", refit(100), 300.0, "ms"),
        ("refit of 1000 pours, 200 fragrances", thousand, 1.0, "s"),
        ("refit of 1001, warm", warm, 1.0, "s"),
        ("refit of 5000", refit_many(5000)[0], 8.0, "s"),
        ("memory of the 5000", memory_mb(5000), 250.0, "MB"),
        ("ours ÷ lifelines, 1000 rows", 1 / against_lifelines(), 0.1, "×"),
        ("keystroke to new figures on screen", key, 100.0, "ms"),
        ("knob to the ghost's figures on screen", knob, 100.0, "ms"),
        ("step moved to its block on screen, 5 colours", moved, 100.0, "ms"),
        ("tap to ribbon and sentence on screen, 8 portions, 120 events, p95", eight_portions(), 150.0, "ms"),
        ("cut face of a list, mean of 25 techniques", faces(40), 30.0, "ms"),
        ("cut face of 120 px, mean of 25 techniques", faces(120), 60.0, "ms"),
        ("first page of 500 recipes", five_hundred_recipes(), 50.0, "ms"),
        ("gel sections, five ways to rest", five_sections(), 150.0, "ms"),
        ("main bundle, gzipped", main_bundle_kb(), 150.0, "kB"),
    ]
    opened, searched = three_thousand_batches()  # last, since it fills the memory that is measured above
    rows.append(("logbook of 3,000 batches, opened by a program just started", opened, 300.0, "ms"))
    rows.append(("logbook of 3,000 batches, searched", searched, 50.0, "ms"))
    print(f"trivial request {trivial:.2f} ms, forecast request {forecast:.2f} ms")
    for name, found, target, unit in rows:
        print(f"{'ok  ' if found < target else 'OVER'} {name}: {found:.2f} {unit} (target under {target:g})")
    heads = ("what a maker waits for", "measured", "to stay under")
    put("speed", table(heads, [(n, f"{found:.2f} {unit}", f"{target:g} {unit}") for n, found, target, unit in rows]))
    return 0 if all(found < target for _, found, target, _ in rows) else 1


if __name__ == "__main__":
    sys.exit(main())
