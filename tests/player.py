"""A random player of pours: what must hold of the bench whatever is tapped, in any technique and own plan.

Nobody so careless pours, and nobody so patient: it looks, presses what the keys say, flags, folds, waits, in any order.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from random import Random
from uuid import UUID

from roundstone.core.account import Account, account_of
from roundstone.core.advise import Advice, advise, bench_now
from roundstone.core.forecast import Job, Knows, Projection, project
from roundstone.core.pour import (
    Event,
    Flagged,
    LayerTested,
    PouringBegan,
    ScentIn,
    Split,
    StageSeen,
    check,
)
from roundstone.core.recipe import INTO_MOULD, Design, Portion, Recipe
from roundstone.core.sheet import weigh
from roundstone.core.shelf import STAGES, Shelf
from roundstone.core.simulate.judge import SOLID
from roundstone.core.values import RuleError

NAMES = ("Base", "Ash", "Rust", "Sea", "Fig", "Clay", "Moss", "Ink")
LONGEST = 90  # letters of a headline
SLACK = 0.05  # of a portion: what the steps of a technique leave in the cup
NOISE = 0.03  # by which the odds may rise when worse is told: the noise of the draws


@dataclass
class Play:
    """One pour, tap by tap; `breaches` are what must not be, in words."""

    job: Job
    knows: Knows
    dice: Random
    events: list[Event] = field(default_factory=list)
    now: float = 0.0
    breaches: list[str] = field(default_factory=list)

    def id(self) -> UUID:
        return UUID(int=self.dice.getrandbits(128))

    def at(self, now: float, events: Sequence[Event] | None = None) -> tuple[Projection, Advice, Account]:
        told = project(self.job, self.knows, 1, events=self.events if events is None else events, now=now)
        return told, advise(told), account_of(told)

    def tap(self, event: Event) -> None:
        try:
            check(event.model_copy(update={"sure": True}), self.events, self.job.recipe, self.job.shelf)
        except RuleError:
            return
        self.events.append(event)

    def somewhere(self, told: Projection, account: Account) -> Event:
        """Something a hand may tap at any time."""
        who = self.dice.choice([p.name for p in account.portions])
        base = {"id": self.id(), "minute": self.now}
        level = min(told.state.level(who) + self.dice.choice((0, 1, 1, 2)), 5)
        taps: list[Event] = [
            StageSeen(**base, portion=who, stage=STAGES[max(level, 1)]),
            StageSeen(**base, portion=who, stage=STAGES[max(level, 1)]),
            ScentIn(**base, portion=who),
            Flagged(**base, portion=who, flag=self.dice.choice(("ricing", "seizing", "separation"))),
            Split(**base),
            PouringBegan(**base),
        ]
        if account.mould:
            below = account.portions[self.dice.choice(account.mould)].name
            taps.append(LayerTested(**base, portion=below, how=self.dice.choice(("stands", "wet", "slumps"))))
        return self.dice.choice(taps)

    def play(self, most: int = 24) -> None:
        for _ in range(most):
            told, advice, account = self.at(self.now)
            self.holds(told, advice, account)
            if told.state.ended is not None:
                return
            keys = bench_now(told, advice, {}).keys
            if keys and self.dice.random() < 0.7:
                key = self.dice.choice(keys[:2])
                self.tap(key.event.model_copy(update={"id": self.id(), "minute": self.now}))
            else:
                self.tap(self.somewhere(told, account))
            self.now += self.dice.choice((0.1, 0.5, 1.0, 3.0, 15.0))

    def holds(self, told: Projection, advice: Advice, account: Account) -> None:
        for broken in (
            *conserved(told, account),
            *spoken(advice, account),
            *self.patient(told, advice),
            *self.in_any_order(account),
            *self.no_better_for_worse(told, account),
        ):
            where = f"{self.job.recipe.design.technique}, {len(account.portions)} portions, {self.now:.1f} min"
            self.breaches.append(f"{broken} [{where}]: " + str(advice.headline))

    def patient(self, told: Projection, advice: Advice) -> Iterator[str]:
        """Time alone does nothing: the plan's own key taps what it tapped, and nothing more is told."""
        later, then, account = self.at(self.now + self.dice.choice((2.0, 20.0)))
        if told.state.ended is not None:
            return
        before = [s.task.key for s in account_of(told).steps if s.standing == "told"]
        if before != [s.task.key for s in account.steps if s.standing == "told"]:
            yield "a step was told by the clock"
        if advice.do == advice.go and then.do == then.go:
            was, now = (bench_now(p, a, {}).keys[:1] for p, a in ((told, advice), (later, then)))
            if [_what(k.event) for k in was] != [_what(k.event) for k in now]:
                yield f"the big key moved by itself: {[k.message for k in was]} to {[k.message for k in now]}"

    def in_any_order(self, account: Account) -> Iterator[str]:
        mixed = [*self.events, *self.events[:2]]
        self.dice.shuffle(mixed)
        _, _, again = self.at(self.now, mixed)
        if [(s.task.key, s.standing) for s in again.steps] != [(s.task.key, s.standing) for s in account.steps]:
            yield "another order of the same taps gives another account"

    def no_better_for_worse(self, told: Projection, account: Account) -> Iterator[str]:
        """A cup that is flagged as seizing comes no better for it. Of others it may tell that the batch is slow."""
        out = [p for p in account.outside if p.where == "pot" and p.flag is None]
        if not out or told.state.ended is not None:
            return
        who = self.dice.choice(out)
        worse = Flagged(id=self.id(), minute=self.now, portion=who.name, flag="seizing", sure=True)
        after, _, _ = self.at(self.now, [*self.events, worse])
        was, now = fits(told, who.lane), fits(after, who.lane)
        # Lumps are of some use to what wants it thick, and no more than that.
        better = [key for key in was if now.get(key, 0.0) > max(was[key], SOLID) + NOISE]
        if better:
            yield f"{who.name} seizes, and comes better in {better[0]}: {was[better[0]]:.2f} to {now[better[0]]:.2f}"


