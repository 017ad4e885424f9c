"""What the bar will be like: strata of fatty acids, how it keeps, and when it can be cut.

Thresholds are common practice without a source; spans are given because makers disagree.
"""

from collections.abc import Sequence

from ..shelf import Additive, Fat
from ..values import Share, Value

SALT_BAR = 0.2  # g of salt per g of fats from which a bar sets and breaks like one: common practice
STRATA = {
    "quick": ("4:0", "6:0", "8:0", "10:0", "12:0", "14:0"),
    "hard": ("16:0", "18:0", "20:0", "22:0", "hydroxystearic"),
    "oleic": ("16:1", "18:1", "20:1", "22:1"),
    "soft": ("18:2", "18:3", "resin"),
    "castor": ("ricinoleic",),
}


class Bar(Value):
    """`strata` are shares of the fatty acids; the rest is said in words. A `salt` bar sets within hours."""

    strata: dict[str, Share]
    salt: bool
    keeping: str
    cutting: str


def describe(
    rows: Sequence[tuple[float, Fat]], doses: Sequence[tuple[float, Additive]], superfat: float, concentration: float
) -> Bar:
    """The bar of these fats (share, fat), doses (g per g fats, additive), superfat and lye concentration."""
    strata = {k: sum(m * f.acid_share(*acids) for m, f in rows) for k, acids in STRATA.items()}
    # Linolenic acid goes rancid about twice as readily as linoleic: common practice.
    risk = sum(m * (f.acid_share("18:2") + 2 * f.acid_share("18:3")) for m, f in rows) * (1 + 4 * superfat)
    keeping = (
        "keeps well, a year and more"
        if risk < 0.15
        else "keeps about a year in the cool and dark"
        if risk < 0.27
        else "spoils early: use within months, or less linoleic oil and superfat"
    )
    firm = strata["quick"] + strata["hard"] + 1.5 * (concentration - 0.33)
    dosed = {kind: sum(g for g, a in doses if a.kind == kind) for kind in ("lactate", "salt")}
    firm += 0.06 * (dosed["lactate"] > 0) + 0.06 * (dosed["salt"] > 0)
    cutting = (
        "a salt bar sets within hours and then breaks under the knife: cut it warm, after 1 to 4 hours, or pour it "
        "into single moulds"
        if dosed["salt"] >= SALT_BAR
        else "firm enough to cut after 12 to 24 hours"
        if firm > 0.42
        else "firm enough to cut after 18 to 36 hours"
        if firm > 0.30
        else "soft at first: cut after 2 to 4 days"
    )
    return Bar(strata=strata, salt=dosed["salt"] >= SALT_BAR, keeping=keeping, cutting=cutting)
