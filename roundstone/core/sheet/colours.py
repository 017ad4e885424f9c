"""How many colours a bar has: portions come and go, and the technique is one that fits them."""

from typing import Literal

from pydantic import Field

from ..recipe import PLAIN, Design, Portion, Recipe
from ..shelf import Shelf
from ..values import Value
from .adjust import NAMES
from .place import COLOURING

SHARES: dict[int, tuple[float, ...]] = {1: (1.0,), 2: (0.6, 0.4), 3: (0.4, 0.3, 0.3)}  # of the batter [chosen]
USUAL = {1: PLAIN, 2: "drop-swirl"}  # technique for one portion, and for two or more [chosen]


class SetColours(Value):
    """The bar has one, two, or three and more colours: what is missing is added, scented as the rest is; what is too
    many goes, its colourants with it."""

    kind: Literal["set_colours"] = "set_colours"
    count: int = Field(ge=1, le=3)


def fits(design: Design, technique: str, shelf: Shelf) -> bool:
    """Whether a technique can be poured from so many portions."""
    known = shelf.techniques.get(technique)
    many = len(design.portions)
    return known is not None and known.pots <= many and (known.most is None or many <= known.most)


def fitted(recipe: Recipe, shelf: Shelf) -> Recipe:
    """The recipe in a technique that its portions can be poured in: its own, what one would turn to, or the usual."""
    design = recipe.design
    if design.steps or fits(design, design.technique, shelf):
        return recipe
    now = shelf.techniques.get(design.technique)
    nearest = now.turns.get("pot", ()) if now is not None else ()
    usual = USUAL[min(len(design.portions), 2)]
    chosen = next((t for t in nearest if fits(design, t, shelf)), usual)
    return recipe.model_copy(update={"design": design.model_copy(update={"technique": chosen})})


def with_colours(recipe: Recipe, act: SetColours, shelf: Shelf) -> Recipe:
    """The recipe with so many colours; three and more stay as many as they are."""
    portions, many = list(recipe.design.portions), act.count
    recipe = fitted(recipe, shelf)
    if min(len(portions), 3) == many:
        return recipe
    if len(portions) > many:
        kept = sorted(range(len(portions)), key=lambda i: -portions[i].share)[:many]
        left = [p for i, p in enumerate(portions) if i in kept]
    else:
        taken = {p.name for p in portions}
        names = [n for n in NAMES if n not in taken][: many - len(portions)]
        left = [*portions, *(Portion(name=n, share=0.0) for n in names)]
    whole = many == 1
    shares = sorted(range(many), key=lambda i: -left[i].share)
    placed = dict(zip(shares, SHARES[many], strict=True))
    new = tuple(
        p.model_copy(
            update={"share": placed[i], "of": "", "rest": False, "batch": ""} | ({"scent": 1.0} if whole else {})
        )
        for i, p in enumerate(left)
    )
    names_left = {p.name for p in new}
    colouring = {i for i, a in shelf.additives.items() if a.kind in COLOURING}
    doses = tuple(
        d.model_copy(update={"into": ()}) if whole else d.moved({n: None for n in d.into if n not in names_left})
        for d in recipe.additives
        if not d.into or names_left & {*d.into} or d.additive not in colouring
    )
    technique = recipe.design.technique
    if len(portions) == 1 and shelf.techniques[technique].pots == 1:
        technique = USUAL[2]  # what is poured in one go shows one colour
    design = recipe.design.model_copy(update={"portions": new, "steps": (), "ready": (), "technique": technique})
    return fitted(recipe.model_copy(update={"design": design, "additives": doses}), shelf)
