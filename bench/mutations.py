"""Which small mistakes in the rules do the tests not see? `python -m bench.mutations [N]` tries N (110), by hand.

Each mutant is one file of core with one comparison turned (also by its edge alone), one sign or operator changed, one
`and` become `or`, one condition left out, or one figure moved by a tenth (whole ones by one), and the unit tests that
hold that file are run on it, stopped at the first that fails. What no test notices is
printed, with its line; `--write` puts the table into the docs. Mutants are drawn by a fixed seed, a file's share being
its share of the places.
"""

import argparse
import ast
import os
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from random import Random

from bench.page import put, table

ROOT = Path(__file__).parents[1]
SEED = 28
WORKERS = 2
LIMIT = 240.0  # seconds of one mutant's tests; one that hangs is seen
TURNED: dict[type[ast.cmpop], tuple[type[ast.cmpop], ...]] = {
    ast.Lt: (ast.LtE, ast.GtE),
    ast.LtE: (ast.Lt, ast.Gt),
    ast.Gt: (ast.GtE, ast.LtE),
    ast.GtE: (ast.Gt, ast.Lt),
    ast.Eq: (ast.NotEq,),
    ast.NotEq: (ast.Eq,),
}
SWAPPED: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
}
CORE = "roundstone/core/"
# What holds each room: its own tests first, so that most mutants end at once.
HELD: dict[str, tuple[str, ...]] = {
    "sheet/alkali": (
        "thresholds",
        "weigh",
        "always",
        "chemistry",
        "second_reckoning",
        "danger",
        "danger_portions",
        "doses",
        "pinned",
    ),
    "sheet/superfat": ("danger", "danger_portions", "weigh", "always", "second_reckoning", "pinned"),
    "sheet/doses": ("doses", "weigh", "always", "second_reckoning", "danger", "danger_portions", "pinned"),
    "sheet/limits": ("limits", "harm", "blends", "pinned"),
    "sheet/cautions": ("thresholds", "danger", "danger_portions", "weigh", "always", "limits", "doses", "pinned"),
    "sheet/checks": ("thresholds", "weigh", "always", "danger", "danger_portions", "doses", "fill", "pinned"),
    "sheet/portions": ("danger", "danger_portions", "weigh", "always", "doses", "pinned"),
    "sheet/bar": ("bar", "thresholds", "weigh", "always", "pinned"),
    "heat/lye": ("heat", "thresholds", "pinned"),
    "heat/meeting": ("heat", "cooling", "pinned"),
    "heat/mould": ("mouldheat", "hazards", "pinned"),
    "heat/temperatures": ("heat", "thresholds", "cooling", "pinned"),
    "heat/vessels": ("heat", "pinned"),
    "batter/lane": ("clock", "signs", "run", "own_plans", "schedule", "pinned"),
    "batter/draws": ("clock", "run", "own_plans", "forecast", "coverage", "pinned"),
    "batter/looks": ("clock", "learning", "bench", "schedule", "pinned"),
    "batter/knowledge": ("learning", "signs", "blends", "clock", "pinned"),
    "simulate/actions": ("run", "signs", "own_plans", "forecast", "pinned"),
    "simulate/judge": ("run", "own_plans", "signs", "forecast", "pinned"),
    "simulate/trajectory": ("run", "signs", "forecast", "plan", "pinned"),
    "simulate/run": ("run", "own_plans", "signs", "forecast", "plan", "pinned"),
    "advise/acts": ("bench", "run", "own_plans", "pour_day", "keys", "practice", "plan", "pinned"),
    "advise/choose": ("bench", "run", "own_plans", "pour_day", "keys", "practice", "pinned"),
    "advise/going": ("bench", "keys", "pour_day", "run", "thresholds", "pinned"),
    "advise/change": ("bench", "run", "pour_day", "pinned"),
    "advise/sentence": ("bench", "pour_day", "thresholds", "pinned"),
    "advise/advice": ("bench", "run", "own_plans", "pour_day", "keys", "practice", "thresholds", "pinned"),
    "rest/windows": ("rest", "touches", "briefs", "pinned"),
    "rest/cure": ("rest", "touches", "briefs", "pinned"),
    "rest/gel": ("rest", "touches", "briefs", "pinned"),
    "rest/touches": ("rest", "touches", "briefs", "pinned"),
}


@dataclass(frozen=True)
class Mutant:
    """One change of a file: the change `which` of those one can make at its place `at`."""

    file: str
    at: int
    which: int
    line: int
    was: str
    now: str


def _changes(node: ast.AST) -> Iterator[ast.AST]:
    """Small mistakes one can make at a node."""
    match node:
        case ast.Compare(left=left, ops=[op], comparators=right):
            for other in TURNED.get(type(op), ()):
                yield ast.Compare(left, [other()], right)
        case ast.BinOp(left=left, op=op, right=right) if type(op) in SWAPPED and not _words(node):
            yield ast.BinOp(left, SWAPPED[type(op)](), right)
        case ast.BoolOp(op=op, values=values):
            yield ast.BoolOp(ast.Or() if isinstance(op, ast.And) else ast.And(), values)
            yield ast.BoolOp(op, values[:-1]) if len(values) > 2 else values[0]
        case ast.UnaryOp(op=ast.Not() | ast.USub(), operand=operand):
            yield operand
        case ast.Constant(value=value) if type(value) is int:
            yield ast.Constant(value + 1)
        case ast.Constant(value=value) if type(value) is float:
            yield ast.Constant(value * 1.1 if value else 0.1)


