"""What would make a plan fit better: each lever is the recipe changed, weighed and played anew on the same dice."""

from collections.abc import Iterator
from dataclasses import dataclass

from ..recipe import (
    BlendStep,
    ByConcentration,
    ByFats,
    ByRatio,
    CombineStep,
    LookStep,
    Recipe,
    Step,
    WaterRule,
)
from ..sheet import adjust, weigh
from ..sheet.acts import FatTyped
from ..shelf import Shelf
from ..text import WARMER_BY, Part, Text, say
from ..values import Fault, RuleError, Share, Value
from .forecast import Projection, outlook_of
from .job import Job
from .odds import Outlook

LEAST_GAIN = 0.02  # in value: what buys less is not worth a row [C]
COOLER, WARMER, MUCH_WARMER = 6.0, 5.0, 10.0  # °C
MORE_WATER = 0.03  # of the lye concentration
LESS_SCENT = 0.7  # times the dose
SOFTER = 0.05  # share of the fats that goes from hard to liquid ones
HARD_FROM, LIQUID_TO = 0.40, 0.20  # of palmitic and stearic in a fat's acids: a hard fat, and a liquid one [C]
LEAST_CELSIUS = 20.0


class Lever(Value):
    """A change, what it `buys` (in as planned, and in value), what it `costs` in words, and the recipe with it."""

    key: str
    name: Text
    costs: str
    buys: float
    value: float
    outlook: Outlook
    recipe: Recipe


class Levers(Value):
    """Levers that buy something, the best first, against the plan as it stands; `thin` when it fails by being thin."""

    outlook: Outlook
    thin: bool
    levers: tuple[Lever, ...]


@dataclass(frozen=True)
class _Try:
    key: str
    name: Part
    costs: str
    recipe: Recipe


def _design(recipe: Recipe, **changes: object) -> Recipe:
    return recipe.model_copy(update={"design": recipe.design.model_copy(update=changes)})


def wetter(rule: WaterRule, by: float) -> WaterRule:
    """The water rule with the lye weaker by so much of its concentration, stronger where that is negative.

    >>> wetter(ByConcentration(share=0.33), 0.03).share
    0.3
    """
    match rule:
        case ByConcentration():
            return ByConcentration(share=round(rule.share - by, 4))
        case ByRatio():
            return ByRatio(parts=round(1 / (1 / (1 + rule.parts) - by) - 1, 3))
        case ByFats():
            return ByFats(share=round(rule.share * (1 + 3 * by), 4))


def _softer(recipe: Recipe, shelf: Shelf) -> Recipe | None:
    """Some of the hardest fat in favour of the most liquid one, where both are in the pot."""
    hard = [(f.acid_share("palmitic", "stearic"), i) for i, r in enumerate(recipe.fats) if (f := shelf.fats.get(r.fat))]
    if not hard:
        return None
    (most, i), (least, j) = max(hard), min(hard)
    taken = min(SOFTER, recipe.fats[i].share / 2)
    if most < HARD_FROM or least > LIQUID_TO or taken <= 0:
        return None
    softer = adjust(recipe, FatTyped(row=i, share=recipe.fats[i].share - taken, keep=tuple(
        k for k in range(len(recipe.fats)) if k not in (i, j)
    )), None)  # fmt: skip
    return softer if abs(sum(r.share for r in softer.fats) - 1) < 1e-6 else None


def _tries(recipe: Recipe, shelf: Shelf, thin: bool) -> Iterator[_Try]:
    design = recipe.design
    if thin:
        yield _Try("warmer", say(WARMER_BY(WARMER), " warmer"), "hard to slow again once it moves", _at(recipe, WARMER))
        much = say(WARMER_BY(MUCH_WARMER), " warmer")
        yield _Try("much-warmer", much, "hard to slow again once it moves; may overheat", _at(recipe, MUCH_WARMER))
        drier = recipe.model_copy(update={"water": wetter(recipe.water, -MORE_WATER)})
        yield _Try("drier", "less water", "stronger lye, more ash spared, less time for all", drier)
        if design.scent_by == "hand" and recipe.scents:
            by_stick = _design(recipe, scent_by="stick")
            yield _Try("stick", "scent in with the stick", "no way back if it takes off", by_stick)
        return
    if recipe.pour_celsius - COOLER >= LEAST_CELSIUS:
        cooler = _at(recipe, -COOLER)
        yield _Try("cooler", say(WARMER_BY(COOLER), " cooler"), "false trace where hard fats set; ash", cooler)
    wet = recipe.model_copy(update={"water": wetter(recipe.water, MORE_WATER)})
    yield _Try("water", "more water", "a softer bar, cut later, and more ash", wet)
    if recipe.scents:
        yield from _scents(recipe)
    softer = _softer(recipe, shelf)
    if softer is not None:
        yield _Try("softer", f"{100 * SOFTER:.0f} % less of the hardest fat", "a softer bar that cures longer", softer)
    if len(design.portions) > 2:
        yield _Try("fewer", "one colour fewer", "the smallest portion joins the largest", _fewer(recipe))
    technique = shelf.techniques.get(design.technique)
    if (
        technique is not None
        and technique.family == "layer"
        and design.batching == "whole"
        and len(design.portions) > 1
    ):
        layers = _design(recipe, batching="layers")
        yield _Try(
            "layers", "layer by layer, each combined by itself", "more vessels, lye and fats weighed for each", layers
        )


