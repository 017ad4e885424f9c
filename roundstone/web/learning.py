"""How good the forecasts were, what the log tuned, and what differed between pours."""

from flask import Response
from flask_openapi3 import APIBlueprint

from ..core.batter import Noise
from ..core.logbook import differ
from ..core.sheet import bottles
from ..core.values import Fault, RuleBroken
from . import messages as m
from .context import Bench, answer
from .pours import lines_of


def register(api: APIBlueprint, bench: Bench) -> None:
    """Add the routes of learning."""
    workshop, learned = bench.workshop, bench.learned

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

    @api.post("/differ", responses={200: m.Differences})
    def post_differ(body: m.Differ) -> Response:
        record = learned.record()
        logged = []
        for i, pour_id in enumerate(body.pours):
            found = record.pour(pour_id)
            if found is None:
                says = "This pour has not ended, or its recipe can no longer be weighed."
                raise RuleBroken(Fault(pointer=f"/pours/{i}", says=says))
            logged.append(found)
        first, *others = logged
        lots, uses = workshop.lots(), bench.uses()
        used = [bottles(lots, uses, p.pour) for p in logged]
        told = [
            differ(first, other, record.knowledge, record.shelf, (used[0], of))
            for other, of in zip(others, used[1:], strict=True)
        ]
        lines = lines_of(bench, [workshop.pour(p.pour) for p in logged])
        return answer(m.Differences(first=lines[0], pours=lines[1:], others=told))
