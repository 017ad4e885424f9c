"""Makers who pour a batter that is not the clock's (`bench.batter`): to hold forecasts and advice against.

They look, tap in one of three ways, late and sometimes wrong, and are as quick as they are. Bands and minutes are not
the table's either: edges are smooth, moved, and of another width in every pour. Every number here is chosen."""

from collections.abc import Iterable, Sequence
from copy import deepcopy
from dataclasses import dataclass, field, replace
from math import exp, log
from typing import Literal
from uuid import UUID

import numpy as np

from bench.batter import Batter, Temper
from roundstone.core.advise import Advice, advise
from roundstone.core.batter import Knowledge
from roundstone.core.forecast import Job, Projection, project, similarity, unlearned
from roundstone.core.pour import (
    Ended,
    Event,
    Flagged,
    Folded,
    PouringBegan,
    ScentIn,
    ScentInTurn,
    Spared,
    Split,
    StageSeen,
    StepDone,
    StepSkipped,
    TechniqueChanged,
    Worked,
    replay,
)
from roundstone.core.recipe import INTO_MOULD, Recipe
from roundstone.core.schedule import Task, reconcile
from roundstone.core.sheet import Sheet
from roundstone.core.shelf import Shelf, Stage

STAGES: tuple[Stage, ...] = ("emulsion", "light", "medium", "thick", "set")
RICES = 0.4  # of a temper that rices, a portion
Taps = Literal["every", "changes", "seldom"]
Policy = Literal["never", "advice", "levers", "knows"]


@dataclass
class Rules:
    """What this pour's steps truly take: bands moved and smooth, of another width, and weights of another maker."""

    shift: float
    width: float
    weights: float
    rng: np.random.Generator
    unlike: bool = True

    def fit(self, task: Task, level: float) -> float:
        thin, lo, hi, thick = task.wants.band
        if not self.unlike:
            top = min(max((thick - level) / max(thick - hi, 1e-6), 0.0), 1.0)
            low = 1.0 if lo <= 1 else min(max((level - thin) / max(lo - thin, 1e-6), 0.0), 1.0)
            return min(top, low)
        hi, thick = hi + self.shift, hi + self.shift + (thick - hi) * self.width
        top = _smooth((thick - level) / max(thick - hi, 1e-6))
        if lo <= 1:
            return top
        lo = lo + 0.5 * self.shift
        return min(top, _smooth((level - thin) / max(lo - thin, 1e-6)))


def _smooth(x: float) -> float:
    x = min(max(x, 0.0), 1.0)
    return x * x * (3 - 2 * x)


@dataclass
class Done:
    """What came of a pour."""

    value: float
    drawn: float
    events: list[Event]
    told: list[str] = field(default_factory=list)
    forecasts: dict[str, float] = field(default_factory=dict)
    taps: Taps = "changes"


