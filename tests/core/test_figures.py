"""Every figure the rules rest on stands in docs/figures.md with what is said of its source: none moves unseen.

`python -m tests.core.test_figures` writes the page anew; its diff is read.
"""

import ast
import re
import unittest
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[2]
CORE, PAGE = ROOT / "roundstone" / "core", ROOT / "docs" / "figures.md"
HEAD = """# Every figure the rules rest on

Written from the program by `python -m tests.core.test_figures`; a test holds it. **[C]** is chosen, **[common
practice]** has no source, **[from memory]** was not looked up; anything else names its source. Facts of what is
weighed (fats, acids, liquids, additives, techniques, colours) stand as tables in `roundstone/reference`, each row with
its source.
"""


@dataclass(frozen=True)
class Figure:
    room: str
    name: str
    value: str
    said: str

    @property
    def row(self) -> str:
        value, said = (x.replace("|", "\\|") for x in (self.value, self.said))
        return f"| `{self.name}` | `{value}` | {said} |"


def figures() -> Iterator[Figure]:
    """Constants of core that hold a number, in the order of its files."""
    for path in sorted(CORE.rglob("*.py")):
        source = path.read_text(encoding="utf-8")
        lines = source.split("\n")
        for node in ast.parse(source).body:
            target = node.targets[0] if isinstance(node, ast.Assign) else getattr(node, "target", None)
            value = node.value if isinstance(node, ast.Assign | ast.AnnAssign) else None
            if value is None or target is None or not re.fullmatch(r"[(]?[A-Z][A-Z0-9_, ]*[)]?", ast.unparse(target)):
                continue
            if not any(isinstance(x, ast.Constant) and type(x.value) in (int, float) for x in ast.walk(value)):
                continue
            told = [line.partition("  #")[2].strip() for line in lines[node.lineno - 1 : node.end_lineno]]
            above = node.lineno - 2
            while above >= 0 and lines[above].startswith("# "):
                told.insert(0, lines[above][2:])
                above -= 1
            name = ast.unparse(target).strip("()")
            yield Figure(str(path.relative_to(CORE))[:-3], name, ast.unparse(value), " ".join(filter(None, told)))


def page(of: list[Figure]) -> str:
    """The whole page, a table for each file."""
    out, room = [HEAD], ""
    for figure in of:
        if figure.room != room:
            room = figure.room
            out.append(f"\n## {room}\n\n| figure | value | what it is |\n|---|---|---|")
        out.append(figure.row)
    return "\n".join(out) + "\n"


class Figures(unittest.TestCase):
    def test_none_moves_unseen(self) -> None:
        written = PAGE.read_text(encoding="utf-8")
        rooms = dict(re.findall(r"^## (\S+)\n\n(.*?)(?=\n## |\Z)", written, re.MULTILINE | re.DOTALL))
        found = list(figures())
        self.assertGreater(len(found), 200)
        for figure in found:
            with self.subTest(room=figure.room, name=figure.name):
                self.assertIn(figure.row.rpartition(" | ")[0], rooms.get(figure.room, ""))


if __name__ == "__main__":
    PAGE.write_text(page(list(figures())), encoding="utf-8")
