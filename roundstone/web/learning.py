"""How good the forecasts were, what the log tuned, and what differed between pours."""

from contextlib import suppress

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.batter import Noise
from ..core.logbook import Logged, Past, Taught, differ, laid_out
from ..core.sheet import bottles
from ..core.values import Fault, RuleError
from . import messages as m
from .context import AppContext, answer
from .pours import lines_of


def register(api: APIBlueprint, context: AppContext) -> None:
    """Add the routes of learning."""
    workshop, learned = context.workshop, context.learned

    def noise_view(noise: Noise, pours: int) -> m.NoiseView:
        return m.NoiseView(batch=noise.batch, portion=noise.portion, stages=list(noise.stages), pours=pours)

    def learning() -> m.Learning:
        taught = learned.taught()
        card = learned.card()
        noise, pours = learned.noise()
        return m.Learning(
            card=card,
            scoring=learned.scoring.progress,
            tuning=learned.tuning.progress,
            failed=learned.scoring.failed or learned.tuning.failed or learned.fitting.failed,
            noise=noise_view(noise, pours),
            trade=noise_view(Noise(), 0),
            due=learned.due(taught),
        )

    @api.get("/learning", responses={200: m.Learning})
    def get_learning() -> Response:
        return answer(learning())

    @api.post("/learning/tune", responses={200: m.Learning})
    def post_tune() -> Response:
        learned.tune()
        return answer(learning())

    def of(taught: Taught, pour_id: str, at: str) -> Logged:
        pour = workshop.pours.get(pour_id)
        past = Past(pour.id, pour.recipe, pour.events, sheet=workshop.pours.sheet_of(pour))
        with suppress(ValueError):
            found = laid_out(past, taught.shelf, taught.trade)
            if found is not None:
                return found
        raise RuleError(Fault(pointer=at, message="This pour has not ended, or its recipe can no longer be weighed."))

    @api.post("/differ", responses={200: m.Differences})
    def post_differ(body: m.Differ) -> Response:
        taught = learned.taught()
        logged = [of(taught, pour_id, f"/pours/{i}") for i, pour_id in enumerate(body.pours)]
        first, *others = logged
        took = context.stock.allocation()
        used = [bottles(took, p.pour) for p in logged]
        told = [
            differ(first, other, taught.knowledge, taught.shelf, (used[0], of))
            for other, of in zip(others, used[1:], strict=True)
        ]
        lines = lines_of(context, [workshop.pours.get(p.pour) for p in logged])
        return answer(m.Differences(first=lines[0], pours=lines[1:], others=told))
