"""What the batter clock believes before a single pour is logged.

Tags: [T] common practice in the trade, no source · [M] from memory · [C] chosen. Rates are natural
logarithms; times are reference minutes: rest at 37 °C with the reference formula, counted from emulsion.
"""

from dataclasses import dataclass
from math import log

from ..shelf import STAGES, Claim, Family, Fragrance

THRESHOLDS = STAGES[2:]

# Reference minutes at which each stage is reached, and the noise of one portion about it [C].
# Light is the noisiest: it absorbs bursts nobody logged before "emulsion".
THRESHOLD_MINUTES = {"light": 4.0, "medium": 12.0, "thick": 28.0, "set": 65.0}
NOISE = {"light": 0.46, "medium": 0.29, "thick": 0.25, "set": 0.28}
THRESHOLD_SHIFT_SD = 0.28  # one shift shared by all four [C]
THRESHOLD_OWN_SD = 0.16  # and one of each its own [C]
# Doubt about the clock itself, which no pour takes away: a maker's batter is not the clock's. Of the thresholds' common
# shift, of each its own, and of what ten degrees do [C], so that spans hold in worlds unlike it (`bench.spans`).
FLOOR_SHIFT_SD, FLOOR_OWN_SD, FLOOR_TEMPERATURE_SD = 0.20, 0.15, 0.10

BATCH_SD = 0.36  # [C]
PORTION_SD = 0.22  # [C]

HAND, STICK = log(2.5), log(30.0)  # ln-rate of stirring by hand and with the stick, rest is 0 [T, C]
HAND_SD, STICK_SD = 0.30, 0.30

REFERENCE_CELSIUS = 37.0
TEMPERATURE, TEMPERATURE_SD = log(2.0), 0.15  # ln-rate per 10 °C above 37: "doubling per ten degrees" [T]
STATED_CELSIUS_SD, MEASURED_CELSIUS_SD = 4.0, 1.0  # [C]

EMULSION_WORK = 4.5  # reference minutes of blending that make an emulsion [C]
LEAST_EMULSION = 0.2  # minutes: until the stick is down and the pot has been round once, however hot it is [C]
EMULSION_WORK_SD = 0.25  # of its logarithm [C]
BLENDING_SHARE = 0.5  # of the time before emulsion the stick runs, the rest it is stirred and looked at [C]
BLEND_SD = 0.12  # at 3 % of fats: how far a blend may be from what its parts make together [C]
INHERITED_SD = 0.25  # at 3 % of fats: how far another bottle or supplier of a scent may differ [C]
SCENT_STICK_MINUTES = 10 / 60  # blending one in with the stick [C]
SCENT_STIR_MINUTES = 0.5  # whisking a fragrance into a portion by hand [C]
# A fragrance does not act at once. It is tapped when the whisk rests, so it may have met the batter SCENT_EARLY minutes
# before; it comes on, and the batter jumps by a rate of its own until it is in, SCENT_ENTERS minutes after the tap. It
# goes on at its pace. Minutes after the tap, and how many times its ln-rate it acts from then on [C].
SCENT_EARLY, SCENT_ENTERS = 0.5, 1.35
SCENT_COURSE = ((-SCENT_EARLY, 0.3), (0.0, 0.5), (SCENT_ENTERS, 1.0))
# Sd of its jump at CLAIM_LOAD: so much, and so much more by what is claimed of its pace [C].
JUMP_SD, JUMP_BY_CLAIM = 0.4, 0.5
TURNED = (
    1.0,
    0.1,
)  # a tap that raises the level came this soon after: minutes, or share of the time since emulsion [C]
# A change of two levels at once this soon after a fragrance came after it: who stirs it in has the cup in sight [C].
RISEN_MINUTES, RISEN_LEVELS = 2.0, 2
BATCHES_ALIKE = 0.7  # correlation of the effects of one pour's batches [C]

COOLING_MINUTES_PER_100_G = 37.0  # time constant of 100 g of batter in a cup; grows with the cube root [M]


@dataclass(frozen=True)
class Factor:
    """A covariate: ln-rate `mean` ± `sd` for each `step` above `reference` (signs [T], sizes [C] or [M])."""

    reference: float
    step: float
    mean: float
    sd: float
    more: str
    less: str


