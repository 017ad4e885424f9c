"""What every handler works with, and how it answers."""

import re
import unicodedata
from base64 import b64decode
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime
from http import HTTPStatus
from io import BytesIO
from uuid import uuid4
from zlib import crc32

from flask import Response
from PIL import Image, ImageOps
from pydantic import BaseModel

from ..core.forecast import Projection, project
from ..core.recipe import Recipe
from ..core.sheet import Sheet
from ..core.stock import LotLeft, Use, left, used
from ..core.values import Caution, Fault, RuleBroken
from ..core.weigh import weigh
from ..store import Photo, PourRecord, Workshop
from ..store.learned import Learned

LARGEST_PHOTO = 1600  # pixels along the longer side


@dataclass(frozen=True)
class Bench:
    """What every handler works with."""

    workshop: Workshop
    learned: Learned
    now: Callable[[], datetime]
    taken: dict[int, dict[str, float]] = field(default_factory=dict)
    stock: list[tuple[int, tuple[LotLeft, ...]]] = field(default_factory=list)

    def lots_left(self) -> tuple[LotLeft, ...]:
        """What is left of every lot after all pours."""
        changes = self.workshop.changes
        if not self.stock or self.stock[0][0] != changes:
            self.stock[:] = [(changes, left(self.workshop.lots(), self.uses()))]
        return self.stock[0][1]

    def uses(self) -> list[Use]:
        """What every pour took; a poured version never changes, so it is weighed once."""
        uses = []
        for pour, version, started in self.workshop.poured():
            if version not in self.taken:
                sheet = weigh(self.workshop.version(version), self.workshop.shelf()).sheet
                self.taken[version] = used(sheet.lines) if sheet else {}
            uses.append(Use(day=started.date(), grams=self.taken[version], pour=pour))
        return uses

    def keep_photo(self, pour_id: str, data: str, days: float, note: str) -> Photo:
        """A picture made small, upright and free of what a camera writes into it; RuleBroken when it is none."""
        try:
            with Image.open(BytesIO(b64decode(data, validate=True))) as image:
                upright = ImageOps.exif_transpose(image).convert("RGB")
                upright.thumbnail((LARGEST_PHOTO, LARGEST_PHOTO))
                out = BytesIO()
                upright.save(out, "JPEG", quality=85)
        except (ValueError, OSError, Image.DecompressionBombError) as error:
            raise RuleBroken(Fault(pointer="/data", says="This is not a picture that can be read.")) from error
        photo = Photo(str(uuid4()), pour_id, days, note)
        self.workshop.add_photo(photo, out.getvalue())
        return photo

    def minute(self, pour: PourRecord) -> float:
        """The pour's clock now."""
        return max(0.0, (self.now() - pour.started).total_seconds() / 60)

    def running(self) -> dict[str, str]:
        """Pours not yet ended, by recipe."""
        return {p.recipe_id: p.id for p in self.workshop.pours() if not p.ended}

    def sheet(self, recipe: Recipe) -> tuple[Sheet, tuple[Caution, ...]]:
        """A recipe weighed, with its cautions; RuleBroken while it has faults."""
        weighing = weigh(recipe, self.workshop.shelf())
        if weighing.sheet is None:
            raise RuleBroken(*weighing.faults)
        return weighing.sheet, weighing.cautions

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


def attach(body: str | bytes, kind: str, name: str) -> Response:
    """A file to keep."""
    return Response(body, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})


def slug(name: str, taken: set[str]) -> str:
    """An id a person can read, not taken yet."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    base = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:50] or "unnamed"
    return next(i for n in range(1, 10_000) if (i := base if n == 1 else f"{base}-{n}") not in taken)
