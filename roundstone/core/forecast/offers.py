"""What a maker may want to do otherwise next time, as an offer: levers of the recipe by what its pours have shown."""

from ..sheet import weigh
from ..text import Text, figure, say
from ..values import Minutes, Share, Value
from .forecast import Projection, project
from .job import Job
from .levers import Lever, levers

OFFERED_BELOW = 0.85  # as planned: a plan that is likelier to come than that is left alone [C]
LEAST_BUYS, MOST = 0.05, 2  # in as planned, to be worth an offer, and offers at once [C]
LEAST_MINUTES = 0.5  # a change of medium trace that is worth a word [C]


class Offer(Value):
    """A lever to be pulled by one tap: what it would bring, in words, and what it costs."""

    key: str
    name: Text
    message: Text
    costs: str
    then: Share
    later: Minutes


def offers(plan: Projection) -> tuple[Offer, ...]:
    """The best of a plan's levers, the best first; none where it is likely to come as planned anyhow."""
    if plan.forecast.outlook.drawn >= OFFERED_BELOW:
        return ()
    best = [lever for lever in levers(plan).levers if lever.buys >= LEAST_BUYS][:MOST]
    return tuple(_offer(plan, lever) for lever in best)


def _offer(plan: Projection, lever: Lever) -> Offer:
    then, now = lever.outlook.drawn, plan.forecast.outlook.drawn
    later = _medium(plan, lever) - _medium(plan)
    words = say(f"as planned {100 * then:.0f} %, not {100 * now:.0f} %")
    if abs(later) >= LEAST_MINUTES:
        words += say("; medium ", figure(abs(later), ".0f" if abs(later) >= 3 else ".1f"), " min ", _when(later))
    return Offer(key=lever.key, name=lever.name, message=words, costs=lever.costs, then=then, later=later)


def _when(later: float) -> str:
    return "later" if later > 0 else "sooner"


def _medium(plan: Projection, lever: Lever | None = None) -> float:
    """Minutes from emulsion to medium of the portion that gets there first: of the plan, or with a lever pulled."""
    forecast = plan.forecast
    if lever is not None:
        sheet = weigh(lever.recipe, plan.shelf).sheet
        assert sheet is not None  # it was weighed to find what it buys
        forecast = project(Job(lever.recipe, plan.shelf, sheet), plan.knows, plan.seed).forecast
    return min(lane.stages[1].time.q50 for lane in forecast.lanes) - forecast.emulsion.q50
