"""What differed between two pours: how many minutes the model says each difference is worth, and what it cannot say.

Both batters are counted from their own emulsion. The shares are those of `reasons`, along the straight path from one
pour to the other, so they add up to the modelled difference; what is left of the seen one is told as unexplained.
Differences the clock knows nothing of are listed without minutes, and no cause is claimed.
"""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from ..batter import Knowledge, Lane, Work, infer, prior, scent_column, sharing
from ..forecast import DRAWS, LEAST, path, places_of
from ..sheet import Bottle, compare, item_names
from ..shelf import Shelf
from ..text import C, Part, Text, figure, joined, say
from ..values import Minutes, Value
from .past import Logged

Bottles = Mapping[str, tuple[Bottle, ...]]  # by item


class Difference(Value):
    """What one difference adds (+, later) or takes (-, sooner) in the second pour, give or take `spread`."""

    key: str
    label: Text
    minutes: Minutes
    spread: Minutes


class Unlike(Value):
    """Something else that was not the same, in words."""

    name: str
    left: Text
    right: Text


class End(Value):
    """One of the two pours: minutes from emulsion to the stage, expected and, if it was, seen."""

    portion: str
    expected: Minutes
    looked: Minutes | None


class PourDifference(Value):
    """Second pour against first, in minutes from emulsion to `stage`.

    `modelled` is the difference the clock expects, `seen` the one there was, `unexplained` what is left of it;
    `next_time` is what to do first to have less of that, or "".
    """

    pour: str
    recipe: str
    stage: str
    first: End
    second: End
    modelled: Minutes
    seen: Minutes | None
    differences: tuple[Difference, ...]
    unexplained: Minutes | None
    unlike: tuple[Unlike, ...]
    next_time: str = ""


def _from_emulsion(lane: Lane) -> Lane:
    """The lane with its clock started at emulsion."""
    by = lane.origin
    return replace(
        lane,
        name="either",
        origin=0.0,
        temperature=lambda t: lane.temperature(t + by),
        work=tuple(Work(w.start - by, w.end - by, w.kind) for w in lane.work),
        added={f: (m - by, p) for f, (m, p) in lane.added.items()},
        split=None,
        ends=None,
    )


def _lead(logged: Logged) -> int:
    return next((i for i, lane in enumerate(logged.schedule.lanes) if lane.added), 0)


def _seen(logged: Logged, lane: int, stage: int) -> float | None:
    window = logged.schedule.known[lane].get(stage)
    if window is None or window.by is None:
        return None
    after = window.after if window.after is not None else logged.schedule.origin
    return (max(after, logged.schedule.origin) + window.by) / 2 - logged.schedule.origin


def _labels(first: Logged, second: Logged, shelf: Shelf) -> dict[str, Part]:
    a, b = (p.schedule.lanes[_lead(p)].temperature(p.schedule.origin) for p in (first, second))
    warm = "warmer" if b > a else "cooler"
    labels: dict[str, Part] = {
        "E": say(warm, ", ", C(b, ".0f"), " against ", C(a, ".0f")),
        "hand": "stirring by hand",
        "stick": "stick-blending",
    }
    for key, factor in prior.FACTORS.items():
        more = second.sheet.factors[key] >= first.sheet.factors[key]
        labels[f"x:{key}"] = factor.more if more else factor.less
    for scent in sorted(first.scents | second.scents):
        name = shelf.fragrances[scent].name if scent in shelf.fragrances else scent
        labels[scent_column(scent)] = f"{name}, load and when it went in"
    return labels


# A temperature that was only stated may be 4 °C off, a quarter to a third in minutes: nothing else is so cheap to know.
READ_FIRST = "Next time, first of all: read the thermometer as lye and fats meet. "
NOT_READ = ("", "One of these pours has no reading.", "Neither pour has a reading.")


