"""When a block may be unmoulded, cut, bevelled and stamped: windows with two soft edges, and why.

One figure carries them all: the hours until a wire goes through cleanly, for a block that stands open at 20 °C. Its
logarithm is a sum of what is known of the batch; a maker's own cuts shift it. All figures are common practice without a
source, or chosen to come to it, and are told as spans.
"""

from collections.abc import Iterable, Sequence
from math import exp, log
from typing import Literal

import numpy as np

from ..batter import Array
from ..pour import Cover, Cut, Touched, Unmoulded
from ..sheet import Sheet
from ..values import Value

USUAL_HOURS = 17.0  # of a usual block that stands open at 20 °C [C]
SALT_HOURS = 1.5  # of one of salt [common practice: hours]
FIRM, PER_FIRM = 0.42, -2.2  # C8 to C20 acids without a double bond, of all, and the ln-hours of one more share [C]
OLEIC, PER_OLEIC = 0.45, 0.9  # the same of oleic acid [C]
LYE, PER_LYE = 0.33, -5.0  # the same of the lye's concentration [C]
LACTATE, PER_LACTATE = 15.0, -0.25  # g/kg of fats that do all that lactate does, and what that is in ln-hours [C]
SALT, PER_SALT = 20.0, -0.15  # the same of a pinch of salt [C]
PER_PACE, PER_GEL, PER_RING = -0.3, -0.25, 0.05  # ln-hours by ln-pace at the bench, of gel and of a ring [C]
# How fast a block sets by how it rests, against one that stands open; and by the room, per °C [C].
SETS: dict[Cover, float] = {
    "open": 1.0, "covered": 0.85, "insulated": 0.95, "oven": 1.15, "oven-off": 1.1, "cold": 0.45,
}  # fmt: skip
PER_CELSIUS, ROOM = 0.035, 20.0
BATCH_SD, OWN_SD = 0.30, 0.35  # of the ln-hours, of a batch and of a maker [C]
FINGER_SD = 0.25  # ln-hours by which a finger or a cut tells one state from another [C]
GRID = np.linspace(-2.0, 2.0, 161)  # about the expected ln-hours
WORTH_SAYING = 0.08  # ln-hours of a reason [C]
SAME_DAY_LACTATE = 8.0  # g/kg of fats from which a bar is bevelled the day it is cut [common practice: with lactate]

RATHER = 0.65  # odds from which a window is drawn solid [C]

What = Literal["unmould", "cut", "bevel", "stamp"]
# From and until, in hours to a clean wire, and the hours after the cut it takes at least [C].
EDGES: dict[tuple[What, str], tuple[float, float, float]] = {
    ("unmould", ""): (0.9, 3.6, 0.0),
    ("cut", "wire"): (1.0, 2.6, 0.0),
    ("cut", "knife"): (1.1, 4.8, 0.0),
    ("bevel", ""): (2.4, 8.0, 1.0),
    ("bevel", "lactate"): (1.2, 6.0, 0.5),
    ("stamp", ""): (2.2, 6.5, 18.0),
}


class Cause(Value):
    """Why a block takes longer or less: in words, and times the hours."""

    message: str
    times: float


class Window(Value):
    """When to touch a block, in hours since it was poured. One in ten may be touched at `first` and as many not before
    long after `sure`, from which two in three may; by `late` one in three is past it, by `last` nine in ten. `tool`
    where it depends on it."""

    what: What
    tool: str
    first: float
    sure: float
    late: float
    last: float
    before: str
    after: str


class CutOwn(Value):
    """What a maker's own cuts taught: shift of the ln-hours ± sd, from how many."""

    shift: float = 0.0
    sd: float = OWN_SD
    cuts: int = 0


def expected(sheet: Sheet, pace: float = 1.0, full: float = 0.0, ring: float = 0.0) -> tuple[float, tuple[Cause, ...]]:
    """ln-hours to a clean wire standing open at 20 °C, and the reasons worth a word; `full` and `ring` are the odds of
    gel."""
    if sheet.bar.salt:
        return log(SALT_HOURS), (Cause(message="a salt bar sets within hours", times=SALT_HOURS / USUAL_HOURS),)
    strata = sheet.bar.strata
    firm = PER_FIRM * (strata["quick"] + strata["hard"] - FIRM)
    oleic = PER_OLEIC * (strata["oleic"] - OLEIC)
    water = PER_LYE * (sheet.lye_concentration - LYE)
    lactate = PER_LACTATE * min(sheet.factors["lactate"] / LACTATE, 1.0)
    salt = PER_SALT * min(sheet.factors["salt"] / SALT, 1.0)
    parts = (
        (firm + oleic, "soft fats" if firm + oleic > 0 else "hard fats"),
        (water, "much water" if water > 0 else "little water"),
        (lactate, "sodium lactate"),
        (salt, "salt"),
        (PER_PACE * log(pace), "a slow batter" if pace < 1 else "a quick batter"),
        (PER_GEL * full + PER_RING * ring, "it gels through"),
    )
    why = tuple(Cause(message=s, times=round(exp(x), 2)) for x, s in parts if abs(x) >= WORTH_SAYING)
    return log(USUAL_HOURS) + sum(x for x, _ in parts), why


def warmth(room: float) -> float:
    """How fast a block sets in a room, against one of 20 °C.

    >>> warmth(20.0)
    1.0
    """
    return exp(PER_CELSIUS * (room - ROOM))


