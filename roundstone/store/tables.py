"""The tables. Values are kept whole as versioned JSON; columns beside it are only what is searched or joined on."""

from datetime import UTC, datetime
from typing import Any, ClassVar

from sqlalchemy import JSON, DateTime, ForeignKey, Index, String, TypeDecorator, UniqueConstraint, text
from sqlalchemy.engine import Dialect
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Instant(TypeDecorator[datetime]):
    """A moment in UTC; SQLite keeps no zone, so it is put back on the way out."""

    impl = DateTime
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:  # noqa: ARG002
        return None if value is None else value.astimezone(UTC).replace(tzinfo=None)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:  # noqa: ARG002
        return None if value is None else value.replace(tzinfo=UTC)


class Base(DeclarativeBase):
    type_annotation_map: ClassVar = {dict[str, Any]: JSON, datetime: Instant}


class FragranceRow(Base):
    __tablename__ = "fragrance"

    id: Mapped[str] = mapped_column(String(60), primary_key=True)
    doc: Mapped[dict[str, Any]]
    revision: Mapped[int]


class CustomRow(Base):
    """An ingredient of the maker's own: a fat, a liquid or an additive. `removed` only hides it from choices."""

    __tablename__ = "own"

    id: Mapped[str] = mapped_column(String(60), primary_key=True)
    kind: Mapped[str] = mapped_column(String(10))
    doc: Mapped[dict[str, Any]]
    revision: Mapped[int]
    removed: Mapped[datetime | None]


class LotRow(Base):
    """Some of an ingredient from one delivery, with its count and price."""

    __tablename__ = "lot"

    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    doc: Mapped[dict[str, Any]]
    removed: Mapped[datetime | None]
    revision: Mapped[int] = mapped_column(server_default="1")


class PatternRow(Base):
    """A design kept under a name, to be used on other recipes."""

    __tablename__ = "pattern"

    id: Mapped[str] = mapped_column(String(60), primary_key=True)
    doc: Mapped[dict[str, Any]]
    removed: Mapped[datetime | None]


class EvidenceRow(Base):
    """What another workshop, or many, told of fragrances; by the name it made up for that."""

    __tablename__ = "evidence"

    id: Mapped[str] = mapped_column(String(40), primary_key=True)
    doc: Mapped[dict[str, Any]]
    read: Mapped[datetime]


class LearnedRow(Base):
    """What was learned, by name, beside the stamp of the log it was learned from."""

    __tablename__ = "learned"

    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    stamp: Mapped[str] = mapped_column(String(200))
    doc: Mapped[dict[str, Any]]


class SettingRow(Base):
    """Something the workshop keeps by name, such as the noise tuned to its log."""

    __tablename__ = "setting"

    name: Mapped[str] = mapped_column(String(40), primary_key=True)
    doc: Mapped[dict[str, Any]]
    revision: Mapped[int]


class PhotoRow(Base):
    """A picture of a poured bar: bytes as stored, and the days since its pour."""

    __tablename__ = "photo"

    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    pour_id: Mapped[str] = mapped_column(ForeignKey("pour.id"), index=True)
    days: Mapped[float]
    note: Mapped[str] = mapped_column(String(200))
    jpeg: Mapped[bytes]
    removed: Mapped[datetime | None]


class DocumentRow(Base):
    """A certificate of a lot, PDF or JPEG, as its `media` says."""

    __tablename__ = "document"

    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    lot_id: Mapped[str] = mapped_column(ForeignKey("lot.id"), index=True)
    name: Mapped[str] = mapped_column(String(120))
    media: Mapped[str] = mapped_column(String(40))
    body: Mapped[bytes] = mapped_column(deferred=True)
    removed: Mapped[datetime | None]


class RecipeRow(Base):
    """A draft, as last typed. `removed` hides it and can be taken back."""

    __tablename__ = "recipe"
    __table_args__ = (Index("recipe_by_change", "removed", "changed", "id"),)

    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    doc: Mapped[dict[str, Any]]
    revision: Mapped[int]
    changed: Mapped[datetime]
    removed: Mapped[datetime | None]


class VersionRow(Base):
    """A recipe as it was poured, with the sheet it was weighed by, kept once; else the database refuses to change or
    delete it. `uid` is of its content and holds in other files too, `number` counts in this one."""

    __tablename__ = "version"
    __table_args__ = (UniqueConstraint("recipe_id", "number"), Index("version_by_uid", "uid", unique=True))

    id: Mapped[int] = mapped_column(primary_key=True)
    recipe_id: Mapped[str] = mapped_column(ForeignKey("recipe.id"))
    number: Mapped[int]
    doc: Mapped[dict[str, Any]]
    made: Mapped[datetime]
    uid: Mapped[str | None] = mapped_column(String(32))
    sheet: Mapped[dict[str, Any] | None] = mapped_column(JSON(none_as_null=True), deferred=True)


class PourRow(Base):
    """`ended_minute` (on its own clock), `event_count`, `verdict` and `phase` follow from its events, and are kept here
    so that they can be asked for. `foretold` is what was forecast when it was begun, `batch` its number by the maker's
    own pattern, given once.
    """

    __tablename__ = "pour"
    __table_args__ = (
        Index("pour_by_end", "ended_minute"),
        Index("pour_by_start", "started", "id"),
        Index("pour_by_phase", "phase", "started"),
        Index("pour_by_batch", "batch"),
    )

    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    version_id: Mapped[int] = mapped_column(ForeignKey("version.id"), index=True)
    started: Mapped[datetime]
    ended_minute: Mapped[float | None]
    event_count: Mapped[int] = mapped_column(server_default="0")
    verdict: Mapped[str | None] = mapped_column(String(20))
    phase: Mapped[str] = mapped_column(String(10), server_default="poured")
    foretold: Mapped[dict[str, Any] | None]
    batch: Mapped[str | None] = mapped_column(String(40))


KIND = "json_extract(doc, '$.kind')"


class EventRow(Base):
    """Append-only: the database refuses to change or delete a row."""

    __tablename__ = "event"
    __table_args__ = (
        Index("event_by_pour", "pour_id", "seq"),
        Index("event_by_note", text(KIND), sqlite_where=text(f"{KIND} IN ('next', 'heed', 'undo')")),
        Index("event_by_join", text("json_extract(doc, '$.other')"), sqlite_where=text(f"{KIND} = 'join'")),
    )

    seq: Mapped[int] = mapped_column(primary_key=True)
    id: Mapped[str] = mapped_column(String(36), unique=True)
    pour_id: Mapped[str] = mapped_column(ForeignKey("pour.id"))
    doc: Mapped[dict[str, Any]]
    received: Mapped[datetime]
