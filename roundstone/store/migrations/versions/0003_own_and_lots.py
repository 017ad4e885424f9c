"""Own liquids and additives beside own fats, and lots of whatever stands on the shelf."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "own",
        sa.Column("id", sa.String(60), primary_key=True),
        sa.Column("kind", sa.String(10), nullable=False),
        sa.Column("doc", sa.JSON, nullable=False),
        sa.Column("revision", sa.Integer, nullable=False),
        sa.Column("removed", sa.DateTime),
    )
    op.execute("INSERT INTO own SELECT id, 'fat', doc, 1, removed FROM own_fat")
    op.drop_table("own_fat")
    op.execute(
        "CREATE TRIGGER own_no_delete BEFORE DELETE ON own BEGIN SELECT RAISE(ABORT, 'poured recipes need it'); END"
    )
    op.create_table(
        "lot",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("doc", sa.JSON, nullable=False),
        sa.Column("removed", sa.DateTime),
    )


def downgrade() -> None:
    raise NotImplementedError("own liquids and additives have no place in the older file")
