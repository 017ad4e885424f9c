"""What each portion gets of the pot, what goes into it alone, and its own superfat and limit of fragrance."""

from collections.abc import Iterator, Sequence

from ..shelf import Shelf
from ..values import Grams
from .amounts import Amounts
from .factors import portion_factors
from .limits import CURED, limit_use
from .sheet import UNEVEN, Line, PortionShown, PortionWeight, Superfat
from .superfat import Takes, of_portion


def portions_of(
    of: Amounts, shelf: Shelf, lines: Sequence[Line], each: Sequence[Takes | None], fats: Grams, whole: Superfat
) -> Iterator[PortionWeight]:
    """The portions of a sheet of these lines, in the recipe's order."""
    recipe = of.recipe
    after_split = recipe.design.scents_apart
    shared = [x for x in lines if not x.into and not (after_split and x.kind == "fragrance")]
    pot, jug, stir = (sum(x.grams for x in shared if x.vessel == v) for v in ("pot", "jug", "stir"))
    load = sum(s.load for s in recipe.scents)
    shown = shelf.scales.shown
    for p in recipe.design.portions:
        batter = p.share * (pot + jug + stir)
        dose = p.share * fats * (p.scent if after_split else 1.0)
        own = tuple(x for x in lines if x.into == p.name)
        fragrance = load * dose if after_split else 0.0
        bar = batter + sum(x.grams for x in own) + fragrance
        scents = [(s.load * dose, shelf.fragrances[s.fragrance]) for s in recipe.scents]
        balance = of_portion(p.share, p.name, lines, each)
        superfat, likely = balance.superfat(), balance.likely
        uneven = abs(superfat - whole.with_liquids) > UNEVEN
        yield PortionWeight(
            name=p.name,
            share=p.share,
            batter=batter,
            fragrance=fragrance,
            from_pot=p.share * pot,
            from_jug=p.share * jug,
            stirred=p.share * stir,
            shown=PortionShown(
                batter=shown(batter),
                fragrance=shown(fragrance),
                from_pot=shown(p.share * pot),
                from_jug=shelf.scales.both(p.share * jug, down=True),
                stirred=shown(p.share * stir),
            ),
            superfat=superfat,
            likely=likely,
            uneven=uneven,
            # What is wrong with all of them is said of the whole.
            lye_heavy=likely.low < 0 and (uneven or whole.likely.low >= 0),
            limit_use=limit_use(scents, bar, shelf) / CURED if bar > 0 else 0.0,
            own=own,
            factors=portion_factors(of, p.name),
        )
