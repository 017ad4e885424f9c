"""Recipes, lanes and events for tests; nothing of the demo workshop, so that neither hides the other's mistakes."""

import os
import unittest
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any
from uuid import UUID

from roundstone.core.batter import Draws, Knowledge, Lane, Work, draw, infer, prior, sharing, trade_knowledge
from roundstone.core.forecast import Job, Knows, unlearned
from roundstone.core.pour import Ended, Event, ScentIn, Split, StageSeen
from roundstone.core.recipe import Design, FatShare, Portion, Recipe, Scent
from roundstone.core.sheet import Sheet, weigh
from roundstone.core.shelf import Claim, Family, Fragrance, Stage
from roundstone.reference import shelf as reference_shelf

SHELF = reference_shelf().model_copy(
    update={
        "fragrances": {
            claim.value: Fragrance(id=claim.value, name=f"Test {claim.value}", family=Family.OTHER, claim=claim)
            for claim in Claim
        }
    }
)
TRADE = trade_knowledge(SHELF.fragrances.values())
UNLEARNED = unlearned(SHELF)
# A world in which nothing rices, for checks of the clock alone.
SMOOTH = replace(UNLEARNED.hazards, mean=UNLEARNED.hazards.mean - 30)
REFERENCE_FACTORS = {k: f.reference for k, f in prior.FACTORS.items()}
TWO = (Portion(name="Base", share=0.6, scent=1.0), Portion(name="Bone", share=0.4, scent=0.0))


def recipe(**changes: Any) -> Recipe:
    """A plain two-portion recipe at 32 °C with a moderate fragrance."""
    plain = {
        "name": "Plain",
        "fats": (
            FatShare(fat="olive", share=0.5),
            FatShare(fat="coconut", share=0.25),
            FatShare(fat="lard", share=0.2),
            FatShare(fat="castor", share=0.05),
        ),
        "scents": (Scent(fragrance="moderate", load=0.03),),
        "pour_celsius": 32.0,
        "design": Design(portions=TWO, technique="drop-swirl"),
    }
    return Recipe.model_validate(plain | changes)


def weighed(of: Recipe) -> Sheet:
    weighing = weigh(of, SHELF)
    assert weighing.sheet is not None, weighing.faults
    return weighing.sheet


def job(of: Recipe) -> Job:
    """A recipe on the test shelf, weighed."""
    return Job(of, SHELF, weighed(of))


def knows(knowledge: Knowledge = UNLEARNED.knowledge, **changes: Any) -> Knows:
    """An empty log's, but for what is believed of the clock."""
    return replace(UNLEARNED, knowledge=knowledge, **changes)


def grams_of(sheet: Sheet) -> dict[str, float]:
    """Grams by the plain name of what stands on a line: olive, water, naoh, goat-milk, moderate."""
    out: dict[str, float] = {}
    for x in sheet.lines:
        name = f"{x.key}" if x.kind == "carrier" else x.item.partition(":")[2] or x.kind
        out[name] = out.get(name, 0.0) + x.grams
    return out


def lane(
    celsius: float = 37.0,
    scent: str | None = None,
    percent: float = 3.0,
    work: Sequence[Work] = (),
    marks: Sequence[float] = (),
    factors: Mapping[str, float] | None = None,
) -> Lane:
    """A batter held at one temperature from emulsion at minute 0, with the reference formula but for `factors`."""
    batter = Lane(
        name="only",
        origin=0.0,
        factors=REFERENCE_FACTORS | dict(factors or {}),
        temperature=lambda _: celsius,
        work=work,
        added={scent: (0.0, percent)} if scent else {},
    )
    return sharing([batter], marks)[0]


def drawn(of: Lane, knowledge: Knowledge = TRADE, draws: int = 20_000) -> Draws:
    """Crossing times before anything was seen, with a measured temperature."""
    return draw(infer(knowledge, [of], (), measured=True), [of], [{}], seed=5, draws=draws)


# What needs minutes to be told from luck: run by `bin/check --long`, before something big is called done.
statistics = unittest.skipUnless(os.environ.get("ROUNDSTONE_LONG"), "statistics: bin/check --long")


def many(quick: int, long: int) -> int:
    """Examples of a property: some in the check that one waits for, all of them in the long one."""
    return long if os.environ.get("ROUNDSTONE_LONG") else quick


_ids = iter(range(1, 1_000_000))


def plain(message: object) -> str:
    """Words as a maker reads them, with common spaces."""
    return str(message).replace("\xa0", " ")


def figure(shown: object) -> float:
    """The grams that a weight is printed as."""
    return float(str(shown).removesuffix("\xa0g"))


def next_id() -> UUID:
    return UUID(int=(4 << 76) | (8 << 60) | next(_ids))


def seen(minute: float, stage: Stage, portion: str | None = None, sure: bool = False) -> StageSeen:
    return StageSeen(id=next_id(), minute=minute, stage=stage, portion=portion, sure=sure)


def quick_pour() -> list[Event]:
    """A pour that accelerates in its scented portion."""
    return [
        seen(0.5, "emulsion"),
        Split(id=next_id(), minute=1.5),
        ScentIn(id=next_id(), minute=3.0, portion="Base"),
        seen(3.4, "light", "Base"),
        seen(4.0, "medium", "Base"),
        seen(4.2, "emulsion", "Bone"),
        seen(4.8, "thick", "Base"),
        seen(6.0, "light", "Bone"),
        Ended(id=next_id(), minute=8.0),
    ]