FACTORS = {
    "lauric": Factor(0.20, 0.10, +0.12, 0.10, "more coconut-type fats", "less coconut-type fats"),
    "palmitic": Factor(0.22, 0.10, +0.20, 0.12, "more hard fats", "less hard fats"),
    "ricinoleic": Factor(0.03, 0.05, +0.06, 0.08, "more castor", "less castor"),
    "linoleic": Factor(0.10, 0.10, -0.05, 0.08, "more linoleic oils", "less linoleic oils"),
    "lye": Factor(0.33, 0.05, +0.20, 0.12, "less water", "more water"),
    "superfat": Factor(0.05, 0.05, -0.08, 0.08, "more superfat", "less superfat"),
    "sugar": Factor(0.0, 10.0, +0.12, 0.10, "sugar", "less sugar"),
    "milk": Factor(0.0, 27.0, +0.25, 0.20, "milk", "less milk"),  # sugar, protein and ash, not its fat
    "clay": Factor(0.0, 10.0, +0.06, 0.06, "clay", "less clay"),
    "lactate": Factor(0.0, 10.0, 0.0, 0.10, "sodium lactate", "less sodium lactate"),
    "salt": Factor(0.0, 10.0, +0.05, 0.10, "salt", "less salt"),
    "ethanol": Factor(0.0, 10.0, +0.25, 0.20, "alcohol", "less alcohol"),
    # Soap as soon as lye meets it: a twentieth of stearic acid sets a warm pot within a minute [T].
    "acid": Factor(0.0, 10.0, +0.40, 0.15, "free fatty acid", "less free fatty acid"),
    "powder": Factor(0.0, 10.0, +0.04, 0.06, "powder that swells", "less powder that swells"),
    "pomace": Factor(0.0, 0.10, +0.08, 0.06, "pomace oil", "less pomace oil"),  # quick [T]
    # Of these nothing is known: doubt alone.
    "hydrogenated": Factor(0.0, 0.10, 0.0, 0.06, "hydrogenated fat", "less hydrogenated fat"),
    "offcuts": Factor(0.0, 50.0, 0.0, 0.10, "soap offcuts", "less soap offcuts"),
    "potash": Factor(0.0, 0.10, 0.0, 0.08, "potassium hydroxide", "less potassium hydroxide"),
}

# ln-rate of a fragrance at 3 % of fats, by what the supplier claims [C] ...
CLAIM_LOAD = 3.0
SATURATES = 0.75  # power of a portion's dose with which its fragrance acts: twice as much does less than twice [C]
CLAIM = {
    Claim.SLOWS: (-0.30, 0.25),
    Claim.NONE: (0.05, 0.25),
    Claim.SLIGHT: (0.35, 0.30),
    Claim.MODERATE: (0.85, 0.40),
    Claim.STRONG: (1.50, 0.50),
    Claim.SEIZES: (2.50, 0.70),
    Claim.UNKNOWN: (0.40, 0.68),
}
# ... and by its family where nothing is claimed [M].
FAMILY = {
    Family.CITRUS: (0.0, 0.30),
    Family.MINT: (0.05, 0.35),
    Family.WOOD: (0.15, 0.40),
    Family.FRESH: (0.20, 0.40),
    Family.FRUITY: (0.25, 0.50),
    Family.SWEET: (0.40, 0.50),
    Family.MUSK: (0.50, 0.60),
    Family.FLORAL: (0.90, 0.70),
    Family.SPICE: (1.60, 0.70),
    Family.OTHER: CLAIM[Claim.UNKNOWN],
}


def fragrance_prior(fragrance: Fragrance) -> tuple[float, float]:
    """Mean and sd of the ln-rate at 3 % of fats, from the claim, or from the family where none is made."""
    return FAMILY[fragrance.family] if fragrance.claim is Claim.UNKNOWN else CLAIM[fragrance.claim]


def jump_sd(fragrance: Fragrance) -> float:
    """Sd of the ln-rate by which the batter jumps while a fragrance goes in, at 3 % of fats; its mean is 0."""
    return JUMP_SD + JUMP_BY_CLAIM * abs(fragrance_prior(fragrance)[0])
