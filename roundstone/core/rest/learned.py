"""What a maker's own blocks taught of rest and cure, kept beside the log."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..heat import three_cases
from ..pour import Cut, Touched, Unmoulded
from ..recipe import Recipe
from ..sheet import Sheet
from ..shelf import USUAL_HUMIDITY
from ..values import Value
from .cure import Bars, CureOwn, learn_cure, prior
from .facts import Rested, gel_wrap
from .gel import GelOwn, learn_gel
from .windows import Ageing, CutOwn, expected, learn_cuts

LATEST = 30  # blocks whose gel is learned from: each takes some milliseconds of heat [C]
HABIT = 10  # latest cut batches that tell what a maker does by habit [C]


class RestLearned(Value):
    """`habits` are what this maker did to bars of late (bevelled, stamped, …), and `tool` what they cut with."""

    cuts: CutOwn = CutOwn()
    gel: GelOwn = GelOwn()
    cure: CureOwn = CureOwn()
    habits: tuple[str, ...] = ()
    tool: str = "wire"
    weighs: bool = False


@dataclass(frozen=True)
class RestLog:
    """A batch that rested, with what it is reckoned from; `pace` is how fast its batter was against a usual one."""

    recipe: Recipe
    sheet: Sheet
    rest: Rested
    pace: float
    humidity: float = USUAL_HUMIDITY


def felt(rest: Rested, ageing: Ageing) -> list[tuple[Cut | Touched | Unmoulded, float]]:
    """Everything a hand felt of a block, at the age it had."""
    events: list[Cut | Touched | Unmoulded] = list(rest.touched)
    events += [e for e in (rest.unmoulded, rest.cut) if e is not None]
    return [(e, ageing.age((e.minute - rest.ended) / 60)) for e in events]


def ageing_of(recipe: Recipe, rest: Rested) -> Ageing:
    return Ageing(rest.ended, rest.covers, recipe.room_celsius)


def weighed(rest: Rested, of: int) -> Bars:
    """Weighings of each marked bar of one mould as (days since the cut, or since its first weight, g)."""
    begun = rest.cut.minute if rest.cut else min((w[0][0] for w in rest.weighings.values()), default=0.0)
    return tuple(
        tuple(((at - begun) / 1440, g) for at, g in sorted(bar))
        for (mould, _), bar in rest.weighings.items()
        if mould == of
    )


def learn_rest(logs: Iterable[RestLog]) -> RestLearned:
    """Learn from batches, latest first.

    >>> learn_rest([]).tool
    'wire'
    """
    told = list(logs)
    gels = [p for p in told if p.rest.gel is not None][:LATEST]
    cuts, cures = [], []
    for p in told:
        full, ring = (float(p.rest.gel == "full"), float(p.rest.gel == "ring"))
        touches = felt(p.rest, ageing_of(p.recipe, p.rest))
        if touches:
            cuts.append((expected(p.sheet, p.pace, full, ring)[0], touches))
        moulds = sorted({mould for (mould, _), w in p.rest.weighings.items() if len(w) > 1})
        cures += [(prior(p.recipe, p.sheet, p.humidity, of), weighed(p.rest, of)) for of in moulds]
    late = [p for p in told if p.rest.cut is not None][:HABIT]
    works: Sequence[str] = [w for p in late for w in p.rest.done]
    tools = [p.rest.cut.tool for p in late if p.rest.cut is not None]
    return RestLearned(
        cuts=learn_cuts(cuts),
        gel=learn_gel(
            (three_cases(p.recipe, p.sheet, [gel_wrap(p.rest)], p.pace)[0], p.rest.gel or "none") for p in gels
        ),
        cure=learn_cure(cures),
        habits=tuple(sorted({w for w in works if 2 * works.count(w) >= len(late)})),
        tool="knife" if 2 * tools.count("knife") > len(tools) else "wire",
        weighs=2 * sum(bool(p.rest.weighings) for p in late) >= len(late) > 0,
    )
