"""The first tables, with triggers that keep the log and poured versions as they were."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None

FROZEN = {"event": "events are append-only", "version": "a poured version is immutable"}


def upgrade() -> None:
    op.create_table(
        "fragrance",
        sa.Column("id", sa.String(60), primary_key=True),
        sa.Column("doc", sa.JSON, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
    )
    op.create_table(
        "recipe",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("doc", sa.JSON, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("changed", sa.DateTime, nullable=False),
        sa.Column("removed", sa.DateTime),
    )
    op.create_table(
        "version",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("recipe_id", sa.String(36), sa.ForeignKey("recipe.id"), nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("doc", sa.JSON, nullable=False),
        sa.Column("made", sa.DateTime, nullable=False),
        sa.UniqueConstraint("recipe_id", "number"),
    )
    op.create_table(
        "pour",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("version_id", sa.Integer, sa.ForeignKey("version.id"), nullable=False, index=True),
        sa.Column("started", sa.DateTime, nullable=False),
    )
    op.create_table(
        "event",
        sa.Column("seq", sa.Integer, primary_key=True),
        sa.Column("id", sa.String(36), nullable=False, unique=True),
        sa.Column("pour_id", sa.String(36), sa.ForeignKey("pour.id"), nullable=False),
        sa.Column("doc", sa.JSON, nullable=False),
        sa.Column("received", sa.DateTime, nullable=False),
    )
    op.create_index("event_by_pour", "event", ["pour_id", "seq"])
    for table, why in FROZEN.items():
        for act in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{act.lower()} BEFORE {act} ON {table} "
                f"BEGIN SELECT RAISE(ABORT, '{why}'); END"
            )


def downgrade() -> None:
    for table in ("event", "pour", "version", "recipe", "fragrance"):
        op.drop_table(table)
