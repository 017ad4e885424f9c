"""What a sentence of the bench is made of, and parts that several of them share."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from ..account import account_of
from ..forecast.forecast import Projection
from ..forecast.odds import Outlook
from ..forecast.turns import FallBack
from ..recipe import INTO_MOULD
from ..schedule import Task, embeds_told, marked_for_good, overdoses
from ..shelf import STAGES
from ..text import Text, figure, joined, say
from ..values import Id, Minutes, Name, Span, Value, listed
from .acts import moved
from .choose import faster_than_believed

FAR_FASTER, FASTER, SLOWER = (
    5.0,
    1.35,
    0.7,
)  # pace at which it is worth saying that the batter is unlike the forecast [C]
Do = Literal[
    "emulsion", "split", "scent", "pouring", "step", "ended", "done", "look",
    "rescue", "hold", "wait", "burst", "loosen", "skip", "order", "switch", "fold", "spare", "gate", "resume",
]  # fmt: skip


class Advice(Value):
    """`do` names the act of the big key; what it needs stands beside it: a `portion` (and those it goes `into`), a
    `technique`, a `step` of the plan by its key, `minutes`; `again` is the span of 8 in 10 of these at a gate.

    `going_on` is the outlook of the plan as it stands and `go` the plan's own next act; `instead` is the outlook of
    what is advised, where that is a change. `warning` is said while the plan may still hold. `pace` is how many times
    as fast as forecast the leading portion moves; 1 while nothing was seen. `standing` names the change, so that it
    need not flicker. `amount` is what the act puts in, in grams: it stands beside the headline. `day` is that of the
    build which comes next, once this one is done."""

    headline: Text
    amount: Text = Text.NONE
    detail: Text
    do: Do
    go: Do
    portion: Name | None = None
    into: tuple[Name, ...] = ()
    technique: Id | None = None
    technique_name: str = ""
    step: str | None = None
    go_step: str | None = None
    minutes: Minutes | None = None
    again: Span | None = None
    going_on: Outlook | None = None
    instead: Outlook | None = None
    fall_back: FallBack | None = None
    pace: float
    caution: Text = Text.NONE
    warning: Text = Text.NONE
    standing: str = ""
    day: int | None = None


def about(minutes: float) -> Text:
    """Minutes as a maker says them."""
    if minutes < 0.75:
        return say("under a minute")
    return say(f"about {minutes:.0f} min" if minutes < 120 else say("about ", figure(minutes / 60, ".1f"), " h"))


def between(span: Span) -> Text:
    """Between which minutes 8 in 10 come, as a sentence.

    >>> str(between(Span(low=12.2, high=95.0)))
    '8 in 10 stand in 12 to 95 min.'
    """
    if span.high >= 120:
        return say("8 in 10 stand in ", figure(span.low / 60, ".1f"), " to ", figure(span.high / 60, ".1f"), " h.")
    return say(f"8 in 10 stand in {span.low:.0f} to {span.high:.0f} min.")


def pace(projection: Projection, lanes: Sequence[int] | None = None) -> tuple[float, int]:
    """How many times as fast as forecast, and in which of these lanes: who is furthest off, else first to thicken."""
    lanes = lanes or range(len(projection.schedule.lanes))
    best = 1.0
    lane = min(lanes, key=lambda i: projection.forecast.lanes[i].stages[2].time.q50)
    for i in lanes:
        forecast = projection.forecast.lanes[i]
        origin = projection.schedule.lanes[i].origin
        thick = forecast.stages[2]
        here = max(thick.time.q50 - origin, 0.1)
        ratio = max(thick.expected - origin, 0.1) / here
        if not SLOWER < ratio < FASTER and abs(np.log(ratio)) > abs(np.log(best)):
            best, lane = float(ratio), i
    return best, lane


class Bench:
    """What a sentence is made of: the account of the pour, and the forecast it was made from."""

    def __init__(self, projection: Projection) -> None:
        self.recipe, self.shelf, self.projection = projection.recipe, projection.shelf, projection
        self.schedule, self.state = projection.schedule, projection.state
        self.technique = projection.schedule.technique
        self.account = account_of(projection)
        self.ahead = self.account.open
        self.names = [p.name for p in projection.recipe.design.portions]
        # What lies in the mould, or is not combined yet, is the reason for nothing that is done to another.
        self.matters = [p.lane for p in self.account.portions if p.where == "pot"]
        self.speed, lane = pace(projection, self.matters)
        self.why = self._why(lane) if self.matters else ""

    def _why(self, lane: int) -> Text:
        part = self.projection.forecast.lanes[lane]
        left = part.stages[2].time.q50 - self.projection.now
        there = part.level >= STAGES.index("thick")
        thick = "it is thick" if there else say("thick in ", about(left))
        who = part.portion
        if self.speed > FAR_FASTER:
            return say(who, " moves far faster than forecast: ", thick, ".")
        if self.speed >= FASTER:
            times = "twice" if 1.8 <= self.speed < 2.25 else say(figure(self.speed, ".1f"), " times")
            return say(who, " moves ", times, " as fast as forecast: ", thick, ".")
        if self.speed <= SLOWER:
            return say(who, " moves slower than forecast: ", thick, ".")
        return say("As forecast: ", who, " is ", "thick" if there else thick, ".")

    def named(self, lanes: Sequence[int]) -> str:
        return listed([self.names[i] for i in lanes])

    def seen(self, lanes: Sequence[int]) -> int:
        """Lowest stage that was last seen of these lanes."""
        return min((self.state.level(self.names[i]) for i in lanes), default=0)

    def amount(self, task: Task) -> Text:
        """Grams that a step puts in, of each portion it is made of, as the maker's scales show them."""
        if task.do == "embed":
            return joined("; ", embeds_told(self.projection.recipe, self.shelf))
        if task.do not in INTO_MOULD or not task.lanes or task.wants.part <= 0:
            return Text.NONE
        shown, portions = self.shelf.scales.shown, self.projection.job.sheet.portions
        grams = [(self.names[i], shown(portions[i].batter * task.wants.part)) for i in task.lanes]
        return joined(" + ", (say(g, " ", n) if len(grams) > 1 else g for n, g in grams))


