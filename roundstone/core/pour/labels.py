"""An event in words, as the log lists it."""

from ..text import C, G, Text, figure, say
from ..values import listed
from . import after
from .events import (
    CameOut,
    ColourSeen,
    Combined,
    Event,
    Flagged,
    Folded,
    Judged,
    LayerTested,
    Mended,
    NextTime,
    Remark,
    Remarked,
    Renamed,
    ScentIn,
    StageSeen,
    StepDone,
    StepSkipped,
    Stood,
    TechniqueChanged,
    TemperatureRead,
    Worked,
)

REMARKS: dict[Remark, str] = {
    "watery-top": "watery on top",
    "odd-colour": "an odd colour",
    "smell": "smells odd",
    "lumps": "lumps",
    "air": "air bubbles",
    "spilled": "spilled",
    "residue": "residue poured on",
    "ran-short": "ran short",
    "words": "",
}
MENDED = {"smooth": "came smooth again", "rough": "used as it was", "lost": "lost"}
CAME_OUT: dict[CameOut, str] = {"drawn": "as planned", "different": "sellable", "lost": "lost"}
WORDS: dict[str, str] = {
    "pause": "hands off",
    "resume": "hands on again",
    "unlearned": "left out of learning",
    "unscented": "left unscented",
    "in-turn": "scent as each is poured",
    "spare": "into a spare mould",
    "smooth": "nothing else went wrong",
}
STOOD: dict[Stood, str] = {"stands": "stands at a tilt", "wet": "film, but wet", "slumps": "slumps"}


def label(event: Event) -> Text:  # noqa: PLR0912 - one branch a kind
    """An event in the words of the bench."""
    where = getattr(event, "portion", None)
    match event:
        case StageSeen():
            words = say(f"came to {event.stage}" if event.turned else str(event.stage))
        case Worked():
            words = say("blended" if event.tool == "stick" else "stirred", f" {event.seconds:.0f} s")
            words += {"mix": "", "thicken": " on purpose", "loosen": " to loosen it"}[event.purpose]
        case ScentIn():
            amount = say(", ", G(event.grams)) if event.grams is not None else ""
            amount = f", {100 * event.share:.0f} %" if event.share is not None else amount
            words = say("scent in", amount)
        case Combined():
            words = say(event.batch, " combined")
        case StepDone():
            words = say("done", ", otherwise" if event.changed else "", ": ", event.step)
        case StepSkipped():
            words = say("left out: ", event.step)
        case Folded():
            words = say("folded into ", listed(event.into))
        case LayerTested():
            words = say(STOOD[event.how])
        case Renamed():
            words = say("now called ", event.to)
        case Remarked():
            words = say(": ".join(w for w in (REMARKS[event.what], event.says) if w))
        case Mended():
            words = say(event.flag.replace("-", " "), " ended: ", MENDED[event.how])
        case Judged():
            words = say("came out ", CAME_OUT[event.came])
        case TemperatureRead():
            words = say(C(event.celsius))
        case TechniqueChanged():
            words = say("changed to ", event.technique.replace("-", " "))
        case Flagged():
            words = say(event.flag.replace("-", " "))
        case ColourSeen():
            words = say("colour ", event.shade, ", day ", figure(event.days))
        case NextTime():
            words = say("next time: ", event.says)
        case _ if isinstance(event, after.Rest | after.Heeded):
            words = after.rest_label(event)
        case _:
            words = say(WORDS.get(event.kind, event.kind))
    return say(where, ": ", words) if where else words
