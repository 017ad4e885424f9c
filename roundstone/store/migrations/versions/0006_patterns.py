"""Patterns: designs kept under a name."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.create_table(
        "pattern",
        sa.Column("id", sa.String(60), primary_key=True),
        sa.Column("doc", sa.JSON, nullable=False),
        sa.Column("removed", sa.DateTime),
    )


def downgrade() -> None:
    raise NotImplementedError("patterns have no place in the older file")
