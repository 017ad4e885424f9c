"""What other workshops told of fragrances: files that were read."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.create_table(
        "evidence",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("doc", sa.JSON(), nullable=False),
        sa.Column("read", sa.DateTime(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("evidence")
