"""What to do in a mishap, and never to do: the card that stands until it is told how it ended."""

from collections.abc import Mapping

from ..pour import MENDED, Flag, PourState
from ..text import Text, say
from ..values import Minutes, Name, Share, Value, listed
from .sentence import Advice, Bench


class Rescue(Value):
    """A mishap that was tapped and is not told to have ended: what to do, what never, and how it went before."""

    flag: Flag
    portion: Name | None
    minute: Minutes
    name: str
    do: tuple[Text, ...]
    never: tuple[str, ...]
    known: str
    own: str


# What makers do and warn of: common practice, no source. Never the stick in batter that moves by itself.
RESCUES: dict[Flag, tuple[str, tuple[str, ...], tuple[str, ...], str]] = {
    "ricing": (
        "Grains",
        ("Whisk by hand, slowly and to the ground: most grains soften in a minute or two.",
         "Still grainy? Fold it into a sound portion, or use it where texture is welcome."),
        ("No stick: it sets before it is smooth.", "No more fragrance, no water, no lye."),
        "Floral and musky scents do it most, in cool batter with much hard fat.",
    ),
    "seizing": (
        "Seizing",
        ("Stop stirring. Spoon it in now, press it down, bang out the air.",
         "Cover it warm: lye and fats go on until they are done, and a warm block closes its gaps."),
        ("No stick, no water, no lye.", "Bare hands off: solid is not yet mild."),
        "It is soap all the same; only the look is lost.",
    ),
    "separation": (
        "Separating",
        ("Back into one pot, and the stick, until no oil streaks are left.",
         "Look at the lye: was all of it in? If in doubt, weigh what is left in the jug."),
        ("Do not pour it as it is: one end of the block would hold free lye.",),
        "Not yet an emulsion, or too cool.",
    ),
    "false-trace": (
        "False trace",
        ("Warm it gently until it is clear again, then blend anew.",),
        ("Do not pour it: fats that have set are no trace.",),
        "Hard fats that set below their melting point look thick and are not.",
    ),
    "overheating": (
        "Overheating",
        ("Uncover it, off the towel, onto a rack in the cool.", "A fan over it. A crack closes as it cools: press it."),
        ("Keep your face away: it can rise over the edge.", "No lid, no oven."),
        "Milk, honey, sugar and spice run hot.",
    ),
    "soup": (
        "Soup",
        ("Blend in bursts, and look between: slow is not wrong.", "After twenty minutes go through the weights again."),
        ("Add no lye.",),
        "Much oil that is liquid, much water, cool: it comes, only late.",
    ),
}  # fmt: skip


class Mishap(Value):
    """What may go wrong with a batter, how likely, and what is done first."""

    key: Flag
    name: str
    odds: Share
    do: str


def mishaps_of(odds: Mapping[Flag, Share]) -> tuple[Mishap, ...]:
    """What may go wrong, with what is done first."""
    return tuple(Mishap(key=f, name=RESCUES[f][0], odds=x, do=RESCUES[f][1][0]) for f, x in odds.items())


def rescue_of(state: PourState, mishaps: Mapping[str, Mapping[str, int]], advice: Advice) -> Rescue | None:
    """The card of the latest mishap that is not told to have ended. `mishaps` are from the maker's own log: pours told
    of, seen in, and how each ended. Where the bench advises another thing for that batter, the card says that."""
    flag = state.mishap()
    if flag is None:
        return None
    name, usual, never, known = RESCUES[flag.flag]
    do = tuple(map(say, usual))
    if advice.do in ("fold", "switch", "spare") and flag.portion in (None, advice.portion, *advice.into):
        do = (advice.headline,)
    record = mishaps.get(flag.flag, {})
    own = "Your log tells nothing of it yet."
    if record:
        own = f"In your log: {record.get('seen', 0)} of {record['told']} pours that tell."
        ways = [f"{words} {n}" for how, words in MENDED.items() if (n := record.get(how))]
        own += f" It ended: {', '.join(ways)}." if ways else ""
    return Rescue(
        flag=flag.flag, portion=flag.portion, minute=flag.minute, name=name, do=do, never=never, known=known, own=own
    )


# What the headline says of a mishap that hands can still do something about; who it is of stands in `{who}`.
HEADLINES: dict[Flag, tuple[str, str]] = {
    "ricing": ("Whisk {who} by hand until it is smooth.", "No stick: it sets before it is smooth."),
    "separation": ("Stick {who} until no oil streaks are left.", "Look at the lye: was all of it in?"),
    "false-trace": ("Warm {who} until it is clear, then blend anew.", "Fats that have set are no trace: do not pour."),
}


def rescued(bench: Bench, advice: Advice) -> Advice:
    """The mishap before anything else, while hands can mend it: its card, when it is open, is the headline."""
    flag = bench.state.mishap()
    if flag is None or flag.flag not in HEADLINES:
        return advice
    out = [p for p in bench.account.outside if flag.portion in (None, p.name)]
    if not out:
        return advice
    who = flag.portion or ("the pot" if bench.state.split is None else listed([p.name for p in out]))
    headline, never = HEADLINES[flag.flag]
    then = say("Then: ", advice.headline) if advice.do != "ended" else ""
    return advice.model_copy(
        update={
            "headline": headline.format(who=who),
            "amount": Text.NONE,
            "detail": say(never, " ", then).strip(),
            "do": "rescue",
            "portion": flag.portion,
            "instead": None,
            "minutes": None,
        }
    )
