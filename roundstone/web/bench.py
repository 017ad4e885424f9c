"""What every handler works with, and how it answers."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from http import HTTPStatus
from zlib import crc32

from flask import Response
from pydantic import BaseModel

from ..core.forecast import Projection, project
from ..core.values import RuleBroken
from ..core.weigh import Sheet, weigh
from ..store import PourRecord, Workshop
from ..store.learned import Learned


@dataclass(frozen=True)
class Bench:
    """What every handler works with."""

    workshop: Workshop
    learned: Learned
    now: Callable[[], datetime]

    def minute(self, pour: PourRecord) -> float:
        """The pour's clock now."""
        return max(0.0, (self.now() - pour.started).total_seconds() / 60)

    def running(self) -> dict[str, str]:
        """Pours not yet ended, by recipe."""
        return {p.recipe_id: p.id for p in self.workshop.pours() if not p.ended}

    def projection(self, pour: PourRecord) -> tuple[Sheet, Projection]:
        record = self.learned.record()
        shelf = record.shelf
        weighing = weigh(pour.recipe, shelf)
        if weighing.sheet is None:
            raise RuleBroken(*weighing.faults)
        projection = project(
            pour.recipe,
            weighing.sheet,
            shelf,
            record.knowledge,
            crc32(pour.id.encode()),
            events=pour.events,
            now=self.minute(pour),
            scent_pours=record.scent_pours(pour.recipe.fragrances),
        )
        return weighing.sheet, projection


def answer(value: BaseModel, status: HTTPStatus = HTTPStatus.OK) -> Response:
    return Response(value.model_dump_json(), status=status, content_type="application/json")