IMPERATIVE = {
    "pour": "Pour {who}", "drop": "Drop {who}", "layer": "Pour the layer of {who}", "spoon": "Spoon {who} in",
    "pipe": "Pipe {who}", "pass": "Draw the wire through", "embed": "Set the embeds", "top": "Spoon the rest on top",
    "spare": "The rest into a spare mould", "wait": "Wait", "blend": "Thicken {who}", "colour": "Colour {who}",
}  # fmt: skip
USED_UP = 0.03  # share of a portion by which a step may miss the whole of it and still be said to pour it all [C]


def told_to(bench: Bench, task: Task) -> str:
    """A step as it is told to a hand: a verb, who, and which part of it. Its own words where the maker gave it some."""
    if task.place:
        return f"Pour {task.place}"
    words = IMPERATIVE.get(task.do)
    usual = task.label.partition(" ")[0] in (task.do, "wire", "embeds", "thicken", "wait") and "," not in task.label
    if words is None or not usual:
        return capitalised(task.label)
    if task.do == "pour" and task.wants.part <= 0:
        return "Pour it in one stream"  # what was gathered in a bowl
    if bench.account.into_bowl(task):
        return f"Into the bowl, ring by ring: {bench.named(task.lanes)}"
    time = bench.account.round_of(task)
    told = words.format(who=(_part_of(bench, task) if not time else "") or bench.named(task.lanes) or "it")
    return f"{told}, {time}" if time else told


def _part_of(bench: Bench, task: Task) -> str:
    """Which part of a portion a step pours, where it is not all of it: "half of Base", "the rest of Base"."""
    if task.do not in ("pour", "drop", "layer", "spoon", "pipe") or len(task.lanes) != 1:
        return ""
    name, part = bench.names[task.lanes[0]], task.wants.part
    left = bench.account.portions[task.lanes[0]].left
    if part >= 1 - USED_UP:
        return ""
    if part >= left - USED_UP - 0.1:
        return f"the rest of {name}" if left < 1 - USED_UP else ""
    return f"half of {name}" if abs(part - 0.5) < 0.06 else f"part of {name}"


def capitalised(text: str) -> str:
    return text[:1].upper() + text[1:]


def furthest(bench: Bench) -> Text:
    """The portion still to come that was seen furthest along, or how the batter moves."""
    coming = {i for s in bench.ahead if s.looks and s.do in INTO_MOULD for i in s.lanes if i in bench.matters}
    level, name = max(((bench.state.level(bench.names[i]), bench.names[i]) for i in sorted(coming)), default=(0, ""))
    if level < STAGES.index("medium"):
        return say(bench.why)
    lane = bench.names.index(name)
    thick = bench.projection.forecast.lanes[lane].stages[2]
    fast = thick.expected - bench.schedule.lanes[lane].origin > FASTER * (
        thick.time.q50 - bench.schedule.lanes[lane].origin
    )
    return say(name, " is at ", STAGES[level], " already", ", faster than forecast" if fast else "", ".")


def overdosed(bench: Bench) -> Text:
    """Said of a portion that got more fragrance than its certificates allow in the bar."""
    of = bench.projection
    return marked_for_good(overdoses(of.recipe, of.shelf, of.job.sheet, of.state))


def whisk_only(bench: Bench) -> str:
    """Said of batter that has moved by itself."""
    fast = faster_than_believed(bench.projection)
    context = bench.projection.context
    still = [i for i in range(len(bench.names)) if moved(context, i, fast) and i in bench.matters]
    return f"Whisk only, no stick: {bench.named(still)}." if still else ""
