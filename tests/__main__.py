"""Runs all tests; fails when one fails and when none ran. `python -m tests [name ...]` runs some.

Here the examples of property tests are the same every time; `python -m unittest` looks for new ones.
"""

import sys
import unittest
import warnings
from pathlib import Path

from hypothesis import settings


def main(names: list[str]) -> int:
    warnings.simplefilter("error", ResourceWarning)
    settings.register_profile("check", derandomize=True)
    settings.load_profile("check")
    loader = unittest.TestLoader()
    root = Path(__file__).parent
    suite = (
        loader.loadTestsFromNames(names)
        if names
        else loader.discover(str(root), pattern="test_*.py", top_level_dir=str(root.parent))
    )
    result = unittest.TextTestRunner(verbosity=1, buffer=True).run(suite)
    bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    passed = result.testsRun - bad - len(result.skipped)
    print(f"{passed} passed, {bad} failed" + (f", {len(result.skipped)} skipped" if result.skipped else ""))
    if result.testsRun == 0:
        print("no test ran", file=sys.stderr)
    return 0 if bad == 0 and passed > 0 else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
