"""Runs all tests; fails when one fails and when none ran. `python -m tests [name ...]` runs some.

All of them are shared out to two processes, by classes, the longest first: most of a browser test is waiting. With
`--long` the statistics of minutes run too, and every property on all its examples. Here the examples of property tests
are the same every time; `python -m unittest` looks for new ones.
"""

import argparse
import json
import os
import subprocess
import sys
import time
import unittest
import warnings
from collections import Counter, deque
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import asdict, dataclass, field
from io import StringIO
from pathlib import Path
from threading import Lock
from typing import IO, ClassVar

from hypothesis import settings

ROOT = Path(__file__).parents[1]
TIMES = ROOT / ".stamps" / "test-times.json"  # seconds of each class when it ran last, to begin with the longest
UNKNOWN, BROWSED = 0.5, 10.0  # seconds of a test whose class never ran here
WORKERS = 2


@dataclass
class Ran:
    """What came of some tests; `text` is what is to be read of them."""

    run: int = 0
    bad: int = 0
    skipped: int = 0
    text: str = ""
    seconds: float = 0.0
    each: list[tuple[float, str]] = field(default_factory=list)


def prepared() -> None:
    """How tests are run, here and in every process."""
    warnings.simplefilter("error", ResourceWarning)
    settings.register_profile("check", derandomize=True, deadline=None)
    settings.load_profile("check")


class Timed(unittest.TextTestResult):
    """With the seconds of each test."""

    each: ClassVar[list[tuple[float, str]]] = []

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802 - unittest's name
        self.began = time.monotonic()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        self.each.append((round(time.monotonic() - self.began, 2), test.id()))
        super().stopTest(test)


def ran(suite: unittest.TestSuite, out: IO[str]) -> Ran:
    """Run a suite and write what there is to read of it."""
    began = time.monotonic()
    Timed.each.clear()
    result = unittest.TextTestRunner(stream=out, verbosity=1, buffer=True, resultclass=Timed).run(suite)  # type: ignore[arg-type] # its stream is private
    bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    return Ran(result.testsRun, bad, len(result.skipped), "", time.monotonic() - began, list(Timed.each))


def discovered(where: str = "") -> unittest.TestSuite:
    loader = unittest.TestLoader()
    return loader.discover(str(ROOT / "tests" / where), pattern="test_*.py", top_level_dir=str(ROOT))


def named(names: list[str]) -> unittest.TestSuite:
    """Tests by module, class or method; a package is all that is in it."""
    suites = []
    for name in names:
        folder = ROOT.joinpath(*name.split("."))
        inside = folder.is_dir()
        suites.append(
            discovered(str(folder.relative_to(ROOT / "tests")))
            if inside
            else unittest.defaultTestLoader.loadTestsFromName(name)
        )
    return unittest.TestSuite(suites)


def classes(suite: unittest.TestSuite) -> Iterator[str]:
    """Every class of a suite by its whole name; what could not be imported by the name that says why."""
    for test in suite:
        if isinstance(test, unittest.TestSuite):
            yield from classes(test)
        elif type(test).__module__ == "unittest.loader":
            yield test.id().removeprefix("unittest.loader._FailedTest.")
        else:
            yield f"{type(test).__module__}.{type(test).__qualname__}"


class Worker:
    """A process that runs one class after another."""

    def __init__(self) -> None:
        line = [sys.executable, "-m", "tests", "--worker"]
        self.process = subprocess.Popen(line, cwd=ROOT, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)

    def run(self, name: str) -> Ran:
        assert self.process.stdin is not None and self.process.stdout is not None
        try:
            self.process.stdin.write(f"{name}\n")
            self.process.stdin.flush()
            said = self.process.stdout.readline()
            return Ran(**json.loads(said))
        except (BrokenPipeError, ValueError):
            return Ran(bad=1, run=1, text=f"{name}: its process ended with {self.process.poll()}\n")

    def end(self) -> None:
        assert self.process.stdin is not None and self.process.stdout is not None
        self.process.stdin.close()
        self.process.wait()
        self.process.stdout.close()


def work() -> int:
    """Run the classes whose names come in, and tell what came of each in a line of its own."""
    prepared()
    answers = os.fdopen(os.dup(1), "w")
    os.dup2(2, 1)  # whatever a test prints, or a process it starts, is no answer
    for line in sys.stdin:
        out = StringIO()
        found = ran(named([line.strip()]), out)
        found.text = out.getvalue() if found.bad else ""
        answers.write(json.dumps(asdict(found)) + "\n")
        answers.flush()
    answers.close()
    return 0


def shared_out(names: list[str]) -> Ran:
    """Run these classes in several processes."""
    try:
        times: dict[str, float] = json.loads(TIMES.read_text())
    except (OSError, ValueError):
        times = {}
    # Without a time of its own a class is as long as it has tests, and a browser's is taken for long.
    many = Counter(names)
    names = list(many)
    guess = {n: times.get(n, many[n] * (BROWSED if ".browser." in n else UNKNOWN)) for n in names}
    queue, whole, lock = deque(sorted(names, key=lambda n: -guess[n])), Ran(), Lock()

    def one(_: int) -> None:
        worker = Worker()
        try:
            while True:
                with lock:
                    if not queue:
                        return
                    name = queue.popleft()
                found = worker.run(name)
                with lock:
                    whole.each += [(seconds, test) for seconds, test in found.each]
                    whole.run, whole.bad = whole.run + found.run, whole.bad + found.bad
                    whole.skipped, times[name] = whole.skipped + found.skipped, round(found.seconds, 2)
                    sys.stderr.write(found.text or "." * found.run)
                    sys.stderr.flush()
        finally:
            worker.end()

    with ThreadPoolExecutor(WORKERS) as pool:
        list(pool.map(one, range(WORKERS)))
    sys.stderr.write("\n")
    TIMES.parent.mkdir(exist_ok=True)
    TIMES.write_text(json.dumps(dict(sorted(times.items())), indent=0))
    return whole


def main() -> int:
    asked = argparse.ArgumentParser(prog="python -m tests", description=__doc__)
    asked.add_argument("names", nargs="*", help="modules, classes or methods")
    asked.add_argument("--long", action="store_true", help="statistics of minutes too, and every example")
    asked.add_argument("--one", action="store_true", help="one after another, in this process")
    asked.add_argument("--slowest", type=int, default=0, metavar="N", help="tell the N tests that took longest")
    asked.add_argument("--worker", action="store_true", help=argparse.SUPPRESS)
    options = asked.parse_args()
    if options.long:
        os.environ["ROUNDSTONE_LONG"] = "1"
    if options.worker:
        return work()
    prepared()
    suite = named(options.names) if options.names else discovered()
    apart = list(classes(suite))
    began = time.monotonic()
    whole = ran(suite, sys.stderr) if options.one or len(set(apart)) == 1 else shared_out(apart)
    for seconds, test in sorted(whole.each, reverse=True)[: options.slowest]:
        print(f"{seconds:7.1f} s  {test}")
    passed = whole.run - whole.bad - whole.skipped
    print(f"Ran {whole.run} tests in {time.monotonic() - began:.0f}s")
    print(f"{passed} passed, {whole.bad} failed" + (f", {whole.skipped} skipped" if whole.skipped else ""))
    if whole.run == 0:
        print("no test ran", file=sys.stderr)
    return 0 if whole.bad == 0 and passed > 0 else 1


if __name__ == "__main__":
    sys.exit(main())