def _words(node: ast.AST) -> bool:
    """Whether text is put together here: what a sentence says is held elsewhere."""
    return any(
        isinstance(x, ast.JoinedStr | ast.Tuple | ast.List)
        or (isinstance(x, ast.Constant) and isinstance(x.value, str))
        for x in ast.walk(node)
    )


def _spoken(tree: ast.AST) -> set[int]:
    """Nodes that only word a sentence, say a type or name a place."""
    out: set[int] = set()
    for node in ast.walk(tree):
        parts: list[ast.AST] = []
        if isinstance(node, ast.JoinedStr):
            parts = list(ast.walk(node))
        elif isinstance(node, ast.Subscript):
            parts = list(ast.walk(node.slice))
        elif isinstance(node, ast.AnnAssign | ast.arg) and node.annotation is not None:
            parts = list(ast.walk(node.annotation))
        elif isinstance(node, ast.FunctionDef) and node.returns is not None:
            parts = list(ast.walk(node.returns))
        elif isinstance(node, ast.keyword) and node.arg in ("strict", "axis", "maxsplit", "description"):
            parts = list(ast.walk(node.value))
        elif isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ("round", "Field"):
            parts = [x for a in node.args[1:] for x in ast.walk(a)]
        out |= {id(x) for x in parts}
    return out


def _places(file: str) -> tuple[ast.Module, list[ast.expr]]:
    tree = ast.parse((ROOT / CORE / f"{file}.py").read_text(encoding="utf-8"))
    spoken = _spoken(tree)
    return tree, [x for x in ast.walk(tree) if isinstance(x, ast.expr) and id(x) not in spoken]


def mutants(file: str) -> Iterator[Mutant]:
    """Every mutant of a file of core."""
    for at, node in enumerate(_places(file)[1]):
        for which, new in enumerate(_changes(node)):
            yield Mutant(file, at, which, node.lineno, ast.unparse(node), ast.unparse(new))


def spoilt(mutant: Mutant) -> str:
    """The source of a mutant's file."""
    tree, places = _places(mutant.file)
    old = places[mutant.at]
    new = list(_changes(old))[mutant.which]
    for node in ast.walk(tree):
        for name, value in ast.iter_fields(node):
            if value is old:
                setattr(node, name, new)
            elif isinstance(value, list) and old in value:
                value[value.index(old)] = new
    return ast.unparse(ast.fix_missing_locations(tree))


def drawn(many: int, files: Sequence[str]) -> list[Mutant]:
    """So many mutants, drawn evenly from all places of these files."""
    return Random(SEED).sample([m for f in files for m in mutants(f)], many)


def seen(mutant: Mutant, tree: Path) -> bool:
    """Whether a test fails on it, in this copy of the tree."""
    path = tree / CORE / f"{mutant.file}.py"
    kept = path.read_text(encoding="utf-8")
    path.write_text(spoilt(mutant), encoding="utf-8")
    tests = [
        f"tests.core.test_{t}"
        for t in ("figures", "edges", *HELD[mutant.file])
        if (tree / f"tests/core/test_{t}.py").exists()
    ]
    code = "import sys, unittest; from tests.__main__ import prepared; prepared(); unittest.main(None, failfast=True)"
    line = [sys.executable, "-c", code, *tests]
    env = {**os.environ, "PYTHONDONTWRITEBYTECODE": "1", "OPENBLAS_NUM_THREADS": "1"}
    try:
        run = subprocess.run(line, cwd=tree, env=env, capture_output=True, timeout=LIMIT, check=False)
        return run.returncode != 0
    except subprocess.TimeoutExpired:
        return True
    finally:
        path.write_text(kept, encoding="utf-8")


def copied(folder: Path) -> Path:
    """A copy of the program and its tests, to be spoilt."""
    for part in ("roundstone", "tests"):
        skip = shutil.ignore_patterns("static", "__pycache__", "browser")
        shutil.copytree(ROOT / part, folder / part, ignore=skip)
    (folder / "docs").mkdir()
    shutil.copy(ROOT / "docs" / "figures.md", folder / "docs")
    return folder


def main() -> int:
    asked = argparse.ArgumentParser(prog="python -m bench.mutations", description=__doc__)
    asked.add_argument("many", nargs="?", type=int, default=110)
    asked.add_argument("--only", default="", help="files whose path begins so, such as sheet/")
    asked.add_argument("--write", action="store_true", help="put the table into the docs")
    options = asked.parse_args()
    chosen = drawn(options.many, [f for f in HELD if f.startswith(options.only)])
    stood: list[Mutant] = []
    with tempfile.TemporaryDirectory() as name, ThreadPoolExecutor(WORKERS) as pool:
        free = [copied(Path(name) / str(n)) for n in range(WORKERS)]

        def one(mutant: Mutant) -> None:
            tree = free.pop()
            try:
                if not seen(mutant, tree):
                    stood.append(mutant)
                    print(f"{CORE}{mutant.file}.py:{mutant.line}: {mutant.was}  ->  {mutant.now}", flush=True)
            finally:
                free.append(tree)

        list(pool.map(one, chosen))
    rows = []
    for room in sorted({m.file.split("/")[0] for m in chosen}):
        tried = sum(m.file.startswith(f"{room}/") for m in chosen)
        rows.append((room, str(tried), str(sum(m.file.startswith(f"{room}/") for m in stood))))
    rows.append(("all", str(len(chosen)), str(len(stood))))
    print(*(" ".join(r) for r in rows), sep="\n")
    if options.write:
        put("mutations", table(("room of core", "mutants", "no test notices"), rows), "reliability.md")
    return 0


if __name__ == "__main__":
    sys.exit(main())
