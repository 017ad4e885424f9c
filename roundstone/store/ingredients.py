"""The shelf of a workshop: its fragrances and own ingredients beside the reference tables."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from functools import partial

import sqlalchemy as sa
from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.evidence import Evidence, Pool, file_of, heard
from ..core.formerly import lifted
from ..core.shelf import (
    Additive,
    Fat,
    Fragrance,
    Ingredient,
    Liquid,
    Shelf,
)
from ..core.values import ConflictError, NotFoundError
from ..reference import shelf as reference_shelf
from .database import Database, kept
from .settings import Settings
from .stamps import Stamps
from .tables import (
    CustomRow,
    EvidenceRow,
    FragranceRow,
    VersionRow,
)


@dataclass(frozen=True)
class Source:
    """A file of another workshop that was read, by its id, and when."""

    id: str
    file: Evidence | Pool
    read: datetime


def _parsed(s: Session, name: str) -> Evidence | Pool:
    return file_of(s.get_one(EvidenceRow, name).doc)


class Ingredients:
    """What stands on the shelf."""

    def __init__(self, database: Database, settings: Settings, stamps: Stamps) -> None:
        self._database, self._settings, self._stamps = database, settings, stamps
        self.forget()

    def forget(self) -> None:
        """Another workshop stands in the file."""
        # New ones: who still reads of the file before keeps it in the old ones, where nobody looks.
        self._shelf: tuple[tuple[int, ...], Shelf] | None = None  # as last read, with the stamp of what it rests on
        self._evidence: dict[tuple[str, datetime], Evidence | Pool] = {}

    def shelf(self) -> Shelf:
        """The reference shelf with this workshop's fragrances and own ingredients on it."""
        stamp = self._stamps.shelf()
        kept = self._shelf
        if kept is None or kept[0] != stamp:
            kept = self._shelf = (stamp, self._read_shelf())
        return kept[1]

    def _read_shelf(self) -> Shelf:
        with self._database.reading() as s:
            rows = s.scalars(select(FragranceRow)).all()
            known = [Fragrance.model_validate(r.doc) for r in rows]
            told = self._told(s) if any(f.known_as for f in known) else ()
            others = heard(known, (source.file for source in told))
            own = [self._own(r) for r in s.scalars(select(CustomRow).order_by(CustomRow.id))]
        fragrances = sorted(known, key=lambda f: f.name.casefold())
        standard = reference_shelf()
        return standard.model_copy(
            update={
                "scales": self._settings.scales(),
                "taps": self._settings.taps(),
                "humidity": self._settings.humidity(),
                "fragrances": {f.id: f for f in fragrances},
                "others": others,
                "fats": dict(standard.fats) | {x.id: x for x in own if isinstance(x, Fat)},
                "liquids": dict(standard.liquids) | {x.id: x for x in own if isinstance(x, Liquid)},
                "additives": dict(standard.additives) | {x.id: x for x in own if isinstance(x, Additive)},
            }
        )

    def sources(self) -> list[Source]:
        """Files of other workshops that were read, the latest first."""
        with self._database.reading() as s:
            return self._told(s)

    def _told(self, s: Session) -> list[Source]:
        """The same; one that was parsed is not parsed again."""
        out = []
        for name, read in s.execute(select(EvidenceRow.id, EvidenceRow.read).order_by(EvidenceRow.read.desc())).all():
            file = kept(self._evidence, (name, read), partial(_parsed, s, name))
            out.append(Source(name, file, read))
        return out

    @staticmethod
    def _own(row: CustomRow) -> Ingredient:
        kinds: dict[str, type[Fat] | type[Liquid] | type[Additive]] = {
            "fat": Fat,
            "liquid": Liquid,
            "additive": Additive,
        }
        return kinds[row.kind].model_validate(lifted(row.doc))

    def custom(self) -> list[Ingredient]:
        """The maker's own ingredients that are not hidden."""
        with self._database.reading() as s:
            return [
                self._own(r)
                for r in s.scalars(select(CustomRow).where(CustomRow.removed.is_(None)).order_by(CustomRow.id))
            ]

    def add_custom(self, ingredient: Ingredient) -> None:
        """ConflictError when the id is taken, also by an ingredient of the reference tables."""
        with self._database.writing() as s:
            standard = reference_shelf()
            taken = {*standard.fats, *standard.liquids, *standard.additives}
            if ingredient.id in taken or s.get(CustomRow, ingredient.id) is not None:
                raise ConflictError(f"There is a thing called {ingredient.name} on the shelf already.")
            kind = type(ingredient).__name__.lower()
            s.add(
                CustomRow(id=ingredient.id, kind=kind, doc=ingredient.model_dump(mode="json"), revision=1, removed=None)
            )

    def change_custom(self, ingredient: Ingredient) -> None:
        """Put other figures to an own ingredient; ConflictError once it was poured: poured recipes stay as weighed."""
        with self._database.writing() as s:
            row = s.get(CustomRow, ingredient.id)
            if row is None or row.kind != type(ingredient).__name__.lower():
                raise NotFoundError("There is no such ingredient of your own.")
            if self._in_a_pour(s, ingredient.id):
                raise ConflictError(f"{ingredient.name} was poured: its figures stay. Add it anew under another name.")
            # An infusion or a premix has its figures from what it is made of.
            of = f'"{type(ingredient).__name__.lower()}:{ingredient.id}"'
            made = sa.cast(CustomRow.doc, sa.String).contains(of, autoescape=True)
            if s.scalar(select(CustomRow.id).where(made, CustomRow.id != ingredient.id).limit(1)) is not None:
                raise ConflictError(
                    f"Something is made of {ingredient.name}: its figures stay. Add it anew under another name."
                )
            row.doc = ingredient.model_dump(mode="json")
            row.revision += 1

    @staticmethod
    def _in_a_pour(s: Session, what: str) -> bool:
        """Whether something of the shelf stands in a recipe that was poured."""
        named = sa.cast(VersionRow.doc, sa.String).contains(f'"{what}"', autoescape=True)
        return s.scalar(select(VersionRow.id).where(named).limit(1)) is not None

    def hide_custom(self, ingredient_id: str, now: datetime | None) -> None:
        """Take an ingredient out of the choices, or with None back into them; recipes that use it go on."""
        with self._database.writing() as s:
            row = s.get(CustomRow, ingredient_id)
            if row is None:
                raise NotFoundError("There is no such ingredient of your own.")
            row.removed = now

    def fragrance(self, fragrance_id: str) -> Fragrance:
        with self._database.reading() as s:
            row = s.get(FragranceRow, fragrance_id)
            if row is None:
                raise NotFoundError("This fragrance is not on the shelf.")
            return Fragrance.model_validate(row.doc)

    def add_fragrance(self, fragrance: Fragrance) -> None:
        """ConflictError when the id is taken."""
        with self._database.writing() as s:
            if s.get(FragranceRow, fragrance.id) is not None:
                raise ConflictError(f"There is a fragrance called {fragrance.name} already.")
            s.add(FragranceRow(id=fragrance.id, doc=fragrance.model_dump(mode="json"), revision=1))

    def change_fragrances(self, fragrances: Iterable[Fragrance]) -> None:
        """Put other facts to fragrances of the shelf, all or none. A poured blend keeps its parts: ConflictError."""
        with self._database.writing() as s:
            for fragrance in fragrances:
                row = s.get(FragranceRow, fragrance.id)
                if row is None:
                    raise NotFoundError("This fragrance is not on the shelf.")
                was = Fragrance.model_validate(row.doc)
                if (was.parts, was.bottled) != (fragrance.parts, fragrance.bottled) and self._in_a_pour(
                    s, fragrance.id
                ):
                    message = "was poured: its parts stay. Keep the new shares as another blend, or bottle it."
                    raise ConflictError(f"{was.name} {message}")
                row.doc = fragrance.model_dump(mode="json")
                row.revision += 1
