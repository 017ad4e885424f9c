"""A design's own rules: portions that make a whole, and a technique that can be poured with them."""

from collections.abc import Iterator

from ..shelf import Shelf
from ..text import G, figure, say
from ..values import Fault, Mend
from .recipe import MOST_PORTIONS, MOST_SCENT, Recipe
from .steps import INTO_MOULD, ON_MOULD, BlendStep, ColourStep, CombineStep, LookStep, ScentStep, SplitStep

MOST_TILT = 60.0  # degrees [chosen]
GONE = 0.98  # share of a portion that is used from which nothing is left to stir [chosen]


def check(recipe: Recipe, shelf: Shelf) -> Iterator[Fault]:  # noqa: PLR0912 - one rule a branch
    """Faults of the design within its recipe."""
    design = recipe.design
    if not design.portions:
        yield Fault(pointer="/design/portions", message="The batter needs at least one portion.")
        return
    if len(design.portions) > MOST_PORTIONS:
        message = f"A batter is split into {MOST_PORTIONS} portions at most."
        yield Fault(pointer="/design/portions", message=message)
    names: set[str] = set()
    for i, portion in enumerate(design.portions):
        at = f"/design/portions/{i}"
        if not portion.name:
            yield Fault(pointer=f"{at}/name", message="Give the portion a name to tap.")
        elif portion.name.casefold() in names:
            yield Fault(pointer=f"{at}/name", message="Two portions have this name.")
        names.add(portion.name.casefold())
        if not 0 < portion.share <= 1:
            yield Fault(pointer=f"{at}/share", message="A portion is more than 0 and at most 100 % of the batter.")
    shares = [p.share for p in design.portions]
    total = sum(shares)
    if all(0 < s <= 1 for s in shares) and abs(total - 1) > 0.0005:
        last = len(shares) - 1
        rest = round(shares[last] + 1 - total, 6)
        mend = Mend(
            label=say("make it ", figure(100 * rest), " %"), pointer=f"/design/portions/{last}/share", value=rest
        )
        yield Fault(
            pointer=f"/design/portions/{last}/share",
            message=say("The portions add up to ", figure(100 * total, ".4g"), " %, not 100 %."),
            mends=(mend,) if 0 < rest <= 1 else (),
        )
    yield from _sources(recipe)
    technique = shelf.techniques.get(design.technique)
    if technique is None:
        yield Fault(pointer="/design/technique", message="This technique is not known.")
    elif len(design.portions) < technique.pots and not design.steps:
        message = f"{technique.name} needs {technique.pots} portions."
        yield Fault(pointer="/design/technique", message=message)
    for field in ("split_minutes", "colour_minutes"):
        if not 0 <= getattr(design, field) <= 60:
            yield Fault(pointer=f"/design/{field}", message="A step takes from 0 to 60 minutes.")
    for field, most, words in (("pot", 50_000.0, "A pot weighs"), ("residue", 500.0, "A cup keeps")):
        if not 0 <= getattr(design, field) <= most:
            yield Fault(pointer=f"/design/{field}", message=say(words, " from 0 to ", G(most), "."))
    if not 0 <= design.tilt <= MOST_TILT:
        yield Fault(pointer="/design/tilt", message=f"A mould leans from 0 to {MOST_TILT:g} degrees.")
    if sum(p.rest for p in design.portions) > 1:
        yield Fault(pointer="/design/portions", message="Only one portion can take what the others leave.")
    yield from _steps(recipe)


def _sources(recipe: Recipe) -> Iterator[Fault]:
    """Where each portion comes from, and how much of the fragrance it gets."""
    by_name = {p.name: p for p in recipe.design.portions}
    for i, portion in enumerate(recipe.design.portions):
        at = f"/design/portions/{i}"
        if not 0 <= portion.scent <= MOST_SCENT:
            yield Fault(
                pointer=f"{at}/scent", message=say("From none to ", figure(MOST_SCENT), " times the full dose.")
            )
        source, seen = portion, {portion.name}
        while source.of:
            if source.of not in by_name:
                yield Fault(pointer=f"{at}/of", message=f"There is no portion called {source.of}.")
                break
            source = by_name[source.of]
            if source.name in seen:
                yield Fault(pointer=f"{at}/of", message="A portion cannot come from itself.")
                break
            seen.add(source.name)
        else:
            if recipe.design.batch_of(source) != recipe.design.batch_of(portion):
                yield Fault(
                    pointer=f"{at}/batch", message=f"It is taken from {source.name}, so it is of the same batch."
                )


def _steps(recipe: Recipe) -> Iterator[Fault]:  # noqa: PLR0912 - one rule a branch
    """The maker's own steps: of portions and batches there are, bands in order, no more used than there is."""
    design = recipe.design
    names, used = {p.name for p in design.portions}, dict.fromkeys((p.name for p in design.portions), 0.0)
    poured = False
    for i, step in enumerate(design.steps):
        at = f"/design/steps/{i}"
        if isinstance(step, CombineStep):
            if step.batch not in design.batches:
                yield Fault(
                    pointer=f"{at}/batch", message=f"No portion is of a batch called {step.batch or 'the pot'}."
                )
            continue
        if isinstance(step, SplitStep):
            if step.batch is not None and step.batch not in design.batches:
                yield Fault(pointer=f"{at}/batch", message=f"There is no batch called {step.batch}.")
            continue
        unknown = next((n for n in step.who if n not in names), None)
        if unknown is not None:
            yield Fault(pointer=f"{at}/who", message=f"There is no portion called {unknown}.")
            continue
        if isinstance(step, BlendStep | ColourStep | ScentStep):
            if not step.who:
                yield Fault(pointer=f"{at}/who", message="Say which portions.")
            gone = next((n for n in step.who if used[n] >= GONE), None)
            if gone is not None:
                yield Fault(pointer=at, message=f"{gone} is in the mould by then.")
        if not isinstance(step, LookStep):
            continue
        if step.do in INTO_MOULD and not step.who and not poured:
            yield Fault(pointer=f"{at}/who", message="Say which portions go in.")
        if step.do in ON_MOULD and not poured:
            yield Fault(pointer=at, message="Nothing is in the mould yet.")
        poured = poured or step.do in INTO_MOULD
        if step.band is not None and not step.band[0] <= step.band[1] <= step.band[2] <= step.band[3]:
            yield Fault(pointer=f"{at}/band", message="A band runs from its thin end to its thick one.")
        for name in step.who if step.do in INTO_MOULD and step.part is not None else ():
            used[name] += step.part or 0.0
            if used[name] > 1 + 1e-6:
                yield Fault(pointer=f"{at}/part", message=f"More of {name} is used than there is.")
                used[name] = 0.0
    if design.steps and not poured:
        yield Fault(pointer="/design/steps", message="Nothing goes into the mould.")
