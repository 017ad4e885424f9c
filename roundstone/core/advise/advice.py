"""One line for someone with wet gloves: what to do now, and why."""

from ..forecast.forecast import Projection
from ..forecast.odds import Outlook, chance, outlook
from ..forecast.turns import RISKY, fall_backs
from ..pour import clock_text
from ..recipe import INTO_MOULD
from ..text import joined, say
from .acts import Act
from .change import changed
from .choose import choose, weigh_acts
from .going import next_act, nothing_seen
from .rescue import rescued
from .sentence import Advice, Bench, overdosed, whisk_only


def advise(projection: Projection, standing: str = "") -> Advice:
    """What to do at this minute of the pour. `standing` is what the advice before this one was."""
    advice = _advised(Bench(projection), standing)
    return advice if advice.detail else advice.model_copy(update={"detail": "Tap it once it is done."})


def _advised(bench: Bench, standing: str) -> Advice:
    projection = bench.projection
    if projection.state.ended is not None:
        return _after(bench)
    going, others = weigh_acts(projection, bench.account)
    told = outlook(going.outcome, going.value)
    chosen = choose(going, [o for o in others if _may(bench, o.act)], standing)
    go = next_act(bench, told)
    if projection.state.paused:
        return go.model_copy(
            update={"headline": say("Hands off. Then: ", go.headline), "do": "resume", "standing": standing}
        )
    if chosen.act.kind == "go" or nothing_seen(projection.state):
        return rescued(bench, _warned(bench, go, told))
    if chosen.act.kind in OF_ALL:
        return changed(bench, go, told, chosen)
    return rescued(bench, changed(bench, go, told, chosen))


OF_ALL = ("fold", "switch", "spare")  # acts that answer a mishap by themselves


def _may(bench: Bench, act: Act) -> bool:
    """Whether an act may be said: what nobody told is asked for first, and a solid portion is not put off."""
    if act.kind == "switch":
        return not any(bench.account.never(t.do, t.lanes) for t in act.tasks if t.looks and t.do in INTO_MOULD)
    if act.kind in OF_ALL:
        return True
    look = bench.account.next_look
    if bench.account.assumed or look is None:
        return False
    if bench.account.never(look.do, look.lanes):
        return act.kind == "skip"
    return act.step is None or bench.account.task(act.step.key) is not None


def _after(bench: Bench) -> Advice:
    detail = "What this batter did is now part of every forecast."
    blind = sorted({f for lane in bench.schedule.bare for f in lane.added} - bench.schedule.watched)
    if blind:
        detail = (
            f"Nothing was seen after {bench.projection.shelf.blend_name(blind)} went in: this pour says nothing of it. "
            "Write in what you saw, and when."
        )
    if not bench.state.taught:
        detail = "This pour is left out of learning."
    guessed = [lane for lane in bench.schedule.lanes if lane.added and bench.state.scented_at(lane.name) is None]
    if guessed:
        minute = max(m for m, _ in guessed[0].added.values())
        detail = (
            f"The fragrance was not tapped: it counts as in at {clock_text(minute)}, as planned. "
            "Write in when it was, or that it was left out."
        )
    headline = "Poured. Cover it, and gloves stay on until it is."
    return Advice(headline=headline, detail=detail, do="done", go="done", pace=bench.speed)


def _warned(bench: Bench, go: Advice, told: Outlook) -> Advice:
    """Going on, with a word of what may go wrong and the first fall-back while there is time for it."""
    weakest = bench.projection.forecast.weakest
    quiet = whisk_only(bench) if any(s.do in ("colour", "scent") for s in bench.ahead) else ""
    go = go.model_copy(update={"caution": joined(" ", filter(None, [overdosed(bench), go.caution or quiet]))})
    if told.drawn >= RISKY or weakest is None or bench.state.ended is not None:
        return go
    projection = bench.projection
    found = list(
        fall_backs(
            projection.context,
            projection.at,
            projection.schedule.reconciled.ahead,
            projection.outcome,
            projection.job,
            bench.technique,
            most=1,
        )
    )
    words = say(weakest.message.capital(), ".")
    if found:
        back = found[0]
        words += f" Ready {back.trigger}: {back.name.lower()}, {chance(back.instead.drawn)}."
    return go.model_copy(update={"warning": words, "fall_back": found[0] if found else None})