def differ(
    first: Logged,
    second: Logged,
    knowledge: Knowledge,
    shelf: Shelf,
    bottles: tuple[Bottles, Bottles] = ({}, {}),
    stage: int = 1,
    seed: int = 1,
) -> PourDifference:
    """Second pour against first, for a threshold (0 light, 1 medium …).

    `bottles` say for each which lot of an item it took from.
    """
    leads = (_lead(first), _lead(second))
    lanes = [p.schedule.lanes[i] for p, i in zip((first, second), leads, strict=True)]
    a, b = sharing([_from_emulsion(lane) for lane in lanes])
    names = {**dict.fromkeys(a.added), **dict.fromkeys(b.added)}
    # Both lanes carry every fragrance of either, so that they share their columns; one that is not in counts 0 %.
    belief = infer(knowledge, [replace(a, added=dict.fromkeys(names, (0.0, 0.0)) | dict(a.added))], (), True)
    half = np.random.Generator(np.random.PCG64(seed)).standard_normal((DRAWS // 2, len(belief.mean)))
    root = np.linalg.cholesky(belief.cov + 1e-12 * np.eye(len(belief.mean)))
    params = np.vstack([belief.mean, belief.mean + half @ root.T, belief.mean - half @ root.T])
    params[:, belief.column[a.batch_effect]] = 0.0
    minutes, before, after = path(a, b, belief, params, stage)
    labels = _labels(first, second, shelf)
    found = [
        Difference(key=c, label=labels[c], minutes=float(whole[0]), spread=float(np.std(whole[1:])))
        for c in belief.column
        if c in labels
        for whole in (minutes[:, places_of(c, belief.column)].sum(axis=1),)
    ]
    told = sorted((d for d in found if abs(d.minutes) >= LEAST / 2), key=lambda d: -abs(d.minutes))
    modelled = float(after[0] - before[0])
    rest = modelled - sum(d.minutes for d in told)
    if abs(rest) >= 0.05:
        told.append(Difference(key="rest", label="the rest, each small", minutes=rest, spread=0.0))
    looked = (_seen(first, leads[0], stage), _seen(second, leads[1], stage))
    blind = sum(not p.state.readings for p in (first, second))
    gap = None if looked[0] is None or looked[1] is None else looked[1] - looked[0]
    return PourDifference(
        pour=second.pour,
        recipe=second.recipe.name,
        stage=prior.THRESHOLDS[stage],
        first=End(portion=lanes[0].name, expected=float(before[0]), looked=looked[0]),
        second=End(portion=lanes[1].name, expected=float(after[0]), looked=looked[1]),
        modelled=modelled,
        differences=tuple(told),
        seen=gap,
        unexplained=None if gap is None else gap - modelled,
        unlike=(*_unlike(first, second, shelf), *_bottles(bottles, shelf)),
        next_time=f"{READ_FIRST}{NOT_READ[blind]}" if blind else "",
    )


def _unlike(first: Logged, second: Logged, shelf: Shelf) -> tuple[Unlike, ...]:
    settings = compare((first.recipe, first.sheet), (second.recipe, second.sheet), shelf).settings
    out = [Unlike(name=s.name, left=s.left, right=s.right) for s in settings if s.differs]
    facts = (_facts(first), _facts(second))
    out += [Unlike(name=k, left=facts[0][k], right=facts[1][k]) for k in facts[0] if facts[0][k] != facts[1][k]]
    return tuple(out)


def _bottles(bottles: tuple[Bottles, Bottles], shelf: Shelf) -> list[Unlike]:
    """Bottles of the fragrances, which age, and other lots only where they are not the same."""
    names = item_names(shelf)
    left, right = bottles
    out = []
    for item in sorted(left.keys() & right.keys(), key=lambda i: (not i.startswith("fragrance:"), i)):
        same = [b.label for b in left[item]] == [b.label for b in right[item]]
        if left[item] != right[item] and (item.startswith("fragrance:") or not same):
            one, other = ("; ".join(map(str, b[item])) for b in bottles)
            out.append(Unlike(name=f"Lot of {names.get(item, item)}", left=one, right=other))
    return out


def _facts(logged: Logged) -> Mapping[str, Part]:
    """What was done at the bench, in words."""
    state = logged.state
    stick = sum(w.seconds for w in state.work if w.tool == "stick")
    hand = sum(w.seconds for w in state.work if w.tool == "hand")
    scents = [m - logged.schedule.origin for m in state.scents.values()]
    readings = joined(", ", (C(c) for _, c in state.readings))
    return {
        "Blended after emulsion": f"{stick:.0f} s" if stick else "not logged",
        "Stirred by hand": f"{hand:.0f} s" if hand else "not logged",
        "Scent after emulsion": say(figure(min(scents), ".1f"), " min") if scents else "not logged",
        "Thermometer": readings or "not read",
        "Went wrong": ", ".join(sorted({f.flag for f in state.flags})) or ("nothing" if state.smooth else "not said"),
        "Order": " then ".join(_order(logged)) or "not logged",
    }


def _order(logged: Logged) -> list[str]:
    state = logged.state
    marks = [(state.split, "split"), (min(state.scents.values(), default=None), "scent"), (state.pouring, "pour")]
    return [name for minute, name in sorted((m, n) for m, n in marks if m is not None)]
