"""Fats by the maker's own certificate; never changed, so that poured recipes stay as they were weighed."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.create_table(
        "own_fat",
        sa.Column("id", sa.String(60), primary_key=True),
        sa.Column("doc", sa.JSON, nullable=False),
        sa.Column("removed", sa.DateTime),
    )
    op.execute(
        "CREATE TRIGGER own_fat_no_rewrite BEFORE UPDATE OF id, doc ON own_fat "
        "BEGIN SELECT RAISE(ABORT, 'a certified fat is immutable'); END"
    )
    op.execute(
        "CREATE TRIGGER own_fat_no_delete BEFORE DELETE ON own_fat "
        "BEGIN SELECT RAISE(ABORT, 'a certified fat is immutable'); END"
    )


def downgrade() -> None:
    op.drop_table("own_fat")
