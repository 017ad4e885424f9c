"""A design's own rules: portions that make a whole, and a technique that can be poured with them."""

from collections.abc import Iterator

from ..shelf import Shelf
from ..values import Fault, Mend
from .recipe import MOST_PORTIONS, Recipe


def check(recipe: Recipe, shelf: Shelf) -> Iterator[Fault]:
    """Faults of the design within its recipe."""
    design = recipe.design
    if not design.portions:
        yield Fault(pointer="/design/portions", says="The batter needs at least one portion.")
        return
    if len(design.portions) > MOST_PORTIONS:
        says = f"A batter is split into {MOST_PORTIONS} portions at most."
        yield Fault(pointer="/design/portions", says=says)
    names: set[str] = set()
    for i, portion in enumerate(design.portions):
        at = f"/design/portions/{i}"
        if not portion.name:
            yield Fault(pointer=f"{at}/name", says="Give the portion a name to tap.")
        elif portion.name.casefold() in names:
            yield Fault(pointer=f"{at}/name", says="Two portions have this name.")
        names.add(portion.name.casefold())
        if not 0 < portion.share <= 1:
            yield Fault(pointer=f"{at}/share", says="A portion is more than 0 and at most 100 % of the batter.")
    shares = [p.share for p in design.portions]
    total = sum(shares)
    if all(0 < s <= 1 for s in shares) and abs(total - 1) > 0.0005:
        last = len(shares) - 1
        rest = round(shares[last] + 1 - total, 6)
        mend = Mend(label=f"make it {100 * rest:g} %", pointer=f"/design/portions/{last}/share", value=rest)
        yield Fault(
            pointer=f"/design/portions/{last}/share",
            says=f"The portions add up to {100 * total:.4g} %, not 100 %.",
            mends=(mend,) if 0 < rest <= 1 else (),
        )
    technique = shelf.techniques.get(design.technique)
    if technique is None:
        yield Fault(pointer="/design/technique", says="This technique is not known.")
    elif len(design.portions) < technique.portions:
        says = f"{technique.name} needs {technique.portions} portions."
        yield Fault(pointer="/design/technique", says=says)
    for field in ("split_minutes", "colour_minutes"):
        if not 0 <= getattr(design, field) <= 60:
            yield Fault(pointer=f"/design/{field}", says="A step takes from 0 to 60 minutes.")
