"""What is made, and what was learned: all that an outcome is made from, so that no caller can leave some of it out."""

from collections.abc import Mapping
from dataclasses import dataclass

from ..batter import Knowledge, Noise, doubted, prior, trade_knowledge
from ..recipe import Recipe
from ..sheet import Sheet
from ..shelf import Shelf
from ..simulate import Hands, Utility
from ..values import Value
from .hazard_log import HazardKnowledge, learn_hazards


class Usual(Value):
    """The maker's usual batch: mean covariates and pour temperature of their pours, without fragrance."""

    pours: int
    factors: dict[str, float]
    celsius: float


TRADE_USUAL = Usual(
    pours=0, factors={k: f.reference for k, f in prior.FACTORS.items()}, celsius=prior.REFERENCE_CELSIUS
)


@dataclass(frozen=True)
class Job:
    """What is made: a recipe, what stands on the shelf, and the sheet it is weighed by."""

    recipe: Recipe
    shelf: Shelf
    sheet: Sheet

    @property
    def grams(self) -> float:
        """Of batter."""
        return self.sheet.total


@dataclass(frozen=True)
class Knows:
    """What was learned from a log, which may be empty: see `unlearned`.

    `knowledge` is of the clock's parameters and `trade` what is believed of them with an empty log, `hazards` of what
    else can go wrong, `hands` how fast this maker is, `utility` what a pour that comes otherwise is worth to them,
    `usual` their usual batch; `poured` counts finished pours by fragrance that were looked at after it went in. `fresh`
    when it is of the log as it stands.
    """

    knowledge: Knowledge
    trade: Knowledge
    hazards: HazardKnowledge
    hands: Hands
    utility: Utility
    usual: Usual
    poured: Mapping[str, int]
    fresh: bool

    def scent_pours(self, recipe: Recipe) -> dict[str, int]:
        """Finished pours with each fragrance of a recipe."""
        return {f: self.poured.get(f, 0) for f in recipe.fragrances}


def unlearned(shelf: Shelf, utility: Utility = Utility()) -> Knows:  # noqa: B008 - a value nobody changes
    """What an empty workshop knows: what the trade believes, and what is claimed of the fragrances on its shelf."""
    trade = trade_knowledge(shelf.fragrances.values(), Noise(), shelf.others)
    known = doubted(trade)
    return Knows(known, known, learn_hazards(shelf, (), trade), Hands(), utility, TRADE_USUAL, {}, fresh=True)
