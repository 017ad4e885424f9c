"""The keys of rest: what each touch taps."""

from typing import Any, Literal

from ..pour import CUT_FELT
from ..recipe import Wrap
from ..text import Text
from ..values import Value

Touch = Literal[
    "cover", "mist", "oven-off", "unmould", "cut", "gel", "judge-cut", "weigh", "bevel", "stamp", "judge-week",
    "judge-cured",
]  # fmt: skip


class Next(Value):
    """One thing to do: between `first` and `until` hours since it was poured; `sure` and `late` are the inner edges."""

    what: Touch
    tool: str = ""
    message: Text
    first: float
    sure: float
    late: float
    until: float
    after: str = ""


class RestKey(Value):
    """A key and the event it taps; the page gives it an id and a minute."""

    label: str
    event: dict[str, Any]


def keys_of(first: Next | None, planned: Wrap) -> tuple[RestKey, ...]:  # noqa: PLR0911 - one return a touch
    match first.what if first else "":
        case "cover":
            ways = {"open": "open", "covered": "covered", "insulated": "in a towel", "oven": "in a warm oven"}
            ways["cold"] = "in a cold place"
            order = sorted(ways, key=lambda how: how != planned)  # as planned comes first
            return tuple(RestKey(label=ways[how].capitalize(), event={"kind": "wrap", "how": how}) for how in order)
        case "mist":
            return (key_of("Misted again", "mist"),)
        case "oven-off":
            return (RestKey(label="The oven is off", event={"kind": "wrap", "how": "oven-off"}),)
        case "unmould":
            how = {"clean": "Unmoulded", "stuck": "It sticks", "tore": "It tore"}
            keys = [RestKey(label=w, event={"kind": "unmould", "how": h}) for h, w in how.items()]
            return (*keys, RestKey(label="Still soft: a finger dents it", event={"kind": "touch", "how": "dents"}))
        case "cut":
            tool = first.tool if first else "wire"
            felt = ("clean", "drags", "dents", "hard")
            said = {"clean": "Cut clean"} | {k: CUT_FELT[k] for k in felt[1:]}  # type: ignore[index] # CutFelt
            return tuple(
                RestKey(label=said[h][0].upper() + said[h][1:], event={"kind": "cut", "how": h, "tool": tool})
                for h in felt
            )
        case "gel":
            words = {"none": "No gel", "ring": "A ring", "full": "Gelled through"}
            return tuple(RestKey(label=w, event={"kind": "gel", "how": h}) for h, w in words.items())
        case "bevel":
            return finished("bevelled")
        case "stamp":
            return finished("stamped")
    return ()


def finished(what: str) -> tuple[RestKey, ...]:
    how = {"clean": what.capitalize(), "soft": "Too soft", "hard": "Too hard"}
    return tuple(RestKey(label=w, event={"kind": "finish", "what": what, "how": h}) for h, w in how.items())


def key_of(label: str, kind: str, **event: Any) -> RestKey:
    return RestKey(label=label, event={"kind": kind, **event})


# What can be told at any time; the cut too, once its keys have gone.
LATE = (
    key_of("Unmoulded", "unmould", how="clean"),
    *(
        key_of(f"Cut by {tool}: {words}", "cut", how=how, tool=tool)
        for tool in ("wire", "knife")
        for how, words in (("clean", "clean"), ("drags", "it dragged"), ("hard", "had to be pushed"))
    ),
)
OTHERS = (
    key_of("A finger dents it", "touch", how="dents"),
    key_of("It is firm", "touch", how="firm"),
    key_of("Uncovered", "wrap", how="open"),
    key_of("Misted with alcohol", "mist"),
    key_of("Ash: some", "ash", how="some"),
    key_of("Ash: much", "ash", how="much"),
    key_of("No ash", "ash", how="none"),
    key_of("It seeps", "block", what="seeping"),
    key_of("It cracked", "block", what="cracked"),
    *(key_of(what.capitalize(), "finish", what=what) for what in ("planed", "bevelled", "stamped", "steamed")),
    key_of("No zap", "test", zaps=False),
    key_of("It zaps", "test", zaps=True),
)
