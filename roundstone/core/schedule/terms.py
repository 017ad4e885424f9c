"""What looks say of the thresholds: between which two minutes each was crossed (interval censoring)."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from math import inf

from ..batter import SHORTEST, Known, Lane, Term, prior
from ..pour import Look
from ..shelf import STAGES


def kept(looks: Sequence[Look]) -> list[Look]:
    """Drop every look whose level exceeds a later one's: a later tap overrides."""
    out: list[Look] = []
    least = len(STAGES)
    for look in reversed(looks):
        if look.level <= least:
            out.append(look)
            least = look.level if look.only != "least" else least
    return out[::-1]


def scent_window(lane: Lane) -> tuple[float, float] | None:
    """When a fragrance that was tapped in may first have met a lane's batter, and its tap; None where none was."""
    if not lane.tapped or not lane.added:
        return None
    minute = min(m for m, _ in lane.added.values())
    return lane.met(minute), minute


def windows(looks: Sequence[Look], origin: float = 0.0, scent: tuple[float, float] | None = None) -> dict[int, Known]:
    """For each threshold (0 light … 3 set): the last look below it and the first at or above it.

    Most makers tap when it changes: a tap that raises the level says that its own threshold was crossed within the last
    minute or tenth of the time since emulsion, whichever is more (prior.TURNED), where no look below it is later. A
    tap that raises the level by two or more within two minutes of `scent` (see `scent_window`) tells of what came since
    it met the batter: who stirs it in has the cup in sight.
    """
    # A look at the very first moment is a glance after it: a batter has no age at minute 0.
    good = kept([k if k.minute >= SHORTEST else replace(k, minute=SHORTEST) for k in looks])
    out = {}
    for s in range(len(prior.THRESHOLDS)):
        after = max((k.minute for k in good if k.level < s + 2 and k.only != "least"), default=None)
        first = next((k for k in good if k.level >= s + 2 and k.only != "most"), None)
        by = first.minute if first is not None else None
        if first is not None and first.level == s + 2 and not first.only and after is not None:
            least, share = prior.TURNED
            after = max(after, first.minute - max(least, share * (first.minute - origin)))
        if first is not None and scent is not None and _rose(good, first, scent):
            after = max(after if after is not None else scent[0], scent[0])
        if by is not None and after is not None:
            by = max(by, after + SHORTEST)
        if after is not None or by is not None:
            out[s] = Known(after, by)
    return out


def _rose(looks: Sequence[Look], first: Look, scent: tuple[float, float]) -> bool:
    """Whether a look tells of a rise that came with a fragrance."""
    met, tapped = scent
    if first.only or not met < first.minute <= tapped + prior.RISEN_MINUTES:
        return False
    before = max((k.level for k in looks if k.minute < first.minute and k.only != "least"), default=1)
    return first.level - before >= prior.RISEN_LEVELS


def unchanged(looks: Sequence[Look], minutes: Sequence[float]) -> list[Look]:
    """Looks of a maker who taps only when it turns: while the batter was at hand it was still at what was seen last.

    >>> [(k.minute, k.level) for k in unchanged([Look(1.0, 1), Look(4.0, 2)], [3.0, 5.0])]
    [(1.0, 1), (3.0, 1), (4.0, 2), (5.0, 2)]
    """
    out = list(looks)
    for minute in minutes:
        before = [k for k in looks if k.minute <= minute]
        if before:
            out.append(replace(before[-1], minute=minute))
    return sorted(out, key=lambda k: k.minute)


def _open(term: Term) -> float:
    """Until when a term's threshold was not crossed, where it was not seen crossed later."""
    return term.after if term.after is not None and term.by is None else -inf


def terms_of(
    names: Sequence[str],
    known: Sequence[Mapping[int, Known]],
    origins: Sequence[float],
    pots: Sequence[int],
    split: Sequence[float | None],
    looked_after: Sequence[bool],
) -> Iterator[Term]:
    """One term per threshold and batter: what happened in the pot is said once, not once per portion, and that medium
    was not reached is not said where light was not.

    `pots` is the lane of each portion's pot, its own number where it has none; `looked_after` whether it was looked at
    by itself after the split.
    """
    said: set[Term] = set()
    for i in range(len(names)):
        parted = split[i]
        for s, window in sorted(known[i].items()):
            after = window.after if window.after is not None and window.after > origins[i] else None
            in_pot = window.by is not None and (parted is None or window.by <= parted)
            lane = i if looked_after[i] and not in_pot else pots[i]
            by = window.by if lane == i or in_pot else None
            term = Term(lane, s, after, by)
            if by is None and any(t.lane == lane and t.stage < s and _open(t) >= (after or 0.0) for t in said):
                continue
            if (after is not None or by is not None) and term not in said:
                said.add(term)
                yield term
