"""A fragrance's file: what is claimed of it against what was seen of it."""

from collections.abc import Sequence
from math import log
from typing import TYPE_CHECKING

from ..batter import THRESHOLDS, Knowledge, five, prior, times_as_soon
from ..evidence import heard_words, times_of
from ..shelf import Counted, Fragrance, Others
from ..text import Text
from ..values import Minutes, Name, Share, Value
from .past import Logged

if TYPE_CHECKING:
    from .taught import Taught

SHOWN = 60  # latest pours of a fragrance that its file shows, and colours of as many [chosen]


class Effect(Value):
    """How many times as soon medium trace comes with 3 % of fats of it as without: median and 80 % span; `medium` the
    median minutes from emulsion, in a plain batter at 37 °C, that would take `without` minutes unscented."""

    low: float
    mid: float
    high: float
    medium: Minutes
    without: Minutes


class Reached(Value):
    """A stage and the minutes from scenting until it was seen; negative when the batter was there before."""

    stage: str
    minutes: Minutes


class Seen(Value):
    """One pour of a fragrance: minutes from scenting to the stage last seen, with the conditions."""

    pour: str
    recipe: str
    load: Share
    celsius: float
    portion: str
    stages: tuple[Reached, ...]
    watched: Minutes


class ColourNote(Value):
    """The colour of a scented portion some days after a pour."""

    pour: str
    recipe: str
    portion: str
    days: float
    shade: str


class FragranceLog(Value):
    """What was seen of a fragrance: its latest pours, and their colours; `unseen` of its pours were not looked at after
    it went in. `recipe` is the one it was only ever poured
    in, and in the whole batch; empty where there are others."""

    seen: tuple[Seen, ...] = ()
    colours: tuple[ColourNote, ...] = ()
    recipe: Name = ""
    unseen: int = 0


class FragranceFile(Value):
    """Claimed against seen, the latest of them as `pours`, of `poured` that were looked at after it went in;
    `unseen` more were not, and teach nothing of it. `heard` is what other workshops saw, `others` the same in words; in
    `learned` it counts as much as it says. `evidence` is the share of the uncertainty before any pour
    that own pours took away. `kin` are other bottles of the same scent.
    """

    fragrance: Fragrance
    claimed: Effect
    heard: Effect | None
    others: Text
    learned: Effect
    evidence: Share
    poured: int
    unseen: int
    pours: tuple[Seen, ...]
    riced: Counted
    discoloured: Counted
    colours: tuple[ColourNote, ...]
    kin: tuple[str, ...]
    warning: str


def _effect(knowledge: Knowledge, fragrance: str) -> Effect:
    low, _, mid, _, high = (float(x) for x in five(times_as_soon(knowledge, fragrance)))
    without = prior.THRESHOLD_MINUTES["medium"]
    return Effect(low=low, mid=mid, high=high, medium=without / mid, without=without)


def _heard(others: Others) -> Effect | None:
    times, without = times_of(others), prior.THRESHOLD_MINUTES["medium"]
    if times is None:
        return None
    low, mid, high = times
    return Effect(low=low, mid=mid, high=high, medium=without / mid, without=without)


def evidence_of(learned: Effect, claimed: Effect) -> float:
    """The share of the claim's doubt that pours took away: of the square of how far the logarithms of both ends are
    apart. One pour unlike the claim leaves more doubt than there was, and none is taken away."""
    return max(0.0, 1 - (log(learned.high / learned.low) / log(claimed.high / claimed.low)) ** 2)


def _seen(logged: Logged, fragrance: str) -> list[Seen]:
    out = []
    for lane, known in zip(logged.schedule.lanes, logged.schedule.known, strict=True):
        if fragrance not in lane.added:
            continue
        minute, percent = lane.added[fragrance]
        stages = [
            Reached(stage=THRESHOLDS[s], minutes=w.by - minute) for s, w in sorted(known.items()) if w.by is not None
        ]
        looks = [t for w in known.values() for t in (w.after, w.by) if t is not None]
        out.append(
            Seen(
                pour=logged.pour,
                recipe=logged.recipe.name,
                load=percent / 100,
                celsius=lane.temperature(minute),
                portion=lane.name,
                stages=tuple(stages),
                watched=max(looks, default=minute) - minute,
            )
        )
    return out


def _count(taught: "Taught", key: str) -> Counted:
    seen, asked = taught.hazards.counts.get(key, (0, 0))
    return Counted(seen=seen, asked=asked)


def _colours(logged: Logged, fragrance: str) -> list[ColourNote]:
    scented = {lane.name for lane in logged.schedule.lanes if fragrance in lane.added}
    return [
        ColourNote(pour=logged.pour, recipe=logged.recipe.name, portion=c.portion or "all", days=c.days, shade=c.shade)
        for c in sorted(logged.state.colours, key=lambda c: c.days)
        if c.portion is None or c.portion in scented
    ]


def fragrance_logs(logged: Sequence[Logged]) -> dict[str, FragranceLog]:
    """What was seen of each fragrance; the latest pours first, as they are told."""
    of: dict[str, list[Logged]] = {}
    for pour in logged:
        for fragrance in pour.scents:
            of.setdefault(fragrance, []).append(pour)
    return {i: _log(i, pours) for i, pours in of.items()}


def _log(fragrance: str, pours: Sequence[Logged]) -> FragranceLog:
    latest = pours[:SHOWN]
    recipes = {p.recipe.name for p in pours}
    alone = len(recipes) == 1 and all(fragrance in lane.added for p in pours for lane in p.schedule.lanes)
    return FragranceLog(
        seen=tuple(s for p in latest for s in _seen(p, fragrance)),
        colours=tuple(c for p in latest for c in _colours(p, fragrance)),
        recipe=next(iter(recipes)) if alone else "",
        unseen=sum(fragrance not in p.schedule.watched for p in pours),
    )


def fragrance_file(taught: "Taught", fragrance: Fragrance) -> FragranceFile:
    """A fragrance's file from what was learned."""
    poured = taught.poured.get(fragrance.id, 0)
    seen = taught.fragrances.get(fragrance.id, FragranceLog())
    claimed, learned = _effect(taught.claims, fragrance.id), _effect(taught.knowledge, fragrance.id)
    others = taught.shelf.others.get(fragrance.id)
    warning = ""
    if poured > 1 and seen.recipe:
        warning = (
            f"Only ever poured in {seen.recipe}, in the whole batch: what the fragrance did and what the recipe did "
            "cannot be told apart. Leave one portion unscented next time."
        )
    return FragranceFile(
        fragrance=fragrance,
        claimed=claimed,
        heard=None if others is None else _heard(others),
        others=Text.NONE if others is None else heard_words(others),
        learned=learned,
        evidence=evidence_of(learned, _effect(taught.trade, fragrance.id)),
        poured=poured,
        unseen=seen.unseen,
        pours=seen.seen,
        riced=_count(taught, f"ricing:{fragrance.id}"),
        discoloured=_count(taught, f"discolouring:{fragrance.id}"),
        colours=seen.colours,
        kin=tuple(
            f.name for f in taught.shelf.fragrances.values() if fragrance.id in (f.inherits, f.id) and f != fragrance
        ),
        warning=warning,
    )
