"""What certificates of the lots in hand say otherwise than the recipe reckons: it changes the lye, so it is told."""

from collections.abc import Iterator, Mapping, Sequence

from ..recipe import Recipe
from ..shelf import Shelf
from ..text import Part, Text, figure, say
from ..values import Caution, Mend, Share
from .certified import certified
from .lots import ALKALI, LotLeft, item_names, to_take, used
from .sheet import Sheet, grams_of

TOLD = 0.0005  # of a purity or a saponification value, against what is reckoned with [chosen]


def certificates(recipe: Recipe, sheet: Sheet, shelf: Shelf, lots: Mapping[str, Sequence[LotLeft]]) -> list[Caution]:
    """A caution for each lot this batch takes (`lots` by item, in the order they are taken) whose certificate states
    another purity or saponification value; a danger where the superfat of the whole or of a portion may not bear it.
    One click reckons with it."""
    names, reckoned = item_names(shelf), certified(recipe, shelf)
    least = min((sheet.superfat.likely.low, *(p.likely.low for p in sheet.portions)))
    need = used(sheet.lines)
    if recipe.stock:  # its hydroxide came from such a bag
        need["alkali:naoh"] = need.get("alkali:naoh", 0.0) + recipe.stock * grams_of(sheet.lines, "stock")
    out: list[Caution] = []
    for item in ALKALI:
        by = recipe.naoh_purity if item == "alkali:naoh" else recipe.koh_purity
        taken = to_take(lots.get(item, ()), need.get(item, 0.0))
        out += [_purity(names[item], item, x, by, least) for x in taken if abs((x.lot.purity or by) - by) > TOLD]
    for i, row in enumerate(recipe.fats):
        item, sv = f"fat:{row.fat}", reckoned.fats[row.fat].sv
        for x in to_take(lots.get(item, ()), need.get(item, 0.0)):
            out += _sv(names[item], i, x, sv, row.sv, row.share * sv / sheet.saponification_value, least)
    return out


def _of(name: str, lot: LotLeft) -> str:
    return f"{name} in use{f' ({lot.lot.label})' if lot.lot.label else ''}"


def _lye(share: Share, much: str) -> Text:
    return say(": the lye would be ", figure(100 * abs(share), ".2g"), f" % {much}.")


def _purity(name: str, item: str, x: LotLeft, by: Share, least: Share) -> Caution:
    purity = x.lot.purity or by
    at = f"/{item.removeprefix('alkali:')}_purity"
    said: list[Part] = [_of(name, x), " is ", figure(100 * purity, ".4g"), " % pure, the recipe reckons with "]
    much = "too much" if purity > by else "too little"
    mend = Mend(label=say("reckon with ", figure(100 * purity, ".4g"), " %"), pointer=at, value=purity)
    message = say(*said, figure(100 * by, ".4g"), " %", _lye(purity / by - 1, much))
    return Caution(pointer=at, message=message, danger=least < purity / by - 1, mends=(mend,))


def _sv(
    name: str, row: int, x: LotLeft, sv: float, stated: float | None, takes: Share, least: Share
) -> Iterator[Caution]:
    """`takes` is the fat's part of all lye."""
    at = f"/fats/{row}/share"
    if x.lot.sv is None:
        if stated is not None:
            message = say(
                _of(name, x),
                " has no saponification value of its own, the recipe reckons with a certificate's ",
                figure(stated, ".5g"),
                ": be sure that it is of this lot.",
            )
            yield Caution(pointer=at, message=message)
        return
    if abs(x.lot.sv / sv - 1) <= TOLD:
        return
    more = takes * (1 - x.lot.sv / sv)  # lye that it does not take, of all
    mend = Mend(label=say("reckon with ", figure(x.lot.sv, ".5g")), pointer=f"/fats/{row}/sv", value=x.lot.sv)
    message = say(
        _of(name, x),
        " has a saponification value of ",
        figure(x.lot.sv, ".5g"),
        " by its certificate, the recipe reckons with ",
        figure(sv, ".5g"),
        _lye(more, "too much" if more > 0 else "too little"),
    )
    yield Caution(pointer=at, message=message, danger=least < more, mends=(mend,))