def fits(told: Projection, lane: int) -> dict[str, float]:
    """How well a portion suits each step to come, by key."""
    return {
        p.task.key: float(p.each[p.task.lanes.index(lane)].mean())
        for p in told.outcome.steps
        if not p.done and lane in p.task.lanes and p.task.looks
    }


def _what(event: Event) -> dict[str, object]:
    return event.model_dump(exclude={"id", "minute"})


def conserved(told: Projection, account: Account) -> Iterator[str]:
    """No batter vanishes: of each portion what was told to be in the mould and what is still to come make the whole."""
    for p in account.portions:
        spared = {None, p.name} & told.state.spared.keys()
        if p.where in ("folded", "spare") or spared or told.state.ended is not None:
            continue
        counted = sum(
            s.task.wants.part for s in account.steps if p.lane in s.task.lanes and s.task.do in (*INTO_MOULD, "spare")
        )
        if not 1 - SLACK <= counted <= 1 + SLACK:
            yield f"{counted:.2f} of {p.name} is counted"


def spoken(advice: Advice, account: Account) -> Iterator[str]:
    """What the sentence says is possible by what was told, and it is a sentence."""
    if len(advice.headline) > LONGEST or not advice.headline.endswith((".", "?")) or not advice.detail:
        yield "no short sentence"
    lanes = {p.name: p.lane for p in account.portions}
    who = [lanes[n] for n in (advice.portion,) if n in lanes]
    if advice.do in ("burst", "loosen") and account.never("stick" if advice.do == "burst" else "loosen", who):
        yield f"{advice.do} of what was told to be {account.never('stick', who)}"
    step = account.task(advice.go_step if advice.do == "step" else None)
    solid = step is not None and account.instead(step.do, step.lanes) == "spoon"
    if step is not None and solid and "Spoon" not in advice.headline:
        yield f"{step.do} of what is solid"
    if "thicken" in str(advice.detail).lower() and step is not None and account.never("stick", step.lanes):
        yield "thicken with the stick where the stick is out of the question"
    if advice.go == "ended" and any(t.looks for t in account.open):
        yield "all in, with steps that nobody told"
    if step is not None and step.do in INTO_MOULD and all(account.portions[i].where == "spare" for i in step.lanes):
        yield f"{step.do} of what is in a spare mould"
    lies = advice.portion in lanes and account.portions[lanes[advice.portion]].where == "mould"
    if lies and advice.do in ("fold", "burst", "loosen", "rescue"):
        yield f"{advice.do} of what lies in the mould"


def designs(shelf: Shelf, dice: Random) -> Design:
    """Any technique with as many portions as it takes."""
    technique = dice.choice(sorted(t for t, of in shelf.techniques.items() if of.pots))
    least, most = shelf.techniques[technique].pots, shelf.techniques[technique].most or 8
    many = dice.randint(least, max(least, min(most, 8)))
    shares = [1.0] if many == 1 else [0.5, *([0.5 / (many - 1)] * (many - 1))]
    portions = tuple(Portion(name=n, share=s) for n, s in zip(NAMES, shares, strict=False))
    layers = technique == "straight-layers" and many <= 3 and dice.random() < 0.5
    return Design(portions=portions, technique=technique, batching="layers" if layers else "whole")


def played(recipe: Recipe, shelf: Shelf, knows: Knows, seed: int) -> list[str]:
    """What must not be and was, in one random pour of a recipe."""
    dice = Random(seed)
    of = recipe.model_copy(update={"design": designs(shelf, dice)})
    sheet = weigh(of, shelf).sheet
    if sheet is None:
        return []
    play = Play(Job(of, shelf, sheet), knows, dice)
    play.play()
    return [f"seed {seed}: {b}" for b in play.breaches]
