"""What must follow a batter for good: more fragrance in it than its certificates allow, wherever it was folded to."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..pour import PourState
from ..recipe import INTO_MOULD, ByMoulds, Recipe
from ..sheet import CURED, Line, Sheet, limit_use
from ..shelf import Shelf
from ..text import Text, figure, say
from ..values import Grams, Id, Name, Value, listed
from .lanes_of import percents_of
from .plan import plan

FRAGRANCE_TOLD = 1.0 + 1e-6  # times what is allowed, beyond which it is told


class Overdose(Value):
    """Portions whose cured bars hold so many `times` the fragrance that is allowed."""

    portion: Name
    times: float


@dataclass
class _Batter:
    grams: Grams
    scents: dict[Id, Grams] = field(default_factory=dict)

    def take(self, other: "_Batter", share: float) -> None:
        self.grams += share * other.grams
        for scent, grams in other.scents.items():
            self.scents[scent] = self.scents.get(scent, 0.0) + share * grams


def overdoses(recipe: Recipe, shelf: Shelf, sheet: Sheet, state: PourState) -> tuple[Overdose, ...]:
    """Every portion that holds too much fragrance, as it was tapped in, after all folds; the strongest first.

    What a portion gave to others before it was poured is theirs; of one that was partly poured, the bars stay as they
    are. Where nothing was tapped of a fragrance it counts as planned once the pour ended.
    """
    pots = _as_scented(recipe, sheet, state)
    names = list(pots)
    poured = {s.key: s for s in plan(recipe, shelf, sheet.total) if s.do in INTO_MOULD}
    gone: set[Name] = set()
    for fold in sorted(state.folds, key=lambda f: f.minute):
        into = [n for n in fold.into if n in pots]
        if fold.portion not in pots or not into:
            continue
        whole = sum(pots[n].grams for n in into)
        for name in into:
            pots[name].take(pots[fold.portion], pots[name].grams / whole)
        begun = any(
            key in poured and minute <= fold.minute and names.index(fold.portion) in poured[key].lanes
            for key, minute in state.done.items()
        )
        if not begun:
            gone.add(fold.portion)
    found = [
        Overdose(portion=name, times=times)
        for name, pot in pots.items()
        if name not in gone and (times := _times(pot, shelf)) > FRAGRANCE_TOLD
    ]
    return tuple(sorted(found, key=lambda o: -o.times))


def as_poured(recipe: Recipe, shelf: Shelf, sheet: Sheet, state: PourState) -> tuple[Recipe, Sheet]:
    """A recipe and its sheet as they were poured: the fragrance that went in, and no embeds, nor their weight in a bar,
    where every step that sets them was left out."""
    lines = lines_as_poured(recipe, sheet, state)
    sets = {s.key for s in plan(recipe, shelf, sheet.total) if s.do == "embed"} if recipe.embeds else set()
    if not sets or not sets <= set(state.skipped):
        return recipe, sheet.model_copy(update={"lines": lines})
    bare = zip(sheet.bars, recipe.size.moulds, strict=True) if isinstance(recipe.size, ByMoulds) else ()
    bars = tuple(
        b.model_copy(update={"grams": b.grams * b.batter / (b.batter + m.count * recipe.embedded)}) for b, m in bare
    )
    return recipe.model_copy(update={"embeds": ()}), sheet.model_copy(update={"lines": lines, "bars": bars})


def lines_as_poured(recipe: Recipe, sheet: Sheet, state: PourState) -> tuple[Line, ...]:
    """A sheet's lines with the fragrance that went in, as it was tapped; what was left out is none of them."""
    went_in: dict[Id, Grams] = {}
    for batter in _as_scented(recipe, sheet, state).values():
        for fragrance, grams in batter.scents.items():
            went_in[fragrance] = went_in.get(fragrance, 0.0) + grams
    out = []
    for line in sheet.lines:
        if line.kind == "fragrance" and line.row is not None:
            scent = recipe.scents[line.row]
            meant = scent.load * recipe.scented_share * sheet.fats
            if not (got := went_in.get(scent.fragrance, 0.0)) or meant <= 0:
                continue
            line = line.model_copy(update={"grams": line.grams * got / meant})  # noqa: PLW2901 - the same line, heavier
        out.append(line)
    return tuple(out)


def _times(pot: _Batter, shelf: Shelf) -> float:
    scents = [(grams, shelf.fragrances[i]) for i, grams in pot.scents.items() if i in shelf.fragrances]
    return limit_use(scents, pot.grams, shelf) / CURED


def _as_scented(recipe: Recipe, sheet: Sheet, state: PourState) -> Mapping[Name, _Batter]:
    out: dict[Name, _Batter] = {}
    apart = recipe.design.scents_apart
    for portion, weighed, percents in zip(
        recipe.design.portions, sheet.portions, percents_of(recipe, sheet, state), strict=True
    ):
        told = state.scented_at(portion.name) is not None
        assumed = state.ended is not None and not state.scents and not state.left_out and portion.scented
        batter = _Batter(weighed.batter + sum(x.grams for x in weighed.own))
        if told or assumed:
            batter.scents = {i: percent / 100 * portion.share * sheet.fats for i, percent in percents.items()}
            # In the whole pot the fragrance as planned is part of the batter's weight already.
            batter.grams += sum(batter.scents.values()) if apart else 0.0
        out[portion.name] = batter
    return out


def marked_for_good(found: tuple[Overdose, ...]) -> Text:
    """What is said of it wherever these bars are spoken of; empty where there is nothing."""
    if not found:
        return Text.NONE
    names, times = listed([o.portion for o in found]), figure(found[0].times, ".1f")
    return say(names, ": ", times, " times the fragrance its certificates allow. Mark these bars: not for skin.")
