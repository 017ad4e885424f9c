"""Everything past pours give a forecast, without the pours; small, and kept beside the log."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np

from ..batter import Knowledge, Noise, doubted, extended, trade_knowledge
from ..forecast import HazardKnowledge, Knows, Usual, claimed_hazards
from ..rest import RestLearned
from ..shelf import Shelf
from ..simulate import Hands, Utility
from .colours import ColourLog
from .files import FragranceLog
from .verdicts import Verdicts

CLOCK = 5  # one more whenever coefficients come to mean something else: what was learned is then learned anew


@dataclass(frozen=True)
class Taught:
    """Everything past pours give a forecast, without the pours: small, and kept beside the log.

    `poured` counts finished pours by fragrance that were looked at after it went in, `mishaps` how often each was
    seen and how it ended; `verdicts` what the maker said of how they came out, `rest` what their blocks taught of
    cutting, gel and cure, `fragrances` and `colours` what was seen of each, by id. `left_out` ones could not be
    weighed any more. `fresh` when it is of the log as it stands, not of one a little older.
    """

    shelf: Shelf
    knowledge: Knowledge
    trade: Knowledge
    usual: Usual
    hazards: HazardKnowledge
    poured: Mapping[str, int]
    left_out: tuple[str, ...] = ()
    fresh: bool = True
    hands: Hands = Hands()  # noqa: RUF009 - a value nobody changes
    mishaps: Mapping[str, Mapping[str, int]] = field(default_factory=dict)
    verdicts: Verdicts = Verdicts()  # noqa: RUF009 - a value nobody changes
    rest: RestLearned = RestLearned()  # noqa: RUF009 - a value nobody changes
    fragrances: Mapping[str, FragranceLog] = field(default_factory=dict)
    colours: Mapping[str, ColourLog] = field(default_factory=dict)

    def knows(self, stated: Utility) -> Knows:
        """What a forecast is made from, by what this maker said a pour that comes otherwise is worth."""
        utility = self.verdicts.utility(stated)
        known = self.knowledge, doubted(self.trade), self.hazards, self.hands
        return Knows(*known, utility, self.usual, self.poured, self.fresh)

    @cached_property
    def claims(self) -> Knowledge:
        """What is believed by the claims alone, whatever others saw."""
        return trade_knowledge(self.shelf.fragrances.values(), self.trade.noise) if self.shelf.others else self.trade

    def on(self, shelf: Shelf, noise: Noise) -> "Taught":
        """The same on a shelf that has changed since: what is new there is believed as claimed."""
        trade = trade_knowledge(shelf.fragrances.values(), noise, shelf.others)
        hazards = claimed_hazards(shelf, self.hazards)
        known = extended(self.knowledge, trade, shelf.fragrances.values(), shelf.others)
        return replace(
            self,
            shelf=shelf,
            trade=trade,
            knowledge=known,
            hazards=hazards,
        )

    def packed(self) -> dict[str, Any]:
        """What `unpacked` reads: plain values for JSON. The shelf and what the trade believes are not in it."""
        k, h, v = self.knowledge, self.hazards, self.verdicts
        return {
            "clock": CLOCK,
            "names": k.names,
            "mean": k.mean.tolist(),
            "cov": k.cov.tolist(),
            "pours": k.pours,
            "noise": {"batch": k.noise.batch, "portion": k.noise.portion, "stages": k.noise.stages},
            "usual": self.usual.model_dump(),
            "hazards": {"names": h.names, "mean": h.mean.tolist(), "cov": h.cov.tolist(), "counts": dict(h.counts)},
            "poured": dict(self.poured),
            "left_out": self.left_out,
            "hands": [self.hands.mean, self.hands.sd],
            "mishaps": {flag: dict(ways) for flag, ways in self.mishaps.items()},
            "verdicts": [{i: list(x) for i, x in v.bands.items()}, v.sold, v.lost],
            "rest": self.rest.model_dump(),
            "fragrances": {i: x.model_dump(mode="json") for i, x in self.fragrances.items()},
            "colours": {i: x.model_dump(mode="json") for i, x in self.colours.items()},
        }


def unpacked(doc: Mapping[str, Any], shelf: Shelf, noise: Noise) -> Taught:
    """What was kept of an earlier `Taught`, on the shelf as it is now; KeyError or ValueError when it is of no use."""
    if doc["clock"] != CLOCK:
        raise ValueError("learned by another clock")
    n, h = doc["noise"], doc["hazards"]
    knowledge = Knowledge(
        tuple(doc["names"]),
        np.array(doc["mean"], dtype=float),
        np.array(doc["cov"], dtype=float),
        int(doc["pours"]),
        Noise(n["batch"], n["portion"], tuple(n["stages"])),
    )
    counts = {k: (int(seen), int(asked)) for k, (seen, asked) in h["counts"].items()}
    hazards = HazardKnowledge(tuple(h["names"]), np.array(h["mean"]), np.array(h["cov"]), counts)
    trade = trade_knowledge(shelf.fragrances.values(), noise, shelf.others)
    usual, left_out = Usual.model_validate(doc["usual"]), tuple(doc["left_out"])
    hands = Hands(*map(float, doc["hands"]))
    poured, seen = dict(doc["poured"]), dict(doc["mishaps"])
    bands, sold, lost = doc["verdicts"]
    verdicts = Verdicts({i: (float(shift), int(n)) for i, (shift, n) in bands.items()}, int(sold), int(lost))
    told = Taught(
        shelf,
        knowledge,
        trade,
        usual,
        hazards,
        poured,
        left_out,
        hands=hands,
        mishaps=seen,
        verdicts=verdicts,
        rest=RestLearned.model_validate(doc["rest"]),
        fragrances={i: FragranceLog.model_validate(x) for i, x in doc["fragrances"].items()},
        colours={i: ColourLog.model_validate(x) for i, x in doc["colours"].items()},
    )
    return told.on(shelf, noise)