class Ageing:
    """Hours on the clock against hours of standing open at 20 °C, by how it rested; as it rests now, it goes on."""

    def __init__(self, ended: float, covers: Sequence[tuple[float, Cover]], room: float) -> None:
        """`covers` is since which minute it rests how; `ended` and they are on the pour's clock."""
        speed = warmth(room)
        self._at, self._age, self._rate = [0.0], [0.0], [SETS[covers[0][1]] * speed]
        for minute, cover in covers[1:]:
            hours = max(minute - ended, 0.0) / 60
            self._age.append(self.age(hours))
            self._at.append(hours)
            self._rate.append(SETS[cover] * speed)

    def age(self, hours: float) -> float:
        """Hours of standing open that so many on the clock since the pour come to."""
        i = max(k for k, at in enumerate(self._at) if at <= hours or k == 0)
        return self._age[i] + self._rate[i] * (hours - self._at[i])

    def hours(self, age: float) -> float:
        """Hours on the clock since the pour at which it is of that age."""
        i = max(k for k, at in enumerate(self._age) if at <= age or k == 0)
        return self._at[i] + (age - self._age[i]) / self._rate[i]


def likelihood(event: Cut | Touched | Unmoulded, age: float, ln_hours: Array) -> Array:
    """How likely it is to feel so at an `age`, where a clean wire would go through after exp(`ln_hours`)."""
    from scipy.special import ndtr

    def past(times: float) -> Array:
        """Odds that it is past so many times its hours to a clean wire."""
        return np.asarray(ndtr((log(max(age, 1e-3)) - ln_hours - log(times)) / FINGER_SD))

    out = np.ones_like(ln_hours)
    match event:
        case Cut():
            begin, end, _ = EDGES["cut", event.tool]
            ready, hard = past(begin), past(end)
            out = {"dents": 1 - ready, "drags": 1 - ready, "clean": ready * (1 - hard), "hard": hard}[event.how]
        case Touched():
            # A finger leaves no dent at about the hours of a clean wire, and gives a little before.
            gives, firm = past(0.6), past(1.0)
            out = {"dents": 1 - gives, "gives": gives * (1 - firm), "firm": firm}[event.how]
        case Unmoulded():
            ready = past(EDGES["unmould", ""][0])
            out = ready if event.how == "clean" else 1 - ready
    return out + 1e-3


def belief(mean: float, sd: float, felt: Iterable[tuple[Cut | Touched | Unmoulded, float]]) -> Array:
    """Weights of GRID (about `mean`) after what was felt (event, age): one batch's ln-hours to a clean wire."""
    weight = -0.5 * (GRID / sd) ** 2
    for event, age in felt:
        weight = weight + np.log(likelihood(event, age, mean + GRID))
    weight = np.exp(weight - weight.max())
    return np.asarray(weight / weight.sum())


def learn_cuts(seen: Iterable[tuple[float, Sequence[tuple[Cut | Touched | Unmoulded, float]]]]) -> CutOwn:
    """A maker's own shift, from batches (expected ln-hours, what was felt at which age): posterior on a grid.

    >>> learn_cuts([])
    CutOwn(shift=0.0, sd=0.35, cuts=0)
    """
    spread = np.linspace(-2.5, 2.5, 21)
    of_batch = np.exp(-0.5 * spread**2) / np.exp(-0.5 * spread**2).sum()
    total, cuts = -0.5 * (GRID / OWN_SD) ** 2, 0
    for mean, felt in seen:
        ln_hours = mean + GRID[:, None] + BATCH_SD * spread
        chance = np.ones_like(ln_hours)
        for event, age in felt:
            chance = chance * likelihood(event, age, ln_hours)
            cuts += isinstance(event, Cut)
        if felt:
            total = total + np.log(chance @ of_batch)
    weight = np.exp(total - total.max())
    weight /= weight.sum()
    shift = float(weight @ GRID)
    sd = float(np.sqrt(weight @ (GRID - shift) ** 2))
    return CutOwn(shift=round(shift, 3), sd=round(sd, 3), cuts=cuts) if cuts else CutOwn()


def windows(
    mean: float,
    weights: Array,
    ageing: Ageing,
    lactate: float,
    cut: float | None = None,
    salt: bool = False,
) -> tuple[Window, ...]:
    """All windows of a batch in hours since it was poured; `cut` is when it was, in hours, `lactate` in g/kg."""
    total = np.cumsum(weights)

    def quantile(p: float) -> float:
        return mean + float(np.interp(p, total, GRID))

    edges: list[tuple[What, str]] = [("unmould", ""), ("cut", "wire"), ("cut", "knife")]
    if not salt:
        edges += [("bevel", "lactate" if lactate >= SAME_DAY_LACTATE else ""), ("stamp", "")]
    out = []
    for what, tool in edges:
        begin, end, least = EDGES[what, tool]
        first, sure = (ageing.hours(exp(quantile(p)) * begin) for p in (0.1, RATHER))
        late, last = (ageing.hours(exp(quantile(p)) * end) for p in (1 - RATHER, 0.9))
        if least and cut is not None:
            first, sure = max(first, cut + least), max(sure, cut + least)
        if late < sure:  # so unsure that the edges cross: the middle is where it may be touched
            sure = late = (sure + late) / 2
        out.append(
            Window(
                what=what,
                tool="" if tool == "lactate" else tool,
                first=first,
                sure=max(sure, first),
                late=max(late, sure, first),
                last=max(last, late, sure, first),
                **_words(what, tool),
            )
        )
    return tuple(out)


def _words(what: str, tool: str) -> dict[str, str]:
    """What it is like before and after its window."""
    return {
        "unmould": {"before": "sticks and dents", "after": "cuts harder"},
        "cut": {"before": "too soft", "after": "presses hard" if tool == "wire" else "may crumble"},
        "bevel": {"before": "smears", "after": "chips"},
        "stamp": {"before": "sticks to the stamp", "after": "cracks under it"},
    }[what]