class Pour:
    """One pour by one maker, of a recipe, in a hidden temper."""

    def __init__(
        self,
        recipe: Recipe,
        sheet: Sheet,
        shelf: Shelf,
        temper: Temper,
        rules: Rules,
        rng: np.random.Generator,
        taps: Taps = "changes",
        pot: Batter | None = None,
    ) -> None:
        self.recipe, self.sheet, self.shelf, self.temper, self.rules = recipe, sheet, shelf, temper, rules
        self.rng, self.taps = rng, taps
        # Looking and tapping have luck of their own: one look more must not make it another pour.
        self.eyes = np.random.Generator(np.random.PCG64(int(rng.integers(1 << 32))))
        self.names = [p.name for p in recipe.design.portions]
        self.lanes: list[Batter] = []
        self.pot = pot or Batter(temper, recipe.pour_celsius, recipe.room_celsius, sheet.total, rng)
        self.now = 0.0
        self.events: list[Event] = []
        self.seen: dict[str | None, int] = {}
        self.got = 0.0
        self.weight = 0.0
        self.lost = 0.0
        self.in_mould: list[int] = []
        self.executed: set[str] = set()
        self.held = False  # whether it was asked if fragrances should wait
        self.asked: set[tuple[str | None, str | None]] = set()
        self.knowledge: Knowledge | None = None
        self.standing = ""
        self.ids = 0
        self.emulsion = 0.0

    def _id(self) -> UUID:
        self.ids += 1
        return UUID(int=(4 << 76) | (8 << 60) | self.ids)

    def tap(self, event: Event) -> None:
        self.events.append(event)

    def minute(self) -> float:
        return round(self.now + self.temper.late * float(self.eyes.random()), 3)

    def pass_time(self, minutes: float, who: Sequence[int] = (), tool: str = "") -> None:
        for i, lane in enumerate(self.lanes):
            lane.advance(minutes, tool if i in who else "")
        if not self.lanes:
            self.pot.advance(minutes, tool if who else "")
        self.now += minutes

    def crossed(self) -> list[list[float]]:
        """When each portion truly came to light, medium and thick, left alone from the pour's end on."""
        out = []
        for lane in self.lanes:
            while len(lane.crossed) < 3 and lane.age < 600:
                lane.advance(1.0)
            out.append([self.emulsion + m for m in (*lane.crossed, 600.0, 600.0, 600.0)[:3]])
        return out

    def stage(self, lane: Batter) -> int:
        level = min(max(int(lane.level()), 1), 5)
        if self.eyes.random() < self.temper.wrong:
            level = min(max(level + int(self.eyes.choice((-1, 1))), 1), 5)
        return level

    def look(self, who: Iterable[int], asked: bool = False) -> None:
        """Look at these portions, and tap what this kind of maker taps; who is asked to tap does."""
        many = len(self.names) > 1 and bool(self.lanes)
        batters = [(self.names[i], self.lanes[i]) for i in who] if many else [(None, (self.lanes or [self.pot])[0])]
        for name, batter in batters:
            level = self.stage(batter)
            was = self.seen.get(name, self.seen.get(None, 1))
            if not asked and self.taps == "seldom" and self.eyes.random() < 0.6:
                continue
            if not asked and self.taps != "every" and level == was:
                continue
            self.seen[name] = max(level, was)
            self.tap(StageSeen(id=self._id(), minute=self.minute(), portion=name, stage=STAGES[max(level, was) - 1]))

    def ahead(self) -> list[Task]:
        state = replay(self.events, self.recipe)
        found = reconcile(self.recipe, self.shelf, self.sheet.total, state, self.now)
        self.technique = found.technique
        return [s for s in found.ahead if s.key not in self.executed]

    def projection(self) -> Projection:
        assert self.knowledge is not None
        knows = replace(unlearned(self.shelf), knowledge=self.knowledge)
        job = Job(self.recipe, self.shelf, self.sheet)
        return project(job, knows, 7, events=self.events, now=self.now + 0.02)

    def advice(self) -> Advice:
        return advise(self.projection(), self.standing)

    def listened(self) -> float:
        """As planned, as told to one who changes nothing, but looks where that is asked for."""
        said = self.advice()
        while said.do == "look" and self.follow_advice(said):
            said = self.advice()
        assert said.going_on is not None
        return said.going_on.drawn

    def run(self, policy: Policy, knowledge: Knowledge | None = None) -> Done:
        self.knowledge = knowledge
        told: list[str] = []
        forecasts: dict[str, float] = {}
        asked = False
        if policy == "never" and knowledge is not None:
            forecasts["before the pour"] = self.projection().forecast.outlook.drawn
        for _ in range(120):
            steps = self.ahead()
            if not steps:
                break
            step = steps[0]
            if step.looks and not asked:
                self.glance(step)
            asked = False
            mark = "first pour" if step.looks and not self.pouring else "emulsion" if step.do == "split" else ""
            if policy == "never" and mark and self.now > 0 and knowledge is not None:
                forecasts[mark] = self.listened()
            elif policy in ("advice", "levers") and self.now > 0 and step.do != "combine":
                said = self.advice()
                told.append(said.do)
                self.standing = said.standing
                if self.follow_advice(said):
                    asked = said.do == "look"
                    continue
                if said.do == "order":
                    step = next(s for s in steps if s.key == said.step)
            elif policy == "knows" and (step.looks or step.do == "scent"):
                self.best_turn(scent=not step.looks)
                steps = self.ahead()
                step = steps[0]
            self.do(step)
        self.tap(Ended(id=self._id(), minute=self.minute() + 0.2))
        return Done(self.value(), self.share(), self.events, told, forecasts, self.taps)

    def share(self) -> float:
        kept = self.got / self.weight if self.weight else 1.0
        s = min(max((kept - 0.3) / 0.6, 0.0), 1.0)
        return (1 - min(self.lost, 1.0)) * s

    def value(self) -> float:
        lost = min(self.lost, 1.0)
        drawn = self.shelf.techniques[self.recipe.design.technique]
        alike = similarity(drawn, self.technique)
        s = self.share() / max(1 - lost, 1e-9)
        return (1 - lost) * (0.6 + 0.4 * alike * s) + lost * 0.1

    def do(self, step: Task) -> None:
        """Do a step in the world and log it as this maker does."""
        self.executed.add(step.key)
        minutes = step.minutes * self.temper.minutes * exp(self.rng.normal(0, 0.2))
        lanes = list(step.lanes)
        match step.do:
            case "combine":
                self.now = self.pot.blended()
                self.emulsion = self.now
                self.tap(StageSeen(id=self._id(), minute=self.minute(), stage="emulsion"))
            case "split":
                self.pass_time(minutes)
                self.lanes = [self.pot.part(p.batter) for p in self.sheet.portions]
                self.tap(Split(id=self._id(), minute=self.minute()))
            case "colour":
                self.ready()
                self.pass_time(minutes, lanes, step.by)
            case "scent":
                self.ready()
                for i in lanes:
                    full = 100 * sum(s.load for s in self.recipe.scents)
                    self.lanes[i].dose = full * self.recipe.design.portions[i].scent
                    self.lanes[i].riced = bool(self.rng.random() < self.temper.rices * RICES)
                into = self.names[lanes[0]] if len(self.names) > 1 and len(lanes) == 1 else None
                self.tap(ScentIn(id=self._id(), minute=self.minute(), portion=into))
                self.pass_time(max(minutes, 0.4), lanes, step.by)
                for i in lanes:
                    if self.lanes[i].riced and self.rng.random() < 0.8:
                        self.tap(Flagged(id=self._id(), minute=self.minute(), portion=self.names[i], flag="ricing"))
                self.look(lanes)
            case _:
                self.ready()
                self.make(step, minutes)

    def ready(self) -> None:
        if not self.lanes:
            self.lanes = [self.pot]

    @property
    def pouring(self) -> bool:
        return any(isinstance(e, PouringBegan) for e in self.events)

    def glance(self, step: Task) -> None:
        """Nobody pours without a look at what is poured, and before the first pour at all of it."""
        self.ready()
        self.look(list(step.lanes) if self.pouring else range(len(self.lanes)))

    def make(self, step: Task, minutes: float) -> None:
        """A step of the look: waited for, done, and what came of it."""
        lanes, wants = list(step.lanes), step.wants
        if not self.pouring:
            self.tap(PouringBegan(id=self._id(), minute=self.minute()))
        under = [i for i in self.in_mould if i not in lanes]
        waited = 0.0
        while under and wants.gate is not None and waited < wants.wait:
            if min(self.lanes[i].level() for i in under) >= wants.gate:
                break
            self.pass_time(0.5)
            waited += 0.5
        while wants.wait and wants.gate is None and wants.band[1] > 1 and lanes and waited < wants.wait:
            if min(self.lanes[i].level() for i in lanes) >= wants.band[1]:
                break
            self.pass_time(0.5)
            waited += 0.5
        if wants.to is not None:
            for _ in range(12):
                if all(self.lanes[i].level() >= wants.to for i in lanes):
                    break
                self.pass_time(0.1, lanes, "stick")
                self.tap(Worked(id=self._id(), minute=self.minute(), portion=self.names[lanes[0]], seconds=6))
        levels = [self.lanes[i].level() for i in lanes]
        grains = [1 - 0.5 * wants.grain * self.lanes[i].riced for i in lanes]
        self.pass_time(minutes)
        # It is drawn from its first moment to its last.
        ends = [self.lanes[i].level() for i in lanes]
        fits = [
            (self.rules.fit(step, x) + self.rules.fit(step, y)) / 2 * g
            for x, y, g in zip(levels, ends, grains, strict=True)
        ]
        shares = [self.recipe.design.portions[i].share for i in lanes] or [1.0]
        fit = float(np.average(fits or [1.0], weights=shares))
        if under and wants.gate is not None:
            lies = min(self.lanes[i].level() for i in under)
            fit *= 0.2 + 0.8 * min(max((lies - wants.gate + 0.8) / 0.8, 0.0), 1.0)
        weight = wants.weight * exp(self.rules.weights * self.rules.rng.normal())
        self.got += weight * fit
        self.weight += weight
        if step.do in INTO_MOULD:
            for i, x in zip(lanes, levels, strict=True):
                gone = min(max((x - 5.2) / 0.7, 0.0), 1.0)
                self.lost += self.recipe.design.portions[i].share * wants.part * gone
            self.in_mould = list(dict.fromkeys([*self.in_mould, *lanes]))
        self.tap(StepDone(id=self._id(), minute=self.minute(), step=step.key))

    def follow_advice(self, said: Advice) -> bool:
        """Do what is advised, if it is a change; whether anything was done."""
        lanes = [self.names.index(said.portion)] if said.portion in self.names else []
        match said.do:
            case "switch":
                self.tap(TechniqueChanged(id=self._id(), minute=self.minute(), technique=said.technique or ""))
            case "skip":
                step = next(s for s in self.ahead() if s.key == said.step)
                self.got += step.wants.weight * (step.wants.keep or 0.0)
                self.weight += step.wants.weight
                self.tap(StepSkipped(id=self._id(), minute=self.minute(), step=step.key))
            case "burst" | "loosen" if lanes:
                tool = "stick" if said.do == "burst" else "hand"
                self.pass_time((said.minutes or 0.1) + (0.25 if said.do == "burst" else 0.0), lanes, tool)
                if said.do == "loosen":
                    self.lanes[lanes[0]].loose = 1.5
                seconds = 60 * (said.minutes or 0.1)
                kind = "stick" if said.do == "burst" else "hand"
                self.tap(Worked(id=self._id(), minute=self.minute(), portion=said.portion, tool=kind, seconds=seconds))
                self.look(lanes)
                if said.do == "loosen":
                    return False
            case "hold":
                self.tap(ScentInTurn(id=self._id(), minute=self.minute()))
            case "fold" if lanes:
                self.fold(lanes[0], [self.names.index(n) for n in said.into])
                self.tap(Folded(id=self._id(), minute=self.minute(), portion=said.portion or "", into=said.into))
            case "spare":
                rest = sum(s.wants.weight for s in self.ahead() if s.looks)
                self.got += 0.15 * rest
                self.weight += rest
                self.tap(Spared(id=self._id(), minute=self.minute()))
            case "look" if (said.step, said.portion) not in self.asked:
                self.asked.add((said.step, said.portion))
                self.look(lanes, asked=True)
            case "wait":
                self.pass_time(said.minutes or 1.0)
                self.look(range(len(self.lanes)))
            case _:
                return False
        return True

    def fold(self, x: int, into: Sequence[int]) -> None:
        mine = [s for s in self.ahead() if s.looks and x in s.lanes and s.do in INTO_MOULD]
        weight = sum(s.wants.weight / len(s.lanes) for s in mine)
        self.got += 0.6 * weight
        self.weight += weight
        for y in into:
            a, b = self.lanes[x], self.lanes[y]
            w = a.grams / (a.grams + b.grams)
            b.progress = exp(w * log(max(a.progress, 1e-3)) + (1 - w) * log(max(b.progress, 1e-3)))
            b.dose = w * a.dose + (1 - w) * b.dose
        self.pass_time(0.5)

    def best_turn(self, scent: bool) -> None:
        """Who knows the batter tries on copies of it: going on, every change of technique, and before a fragrance goes
        in whether all of them had better wait for their turn."""
        if scent and (self.held or len(self.names) == 1):
            return
        self.held |= scent
        here = {"id": self._id(), "minute": self.minute()}
        turns = [TechniqueChanged(**here, technique=t) for t in _turns_of(self.technique.turns)]
        options: list[Event | None] = [None, *([ScentInTurn(**here)] if scent else turns)]
        values = []
        for n, option in enumerate(options):
            other = deepcopy(self)
            other.rng = np.random.Generator(np.random.PCG64(3))
            for lane in other.lanes:
                lane.rng = other.rng
            if option is not None:
                other.tap(option)
                if not any(s.looks for s in other.ahead()):
                    continue
            values.append((other.run("never").value - (0.01 if option else 0.0), n))
        best = options[max(values)[1]]
        if best is not None:
            self.tap(best)


def _turns_of(turns: object) -> list[str]:
    assert isinstance(turns, dict)
    return list(dict.fromkeys(t for way in turns.values() for t in way if t not in ("plain", "tamp", "textured-top")))