def _scents(recipe: Recipe) -> Iterator[_Try]:
    design = recipe.design
    if design.scent_at in ("fats", "emulsion"):
        later = _design(recipe, scent_at="portions")
        yield _Try("later", "scent after the split", "each portion is whisked by itself", later)
    if design.scent_at == "portions" and len(design.portions) > 1:
        turn = _design(recipe, scent_at="pour")
        yield _Try("turn", "scent as each is poured", "whisking while the mould waits", turn)
    if design.scent_by == "stick":
        yield _Try("hand", "scent whisked in by hand", "half a minute more each", _design(recipe, scent_by="hand"))
    less = tuple(s.model_copy(update={"load": round(s.load * LESS_SCENT, 5)}) for s in recipe.scents)
    yield _Try("less", "a third less fragrance", "a fainter bar", recipe.model_copy(update={"scents": less}))
    scented = [i for i, p in enumerate(design.portions) if p.scented]
    if design.scents_apart and len(scented) > 1:
        base = max(scented, key=lambda i: design.portions[i].share)
        only = tuple(p if i == base else p.model_copy(update={"scent": 0.0}) for i, p in enumerate(design.portions))
        name = f"scent in {design.portions[base].name} alone"
        yield _Try("base", name, "accents smell of nothing, and stay true in colour", _design(recipe, portions=only))


def _at(recipe: Recipe, by: float) -> Recipe:
    return recipe.model_copy(update={"pour_celsius": recipe.pour_celsius + by})


def _fewer(recipe: Recipe) -> Recipe:
    portions = list(recipe.design.portions)
    least = min(range(len(portions)), key=lambda i: portions[i].share)
    gone = portions.pop(least)
    most = max(range(len(portions)), key=lambda i: portions[i].share)
    portions[most] = portions[most].model_copy(update={"share": round(portions[most].share + gone.share, 6)})
    doses = tuple(d.moved({gone.name: portions[most].name}) for d in recipe.additives)
    return _design(recipe, portions=tuple(portions)).model_copy(update={"additives": doses})


def levers(plan: Projection) -> Levers:
    """Levers for a plan before its pour, ranked by what they buy on its own dice."""
    recipe, shelf = plan.recipe, plan.shelf
    weakest = plan.forecast.weakest
    thin = weakest is not None and not weakest.thick
    found = []
    for one in _all_tries(recipe, shelf, thin):
        sheet = weigh(one.recipe, shelf).sheet
        if sheet is None:
            continue
        outlook = outlook_of(Job(one.recipe, shelf, sheet), plan.knows, plan.seed)
        gain: Share = outlook.value - plan.forecast.outlook.value
        if gain >= LEAST_GAIN:
            buys = outlook.drawn - plan.forecast.outlook.drawn
            found.append(
                Lever(
                    key=one.key,
                    name=one.name,
                    costs=one.costs,
                    buys=buys,
                    value=gain,
                    outlook=outlook,
                    recipe=one.recipe,
                )
            )
    found.sort(key=lambda x: -x.value)
    return Levers(outlook=plan.forecast.outlook, thin=thin, levers=tuple(found))


def pulled(recipe: Recipe, shelf: Shelf, key: str) -> Recipe:
    """The recipe with a lever pulled, by its key; RuleError where this recipe has no such lever."""
    for thin in (False, True):
        for one in _all_tries(recipe, shelf, thin):
            if one.key == key:
                return one.recipe
    raise RuleError(Fault(pointer="", message="That can no longer be done to this recipe."))


def _all_tries(recipe: Recipe, shelf: Shelf, thin: bool) -> Iterator[_Try]:
    return _plain_tries(recipe, shelf, thin) if recipe.design.steps else _tries(recipe, shelf, thin)


def _plain_tries(recipe: Recipe, shelf: Shelf, thin: bool) -> Iterator[_Try]:
    """Levers that leave the maker's own steps alone, but for the order of those that may change places."""
    steps = list(recipe.design.steps)
    stopped = [
        s.model_copy(update={"to": 1.0}) if isinstance(s, CombineStep) else s
        for s in steps
        if not isinstance(s, BlendStep)
    ]
    if not thin and stopped != steps:
        calm = _design(recipe, steps=tuple(stopped))
        yield _Try("stop", "stop at emulsion", "no body yet for what wants some", calm)
    blocks = {s.block for s in steps if isinstance(s, LookStep) and s.block}
    for block in sorted(b for b in blocks if b):
        at = [n for n, s in enumerate(steps) if isinstance(s, LookStep) and s.block == block]
        hardest = sorted((steps[n] for n in at), key=lambda s: _takes(s, shelf))
        ordered = list(steps)
        for n, step in zip(at, hardest, strict=True):
            ordered[n] = step
        if ordered != steps:
            yield _Try(
                "order", "the hardest first", "another order at the bench", _design(recipe, steps=tuple(ordered))
            )
    yield from (t for t in _tries(recipe, shelf, thin) if t.key not in ("fewer", "layers", "stick", "hand", "later"))


def _takes(step: Step, shelf: Shelf) -> float:
    """The thickest level that a step takes as planned."""
    band = step.band if isinstance(step, LookStep) else None
    return (band or shelf.acts[step.do].band)[2]
