"""A change of the plan, in a sentence with the odds of both."""

from ..forecast.odds import Outlook, chance, outlook, told_of
from ..text import Text, joined, say
from ..values import listed
from .choose import Weighed
from .sentence import Advice, Bench, about, furthest, overdosed, whisk_only


def changed(bench: Bench, go: Advice, told: Outlook, chosen: Weighed) -> Advice:  # noqa: PLR0911 - one an act
    """A change of the plan, with the odds of both."""
    act = chosen.act
    instead = outlook(chosen.outcome, chosen.value)
    who = bench.named(act.lanes)
    quiet = whisk_only(bench)
    both = say(furthest(bench), " Going on: ", told_of(told), ".")
    base = go.model_copy(
        update={
            "instead": instead,
            "amount": Text.NONE,
            "standing": act.name,
            "caution": joined(" ", filter(None, [overdosed(bench), quiet or go.caution])),
            "warning": Text.NONE,
        }
    )
    name = bench.technique.name.lower()
    match act.kind:
        case "switch":
            other = act.technique
            assert other is not None
            return base.model_copy(update={
                "headline": f"Leave the {name}. {other.name} instead.",
                "detail": say(both, " ", other.name, ": ", chance(instead.drawn), "; ", other.how, "."),
                "do": "switch", "technique": other.id, "technique_name": other.name,
            })  # fmt: skip
        case "skip":
            step = act.step
            assert step is not None
            return base.model_copy(update={
                "headline": f"Leave out: {step.label}.",
                "detail": say(both, " Without it: ", told_of(instead), "."),
                "do": "skip", "step": step.key,
            })  # fmt: skip
        case "fold":
            x, *into = (bench.names[i] for i in act.lanes)
            return base.model_copy(update={
                "headline": f"Fold {x} into {listed(into)}.",
                "detail": say("By hand, no stick. ", both, " Folded: ", told_of(instead), "."),
                "do": "fold", "portion": x, "into": tuple(into),
            })  # fmt: skip
        case "spare":
            return base.model_copy(update={
                "headline": "The rest into a spare mould.",
                "detail": say(both, " What is in the mould stays as it is."),
                "do": "spare", "portion": None,
            })  # fmt: skip
        case "hold":
            return base.model_copy(update={
                "headline": "Scent each just before it is poured.",
                "detail": say("Pour the first before the next gets its scent. ", both, " So: ", told_of(instead), "."),
                "do": "hold", "portion": None,
            })  # fmt: skip
        case "burst":
            seconds = 60 * act.minutes
            return base.model_copy(update={
                "headline": f"{who} is thin: {seconds:.0f} s with the stick.",
                "detail": say("In bursts, and look between them. ", both, " Then: ", told_of(instead), "."),
                "do": "burst", "portion": who, "minutes": act.minutes,
            })  # fmt: skip
        case "loosen":
            return base.model_copy(update={
                "headline": f"Stir {who} loose, then pour it at once.",
                "detail": say(f'By hand, {60 * act.minutes:.0f} s. ', both, " Then: ", told_of(instead), "."),
                "do": "loosen", "portion": who, "minutes": act.minutes,
            })  # fmt: skip
        case "order":
            return base.model_copy(update={
                "headline": f"{who} first: it is the thickest.",
                "detail": say(both, " In this order: ", told_of(instead), "."),
                "do": "order", "portion": who, "step": act.step.key if act.step is not None else None,
            })  # fmt: skip
    return base.model_copy(update={
        "headline": say("Still thin: wait ", about(act.minutes), ", then look."),
        "detail": say(both, " Then: ", told_of(instead), "."),
        "do": "wait", "minutes": act.minutes,
    })  # fmt: skip
