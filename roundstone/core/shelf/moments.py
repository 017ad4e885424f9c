"""When each kind of additive goes in, and what happens when it goes in elsewhere. Common practice, no source."""

from ..text import C, Text, say
from ..values import Value
from .shelf import AdditiveKind, Moment, Vessel

COOL_LYE = 43  # °C below which lye is cool enough for what curdles or breaks down in it: common practice
# What is simply put into a vessel goes in then.
MOMENT_IN: dict[Vessel, Moment] = {"jug": "before-lye", "pot": "fats", "stir": "trace"}
WHEN: dict[Moment, Text] = {
    "before-lye": say("into the liquid before the lye"),
    "hot-lye": say("into the lye while it is hot"),
    "cool-lye": say("into the lye below ", C(COOL_LYE)),
    "fats": say("into the fats before the lye"),
    "trace": say("at emulsion, by hand"),
}
PUT: dict[Moment, Text] = {
    "fats": say("in the fats"),
    "before-lye": say("in the liquid, before the lye"),
    "hot-lye": say("in the hot lye"),
    "cool-lye": say("in the lye below ", C(COOL_LYE)),
    "trace": say("at emulsion"),
}


class Misplaced(Value):
    """What goes wrong with a kind of additive at a moment; `danger` when someone can be hurt."""

    message: Text
    danger: bool = False


_LATE_SUGAR = "Sugar dissolves badly once the lye is in, and scorches there: dissolve it before the lye."
_LATE_ACID = "Acid in finished lye heats at once and can spit: dissolve it before the lye."
_NOT_IN_FAT = "It does not dissolve in fats: grains of it stay in the bar."
_SILK = "Silk dissolves only in hot lye: elsewhere its threads stay."
_CLUMPS = "Powder in lye clumps and cannot be blended out: into the fats, where you can blend all you like."
_SCORCHES = "Milk solids scorch in lye that is hot: put them into the fats."
_RAW_LYE = "Some colours turn in raw lye: try a little first, or stir it in at emulsion."
_FLAMES = "Alcohol boils off hot lye and hot fats and burns: no flame near it."

MISPLACED: dict[AdditiveKind, dict[Moment, Misplaced]] = {
    "sugar": {
        "hot-lye": Misplaced(message=_LATE_SUGAR, danger=True),
        "cool-lye": Misplaced(message=_LATE_SUGAR),
        "fats": Misplaced(message=_NOT_IN_FAT),
        "trace": Misplaced(message="Dissolve it first in its own weight of the liquid, kept back."),
    },
    "acid": {
        "hot-lye": Misplaced(message=_LATE_ACID, danger=True),
        "cool-lye": Misplaced(message=_LATE_ACID, danger=True),
        "fats": Misplaced(message="It meets the lye only in the pot, and heats the batter there."),
        "trace": Misplaced(message="It takes lye from the batter at once and heats it: dissolve it before the lye."),
    },
    "salt": {
        "hot-lye": Misplaced(message="Salt dissolves badly in lye: put it into the liquid first."),
        "cool-lye": Misplaced(message="Salt dissolves badly in lye: put it into the liquid first."),
        "fats": Misplaced(message=_NOT_IN_FAT),
    },
    "lactate": {
        "hot-lye": Misplaced(message=say("Wait until the lye is below ", C(COOL_LYE), ".")),
        "fats": Misplaced(message="It is watery and does not mix with fats: into the cooled lye."),
    },
    "silk": {moment: Misplaced(message=_SILK) for moment in ("before-lye", "cool-lye", "fats", "trace")},
    "clay": {
        **{moment: Misplaced(message=_CLUMPS) for moment in ("before-lye", "hot-lye", "cool-lye")},
        "trace": Misplaced(message="Wet it first in three parts of water, or it draws water from the batter."),
    },
    "powder": {moment: Misplaced(message=_CLUMPS) for moment in ("before-lye", "hot-lye", "cool-lye")},
    "milk": {
        "before-lye": Misplaced(message=_SCORCHES, danger=True),
        "hot-lye": Misplaced(message=_SCORCHES, danger=True),
        "cool-lye": Misplaced(message=_SCORCHES),
        "trace": Misplaced(message="Stir it into a little of the liquid first, or it clumps."),
    },
    "pigment": {moment: Misplaced(message=_RAW_LYE) for moment in ("before-lye", "hot-lye", "cool-lye")},
    "oil": {
        moment: Misplaced(message="It is oil: it floats on lye.") for moment in ("before-lye", "hot-lye", "cool-lye")
    },
    "alcohol": {moment: Misplaced(message=_FLAMES, danger=True) for moment in ("before-lye", "hot-lye", "fats")},
    "other": {},
}
